"""Rows of a fill or an open pass, from where the needle is to the exit, joined by hidden travel."""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
import shapely
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from jontel.geometry.arrays import Ints
from jontel.geometry.frames import Frame, Straight
from jontel.geometry.hatch import Intervals, cells, components, even_heights, hatch, settled_heights
from jontel.geometry.inside import along_rim, inside_path
from jontel.geometry.polyline import Floats
from jontel.geometry.region import rings_of
from jontel.stitching.bed import go
from jontel.stitching.rows.detours import with_detours
from jontel.stitching.rows.fitting import Rim, bent, leaving_stitches, led_inside, led_round
from jontel.stitching.rows.hosts import Hosted, hosted, separate
from jontel.stitching.rows.points import drawn_back, longer, longest_stitch, needle_points
from jontel.stitching.rows.route import NEAR_ENOUGH, Leg, Router
from jontel.stitching.rows.spread import Thinning, thinning
from jontel.stitching.rows.style import RowStyle
from jontel.stitching.rows.tips import Tip, tips_of
from jontel.stitching.rows.tour import tour
from jontel.stitching.rows.turns import MOST_OUT, THERE, Turns, bends_apart, flip_short, kept_apart, lengthen
from jontel.stitching.running import split_long, straight_run
from jontel.stitching.stitches import SHORTEST, Layer, Needle

HIDDEN_LENGTH = 6.9
"""How long stitches of travel that rows will lie on may be, mm."""
ONE_STEP, TO_NEXT = 1.5, 2.5
"""Ends nearer than this, mm, are joined by one stitch instead of a travel, where it stays inside; the second is for
rows that are beside each other."""
OPEN = 0.9
"""Rows farther apart than this, mm, are an open pass whose turns are watched."""
SLACK = 0.1
FINE = 1.0
"""How finely a way is looked at to see how it turns, mm."""
MOST_TIP = 20.0
"""Tips farther than this, mm, from a row's end are sewn as something else."""
LONG_TURN = 1.5
"""Where rows run out, turns longer than this, mm, are watched too."""
TURN_MARGIN, ASIDE = 1.04, 0.3
"""Turns in a curved frame are made this much longer than the safe stitch, since its measure changes on the way: it is
taken over the second, mm."""
FAR_OFF = (0.0, 1e3)
"""Farther off than any row is from the next one, mm."""
MOST_BESIDE = 5.0
"""An exit farther than this, mm, from where the rows end is not gone to over them."""
THROUGH = 28.0
"""Branches whose rows are so many spacings long are travelled first and then sewn through: that costs under 4 % of
their thread, and neighbours lie on cloth that has given alike, which rows sewn out and back do not."""
BESIDE = 0.08
"""How far travel may stray, mm, from the rows that will lie on it."""


@dataclass(frozen=True, eq=False)
class _Laid:
    """The rows of one piece and all that says how they are laid; ``room`` is the piece with some slack.

    Where rows run out, ``rows`` are the hosts, and ``host`` has their detours. ``tips`` are left out of it when sewn.
    """

    rows: Intervals
    host: Hosted | None
    tips: dict[int, list[Tip]]
    style: RowStyle
    frame: Frame
    layer: Layer
    piece: Polygon
    room: BaseGeometry


def sew_rows(
    part: Polygon,
    style: RowStyle,
    frame: Frame,
    layer: Layer,
    needle: Needle,
    exit_: Floats,
    pinned: bool = True,
) -> None:
    """Fill one connected polygon from where the needle is to ``exit_``, if not ``pinned`` to the row nearest it."""
    rim = Rim(part)
    for piece in frame.level(shapely.MultiPolygon([part])).geoms:
        groups = _groups(piece, style, frame, layer)
        while groups:
            at = needle.at if needle.at is not None else np.asarray(part.exterior.coords[0])
            laid = _next_group(groups, at, exit_)
            goal = exit_ if not groups else _facing(laid, groups)
            _sew_group(laid, rim, needle, laid.frame.to(at), laid.frame.to(goal), pinned or bool(groups))
    out = rim.held(np.asarray(exit_)[None])
    if pinned and needle.at is not None and NEAR_ENOUGH < math.dist(needle.at, out[0]) < MOST_BESIDE:
        go(part, needle, out[0])  # the exit lies in a tip, or beside the end of the last row


def far_side(part: Polygon, frame: Frame, start: Floats) -> Floats:
    """The rim point at which rows that begin near ``start`` run out, so that none is travelled twice."""
    rim = np.asarray(part.exterior.coords)[:, :2]
    heights = frame.to(rim)[:, 1]
    here = float(frame.to(start)[1])
    up = here - heights.min() > heights.max() - here
    answer: Floats = rim[int(np.argmin(heights) if up else np.argmax(heights))]
    return answer


