"""Paint over a picture: with a round brush, or inside of a loop drawn round something."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QKeyEvent, QPainter, QPainterPath

from jontel.app.drawing import pen
from jontel.app.tools.base import Spot, Tool

if TYPE_CHECKING:
    from jontel.app.cloth.canvas import Canvas

STEP = 1.2
"""The brush gets so much wider or narrower by a key."""
KEYS = {int(Qt.Key.Key_BracketLeft): 1 / STEP, int(Qt.Key.Key_BracketRight): STEP}
BRUSH, NARROWEST, WIDEST = 4.0, 0.2, 100.0
"""How wide the brush is at first, at least and at most, mm."""


class BrushTool(Tool):
    """Drag over a picture to paint over it; a loop is closed where the mouse is let go."""

    name, title, icon, key = "brush", "Paint over a picture", "tool brush", "V"
    hint = "Drag over the picture to paint it out; [ and ] change the brush, Alt and a click take up a colour"
    cursor = Qt.CursorShape.CrossCursor
    loops = False

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.width, self.colour = BRUSH, ""
        self.points: list[tuple[float, float]] | None = None
        self.at: QPointF | None = None

    def press(self, spot: Spot) -> None:
        """Begin to paint, or take up the colour that is there."""
        if spot.keys & Qt.KeyboardModifier.AltModifier:
            self.canvas.colour_wanted.emit(spot.cloth)
        else:
            self.points = [spot.place]
        self.canvas.update()

    def move(self, spot: Spot, held: bool) -> None:
        """Paint on."""
        self.at = spot.cloth
        if held and self.points is not None:
            self.points.append(spot.place)
        self.canvas.update()

    def release(self, spot: Spot) -> None:
        """Paint over what was covered, as one step."""
        points, self.points = self.points, None
        if points is not None:
            self.canvas.brushed.emit([*points, spot.place], self.loops)
        self.canvas.update()

    def cancel(self) -> None:
        """Paint nothing."""
        self.points = self.at = None
        self.canvas.update()

    def takes(self, event: QKeyEvent) -> bool:
        """The keys of the brush are its own."""
        return not self.loops and event.key() in KEYS

    def pressed_key(self, event: QKeyEvent) -> bool:
        """The brush gets wider or narrower."""
        factor = KEYS.get(event.key())
        if factor is None or self.loops:
            return False
        self.canvas.brush_wanted.emit(self.colour, min(WIDEST, max(NARROWEST, self.width * factor)))
        return True

    def paint(self, painter: QPainter) -> None:
        """What is painted so far, and the brush."""
        theme, camera = self.canvas.theme, self.canvas.camera
        colour = QColor(self.colour) if self.colour else theme.colour("surface")
        broad = max(self.width * camera.scale, 1.0)
        if self.points is not None:
            path = QPainterPath(camera.to_screen(*self.points[0]))
            for place in self.points[1:]:
                path.lineTo(camera.to_screen(*place))
            colour.setAlpha(210)
            if self.loops:
                painter.setBrush(colour)
                painter.setPen(pen(theme.colour("accent"), 1.4))
                painter.drawPath(path)
            else:
                path.lineTo(path.currentPosition() + QPointF(0.01, 0.0))
                brush = pen(colour, broad)
                brush.setCapStyle(Qt.PenCapStyle.RoundCap)
                brush.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
                painter.strokePath(path, brush)
        if self.at is not None and not self.loops:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            for name, wide in (("surface", 3.0), ("accent", 1.4)):
                painter.setPen(pen(theme.colour(name), wide))
                painter.drawEllipse(camera.to_screen(self.at.x(), self.at.y()), broad / 2, broad / 2)


class LassoTool(BrushTool):
    """Draw a loop round something in a picture to paint over it."""

    name, title, icon, key = "lasso", "Paint over inside a loop", "tool lasso", "O"
    hint = "Draw round what is to be painted out, and let go to close the loop; Alt and a click take up a colour"
    loops = True
