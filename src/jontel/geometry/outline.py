"""The outline of a shape as strokes see it: walking along it, its corners, the ends of strokes on it."""

import math
from typing import Literal

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
import shapely
from shapely import Polygon

from jontel.geometry.arrays import Ints
from jontel.geometry.polyline import Floats, at_lengths, lengths, turns
from jontel.geometry.skeleton import Rim

CONCENTRATED, NEAR_CORNER = 35.0, 0.2
"""A corner turns by the first, degrees, within the second part of the radius."""
CORNERS_APART = 1.2
"""Corners are so many times as far from each other."""
BULGES = 0.04
"""An end between two corners that bulges by more than this part of its width is round."""


class Outline:
    """The rings of a polygon, to be walked along."""

    def __init__(self, shape: Polygon, rim: Rim) -> None:
        self.shape, self.rim = shape, rim
        self.marks = [lengths(loop) for loop in rim.rings]

    def ray(self, start: Floats, ahead: Floats, far: float) -> Floats | None:
        """Where a line from ``start`` first leaves the shape, (2,)."""
        line = shapely.LineString([start + 1e-4 * ahead, start + far * ahead])
        hits = shapely.get_coordinates(shapely.intersection(line, self.shape.boundary))
        if not len(hits):
            return None
        away = (hits - start) @ ahead
        away = away[away > 0.01]
        return start + float(away.min()) * ahead if len(away) else None

    def walk(self, ring: int, start: float, distance: float, sign: int) -> Floats:
        """The outline from ``start`` mm along a ring for a ``distance``, along the ring or against it, (n, 2)."""
        loop, marks, total = self.rim.rings[ring], self.marks[ring], float(self.rim.totals[ring])
        inner = (sign * (marks[:-1] - start)) % total
        inner = np.sort(inner[(inner > 1e-6) & (inner < distance - 1e-6)])
        where = (start + sign * np.concatenate([[0.0], inner, [distance]])) % total
        return at_lengths(loop, where, marks)


def corners(way: Floats, radius: float) -> Ints:
    """The points, by number, of a piece of outline (n, 2) at which it turns about a corner of the shape, in order."""
    if len(way) < 3:
        return np.zeros(0, dtype=np.int64)
    along = lengths(way)
    turn = turns(way, False)
    near = NEAR_CORNER * radius
    total = np.concatenate([[0.0], np.cumsum(turn)])
    first, last = (
        np.searchsorted(along, along - near, side="right"),
        np.searchsorted(along, along + near, side="left"),
    )
    sums = total[last] - total[first]
    strong = np.flatnonzero((np.abs(sums) > math.radians(CONCENTRATED)) & (turn != 0.0))
    found: list[int] = []
    for k in strong[np.argsort(-np.abs(turn[strong]) - 0.01 * np.abs(sums[strong]))].tolist():
        if all(abs(along[k] - along[other]) > CORNERS_APART * near for other in found):
            found.append(k)
    return np.array(sorted(found), dtype=np.int64)


def cap(way: Floats, ahead: Floats, radius: float) -> tuple[Floats, int, int]:
    """Where the two edges of a stroke end on the outline round its tip.

    That is ``way`` (n, 2), with a point more if need be, and two of its points by number. They are two corners, the
    ends of the straight piece that lies most across the way ``ahead``; one corner that is a point; or the middle of
    what is round.
    """
    found = corners(way, radius)
    if len(found) > 1:
        step = way[found[1:]] - way[found[:-1]]
        k = int(np.argmin(step[:, 1] * ahead[0] - step[:, 0] * ahead[1]))
        first, last = int(found[k]), int(found[k + 1])
        if not bulges(way[first : last + 1]):
            return way, first, last
    elif len(found):
        return way, int(found[0]), int(found[0])
    along = lengths(way)
    half = float(along[-1]) / 2
    middle = int(np.searchsorted(along, half))
    return np.insert(way, middle, at_lengths(way, np.array([half]), along), axis=0), middle, middle


def bulges(way: Floats) -> bool:
    """Whether a piece of outline (n, 2) is round rather than the straight line between its ends."""
    chord = way[-1] - way[0]
    over = cross(way - way[0], np.broadcast_to(chord, way.shape))
    return float(np.abs(over).max()) > BULGES * float(chord @ chord)


def smooth(values: Floats, sigma: float, closed: bool = False) -> Floats:
    """Values (n, ...) evened along their first axis, ``sigma`` of them wide; round a ring, if they are ``closed``."""
    mode: Literal["wrap", "nearest"] = "wrap" if closed else "nearest"
    return np.asarray(scipy.ndimage.gaussian_filter1d(values, sigma, axis=0, mode=mode))


def cross(p: Floats, q: Floats) -> Floats:
    """The cross products of two lists of vectors (n, 2), (n,)."""
    return np.asarray(p[:, 0] * q[:, 1] - p[:, 1] * q[:, 0])
