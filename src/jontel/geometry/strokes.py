"""A line with a width as columns: one leg between every two sharp corners, mitred or capped where they meet."""

import itertools
import math
from dataclasses import dataclass
from functools import partial

import numpy as np
import shapely
from numpy.typing import NDArray

from jontel.design.errors import CannotStitch
from jontel.design.paths import polyline_path
from jontel.design.shapes import Area, Line, WidthProfile
from jontel.design.stopping import go_on
from jontel.geometry.columns import Rails
from jontel.geometry.polyline import FINE, Floats, Polyline, at_lengths, flatten, lengths, normals, start_at, turns
from jontel.geometry.region import path_of, region_of

STEP = 0.08
MITRE_DEGREES = 20.0
"""Bends below this are no corner where all corners are mitred or capped."""
LONGEST_MITRE = 4.0
"""A mitre reaches no farther than this many half widths."""
LONGEST_CAP = 1.2
"""A capped leg ends flat this many half widths behind its corner, where the next one's edge does not end it."""
OVER = 0.1
"""How far legs reach over the line at which they meet, mm, so that no gaps between row ends face each other."""
TURN_RADIUS, TURN_REACH = 1.12, 1.5
"""A turned corner is an arc of the first radius, in half widths, so that rows fan about its inside; it leaves the
path no farther than the second from the corner, nor beyond half way to the next."""
ARC_STEP = 3.0
"""An arc has a point every so many degrees."""
MITRE_CUTS, CAP_CUTS = 5.0, 2.5
"""Rows farther than so many half widths from a corner are not cut there."""
LEAST_ROW = 0.002
"""Rows shorter than this, mm, are none; a taper begins and ends with one of no length, at its tip."""
SLANT_TURNS = 4.0
"""Rows turn from a slanted end to square over so many times what the end reaches ahead."""
MOST_LEANING = 0.8
"""Both ends together lean by no more than this part of the line's length, so that rows do not cross."""
EVEN_WIDTH = ((0.0, 1.0), (1.0, 1.0))
"""The profile of a line that has none."""
Mask = NDArray[np.bool_]


@dataclass(frozen=True, eq=False)
class _Cut:
    """How a leg ends at a corner: it goes on by ``reach`` mm and keeps behind a line.

    ``at`` (2,) is a place on the line, ``beyond`` (2,) the unit vector across it to the side that is left out. Rows
    farther than ``within`` mm from the corner are not cut.
    """

    reach: float
    within: float
    at: Floats
    beyond: Floats


@dataclass(frozen=True, eq=False)
class _Turned:
    """A corner in which rows turn: its place, the middle of its arc, and the way across its bisector, each (2,)."""

    at: Floats
    arc: Floats
    across: Floats


def legs_of(line: Line) -> list[Rails]:
    """The columns that a satin along ``line`` is sewn as, in order, subpath by subpath. Raises ``CannotStitch``."""
    path = line.path if line.beside == 0 else _beside(line)
    return [leg for one in flatten(path, FINE) for leg in _legs(one, line)]


def _beside(line: Line) -> str:
    """The path of the middle of a line that lies beside its own, as path data. Raises ``CannotStitch``.

    Closed ones are moved together, as the rims of what they enclose, so that a hole's goes into the hole.
    """
    away = line.beside / 100 * line.width / 2
    drawn = flatten(line.path, FINE)
    found: list[str] = []
    rings = " ".join(_text(one.xy, True) for one in drawn if one.closed)
    if rings:
        moved = region_of(Area(rings, "evenodd")).buffer(away, join_style="mitre", mitre_limit=LONGEST_MITRE)
        if moved.is_empty:
            raise CannotStitch("there is no room for it inside; make it narrower or move it outwards")
        found.append(path_of(moved))
    for one in drawn:
        if not one.closed and len(one.xy) > 1:
            curve = shapely.offset_curve(
                shapely.LineString(one.xy), -away, join_style="mitre", mitre_limit=LONGEST_MITRE
            )
            parts = [shapely.get_coordinates(part) for part in shapely.get_parts(curve)]
            found += [_text(part, False) for part in parts if len(part) > 1]
    return " ".join(found)


def _text(xy: Floats, closed: bool) -> str:
    return polyline_path([(float(x), float(y)) for x, y in xy], closed)


def _legs(path: Polyline, line: Line) -> list[Rails]:
    half = line.width / 2
    mitre, cap = _thresholds(line)
    path, turned = _turned_corners(path, half, mitre)
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
        upper = half * _scales(line.profile, np.linspace(0, 1, len(even)))
        upper[-1] = upper[0]
        lower = -upper
        _keep_apart(upper, lower, even, normal, turned, half, True)
        _spare_the_inside(upper, lower, even)
        return [Rails(even + upper[:, None] * normal, even + lower[:, None] * normal, True, (True, True))]
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
        leg = _leg(xy, first, last, half, bends, path.closed, line, cap, along, turned)
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


