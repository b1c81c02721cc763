"""A swatch to be sewn on one's own cloth, and what is measured on it.

Columns of 1 to 10 mm in two directions, a disc, a square, a ring, two areas that touch, and a cross in each corner;
none of them compensated, so that what is measured is what the cloth does.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from jontel.data import thread_chart
from jontel.design.design import Brief, Design, StitchObject
from jontel.design.edits import add_objects
from jontel.design.ground import Edges, Ground, Hoop
from jontel.design.kinds import Cover
from jontel.design.kinds.fill import Fill
from jontel.design.kinds.run import Run
from jontel.design.kinds.satin import Satin
from jontel.design.shapes import Area, Line, Shape
from jontel.forecast.forecast import Forecast
from jontel.geometry.polyline import Floats
from jontel.stitching.stitches import Kind

FIELD = Hoop("swatch", 100.0, 100.0, 5.0)
WIDTHS = (1.0, 2.0, 3.0, 4.0, 6.0, 8.0, 10.0)
LONG = 18.0
"""How long the columns are, mm."""
CROSSES = ((-42.0, -42.0), (42.0, -42.0), (42.0, 42.0), (-42.0, 42.0))
"""Where the crosses are sewn, mm: they hardly move, and tell a picture's scale and slant."""
ARM = 3.0
BARE = Edges(pull=0.0, pull_percent=0.0, push=0.0, pull_x=0.0, pull_y=0.0)


Lay = Callable[[Floats], Floats]


@dataclass(frozen=True)
class Reading:
    """One length on the swatch: from one side of an object to the other.

    ``ends`` are places (2, n, 2) on the two sides as drawn, mm; the length is their mean distance along ``way``.
    """

    name: str
    object: str
    drawn: float
    ends: Floats
    way: Floats

    def of(self, seen: Forecast, lay: Lay | None = None) -> float:
        """What will be read on the swatch as it is forecast, mm; ``lay`` is how a picture of it is laid out."""
        number = next(k for k, piece in enumerate(seen.plan.pieces) if piece.owner == self._owner(seen))
        one, other = (seen.moved_rim(number, side) for side in self.ends)
        if lay is not None:
            one, other = lay(one), lay(other)
        return float(((other - one) @ self.way).mean())

    def _owner(self, seen: Forecast) -> int:
        return next(item.id for item in seen.plan.design.objects if item.name == self.object)


def swatch(ground: Ground) -> Design:
    """The swatch on a ground."""
    thread = min(thread_chart(), key=lambda one: sum(one.rgb))
    brief = Brief(ground, FIELD, (thread,))
    items = [
        StitchObject(id=0, name=name, thread=thread.code, shape=shape, cover=cover, edges=BARE)
        for name, shape, cover in _parts()
    ]
    return add_objects(Design(name=f"Swatch for {ground.name}", brief=brief), items)


def _parts() -> list[tuple[str, Shape, Cover]]:
    found: list[tuple[str, Shape, Cover]] = []
    for number, (x, y) in enumerate(CROSSES, 1):
        path = f"M{x - ARM} {y} L{x + ARM} {y} M{x} {y - ARM} L{x} {y + ARM}"
        found.append((f"cross {number}", Line(path), Run(style="triple", length=1.5)))
    for width, at in _columns():
        found.append((f"upright {width:g}", Line(f"M{at} -36 L{at} {LONG - 36}", width), Satin()))
        found.append((f"level {width:g}", Line(f"M-36 {at} L{LONG - 36} {at}", width), Satin()))
    found.append(("disc", Area(circle(8.0, 0.0, 2.0)), Fill()))
    found.append(("square", Area("M14 -6 L30 -6 L30 10 L14 10 Z"), Fill()))
    found.append(("ring", Area(circle(8.0, 2.0, 26.0) + " " + circle(4.0, 2.0, 26.0), "evenodd"), Fill()))
    found.append(("left half", Area("M16 18 L25 18 L25 34 L16 34 Z"), Fill()))
    found.append(("right half", Area("M25 18 L34 18 L34 34 L25 34 Z"), Fill()))
    return found


def _columns() -> list[tuple[float, float]]:
    """The widths and the middles of the columns, mm: those of both directions lie alike."""
    found, at = [], -16.0
    for width in WIDTHS:
        found.append((width, at + width / 2))
        at += width + 3.0
    return found


def circle(radius: float, x: float, y: float) -> str:
    """Path data of a circle, mm."""
    k = 0.5522847498 * radius
    return (
        f"M{x + radius} {y} C{x + radius} {y + k} {x + k} {y + radius} {x} {y + radius} "
        f"C{x - k} {y + radius} {x - radius} {y + k} {x - radius} {y} "
        f"C{x - radius} {y - k} {x - k} {y - radius} {x} {y - radius} "
        f"C{x + k} {y - radius} {x + radius} {y - k} {x + radius} {y} Z"
    )


def readings() -> tuple[Reading, ...]:
    """What is measured on the swatch."""
    level, upright = np.array([1.0, 0.0]), np.array([0.0, 1.0])
    found: list[Reading] = []
    middle = np.linspace(-0.25, 0.25, 7) * LONG
    for width, at in _columns():
        centre = LONG / 2 - 36
        across = np.linspace(-0.3, 0.3, 5) * width
        for way, name, turn in ((level, "upright", _as_is), (upright, "level", _swapped)):
            one, other = (turn(np.column_stack([np.full(7, at + s * width / 2), centre + middle])) for s in (-1, 1))
            found.append(Reading(f"{name} {width:g} width", f"{name} {width:g}", width, np.array([one, other]), way))
            ends = [turn(np.column_stack([at + across, np.full(5, centre + s * LONG / 2)])) for s in (-1, 1)]
            along = upright if name == "upright" else level
            found.append(Reading(f"{name} {width:g} length", f"{name} {width:g}", LONG, np.array(ends), along))
    beside = np.linspace(-2.0, 2.0, 9)
    for name, x, y, half in (("disc", 0.0, 2.0, 8.0), ("square", 22.0, 2.0, 8.0), ("ring", 2.0, 26.0, 8.0)):
        out = np.full(9, half) if name == "square" else np.sqrt(half**2 - beside**2)
        for way, words, turn in ((level, "across", _as_is), (upright, "down", _swapped)):
            ends = [np.array([x, y]) + turn(np.column_stack([s * out, beside])) for s in (-1, 1)]
            found.append(Reading(f"{name} {words}", name, 2 * float(out.mean()), np.array(ends), way))
    return tuple(found)


def _as_is(xy: Floats) -> Floats:
    return xy


def _swapped(xy: Floats) -> Floats:
    return xy[:, ::-1].copy()


def through_crosses(seen: Forecast) -> Lay:
    """How a picture is laid out that is taken to have its crosses where they were drawn: places (n, 2) to places."""
    middles = []
    for number in range(len(CROSSES)):
        points = seen.stitches(number)[seen.plan.pieces[number].kind == Kind.STITCH]
        middles.append((points.min(axis=0) + points.max(axis=0)) / 2)
    known = np.column_stack([np.array(middles), np.ones(len(middles)), np.prod(middles, axis=1)])
    turn = np.linalg.solve(known, np.array(CROSSES))

    def lay(xy: Floats) -> Floats:
        return np.asarray(np.column_stack([xy, np.ones(len(xy)), xy[:, 0] * xy[:, 1]]) @ turn)

    return lay
