"""The values that underlay passes share, and how they look cut through."""

from typing import Any

from jontel.design.kinds.section import Beads, Cut, Mark, every
from jontel.design.kinds.values import Group, number

PASS = Group("Pass", open=True)
LENGTH = number("Stitch length", 0.3, 12.0, "stitch", 0.1, PASS)
SPACING = number("Spacing", 0.1, 20.0, "spacing", 0.1, PASS)
INSET = number("Inset", -5.0, 20.0, "length", 0.1, PASS)
ANGLE = number("Angle to the rows", -360.0, 360.0, "angle", 5.0, PASS)
WIDE, TALL = 1.1, 0.5


def beads_across(one: Any, cut: Cut) -> tuple[Mark, ...]:
    """Rows cut across, from edge to edge."""
    return (Beads(every(max(cut.half - one.inset, 0.0), one.spacing), WIDE * cut.thread, TALL),)


def beads_at_edges(one: Any, cut: Cut) -> tuple[Mark, ...]:
    """One thread beside each edge."""
    half = max(cut.half - one.inset, 0.0)
    return (Beads((-half, half), WIDE * cut.thread, TALL),)


def beads_at_middle(_one: Any, cut: Cut) -> tuple[Mark, ...]:
    """One thread along the middle."""
    return (Beads((0.0,), WIDE * cut.thread, TALL),)
