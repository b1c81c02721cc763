"""The strokes of a cover: what is sewn in one direction, and how the needle turns from one to the next."""

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from jontel.geometry.polyline import Floats
from jontel.recovering.threads import Block, Ints

BENT = 40.0
"""Stitches that turn by no more than so many degrees are one stroke."""
BACK = 125.0
"""A turn by more than so many degrees is a turn back."""
SATIN, LEADS_ON = 0.7, 0.2
"""So many of the turns of a satin go straight back; so many strokes of any cover lead on to the next."""
OPEN = 0.9
"""Strokes that come again to the same edge more than this apart, mm, among closer ones, are open."""
LEAST_TURNS = 4
"""A cover turns so often at least."""
LINK = 1.7
"""A stitch no longer than this, mm, may be what leads from one row to the next."""


@dataclass(frozen=True, eq=False)
class Strokes:
    """Strokes by their ends (n, 2), and the numbers of the first and the last stitch of each (n,).

    ``turned`` (n - 1,) says how each goes on into the next: 2 straight back from where it ends, 1 by a short stitch,
    0 not at all.
    """

    start: Floats
    stop: Floats
    first: Ints
    last: Ints
    turned: Ints

    def __len__(self) -> int:
        return len(self.first)

    def is_satin(self) -> bool:
        """Whether the needle goes straight back at nearly every edge, as rows of a fill do not."""
        return bool((self.turned == 2).sum() >= SATIN * len(self.turned))

    def close(self) -> "Strokes":
        """Without open strokes among close ones: a zigzag beneath a satin."""
        if len(self) < 4:
            return self
        step = np.hypot(*(self.start[2:] - self.start[:-2]).T)
        step = np.concatenate([step[:1], step, step[-1:]])
        keep = np.flatnonzero(step <= max(OPEN, 2.5 * float(np.median(step))))
        turned = np.where(np.diff(keep) == 1, self.turned[np.minimum(keep[:-1], len(self.turned) - 1)], 0)
        return Strokes(self.start[keep], self.stop[keep], self.first[keep], self.last[keep], turned)

    def is_cover(self) -> bool:
        """Whether strokes lead on to each other: what lies beside others by chance does not."""
        return bool((self.turned > 0).sum() >= max(LEADS_ON * len(self.turned), LEAST_TURNS))


def strokes_of(block: Block, some: Ints) -> Strokes:
    """The strokes of the stitches ``some`` of a block."""
    way = block.way[some]
    heading = np.degrees(np.arctan2(way[:, 1], way[:, 0]))
    turn = np.abs((np.diff(heading) + 180) % 360 - 180)
    follows = (np.diff(some) == 1) & (np.diff(block.piece[some]) == 0)
    goes_on = follows & (turn < BENT)
    first = np.flatnonzero(np.concatenate([[True], ~goes_on]))
    last = np.concatenate([first[1:] - 1, [len(some) - 1]])
    start, stop = block.start[some[first]], block.stop[some[last]]
    long = np.hypot(*(stop - start).T)
    turned = np.zeros(max(len(first) - 1, 0), dtype=np.int64)
    next_first = first[1:]
    turned[follows[next_first - 1] & (turn[next_first - 1] > BACK)] = 2
    gap = some[next_first] - some[last[:-1]]
    same = block.piece[some[next_first]] == block.piece[some[last[:-1]]]
    between = np.hypot(*(start[1:] - stop[:-1]).T)
    turned[(turned == 0) & same & (gap == 2) & (between < LINK)] = 1
    counts = last - first + 1
    keep = (long > 0.25) | (counts > 1)
    if not keep.all() and keep.sum() > 1:
        kept = np.flatnonzero(keep)
        joined = np.zeros(len(kept) - 1, dtype=np.int64)
        for k, (one, other) in enumerate(pairwise(kept.tolist())):
            joined[k] = turned[one] if other == one + 1 else 1
        return Strokes(start[kept], stop[kept], some[first[kept]], some[last[kept]], joined)
    return Strokes(start, stop, some[first], some[last], turned)
