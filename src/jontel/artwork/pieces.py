"""What an SVG paints, piece by piece, and how pieces are clipped, masked and seen through."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from jontel.artwork.drawing import RGB, Drawn, Shade
from jontel.design.errors import CannotStitch
from jontel.design.lettering import Lettering
from jontel.design.paths import Matrix, inverted
from jontel.design.shapes import Area, FillRule
from jontel.geometry.combining import drawn_again, fine_region
from jontel.geometry.polyline import FINE, flatten, moved
from jontel.geometry.region import Region, path_of, polygons_of

Cap = Literal["butt", "round", "square"]
Join = Literal["miter", "round", "bevel"]
HARDLY_SEEN = 0.04
"""What is less opaque is not seen."""
LOST = 0.02
"""A stroke that loses no more than this part of itself to a clip stays a line."""
LIGHT = 0.5
"""A mask shows what it is lighter over."""
ON_RIM = 0.05
"""What is no farther out of a region, mm, lies on its rim."""
FEW = 60
"""A straight outline of no more points than this is left as it is cut; others are drawn again."""
BARELY = 0.01
"""Less cloth, mm2, is nothing."""
STEPS = 24
"""Steps of a quarter turn where a stroke is drawn round."""


@dataclass(frozen=True)
class Piece:
    """A path filled, or stroked ``width`` mm wide, or words. ``alpha`` is how opaque it is, 0 to 1.

    Pieces with one of their ``veils`` in common are seen through together: what is on top of them hides the others.
    """

    path: str
    colour: RGB
    alpha: float
    rule: FillRule = "nonzero"
    width: float | None = None
    cap: Cap = "butt"
    join: Join = "miter"
    mitre: float = 4.0
    name: str = ""
    words: Lettering | None = None
    shade: Shade | None = None
    veils: tuple[tuple[str, ...], ...] = ()

    def region(self) -> Region:
        """The cloth that it paints."""
        if self.words is not None:
            return Region()
        if self.width is None:
            return fine_region(Area(self.path, self.rule))
        return stroked(self.path, self.width, self.cap, self.join, self.mitre)


def stroked(path: str, width: float, cap: Cap, join: Join, mitre: float, pen: Matrix | None = None) -> Region:
    """What a stroke along a path paints: ``width`` wide, or so wide before ``pen`` makes it what it is."""
    back = None if pen is None else inverted(pen)
    lines: list[BaseGeometry] = []
    for line in flatten(path, FINE):
        xy = line.xy if back is None else moved(line.xy, back)
        if line.closed and len(xy) >= 3:
            lines.append(shapely.LinearRing(xy))
        elif len(xy) >= 2:
            lines.append(shapely.LineString(xy))
    style = {"butt": "flat", "round": "round", "square": "square"}[cap]
    corner = {"miter": "mitre", "round": "round", "bevel": "bevel"}[join]
    drawn = shapely.buffer(lines, width / 2, quad_segs=STEPS, cap_style=style, join_style=corner, mitre_limit=mitre)  # type: ignore[call-overload]
    whole = shapely.unary_union(drawn)
    return polygons_of(whole if pen is None else shapely.transform(whole, lambda xy: moved(xy, pen)))


def bounds_of(pieces: Iterable[Piece]) -> tuple[float, float, float, float] | None:
    """The box round the paths of pieces, without the widths of strokes; ``None`` of nothing."""
    boxes = [line.xy for piece in pieces for line in flatten(piece.path)]
    if not boxes:
        return None
    every = np.vstack(boxes)
    (left, top), (right, bottom) = every.min(axis=0).tolist(), every.max(axis=0).tolist()
    return left, top, right, bottom


def clipped(pieces: Iterable[Piece], to: BaseGeometry, by_middle: bool = False) -> list[Piece]:
    """What of pieces lies in a region; what lies in it whole stays as it is. Words stay where their foot is inside.

    ``by_middle`` leaves strokes whole whose middle lies in it.
    """
    shapely.prepare(to)
    return [one for piece in pieces for one in _clipped(piece, to, by_middle)]


def _clipped(piece: Piece, to: BaseGeometry, by_middle: bool) -> list[Piece]:
    if piece.words is not None:
        at = shapely.Point(piece.words.place[4:])
        return [piece] if to.intersects(at) or piece.words.course == "along a line" else []
    box = bounds_of([piece])
    if box is None:
        return []
    rim = shapely.box(*box) if piece.width is None else shapely.box(*box).buffer(piece.width * piece.mitre)
    if to.covers(rim):
        return [piece]
    if not to.intersects(rim):
        return []
    try:
        own = piece.region()
    except CannotStitch:  # a tangle; it is told of later
        return [piece]
    if to.covers(own):
        return [piece]
    if by_middle and piece.width is not None and _middle_in(piece.path, to):
        return [piece]
    left = polygons_of(shapely.intersection(own, to))
    if left.area < BARELY:
        return []
    if left.area >= own.area * (1 - LOST if piece.width is not None else 1 - 1e-6):
        return [piece]
    straight = piece.width is None and not {"C", "Q"} & set(piece.path)
    path = path_of(left) if straight and len(shapely.get_coordinates(left)) < FEW else drawn_again(left)
    return [replace(piece, path=path, rule="nonzero", width=None)]


def _middle_in(path: str, to: BaseGeometry) -> bool:
    """Whether a line lies in a region, or on its rim."""
    return bool(all(shapely.dwithin(to, shapely.points(line.xy), ON_RIM).all() for line in flatten(path)))


def lit(pieces: Iterable[Piece], by_alpha: bool) -> Region:
    """Where a mask that is painted so lets be seen what is under it."""
    shown: BaseGeometry = Region()
    for piece in pieces:
        red, green, blue = piece.colour
        light = 1.0 if by_alpha else (0.2126 * red + 0.7152 * green + 0.0722 * blue) / 255
        try:
            region = piece.region()
        except CannotStitch:
            continue
        if light * piece.alpha > LIGHT:
            shown = shapely.union(shown, region)
        elif not by_alpha and piece.alpha > LIGHT:
            shown = shapely.difference(shown, region)
    return polygons_of(shown)


def faded(pieces: Iterable[Piece], opacity: float) -> list[Piece]:
    """Pieces in a group that is so opaque; none where it is hardly seen."""
    if opacity <= HARDLY_SEEN:
        return []
    some = list(pieces)
    if opacity >= 1:
        return some
    veils = (tuple(piece.path for piece in some),) if len(some) > 1 else ()
    return [replace(piece, alpha=piece.alpha * opacity, veils=piece.veils + veils) for piece in some]


def drawn_from(pieces: list[Piece]) -> list[Drawn]:
    """Opaque pieces as they are digitized: a stroke along the outline that was just filled goes with it."""
    found: list[Drawn] = []
    for piece in pieces:
        colour = piece.colour
        if piece.words is not None:
            found.append(Drawn("", "", "nonzero", colour, None, 0.0, words=piece.words))
            continue
        if piece.width is None:
            found.append(Drawn(piece.name, piece.path, piece.rule, colour, None, 0.0, shade=piece.shade))
            continue
        ends: Literal["round", "flat"] = "round" if piece.cap == "round" else "flat"
        before = found[-1] if found else None
        if (
            before
            and before.stroke is None
            and before.fill
            and (before.path, before.name) == (piece.path, piece.name)
        ):
            found[-1] = replace(before, stroke=colour, stroke_width=piece.width, ends=ends)
            continue
        found.append(Drawn(piece.name, piece.path, "nonzero", None, colour, piece.width, ends))
    return found
