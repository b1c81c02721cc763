"""Paths that stay inside a region."""

from collections.abc import Iterator, Sequence
from functools import cached_property
from typing import NamedTuple, Self

import numpy as np
import shapely
from shapely import LineString, Polygon
from shapely.geometry.base import BaseGeometry

from jontel.design.stopping import go_on
from jontel.design.store import kept, weighed_by
from jontel.geometry.arrays import Ints
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
    ends = np.array([start, stop], dtype=np.float64)
    if shapely.covers(room.polygon, shapely.linestrings(ends)):
        return ends
    spots = shapely.points(ends)
    narrower = [one for one in room.narrower if shapely.dwithin(one.polygon, spots, 3 * MARGIN).all()]
    if narrower:
        first, last = room.brought_in(start, stop)
        return np.vstack([first, narrower[0].path(start, stop), last])
    return room.path(start, stop)


def along_rim(polygon: Polygon, start: Floats, stop: Floats) -> Floats | None:
    """The shorter way (n, 2) beside one ring of a polygon; ``None`` where the two are not at the same ring."""
    ends = np.stack([start, stop])
    rooms = [one for one in _room(polygon).narrower if one.polygon.area > LEAST_AREA]
    rings = [ring for room in rooms for ring in room.rings]
    rings = [ring for ring in rings if ring.far_from(ends).max() < AT_RIM]
    if not rings:
        return None
    ring = min(rings, key=lambda one: float(one.far_from(ends).sum()))
    return np.vstack([ends[:1], ring.way(*ring.along(ends).tolist()), ends[1:]])


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
    def rings(self) -> list["_Ring"]:
        """The rings, outer first."""
        return [_Ring(shapely.get_coordinates(ring)) for ring in (self.polygon.exterior, *self.polygon.interiors)]

    @cached_property
    def _edges(self) -> "_Edges":
        return _Edges.of(self.rings)

    def path(self, start: Floats, stop: Floats) -> Floats:
        """The path (n, 2) between two places, which are brought onto the polygon."""
        ends = self.brought_in(start, stop)
        if np.hypot(*(ends[1] - ends[0])) < 1e-9 or shapely.covers(self.polygon, shapely.linestrings(ends)):
            return ends
        way = shapely.linestrings(np.vstack([ends[:1], *self._round(*ends), ends[1:]]))
        return shortened(self.polygon, shapely.get_coordinates(shapely.simplify(way, 0.08, preserve_topology=False)))

    def _round(self, start: Floats, stop: Floats) -> Iterator[Floats]:
        """The ways (n, 2) along rings wherever the straight line between two places leaves the polygon, in order.

        The line is cut where it meets an edge, and each piece of it lies inside or outside by its middle.
        """
        step = stop - start
        edges, along, on_edge = self._edges.met_by(start, step)
        marks, edges = np.concatenate([[0.0], along, [1.0]]), np.concatenate([[-1], edges, [-1]])
        on_edge = np.concatenate([[0.0], on_edge, [0.0]])
        apart = np.flatnonzero(np.append(True, np.diff(marks) * float(np.hypot(*step)) > TOUCHES))
        places = start + marks[apart, None] * step
        out = ~shapely.dwithin(self.polygon, shapely.points((places[1:] + places[:-1]) / 2), TOUCHES)
        turns = np.flatnonzero(np.diff(np.concatenate([[False], out, [False]])))
        for span in turns.reshape(-1, 2):
            met = edges[apart[span]]
            number = self._edges.ring[met]
            if met.min() >= 0 and number[0] == number[1]:
                ring = self.rings[int(number[0])]
                at = self._edges.mark[met] + on_edge[apart[span]] * self._edges.size[met]
            else:  # one of the two places is an end of the line
                ring = min(self.rings, key=lambda one: float(one.far_from(places[span]).sum()))
                at = ring.along(places[span])
            yield ring.way(*at.tolist())

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


