"""Centre run: along the middle of a column, there and back."""

import numpy as np
from shapely import LineString, Polygon

from jontel.design.kinds.centre_run import CentreRun
from jontel.geometry.bands import medial_spine
from jontel.geometry.polyline import Floats
from jontel.stitching.bed import AreaBed, Bed, ColumnBed, facing, go
from jontel.stitching.compensation import inset_rails
from jontel.stitching.running import evenly
from jontel.stitching.stitches import Layer, Needle


def sew(kind: CentreRun, bed: Bed, needle: Needle) -> None:
    """Sew the pass. On an area it follows the medial axis, or the longest level line where that branches."""
    match bed:
        case ColumnBed(rails):
            _there_and_back(facing(inset_rails(rails, kind.inset), needle).middle, kind.length, needle)
        case AreaBed(part):
            middle = _axis(part, kind.inset)
            if middle is None:
                return
            if needle.at is not None and np.hypot(*(middle[-1] - needle.at)) < np.hypot(*(middle[0] - needle.at)):
                middle = middle[::-1]
            go(part, needle, middle[0])
            _there_and_back(middle, kind.length, needle)


def _there_and_back(middle: Floats, length: float, needle: Needle) -> None:
    points = evenly(middle, length)
    needle.sew(points, Layer.CENTRE_RUN)
    needle.sew(points[-2::-1], Layer.CENTRE_RUN)


def _axis(part: Polygon, inset: float) -> Floats | None:
    spine = None if part.interiors else medial_spine(part, 2 * part.area / part.length)
    if spine is None:
        x0, _, x1, _ = part.bounds
        y = part.representative_point().y
        level = LineString([(x0, y), (x1, y)]) & part
        spine = np.asarray(max(getattr(level, "geoms", [level]), key=lambda g: g.length).coords)
    line = LineString(spine)
    if line.length <= 2 * inset + 1.0:
        return None
    marks = np.linspace(inset, line.length - inset, max(2, int(line.length / 0.2)))
    return np.array([line.interpolate(float(m)).coords[0] for m in marks])
