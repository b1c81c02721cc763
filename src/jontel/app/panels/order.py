"""Order: what sews when, in a list that can be dragged; steps and strands; connections, ends and stops."""

from collections.abc import Callable

from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from jontel.app.panels.base import Panel
from jontel.app.panels.connections import ConnectionsEditor
from jontel.app.panels.ends import EndsEditor
from jontel.app.panels.orderlist import OrderList
from jontel.app.panels.parts import Fold, button, clear, label, tool_button
from jontel.app.panels.proposals import ProposalEditor
from jontel.app.panels.steps import StepEditor
from jontel.app.session import Document
from jontel.design import Design
from jontel.design.words import many
from jontel.sewing.gathering import resewn
from jontel.sewing.proposals import PROPOSALS, Proposal


def moved_first(design: Design, ids: frozenset[int]) -> Design:
    """``design`` with the objects sewn first."""
    before = next((item.id for item in design.objects if item.id not in ids), None)
    return resewn(design, ids, before)


def moved_last(design: Design, ids: frozenset[int]) -> Design:
    """``design`` with the objects sewn last."""
    return resewn(design, ids, None)


def moved_by(design: Design, ids: frozenset[int], step: int) -> Design:
    """``design`` with the objects sewn one object earlier (-1) or later (1), or past a strand."""
    places = [n for n, item in enumerate(design.objects) if item.id in ids]
    if not places:
        return design
    objects = design.objects
    if step < 0:
        at = max(0, places[0] - 1)
        return resewn(design, ids, objects[at].id)
    after = places[-1] + 2
    while (
        after < len(objects)
        and objects[after].strand is not None
        and objects[after].strand == objects[after - 1].strand
    ):
        after += 1
    return resewn(design, ids, objects[after].id if after < len(objects) else None)


class OrderPanel(Panel):
    """The panel of the Order stage."""

    title = "Order"

    def __init__(self, group: Callable[[], object]) -> None:
        super().__init__()
        self._group = group
        self.body.addWidget(label("Sewing order", "title"))
        self.sums = label("", "muted", wrap=True)
        self.body.addWidget(self.sums)
        self.moves = QWidget()
        self.tools = QHBoxLayout(self.moves)
        self.tools.setContentsMargins(0, 0, 0, 0)
        self.body.addWidget(self.moves)
        self.list = OrderList()
        self.body.addWidget(self.list, 1)
        self.proposing = QWidget()
        self.proposals = QVBoxLayout(self.proposing)
        self.proposals.setContentsMargins(0, 0, 0, 0)
        self.proposals.setSpacing(4)
        self.body.addWidget(self.proposing)
        self.editor = ProposalEditor()
        self.body.addWidget(self.editor)
        self.folds = QVBoxLayout()
        self.folds.setSpacing(4)
        self.body.addLayout(self.folds)
        self._built_for: object = None

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
        clear(self.proposals)
        made = [button("Group by thread", "groupByThread", self._group)]
        for one in PROPOSALS:
            words = one.name + ("…" if one.values is not None else "")
            name = "proposal-" + one.name.lower().replace(" ", "-")
            made.append(button(words, name, lambda one=one: self.propose(one)))
            made[-1].setToolTip(f"{one.hint} ({one.keys})" if one.keys else one.hint)
        for some in (made[:3], made[3:]):
            row = QHBoxLayout()
            row.setSpacing(4)
            for widget in some:
                widget.setProperty("kind", "small")
                row.addWidget(widget, 1)
            self.proposals.addLayout(row)
        self.editor.theme, self.editor.unit = self.theme, self.unit
        self._built_for = None

    def propose(self, proposal: Proposal) -> None:
        """Show what a proposal would do, and wait for yes."""
        if self.document is not None:
            self.editor.begin(self.document, proposal)
            self._show_parts()

    def show_document(self, document: Document | None) -> None:
        """Show another document."""
        self.editor.give_up()
        self.list.document = document
        super().show_document(document)

    def refresh(self) -> None:
        """Show the order."""
        document = self.document
        assert document is not None
        self.list.refresh()
        if document.sewn:
            sums, design = document.sewn.totals, document.design
            self.sums.setText(
                f"{many(len(design.objects), 'object')}, {many(sums.changes, 'thread change')}, "
                f"{many(sums.trims, 'trim')}, {many(sums.stops, 'stop')}. Drag in the list or on the needle track."
            )
        key = (id(document), self.theme.name, self.unit, bool(document.selection))
        if key != self._built_for:
            self._built_for = key
            self._build(document)
        self.steps.refresh()
        self.rules.refresh()
        self.rules_fold.tell(self.rules.summary())
        self._show_parts()

    def _show_parts(self) -> None:
        """What is proposed takes the room of what else could be done."""
        busy = not self.editor.isHidden()
        for part in (self.proposing, self.moves, self.sums):
            part.setVisible(not busy)
        for fold in (self.ends_fold, self.steps_fold, self.rules_fold) if self._built_for else ():
            fold.setVisible(not busy and (fold is self.rules_fold or bool(self.document and self.document.selection)))

    def _build(self, document: Document) -> None:
        clear(self.folds)
        self.ends_fold = Fold("Ends and stops", "foldEnds", self.theme, is_open=True)
        if document.selection:
            self.ends_fold.body.addWidget(EndsEditor(document, self.theme, self.unit))
        self.steps_fold = Fold("Step", "foldStep", self.theme)
        self.steps = StepEditor(document)
        self.steps_fold.body.addWidget(self.steps)
        self.rules_fold = Fold("Connections", "foldConnections", self.theme)
        self.rules = ConnectionsEditor(document, self.theme, self.unit)
        self.rules_fold.body.addWidget(self.rules)
        for fold in (self.ends_fold, self.steps_fold, self.rules_fold):
            self.folds.addWidget(fold)

    def _move(self, words: str, how: Callable[[Design, frozenset[int]], Design]) -> None:
        if self.document is not None and self.document.selection:
            self.document.edit(words, how(self.document.history.design, self.document.selection))

    def _step(self, step: int) -> None:
        words = "Sew earlier" if step < 0 else "Sew later"
        self._move(words, lambda design, ids: moved_by(design, ids, step))
