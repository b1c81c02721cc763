"""Rows of a fill: needle points in a pattern, turned at the rim, joined by hidden travel."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
import shapely
from numpy.typing import NDArray
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from jontel.design.kinds.fill import Pattern
from jontel.design.store import kept
from jontel.geometry.frames import Curved, Frame
from jontel.geometry.hatch import Intervals, Ints, cells, connected, hatch, ragged
from jontel.geometry.inside import inside_path
from jontel.geometry.polyline import Floats
from jontel.geometry.region import rings_of
from jontel.stitching.density import EVEN, Detour, Thinned, separate, thinned
from jontel.stitching.patterns import phases
from jontel.stitching.routing import Leg, shortest_legs
from jontel.stitching.running import merge_short, split_long, straight_run
from jontel.stitching.stitches import SHORTEST, Layer, Needle

HIDDEN_LENGTH = 6.9
"""How long stitches of travel that rows will lie on may be, mm."""
ONE_STEP = 3.0
"""Ends nearer than this, mm, are joined by one stitch instead of a travel, where it stays inside."""
OPEN = 0.9
"""Rows farther apart than this, mm, are an open pass whose turns are watched."""
SLACK = 0.1
CLEAR_OF_RIM = 1.1
"""No needle point inside a row is nearer than this to the row's end, mm."""
CLOSER = 1.08
"""Rows that run out leave their neighbours a little wide apart, so they are all sewn this much closer."""
TURNING, CROWDED = 0.975, 0.86
"""Stitches cut the curve of turning rows by up to ``CUT``, so these are sewn that much closer, but nowhere more
than the second part of what is wanted."""
CUT = 0.04
"""Stitches may leave a turning row by this much, mm: a part of the gap to the next one."""
MOST_OUT = 0.15
TURN_MARGIN = 1.04
"""Turns in a curved frame are made this much longer than the safe stitch, since its measure changes on the way."""
OVER_RIM = 0.18
"""Needle points farther outside than this, mm, are brought back to the rim."""


@dataclass(frozen=True)
class RowStyle:
    """How rows are laid: mm, and the pattern of their needle points.

    ``opened`` says how far apart rows are wanted at places on the cloth (n, 2), mm, (n,); ``None`` is
    ``spacing`` everywhere. ``along_rim`` leads travel within a cell along its rim.
    """

    spacing: float
    length: float
    pattern: Pattern = "brick"
    brick_offset: float = 0.4
    brick_rows: int = 5
    pull_percent: float = 0.0
    pull_ceiling: float = 1.0
    ragged: float = 0.0
    seed: int = 1
    along_rim: bool = False
    opened: Callable[[Floats], Floats] | None = None


@dataclass(frozen=True, eq=False)
class _Laid:
    """The rows of one piece and all that says how they are laid; ``room`` is the piece with some slack."""

    rows: Intervals
    thin: Thinned | None
    style: RowStyle
    frame: Frame
    layer: Layer
    piece: Polygon
    room: BaseGeometry


def sew_rows(part: Polygon, style: RowStyle, frame: Frame, layer: Layer, needle: Needle, exit_: Floats) -> None:
    """Fill one connected polygon, from where the needle is to the rim nearest to ``exit_``."""
    for piece in frame.level(shapely.MultiPolygon([part])).geoms:
        groups = _groups(piece, style, frame, layer)
        goal_at = frame.to(exit_)
        while groups:
            at = frame.to(needle.at if needle.at is not None else np.asarray(part.exterior.coords[0]))
            laid = _next_group(groups, at, goal_at)
            goal = goal_at if not groups else _facing(laid, groups)
            _sew_group(laid, part, needle, at, goal)
    _to_the_exit(part, needle, exit_)


def _groups(piece: Polygon, style: RowStyle, frame: Frame, layer: Layer) -> list[_Laid]:
    """The rows of a level polygon in groups that hang together, each thinned where fewer are wanted."""
    rows = _rows_of(piece, style, frame)
    if rows is None:
        return []
    room = piece.buffer(SLACK)
    shapely.prepare(room)
    found: list[_Laid] = []
    for group in connected(rows):
        thin = _thin(group, style, frame)
        for one in [None] if thin is None else separate(thin):
            hosts = group if one is None else one.hosts
            found.append(_Laid(hosts, one, style, frame, layer, piece, room))
    return found


