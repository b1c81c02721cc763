"""Lattice: two crossed passes of rows, at ``angle`` degrees to either side of the cover's."""

from typing import Annotated

from jontel.design.kinds.base import UnderlayValues
from jontel.design.kinds.passes import ANGLE, INSET, LENGTH, SPACING, beads_across
from jontel.design.kinds.traits import UnderlayTraits


class Lattice(UnderlayValues, frozen=True, tag="lattice"):
    """Two crossed passes of rows, at ``angle`` degrees to either side of the cover's."""

    spacing: Annotated[float, SPACING] = 2.5
    length: Annotated[float, LENGTH] = 3.0
    inset: Annotated[float, INSET] = 0.6
    angle: Annotated[float, ANGLE] = 45.0


TRAITS = UnderlayTraits(
    "Lattice",
    "M3 10 L10 3 M3 17 L17 3 M10 17 L17 10 M3 10 L10 17 M3 3 L17 17 M10 3 L17 10",
    beads_across,
)
