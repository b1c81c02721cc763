"""What the tools that draw share: a finished shape becomes an object, a gesture sets nodes and pulls curves."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np
from msgspec.structs import replace
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter, QPainterPath

from jontel.app.drawing import pen, xy_of
from jontel.app.tools.base import Spot, Tool
from jontel.design import Cover, Shape
from jontel.design.edits import add_objects, use_thread
from jontel.design.figures import FigureValues
from jontel.geometry.nodes import Chain

if TYPE_CHECKING:
    from jontel.app.cloth.canvas import Canvas

GRAB = 8.0
PULLED = 4.0
"""A press that moves by fewer pixels than this sets a corner, one that moves farther pulls a curve."""
APART = 0.05
"""Nodes are no nearer to each other than this, mm."""
ARROWS = {
    Qt.Key.Key_Left: (1, 0),
    Qt.Key.Key_Right: (-1, 0),
    Qt.Key.Key_Up: (0, 1),
    Qt.Key.Key_Down: (0, -1),
}
PAN, FAR_PAN = 40, 200


@dataclass(frozen=True)
class Knot:
    """A node that is drawn: its place, and the handles behind and before it, mm on the cloth."""

    at: QPointF
    out: QPointF
    back: QPointF

    @classmethod
    def corner(cls, at: QPointF) -> Knot:
        """A node without handles."""
        return cls(at, at, at)

    def pulled(self, out: QPointF) -> Knot:
        """The node with the curve behind it pulled to ``out``, and that before it as far to the other side."""
        return Knot(self.at, out, self.at * 2 - out)


class DrawTool(Tool):
    """What is drawn becomes an object, sewn as the panel says that the next one is."""

    cursor = Qt.CursorShape.CrossCursor
    draws = True
    makes = True
    kind = ""

    def finish(self, shape: Shape, cover: Cover | None = None, figure: FigureValues | None = None) -> None:
        """Add the object and select it; ``cover`` is its own where the tool knows better than the panel."""
        document = self.canvas.document
        if document is None:
            return
        design = document.history.design
        number = sum(item.name.startswith(self.kind) for item in design.objects) + 1
        item, thread = document.next.made(f"{self.kind} {number}", shape)
        item = replace(item, figure=figure, cover=item.cover if cover is None else cover)
        made = add_objects(design, [item])
        fresh = made.objects[-1].id
        document.edit(f"Draw {self.kind.lower()}", use_thread(made, {fresh}, thread))
        document.select({fresh})


class NodesTool(DrawTool):
    """Click for a corner, drag for a curve; the right button, a double click or Enter ends, Backspace takes back.

    What is pulled pulls the curve before the node as far to the other side.
    """

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.nodes: list[Knot] = []
        self.ahead: QPointF | None = None
        self.pulling: QPointF | None = None

    @property
    def rests(self) -> bool:
        """A drawing under way survives a look round."""
        return bool(self.nodes)

    def press(self, spot: Spot) -> None:
        """Set a node; what is dragged from here on pulls its curve."""
        spot = self.canvas.snapped(self._straight(spot))
        if self.nodes and math.dist(xy_of(self.nodes[-1].at), spot.place) <= APART:
            return
        self.nodes.append(Knot.corner(spot.cloth))
        self.pulling = spot.screen
        self.canvas.update()

    def _straight(self, spot: Spot) -> Spot:
        """With Shift a spot in steps of 15 degrees from the node before."""
        if not (spot.shift and self.nodes):
            return spot
        start = self.nodes[-1].at
        step = spot.cloth - start
        angle = round(math.degrees(math.atan2(step.y(), step.x())) / 15) * 15
        size = math.hypot(step.x(), step.y())
        place = start + QPointF(math.cos(math.radians(angle)), math.sin(math.radians(angle))) * size
        return Spot(place, self.canvas.camera.to_screen(place.x(), place.y()), spot.keys)

    def move(self, spot: Spot, held: bool) -> None:
        """Pull the curve, or show where the next piece would lie."""
        if held and self.pulling is not None and self.nodes:
            far = QLineF(self.pulling, spot.screen).length()
            last = self.nodes[-1]
            self.nodes[-1] = last.pulled(spot.cloth) if far > PULLED else Knot.corner(last.at)
        elif not held:
            self.ahead = self.canvas.snapped(self._straight(spot)).cloth
        self.canvas.update()

    def release(self, spot: Spot) -> None:
        """The curve stays as it was pulled."""
        self.pulling = None
        self.ahead = spot.cloth

    def double_click(self, spot: Spot) -> bool:
        """Finish."""
        self.complete()
        return True

    def right_click(self, spot: Spot) -> None:
        """Finish."""
        self.complete()

    def takes(self, event: QKeyEvent) -> bool:
        """While something is drawn the arrows move the cloth, and Backspace takes back."""
        return bool(self.nodes) and event.key() in (*ARROWS, Qt.Key.Key_Delete)

    def pressed_key(self, event: QKeyEvent) -> bool:
        """Enter and Escape finish, Backspace takes back, arrows move the cloth."""
        key = Qt.Key(event.key())
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Escape) and self.nodes:
            self.complete()
        elif key in (Qt.Key.Key_Backspace, Qt.Key.Key_Delete) and self.nodes:
            self.nodes.pop()
            self.canvas.update()
        elif key in ARROWS and self.nodes:
            far = FAR_PAN if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else PAN
            x, y = ARROWS[key]
            self.canvas.set_camera(self.canvas.camera.panned(x * far, y * far))
        else:
            return False
        return True

    def leave(self) -> None:
        """What is drawn so far is kept as an object."""
        self.complete()

    def cancel(self) -> None:
        """Forget the nodes."""
        self.nodes, self.pulling, self.ahead = [], None, None
        self.canvas.aids.snap = None
        self.canvas.update()

    def complete(self) -> None:
        """Make of the nodes what the tool makes."""
        raise NotImplementedError

    def paint(self, painter: QPainter) -> None:
        """The curve so far, its nodes and the handles of the last one, and where the next piece would lie."""
        self.paint_curve(painter, self.nodes, self.ahead)

    def paint_curve(self, painter: QPainter, nodes: list[Knot], ahead: QPointF | None) -> None:
        """One curve through nodes, with a piece to ``ahead``."""
        if not nodes:
            return
        theme, camera = self.canvas.theme, self.canvas.camera
        path = QPainterPath(nodes[0].at)
        for one, other in pairwise(nodes):
            path.cubicTo(one.out, other.back, other.at)
        painter.setTransform(camera.transform())
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for colour, wide in (("surface", 3.6), ("accent", 1.6)):
            painter.setPen(pen(theme.colour(colour, 210 if colour == "surface" else 255), wide))
            painter.drawPath(path)
        last = nodes[-1]
        if ahead is not None and self.pulling is None:
            further = QPainterPath(last.at)
            further.cubicTo(last.out, ahead, ahead)
            painter.setPen(pen(theme.colour("surface", 190), 3.0))
            painter.drawPath(further)
            painter.setPen(pen(theme.colour("accent"), 1.2, (3, 3)))
            painter.drawPath(further)
        is_pulled = last.out != last.at
        if is_pulled:
            painter.setPen(pen(theme.colour("muted"), 1.0))
            painter.drawLine(QLineF(last.back, last.out))
        painter.resetTransform()
        painter.setPen(pen(theme.colour("muted"), 1.2))
        painter.setBrush(theme.colour("field"))
        for bead in (last.back, last.out) if is_pulled else ():
            painter.drawEllipse(camera.to_screen(*xy_of(bead)), 3.2, 3.2)
        painter.setPen(pen(theme.colour("accent"), 1.4))
        for number, one in enumerate(nodes):
            spot = camera.to_screen(*xy_of(one.at))
            painter.setBrush(theme.colour("accent" if number == 0 and len(nodes) > 2 else "field"))
            painter.drawRect(QRectF(spot.x() - 3, spot.y() - 3, 6, 6))


def chain_through(nodes: list[Knot], closed: bool) -> Chain:
    """The chain of drawn nodes."""
    at, before, after = (
        np.array([xy_of(place) for place in places]).round(4)
        for places in zip(*((one.at, one.back, one.out) for one in nodes), strict=True)
    )
    if not closed:
        before[0], after[-1] = at[0], at[-1]
    return Chain(at, before, after, closed)