def _sew_group(laid: _Laid, part: Polygon, needle: Needle, at: Floats, goal: Floats) -> None:
    """Sew one group of rows, cell by cell, from where the needle is (``at``, level) to the rim nearest ``goal``."""
    style, frame = laid.style, laid.frame
    limit = style.length + 2 * CLEAR_OF_RIM
    legs = shortest_legs(laid.rows, cells(laid.rows), at, goal, style.along_rim)
    if needle.at is not None:
        way = inside_path(laid.piece, at, legs[0].travel[0])
        if np.hypot(*(way[-1] - way[0])) > 2 * style.spacing:
            needle.sew(_on_shape(straight_run(frame.back(way), HIDDEN_LENGTH), part), Layer.TRAVEL)
    straight = laid.thin is None and not isinstance(frame, Curved)
    for leg in legs:
        for points, pass_ in _leg_points(laid, leg, needle):
            kept = _on_cloth(laid, points, pass_)
            if pass_ is Layer.TRAVEL:
                needle.sew(_on_shape(straight_run(_on_shape(kept, part), HIDDEN_LENGTH), part), pass_)
            elif straight:
                needle.sew(split_long(merge_short(_eased(kept, needle)), limit), pass_)
            else:
                over = style.pull_ceiling if style.pull_percent > 0 else 0.0
                whole = split_long(merge_short(_eased(_spaced(_on_shape(kept, part, over)), needle)), limit)
                needle.sew(_on_shape(whole, part, over), pass_)


def far_side(part: Polygon, frame: Frame, start: Floats) -> Floats:
    """The rim point at which rows that begin near ``start`` run out, so that none is travelled twice."""
    rim = np.asarray(part.exterior.coords)[:, :2]
    heights = frame.to(rim)[:, 1]
    here = float(frame.to(start)[1])
    up = here - heights.min() > heights.max() - here
    answer: Floats = rim[int(np.argmin(heights) if up else np.argmax(heights))]
    return answer


def _rows_of(piece: Polygon, style: RowStyle, frame: Frame) -> Intervals | None:
    """The rows of a level polygon, as near to each other as they have to be anywhere."""
    spacing = style.spacing
    if style.opened is not None or isinstance(frame, Curved):
        low, top, high, bottom = piece.bounds
        u, v = np.meshgrid(np.linspace(low, high, 40), np.linspace(top, bottom, 40))
        spots = np.column_stack([u.ravel(), v.ravel()])
        inside = spots[shapely.contains_xy(piece, spots)]
        if len(inside):
            least, few, most = np.percentile(_level_spacing(inside, style, frame), (1, 10, 99))
            spacing = max(float(least), 0.1) if least < EVEN * most else float(max(TURNING * few, CROWDED * most))
    rows = hatch(rings_of(piece), spacing)
    return _drawn_back(_longer(rows, style), style) if len(rows.row) else None


def _level_spacing(uv: Floats, style: RowStyle, frame: Frame) -> Floats:
    """How far apart rows are wanted at level coordinates (n, 2), in mm of those, (n,)."""
    wanted = np.full(len(uv), style.spacing) if style.opened is None else style.opened(frame.back(uv))
    return wanted * frame.stretch(uv)[1] if isinstance(frame, Curved) else wanted


def _thin(rows: Intervals, style: RowStyle, frame: Frame) -> Thinned | None:
    if style.opened is None and not isinstance(frame, Curved):
        return None
    return thinned(rows, lambda uv: np.minimum(CLOSER * rows.spacing / _level_spacing(uv, style, frame), 1.0))


