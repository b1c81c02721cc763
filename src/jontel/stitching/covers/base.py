"""What a generator of stitches tells of its kind of cover."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from jontel.design.kinds import Underlay
from jontel.design.resolve import Resolved
from jontel.geometry.polyline import Floats
from jontel.geometry.region import Region
from jontel.stitching.stitches import Needle

Sew = Callable[[Resolved, Any, Floats | None, Floats | None], Needle]


def _no_edge(_item: Resolved) -> Region:
    return Region()


def _no_width(_item: Resolved) -> float:
    return 0.0


def _no_passes(_item: Resolved) -> tuple[Underlay, ...]:
    return ()


@dataclass(frozen=True)
class Generator:
    """How a kind of cover becomes stitches. All of these raise ``CannotStitch``, and get the object at home.

    ``sew`` takes the object, its cover's recipe, and where to enter and leave, (2,) mm or ``None``. ``edge`` is the
    compensated edge that the cover is sewn to, empty where it hides no cloth: the same object, whatever else about
    the cover is tuned. ``width`` is how wide it is across its narrow way as drawn, mm. ``passes`` are those of the
    automatic underlay.
    """

    sew: Sew
    edge: Callable[[Resolved], Region] = _no_edge
    width: Callable[[Resolved], float] = _no_width
    passes: Callable[[Resolved], tuple[Underlay, ...]] = _no_passes
