"""Double zigzag: a zigzag there and a second one back, crossing it."""

from typing import Annotated

from jontel.design.kinds.base import UnderlayValues
from jontel.design.kinds.passes import INSET, SPACING, beads_across
from jontel.design.kinds.traits import UnderlayTraits


class DoubleZigzag(UnderlayValues, frozen=True, tag="double zigzag"):
    """A zigzag there and a second one back, crossing it."""

    spacing: Annotated[float, SPACING] = 2.4
    inset: Annotated[float, INSET] = 0.5


TRAITS = UnderlayTraits(
    "Double zigzag",
    "M3 15 L7 5 L11 15 L15 5 L17 10 M3 5 L7 15 L11 5 L15 15 L17 10",
    beads_across,
)
