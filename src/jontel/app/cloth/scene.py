"""The scene: stitches, or the plan, as one picture; painted aside, object by object, and kept object by object.

An edit paints the objects that it changed, and lays the pictures over each other again where these were or are. The
interface only ever shows the last picture that is ready, moved and stretched along with the camera.
"""

from dataclasses import dataclass
from functools import reduce

import numpy as np
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
from jontel.geometry.polyline import Floats
from jontel.sewing.plan import Piece, SewPlan
from jontel.sewing.plan.tally import places_in

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

    @property
    def only_stitches(self) -> bool:
        """Whether nothing is seen but whole objects' stitches: an edit changes where they lie, and no more."""
        return self.view == "cloth" and self.playhead is None and self.forecast is None and not self.connections

    def same_window(self, other: "Wish") -> bool:
        """Whether another wish is for what the same camera sees."""
        return (
            self.camera == other.camera
            and self.theme is other.theme
            and self.size == other.size
            and self.density == other.density
        )

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
        self._last: Scene | None = None

    def clear(self) -> None:
        """Let go of every picture."""
        self._kept.clear()
        self._last = None

    def paint(self, wish: Wish) -> Scene:
        """The scene of a wish."""
        scene = (self._changed(self._last, wish) if self._last is not None else None) or self._anew(wish)
        self._last = scene if wish.only_stitches else None
        return scene

    def _changed(self, last: Scene, wish: Wish) -> Scene | None:
        """The last scene with another plan's stitches where that differs; ``None`` where it does not pay."""
        then = last.wish
        if not (wish.only_stitches and wish.same_window(then)):
            return None
        camera = wish.camera.panned(MARGIN, MARGIN)
        room = QRect(0, 0, wish.size.width() + 2 * MARGIN, wish.size.height() + 2 * MARGIN)
        where = _between(then.sewn.plan, wish.sewn.plan, camera, room)
        if where is None or 2 * where.width() * where.height() > room.width() * room.height():
            return None
        image = last.image.copy()
        painter = QPainter(image)
        try:
            painter.setClipRect(where)
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Clear)
            painter.fillRect(where, Qt.GlobalColor.transparent)
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceOver)
            self._stitches(painter, wish, camera, room, where)
        finally:
            painter.end()
        return Scene(wish, image)

    def _anew(self, wish: Wish) -> Scene:
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
                room = QRect(0, 0, wide, tall)
                self._stitches(painter, wish, camera, room, room)
            if wish.forecast is not None:
                paint_forecast(painter, wish.design, wish.forecast, camera, wish.theme)
            if wish.connections or wish.view == "thread":
                painter.setRenderHint(QPainter.RenderHint.Antialiasing)
                paint_connections(painter, wish.sewn, camera, wish.theme, wish.playhead)
        finally:
            painter.end()
        return Scene(wish, image)

    def _stitches(self, painter: QPainter, wish: Wish, camera: Camera, room: QRect, where: QRect) -> None:
        """Lay the pictures of the objects over each other that are seen at a place within ``room``, pixels."""
        plan = wish.sewn.plan
        last, upto = len(plan.pieces) - 1, -1
        if wish.playhead is not None and plan.pieces:
            last, upto = plan.where(wish.playhead)
        boxes = _boxes(plan.tally.boxes[: last + 1], camera)
        ends = np.array([where.left(), where.top(), where.right() + 1, where.bottom() + 1])
        for number in np.flatnonzero((boxes[:, :2] < ends[2:]).all(axis=1) & (boxes[:, 2:] > ends[:2]).all(axis=1)):
            go_on()
            box = _rect(boxes[number]).intersected(room.adjusted(-MARGIN, -MARGIN, MARGIN, MARGIN))
            piece = plan.pieces[number]
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


def _boxes(bounds: Floats, camera: Camera) -> Floats:
    """The pixels that the thread in boxes (n, 4), mm, may touch: left, top, right and low, whole numbers, (n, 4)."""
    low, high = bounds[:, :2] - BROADEST, bounds[:, 2:] + BROADEST
    at = np.array([camera.x, camera.y])
    return np.hstack([np.floor(low * camera.scale + at) - 2, np.ceil(high * camera.scale + at) + 2])


def _rect(box: Floats) -> QRect:
    left, top, right, low = (int(one) for one in box)
    return QRect(left, top, right - left, low - top)


def _between(then: SewPlan, now: SewPlan, camera: Camera, room: QRect) -> QRect | None:
    """The pixels of ``room`` in which two plans may differ; ``None`` where what both have is ordered otherwise."""
    threads = min(len(then.threads), len(now.threads))
    places = places_in(then.pieces, now.pieces)
    shared = places[places >= 0]
    if then.threads[:threads] != now.threads[:threads] or (np.diff(shared) < 0).any():
        return None
    gone, come = np.delete(then.tally.boxes, shared, axis=0), now.tally.boxes[places < 0]
    boxes = _boxes(np.vstack([gone, come]), camera)
    found = (_rect(box) for box in boxes if box[0] < box[2])
    return reduce(QRect.united, found, QRect()).intersected(room)
