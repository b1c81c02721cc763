"""Rows across a region, and the cells that they fall into."""

import itertools
import math
from dataclasses import dataclass

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window

from jontel.geometry.arrays import Ints, ragged
from jontel.geometry.polyline import Floats

SLIT = 0.3
"""Gaps in a row narrower than this, mm, are sewn over."""


LEVEL, LEVEL_LENGTH = 0.02, 1.5
"""Pieces of a rim that rise by less than this part of their length, and are longer than this, mm, lie along rows."""
GIVE = 0.05
"""By how much of itself the spacing may give so that rows meet the level pieces of a rim."""
ALWAYS_FITS = 12.0
"""Into a height of more than so many spacings some number of rows goes, each giving by no more than ``GIVE``."""
LEAST_STRIP = 0.2
"""What sticks out farther than this, mm, beyond the first level rim gets a row of its own."""
OFF_RIM, LEAST_OFF = 0.05, 0.02
"""How far, mm, rows may stay from where they would meet a level rim, if their spacing cannot give enough; and how far
they do once it is clear which rims they meet."""


@dataclass(frozen=True, eq=False)
class Intervals:
    """Pieces of horizontal rows inside a region, ordered by row and then from left to right.

    ``row`` (n,) numbers the rows from the top, ``left`` and ``right`` (n,) are x in mm; row ``r`` lies at
    ``heights[r]``. The rows are ``spacing`` apart, or a little more or less.
    """

    row: Ints
    left: Floats
    right: Floats
    heights: Floats
    spacing: float

    def some(self, which: Ints) -> "Intervals":
        """Some of the pieces, in order."""
        return Intervals(self.row[which], self.left[which], self.right[which], self.heights, self.spacing)

    def y(self) -> Floats:
        """The height of each piece, (n,)."""
        return np.asarray(self.heights[self.row], dtype=np.float64)


def even_heights(low: float, high: float, spacing: float) -> Floats:
    """Heights ``spacing`` apart between ``low`` and ``high``, the first and the last equally far from those."""
    return _centred(low, high, max(1, round((high - low) / spacing)), spacing)


def settled_heights(rings: list[Floats], spacing: float) -> Floats:
    """Heights of rows about ``spacing`` apart that meet the level pieces of the rims, (rows,).

    A row's thread reaches half a spacing to each side, so that is how far the nearest row stays from a level rim.
    Of the level pieces those are met whose total length is greatest, such that between two neighbours the spacing
    gives by no more than ``GIVE``: the longest path in the order of heights, found one after the other.
    """
    start = np.vstack(rings)
    stop = np.vstack([np.roll(r, -1, axis=0) for r in rings])
    low, high = float(start[:, 1].min()), float(start[:, 1].max())
    step = np.abs(stop - start)
    level = (step[:, 0] > LEVEL_LENGTH) & (step[:, 1] < LEVEL * step[:, 0])
    met: dict[float, float] = {}
    for height, length in zip(((start + stop) / 2)[level, 1].round(2).tolist(), step[level, 0].tolist(), strict=True):
        met[height] = met.get(height, 0.0) + length
    for end in (low, high):
        met[end] = 1.0 + sum(met.pop(one) for one in list(met) if abs(one - end) < 0.1)
    marks = sorted(met)
    gained = [met[one] if one - low < spacing else -1.0 for one in marks]
    before = list(range(len(marks)))
    best = near = 0  # what is farther than ``ALWAYS_FITS`` is told by its best
    for j in range(1, len(marks)):
        while marks[j] - marks[near] > ALWAYS_FITS * spacing:
            best = near if gained[near] > gained[best] else best
            near += 1
        for i in [*([best] if near else []), *range(near, j)]:
            fits = high - low < spacing or _fits(marks[j] - marks[i], spacing)
            worth = gained[i] + met[marks[j]]
            if gained[i] >= 0 and fits and worth > gained[j]:
                gained[j], before[j] = worth, i
    ends = [k for k, one in enumerate(marks) if high - one < spacing and gained[k] >= 0]
    if not ends:
        return _between(low, high, spacing)
    chosen = [max(ends, key=lambda k: gained[k])]
    while before[chosen[-1]] != chosen[-1]:
        chosen.append(before[chosen[-1]])
    met_at = [marks[k] for k in reversed(chosen)]
    rims = [np.array([(a + b) / 2]) for a, b in ((low, met_at[0]), (met_at[-1], high)) if b - a > LEAST_STRIP]
    rows = [_between(a, b, spacing) for a, b in itertools.pairwise(met_at)]
    return np.sort(np.concatenate([*rows, *rims])) if rows or rims else _between(low, high, spacing)


