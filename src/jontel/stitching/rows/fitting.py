"""Needle points that stay in their shape, and follow rows that turn."""

from collections.abc import Callable

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from jontel.geometry.arrays import Ints
from jontel.geometry.frames import Frame
from jontel.geometry.hatch import Intervals
from jontel.geometry.inside import inside_path, nearest_on
from jontel.geometry.polyline import Floats
from jontel.stitching.stitches import SHORTEST

CUT = 0.035
"""Stitches may leave a turning row by this much, mm: a part of the gap to the next one."""
ON_ROW = 0.01
"""Needle points whose rows differ by more than this, mm, are not on the same one."""
BESIDE_ROW, STEP_BACK = 3.0, 0.6
"""A way no farther from a row than the first, mm, is beside it; it may leave the row so much earlier."""
OVER_RIM = 0.18
"""Needle points farther outside than this, mm, are brought back to the rim."""


def leaving_stitches(points: Floats, which: Ints, room: BaseGeometry) -> Ints:
    """Which of the stitches that begin at the ``which`` (m,) of ``points`` (n, 2) leave ``room``."""
    stitches = shapely.linestrings(np.stack([points[which], points[which + 1]], axis=1))
    answer: Ints = which[~shapely.covers(room, stitches)]
    return answer


def led_inside(points: Floats, piece: Polygon, room: BaseGeometry, under: Intervals, level: bool = True) -> Floats:
    """Travel (n, 2) ``under`` rows that are sewn later, its stitches that leave ``room`` led round in ``piece``.

    It keeps to the rows at both ends, if it may be ``level``: across others it would lie on what is sewn already.
    Where it runs along one of them it goes wherever that does.
    """
    if len(points) < 2:
        return points
    outside = leaving_stitches(points, np.flatnonzero((points[1:] != points[:-1]).any(axis=1)), room)
    if len(outside):
        outside = outside[~_on_a_row(points[outside], points[outside + 1], under)]

    def way_between(start: Floats, stop: Floats) -> Floats:
        way = inside_path(piece, start, stop)
        return (_along_level(_along_level(way, room)[::-1], room)[::-1] if level else way)[1:-1]

    return _with_ways(points, outside, way_between)


def led_round(points: Floats, leaving: Ints, piece: Polygon) -> Floats:
    """Needle points (n, 2) of which the stitches that begin at the ``leaving`` (m,) are led round in ``piece``."""

    def way_between(start: Floats, stop: Floats) -> Floats:
        way = inside_path(piece, start, stop)[1:-1]
        return way[_far_from(way, start, stop)]

    return _with_ways(points, leaving, way_between)


def _with_ways(points: Floats, which: Ints, way_between: Callable[[Floats, Floats], Floats]) -> Floats:
    """``points`` (n, 2) with a way put into each of the stitches that begin at the ``which`` (m,)."""
    parts: list[Floats] = []
    done = 0
    for k in which.tolist():
        parts += [points[done : k + 1], way_between(points[k], points[k + 1])]
        done = k + 1
    return np.vstack([*parts, points[done:]]) if parts else points


def _on_a_row(start: Floats, stop: Floats, rows: Intervals) -> NDArray[np.bool_]:
    """Which of the ways from ``start`` to ``stop`` (n, 2) run along a row, (n,)."""
    y = rows.y()
    low, high = np.minimum(start[:, 0], stop[:, 0]), np.maximum(start[:, 0], stop[:, 0])
    on = np.abs(y - start[:, 1:]) + np.abs(y - stop[:, 1:]) < ON_ROW
    on &= (rows.left <= low[:, None] + ON_ROW) & (rows.right >= high[:, None] - ON_ROW)
    return np.asarray(on.any(axis=1))


def _along_level(way: Floats, room: BaseGeometry) -> Floats:
    """A way (n, 2) that runs along its first row as far as it stays beside it."""
    first = way[0]
    beside = np.logical_and.accumulate(np.abs(way[1:-1, 1] - first[1]) < BESIDE_ROW)
    for k in np.flatnonzero(beside)[::-1] + 1:
        toward = np.sign(first[0] - way[k, 0])
        for back in (0.0, STEP_BACK, 2 * STEP_BACK):
            spot = np.array([way[k, 0] + toward * back, first[1]])
            far = abs(spot[0] - first[0]) > BESIDE_ROW
            if far and room.covers(shapely.LineString([first, spot, way[k]])):
                return np.vstack([first, spot, way[k:]])
    return way


def _far_from(way: Floats, *ends: Floats) -> NDArray[np.bool_]:
    """Which points of a way are a safe stitch away from all of ``ends``."""
    far: NDArray[np.bool_] = np.all([np.hypot(*(way - end).T) >= SHORTEST for end in ends], axis=0)
    return far


class Rim:
    """The rim of a polygon, which hundreds of pieces of thread are held to, and how far outside each may lie."""

    def __init__(self, part: Polygon) -> None:
        shapely.prepare(part)
        self.part = part

    def outside(self, points: Floats, over: float = 0.0) -> NDArray[np.bool_]:
        """Which of ``points`` (n, 2) lie outside by more than ``OVER_RIM`` and ``over``, mm, (n,)."""
        return np.asarray(~shapely.dwithin(self.part, shapely.points(points), OVER_RIM + over))

    def held(self, points: Floats, over: float = 0.0) -> Floats:
        """``points`` (n, 2) with those outside by more than ``OVER_RIM`` and ``over``, mm, brought back."""
        out = np.flatnonzero(self.outside(points, over))
        if not len(out):
            return points
        points = points.copy()
        points[out] = nearest_on(self.part, points[out])
        return points


def bent(points: Floats, frame: Frame) -> Floats:
    """Level needle points (n, 2) on the cloth, with more of them where stitches would cut a turning row.

    They lie outside of its bend by half of what the stitches cut off, so that these lie on both sides of the row.
    """
    if len(points) < 2:
        return frame.back(points)
    cloth = frame.back(points)
    watched = np.arange(len(points) - 1)
    for _ in range(2):
        middle = (points[watched + 1] + points[watched]) / 2
        bend = frame.back(middle)
        off = np.hypot(*(bend - (cloth[watched] + cloth[watched + 1]) / 2).T)
        size = np.hypot(*(cloth[watched + 1] - cloth[watched]).T)
        cuts = np.flatnonzero((off > CUT) & (size > 2 * SHORTEST))
        if not len(cuts):
            break
        at = watched[cuts] + 1
        points, cloth = np.insert(points, at, middle[cuts], axis=0), np.insert(cloth, at, bend[cuts], axis=0)
        fresh = watched[cuts] + np.arange(len(cuts))
        watched = np.unique(np.concatenate([fresh, fresh + 1]))
    middle = (points[1:] + points[:-1]) / 2
    off = frame.back(middle) - (cloth[1:] + cloth[:-1]) / 2
    off[np.abs(np.diff(points[:, 1])) > ON_ROW] = 0.0
    return cloth + (np.vstack([off, off[-1:]]) + np.vstack([off[:1], off])) / 4