def _groups(piece: Polygon, style: RowStyle, frame: Frame, layer: Layer) -> list[_Laid]:
    """The rows of a level polygon in groups that hang together, each thinned where fewer are wanted."""
    rings = rings_of(piece)
    if isinstance(frame, Straight) and style.opened is None:
        heights = settled_heights(rings, style.spacing)
        return _connected(hatch(rings, heights, style.spacing), None, style, frame, layer, piece)
    spacing, thin = thinning(piece, style, frame)
    if thin is None:
        heights = even_heights(piece.bounds[1], piece.bounds[3], spacing)
        return _connected(hatch(rings, heights, spacing), None, style, frame, layer, piece)
    found: list[_Laid] = []
    for laid in thin.spread.level(frame.cloth(shapely.MultiPolygon([piece]))).geoms:
        rows = hatch(rings_of(laid), thin.spread.nominal, spacing)
        found += _connected(rows, thin, style, thin.spread, layer, laid)
    return found


def _connected(
    rows: Intervals, thin: Thinning | None, style: RowStyle, frame: Frame, layer: Layer, piece: Polygon
) -> list[_Laid]:
    if not len(rows.row):
        return []
    room = piece.buffer(SLACK, quad_segs=4)
    shapely.prepare(room)
    found: list[_Laid] = []
    whole = drawn_back(longer(rows, style), style)
    closed = thin is None and style.spacing < OPEN and style.ragged <= 0
    tips = tips_of(piece, whole, MOST_TIP) if closed else {}
    for which in components(whole):
        group = whole.some(which)
        if thin is None:
            own = {k: tips[row] for k, row in enumerate(which.tolist()) if row in tips}
            found.append(_Laid(group, None, own, style, frame, layer, piece, room))
            continue
        for one in separate(hosted(group, thin)):
            found.append(_Laid(one.hosts, one, {}, style, frame, layer, piece, room))
    return found


def _sew_group(laid: _Laid, rim: Rim, needle: Needle, at: Floats, goal: Floats, pinned: bool) -> None:
    """Sew one group of rows, cell by cell, from where the needle is (``at``, level) to the rim nearest ``goal``."""
    style, frame = laid.style, laid.frame
    found = cells(laid.rows, None if laid.host is None else laid.host.touching)
    straight = isinstance(frame, Straight)
    if laid.layer == Layer.COVER:
        legs = Router(laid.rows, found, at, goal, style.along_rim, pinned, _through_from(laid), straight).legs()
    else:
        legs = tour(laid.rows, found, at, goal)
    if needle.at is not None and not straight:
        go(rim.part, needle, frame.back(legs[0].travel[0]))
    elif needle.at is not None:
        way = inside_path(laid.piece, at, legs[0].travel[0])
        if not needle.sewing and math.dist(at, way[0]) > THERE:
            way = np.vstack([at, way])  # it lies where no row fits
        if np.hypot(*(way[-1] - way[0])) > SHORTEST:
            _travel(way, frame, rim, needle)
    over = style.pull_ceiling if style.pull_percent > 0 else 0.0
    for leg, (points, leaving, sound) in zip(legs, _looked_at(laid, _points_of(laid, legs), rim, over), strict=True):
        travel = _travel_to(laid, leg, needle)
        if travel is not None:
            level = laid.layer == Layer.COVER and not style.along_rim
            led = led_inside(travel, laid.piece, laid.room, laid.rows, level)
            _travel(led, frame, rim, needle)
        if sound is not None and needle.sews_on(sound[0], longest_stitch(style)):
            needle.sew(sound, laid.layer)
            continue
        led = led_round(points, leaving, laid.piece)
        sewn = frame.back(led) if straight else bent(led, frame)
        if needle.at is not None and not needle.sewing and math.dist(needle.at, sewn[0]) > THERE:
            sewn = np.vstack([rim.held(needle.at[None]), sewn])  # the fill begins at its entry
        behind = needle.at[None] if needle.at is not None and needle.sewing else sewn[:0]
        for _ in range(2 if laid.tips or not straight else 1):  # a point that is moved may leave the shape
            if laid.tips or not straight:
                sewn = rim.held(sewn, over if not straight else -MOST_OUT / 2)
            sewn = kept_apart(np.vstack([behind, sewn]))[len(behind) :]
        inside = rim.held(sewn, over) if straight else sewn
        if inside is not sewn:  # one that was moved away from a short turn
            sewn = kept_apart(np.vstack([behind, inside]))[len(behind) :]
        parted = split_long(np.vstack([behind, sewn]), longest_stitch(style))[len(behind) :]
        if not straight or len(parted) > len(sewn):  # one that was moved, or a long turn's middle, may leave it
            parted = rim.held(parted, over)
        needle.sew(parted, laid.layer)


