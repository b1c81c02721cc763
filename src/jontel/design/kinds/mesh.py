"""Mesh: rows in three directions that hold each other: what lace hangs together by."""

from typing import Annotated

from jontel.design.kinds.base import UnderlayValues
from jontel.design.kinds.passes import ANGLE, INSET, LENGTH, SPACING, beads_across
from jontel.design.kinds.traits import UnderlayTraits


class Mesh(UnderlayValues, frozen=True, tag="mesh"):
    """Rows in three directions that hold each other: what lace hangs together by.

    The first runs at ``angle`` degrees to the cover's rows, the others 60 degrees to its sides.
    """

    spacing: Annotated[float, SPACING] = 1.8
    length: Annotated[float, LENGTH] = 2.0
    inset: Annotated[float, INSET] = 0.4
    angle: Annotated[float, ANGLE] = 90.0


TRAITS = UnderlayTraits(
    "Mesh",
    "M3 6 L17 6 M3 14 L17 14 M4 3 L12 17 M9 3 L17 17 M16 3 L8 17 M11 3 L3 17",
    beads_across,
    holds=True,
)
