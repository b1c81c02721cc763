"""What a sew-out takes: stitches, trims, changes, time, thread."""

import bisect
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from jontel.geometry.polyline import Floats
from jontel.sewing.plan import SewPlan
from jontel.stitching.stitches import Kind

ROUNDING = 1e-6
"""Times that differ by less, s, are the same moment."""


@dataclass(frozen=True)
class Totals:
    """Of a whole plan. Sizes in mm, thread in metres, time in seconds; ``metres`` per thread in use order."""

    stitches: int
    trims: int
    changes: int
    stops: int
    seconds: float
    width: float
    height: float
    metres: tuple[float, ...]


class Share(NamedTuple):
    """What one object takes of the plan: its rows from ``first`` to ``last``, which are its piece ``number``."""

    object: int
    first: int
    last: int
    start: float
    stop: float
    stitches: int
    thread: int
    number: int


@dataclass(frozen=True, eq=False)
class Estimate:
    """Machine time piece by piece: ``starts`` (pieces + 1,) seconds, the last is the end."""

    plan: SewPlan
    starts: Floats

    def at(self, row: int) -> float:
        """The machine time at the end of a row."""
        if not self.plan.pieces:
            return 0.0
        number, within = self.plan.where(row)
        return float(self.starts[number] + self.plan.pieces[number].seconds[within])

    def row_at(self, seconds: float) -> int:
        """The first row that is done at ``seconds`` or later."""
        pieces = self.plan.pieces
        if not pieces:
            return 0
        seconds -= ROUNDING
        number = min(max(0, bisect.bisect_left(self.starts, seconds) - 1), len(pieces) - 1)
        within = int(np.searchsorted(pieces[number].seconds, seconds - self.starts[number]))
        return int(self.plan.starts[number]) + within


def estimate(plan: SewPlan) -> Estimate:
    """When each piece starts."""
    return Estimate(plan, np.append(0.0, np.cumsum(plan.tally.seconds)))


def clock(plan: SewPlan) -> Floats:
    """The machine time at the end of each row, seconds, (n,)."""
    if not plan.pieces:
        return np.zeros(0)
    starts = estimate(plan).starts
    each = [one.seconds + start for one, start in zip(plan.pieces, starts, strict=False)]
    return np.concatenate([*each, starts[-1:]])


def totals(plan: SewPlan) -> Totals:
    """The totals of a plan, added up from its pieces."""
    tally = plan.tally
    counts = tally.counts.sum(axis=0)
    boxes = tally.boxes[np.isfinite(tally.boxes[:, 0])]
    size = boxes[:, 2:].max(axis=0) - boxes[:, :2].min(axis=0) if len(boxes) else np.zeros(2)
    metres = np.bincount(tally.threads, tally.metres, len(plan.threads)) if plan.pieces else ()
    return Totals(
        stitches=int(counts[Kind.STITCH]),
        trims=int(counts[Kind.TRIM]),
        changes=max(0, int(counts[Kind.THREAD]) - 1),
        stops=int(counts[Kind.STOP]),
        seconds=float(tally.seconds.sum()),
        width=float(size[0]),
        height=float(size[1]),
        metres=tuple(float(m) for m in metres),
    )


def shares(plan: SewPlan) -> tuple[Share, ...]:
    """What each object takes, in sewing order."""
    starts, rows, tally = estimate(plan).starts.tolist(), plan.starts, plan.tally
    stitches = tally.counts[:, Kind.STITCH].astype(np.int64)
    first, last = rows[:-1].tolist(), (rows[1:] - 1).tolist()
    each = (tally.owners, stitches, tally.threads, np.arange(len(plan.pieces)))
    owners, stitched, threads, numbers = (one.tolist() for one in each)
    told = zip(owners, first, last, starts[:-1], starts[1:], stitched, threads, numbers, strict=True)
    return tuple(map(Share._make, told))
