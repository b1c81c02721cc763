"""A line with a width as columns: one leg between every two sharp corners, mitred where they meet."""

import itertools
import math

import numpy as np
from numpy.typing import NDArray

from jontel.design.shapes import Line, WidthProfile
from jontel.design.stopping import go_on
from jontel.geometry.columns import Rails
from jontel.geometry.polyline import FINE, Floats, Polyline, at_lengths, flatten, lengths, normals, start_at, turns

STEP = 0.08
MITRE_DEGREES = 35.0
"""Bends below this are no corner where all corners are mitred or capped."""
LONGEST_MITRE = 3.0
"""A mitre reaches no farther than this many half widths."""
TURN_REACH = 0.7
CAP_REACH = 0.4
"""How far a capped leg goes on, in half widths: its corners then hardly show beside the next leg."""
LEAST_ROW = 0.35
Mask = NDArray[np.bool_]


def legs_of(line: Line) -> list[Rails]:
    """The columns that a satin along ``line`` is sewn as, in order, subpath by subpath."""
    return [leg for path in flatten(line.path, FINE) for leg in _legs(path, line)]


def _legs(path: Polyline, line: Line) -> list[Rails]:
    half = line.width / 2
    mitre, cap = _thresholds(line)
    path = _turned_corners(path, half, mitre)
    turn = turns(path.xy, path.closed)
    sharp = np.flatnonzero((np.abs(turn) > math.radians(mitre)) & path.corner)
    if path.closed and len(sharp):
        path = start_at(path, float(lengths(path.xy)[sharp[0]]))
        turn = turns(path.xy, True)
        corner = path.corner.copy()
        corner[0] = True
        sharp = np.flatnonzero((np.abs(turn) > math.radians(mitre)) & corner)
    if not len(sharp) and path.closed:
        loop = path.loop()
        even = at_lengths(loop, np.linspace(0, lengths(loop)[-1], max(8, int(lengths(loop)[-1] / STEP))))
        normal = normals(even[:-1], True)
        normal = np.vstack([normal, normal[:1]])
        return [_rails(even, normal, half * _scales(line.profile, len(even)), True, (True, True))]
    xy = path.loop()
    along = lengths(xy)
    cuts = [0, *[int(k) for k in sharp if 0 < k < len(xy) - 1], len(xy) - 1]
    bends = {k: float(turn[k % len(path.xy)]) for k in cuts}
    if not path.closed:
        bends[0] = bends[len(xy) - 1] = 0.0
    else:
        bends[len(xy) - 1] = bends[0]
    found: list[Rails] = []
    for first, last in itertools.pairwise(cuts):
        go_on()
        leg = _leg(xy, first, last, half, bends, path.closed, line, cap, along)
        if leg is not None:
            found.append(leg)
    return found


def _thresholds(line: Line) -> tuple[float, float]:
    """From which bend on, degrees, a corner is mitred, and from which capped."""
    match line.corners:
        case "mitred":
            return MITRE_DEGREES, 180.0
        case "capped":
            return MITRE_DEGREES, MITRE_DEGREES
        case "turned":
            return 180.0, 180.0
    return line.mitre_over, max(line.mitre_over, line.cap_over)


def _scales(profile: WidthProfile, count: int) -> Floats:
    """A width profile at ``count`` places spread over its way, the seam of a closed line agreeing; 1 without one."""
    if not profile:
        return np.ones(count)
    places, values = np.array(profile).T
    found = np.interp(np.linspace(0, 1, count), places, values)
    found[-1] = found[0]
    return np.asarray(found)


def _turned_corners(path: Polyline, half: float, mitre: float) -> Polyline:
    """A path whose corners that are neither mitred nor capped are rounded, so that rows can turn in them.

    The round is a parabola that leaves the path 0.7 half widths before the corner, or half way to the next.
    """
    turn = np.abs(turns(path.xy, path.closed))
    soft = path.corner & (turn > 0.05) & (turn <= math.radians(mitre))
    if not path.closed:
        soft[[0, -1]] = False
    if not soft.any():
        return path
    xy = path.xy
    points: list[Floats] = []
    corner: list[NDArray[np.bool_]] = []
    t = np.linspace(0, 1, 9)[:, None]
    for k in range(len(xy)):
        if not soft[k]:
            points.append(xy[k][None])
            corner.append(path.corner[k : k + 1])
            continue
        ends = []
        for other in (xy[k - 1], xy[(k + 1) % len(xy)]):
            way = other - xy[k]
            size = max(float(np.hypot(*way)), 1e-9)
            ends.append(xy[k] + way / size * min(TURN_REACH * half, size / 2))
        points.append((1 - t) ** 2 * ends[0] + 2 * t * (1 - t) * xy[k] + t**2 * ends[1])
        corner.append(np.zeros(len(t), dtype=bool))
    rounded = np.vstack(points)
    keep = np.append(True, np.hypot(*np.diff(rounded, axis=0).T) > 1e-6)
    return Polyline(rounded[keep], path.closed, np.concatenate(corner)[keep])


