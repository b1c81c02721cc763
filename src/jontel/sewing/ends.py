"""Where each object is entered and left, when the user has not pinned it: near ends are joined, over all of a thread.

Ends depend on shapes only, never on stitches, so that tuning one object restitches that one alone.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby
from operator import attrgetter
from typing import NamedTuple

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
import shapely
from shapely.geometry.base import BaseGeometry

from jontel.design.design import Design, StitchObject
from jontel.design.errors import CannotStitch
from jontel.design.home import homed
from jontel.design.kinds import traits_of
from jontel.design.paths import DECIMALS
from jontel.design.shapes import Area, Column, Line, Point, Shape
from jontel.design.store import kept
from jontel.geometry.polyline import Floats, at_lengths, flatten, lengths
from jontel.geometry.region import Region, polygons_of
from jontel.stitching.covers.fill import region_for
from jontel.stitching.covers.satin import columns_of

Neighbour = StitchObject | None
Way = Point | int | None
"""Which of two ends comes first, or where a closed line is entered; ``None`` is what is nearest."""
LIKELY_CUT = 1.0
"""Jumps longer than this, mm, are likely to be cut."""
NEITHER = 0.05
"""Corners that are about as near, mm, as each other."""


@dataclass(frozen=True)
class EntryExit:
    """The two ends that an object is stitched for; ``None`` leaves it to the object."""

    entry: Point | None = None
    exit: Point | None = None


Landing = tuple[Floats, bool]


def _laid(found: Landing, at: Point) -> Landing:
    return found[0] + np.array(at), found[1]


@homed(_laid)
def landing(shape: Shape, filled: bool) -> Landing:
    """The places (n, 2) where a shape can be entered, and whether they are the two ends of a line."""
    match shape:
        case Area(path=path) | Line(path=path):
            lines = flatten(path)
        case Column(edge=edge, other_edge=other):
            lines = (*flatten(edge), *flatten(other))
            if not filled and lines and not lines[0].closed:
                first, last = lines[0].xy, lines[-1].xy
                return np.array([(first[0] + last[0]) / 2, (first[-1] + last[-1]) / 2]), True
    if not lines:
        return np.zeros((1, 2)), False
    if not filled and not lines[0].closed:
        return np.array([lines[0].xy[0], lines[-1].xy[-1]]), True
    loops = [line.loop() for line in lines]
    dense = [at_lengths(xy, np.arange(0, lengths(xy)[-1], max(0.5, lengths(xy)[-1] / 400))) for xy in loops]
    return np.vstack(dense), False


def choose_ends(design: Design) -> list[EntryExit]:
    """Entry and exit for every object that sews, in sewing order."""
    return [ends for block in blocks_of(design) for ends in ends_in(block)]


def blocks_of(design: Design) -> list[tuple[StitchObject, ...]]:
    """The objects that sew, those that follow each other in one thread together."""
    shown = [item for item in design.objects if not item.hidden]
    return [tuple(block) for _, block in groupby(shown, attrgetter("thread"))]


def ends_in(block: Sequence[StitchObject]) -> list[EntryExit]:
    """Entry and exit for every object of a block of one thread."""
    ways = ways_through(block)
    found: list[EntryExit] = []
    for number, item in enumerate(block):
        after = block[number + 1] if number + 1 < len(block) else None
        came_from = left_at(found[-1]) if found else None
        found.append(ends_of(item, came_from, after, ways[number]))
    return found


def ways_through(block: Sequence[StitchObject]) -> list[Way]:
    """Which end of each line comes first, and where each closed run is entered: few cuts, then short jumps, over all.

    By dynamic programming over the block (R. Bellman, "Dynamic programming", 1957). ``None`` leaves it to what is
    nearest, as everywhere that an object can be entered and left anywhere.
    """
    nothing: list[Way] = [None] * len(block)
    options = [_options(_at(block, number - 1), item, _at(block, number + 1)) for number, item in enumerate(block)]
    if all(len(one) < 2 for one in options):
        return nothing
    best = [(0, 0.0)] * len(options[0])
    back: list[list[int]] = []
    costs = [_costs(*(_at(block, number + k) for k in (-1, 0, 1, 2))) for number in range(len(block) - 1)]
    for cost in costs:
        fresh, came = [], []
        for to in range(len(cost[0])):
            k = min(range(len(cost)), key=lambda one: _plus(best[one], cost[one][to]))
            fresh.append(_plus(best[k], cost[k][to]))
            came.append(k)
        best = fresh
        back.append(came)
    at = min(range(len(best)), key=lambda one: best[one])
    taken = [at]
    for came in reversed(back):
        taken.append(came[taken[-1]])
    taken.reverse()
    return [options[k][n].way for k, n in enumerate(taken)]


def _plus(one: tuple[int, float], other: tuple[int, float]) -> tuple[int, float]:
    return one[0] + other[0], round(one[1] + other[1], DECIMALS)


class _Option(NamedTuple):
    """One way to sew an object: where it may be entered and left, (n, 2) each."""

    way: Way
    entries: Floats
    exits: Floats


@kept
def _options(before: Neighbour, item: StitchObject, after: Neighbour) -> list[_Option]:
    """The ways to sew an object between its neighbours."""
    traits = traits_of(item.cover)
    places, is_line = landing(item.shape, traits.anywhere)
    entry, exit_ = (None if end is None else np.array([end]) for end in (item.ends.entry, item.ends.exit))
    if is_line and entry is None and exit_ is None:
        corners = _corners(item.shape) if traits.rows == "edge to edge" else None
        if corners is not None:  # by the order of its two ends as ``places`` has them
            swapped = np.hypot(*(corners[0].mean(axis=0) - places[0])) > np.hypot(
                *(corners[1].mean(axis=0) - places[0])
            )
            begin, end = corners[::-1] if swapped else corners
        else:
            begin, end = places[:1], places[1:]
        return [_Option(0, begin, end), _Option(1, end, begin)]
    if traits.comes_round and not is_line and entry is None and exit_ is None:
        spots = {}
        for other in (one for one in (before, after) if one is not None):
            to, _ = landing(other.shape, traits_of(other.cover).anywhere)
            for spot in to if len(to) <= 2 else [_nearest(to, places)]:
                near = _nearest(places, spot[None])
                spots[_point(near)] = near[None]
        return [_Option(way, spot, spot) for way, spot in spots.items()] or [_Option(None, places, places)]
    if is_line:  # pinned at an end: it begins or ends there
        known = entry if entry is not None else exit_
        assert known is not None
        end = _least(np.hypot(*(places - known).T))
        first = end if entry is not None else 1 - end
        return [_Option(None, places[[first]], places[[1 - first]])]
    return [_Option(None, places if entry is None else entry, places if exit_ is None else exit_)]


def _at(block: Sequence[StitchObject], number: int) -> Neighbour:
    return block[number] if 0 <= number < len(block) else None


@kept
def _costs(before: Neighbour, one: Neighbour, other: Neighbour, after: Neighbour) -> list[list[tuple[int, float]]]:
    """What each way from one of two objects to the other costs."""
    assert one is not None and other is not None
    hides = _body(other.shape) if traits_of(other.cover).hides else None
    return [[_cost(p, q, hides) for q in _options(one, other, after)] for p in _options(before, one, other)]


def _cost(one: _Option, other: _Option, hides: BaseGeometry | None) -> tuple[int, float]:
    """Whether there is likely to be a cut, and how much of the way shows, mm: not what the next object hides."""
    if len(one.exits) * len(other.entries) <= 64:
        gaps = np.hypot(*(one.exits[:, None] - other.entries[None]).transpose(2, 0, 1))
        i, j = np.unravel_index(_least(gaps), gaps.shape)
        way = np.array([one.exits[i], other.entries[j]])
    else:
        turned = len(one.exits) > len(other.entries)
        few, most = (other.entries, one.exits) if turned else (one.exits, other.entries)
        far, which = scipy.spatial.cKDTree(most).query(few)
        k = _least(far)
        way = np.array([few[k], most[np.atleast_1d(which)[k]]])
    gap = float(np.hypot(*(way[1] - way[0])))
    if gap > LIKELY_CUT and hides is not None:
        ends = shapely.points(way)
        if any(shapely.distance(ends, part).max() <= LIKELY_CUT for part in getattr(hides, "geoms", [hides])):
            gap = 0.0
        else:
            shown = float(shapely.LineString(way).difference(hides).length)
            gap = gap if shown > LIKELY_CUT else shown
    return int(gap > LIKELY_CUT), gap


@kept
def _body(shape: Shape) -> Region:
    """About the cloth that a shape covers."""
    if isinstance(shape, Line):
        middles = [shapely.LineString(one.loop()) for one in flatten(shape.path)]
        return polygons_of(shapely.unary_union(shapely.buffer(middles, shape.width / 2, cap_style="flat")))
    try:
        return region_for(shape)
    except CannotStitch:
        return Region()


def left_at(ends: EntryExit) -> Point | None:
    """About where the needle is after an object, as far as its ends tell."""
    return ends.exit or ends.entry


def ends_of(item: StitchObject, came_from: Point | None, after: StitchObject | None, way: Way = None) -> EntryExit:
    """Entry and exit of one object: as pinned, or nearest to where the needle comes from and to what comes ``after``.

    Both are ``None`` where another thread is before or after. ``way`` says which end of a line comes first, or where
    a closed run is entered.
    """
    entry, exit_ = _ends_of(item, None if came_from is None else np.array(came_from), after, way)
    return EntryExit(item.ends.entry or entry, item.ends.exit or exit_)


@kept
def _corners(shape: Shape) -> Floats | None:
    """The corners of both ends of a column or of a line sewn as one, (2, 2, 2); ``None`` where it has no ends."""
    try:
        columns = columns_of(shape)
    except CannotStitch:
        return None
    if columns[0].closed:
        return None
    return np.array([[columns[0].a[0], columns[0].b[0]], [columns[-1].a[-1], columns[-1].b[-1]]])


def _ends_of(
    item: StitchObject, at: Floats | None, after: StitchObject | None, way: Way
) -> tuple[Point | None, Point | None]:
    places, is_line = landing(item.shape, traits_of(item.cover).anywhere)
    onward = None if after is None else landing(after.shape, traits_of(after.cover).anywhere)[0]
    if is_line:
        if isinstance(way, int):
            first = way
        elif at is not None:
            first = _least(np.hypot(*(places - at).T))
        elif onward is not None:
            first = 1 - _least(np.array([np.hypot(*(onward - p).T).min() for p in places]))
        else:
            first = 0
        corners = _corners(item.shape) if traits_of(item.cover).rows == "edge to edge" else None
        begin, end = places[first], places[1 - first]
        if corners is not None:  # a row ends at an edge: at the one that is nearer to what is before and after
            at_first = _least(np.hypot(*(corners - begin).transpose(2, 0, 1)).min(axis=1))
            begin = begin if at is None else _facing(corners[at_first], at[None], begin)
            end = end if onward is None else _facing(corners[1 - at_first], onward, end)
        return _point(begin), _point(end)
    entry = None if at is None else places[_least(np.hypot(*(places - at).T))]
    if isinstance(way, tuple):
        return way, way
    exit_ = None
    if onward is not None and not traits_of(item.cover).shows_travel(item.cover):
        exit_ = _nearest(places, onward)
    if traits_of(item.cover).comes_round:
        exit_ = None if exit_ is None else entry
    return (None if entry is None else _point(entry)), (None if exit_ is None else _point(exit_))


def _facing(corners: Floats, to: Floats, middle: Floats) -> Floats:
    """The one of two corners (2, 2) that is nearer to any of ``to`` (m, 2), or the middle where neither is."""
    gaps, _ = scipy.spatial.cKDTree(to).query(corners)
    return middle if np.ptp(gaps) < NEITHER else corners[_least(gaps)]


def _nearest(places: Floats, to: Floats) -> Floats:
    """The one of ``places`` (n, 2) nearest to any of ``to`` (m, 2)."""
    gaps, _ = scipy.spatial.cKDTree(to).query(places)
    answer: Floats = places[_least(gaps)]
    return answer


def _least(sizes: Floats | float) -> int:
    """Where the first of the least of ``sizes`` is: rounding, which changes with the place, decides between none."""
    return int(np.argmin(np.round(sizes, DECIMALS)))


def _point(xy: Floats) -> Point:
    return round(float(xy[0]), DECIMALS), round(float(xy[1]), DECIMALS)
