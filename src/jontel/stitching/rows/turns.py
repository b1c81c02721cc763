"""The turns from one row into another, and other places where needle points would come too near."""

import math

import numpy as np

from jontel.geometry.polyline import Floats
from jontel.stitching.stitches import SHORTEST, on_the_way

THERE = 0.05
"""A point nearer than this, mm, to the last one is the same place."""
FLIPPED = 1.6
"""Rows shorter than this, mm, may be sewn the other way round."""
MOST_OUT = 0.15
"""How far, mm, the end of a row may be moved outwards to make its turn a safe stitch."""


def flip_short(start: Floats, stop: Floats, height: Floats) -> None:
    """Sew rows too short to be moved the other way round, in place, where their turn is no safe stitch.

    ``start`` and ``stop`` (n,) are those of rows in order, ``height`` (n - 1,) what lies between them. The needle
    comes back across the row to its far end, as tips and specks are sewn by hand.
    """
    near = np.hypot(start[1:] - stop[:-1], height) < SHORTEST
    for k in (np.flatnonzero(near | np.append(False, near[:-1])) + 1).tolist():
        short = np.abs(stop[k] - start[k]) < FLIPPED
        turn, other = (math.hypot(at - stop[k - 1], height[k - 1]) for at in (start[k], stop[k]))
        if short and turn < SHORTEST <= other:
            start[k], stop[k] = stop[k], start[k]


def lengthen(start: Floats, stop: Floats, height: Floats) -> None:
    """Make each turn at the rim a safe stitch, in place; ``start`` and ``stop`` (n,) are those of rows in order.

    Where a row's end and the next one's start are too near, with ``height`` (n - 1,) from the one to the other, the
    one is moved outwards, at most by ``MOST_OUT``, and the other inwards, so the rim stays where it is on average.
    """
    if len(start) < 2:
        return
    step = start[1:] - stop[:-1]
    wanted = np.sqrt(np.maximum(SHORTEST**2 - height**2, 0)) + 1e-6
    missing = np.maximum(wanted - np.abs(step), 0)
    room = np.minimum(np.abs(stop - start)[1:], np.abs(stop - start)[:-1]) > 2 * SHORTEST
    away = np.where(step == 0, np.sign(stop[1:] - start[1:]), np.sign(step))
    missing = np.where(room, missing, 0.0)
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
            there = math.dist(points[k], last) < THERE
            if not there and k + 1 < n and math.dist(points[k + 1], last) >= SHORTEST:
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
