"""An arrow to the right."""

from typing import Annotated

from jontel.design.figures.base import FIGURE, Bead, FigureKind, FigureValues, curve
from jontel.design.kinds.values import number
from jontel.design.shapes import Area


class Arrow(FigureValues, frozen=True, tag="arrow"):
    """Its head takes ``head`` percent of its length, its shaft ``shaft`` percent of its height."""

    head: Annotated[float, number("Head", 5.0, 95.0, "percent", 5, FIGURE)] = 40.0
    shaft: Annotated[float, number("Shaft", 2.0, 100.0, "percent", 5, FIGURE)] = 40.0


def draw(figure: Arrow) -> Area:
    """Seven corners."""
    x, y = figure.width / 2, figure.height / 2
    neck, half = x - figure.head / 100 * figure.width, figure.shaft / 100 * y
    corners = [(-x, -half), (neck, -half), (neck, -y), (x, 0.0), (neck, y), (neck, half), (-x, half)]
    return Area(curve(corners[0], *((corner,) for corner in corners[1:])))


KIND = FigureKind(
    "Arrow",
    Arrow,
    draw,
    (
        Bead(
            "head",
            lambda f: (f.width / 2 - f.head / 100 * f.width, -f.height / 2),
            lambda f, x, _y: min(95.0, max(5.0, 100 * (0.5 - x / f.width))),
        ),
        Bead(
            "shaft",
            lambda f: (-f.width / 2, -f.shaft / 200 * f.height),
            lambda f, _x, y: min(100.0, max(2.0, 200 * abs(y) / f.height)),
        ),
    ),
)
