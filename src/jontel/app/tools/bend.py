"""Bend: nodes, handles and the curve itself dragged; nodes put in, taken out, made corners or smooth."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from enum import Enum, auto
from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter, QPainterPath, QPolygonF

from jontel.app.cloth.markers import handle_spots, paint_handles, paint_outline, turning_spot
from jontel.app.drawing import pen, shape_path
from jontel.app.tools.base import Spot, Tool
from jontel.app.tools.select import DRAG_FROM, Drag, scaling, turning
from jontel.app.tools.select import Grip as Hold
from jontel.geometry.bending import Picked, Side, bent, handle_moved, node_added, nodes_moved
from jontel.geometry.nodes import TINY, Chain, Chains, NodeKind, nearest_on, place_on

if TYPE_CHECKING:
    from jontel.app.bending import Bending
    from jontel.app.cloth.canvas import Canvas

GRAB = 8.0
ON_CURVE = 6.0
MOST_SHOWN = 600
"""Of more nodes in view only the picked ones are shown while they would lie nearer than a handle is wide."""
KINDS: dict[Qt.Key, NodeKind] = {Qt.Key.Key_1: "corner", Qt.Key.Key_2: "smooth", Qt.Key.Key_3: "symmetric"}
STEPS = {
    Qt.Key.Key_Left: (-1.0, 0.0),
    Qt.Key.Key_Right: (1.0, 0.0),
    Qt.Key.Key_Up: (0.0, -1.0),
    Qt.Key.Key_Down: (0.0, 1.0),
}
STEP, FAR = 0.1, 1.0
"""The arrow keys move nodes by so many mm, with Shift by so many."""


class Grip(Enum):
    """What a drag does."""

    NODES = auto()
    HANDLE = auto()
    CURVE = auto()
    BAND = auto()
    LASSO = auto()
    FRAME = auto()


@dataclass
class Pull:
    """A drag under way, and the outline as it was before."""

    grip: Grip
    start: Spot
    before: Chains
    node: tuple[int, int] = (0, 0)
    side: Side = "after"
    t: float = 0.5
    frame: Drag | None = None
    moved: bool = False
    way: list[QPointF] = field(default_factory=list)
    leaves: bool = False


class BendTool(Tool):
    """The tool for the outline of the one object that is selected."""

    name, title, icon, key = "bend", "Bend", "tool bend", "B"
    hint = "Drag nodes, handles or the curve; double click the curve for a node, a node for corner or smooth"

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.pull: Pull | None = None
        self.over: QPointF | None = None
        self._outlines = Outlines()

    @property
    def bending(self) -> Bending | None:
        """What is bent."""
        document = self.canvas.document
        return document.bending if document is not None else None

    def entered(self) -> None:
        """Say why the selection cannot be bent, where it cannot."""
        why = self.bending.why_not() if self.bending is not None else ""
        if why:
            self.canvas.say(why)

    # what is where

    def _screen(self, place: np.ndarray) -> QPointF:
        return self.canvas.camera.to_screen(float(place[0]), float(place[1]))

    def node_at(self, spot: Spot) -> tuple[int, int] | None:
        """The node within reach."""
        bending = self.bending
        best: tuple[float, tuple[int, int]] | None = None
        for number, chain in enumerate(bending.chains if bending is not None else ()):
            far = np.hypot(*(chain.at - np.array(spot.place)).T) * self.canvas.camera.scale
            k = int(far.argmin())
            if far[k] <= GRAB and (best is None or far[k] < best[0]):
                best = (float(far[k]), (number, k))
        return best[1] if best is not None else None

    def _shown_handles(self) -> list[tuple[tuple[int, int], Side, np.ndarray]]:
        """The handles that are shown: those at picked nodes, and those that face them over a piece."""
        bending = self.bending
        found: list[tuple[tuple[int, int], Side, np.ndarray]] = []
        if bending is None or len(bending.picked) > 40:
            return found
        chains = bending.chains
        seen: set[tuple[int, int, Side]] = set()
        for number, k in bending.picked:
            chain = chains[number]
            wanted: list[tuple[int, Side]] = [(k, "before"), (k, "after")]
            if chain.closed or k > 0:
                wanted.append(((k - 1) % len(chain), "after"))
            if chain.closed or k < len(chain) - 1:
                wanted.append(((k + 1) % len(chain), "before"))
            for node, side in wanted:
                place = chain.before[node] if side == "before" else chain.after[node]
                if (number, node, side) not in seen and np.hypot(*(place - chain.at[node])) > TINY:
                    seen.add((number, node, side))
                    found.append(((number, node), side, place))
        return found

    def _handle_at(self, spot: Spot) -> tuple[tuple[int, int], Side] | None:
        gaps = [
            (QLineF(self._screen(place), spot.screen).length(), node, side)
            for node, side, place in self._shown_handles()
        ]
        nearest = min(gaps, key=lambda one: one[0], default=None)
        return (nearest[1], nearest[2]) if nearest is not None and nearest[0] <= GRAB else None

    def _piece_at(self, spot: Spot) -> tuple[int, int, float] | None:
        bending = self.bending
        found = nearest_on(bending.chains, spot.place) if bending is not None else None
        if found is None or found[3] * self.canvas.camera.scale > ON_CURVE:
            return None
        return found[:3]

    def _frame_box(self) -> QRectF | None:
        """The box round the picked nodes, where they are more than two."""
        bending = self.bending
        if bending is None or len(bending.picked) < 3:
            return None
        spots = np.array([bending.chains[c].at[k] for c, k in bending.picked])
        low, high = spots.min(axis=0), spots.max(axis=0)
        return QRectF(QPointF(*low.tolist()), QPointF(*high.tolist()))

    def _screen_frame(self) -> QRectF | None:
        box = self._frame_box()
        if box is None:
            return None
        corners = [self.canvas.camera.to_screen(p.x(), p.y()) for p in (box.topLeft(), box.bottomRight())]
        return QRectF(*corners).adjusted(-12, -12, 12, 12)

    def _frame_at(self, spot: Spot) -> Drag | None:
        box, shown = self._frame_box(), self._screen_frame()
        if box is None or shown is None:
            return None
        if QLineF(turning_spot(shown), spot.screen).length() <= GRAB:
            return Drag(Hold.TURN, spot, box)
        for number, place in enumerate(handle_spots(shown)):
            if QLineF(place, spot.screen).length() <= GRAB:
                return Drag(Hold.SCALE, spot, box, number)
        return None

    # the mouse

    def press(self, spot: Spot) -> None:
        """Take hold of a handle, a node, the frame of picked nodes, the curve; else choose what is there."""
        bending = self.bending
        if bending is None:
            return
        chains = bending.chains
        handle, node = self._handle_at(spot), self.node_at(spot)
        if node is not None and (handle is None or node not in bending.picked):
            self._pick_node(node, spot)
            return
        if handle is not None:
            self.pull = Pull(Grip.HANDLE, spot, chains, handle[0], handle[1])
            return
        frame = self._frame_at(spot)
        if frame is not None:
            self.pull = Pull(Grip.FRAME, spot, chains, frame=frame)
            return
        piece = self._piece_at(spot)
        if piece is not None:
            self.pull = Pull(Grip.CURVE, spot, chains, piece[:2], t=piece[2])
            return
        self._choose(spot, chains)

    def _pick_node(self, node: tuple[int, int], spot: Spot) -> None:
        bending = self.bending
        assert bending is not None
        leaves = node in bending.picked
        if spot.shift:
            bending.pick(bending.picked | {node})
        elif not leaves:
            bending.pick(frozenset({node}))
        self.pull = Pull(Grip.NODES, spot, bending.chains, node, leaves=leaves)

    def _choose(self, spot: Spot, chains: Chains) -> None:
        """Another object that is there, or nodes by a band; with Alt by a lasso."""
        document = self.canvas.document
        assert document is not None and self.bending is not None
        hit = self.canvas.object_at(spot.cloth)
        if hit is not None and hit not in document.selection and not spot.shift:
            document.select({hit})
            why = self.bending.why_not()
            if why:
                self.canvas.say(why)
            return
        lasso = bool(spot.keys & Qt.KeyboardModifier.AltModifier)
        self.pull = Pull(Grip.LASSO if lasso else Grip.BAND, spot, chains, way=[spot.cloth])

    def move(self, spot: Spot, held: bool) -> None:
        """Drag along, or show what could be taken hold of."""
        pull, bending = self.pull, self.bending
        if not held or pull is None or bending is None:
            self._hover(spot)
            return
        if not pull.moved and QLineF(pull.start.screen, spot.screen).length() < DRAG_FROM:
            return
        pull.moved = True
        match pull.grip:
            case Grip.NODES:
                self._drag_nodes(pull, spot, bending)
            case Grip.HANDLE:
                spot = self.canvas.snapped(spot, within=())
                alone = bool(spot.keys & Qt.KeyboardModifier.AltModifier)
                bending.drag(handle_moved(pull.before, pull.node, pull.side, spot.place, alone))
            case Grip.CURVE:
                spot = self.canvas.snapped(spot)
                bending.drag(bent(pull.before, *pull.node, pull.t, spot.place))
            case Grip.FRAME:
                assert pull.frame is not None
                matrix = scaling(pull.frame, spot) if pull.frame.grip is Hold.SCALE else turning(pull.frame, spot)
                bending.drag(nodes_moved(pull.before, bending.picked, matrix))
            case _:
                pull.way.append(spot.cloth)
        self.canvas.update()

    def _drag_nodes(self, pull: Pull, spot: Spot, bending: Bending) -> None:
        chain = pull.before[pull.node[0]]
        home = chain.at[pull.node[1]]
        step = spot.cloth - pull.start.cloth
        if spot.shift:
            step = QPointF(step.x(), 0.0) if abs(step.x()) > abs(step.y()) else QPointF(0.0, step.y())
        goal = QPointF(float(home[0]) + step.x(), float(home[1]) + step.y())
        snap = self.canvas.snapped(Spot(goal, spot.screen, spot.keys), within=_still(pull.before, bending.picked))
        x, y = snap.cloth.x() - float(home[0]), snap.cloth.y() - float(home[1])
        bending.drag(nodes_moved(pull.before, bending.picked, (1.0, 0.0, 0.0, 1.0, x, y)))
        self.canvas.say(f"x {snap.cloth.x():.2f}, y {snap.cloth.y():.2f} mm")

    def _hover(self, spot: Spot) -> None:
        """Show where the curve would be taken hold of."""
        self.over = None
        if self._handle_at(spot) is not None or self.node_at(spot) is not None:
            self.canvas.setCursor(Qt.CursorShape.PointingHandCursor)
        elif self._frame_at(spot) is not None:
            self.canvas.setCursor(Qt.CursorShape.SizeAllCursor)
        else:
            piece = self._piece_at(spot)
            if piece is not None and self.bending is not None:
                self.over = QPointF(*place_on(self.bending.chains[piece[0]], piece[1], piece[2]).tolist())
            self.canvas.setCursor(Qt.CursorShape.CrossCursor if piece is not None else Qt.CursorShape.ArrowCursor)
        self.canvas.update()

    def release(self, spot: Spot) -> None:
        """Make the edit, or pick what was clicked."""
        pull, bending = self.pull, self.bending
        self.pull = None
        if pull is None or bending is None:
            return
        if pull.grip in (Grip.BAND, Grip.LASSO):
            self._pick_many(pull, spot, bending)
        elif pull.moved:
            words = {Grip.NODES: "Move nodes", Grip.HANDLE: "Move a handle", Grip.CURVE: "Bend"}
            bending.drop(words.get(pull.grip, "Scale nodes"))
        elif pull.grip is Grip.NODES and pull.leaves:
            bending.pick(bending.picked - {pull.node} if spot.shift else frozenset({pull.node}))
        elif pull.grip is Grip.CURVE:
            number, piece = pull.node
            ends = {(number, piece), (number, (piece + 1) % len(pull.before[number]))}
            bending.pick((bending.picked if spot.shift else frozenset()) | ends)
        self.canvas.update()

    def _pick_many(self, pull: Pull, spot: Spot, bending: Bending) -> None:
        if not pull.moved:
            if not spot.shift:
                bending.pick(frozenset())
            return
        inside = frozenset(
            (number, k)
            for number, chain in enumerate(bending.chains)
            for k in np.flatnonzero(_within(chain, pull, spot)).tolist()
        )
        bending.pick(bending.picked | inside if spot.shift else inside)

    def double_click(self, spot: Spot) -> bool:
        """A node for where the curve was clicked; a node that was clicked is made a corner or smooth."""
        bending = self.bending
        if bending is None:
            return False
        self.pull = None
        node, piece = self.node_at(spot), self._piece_at(spot)
        if node is not None:
            kind = bending.chains[node[0]].kinds()[node[1]]
            bending.pick(frozenset({node}))
            bending.make("smooth" if kind == "corner" else "corner")
        elif piece is not None:
            added: list[tuple[int, int]] = []

            def insert(chains: Chains, _picked: Picked) -> Chains:
                made, where = node_added(chains, *piece)
                added.append(where)
                return made

            bending.do("Insert a node", insert)
            bending.pick(frozenset(added))
        else:
            return False
        self.canvas.update()
        return True

    # the keys

    def takes(self, event: QKeyEvent) -> bool:
        """Keys that are the nodes' while any are picked."""
        bending = self.bending
        if bending is None or not bending.chains or event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            return False
        key = event.key()
        if key in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab, Qt.Key.Key_Insert):
            return True
        mine = (*KINDS, *STEPS, Qt.Key.Key_Delete, Qt.Key.Key_Backspace, Qt.Key.Key_J, Qt.Key.Key_K)
        return bool(bending.picked) and key in mine

    def pressed_key(self, event: QKeyEvent) -> bool:
        """Kinds, steps, in and out, join and cut; Escape lets go of the nodes first."""
        bending = self.bending
        key = Qt.Key(event.key())
        if bending is None or not bending.chains:
            return False
        shift = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if key == Qt.Key.Key_Escape and (self.pull is not None or bending.picked):
            self.cancel()
            bending.pick(frozenset())
        elif key in KINDS:
            bending.make(KINDS[key])
        elif key in STEPS and bending.picked:
            far = FAR if shift else STEP
            bending.nudge(STEPS[key][0] * far, STEPS[key][1] * far)
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and bending.picked:
            bending.remove()
        elif key == Qt.Key.Key_Insert:
            bending.insert()
        elif key == Qt.Key.Key_J and bending.picked:
            bending.join()
        elif key == Qt.Key.Key_K and bending.picked:
            bending.cut()
        elif key in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab):
            self._step(bending, -1 if shift or key == Qt.Key.Key_Backtab else 1)
        else:
            return False
        self.canvas.update()
        return True

    def _step(self, bending: Bending, by: int) -> None:
        """Pick the next node or the one before."""
        every = [(c, k) for c, chain in enumerate(bending.chains) for k in range(len(chain))]
        picked = sorted(bending.picked)
        at = every.index(picked[-1] if by > 0 else picked[0]) + by if picked else 0
        bending.pick(frozenset({every[at % len(every)]}))

    def cancel(self) -> None:
        """Let go without an edit."""
        self.pull = self.over = None
        if self.bending is not None:
            self.bending.let_go()
        self.canvas.update()

    # drawing

    def paint(self, painter: QPainter) -> None:
        """The outline, its nodes by kind, the handles of those that are picked."""
        bending = self.bending
        if bending is None or not bending.chains:
            self._paint_others(painter)
            return
        theme, camera = self.canvas.theme, self.canvas.camera
        chains, picked = bending.chains, bending.picked
        painter.setTransform(camera.transform())
        painter.setBrush(Qt.BrushStyle.NoBrush)
        pull = self.pull
        paths = self._outlines.paths(chains, pull.before if pull is not None and pull.moved else None)
        many = sum(map(len, chains)) > MOST_SHOWN
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, not many)  # smooth is slow, and such lines are dense
        for colour, wide in (("accent", 1.0),) if many else (("surface", 3.4), ("accent", 1.5)):
            painter.setPen(pen(theme.colour(colour, 200 if colour == "surface" else 255), wide))
            for path in paths:
                painter.drawPath(path)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        handles = self._shown_handles()
        painter.setPen(pen(theme.colour("accent"), 1.0))
        painter.drawLines([QLineF(*chains[c].at[k].tolist(), *place.tolist()) for (c, k), _, place in handles])
        painter.resetTransform()
        painter.setPen(pen(theme.colour("accent"), 1.4))
        painter.setBrush(theme.colour("surface"))
        for _, _, place in handles:
            painter.drawEllipse(self._screen(place), 3.6, 3.6)
        self._paint_nodes(painter, chains, picked)
        frame = self._screen_frame()
        if frame is not None and (self.pull is None or self.pull.grip is not Grip.FRAME):
            paint_handles(painter, frame, theme)
        if pull is not None and pull.moved and pull.grip in (Grip.BAND, Grip.LASSO):
            self._paint_band(painter, pull)
        if self.over is not None and pull is None:
            painter.setPen(pen(theme.colour("accent"), 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(camera.to_screen(self.over.x(), self.over.y()), 4.5, 4.5)

    def _paint_others(self, painter: QPainter) -> None:
        """Nothing can be bent: the selection as it is."""
        document = self.canvas.document
        for item in document.selected() if document is not None else ():
            paint_outline(painter, shape_path(item.shape), self.canvas.camera, self.canvas.theme)

    def _paint_nodes(self, painter: QPainter, chains: Chains, picked: Picked) -> None:
        theme, camera = self.canvas.theme, self.canvas.camera
        view = QRectF(self.canvas.rect()).adjusted(-8, -8, 8, 8)
        crowd = sum(len(chain) for chain in chains)
        for number, chain in enumerate(chains):
            spots = chain.at * camera.scale + (camera.x, camera.y)
            kinds = chain.kinds()
            shown = np.zeros(len(chain), dtype=bool)
            shown[[k for c, k in picked if c == number]] = True
            if crowd <= MOST_SHOWN or _mean_step(spots) > 7.0:
                shown[:] = True
            x, y = spots.T
            shown &= (x > view.left()) & (x < view.right()) & (y > view.top()) & (y < view.bottom())
            for k in np.flatnonzero(shown).tolist():
                chosen = (number, k) in picked
                x, y = spots[k].tolist()
                painter.setPen(pen(theme.colour("accent"), 1.4))
                painter.setBrush(theme.colour("accent" if chosen else "field"))
                if kinds[k] == "corner":
                    painter.drawRect(QRectF(x - 3.5, y - 3.5, 7, 7))
                elif kinds[k] == "smooth":
                    painter.drawEllipse(QPointF(x, y), 4.0, 4.0)
                else:
                    diamond = [QPointF(x, y - 5), QPointF(x + 5, y), QPointF(x, y + 5), QPointF(x - 5, y)]
                    painter.drawPolygon(QPolygonF(diamond))
            if len(spots):  # which way it is drawn, and from where
                self._paint_start(painter, spots)

    def _paint_start(self, painter: QPainter, spots: np.ndarray) -> None:
        start = QPointF(*spots[0].tolist())
        on = QPointF(*spots[1].tolist()) - start
        size = max(math.hypot(on.x(), on.y()), 1e-6)
        way, side = on / size, QPointF(-on.y(), on.x()) / size
        painter.setPen(pen(self.canvas.theme.colour("accent"), 1.4))
        tip = start + way * 15
        painter.drawPolyline([tip - way * 5 + side * 4, tip, tip - way * 5 - side * 4])

    def _paint_band(self, painter: QPainter, pull: Pull) -> None:
        theme, camera = self.canvas.theme, self.canvas.camera
        painter.setPen(pen(theme.colour("accent"), 1.0, (4, 3)))
        painter.setBrush(theme.colour("accent", 28))
        spots = [camera.to_screen(p.x(), p.y()) for p in pull.way]
        if pull.grip is Grip.LASSO:
            painter.drawPolygon(QPolygonF(spots))
        else:
            painter.drawRect(QRectF(spots[0], spots[-1]).normalized())


def _within(chain: Chain, pull: Pull, spot: Spot) -> np.ndarray:
    """Which nodes lie inside the band or the lasso."""
    if pull.grip is Grip.BAND:
        box = QRectF(pull.start.cloth, spot.cloth).normalized()
        x, y = chain.at.T
        inside = (x >= box.left()) & (x <= box.right()) & (y >= box.top()) & (y <= box.bottom())
        return np.asarray(inside)
    ring = QPolygonF([*pull.way, spot.cloth])
    rule = Qt.FillRule.OddEvenFill
    return np.array([ring.containsPoint(QPointF(*place), rule) for place in chain.at.tolist()])


def _mean_step(spots: np.ndarray) -> float:
    return float(np.hypot(*np.diff(spots, axis=0).T).mean()) if len(spots) > 1 else 0.0


def _still(chains: Chains, picked: Picked) -> Chains:
    """The nodes that are not picked, as something to snap to."""
    found: list[Chain] = []
    for number, chain in enumerate(chains):
        rest = np.delete(np.arange(len(chain)), [k for c, k in picked if c == number])
        if len(rest):
            found.append(Chain(chain.at[rest], chain.before[rest], chain.after[rest], False))
    return tuple(found)


class Outlines:
    """Outlines as painter paths: of one that is dragged only the pieces that differ are made again."""

    def __init__(self) -> None:
        self._whole: tuple[Chains, QPainterPath] = ((), QPainterPath())
        self._rest: tuple[Chains, bytes, QPainterPath] = ((), b"", QPainterPath())

    def paths(self, chains: Chains, before: Chains | None) -> tuple[QPainterPath, ...]:
        """The paths of ``chains``, which were ``before`` when a drag began."""
        if before is None or before is chains or [len(c) for c in before] != [len(c) for c in chains]:
            if self._whole[0] is not chains:
                self._whole = (chains, path_of_chains(chains))
            return (self._whole[1],)
        moved = [
            (one.controls() != other.controls()).any(axis=(1, 2)) for one, other in zip(chains, before, strict=True)
        ]
        key = b"".join(one.tobytes() for one in moved)
        if self._rest[0] is not before or self._rest[1] != key:
            rest = QPainterPath()
            for chain, some in zip(before, moved, strict=True):
                _add_pieces(rest, chain, ~some)
            self._rest = (before, key, rest)
        fresh = QPainterPath()
        for chain, some in zip(chains, moved, strict=True):
            _add_pieces(fresh, chain, some)
        return self._rest[2], fresh


def _add_pieces(path: QPainterPath, chain: Chain, some: np.ndarray) -> None:
    """Add some of the pieces of a chain, (pieces,), to a path."""
    numbers = np.flatnonzero(some)
    straight = chain.straight()[numbers].tolist()
    last = -2
    for k, line, c in zip(numbers.tolist(), straight, chain.controls()[numbers].tolist(), strict=True):
        if k != last + 1:
            path.moveTo(*c[0])
        if line:
            path.lineTo(*c[3])
        else:
            path.cubicTo(*c[1], *c[2], *c[3])
        last = k


def path_of_chains(chains: Chains) -> QPainterPath:
    """Chains as a painter path."""
    made = QPainterPath()
    for chain in chains:
        if not chain.pieces:
            continue
        controls = chain.controls()
        straight = chain.straight()
        made.moveTo(*controls[0, 0].tolist())
        for (_, one, other, end), line in zip(controls.tolist(), straight.tolist(), strict=True):
            if line:
                made.lineTo(*end)
            else:
                made.cubicTo(*one, *other, *end)
        if chain.closed:
            made.closeSubpath()
    return made
