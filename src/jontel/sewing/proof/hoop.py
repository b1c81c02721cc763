"""The field of a hoop."""

import numpy as np
import shapely
from numpy.typing import NDArray

from jontel.design.ground import Hoop
from jontel.geometry.polyline import Floats

LEAST_CORNER = 1e-3
"""Corners of a smaller radius, mm, are sharp."""


def hoop_shape(hoop: Hoop) -> shapely.Polygon:
    """The field of a hoop, mm, its centre at the origin."""
    corner = _corner(hoop)
    inner = shapely.box(
        -hoop.width / 2 + corner, -hoop.height / 2 + corner, hoop.width / 2 - corner, hoop.height / 2 - corner
    )
    return inner.buffer(corner, quad_segs=32) if corner > LEAST_CORNER else inner


def outside_by(hoop: Hoop, xy: Floats) -> NDArray[np.float64]:
    """How far points ``xy`` (n, 2) lie outside the field, mm, (n,); 0 inside.

    The distance to a rectangle with round corners is that to the smaller one that the corners are drawn about, less
    their radius.
    """
    corner = _corner(hoop)
    half = np.array([hoop.width / 2 - corner, hoop.height / 2 - corner])
    off = np.maximum(np.abs(xy) - half, 0.0)
    return np.asarray(np.maximum(np.hypot(*off.T) - corner, 0.0))


def _corner(hoop: Hoop) -> float:
    return min(hoop.corner, hoop.width / 2, hoop.height / 2)
