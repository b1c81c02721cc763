"""A line with a width as columns: one leg between every two sharp corners, mitred where they meet."""

import itertools
import math

import numpy as np
from numpy.typing import NDArray

from jontel.design.shapes import Line
from jontel.geometry.columns import Rails
from jontel.geometry.polyline import Floats, Polyline, at_lengths, flatten, lengths, normals, start_at, turns

STEP = 0.08
MITRE_DEGREES, CAP_DEGREES = 35.0, 125.0
"""Below the first a corner is turned as a curve; between them mitred; above, each leg is capped."""
CAP_REACH = 0.4
"""How far a capped leg goes on, in half widths: its corners then hardly show beside the next leg."""
LEAST_ROW = 0.35
Mask = NDArray[np.bool_]


def legs_of(line: Line) -> list[Rails]:
    """The columns that a satin along ``line`` is sewn as, in order, subpath by subpath."""
    return [leg for path in flatten(line.path) for leg in _legs(path, line)]


def _legs(path: Polyline, line: Line) -> list[Rails]:
    half = line.width / 2
    turn = turns(path.xy, path.closed)
    sharp = np.flatnonzero((np.abs(turn) > math.radians(MITRE_DEGREES)) & path.corner)
    if path.closed and len(sharp):
        path = start_at(path, float(lengths(path.xy)[sharp[0]]))
        turn = turns(path.xy, True)
        corner = path.corner.copy()
        corner[0] = True
        sharp = np.flatnonzero((np.abs(turn) > math.radians(MITRE_DEGREES)) & corner)
    if not len(sharp) and path.closed:
        loop = path.loop()
        even = at_lengths(loop, np.linspace(0, lengths(loop)[-1], max(8, int(lengths(loop)[-1] / STEP))))
        normal = normals(even[:-1], True)
        normal = np.vstack([normal, normal[:1]])
        return [_rails(even, normal, half, True, (True, True))]
    xy = path.loop()
    cuts = [0, *[int(k) for k in sharp if 0 < k < len(xy) - 1], len(xy) - 1]
    bends = {k: float(turn[k % len(path.xy)]) for k in cuts}
    if not path.closed:
        bends[0] = bends[len(xy) - 1] = 0.0
    else:
        bends[len(xy) - 1] = bends[0]
    found: list[Rails] = []
    for first, last in itertools.pairwise(cuts):
        leg = _leg(xy, first, last, half, bends, path.closed, line)
        if leg is not None:
            found.append(leg)
    return found


def _leg(
    xy: Floats, first: int, last: int, half: float, bends: dict[int, float], closed: bool, line: Line
) -> Rails | None:
    piece = xy[first : last + 1]
    total = float(lengths(piece)[-1])
    if total < 1e-3:
        return None
    round_tip = half if line.ends == "round" else 0.0
    reach = [_reach(bends[k], half) if bends[k] else round_tip for k in (first, last)]
    even = at_lengths(piece, np.linspace(0, total, max(3, math.ceil(total / STEP))))
    even = _extended(even, reach[0], reach[1])
    normal = normals(even, False)
    where = lengths(even)
    upper, lower = np.full(len(even), half), np.full(len(even), -half)
    mitred = [False, False]
    for side, k in enumerate((first, last)):
        bend = abs(math.degrees(bends[k]))
        if MITRE_DEGREES < bend <= CAP_DEGREES:
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


def _reach(bend: float, half: float) -> float:
    """How far a leg goes on past its corner: to the tip of the mitre, or a little for a cap."""
    if abs(math.degrees(bend)) > CAP_DEGREES:
        return half * CAP_REACH
    return half * math.tan(abs(bend) / 2)


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


def _rails(xy: Floats, normal: Floats, half: float, closed: bool, fixed: tuple[bool, bool]) -> Rails:
    upper, lower = np.full(len(xy), half), np.full(len(xy), -half)
    _spare_the_inside(upper, lower, xy)
    return Rails(xy + upper[:, None] * normal, xy + lower[:, None] * normal, closed, fixed)
