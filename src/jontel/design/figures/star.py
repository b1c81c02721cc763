"""A star."""

import math
from typing import Annotated

from jontel.design.figures.base import FIGURE, Bead, FigureKind, FigureValues, curve, divided_at, on_circle
from jontel.design.kinds.values import number
from jontel.design.shapes import Area


class Star(FigureValues, frozen=True, tag="star"):
    """So many ``points``; the corners between them lie at ``inner`` percent of the way out."""

    points: Annotated[int, number("Points", 3, 60, "count", 1, FIGURE)] = 5
    inner: Annotated[float, number("Inner radius", 5.0, 99.0, "percent", 1, FIGURE)] = 40.0


def draw(figure: Star) -> Area:
    """Points on the ellipse of its size, corners on a smaller one, by turns."""
    corners = []
    for k in range(2 * figure.points):
        part = 1.0 if k % 2 == 0 else figure.inner / 100
        corners.append(on_circle(90 + 180 * k / figure.points, part * figure.width / 2, part * figure.height / 2))
    return Area(curve(corners[0], *((corner,) for corner in corners[1:])))


KIND = FigureKind(
    "Star",
    Star,
    draw,
    (
        Bead(
            "inner",
            lambda f: on_circle(90 - 180 / f.points, f.inner / 200 * f.width, f.inner / 200 * f.height),
            lambda f, x, y: min(99.0, max(5.0, 100 * math.hypot(2 * x / f.width, 2 * y / f.height))),
        ),
        Bead("points", lambda f: on_circle(90 + 360 / f.points, f.width / 2, f.height / 2), divided_at),
    ),
)
