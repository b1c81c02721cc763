"""Underlay passes: what is sewn beneath the cover, all of it inside the compensated edge by its inset."""

from msgspec import Struct


class CentreRun(Struct, frozen=True, tag="centre run"):
    """A run along the middle of a column, there and back."""

    length: float = 2.0
    inset: float = 0.6


class EdgeRun(Struct, frozen=True, tag="edge run"):
    """A run beside every edge."""

    length: float = 2.0
    inset: float = 0.5


class Parallel(Struct, frozen=True, tag="parallel"):
    """Rows across the cover's. ``angle`` is measured from the cover's rows."""

    spacing: float = 2.0
    length: float = 3.0
    inset: float = 0.6
    angle: float = 90.0


class Zigzag(Struct, frozen=True, tag="zigzag"):
    """A wide zigzag from edge to edge; on a fill, along the rows at this spacing."""

    spacing: float = 2.0
    inset: float = 0.5


class DoubleZigzag(Struct, frozen=True, tag="double zigzag"):
    """A zigzag there and a second one back, crossing it."""

    spacing: float = 2.4
    inset: float = 0.5


class Lattice(Struct, frozen=True, tag="lattice"):
    """Two crossed passes of rows, at ``angle`` degrees to either side of the cover's."""

    spacing: float = 2.5
    length: float = 3.0
    inset: float = 0.6
    angle: float = 45.0


class Mesh(Struct, frozen=True, tag="mesh"):
    """Rows in three directions that hold each other: what lace hangs together by.

    The first runs at ``angle`` degrees to the cover's rows, the others 60 degrees to its sides.
    """

    spacing: float = 1.8
    length: float = 2.0
    inset: float = 0.4
    angle: float = 90.0


Underlay = CentreRun | EdgeRun | Parallel | Zigzag | DoubleZigzag | Lattice | Mesh
UNDERLAY_KINDS: tuple[type[Underlay], ...] = (
    CentreRun,
    EdgeRun,
    Parallel,
    Zigzag,
    DoubleZigzag,
    Lattice,
    Mesh,
)


def kind_name(value: Struct) -> str:
    """The trade's name of a cover, an underlay or a shape: its tag."""
    return str(value.__struct_config__.tag)
