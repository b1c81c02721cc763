"""Run: running stitch along the paths of a shape."""

import numpy as np
import shapely

from jontel.design.design import StitchObject
from jontel.design.errors import CannotStitch
from jontel.design.ground import Ground
from jontel.design.kinds.run import RunRecipe
from jontel.design.resolve import Resolved, resolve
from jontel.design.shapes import Area, Column, Shape
from jontel.geometry.centre import centre_line
from jontel.geometry.polyline import (
    CORNER_DEGREES,
    Floats,
    Polyline,
    flatten,
    lengths,
    nearest_length,
    start_at,
    turns,
)
from jontel.stitching.covers.base import Generator
from jontel.stitching.limits import afford
from jontel.stitching.parts import cloths_of
from jontel.stitching.running import pass_points, split_long, styled
from jontel.stitching.stitches import SHORTEST, Layer, Needle

LONGEST_BY_HAND = 12.0
"""Needle points placed by hand stay as they are up to what a machine can move, mm."""


def sew(item: Resolved, recipe: RunRecipe, entry: Floats | None, exit_: Floats | None) -> Needle:
    """Sew every path of the shape, each from the end nearer to the needle."""
    groups = _groups(item.shape, recipe)
    lines = [line for group in groups for line in group]
    if not lines:
        raise CannotStitch("it has no length; draw a line or delete it")
    afford(sum(float(lengths(line.loop())[-1]) for line in lines) * 3 * recipe.repeats, recipe.length)
    needle = Needle(entry)
    if recipe.way == "reversed":
        groups = [[_backwards(line) for line in group[::-1]] for group in groups[::-1]]
    for group in groups:
        _sew_group(group, recipe, needle, exit_ if group is groups[-1] else None)
    return needle


def _groups(shape: Shape, recipe: RunRecipe) -> list[list[Polyline]]:
    """The lines to be sewn: those of each letter together, where letters are sewn in order, else all of them."""
    if isinstance(shape, Column):
        return [[*flatten(shape.edge), *flatten(shape.other_edge)]]
    middle = isinstance(shape, Area) and recipe.along == "centre line" and not recipe.by_hand
    if not isinstance(shape, Area) or not (middle or shape.in_order):
        return [list(flatten(shape.path))]
    clothes = cloths_of(shape)
    if middle:
        found = [[_opened(centre_line(cloth))] for cloth in clothes]
    else:
        lines = flatten(shape.path)
        far = [shapely.distance(np.array(clothes), shapely.Point(line.xy[0])) for line in lines]
        owner = [int(np.argmin(one)) if len(one) else 0 for one in far]
        numbers = sorted(set(owner))
        found = [[line for line, own in zip(lines, owner, strict=True) if own == number] for number in numbers]
    return found if shape.in_order else [[line for group in found for line in group]]


def _opened(xy: Floats) -> Polyline:
    """A walk as an open line whose sharp bends are corners."""
    return Polyline(xy, False, np.abs(turns(xy, False)) > np.radians(CORNER_DEGREES))


def _sew_group(lines: list[Polyline], recipe: RunRecipe, needle: Needle, exit_: Floats | None) -> None:
    """Sew lines from the nearest to the needle on, or in the order in which they are drawn."""
    drawn_order = recipe.way != "nearest"
    while lines:
        at = needle.at
        gaps = [0.0 if at is None or drawn_order else _reach(line, at) for line in lines]
        line = lines.pop(int(np.argmin(gaps)))
        if at is not None and not drawn_order:
            line = _from_nearer_end(line, at, exit_ if not lines else None)
        once = _by_hand(line) if recipe.by_hand else pass_points(line, recipe)
        points = styled(once, recipe.style, recipe.repeats, recipe.round_again)
        if recipe.way == "retraced" and np.hypot(*(points[-1] - points[0])) > SHORTEST:
            points = np.vstack([points, once[-2::-1]])
        needle.jump(points[0])
        needle.sew(points, Layer.COVER)


def needle_points(item: StitchObject, ground: Ground) -> list[Floats]:
    """Where one pass of a run has its needle points, (n, 2) for each of its paths: as placed by hand, or spread."""
    recipe = resolve(item, ground).cover
    if not isinstance(recipe, RunRecipe):
        return []
    lines = flatten(getattr(item.shape, "path", ""))
    return [line.loop() if recipe.by_hand else pass_points(line, recipe) for line in lines]


def _by_hand(line: Polyline) -> Floats:
    """The nodes of a path as needle points; only what no machine can do is changed."""
    return split_long(line.loop(), LONGEST_BY_HAND)


def _backwards(line: Polyline) -> Polyline:
    return Polyline(line.xy[::-1].copy(), line.closed, line.corner[::-1].copy())


def _reach(line: Polyline, at: Floats) -> float:
    near = line.xy if line.closed else line.xy[[0, -1]]
    return float(np.hypot(*(near - at).T).min())


def _from_nearer_end(line: Polyline, at: Floats, exit_: Floats | None) -> Polyline:
    if line.closed:
        return start_at(line, nearest_length(line.loop(), at))
    first, last = line.xy[0], line.xy[-1]
    forward = np.hypot(*(first - at))
    backward = np.hypot(*(last - at))
    if exit_ is not None and abs(forward - backward) < 1e-6:
        forward, backward = np.hypot(*(last - exit_)), np.hypot(*(first - exit_))
    return _backwards(line) if backward < forward else line


GENERATOR = Generator(sew)
