"""A line with a width as columns: one leg between every two sharp corners, mitred or capped where they meet.

An example: the line (0, 0), (20, 0), (20, 20), 4 mm wide. Its one corner cuts it into two legs. Over the first lie
strokes from 2 mm left of it to 2 mm right, ``STEP`` apart, and on beyond the corner to x = 22. Mitred, those on the
inside of the corner are shortened to the bisector through (20, 0): at x = 18.47 they reach 1.67 mm to the inside, at
22 nothing but the outer tip is left; the second leg begins at that tip. Capped, the first leg keeps its full
width as far as x = 22, and the second begins at its inner edge, at y = 1.93.
"""

import itertools
import math
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from jontel.design.errors import CannotStitch
from jontel.design.paths import polyline_path
from jontel.design.shapes import Area, Line, LineEnd
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
TAPERS = {"pointed": 2.5, "round": 1.0}
"""Over so many half widths an end of these shapes narrows to its tip."""
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


@dataclass(frozen=True, eq=False)
class _Way:
    """The middle line that legs are cut from: ``xy`` (n, 2), of which a closed one ends where it begins.

    ``along`` (n,) are the mm from its start; ``bends`` says for the points where a leg ends by how much the way
    turns there, radians, 0 where it ends; corners sharper than ``cap`` degrees are capped.
    """

    xy: Floats
    along: Floats
    closed: bool
    bends: dict[int, float]
    line: Line
    cap: float
    turned: list[_Turned]

    def scales(self, places: Floats) -> Floats:
        """By how much the width is scaled at ``places`` (m,), 0 to 1, of the way, (m,)."""
        return scales_of(self.line, places, self.closed)


