"""The user's own threads: charts to choose from, and the box with what is left of each."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from jontel.app.icons import swatch
from jontel.app.panels.parts import FACTS, FactsDelegate, NumberField, PinnedRow, button, clear, label
from jontel.app.session import Document
from jontel.app.theme import Theme
from jontel.app.threads import threads
from jontel.design.errors import JontelError
from jontel.design.words import many
from jontel.files.atomic import write_whole
from jontel.files.threadbox import chart_csv

MOST_METRES = 100_000.0


class ThreadsEditor(QWidget):
    """Edits the charts and the box."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.document: Document | None = None
        self._theme = theme
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.rows = QVBoxLayout()
        self.rows.setSpacing(2)
        column.addLayout(self.rows)
        charts = QHBoxLayout()
        for words, name, does in (
            ("Add a chart…", "loadChart", self._add),
            ("Write all as a chart…", "writeChart", self._write),
        ):
            one = button(words, name, does)
            one.setProperty("kind", "small")
            charts.addWidget(one)
        column.addLayout(charts)
        self.list = QListWidget()
        self.list.setObjectName("boxList")
        self.list.setAccessibleName("Threads in my box")
        self.list.setItemDelegate(FactsDelegate(self.list))
        self.list.setMaximumHeight(150)
        self.list.setIconSize(QSize(16, 16))
        self.list.currentItemChanged.connect(lambda *_: self._show_metres())
        column.addWidget(self.list)
        self.metres = NumberField("boxMetres", "Metres left", "count", 0.0, MOST_METRES, 100)
        self.metres.entered.connect(lambda value: self._set(value))
        self.metres.released.connect(lambda: self._set(None))
        self.metres_row = PinnedRow("Metres left", self.metres, None, theme)
        column.addWidget(self.metres_row)
        box = QHBoxLayout()
        for words, name, does, tip in (
            ("Put in", "boxPut", self._put, "Put the threads of this design into the box"),
            ("Take out", "boxTake", self._take, "Take the chosen thread out of the box"),
            ("Sewn", "boxSewn", self._sewn, "Take what this design needs off what is left"),
        ):
            one = button(words, name, does)
            one.setProperty("kind", "small")
            one.setToolTip(tip)
            box.addWidget(one)
        column.addLayout(box)
        self.told = label("", "muted", wrap=True)
        self.told.setObjectName("threadsTold")
        self.told.hide()
        column.addWidget(self.told)
        threads().changed.connect(self.refresh)
        self.refresh()
        for trouble in threads().box.troubles:
            self._tell(trouble)

    def summary(self) -> str:
        """What there is, in a few words."""
        box = threads().box
        charts = f", {many(len(box.charts), 'chart')}" if box.charts else ""
        return f"{len(box.stock)} in the box{charts}"

    def refresh(self) -> None:
        """Show charts and box."""
        box = threads().box
        clear(self.rows)
        for name, chart in box.charts.items():
            row = button(f"{name}  ·  {many(len(chart), 'thread')}", f"chart-{name}", lambda: None, "row")
            row.setEnabled(False)
            holder = QWidget()
            line = QHBoxLayout(holder)
            line.setContentsMargins(0, 0, 0, 0)
            line.addWidget(row, 1)
            line.addWidget(button("Remove", f"removeChart-{name}", lambda name=name: self._remove(name), "link"))
            self.rows.addWidget(holder)
        current = self.list.currentItem()
        code = current.data(Qt.ItemDataRole.UserRole) if current is not None else None
        needs = self._needs()
        self.list.clear()
        for stock in box.stock.values():
            thread = stock.thread
            item = QListWidgetItem(swatch(thread.colour), f"{thread.code}  {thread.name}")
            left = "" if stock.metres is None else f"{stock.metres:.0f} m"
            short = stock.metres is not None and stock.metres < needs.get(thread.code, 0.0)
            item.setData(FACTS, f"too little: {left}" if short else left)
            item.setData(Qt.ItemDataRole.UserRole, thread.code)
            self.list.addItem(item)
            if thread.code == code:
                self.list.setCurrentItem(item)
        self.list.setVisible(bool(box.stock))
        self._show_metres()

    def _needs(self) -> dict[str, float]:
        """What the design takes of each thread, m."""
        sewn = self.document.sewn if self.document is not None else None
        if sewn is None:
            return {}
        return {thread.code: metres for thread, metres in zip(sewn.plan.threads, sewn.totals.metres, strict=True)}

    def _code(self) -> str | None:
        item = self.list.currentItem()
        return None if item is None else str(item.data(Qt.ItemDataRole.UserRole))

    def _show_metres(self) -> None:
        code = self._code()
        stock = threads().box.stock.get(code) if code is not None else None
        self.metres_row.setVisible(stock is not None)
        if stock is not None:
            self.metres.show_value(stock.metres, False, "mm")
            if stock.metres is None:
                self.metres.setPlaceholderText("not known")

    def _do(self, does: object, words: str = "") -> None:
        """Change the box; what cannot be kept is told."""
        assert callable(does)
        try:
            does()
        except (JontelError, OSError) as error:
            self._tell(str(error))
        else:
            self._tell(words)
        threads().changed.emit()

    def _tell(self, words: str) -> None:
        self.told.setText(words)
        self.told.setVisible(bool(words))

    def _add(self) -> None:
        names, _ = QFileDialog.getOpenFileNames(self, "Thread charts", "", "Thread charts (*.csv)")
        for name in names:
            self.add_chart(Path(name))

    def add_chart(self, path: Path) -> None:
        """Take a chart in, now and for later."""

        def add() -> None:
            count = threads().box.add_chart(path)
            self._added = f"{many(count, 'thread')} of {path.name} to choose from, now and later."

        self._added = ""
        self._do(add)
        if self._added:
            self._tell(self._added)

    def _remove(self, name: str) -> None:
        self._do(lambda: threads().box.remove_chart(name))

    def _write(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Write a thread chart", "threads.csv", "Thread charts (*.csv)")
        if name:
            first = self.document.design.brief.threads if self.document is not None else ()
            data = chart_csv(threads().box.offered(first))
            self._do(lambda: write_whole(Path(name), data), f"Written to {name}.")

    def _set(self, metres: float | None) -> None:
        code = self._code()
        if code is not None:
            self._do(lambda: threads().box.set_metres(code, metres))

    def _put(self) -> None:
        if self.document is not None:
            design = self.document.design
            used = {item.thread for item in design.objects}
            some = [thread for thread in design.brief.threads if thread.code in used or not used]
            self._do(lambda: threads().box.put(some), f"{many(len(some), 'thread')} of this design are in the box.")

    def _take(self) -> None:
        code = self._code()
        if code is not None:
            self._do(lambda: threads().box.take_out([code]))

    def _sewn(self) -> None:
        needs = self._needs()
        known = {code: need for code, need in needs.items() if code in threads().box.stock}
        self._do(
            lambda: threads().box.used(known),
            f"{sum(known.values()):.0f} m taken off what is left of {many(len(known), 'thread')}.",
        )
