"""What the user drew: an area, a line with a width, or a column between two edges.

Outlines are path data in a canonical subset of SVG 1.1: absolute ``M L C Q Z`` only, in mm, x right,
y down, origin at the hoop's centre. Compensation never changes them.
"""

from typing import Literal

from msgspec import Struct

Point = tuple[float, float]
FillRule = Literal["nonzero", "evenodd"]
LineEnds = Literal["flat", "round", "pointed"]


class Area(Struct, frozen=True, tag="area"):
    """One or more closed outlines; the fill rule says what is inside."""

    path: str
    rule: FillRule = "nonzero"


class Line(Struct, frozen=True, tag="line"):
    """A path; ``width`` in mm is what a satin along it covers, and what a run ignores."""

    path: str
    width: float = 1.6
    ends: LineEnds = "flat"


class Column(Struct, frozen=True, tag="column"):
    """Two edges that run the same way; ``lines`` are direction lines, each from one edge to the other."""

    edge: str
    other_edge: str
    lines: tuple[tuple[Point, Point], ...] = ()


Shape = Area | Line | Column
