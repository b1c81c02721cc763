"""A finding of the proof: a value that names what is wrong, where, and the edits that mend it."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from jontel.design.design import Design
from jontel.design.shapes import Point
from jontel.geometry.polyline import Floats

Severity = Literal["spoils", "look"]


@dataclass(frozen=True)
class Fix:
    """An edit that mends a finding, and what it is called; a ``slow`` one is worked out aside."""

    label: str
    edit: Callable[[Design], Design]
    slow: bool = False


@dataclass(frozen=True)
class Finding:
    """One result of the proof. ``fixes`` are edits that mend it, the best first."""

    kind: str
    severity: Severity
    sentence: str
    objects: tuple[int, ...]
    place: Point | None = None
    fixes: tuple[Fix, ...] = ()


def at(point: Sequence[float] | Floats) -> str:
    """A place in words."""
    return f"x {point[0]:.1f}, y {point[1]:.1f}"


def spot(xy: Floats) -> Point:
    """A place as numbers."""
    return float(xy[0]), float(xy[1])
