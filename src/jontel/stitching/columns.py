"""Satin rows on a column: where the strokes go, short stitches, and needle points inside rows."""

import math
from functools import cache
from typing import NamedTuple

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
import shapely

from jontel.design.kinds.satin import SatinRecipe
from jontel.geometry.arrays import Ints, ragged
from jontel.geometry.columns import Rails
from jontel.geometry.polyline import Floats, at_lengths, lengths
from jontel.stitching.density import faded_spacing
from jontel.stitching.patterns import phases
from jontel.stitching.running import merge_short
from jontel.stitching.stitches import SHORTEST, on_the_way

TIGHT = 0.6
"""Where needle points of one edge are nearer than this part of the spacing, some rows stop short."""
APART, GOES_ON = 0.8, 0.55
"""Needle points at a tight edge are the first part of the spacing apart; between two rows another goes on while it is
the second part from both."""
STOPS_SHORT = (0.1, 0.7)
"""By how much of their length rows stop short, at least and at most."""
TRIES = 4
"""A row that stops so short that its stitches would be left out, and the outside stay bare, stops half as short."""
STOPS_LEAST = 0.3
"""In wide columns they stop so many mm short at least, so that where all of them meet in one point none is missed."""
STAGGER = np.array([-0.28, 0.0, -0.14, 0.14, -0.21, 0.07, -0.07, 0.21])
"""Where split points lie about the even place, in parts of a piece, row after row, from the first edge."""
CLEAR_OF_EDGE = 0.7
"""No needle point that holds a row is nearer than this to an edge, mm."""
DEEPEST_FEATHER = 0.45
"""Feathering draws a row back by no more than this part of its width."""
TAPERS = 0.95
"""Rows narrower than this part of the widest belong to an end that comes to a point."""
POINTED = 0.25
"""A column comes to a point at an end that is narrower than this, mm."""
ON_NO_SIDE = 0.1
"""A place about as far from both edges, mm, is on none."""
DOT, CLOSER_IN_DOTS = 1.6, 0.6
"""A column no longer and no wider than the first, mm, is a dot: its few rows lie so much closer, to reach its rim."""
LONGEST = 7.0
WIDEST_OUTSIDE = 1.09
SMOOTHED = 15
STEEP, CLOSEST = 0.6, 1.7
"""Where an edge runs in along the rows, as at a round end, rows lie as close as if this part of it were across them,
up to so many times closer: else the rim between them stays bare."""
OPEN = 0.6
"""Rows farther apart than this, mm, are meant to let the cloth be seen."""
COVERED = 0.22
"""A corner farther than this, mm, from every thread stays bare."""
HALF = 0.2
"""Half of what a thread covers, mm."""
END, ROOM_AT_ENDS, REACHED = 6, 0.6, 0.3
"""At an end whose rows are narrower than the second, mm, the first so many are looked at; its tip is no farther than
the third from a thread."""
GOES_OUT, WIDE_ENOUGH = 0.15, 0.4
"""So far, mm, a needle point goes out for a safe stitch from the one before, in rows no shorter than the second."""
ROOM_FOR_ROWS = 0.8
"""But not where rows are shorter than this, mm: stitches there would be too short."""


class Sides(NamedTuple):
    """The edge on which a column begins and the one on which it ends: 0 or 1; ``None`` is whichever comes."""

    first: int = 0
    last: int | None = None


NO_SIDES = Sides()


def sides_of(rails: Rails, entry: Floats | None, exit_: Floats | None) -> Sides:
    """The sides of an open column on which ``entry`` and ``exit_`` lie, and of a mitred end that of its tip."""
    if rails.closed:
        return NO_SIDES
    found: list[int | None] = []
    for end, place in ((0, entry), (-1, exit_)):
        if rails.fixed_ends[end]:
            found.append(_tip_side(rails if end else rails.reversed()))
            continue
        a, b = (math.inf if place is None else math.dist(edge[end], place) for edge in (rails.a, rails.b))
        found.append(None if place is None or abs(a - b) < ON_NO_SIDE else int(b < a))
    return Sides(found[0] or 0, found[1])


