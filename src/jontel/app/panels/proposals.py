"""What may be done to a design: worked out aside, shown on cloth and track with what it saves, taken or left."""

from __future__ import annotations

from dataclasses import replace

from msgspec import Struct
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from jontel.app.panels.form import ValuesForm
from jontel.app.panels.parts import button, clear, label
from jontel.app.session import Document
from jontel.app.theme import LIGHT, Theme
from jontel.design import Design
from jontel.design.errors import JontelError
from jontel.design.units import Unit
from jontel.design.words import grouped, minutes
from jontel.sewing.figures import Figures, figures
from jontel.sewing.proposals import NO_BETTER, Proposal, Proposed, Which

ROWS = ("Thread changes", "Trims", "Jumps", "Stitches", "Time")


def words_of(one: Figures) -> tuple[str, ...]:
    """The figures of an order as they are shown."""
    return str(one.changes), str(one.trims), f"{one.jumps:.2f} m", grouped(one.stitches), minutes(one.seconds)


class ProposalEditor(QWidget):
    """Before and after of a proposal, for all objects or those selected."""

    ended = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.theme: Theme = LIGHT
        self.unit: Unit = "mm"
        self.proposal: Proposal | None = None
        self._document: Document | None = None
        self._made: Proposed | None = None
        self._values: dict[str, Struct] = {}
        self._number = 0
        self._worked_on: Design | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.heading = label("", "section")
        column.addWidget(self.heading)
        self._form = QVBoxLayout()
        column.addLayout(self._form)
        self.said = label("", "muted", wrap=True)
        self.said.setObjectName("proposalSaid")
        column.addWidget(self.said)
        grid = QGridLayout()
        grid.setVerticalSpacing(0)
        grid.setContentsMargins(0, 0, 0, 4)
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
        self.leave = button("Leave it", "proposalLeave", self.give_up)
        self.take = button("Sew it so", "proposalTake", self._take, "main")
        foot.addWidget(self.leave)
        foot.addWidget(self.take)
        column.addLayout(foot)
        self.hide()

    def begin(self, document: Document, proposal: Proposal) -> None:
        """Work a proposal out, aside."""
        self.give_up()
        self._document, self.proposal = document, proposal
        self.heading.setText(proposal.name.upper())
        self.take.setText(proposal.yes)
        clear(self._form)
        if proposal.values is not None:
            values = self._values.get(proposal.name, proposal.values())
            if isinstance(values, Which):
                values = Which("the selection" if len(document.selection) > 1 else "everything")
            self._values[proposal.name] = values
            form = ValuesForm(values, self.theme, self.unit, "proposal-")
            form.changed.connect(self._entered)
            self._form.addWidget(form)
        self.show()
        self._work()

    def _entered(self, values: Struct) -> None:
        """The form tells of other values."""
        self._tell(values)

    def _tell(self, values: Struct) -> None:
        if self.proposal is not None:
            self._values[self.proposal.name] = values
            self._drop()
            self._work()

    def _work(self) -> None:
        document, proposal = self._document, self.proposal
        assert document is not None and proposal is not None
        self._number += 1
        number, design, ids = self._number, document.history.design, document.selection
        self._worked_on = design
        values = self._values.get(proposal.name)
        known = document.sewn.plan if document.sewn is not None else None
        self.said.setText(f"{proposal.hint}. Working it out…")
        self.table.hide()
        self.take.setEnabled(False)

        def done(made: Proposed) -> None:
            if number == self._number and document.history.design is design:
                self._show(made)

        def refused(error: JontelError) -> None:
            if number == self._number:
                self.said.setText(str(error))

        document.ask(lambda: proposal.work(design, ids, values, known), done, refused)

    def _show(self, made: Proposed) -> None:
        document = self._document
        assert document is not None
        self._made = made
        self._compare(made.before, made.after)
        self.said.setText(made.said)
        self.table.show()
        self.take.setEnabled(made.after is not None)
        if made.after is None:
            document.sewn_changed.connect(self._sewn)
        document.preview(made.design)

    def _compare(self, before: Figures, after: Figures | None) -> None:
        then = words_of(after) if after is not None else ("…",) * len(self.cells)
        for (one, other), now, words in zip(self.cells, words_of(before), then, strict=True):
            one.setText(now)
            other.setText(words)

    def _sewn(self) -> None:
        """The stitches of what is proposed are there: now it is known what it takes."""
        document, made = self._document, self._made
        if document is None or made is None or made.after is not None or document.sewn is None:
            return
        if document.sewn.design is not made.design:
            return
        document.sewn_changed.disconnect(self._sewn)
        after = figures(document.sewn.plan)
        self._made = replace(made, after=after)
        self._compare(made.before, after)
        if after.rank < made.before.rank:
            self.take.setEnabled(True)
        else:
            self.said.setText(NO_BETTER)
            self._drop()

    def _take(self) -> None:
        document, made, proposal = self._document, self._made, self.proposal
        self._made = None
        self._end()
        if document is not None and made is not None and proposal is not None:
            before = {item.id for item in document.history.design.objects}
            document.edit(proposal.label, made.design)
            fresh = {item.id for item in made.design.objects} - before
            if fresh:
                document.select(fresh)

    def _drop(self) -> None:
        if self._made is not None and self._document is not None:
            if self._made.after is None:
                self._document.sewn_changed.disconnect(self._sewn)
            self._made = None
            self._document.preview(None)

    def give_up(self) -> None:
        """Leave the design as it is."""
        self._number += 1
        self._drop()
        self._document = self.proposal = None
        self._end()

    def _end(self) -> None:
        if not self.isHidden():
            self.hide()
            self.ended.emit()
