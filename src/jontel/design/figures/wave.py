"""A wave, as a line."""

from typing import Annotated

from jontel.design.figures.base import FIGURE, Bead, FigureKind, FigureValues, curve
from jontel.design.kinds.values import number
from jontel.design.shapes import Line, Point

SINE = 0.3642
"""Handles of this part of half a wave make a cubic a sine to 0.6 % of its height."""


class Wave(FigureValues, frozen=True, tag="wave"):
    """So many ``crests`` one beside the other."""

    crests: Annotated[int, number("Crests", 1, 100, "count", 1, FIGURE)] = 3


def draw(figure: Wave) -> Line:
    """From trough to trough over every crest."""
    half, y = figure.width / (2 * figure.crests), figure.height / 2
    x, low = -figure.width / 2, True
    pieces: list[tuple[Point, ...]] = []
    for _ in range(2 * figure.crests):
        one, other = (y, -y) if low else (-y, y)
        pieces.append(((x + SINE * half, one), (x + (1 - SINE) * half, other), (x + half, other)))
        x, low = x + half, not low
    return Line(curve((-figure.width / 2, y), *pieces, closed=False))


KIND = FigureKind(
    "Wave",
    Wave,
    draw,
    (
        Bead(
            "crests",
            lambda f: (-f.width / 2 + f.width / (2 * f.crests), -f.height / 2),
            lambda f, x, _y: round(min(100.0, max(1.0, f.width / (2 * max(x + f.width / 2, f.width / 200))))),
        ),
    ),
)
