"""A drop."""

from typing import Annotated

from jontel.design.figures.base import FIGURE, Bead, FigureKind, FigureValues, curve
from jontel.design.kinds.values import number
from jontel.design.paths import KAPPA
from jontel.design.shapes import Area


class Drop(FigureValues, frozen=True, tag="drop"):
    """Pointed on top, round below; widest ``belly`` percent of its height down."""

    belly: Annotated[float, number("Widest at", 30.0, 85.0, "percent", 5, FIGURE)] = 66.0


def draw(figure: Drop) -> Area:
    """Two flanks and two quarter arcs."""
    x, y = figure.width / 2, figure.height / 2
    low = -y + figure.belly / 100 * figure.height
    k, flank = KAPPA * x, 0.45 * (low + y)
    foot = KAPPA * (y - low)
    return Area(
        curve(
            (0.0, -y),
            ((0.12 * x, -y + flank), (x, low - 0.5 * flank), (x, low)),
            ((x, low + foot), (k, y), (0.0, y)),
            ((-k, y), (-x, low + foot), (-x, low)),
            ((-x, low - 0.5 * flank), (-0.12 * x, -y + flank), (0.0, -y)),
        )
    )


KIND = FigureKind(
    "Drop",
    Drop,
    draw,
    (
        Bead(
            "belly",
            lambda f: (f.width / 2, (f.belly / 100 - 0.5) * f.height),
            lambda f, _x, y: min(85.0, max(30.0, 100 * (y / f.height + 0.5))),
        ),
    ),
)
