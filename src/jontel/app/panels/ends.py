"""Ends: entry and exit, locks, trim, and the stops before and after an object."""

from typing import Any, get_args

from msgspec.structs import replace
from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from jontel.app.panels.parts import NumberField, PinnedRow, button, label
from jontel.app.session import Document
from jontel.app.theme import Theme
from jontel.design.design import Ends
from jontel.design.edits import change_objects
from jontel.design.order import READY, Lock
from jontel.design.units import Unit

POLICIES = ("auto", "always", "never")
CHOICES = (
    ("lock_in", "Lock at the start"),
    ("lock_out", "Lock at the end"),
    ("trim", "Trim after it"),
)
STOPS = (("stop_before", "Stop before it", "stopBefore"), ("stop", "Stop after it", "stopAfter"))
LOCKS: tuple[Lock, ...] = get_args(Lock)


class StopRow(QWidget):
    """A tick for a stop, and what a person does there: one of those that are offered, or any other."""

    def __init__(self, title: str, name: str, tell: Any) -> None:
        super().__init__()
        self._tell = tell
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        self.tick = QCheckBox(title)
        self.tick.setObjectName(name)
        self.tick.clicked.connect(lambda on: tell("" if on else None))
        column.addWidget(self.tick)
        self.words = QComboBox()
        self.words.setObjectName(f"{name}Choice")
        self.words.setAccessibleName(f"{title}: what to do")
        self.words.setEditable(True)
        self.words.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        self.words.addItems(READY)
        line = self.words.lineEdit()
        assert line is not None
        line.setObjectName(f"{name}Words")
        line.setPlaceholderText("What to do, for example: lay the felt")
        line.editingFinished.connect(self._typed)
        self.words.activated.connect(lambda _at: self._typed())
        column.addWidget(self.words)
        self.show_stop(None)

    def show_stop(self, words: str | None) -> None:
        """Show an instruction; ``None`` is no stop."""
        self._known = words
        self.tick.setChecked(words is not None)
        self.words.setVisible(words is not None)
        line = self.words.lineEdit()
        if line is not None and not line.hasFocus():
            self.words.setEditText(words or "")
            line.setCursorPosition(0)

    def _typed(self) -> None:
        words = self.words.currentText().strip()
        if self._known is not None and words != self._known:
            self._known = words
            self._tell(words)


class EndsEditor(QWidget):
    """Edits the ends of the selected objects."""

    def __init__(self, document: Document, theme: Theme, unit: Unit) -> None:
        super().__init__()
        self._document, self._unit = document, unit
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.places = button("", "releaseEnds", self._release_ends)
        column.addWidget(self.places)
        column.addWidget(
            label(
                "Drag the chevron or the ring on the cloth to choose where the needle enters and leaves.",
                "muted",
                True,
            )
        )
        self.stops = {field: StopRow(title, name, self._setter(field)) for field, title, name in STOPS}
        for row in self.stops.values():
            column.addWidget(row)
        self.policies: dict[str, QComboBox] = {}
        for field, title in CHOICES:
            self.policies[field] = self._box(field, title, [words.capitalize() for words in POLICIES])
            self.policies[field].activated.connect(lambda at, field=field: self._set(field, POLICIES[at]))
            column.addWidget(_row(title, self.policies[field]))
        self.lock = self._box(
            "lockKind", "Lock stitches", ["As the design", *(words.capitalize() for words in LOCKS)]
        )
        self.lock.activated.connect(lambda at: self._set("lock", LOCKS[at - 1] if at else None))
        column.addWidget(_row("Lock stitches", self.lock))
        self.cut = NumberField("cutOver", "Cut after it over", "length", 0.0, 50.0, 0.5)
        self.cut_row = self._pinned(self.cut, "Cut if it shows over", "cut_over", theme)
        column.addWidget(self.cut_row)
        self.leave = NumberField("leave", "Leave connections inside up to", "length", 0.0, 50.0, 0.5)
        self.left = self._pinned(self.leave, "Left uncut inside", "leave", theme)
        column.addWidget(self.left)
        document.design_changed.connect(self.refresh)
        document.selection_changed.connect(self.refresh)
        self.refresh()

    def _setter(self, field: str) -> Any:
        return lambda value: self._set(field, value)

    @staticmethod
    def _box(name: str, title: str, words: list[str]) -> QComboBox:
        box = QComboBox()
        box.setObjectName(name)
        box.setAccessibleName(title)
        box.addItems(words)
        box.setFixedWidth(132)
        return box

    def _pinned(self, field: NumberField, title: str, name: str, theme: Theme) -> PinnedRow:
        field.entered.connect(lambda value: self._set(name, value))
        field.released.connect(lambda: self._set(name, None))
        return PinnedRow(title, field, lambda: self._set(name, None), theme)

    def refresh(self) -> None:
        """Show the ends of the first selected object."""
        items = self._document.selected()
        if not items:
            return
        ends, design = items[0].ends, self._document.design
        for field, box in self.policies.items():
            box.setCurrentIndex(POLICIES.index(getattr(ends, field)))
        self.lock.setCurrentIndex(0 if ends.lock is None else 1 + LOCKS.index(ends.lock))
        over = design.connections.cut_over
        over = design.brief.machine.trim_over if over is None else over
        for row, number, value in ((self.left, self.leave, ends.leave), (self.cut_row, self.cut, ends.cut_over)):
            row.show_pinned(value is not None)
            number.show_value(over if value is None else value, value is None, self._unit)
        pinned = any(item.ends.entry is not None or item.ends.exit is not None for item in items)
        self.places.setText("Join nearest ends again" if pinned else "Nearest ends are joined")
        self.places.setEnabled(pinned)
        for field, stop in self.stops.items():
            stop.show_stop(getattr(ends, field))

    def _set(self, field: str, value: object) -> None:
        self._change("Ends", lambda ends: replace(ends, **{field: value}))

    def _release_ends(self) -> None:
        self._change("Join nearest ends", lambda ends: replace(ends, entry=None, exit=None))

    def _change(self, words: str, how: Any) -> None:
        def changed(ends: Ends) -> Ends:
            made: Ends = how(ends)
            return made

        document = self._document
        document.edit(
            words,
            change_objects(
                document.history.design, document.selection, lambda item: replace(item, ends=changed(item.ends))
            ),
        )


def _row(title: str, widget: QWidget) -> QWidget:
    made = QWidget()
    row = QHBoxLayout(made)
    row.setContentsMargins(0, 0, 28, 0)
    row.addWidget(QLabel(title), 1)
    row.addWidget(widget)
    return made