def _tip_side(rails: Rails) -> int | None:
    """The edge that goes straight on at the last end of a column, where the other one cuts across to meet it."""
    width = rails.widths()
    if width[-1] > width.max() / 2:
        return None
    full = np.flatnonzero(width > TAPERS * width.max())[-1]
    a, b = (float(lengths(edge[full:])[-1]) for edge in (rails.a, rails.b))
    return int(b < a)


def pieces_along(rails: Rails, recipe: SatinRecipe) -> float:
    """The length of a column, mm, as many times as its rows have pieces: what its stitches grow with."""
    apart = recipe.split if recipe.texture == "none" else min(recipe.split, recipe.texture_length)
    return float(lengths(rails.middle)[-1]) * (1 + float(rails.widths().mean()) / apart)


def strokes(rails: Rails, recipe: SatinRecipe, sides: Sides = NO_SIDES) -> tuple[Floats, Floats]:
    """The needle points of a column, alternating between the edges, and the way to the other edge: each (n, 2).

    Those of one edge are the recipe's spacing apart, measured across the rows at the column's middle, and on the
    outside of tight turns no more than ``WIDEST_OUTSIDE`` times that; where it fades, the spacing at each
    place is the one wanted there.
    """
    middle = rails.middle
    across = rails.b - rails.a
    width = np.hypot(*across.T)
    row = across / np.maximum(width, 1e-9)[:, None]
    mean_row = (row[1:] + row[:-1]) / 2

    def across_rows(edge: Floats) -> Floats:
        step = np.diff(edge, axis=0)
        return np.asarray(np.abs(step[:, 0] * mean_row[:, 1] - step[:, 1] * mean_row[:, 0]))

    outside = np.maximum(across_rows(rails.a), across_rows(rails.b))
    # the corners of a polyline are no bends
    outside = scipy.ndimage.uniform_filter1d(outside, SMOOTHED, mode="wrap" if rails.closed else "nearest")
    level = across_rows(middle)
    advance = np.maximum(level, outside / WIDEST_OUTSIDE)
    inwards = np.maximum(*(np.abs((np.diff(edge, axis=0) * mean_row).sum(axis=1)) for edge in (rails.a, rails.b)))
    wide = (width[1:] + width[:-1]) / 2 > ROOM_FOR_ROWS
    advance = np.where(wide, np.maximum(advance, np.minimum(STEEP * inwards, CLOSEST * level)), advance)
    measure, number = np.concatenate([[0.0], np.cumsum(advance)]), np.arange(len(middle))
    if recipe.fade != "none" and measure[-1] > 0:
        wanted = faded_spacing(recipe, measure / measure[-1])
        advance = advance * recipe.spacing / ((wanted[1:] + wanted[:-1]) / 2)
        measure = np.concatenate([[0.0], np.cumsum(advance)])
    closer = CLOSER_IN_DOTS if max(float(measure[-1]), float(width.max())) < DOT and not rails.closed else 1.0
    count = max(2, round(measure[-1] / (closer * recipe.spacing / 2)))
    if rails.closed:
        return _rows_at(rails, np.interp(np.linspace(0, measure[-1], count + count % 2 + 1), measure, number), 0)
    opens = recipe.fade != "none" or recipe.spacing > OPEN
    whole = (False, False) if opens else _bare_corners(rails, measure[-1] / count, measure, sides)
    if sides.last is not None:
        count += (count + sum(whole) + sides.first + sides.last) % 2
    index = np.interp(np.linspace(0, measure[-1], count + 1), measure, number)
    return _rows_at(rails, np.concatenate([index[:1][: whole[0]], index, index[-1:][: whole[1]]]), sides.first)


def _rows_at(rails: Rails, index: Floats, first: int) -> tuple[Floats, Floats]:
    """Points of a column at so many samples along it (n,), on its edges by turns, and the way across: each (n, 2)."""
    low = np.minimum(index.astype(np.int64), len(rails.a) - 2)
    part = (index - low)[:, None]
    a = rails.a[low] * (1 - part) + rails.a[low + 1] * part
    b = rails.b[low] * (1 - part) + rails.b[low + 1] * part
    on_a = (np.arange(len(index)) % 2 == first)[:, None]
    return np.where(on_a, a, b), np.where(on_a, b - a, a - b)


