"""Paths that stay inside a region."""

import numpy as np
import shapely
from shapely import LineString, Point, Polygon
from shapely.geometry.base import BaseGeometry

from jontel.design.stopping import go_on
from jontel.design.store import kept
from jontel.geometry.polyline import Floats, at_lengths, lengths
from jontel.geometry.region import LEAST_AREA

AT_RIM = 3.0
"""What is nearer to the rim than this, mm, is at it."""
MANY, FINER = 600, 0.03
"""In a polygon of so many nodes paths stay without those that are within the second, mm, of a line."""
MARGIN = 0.3
"""How far from the rim a path keeps where it can, mm."""


def inside_path(polygon: Polygon, start: Floats, stop: Floats) -> Floats:
    """A path (n, 2) from ``start`` to ``stop`` that stays inside ``polygon`` or on its rim.

    The straight line, except where it leaves the polygon: there it follows the ring it meets, the
    shorter way round, a little inside it where there is room. Source: V. Lumelsky and A. Stepanov,
    "Path-planning strategies for a point mobile automaton moving amidst unknown obstacles of arbitrary
    shape" (1987). Ends outside the polygon are first brought to the nearest place on it.
    """
    go_on()
    polygon = _plain(polygon)
    straight = LineString([start, stop])
    if polygon.covers(straight):
        return _inside(polygon, start, stop)
    ends = shapely.points([start, stop])
    rooms = [one for one in _narrower(polygon) if shapely.distance(ends, one).max() < 3 * MARGIN]
    if rooms:
        middle = _inside(rooms[0], start, stop)
        return np.vstack([_brought_in(polygon, start), middle, _brought_in(polygon, stop)])
    return _inside(polygon, start, stop)


@kept
def _plain(polygon: Polygon) -> Polygon:
    """A polygon that is soon asked whether it covers a path: without its finest nodes where there are many."""
    plain = polygon if shapely.get_num_coordinates(polygon) < MANY else polygon.simplify(FINER)
    assert isinstance(plain, Polygon)
    shapely.prepare(plain)
    return plain


@kept
def _narrower(polygon: Polygon) -> tuple[Polygon, ...]:
    """What is left of a polygon without a margin along its rim, which hundreds of paths inside it ask for."""
    left = polygon.buffer(-MARGIN, join_style="mitre")
    parts = tuple(one for one in getattr(left, "geoms", [left]) if not one.is_empty)
    shapely.prepare(parts)
    return parts


@kept
def _rings(polygon: Polygon) -> tuple[LineString, ...]:
    """The rings of a polygon as lines, outer first."""
    return tuple(LineString(shapely.get_coordinates(ring)) for ring in (polygon.exterior, *polygon.interiors))


def along_rim(polygon: Polygon, start: Floats, stop: Floats) -> Floats | None:
    """The shorter way (n, 2) beside one ring of a polygon; ``None`` where the two are not at the same ring."""
    ends = [Point(start), Point(stop)]
    rings = [ring for part in _narrower(polygon) if part.area > LEAST_AREA for ring in _rings(part)]
    rings = [ring for ring in rings if max(float(ring.distance(end)) for end in ends) < AT_RIM]
    if not rings:
        return None
    ring = min(rings, key=lambda one: sum(float(one.distance(end)) for end in ends))
    return np.array([start, *round_ring(ring, ring.project(ends[0]), ring.project(ends[1])), stop])


@kept
def _wider(polygon: Polygon) -> BaseGeometry:
    """A polygon with as much round it as rounding takes."""
    return polygon.buffer(1e-6)


def _inside(polygon: Polygon, start: Floats, stop: Floats) -> Floats:
    start, stop = _brought_in(polygon, start), _brought_in(polygon, stop)
    straight = LineString([start, stop])
    if straight.length < 1e-9 or polygon.covers(straight):
        return np.array([start, stop])
    rings = _rings(polygon)
    path = [start]
    for low, high in _outside(polygon, straight):
        leave, back = straight.interpolate(low), straight.interpolate(high)
        ring = min(rings, key=lambda r: r.distance(leave) + r.distance(back))
        path.extend(round_ring(ring, ring.project(leave), ring.project(back)))
    path.append(stop)
    short = shapely.LineString(shortened(polygon, np.array(path))).simplify(0.08)
    return shapely.get_coordinates(short)


def _outside(polygon: Polygon, straight: LineString) -> list[tuple[float, float]]:
    """From where to where along it, mm, a straight line leaves a polygon, in order.

    What lies inside is asked for: that is found in the line's own box, a difference in all of the polygon.
    """
    inside = shapely.intersection(straight, _wider(polygon))
    parts = [one for one in getattr(inside, "geoms", [inside]) if one.length > 0]
    spans = sorted(sorted(straight.project(Point(one.coords[k])) for k in (0, -1)) for one in parts)
    marks = [0.0, *(mark for span in spans for mark in span), straight.length]
    return [(low, high) for low, high in zip(marks[::2], marks[1::2], strict=True) if high - low > 1e-6]


def _brought_in(polygon: Polygon, point: Floats) -> Floats:
    if polygon.covers(Point(point)):
        return np.asarray(point, dtype=np.float64)
    (near,) = nearest_on(polygon, np.asarray(point)[None])
    return np.asarray(near, dtype=np.float64)


def nearest_on(shape: BaseGeometry, points: Floats) -> Floats:
    """The places of a shape nearest to ``points`` (n, 2), (n, 2)."""
    ways = shapely.shortest_line(shape, shapely.points(points))
    found: Floats = shapely.get_coordinates(shapely.get_point(ways, 0))
    return found


def round_ring(ring: LineString, leave: float, back: float) -> list[Floats]:
    """The shorter way along a closed ring between two distances on it, as points."""
    loop = shapely.get_coordinates(ring)
    marks = lengths(loop)
    low, high = min(leave, back), max(leave, back)
    first, last = at_lengths(loop, np.array([low, high]), marks)
    if high - low <= marks[-1] - (high - low):
        way = np.vstack([first, loop[(marks > low) & (marks < high)], last])
        return list(way if leave <= back else way[::-1])
    way = np.vstack([last, loop[marks > high], loop[marks < low], first])
    return list(way if leave > back else way[::-1])


def shortened(polygon: Polygon, path: Floats) -> Floats:
    """``path`` with the corners cut that can be cut without leaving ``polygon``."""
    shapely.prepare(polygon)
    at, kept = 0, [0]
    while at < len(path) - 1:
        left = len(path) - 1 - at
        tried = at + np.unique(np.maximum(left >> np.arange(left.bit_length()), 1))[::-1]
        pairs = np.stack([np.broadcast_to(path[at], (len(tried), 2)), path[tried]], axis=1)
        ways = np.asarray(shapely.linestrings(pairs))
        inside = np.append(shapely.covers(polygon, ways[:-1]), True)  # a step along the path is one in any case
        at = int(tried[np.argmax(inside)])
        kept.append(at)
    return path[kept]