def _spread(points: Floats, number: Ints, owner: Ints, thin: Thinned, closely: bool) -> Floats:
    """Needle points (n, 2) at the heights that their rows are spread to; ``closely`` with more where a row bends.

    A fade may cut its bends; rows that turn would show gaps.
    """
    points = np.column_stack([points[:, 0], thin.heights(number, points[:, 0])])
    for _ in range(2 if closely else 0):
        middle = (points[1:] + points[:-1]) / 2
        middle[:, 1], straight = thin.heights(number[1:], middle[:, 0]), middle[:, 1].copy()
        long = np.hypot(*np.diff(points, axis=0).T) > 2 * SHORTEST
        more = np.flatnonzero((owner[1:] == owner[:-1]) & long & (np.abs(middle[:, 1] - straight) > CUT))
        if not len(more):
            break
        points = np.insert(points, more + 1, middle[more], axis=0)
        number, owner = np.insert(number, more + 1, number[more]), np.insert(owner, more + 1, owner[more])
    return points


def _drawn_in(before: Floats, points: Floats, after: Floats) -> Floats:
    """``points`` nearer than a safe stitch to ``before`` moved towards ``after`` until they are not; all (n, 2)."""
    gap, way = points - before, after - points
    near, size = np.hypot(*gap.T), np.hypot(*way.T)
    ahead = way / np.maximum(size, 1e-9)[:, None]
    along = (gap * ahead).sum(axis=1)
    reach = -along + np.sqrt(np.maximum(along**2 + SHORTEST**2 - near**2, 0.0)) + 1e-6
    short = (near < SHORTEST) & (size > 2 * SHORTEST)
    return np.asarray(points + np.where(short, reach, 0.0)[:, None] * ahead)


def _spaced(points: Floats) -> Floats:
    """Needle points (n, 2) with those nearer than a safe stitch to the one before drawn in along what follows.

    A curved frame and spread rows change the measure of a turn; leaving out its end would skew the row.
    """
    if len(points) < 3:
        return points
    return np.vstack([points[:1], _drawn_in(points[:-2], points[1:-1], points[2:]), points[-1:]])


def _eased(points: Floats, needle: Needle) -> Floats:
    """Rows that begin beside the needle with their first point drawn in along the row to a safe stitch from it."""
    if needle.at is None or not needle.sewing or len(points) < 2:
        return points
    return np.vstack([_drawn_in(needle.at[None], points[:1], points[1:2]), points[1:]])


def _bent(points: Floats, frame: Curved) -> Floats:
    """Level needle points (n, 2) on the cloth, with more of them where stitches would cut a turning row."""
    n = len(points)
    if n < 2:
        return frame.back(points)
    middle = (points[1:] + points[:-1]) / 2
    every = frame.back(np.vstack([points, middle]))
    xy, bend = every[:n], every[n:]
    more = np.flatnonzero(_cuts(xy[:-1], xy[1:], bend))
    if not len(more):
        return xy
    level, cloth = np.insert(points, more + 1, middle[more], axis=0), np.insert(xy, more + 1, bend[more], axis=0)
    fresh = more + np.arange(len(more))
    halves = np.unique(np.concatenate([fresh, fresh + 1]))
    middle = (level[halves + 1] + level[halves]) / 2
    bend = frame.back(middle)
    again = _cuts(cloth[halves], cloth[halves + 1], bend)
    return np.insert(cloth, halves[again] + 1, bend[again], axis=0)


def _cuts(start: Floats, stop: Floats, bend: Floats) -> NDArray[np.bool_]:
    """Which stitches from ``start`` to ``stop`` leave their rows, whose middles are ``bend``, too far; all (n, 2)."""
    off = np.hypot(*(bend - (start + stop) / 2).T)
    return np.asarray((off > CUT) & (np.hypot(*(stop - start).T) > 2 * SHORTEST))


def _on_shape(points: Floats, part: Polygon, over: float = 0.0) -> Floats:
    """``points`` with those brought back to the rim that lie outside by more than ``OVER_RIM`` and ``over``, mm."""
    room = _room(part, OVER_RIM + over)
    out = np.flatnonzero(~shapely.contains_xy(room, points))
    if not len(out):
        return points
    points = points.copy()
    to_rim = shapely.shortest_line(part, shapely.points(points[out]))
    points[out] = shapely.get_coordinates(shapely.get_point(to_rim, 0))
    return points


@kept
def _room(part: Polygon, over: float) -> BaseGeometry:
    """A polygon with as much round it, mm, as needle points may lie outside it."""
    room = part.buffer(over, quad_segs=4)
    shapely.prepare(room)
    return room


