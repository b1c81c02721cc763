"""Strokes as a person corrects them: cut across, merged, and sewn in another order.

A cut is a slit in the shape, so that both of its sides are decomposed on their own. The side whose stroke ends there
is the lower one: it is carried on over the slit, and so reaches under the other as at any junction. Where a slit only
opens a ring, the two ends of one stroke meet at it.
"""

import math
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np
import shapely
from shapely import LineString, Polygon
from shapely.geometry.base import BaseGeometry

from jontel.design.shapes import Corrections, Lines, Places, Point
from jontel.design.store import kept
from jontel.geometry.decompose import UNDER, Joint, Stroke, Strokes, decomposed, judged
from jontel.geometry.polyline import Floats, lengths
from jontel.geometry.region import largest, polygons_of

SLIT = 0.004
"""A cut is a slit so many mm wide to both sides."""
THROUGH = 0.02
"""It goes so far, mm, through the rim."""
OVERSHOOT = 3.0
"""A cut line that ends inside the shape goes on to the rim if that is no farther than this, mm."""
LEAST_CROSSING, AT_RIM = 0.1, 0.03
"""A crossing is at least so long, mm, and its ends are so near to the rim."""
NO_PIECE = 0.05
"""What a cut leaves over is no piece of its own if it is smaller than this, mm2."""
AT_END = 0.75
"""A stroke ends at a slit if its end is no farther from the middle of it than this part of its length."""
ON_CLOTH = 1.0
"""A place is on a part of the shape if it is no farther from it than this, mm."""
MERGED_AT = 1.5
"""Places that say two strokes are one lie so many widths off where those meet, or half way along a short one."""


class Slit(NamedTuple):
    """One crossing of a cut line and the shape, by its two ends, (2, 2)."""

    ends: Floats

    @property
    def middle(self) -> Floats:
        """Its middle, (2,)."""
        return np.asarray(self.ends.mean(axis=0))

    @property
    def size(self) -> float:
        """Its length, mm."""
        return float(np.hypot(*(self.ends[1] - self.ends[0])))

    def band(self, half: float) -> BaseGeometry:
        """The cloth up to so far beside it, and a little beyond its ends, which are corners of the rim at times."""
        beyond = THROUGH / self.size * (self.ends[1] - self.ends[0])
        return LineString([self.ends[0] - beyond, self.ends[1] + beyond]).buffer(half, cap_style="flat")


@dataclass(frozen=True, eq=False)
class _Piece:
    """What cuts leave of a shape, and its strokes."""

    cloth: Polygon
    strokes: Strokes


@kept
def corrected(shape: Polygon, columns: Corrections) -> Strokes:
    """The strokes of a polygon with holes, mm, with what a person says of them."""
    slits = [slit for line in columns.cuts for slit in slits_of(shape, line)]
    found = _cut(shape, slits, columns.merges) if slits else decomposed(shape, columns.merges)
    return replace(found, order=_ordered(found, shape, columns.order))


def slits_of(shape: Polygon, line: tuple[Point, Point]) -> list[Slit]:
    """Where a cut line crosses a shape; its ends are carried on to the rim where that is near."""
    start, stop = np.array(line[0]), np.array(line[1])
    size = math.dist(start, stop)
    if size < 1e-6:
        return []
    ahead = (stop - start) / size
    ends = []
    for end, way in ((start, -ahead), (stop, ahead)):
        reached = LineString([end, end + OVERSHOOT * way])
        rim = shapely.get_coordinates(reached.intersection(shape.boundary))
        inside = bool(shapely.contains_xy(shape, *end))
        ends.append(end + way * (float(((rim - end) @ way).min()) + 0.01) if inside and len(rim) else end)
    crossed = shapely.intersection(LineString(ends), shape)
    found = []
    for one in shapely.get_parts(crossed):
        if one.length < LEAST_CROSSING:
            continue
        xy = shapely.get_coordinates(one)[[0, -1]]
        if float(shapely.distance(shapely.points(xy), shape.boundary).max()) < AT_RIM:
            found.append(Slit(xy))
    return found


