"""Direction lines of a shape: adding, moving and taking them away."""

import numpy as np
import shapely
from msgspec.structs import replace

from jontel.design.errors import CannotStitch
from jontel.design.shapes import UNCORRECTED, Area, Column, Lines, Point, Shape
from jontel.geometry.bands import band_of
from jontel.geometry.polyline import at_lengths, flatten, nearest_length

LEAST = 0.5


def lines_of(shape: Shape, satin: bool) -> Lines:
    """The direction lines of a shape; for a satin on an area of one stroke those that are worked out.

    One of several strokes has only those that were drawn: they hold near them, and rows find their own way elsewhere.
    """
    match shape:
        case Column(lines=lines):
            return lines
        case Area(lines=lines):
            if not satin or shape.columns != UNCORRECTED:
                return lines
            try:
                column = band_of(shape)
            except CannotStitch:
                return ()
            return column.lines if column is not None else lines
    return ()


def with_line(shape: Shape, start: Point, stop: Point, satin: bool) -> Shape:
    """``shape`` with a direction line from ``start`` to ``stop``.

    On a column its ends are brought to the edges. An area of one stroke that is sewn as a satin becomes the column
    that it was worked out as, so that its lines can be changed.

    Raises ``CannotStitch`` when the line is too short or the shape takes none.
    """
    if np.hypot(stop[0] - start[0], stop[1] - start[1]) < LEAST:
        raise CannotStitch("a direction line needs a length; drag it across the shape")
    match _changeable(shape, satin):
        case Column() as column:
            return replace(column, lines=(*column.lines, _on_edges(column, start, stop)))
        case Area() as area:
            return replace(area, lines=(*area.lines, (start, stop)), guide=None)
    raise CannotStitch("a line has no direction lines: its stitches follow it")


def with_end_moved(shape: Shape, number: int, end: int, to: Point, satin: bool) -> Shape:
    """``shape`` with one end (0 or 1) of direction line ``number`` at ``to``, on a column at its edge."""
    found = _changeable(shape, satin)
    if isinstance(found, Column | Area) and number < len(found.lines):
        line = found.lines[number]
        line = (to, line[1]) if end == 0 else (line[0], to)
        if isinstance(found, Column):
            line = _snapped(found, line)
        lines = (*found.lines[:number], line, *found.lines[number + 1 :])
        return replace(found, lines=lines)
    return shape


def without_line(shape: Shape, number: int, satin: bool) -> Shape:
    """``shape`` without direction line ``number``."""
    found = _changeable(shape, satin)
    if isinstance(found, Column | Area):
        return replace(found, lines=(*found.lines[:number], *found.lines[number + 1 :]))
    return shape


def _changeable(shape: Shape, satin: bool) -> Shape:
    found = isinstance(shape, Area) and satin and shape.columns == UNCORRECTED
    band = band_of(shape) if found and isinstance(shape, Area) else None
    return shape if band is None else band


def _on_edges(column: Column, start: Point, stop: Point) -> tuple[Point, Point]:
    """A line drawn across a column, brought to where it or its ends meet the two edges."""
    one, other = (shapely.LineString(flatten(path)[0].loop()) for path in (column.edge, column.other_edge))
    drawn = shapely.LineString([start, stop])
    if one.distance(shapely.Point(start)) > one.distance(shapely.Point(stop)):
        start, stop = stop, start
    line = (start, stop)
    crossings = [drawn.intersection(edge) for edge in (one, other)]
    if all(not one.is_empty for one in crossings):
        spots = [shapely.get_coordinates(one)[0] for one in crossings]
        line = ((float(spots[0][0]), float(spots[0][1])), (float(spots[1][0]), float(spots[1][1])))
    return _snapped(column, line)


def _snapped(column: Column, line: tuple[Point, Point]) -> tuple[Point, Point]:
    """The nearest places on the two edges."""
    found = []
    for path, point in zip((column.edge, column.other_edge), line, strict=True):
        loop = flatten(path)[0].loop()
        spot = at_lengths(loop, np.array([nearest_length(loop, point)]))[0]
        found.append((round(float(spot[0]), 4), round(float(spot[1]), 4)))
    return found[0], found[1]
