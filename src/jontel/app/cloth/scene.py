"""The scene: stitches, or the plan, as one picture; painted aside, object by object, and kept object by object.

An edit paints the objects that it changed and lays all pictures over each other again. The interface only ever shows
the last picture that is ready, moved and stretched along with the camera.
"""

import math
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QImage, QPainter

from jontel.app.cloth.camera import Camera
from jontel.app.cloth.connections import paint_connections
from jontel.app.cloth.foresight import paint_forecast
from jontel.app.cloth.ink import ink_of, ink_until, paint_ink
from jontel.app.cloth.markers import paint_plan
from jontel.app.forecasting import Seen
from jontel.app.planner import Sewn
from jontel.app.theme import Theme
from jontel.design import Design, Thread
from jontel.design.stopping import go_on
from jontel.design.store import Store, weighed_by
from jontel.sewing.plan import Piece

MARGIN = 160
"""How much more than the window is painted, px, so that panning shows no edge at once."""
ROOM = 80_000_000
BROADEST = 1.0
"""Thread reaches no farther than this beyond its needle points, mm."""
FORMAT = QImage.Format.Format_ARGB32_Premultiplied
weighed_by(QImage, lambda image: int(image.sizeInBytes()))


@dataclass(frozen=True, eq=False)
class Wish:
    """What a scene shall show: ``size`` is the window's, ``design`` what the Plan view draws."""

    sewn: Sewn
    design: Design
    view: str
    camera: Camera
    size: QSize
    density: float
    playhead: int | None
    connections: bool
    theme: Theme
    forecast: Seen | None = None

    def same_things(self, other: "Wish") -> bool:
        """Whether another wish is for the same picture, seen by any camera."""
        return (
            self.sewn.plan is other.sewn.plan
            and self.forecast is other.forecast
            and (self.view not in ("plan", "forecast") or self.design is other.design)
            and self.view == other.view
            and self.playhead == other.playhead
            and self.connections == other.connections
            and self.theme is other.theme
            and self.size == other.size
            and self.density == other.density
        )


@dataclass(frozen=True, eq=False)
class Scene:
    """A painted wish."""

    wish: Wish
    image: QImage


class Painter:
    """Paints scenes, in one thread at a time, and keeps the pictures of single objects."""

    def __init__(self) -> None:
        self._kept = Store(ROOM)

    def clear(self) -> None:
        """Let go of every picture."""
        self._kept.clear()

    def paint(self, wish: Wish) -> Scene:
        """The scene of a wish."""
        camera, density = wish.camera.panned(MARGIN, MARGIN), wish.density
        wide, tall = wish.size.width() + 2 * MARGIN, wish.size.height() + 2 * MARGIN
        image = QImage(round(wide * density), round(tall * density), FORMAT)
        image.setDevicePixelRatio(density)
        image.fill(Qt.GlobalColor.transparent)
        painter = QPainter(image)
        try:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            if wish.view == "plan":
                paint_plan(painter, wish.design, wish.sewn, camera, wish.theme)
            else:
                self._stitches(painter, wish, camera, QRect(0, 0, wide, tall))
            if wish.forecast is not None:
                paint_forecast(painter, wish.design, wish.forecast, camera, wish.theme)
            if wish.connections or wish.view == "thread":
                painter.setRenderHint(QPainter.RenderHint.Antialiasing)
                paint_connections(painter, wish.sewn, camera, wish.theme, wish.playhead)
        finally:
            painter.end()
        return Scene(wish, image)

    def _stitches(self, painter: QPainter, wish: Wish, camera: Camera, room: QRect) -> None:
        plan = wish.sewn.plan
        last, upto = len(plan.pieces) - 1, -1
        if wish.playhead is not None and plan.pieces:
            last, upto = plan.where(wish.playhead)
        for number, piece in enumerate(plan.pieces[: last + 1]):
            go_on()
            box = _box_of(piece, camera)
            if box is None or not box.intersects(room):
                continue
            box = box.intersected(room.adjusted(-MARGIN, -MARGIN, MARGIN, MARGIN))
            thread = plan.threads[piece.thread]
            until = upto if wish.playhead is not None and number == last else None
            painter.drawImage(box.topLeft(), self._picture(piece, thread, wish, camera, box, until))

    def _picture(
        self, piece: Piece, thread: Thread, wish: Wish, camera: Camera, box: QRect, until: int | None
    ) -> QImage:
        """One object's picture, of which ``box`` (pixels) is seen; a whole pixel's panning leaves it as it is."""
        x, y = camera.x - box.x(), camera.y - box.y()
        token = piece.notes.setdefault("picture", object())  # stands for the piece, which it does not keep alive
        place = (camera.scale, round(x, 6), round(y, 6), box.width(), box.height(), wish.density)
        key = (token, thread, wish.view, place)
        if until is None:
            found, known = self._kept.find(key)
            if known:
                image: QImage = found
                return image
        image = QImage(round(box.width() * wish.density), round(box.height() * wish.density), FORMAT)
        image.setDevicePixelRatio(wish.density)
        image.fill(Qt.GlobalColor.transparent)
        here = Camera(camera.scale, x, y)
        visible = QRectF(here.to_cloth(QPointF(0, 0)), here.to_cloth(QPointF(box.width(), box.height())))
        painter = QPainter(image)
        try:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setTransform(here.transform())
            ink = ink_of(piece) if until is None else ink_until(piece, until)
            paint_ink(painter, ink, thread, "cloth" if wish.view == "forecast" else wish.view, visible, camera.scale)
        finally:
            painter.end()
        if until is None:
            self._kept.keep(key, image)
        return image


def _box_of(piece: Piece, camera: Camera) -> QRect | None:
    """The pixels that a piece's thread may touch."""
    bounds = piece.bounds
    if bounds is None:
        return None
    low = camera.to_screen(bounds[0] - BROADEST, bounds[1] - BROADEST)
    high = camera.to_screen(bounds[2] + BROADEST, bounds[3] + BROADEST)
    left, top = math.floor(low.x()) - 2, math.floor(low.y()) - 2
    return QRect(left, top, math.ceil(high.x()) + 2 - left, math.ceil(high.y()) + 2 - top)
