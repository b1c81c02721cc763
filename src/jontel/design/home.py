"""Where a shape lies at home: what a shape alone decides is worked out there once, wherever it is moved to.

Path data are numbers on a grid of ``DECIMALS``, and objects are moved by whole steps of it. So a shape that is moved
is the same at home to the last digit, and so are its copies.
"""

import re
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import wraps
from typing import Concatenate, ParamSpec, TypeVar

from msgspec.structs import replace

from jontel.design.errors import CannotStitch
from jontel.design.paths import DECIMALS, transform_shape
from jontel.design.shapes import Area, Column, Line, Lines, Point, Shape
from jontel.design.store import kept

P = ParamSpec("P")
R = TypeVar("R")
S = TypeVar("S", bound=Shape)
HERE = (0.0, 0.0)
_FIRST = re.compile(r"\s*M\s*([-+.\deE]+)[\s,]+([-+.\deE]+)")


@kept
def at_home(shape: Shape) -> tuple[Shape, Point]:
    """A shape moved so that it begins at ``HERE``, and where it begins."""
    begins = _FIRST.match(shape.edge if isinstance(shape, Column) else shape.path)
    corner = HERE if begins is None else (float(begins[1]), float(begins[2]))
    if corner == HERE:
        return shape, HERE
    moved = transform_shape(shape, (1.0, 0.0, 0.0, 1.0, -corner[0], -corner[1]))
    match moved:
        case Line():
            return moved, corner
        case Column():
            return replace(moved, lines=_on_grid(moved.lines)), corner
        case Area():
            said = moved.columns
            order = tuple(seen_from(HERE, place) for place in said.order)
            columns = replace(said, cuts=_on_grid(said.cuts), merges=_on_grid(said.merges), order=order)
            return replace(moved, lines=_on_grid(moved.lines), columns=columns), corner


def seen_from(corner: Point, place: Point) -> Point:
    """A place as it lies to a corner, on the grid of path data."""
    return round(place[0] - corner[0], DECIMALS), round(place[1] - corner[1], DECIMALS)


def _on_grid(lines: Lines) -> Lines:
    return tuple((seen_from(HERE, start), seen_from(HERE, stop)) for start, stop in lines)


@contextmanager
def refused_at(corner: Point) -> Iterator[None]:
    """What is refused at home names its place on the cloth."""
    try:
        yield
    except CannotStitch as refusal:
        if refusal.place is None or corner == HERE:
            raise
        place = (refusal.place[0] + corner[0], refusal.place[1] + corner[1])
        raise CannotStitch(str(refusal), place) from None


def homed(
    move: Callable[[R, Point], R],
) -> Callable[[Callable[Concatenate[S, P], R]], Callable[Concatenate[S, P], R]]:
    """A pure function of a shape, kept once worked out where the shape lies at home, whose results can be moved."""

    def decorate(function: Callable[Concatenate[S, P], R]) -> Callable[Concatenate[S, P], R]:
        worked_out = kept(function)

        @kept
        @wraps(function)
        def found(shape: S, /, *args: P.args, **kwargs: P.kwargs) -> R:
            home, corner = at_home(shape)
            with refused_at(corner):
                answer = worked_out(home, *args, **kwargs)  # type: ignore[arg-type]  # of the same kind
            return answer if corner == HERE else move(answer, corner)

        return found

    return decorate
