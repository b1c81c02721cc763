"""Satins on areas: the strokes of every part written without a cut, letters as they were sewn before."""

import itertools
from collections.abc import Sequence
from typing import Literal, NamedTuple

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
from jontel.design.shapes import UNCORRECTED, Area, Point
from jontel.design.store import kept
from jontel.geometry.columns import Rails, all_covered
from jontel.geometry.decompose import Strokes, at_home, strokes_of_letter
from jontel.geometry.outline import smooth
from jontel.geometry.polyline import Floats, Polyline, at_lengths, lengths
from jontel.geometry.region import Region, across_angle, path_of, polygons_of
from jontel.stitching.bed import ColumnBed, go_along
from jontel.stitching.columns import Sides, held_open, limited, pieces_along
from jontel.stitching.compensation import compensated_rails
from jontel.stitching.covers import fill
from jontel.stitching.legs import own_passes, sew_layers
from jontel.stitching.limits import afford
from jontel.stitching.parts import Part, parts_of
from jontel.stitching.running import run_points
from jontel.stitching.stitches import Layer, Needle, Stitches
from jontel.stitching.underlays import sew_underlay
from jontel.stitching.writing import Cover, Lay, Writing

HAIRLINE, MOSTLY = 0.42, 0.9
"""Strokes narrower than the first, mm, over the second part of their way are sewn as a run."""
HAIRLINE_STITCH, HAIRLINE_CHORD, HAIRLINE_LEAST = 2.0, 0.04, 0.6
"""Its stitches are so long; in bends, where they leave the axis by no more than the second, down to the third, mm."""
PLACE_DIGITS = 3
"""A letter is entered and left at the same places if they are to so many digits of a mm."""
AXIS_SAMPLE, AXIS_SMOOTH = 0.2, 1.0
"""Their axis is smoothed over so many of its points, so many mm apart."""


Sewn = Literal["both", "underlay", "cover"]


class Written(NamedTuple):
    """A column as it is sewn: its outline, (n, 2), the place of its middle, its length and mean width, mm.

    ``stroke`` is which part of the area it belongs to, and its number there.
    """

    outline: Floats
    middle: Point
    length: float
    width: float
    stroke: tuple[int, int]


def is_one_column(area: Area, item: Resolved, recipe: SatinRecipe) -> bool:
    """Whether an area is a single column that holds rows."""
    parts = parts_of(area)
    if len(parts) != 1 or len(parts[0].strokes.strokes) != 1 or not parts[0].strokes.fit:
        return False
    stroke = parts[0].strokes.strokes[0]
    return not any(stroke.under) and not _is_hairline(as_sewn(stroke.rails, recipe, item.edges))


def _is_letter(area: Area) -> bool:
    """Whether the parts of an area are letters, which are the same wherever they stand."""
    return area.in_order and not area.lines and area.columns == UNCORRECTED


def write_area(area: Area, item: Resolved, recipe: SatinRecipe, entry: Floats | None, exit_: Floats | None) -> Needle:
    """Sew the parts of an area: in the order in which they are drawn or wanted, where it says so.

    Else it is the nearest part first, that of the exit last. Raises ``CannotStitch``.
    """
    parts = list(parts_of(area))
    if not parts:
        raise CannotStitch("it encloses no area that holds a stitch; enlarge it or make it a run")
    rows = sum(pieces_along(stroke.rails, recipe) for part in parts for stroke in part.strokes.strokes)
    afford(2 * recipe.layers * rows, recipe.spacing)
    needle = Needle(entry)
    if item.word_gap > 0 and _is_letter(area) and item.underlay != ():
        _write_words(_words(parts, item.word_gap), item, recipe, needle, exit_)
        return needle
    fixed = area.in_order or bool(area.columns.order)
    while parts:
        goal = exit_ if len(parts) == 1 else None
        part = parts.pop(0 if fixed else _next(parts, needle.at, exit_))
        if not part.strokes.fit:
            _sew_as_fill(part, item, recipe, needle, goal)
            continue
        if fixed and parts and goal is None:
            goal = _towards(part, parts[0])
        if _is_letter(area):
            _write_letter(part.cloth, item, recipe, needle, goal)
        else:
            _write_part(part.strokes, recipe, item.edges, item.underlay, needle, goal)
    return needle


def _towards(part: Part, other: Part) -> Floats:
    """The place of a part that is nearest to another one."""
    return np.asarray(shapely.shortest_line(part.cloth, other.cloth).coords[0])