def _bare_corners(rails: Rails, step: float, measure: Floats, sides: Sides) -> tuple[bool, bool]:
    """At which ends of an open column one row has to go all across, since a corner would stay bare.

    Rows begin in one corner of an end, the next point on the other edge lies a ``step`` of the ``measure`` (n,) on:
    the thread between both covers the other corner of a square end, not of a slanted or a round one.
    """
    found: list[bool] = []
    for end, mark, side in ((0, step, sides.first), (-1, measure[-1] - step, sides.last)):
        edges = (rails.a, rails.b)
        where = float(np.interp(mark, measure, np.arange(len(measure))))
        low = min(int(where), len(rails.a) - 2)
        second = [edge[low] + (where - low) * (edge[low + 1] - edge[low]) for edge in edges]
        bare = [
            _off(edges[other][end], np.array([edges[1 - other][end], second[other]])) > COVERED
            for other in ((0, 1) if side is None else (1 - side,))
        ]
        wide = math.dist(rails.a[end], rails.b[end]) >= SHORTEST
        found.append(wide and not rails.fixed_ends[end] and any(bare))
    return found[0], found[1]


def feathered(points: Floats, inward: Floats, recipe: SatinRecipe, first: int = 0) -> Floats:
    """Strokes with the needle points of one edge or both moved along their rows by random lengths.

    ``inward`` (n, 2) leads from each point to the other edge; the first point is on edge number ``first``. The points
    of a closed column's seam agree.
    """
    most = np.array([recipe.feather_first, recipe.feather_second])
    if not most.any():
        return points
    side = (np.arange(len(points)) + first) % 2
    inwards = np.array([recipe.first_way == "inwards", recipe.second_way == "inwards"])[side]
    width = np.hypot(*inward.T)
    reach = np.random.default_rng(recipe.seed).random(len(points)) * most[side]
    if np.hypot(*(points[-1] - points[0])) < 1e-6:
        reach[-1] = reach[0]
    reach = np.where(inwards, np.minimum(reach, DEEPEST_FEATHER * width), -reach)
    return np.asarray(points + (reach / np.maximum(width, 1e-9))[:, None] * inward)


def with_short_stitches(points: Floats, inward: Floats, spacing: float) -> Floats:
    """Strokes with rows stopped short on the inside of tight bends, where there is no room for all of them.

    Where the points of an edge are nearer than ``TIGHT`` of the spacing, one in every ``APART`` of it stays, the one
    nearest to the middle of that piece. Of those between two that stay the middle one goes on until it would come
    nearer to them than ``GOES_ON`` of it, then the middle ones of what is left, and so on, so that rows are nowhere
    crowded, nowhere missing, and their ends do not line up.
    """
    out = points.copy()
    piece = APART * spacing
    number = np.arange(len(points))
    gaps = [np.interp(number, number[side::2], _gaps(points[side::2])) for side in (0, 1)] if len(points) > 5 else []
    for side, near in enumerate(gaps):
        own = number[side::2]
        along = lengths(points[own])
        gap = np.diff(along)
        tight = np.minimum(np.append(gap, gap[-1]), np.insert(gap, 0, gap[0])) < TIGHT * spacing
        if not tight.any():
            continue
        begins = np.maximum.accumulate(np.where(tight, 0, number[: len(own)]))
        since = along - along[begins]
        bucket = np.floor(since / piece).astype(np.int64)
        order = np.lexsort((np.abs(since / piece - bucket - 0.5), bucket, begins))
        first = np.append(True, (np.diff(bucket[order]) != 0) | (np.diff(begins[order]) != 0))
        stays = ~tight
        stays[order[first]] = True
        stays[[0, -1]] = True
        short = np.flatnonzero(~stays)
        kept = np.flatnonzero(stays)
        after = np.searchsorted(kept, short)
        low, high = kept[after - 1], kept[after]
        rows = np.array([_apart_by(int(n))[k] for n, k in zip(high - low, short - low, strict=True)], dtype=float)
        here, there = near[own[short]], gaps[1 - side][own[short]]
        stop = (GOES_ON * spacing / np.maximum(rows, 1) - here) / np.maximum(there - here, 0.05 * spacing)
        row = own[short]
        least = np.minimum(STOPS_SHORT[0], STOPS_LEAST / np.maximum(np.hypot(*inward[row].T), 1e-9))
        move = np.clip(stop, least, STOPS_SHORT[1])
        for _ in range(TRIES):
            out[row] = points[row] + move[:, None] * inward[row]
            left = np.minimum(np.hypot(*(out[row] - points[row - 1]).T), np.hypot(*(out[row] - points[row + 1]).T))
            move[left < SHORTEST] *= 0.5
        out[row[left < SHORTEST]] = points[row[left < SHORTEST]]
    return out


