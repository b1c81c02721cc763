"""How a pass of the build-up looks cut through: plain marks, painted by whoever has a painter.

Across, everything is in mm about the object's middle, in true proportion; heights are parts of the pass's own.
"""

import math
from dataclasses import dataclass


@dataclass(frozen=True)
class Cut:
    """What a section is drawn for, mm: half the drawn width, how much farther it is sewn, how wide the thread is."""

    half: float
    pull: float
    thread: float

    @property
    def sewn(self) -> float:
        """Half the sewn width."""
        return self.half + self.pull


@dataclass(frozen=True)
class Beads:
    """Threads cut across, at ``places``: ``wide`` mm and ``tall`` of the pass's height, lifted by ``lift`` of it."""

    places: tuple[float, ...]
    wide: float
    tall: float
    lift: float = 0.0


@dataclass(frozen=True)
class Bows:
    """Threads that bow from edge to edge, ``left`` to ``right``.

    Every other one is drawn in by ``first`` and ``second``. ``lift`` raises them, in parts of the pass's height;
    ``darker`` those that lie beneath.
    """

    left: float
    right: float
    first: float = 0.0
    second: float = 0.0
    lift: float = 0.0
    darker: bool = False


@dataclass(frozen=True)
class Points:
    """Needle points seen from the side, at ``places``."""

    places: tuple[float, ...]


@dataclass(frozen=True)
class Dashes:
    """A run seen from the side, its stitches ``length`` mm long."""

    length: float


@dataclass(frozen=True)
class Words:
    """A few words where nothing is sewn."""

    text: str


Mark = Beads | Bows | Points | Dashes | Words
LEAST = 0.08
"""Marks nearer to each other than this, mm, would run together."""


def every(half: float, apart: float) -> tuple[float, ...]:
    """Places ``apart`` mm within ``half`` of the middle, and as many to its left as to its right."""
    apart = max(apart, LEAST)
    count = max(1, math.floor(max(2 * half, 0.0) / apart + 1e-9) + 1)
    return tuple((k - (count - 1) / 2) * apart for k in range(count))
