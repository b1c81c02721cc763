"""Smooth curves through points."""

import numpy as np

from jontel.design.paths import number_text
from jontel.design.shapes import Point


def smooth_path(points: list[Point]) -> str:
    """Path data of a smooth open curve through ``points``.

    Source: E. Catmull and R. Rom, "A class of local interpolating splines" (1974), written as cubics.
    """
    p = np.asarray(points, dtype=np.float64)
    p = np.vstack([2 * p[0] - p[1], p, 2 * p[-1] - p[-2]])
    parts = [f"M{number_text(points[0][0])} {number_text(points[0][1])}"]
    for k in range(1, len(p) - 2):
        one, other = p[k] + (p[k + 1] - p[k - 1]) / 6, p[k + 1] - (p[k + 2] - p[k]) / 6
        parts.append("C" + " ".join(number_text(float(v)) for v in (*one, *other, *p[k + 1])))
    return " ".join(parts)
