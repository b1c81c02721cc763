"""What holds between objects: where thread is cut, how it is locked, where the machine stops and with what words."""

from typing import NamedTuple

from jontel.design.design import Design, StitchObject
from jontel.design.store import kept
from jontel.design.thread import colour_distance, rgb_of
from jontel.stitching.locks import Locking

ALIKE = 8.0
"""A thread that differs less from the ground, by CIEDE2000, looks like it from an arm's length."""


class Holding(NamedTuple):
    """How an object's thread is locked, and in which floats of it the needle goes down, mm; 0 in none."""

    locking: Locking
    sink_over: float


@kept
def looks_alike(one: str, other: str) -> bool:
    """Whether two colours ``#rrggbb`` look much the same."""
    return colour_distance(rgb_of(one), rgb_of(other)) < ALIKE


def cut_over(item: StitchObject, design: Design) -> float:
    """How long a connection from an object on may show, mm: its own value, the design's, or the machine's."""
    if item.ends.cut_over is not None:
        return item.ends.cut_over
    rules = design.connections
    over = design.brief.machine.trim_over if rules.cut_over is None else rules.cut_over
    if rules.alike > over and looks_alike(design.thread(item.thread).colour, design.brief.ground.colour):
        return rules.alike
    return over


def holding(item: StitchObject, design: Design) -> Holding:
    """How an object's thread is held."""
    rules, ends = design.connections, item.ends
    size = rules.lock_size if ends.lock_size is None else ends.lock_size
    return Holding(Locking(ends.lock or rules.lock, size), rules.sink_over)


def halt(one: StitchObject | None, other: StitchObject | None, design: Design) -> str | None:
    """What a person does between two objects that follow each other: ``None`` is nothing.

    Without ``one`` it is before the first object, without ``other`` after the last. A step begins before the first
    of its objects that follow each other, and ends after the last of them.
    """
    apart = one is None or other is None or one.step != other.step
    return _said(
        one.ends.stop if one is not None else None,
        _ended(one, design) if one is not None and apart else None,
        _begun(other, design) if other is not None and apart else None,
        other.ends.stop_before if other is not None else None,
    )


def _begun(item: StitchObject, design: Design) -> str | None:
    step = design.step(item.step)
    return step.before if step is not None else None


def _ended(item: StitchObject, design: Design) -> str | None:
    step = design.step(item.step)
    return step.after if step is not None else None


def _said(*words: str | None) -> str | None:
    """Several instructions in one stop."""
    some = [one for one in words if one is not None]
    return "; ".join(one for one in some if one) if some else None
