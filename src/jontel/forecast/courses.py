"""Lines with corners whose edges are solved: their course is moved and their width changed, so that corners stay.

A line without a corner is one column, whose two edges are moved. One with corners is sewn in legs that are cut where
they meet; what is moved then is the line, across itself at places along it, by what both of its edges miss, and its
width there by the difference. A corner moves so that both of its legs do, an open end along the line too.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely
from msgspec.structs import replace

from jontel.design.errors import CannotStitch
from jontel.design.paths import polyline_path
from jontel.design.shapes import Line
from jontel.forecast.forecast import Forecast
from jontel.geometry.columns import Rails, all_covered
from jontel.geometry.polyline import FINE, Floats, at_lengths, flatten, lengths, start_at, turns
from jontel.geometry.strokes import legs_of, scales_of

APART = 0.35
"""The course has a place every so many mm, so that none of its bends is taken for a corner."""
FULL = 0.9
"""Rows at least this part of what the line is wide there are whole; shorter ones are cut at a corner."""
MOST_PLACES = 180
"""The width is told at so many places at most."""
BEND, ON_RIM = 0.3, 0.06
"""Legs meet where a line turns by more than the first, radians; what is so near to the rim, mm, is on it."""
EVENED = 1.5
"""What is missed is evened over about so many mm."""


@dataclass(frozen=True, eq=False)
class Course:
    """A line as drawn: its middle (n, 2), the mm along it (n,), half its width at each place (n,), and its legs.

    ``corners`` are the numbers of the places at which legs meet, first and last those at which the line ends.
    ``whole`` says which of each leg's rows are not cut, as parts of the leg, ``at`` where on the line they stand, mm.
    """

    line: Line
    middle: Floats
    along: Floats
    half: Floats
    closed: bool
    legs: tuple[Rails, ...]
    corners: tuple[int, ...]
    whole: tuple[Floats, ...]
    at: tuple[Floats, ...]


def course_of(line: Line) -> Course | None:
    """The course of a line with corners; ``None`` for one without, or that is no single line.

    Raises ``CannotStitch``.
    """
    legs = legs_of(line)
    drawn = flatten(line.path, FINE)
    if len(legs) < 2 or len(drawn) != 1 or line.beside:
        return None
    path = drawn[0]
    if path.closed:
        sharp = np.flatnonzero(path.corner)
        first = sharp[np.argmin(np.hypot(*(path.xy[sharp] - legs[0].middle[0]).T))]
        path = start_at(path, float(lengths(path.xy)[first]))
    middle = shapely.get_coordinates(shapely.segmentize(shapely.LineString(path.loop()), APART))
    along = lengths(middle)
    half = line.width / 2 * scales_of(line, along / along[-1], path.closed)
    bends = np.array([0, *np.flatnonzero(np.abs(turns(middle, False)) > BEND), len(middle) - 1])
    corners = [
        0,
        *(int(bends[np.argmin(np.hypot(*(middle[bends] - leg.middle[0]).T))]) for leg in legs[1:]),
        len(middle) - 1,
    ]
    whole, at = [], []
    for number, leg in enumerate(legs):
        low, high = corners[number], corners[number + 1]
        if high - low < 2:
            return None
        way = shapely.LineString(middle[low : high + 1])
        place = along[low] + np.asarray(shapely.line_locate_point(way, shapely.points(leg.middle)))
        rows = np.flatnonzero(leg.widths() >= FULL * 2 * np.interp(place, along, half))
        if len(rows) < 2:
            return None
        whole.append(rows.astype(np.float64) / max(len(leg.a) - 1, 1))
        at.append(place[rows])
    return Course(line, middle, along, half, path.closed, tuple(legs), tuple(corners), tuple(whole), tuple(at))


def rims_of(course: Course) -> list[Floats]:
    """The edges of a line's legs where its rows are not cut and no other leg covers them, (n, 2) each."""
    rim = all_covered(course.legs).boundary
    found: list[Floats] = []
    for leg, whole in zip(course.legs, course.whole, strict=True):
        rows = np.round(whole * max(len(leg.a) - 1, 1)).astype(np.int64)
        for edge in (leg.a[rows], leg.b[rows]):
            found.append(edge[shapely.dwithin(shapely.points(edge), rim, ON_RIM)])
    return [one for one in found if len(one)]


