"""Narrow shapes: finding the two edges of a band, so that it can be sewn as a satin."""

import math

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
import shapely
from shapely import LineString, Polygon

from jontel.design.errors import CannotStitch
from jontel.design.paths import polyline_path
from jontel.design.shapes import Area, Column, Point
from jontel.design.store import kept
from jontel.geometry.columns import rails_of
from jontel.geometry.hatch import Ints
from jontel.geometry.polyline import Floats, at_lengths, lengths, nearest_length, turns
from jontel.geometry.region import Region, region_of, rings_of

WIDEST, NARROWEST = 5.2, 0.7
"""Bands outside these mean widths, mm, are not sewn as a satin."""
WIDEST_ROW, UNEVEN = 8.0, 1.75
"""Nor are those with a row longer than this, mm, or than this many times the mean: a wedge is no band."""
TRIANGLE = 4
"""Points of the closed outline of a triangle, which is a wedge and never a band."""
FORK, FORK_SAMPLES = 0.35, 40
"""Where the way to the rim grows faster than this along a medial axis, it comes out of a corner."""
SLENDER = 3.0
"""A band is at least this many times longer than wide."""


def column_for(area: Area) -> Column:
    """The column that a satin on a narrow area is sewn as. Raises ``CannotStitch`` when it is not one band."""
    column = band_of(area)
    if column is None:
        raise CannotStitch("it is not one narrow band, so it has no two edges; make it a fill")
    return column


@kept
def band_of(area: Area) -> Column | None:
    """``as_column`` of what an area encloses, kept once found. Raises ``CannotStitch`` for a tangle."""
    return as_column(region_of(Area(area.path, area.rule)))


def as_column(region: Region) -> Column | None:
    """The column that a narrow region is, or ``None`` when it is not one band.

    A ring of even width becomes a closed column; a branchless strip is split at the ends of its medial
    axis, with rows across it.
    """
    if len(region.geoms) != 1:
        return None
    shape = region.geoms[0]
    width = 2 * shape.area / shape.length
    if not NARROWEST <= width <= WIDEST:
        return None
    if len(shape.interiors) == 1:
        return _ring(shape, width)
    if len(shape.exterior.coords) <= TRIANGLE:
        return None
    if shape.interiors or shape.length / 2 < SLENDER * width:
        return None
    return _strip(shape, width)


def _ring(shape: Polygon, width: float) -> Column | None:
    outer, inner = rings_of(shape)
    hole = shapely.LinearRing(inner)
    gaps = shapely.distance(hole, shapely.points(outer))
    if gaps.max() > WIDEST or gaps.max() > 1.8 * max(gaps.min(), 1e-6):
        return None
    loop = np.vstack([outer, outer[:1]])
    total = lengths(loop)[-1]
    starts = at_lengths(loop, np.linspace(0, total, max(8, int(total / (2 * width))), endpoint=False))
    inner_loop = LineString(np.vstack([inner, inner[:1]]))
    across = shapely.get_coordinates(shapely.shortest_line(shapely.points(starts), inner_loop))
    pairs = across.reshape(-1, 2, 2)
    return Column(_text(outer, True), _text(inner, True), _lines(pairs))


def _text(xy: Floats, closed: bool) -> str:
    return polyline_path([(float(x), float(y)) for x, y in xy], closed)


def _lines(pairs: Floats) -> tuple[tuple[Point, Point], ...]:
    def spot(p: Floats) -> Point:
        return round(float(p[0]), 4), round(float(p[1]), 4)

    return tuple((spot(p), spot(q)) for p, q in pairs)


