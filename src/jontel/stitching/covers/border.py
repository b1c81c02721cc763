"""The border of a fill: a run or a satin along its rim, sewn last as part of the same object."""

import numpy as np
from shapely import Polygon

from jontel.design.ground import EdgesRecipe
from jontel.design.kinds.fill import FillRecipe
from jontel.design.kinds.satin import SatinRecipe
from jontel.design.paths import polyline_path
from jontel.design.shapes import Line
from jontel.geometry.polyline import Floats, flatten, nearest_length, start_at
from jontel.geometry.region import rings_of
from jontel.geometry.strokes import legs_of
from jontel.stitching.bed import go
from jontel.stitching.covers.satin import sew_columns
from jontel.stitching.running import run_points
from jontel.stitching.stitches import Layer, Needle

RUN_LENGTH = 2.5


def sew_border(drawn: Polygon, part: Polygon, recipe: FillRecipe, edges: EdgesRecipe, needle: Needle) -> None:
    """Sew along every ring of the ``drawn`` polygon, nearest first, travelling inside the sewn ``part``."""
    lines = [line for ring in rings_of(drawn) for line in flatten(_text(ring))]
    while lines:
        at = needle.at if needle.at is not None else lines[0].xy[0]
        line = lines.pop(int(np.argmin([np.hypot(*(one.xy - at).T).min() for one in lines])))
        line = start_at(line, nearest_length(line.loop(), at))
        if recipe.border == "run":
            go(part, needle, line.xy[0])
            needle.sew(run_points(line, RUN_LENGTH), Layer.COVER)
            continue
        columns = legs_of(Line(_text(line.xy), recipe.border_width))
        if not columns:
            continue
        first = int(np.argmin([np.hypot(*(rails.middle[0] - at)) for rails in columns]))
        columns = columns[first:] + columns[:first]
        go(part, needle, line.xy[0] if columns[0].closed else columns[0].middle[0])
        sew_columns(columns, SatinRecipe(spacing=recipe.border_spacing), edges, None, needle, None)


def _text(ring: Floats) -> str:
    return polyline_path([(float(x), float(y)) for x, y in ring], closed=True)
