"""A regular polygon."""

from typing import Annotated

from jontel.design.figures.base import FIGURE, Bead, FigureKind, FigureValues, curve, divided_at, on_circle
from jontel.design.kinds.values import number
from jontel.design.shapes import Area


class Polygon(FigureValues, frozen=True, tag="polygon"):
    """So many equal ``sides``, one corner on top."""

    sides: Annotated[int, number("Sides", 3, 60, "count", 1, FIGURE)] = 6


def draw(figure: Polygon) -> Area:
    """Its corners on the ellipse of its size."""
    corners = [
        on_circle(90 + 360 * k / figure.sides, figure.width / 2, figure.height / 2) for k in range(figure.sides)
    ]
    return Area(curve(corners[0], *((corner,) for corner in corners[1:])))


KIND = FigureKind(
    "Polygon",
    Polygon,
    draw,
    (Bead("sides", lambda f: on_circle(90 + 360 / f.sides, f.width / 2, f.height / 2), divided_at),),
)
