"""Rows across a region, and the cells that they fall into."""

from dataclasses import dataclass

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
from numpy.typing import NDArray

from jontel.geometry.polyline import Floats

Ints = NDArray[np.int64]
SLIT = 0.3
"""Gaps in a row narrower than this, mm, are sewn over."""


@dataclass(frozen=True, eq=False)
class Intervals:
    """Pieces of horizontal rows inside a region, ordered by row and then from left to right.

    ``row`` (n,) numbers the rows from the top, ``left`` and ``right`` (n,) are x in mm; row ``r`` lies at
    ``top + r * spacing``.
    """

    row: Ints
    left: Floats
    right: Floats
    top: float
    spacing: float

    def some(self, which: Ints) -> "Intervals":
        """Some of the pieces, in order."""
        return Intervals(self.row[which], self.left[which], self.right[which], self.top, self.spacing)

    def y(self) -> Floats:
        """The height of each piece, (n,)."""
        return np.asarray(self.top + self.row * self.spacing, dtype=np.float64)


def hatch(rings: list[Floats], spacing: float) -> Intervals:
    """Rows ``spacing`` apart across the area that ``rings`` enclose (even-odd).

    They are spread so that the first and the last are equally far from the rim. A row that only grazes a hole
    runs on: its two needle points would cut the cloth.
    """
    start = np.vstack(rings)
    stop = np.vstack([np.roll(r, -1, axis=0) for r in rings])
    low, high = float(start[:, 1].min()), float(start[:, 1].max())
    rows = max(1, round((high - low) / spacing))
    top = (low + high) / 2 - (rows - 1) * spacing / 2
    up = np.minimum(start[:, 1], stop[:, 1])
    down = np.maximum(start[:, 1], stop[:, 1])
    first = np.ceil((up - top) / spacing).astype(np.int64)
    last = np.ceil((down - top) / spacing).astype(np.int64)
    first = np.maximum(first, 0)
    count = np.maximum(last - first, 0)
    edge, within = ragged(count)
    row = first[edge] + within
    y = top + row * spacing
    part = (y - start[edge, 1]) / (stop[edge, 1] - start[edge, 1])
    x = start[edge, 0] + part * (stop[edge, 0] - start[edge, 0])
    order = np.lexsort((x, row))
    row, x = row[order], x[order]
    row, left, right = row[::2], x[::2], x[1::2]
    open_ = np.append(True, (row[1:] != row[:-1]) | (left[1:] - right[:-1] > SLIT))
    closes = np.append(open_[1:], True)
    return Intervals(row[open_], left[open_], right[closes], float(top), spacing)


def ragged(counts: Ints) -> tuple[Ints, Ints]:
    """For ragged arrays: which owner each element has, and its number within that owner."""
    owner = np.repeat(np.arange(len(counts)), counts)
    first = np.cumsum(counts) - counts
    return owner, np.arange(len(owner)) - first[owner]


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


def cells(pieces: Intervals) -> Cells:
    """Boustrophedon cells: maximal runs of rows in which the region neither splits nor joins.

    Nor does a row end jump, as it does at a side along the rows: the turn there would be no turn.

    Source: H. Choset and P. Pignon, "Coverage path planning: the boustrophedon cellular decomposition"
    (1998).
    """
    n = len(pieces.row)
    upper, lower = neighbours(pieces)
    below = np.bincount(upper, minlength=n)
    above = np.bincount(lower, minlength=n)
    chained = (below[upper] == 1) & (above[lower] == 1)
    step = np.maximum(
        np.abs(pieces.left[upper] - pieces.left[lower]), np.abs(pieces.right[upper] - pieces.right[lower])
    )
    chained &= step < max(BREAK, 8 * pieces.spacing)
    graph = scipy.sparse.coo_array((np.ones(chained.sum()), (upper[chained], lower[chained])), shape=(n, n))
    _, label = scipy.sparse.csgraph.connected_components(graph, directed=False)
    order = np.argsort(label, kind="stable")
    bounds = np.flatnonzero(np.diff(label[order])) + 1
    links = np.column_stack([label[upper], label[lower], upper, lower])[~chained]
    return Cells(np.split(order, bounds), links)


def connected(pieces: Intervals) -> list[Intervals]:
    """The intervals in groups between which no row overlaps the next: one for most regions.

    A neck narrower than the spacing can lie between two rows, so that a connected region falls apart.
    """
    return [pieces.some(which) for which in components(pieces)]


def components(pieces: Intervals) -> list[Ints]:
    """The groups of ``connected`` as indices of their intervals, in order."""
    n = len(pieces.row)
    upper, lower = neighbours(pieces)
    graph = scipy.sparse.coo_array((np.ones(len(upper)), (upper, lower)), shape=(n, n))
    count, label = scipy.sparse.csgraph.connected_components(graph, directed=False)
    return [np.flatnonzero(label == k) for k in range(count)]
