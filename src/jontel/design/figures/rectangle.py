"""A rectangle with rounded corners."""

from typing import Annotated

from jontel.design.figures.base import FIGURE, Bead, FigureKind, FigureValues, curve
from jontel.design.kinds.values import number
from jontel.design.paths import KAPPA
from jontel.design.shapes import Area


class Rectangle(FigureValues, frozen=True, tag="rectangle"):
    """Corners are rounded by ``corner`` mm, at most by half the shorter side."""

    corner: Annotated[float, number("Corner radius", 0.0, 2000.0, "length", 0.5, FIGURE)] = 0.0


def draw(figure: Rectangle) -> Area:
    """Four sides, and where they are rounded four quarter circles."""
    x, y = figure.width / 2, figure.height / 2
    r = min(figure.corner, x, y)
    if r < 1e-3:
        return Area(curve((-x, -y), ((x, -y),), ((x, y),), ((-x, y),)))
    k = r * (1 - KAPPA)
    return Area(
        curve(
            (r - x, -y),
            ((x - r, -y),), ((x - k, -y), (x, k - y), (x, r - y)),
            ((x, y - r),), ((x, y - k), (x - k, y), (x - r, y)),
            ((r - x, y),), ((k - x, y), (-x, y - k), (-x, y - r)),
            ((-x, r - y),), ((-x, k - y), (k - x, -y), (r - x, -y)),
        )
    )  # fmt: skip


KIND = FigureKind(
    "Rectangle",
    Rectangle,
    draw,
    (
        Bead(
            "corner",
            lambda f: (f.width / 2 - min(f.corner, f.width / 2, f.height / 2), -f.height / 2),
            lambda f, x, _y: min(max(f.width / 2 - x, 0.0), f.width / 2, f.height / 2),
        ),
    ),
    ("corner",),
)
