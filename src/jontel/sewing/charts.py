"""A sew-out to look at: how long its stitches are, which way they lie, how deep thread lies, where the time goes."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jontel.geometry.arrays import Ints
from jontel.geometry.hatch import spread_along
from jontel.geometry.polyline import Floats
from jontel.sewing.estimate import shares
from jontel.sewing.plan import Piece, SewPlan
from jontel.stitching.stitches import Kind

BIN, LONGEST = 0.5, 12.0
"""Lengths are counted in bins of so many mm; the last one holds all that are longer than this."""
SECTORS = 24
"""Directions are counted in so many parts of a half turn: a stitch lies both ways."""
CELL, STEP = 1.0, 0.25
"""Thread is counted in squares of so many mm, in places along it so far apart."""
MOST_CELLS = 4_000_000


@dataclass(frozen=True, eq=False)
class Charts:
    """What is looked at of a plan.

    ``lengths`` (bins,) counts stitches, bin ``k`` those from ``k * BIN`` mm on; ``directions`` (SECTORS,) is how many
    mm of thread lie each way, from level counter-clockwise. ``spent`` are seconds by what they go to; ``by_thread``
    (threads,) and ``by_object`` tell them by thread and by object, the longest objects first.
    """

    lengths: Ints
    directions: Floats
    spent: tuple[tuple[str, float], ...]
    by_thread: tuple[float, ...]
    by_object: tuple[tuple[int, float], ...]


@dataclass(frozen=True, eq=False)
class Depth:
    """How many threads lie on each other: ``layers`` (rows, columns), squares of ``cell`` mm from (left, top), mm."""

    layers: Floats
    left: float
    top: float
    cell: float


def charts_of(plan: SewPlan) -> Charts:
    """What there is to look at of a plan."""
    lengths = np.zeros(int(LONGEST / BIN) + 1, dtype=np.int64)
    directions = np.zeros(SECTORS)
    for piece in plan.pieces:
        if "charts" not in piece.notes:
            piece.notes["charts"] = _counted(piece)
        counted, turned = piece.notes["charts"]
        lengths += counted
        directions += turned
    told = shares(plan)
    threads = np.bincount([one.thread for one in told], [one.stop - one.start for one in told], len(plan.threads))
    objects = sorted(((one.object, one.stop - one.start) for one in told), key=lambda pair: -pair[1])
    return Charts(lengths, directions, _spent(plan), tuple(threads.tolist()) if told else (), tuple(objects))


def _counted(piece: Piece) -> tuple[Ints, Floats]:
    """The lengths and the directions of a piece's stitches, as ``Charts`` has them."""
    rows = np.flatnonzero(piece.sewn[1:]) + 1
    step = piece.xy[rows] - piece.xy[rows - 1]
    size = np.hypot(*step.T)
    bins = np.minimum((size / BIN + 1e-6).astype(np.int64), int(LONGEST / BIN))
    turn = np.degrees(np.arctan2(-step[:, 1], step[:, 0])) % 180.0
    sector = (np.round(turn / (180.0 / SECTORS)).astype(np.int64)) % SECTORS
    counted = np.bincount(bins, minlength=int(LONGEST / BIN) + 1).astype(np.int64)
    return counted, np.bincount(sector, size, SECTORS).astype(np.float64)


def _spent(plan: SewPlan) -> tuple[tuple[str, float], ...]:
    """Seconds by what the machine does in them."""
    if not plan.pieces:
        return ()
    seconds = np.sum([one.spent for one in plan.pieces], axis=0)
    kinds = (Kind.STITCH, Kind.JUMP, Kind.TRIM, Kind.THREAD, Kind.STOP)
    names = ("sewing", "jumps", "trims", "thread changes", "stops")
    return tuple((name, float(seconds[kind])) for name, kind in zip(names, kinds, strict=True))


def squares_of(piece: Piece) -> tuple[Ints, Ints, Floats]:
    """The squares that the thread of a piece lies on, by column and row, and how much of it, mm; (n,) each."""
    if "thread on cloth" not in piece.notes:
        rows = np.flatnonzero(piece.sewn)
        size = piece.sizes[rows]
        counts = np.maximum(np.ceil(size / STEP).astype(np.int64), 1)
        spots, owner = spread_along(piece.xy[rows - 1], piece.xy[rows], counts)
        column, row = np.floor(spots / CELL).astype(np.int64).T
        low = row.min(initial=0)
        high = int(row.max(initial=0) - low) + 1
        squares, place = np.unique(column * high + row - low, return_inverse=True)
        laid = np.bincount(place, weights=(size / counts)[owner], minlength=len(squares))
        column, row = np.divmod(squares, high)
        piece.notes["thread on cloth"] = (column, row + low, laid)
    answer: tuple[Ints, Ints, Floats] = piece.notes["thread on cloth"]
    return answer


def thread_on(plan: SewPlan, pieces: Sequence[Piece]) -> tuple[Ints, Ints, Floats, Ints]:
    """All squares of some of a plan's pieces: columns, rows, mm² of thread on each; where each piece begins."""
    found = [squares_of(piece) for piece in pieces]
    column, row, laid = (np.concatenate(one) for one in zip(*found, strict=True))
    counts = [len(one[0]) for one in found]
    return column, row, laid * np.repeat(widths_of(plan, pieces), counts), np.cumsum([0, *counts[:-1]])


def widths_of(plan: SewPlan, pieces: Sequence[Piece]) -> Floats:
    """How wide the thread of each piece lies, mm, (n,)."""
    return np.array([thread.width for thread in plan.threads])[[piece.thread for piece in pieces]]


def depth_of(plan: SewPlan) -> Depth | None:
    """How deep the thread lies; ``None`` for nothing, or where it is spread over more cloth than a map holds."""
    if not plan.pieces:
        return None
    column, row, laid, _ = thread_on(plan, plan.pieces)
    wide, high = int(np.ptp(column)) + 1, int(np.ptp(row)) + 1
    if wide * high > MOST_CELLS:
        return None
    left, top = int(column.min()), int(row.min())
    layers = np.bincount((row - top) * wide + column - left, laid, wide * high).reshape(high, wide) / CELL**2
    return Depth(layers, left * CELL, top * CELL, CELL)
