"""Draw by hand: what the mouse did becomes a curve of few nodes."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter

from jontel.app.drawing import pen
from jontel.app.tools.base import Spot
from jontel.app.tools.draw import GRAB, DrawTool
from jontel.design.shapes import Area, Line
from jontel.geometry.fitting import fitted
from jontel.geometry.nodes import path_through

CLOSES = 1.5 * GRAB
"""A line that ends so many pixels from where it began, and went farther away between, is closed."""
PIXEL = 0.9
"""A hand and its mouse are no surer than so many pixels."""


class FreehandTool(DrawTool):
    """Press, draw, let go: an open line, or an area where it ends at its beginning."""

    name, title, icon, key, kind = "freehand", "Draw by hand", "tool freehand", "W", "Drawn line"
    hint = "Press and draw; let go where you began for a closed shape. Shift keeps it an open line"

    points: list[QPointF] | None = None

    def press(self, spot: Spot) -> None:
        """Begin."""
        self.points = [self.canvas.snapped(spot).cloth]

    def move(self, spot: Spot, held: bool) -> None:
        """Draw on."""
        if held and self.points is not None:
            self.points.append(spot.cloth)
            self.canvas.update()

    def release(self, spot: Spot) -> None:
        """Make the object of what was drawn, when it was more than a click."""
        points, self.points = self.points, None
        document = self.canvas.document
        self.canvas.update()
        if points is None or document is None:
            return
        scale = self.canvas.camera.scale
        xy = np.array([(p.x(), p.y()) for p in points])
        far = float(np.hypot(*(xy - xy[0]).T).max()) * scale
        gap = math.dist(xy[0], xy[-1]) * scale
        closed = gap <= CLOSES and far > 3 * CLOSES and len(xy) > 8 and not spot.shift
        if far < CLOSES:
            return
        within = max(document.next.smoothing, PIXEL / scale)
        chain = fitted(xy, within, closed)
        path = path_through((chain,))
        count = len(chain)
        self.finish(Area(path) if closed else Line(path))
        self.canvas.say(f"{count} nodes, within {within:.2f} mm of what was drawn; B bends them")

    def cancel(self) -> None:
        """Forget what is drawn."""
        self.points = None
        self.canvas.update()

    def paint(self, painter: QPainter) -> None:
        """What is drawn so far."""
        if self.points is None or len(self.points) < 2:
            return
        painter.setTransform(self.canvas.camera.transform())
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for colour, wide in (("surface", 3.6), ("accent", 1.6)):
            painter.setPen(pen(self.canvas.theme.colour(colour), wide))
            painter.drawPolyline(self.points)
        painter.resetTransform()
