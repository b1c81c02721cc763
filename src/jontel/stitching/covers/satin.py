"""Satin: rows from edge to edge of a column, along a line, between two edges, or along the strokes of an area."""

import contextlib
import math
from collections.abc import Sequence

import numpy as np
import shapely
from msgspec.structs import replace
from shapely import Polygon, affinity
from shapely.geometry.base import BaseGeometry

from jontel.design.errors import CannotStitch
from jontel.design.ground import EdgesRecipe
from jontel.design.kinds import Underlay
from jontel.design.kinds.fill import FillRecipe
from jontel.design.kinds.satin import SatinRecipe
from jontel.design.resolve import Resolved
from jontel.design.shapes import Area, Column, Line, Point, Shape
from jontel.design.store import kept
from jontel.geometry.columns import SAMPLE, Rails, all_covered, covered, rails_of
from jontel.geometry.decompose import Stroke, Strokes, at_home, strokes_at_home
from jontel.geometry.outline import smooth
from jontel.geometry.polyline import Floats, Polyline, at_lengths, flatten, lengths
from jontel.geometry.region import Region, path_of, polygons_of
from jontel.geometry.strokes import legs_of
from jontel.stitching.automatic import column_underlay
from jontel.stitching.bed import AreaBed, ColumnBed, go
from jontel.stitching.columns import Sides, held_open, limited, row_angle
from jontel.stitching.compensation import compensated_rails
from jontel.stitching.covers import fill
from jontel.stitching.covers.base import Generator
from jontel.stitching.legs import own_passes, sew_columns, sew_layers
from jontel.stitching.limits import afford
from jontel.stitching.parts import Part, lines_across, parts_of
from jontel.stitching.running import run_points
from jontel.stitching.stitches import SHORTEST, Layer, Needle, Stitches
from jontel.stitching.underlays import sew_underlay
from jontel.stitching.writing import Cover, Lay, Writing

HAIRLINE, MOSTLY, HAIRLINE_STITCH = 0.45, 0.9, 2.0
"""Strokes narrower than the first, mm, over the second part of their way are sewn as a run of such stitches, mm."""
PLACE_DIGITS = 3
"""A letter is entered and left at the same places if they are to so many digits of a mm."""
AXIS_SAMPLE, AXIS_SMOOTH = 0.25, 2.0
"""Their axis is smoothed over so many of its points, so many mm apart."""


@kept
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
    return tuple(found)


def sew(item: Resolved, recipe: SatinRecipe, entry: Floats | None, exit_: Floats | None) -> Needle:
    """Sew the columns in order, each with its underlay first, from the end nearer to the entry.

    With the underlay once for all, it lies under their union and is sewn before the first of them. Strokes of an area
    are sewn so that the thread need not be cut, and parts that no strokes fit as fills.
    """
    area = item.shape if isinstance(item.shape, Area) else None
    if area is not None and not _is_one_column(area, item, recipe):
        return _write(area, item, recipe, entry, exit_)
    columns = [limited(rails, recipe) for rails in columns_of(item.shape)]
    afford(2 * recipe.layers * sum(float(lengths(one.middle)[-1]) for one in columns), recipe.spacing)
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


def _is_one_column(area: Area, item: Resolved, recipe: SatinRecipe) -> bool:
    """Whether an area is a single column that holds rows."""
    parts = parts_of(area)
    single = len(parts) == 1 and len(parts[0].strokes.strokes) == 1 and not _is_filled(parts[0], _most(recipe))
    return single and not _is_hairline(_as_sewn(parts[0].strokes.strokes[0].rails, recipe, item.edges))


def _most(recipe: SatinRecipe) -> float:
    """Strokes wider than this, mm, are filled."""
    return recipe.wide_over if recipe.wide == "filled" else math.inf


def _is_filled(part: Part, most: float) -> bool:
    """Whether a part is to be filled: no strokes fit it, or one of them is wider than ``most`` mm on average."""
    widths = [float(stroke.rails.widths().mean()) for stroke in part.strokes.strokes]
    return not part.strokes.fit or max(widths, default=0.0) > most


