"""What an outline encloses, by its fill rule, and where it crosses itself."""

import numpy as np
import shapely
from shapely import MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from jontel.design.errors import CannotStitch
from jontel.design.home import homed
from jontel.design.paths import polyline_path
from jontel.design.shapes import Area, Point
from jontel.design.store import kept, weighed_by
from jontel.geometry.polyline import TOLERANCE, Floats, Polyline, flatten

Region = MultiPolygon
for _kind in (Polygon, MultiPolygon, shapely.LineString, shapely.GeometryCollection):
    weighed_by(_kind, lambda one: 200 + 32 * int(shapely.get_num_coordinates(one)))
MOST_CROSSINGS = 10_000
FIRST_SAMPLE, SAMPLED, CLEARLY = 16, 400, 20
"""So many pieces of an outline are looked at, and fewer where those tell that it crosses itself far too often."""
GRID = 1e-4
"""Many pieces are united on a grid of this many mm: without one, thousands of nearly equal edges can lose area."""
LOST = 1e-6
"""A union may lose this part of the area to rounding."""
LEAST_AREA = 0.02
"""Pieces below this many square mm hold no stitch and are left out."""


def laid(region: Region, at: Point) -> Region:
    """A region moved by ``at``."""
    return shapely.transform(region, lambda xy: xy + np.array(at))


@homed(laid)
def region_of(area: Area, tolerance: float = TOLERANCE) -> Region:
    """The cloth that ``area`` covers, by its fill rule: valid polygons with holes, mm.

    Curves are followed within ``tolerance`` mm.

    Raises ``CannotStitch`` for a tangle of thousands of crossings.
    """
    rings = [line for line in flatten(area.path, tolerance) if len(line.xy) >= 3]
    if len(rings) == 1:
        single = Polygon(rings[0].xy)
        if single.is_valid:
            return polygons_of(single)
    if not rings:
        return MultiPolygon()
    if crossings_estimate(area.path) > MOST_CROSSINGS:
        raise CannotStitch("its outline crosses itself in thousands of places; simplify it or draw it again")
    edges = shapely.unary_union([shapely.LineString(np.vstack([r.xy, r.xy[:1]])) for r in rings])
    faces = list(shapely.polygonize(list(getattr(edges, "geoms", [edges]))).geoms)
    if not faces:
        return MultiPolygon()
    winding = winding_numbers(rings, np.array([f.representative_point().coords[0] for f in faces]))
    inside = winding != 0 if area.rule == "nonzero" else winding % 2 != 0
    return polygons_of(_united([face for face, within in zip(faces, inside, strict=True) if within]))


def _united(faces: list[Polygon]) -> BaseGeometry:
    """The union of faces that do not overlap; on a grid where without one it would lose some of them."""
    whole = shapely.unary_union(faces)
    area = sum(face.area for face in faces)
    return whole if abs(whole.area - area) <= LOST * area else shapely.unary_union(faces, grid_size=GRID)


def thinned(polygon: Polygon, tolerance: float) -> Polygon:
    """A polygon without nodes that are within about ``tolerance`` mm of a line.

    D. Douglas and T. Peucker, "Algorithms for the reduction of the number of points required to represent a
    digitized line" (1973). Rings that would cross or vanish are looked after only where it comes to that: it takes
    six times as long.
    """
    plain = polygon.simplify(tolerance, preserve_topology=False)
    lost = plain.is_empty or len(shapely.get_rings(plain)) != len(shapely.get_rings(polygon))
    if lost or not plain.is_valid:
        plain = polygon.simplify(tolerance)
    assert isinstance(plain, Polygon)
    return plain


def polygons_of(geometry: BaseGeometry) -> Region:
    """The polygons in ``geometry`` that are large enough to hold a stitch."""
    parts = [geometry] if isinstance(geometry, Polygon) else list(getattr(geometry, "geoms", []))
    flat: list[Polygon] = []
    for part in parts:
        if isinstance(part, Polygon):
            flat.append(part)
        else:
            flat.extend(g for g in getattr(part, "geoms", []) if isinstance(g, Polygon))
    return MultiPolygon([part for part in flat if part.area > LEAST_AREA])


