"""The pen: lines and areas, node by node, in one gesture."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from jontel.app.drawing import pen
from jontel.app.tools.base import Spot
from jontel.app.tools.draw import GRAB, Knot, NodesTool, chain_through
from jontel.design import Area, Line, Shape, StitchObject
from jontel.design.edits import change_objects
from jontel.geometry.bending import closed_up, reversed_way
from jontel.geometry.nodes import Chain, chains_of, path_through
from jontel.shaping.outlines import why_not_bent, with_chains

if TYPE_CHECKING:
    from jontel.app.cloth.canvas import Canvas


class PenTool(NodesTool):
    """Lines at first; closed on its first node it is an area where areas are wanted, else a closed line.

    A click on an end of the selected open line goes on from there.
    """

    name, title, icon, key, kind = "line", "Pen: a line", "tool line", "L", "Line"
    hint = "Click for a corner, drag for a curve; right click, double click or Enter ends, Backspace takes one back"
    area = False

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.goes_on: tuple[StitchObject, int, bool] | None = None
        self.closing = False

    def press(self, spot: Spot) -> None:
        """Go on from an end, close on the first node, or set the next."""
        if not self.nodes and self._go_on(spot):
            self.pulling = spot.screen
            return
        if len(self.nodes) >= 2 and self._near(self.nodes[0].at, spot):
            self.closing = True
            self.pulling = spot.screen
            return
        super().press(spot)

    def _near(self, place: QPointF, spot: Spot) -> bool:
        camera = self.canvas.camera
        return QLineF(camera.to_screen(place.x(), place.y()), spot.screen).length() <= GRAB

    def _end_at(self, spot: Spot) -> tuple[StitchObject, int, bool, Chain] | None:
        """The end of the selected line that is there: its object, which chain of it, and whether it is the start."""
        document = self.canvas.document
        chosen = document.selected() if document is not None else ()
        for item in chosen if len(chosen) == 1 else ():
            if not isinstance(item.shape, Line) or why_not_bent(item):
                continue
            for number, chain in enumerate(chains_of(item.shape.path)):
                for first in () if chain.closed else (True, False):
                    if self._near(QPointF(*chain.at[0 if first else -1].tolist()), spot):
                        return item, number, first, chain
        return None

    def _go_on(self, spot: Spot) -> bool:
        """Take up the end of the selected line that is there."""
        found = self._end_at(spot)
        if found is None:
            return False
        item, number, first, chain = found
        self.goes_on = (item, number, first)
        self.nodes = _nodes_of(reversed_way((chain,))[0] if first else chain)
        self.canvas.update()
        return True

    def move(self, spot: Spot, held: bool) -> None:
        """Pull the curve of the node that was set last, or of the one it closes on."""
        if held and self.closing and self.pulling is not None:
            far = QLineF(self.pulling, spot.screen).length()
            if far > GRAB:
                self.nodes[0] = self.nodes[0].pulled(spot.cloth)
            self.canvas.update()
            return
        super().move(spot, held)
        closes = len(self.nodes) >= 2 and self._near(self.nodes[0].at, spot)
        if not held and closes:
            self.ahead = self.nodes[0].at
        takes_up = not self.nodes and self._end_at(spot) is not None
        self.canvas.setCursor(Qt.CursorShape.PointingHandCursor if closes or takes_up else self.cursor)

    def release(self, spot: Spot) -> None:
        """A click on the first node closes."""
        super().release(spot)
        if self.closing:
            self.complete()

    def cancel(self) -> None:
        """Forget what is drawn."""
        self.goes_on, self.closing = None, False
        super().cancel()

    def complete(self) -> None:
        """Make the line or the area, or give the line that was taken up its new piece."""
        nodes, closing, goes_on = self.nodes, self.closing, self.goes_on
        self.cancel()
        if len(nodes) < 2:
            return
        chain = chain_through(nodes, closing)
        if goes_on is not None:
            self._continue(*goes_on, chain)
            return
        shape: Shape
        if self.area and len(nodes) > 2:
            shape = Area(path_through(closed_up((chain,), {0})))
        else:
            shape = Line(path_through((chain,)))
        self.finish(shape)

    def _continue(self, item: StitchObject, number: int, first: bool, chain: Chain) -> None:
        document = self.canvas.document
        now = document.history.design.object(item.id) if document is not None else None
        if document is None or now is None or now.shape != item.shape or not isinstance(now.shape, Line):
            return
        made = reversed_way((chain,)) if first else (chain,)
        chains = chains_of(now.shape.path)
        after = with_chains(now, (*chains[:number], *made, *chains[number + 1 :]))
        document.edit("Draw on", change_objects(document.history.design, {now.id}, lambda _item: after))

    def paint(self, painter: QPainter) -> None:
        """The curve, and the ends from which a line goes on."""
        super().paint(painter)
        document = self.canvas.document
        chosen = document.selected() if document is not None and not self.nodes else ()
        if len(chosen) != 1 or not isinstance(chosen[0].shape, Line) or why_not_bent(chosen[0]):
            return
        theme = self.canvas.theme
        painter.setPen(pen(theme.colour("accent"), 1.4))
        painter.setBrush(theme.colour("field"))
        for chain in chains_of(chosen[0].shape.path):
            for end in () if chain.closed else (chain.at[0], chain.at[-1]):
                spot = self.canvas.camera.to_screen(*end.tolist())
                painter.drawRect(QRectF(spot.x() - 3.5, spot.y() - 3.5, 7, 7))


class AreaPenTool(PenTool):
    """The same for areas: what is left open is closed by a straight piece."""

    name, title, icon, key, kind = "shape", "Pen: an area", "tool shape", "G", "Shape"
    area = True


def _nodes_of(chain: Chain) -> list[Knot]:
    """The nodes of an open chain, to be drawn on from its last one."""
    places = zip(chain.at.tolist(), chain.after.tolist(), chain.before.tolist(), strict=True)
    return [Knot(QPointF(*at), QPointF(*out), QPointF(*back)) for at, out, back in places]