def _write(area: Area, item: Resolved, recipe: SatinRecipe, entry: Floats | None, exit_: Floats | None) -> Needle:
    """Sew the parts of an area: in the order in which they are drawn, where it says so.

    Else it is the nearest part first, that of the exit last.
    """
    parts = list(parts_of(area))
    if not parts:
        raise CannotStitch("it encloses no area that holds a stitch; enlarge it or make it a run")
    afford(sum(2 * recipe.layers * _long(part) for part in parts), recipe.spacing)
    needle = Needle(entry)
    while parts:
        goal = exit_ if len(parts) == 1 else None
        part = parts.pop(0 if area.in_order else _next(parts, needle.at, exit_))
        if _is_filled(part, _most(recipe)):
            _sew_as_fill(part, item, recipe, needle, goal)
            continue
        if area.in_order and parts and goal is None:
            goal = np.asarray(shapely.shortest_line(part.cloth, parts[0].cloth).coords[0])
        if area.in_order and not area.lines:
            _write_letter(part.cloth, item, recipe, needle, goal)
        else:
            _write_part(part.strokes, recipe, item.edges, item.underlay, needle, goal)
    return needle


def _write_part(
    strokes: Strokes,
    recipe: SatinRecipe,
    edges: EdgesRecipe,
    underlay: tuple[Underlay, ...] | None,
    needle: Needle,
    goal: Floats | None,
) -> None:
    """Sew the strokes of one part."""
    rails = [_as_sewn(_ending_under(stroke), recipe, edges) for stroke in strokes.strokes]
    Writing(strokes, rails, _underlay(underlay), _cover(recipe)).write(needle, needle.at, goal)


def _write_letter(cloth: Polygon, item: Resolved, recipe: SatinRecipe, needle: Needle, goal: Floats | None) -> None:
    """Sew one letter, as it was sewn before where the same one was entered and left at the same places."""
    home, corner = at_home(cloth)
    at, to = (None if place is None else _seen_from(place, corner) for place in (needle.at, goal))
    sewn = _letter(home, recipe, item.edges, item.underlay, at, to)
    moved = Stitches(sewn.xy + corner, sewn.kind, sewn.layer)
    if needle.sewing:
        needle.jump(moved.xy[0])
    needle.follow(moved)


def _seen_from(place: Floats, corner: Floats) -> Point:
    x, y = np.round(place - corner, PLACE_DIGITS)
    return float(x), float(y)


@kept
def _letter(
    home: Polygon,
    recipe: SatinRecipe,
    edges: EdgesRecipe,
    underlay: tuple[Underlay, ...] | None,
    at: Point | None,
    goal: Point | None,
) -> Stitches:
    """The stitches of a letter at home, from the place nearest to ``at`` to that nearest to ``goal``."""
    start, stop = (None if place is None else np.array(place) for place in (at, goal))
    needle = Needle(start)
    _write_part(strokes_at_home(home), recipe, edges, underlay, needle, stop)
    return needle.stitches()


def _long(part: Part) -> float:
    """How long the strokes of a part are together, mm."""
    return sum(float(lengths(stroke.rails.middle)[-1]) for stroke in part.strokes.strokes)


def _next(parts: Sequence[Part], at: Floats | None, exit_: Floats | None) -> int:
    """The number of the part nearest to the needle, but for that of the exit while there are others."""
    if at is None:
        return 0 if exit_ is None or len(parts) == 1 else _far_from(parts, exit_)
    clothes = np.array([part.cloth for part in parts])
    far = shapely.distance(clothes, shapely.Point(at))
    if exit_ is not None and len(parts) > 1:
        far[int(np.argmin(shapely.distance(clothes, shapely.Point(exit_))))] = np.inf
    return int(np.argmin(far))


def _far_from(parts: Sequence[Part], exit_: Floats) -> int:
    """The number of the first part that is not the nearest to the exit."""
    return int(np.argmin(shapely.distance(np.array([part.cloth for part in parts]), shapely.Point(exit_))) == 0)


def _underlay(passes: tuple[Underlay, ...] | None) -> Lay:
    def lay(rails: Rails, needle: Needle) -> None:
        sew_underlay(own_passes(rails) if passes is None else passes, ColumnBed(rails), needle)

    return lay


def _cover(recipe: SatinRecipe) -> Cover:
    def cover(rails: Rails, needle: Needle, last: int | None) -> None:
        if _is_hairline(rails):
            needle.sew(run_points(_axis(rails), HAIRLINE_STITCH), Layer.COVER)
            return
        sew_layers(rails, recipe, needle, Sides(0, last))

    return cover


