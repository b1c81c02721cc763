"""Polylines: path data flattened to points, and the few measures of them that everything uses."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jontel.design.paths import Matrix, commands
from jontel.design.shapes import Point
from jontel.design.store import kept
from jontel.geometry.arrays import Ints, ragged

Floats = NDArray[np.float64]
TOLERANCE = 0.02
"""How far a flattened curve may leave the drawn one, mm: a twentieth of a thread's width."""
FINE = 0.001
"""The same where normals are taken from the points, mm: those of a coarser one would fan out in steps."""
CORNER_DEGREES = 25.0


@dataclass(frozen=True, eq=False)
class Polyline:
    """Points ``xy`` (n, 2) in mm. A closed one does not repeat its first point.

    ``corner`` (n,) marks the points where the drawn path turns sharply.
    """

    xy: Floats
    closed: bool
    corner: NDArray[np.bool_]

    def loop(self) -> Floats:
        """The points with the first repeated at the end when closed."""
        return np.vstack([self.xy, self.xy[:1]]) if self.closed else self.xy


@kept
def flatten(path: str, tolerance: float = TOLERANCE) -> tuple[Polyline, ...]:
    """The polylines of canonical path data, one a subpath; subpaths of no length are left out."""
    curves: dict[int, list[float]] = {1: [], 2: [], 3: []}  # all control points of a degree, one piece after another
    degrees: list[int] = []  # of all pieces
    begun: list[tuple[int, Point]] = []  # at which piece each subpath begins, and where
    closed: list[bool] = []
    at = start = (0.0, 0.0)
    for letter, n in commands(path):
        if letter == "Z":
            closed[-1] = True
            at = start
        elif letter == "M":
            at = start = (n[0], n[1])
        else:
            degree = len(n) // 2
            some = curves[degree]
            some += at
            some += n
            degrees.append(degree)
            at = (n[-2], n[-1])
            continue
        begun.append((len(degrees), start))
        closed.append(False)
    if not degrees:
        return ()
    xy, ends = _points(np.array(degrees, dtype=np.int64), curves, tolerance)
    last = [number for number, _ in begun[1:]] + [len(degrees)]
    found = (
        _polyline(first, xy[ends[low] : ends[high]], ends[low + 1 : high + 1] - ends[low], is_closed)
        for (low, first), high, is_closed in zip(begun, last, closed, strict=True)
        if high > low
    )
    return tuple(line for line in found if line is not None)


def _points(degrees: Ints, curves: dict[int, list[float]], tolerance: float) -> tuple[Floats, Ints]:
    """The points (m, 2) of pieces of these ``degrees`` (n,) after the first of each, and where each ends, (n + 1,).

    The number of points on a curve is Wang's bound on the second differences (G. Wang, "The subdivision method for
    finding the intersection between two Bézier curves or surfaces", 1984).
    """
    which = {degree: np.flatnonzero(degrees == degree) for degree, some in curves.items() if some}
    controls = {degree: np.array(curves[degree]).reshape(-1, degree + 1, 2) for degree in which}
    counts = np.ones(len(degrees), dtype=np.int64)
    for degree, control in controls.items():
        if degree > 1:
            second = control[:, 2:] - 2 * control[:, 1:-1] + control[:, :-2]
            bend = np.hypot(second[..., 0], second[..., 1]).max(axis=1)
            pieces = np.ceil(np.sqrt(degree * (degree - 1) / 8 * bend / tolerance))
            counts[which[degree]] = np.clip(pieces, 1, 400)
    ends = np.concatenate([[0], np.cumsum(counts)])
    xy = np.empty((int(ends[-1]), 2))
    for degree, control in controls.items():
        if degree == 1:
            xy[ends[which[degree]]] = control[:, 1]
            continue
        owner, within = ragged(counts[which[degree]])
        t = ((within + 1) / counts[which[degree]][owner])[:, None]
        powers = np.arange(degree + 1)
        weights = np.array([math.comb(degree, k) for k in powers]) * t**powers * (1 - t) ** (degree - powers)
        xy[ends[which[degree]][owner] + within] = (weights[:, :, None] * control[owner]).sum(axis=1)
    return xy, ends


