"""A block of straight satin."""

from math import atan2, degrees, radians, tan
from typing import Annotated

from jontel.design.figures.base import FIGURE, Bead, FigureKind, FigureValues, curve
from jontel.design.kinds.values import number
from jontel.design.shapes import Column


class Block(FigureValues, frozen=True, tag="block"):
    """A column from its left to its right side, whose rows stand upright or ``lean`` by so many degrees."""

    lean: Annotated[float, number("Leans", -60.0, 60.0, "angle", 5, FIGURE)] = 0.0


def _slip(figure: Block) -> float:
    """How far the upper edge is drawn to the right for the lean, mm: never over what is left of the length."""
    most = 0.9 * figure.width
    return min(most, max(-most, figure.height * tan(radians(figure.lean))))


def draw(figure: Block) -> Column:
    """An upper and a lower edge, one drawn along the other where the rows lean."""
    x, y, slip = figure.width / 2, figure.height / 2, _slip(figure)
    right, left = max(slip, 0.0), max(-slip, 0.0)
    upper = curve((-x + right, -y), ((x - left, -y),), closed=False)
    lower = curve((-x + left, y), ((x - right, y),), closed=False)
    return Column(upper, lower)


def _lean(figure: Block, x: float, _y: float) -> float:
    return max(-60.0, min(60.0, degrees(atan2(x + figure.width / 2, figure.height))))


KIND = FigureKind(
    "Satin block",
    Block,
    draw,
    (Bead("lean", lambda f: (-f.width / 2 + max(_slip(f), 0.0), -f.height / 2), _lean),),
)
