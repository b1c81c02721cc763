"""A regular polygon."""

from typing import Annotated

from jontel.design.figures.base import FIGURE, Bead, FigureKind, FigureValues, angle_of, curve, on_circle
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


def _sides(figure: Polygon, x: float, y: float) -> float:
    """As many sides as bring the first corner to the left of the top to where the bead is drawn."""
    turn = (angle_of(x, y, figure.width, figure.height) - 90) % 360.0
    return round(min(60.0, max(3.0, 360.0 / max(min(turn, 120.0), 6.0))))


KIND = FigureKind(
    "Polygon",
    Polygon,
    draw,
    (Bead("sides", lambda f: on_circle(90 + 360 / f.sides, f.width / 2, f.height / 2), _sides),),
)
