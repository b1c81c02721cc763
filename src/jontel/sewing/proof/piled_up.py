"""Places where so much thread lies on each other that the needle breaks it, and where needle points crowd."""

from collections import defaultdict
from dataclasses import dataclass
from functools import partial
from operator import is_

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window

from jontel.design.design import Design, StitchObject
from jontel.design.stopping import go_on
from jontel.design.words import many
from jontel.geometry.arrays import Ints
from jontel.sewing.charts import CELL, squares_of, thread_on
from jontel.sewing.plan import Piece, SewPlan
from jontel.sewing.proof.finding import Finding, Fix, at, spot
from jontel.sewing.undercut import MARGIN, undercut_where_it_saves

DRAWERS = 1 << 22
"""Squares are first summed up in at most so many drawers; only those in one that is too full are told apart."""
LAYERS, OVER = 9.0, 6
"""More than so many threads on each other on a square is more than cloth and needle bear, on so many squares.

A fill is one deep and a satin two, with what lies beneath a half more: four fills and a satin, one over the other.
"""
BLOCK = 8
"""Objects that have no block of so many squares a side in common do not lie on each other."""
NEAR, CROWD = 0.3, 16
"""More than so many needle points within this of each other, mm, cut a hole."""


@dataclass(frozen=True, eq=False)
class _Deep:
    """Where thread lies too deep: on how many mm², and how deep, where and of which objects it is deepest."""

    size: int
    depth: float
    place: tuple[float, float]
    objects: tuple[int, ...]


def layers(_design: Design, plan: SewPlan) -> list[Finding]:
    """At most one finding, at the worst place."""
    found = [deep for pieces in _near_each_other(plan) for deep in _kept(plan, pieces)]
    size = sum(one.size for one in found)
    if size < OVER:
        return []
    worst = max(found, key=lambda one: one.depth)
    sentence = (
        f"Thread lies {worst.depth:.0f} deep at {at(worst.place)}, in {many(len(worst.objects), 'object')}, and too "
        f"deep on {size} mm²: needles break there; leave out what is hidden."
    )
    fix = Fix("Do not sew what is hidden", partial(_undercut, frozenset(worst.objects[:-1])), slow=True)
    return [Finding("layers", "look", sentence, worst.objects, worst.place, (fix,))]


def _near_each_other(plan: SewPlan) -> list[tuple[Piece, ...]]:
    """The pieces of a plan in groups: what lies in the same block of cloth as another is in its group."""
    if not plan.pieces:
        return []
    found = [_blocks_of(piece) for piece in plan.pieces]
    block = np.concatenate(found)
    _, block = np.unique((block - block.min(axis=0)) @ np.array([1 << 31, 1]), return_inverse=True)
    count, piece = len(found), np.repeat(np.arange(len(found)), [len(one) for one in found])
    size = count + int(block.max()) + 1
    touch = scipy.sparse.coo_array((np.ones(len(block), dtype=np.int8), (piece, count + block)), shape=(size, size))
    _, group = scipy.sparse.csgraph.connected_components(touch, directed=False)
    groups: dict[int, list[Piece]] = defaultdict(list)
    for one, number in zip(plan.pieces, group[:count].tolist(), strict=True):
        groups[number].append(one)
    return [tuple(one) for one in groups.values()]


def _blocks_of(piece: Piece) -> Ints:
    """The blocks of ``BLOCK`` by ``BLOCK`` squares that a piece's thread lies in, by column and row, (n, 2)."""
    if "blocks" not in piece.notes:
        column, row, _ = squares_of(piece)
        piece.notes["blocks"] = np.unique(np.column_stack([column, row]) // BLOCK, axis=0)
    answer: Ints = piece.notes["blocks"]
    return answer


def _kept(plan: SewPlan, pieces: tuple[Piece, ...]) -> tuple[_Deep, ...]:
    """What ``_deep`` finds, which the first piece keeps while all of its group are the same things.

    It does not keep itself: only the collector of garbage would let go of it then, tens of edits later.
    """
    widths, others = [plan.threads[piece.thread].width for piece in pieces], pieces[1:]
    known = pieces[0].notes.get("too deep")
    if known is None or known[1] != widths or not all(map(is_, known[0], others)) or len(known[0]) != len(others):
        go_on()
        known = pieces[0].notes["too deep"] = (others, widths, _deep(plan, pieces))
    answer: tuple[_Deep, ...] = known[2]
    return answer


def _deep(plan: SewPlan, pieces: tuple[Piece, ...]) -> tuple[_Deep, ...]:
    """Where the thread of some pieces lies too deep: nothing, or one."""
    column, row, laid, begins = thread_on(plan, pieces)
    left, top, high = int(column.min()), int(row.min()), int(np.ptp(row)) + 1
    square = (column - left) * high + row - top
    drawer = square & (DRAWERS - 1)
    few = np.flatnonzero(np.bincount(drawer, weights=laid)[drawer] > LAYERS * CELL**2)
    spots, place = np.unique(square[few], return_inverse=True)
    whole = np.bincount(place, weights=laid[few], minlength=len(spots))
    heavy = np.flatnonzero(whole > LAYERS * CELL**2)
    if not len(heavy):
        return ()
    worst = int(heavy[np.argmax(whole[heavy])])
    x, y = ((np.array(divmod(int(spots[worst]), high)) + np.array([left + 0.5, top + 0.5])) * CELL).tolist()
    numbers = np.searchsorted(begins, few[place == worst], side="right") - 1
    objects = tuple(dict.fromkeys(pieces[k].owner for k in numbers.tolist()))
    return (_Deep(len(heavy), float(whole[worst] / CELL**2), (x, y), objects),)


def crowded(piece: Piece, item: StitchObject, _design: Design) -> Finding | None:
    """One finding an object, where its needle points are most crowded."""
    points = piece.xy[piece.sewn]
    if len(points) <= CROWD:
        return None
    counts = np.asarray(scipy.spatial.cKDTree(points).query_ball_point(points, NEAR, return_length=True))
    worst = int(np.argmax(counts))
    if counts[worst] <= CROWD:
        return None
    sentence = (
        f"“{item.name}” has {int(counts[worst])} needle points within {NEAR} mm at {at(points[worst])}: "
        "they cut a hole; widen its spacing or round the corner."
    )
    return Finding("crowded", "look", sentence, (item.id,), spot(points[worst]))


def _undercut(ids: frozenset[int], design: Design) -> Design:
    return undercut_where_it_saves(design, ids, MARGIN)