def moved(course: Course, now: Line, seen: Forecast, number: int) -> tuple[Line, float]:
    """The line that is sewn next instead of ``now``, and how far 95 of 100 places of its edges lie off, mm.

    ``now`` itself, and no end to what is missed, where it is sewn in other legs than the drawn one.
    """
    try:
        legs = legs_of(now)
    except CannotStitch:
        return now, math.inf
    if len(legs) != len(course.legs):
        return now, math.inf
    middle, half = _laid(now, course)
    step, wider, off = np.zeros_like(middle), np.zeros(len(middle)), []
    normals: list[tuple[Floats, float]] = []  # at the first and the last place of each leg: the way across, how far
    for k, own in enumerate(legs):
        drawn, whole, at = course.legs[k], course.whole[k], course.at[k]
        ends = [_at(edge, whole) for edge in (drawn.a, drawn.b)]
        missed = [
            seen.moved_rim(number, _at(edge, whole)) - wanted
            for edge, wanted in zip((own.a, own.b), ends, strict=True)
        ]
        across = ends[1] - ends[0]
        across = across / np.maximum(np.hypot(*across.T), 1e-9)[:, None]
        first, second = ((one * across).sum(axis=1) for one in missed)
        off += [np.abs(first), np.abs(second)]
        places = np.arange(course.corners[k], course.corners[k + 1] + 1)
        along = course.along[places]
        aside, wide = _evened(at, -(first + second) / 2, along), _evened(at, (first - second) / 2, along)
        way = np.column_stack([np.interp(along, at, across[:, axis]) for axis in (0, 1)])
        way = way / np.maximum(np.hypot(*way.T), 1e-9)[:, None]
        step[places[1:-1]] = aside[1:-1, None] * way[1:-1]
        wider[places] = wide
        normals += [(way[0], float(aside[0])), (way[-1], float(aside[-1]))]
        ahead = np.column_stack([-across[:, 1], across[:, 0]])
        for side, end in ((0, 0), (-1, len(legs) - 1)):
            if k == end and not course.closed:
                slip = -np.mean([(one[side] * ahead[side]).sum() for one in missed])
                near = np.exp(-(((along - along[side]) / EVENED) ** 2))
                step[places] += near[:, None] * slip * ahead[side]
                step[places[side]] += aside[side] * way[side]
    meetings = list(zip(normals[1::2], normals[2::2], strict=False))
    for place, (one, other) in zip(course.corners[1:-1], meetings, strict=True):
        step[place] = _corner(one, other)
    if course.closed:
        step[0] = step[-1] = _corner(normals[-1], normals[0])
    return _line(course, middle + step, np.maximum(half + wider, 0.05)), float(np.percentile(np.concatenate(off), 95))


def _corner(one: tuple[Floats, float], other: tuple[Floats, float]) -> Floats:
    """How a corner moves of which each side moves so far across itself, (2,)."""
    ways = np.array([one[0], other[0]])
    if abs(np.linalg.det(ways)) < 0.2:
        return (one[0] * one[1] + other[0] * other[1]) / 2
    return np.asarray(np.linalg.solve(ways, np.array([one[1], other[1]])))


def _at(edge: Floats, parts: Floats) -> Floats:
    """The places of an edge (n, 2) at parts of it (m,), 0 to 1, (m, 2)."""
    number = np.arange(len(edge)) / max(len(edge) - 1, 1)
    return np.column_stack([np.interp(parts, number, edge[:, axis]) for axis in (0, 1)])


def _evened(where: Floats, values: Floats, along: Floats) -> Floats:
    """Values at places ``where`` (m,) of a leg, mm, evened, at places ``along`` (n,) of it, (n,)."""
    weight = np.exp(-(((along[:, None] - where[None, :]) / EVENED) ** 2))
    near = weight.sum(axis=1)
    order = np.argsort(where, kind="stable")
    return np.where(
        near > 1e-6, (weight @ values) / np.maximum(near, 1e-6), np.interp(along, where[order], values[order])
    )


def _laid(now: Line, course: Course) -> tuple[Floats, Floats]:
    """The middle of a line that was moved at the places of the drawn one, (n, 2), and half its width there, (n,)."""
    if now is course.line:
        return course.middle, course.half
    path = flatten(now.path, FINE)[0].loop()
    along = lengths(path)
    part = course.along / course.along[-1]
    return at_lengths(path, part * along[-1], along), now.width / 2 * scales_of(now, part, course.closed)


def _line(course: Course, middle: Floats, half: Floats) -> Line:
    """A line along a middle (n, 2), so wide at each place (n,)."""
    spots = [(round(float(x), 3), round(float(y), 3)) for x, y in (middle[:-1] if course.closed else middle)]
    along = lengths(middle)
    places = np.linspace(0, 1, min(len(middle), MOST_PLACES))
    width = 2 * float(half.max())
    scales = np.interp(places, along / along[-1], 2 * half / width)
    profile = tuple((round(float(at), 6), round(float(scale), 4)) for at, scale in zip(places, scales, strict=True))
    path = polyline_path(spots, closed=course.closed)
    return replace(course.line, path=path, width=round(width, 4), profile=profile, start_width=100.0, end_width=100.0)
