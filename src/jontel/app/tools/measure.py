"""Measure between two places on the cloth."""

import math

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from jontel.app.drawing import pen
from jontel.app.theme import font
from jontel.app.tools.base import Spot, Tool
from jontel.design.units import format_length


class MeasureTool(Tool):
    """Drag from one place to another: length, angle, and both ways apart."""

    name, title, icon, key = "measure", "Measure", "measure", "M"
    hint = "Drag between two places on the cloth"
    cursor = Qt.CursorShape.CrossCursor
    start: QPointF | None = None
    stop: QPointF | None = None

    def press(self, spot: Spot) -> None:
        """The first place."""
        self.start = self.stop = spot.cloth

    def move(self, spot: Spot, held: bool) -> None:
        """The second place, so far."""
        if held:
            self.stop = spot.cloth
            self.canvas.update()

    def release(self, spot: Spot) -> None:
        """Keep the measure on the cloth until the next one."""
        self.stop = spot.cloth
        self.canvas.say(self.reading())

    def cancel(self) -> None:
        """Take the measure away."""
        self.start = self.stop = None
        self.canvas.update()

    def reading(self) -> str:
        """What was measured, in words."""
        if self.start is None or self.stop is None:
            return ""
        step = self.stop - self.start
        unit = self.canvas.unit
        angle = math.degrees(math.atan2(-step.y(), step.x()))
        size = math.hypot(step.x(), step.y())
        return (
            f"{format_length(size, unit)} at {angle:.1f}°   "
            f"across {format_length(abs(step.x()), unit)}, down {format_length(abs(step.y()), unit)}"
        )

    def paint(self, painter: QPainter) -> None:
        """The line with its length."""
        if self.start is None or self.stop is None or self.start == self.stop:
            return
        theme = self.canvas.theme
        ends = [self.canvas.camera.to_screen(p.x(), p.y()) for p in (self.start, self.stop)]
        painter.setPen(pen(theme.colour("accent"), 1.6))
        painter.drawLine(*ends)
        painter.setBrush(theme.colour("field"))
        for end in ends:
            painter.drawEllipse(end, 3.5, 3.5)
        step = self.stop - self.start
        words = format_length(math.hypot(step.x(), step.y()), self.canvas.unit)
        middle = (ends[0] + ends[1]) / 2
        painter.setFont(font(9.5))
        box = QRectF(middle.x() + 10, middle.y() - 26, painter.fontMetrics().horizontalAdvance(words) + 16, 22)
        painter.setPen(pen(theme.colour("line")))
        painter.drawRoundedRect(box, 6, 6)
        painter.setPen(theme.colour("ink"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
