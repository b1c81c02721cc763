"""Outlines from outlines: united, cut, grown. What comes out is drawn with few nodes again, corners kept."""

from typing import Literal

import numpy as np
import shapely
from shapely import Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import split

from jontel.design.shapes import Area
from jontel.geometry.fitting import through_corners
from jontel.geometry.nodes import Chain, path_through
from jontel.geometry.polyline import FINE, Floats, turns
from jontel.geometry.region import Region, polygons_of, region_of, rings_of

How = Literal["union", "difference", "intersection", "exclude"]
Round = Literal["round", "pointed", "bevelled"]
NEAR = 0.01
"""Outlines that are drawn again stay within this of what they were, mm."""
TURN = 20.0
"""Where a finely flattened outline turns by more than so many degrees at one point, it has a corner."""
LONGEST_SPIKE = 4.0
"""A pointed corner reaches no farther out than so many times the distance."""
BETWEEN = 0.4
"""On longer straight pieces points are put so far from each other, mm."""
STEP = 0.6
"""Straight pieces longer than this, mm, end in points of their own near their ends, so that a fit follows them."""


def fine_region(area: Area) -> Region:
    """The cloth that ``area`` covers, its curves followed so finely that they can be drawn again."""
    return region_of(area, FINE)


def combined(first: Region, others: list[Region], how: How) -> Region:
    """The ``first`` region united with others, without them, inside all of them, or what only one of all covers."""
    made: BaseGeometry = first
    for other in others:
        match how:
            case "union":
                made = shapely.union(made, other)
            case "difference":
                made = shapely.difference(made, other)
            case "intersection":
                made = shapely.intersection(made, other)
            case "exclude":
                made = shapely.symmetric_difference(made, other)
    return polygons_of(made)


def grown(region: BaseGeometry, by: float, corners: Round = "round") -> Region:
    """A region grown by so many mm all round, or shrunk where ``by`` is below 0."""
    style = {"round": "round", "pointed": "mitre", "bevelled": "bevel"}[corners]
    return polygons_of(
        shapely.buffer(region, by, quad_segs=48, join_style=style, mitre_limit=LONGEST_SPIKE)  # type: ignore[call-overload]
    )


def sliced(region: Region, line: Floats) -> list[Polygon]:
    """The pieces into which a line (n, 2) cuts a region; one a part of the region where it crosses none."""
    blade = shapely.LineString(line)
    pieces: list[Polygon] = []
    for part in region.geoms:
        pieces += [one for one in split(part, blade).geoms if isinstance(one, Polygon)]
    return list(polygons_of(shapely.MultiPolygon(pieces)).geoms) if pieces else []


def drawn_again(region: BaseGeometry, near: float = NEAR) -> str:
    """Path data of a region with few nodes, within ``near`` mm: rings drawn one way and holes the other."""
    chains: list[Chain] = []
    for part in polygons_of(region).geoms:
        for ring in rings_of(shapely.geometry.polygon.orient(part)):
            points = ring[:-1] if np.array_equal(ring[0], ring[-1]) else ring
            chains.append(_ring(_without_slivers(points), near))
    return path_through(tuple(chains))


def _without_slivers(points: Floats) -> Floats:
    """A ring (n, 2) without points nearer to the one before than a unit of path data."""
    step = np.hypot(*(points - np.roll(points, 1, axis=0)).T)
    keep = step > 2e-4
    return points[keep] if keep.sum() >= 3 else points


def _ring(points: Floats, near: float) -> Chain:
    turn = np.degrees(np.abs(turns(points, True)))
    step = np.hypot(*(np.roll(points, -1, axis=0) - points).T)
    # a long straight piece beside a curve is met by it smoothly: its ends are nodes, though not corners
    long = step > np.maximum(STEP, 6 * np.median(step))
    marks = (turn > TURN) | ((long | np.roll(long, 1)) & (turn > 0.02))
    dense, places = _denser(points)
    return through_corners(dense, places[marks].tolist(), near, True)


def _denser(points: Floats) -> tuple[Floats, "np.ndarray[tuple[int], np.dtype[np.int64]]"]:
    """A ring (n, 2) with points on its straight pieces too, so that a fit stays near those, and where its own are."""
    on = np.roll(points, -1, axis=0)
    parts = np.maximum(np.ceil(np.hypot(*(on - points).T) / BETWEEN).astype(np.int64), 1)
    places = np.concatenate([[0], np.cumsum(parts)[:-1]])
    along = (np.arange(parts.sum()) - np.repeat(places, parts)) / np.repeat(parts, parts)
    start, stop = np.repeat(points, parts, axis=0), np.repeat(on, parts, axis=0)
    return start + along[:, None] * (stop - start), places
