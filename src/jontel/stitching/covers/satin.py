"""Satin: rows from edge to edge of a column, along a line or between two edges."""

import dataclasses
from collections.abc import Sequence

import numpy as np
import shapely
from msgspec.structs import replace

from jontel.design.errors import CannotStitch
from jontel.design.ground import EdgesRecipe
from jontel.design.kinds import Underlay
from jontel.design.kinds.satin import SatinRecipe
from jontel.design.resolve import Resolved
from jontel.design.shapes import Area, Column, Line, Lines, Shape
from jontel.design.store import kept
from jontel.geometry.columns import SAMPLE, Rails, all_covered, covered, directed, rails_of
from jontel.geometry.decompose import STRAYS, Stroke, Strokes, strokes_of
from jontel.geometry.outline import smooth
from jontel.geometry.polyline import Floats, Polyline, at_lengths, flatten, lengths
from jontel.geometry.region import Region, largest, polygons_of, region_of
from jontel.geometry.strokes import legs_of
from jontel.stitching.automatic import column_underlay
from jontel.stitching.bed import AreaBed, ColumnBed, go, go_along
from jontel.stitching.columns import NO_SIDES, Sides, held_open, limited, row_angle, satin_points, sides_of
from jontel.stitching.compensation import compensated_rails, inset_rails
from jontel.stitching.covers.base import Generator
from jontel.stitching.limits import afford
from jontel.stitching.running import run_points
from jontel.stitching.stitches import SHORTEST, Layer, Needle
from jontel.stitching.underlays import sew_underlay
from jontel.stitching.writing import Writing

ROUND_CORNERS = 0.9
"""Rows at a corner that are shorter than this part of the longest belong to its tip."""
ROUNDED = 0.05
"""So far, mm, joined legs may go beyond them."""
HAIRLINE, MOSTLY, HAIRLINE_STITCH = 0.45, 0.9, 2.0
"""Strokes narrower than the first, mm, over the second part of their way are sewn as a run of such stitches, mm, along
their axis."""
AXIS_SAMPLE, AXIS_SMOOTH = 0.25, 2.0
"""Their axis is smoothed over so many of its points, so many mm apart."""
UNDER_LAYER = 1.5
"""Under layers of a raised satin are so much more open than the one on top."""


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
            found = [stroke.rails for part in parts_of(shape) for stroke in part.strokes]
    found = [rails for rails in found if len(rails.a) >= 2]
    if not isinstance(shape, Area):
        found = [rails for rails in found if rails.widths().max() >= SHORTEST]
    if not found:
        raise CannotStitch("it is narrower than a safe stitch; widen it or make it a run")
    return tuple(found)


@kept
def parts_of(area: Area) -> tuple[Strokes, ...]:
    """The strokes of each connected part of an area. Raises ``CannotStitch`` where it has none."""
    region = region_of(Area(area.path, area.rule))
    found = strokes_of(region)
    for part, strokes in zip(region.geoms, found, strict=True):
        if not strokes.fit:
            bare = largest(polygons_of(part.difference(all_covered([one.rails for one in strokes.strokes]))))
            spot = (part if bare.is_empty else bare).representative_point()
            told = f"its strokes cover {strokes.covers:.0%} of it and {strokes.beyond:.0%} beside it"
            if strokes.strays > STRAYS:
                told = f"rows of its strokes would pass {strokes.strays:.1f} mm outside it"
            raise CannotStitch(f"{told}; make it a fill", (spot.x, spot.y))
    return tuple(_with_lines(strokes, area.lines) for strokes in found) if area.lines else found


def _with_lines(strokes: Strokes, lines: Lines) -> Strokes:
    """Strokes whose rows follow the direction lines that cross them."""
    turned = [dataclasses.replace(one, rails=directed(one.rails, lines)) for one in strokes.strokes]
    return dataclasses.replace(strokes, strokes=tuple(turned))


def sew(item: Resolved, recipe: SatinRecipe, entry: Floats | None, exit_: Floats | None) -> Needle:
    """Sew the columns in order, each with its underlay first, from the end nearer to the entry.

    With the underlay once for all, it lies under their union and is sewn before the first of them. Strokes of an area
    are sewn so that the thread need not be cut.
    """
    found = columns_of(item.shape)
    area = isinstance(item.shape, Area)
    if area and (len(found) > 1 or _is_hairline(_as_sewn(found[0], recipe, item.edges))):
        return _write(item, recipe, entry, exit_)
    columns = [limited(rails, recipe) for rails in found]
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
    sew_columns(columns, recipe, item.edges, underlay, needle, entry, exit_, held=area)
    return needle


