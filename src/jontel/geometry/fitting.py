"""Curves through points: few nodes, corners kept.

Source: P. J. Schneider, "An algorithm for automatically fitting digitized curves" (1990): cubics whose ends lie on
the points and whose tangents there are known are fitted by least squares, the parameters of the points are bettered
by Newton's method, and where the fit is not near enough the points are parted at the farthest.
"""

import math
from itertools import pairwise

import numpy as np
from scipy.ndimage import gaussian_filter1d

from jontel.design.stopping import go_on
from jontel.geometry.nodes import TINY, Chain, powers
from jontel.geometry.polyline import Floats, at_lengths, distinct, lengths

ROUNDS = 6
HOPELESS = 6.0
"""Fits so many times farther from the points than they may be do not come near enough by betterment."""
RIDGE = 1e-9
"""So much is added where points do not tell a handle, so that it is short rather than any."""
LEAST_LOOK = 0.3
"""Tangents and corners are looked for over at least so many mm of the line."""


def cubic_through(
    points: Floats,
    start: Floats | None,
    end: Floats | None,
    rounds: int = ROUNDS,
    t: Floats | None = None,
    enough: float = 0.0,
) -> tuple[Floats, float, int]:
    """A cubic from the first of ``points`` (n, 2) to the last that leaves along ``start`` and arrives along ``end``.

    ``start`` and ``end`` (2,) are unit vectors into the curve from its two ends, ``None`` where any will do; ``t``
    (n,) are the parameters of the points where something is known of them. It is bettered until it is near
    ``enough``, mm, or hopelessly far from that. Returns the control points (4, 2), the greatest distance of a point
    from it, mm, and which point that is.
    """
    go_on()
    if len(points) == 2:
        third = (points[1] - points[0]) / 3
        size = float(np.hypot(*third))
        one = third if start is None else size * start
        other = -third if end is None else size * end
        return np.array([points[0], points[0] + one, points[1] + other, points[1]]), 0.0, 0
    along = lengths(points)
    if along[-1] <= TINY:  # it goes nowhere
        return np.array([points[0], points[0], points[-1], points[-1]]), 0.0, 0
    t = along / along[-1] if t is None else t
    best: tuple[Floats, float, int] | None = None
    for _ in range(rounds):
        c = _fit(points, start, end, t, float(along[-1]))
        curve = powers(t) @ c
        gap = np.hypot(*(curve - points).T)
        worst = int(gap.argmax())
        if best is None or gap[worst] < best[1]:
            best = (c, float(gap[worst]), worst)
        if gap[worst] <= enough or gap[worst] > HOPELESS * enough > 0:
            break
        t = _bettered(points, c, t)
    assert best is not None
    return best


def _fit(points: Floats, start: Floats | None, end: Floats | None, t: Floats, long: float) -> Floats:
    """Least squares for both handles: their lengths where their ways are known; thirds where that makes no sense."""
    w = powers(t)
    base = (w[:, 0] + w[:, 1])[:, None] * points[0] + (w[:, 2] + w[:, 3])[:, None] * points[-1]
    ways = [_ways(start), _ways(end)]
    columns = np.stack([(w[:, 1 + k, None] * way).T.ravel() for k, some in enumerate(ways) for way in some])
    wanted = columns @ (points - base).T.ravel()
    square = columns @ columns.T
    solved = np.linalg.solve(square + RIDGE * (np.trace(square) + 1e-3) * np.eye(len(square)), wanted)
    first = np.asarray(solved[: len(ways[0])] @ ways[0])
    last = np.asarray(solved[len(ways[0]) :] @ ways[1])
    span = float(np.hypot(*(points[-1] - points[0])))
    third = (span or long) / 3
    far = [float(np.hypot(*one)) for one in (first, last)]
    backwards = any(one is not None and way @ one < -1e-6 * long for one, way in ((start, first), (end, last)))
    if max(far) > 2 * long or backwards or not np.isfinite(solved).all():
        first = third * (_tangent(points, LEAST_LOOK) if start is None else start)
        last = third * (_tangent(points[::-1], LEAST_LOOK) if end is None else end)
    return np.array([points[0], points[0] + first, points[-1] + last, points[-1]])


