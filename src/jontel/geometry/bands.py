"""What a satin on an area is: one band between two edges, or several strokes; and what is narrow enough for one."""

import numpy as np
from shapely import Polygon

from jontel.design.paths import polyline_path
from jontel.design.shapes import Area, Column, Point
from jontel.design.store import kept
from jontel.geometry.decompose import Strokes, strokes_of
from jontel.geometry.polyline import Floats, lengths
from jontel.geometry.region import Region, polygons_of, region_of

WIDEST, NARROWEST = 5.2, 0.7
"""Strokes outside these mean widths, mm, are not sewn as a satin unless asked for."""
WIDEST_ROW = 8.0
"""Nor are those with a row longer than this, mm."""
SLENDER, DOT = 1.5, 3.5
"""Nor are strokes less than so many times longer than wide, if they are wider than the second, mm."""
LINES_APART = 1.5
"""A band has a direction line every so many widths."""


@kept
def band_of(area: Area) -> Column | None:
    """The column that an area is if it is one stroke, kept once found. Raises ``CannotStitch`` for a tangle."""
    return as_column(region_of(Area(area.path, area.rule)))


def as_column(region: Region) -> Column | None:
    """The column that a region is, or ``None`` when it is not one stroke from edge to edge."""
    if len(region.geoms) != 1:
        return None
    found = strokes_of(region)[0]
    return _column(found) if len(found.strokes) == 1 and found.fit else None


def reads_as_satin(part: Polygon) -> bool:
    """Whether a part of a shape is best sewn as a satin: each of its strokes is narrow and slender."""
    if not NARROWEST / 2 <= 2 * part.area / max(part.length, 1e-9) <= WIDEST:
        return False
    strokes = strokes_of(polygons_of(part))[0]
    for one in strokes.strokes:
        width = one.rails.widths()
        mean = float(width.mean())
        long = float(lengths(one.rails.middle)[-1])
        if not NARROWEST <= mean <= WIDEST or float(width.max()) > WIDEST_ROW:
            return False
        if mean > DOT and long < SLENDER * mean:
            return False
    return bool(strokes.strokes) and strokes.fit


def _column(found: Strokes) -> Column:
    """The only stroke as a drawn column, with the lines at which places face each other."""
    one = found.strokes[0]
    rails = one.rails
    along = lengths(rails.middle)
    apart = LINES_APART * float(rails.widths().mean())
    count = max(1, int(along[-1] / apart))
    ends = slice(0, -1) if rails.closed else slice(1, -1)
    places = np.linspace(0.0, along[-1], count + (1 if rails.closed else 2))[ends]
    at = np.searchsorted(along, places)
    lines = tuple((_spot(p), _spot(q)) for p, q in zip(rails.a[at], rails.b[at], strict=True))
    return Column(_text(one.edges[0], rails.closed), _text(one.edges[1], rails.closed), lines)


def _text(edge: Floats, closed: bool) -> str:
    points = [_spot(p) for p in edge]
    return polyline_path(points[:-1] if closed and points[0] == points[-1] else points, closed)


def _spot(p: Floats) -> Point:
    return round(float(p[0]), 4), round(float(p[1]), 4)
