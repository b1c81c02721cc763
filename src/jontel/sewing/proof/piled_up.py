"""Places where so much thread lies on each other that the needle breaks it, and where needle points crowd."""

from functools import partial

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
from numpy.typing import NDArray

from jontel.design.design import Design, StitchObject
from jontel.design.words import many
from jontel.geometry.hatch import spread_along
from jontel.geometry.polyline import Floats
from jontel.sewing.plan import Piece, SewPlan
from jontel.sewing.proof.finding import Finding, Fix, at, spot
from jontel.sewing.undercut import MARGIN, undercut_where_it_saves

CELL, STEP = 1.0, 0.25
"""Thread is counted in squares of so many mm, in places along it so far apart."""
ACROSS = 100_000
"""So many squares lie in a row of the cloth at most."""
DRAWERS = 1 << 22
"""Squares are first summed up in at most so many drawers; only those in one that is too full are told apart."""
LAYERS, OVER = 9.0, 6
"""More than so many threads on each other on a square is more than cloth and needle bear, on so many squares.

A fill is one deep and a satin two, with what lies beneath a half more: four fills and a satin, one over the other.
"""
NEAR, CROWD = 0.3, 16
"""More than so many needle points within this of each other, mm, cut a hole."""


def layers(design: Design, plan: SewPlan) -> list[Finding]:
    """At most one finding, at the worst place."""
    threads = [_thread(piece) for piece in plan.pieces]
    if not threads:
        return []
    column, row, laid = (np.concatenate(one) for one in zip(*threads, strict=True))
    widths = [design.thread(plan.threads[piece.thread].code).width for piece in plan.pieces]
    counts = [len(one[0]) for one in threads]
    laid = laid * np.repeat(widths, counts)
    drawer = ((column - column.min()) * (int(np.ptp(row)) + 1) + row - row.min()) & (DRAWERS - 1)
    few = np.flatnonzero(np.bincount(drawer, weights=laid)[drawer] > LAYERS * CELL**2)
    spots, place = np.unique(column[few] * ACROSS + row[few], return_inverse=True)
    whole = np.bincount(place, weights=laid[few], minlength=len(spots))
    heavy = np.flatnonzero(whole > LAYERS * CELL**2)
    if len(heavy) < OVER:
        return []
    worst = int(heavy[np.argmax(whole[heavy])])
    owner = np.repeat([piece.owner for piece in plan.pieces], counts)[few]
    middle = (np.array(divmod(int(spots[worst]), ACROSS)) - ACROSS // 2 + 0.5) * CELL
    there = tuple(dict.fromkeys(int(one) for one in owner[place == worst]))
    deep = whole[worst] / CELL**2
    sentence = (
        f"Thread lies {deep:.0f} deep at {at(middle)}, in {many(len(there), 'object')}, and too deep on "
        f"{len(heavy)} mm²: needles break there; leave out what is hidden."
    )
    lower = frozenset(there[:-1])
    fix = Fix("Do not sew what is hidden", partial(_undercut, lower), slow=True)
    return [Finding("layers", "look", sentence, there, (float(middle[0]), float(middle[1])), (fix,))]


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


def _thread(piece: Piece) -> tuple[NDArray[np.int64], NDArray[np.int64], Floats]:
    """The squares that the thread of a piece lies on, by column and row, and how much of it, mm; (n,) each."""
    if "thread on cloth" not in piece.notes:
        rows = np.flatnonzero(piece.sewn)
        start, stop = piece.xy[rows - 1], piece.xy[rows]
        size = piece.sizes[rows]
        counts = np.maximum(np.ceil(size / STEP).astype(np.int64), 1)
        spots, owner = spread_along(start, stop, counts)
        column, row = (np.floor(spots / CELL).astype(np.int64) + ACROSS // 2).T
        squares, place = np.unique(column * ACROSS + row, return_inverse=True)
        laid = np.bincount(place, weights=(size / counts)[owner], minlength=len(squares))
        piece.notes["thread on cloth"] = (*np.divmod(squares, ACROSS), laid)
    answer: tuple[NDArray[np.int64], NDArray[np.int64], Floats] = piece.notes["thread on cloth"]
    return answer


def _undercut(ids: frozenset[int], design: Design) -> Design:
    return undercut_where_it_saves(design, ids, MARGIN)