def _ways(way: Floats | None) -> Floats:
    """The ways in which a handle may go, (1 or 2, 2)."""
    return np.eye(2) if way is None else way[None]


def _bettered(points: Floats, c: Floats, t: Floats) -> Floats:
    """The parameters after one step of Newton's method towards the nearest places, kept in order."""
    first, second = 3 * np.diff(c, axis=0), 6 * np.diff(c, 2, axis=0)
    u = (1 - t)[:, None]
    s = t[:, None]
    off = powers(t) @ c - points
    slope = u * u * first[0] + 2 * u * s * first[1] + s * s * first[2]
    bend = u * second[0] + s * second[1]
    below = (slope * slope).sum(axis=1) + (off * bend).sum(axis=1)
    step = np.divide((off * slope).sum(axis=1), below, out=np.zeros(len(t)), where=np.abs(below) > 1e-12)
    moved = np.maximum.accumulate(np.clip(t - step, 0, 1))
    moved[0], moved[-1] = 0.0, 1.0
    return np.asarray(moved)


def fitted(points: Floats, tolerance: float, closed: bool = False, corner: float = 50.0) -> Chain:
    """A chain of few nodes within ``tolerance`` mm of what a hand drew through ``points`` (n, 2).

    Corners, which turn by more than ``corner`` degrees, are looked for over a length of a few tolerances, so that the
    trembling of a hand is none; between them the points are smoothed (by a Gaussian along the line that leaves
    the ends of a run where they are). ``points`` of a closed chain do not repeat the first.
    """
    points = np.asarray(points, dtype=np.float64)
    points = distinct(points) if len(points) else points
    if closed and len(points) > 1 and np.hypot(*(points[0] - points[-1])) <= 1e-6:
        points = points[:-1]
    if len(points) < (3 if closed else 2):
        return Chain(points, points, points, closed)
    look = max(LEAST_LOOK, 4 * tolerance)
    marks = _corners(points, closed, look, corner)
    return _between(points, marks, tolerance, look, closed, smooth=True)


def through_corners(points: Floats, marks: list[int], tolerance: float, closed: bool) -> Chain:
    """A chain of few nodes within ``tolerance`` mm of ``points`` (n, 2), with corners at the points ``marks``."""
    return _between(points, marks, tolerance, LEAST_LOOK, closed)


def _between(
    points: Floats, marks: list[int], tolerance: float, look: float, closed: bool, smooth: bool = False
) -> Chain:
    """Fit what lies between the corners ``marks``, smoothed before or as it is."""
    if closed:
        turned = bool(marks)
        first = marks[0] if turned else 0
        points = np.vstack([points[first:], points[:first], points[first : first + 1]])
        marks = [m - first for m in marks] or [0]
        ends = [*marks, len(points) - 1]
    else:
        turned = True
        ends = sorted({0, *marks, len(points) - 1})
    controls: list[Floats] = []
    for start, stop in pairwise(ends):
        run = points[start : stop + 1]
        if smooth:
            run = _smoothed(run, look / 2, round_=not turned)
        if not turned:  # a ring without a corner: its seam is smooth
            way = _unit(_ahead(run, look) - _ahead(run[::-1], look))
            controls += _pieces(run, way, -way, tolerance, look)
        else:
            controls += _pieces(run, None, None, tolerance, look)
    return chain_of(controls, closed)


def _smoothed(run: Floats, sigma: float, round_: bool) -> Floats:
    """A run at even steps without what trembles over less than ``sigma`` mm; a closed one all ``round_``."""
    along = lengths(run)
    count = max(8, min(4000, math.ceil(along[-1] / (sigma / 3))))
    even = at_lengths(run, np.linspace(0, along[-1], count + 1), along)
    width = sigma / (along[-1] / count)
    if round_:
        even = np.asarray(gaussian_filter1d(even[:-1], width, axis=0, mode="wrap"))
        return np.vstack([even, even[:1]])
    width = min(width, count / 8)
    more = min(count, math.ceil(4 * width))
    before, behind = 2 * even[0] - even[more:0:-1], 2 * even[-1] - even[-2 : -2 - more : -1]
    smooth = gaussian_filter1d(np.vstack([before, even, behind]), width, axis=0)[more : more + count + 1]
    return np.vstack([even[:1], smooth[1:-1], even[-1:]])


