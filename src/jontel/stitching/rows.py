"""Rows of a fill: needle points in brick order, turned at the rim, joined by hidden travel."""

from dataclasses import dataclass

import numpy as np
import shapely
from scipy.spatial import cKDTree
from shapely import Polygon

from jontel.geometry.hatch import Intervals, cells, connected, hatch, ragged
from jontel.geometry.inside import inside_path
from jontel.geometry.polyline import Floats
from jontel.geometry.region import rings_of
from jontel.stitching.compensation import frame, turned
from jontel.stitching.routing import Leg, Router
from jontel.stitching.running import merge_short, split_long, straight_run
from jontel.stitching.stitches import SHORTEST, Layer, Needle

CLEAR_OF_RIM = 0.8
"""No needle point inside a row is nearer than this to the row's end, mm."""


@dataclass(frozen=True)
class RowStyle:
    """How rows are laid: mm, degrees, and the brick pattern."""

    spacing: float
    length: float
    angle: float
    brick_offset: float = 0.4
    brick_rows: int = 5
    pull_percent: float = 0.0
    pull_ceiling: float = 1.0


def sew_rows(part: Polygon, style: RowStyle, layer: Layer, needle: Needle, exit_: Floats) -> None:
    """Fill one connected polygon, from where the needle is to the rim nearest to ``exit_``."""
    to = frame(style.angle)
    back = to.T
    level = turned(shapely.MultiPolygon([part]), style.angle)
    for piece in level.geoms:
        rows = hatch(rings_of(piece), style.spacing)
        if not len(rows.row):
            continue
        groups = connected(_longer(rows, style))
        while groups:
            at = (needle.at if needle.at is not None else np.asarray(part.exterior.coords[0])) @ to.T
            group = _next_group(groups, at, exit_ @ to.T)
            goal = exit_ @ to.T if not groups else _facing(group, groups)
            legs = Router(group, cells(group), at, goal).legs()
            if needle.at is not None:
                way = inside_path(piece, at, legs[0].travel[0])
                if np.hypot(*(way[-1] - way[0])) > 2 * style.spacing:
                    needle.sew(straight_run(way) @ back.T, Layer.TRAVEL)
            for leg in legs:
                _sew_leg(group, leg, style, layer, needle, back)


def _sew_leg(rows: Intervals, leg: Leg, style: RowStyle, layer: Layer, needle: Needle, back: Floats) -> None:
    travel = _tidy(leg.travel)
    if np.hypot(*np.ptp(travel, axis=0)) > 2 * style.spacing:
        needle.sew(straight_run(travel) @ back.T, Layer.TRAVEL)
    points = split_long(merge_short(_needle_points(rows, leg, style)), style.length + 2 * CLEAR_OF_RIM)
    needle.sew(points @ back.T, layer)


def _ends(rows: Intervals) -> Floats:
    """Every row end, (2 n, 2)."""
    y = rows.y()
    return np.vstack([np.column_stack([rows.left, y]), np.column_stack([rows.right, y])])


def _facing(group: Intervals, others: list[Intervals]) -> Floats:
    """The row end of ``group`` that is nearest to any of ``others``."""
    own = _ends(group)
    gaps, _ = cKDTree(np.vstack([_ends(other) for other in others])).query(own)
    answer: Floats = own[int(np.argmin(gaps))]
    return answer


def _next_group(groups: list[Intervals], at: Floats, goal: Floats) -> Intervals:
    """Take the group to sew next: the nearest, but the one that holds the exit last."""
    if len(groups) == 1:
        return groups.pop()
    last = int(np.argmin([np.hypot(*(_ends(g) - goal).T).min() for g in groups]))
    near = [np.hypot(*(_ends(g) - at).T).min() if k != last else np.inf for k, g in enumerate(groups)]
    return groups.pop(int(np.argmin(near)))


def _tidy(travel: Floats) -> Floats:
    if len(travel) < 3:
        return travel
    return shapely.get_coordinates(shapely.LineString(travel).simplify(0.15))


def _longer(rows: Intervals, style: RowStyle) -> Intervals:
    """Rows with the percentage of pull added at both ends, never into their neighbour."""
    if style.pull_percent <= 0:
        return rows
    grow = np.minimum(style.pull_percent / 100 * (rows.right - rows.left), style.pull_ceiling)
    gap = np.full(len(grow) + 1, np.inf)
    same = rows.row[1:] == rows.row[:-1]
    gap[1:-1][same] = np.maximum((rows.left[1:] - rows.right[:-1])[same] / 2 - 0.05, 0)
    left = rows.left - np.minimum(grow, gap[:-1])
    right = rows.right + np.minimum(grow, gap[1:])
    return Intervals(rows.row, left, right, rows.top, rows.spacing)


def _needle_points(rows: Intervals, leg: Leg, style: RowStyle) -> Floats:
    """All needle points of one cell, back and forth, shape (n, 2), in the level frame."""
    order = leg.rows
    left, right, y = rows.left[order], rows.right[order], rows.y()[order]
    leftward = (np.arange(len(order)) % 2 == 1) ^ leg.from_right
    start, stop = np.where(leftward, right, left), np.where(leftward, left, right)
    _turn(start, stop, y)
    phase = (rows.row[order] % style.brick_rows) * style.brick_offset % 1.0 * style.length
    low, high = np.minimum(start, stop) + CLEAR_OF_RIM, np.maximum(start, stop) - CLEAR_OF_RIM
    first = np.ceil((low - phase) / style.length).astype(np.int64)
    last = np.floor((high - phase) / style.length).astype(np.int64)
    inner = np.maximum(last - first + 1, 0)
    row, within = ragged(inner + 2)
    number = np.where(leftward[row], last[row] - within + 1, first[row] + within - 1)
    x = phase[row] + number * style.length
    x = np.where(within == 0, start[row], np.where(within == inner[row] + 1, stop[row], x))
    return np.column_stack([x, y[row]])


def _turn(start: Floats, stop: Floats, y: Floats) -> None:
    """Make each turn at the rim a safe stitch, in place.

    Where a row's end and the next one's start are nearer than the shortest safe stitch, the one is moved
    outwards and the other inwards by the same small amount, so the rim stays where it is on average.
    """
    if len(start) < 2:
        return
    step = start[1:] - stop[:-1]
    wanted = np.sqrt(np.maximum(SHORTEST**2 - np.diff(y) ** 2, 0)) + 1e-6
    missing = np.maximum(wanted - np.abs(step), 0)
    room = np.minimum(np.abs(stop - start)[1:], np.abs(stop - start)[:-1]) > 2 * SHORTEST
    away = np.where(step == 0, np.sign(stop[1:] - start[1:]), np.sign(step))
    shift = np.where(room, missing / 2, 0) * away
    stop[:-1] -= shift
    start[1:] += shift