def _strip(shape: Polygon, width: float) -> Column | None:
    spine = medial_spine(shape, width)
    if spine is None or lengths(spine)[-1] < (SLENDER - 1.0) * width:
        return None
    rim = np.asarray(shape.exterior.coords)[:, :2]
    starts = _cap(rim, spine[::-1], width), _cap(rim, spine, width)
    edge = _between(rim, starts[0][0], starts[1][1])
    other = _between(rim, starts[1][0], starts[0][1])[::-1]
    if min(lengths(edge)[-1], lengths(other)[-1]) < width:
        return None
    rows = _across(spine, edge, other, width)
    if len(rows) and np.hypot(*(rows[:, 1] - rows[:, 0]).T).max() > WIDEST_ROW:
        return None
    column = Column(_text(edge, False), _text(other, False), _lines(rows))
    widths = rails_of(column).widths()
    return column if widths.max() <= min(WIDEST_ROW, UNEVEN * widths.mean()) else None


def medial_spine(shape: Polygon, width: float) -> Floats | None:
    """The medial axis (n, 2) of a polygon without holes, or ``None`` when it branches.

    The inner ridges of the Voronoi diagram of points on the rim; source: J. Brandt, "Convergence and
    continuity criteria for discrete approximations of the continuous planar skeleton" (1994). A side
    branch shorter than about the local half width only leads into a corner and does not count.
    """
    ring = LineString(shape.exterior.coords)
    count = int(np.clip(ring.length / (width / 5), 60, 2500))
    rim = shapely.get_coordinates(shapely.line_interpolate_point(ring, np.arange(count) / count * ring.length))
    diagram = scipy.spatial.Voronoi(rim)
    ridges = np.asarray(diagram.ridge_vertices)
    ridges = ridges[(ridges >= 0).all(axis=1)]
    inside = np.asarray(shapely.contains_xy(shape, *diagram.vertices.T))
    ridges = ridges[inside[ridges].all(axis=1)]
    if len(ridges) < 2:
        return None
    size = np.hypot(*(diagram.vertices[ridges[:, 0]] - diagram.vertices[ridges[:, 1]]).T)
    count = len(diagram.vertices)
    graph = scipy.sparse.coo_array((size, (ridges[:, 0], ridges[:, 1])), shape=(count, count)).tocsr()
    _, label = scipy.sparse.csgraph.connected_components(graph, directed=False)
    largest = int(np.bincount(label[np.unique(ridges)]).argmax())
    nodes = ridges.ravel()
    first = int(nodes[label[nodes] == largest][0])
    far, _ = _farthest(graph, first)
    end, before = _farthest(graph, far)
    way = [end]
    while way[-1] != far:
        way.append(int(before[way[-1]]))
    spine_nodes = np.array(way[::-1])
    off, _, roots = scipy.sparse.csgraph.dijkstra(graph, False, spine_nodes, True, min_only=True)
    off = np.where(np.isfinite(off), off, 0.0)
    tip = int(np.argmax(off))
    if off[tip] > 1e-9:
        radius = shapely.Point(diagram.vertices[roots[tip]]).distance(ring)
        if off[tip] > 1.75 * radius:
            return None
    spine: Floats = diagram.vertices[spine_nodes]
    return _without_forks(spine, ring, width)


def _farthest(graph: "scipy.sparse.csr_array", start: int) -> tuple[int, Ints]:
    """The node farthest from ``start``, and for each node the one before it on the way from there, (n,)."""
    reach, before, _ = scipy.sparse.csgraph.dijkstra(graph, False, [start], True, min_only=True)
    return int(np.argmax(np.where(np.isfinite(reach), reach, -1.0))), before.astype(np.int64)


def _without_forks(spine: Floats, ring: LineString, width: float) -> Floats | None:
    """The spine without its last steps into a corner of the end.

    In a corner the distance to the rim grows by the sine of half its angle with each step out of it; along a band,
    even a tapering one, it hardly does.
    """
    ends = []
    for way in (spine, spine[::-1]):
        along = lengths(way)
        near = np.linspace(0.0, min(1.5 * width, along[-1] / 2), FORK_SAMPLES)
        radius = np.asarray(shapely.distance(ring, shapely.points(at_lengths(way, near, along))))
        grows = np.flatnonzero(np.diff(radius) > FORK * np.diff(near))
        ends.append(float(near[grows[-1] + 1]) if len(grows) else 0.0)
    along = lengths(spine)
    start, stop = ends[0], along[-1] - ends[1]
    if stop - start < width / 2:
        return None
    inner = along[(along > start) & (along < stop)]
    return at_lengths(spine, np.concatenate([[start], inner, [stop]]), along)