@cache
def _apart_by(gap: int) -> tuple[int, ...]:
    """How many rows from its nearest neighbour each of ``gap`` rows is when they are put in, middles first."""
    found = [0] * (gap + 1)
    todo = [(0, gap)]
    while todo:
        low, high = todo.pop()
        middle = (low + high) // 2
        if high - low >= 2:
            found[middle] = middle - low
            todo += [(low, middle), (middle, high)]
    return tuple(found)


def _gaps(points: Floats) -> Floats:
    """How far each point (n, 2) is from its neighbours on the average, (n,)."""
    step = np.hypot(*np.diff(points, axis=0).T)
    return np.asarray((np.append(step, step[-1]) + np.insert(step, 0, step[0])) / 2)


def with_inner_points(points: Floats, recipe: SatinRecipe) -> Floats:
    """Strokes with the needle points inside them: split, textured, anchored; (m, 2)."""
    step = np.diff(points, axis=0)
    length = np.hypot(*step.T)
    odd = np.arange(len(length)) % 2 == 1
    chosen = odd | (recipe.texture_on == "both")
    textured = (length > 2 * recipe.texture_clear) & (recipe.texture != "none") & chosen
    stroke, share = _split(np.where(textured, 0.0, length), recipe)
    plain = ~textured & (np.bincount(stroke, minlength=len(length)) == 0)
    if textured.any():
        owner, at = _texture(length, np.flatnonzero(textured), recipe)
        stroke, share = np.append(stroke, owner), np.append(share, at)
    if recipe.anchor > 0:
        returning = np.arange(len(length)) // 2
        held = plain & odd & (returning % recipe.anchor == recipe.anchor - 1)
        owner = np.flatnonzero(held & (length > 2 * CLEAR_OF_EDGE))
        at = 0.5 + 0.12 * np.where(returning[owner] // recipe.anchor % 2 == 0, -1, 1)
        stroke, share = np.append(stroke, owner), np.append(share, at)
    if not len(stroke):
        return points
    every = np.concatenate([np.arange(len(points)), stroke])
    order = np.lexsort((np.concatenate([np.zeros(len(points)), share]), every))
    inner = points[stroke] + share[:, None] * step[stroke]
    return np.vstack([points, inner])[order]


def _split(length: Floats, recipe: SatinRecipe) -> tuple[Ints, Floats]:
    """Whose the split points of strokes (n,) are and where on them, in parts of the stroke; each (m,)."""
    spread = STAGGER if recipe.split_lines == 0 else _in_lines(recipe.split_lines)
    reach = 1 + float(np.abs(spread).max())
    pieces = np.where(length > recipe.split, np.ceil(length * reach / recipe.split), 1).astype(np.int64)
    longest = max(LONGEST, recipe.split)
    fewest = np.ceil(length / longest).astype(np.int64)
    most = np.maximum(np.floor(length / max(recipe.split_least, 0.5)).astype(np.int64), 1)
    pieces = np.maximum(np.minimum(pieces, most), np.maximum(fewest, 1))
    stroke, within = ragged(pieces - 1)
    room = np.maximum(longest * pieces / np.maximum(length, 1e-9) - 1, 0.0)
    held = np.minimum(room / max(float(np.abs(spread).max()), 1e-9), 1.0)
    at = (within + 1 + spread[stroke % len(spread)] * held[stroke]) / pieces[stroke]
    at = np.where(stroke % 2 == 1, 1 - at, at)
    least = np.minimum(recipe.split_least / length[stroke], 0.5)
    return stroke, np.clip(at, least, 1 - least)


def _in_lines(lines: int) -> Floats:
    """Shifts, in parts of a piece, that lay split points in so many lines in turn."""
    return np.asarray((np.arange(lines) + 0.5) / lines - 0.5) * 0.6


def _texture(length: Floats, number: Ints, recipe: SatinRecipe) -> tuple[Ints, Floats]:
    """Whose the needle points of a texture are and where, on the strokes ``number`` (n,); each (m,).

    They are measured from the column's first edge on every stroke, so that the pattern stands on the cloth.
    """
    apart = recipe.texture_length
    phase = phases(recipe.texture, number if recipe.texture_on == "both" else number // 2, seed=recipe.seed) * apart
    first = np.ceil((recipe.texture_clear - phase) / apart).astype(np.int64)
    last = np.floor((length[number] - recipe.texture_clear - phase) / apart).astype(np.int64)
    owner, within = ragged(np.maximum(last - first + 1, 0))
    at = (phase[owner] + (first[owner] + within) * apart) / length[number][owner]
    return number[owner], np.where(number[owner] % 2 == 1, 1 - at, at)


def satin_points(rails: Rails, recipe: SatinRecipe, sides: Sides = NO_SIDES) -> Floats:
    """All needle points of a satin column, (n, 2)."""
    points, inward = strokes(rails, recipe, sides)
    points = feathered(points, inward, recipe, sides.first)
    if recipe.short_stitches:
        points = with_short_stitches(points, inward, recipe.spacing)
    points = _held_apart(points, inward)
    if not rails.closed:
        points = points if rails.fixed_ends[0] else _to_its_end(points, inward)
        points = points if rails.fixed_ends[1] else _to_its_end(points[::-1], inward[::-1])[::-1]
    return merge_short(with_inner_points(points, recipe))


def _held_apart(points: Floats, inward: Floats) -> Floats:
    """Strokes whose points go out a little where they would lie nearer to the one before than a safe stitch.

    Rows that lean to each other in narrow bends would else be left out, and the cloth between them stay bare.
    ``inward`` (n, 2) leads from each point to the other edge.
    """
    short = np.flatnonzero(np.hypot(*np.diff(points, axis=0).T) < SHORTEST) + 1
    if not len(short):
        return points
    out = points.copy()
    width = np.hypot(*inward.T)
    way = -inward / np.maximum(width, 1e-9)[:, None]
    for k in short[(short < len(points) - 1) & (width[short] > WIDE_ENOUGH)].tolist():
        gap = out[k] - out[k - 1]
        across, apart = float(gap @ way[k]), float(gap @ gap)
        root = across * across - apart + (SHORTEST + 1e-6) ** 2
        by = math.sqrt(root) - across if root > 0 else 0.0
        if apart < SHORTEST**2 and 0 < by <= GOES_OUT:
            out[k] += by * way[k]
    return out


def _to_its_end(points: Floats, inward: Floats) -> Floats:
    """Points (n, 2) from one end of a column on, the first two at least a safe stitch apart.

    At a round, slanted or pointed end they may not be. If the row from the second to the third covers the first, that
    is left out; else the second moves along its edge. In columns that are hardly wide enough for a stitch some of the
    first rows may be left out or thread may run down the middle instead: by which less of the end stays bare.
    ``inward`` (m, 2) are the ways to the other edge.
    """
    if len(points) < 5:
        return points
    near = math.dist(points[0], points[1]) < SHORTEST
    if near and math.dist(points[1], points[2]) >= SHORTEST and _off(points[0], points[1:3]) < COVERED:
        return points[1:]
    moved = points.copy()
    if near:
        moved[1] = on_the_way(points[0], points[1], points[3])
        if min(math.dist(moved[1], points[k]) for k in (0, 2)) < SHORTEST:
            moved[1] = points[1]
    narrow = np.hypot(*inward[:END].T) < ROOM_AT_ENDS
    if len(points) < 2 * END or not narrow[:2].all():
        return moved
    tried = [moved, *(points[k:] for k in (1, 2) if _off(points[0], points[k : k + 2]) < REACHED)]
    tried += [
        np.vstack([points[:1], points[k:]]) for k in range(2, END) if math.dist(points[0], points[k]) >= SHORTEST
    ]
    tried += _down_the_middle(points, inward, max(2, int(np.argmin(narrow))))
    end = shapely.MultiPoint(np.vstack([points[:END], points[:END] + inward[:END]])).convex_hull

    def bare(one: Floats) -> float:
        sewn = merge_short(one[: len(one) - len(points) + END + 3])
        return float(end.difference(shapely.LineString(sewn).buffer(HALF)).area)

    return min(tried, key=bare)


def _down_the_middle(points: Floats, inward: Floats, narrow: int) -> list[Floats]:
    """Points (n, 2) whose first ``narrow`` ones run from the tip down the middle, where that is a safe stitch."""
    way = np.vstack([points[:1], points[:narrow] + inward[:narrow] / 2])
    along = lengths(way)
    found: list[Floats] = []
    for at in (narrow, narrow + 1):
        far = along[np.hypot(*(way - points[at]).T) >= SHORTEST]
        count = int(far[-1] / SHORTEST) if len(far) else 0
        if count >= 1:
            run = at_lengths(way, np.linspace(0, far[-1], count + 1), along)
            found.append(np.vstack([run, points[at:]]))
    return found


def _off(place: Floats, stitch: Floats) -> float:
    """How far a place lies from a stitch (2, 2), mm."""
    return float(shapely.LineString(stitch).distance(shapely.Point(place)))


def limited(rails: Rails, recipe: SatinRecipe) -> Rails:
    """A column whose width keeps to the recipe's least and greatest, narrow rows widened by its extra.

    The extra is whole for a row of no width and nothing from 3 mm on.
    """
    if not (recipe.least_width or recipe.greatest_width or recipe.narrow_extra):
        return rails
    width = rails.widths()
    wanted = width + recipe.narrow_extra * np.clip(1 - width / 3.0, 0, 1)
    wanted = np.maximum(wanted, recipe.least_width)
    if recipe.greatest_width > 0:
        wanted = np.minimum(wanted, recipe.greatest_width)
    return _widened(rails, width, wanted)


def held_open(rails: Rails) -> Rails:
    """A column whose rows are no narrower than a safe stitch, but where it comes to a point at an open end.

    There, where the end is narrower than ``POINTED``, a row is no wider than it is far from that end, over what the
    end is wide.
    """
    width = rails.widths()
    room = np.full(len(width), SHORTEST)
    if not rails.closed:
        along = lengths(rails.middle)
        for end, far in ((0, along), (-1, along[-1] - along)):
            if width[end] < POINTED:
                room = np.minimum(room, width[end] + far)
    return rails if (width >= room).all() else _widened(rails, width, np.maximum(width, room))


def _widened(rails: Rails, width: Floats, wanted: Floats) -> Rails:
    """A column of the ``wanted`` (n,) widths about its middle."""
    across = rails.b - rails.a
    size = np.where(width > 1e-6, width, 1.0)[:, None]
    way = np.where(width[:, None] > 1e-6, across / size, _upright(rails))
    shift = np.where((wanted == width)[:, None], across / 2, way * (wanted / 2)[:, None])
    return Rails(rails.middle - shift, rails.middle + shift, rails.closed, rails.fixed_ends)


def _upright(rails: Rails) -> Floats:
    """Unit vectors across the middle of a column, for rows without a width of their own."""
    along = np.gradient(rails.middle, axis=0)
    along = along / np.maximum(np.hypot(*along.T), 1e-9)[:, None]
    normal = np.column_stack([-along[:, 1], along[:, 0]])
    across = rails.b - rails.a
    return np.asarray(normal * np.where((normal * across).sum() < 0, -1.0, 1.0))


def row_angle(rails: Rails) -> float:
    """The mean direction of a column's rows, degrees counter-clockwise from the x axis."""
    across = rails.b - rails.a
    angle = np.arctan2(-across[:, 1], across[:, 0])
    return math.degrees(math.atan2(np.sin(2 * angle).mean(), np.cos(2 * angle).mean()) / 2)
