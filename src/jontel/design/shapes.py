"""What the user drew: an area, a line with a width, or a column between two edges.

Outlines are path data in a canonical subset of SVG 1.1: absolute ``M L C Q Z`` only, in mm, x right,
y down, origin at the hoop's centre. Compensation never changes them.
"""

from typing import Annotated, Literal

from msgspec import Meta, Struct

from jontel.design.kinds.values import MOST_KNOTS, Group, Share, When, curve, number, word

FARTHEST = 10_000.0
"""No place on the cloth is farther from the hoop's centre than this along x or y, mm."""
Coordinate = Annotated[float, Meta(ge=-FARTHEST, le=FARTHEST)]
Point = tuple[Coordinate, Coordinate]
Lines = Annotated[tuple[tuple[Point, Point], ...], Meta(max_length=MOST_KNOTS)]
Places = Annotated[tuple[Point, ...], Meta(max_length=MOST_KNOTS)]
PathData = Annotated[str, Meta(max_length=50_000_000)]
FillRule = Literal["nonzero", "evenodd"]
LineEnd = Literal["flat", "round", "pointed", "slanted"]
Corners = Literal["by angle", "mitred", "capped", "turned"]
WidthProfile = tuple[tuple[Share, Annotated[float, Meta(ge=0.0, le=10.0)]], ...]
LINE, CORNERS = Group("Line", open=True), Group("Width profile and corners")
BY_ANGLE: When = ("corners", ("by angle",))
SLANTED_START: When = ("start", ("slanted",))
SLANTED_END: When = ("end", ("slanted",))


class Corrections(Struct, frozen=True):
    """What a person says of the columns that an area is sewn in.

    ``cuts`` are lines across it at which one column ends and the next begins. Each of ``merges`` joins two columns,
    by a place on the axis of each. ``order`` are places on the axes of columns in the order in which those are sewn.
    All of them are places on the cloth, so they hold when the outline is edited a little.
    """

    cuts: Lines = ()
    merges: Lines = ()
    order: Places = ()


UNCORRECTED = Corrections()


class Area(Struct, frozen=True, tag="area"):
    """One or more closed outlines; the fill rule says what is inside.

    ``lines`` are direction lines: rows run parallel to each and turn between them. ``guide`` is path data of
    a curve that the rows follow instead. Letters are sewn ``in_order``: part after part as they are drawn.
    """

    path: PathData
    rule: FillRule = "nonzero"
    lines: Lines = ()
    guide: PathData | None = None
    in_order: bool = False
    columns: Corrections = UNCORRECTED


class Line(Struct, frozen=True, tag="line"):
    """A path; ``width`` in mm is what a satin along it covers, and what a run ignores.

    ``beside`` moves that off the path, in percent of half the width: a closed one outwards, an open one to the left
    of its way, for a number above 0. So 100 is all outside, -100 all inside.
    ``profile`` scales the width along the path, and so do the widths at its start and end, in percent. A slanted end
    leans by so many degrees against one square to the line: forwards on the left of the way for an angle above 0.
    Corners sharper than ``mitre_over`` degrees are mitred,
    sharper than ``cap_over`` capped, the rest turned, unless ``corners`` says one for all.
    """

    path: PathData
    width: Annotated[float, number("Width", 0.1, 100.0, "length", 0.1, LINE)] = 1.6
    beside: Annotated[float, number("Outwards by", -100.0, 100.0, "percent", 25, LINE)] = 0.0
    start: Annotated[LineEnd, word("Start", LINE)] = "flat"
    start_slant: Annotated[float, number("Start leans", -60.0, 60.0, "angle", 5, LINE, SLANTED_START)] = 30.0
    end: Annotated[LineEnd, word("End", LINE)] = "flat"
    end_slant: Annotated[float, number("End leans", -60.0, 60.0, "angle", 5, LINE, SLANTED_END)] = 30.0
    profile: Annotated[WidthProfile, curve("Width profile", CORNERS, None, ready=True)] = ()
    start_width: Annotated[float, number("Width at the start", 0.0, 500.0, "percent", 5, CORNERS)] = 100.0
    end_width: Annotated[float, number("Width at the end", 0.0, 500.0, "percent", 5, CORNERS)] = 100.0
    corners: Annotated[Corners, word("Corners", CORNERS)] = "by angle"
    mitre_over: Annotated[float, number("Mitred over", 1.0, 180.0, "angle", 5, CORNERS, BY_ANGLE)] = 35.0
    cap_over: Annotated[float, number("Capped over", 1.0, 180.0, "angle", 5, CORNERS, BY_ANGLE)] = 125.0


class Column(Struct, frozen=True, tag="column"):
    """Two edges that run the same way; ``lines`` are direction lines, each from one edge to the other."""

    edge: PathData
    other_edge: PathData
    lines: Lines = ()


Shape = Area | Line | Column

PROFILES: dict[str, WidthProfile] = {
    "even": (),
    "swelling": ((0.0, 0.3), (0.25, 0.75), (0.5, 1.0), (0.75, 0.75), (1.0, 0.3)),
    "waisted": ((0.0, 1.0), (0.25, 0.7), (0.5, 0.5), (0.75, 0.7), (1.0, 1.0)),
    "growing": ((0.0, 0.25), (1.0, 1.0)),
    "shrinking": ((0.0, 1.0), (1.0, 0.25)),
    "leaf": ((0.0, 0.1), (0.2, 0.7), (0.4, 1.0), (0.7, 0.75), (1.0, 0.1)),
}
"""Ready width profiles of a line."""