def _words(parts: Sequence[Part], gap: float) -> list[list[Part]]:
    """Letters in their order, those that follow each other with no more than ``gap`` mm between them together."""
    words = [[parts[0]]]
    for one, other in itertools.pairwise(parts):
        if shapely.distance(one.cloth, other.cloth) > gap:
            words.append([])
        words[-1].append(other)
    return words


def _write_words(
    words: Sequence[Sequence[Part]], item: Resolved, recipe: SatinRecipe, needle: Needle, exit_: Floats | None
) -> None:
    """Sew words: the underlay of all letters of one as one reads, then their covers back to where it began."""
    for number, word in enumerate(words):
        for part, other in itertools.zip_longest(word, word[1:]):
            if part.strokes.fit:
                goal = _towards(part, other) if other is not None else None
                _write_letter(part.cloth, item, recipe, needle, goal, "underlay")
        last = _towards(word[0], words[number + 1][0]) if number + 1 < len(words) else exit_
        for part, other in itertools.zip_longest(word[::-1], word[-2::-1]):
            goal = _towards(part, other) if other is not None else last
            if part.strokes.fit:
                _write_letter(part.cloth, item, recipe, needle, goal, "cover")
            else:
                _sew_as_fill(part, item, recipe, needle, goal)


def columns_sewn(item: Resolved, start: Point | None, stop: Point | None) -> list[Written]:
    """The columns of a satin on an area in the order in which they are sewn. Raises ``CannotStitch``."""
    area, recipe = item.shape, item.cover
    assert isinstance(area, Area) and isinstance(recipe, SatinRecipe)
    entry, exit_ = (None if place is None else np.array(place) for place in (start, stop))
    found: list[Written] = []
    every = parts_of(area)
    left = list(every)
    if item.word_gap > 0:
        left = [part for word in _words(left, item.word_gap) for part in reversed(word)]
    at = entry
    fixed = area.in_order or bool(area.columns.order)
    while left:
        goal = exit_ if len(left) == 1 else None
        part = left.pop(0 if fixed else _next(left, at, exit_))
        if not part.strokes.fit:
            continue
        rails = _rails_of(part.strokes, recipe, item.edges)
        needle = Needle(at)
        for number in Writing(part.strokes, rails, _no_underlay, _at_its_end).write(needle, at, goal):
            one = rails[number]
            along = lengths(one.middle)
            x, y = at_lengths(one.middle, along[-1:] / 2, along)[0]
            outline = np.vstack([one.outline(), one.a[:1]])
            middle = round(float(x), 3), round(float(y), 3)
            width = float(one.widths().mean())
            found.append(Written(outline, middle, float(along[-1]), width, (every.index(part), number)))
        at = needle.at
    return found


def _sew_as_fill(part: Part, item: Resolved, recipe: SatinRecipe, needle: Needle, goal: Floats | None) -> None:
    """Sew a part that no strokes fit as the fill it is."""
    whole = part_as_fill(part, item, recipe)
    assert isinstance(whole.cover, FillRecipe)
    sewn = fill.sew(whole, whole.cover, needle.at, goal).stitches()
    if needle.sewing:
        needle.jump(sewn.xy[0])
    needle.follow(sewn)


def part_as_fill(part: Part, item: Resolved, recipe: SatinRecipe) -> Resolved:
    """A part that no strokes fit as a fill."""
    region = polygons_of(part.cloth)
    cover = FillRecipe(spacing=recipe.spacing, angle=across_angle(region))
    return replace(item, shape=Area(path_of(region)), cover=cover)


def _no_underlay(_rails: Rails, _needle: Needle) -> None:
    """Nothing beneath."""


def _at_its_end(rails: Rails, needle: Needle, _last: int | None) -> None:
    """The needle where a column ends."""
    needle.at = rails.middle[-1]


def _write_part(
    strokes: Strokes,
    recipe: SatinRecipe,
    edges: EdgesRecipe,
    underlay: tuple[Underlay, ...] | None,
    needle: Needle,
    goal: Floats | None,
    sewn: Sewn = "both",
) -> None:
    """Sew the strokes of one part."""
    rails = _rails_of(strokes, recipe, edges)
    lay = _no_underlay if sewn != "both" else _underlay(underlay)
    cover = _underlay_to_its_end(_underlay(underlay)) if sewn == "underlay" else _cover(recipe)
    Writing(strokes, rails, lay, cover).write(needle, needle.at, goal)


