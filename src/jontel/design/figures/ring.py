"""A ring."""

from typing import Annotated

from jontel.design.figures.base import FIGURE, Bead, FigureKind, FigureValues
from jontel.design.kinds.values import number
from jontel.design.paths import ellipse_path
from jontel.design.shapes import Area


class Ring(FigureValues, frozen=True, tag="ring"):
    """An ellipse with a hole of ``inner`` percent of its size."""

    inner: Annotated[float, number("Inner radius", 2.0, 98.0, "percent", 1, FIGURE)] = 70.0


def draw(figure: Ring) -> Area:
    """Two ellipses; what lies between them is inside."""
    x, y, part = figure.width / 2, figure.height / 2, figure.inner / 100
    return Area(f"{ellipse_path(0.0, 0.0, x, y)} {ellipse_path(0.0, 0.0, part * x, part * y)}", "evenodd")


KIND = FigureKind(
    "Ring",
    Ring,
    draw,
    (
        Bead(
            "inner",
            lambda f: (f.inner / 200 * f.width, 0.0),
            lambda f, x, _y: min(98.0, max(2.0, 200 * abs(x) / f.width)),
        ),
    ),
)
