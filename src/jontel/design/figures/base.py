"""What every figure has: a size, a place on the cloth, a way to be drawn, and beads for its numbers."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any

from msgspec import Struct
from msgspec.structs import replace

from jontel.design.kinds.values import Group, number, value_of
from jontel.design.lettering import UNMOVED, Placement
from jontel.design.paths import Matrix, composed, number_text
from jontel.design.shapes import Point, Shape

FIGURE = Group("Figure", open=True)
SQUARE = 1e-6
"""Axes whose cosine is below this are square to each other."""


class FigureValues(Struct, frozen=True):
    """A figure about the origin, ``width`` by ``height`` mm; ``place`` brings it onto the cloth."""

    width: Annotated[float, number("Width", 0.3, 4000.0, "length", 0.5, FIGURE)] = 20.0
    height: Annotated[float, number("Height", 0.3, 4000.0, "length", 0.5, FIGURE)] = 20.0
    place: Placement = UNMOVED


@dataclass(frozen=True)
class Bead:
    """A place of a figure, in its own mm, that one of its numbers is dragged by."""

    field: str
    at: Callable[[Any], Point]
    to: Callable[[Any, float, float], float]


@dataclass(frozen=True)
class FigureKind:
    """A kind of figure. ``draw`` gives its shape about the origin; ``lengths`` are those numbers that are mm."""

    title: str
    values: type[FigureValues]
    draw: Callable[[Any], Shape]
    beads: tuple[Bead, ...] = ()
    lengths: tuple[str, ...] = ()


def moved_figure(figure: FigureValues, matrix: Matrix, lengths: tuple[str, ...]) -> FigureValues:
    """A figure moved by ``matrix``; what grows along its own sides is its size, the rest its place."""
    a, b, c, d, e, f = composed(figure.place, matrix)
    wide, tall = math.hypot(a, b), math.hypot(c, d)
    if min(wide, tall) < 1e-9:
        return figure
    if abs(a * c + b * d) > SQUARE * wide * tall:
        return replace(figure, place=(a, b, c, d, e, f))
    size = {
        field: value_of(type(figure), field).within(round(getattr(figure, field) * by, 4))
        for field, by in (("width", wide), ("height", tall))
    }
    even = math.sqrt(wide * tall)
    inner = {
        field: value_of(type(figure), field).within(round(getattr(figure, field) * even, 4)) for field in lengths
    }
    return replace(figure, **size, **inner, place=(a / wide, b / wide, c / tall, d / tall, e, f))


def curve(start: Point, *pieces: tuple[Point, ...], closed: bool = True) -> str:
    """Path data from ``start`` along pieces: one place is a line to it, three are a cubic."""
    parts = [f"M{number_text(start[0])} {number_text(start[1])}"]
    for places in pieces:
        letter = "L" if len(places) == 1 else "C"
        parts.append(letter + " ".join(number_text(v) for place in places for v in place))
    return " ".join([*parts, "Z"] if closed else parts)


def on_circle(angle: float, rx: float, ry: float) -> Point:
    """The place at so many degrees, counter-clockwise from the right, on an ellipse about the origin."""
    return rx * math.cos(math.radians(angle)), -ry * math.sin(math.radians(angle))


def divided_at(figure: FigureValues, x: float, y: float) -> float:
    """Into how many equal parts a circle is divided whose first, left of the top, ends where a bead is drawn."""
    turn = (angle_of(x, y, figure.width, figure.height) - 90) % 360.0
    return round(min(60.0, max(3.0, 360.0 / max(min(turn, 120.0), 6.0))))


def angle_of(x: float, y: float, rx: float, ry: float) -> float:
    """The degrees, 0 to 360, at which a place is seen from the middle of an ellipse."""
    return math.degrees(math.atan2(-y / max(ry, 1e-9), x / max(rx, 1e-9))) % 360.0
