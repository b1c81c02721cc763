"""Beds: the compensated place that an underlay or a cover is sewn on."""

import math
from dataclasses import dataclass

import numpy as np
import shapely
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from jontel.geometry.columns import Rails, covered
from jontel.geometry.inside import inside_path, nearest_on
from jontel.geometry.polyline import Floats, at_lengths, lengths
from jontel.geometry.region import Region, largest, polygons_of, thinned
from jontel.stitching.columns import row_angle
from jontel.stitching.running import evenly, straight_run
from jontel.stitching.stitches import SHORTEST, Layer, Needle

ALONG, SHORTEST_ALONG, CUTS_BENDS = 2.5, 0.8, 0.2
"""Travel along a column: its longest and shortest stitch, mm, and by how much one cuts a bend."""
TRACED = 0.2
"""A way along a column is traced so finely, mm."""
FOLLOWS = 0.02
"""The rim that underlay follows is as simple as this allows, mm."""
STRAYS = 0.05
"""Underlay and travel farther outside their column or area than this, mm, are brought back."""


@dataclass(frozen=True, eq=False)
class AreaBed:
    """One connected part of a fill, compensated; ``angle`` is the cover's."""

    part: Polygon
    angle: float


@dataclass(frozen=True, eq=False)
class ColumnBed:
    """One column of a satin, compensated, in the direction in which the cover is sewn."""

    rails: Rails


Bed = AreaBed | ColumnBed


def inner(part: Polygon, inset: float) -> Region:
    """``part`` narrowed by ``inset`` all round; empty where nothing is left.

    What lies beneath follows the rim without those of its points that are within ``FOLLOWS`` mm of the line.
    """
    return polygons_of(thinned(part, FOLLOWS).buffer(-inset, join_style="mitre"))


def to_next_part(
    parts: list[Polygon], needle: Needle, exit_: Floats | None, begins: Floats
) -> tuple[Polygon, Floats]:
    """Take the part nearest to the needle out of ``parts`` and jump to its rim: the part, and where on it.

    A needle that is nowhere yet comes from where the shape ``begins``. The part nearest to the exit comes last.
    """
    at = needle.at if needle.at is not None else begins
    far = shapely.distance(parts, shapely.Point(at))
    if exit_ is not None and len(parts) > 1:
        far[np.argmin(shapely.distance(parts, shapely.Point(exit_)))] = np.inf
    part = parts.pop(int(np.argmin(far)))
    start = np.asarray(shapely.shortest_line(part.exterior, shapely.Point(at)).coords[0])
    needle.jump(start)
    return part, start


def go(part: Polygon, needle: Needle, to: Floats) -> None:
    """Travel to ``to`` inside ``part``."""
    if needle.at is None or np.hypot(*(needle.at - to)) < SHORTEST:
        return
    run = straight_run(np.vstack([needle.at, inside_path(part, needle.at, to), to]))  # it leaves out bends that crowd
    inside = brought_back(run, part)
    needle.sew(run if inside is run else straight_run(inside), Layer.TRAVEL)


def go_along(rails: Rails, needle: Needle, to: Floats) -> None:
    """Travel along the middle of a column to its place nearest ``to``, when the needle is far from it."""
    if needle.at is None:
        return
    middle = rails.middle
    along = lengths(middle)
    here, there = float(along[rails.nearest(needle.at)]), float(along[rails.nearest(to)])
    whole = float(along[-1])
    if rails.closed and abs(there - here) > whole / 2:  # the shorter way round leads over the seam
        middle, along = np.vstack([middle[:-1], middle]), np.append(along[:-1], along + whole)
        here, there = (here + whole, there) if here < there else (here, there + whole)
    if abs(there - here) < 1.5:
        return
    way = at_lengths(middle, np.linspace(here, there, max(2, int(abs(there - here) / TRACED))), along)
    if math.dist(needle.at, way[0]) > ALONG:
        way = np.vstack([needle.at, way])
    needle.sew(evenly(way, _held_in_bends(way)), Layer.TRAVEL)


def _held_in_bends(way: Floats) -> float:
    """How long travel along a smooth way (n, 2) may be stitched, mm, so that it cuts no bend by more than allowed."""
    step = np.diff(way, axis=0)
    heading = np.unwrap(np.arctan2(step[:, 1], step[:, 0]))
    over = max(1, min(round(1.0 / TRACED), len(heading) - 1))
    bend = float(np.abs(heading[over:] - heading[:-over]).max()) / (over * TRACED) if len(heading) > 1 else 0.0
    return float(np.clip(math.sqrt(8 * CUTS_BENDS / max(bend, 1e-6)), SHORTEST_ALONG, ALONG))


def held(points: Floats, rails: Rails) -> Floats:
    """Points (n, 2) brought back onto a column where its edge runs back in a bend too tight for its rows."""
    return brought_back(points, covered(rails))


def brought_back(points: Floats, room: BaseGeometry) -> Floats:
    """Points (n, 2) of which those that stray from a room are brought back onto it."""
    shapely.prepare(room)
    outside = np.flatnonzero(~shapely.dwithin(room, shapely.points(points), STRAYS))
    if len(outside):
        points = points.copy()
        points[outside] = nearest_on(room, points[outside])
    return points


def facing(rails: Rails, needle: Needle) -> Rails:
    """The column turned so that it starts at the end to which the way along it from the needle is shorter."""
    if needle.at is None or rails.closed:
        return rails
    along = lengths(rails.middle)
    return rails if along[rails.nearest(needle.at)] <= along[-1] / 2 else rails.reversed()


def as_area(bed: Bed) -> AreaBed | None:
    """The bed as a polygon with a row angle; ``None`` when a column is too twisted to be one."""
    match bed:
        case AreaBed():
            return bed
        case ColumnBed(rails):
            outline = shapely.make_valid(shapely.Polygon(rails.outline()))
            part = largest(polygons_of(outline))
            return None if part.is_empty else AreaBed(part, row_angle(rails))
