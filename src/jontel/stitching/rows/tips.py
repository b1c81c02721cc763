"""The tips of a shape, where no row fits any more: they are sewn as a run that leaves a row's end and comes back."""

from dataclasses import dataclass

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from jontel.geometry.arrays import Ints
from jontel.geometry.hatch import Intervals
from jontel.geometry.polyline import Floats
from jontel.geometry.region import rings_of

BARE = 0.34
"""A corner farther than this, mm, from every row is not covered by their thread."""
STEP = 2.0
"""How far apart, mm, the places are at which a tip's middle is looked for."""
SHORT = 1.2
"""Tips shorter than this, mm, are sewn straight to their end."""


@dataclass(frozen=True, eq=False)
class Tip:
    """A run to a tip and back, (n, 2), from the left or the ``right`` end of a row."""

    run: Floats
    right: bool


def tips_of(piece: Polygon, rows: Intervals, reach: float) -> dict[int, list[Tip]]:
    """The tips of a level polygon that ``rows`` leave bare, by row; those farther than ``reach``, mm, are no tips."""
    y = rows.y()
    ends = np.vstack([np.column_stack([rows.left, y]), np.column_stack([rows.right, y])])
    threads = np.asarray(shapely.linestrings(np.stack([ends[: len(y)], ends[len(y) :]], axis=1)))
    tree, nearest_end = shapely.STRtree(threads), scipy.spatial.cKDTree(ends)
    found: dict[int, list[Tip]] = {}
    for ring in rings_of(piece):
        far = np.zeros(len(ring))
        some = np.flatnonzero(~_beside(rows, ring))
        near, gap = tree.query_nearest(shapely.points(ring[some]), return_distance=True, all_matches=False)
        far[some[near[0]]] = gap
        for k in _peaks(far):
            at, end = nearest_end.query(ring[k])
            if at > reach:
                continue
            row, right = int(end) % len(y), int(end) >= len(y)
            found.setdefault(row, []).append(Tip(_run(piece, ends[int(end)], ring[k]), right))
    return found


def _beside(rows: Intervals, spots: Floats) -> NDArray[np.bool_]:
    """Which of ``spots`` (n, 2) lie within ``BARE`` straight below or above a row: most of a rim does."""
    found = np.zeros(len(spots), dtype=bool)
    if not len(rows.row):
        return found
    left, right = float(min(rows.left.min(), spots[:, 0].min())), float(max(rows.right.max(), spots[:, 0].max()))
    size = right - left + 1.0
    starts = rows.row * size + rows.left - left
    above = np.searchsorted(rows.heights, spots[:, 1])
    for row in (np.maximum(above - 1, 0), np.minimum(above, len(rows.heights) - 1)):
        last = np.searchsorted(starts, row * size + spots[:, 0] - left, side="right") - 1
        own = np.maximum(last, 0)
        over = (last >= 0) & (rows.row[own] == row) & (spots[:, 0] <= rows.right[own])
        found |= over & (np.abs(rows.heights[row] - spots[:, 1]) <= BARE)
    return found


def _peaks(far: Floats) -> list[int]:
    """Where a ring is farthest from the rows, once in each piece of it that is bare."""
    bare = far > BARE
    if not bare.any():
        return []
    first = int(np.argmin(bare)) if not bare.all() else 0
    order: Ints = np.roll(np.arange(len(far)), -first)
    label, count = scipy.ndimage.label(bare[order])
    return [
        int(order[np.flatnonzero(label == one)[np.argmax(far[order][label == one])]]) for one in range(1, count + 1)
    ]


def _run(piece: Polygon, start: Floats, tip: Floats) -> Floats:
    """From a row's end to a tip through the middle of what lies between, and back without the row's end."""
    way = tip - start
    size = float(np.hypot(*way))
    if size < SHORT:
        return tip[None]
    across = np.array([0.0, 1.5]) if abs(way[0]) > abs(way[1]) else np.array([1.5, 0.0])
    middles: list[Floats] = []
    for part in np.arange(STEP / 2, size - STEP / 2, STEP) / size:
        at = start + part * way
        cut = shapely.intersection(piece, shapely.LineString([at - across, at + across]))
        pieces = [one for one in getattr(cut, "geoms", [cut]) if one.length > 0]
        if pieces:
            middles.append(shapely.get_coordinates(min(pieces, key=shapely.Point(at).distance)).mean(axis=0))
    there = np.array([*middles, tip])
    return np.vstack([there, there[-2::-1]])
