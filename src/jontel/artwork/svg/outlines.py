"""The outlines of the shapes of an SVG as canonical path data in mm."""

import math
from collections.abc import Callable

import numpy as np
import svgelements as se

from jontel.artwork.svg.style import Style, View, length, numbers
from jontel.design.errors import CannotRead
from jontel.design.paths import Matrix, number_text
from jontel.geometry.nodes import Chain, chains_of, path_through

MOST_MM = 20_000.0
"""A place farther away than this, mm, is a fault of the drawing."""

Measure = Callable[[str, str], float]
"""A geometric value of an element by its name and the way along which percentages of it are."""


def measures(style: Style, view: View) -> Measure:
    """What gives the geometric values of an element, pixels of its own; 0 for what it does not say."""

    def value(name: str, along: str) -> float:
        return length(style.get(name, ""), style.font_size, view.of(along))

    return value


def data_of(tag: str, style: Style, view: View) -> str:
    """SVG path data of a shape, in pixels of its own; empty for what draws nothing."""
    value = measures(style, view)
    match tag:
        case "path":
            data = style.get("d", "").strip()
            return data[5:-1].strip("\"' ") if data.startswith("path(") else data
        case "rect":
            return _rectangle(style, view)
        case "circle":
            return _ellipse(value("cx", "x"), value("cy", "y"), value("r", ""), value("r", ""))
        case "ellipse":
            rx, ry = _radii(style, view)
            return _ellipse(value("cx", "x"), value("cy", "y"), rx, ry)
        case "line":
            return f"M{value('x1', 'x')},{value('y1', 'y')} L{value('x2', 'x')},{value('y2', 'y')}"
        case "polyline" | "polygon":
            found = numbers(style.get("points", ""))
            if len(found) < 4:
                return ""
            spots = [f"{x},{y}" for x, y in zip(found[::2], found[1::2], strict=False)]
            return "M" + " L".join(spots) + (" Z" if tag == "polygon" else "")
    return ""


def _radii(style: Style, view: View) -> tuple[float, float]:
    """Both radii; one that is not said is as the other."""
    rx = length(style.get("rx", ""), style.font_size, view.width, math.nan)
    ry = length(style.get("ry", ""), style.font_size, view.height, math.nan)
    rx, ry = (ry if math.isnan(rx) else rx), (rx if math.isnan(ry) else ry)
    return (0.0, 0.0) if math.isnan(rx) or rx < 0 or ry < 0 else (rx, ry)


def _ellipse(x: float, y: float, rx: float, ry: float) -> str:
    if rx <= 0 or ry <= 0:
        return ""
    return f"M{x + rx},{y} A{rx},{ry} 0 0 1 {x - rx},{y} A{rx},{ry} 0 0 1 {x + rx},{y} Z"


def _rectangle(style: Style, view: View) -> str:
    value = measures(style, view)
    x, y, wide, high = value("x", "x"), value("y", "y"), value("width", "x"), value("height", "y")
    if wide <= 0 or high <= 0:
        return ""
    rx, ry = _radii(style, view)
    rx, ry = min(rx, wide / 2), min(ry, high / 2)
    if rx <= 0 or ry <= 0:
        return f"M{x},{y} H{x + wide} V{y + high} H{x} Z"
    turn = f"A{rx},{ry} 0 0 1"
    return (
        f"M{x + rx},{y} H{x + wide - rx} {turn} {x + wide},{y + ry} V{y + high - ry} "
        f"{turn} {x + wide - rx},{y + high} H{x + rx} {turn} {x},{y + high - ry} V{y + ry} {turn} {x + rx},{y} Z"
    )


def canonical(data: str, matrix: Matrix, name: str) -> str:
    """SVG path data moved by ``matrix`` as canonical path data. Raises ``CannotRead`` where it is damaged."""
    try:
        path = se.Path(data)
        path.approximate_arcs_with_cubics()  # before the matrix, which makes of a circle no arc that SVG could say
    except (ValueError, ArithmeticError, LookupError, TypeError, AttributeError) as error:
        # the parser makes what it can of a damaged path, and stumbles over it with nearly any error
        raise CannotRead(f"{name} has a path that is damaged; save it again from the drawing program.") from error
    a, b, c, d, e, f = matrix
    parts: list[str] = []

    def add(letter: str, *points: "se.Point | None") -> None:
        spots = [(0.0, 0.0) if p is None else (float(p.x), float(p.y)) for p in points]
        moved = [v for x, y in spots for v in (a * x + c * y + e, b * x + d * y + f)]
        if not all(math.isfinite(v) and abs(v) < MOST_MM for v in moved):
            raise CannotRead(f"{name} has a path with a point that is not a number; correct it and try again.")
        parts.append(letter + " ".join(number_text(v) for v in moved))

    begun = False
    for segment in path:
        match segment:
            case se.Move(end=end) if end is not None:
                add("M", end)
                begun = True
            case se.Close(end=end):
                if begun:
                    parts.append("Z")
            case _ if not begun:
                raise CannotRead(f"{name} has a path that is damaged; save it again from the drawing program.")
            case se.Line(end=end):
                add("L", end)
            case se.CubicBezier(control1=one, control2=two, end=end):
                add("C", one, two, end)
            case se.QuadraticBezier(control=one, end=end):
                add("Q", one, end)
            case _:
                continue
    return " ".join(_moved_after_close(parts))


def _moved_after_close(parts: list[str]) -> list[str]:
    """With the move written out where a subpath goes on after the one before was closed."""
    found: list[str] = []
    start = ""
    for part in parts:
        if part[0] == "M":
            start = part
        elif found and found[-1] == "Z" and part != "Z":
            found.append(start)
        found.append(part)
    return found


def longer(path: str, by: float) -> str:
    """Open lines carried straight on by so many mm at both ends, as square caps do."""
    chains = []
    for chain in chains_of(path):
        if chain.closed or len(chain.at) < 2:
            chains.append(chain)
            continue
        at, before, after = chain.at, chain.before, chain.after
        ends = []
        for node, handle, other in ((0, after[0], at[1]), (-1, before[-1], at[-2])):
            way = at[node] - (handle if np.hypot(*(handle - at[node])) > 1e-6 else other)
            ends.append(at[node] + by * way / max(float(np.hypot(*way)), 1e-9))
        first, last = ends
        chains.append(
            Chain(
                np.vstack([first, at, last]),
                np.vstack([first, at[:1], before[1:], last]),
                np.vstack([first, after[:-1], at[-1:], last]),
                False,
            )
        )
    return path_through(tuple(chains))
