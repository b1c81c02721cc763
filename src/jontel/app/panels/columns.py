"""The columns of a satin on an area: their order, cuts between them, columns merged."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from jontel.app.columns import Columns
from jontel.app.panels.parts import DraggedList, button, label, tool_button
from jontel.app.session import Document
from jontel.app.theme import Theme
from jontel.design import Area, StitchObject
from jontel.design.shapes import UNCORRECTED
from jontel.design.units import Unit, format_length
from jontel.design.words import many

FEW = 8
"""The list is as high as so many columns at most."""


def corrections_summary(item: StitchObject) -> str:
    """What a person said of the columns of an object, in a few words."""
    columns = item.shape.columns if isinstance(item.shape, Area) else UNCORRECTED
    told = [many(len(one), word) for one, word in ((columns.cuts, "cut"), (columns.merges, "merge")) if one]
    if columns.order:
        told.append("own order")
    return " · ".join(told) or "as found"


class ColumnsEditor(QWidget):
    """Shows the columns in the order in which they are sewn; choosing one here chooses it on the cloth."""

    def __init__(self, document: Document, theme: Theme, unit: Unit) -> None:
        super().__init__()
        self._columns: Columns = document.columns
        self._unit = unit
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.list = DraggedList("columnList", "Columns in the order in which they are sewn")
        self.list.itemSelectionChanged.connect(self._chosen)
        self.list.dragged.connect(self._dragged)
        column.addWidget(self.list)
        row = QHBoxLayout()
        self.earlier = tool_button("earlier", "Sew it earlier", "columnEarlier", lambda: self._step(-1), theme)
        self.later = tool_button("later", "Sew it later", "columnLater", lambda: self._step(1), theme)
        self.merge = button("Merge two", "mergeColumns", self._columns.merge)
        self.forget = button("As found", "columnsAsFound", self._columns.forget)
        self.forget.setToolTip("Take all cuts, merges and the own order away")
        for made in (self.earlier, self.later):
            row.addWidget(made)
        row.addStretch(1)
        row.addWidget(self.merge)
        row.addWidget(self.forget)
        column.addLayout(row)
        self.hint: QLabel = label("", "muted", wrap=True)
        column.addWidget(self.hint)
        self._filling = False
        self._columns.changed.connect(self._show)
        self._show()

    def refresh(self, items: tuple[StitchObject, ...]) -> None:
        """Show the columns of the selected object."""
        self._columns.look()
        self._show()
        corrected = any(isinstance(item.shape, Area) and item.shape.columns != UNCORRECTED for item in items)
        self.forget.setEnabled(corrected)

    def _show(self) -> None:
        found, chosen = self._columns.found, self._columns.chosen
        self._filling = True
        self.list.fill(
            [
                (f"{number}", f"{format_length(one.length, self._unit)} × {format_length(one.width, self._unit)}")
                for number, one in enumerate(found, 1)
            ],
            FEW,
        )
        for number in range(len(found)):
            item = self.list.item(number)
            if item is not None:
                item.setSelected(number in chosen)
        self._filling = False
        self.merge.setEnabled(len(chosen) == 2)
        self.earlier.setEnabled(len(chosen) == 1 and min(chosen) > 0)
        self.later.setEnabled(len(chosen) == 1 and max(chosen) < len(found) - 1)
        self.hint.setText(
            "Drag a row to sew it earlier or later; choose two that meet to merge them."
            if found
            else "The columns are being found."
        )

    def _chosen(self) -> None:
        if not self._filling:
            self._columns.choose(frozenset(self.list.chosen()))

    def _dragged(self, order: list[int]) -> None:
        self._columns.reorder(order)

    def _step(self, by: int) -> None:
        self._columns.step(by)