def _scales(profile: WidthProfile, places: Floats) -> Floats:
    """A width profile at ``places`` (n,), 0 to 1, of its way, (n,); 1 without one."""
    return np.asarray(np.interp(places, *np.array(profile or EVEN_WIDTH).T))


def _scales_of(line: Line, places: Floats) -> Floats:
    """By how much the width of an open line is scaled at ``places`` (n,), 0 to 1, of its way, (n,)."""
    ends = np.interp(places, (0.0, 1.0), (line.start_width / 100, line.end_width / 100))
    return np.asarray(_scales(line.profile, places) * ends)


def _turned_corners(path: Polyline, half: float, mitre: float) -> tuple[Polyline, list[_Turned]]:
    """A path whose corners that are neither mitred nor capped are arcs, so that rows can turn in them; and those."""
    turn = np.abs(turns(path.xy, path.closed))
    soft = path.corner & (turn > 0.05) & (turn <= math.radians(mitre))
    if not path.closed:
        soft[[0, -1]] = False
    if not soft.any():
        return path, []
    xy = path.xy
    points: list[Floats] = []
    corner: list[NDArray[np.bool_]] = []
    found: list[_Turned] = []
    for k in range(len(xy)):
        if not soft[k]:
            points.append(xy[k][None])
            corner.append(path.corner[k : k + 1])
            continue
        steps = np.array([xy[k - 1] - xy[k], xy[(k + 1) % len(xy)] - xy[k]])
        sizes = np.maximum(np.hypot(*steps.T), 1e-9)
        back, on = steps / sizes[:, None]
        slope = math.tan(min(float(turn[k]), math.pi - 1e-3) / 2)
        leaves = min(TURN_RADIUS * half * slope, TURN_REACH * half, float(sizes.min()) / 2)
        t = np.linspace(-1, 1, max(5, math.ceil(math.degrees(turn[k]) / ARC_STEP)))[:, None] * turn[k] / 2
        inside = back + on
        inside = inside / max(float(np.hypot(*inside)), 1e-9)
        along = (on - back) / max(float(np.hypot(*(on - back))), 1e-9)
        radius = leaves / slope
        centre = xy[k] + inside * math.hypot(radius, leaves)
        points.append(centre + radius * (np.sin(t) * along - np.cos(t) * inside))
        corner.append(np.zeros(len(t), dtype=bool))
        found.append(_Turned(xy[k], centre - radius * inside, along))
    rounded = np.vstack(points)
    keep = np.append(True, np.hypot(*np.diff(rounded, axis=0).T) > 1e-6)
    return Polyline(rounded[keep], path.closed, np.concatenate(corner)[keep]), found


def _keep_apart(
    upper: Floats, lower: Floats, xy: Floats, normal: Floats, turned: list[_Turned], half: float, closed: bool
) -> None:
    """Shorten rows on both sides of a turned corner so that they do not cross its bisector, in place."""
    for one in turned:
        away = np.hypot(*(xy - one.arc).T)
        middle = int(np.argmin(away))
        if away[middle] > 2 * STEP:
            continue
        number = np.arange(len(xy)) - middle
        if closed:
            number = (number + len(xy) // 2) % len(xy) - len(xy) // 2
        reach = MITRE_CUTS * half / STEP
        _cut(upper, lower, xy, normal, one.at, one.across, (number < 0) & (number > -reach))
        _cut(upper, lower, xy, normal, one.at, -one.across, (number > 0) & (number < reach))


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
    turned: list[_Turned],
) -> Rails | None:
    piece = xy[first : last + 1]
    total = float(lengths(piece)[-1])
    if total < 1e-3:
        return None
    scales = partial(_scales, line.profile) if closed else partial(_scales_of, line)
    at_ends = half * scales(along[[first, last]] / along[-1])
    shapes = (line.start, line.end)
    leans = [
        float(at_ends[side]) * math.tan(math.radians(slant)) if shapes[side] == "slanted" and not closed else 0.0
        for side, slant in enumerate((line.start_slant, line.end_slant))
    ]
    beyond = [float(at_ends[side]) if shapes[side] == "round" else abs(leans[side]) for side in (0, 1)]
    cuts = [
        _cut_at(xy[k], *_corner_directions(xy, k, closed), bends[k], float(at_ends[side]), cap, side == 1)
        for side, k in enumerate((first, last))
    ]
    reach = [cuts[side].reach if bends[k] else beyond[side] for side, k in enumerate((first, last))]
    even = at_lengths(piece, np.linspace(0, total, max(3, math.ceil(total / STEP))))
    even = _extended(even, reach[0], reach[1])
    normal = normals(even, False)
    where = lengths(even)
    upper = half * scales((along[first] + np.clip(where - reach[0], 0, total)) / along[-1])
    lower = -upper
    mitred = [False, False]
    for side, k in enumerate((first, last)):
        bend = abs(math.degrees(bends[k]))
        if bend > 0.0:
            mitred[side] = True
            far = reach[side] + cuts[side].within
            near = (where <= far) if side == 0 else (where >= where[-1] - far)
            _cut(upper, lower, even, normal, cuts[side].at, cuts[side].beyond, near)
            leans[side] = 0.0
        elif shapes[side] in ("pointed", "round"):
            taper = at_ends[side] * (2.5 if shapes[side] == "pointed" else 1.0)
            part = np.clip((where if side == 0 else where[-1] - where) / max(taper, 1e-9), 0, 1)
            scale = part if shapes[side] == "pointed" else np.sqrt(1 - (1 - part) ** 2)
            upper, lower = upper * scale, lower * scale
    _keep_apart(upper, lower, even, normal, turned, half, False)
    _spare_the_inside(upper, lower, even)
    kept = upper - lower > min(LEAST_ROW, half)
    for side, k in enumerate((0, len(kept) - 1)):
        kept[k] |= not mitred[side]
    if kept.sum() < 2:
        return None
    a, b = even + upper[:, None] * normal, even + lower[:, None] * normal
    if any(leans):
        ends = [reach[side] if leans[side] else 0.0 for side in (0, 1)]
        low, high = ends[0], float(where[-1]) - ends[1]
        kept &= (where >= low - 1e-9) & (where <= high + 1e-9)
        ahead = _leaning(where, low, high, *leans)
        a, b = (at_lengths(edge, where + way * ahead, where) for edge, way in ((a, -1), (b, 1)))
    return Rails(a[kept], b[kept], False, (mitred[0], mitred[1]))


