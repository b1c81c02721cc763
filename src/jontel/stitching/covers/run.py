"""Run: running stitch along the paths of a shape."""

import numpy as np

from jontel.design.covers import RunRecipe
from jontel.design.errors import CannotStitch
from jontel.design.resolve import Resolved
from jontel.design.shapes import Area, Column, Line
from jontel.geometry.polyline import Floats, Polyline, flatten, nearest_length, start_at
from jontel.stitching.running import run_points, styled
from jontel.stitching.stitches import Layer, Needle


def sew(item: Resolved, recipe: RunRecipe, entry: Floats | None, exit_: Floats | None) -> Needle:
    """Sew every path of the shape, each from the end nearer to the needle."""
    match item.shape:
        case Area(path=path) | Line(path=path):
            lines = list(flatten(path))
        case Column(edge=edge, other_edge=other):
            lines = [*flatten(edge), *flatten(other)]
    if not lines:
        raise CannotStitch("it has no length; draw a line or delete it")
    needle = Needle(entry)
    while lines:
        at = needle.at
        gaps = [0.0 if at is None else _reach(line, at) for line in lines]
        line = lines.pop(int(np.argmin(gaps)))
        if at is not None:
            line = _from_nearer_end(line, at, exit_ if not lines else None)
        points = styled(run_points(line, recipe.length), recipe.style, recipe.repeats)
        needle.jump(points[0])
        needle.sew(points, Layer.COVER)
    return needle


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
    if backward < forward:
        return Polyline(line.xy[::-1].copy(), False, line.corner[::-1].copy())
    return line