def _on_cloth(laid: _Laid, points: Floats, layer: Layer) -> Floats:
    """Level needle points (n, 2) led round inside the piece and brought to the cloth."""
    kept = _kept_inside(points, laid.piece, laid.room, layer, laid.style)
    if isinstance(laid.frame, Curved) and layer is laid.layer:
        return _bent(kept, laid.frame)
    return laid.frame.back(kept)


def _leg_points(laid: _Laid, leg: Leg, needle: Needle) -> Iterator[tuple[Floats, Layer]]:
    """The travel to a cell, if it is worth a stitch, and the cell's rows; each (n, 2) with its layer."""
    rows, thin, style, frame = laid.rows, laid.thin, laid.style, laid.frame
    travel = _tidy(leg.travel)
    if thin is not None and needle.at is not None:
        travel = np.vstack([frame.to(needle.at), travel])
    if (
        needle.at is not None
        and np.hypot(*np.ptp(travel, axis=0)) > 2 * style.spacing
        and not _one_step(travel, laid.room)
    ):
        yield travel, Layer.TRAVEL
    leftward = (np.arange(len(leg.rows)) % 2 == 1) ^ leg.from_right
    left, right = rows.left[leg.rows], rows.right[leg.rows]
    start: Floats = np.where(leftward, right, left)
    stop: Floats = np.where(leftward, left, right)
    number, y = rows.row[leg.rows], rows.y()[leg.rows]
    if thin is not None:
        number, start, stop = _with_detours(thin, leg.rows, start, stop)
        y = np.asarray(thin.hosts.top + number * thin.spacing, dtype=np.float64)
    y_start, y_stop = (y, y) if thin is None else (thin.heights(number, start), thin.heights(number, stop))
    shortest = np.full(max(len(start) - 1, 0), SHORTEST)
    if isinstance(frame, Curved) and len(start) > 1:
        stretch = frame.stretch(np.column_stack([stop[:-1], y_stop[:-1]]))
        shortest = SHORTEST * np.maximum(1.0, np.maximum(*stretch)) * TURN_MARGIN
    _turn(start, stop, y_start, y_stop, shortest)
    points, owner = _needle_points(number, start, stop, y, style)
    if thin is not None:
        points = _spread(points, number[owner], owner, thin, isinstance(frame, Curved))
    yield (points if thin is not None or isinstance(frame, Curved) else merge_short(points)), laid.layer


def _one_step(travel: Floats, room: BaseGeometry) -> bool:
    """Whether one stitch leads as well from the start of a travel to its end."""
    ends = travel[[0, -1]]
    return bool(np.hypot(*(ends[1] - ends[0])) < ONE_STEP and room.covers(shapely.LineString(ends)))


def _with_detours(thin: Thinned, order: Ints, start: Floats, stop: Floats) -> tuple[Ints, Floats, Floats]:
    """The rows of a cell one after another, each host left and taken up again for its detours."""
    found: list[tuple[int, float, float]] = []
    for host, first, last in zip(order.tolist(), start.tolist(), stop.tolist(), strict=True):
        _walk(int(thin.number[host]), first, last, thin.detours.get(host, ()), found)
    number, start, stop = (np.array(column) for column in zip(*found, strict=True))
    return number.astype(np.int64), start.astype(np.float64), stop.astype(np.float64)


def _walk(
    row: int, first: float, last: float, detours: Sequence[Detour], found: list[tuple[int, float, float]]
) -> None:
    """Sew ``row`` from ``first`` to ``last``, leaving it for its detours and they for theirs."""
    sign = 1.0 if last >= first else -1.0
    at = first
    low, high = min(first, last), max(first, last)
    for one in sorted(detours, key=lambda d: sign * (d.right[0] if sign > 0 else d.left[0])):
        near, far = (one.right, one.left) if sign > 0 else (one.left, one.right)
        leave = min(max(near[0], low), high)
        if abs(leave - at) > SHORTEST:
            found.append((row, at, leave))
            at = leave
        found.append((one.rows[0], near[0], far[0]))
        _walk(one.rows[1], far[1], near[1], one.inner, found)
    if abs(last - at) > SHORTEST or at == first:
        found.append((row, at, last))


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


