"""Locks: the small stitches that keep a thread from coming out where it starts or is cut."""

from typing import NamedTuple

import numpy as np

from jontel.design.order import Lock
from jontel.geometry.polyline import Floats, at_lengths, lengths

LOCK_LENGTH = 0.7
LEAST: dict[Lock, float] = {"straight": 0.5, "tiny": 0.5, "cross": 0.75, "star": 1.0}
"""How far each kind reaches at least, mm: with less, one of its stitches would be under a safe one."""
AHEAD = 3.0
"""The stitches so far from an end, mm, say where its cover lies."""


class Locking(NamedTuple):
    """A kind of lock and how far it reaches, mm."""

    lock: Lock = "straight"
    size: float = LOCK_LENGTH


def lock_in(xy: Floats, how: Locking = Locking()) -> Floats:
    """Needle points (n, 2) before ``xy``, whose start they end next to; the thread is held where it begins.

    Straight and tiny ones lie on the first stitches that follow, in the direction of sewing, so they stay inside the
    cover. Crosses and stars lie about a middle that is nearer to the stitches that follow.
    """
    return _lock(xy, how, out=False)


def lock_out(xy: Floats, how: Locking = Locking()) -> Floats:
    """Needle points (n, 2) after ``xy``, small stitches back and forth over its last ones."""
    return _lock(xy[::-1], how, out=True)


def _lock(xy: Floats, how: Locking, out: bool) -> Floats:
    size = max(LEAST[how.lock], LEAST["tiny"] if how.lock == "tiny" else how.size)
    if how.lock in ("straight", "tiny"):
        ahead = _along(xy, size)
        return np.array([ahead, xy[0], ahead])
    middle, reach = _middle(xy, size)
    arms = 2 if how.lock == "cross" else 3
    turns = np.arctan2(*reach[::-1]) + np.pi * np.arange(arms) / arms
    rays = size / 2 * np.column_stack([np.cos(turns), np.sin(turns)])
    strokes = np.stack([middle + rays, middle - rays], axis=1).reshape(-1, 2)
    if arms == 3:  # from arm to arm along a side of the star
        strokes = strokes[[0, 1, 3, 2, 4, 5]]
    return strokes if out else np.vstack([xy[:1], strokes])


def _middle(xy: Floats, size: float) -> tuple[Floats, Floats]:
    """Where a cross lies: half its size from the start towards the stitches that follow, and that way (2,)."""
    near = xy[np.hypot(*(xy - xy[0]).T) <= AHEAD]
    reach = near.mean(axis=0) - xy[0]
    length = float(np.hypot(*reach))
    if length < 1e-6:
        reach, length = _along(xy, size) - xy[0], size
    way = reach / max(length, 1e-9)
    return xy[0] + way * size / 2, way


def _along(xy: Floats, size: float) -> Floats:
    """The place ``size`` from the start of ``xy`` on its own path, at that distance or less."""
    head = xy[:12]
    along = lengths(head)
    place: Floats = at_lengths(head, np.array([min(size, along[-1])]), along)[0]
    if float(np.hypot(*(place - head[0]))) < 0.5:
        reach = head[min(1, len(head) - 1)] - head[0]
        length = float(np.hypot(*reach))
        place = head[0] + (reach / length if length > 1e-9 else np.array([1.0, 0.0])) * size
    return place
