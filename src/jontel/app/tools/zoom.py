"""Zoom to what a box is drawn round."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from jontel.app.drawing import pen
from jontel.app.tools.base import Spot, Tool

LEAST = 6.0


class ZoomTool(Tool):
    """Drag a box round what shall fill the window; a click comes nearer, with Shift farther away."""

    name, title, icon, key = "zoom", "Zoom to an area", "zoom", "Z"
    hint = "Drag a box round what to see; click to come nearer, Shift click to go back; F shows everything"
    cursor = Qt.CursorShape.CrossCursor
    looks = True
    start: QPointF | None = None
    stop: QPointF | None = None

    def press(self, spot: Spot) -> None:
        """One corner of the box."""
        self.start = self.stop = spot.screen

    def move(self, spot: Spot, held: bool) -> None:
        """The other one."""
        if held and self.start is not None:
            self.stop = spot.screen
            self.canvas.update()

    def release(self, spot: Spot) -> None:
        """Look there."""
        start, self.start = self.start, None
        if start is None:
            return
        box = QRectF(start, spot.screen).normalized()
        camera = self.canvas.camera
        if box.width() < LEAST and box.height() < LEAST:
            self.canvas.set_camera(camera.zoomed(0.5 if spot.shift else 2.0, spot.screen))
        else:
            self.canvas.show_box(QRectF(camera.to_cloth(box.topLeft()), camera.to_cloth(box.bottomRight())))

    def cancel(self) -> None:
        """Forget the box."""
        self.start = self.stop = None
        self.canvas.update()

    def paint(self, painter: QPainter) -> None:
        """The box so far."""
        if self.start is not None and self.stop is not None:
            painter.setPen(pen(self.canvas.theme.colour("accent"), 1.2, (4, 3)))
            painter.setBrush(self.canvas.theme.colour("accent", 24))
            painter.drawRect(QRectF(self.start, self.stop).normalized())
