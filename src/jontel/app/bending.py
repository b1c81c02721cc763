"""The outline that is bent: its nodes, which of them are picked, and edits of both. Tool and panel share it."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from jontel.design import Design, StitchObject
from jontel.design.edits import change_objects
from jontel.design.errors import JontelError
from jontel.geometry import bending as nodes
from jontel.geometry.bending import Picked
from jontel.geometry.nodes import Chains, NodeKind
from jontel.shaping.outlines import chains_in, why_not_bent, with_chains

if TYPE_CHECKING:
    from jontel.app.session import Document

NONE: Picked = frozenset()
SHOWN_AFTER = 30
"""While something is dragged its stitches are asked for once in so many ms, not at every move of the mouse."""
LARGE, RESTED = 300, 60
"""The stitches of outlines of more nodes follow once the mouse has rested for so many ms."""
Change = Callable[[Chains, Picked], Chains]


class Bending(QObject):
    """The chains of the one selected object, with what is being dragged; ``picked`` are nodes of them."""

    changed = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self._known: tuple[StitchObject, Chains] | None = None
        self._dragged: Chains | None = None
        self._picked: Picked = NONE
        self._owner: int | None = None
        self._soon = QTimer(self, singleShot=True, interval=SHOWN_AFTER)
        self._soon.timeout.connect(self._preview)

    @property
    def item(self) -> StitchObject | None:
        """The object that is bent, as it is kept: one alone that is selected and whose outline is its own."""
        chosen = self._document.selection
        item = self._document.history.design.object(next(iter(chosen))) if len(chosen) == 1 else None
        return item if item is not None and not why_not_bent(item) else None

    def why_not(self) -> str:
        """Why the selection cannot be bent, in a sentence; nothing where it can, or nothing is selected."""
        chosen = self._document.selected()
        if len(chosen) > 1:
            return "Bend works on one object: click the one to bend."
        return why_not_bent(chosen[0]) if chosen else ""

    @property
    def chains(self) -> Chains:
        """Its outlines, as they are dragged just now."""
        item = self.item
        if item is None:
            return ()
        if self._dragged is not None and self._owner == item.id:
            return self._dragged
        if self._known is None or self._known[0] is not item:
            self._known = (item, chains_in(item.shape))
            self._dragged = None
            if self._owner != item.id:
                self._owner, self._picked = item.id, NONE
        return self._known[1]

    @property
    def picked(self) -> Picked:
        """The picked nodes that are still there."""
        chains = self.chains
        return frozenset((c, k) for c, k in self._picked if c < len(chains) and k < len(chains[c]))

    def pick(self, picked: Picked) -> None:
        """Pick other nodes."""
        if picked != self._picked:
            self._picked = picked
            self.changed.emit()

    def drag(self, chains: Chains) -> None:
        """Show the outline dragged; its stitches follow."""
        self._dragged = chains
        if sum(map(len, chains)) > LARGE:  # sewing it takes the time that drawing it smoothly needs
            self._soon.start(RESTED)
        elif not self._soon.isActive():
            self._soon.start(SHOWN_AFTER)
        self.changed.emit()

    def _preview(self) -> None:
        if self._dragged is None:
            return
        try:
            design = self._with(self._dragged)
        except JontelError:
            return
        if design is not None:
            self._document.preview(design)

    def drop(self, label: str) -> None:
        """Make what was dragged an edit."""
        chains, self._dragged = self._dragged, None
        self._soon.stop()
        if chains is not None:
            self._edit(label, chains)

    def let_go(self) -> None:
        """Give up what is dragged."""
        self._soon.stop()
        if self._dragged is not None:
            self._dragged = None
            self._document.preview(None)
            self.changed.emit()

    def do(self, label: str, change: Change, keep: bool = True) -> None:
        """Make an edit of the chains and the picked nodes; those stay picked where ``keep``."""
        chains, picked = self.chains, self.picked
        if not chains:
            return
        made = change(chains, picked)
        if not keep:
            self._picked = NONE
        if made is not chains:
            self._edit(label, made)

    def _with(self, chains: Chains) -> Design | None:
        """The design with the outline ``chains``."""
        item = self.item
        if item is None:
            return None
        return change_objects(self._document.history.design, {item.id}, lambda one: with_chains(one, chains))

    def _edit(self, label: str, chains: Chains) -> None:
        try:
            design = self._with(chains)
        except JontelError as refused:
            self._document.preview(None)
            self._document.told.emit(str(refused))
            self.changed.emit()
            return
        if design is not None:
            self._document.edit(label, design)
        self.changed.emit()

    # edits by name, for keys and buttons

    def make(self, kind: NodeKind) -> None:
        """Make the picked nodes corners, smooth or symmetric."""
        if self.picked:
            self.do(f"Make {kind}", lambda chains, picked: nodes.of_kind(chains, picked, kind))

    def remove(self) -> None:
        """Take the picked nodes out, the outline staying where it was as well as it can."""
        if self.picked:
            self.do("Remove nodes", nodes.nodes_removed, keep=False)

    def straighten(self) -> None:
        """Make the pieces between picked nodes straight."""
        if len(self.picked) > 1:
            self.do("Straighten", nodes.straightened)

    def insert(self) -> None:
        """A node in the middle of every piece whose two nodes are picked, or of all where none are."""

        def change(chains: Chains, picked: Picked) -> Chains:
            for number in range(len(chains)):
                for piece in reversed(range(chains[number].pieces)):
                    ends = {(number, piece), (number, (piece + 1) % len(chains[number]))}
                    if not picked or ends <= picked:
                        chains, _ = nodes.node_added(chains, number, piece, 0.5)
            return chains

        self.do("Insert nodes", change, keep=False)

    def cut(self) -> None:
        """Part the outline at the picked nodes."""
        if self.picked:
            self.do("Cut the outline", nodes.cut_at, keep=False)

    def join(self) -> None:
        """Join two picked ends, or close the picked open lines."""

        def change(chains: Chains, picked: Picked) -> Chains:
            if len(picked) == 2:
                return nodes.joined(chains, *sorted(picked))
            numbers = {c for c, _ in picked} or set(range(len(chains)))
            return nodes.closed_up(chains, numbers)

        self.do("Join", change, keep=False)

    def reverse(self) -> None:
        """Draw the outline the other way round."""
        self.do("Reverse", lambda chains, _picked: nodes.reversed_way(chains), keep=False)

    def start_here(self) -> None:
        """Begin the outline at the picked node."""
        if len(self.picked) == 1:
            (node,) = self.picked
            self.do("Start here", lambda chains, _picked: nodes.started_at(chains, node), keep=False)

    def round_off(self, radius: float) -> None:
        """Round the picked corners, or all where none are picked."""
        self.do(
            "Round corners",
            lambda chains, picked: nodes.rounded(chains, radius, only=picked if picked else None),
            keep=False,
        )

    def place(self, axis: int, value: float) -> None:
        """Move the picked nodes so that their middle lies at a place along x (0) or y (1)."""
        picked = self.picked
        if picked:
            step = value - self.middle()[axis]
            matrix = (1.0, 0.0, 0.0, 1.0, step if axis == 0 else 0.0, step if axis == 1 else 0.0)
            self.do("Move nodes", lambda chains, some: nodes.nodes_moved(chains, some, matrix))

    def nudge(self, x: float, y: float) -> None:
        """Move the picked nodes by a little."""
        if self.picked:
            matrix = (1.0, 0.0, 0.0, 1.0, x, y)
            self.do("Move nodes", lambda chains, picked: nodes.nodes_moved(chains, picked, matrix))

    def middle(self) -> tuple[float, float]:
        """The middle of the picked nodes' box, mm."""
        spots = [self.chains[c].at[k] for c, k in self.picked]
        xs, ys = [float(s[0]) for s in spots], [float(s[1]) for s in spots]
        return (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2
