"""Where rows begin and end, and where their needle points are."""

import numpy as np

from jontel.geometry.arrays import Ints, ragged
from jontel.geometry.hatch import Intervals
from jontel.geometry.polyline import Floats
from jontel.stitching.patterns import phases
from jontel.stitching.rows.style import RowStyle
from jontel.stitching.stitches import SHORTEST

CLEAR_OF_RIM = 1.1
"""No needle point inside a row is nearer than this to the row's end, mm."""
NARROW, OVER_LENGTH, SWAY = 4, 0.15, 0.25
"""Calm rows of fewer stitches than the first are divided evenly, into stitches at most the second part too long;
the needle points of neighbours sway by up to the third part of a stitch."""


def longest_stitch(style: RowStyle) -> float:
    """How long a stitch of a row may be, mm: with what the ends of a row add."""
    return style.length + 2 * CLEAR_OF_RIM


def longer(rows: Intervals, style: RowStyle) -> Intervals:
    """Rows with the percentage of pull added at both ends, never into their neighbour."""
    if style.pull_percent <= 0:
        return rows
    grow = np.minimum(style.pull_percent / 100 * (rows.right - rows.left), style.pull_ceiling)
    gap = np.full(len(grow) + 1, np.inf)
    same = rows.row[1:] == rows.row[:-1]
    gap[1:-1][same] = np.maximum((rows.left[1:] - rows.right[:-1])[same] / 2 - 0.05, 0)
    left = rows.left - np.minimum(grow, gap[:-1])
    right = rows.right + np.minimum(grow, gap[1:])
    return Intervals(rows.row, left, right, rows.heights, rows.spacing)


def drawn_back(rows: Intervals, style: RowStyle) -> Intervals:
    """Rows with each end drawn back by a random part of ``ragged``; short ones stay as they are."""
    if style.ragged <= 0:
        return rows
    back = np.random.default_rng(style.seed).random((2, len(rows.row))) * style.ragged
    room = np.maximum(rows.right - rows.left - 3 * SHORTEST, 0)
    back *= np.minimum(room / np.maximum(back.sum(axis=0), 1e-9), 1.0)
    return Intervals(rows.row, rows.left + back[0], rows.right - back[1], rows.heights, rows.spacing)


def needle_points(number: Ints, start: Floats, stop: Floats, y: Floats, style: RowStyle) -> tuple[Floats, Ints]:
    """All needle points of rows sewn one after another, in the level frame (n, 2), and whose they are (n,).

    ``number`` (m,) is each row's place in the pattern, ``start``, ``stop`` and ``y`` (m,) where it runs.
    """
    leftward = stop < start
    part = phases(style.pattern, number, style.brick_offset, style.brick_rows, style.seed)
    phase = part * style.length
    low, high = np.minimum(start, stop), np.maximum(start, stop)
    first = np.ceil((low + CLEAR_OF_RIM - phase) / style.length).astype(np.int64)
    last = np.floor((high - CLEAR_OF_RIM - phase) / style.length).astype(np.int64)
    inner = np.maximum(last - first + 1, 0)
    step, origin = np.full(len(start), style.length), phase + first * style.length
    if style.pattern == "calm":
        stitches = np.maximum(np.ceil((high - low) / style.length - OVER_LENGTH), 1.0)
        narrow = stitches < NARROW
        inner = np.where(narrow, stitches - 1, inner).astype(np.int64)
        step = np.where(narrow, (high - low) / stitches, step)
        origin = np.where(narrow, low + step * (1 + SWAY * (2 * part - 1)), origin)
    row, within = ragged(inner + 2)
    place = np.where(leftward[row], inner[row] - within, within - 1)
    x = origin[row] + place * step[row]
    x = np.where(within == 0, start[row], np.where(within == inner[row] + 1, stop[row], x))
    return np.column_stack([x, y[row]]), row