def _sew_as_fill(part: Part, item: Resolved, recipe: SatinRecipe, needle: Needle, goal: Floats | None) -> None:
    """Sew a part that no strokes fit as the fill it is."""
    whole = _as_fill(part, item, recipe)
    assert isinstance(whole.cover, FillRecipe)
    sewn = fill.sew(whole, whole.cover, needle.at, goal).stitches()
    if needle.sewing:
        needle.jump(sewn.xy[0])
    needle.follow(sewn)


def _as_fill(part: Part, item: Resolved, recipe: SatinRecipe) -> Resolved:
    """A part of an area as a fill."""
    shape, angle = _filled(part)
    return replace(item, shape=shape, cover=FillRecipe(spacing=recipe.spacing, angle=angle))


def _filled(part: Part) -> tuple[Area, float]:
    """A part as an area whose rows turn with its strokes, or else lie across its long way, and the angle of that."""
    box = shapely.get_coordinates(part.cloth.minimum_rotated_rectangle)
    sides = np.diff(box[:3], axis=0)
    across = sides[int(np.argmin(np.hypot(*sides.T)))] if len(sides) == 2 else np.array([1.0, 0.0])
    angle = round(float(np.degrees(np.arctan2(-across[1], across[0]))) % 180, 1)
    shape = Area(path_of(polygons_of(part.cloth)))
    if part.strokes.fit:
        turning = replace(shape, lines=lines_across(part))
        with contextlib.suppress(CannotStitch):  # rows that would run into each other keep one angle
            fill.frame_for(turning, angle)
            shape = turning
    return shape, angle


def _ending_under(stroke: Stroke) -> Rails:
    """A stroke whose ends under others are not pushed back."""
    return Rails(stroke.rails.a, stroke.rails.b, stroke.rails.closed, stroke.under)


def _as_sewn(rails: Rails, recipe: SatinRecipe, edges: EdgesRecipe) -> Rails:
    """A stroke in its width limits and compensated, its rows no narrower than a safe stitch."""
    sewn = compensated_rails(limited(rails, recipe), edges)
    return sewn if _is_hairline(sewn) else held_open(sewn)


def _axis(rails: Rails) -> Polyline:
    """The middle of a column as a smooth line."""
    along = lengths(rails.middle)
    count = max(2, round(float(along[-1]) / AXIS_SAMPLE))
    xy = smooth(at_lengths(rails.middle, np.linspace(0, along[-1], count + 1), along), AXIS_SMOOTH)
    return Polyline(xy, False, np.zeros(len(xy), dtype=bool))


def _is_hairline(rails: Rails) -> bool:
    """Whether a column is too thin for rows nearly all along, so that a line of thread covers it."""
    return float(np.quantile(rails.widths(), MOSTLY)) < HAIRLINE


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
    widths = (recipe.least_width, recipe.greatest_width, recipe.narrow_extra)
    return _edge(item.shape, item.edges, widths, _most(recipe))


@kept
def _edge(shape: Shape, edges: EdgesRecipe, widths: tuple[float, float, float], most: float) -> Region:
    least, greatest, extra = widths
    limits = SatinRecipe(least_width=least, greatest_width=greatest, narrow_extra=extra)
    if not isinstance(shape, Area):
        return polygons_of(all_covered([compensated_rails(limited(one, limits), edges) for one in columns_of(shape)]))
    rails: list[Rails] = []
    clothes: list[BaseGeometry] = []
    for part in parts_of(shape):
        if _is_filled(part, most):
            area, angle = _filled(part)
            clothes.append(fill.sewn_region(area, edges, angle))
        elif shape.in_order and not shape.lines:
            home, (x, y) = at_home(part.cloth)
            clothes.append(affinity.translate(_letter_edge(home, edges, widths), x, y))
        else:
            rails += [_as_sewn(stroke.rails, limits, edges) for stroke in part.strokes.strokes]
    return polygons_of(shapely.unary_union([all_covered(rails), *clothes]))


@kept
def _letter_edge(home: Polygon, edges: EdgesRecipe, widths: tuple[float, float, float]) -> Region:
    """What is sewn of a letter at home."""
    least, greatest, extra = widths
    limits = SatinRecipe(least_width=least, greatest_width=greatest, narrow_extra=extra)
    rails = [_as_sewn(stroke.rails, limits, edges) for stroke in strokes_at_home(home).strokes]
    return polygons_of(all_covered(rails))


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
            return fill.passes(_as_fill(parts[0], item, recipe))
    return own_passes(compensated_rails(columns_of(item.shape)[0], item.edges))


GENERATOR = Generator(sew, edge, mean_width, passes)