def _through_from(laid: _Laid) -> float:
    """How long rows of a branch are on average, mm, from where on it is travelled first and then sewn through."""
    if laid.style.opened is not None:
        return math.inf  # open rows hide no travel
    if laid.host is not None:
        return 0.0  # the way back would cross what lies between two hosts that are sewn on the way out
    return THROUGH * laid.style.spacing


def _travel(way: Floats, frame: Frame, rim: Rim, needle: Needle) -> None:
    """Travel along a level way (n, 2): its places are brought inside before stitches too short are left out."""
    held = rim.held(_along(way, frame))
    run = straight_run(held, HIDDEN_LENGTH)
    inside = run if run is held else rim.held(run)
    needle.sew(run if inside is run else straight_run(inside, HIDDEN_LENGTH), Layer.TRAVEL)


def _along(way: Floats, frame: Frame) -> Floats:
    """A level way (n, 2) on the cloth: where rows turn, as they do."""
    if isinstance(frame, Straight) or len(way) < 2:
        return frame.back(way)
    turning = frame.back(shapely.get_coordinates(shapely.LineString(way).segmentize(FINE)))
    return shapely.get_coordinates(shapely.LineString(turning).simplify(BESIDE, preserve_topology=False))


def _travel_to(laid: _Laid, leg: Leg, needle: Needle) -> Floats | None:
    """The travel (n, 2) to a leg from where the needle is, if it is worth a stitch."""
    style = laid.style
    beside = along_rim(laid.piece, leg.travel[0], leg.travel[-1]) if style.along_rim else None
    travel = leg.travel if beside is None else beside
    begun = needle.at is not None and (laid.host is not None or not needle.sewing)
    whole = np.vstack([laid.frame.to(needle.at), travel]) if begun and needle.at is not None else travel
    size = float(np.hypot(*np.ptp(whole, axis=0)))
    begins = needle.at is not None and not needle.sewing and size > SHORTEST
    far = size > 2 * style.spacing or (style.spacing >= OPEN and not laid.room.covers(_straight(whole)))
    if begins or (needle.at is not None and far and not _one_step(whole, laid.room, style.spacing)):
        tidy = bends_apart(_tidy(travel))
        return np.vstack([whole[:1], tidy]) if begun else tidy
    return None


def _points_of(laid: _Laid, legs: list[Leg]) -> list[Floats]:
    """The needle points of each leg's rows, (n, 2), level: those of all legs are found at once."""
    rows, host, style, frame = laid.rows, laid.host, laid.style, laid.frame
    if host is None:
        parts = [(rows.row[leg.rows], leg.start, leg.stop) for leg in legs]
    else:
        parts = with_detours(host, [(leg.rows, leg.start, leg.stop) for leg in legs])
    number, start, stop = (np.concatenate(one) for one in zip(*parts, strict=True))
    y = (rows if host is None else host).heights[number]
    firsts = np.cumsum([0, *(len(part[0]) for part in parts)])
    turns = _turns(stop, y, frame)
    turns.across[firsts[1:-1] - 1] = FAR_OFF  # from one leg to the next there is no turn
    flip_short(start, stop, turns)
    lengthen(start, stop, turns, SHORTEST if isinstance(frame, Straight) else TURN_MARGIN * SHORTEST)
    points, owner = needle_points(number, start, stop, y, style)
    cuts = np.searchsorted(owner, firsts)
    return [
        _with_tips(points[low:high], owner[low:high] - first, leg, laid)
        for leg, first, low, high in zip(legs, firsts, cuts, cuts[1:], strict=False)
    ]


def _turns(stop: Floats, y: Floats, frame: Frame) -> Turns:
    """How rows at ``y`` (n,) that end at ``stop`` (n,) lie to the next ones."""
    if isinstance(frame, Straight):
        return Turns(np.tile([1.0, 0.0], (len(y) - 1, 1)), np.column_stack([np.zeros(len(y) - 1), np.diff(y)]))
    spots = [(stop[:-1], y[:-1]), (stop[:-1], y[1:]), (stop[:-1] + ASIDE, y[1:])]
    here, there, aside = (frame.back(np.column_stack(spot)) for spot in spots)
    return Turns((aside - there) / ASIDE, there - here)