def _fits(height: float, spacing: float) -> bool:
    return abs(_pitch(height, spacing)[1] / spacing - 1) <= GIVE + 1e-9


def _pitch(height: float, spacing: float, most_off: float = OFF_RIM) -> tuple[int, float]:
    """How many rows go into a ``height``, mm, and how far apart; the outer ones stay half a ``spacing`` off the rims.

    A little nearer rather than a little farther than ``spacing``, since what is too open shows; where one of the two
    has to give too much, the other; where both have to, rows stay a little off the rims.
    """
    steps = height / spacing - 1
    found: list[tuple[bool, float, int, float]] = []
    for rows in (math.ceil(steps - 1e-6) + 1, math.floor(steps + 1e-6) + 1):
        if rows < 2:
            found.append((rows < 1 or abs(height - spacing) > 2 * OFF_RIM, spacing, 1, spacing))
            continue
        even = (height - spacing) / (rows - 1)
        pitch = min(max(even, (1 - GIVE) * spacing), (1 + GIVE) * spacing)
        off = (pitch - even) * (rows - 1) / 2
        if abs(off) > most_off:
            pitch = even + math.copysign(2 * most_off / (rows - 1), off)
        found.append((abs(off) > OFF_RIM + 1e-9, abs(pitch - spacing), rows, pitch))
    _, _, rows, pitch = found[0] if not found[0][0] else min(found)
    return rows, pitch


def _between(low: float, high: float, spacing: float) -> Floats:
    return _centred(low, high, *_pitch(high - low, spacing, LEAST_OFF))


def _centred(low: float, high: float, rows: int, pitch: float) -> Floats:
    """Heights of ``rows`` rows ``pitch`` apart about the middle between ``low`` and ``high``, (rows,)."""
    return np.asarray((low + high) / 2 + (np.arange(rows) - (rows - 1) / 2) * pitch, dtype=np.float64)


def hatch(rings: list[Floats], heights: Floats, spacing: float) -> Intervals:
    """Rows at ``heights`` (rows,), rising, across the area that ``rings`` enclose (even-odd).

    A row that only grazes a hole runs on: its two needle points would cut the cloth. None lies between two heights.
    """
    start = np.vstack(rings)
    stop = np.vstack([np.roll(r, -1, axis=0) for r in rings])
    up = np.minimum(start[:, 1], stop[:, 1])
    down = np.maximum(start[:, 1], stop[:, 1])
    first = np.searchsorted(heights, up, side="left")
    count = np.searchsorted(heights, down, side="left") - first
    edge, within = ragged(count)
    row = first[edge] + within
    y = heights[row]
    part = (y - start[edge, 1]) / (stop[edge, 1] - start[edge, 1])
    x = start[edge, 0] + part * (stop[edge, 0] - start[edge, 0])
    order = np.lexsort((x, row))
    row, x = row[order], x[order]
    row, left, right = row[::2], x[::2], x[1::2]
    open_, closes = np.ones(len(row), dtype=bool), np.ones(len(row), dtype=bool)
    open_[1:] = (row[1:] != row[:-1]) | (left[1:] - right[:-1] > SLIT)
    closes[:-1] = open_[1:]
    return Intervals(row[open_], left[open_], right[closes], heights, spacing)


def spread_along(start: Floats, stop: Floats, counts: Ints) -> tuple[Floats, Ints]:
    """Places evenly inside straight pieces from ``start`` to ``stop`` (n, 2): all (m, 2), and whose each is (m,).

    ``counts`` (n,) says how many each has, at least 1; a single one lies in the middle.
    """
    owner, number = ragged(counts)
    return start[owner] + ((number + 0.5) / counts[owner])[:, None] * (stop - start)[owner], owner


@dataclass(frozen=True, eq=False)
class Cells:
    """The boustrophedon cells of a hatch.

    ``members[c]`` are the intervals of cell ``c`` from top to bottom, one a row; ``links`` holds
    ``(upper cell, lower cell, upper interval, lower interval)`` wherever two cells touch.
    """

    members: list[Ints]
    links: Ints


