"""Edge run: a run beside every edge."""

from typing import Annotated

from jontel.design.kinds.base import UnderlayValues
from jontel.design.kinds.passes import INSET, LENGTH, beads_at_edges
from jontel.design.kinds.traits import UnderlayTraits


class EdgeRun(UnderlayValues, frozen=True, tag="edge run"):
    """A run beside every edge."""

    length: Annotated[float, LENGTH] = 2.0
    inset: Annotated[float, INSET] = 0.5


TRAITS = UnderlayTraits(
    "Edge run",
    (
        "M3 4 L6 4 M8 4 L12 4 M14 4 L17 4 M17 6 L17 9 M17 11 L17 14 M17 16 L14 16 M12 16 L8 16 M6 "
        "16 L3 16 M3 14 L3 11 M3 9 L3 6"
    ),
    beads_at_edges,
)
