"""The sewing order as a list: objects and the headings of steps, dragged into another order."""

from collections.abc import Sequence
from difflib import SequenceMatcher
from typing import Literal, NamedTuple

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QListWidgetItem, QSizePolicy

from jontel.app.icons import swatch
from jontel.app.panels.parts import FACTS, DraggedList
from jontel.app.planner import Sewn
from jontel.app.session import Document
from jontel.design import Design
from jontel.design.steps import Row, changed_step, rows_of
from jontel.design.words import grouped, many, minutes
from jontel.sewing.gathering import resewn

STEP = Qt.ItemDataRole.UserRole + 3
"""A row's step, for a row that is a step's heading."""


Key = tuple[Literal["step", "object"], int]
"""What a row of the list is: a step or an object, and its number."""


def _key(row: QListWidgetItem) -> Key:
    step = row.data(STEP)
    return ("object", row.data(Qt.ItemDataRole.UserRole)) if step is None else ("step", step)


def _objects(design: Design, key: Key) -> list[int]:
    """The objects of a row, in order."""
    sort, number = key
    return [number] if sort == "object" else [item.id for item in design.objects if item.step == number]


def _without(rows: Sequence[Key], some: Sequence[Key]) -> list[Key]:
    return [key for key in rows if key not in some]


def _moved(before: Sequence[Key], after: Sequence[Key]) -> list[Key]:
    """The rows that stand elsewhere than they did."""
    blocks = SequenceMatcher(a=before, b=after, autojunk=False).get_matching_blocks()
    still = {key for block in blocks for key in after[block.b : block.b + block.size]}
    return [key for key in after if key not in still]


class _Shown(NamedTuple):
    """What a row shows."""

    key: Key
    words: str
    facts: str
    tip: str
    colour: str


class OrderList(DraggedList):
    """Shows the order of a document and changes it."""

    def __init__(self) -> None:
        super().__init__("orderList", "Sewing order")
        self.document: Document | None = None
        self.setMinimumHeight(150)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self._filling = False
        self._shown: list[_Shown] = []
        self.itemSelectionChanged.connect(self._selected)
        self.itemDoubleClicked.connect(self._fold)
        self.dragged.connect(lambda _order: self._dropped())

    def refresh(self) -> None:
        """Show the document as it is now; rows that show the same stay as they are."""
        document = self.document
        if document is None:
            return
        shown = [_row(row, document.design, document.sewn) for row in rows_of(document.design)]
        self._filling = True
        if shown != self._shown:
            self._fill(shown)
        ids = document.selection
        for number, one in enumerate(shown):
            item = self.item(number)
            inside = _objects(document.design, one.key)
            if item is not None:
                item.setSelected(bool(inside) and ids.issuperset(inside))
        self._filling = False

    def _fill(self, shown: list[_Shown]) -> None:
        at = self.verticalScrollBar()
        scrolled = at.value() if at else 0
        self._shown = shown
        self.clear()
        for one in shown:
            item = QListWidgetItem(one.words)
            item.setData(FACTS, one.facts)
            item.setToolTip(one.tip)
            sort, number = one.key
            item.setData(Qt.ItemDataRole.UserRole if sort == "object" else STEP, number)
            if sort == "object":
                item.setIcon(swatch(one.colour))
            else:
                bold = item.font()
                bold.setBold(True)
                item.setFont(bold)
            self.addItem(item)
        if at:
            at.setValue(scrolled)

    def _selected(self) -> None:
        if not self._filling and self.document is not None:
            chosen = (_objects(self.document.design, _key(row)) for row in self.selectedItems())
            self.document.select({one for ids in chosen for one in ids})

    def _fold(self, row: QListWidgetItem) -> None:
        document, number = self.document, row.data(STEP)
        step = document.design.step(number) if document is not None and number is not None else None
        if document is not None and step is not None:
            made = changed_step(document.history.design, step.id, collapsed=not step.collapsed)
            document.edit("Fold the step", made)

    def _dropped(self) -> None:
        """What was dragged is sewn before the object of the row that it was let go above."""
        document = self.document
        if self._filling or document is None:
            return
        before = [one.key for one in self._shown]
        rows = [_key(row) for k in range(self.count()) if (row := self.item(k)) is not None]
        selected = [_key(row) for row in self.selectedItems()]
        chosen = [key for key in rows if key in selected]
        moved = chosen if _without(before, chosen) == _without(rows, chosen) else _moved(before, rows)
        design = document.history.design
        ids = frozenset(one for key in moved for one in _objects(design, key))
        after = rows[max((rows.index(key) for key in moved), default=-1) + 1 :]
        below = (one for key in after for one in _objects(design, key))
        made = resewn(design, ids, next((one for one in below if one not in ids), None)) if ids else design
        self._shown = []  # the rows are in another order than the design, until it is shown again
        if made.objects != design.objects:
            document.edit("Resew in another order", made)
        else:
            self.refresh()


def _row(row: Row, design: Design, sewn: Sewn | None) -> _Shown:
    shares = sewn.by_object if sewn else {}
    step, one = row.heading, row.item
    if step is not None:
        time = minutes(sum(shares[k].stop - shares[k].start for k in row.members if k in shares))
        tip = "; ".join(words for words in (step.before, step.after) if words) or "Double click to fold"
        mark = "▸" if step.collapsed else "▾"
        return _Shown(
            ("step", step.id), f"{mark}  {step.name}", f"{many(len(row.members), 'object')}  {time}", tip, ""
        )
    assert one is not None
    thread, share = design.thread(one.thread), shares.get(one.id)
    facts = f"{grouped(share.stitches)}  {minutes(share.stop - share.start)}" if share else "not stitched"
    if one.strand is not None and share is None:
        facts = "in its strand"
    marks = [
        (one.ends.stop is not None or one.ends.stop_before is not None, "stop"),
        (one.locked, "locked"),
        (one.undercut is not None, "undercut"),
        (one.strand is not None and share is not None, "strand"),
    ]
    said = [words for there, words in marks if there]
    return _Shown(
        ("object", one.id),
        f"{'    ' if row.inside else ''}{row.number}  {one.name}",
        "  ".join([*said, "hidden" if one.hidden else facts]),
        f"{thread.code} {thread.name}",
        thread.colour,
    )
