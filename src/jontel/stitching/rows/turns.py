"""The turns from one row into another, and other places where needle points would come too near."""

import math
from dataclasses import dataclass

import numpy as np

from jontel.geometry.polyline import Floats
from jontel.stitching.stitches import SHORTEST, on_the_way

THERE = 0.05
"""A point nearer than this, mm, to the last one is the same place."""
NUDGED = 0.1
"""A point that is too near by no more than this, mm, is pushed straight away: along a slanting row it may come nearer
first, and end far from the rim."""
FAR_ENOUGH = SHORTEST + 1e-6
"""A safe stitch, mm, whatever is rounded afterwards."""
FLIPPED = 1.6
"""Rows shorter than this, mm, may be sewn the other way round."""
MOST_OUT = 0.15
"""How far, mm, the end of a row may be moved outwards to make its turn a safe stitch."""


@dataclass(frozen=True, eq=False)
class Turns:
    """From each row to the next one, as they lie on the cloth, (n - 1, 2) each: where rows turn they lie askew.

    ``across`` leads from where a row stops straight onto the next one, and ``along`` from there one mm on.
    """

    along: Floats
    across: Floats

    def size(self, step: Floats) -> Floats:
        """How long turns are, mm, (n - 1,), into rows that start ``step`` (n - 1,) beyond where those before stop."""
        return np.asarray(np.hypot(*(self.across + step[:, None] * self.along).T))


def flip_short(start: Floats, stop: Floats, turns: Turns) -> None:
    """Sew rows too short to be moved the other way round, in place, where their turn is no safe stitch.

    ``start`` and ``stop`` (n,) are those of rows in order. The needle comes back across the row to its far end, as
    tips and specks are sewn by hand.
    """
    near = turns.size(start[1:] - stop[:-1]) < SHORTEST
    for k in (np.flatnonzero(near | np.append(False, near[:-1])) + 1).tolist():
        short = np.abs(stop[k] - start[k]) < FLIPPED
        ways = [turns.across[k - 1] + (at - stop[k - 1]) * turns.along[k - 1] for at in (start[k], stop[k])]
        turn, other = (math.hypot(*way) for way in ways)
        if short and turn < SHORTEST <= other:
            start[k], stop[k] = stop[k], start[k]


def lengthen(start: Floats, stop: Floats, turns: Turns, safe: float = SHORTEST) -> None:
    """Make each turn at the rim a ``safe`` stitch, in place; ``start`` and ``stop`` (n,) are those of rows in order.

    Where a row's end and the next one's start are too near, the one is moved outwards, at most by ``MOST_OUT``, and
    the other inwards, so the rim stays where it is on average.
    """
    if len(start) < 2:
        return
    step = start[1:] - stop[:-1]
    away = np.where(step == 0, np.sign(stop[1:] - start[1:]), np.sign(step))
    squared = np.maximum((turns.along**2).sum(axis=1), 1e-9)
    askew = (turns.along * turns.across).sum(axis=1) / squared
    reach = np.sqrt(np.maximum(askew**2 - ((turns.across**2).sum(axis=1) - safe**2) / squared, 0))
    wanted = reach - away * askew + 1e-6  # so far on a turn is as long as a safe stitch
    room = np.minimum(np.abs(stop - start)[1:], np.abs(stop - start)[:-1]) > 2 * SHORTEST
    near = room & (turns.size(step) < safe)
    missing = np.where(near, np.maximum(wanted - np.abs(step), 0), 0.0)
    out = np.minimum(missing / 2, MOST_OUT)
    stop_goes_out = -away == np.sign(stop - start)[:-1]
    stop[:-1] -= np.where(stop_goes_out, out, missing - out) * away
    start[1:] += np.where(stop_goes_out, missing - out, out) * away


def kept_apart(points: Floats) -> Floats:
    """Needle points (n, 2) of which none is nearer than a safe stitch to the one before; the first stays.

    A point that is too near is moved towards the next one until it is not; only where the next one is too near as
    well, or where the needle is there already, it is left out. So a row beside a short turn begins a little later,
    and is not skewed.
    """
    size = np.hypot(*(points[1:] - points[:-1]).T)
    crowded = np.flatnonzero(size < SHORTEST - 1e-9)
    if not len(crowded):
        return points
    kept: list[Floats] = []
    done = 0
    n = len(points)
    for first in crowded.tolist():
        if first + 1 <= done and done:
            continue
        kept.append(points[done : first + 1])
        last, k = points[first], first + 1
        while k < n and math.dist(points[k], last) < SHORTEST - 1e-9:
            gap = math.dist(points[k], last)
            pushed = last + (points[k] - last) * (FAR_ENOUGH / gap) if gap >= SHORTEST - NUDGED else None
            if pushed is not None and (k + 1 == n or math.dist(points[k + 1], pushed) >= SHORTEST):
                last = pushed
                kept.append(last[None])
            elif gap >= THERE and k + 1 < n and math.dist(points[k + 1], last) >= SHORTEST:
                last = on_the_way(last, points[k], points[k + 1])
                kept.append(last[None])
            k += 1
        done = k
    kept.append(points[done:])
    return np.vstack(kept)


def bends_apart(way: Floats) -> Floats:
    """A way (n, 2) whose bends are moved along it, or left out, until none is too near to another or to its ends.

    Were they all left out, a long stitch could slant across rows that are sewn already.
    """
    if (np.hypot(*(way[1:] - way[:-1]).T) >= SHORTEST).all():
        return way
    for _ in range(2):
        inner = kept_apart(way)
        way = (inner if np.array_equal(inner[-1], way[-1]) else np.vstack([inner, way[-1:]]))[::-1]
    return way