class _Ring:
    """A closed ring: its points ``loop`` (n, 2), the last as the first, and how far along it they are, (n,)."""

    def __init__(self, loop: Floats) -> None:
        self.loop = loop
        self.marks = lengths(loop)
        self.line = LineString(loop)

    def along(self, places: Floats) -> Floats:
        """How far along the ring the places nearest to ``places`` (n, 2) are, (n,)."""
        return np.asarray(shapely.line_locate_point(self.line, shapely.points(places)))

    def far_from(self, places: Floats) -> Floats:
        """How far ``places`` (n, 2) are from the ring, (n,)."""
        return np.asarray(shapely.distance(self.line, shapely.points(places)))

    def way(self, leave: float, back: float) -> Floats:
        """The shorter way (n, 2) along the ring between two distances on it."""
        loop, marks = self.loop, self.marks
        low, high = min(leave, back), max(leave, back)
        first, last = at_lengths(loop, np.array([low, high]), marks)
        after, before = np.searchsorted(marks, low, side="right"), np.searchsorted(marks, high)
        if high - low <= marks[-1] - (high - low):
            way = np.vstack([first, loop[after:before], last])
            return way if leave <= back else way[::-1]
        beyond = np.searchsorted(marks, high, side="right")
        way = np.vstack([last, loop[beyond:], loop[: np.searchsorted(marks, low)], first])
        return way if leave > back else way[::-1]


class _Edges(NamedTuple):
    """The edges of rings: where each starts and how it goes on, (n, 2), and how long it is, (n,).

    ``ring`` (n,) is the number of its ring, and ``mark`` (n,) how far along that it starts.
    """

    start: Floats
    step: Floats
    size: Floats
    ring: Ints
    mark: Floats

    @classmethod
    def of(cls, rings: Sequence[_Ring]) -> Self:
        """The edges of ``rings``."""
        step = np.vstack([np.diff(one.loop, axis=0) for one in rings])
        number = np.repeat(np.arange(len(rings)), [len(one.loop) - 1 for one in rings])
        mark = np.concatenate([one.marks[:-1] for one in rings])
        return cls(np.vstack([one.loop[:-1] for one in rings]), step, np.hypot(*step.T), number, mark)

    def met_by(self, start: Floats, step: Floats) -> tuple[Ints, Floats, Floats]:
        """Which edges a line from ``start`` by ``step`` meets on its way, in order, (m,).

        And at which part of the line it meets each, and of the edge, (m,).
        """
        across = step[0] * self.step[:, 1] - step[1] * self.step[:, 0]
        off = self.start - start
        with np.errstate(divide="ignore", invalid="ignore"):
            along = (off[:, 0] * self.step[:, 1] - off[:, 1] * self.step[:, 0]) / across
            on_edge = (off[:, 0] * step[1] - off[:, 1] * step[0]) / across
        met = np.flatnonzero((on_edge > -TOUCHES) & (on_edge < 1 + TOUCHES) & (along > 0) & (along < 1))
        met = met[np.argsort(along[met], kind="stable")]
        return met, along[met], on_edge[met]


def shortened(polygon: Polygon, path: Floats) -> Floats:
    """``path`` with the corners cut that can be cut without leaving ``polygon``, which is prepared.

    From each point straight to the last one, or half as far, or half of that, until it is seen.
    """
    last = len(path) - 1
    ways = [[at + ((last - at) >> k) for k in range((last - at).bit_length())] for at in range(last)]
    seen: dict[tuple[int, int], bool] = {}
    if last < FEW:
        seen = _seen(polygon, path, [(at, to) for at in range(last) for to in ways[at][:-1]])
    at, kept = 0, [0]
    while at < last:
        *far, following = ways[at]
        if last >= FEW:
            seen = _seen(polygon, path, [(at, to) for to in far])
        at = next((to for to in far if seen[at, to]), following)
        kept.append(at)
    return path[kept]


def _seen(polygon: Polygon, path: Floats, pairs: list[tuple[int, int]]) -> dict[tuple[int, int], bool]:
    """Whether ``pairs`` of points of ``path`` (n, 2), by number, see each other in ``polygon``."""
    lines = shapely.linestrings(path[np.array(pairs, dtype=np.int64).reshape(-1, 2)])
    return dict(zip(pairs, np.asarray(shapely.covers(polygon, lines)).tolist(), strict=True))