def _cut(shape: Polygon, slits: list[Slit], merges: Lines) -> Strokes:
    """The strokes on all sides of the slits, those below reaching under those above them."""
    rest = shape.difference(shapely.unary_union([slit.band(SLIT) for slit in slits]))
    pieces = [_Piece(one, decomposed(one, merges)) for one in polygons_of(rest).geoms if one.area > NO_PIECE]
    sides = [_sides(slit, pieces) for slit in slits]
    grown = [piece.cloth for piece in pieces]
    for slit, side in zip(slits, sides, strict=True):
        if side is not None:
            lower, upper = side
            under = slit.band(UNDER).intersection(pieces[upper].cloth)
            grown[lower] = largest(polygons_of(shapely.unary_union([grown[lower], slit.band(3 * SLIT), under])))
    whole = [
        _Piece(cloth, piece.strokes if cloth is piece.cloth else decomposed(cloth, merges))
        for cloth, piece in zip(grown, pieces, strict=True)
    ]
    strokes: list[Stroke] = []
    joints: list[Joint] = []
    first: list[int] = []
    for piece in whole:
        base = len(strokes)
        first.append(base)
        strokes += piece.strokes.strokes
        joints += [replace(one, one=one.one + base, other=one.other + base, over=one.over + base)
                   for one in piece.strokes.joints]  # fmt: skip
    for slit, side in zip(slits, sides, strict=True):
        for number in range(len(strokes)):
            strokes[number] = _held_at(strokes[number], slit)
        if side is None:
            continue
        below, above = (nearest_stroke(whole[k].strokes, slit.middle) + first[k] for k in side)
        places = tuple(_place_near(strokes[k], slit.middle) for k in (below, above))
        joints.append(Joint(below, above, (places[0], places[1]), above))
    return judged(tuple(strokes), tuple(joints), shape)


def _sides(slit: Slit, pieces: list[_Piece]) -> tuple[int, int] | None:
    """The numbers of the lower and the upper piece at a slit; ``None`` where one piece lies on both of its sides."""
    near = [k for k, piece in enumerate(pieces) if slit.band(3 * SLIT).intersection(piece.cloth).length > slit.size]
    if len(near) < 2:
        return None
    ends = [_ends_at(pieces[k].strokes, slit) for k in near]
    order = sorted(range(len(near)), key=lambda k: (not ends[k], pieces[near[k]].cloth.area))
    return near[order[0]], near[order[1]]


def _ends_at(strokes: Strokes, slit: Slit) -> bool:
    """Whether a stroke ends at a slit, rather than passing along it."""
    ends = np.array([one.rails.middle[end] for one in strokes.strokes if not one.rails.closed for end in (0, -1)])
    return bool(len(ends)) and float(np.hypot(*(ends - slit.middle).T).min()) < AT_END * slit.size


def _held_at(stroke: Stroke, slit: Slit) -> Stroke:
    """A stroke whose ends at a slit are not drawn back: another column, or its own other end, meets them there."""
    if stroke.rails.closed:
        return stroke
    near = [bool(np.hypot(*(stroke.rails.middle[end] - slit.middle)) < AT_END * slit.size) for end in (0, -1)]
    return replace(stroke, under=(stroke.under[0] or near[0], stroke.under[1] or near[1]))


def nearest_stroke(strokes: Strokes, place: Floats) -> int:
    """The number of the stroke whose axis is nearest to a place."""
    return int(np.argmin([float(np.hypot(*(one.rails.middle - place).T).min()) for one in strokes.strokes]))


def _place_near(stroke: Stroke, place: Floats) -> Point:
    x, y = stroke.rails.middle[stroke.rails.nearest(place)]
    return float(x), float(y)


def _ordered(found: Strokes, shape: Polygon, order: Places) -> tuple[int, ...]:
    """The numbers of strokes in the order of places on them, then those that nobody named."""
    named: list[int] = []
    for place in order:
        if not found.strokes or shape.distance(shapely.Point(place)) > ON_CLOTH:
            continue
        number = nearest_stroke(found, np.array(place))
        if number not in named:
            named.append(number)
    return (*named, *(k for k in range(len(found.strokes)) if k not in named)) if named else ()


def merge_of(found: Strokes, one: int, other: int) -> tuple[Point, Point] | None:
    """The two places that say that strokes ``one`` and ``other`` are one; ``None`` where they meet nowhere."""
    for joint in found.joints:
        if {joint.one, joint.other} == {one, other}:
            here = _along(found.strokes[joint.one], joint.places[0])
            there = _along(found.strokes[joint.other], joint.places[1])
            return here, there
    return None


def _along(stroke: Stroke, at: Point) -> Point:
    """A place on the axis of a stroke some way off the place where it meets another, on its longer side."""
    rails = stroke.rails
    along = lengths(rails.middle)
    here = float(along[rails.nearest(np.array(at))])
    longer = float(along[-1]) - here if float(along[-1]) - here > here else -here
    far = min(MERGED_AT * float(np.median(rails.widths())), abs(longer) / 2)
    k = int(np.searchsorted(along, here + math.copysign(far, longer)))
    x, y = rails.middle[min(k, len(along) - 1)]
    return round(float(x), 3), round(float(y), 3)
