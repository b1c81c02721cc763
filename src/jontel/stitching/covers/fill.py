"""Fill: parallel rows over an area with holes and islands."""

from functools import lru_cache

import numpy as np
import shapely

from jontel.design.covers import FillRecipe
from jontel.design.errors import CannotStitch
from jontel.design.ground import EdgesRecipe
from jontel.design.resolve import Resolved
from jontel.design.shapes import Area, Column, Line, Shape
from jontel.geometry.columns import rails_of
from jontel.geometry.polyline import Floats
from jontel.geometry.region import Region, polygons_of, region_of
from jontel.geometry.strokes import legs_of
from jontel.stitching.automatic import fill_underlay
from jontel.stitching.bed import AreaBed
from jontel.stitching.compensation import compensated_area, frame, turned
from jontel.stitching.rows import RowStyle, sew_rows
from jontel.stitching.stitches import Layer, Needle
from jontel.stitching.underlays import sew_underlay


def region_for(shape: Shape) -> Region:
    """The cloth that a fill on ``shape`` covers."""
    match shape:
        case Area():
            return region_of(shape)
        case Line():
            outlines = [rails.outline() for rails in legs_of(shape)]
        case Column():
            outlines = [rails_of(shape).outline()]
    solid = [shapely.make_valid(shapely.Polygon(xy)) for xy in outlines if len(xy) >= 3]
    return polygons_of(shapely.unary_union(solid))


@lru_cache(maxsize=2048)
def sewn_region(shape: Shape, edges: EdgesRecipe, angle: float) -> Region:
    """The compensated area: what is sewn so that the cloth ends up as drawn."""
    level = compensated_area(turned(region_for(shape), angle), edges)
    return turned(level, -angle)


def sew(item: Resolved, recipe: FillRecipe, entry: Floats | None, exit_: Floats | None) -> Needle:
    """Sew every part, nearest first: its underlay, then its rows, ending at the exit."""
    region = sewn_region(item.shape, item.edges, recipe.angle)
    parts = list(region.geoms)
    if not parts:
        raise CannotStitch("it encloses no area that holds a stitch; enlarge it or make it a run")
    style = RowStyle(
        recipe.spacing,
        recipe.length,
        recipe.angle,
        recipe.brick_offset,
        recipe.brick_rows,
        item.edges.pull_percent,
        item.edges.pull_ceiling,
    )
    needle = Needle(entry)
    while parts:
        at = needle.at if needle.at is not None else np.asarray(parts[0].exterior.coords[0])
        part = parts.pop(int(np.argmin([p.distance(shapely.Point(at)) for p in parts])))
        start = np.asarray(shapely.shortest_line(part.exterior, shapely.Point(at)).coords[0])
        needle.jump(start)
        if not parts:
            goal = exit_ if exit_ is not None else far_side(part, recipe.angle, start)
        else:
            onward = min(parts, key=part.distance)
            goal = np.asarray(shapely.shortest_line(part, onward).coords[0])
        passes = item.underlay if item.underlay is not None else fill_underlay(item.fill_underlay, part.area)
        sew_underlay(passes, AreaBed(part, recipe.angle, goal), needle)
        sew_rows(part, style, Layer.COVER, needle, goal)
    return needle


def far_side(part: shapely.Polygon, angle: float, start: Floats) -> Floats:
    """The rim point at which rows that begin near ``start`` run out, so that none is travelled twice."""
    rim = np.asarray(part.exterior.coords)[:, :2]
    heights = rim @ frame(angle)[1]
    here = float(start @ frame(angle)[1])
    answer: Floats = rim[
        int(np.argmin(heights) if here - heights.min() > heights.max() - here else np.argmax(heights))
    ]
    return answer
