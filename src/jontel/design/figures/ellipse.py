"""An ellipse; a circle where both sides are alike."""

from jontel.design.figures.base import FigureKind, FigureValues
from jontel.design.paths import ellipse_path
from jontel.design.shapes import Area


class Ellipse(FigureValues, frozen=True, tag="ellipse"):
    """Nothing but its size."""


def draw(figure: Ellipse) -> Area:
    """Four quarter arcs."""
    return Area(ellipse_path(0.0, 0.0, figure.width / 2, figure.height / 2))


KIND = FigureKind("Ellipse", Ellipse, draw)
