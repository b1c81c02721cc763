"""A satin between two edges, drawn by opposite points."""

from __future__ import annotations

from PyQt6.QtGui import QPainter

from jontel.app.drawing import pen
from jontel.app.tools.base import Spot
from jontel.app.tools.draw import NodesTool, chain_through
from jontel.app.tools.lines import place_of
from jontel.design.shapes import Column
from jontel.geometry.nodes import path_through


class ColumnTool(NodesTool):
    """Click one edge and the other in turn, drag where an edge is curved; every pair is a direction line."""

    name, title, icon, key, kind = "column", "Draw a column", "tool column", "K", "Column"
    hint = "Click one edge and then the other, pair by pair; drag for a curved edge; right click or Enter finishes"

    def _straight(self, spot: Spot) -> Spot:
        """Shift turns nothing here: the point before lies on the other edge."""
        return spot

    def complete(self) -> None:
        """Make the column of all whole pairs, when there are two or more."""
        nodes = self.nodes
        self.cancel()
        one, other = nodes[::2], nodes[1::2]
        count = min(len(one), len(other))
        if count < 2:
            return
        edges = [path_through((chain_through(edge[:count], False),)) for edge in (one, other)]
        lines = tuple((place_of(p.at), place_of(q.at)) for p, q in zip(one[1:count], other[1:count], strict=True))
        self.finish(Column(edges[0], edges[1], lines[:-1]))

    def paint(self, painter: QPainter) -> None:
        """Both edges so far, and the rows between their points."""
        theme, camera = self.canvas.theme, self.canvas.camera
        on_other = len(self.nodes) % 2 == 1
        ahead = self.ahead if self.pulling is None else None
        painter.setPen(pen(theme.colour("accent"), 1.0, (3, 3)))
        spots = [camera.to_screen(one.at.x(), one.at.y()) for one in self.nodes]
        if ahead is not None and on_other:
            spots.append(camera.to_screen(ahead.x(), ahead.y()))
        for start, stop in zip(spots[::2], spots[1::2], strict=False):
            painter.drawLine(start, stop)
        self.paint_curve(painter, self.nodes[::2], None if on_other else ahead)
        self.paint_curve(painter, self.nodes[1::2], ahead if on_other else None)