def _cap(rim: Floats, spine: Floats, width: float) -> tuple[float, float]:
    """Where the two edges start at the end that ``spine`` runs towards, as distances along ``rim``.

    At a flat end these are its two corners; at a pointed or round one they are the same place.
    """
    along = lengths(spine)
    back = at_lengths(spine, np.array([max(0.0, along[-1] - width)]))[0]
    ahead = spine[-1] - back
    ahead = ahead / max(float(np.hypot(*ahead)), 1e-9)
    ray = LineString([spine[-1], spine[-1] + ahead * width * 4])
    hit = shapely.intersection(ray, LineString(rim))
    hits = shapely.get_coordinates(hit)
    tip = hits[int(np.argmin(np.hypot(*(hits - spine[-1]).T)))] if len(hits) else spine[-1]
    middle = nearest_length(rim, tip)
    marks = lengths(rim)
    total = float(marks[-1])
    turn = np.abs(turns(rim[:-1], True))
    radius = float(shapely.Point(spine[-1]).distance(LineString(rim)))
    corners = marks[:-1][turn > math.radians(40)]
    offset = (corners - middle + total / 2) % total - total / 2
    reach = 1.6 * radius + 0.1
    before = offset[(offset < -0.3 * radius) & (offset > -reach)]
    after = offset[(offset > 0.3 * radius) & (offset < reach)]
    if len(before) and len(after):
        return (middle + float(after.min())) % total, (middle + float(before.max())) % total
    near = offset[np.abs(offset) < max(0.5 * width, reach)]
    if len(near):
        middle = (middle + float(near[np.argmin(np.abs(near))])) % total
    return middle, middle


def _between(rim: Floats, start: float, stop: float) -> Floats:
    """The piece of a closed ``rim`` (first point repeated) from one distance on it to another, onwards."""
    marks = lengths(rim)
    total = float(marks[-1])
    if stop <= start:
        stop += total
    loop = np.concatenate([marks[:-1], marks[:-1] + total])
    inner = loop[(loop > start + 1e-6) & (loop < stop - 1e-6)]
    return at_lengths(rim, np.concatenate([[start], inner, [stop]]) % total, marks)


def _across(spine: Floats, edge: Floats, other: Floats, width: float) -> Floats:
    """Pairs (n, 2, 2) of facing places on the edges, on normals to the spine about two widths apart."""
    total = float(lengths(spine)[-1])
    count = max(1, int(total / (1.5 * width)))
    where = np.linspace(0, total, count + 2)[1:-1]
    step = max(0.3, width / 2)
    here = at_lengths(spine, where)
    ahead = at_lengths(spine, np.minimum(where + step, total)) - at_lengths(spine, np.maximum(where - step, 0))
    ahead = ahead / np.maximum(np.hypot(*ahead.T), 1e-9)[:, None]
    normal = np.column_stack([-ahead[:, 1], ahead[:, 0]])
    rows = np.asarray(shapely.linestrings(np.stack([here - normal * 2 * width, here + normal * 2 * width], axis=1)))
    found = []
    for row, spot in zip(rows, here, strict=True):
        ends = []
        for rail in (edge, other):
            hits = shapely.get_coordinates(shapely.intersection(row, LineString(rail)))
            if len(hits):
                ends.append(hits[np.argmin(np.hypot(*(hits - spot).T))])
        if len(ends) == 2:
            found.append(ends)
    return np.array(found) if found else np.zeros((0, 2, 2))