BREAK = 6.0
"""Where a row ends farther than this, mm, or eight spacings from the end of the last one, another cell begins."""
NECK = 1.2
"""How far, mm, the row before a slanting neck's next one may lie beside it."""


def neighbours(pieces: Intervals) -> tuple[Ints, Ints]:
    """Pairs (upper, lower) of intervals in neighbouring rows that overlap, by index.

    In a tip that slants more than it is wide rows lie beside each other instead: an interval that nothing
    overlaps below is the neighbour of one that nothing overlaps above, if they are near.
    """
    reach = float(max(np.abs(pieces.left).max(), np.abs(pieces.right).max())) * 2 + 10.0
    left, right = pieces.row * reach + pieces.left, pieces.row * reach + pieces.right
    from_ = np.searchsorted(right, left + reach, side="right")
    to = np.searchsorted(left, right + reach, side="left")
    upper, within = ragged(np.maximum(to - from_, 0))
    lower = from_[upper] + within
    n = len(pieces.row)
    ends = np.flatnonzero(np.bincount(upper, minlength=n) == 0)
    starts = np.flatnonzero(np.bincount(lower, minlength=n) == 0)
    one, other = np.meshgrid(ends, starts, indexing="ij")
    gap = np.maximum(left[one] + reach - right[other], left[other] - right[one] - reach)
    next_row = pieces.row[other] == pieces.row[one] + 1
    near = np.flatnonzero((next_row & (gap < NECK)).ravel())
    near = near[np.argsort(gap.ravel()[near], kind="stable")]
    taken: set[int] = set()
    more: list[tuple[int, int]] = []
    for k in near.tolist():
        pair = int(one.ravel()[k]), int(other.ravel()[k])
        if pair[0] not in taken and -1 - pair[1] not in taken:
            taken |= {pair[0], -1 - pair[1]}
            more.append(pair)
    if more:
        added = np.array(more)
        upper, lower = np.append(upper, added[:, 0]), np.append(lower, added[:, 1])
    return upper, lower


def cells(pieces: Intervals, pairs: tuple[Ints, Ints] | None = None) -> Cells:
    """Boustrophedon cells: maximal runs of rows in which the region neither splits nor joins.

    Nor does a row end jump, as it does at a side along the rows: the turn there would be no turn. ``pairs``
    are those that are neighbours, upper and lower, if not all that overlap.

    Source: H. Choset and P. Pignon, "Coverage path planning: the boustrophedon cellular decomposition"
    (1998).
    """
    n = len(pieces.row)
    upper, lower = neighbours(pieces) if pairs is None else pairs
    below = np.bincount(upper, minlength=n)
    above = np.bincount(lower, minlength=n)
    chained = (below[upper] == 1) & (above[lower] == 1)
    step = np.maximum(
        np.abs(pieces.left[upper] - pieces.left[lower]), np.abs(pieces.right[upper] - pieces.right[lower])
    )
    chained &= step < max(BREAK, 8 * pieces.spacing)
    chained &= pieces.row[upper] != pieces.row[lower]  # two of one row may be said to be neighbours
    _, label = group_numbers(n, upper[chained], lower[chained])
    order = np.argsort(label, kind="stable")
    bounds = np.flatnonzero(np.diff(label[order])) + 1
    links = np.column_stack([label[upper], label[lower], upper, lower])[~chained]
    return Cells(np.split(order, bounds), links)


def components(pieces: Intervals) -> list[Ints]:
    """Groups of intervals between which no row overlaps the next, as their indices: one group for most regions.

    A neck narrower than the spacing can lie between two rows, so that a connected region falls apart.
    """
    return connected_groups(len(pieces.row), *neighbours(pieces))


def connected_groups(count: int, one: Ints, other: Ints) -> list[Ints]:
    """The connected groups of ``count`` things of which ``one`` (m,) and ``other`` (m,) hang together, as indices."""
    groups, label = group_numbers(count, one, other)
    return [np.flatnonzero(label == k) for k in range(groups)]


def group_numbers(count: int, one: Ints, other: Ints) -> tuple[int, Ints]:
    """How many connected groups there are, see ``connected_groups``, and which each thing is in, (count,)."""
    graph = scipy.sparse.coo_array((np.ones(len(one)), (one, other)), shape=(count, count))
    groups, label = scipy.sparse.csgraph.connected_components(graph, directed=False)
    return int(groups), label.astype(np.int64)
