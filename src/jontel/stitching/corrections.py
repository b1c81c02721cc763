"""Edits of an area's columns: cut, merged, sewn in another order, or again as they are found."""

import math
from collections.abc import Sequence

from msgspec.structs import replace

from jontel.design.errors import CannotStitch
from jontel.design.kinds.values import MOST_KNOTS
from jontel.design.shapes import UNCORRECTED, Area, Corrections, Lines, Point
from jontel.geometry.correcting import merge_of, slits_of
from jontel.geometry.region import region_of
from jontel.stitching.parts import parts_of

LEAST = 0.5
"""A shorter cut line, mm, was a slip of the hand."""


def with_cut(area: Area, start: Point, stop: Point) -> Area:
    """``area`` cut along a line. Raises ``CannotStitch`` for one that crosses no part of it from rim to rim."""
    region = region_of(Area(area.path, area.rule))
    if math.dist(start, stop) < LEAST or not any(slits_of(part, (start, stop)) for part in region.geoms):
        raise CannotStitch("a cut crosses the shape from rim to rim; drag it all the way across")
    return _with(area, cuts=(*area.columns.cuts, (start, stop)))


def without_cut(area: Area, number: int) -> Area:
    """``area`` without one of its cuts."""
    cuts = area.columns.cuts
    return _with(area, cuts=(*cuts[:number], *cuts[number + 1 :]))


def with_cut_moved(area: Area, number: int, end: int, to: Point) -> Area:
    """``area`` with one end (0 or 1) of a cut elsewhere."""
    cuts = list(area.columns.cuts)
    start, stop = cuts[number]
    cuts[number] = (to, stop) if end == 0 else (start, to)
    return _with(area, cuts=tuple(cuts))


def merged(area: Area, one: tuple[int, int], other: tuple[int, int]) -> Area:
    """``area`` with two columns as one, each told by its part and its number there.

    Where a cut parts them, that is taken away. Raises ``CannotStitch`` where they do not meet.
    """
    found = parts_of(area)
    if one[0] == other[0] and max(one[0], other[0]) < len(found):
        places = merge_of(found[one[0]].strokes, one[1], other[1])
        for number in range(len(area.columns.cuts)):
            without = without_cut(area, number)
            if places is not None and _are_one(without, places):
                return without
        if places is not None:
            return _with(area, merges=(*area.columns.merges, places))
    raise CannotStitch("these two columns do not meet; choose two that do")


def _are_one(area: Area, places: tuple[Point, Point]) -> bool:
    """Whether one column of an area runs over two places."""
    for part in parts_of(area):
        near = [part.nearest(place) for place in places]
        if None not in near and near[0] == near[1]:
            return True
    return False


def sewn_in(area: Area, places: Sequence[Point]) -> Area:
    """``area`` whose columns are sewn in the order of places on them."""
    return _with(area, order=tuple(places[:MOST_KNOTS]))


def as_found(area: Area) -> Area:
    """``area`` with its columns as they are found."""
    return replace(area, columns=UNCORRECTED)


def _with(area: Area, **changed: Lines | tuple[Point, ...]) -> Area:
    columns: Corrections = replace(area.columns, **changed)
    if max(len(columns.cuts), len(columns.merges)) > MOST_KNOTS:
        raise CannotStitch(f"a shape takes {MOST_KNOTS} cuts and merges; take one away first")
    return replace(area, columns=columns)
