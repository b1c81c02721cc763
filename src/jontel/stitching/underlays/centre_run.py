"""Centre run: along the middle of a column, there and back."""

import numpy as np
import shapely
from shapely import Polygon

from jontel.design.kinds.centre_run import CentreRun
from jontel.geometry.decompose import strokes_of
from jontel.geometry.polyline import Floats, at_lengths, lengths
from jontel.geometry.region import polygons_of
from jontel.stitching.bed import STRAYS, AreaBed, Bed, ColumnBed, brought_back, facing, go, go_along
from jontel.stitching.compensation import inset_rails
from jontel.stitching.rows.fitting import leaving_stitches, led_round
from jontel.stitching.running import evenly, straight_run
from jontel.stitching.stitches import Layer, Needle


def sew(kind: CentreRun, bed: Bed, needle: Needle) -> None:
    """Sew the pass. On an area it follows its longest stroke."""
    match bed:
        case ColumnBed(rails):
            way = facing(inset_rails(rails, kind.inset), needle).middle
            go_along(rails, needle, way[0])
            _there_and_back(evenly(way, kind.length), needle)
        case AreaBed(part):
            middle = _axis(part, kind.inset)
            if middle is None:
                return
            if needle.at is not None and np.hypot(*(middle[-1] - needle.at)) < np.hypot(*(middle[0] - needle.at)):
                middle = middle[::-1]
            points = _inside(evenly(middle, kind.length), kind.length, part)
            go(part, needle, points[0])
            _there_and_back(points, needle)


def _there_and_back(points: Floats, needle: Needle) -> None:
    needle.sew(points, Layer.CENTRE_RUN)
    needle.sew(points[-2::-1], Layer.CENTRE_RUN)


def _inside(points: Floats, length: float, part: Polygon) -> Floats:
    """Needle points (n, 2) of a run of stitches of this ``length`` whose stitches leave an area nowhere.

    The middle between two rims may lie in a hole where these belong to no one stroke, and a stitch may cut a bend.
    """
    inside = brought_back(points, part)
    room = part.buffer(STRAYS)
    shapely.prepare(room)
    leaving = leaving_stitches(inside, np.arange(len(inside) - 1), room)
    if inside is points and not len(leaving):
        return points
    return straight_run(led_round(inside, leaving, part), length)


def _axis(part: Polygon, inset: float) -> Floats | None:
    strokes = strokes_of(polygons_of(part))
    if not strokes or not strokes[0].strokes:
        return None
    middle = max((one.rails.middle for one in strokes[0].strokes), key=lambda way: float(lengths(way)[-1]))
    along = lengths(middle)
    if along[-1] <= 2 * inset + 1.0:
        return None
    return at_lengths(middle, np.linspace(inset, along[-1] - inset, max(2, int(along[-1] / 0.2))), along)