@dataclass(frozen=True, eq=False)
class _Strokes:
    """The strokes of a leg while they are made, in order along it.

    Each stands on a place of the ``middle`` (n, 2), ``where`` (n,) mm along it, and reaches ``left`` (n,) mm along
    its ``normal`` (n, 2) and ``right`` (n,) mm, a number below 0, to the other side. Both are shortened in place.
    """

    middle: Floats
    normal: Floats
    where: Floats
    left: Floats
    right: Floats

    def edges(self) -> tuple[Floats, Floats]:
        """Where the strokes end on the left and on the right, each (n, 2)."""
        return self.middle + self.left[:, None] * self.normal, self.middle + self.right[:, None] * self.normal

    def keep_behind(self, at: Floats, beyond: Floats, near: Mask) -> None:
        """Shorten the strokes that are ``near`` (n,) to keep behind the line through ``at``; see ``_Cut``."""
        ahead = (self.middle - at) @ beyond
        lean = self.normal @ beyond
        with np.errstate(divide="ignore", invalid="ignore"):
            limit = -ahead / lean
        up, down = near & (lean > 1e-6), near & (lean < -1e-6)
        self.left[up] = np.minimum(self.left[up], limit[up])
        self.right[down] = np.maximum(self.right[down], limit[down])
        outside = near & (np.abs(lean) <= 1e-6) & (ahead > 0)
        self.left[outside] = self.right[outside] = 0.0

    def keep_apart(self, turned: list[_Turned], half: float, closed: bool) -> None:
        """Shorten strokes on both sides of a corner in which rows turn, so that they do not cross its bisector."""
        for one in turned:
            away = np.hypot(*(self.middle - one.arc).T)
            nearest = int(np.argmin(away))
            if away[nearest] > 2 * STEP:
                continue
            number = np.arange(len(away)) - nearest
            if closed:
                number = (number + len(away) // 2) % len(away) - len(away) // 2
            reach = MITRE_CUTS * half / STEP
            self.keep_behind(one.at, one.across, (number < 0) & (number > -reach))
            self.keep_behind(one.at, -one.across, (number > 0) & (number < reach))

    def spare_the_inside(self) -> None:
        """Keep strokes from crossing on the inside of a bend tighter than the half width."""
        step = np.diff(self.middle, axis=0)
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
        inner = bend > 0
        self.left[inner] = np.minimum(self.left[inner], radius[inner])
        self.right[~inner] = np.maximum(self.right[~inner], -radius[~inner])


@dataclass(frozen=True, eq=False)
class _End:
    """One end of a leg: ``half`` its width there, mm, and its shape, or the ``cut`` at a corner.

    Strokes go on by ``reach`` mm beyond its place on the way, to be cut or to lean; a slanted end leans by ``lean``
    mm forwards on the left.
    """

    half: float
    shape: LineEnd
    lean: float
    reach: float
    cut: _Cut | None

    def shape_strokes(self, strokes: _Strokes, away: Floats) -> None:
        """Cut the strokes at a corner, or taper them to a pointed or round end; they lie ``away`` (n,) mm from it."""
        if self.cut is not None:
            strokes.keep_behind(self.cut.at, self.cut.beyond, away <= self.reach + self.cut.within)
        elif self.shape in TAPERS:
            part = np.clip(away / max(self.half * TAPERS[self.shape], 1e-9), 0, 1)
            scale = part if self.shape == "pointed" else np.sqrt(1 - (1 - part) ** 2)
            strokes.left[:] *= scale
            strokes.right[:] *= scale


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
        return [_ring(path.loop(), line, turned)]
    xy = path.loop()
    cuts = [0, *[int(k) for k in sharp if 0 < k < len(xy) - 1], len(xy) - 1]
    bends = {k: float(turn[k % len(path.xy)]) for k in cuts}
    bends[0] = bends[len(xy) - 1] = bends[0] if path.closed else 0.0
    way = _Way(xy, lengths(xy), path.closed, bends, line, cap, turned)
    legs = [_leg(way, first, last) for first, last in itertools.pairwise(cuts)]
    return [leg for leg in legs if leg is not None]


def _ring(loop: Floats, line: Line, turned: list[_Turned]) -> Rails:
    """The one column of a closed line without a sharp corner, which ends where it begins."""
    middle = at_lengths(loop, np.linspace(0, lengths(loop)[-1], max(8, int(lengths(loop)[-1] / STEP))))
    normal = normals(middle[:-1], True)
    left = line.width / 2 * scales_of(line, np.linspace(0, 1, len(middle)), True)
    left[-1] = left[0]
    strokes = _Strokes(middle, np.vstack([normal, normal[:1]]), lengths(middle), left, -left)
    strokes.keep_apart(turned, line.width / 2, True)
    strokes.spare_the_inside()
    return Rails(*strokes.edges(), True, (True, True))


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


def scales_of(line: Line, places: Floats, closed: bool) -> Floats:
    """By how much a line's width is scaled at ``places`` (n,), 0 to 1, of its way, (n,); open ends have their own."""
    profile = np.interp(places, *np.array(line.profile or EVEN_WIDTH).T)
    if closed:
        return np.asarray(profile)
    return np.asarray(profile * np.interp(places, (0.0, 1.0), (line.start_width / 100, line.end_width / 100)))


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


def _leg(way: _Way, first: int, last: int) -> Rails | None:
    """The column between points ``first`` and ``last`` of a way; ``None`` where nothing is left of it.

    Strokes square to the way are laid over it and as far beyond as its ends need; then each pass shortens some: the
    ends, the corners in which rows turn, the inside of bends. Last those of no length go, and slanted ends lean.
    """
    go_on()
    piece = way.xy[first : last + 1]
    total = float(lengths(piece)[-1])
    if total < 1e-3:
        return None
    ends = [_end_of(way, first, before=False), _end_of(way, last, before=True)]
    strokes = _laid(way, piece, total, float(way.along[first]), ends)
    for one, away in zip(ends, (strokes.where, strokes.where[-1] - strokes.where), strict=True):
        one.shape_strokes(strokes, away)
    strokes.keep_apart(way.turned, way.line.width / 2, False)
    strokes.spare_the_inside()
    kept = strokes.left - strokes.right > min(LEAST_ROW, way.line.width / 2)
    kept[0] |= ends[0].cut is None
    kept[-1] |= ends[1].cut is None
    if kept.sum() < 2:
        return None
    a, b = strokes.edges()
    leans = [one.lean for one in ends]
    if any(leans):
        where = strokes.where
        low = ends[0].reach if ends[0].lean else 0.0
        high = float(where[-1]) - (ends[1].reach if ends[1].lean else 0.0)
        kept &= (where >= low - 1e-9) & (where <= high + 1e-9)
        ahead = _leaning(where, low, high, *leans)
        a, b = at_lengths(a, where - ahead, where), at_lengths(b, where + ahead, where)
    return Rails(a[kept], b[kept], False, (ends[0].cut is not None, ends[1].cut is not None))


def _end_of(way: _Way, k: int, *, before: bool) -> _End:
    """How the leg ``before`` point ``k`` of a way, or else the one after it, ends there."""
    line, bend = way.line, way.bends[k]
    half = float(line.width / 2 * way.scales(way.along[[k]] / way.along[-1])[0])
    if bend:
        cut = _cut_at(way.xy[k], *_corner_directions(way.xy, k, way.closed), bend, half, way.cap, before)
        return _End(half, "flat", 0.0, cut.reach, cut)
    shape, slant = (line.end, line.end_slant) if before else (line.start, line.start_slant)
    lean = half * math.tan(math.radians(slant)) if shape == "slanted" and not way.closed else 0.0
    return _End(half, shape, lean, half if shape == "round" else abs(lean), None)


def _laid(way: _Way, piece: Floats, total: float, begins: float, ends: list[_End]) -> _Strokes:
    """Strokes of full width over ``piece`` (n, 2), ``total`` mm long, that begins at so many mm of its way."""
    middle = at_lengths(piece, np.linspace(0, total, max(3, math.ceil(total / STEP))))
    middle = _extended(middle, ends[0].reach, ends[1].reach)
    where = lengths(middle)
    place = begins + np.clip(where - ends[0].reach, 0, total)
    left = way.line.width / 2 * way.scales(place / way.along[-1])
    return _Strokes(middle, normals(middle, False), where, left, -left)


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
