"""Parallel: rows across the cover's. ``angle`` is measured from the cover's rows."""

from typing import Annotated

from jontel.design.kinds.base import UnderlayValues
from jontel.design.kinds.passes import ANGLE, INSET, LENGTH, SPACING, beads_across
from jontel.design.kinds.traits import UnderlayTraits


class Parallel(UnderlayValues, frozen=True, tag="parallel"):
    """Rows across the cover's. ``angle`` is measured from the cover's rows."""

    spacing: Annotated[float, SPACING] = 2.0
    length: Annotated[float, LENGTH] = 3.0
    inset: Annotated[float, INSET] = 0.6
    angle: Annotated[float, ANGLE] = 90.0


TRAITS = UnderlayTraits(
    "Parallel",
    "M4 3 L4 17 M8 3 L8 17 M12 3 L12 17 M16 3 L16 17",
    beads_across,
)
