"""Run: running stitch along the paths of a shape."""

import numpy as np

from jontel.design.design import StitchObject
from jontel.design.errors import CannotStitch
from jontel.design.ground import Ground
from jontel.design.kinds.run import RunRecipe
from jontel.design.resolve import Resolved, resolve
from jontel.design.shapes import Area, Column, Line
from jontel.geometry.polyline import Floats, Polyline, flatten, lengths, nearest_length, start_at
from jontel.stitching.covers.base import Generator
from jontel.stitching.limits import afford
from jontel.stitching.running import pass_points, split_long, styled
from jontel.stitching.stitches import SHORTEST, Layer, Needle

LONGEST_BY_HAND = 12.0
"""Needle points placed by hand stay as they are up to what a machine can move, mm."""


def sew(item: Resolved, recipe: RunRecipe, entry: Floats | None, exit_: Floats | None) -> Needle:
    """Sew every path of the shape, each from the end nearer to the needle."""
    match item.shape:
        case Area(path=path) | Line(path=path):
            lines = list(flatten(path))
        case Column(edge=edge, other_edge=other):
            lines = [*flatten(edge), *flatten(other)]
    if not lines:
        raise CannotStitch("it has no length; draw a line or delete it")
    afford(sum(float(lengths(line.loop())[-1]) for line in lines) * 3 * recipe.repeats, recipe.length)
    needle = Needle(entry)
    drawn_order = recipe.way != "nearest"
    if recipe.way == "reversed":
        lines = [_backwards(line) for line in lines[::-1]]
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
    return needle


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
