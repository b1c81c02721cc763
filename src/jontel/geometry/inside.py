"""Paths that stay inside a region."""

from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import LineString, Point, Polygon
from shapely.geometry.base import BaseGeometry

from jontel.design.stopping import go_on
from jontel.design.store import kept, weighed_by
from jontel.geometry.polyline import Floats, at_lengths, lengths
from jontel.geometry.region import LEAST_AREA, thinned

AT_RIM = 3.0
"""What is nearer to the rim than this, mm, is at it."""
MANY, FINER = 600, 0.03
"""In a polygon of so many nodes paths stay without those that are within the second, mm, of a line."""
FEW = 12
"""On paths of so many points it is looked at once which see each other: point by point takes longer."""
TOUCHES = 1e-6
"""What lies outside by no more than this, mm, does so by rounding."""
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
    room = _room(polygon)
    if room.polygon.covers(LineString([start, stop])):
        return np.array([start, stop], dtype=np.float64)
    ends = shapely.points([start, stop])
    narrower = [one for one in room.narrower if shapely.distance(ends, one.polygon).max() < 3 * MARGIN]
    if narrower:
        first, last = room.brought_in(start, stop)
        return np.vstack([first, narrower[0].path(start, stop), last])
    return room.path(start, stop)


def along_rim(polygon: Polygon, start: Floats, stop: Floats) -> Floats | None:
    """The shorter way (n, 2) beside one ring of a polygon; ``None`` where the two are not at the same ring."""
    ends = [Point(start), Point(stop)]
    rooms = [one for one in _room(polygon).narrower if one.polygon.area > LEAST_AREA]
    rings = [ring for room in rooms for ring in room.rings]
    rings = [ring for ring in rings if max(float(ring.distance(end)) for end in ends) < AT_RIM]
    if not rings:
        return None
    ring = min(rings, key=lambda one: sum(float(one.distance(end)) for end in ends))
    return np.array([start, *round_ring(ring, ring.project(ends[0]), ring.project(ends[1])), stop])


@kept
def _room(polygon: Polygon) -> "_Room":
    """A polygon that is soon asked for paths: without its finest nodes where there are many."""
    plain = polygon if shapely.get_num_coordinates(polygon) < MANY else thinned(polygon, FINER)
    return _Room(plain)


class _Room:
    """A polygon, and what hundreds of paths inside it ask for."""

    def __init__(self, polygon: Polygon) -> None:
        shapely.prepare(polygon)
        self.polygon = polygon

    @cached_property
    def narrower(self) -> list["_Room"]:
        """What is left of the polygon without a margin along its rim."""
        left = self.polygon.buffer(-MARGIN, join_style="mitre")
        return [_Room(one) for one in getattr(left, "geoms", [left]) if not one.is_empty]

    @cached_property
    def rings(self) -> list[LineString]:
        """The rings as lines, outer first."""
        rings = (self.polygon.exterior, *self.polygon.interiors)
        return [LineString(shapely.get_coordinates(ring)) for ring in rings]

    @cached_property
    def _edges(self) -> tuple[Floats, Floats]:
        """Where each edge of the rings starts, and how it goes on, (n, 2) each."""
        loops = [shapely.get_coordinates(ring) for ring in self.rings]
        return np.vstack([one[:-1] for one in loops]), np.vstack([np.diff(one, axis=0) for one in loops])

    def path(self, start: Floats, stop: Floats) -> Floats:
        """The path (n, 2) between two places, which are brought onto the polygon."""
        start, stop = self.brought_in(start, stop)
        straight = LineString([start, stop])
        if straight.length < 1e-9 or self.polygon.covers(straight):
            return np.array([start, stop])
        path = [start]
        for low, high in self._outside(start, stop):
            leave, back = straight.interpolate(low), straight.interpolate(high)
            ring = self.rings[0]
            if len(self.rings) > 1:
                ring = min(self.rings, key=lambda r: r.distance(leave) + r.distance(back))
            path.extend(round_ring(ring, ring.project(leave), ring.project(back)))
        path.append(stop)
        tidy = shapely.LineString(path).simplify(0.08, preserve_topology=False)
        return shortened(self.polygon, shapely.get_coordinates(tidy))

    def _outside(self, start: Floats, stop: Floats) -> list[tuple[float, float]]:
        """From where to where along it, mm, a straight line leaves the polygon, in order.

        It is cut where it meets an edge, and each piece lies inside or outside by its middle.
        """
        step, (begins, edges) = stop - start, self._edges
        across = step[0] * edges[:, 1] - step[1] * edges[:, 0]
        off = begins - start
        with np.errstate(divide="ignore", invalid="ignore"):
            along = (off[:, 0] * edges[:, 1] - off[:, 1] * edges[:, 0]) / across
            on_edge = (off[:, 0] * step[1] - off[:, 1] * step[0]) / across
        met = along[(across != 0) & (on_edge > -TOUCHES) & (on_edge < 1 + TOUCHES) & (along > 0) & (along < 1)]
        marks = np.unique(np.concatenate([[0.0], met, [1.0]]))
        size = float(np.hypot(*step))
        marks = marks[np.append(True, np.diff(marks) * size > TOUCHES)]
        middles = start + (marks[:-1, None] + marks[1:, None]) / 2 * step
        out = ~shapely.dwithin(self.polygon, shapely.points(middles), TOUCHES)
        turns = np.flatnonzero(np.diff(np.concatenate([[False], out, [False]])))
        return [(float(marks[low] * size), float(marks[high] * size)) for low, high in turns.reshape(-1, 2)]

    def brought_in(self, *points: Floats) -> Floats:
        """The places of the polygon nearest to ``points``, (n, 2)."""
        found = np.array(points, dtype=np.float64)
        out = ~shapely.intersects_xy(self.polygon, *found.T)
        if out.any():
            found[out] = nearest_on(self.polygon, found[out])
        return found


weighed_by(
    _Room, lambda one: 1000 + 200 * int(shapely.get_num_coordinates(one.polygon))
)  # with all that it will hold


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
    """``path`` with the corners cut that can be cut without leaving ``polygon``, which is prepared."""
    last = len(path) - 1
    seen = _seen(polygon, path) if last < FEW else None
    at, kept = 0, [0]
    while at < last:
        tried = at + ((last - at) >> np.arange((last - at).bit_length()))
        if seen is None:
            pairs = np.stack([np.broadcast_to(path[at], (len(tried), 2)), path[tried]], axis=1)
            straight = np.asarray(shapely.covers(polygon, shapely.linestrings(pairs)))
        else:
            straight = seen[at, tried]
        straight[-1] = True  # a step along the path is one in any case
        at = int(tried[np.argmax(straight)])
        kept.append(at)
    return path[kept]


def _seen(polygon: Polygon, path: Floats) -> NDArray[np.bool_]:
    """Which later points of ``path`` (n, 2) but the next are seen straight from each, in ``polygon``, (n, n)."""
    seen = np.zeros((len(path), len(path)), dtype=np.bool_)
    start, stop = np.triu_indices(len(path), 2)
    ways = shapely.linestrings(np.stack([path[start], path[stop]], axis=1))
    seen[start, stop] = shapely.covers(polygon, ways)
    return seen
