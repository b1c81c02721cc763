"""Drawn columns sewn in order: legs of one line share their underlay, raised ones lie layer on layer."""

from collections.abc import Sequence

import numpy as np
import shapely
from msgspec.structs import replace

from jontel.design.ground import EdgesRecipe
from jontel.design.kinds import Underlay
from jontel.design.kinds.satin import SatinRecipe
from jontel.geometry.columns import Rails, all_covered
from jontel.geometry.inside import inside_path
from jontel.geometry.polyline import Floats, lengths
from jontel.geometry.region import polygons_of
from jontel.stitching.automatic import column_underlay
from jontel.stitching.bed import ALONG, ColumnBed, go, go_along
from jontel.stitching.columns import NO_SIDES, Sides, held_open, satin_points, sides_of
from jontel.stitching.compensation import compensated_rails, inset_rails
from jontel.stitching.filled import fill_column, is_wide
from jontel.stitching.stitches import Layer, Needle
from jontel.stitching.underlays import sew_underlay

ROUND_CORNERS = 0.9
"""Rows at a corner that are shorter than this part of the longest belong to its tip."""
ROUNDED = 0.05
"""So far, mm, joined legs may go beyond them."""
UNDER_LAYER = 1.5
"""Under layers of a raised satin are so much more open than the one on top."""


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

    Rows are no narrower than a safe stitch if they are to be ``held`` open. Legs of one line share their underlay, so
    that all of it lies under all of their covers.
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
        passes = own_passes(whole) if underlay is None else underlay
        beds = [whole] if not passes or _inside(whole, legs) else legs
        for leg, bed in enumerate(beds):
            if leg:
                go_along(beds[leg - 1], needle, beds[leg - 1].middle[-1])  # to the corner at which this one begins
                _round_the_corner(beds, leg, needle, beds[leg].middle[0])
            sew_underlay(passes, ColumnBed(bed), needle)
        for leg in range(len(beds) - 1, -1, -1):
            if leg < len(beds) - 1:
                _round_the_corner(beds, leg, needle, beds[leg].middle[-1])
            go_along(beds[leg], needle, beds[leg].middle[0])
        for leg, rails in enumerate(legs):
            begins, ends = number + leg == 0, number == len(lines) - 1 and leg == len(legs) - 1
            sides = sides_of(rails, entry if begins else None, exit_ if ends else None)
            if leg:
                _round_the_corner(legs, leg, needle, rails.middle[0])
            sew_layers(rails, recipe, needle, sides)


def _round_the_corner(legs: Sequence[Rails], leg: int, needle: Needle, corner: Floats) -> None:
    """Travel from the leg that was sewn to the next one, where the straight way would leave all of them by much.

    It leads to the place nearest to the needle, or to the ``corner`` at which they meet where that is the shorter
    way: a leg that comes back may pass the needle beyond open cloth.
    """
    assert needle.at is not None
    to = legs[leg].middle[legs[leg].nearest(needle.at)]
    way = shapely.LineString([needle.at, to])
    if way.length > ALONG:
        cloth = polygons_of(all_covered(legs))
        if not shapely.covers(cloth.buffer(ROUNDED), way):
            far = [part.distance(shapely.Point(needle.at)) + part.distance(shapely.Point(to)) for part in cloth.geoms]
            part = cloth.geoms[int(np.argmin(far))]
            ways = [lengths(inside_path(part, needle.at, place))[-1] for place in (to, corner)]
            go(part, needle, (to, corner)[int(np.argmin(ways))])


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


def sew_layers(rails: Rails, recipe: SatinRecipe, needle: Needle, sides: Sides) -> None:
    """Sew the layers of a raised satin, the narrowest first, there and back; the last runs as the column does.

    A column that is too wide for rows is filled instead, where the recipe says so.
    """
    if is_wide(rails, recipe):
        fill_column(rails, recipe, needle)
        return
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
        points = satin_points(layer, style, NO_SIDES if below else sides)
        needle.draw_back(points[0])
        needle.sew(points, Layer.COVER)


def _apart(p: Floats, q: Floats) -> float:
    return float(np.hypot(*(p - q)))


def _touching(one: Rails, other: Rails) -> float:
    """Columns whose ends are nearer than this are legs of one line."""
    return 1.2 * max(float(one.widths().max()), float(other.widths().max())) + 1.0


def own_passes(rails: Rails) -> tuple[Underlay, ...]:
    """The automatic underlay of a column, by its mean width and its area."""
    mean = float(rails.widths().mean())
    return column_underlay(mean, mean * float(lengths(rails.middle)[-1]))
