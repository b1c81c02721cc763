"""Optimise: a better order is worked out, shown on the track with what it saves, and waits for yes."""

from __future__ import annotations

from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from jontel.app.panels.parts import button, label
from jontel.app.session import Document
from jontel.design.errors import JontelError
from jontel.design.words import many, minutes
from jontel.sewing.optimise import Figures, Optimised, optimised

ROWS = ("Thread changes", "Trims", "Jumps", "Time")


def words_of(one: Figures) -> tuple[str, str, str, str]:
    """The figures of an order as they are shown."""
    return str(one.changes), str(one.trims), f"{one.jumps:.2f} m", minutes(one.seconds)


class OptimiseEditor(QWidget):
    """Before and after of a better order, for all objects or those selected; the cloth and the track show it."""

    def __init__(self) -> None:
        super().__init__()
        self._document: Document | None = None
        self._made: Optimised | None = None
        self._number = 0
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(label("OPTIMISE", "section"))
        self.said = label("", "muted", wrap=True)
        self.said.setObjectName("optimiseSaid")
        column.addWidget(self.said)
        grid = QGridLayout()
        self.cells: list[tuple[QLabel, QLabel]] = []
        for row, title in enumerate(("", *ROWS)):
            grid.addWidget(label(title), row, 0)
            if row == 0:
                grid.addWidget(label("now", "muted"), 0, 1)
                grid.addWidget(label("then", "muted"), 0, 2)
                continue
            pair = (label("", "muted"), label("", "number"))
            self.cells.append(pair)
            grid.addWidget(pair[0], row, 1)
            grid.addWidget(pair[1], row, 2)
        grid.setColumnStretch(0, 1)
        self.table = QWidget()
        self.table.setLayout(grid)
        column.addWidget(self.table)
        foot = QHBoxLayout()
        self.leave = button("Leave it", "optimiseLeave", self.give_up)
        self.take = button("Sew it so", "optimiseTake", self._take, "main")
        foot.addWidget(self.leave)
        foot.addWidget(self.take)
        column.addLayout(foot)
        self.hide()

    def begin(self, document: Document) -> None:
        """Work a better order out, aside."""
        self.give_up()
        self._document = document
        self._number += 1
        number, design = self._number, document.history.design
        ids = document.selection if len(document.selection) > 1 else None
        which = f"the {many(len(ids), 'selected object')}" if ids else "the whole design"
        self.said.setText(f"Looking for a better order of {which}…")
        self.table.hide()
        self.take.setEnabled(False)
        self.show()

        def done(made: Optimised) -> None:
            if number == self._number and document.history.design is design:
                self._show(made)

        def refused(error: JontelError) -> None:
            if number == self._number:
                self.said.setText(str(error))

        document.ask(lambda: optimised(design, ids), done, refused)

    def _show(self, made: Optimised) -> None:
        document = self._document
        assert document is not None
        if made.design == document.history.design:
            self.said.setText("No better order was found: nothing is to be gained without burying something.")
            return
        self._made = made
        for (now, then), one, other in zip(self.cells, words_of(made.before), words_of(made.after), strict=True):
            now.setText(one)
            then.setText(other)
        self.said.setText(
            f"What lies on top stays on top. Fewer than {many(made.least, 'thread change')} no order can have."
        )
        self.table.show()
        self.take.setEnabled(True)
        document.preview(made.design)

    def _take(self) -> None:
        document, made = self._document, self._made
        self._made = None
        self.hide()
        if document is not None and made is not None:
            document.edit("Optimise the order", made.design)

    def give_up(self) -> None:
        """Leave the order as it is."""
        self._number += 1
        document, made = self._document, self._made
        self._document = self._made = None
        self.hide()
        if document is not None and made is not None:
            document.preview(None)
