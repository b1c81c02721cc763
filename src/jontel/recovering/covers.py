"""Which stitches of a thread are covers: those that lie close beside others that run their way.

Every stitch is looked at in several places. Beside a row of a cover lies another one, whatever the order in which
they were sewn; beside a run, a row of an underlay or a travel there is none. Places beside each other in one length
of thread are one cover.
"""

from dataclasses import dataclass

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
from numpy.typing import NDArray

from jontel.design.stopping import go_on
from jontel.geometry.hatch import spread_along
from jontel.geometry.polyline import Floats
from jontel.recovering.threads import Block, Ints

STEP = 0.7
"""Stitches are looked at in places so far apart, mm."""
BESIDE, SAME, ALONG, ALIKE = 1.05, 0.04, 0.55, 22.0
"""Rows of a cover lie no farther from each other than the first, mm, and no nearer than the second; looked at no
farther along than the third; their ways differ by no more than so many degrees."""
MOSTLY = 0.6
"""So much of a stitch lies beside others, or it is none of a cover."""
SOON = 270
"""What was sewn more stitches earlier is another cover, unless others lead from the one to the other."""
ROWS, ON_TOP = 0.25, 0.15
"""Rows of a fill are farther apart than the first, mm; where more than the second part of the places of one lie
nearer to the rows of another than half of that, it lies on it.
"""
LEAST = 8
"""A cover has so many stitches."""


@dataclass(frozen=True, eq=False)
class Cover:
    """The stitches of one cover by their numbers in the block, and how far apart its rows lie, mm."""

    stitches: Ints
    apart: float


def covers_in(block: Block) -> list[Cover]:
    """The covers of a thread, by when they begin."""
    if len(block) < LEAST:
        return []
    spots, owner = _spots(block)
    unit = block.way / np.maximum(block.length, 1e-9)[:, None]
    pairs = scipy.spatial.cKDTree(spots).query_pairs(float(np.hypot(BESIDE, ALONG)), output_type="ndarray")
    go_on()
    one, other = owner[pairs[:, 0]], owner[pairs[:, 1]]
    step = spots[pairs[:, 1]] - spots[pairs[:, 0]]
    along = np.abs((step * unit[one]).sum(axis=1))
    beside = step[:, 1] * unit[one, 0] - step[:, 0] * unit[one, 1]
    alike = np.abs((unit[one] * unit[other]).sum(axis=1)) > np.cos(np.radians(ALIKE))
    near = (
        (one != other)
        & (block.piece[one] == block.piece[other])
        & alike
        & (along < ALONG)
        & (np.abs(beside) > SAME)
        & (np.abs(beside) < BESIDE)
    )
    pairs, one, other, beside = pairs[near], one[near], other[near], beside[near]
    has = np.zeros(len(spots), dtype=bool)
    has[pairs] = True
    counts = np.bincount(owner, minlength=len(block))
    close = np.bincount(owner, weights=has, minlength=len(block)) >= MOSTLY * counts
    both = close[one] & close[other]
    pairs, one, other, beside = pairs[both], one[both], other[both], beside[both]
    links = np.abs(one - other) <= SOON
    graph = scipy.sparse.coo_array(
        (np.ones(int(links.sum())), (one[links], other[links])), shape=(len(block), len(block))
    )
    numbers = scipy.sparse.csgraph.connected_components(graph, directed=False)[1].astype(np.int64)
    label = _put_together(numbers, numbers[one], numbers[other], np.abs(beside))
    found: list[Cover] = []
    for number in np.unique(label[close]).tolist():
        mine = np.flatnonzero(close & (label == number))
        if len(mine) < LEAST:
            continue
        inside = (label[one] == number) & (label[other] == number)
        found.append(Cover(mine, _apart(pairs[inside], beside[inside], len(spots))))
    return sorted(found, key=lambda one: int(one.stitches[0]))


def _put_together(label: Ints, one: Ints, other: Ints, beside: Floats) -> Ints:
    """Covers put together that lie between or beside each other's rows; one that lies on another stays another.

    ``one`` and ``other`` (n,) are the covers of places that lie so far ``beside`` each other, mm.
    """
    usual: dict[int, float] = {}
    for number in np.unique(one[one == other]).tolist():
        usual[number] = float(np.quantile(beside[(one == number) & (other == number)], 0.25))
    low, high = np.minimum(one, other), np.maximum(one, other)
    apart = low != high
    pairs, place, counts = np.unique(
        np.column_stack([low[apart], high[apart]]), axis=0, return_inverse=True, return_counts=True
    )
    into = {number: number for number in usual}

    def root(number: int) -> int:
        while into[number] != number:
            number = into[number]
        return number

    for k, (first, second) in enumerate(pairs.tolist()):
        if counts[k] < LEAST or first not in usual or second not in usual:
            continue
        least = min(usual[first], usual[second])
        gaps = beside[apart][place.ravel() == k]
        if least > ROWS and np.mean(gaps < least / 2) < ON_TOP:
            into[root(second)] = root(first)
    return np.array([root(one) if one in into else one for one in label.tolist()])


def _spots(block: Block) -> tuple[Floats, Ints]:
    """Places along all stitches (m, 2), and whose each is (m,)."""
    counts = np.maximum(np.ceil(block.length / STEP).astype(np.int64), 1)
    return spread_along(block.start, block.stop, counts)


def _apart(pairs: NDArray[np.int64], beside: Floats, count: int) -> float:
    """The usual distance from a row to the next on either side, mm."""
    nearest = np.full((2, count), np.inf)
    for side in (0, 1):
        for end in (0, 1):
            mine = beside * (1 if end == 0 else -1) * (1 if side else -1)
            some = mine > 0
            np.minimum.at(nearest[side], pairs[some, end], mine[some])
    known = nearest[np.isfinite(nearest)]
    return float(np.median(known)) if len(known) else 0.0
