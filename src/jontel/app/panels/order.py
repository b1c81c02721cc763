"""Order: what sews when, in a list that can be dragged."""

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QHBoxLayout, QListWidgetItem, QSizePolicy

from jontel.app.icons import swatch
from jontel.app.panels.base import Panel
from jontel.app.panels.ends import EndsEditor
from jontel.app.panels.optimise import OptimiseEditor
from jontel.app.panels.parts import FACTS, DraggedList, button, clear, label, rule, tool_button
from jontel.app.session import Document
from jontel.design import Design
from jontel.design.edits import reorder
from jontel.design.words import grouped, many, minutes


def moved_first(design: Design, ids: frozenset[int]) -> Design:
    """``design`` with the objects sewn first."""
    before = next((item.id for item in design.objects if item.id not in ids), None)
    return reorder(design, ids, before)


def moved_last(design: Design, ids: frozenset[int]) -> Design:
    """``design`` with the objects sewn last."""
    return reorder(design, ids, None)


def moved_by(design: Design, ids: frozenset[int], step: int) -> Design:
    """``design`` with the objects sewn one object earlier (-1) or later (1)."""
    places = [n for n, item in enumerate(design.objects) if item.id in ids]
    if not places:
        return design
    if step < 0:
        at = max(0, places[0] - 1)
        return reorder(design, ids, design.objects[at].id)
    after = places[-1] + 2
    return reorder(design, ids, design.objects[after].id if after < len(design.objects) else None)


class OrderPanel(Panel):
    """The panel of the Order stage."""

    title = "Order"

    def __init__(self, group: Callable[[], object]) -> None:
        super().__init__()
        self._group = group
        self.body.addWidget(label("Sewing order", "title"))
        self.sums = label("", "muted", wrap=True)
        self.body.addWidget(self.sums)
        self.tools = QHBoxLayout()
        self.body.addLayout(self.tools)
        self.orders = QHBoxLayout()
        self.body.addLayout(self.orders)
        self.list = DraggedList("orderList", "Sewing order")
        self.list.setMinimumHeight(140)
        self.list.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.list.itemSelectionChanged.connect(self._selected)
        self.list.dragged.connect(lambda _order: self._dropped())
        self.body.addWidget(self.list, 1)
        self.optimise = OptimiseEditor()
        self.body.addWidget(self.optimise)
        self.body.addWidget(rule())
        self.ends = label("ENDS AND STOPS", "section")
        self.body.addWidget(self.ends)
        self.editor = QHBoxLayout()
        self.body.addLayout(self.editor)
        self._filling = False
        self._editor_for: object = None

    def rebuild(self) -> None:
        """Make the buttons again."""
        clear(self.tools)
        for picture, title, does in (
            ("first", "Sew first", lambda: self._move("Sew first", moved_first)),
            ("earlier", "Sew earlier", lambda: self._step(-1)),
            ("later", "Sew later", lambda: self._step(1)),
            ("last", "Sew last", lambda: self._move("Sew last", moved_last)),
        ):
            self.tools.addWidget(tool_button(picture, title, f"order-{picture}", does, self.theme))
        self.tools.addStretch(1)
        clear(self.orders)
        self.orders.addWidget(button("Group by thread", "groupByThread", self._group))
        self.orders.addWidget(button("Optimise…", "optimise", self.better))

    def better(self) -> None:
        """Show a better order, and wait for yes."""
        if self.document is not None:
            self.optimise.begin(self.document)

    def show_document(self, document: Document | None) -> None:
        """Show another document."""
        self.optimise.give_up()
        super().show_document(document)

    def refresh(self) -> None:
        """Show the order."""
        assert self.document is not None
        design, sewn = self.document.design, self.document.sewn
        shares = sewn.by_object if sewn else {}
        self._filling = True
        at = self.list.verticalScrollBar()
        scrolled = at.value() if at else 0
        self.list.clear()
        for number, item in enumerate(design.objects, 1):
            thread = design.thread(item.thread)
            share = shares.get(item.id)
            facts = f"{grouped(share.stitches)}  {minutes(share.stop - share.start)}" if share else "not stitched"
            row = QListWidgetItem(QIcon(swatch(thread.colour)), f"{number}  {item.name}")
            marks = [(item.ends.stop is not None, "stop"), (item.locked, "locked")]
            told = [words for there, words in marks if there]
            row.setData(FACTS, "  ".join([*told, "hidden" if item.hidden else facts]))
            row.setData(Qt.ItemDataRole.UserRole, item.id)
            row.setToolTip(f"{thread.code} {thread.name}")
            self.list.addItem(row)
            row.setSelected(item.id in self.document.selection)
        if at:
            at.setValue(scrolled)
        self._filling = False
        if sewn:
            sums = sewn.totals
            self.sums.setText(
                f"{many(len(design.objects), 'object')}, {many(sums.changes, 'thread change')}, "
                f"{many(sums.trims, 'trim')}, {many(sums.stops, 'stop')}. Drag in the list or on the needle track."
            )
        chosen = bool(self.document.selection)
        self.ends.setVisible(chosen)
        wanted = self.document if chosen else None
        if wanted is not self._editor_for:
            self._editor_for = wanted
            clear(self.editor)
            if wanted is not None:
                self.editor.addWidget(EndsEditor(wanted, self.theme, self.unit))

    def _selected(self) -> None:
        if self._filling or self.document is None:
            return
        self.document.select({row.data(Qt.ItemDataRole.UserRole) for row in self.list.selectedItems()})

    def _dropped(self) -> None:
        if self._filling or self.document is None:
            return
        rows = [self.list.item(k) for k in range(self.list.count())]
        ids = [row.data(Qt.ItemDataRole.UserRole) for row in rows if row is not None]
        design = self.document.history.design
        if sorted(ids) == sorted(item.id for item in design.objects):
            for identity in ids:
                design = reorder(design, {identity}, None)
            self.document.edit("Resew in another order", design)

    def _move(self, words: str, how: Callable[[Design, frozenset[int]], Design]) -> None:
        if self.document is not None and self.document.selection:
            self.document.edit(words, how(self.document.history.design, self.document.selection))

    def _step(self, step: int) -> None:
        words = "Sew earlier" if step < 0 else "Sew later"
        self._move(words, lambda design, ids: moved_by(design, ids, step))
