"""What lies under the stitches: the table, the hoop with its cloth, and the artwork, painted once for a camera."""

from collections.abc import Iterable

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPixmap

from jontel.app.cloth.camera import Camera
from jontel.app.cloth.fabric import fabric_brush
from jontel.app.cloth.pictures import artwork_pixmap
from jontel.app.drawing import pen
from jontel.app.theme import Theme
from jontel.design import Artwork, Brief


class Backdrop:
    """Keeps the picture that it painted last."""

    def __init__(self) -> None:
        self._kept: tuple[QPixmap, object] | None = None

    def clear(self) -> None:
        """Let go of the picture."""
        self._kept = None

    def picture(
        self, brief: Brief, artwork: tuple[Artwork, ...], camera: Camera, theme: Theme, size: QSize, density: float
    ) -> QPixmap:
        """The backdrop of a window of so many pixels, with some artwork."""
        ground = brief.ground
        key = (brief.hoop, ground.colour, ground.weave, artwork, camera, theme.name, size, density)
        if self._kept is None or self._kept[1] != key:
            picture = QPixmap(round(size.width() * density), round(size.height() * density))
            picture.setDevicePixelRatio(density)
            picture.fill(theme.colour("table"))
            painter = QPainter(picture)
            try:
                painter.setRenderHint(QPainter.RenderHint.Antialiasing)
                _paint_hoop(painter, brief, camera, theme)
                paint_artwork(painter, artwork, camera)
            finally:
                painter.end()
            self._kept = (picture, key)
        return self._kept[0]


def _paint_hoop(painter: QPainter, brief: Brief, camera: Camera, theme: Theme) -> None:
    hoop = brief.hoop
    corner = min(hoop.corner, hoop.width / 2, hoop.height / 2)
    field = QRectF(-hoop.width / 2, -hoop.height / 2, hoop.width, hoop.height)
    painter.setTransform(camera.transform())
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colour("hoop"))
    painter.drawRoundedRect(field.adjusted(-3.2, -3.2, 3.2, 3.2), corner + 3.2, corner + 3.2)
    painter.resetTransform()
    on_screen = QRectF(camera.to_screen(field.left(), field.top()), camera.to_screen(field.right(), field.bottom()))
    painter.setBrush(fabric_brush(brief.ground.colour, brief.ground.weave, camera.scale, camera.x, camera.y))
    painter.setPen(pen(theme.colour("ink", 60)))
    painter.drawRoundedRect(on_screen, corner * camera.scale, corner * camera.scale)


def paint_artwork(painter: QPainter, artwork: Iterable[Artwork], camera: Camera) -> None:
    """Paint pictures where they lie, those that are shown, each as far dimmed as it is."""
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    for one in artwork:
        if not one.visible:
            continue
        top, low = camera.to_screen(one.x, one.y), camera.to_screen(one.x + one.width, one.y + one.height)
        painter.setOpacity(1 - one.dim)
        picture = artwork_pixmap(one)
        painter.drawPixmap(QRectF(top, low), picture, QRectF(picture.rect()))
    painter.setOpacity(1.0)
