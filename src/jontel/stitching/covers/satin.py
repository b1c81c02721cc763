"""Satin: rows from edge to edge of a column, along a line, between two edges, or along the strokes of an area."""

import math
from collections.abc import Sequence

import numpy as np
import shapely

from jontel.design.errors import CannotStitch
from jontel.design.ground import EdgesRecipe
from jontel.design.home import homed
from jontel.design.kinds import Underlay
from jontel.design.kinds.satin import SatinRecipe
from jontel.design.resolve import Resolved
from jontel.design.shapes import Area, Column, Line, Point, Shape
from jontel.design.store import kept
from jontel.geometry.columns import SAMPLE, Rails, all_covered, covered, rails_of
from jontel.geometry.polyline import Floats, flatten, lengths
from jontel.geometry.region import Region, polygons_of
from jontel.geometry.strokes import legs_of
from jontel.stitching.automatic import column_underlay
from jontel.stitching.bed import AreaBed, go
from jontel.stitching.columns import limited, pieces_along, row_angle
from jontel.stitching.compensation import compensated_rails
from jontel.stitching.covers import fill
from jontel.stitching.covers.areas import area_edge, is_one_column, part_as_fill, write_area
from jontel.stitching.covers.base import Generator
from jontel.stitching.legs import own_passes, sew_columns
from jontel.stitching.limits import afford
from jontel.stitching.parts import parts_of
from jontel.stitching.stitches import SHORTEST, Needle
from jontel.stitching.underlays import sew_underlay

LEAST_LENGTH = 0.2
"""Columns that are shorter together, mm, would be several strokes into the same two holes."""


def _laid(columns: tuple[Rails, ...], at: Point) -> tuple[Rails, ...]:
    return tuple(rails.moved(at) for rails in columns)


@homed(_laid)
def columns_of(shape: Shape) -> tuple[Rails, ...]:
    """The columns that a satin on ``shape`` is sewn as, kept once found. Raises ``CannotStitch``."""
    edges = (shape.edge, shape.other_edge) if isinstance(shape, Column) else (shape.path,)
    afford(sum(float(lengths(one.loop())[-1]) for path in edges for one in flatten(path)), SAMPLE)
    match shape:
        case Line():
            found = legs_of(shape)
        case Column():
            found = [rails_of(shape)]
        case Area():
            found = [stroke.rails for part in parts_of(shape) if part.strokes.fit for stroke in part.strokes.strokes]
            if not found:
                raise CannotStitch("no strokes fit it; make it a fill")
    found = [rails for rails in found if len(rails.a) >= 2]
    if not isinstance(shape, Area):
        found = [rails for rails in found if rails.widths().max() >= SHORTEST]
    if not found:
        raise CannotStitch("it is narrower than a safe stitch; widen it or make it a run")
    if sum(float(lengths(rails.middle)[-1]) for rails in found) < LEAST_LENGTH:
        raise CannotStitch("it is shorter than a thread is broad; draw it longer or delete it")
    return tuple(found)


def sew(item: Resolved, recipe: SatinRecipe, entry: Floats | None, exit_: Floats | None) -> Needle:
    """Sew the columns in order, each with its underlay first, from the end nearer to the entry.

    With the underlay once for all, it lies under their union and is sewn before the first of them. Strokes of an area
    are sewn so that the thread need not be cut, and parts that no strokes fit as fills.
    """
    area = item.shape if isinstance(item.shape, Area) else None
    if area is not None and not is_one_column(area, item, recipe):
        return write_area(area, item, recipe, entry, exit_)
    columns = [limited(rails, recipe) for rails in columns_of(item.shape)]
    afford(2 * recipe.layers * sum(pieces_along(one, recipe) for one in columns), recipe.spacing)
    if _ends_backwards(columns, entry, exit_):
        columns = [rails.reversed() for rails in columns[::-1]]
    needle = Needle(entry)
    underlay = item.underlay
    if item.underlay_once and len(columns) > 1:
        sewn = [compensated_rails(rails, item.edges) for rails in columns]
        width = float(np.concatenate([rails.widths() for rails in sewn]).mean())
        length = sum(float(lengths(rails.middle)[-1]) for rails in sewn)
        passes = column_underlay(width, width * length) if underlay is None else underlay
        for part in polygons_of(shapely.unary_union([covered(rails) for rails in sewn])).geoms:
            start = needle.at if needle.at is not None else sewn[0].middle[0]
            rim = np.asarray(shapely.shortest_line(part, shapely.Point(start)).coords[0])
            needle.jump(rim)
            sew_underlay(passes, AreaBed(part, row_angle(sewn[0])), needle)
            go(part, needle, sewn[0].middle[0])
        underlay = ()
    sew_columns(columns, recipe, item.edges, underlay, needle, entry, exit_, held=area is not None)
    return needle


def _ends_backwards(columns: Sequence[Rails], entry: Floats | None, exit_: Floats | None) -> bool:
    """Whether the columns are to be sewn from the last to the first."""
    first, last = columns[0].middle[0], columns[-1].middle[-1]
    if exit_ is not None and abs(math.dist(first, exit_) - math.dist(last, exit_)) > 0.5:
        return math.dist(first, exit_) < math.dist(last, exit_)
    return entry is not None and math.dist(last, entry) < math.dist(first, entry)


def edge(item: Resolved) -> Region:
    """The compensated columns together. Raises ``CannotStitch``."""
    recipe = item.cover
    assert isinstance(recipe, SatinRecipe)
    return _edge(item.shape, item.edges, (recipe.least_width, recipe.greatest_width, recipe.narrow_extra))


@kept
def _edge(shape: Shape, edges: EdgesRecipe, widths: tuple[float, float, float]) -> Region:
    least, greatest, extra = widths
    limits = SatinRecipe(least_width=least, greatest_width=greatest, narrow_extra=extra)
    if isinstance(shape, Area):
        return area_edge(shape, edges, limits)
    return polygons_of(all_covered([compensated_rails(limited(one, limits), edges) for one in columns_of(shape)]))


def mean_width(item: Resolved) -> float:
    """How wide the first column is drawn on average, mm. Raises ``CannotStitch``."""
    if isinstance(item.shape, Area) and not any(part.strokes.fit for part in parts_of(item.shape)):
        return fill.narrow_side(item)
    return float(columns_of(item.shape)[0].widths().mean())


def passes(item: Resolved) -> tuple[Underlay, ...]:
    """By the width and the area of the first column, or as a fill has them. Raises ``CannotStitch``."""
    recipe = item.cover
    assert isinstance(recipe, SatinRecipe)
    if isinstance(item.shape, Area):
        parts = parts_of(item.shape)
        if parts and not any(part.strokes.fit for part in parts):
            return fill.passes(part_as_fill(parts[0], item, recipe))
    return own_passes(compensated_rails(columns_of(item.shape)[0], item.edges))


GENERATOR = Generator(sew, edge, mean_width, passes)