def _write_letter(
    cloth: Polygon, item: Resolved, recipe: SatinRecipe, needle: Needle, goal: Floats | None, sewn: Sewn = "both"
) -> None:
    """Sew one letter, as it was sewn before where the same one was entered and left at the same places."""
    home, corner = at_home(cloth)
    at, to = (None if place is None else _seen_from(place, corner) for place in (needle.at, goal))
    made = _letter(home, recipe, item.edges, item.underlay, at, to, sewn)
    if not len(made):
        return
    moved = Stitches(made.xy + corner, made.kind, made.layer)
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
    sewn: Sewn,
) -> Stitches:
    """The stitches of a letter at home, from the place nearest to ``at`` to that nearest to ``goal``."""
    start, stop = (None if place is None else np.array(place) for place in (at, goal))
    needle = Needle(start)
    _write_part(strokes_of_letter(home), recipe, edges, underlay, needle, stop, sewn)
    return needle.stitches()


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


def _underlay_to_its_end(lay: Lay) -> Cover:
    """Underlay alone, and the needle where the column ends."""

    def cover(rails: Rails, needle: Needle, _last: int | None) -> None:
        lay(rails, needle)
        go_along(rails, needle, rails.middle[-1])

    return cover


def _cover(recipe: SatinRecipe) -> Cover:
    def cover(rails: Rails, needle: Needle, last: int | None) -> None:
        if _is_hairline(rails):
            needle.sew(run_points(_axis(rails), HAIRLINE_STITCH, HAIRLINE_CHORD, HAIRLINE_LEAST), Layer.COVER)
            return
        sew_layers(rails, recipe, needle, Sides(0, last))

    return cover


def _rails_of(strokes: Strokes, recipe: SatinRecipe, edges: EdgesRecipe) -> list[Rails]:
    """The strokes of a part as they are sewn; their ends under others are not pushed back."""
    every = (Rails(one.rails.a, one.rails.b, one.rails.closed, one.under) for one in strokes.strokes)
    return [as_sewn(rails, recipe, edges) for rails in every]


def as_sewn(rails: Rails, recipe: SatinRecipe, edges: EdgesRecipe) -> Rails:
    """A stroke in its width limits and compensated, its rows no narrower than a safe stitch."""
    sewn = compensated_rails(limited(rails, recipe), edges)
    return sewn if _is_hairline(sewn) else held_open(sewn)


def _axis(rails: Rails) -> Polyline:
    """The middle of a column as a smooth line."""
    along = lengths(rails.middle)
    count = max(2, round(float(along[-1]) / AXIS_SAMPLE))
    xy = at_lengths(rails.middle, np.linspace(0, along[-1], count + 1), along)
    if rails.closed:
        xy = smooth(xy[:-1], AXIS_SMOOTH, closed=True)
    else:
        xy[1:-1] = smooth(xy, AXIS_SMOOTH)[1:-1]
    return Polyline(xy, rails.closed, np.zeros(len(xy), dtype=bool))


def _is_hairline(rails: Rails) -> bool:
    """Whether a column is too thin for rows nearly all along, so that a line of thread covers it."""
    return float(np.quantile(rails.widths(), MOSTLY)) < HAIRLINE


def area_edge(area: Area, edges: EdgesRecipe, limits: SatinRecipe) -> Region:
    """What is sewn of an area."""
    rails: list[Rails] = []
    clothes: list[BaseGeometry] = []
    for part in parts_of(area):
        if not part.strokes.fit:
            whole = polygons_of(part.cloth)
            clothes.append(fill.sewn_region(Area(path_of(whole)), edges, across_angle(whole)))
        elif _is_letter(area):
            home, (x, y) = at_home(part.cloth)
            widths = (limits.least_width, limits.greatest_width, limits.narrow_extra)
            clothes.append(affinity.translate(_letter_edge(home, edges, widths), x, y))
        else:
            rails += [as_sewn(stroke.rails, limits, edges) for stroke in part.strokes.strokes]
    return polygons_of(shapely.unary_union([all_covered(rails), *clothes]))


@kept
def _letter_edge(home: Polygon, edges: EdgesRecipe, widths: tuple[float, float, float]) -> Region:
    """What is sewn of a letter at home."""
    least, greatest, extra = widths
    limits = SatinRecipe(least_width=least, greatest_width=greatest, narrow_extra=extra)
    rails = [as_sewn(stroke.rails, limits, edges) for stroke in strokes_of_letter(home).strokes]
    return polygons_of(all_covered(rails))
