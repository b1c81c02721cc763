"""A heart."""

from typing import Annotated

from jontel.design.figures.base import FIGURE, Bead, FigureKind, FigureValues, curve
from jontel.design.kinds.values import number
from jontel.design.shapes import Area


class Heart(FigureValues, frozen=True, tag="heart"):
    """Its cleft is ``cleft`` percent of its height deep."""

    cleft: Annotated[float, number("Cleft", 5.0, 50.0, "percent", 1, FIGURE)] = 22.0


def draw(figure: Heart) -> Area:
    """Two lobes and two flanks."""
    x, y = figure.width / 2, figure.height / 2
    top, wide = -y + figure.cleft / 100 * figure.height, -0.45 * y
    return Area(
        curve(
            (0.0, top),
            ((0.1 * x, top - 0.5 * (top + y)), (0.3 * x, -y), (0.52 * x, -y)),
            ((0.8 * x, -y), (x, wide - 0.3 * y), (x, wide)),
            ((x, wide + 0.55 * y), (0.35 * x, 0.5 * y), (0.0, y)),
            ((-0.35 * x, 0.5 * y), (-x, wide + 0.55 * y), (-x, wide)),
            ((-x, wide - 0.3 * y), (-0.8 * x, -y), (-0.52 * x, -y)),
            ((-0.3 * x, -y), (-0.1 * x, top - 0.5 * (top + y)), (0.0, top)),
        )
    )


KIND = FigureKind(
    "Heart",
    Heart,
    draw,
    (
        Bead(
            "cleft",
            lambda f: (0.0, (f.cleft / 100 - 0.5) * f.height),
            lambda f, _x, y: min(50.0, max(5.0, 100 * (y / f.height + 0.5))),
        ),
    ),
)