def _leaning(where: Floats, low: float, high: float, first: float, last: float) -> Floats:
    """How far rows at ``where`` (n,) mm of a line reach ahead on its left, and back on its right, mm, (n,).

    They lie along its slanted ends, at ``low`` and ``high``, and turn square to the line on the way to its middle.
    """
    room = high - low
    held = min(1.0, MOST_LEANING * room / max(abs(first - last), 1e-9))
    turns = SLANT_TURNS * abs(first), SLANT_TURNS * abs(last)
    if sum(turns) >= room:
        return np.asarray(held * np.interp(where, (low, high), (first, last)))
    return np.asarray(np.interp(where, (low, low + turns[0], high - turns[1], high), (first, 0.0, 0.0, last)))


def _cut_at(
    corner: Floats, incoming: Floats, outgoing: Floats, bend: float, half: float, cap: float, before: bool
) -> _Cut:
    """How the leg ``before`` a corner, or else the one after it, ends there.

    A mitre divides the corner between both. A cap is all of the first leg's, up to the second's outer edge; the
    second begins at the first's inner edge.
    """
    tip = math.tan(min(abs(bend), math.pi - 1e-6) / 2)
    if abs(math.degrees(bend)) <= cap:
        beyond = (incoming + outgoing) / max(float(np.hypot(*(incoming + outgoing))), 1e-9) * (1 if before else -1)
        return _Cut(half * min(tip, LONGEST_MITRE), MITRE_CUTS * half, corner + OVER * beyond, beyond)
    sign = math.copysign(1.0, float(incoming[0] * outgoing[1] - incoming[1] * outgoing[0]))
    inward = sign * np.array([[-one[1], one[0]] for one in (incoming, outgoing)])
    if before:
        slanted = 2 / math.tan(abs(bend)) if abs(bend) < math.pi / 2 else 0.0
        return _Cut(
            half * (min(tip, LONGEST_CAP) + slanted), MITRE_CUTS * half, corner - half * inward[1], -inward[1]
        )
    return _Cut(0.0, CAP_CUTS * half, corner + max(half - OVER, 0.0) * inward[0], -inward[0])


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


def _cut(upper: Floats, lower: Floats, xy: Floats, normal: Floats, at: Floats, beyond: Floats, near: Mask) -> None:
    """Shorten the rows that are ``near`` so that they keep behind the line through ``at``, in place; see ``_Cut``."""
    ahead = (xy - at) @ beyond
    lean = normal @ beyond
    with np.errstate(divide="ignore", invalid="ignore"):
        limit = -ahead / lean
    up, down = near & (lean > 1e-6), near & (lean < -1e-6)
    upper[up] = np.minimum(upper[up], limit[up])
    lower[down] = np.maximum(lower[down], limit[down])
    outside = near & (np.abs(lean) <= 1e-6) & (ahead > 0)
    upper[outside] = lower[outside] = 0.0


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
