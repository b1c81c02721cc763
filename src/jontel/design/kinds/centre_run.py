"""Centre run: a run along the middle of a column, there and back."""

from typing import Annotated

from jontel.design.kinds.base import UnderlayValues
from jontel.design.kinds.passes import INSET, LENGTH, beads_at_middle
from jontel.design.kinds.traits import UnderlayTraits


class CentreRun(UnderlayValues, frozen=True, tag="centre run"):
    """A run along the middle of a column, there and back."""

    length: Annotated[float, LENGTH] = 2.0
    inset: Annotated[float, INSET] = 0.6


TRAITS = UnderlayTraits(
    "Centre run",
    "M3 4 L17 4 M3 16 L17 16 M3 10 L7 10 M8.5 10 L11.5 10 M13 10 L17 10",
    beads_at_middle,
)