def _facing(group: _Laid, others: list[_Laid]) -> Floats:
    """The row end of ``group`` that is nearest to any of ``others``."""
    own = _ends(group.rows)
    gaps, _ = scipy.spatial.cKDTree(np.vstack([_ends(other.rows) for other in others])).query(own)
    answer: Floats = own[int(np.argmin(gaps))]
    return answer


def _next_group(groups: list[_Laid], at: Floats, goal: Floats) -> _Laid:
    """Take the group to sew next: the nearest, but the one that holds the exit last."""
    if len(groups) == 1:
        return groups.pop()
    last = int(np.argmin([np.hypot(*(_ends(g.rows) - goal).T).min() for g in groups]))
    near = [np.hypot(*(_ends(g.rows) - at).T).min() if k != last else np.inf for k, g in enumerate(groups)]
    return groups.pop(int(np.argmin(near)))


def _tidy(travel: Floats) -> Floats:
    if len(travel) < 3:
        return travel
    return shapely.get_coordinates(shapely.LineString(travel).simplify(0.3))


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


def _drawn_back(rows: Intervals, style: RowStyle) -> Intervals:
    """Rows with each end drawn back by a random part of ``ragged``; short ones stay as they are."""
    if style.ragged <= 0:
        return rows
    back = np.random.default_rng(style.seed).random((2, len(rows.row))) * style.ragged
    room = np.maximum(rows.right - rows.left - 3 * SHORTEST, 0)
    back *= np.minimum(room / np.maximum(back.sum(axis=0), 1e-9), 1.0)
    return Intervals(rows.row, rows.left + back[0], rows.right - back[1], rows.top, rows.spacing)


def _needle_points(number: Ints, start: Floats, stop: Floats, y: Floats, style: RowStyle) -> tuple[Floats, Ints]:
    """All needle points of rows sewn one after another, in the level frame (n, 2), and whose they are (n,).

    ``number`` (m,) is each row's place in the pattern, ``start``, ``stop`` and ``y`` (m,) where it runs.
    """
    leftward = stop < start
    phase = phases(style.pattern, number, style.brick_offset, style.brick_rows, style.seed) * style.length
    low, high = np.minimum(start, stop) + CLEAR_OF_RIM, np.maximum(start, stop) - CLEAR_OF_RIM
    first = np.ceil((low - phase) / style.length).astype(np.int64)
    last = np.floor((high - phase) / style.length).astype(np.int64)
    inner = np.maximum(last - first + 1, 0)
    row, within = ragged(inner + 2)
    place = np.where(leftward[row], last[row] - within + 1, first[row] + within - 1)
    x = phase[row] + place * style.length
    x = np.where(within == 0, start[row], np.where(within == inner[row] + 1, stop[row], x))
    return np.column_stack([x, y[row]]), row


def _turn(start: Floats, stop: Floats, y_start: Floats, y_stop: Floats, shortest: Floats) -> None:
    """Make each turn at the rim a safe stitch, in place.

    Where a row's end and the next one's start are nearer than ``shortest`` (n - 1,), the one is moved outwards,
    at most by ``MOST_OUT``, and the other inwards, so the rim stays where it is on average.
    """
    if len(start) < 2:
        return
    step = start[1:] - stop[:-1]
    wanted = np.sqrt(np.maximum(shortest**2 - (y_start[1:] - y_stop[:-1]) ** 2, 0)) + 1e-6
    missing = np.maximum(wanted - np.abs(step), 0)
    room = np.minimum(np.abs(stop - start)[1:], np.abs(stop - start)[:-1]) > 2 * SHORTEST
    away = np.where(step == 0, np.sign(stop[1:] - start[1:]), np.sign(step))
    missing = np.where(room, missing, 0.0)
    out = np.minimum(missing / 2, MOST_OUT)
    stop_goes_out = -away == np.sign(stop - start)[:-1]
    stop[:-1] -= np.where(stop_goes_out, out, missing - out) * away
    start[1:] += np.where(stop_goes_out, missing - out, out) * away