def winding_numbers(rings: list[Polyline], points: Floats) -> "np.ndarray[tuple[int], np.dtype[np.int64]]":
    """How often the closed ``rings`` turn round each of ``points`` (m, 2), shape (m,).

    Source: D. Sunday, "Inclusion of a point in a polygon" (2001): signed crossings of a ray.
    """
    start = np.vstack([r.xy for r in rings])
    stop = np.vstack([np.roll(r.xy, -1, axis=0) for r in rings])
    total = np.zeros(len(points), dtype=np.int64)
    for at in range(0, len(points), 256):
        x, y = points[at : at + 256, 0, None], points[at : at + 256, 1, None]
        side = (stop[:, 0] - start[:, 0]) * (y - start[:, 1]) - (x - start[:, 0]) * (stop[:, 1] - start[:, 1])
        up = (start[:, 1] <= y) & (stop[:, 1] > y) & (side > 0)
        down = (start[:, 1] > y) & (stop[:, 1] <= y) & (side < 0)
        total[at : at + 256] = up.sum(axis=1) - down.sum(axis=1)
    return total


def _segments(path: str) -> Floats:
    """The straight pieces of a path's closed rings, (n, 2, 2)."""
    loops = [np.vstack([line.xy, line.xy[:1]]) for line in flatten(path)]
    pieces = [np.stack([loop[:-1], loop[1:]], axis=1) for loop in loops]
    return np.concatenate(pieces) if pieces else np.zeros((0, 2, 2))


@kept
def crossings_estimate(path: str) -> float:
    """About how often an outline crosses itself, from a sample of its pieces."""
    segments = _segments(path)
    if len(segments) < SAMPLED:
        return 0.0
    lines = np.atleast_1d(np.asarray(shapely.linestrings(segments)))
    tree = shapely.STRtree(lines)
    about = 0.0
    for sample in (FIRST_SAMPLE, SAMPLED):
        some = lines[:: max(1, len(lines) // sample)]
        about = float(tree.query(some, predicate="crosses").shape[1]) / len(some) * len(lines) / 2
        if about > CLEARLY * MOST_CROSSINGS:
            break
    return about


@kept
def self_crossings(path: str) -> tuple[Point, ...]:
    """The places, mm, where an outline crosses itself or another ring of the same path.

    None for a tangle that cannot be sewn anyway.
    """
    segments = _segments(path)
    if not len(segments) or crossings_estimate(path) > MOST_CROSSINGS:
        return ()
    lines = np.atleast_1d(np.asarray(shapely.linestrings(segments)))
    first, second = shapely.STRtree(lines).query(lines, predicate="crosses")
    pairs = first < second
    places = shapely.get_coordinates(shapely.intersection(lines[first[pairs]], lines[second[pairs]]))
    unique = np.unique(places.round(3), axis=0)
    return tuple((float(x), float(y)) for x, y in unique)


def path_of(geometry: BaseGeometry) -> str:
    """Path data of polygons: outer rings one way, holes the other, so that either fill rule reads it."""
    rings: list[str] = []
    for part in polygons_of(geometry).geoms:
        part = shapely.geometry.polygon.orient(part)
        for ring in (part.exterior, *part.interiors):
            points = [(float(x), float(y)) for x, y in ring.coords[:-1]]
            rings.append(polyline_path(points, closed=True))
    return " ".join(rings)


def repaired(area: Area) -> Area:
    """The same cloth with an outline that no longer crosses itself."""
    return Area(path_of(region_of(area)), "nonzero")


def largest(region: Region) -> Polygon:
    """The largest part of a region; an empty polygon where it has none."""
    return max(region.geoms, key=lambda part: part.area, default=Polygon())


def rings_of(polygon: Polygon) -> list[Floats]:
    """The rings of a polygon, outer first, each (n, 2) without a repeated point."""
    return [np.asarray(ring.coords)[:-1, :2] for ring in (polygon.exterior, *polygon.interiors)]


def across_angle(region: Region) -> float:
    """The angle of what lies across the long way of a region, degrees."""
    box = shapely.get_coordinates(region.minimum_rotated_rectangle)
    sides = np.diff(box[:3], axis=0)
    across = sides[int(np.argmin(np.hypot(*sides.T)))] if len(sides) == 2 else np.array([1.0, 0.0])
    return round(float(np.degrees(np.arctan2(-across[1], across[0]))) % 180, 1)
