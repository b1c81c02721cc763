"""What the user drew: an area, a line with a width, or a column between two edges.

Outlines are path data in a canonical subset of SVG 1.1: absolute ``M L C Q Z`` only, in mm, x right,
y down, origin at the hoop's centre. Compensation never changes them.
"""

from typing import Literal

from msgspec import Struct

from jontel.design.covers import Profile

Point = tuple[float, float]
Lines = tuple[tuple[Point, Point], ...]
FillRule = Literal["nonzero", "evenodd"]
LineEnds = Literal["flat", "round", "pointed"]
Corners = Literal["by angle", "mitred", "capped", "turned"]


class Area(Struct, frozen=True, tag="area"):
    """One or more closed outlines; the fill rule says what is inside.

    ``lines`` are direction lines: rows run parallel to each and turn between them. ``guide`` is path data of
    a curve that the rows follow instead.
    """

    path: str
    rule: FillRule = "nonzero"
    lines: Lines = ()
    guide: str | None = None


class Line(Struct, frozen=True, tag="line"):
    """A path; ``width`` in mm is what a satin along it covers, and what a run ignores.

    ``profile`` scales the width along the path. Corners sharper than ``mitre_over`` degrees are mitred,
    sharper than ``cap_over`` capped, the rest turned, unless ``corners`` says one for all.
    """

    path: str
    width: float = 1.6
    ends: LineEnds = "flat"
    profile: Profile = ()
    corners: Corners = "by angle"
    mitre_over: float = 35.0
    cap_over: float = 125.0


class Column(Struct, frozen=True, tag="column"):
    """Two edges that run the same way; ``lines`` are direction lines, each from one edge to the other."""

    edge: str
    other_edge: str
    lines: Lines = ()


Shape = Area | Line | Column

PROFILES: dict[str, Profile] = {
    "even": (),
    "swelling": ((0.0, 0.3), (0.25, 0.75), (0.5, 1.0), (0.75, 0.75), (1.0, 0.3)),
    "waisted": ((0.0, 1.0), (0.25, 0.7), (0.5, 0.5), (0.75, 0.7), (1.0, 1.0)),
    "growing": ((0.0, 0.25), (1.0, 1.0)),
    "shrinking": ((0.0, 1.0), (1.0, 0.25)),
    "leaf": ((0.0, 0.1), (0.2, 0.7), (0.4, 1.0), (0.7, 0.75), (1.0, 0.1)),
}
"""Ready width profiles of a line."""
