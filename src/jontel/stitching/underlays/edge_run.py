"""Edge run: a run beside every edge, which holds the cover's edge in place."""

import math

import numpy as np
from shapely import Polygon

from jontel.design.kinds.edge_run import EdgeRun
from jontel.geometry.polyline import CORNER_DEGREES, Floats, Polyline, lengths, nearest_length, start_at, turns
from jontel.geometry.region import rings_of
from jontel.stitching.bed import AreaBed, Bed, ColumnBed, facing, go, go_along, held, inner
from jontel.stitching.compensation import inset_rails
from jontel.stitching.running import evenly, run_points
from jontel.stitching.stitches import Layer, Needle


def sew(kind: EdgeRun, bed: Bed, needle: Needle) -> None:
    """Sew the pass: round every ring of an area, or up one edge of a column and down the other."""
    match bed:
        case ColumnBed(rails):
            inset = facing(inset_rails(rails, kind.inset), needle)
            if lengths(inset.middle)[-1] < 1.0:
                return
            go_along(rails, needle, inset.middle[0])
            there, back = inset.a, inset.b if rails.closed else inset.b[::-1]
            needle.sew(held(evenly(there, kind.length), rails), Layer.EDGE_RUN)
            if not rails.closed:  # a wide column's end is sewn along, not stepped over
                needle.sew(evenly(np.vstack([there[-1:], back[:1]]), kind.length)[1:-1], Layer.EDGE_RUN)
            needle.sew(held(evenly(back, kind.length), rails), Layer.EDGE_RUN)
        case AreaBed(part):
            rings = [ring for piece in inner(part, kind.inset).geoms for ring in rings_of(piece)]
            while rings:
                at = needle.at if needle.at is not None else rings[0][0]
                number = int(np.argmin([np.hypot(*(r - at).T).min() for r in rings]))
                ring = rings.pop(number)
                _round(ring, kind.length, part, needle)


def _round(ring: Floats, length: float, part: Polygon, needle: Needle) -> None:
    loop = np.vstack([ring, ring[:1]])
    if lengths(loop)[-1] < 3.0:
        return
    line = Polyline(ring, True, np.abs(turns(ring, True)) > math.radians(CORNER_DEGREES))
    if needle.at is not None:
        line = start_at(line, nearest_length(loop, needle.at))
    points = run_points(line, length)
    go(part, needle, points[0])
    needle.sew(points, Layer.EDGE_RUN)