def _leg(
    xy: Floats,
    first: int,
    last: int,
    half: float,
    bends: dict[int, float],
    closed: bool,
    line: Line,
    cap: float,
    along: Floats,
) -> Rails | None:
    piece = xy[first : last + 1]
    total = float(lengths(piece)[-1])
    if total < 1e-3:
        return None
    round_tip = half if line.ends == "round" else 0.0
    reach = [_reach(bends[k], half, cap) if bends[k] else round_tip for k in (first, last)]
    even = at_lengths(piece, np.linspace(0, total, max(3, math.ceil(total / STEP))))
    even = _extended(even, reach[0], reach[1])
    normal = normals(even, False)
    where = lengths(even)
    upper = np.full(len(even), half)
    if line.profile:
        place = (along[first] + np.clip(where - reach[0], 0, total)) / along[-1]
        upper = half * np.interp(place, *np.array(line.profile).T)
    lower = -upper
    mitred = [False, False]
    for side, k in enumerate((first, last)):
        bend = abs(math.degrees(bends[k]))
        if 0.0 < bend <= cap:
            mitred[side] = True
            incoming, outgoing = _corner_directions(xy, k, closed)
            plane = incoming + outgoing
            plane = plane / max(float(np.hypot(*plane)), 1e-9) * (1 if side == 1 else -1)
            near = (where <= reach[0] + 2 * half) if side == 0 else (where >= where[-1] - reach[1] - 2 * half)
            _cut(upper, lower, even, normal, xy[k], plane, near)
        elif bend == 0.0 and line.ends != "flat":
            taper = half * 2.5 if line.ends == "pointed" else half
            part = np.clip((where if side == 0 else where[-1] - where) / max(taper, 1e-9), 0, 1)
            scale = part if line.ends == "pointed" else np.sqrt(1 - (1 - part) ** 2)
            upper, lower = upper * scale, lower * scale
    _spare_the_inside(upper, lower, even)
    kept = upper - lower > min(LEAST_ROW, half)
    if kept.sum() < 2:
        return None
    a, b = even + upper[:, None] * normal, even + lower[:, None] * normal
    return Rails(a[kept], b[kept], False, (mitred[0], mitred[1]))


def _reach(bend: float, half: float, cap: float) -> float:
    """How far a leg goes on past its corner: to the tip of the mitre, or a little for a cap."""
    if abs(math.degrees(bend)) > cap:
        return half * CAP_REACH
    return half * min(math.tan(abs(bend) / 2), LONGEST_MITRE)


def _extended(xy: Floats, before: float, after: float) -> Floats:
    """A polyline carried on straight at its ends."""
    parts = [xy]
    if before > STEP:
        back = (xy[0] - xy[1]) / max(float(np.hypot(*(xy[0] - xy[1]))), 1e-12)
        far = np.linspace(before, STEP, math.ceil(before / STEP))
        parts.insert(0, xy[0] + far[:, None] * back)
    if after > STEP:
        on = (xy[-1] - xy[-2]) / max(float(np.hypot(*(xy[-1] - xy[-2]))), 1e-12)
        far = np.linspace(STEP, after, math.ceil(after / STEP))
        parts.append(xy[-1] + far[:, None] * on)
    return np.vstack(parts)


def _corner_directions(xy: Floats, k: int, closed: bool) -> tuple[Floats, Floats]:
    """The unit directions into and out of point ``k``."""
    step = np.diff(xy, axis=0)
    step = step / np.maximum(np.hypot(*step.T), 1e-12)[:, None]
    last = len(step) - 1
    incoming = step[k - 1] if k > 0 else step[last] if closed else step[0]
    outgoing = step[k] if k <= last else step[0] if closed else step[last]
    return incoming, outgoing


def _cut(upper: Floats, lower: Floats, xy: Floats, normal: Floats, corner: Floats, plane: Floats, near: Mask) -> None:
    """Shorten rows so that they stay on this side of the mitre through ``corner``, in place."""
    ahead = (xy - corner) @ plane
    lean = normal @ plane
    with np.errstate(divide="ignore", invalid="ignore"):
        limit = -ahead / lean
    up, down = near & (lean > 1e-6), near & (lean < -1e-6)
    upper[up] = np.minimum(upper[up], limit[up])
    lower[down] = np.maximum(lower[down], limit[down])
    beyond = near & (np.abs(lean) <= 1e-6) & (ahead > 0)
    upper[beyond] = lower[beyond] = 0.0


def _spare_the_inside(upper: Floats, lower: Floats, xy: Floats) -> None:
    """Keep rows from crossing on the inside of a bend tighter than the half width, in place."""
    step = np.diff(xy, axis=0)
    heading = np.unwrap(np.arctan2(step[:, 1], step[:, 0]))
    if len(heading) < 3:
        return
    window = max(1, min(len(heading) // 2, round(0.5 / STEP)))
    smooth = np.convolve(np.pad(heading, window, mode="edge"), np.ones(2 * window + 1), "valid")
    smooth /= 2 * window + 1
    bend = np.gradient(smooth) / max(float(np.hypot(*step.T).mean()), 1e-9)
    bend = np.append(bend, bend[-1])
    with np.errstate(divide="ignore"):
        radius = 0.9 / np.abs(bend)
    inner_is_upper = bend > 0
    upper[inner_is_upper] = np.minimum(upper[inner_is_upper], radius[inner_is_upper])
    lower[~inner_is_upper] = np.maximum(lower[~inner_is_upper], -radius[~inner_is_upper])


def _rails(xy: Floats, normal: Floats, half: Floats, closed: bool, fixed: tuple[bool, bool]) -> Rails:
    upper, lower = half.copy(), -half
    _spare_the_inside(upper, lower, xy)
    return Rails(xy + upper[:, None] * normal, xy + lower[:, None] * normal, closed, fixed)
