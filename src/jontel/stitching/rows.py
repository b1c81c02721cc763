"""Rows of a fill: needle points in brick order, turned at the rim, joined by hidden travel."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import cKDTree
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from jontel.geometry.hatch import Intervals, cells, connected, hatch, ragged
from jontel.geometry.inside import inside_path
from jontel.geometry.polyline import Floats
from jontel.geometry.region import rings_of
from jontel.stitching.compensation import frame, turned
from jontel.stitching.routing import Leg, Router
from jontel.stitching.running import merge_short, split_long, straight_run
from jontel.stitching.stitches import SHORTEST, Layer, Needle

OPEN = 0.9
"""Rows farther apart than this, mm, are an open pass whose turns are watched."""
SLACK = 0.1
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
            limit = style.length + 2 * CLEAR_OF_RIM
            room = piece.buffer(SLACK)
            shapely.prepare(room)
            for leg in legs:
                for points, pass_ in _leg_points(group, leg, style, layer, needle.at is not None):
                    kept = _kept_inside(points, piece, room, pass_, style)
                    spread = straight_run(kept) if pass_ is Layer.TRAVEL else split_long(merge_short(kept), limit)
                    needle.sew(spread @ back.T, pass_)
    _to_the_exit(part, needle, exit_)


def _leg_points(
    rows: Intervals, leg: Leg, style: RowStyle, layer: Layer, started: bool
) -> Iterator[tuple[Floats, Layer]]:
    """The travel to a cell, if it is worth a stitch, and the cell's rows; each (n, 2) with its layer."""
    travel = _tidy(leg.travel)
    if started and np.hypot(*np.ptp(travel, axis=0)) > 2 * style.spacing:
        yield travel, Layer.TRAVEL
    yield merge_short(_needle_points(rows, leg, style)), layer


def _kept_inside(points: Floats, piece: Polygon, room: BaseGeometry, layer: Layer, style: RowStyle) -> Floats:
    """``points`` with every stitch that would leave the shape led round inside it.

    Rows of a cover are so near each other that only their longest turns can; travel and open rows can.
    """
    if len(points) < 2:
        return points
    watched = np.arange(len(points) - 1)
    if layer is not Layer.TRAVEL and style.spacing < OPEN:
        size = np.hypot(*np.diff(points, axis=0).T)
        watched = np.flatnonzero(size > style.length + 2 * CLEAR_OF_RIM)
    stitches = shapely.linestrings(np.stack([points[watched], points[watched + 1]], axis=1))
    outside = watched[~shapely.covers(room, stitches)]
    if not len(outside):
        return points
    parts: list[Floats] = []
    done = 0
    for k in outside.tolist():
        parts.append(points[done : k + 1])
        way = inside_path(piece, points[k], points[k + 1])[1:-1]
        parts.append(way if layer is Layer.TRAVEL else way[_far_from(way, points[k], points[k + 1])])
        done = k + 1
    parts.append(points[done:])
    return np.vstack(parts)


def _far_from(way: Floats, *ends: Floats) -> NDArray[np.bool_]:
    """Which points of a way are a safe stitch away from all of ``ends``."""
    far: NDArray[np.bool_] = np.all([np.hypot(*(way - end).T) >= SHORTEST for end in ends], axis=0)
    return far


def _to_the_exit(part: Polygon, needle: Needle, exit_: Floats) -> None:
    """Along the last row to the exit, where that row runs past it."""
    if needle.at is None or not 1.0 < np.hypot(*(needle.at - exit_)) < 15.0:
        return
    way = inside_path(part, needle.at, exit_)
    if np.hypot(*np.diff(way, axis=0).T).sum() < 15.0:
        needle.sew(straight_run(way), Layer.TRAVEL)


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