def chain_of(controls: list[Floats], closed: bool) -> Chain:
    """The chain of cubics (4, 2) that follow each other; what is straight has no handles."""
    at, before, after = [controls[0][0]], [controls[0][0]], []
    for c in controls:
        c = _straightened(c)
        after.append(c[1])
        at.append(c[3])
        before.append(c[2])
    after.append(at[-1])
    if closed:
        before[0] = before.pop()
        at.pop()
        after.pop()
    return Chain(np.array(at), np.array(before), np.array(after), closed)


def _straightened(c: Floats) -> Floats:
    """A cubic without handles where they hardly leave its chord."""
    chord = c[3] - c[0]
    size = float(np.hypot(*chord))
    if size <= TINY:
        return c
    off = np.abs((c[1:3, 0] - c[0, 0]) * chord[1] - (c[1:3, 1] - c[0, 1]) * chord[0]) / size
    part = ((c[1:3] - c[0]) @ chord) / size**2
    is_line = bool((off < 2e-3).all() and (part > -0.01).all() and (part < 1.01).all())
    return np.array([c[0], c[0], c[3], c[3]]) if is_line else c


def _pieces(points: Floats, start: Floats | None, end: Floats | None, tolerance: float, look: float) -> list[Floats]:
    """The cubics of one smooth run."""
    waiting = [(points, start, end)]
    made: list[Floats] = []
    while waiting:
        run, out, back = waiting.pop()
        c, far, worst = cubic_through(run, out, back, enough=tolerance)
        if far <= tolerance or len(run) <= 3:
            made.append(c)
            continue
        at = min(max(worst, 1), len(run) - 2)
        way = _unit(_ahead(run[at:], look) - _ahead(run[at::-1], look))
        if not way.any():
            way = _unit(run[at + 1] - run[at - 1])
        waiting += [(run[at:], way, back), (run[: at + 1], out, -way)]
    return made


def _tangent(run: Floats, look: float) -> Floats:
    """The way in which a run leaves its first point: of the parabola through it that fits its beginning best."""
    along = lengths(run)
    count = max(2, int(np.searchsorted(along, look, side="right")))
    s, step = along[1:count], run[1:count] - run[0]
    if len(s) >= 3:
        m = np.column_stack([s, s * s])
        solved = np.linalg.lstsq(m, step, rcond=None)[0]
        way = _unit(solved[0])
        if way.any():
            return way
    return _unit(step[-1])


def _ahead(run: Floats, look: float) -> Floats:
    """The place ``look`` mm along a run, or its end."""
    along = lengths(run)
    answer: Floats = at_lengths(run, np.array([min(look, along[-1])]), along)[0]
    return answer


def _unit(way: Floats) -> Floats:
    size = math.hypot(*way)
    answer: Floats = way / size if size > 1e-12 else np.zeros(2)
    return answer


def _corners(points: Floats, closed: bool, look: float, degrees: float) -> list[int]:
    """Which points are corners: where the way over ``look`` mm before turns against that after, most of all near."""
    loop = np.vstack([points, points[:1]]) if closed else points
    along = lengths(loop)
    whole = float(along[-1])
    look = min(look, whole / 6)
    if look <= 0:
        return []
    here = along[: len(points)]
    if closed:
        wide = np.concatenate([along[:-1] - whole, along, along[1:] + whole])
        xy = np.vstack([loop[:-1], loop, loop[1:]])
    else:
        wide, xy = along, loop
    back, on = at_lengths(xy, here - look, wide), at_lengths(xy, here + look, wide)
    one, other = points - back, on - points
    turn = np.degrees(
        np.abs(np.arctan2(one[:, 0] * other[:, 1] - one[:, 1] * other[:, 0], (one * other).sum(axis=1)))
    )
    if not closed:
        turn[(here < 0.5 * look) | (here > whole - 0.5 * look)] = 0.0
    found: list[int] = []
    for k in np.argsort(-turn, kind="stable"):
        if turn[k] < degrees:
            break
        gaps = np.abs(here[found] - here[k])
        if not len(gaps) or np.minimum(gaps, whole - gaps if closed else gaps).min() >= look:
            found.append(int(k))
    return sorted(found)