def _looked_at(
    laid: _Laid, legs: list[Floats], rim: Rim, over: float
) -> Iterator[tuple[Floats, Ints, Floats | None]]:
    """Each leg's points (n, 2), which of its stitches would leave the piece, (m,), and its points on the cloth.

    The last where they can be sewn as they are. Rows of a cover are so near each other that only their longest
    turns can leave the piece; open rows can.
    """
    watch = 0.0 if laid.style.spacing >= OPEN else longest_stitch(laid.style)
    watch = watch if laid.host is None else min(watch, LONG_TURN)
    points = np.vstack(legs)
    cuts = np.cumsum([0, *(len(one) for one in legs)])
    size = np.hypot(*(points[1:] - points[:-1]).T)
    stitch = np.ones(len(size), dtype=bool)
    stitch[cuts[1:-1] - 1] = False  # from one leg to the next there is none
    leaving = leaving_stitches(points, np.flatnonzero(stitch & (size > watch)), laid.room)
    parted = np.searchsorted(leaving, cuts)
    straight = isinstance(laid.frame, Straight)
    cloth = laid.frame.back(points) if straight else points
    wrong = rim.outside(cloth, -MOST_OUT / 2 if laid.tips else over) if straight else np.ones(len(points), dtype=bool)
    wrong[:-1] |= stitch & ((size < SHORTEST) | (size > longest_stitch(laid.style)))
    wrong[leaving] = True
    for k, (low, high) in enumerate(pairwise(cuts.tolist())):
        own = leaving[parted[k] : parted[k + 1]] - low
        yield points[low:high], own, None if wrong[low:high].any() else cloth[low:high]


def _with_tips(points: Floats, owner: Ints, leg: Leg, laid: _Laid) -> Floats:
    """A leg's needle points (n, 2) with runs to the tips beside its rows; ``owner`` (n,) says whose each point is."""
    parts: list[Floats] = []
    done = 0
    for k, row in enumerate(leg.rows.tolist() if laid.tips else []):
        low, high = sorted((float(leg.start[k]), float(leg.stop[k])))
        whole = low < laid.rows.left[row] + SLACK, high > laid.rows.right[row] - SLACK
        for tip in [one for one in laid.tips.get(row, []) if whole[one.right]]:
            at_start = tip.right == bool(leg.start[k] > leg.stop[k])
            at = int(np.searchsorted(owner, k, side="left" if at_start else "right"))
            if at >= done:
                parts += [points[done:at], tip.run]
                done = at
        laid.tips[row] = [one for one in laid.tips.get(row, []) if not whole[one.right]]
    return np.vstack([*parts, points[done:]]) if parts else points


def _one_step(travel: Floats, room: BaseGeometry, spacing: float) -> bool:
    """Whether one stitch leads as well from the start of a travel to its end."""
    ends = travel[[0, -1]]
    beside = abs(ends[1, 1] - ends[0, 1]) < 1.5 * spacing
    far = TO_NEXT if beside else ONE_STEP
    return bool(np.hypot(*(ends[1] - ends[0])) < far and room.covers(_straight(travel)))


def _straight(travel: Floats) -> shapely.LineString:
    """The straight way from the start of a travel (n, 2) to its end."""
    return shapely.LineString(travel[[0, -1]])


def _ends(laid: _Laid) -> Floats:
    """Every row end on the cloth, (2 n, 2)."""
    rows, y = laid.rows, laid.rows.y()
    return laid.frame.back(np.vstack([np.column_stack([rows.left, y]), np.column_stack([rows.right, y])]))


def _facing(group: _Laid, others: list[_Laid]) -> Floats:
    """The row end of ``group`` that is nearest to any of ``others``."""
    own = _ends(group)
    gaps, _ = scipy.spatial.cKDTree(np.vstack([_ends(other) for other in others])).query(own)
    answer: Floats = own[int(np.argmin(gaps))]
    return answer


def _next_group(groups: list[_Laid], at: Floats, goal: Floats) -> _Laid:
    """Take the group to sew next: the nearest, but the one that holds the exit last."""
    if len(groups) == 1:
        return groups.pop()
    last = int(np.argmin([np.hypot(*(_ends(g) - goal).T).min() for g in groups]))
    near = [np.hypot(*(_ends(g) - at).T).min() if k != last else np.inf for k, g in enumerate(groups)]
    return groups.pop(int(np.argmin(near)))


def _tidy(travel: Floats) -> Floats:
    if len(travel) < 3:
        return travel
    return shapely.get_coordinates(shapely.LineString(travel).simplify(BESIDE, preserve_topology=False))
