"""Fill: rows over an area with holes and islands, straight or turning, with a border if wanted."""

from collections.abc import Callable

import numpy as np
import shapely

from jontel.design.errors import CannotStitch
from jontel.design.ground import EdgesRecipe
from jontel.design.kinds import Underlay
from jontel.design.kinds.fill import OPEN, FillRecipe
from jontel.design.resolve import Resolved
from jontel.design.shapes import Area, Column, Line, Shape
from jontel.design.store import kept
from jontel.geometry.columns import rails_of
from jontel.geometry.frames import Frame, Straight, curved_frame
from jontel.geometry.polyline import Floats, flatten
from jontel.geometry.region import Region, largest, polygons_of, region_of
from jontel.geometry.strokes import legs_of
from jontel.stitching.automatic import area_underlay
from jontel.stitching.bed import AreaBed, to_next_part
from jontel.stitching.compensation import compensated_area
from jontel.stitching.covers.base import Generator
from jontel.stitching.covers.border import border_start, sew_border
from jontel.stitching.density import faded_spacing
from jontel.stitching.limits import afford
from jontel.stitching.rows.sewing import far_side, sew_rows
from jontel.stitching.rows.style import RowStyle
from jontel.stitching.stitches import Layer, Needle
from jontel.stitching.underlays import sew_underlay


def region_for(shape: Shape) -> Region:
    """The cloth that a fill on ``shape`` covers."""
    match shape:
        case Area(path=path, rule=rule):
            return region_of(Area(path, rule))
        case Line():
            outlines = [rails.outline() for rails in legs_of(shape)]
        case Column():
            outlines = [rails_of(shape).outline()]
    solid = [shapely.make_valid(shapely.Polygon(xy)) for xy in outlines if len(xy) >= 3]
    return polygons_of(shapely.unary_union(solid))


def begins_at(shape: Shape) -> Floats:
    """Where the outline of a shape was begun."""
    first: Floats = flatten(shape.edge if isinstance(shape, Column) else shape.path)[0].xy[0]
    return first


def frame_for(shape: Shape, angle: float) -> Frame:
    """The frame that the rows of a fill on ``shape`` lie level in. Raises ``CannotStitch``."""
    if isinstance(shape, Area) and (shape.lines or shape.guide):
        return curved_frame(shape)
    return Straight(angle)


@kept
def sewn_region(shape: Shape, edges: EdgesRecipe, angle: float) -> Region:
    """The compensated area: what is sewn so that the cloth ends up as drawn. Raises ``CannotStitch``."""
    frame = frame_for(shape, angle)
    return frame.cloth(compensated_area(frame.level(region_for(shape)), edges, frame.angle))


def sew(item: Resolved, recipe: FillRecipe, entry: Floats | None, exit_: Floats | None) -> Needle:
    """Sew every part, nearest first: its underlay, its rows, its border, ending at the exit."""
    region = sewn_region(item.shape, item.edges, recipe.angle)
    parts = list(region.geoms)
    if not parts:
        raise CannotStitch("it encloses no area that holds a stitch; enlarge it or make it a run")
    afford(region.area / recipe.spacing, recipe.length)
    frame = frame_for(item.shape, recipe.angle)
    style = RowStyle(
        spacing=recipe.spacing,
        length=recipe.length,
        pattern=recipe.pattern,
        brick_offset=recipe.brick_offset,
        brick_rows=recipe.brick_rows,
        pull_percent=item.edges.pull_percent,
        pull_ceiling=item.edges.pull_ceiling,
        ragged=recipe.ragged,
        seed=recipe.seed,
        along_rim=recipe.travel == "rim",
        opened=opened(recipe, region),
    )
    needle, begins = Needle(entry), begins_at(item.shape)
    while parts:
        anywhere = needle.at is None
        part, start = to_next_part(parts, needle, exit_, begins)
        passes = item.underlay
        if passes is None:
            passes = area_underlay(item.area_underlay, part, widest(recipe))
        if not parts:
            goal = exit_ if exit_ is not None else far_side(part, frame, start)
        else:
            onward = min(parts, key=part.distance)
            goal = np.asarray(shapely.shortest_line(part, onward).coords[0])
        if anywhere and not passes and widest(recipe) > OPEN:  # a way to the first row would lie on show
            needle.jump(far_side(part, frame, goal))
        sew_underlay(passes, AreaBed(part, frame.angle), needle)
        pinned = exit_ is not None or bool(parts)
        if recipe.border == "none":
            sew_rows(part, style, frame, Layer.COVER, needle, goal, pinned)
            continue
        drawn = max(region_for(item.shape).geoms, key=lambda one: one.intersection(part).area)
        sew_rows(part, style, frame, Layer.COVER, needle, border_start(drawn, recipe, goal))
        sew_border(drawn, recipe, item.edges, needle)
    return needle


def widest(recipe: FillRecipe) -> float:
    """How far apart rows come to lie at most, mm."""
    return max(recipe.spacing, recipe.fade_to) if recipe.fade != "none" else recipe.spacing


def opened(recipe: FillRecipe, region: Region) -> Callable[[Floats], Floats] | None:
    """How far apart rows are wanted at places (n, 2), mm, (n,), where the fill fades; else ``None``."""
    if recipe.fade == "none":
        return None
    angle = np.radians(recipe.fade_angle)
    way = np.array([np.cos(angle), -np.sin(angle)])
    ends = shapely.get_coordinates(region) @ way
    low, high = float(ends.min()), float(ends.max())
    return lambda xy: faded_spacing(recipe, (xy @ way - low) / max(high - low, 1e-9))


def edge(item: Resolved) -> Region:
    """The compensated area, with a satin border along the drawn rim when there is one. Raises ``CannotStitch``."""
    recipe = item.cover
    assert isinstance(recipe, FillRecipe)
    sewn = sewn_region(item.shape, item.edges, recipe.angle)
    return _bordered(sewn, region_for(item.shape), recipe.border_width) if recipe.border == "satin" else sewn


@kept
def _bordered(sewn: Region, drawn: Region, width: float) -> Region:
    """What a fill with a satin border along its drawn rim covers."""
    return polygons_of(sewn | drawn.boundary.buffer(width / 2, cap_style="flat", join_style="mitre"))


def narrow_side(item: Resolved) -> float:
    """The narrow side of the smallest rectangle round the drawn area, mm; 0 where it encloses nothing."""
    region = region_for(item.shape)
    if region.is_empty:
        return 0.0
    box = shapely.get_coordinates(region.minimum_rotated_rectangle)
    return float(np.hypot(*np.diff(box[:3], axis=0).T).min())


def passes(item: Resolved) -> tuple[Underlay, ...]:
    """The ground's passes, as far as the largest part holds them. Raises ``CannotStitch``."""
    recipe = item.cover
    assert isinstance(recipe, FillRecipe)
    sewn = sewn_region(item.shape, item.edges, recipe.angle)
    return area_underlay(item.area_underlay, largest(sewn), widest(recipe))


GENERATOR = Generator(sew, edge, narrow_side, passes)
