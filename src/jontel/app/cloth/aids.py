"""Aids for the hand: the grid, the guides, and what a dragged place snaps to."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import TYPE_CHECKING

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF

from jontel.app.cloth.camera import Camera
from jontel.app.cloth.pictures import artwork_image, colours_of
from jontel.app.cloth.rulers import THICK
from jontel.app.drawing import pen
from jontel.app.theme import Theme
from jontel.design import Artwork, CannotRead
from jontel.design.paths import transform_path
from jontel.design.shapes import Shape
from jontel.geometry.nodes import Chains, chains_of
from jontel.geometry.snapping import Picture, Snap, Targets, Tracks, snapped
from jontel.shaping.outlines import chains_in

if TYPE_CHECKING:
    from jontel.app.session import Document

REACH = 8.0
CLOSEST = 6.0
"""Lines of the grid are never nearer to each other on the screen than so many pixels."""
WORDS = {
    "node": "on a node",
    "outline": "on an outline",
    "guide": "on a guide",
    "grid": "on the grid",
    "artwork": "on the artwork",
}


@lru_cache(maxsize=4096)
def _chains(shape: Shape) -> Chains:
    return chains_in(shape)


@lru_cache(maxsize=4)
def _paths_of(data: bytes, name: str) -> tuple[tuple[str, ...], float, float]:
    """The lines of a drawing as path data, and its size, mm; none where it cannot be read."""
    from jontel.artwork.svg.reader import read_svg  # only a drawing on the cloth needs it

    try:
        drawing = read_svg(data, name)
    except CannotRead:
        return (), 1.0, 1.0
    return tuple(one.path for one in drawing.shapes if one.path), drawing.width, drawing.height


def _drawn(one: Artwork) -> list[Chains]:
    """The lines of artwork that is a drawing, where they lie on the cloth."""
    paths, width, height = _paths_of(one.data, one.name)
    place = (one.width / width, 0.0, 0.0, one.height / height, one.x, one.y)
    return [chains_of(transform_path(path, place)) for path in paths]


NOTHING = Tracks.of(())


@dataclass(frozen=True)
class _Seen:
    """What can be snapped to: outlines by the object that they are of, and of ``artwork`` the lines of drawings and
    what pictures show."""

    outlines: Tracks = NOTHING
    artwork: tuple[Artwork, ...] = ()
    drawings: Tracks = NOTHING
    pictures: tuple[Picture, ...] = ()


class Aids:
    """What helps the hand on one cloth: the ``grid`` (mm, 0: none) and whether anything is snapped to at all.

    ``seen`` is what was read aside last.
    """

    def __init__(self) -> None:
        self.grid = 0.0
        self.snaps = True
        self.snap: Snap | None = None
        self.seen = _Seen()
        self._asked: tuple[object, object] = (None, None)

    def follow(self, document: Document) -> None:
        """Have the outlines that can be snapped to read aside, where they are not known."""
        design = document.history.design
        if self._asked[0] is design.objects and self._asked[1] is design.artwork:
            return
        self._asked = (design.objects, design.artwork)
        before, artwork = self.seen, design.artwork
        same = before.artwork is artwork
        seen = [] if same else [(one, artwork_image(one)) for one in artwork if one.visible]

        def read() -> _Seen:
            outlines = Tracks.of((item.id, _chains(item.shape)) for item in design.objects if not item.hidden)
            if same:
                return replace(before, outlines=outlines)
            drawn = {number: _drawn(one) for number, (one, _) in enumerate(seen) if one.media == "svg"}
            pictures = tuple(
                Picture(colours_of(image), _box(one))
                for number, (one, image) in enumerate(seen)
                if not drawn.get(number) and not image.isNull()
            )
            drawings = Tracks.of((0, one) for some in drawn.values() for one in some)
            return _Seen(outlines, artwork, drawings, pictures)

        def take(found: _Seen) -> None:
            self.seen = found

        document.ask(read, take)

    def snapped(
        self, document: Document, place: tuple[float, float], scale: float, within: Chains | None, shown: bool
    ) -> Snap | None:
        """Where a place snaps to. ``within`` are outlines in the place of those of the selected objects."""
        self.follow(document)
        design, reach, seen = document.history.design, REACH / scale, self.seen
        chosen = document.selection if within is not None else frozenset()
        outlines = seen.outlines.near(place, reach, chosen)
        if within:
            outlines.append(within)
        boxes = [_box(one) for one in design.artwork if one.visible and shown]
        targets = Targets(
            outlines, [g.at for g in design.guides if g.upright], [g.at for g in design.guides if not g.upright],
            self.grid, design.zero, boxes, seen.pictures if shown else (),
            seen.drawings.near(place, reach) if shown else (),
        )  # fmt: skip
        return snapped(place, reach, targets)


def _box(one: Artwork) -> tuple[float, float, float, float]:
    return one.x, one.y, one.x + one.width, one.y + one.height


def paint_grid(painter: QPainter, camera: Camera, size: QRectF, theme: Theme, step: float, zero: QPointF) -> None:
    """Thin lines of the grid, every tenth a little stronger; coarser where they would be too near."""
    if step <= 0:
        return
    while step * camera.scale < CLOSEST:
        step *= 10
    lines: tuple[list[QLineF], list[QLineF]] = ([], [])
    top, low = camera.to_cloth(size.topLeft()), camera.to_cloth(size.bottomRight())
    for k in range(int((top.x() - zero.x()) // step), int((low.x() - zero.x()) // step) + 1):
        x = camera.to_screen(zero.x() + k * step, 0).x()
        lines[k % 10 == 0].append(QLineF(x, size.top(), x, size.bottom()))
    for k in range(int((top.y() - zero.y()) // step), int((low.y() - zero.y()) // step) + 1):
        y = camera.to_screen(0, zero.y() + k * step).y()
        lines[k % 10 == 0].append(QLineF(size.left(), y, size.right(), y))
    for some, strong in zip(lines, (38, 84), strict=True):
        painter.setPen(pen(theme.colour("accent", strong), 1.0))
        painter.drawLines(some)


def paint_guides(
    painter: QPainter, camera: Camera, size: QRectF, theme: Theme, guides: list[tuple[bool, float]]
) -> None:
    """Guides across the whole cloth, with a mark in the ruler that they are dragged by."""
    for upright, at in guides:
        line, mark = guide_on_screen(camera, size, upright, at)
        painter.setPen(pen(theme.colour("accent", 190), 1.0, (7, 4)))
        painter.drawLine(line)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("accent"))
        off = (QPointF(-5, -7), QPointF(5, -7)) if upright else (QPointF(-7, -5), QPointF(-7, 5))
        painter.drawPolygon(QPolygonF([mark, mark + off[0], mark + off[1]]))


def guide_on_screen(camera: Camera, size: QRectF, upright: bool, at: float) -> tuple[QLineF, QPointF]:
    """The line of a guide on the screen, and where its mark in the ruler points."""
    if upright:
        x = camera.to_screen(at, 0).x()
        return QLineF(x, THICK, x, size.bottom()), QPointF(x, THICK)
    y = camera.to_screen(0, at).y()
    return QLineF(THICK, y, size.right(), y), QPointF(THICK, y)


def paint_snap(painter: QPainter, camera: Camera, theme: Theme, snap: Snap) -> None:
    """A cross where something snapped, and what to."""
    spot = camera.to_screen(*snap.place)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for colour, wide in (("surface", 4.0), ("accent", 1.6)):
        painter.setPen(pen(theme.colour(colour), wide))
        painter.drawLine(QLineF(spot + QPointF(-6, -6), spot + QPointF(6, 6)))
        painter.drawLine(QLineF(spot + QPointF(-6, 6), spot + QPointF(6, -6)))
    words = WORDS[snap.sort]
    box = painter.fontMetrics().boundingRect(words).adjusted(-4, -2, 4, 2)
    box.moveTo(int(spot.x()) + 12, int(spot.y()) + 10)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colour("surface", 225))
    painter.drawRoundedRect(QRectF(box), 4, 4)
    painter.setPen(theme.colour("ink"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
