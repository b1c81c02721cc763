"""A part of an ellipse, as a line."""

import math
from typing import Annotated

from jontel.design.figures.base import FIGURE, Bead, FigureKind, FigureValues, angle_of, curve, on_circle
from jontel.design.kinds.values import number
from jontel.design.shapes import Line, Point


class Arc(FigureValues, frozen=True, tag="arc"):
    """From ``start`` degrees on over ``sweep`` degrees, counter-clockwise."""

    start: Annotated[float, number("Starts at", 0.0, 360.0, "angle", 5, FIGURE)] = 0.0
    sweep: Annotated[float, number("Sweeps", 1.0, 360.0, "angle", 5, FIGURE)] = 180.0


def arc_pieces(start: float, sweep: float, rx: float, ry: float) -> list[tuple[Point, ...]]:
    """The cubics of an arc of an ellipse about the origin, each of at most a quarter."""
    count = max(1, math.ceil(abs(sweep) / 90 - 1e-9))
    step = sweep / count
    handle = 4 / 3 * math.tan(math.radians(step) / 4)
    pieces: list[tuple[Point, ...]] = []
    for k in range(count):
        one, other = start + k * step, start + (k + 1) * step
        (x, y), (u, v) = on_circle(one, rx, ry), on_circle(other, rx, ry)
        way, back = on_circle(one + 90, rx, ry), on_circle(other + 90, rx, ry)
        pieces.append(
            ((x + handle * way[0], y + handle * way[1]), (u - handle * back[0], v - handle * back[1]), (u, v))
        )
    return pieces


def draw(figure: Arc) -> Line:
    """An open line of up to four cubics."""
    rx, ry = figure.width / 2, figure.height / 2
    pieces = arc_pieces(figure.start, figure.sweep, rx, ry)
    return Line(curve(on_circle(figure.start, rx, ry), *pieces, closed=False))


def _end(figure: Arc, x: float, y: float) -> float:
    return max(1.0, (angle_of(x, y, figure.width, figure.height) - figure.start) % 360.0)


KIND = FigureKind(
    "Arc",
    Arc,
    draw,
    (
        Bead(
            "start",
            lambda f: on_circle(f.start, f.width / 2, f.height / 2),
            lambda f, x, y: angle_of(x, y, f.width, f.height),
        ),
        Bead("sweep", lambda f: on_circle(f.start + f.sweep, f.width / 2, f.height / 2), _end),
    ),
)