def _polyline(start: Point, points: Floats, joints: Ints, closed: bool) -> Polyline | None:
    """The polyline of a subpath from its ``start`` and the ``points`` (n, 2) after it; ``None`` for one of no length.

    ``joints`` (m,) are how many points are drawn when each of its pieces ends.
    """
    xy = np.vstack([start, points])
    is_joint = np.zeros(len(xy), dtype=bool)
    is_joint[np.concatenate([[0], joints])] = True
    keep = np.ones(len(xy), dtype=bool)
    keep[1:] = np.hypot(*(xy[1:] - xy[:-1]).T) > 1e-6
    xy, is_joint = xy[keep], is_joint[keep]
    if closed and len(xy) > 1 and np.hypot(*(xy[0] - xy[-1])) <= 1e-6:
        xy, is_joint = xy[:-1], is_joint[:-1]
    if len(xy) < (3 if closed else 2):
        return None
    turn = np.abs(turns(xy, closed))
    return Polyline(xy, closed, is_joint & (turn > math.radians(CORNER_DEGREES)))


def turns(xy: Floats, closed: bool) -> Floats:
    """The change of direction at each point, radians, left positive in a y-up sense; 0 at open ends."""
    if closed:
        before, after = xy - np.roll(xy, 1, axis=0), np.roll(xy, -1, axis=0) - xy
    else:
        step = np.diff(xy, axis=0)
        before, after = np.vstack([step[:1], step]), np.vstack([step, step[-1:]])
    cross = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    dot = (before * after).sum(axis=1)
    answer: Floats = np.arctan2(cross, dot)
    return answer


def lengths(xy: Floats) -> Floats:
    """Distance along ``xy`` (n, 2) at each point, starting at 0, shape (n,)."""
    out = np.zeros(len(xy))
    np.cumsum(np.hypot(*(xy[1:] - xy[:-1]).T), out=out[1:])
    return out


def moved(xy: Floats, matrix: Matrix) -> Floats:
    """Points (n, 2) moved by an SVG matrix."""
    a, b, c, d, e, f = matrix
    return np.asarray(xy @ np.array([[a, b], [c, d]]) + np.array([e, f]))


def distinct(xy: Floats) -> Floats:
    """The points of ``xy`` (n, 2) without those that repeat the one before."""
    return np.asarray(xy[np.append(True, np.hypot(*(xy[1:] - xy[:-1]).T) > 1e-6)])


def at_lengths(xy: Floats, where: Floats, along: Floats | None = None) -> Floats:
    """The points at distances ``where`` (m,) along ``xy``, shape (m, 2)."""
    along = lengths(xy) if along is None else along
    return np.column_stack([np.interp(where, along, xy[:, 0]), np.interp(where, along, xy[:, 1])])


def nearest_length(xy: Floats, point: Point | Floats) -> float:
    """The distance along ``xy`` of the place nearest to ``point``."""
    start, step = xy[:-1], np.diff(xy, axis=0)
    squared = np.maximum((step**2).sum(axis=1), 1e-18)
    part = np.clip(((np.asarray(point) - start) * step).sum(axis=1) / squared, 0, 1)
    gap = np.hypot(*(start + part[:, None] * step - np.asarray(point)).T)
    best = int(np.argmin(gap))
    return float(lengths(xy)[best] + part[best] * math.sqrt(squared[best]))


def start_at(line: Polyline, along: float) -> Polyline:
    """A closed polyline turned so that it starts at distance ``along`` its loop."""
    loop = line.loop()
    marks = lengths(loop)
    along %= marks[-1]
    index = int(np.searchsorted(marks, along, side="right"))
    first = at_lengths(loop, np.array([along]))
    xy = np.vstack([first, loop[index:], loop[1:index]])
    corner = np.concatenate([[False], line.corner[index:], line.corner[:1], line.corner[1:index]])
    keep = np.ones(len(xy), dtype=bool)
    keep[1:] = np.hypot(*(xy[1:] - xy[:-1]).T) > 1e-6
    keep[-1] &= bool(np.hypot(*(xy[-1] - xy[0])) > 1e-6)
    return Polyline(xy[keep], True, corner[keep])


def normals(xy: Floats, closed: bool) -> Floats:
    """Unit normals at the points of ``xy`` (to the left in a y-down drawing's mirror), shape (n, 2)."""
    tangent = np.roll(xy, -1, axis=0) - np.roll(xy, 1, axis=0) if closed else np.gradient(xy, axis=0)
    size = np.maximum(np.hypot(*tangent.T), 1e-12)[:, None]
    tangent = tangent / size
    return np.column_stack([-tangent[:, 1], tangent[:, 0]])
