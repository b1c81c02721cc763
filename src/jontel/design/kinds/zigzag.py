"""Zigzag: a wide zigzag from edge to edge; on a fill, along the rows at this spacing."""

from typing import Annotated

from jontel.design.kinds.base import UnderlayValues
from jontel.design.kinds.passes import INSET, SPACING, beads_across
from jontel.design.kinds.traits import UnderlayTraits


class Zigzag(UnderlayValues, frozen=True, tag="zigzag"):
    """A wide zigzag from edge to edge; on a fill, along the rows at this spacing."""

    spacing: Annotated[float, SPACING] = 2.0
    inset: Annotated[float, INSET] = 0.5


TRAITS = UnderlayTraits(
    "Zigzag",
    "M3 15 L7 5 L11 15 L15 5 L18 13",
    beads_across,
)