def _write(item: Resolved, recipe: SatinRecipe, entry: Floats | None, exit_: Floats | None) -> Needle:
    """Sew the strokes of each part of an area, the nearest part first, that of the exit last."""
    assert isinstance(item.shape, Area)
    parts = [
        (part, [_as_sewn(_ending_under(stroke), recipe, item.edges) for stroke in part.strokes])
        for part in parts_of(item.shape)
    ]
    afford(
        2 * recipe.layers * sum(float(lengths(one.middle)[-1]) for _, rails in parts for one in rails), recipe.spacing
    )

    def underlay(rails: Rails, needle: Needle) -> None:
        sew_underlay(_own_passes(rails) if item.underlay is None else item.underlay, ColumnBed(rails), needle)

    def cover(rails: Rails, needle: Needle, last: int | None) -> None:
        if _is_hairline(rails):
            needle.sew(run_points(_axis(rails), HAIRLINE_STITCH), Layer.COVER)
            return
        _sew_layers(rails, recipe, needle, Sides(0, last))

    needle = Needle(entry)
    while parts:
        at = needle.at if needle.at is not None else parts[0][1][0].middle[0]
        far = [min(float(np.hypot(*(one.middle - at).T).min()) for one in rails) for _, rails in parts]
        if exit_ is not None and len(parts) > 1:
            last = [min(float(np.hypot(*(one.middle - exit_).T).min()) for one in rails) for _, rails in parts]
            far[int(np.argmin(last))] = np.inf
        part, rails = parts.pop(int(np.argmin(far)))
        Writing(part, rails, underlay, cover).write(
            needle, None if needle.at is None else needle.at, None if parts else exit_
        )
    return needle


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


def sew_columns(
    columns: Sequence[Rails],
    recipe: SatinRecipe,
    edges: EdgesRecipe,
    underlay: tuple[Underlay, ...] | None,
    needle: Needle,
    entry: Floats | None,
    exit_: Floats | None = None,
    held: bool = False,
) -> None:
    """Sew drawn columns in order, compensated by ``edges``; ``underlay`` ``None`` is chosen for what it lies under.

    Rows are no narrower than a safe stitch if they are to be ``held`` open. Legs of one line share their underlay, so that all of it lies under all of their covers.
    """
    sewn = [compensated_rails(drawn, edges) for drawn in columns]
    lines = _lines_of([held_open(rails) for rails in sewn] if held else sewn)
    for number, line in enumerate(lines):
        legs = _from_needle(line, needle, turn=number > 0)
        whole = _joined(legs)
        if number:
            needle.jump(legs[0].middle[0])
        elif not legs[0].closed and not needle.sewing:
            needle.at = legs[0].middle[0] if entry is None else entry
        passes = _own_passes(whole) if underlay is None else underlay
        beds = [whole] if not passes or _inside(whole, legs) else legs
        for bed in beds:
            sew_underlay(passes, ColumnBed(bed), needle)
        for bed in beds[::-1]:
            go_along(bed, needle, bed.middle[0])
        for leg, rails in enumerate(legs):
            begins, ends = number + leg == 0, number == len(lines) - 1 and leg == len(legs) - 1
            sides = sides_of(rails, entry if begins else None, exit_ if ends else None)
            _sew_layers(rails, recipe, needle, sides)


def _lines_of(columns: Sequence[Rails]) -> list[list[Rails]]:
    """Columns in order, those together of which each begins where the one before ends; a closed one has no ends."""
    found: list[list[Rails]] = []
    for rails in columns:
        last = found[-1][-1] if found else None
        open_ = last is not None and not last.closed and not rails.closed
        if last is not None and open_ and _apart(last.middle[-1], rails.middle[0]) <= _touching(last, rails):
            found[-1].append(rails)
        else:
            found.append([rails])
    return found


def _from_needle(legs: list[Rails], needle: Needle, turn: bool) -> list[Rails]:
    """The legs of one line from where the needle is: a closed one round from there, an open one turned if it may."""
    if needle.at is None:
        return legs
    if legs[0].closed:
        return [legs[0].started_near(needle.at)]
    if _comes_round(legs):
        first = int(np.argmin([_apart(rails.middle[0], needle.at) for rails in legs]))
        return legs[first:] + legs[:first]
    if turn and _apart(legs[-1].middle[-1], needle.at) < _apart(legs[0].middle[0], needle.at):
        return [rails.reversed() for rails in legs[::-1]]
    return legs


