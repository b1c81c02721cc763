"""Which values each layer of the build-up has, and how they are typed."""

from dataclasses import dataclass

from jontel.design.covers import Fill, Run, Satin
from jontel.design.underlays import (
    CentreRun,
    DoubleZigzag,
    EdgeRun,
    Lattice,
    Mesh,
    Parallel,
    Zigzag,
)


@dataclass(frozen=True)
class Value:
    """One number of a layer: its field, its name, its kind, its range and its step."""

    field: str
    title: str
    kind: str
    low: float
    high: float
    step: float


_SPACING = Value("spacing", "Spacing", "spacing", 0.1, 10.0, 0.02)
_LENGTH = Value("length", "Stitch length", "length", 0.5, 12.0, 0.1)
_OPEN = Value("spacing", "Spacing", "spacing", 0.3, 20.0, 0.1)
_INSET = Value("inset", "Inset", "length", 0.0, 10.0, 0.1)

COVER_VALUES: dict[type, tuple[Value, ...]] = {
    Run: (_LENGTH, Value("repeats", "Repeats", "count", 1, 20, 1)),
    Satin: (
        Value("spacing", "Spacing", "spacing", 0.15, 10.0, 0.02),
        Value("split", "Split rows over", "length", 2.0, 12.0, 0.5),
    ),
    Fill: (
        _SPACING,
        _LENGTH,
        Value("angle", "Angle", "angle", -180.0, 180.0, 1.0),
        Value("brick_offset", "Brick offset", "part", 0.0, 0.99, 0.05),
        Value("brick_rows", "Brick rows", "count", 1, 40, 1),
    ),
}
EDGE_VALUES = (
    Value("pull", "Pull, each side", "length", 0.0, 3.0, 0.05),
    Value("pull_percent", "Pull, of the row", "percent", 0.0, 50.0, 1.0),
    Value("pull_ceiling", "Pull at most", "length", 0.0, 5.0, 0.1),
    Value("push", "Push, each end", "length", 0.0, 3.0, 0.05),
)
UNDERLAY_VALUES: dict[type, tuple[Value, ...]] = {
    CentreRun: (_LENGTH, _INSET),
    EdgeRun: (_LENGTH, _INSET),
    Parallel: (_OPEN, _LENGTH, _INSET, Value("angle", "Angle to the rows", "angle", -180.0, 180.0, 5.0)),
    Zigzag: (_OPEN, _INSET),
    DoubleZigzag: (_OPEN, _INSET),
    Lattice: (_OPEN, _LENGTH, _INSET),
    Mesh: (_OPEN, _LENGTH, _INSET),
}
