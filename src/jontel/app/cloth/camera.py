"""Between mm on the cloth and pixels on the screen."""

from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QTransform

NEAREST, FARTHEST = 400.0, 0.4


@dataclass(frozen=True)
class Camera:
    """``scale`` in pixels a mm; ``x`` and ``y`` are where the cloth's origin is on the screen."""

    scale: float = 6.0
    x: float = 0.0
    y: float = 0.0

    def transform(self) -> QTransform:
        """From mm to pixels."""
        return QTransform(self.scale, 0, 0, self.scale, self.x, self.y)

    def to_cloth(self, spot: QPointF) -> QPointF:
        """The place on the cloth under a pixel."""
        return QPointF((spot.x() - self.x) / self.scale, (spot.y() - self.y) / self.scale)

    def to_screen(self, x: float, y: float) -> QPointF:
        """The pixel that shows a place on the cloth."""
        return QPointF(x * self.scale + self.x, y * self.scale + self.y)

    def panned(self, dx: float, dy: float) -> "Camera":
        """Moved by pixels."""
        return Camera(self.scale, self.x + dx, self.y + dy)

    def zoomed(self, factor: float, at: QPointF) -> "Camera":
        """Nearer or farther, with the place under ``at`` kept where it is."""
        scale = min(NEAREST, max(FARTHEST, self.scale * factor))
        ratio = scale / self.scale
        return Camera(scale, at.x() - (at.x() - self.x) * ratio, at.y() - (at.y() - self.y) * ratio)

    @staticmethod
    def fitting(what: QRectF, window: QRectF) -> "Camera":
        """The camera that shows ``what`` (mm) in the middle of ``window`` (pixels)."""
        scale = min(window.width() / max(what.width(), 1), window.height() / max(what.height(), 1))
        scale = min(NEAREST, max(FARTHEST, scale))
        middle = what.center()
        return Camera(scale, window.center().x() - middle.x() * scale, window.center().y() - middle.y() * scale)