def _comes_round(legs: Sequence[Rails]) -> bool:
    """Whether the last of several legs ends at the corner at which the first begins."""
    first, last = legs[0], legs[-1]
    corners = len(legs) > 1 and first.fixed_ends[0] and last.fixed_ends[1]
    return corners and _apart(last.middle[-1], first.middle[0]) <= _touching(last, first)


def _joined(legs: Sequence[Rails]) -> Rails:
    """Legs of one line as one column, which goes round their corners without going into them."""
    if len(legs) == 1:
        return legs[0]
    ring = _comes_round(legs)
    parts: list[Rails] = []
    for number, rails in enumerate(legs):
        width = rails.widths()
        full = np.flatnonzero(width > ROUND_CORNERS * width.max())
        first = int(full[0]) if number > 0 or ring else 0
        last = int(full[-1]) + 1 if number < len(legs) - 1 or ring else len(width)
        parts.append(Rails(rails.a[first:last], rails.b[first:last]))
    parts += [Rails(parts[0].a[:1], parts[0].b[:1])] if ring else []
    a, b = np.vstack([one.a for one in parts]), np.vstack([one.b for one in parts])
    return Rails(a, b, ring, (legs[0].fixed_ends[0], legs[-1].fixed_ends[1]))


def _inside(whole: Rails, legs: Sequence[Rails]) -> bool:
    """Whether legs joined as one column go beyond them nowhere."""
    if len(legs) == 1:
        return True
    cloth = all_covered(legs).buffer(ROUNDED)
    return bool(shapely.covers(cloth, shapely.MultiLineString([whole.a, whole.b])))


def _sew_layers(rails: Rails, recipe: SatinRecipe, needle: Needle, sides: Sides) -> None:
    """Sew the layers of a raised satin, the narrowest first, there and back; the last runs as the column does."""
    for below in range(recipe.layers - 1, -1, -1):
        layer = inset_rails(rails, below * recipe.layer_inset) if below else rails
        if below % 2 == 1:
            layer = layer.reversed()
        go_along(rails, needle, layer.middle[0])
        style = (
            replace(recipe, spacing=recipe.spacing * UNDER_LAYER, fade="none", feather_first=0.0, feather_second=0.0)
            if below
            else recipe
        )
        needle.sew(satin_points(layer, style, NO_SIDES if below else sides), Layer.COVER)


def _apart(p: Floats, q: Floats) -> float:
    return float(np.hypot(*(p - q)))


def _touching(one: Rails, other: Rails) -> float:
    """Columns whose ends are nearer than this are legs of one line."""
    return 1.2 * max(float(one.widths().max()), float(other.widths().max())) + 1.0


def _ends_backwards(columns: Sequence[Rails], entry: Floats | None, exit_: Floats | None) -> bool:
    """Whether the columns are to be sewn from the last to the first."""
    first, last = columns[0].middle[0], columns[-1].middle[-1]
    if exit_ is not None and abs(_apart(first, exit_) - _apart(last, exit_)) > 0.5:
        return _apart(first, exit_) < _apart(last, exit_)
    return entry is not None and _apart(last, entry) < _apart(first, entry)


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
        rails = [_as_sewn(one, limits, edges) for one in columns_of(shape)]
    else:
        rails = [compensated_rails(limited(one, limits), edges) for one in columns_of(shape)]
    return polygons_of(all_covered(rails))


def mean_width(item: Resolved) -> float:
    """How wide the first column is drawn on average, mm. Raises ``CannotStitch``."""
    return float(columns_of(item.shape)[0].widths().mean())


def passes(item: Resolved) -> tuple[Underlay, ...]:
    """By the width and the area of the first column. Raises ``CannotStitch``."""
    return _own_passes(compensated_rails(columns_of(item.shape)[0], item.edges))


def _own_passes(rails: Rails) -> tuple[Underlay, ...]:
    """The automatic underlay of a column, by its mean width and its area."""
    mean = float(rails.widths().mean())
    return column_underlay(mean, mean * float(lengths(rails.middle)[-1]))


GENERATOR = Generator(sew, edge, mean_width, passes)
