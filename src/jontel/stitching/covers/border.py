"""The border of a fill: a run or a satin along its rim, sewn last as part of the same object."""

import math

import numpy as np
from shapely import Polygon

from jontel.design.ground import EdgesRecipe
from jontel.design.kinds.fill import FillRecipe
from jontel.design.kinds.run import RunRecipe
from jontel.design.kinds.satin import SatinRecipe
from jontel.design.paths import polyline_path
from jontel.design.shapes import Line
from jontel.geometry.polyline import Floats, flatten, nearest_length, start_at
from jontel.geometry.region import rings_of
from jontel.geometry.strokes import legs_of
from jontel.stitching.legs import sew_columns
from jontel.stitching.running import pass_points, styled
from jontel.stitching.stitches import Layer, Needle

BESIDE = 1.0
"""A border that begins no farther than this, mm, and its width is reached by a stitch that it covers."""


def border_start(drawn: Polygon, recipe: FillRecipe, near: Floats) -> Floats:
    """The place nearest to ``near`` (2,) where a border begins: anywhere on a rim, or at a corner of a satin."""
    starts: list[Floats] = []
    for line in [line for ring in rings_of(drawn) for line in flatten(_text(ring))]:
        legs = legs_of(Line(_text(line.xy), recipe.border_width)) if recipe.border == "satin" else []
        if legs and not legs[0].closed:
            starts += [rails.middle[0] for rails in legs]
        else:
            starts.append(start_at(line, nearest_length(line.loop(), near)).xy[0])
    return min(starts, key=lambda one: math.dist(one, near))


def sew_border(drawn: Polygon, recipe: FillRecipe, edges: EdgesRecipe, needle: Needle) -> None:
    """Sew along every ring of the ``drawn`` polygon, nearest first; a jump where travel would show."""
    lines = [line for ring in rings_of(drawn) for line in flatten(_text(ring))]
    while lines:
        at = needle.at if needle.at is not None else lines[0].xy[0]
        line = lines.pop(int(np.argmin([np.hypot(*(one.xy - at).T).min() for one in lines])))
        line = start_at(line, nearest_length(line.loop(), at))
        if recipe.border == "run":
            _reach(needle, line.xy[0], 0.0)
            run = RunRecipe(style=recipe.border_style, length=recipe.border_length, repeats=recipe.border_repeats)
            needle.sew(styled(pass_points(line, run), run.style, run.repeats), Layer.COVER)
            continue
        columns = legs_of(Line(_text(line.xy), recipe.border_width))
        if not columns:
            continue
        first = int(np.argmin([np.hypot(*(rails.middle[0] - at)) for rails in columns]))
        columns = columns[first:] + columns[:first]
        _reach(needle, line.xy[0] if columns[0].closed else columns[0].middle[0], recipe.border_width)
        sew_columns(columns, SatinRecipe(spacing=recipe.border_spacing), edges, None, needle, None)


def _reach(needle: Needle, to: Floats, width: float) -> None:
    """Bring the needle to a place on the rim."""
    if needle.at is None or math.dist(needle.at, to) > BESIDE + width:
        needle.jump(to)


def _text(ring: Floats) -> str:
    return polyline_path([(float(x), float(y)) for x, y in ring], closed=True)
