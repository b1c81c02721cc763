"""Places where so much thread lies on each other that the needle breaks it, and where needle points crowd."""

from functools import partial

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window

from jontel.design.design import Design, StitchObject
from jontel.design.words import many
from jontel.sewing.charts import CELL, thread_on
from jontel.sewing.plan import Piece, SewPlan
from jontel.sewing.proof.finding import Finding, Fix, at, spot
from jontel.sewing.undercut import MARGIN, undercut_where_it_saves

DRAWERS = 1 << 22
"""Squares are first summed up in at most so many drawers; only those in one that is too full are told apart."""
LAYERS, OVER = 9.0, 6
"""More than so many threads on each other on a square is more than cloth and needle bear, on so many squares.

A fill is one deep and a satin two, with what lies beneath a half more: four fills and a satin, one over the other.
"""
NEAR, CROWD = 0.3, 16
"""More than so many needle points within this of each other, mm, cut a hole."""


def layers(_design: Design, plan: SewPlan) -> list[Finding]:
    """At most one finding, at the worst place."""
    if not plan.pieces:
        return []
    column, row, laid, begins = thread_on(plan)
    left, top, high = int(column.min()), int(row.min()), int(np.ptp(row)) + 1
    square = (column - left) * high + row - top
    drawer = square & (DRAWERS - 1)
    few = np.flatnonzero(np.bincount(drawer, weights=laid)[drawer] > LAYERS * CELL**2)
    spots, place = np.unique(square[few], return_inverse=True)
    whole = np.bincount(place, weights=laid[few], minlength=len(spots))
    heavy = np.flatnonzero(whole > LAYERS * CELL**2)
    if len(heavy) < OVER:
        return []
    worst = int(heavy[np.argmax(whole[heavy])])
    middle = (np.array(divmod(int(spots[worst]), high)) + np.array([left + 0.5, top + 0.5])) * CELL
    numbers = np.searchsorted(begins, few[place == worst], side="right") - 1
    there = tuple(dict.fromkeys(plan.pieces[k].owner for k in numbers.tolist()))
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


def _undercut(ids: frozenset[int], design: Design) -> Design:
    return undercut_where_it_saves(design, ids, MARGIN)
