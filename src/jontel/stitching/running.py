"""Running stitch along a path: where the needle points go."""

import math

import numpy as np
from numpy.typing import NDArray

from jontel.design.kinds.run import RunRecipe, RunStyle
from jontel.geometry.polyline import Floats, Polyline, at_lengths, distinct, lengths, turns
from jontel.stitching.stitches import SHORTEST

CHORD = 0.1
"""How far a stitch may cut a curve where nobody says otherwise, mm."""
EVENLY = 0.87
"""Points are spread evenly over bends that are not even: so much of the allowed distance is aimed at."""
LEAST = 1.0
"""Curves shorten stitches down to this and no further, mm, where nobody says otherwise."""
SHORT_PIECE, ROUND_A_BEND = 4.0, 1.1
"""On a piece shorter than the first, mm, such as a tiny ring, a stitch round a bend is so many safe ones long:
straight across it is shorter, and would be left out."""
TRAVEL_LENGTH = 3.5


def run_points(line: Polyline, length: float, chord: float = CHORD, least: float = LEAST) -> Floats:
    """Needle points (n, 2) along a path, at most ``length`` mm apart.

    Corners are needle points. Between corners the points are spread evenly in the measure of the allowed
    stitch, which a bend of radius r shortens to the stitch that leaves it by ``chord`` mm: sqrt(8 r chord), but no
    further than to ``least`` mm.
    """
    xy = line.loop()
    corner = np.append(line.corner, True) if line.closed else line.corner.copy()
    corner[0] = corner[-1] = True
    along = lengths(xy)
    step = np.diff(along)
    bend = np.abs(turns(line.xy, line.closed))
    bend = np.append(bend, bend[0]) if line.closed else bend
    bend[corner] = 0.0
    near = np.maximum(np.minimum(np.append(step, step[-1]), np.insert(step, 0, step[0])), 1e-9)
    curvature = bend / near
    allowed = np.sqrt(8 * EVENLY * chord / np.maximum(np.maximum(curvature[1:], curvature[:-1]), 1e-9))
    allowed = np.minimum(np.maximum(allowed, min(least, length)), length)
    measure = np.concatenate([[0.0], np.cumsum(step / allowed)])
    cuts = np.flatnonzero(corner)
    span = np.diff(along[cuts])
    most = np.where(span < SHORT_PIECE, np.floor(span / (ROUND_A_BEND * SHORTEST)), np.inf)
    counts = np.maximum(1, np.minimum(np.ceil(np.diff(measure[cuts]) - 1e-6), most)).astype(np.int64)
    owner = np.repeat(np.arange(len(counts)), counts)
    within = np.arange(len(owner)) - np.repeat(np.cumsum(counts) - counts, counts)
    wanted = measure[cuts][owner] + within / counts[owner] * np.diff(measure[cuts])[owner]
    where = np.interp(np.append(wanted, measure[-1]), measure, along)
    return merge_short(at_lengths(xy, where, along))


def pass_points(line: Polyline, recipe: RunRecipe) -> Floats:
    """The needle points (n, 2) of one pass along a path as its recipe asks for.

    A back-stitch goes two points on and one back: its chords are twice as long and leave a bend four times as far.
    """
    if recipe.style == "back-stitch":
        return run_points(line, recipe.length, recipe.chord / 4, SHORTEST + 0.05)
    return run_points(line, recipe.length, recipe.chord)


def merge_short(xy: Floats, least: float = SHORTEST) -> Floats:
    """``xy`` without the points that lie nearer than ``least`` to the one before; both ends stay."""
    return xy[long_enough(xy, least)]


def long_enough(xy: Floats, least: float) -> NDArray[np.int64]:
    """Which points of ``xy`` (n, 2) to keep so that none lies nearer than ``least`` to the one before, (m,).

    Both ends stay, so that of two points alone both do.
    """
    kept = np.arange(len(xy))
    while len(kept) > 2:
        short = np.hypot(*np.diff(xy[kept], axis=0).T) < least
        if not short.any():
            break
        gone = np.append(False, short)
        if gone[-1]:
            gone[-1], gone[-2] = False, len(kept) > 2
        starts = np.maximum.accumulate(np.where(gone, 0, np.arange(len(gone))))
        gone &= (np.arange(len(gone)) - starts) % 2 == 1
        gone[0] = False
        if not gone.any():
            break
        kept = kept[~gone]
    return kept


def split_long(xy: Floats, limit: float) -> Floats:
    """``xy`` with points added so that no two are more than ``limit`` apart."""
    size = np.hypot(*(xy[1:] - xy[:-1]).T)
    if len(xy) < 2 or size.max() <= limit:
        return xy
    pieces = np.maximum(1, np.ceil(size / limit)).astype(np.int64)
    stroke = np.repeat(np.arange(len(pieces)), pieces)
    within = np.arange(len(stroke)) - np.repeat(np.cumsum(pieces) - pieces, pieces)
    share = (within / pieces[stroke])[:, None]
    return np.vstack([xy[stroke] + share * (xy[stroke + 1] - xy[stroke]), xy[-1:]])


def straight_run(path: Floats, length: float = TRAVEL_LENGTH) -> Floats:
    """Needle points along a polyline whose bends are all needle points."""
    size = np.hypot(*(path[1:] - path[:-1]).T)
    if (size >= SHORTEST).all() and (size <= length).all():
        return path
    return split_long(merge_short(_without_crowded_bends(distinct(path))), length)


def _without_crowded_bends(path: Floats) -> Floats:
    """``path`` without bends nearer to each other than a safe stitch: of two, the flatter one goes."""
    while len(path) > 3:
        gap = np.hypot(*np.diff(path, axis=0).T)
        k = int(np.argmin(gap))
        if gap[k] >= SHORTEST:
            break
        bends = [one for one in (k, k + 1) if 0 < one < len(path) - 1]
        depth = [_depth(path[one - 1], path[one], path[one + 1]) for one in bends]
        path = np.delete(path, bends[int(np.argmin(depth))], axis=0)
    return path


def _depth(before: Floats, at: Floats, after: Floats) -> float:
    """How far a bend lies from the straight line between its neighbours."""
    step, way = after - before, at - before
    size = max(float(np.hypot(*step)), 1e-9)
    return abs(float(step[0] * way[1] - step[1] * way[0])) / size


def styled(points: Floats, style: RunStyle, repeats: int, same_way: bool = False) -> Floats:
    """The order in which a run visits its needle points: the style, then whole repeats, there and back.

    Repeats of a closed line go round again the ``same_way`` if asked.
    """
    n = len(points)
    once = np.arange(n)
    match style:
        case "single":
            order = once
        case "there and back":
            order = np.concatenate([once, once[-2::-1]])
        case "triple":
            order = np.append(0, (once[:-1, None] + np.array([1, 0, 1])).ravel())
        case "back-stitch":
            ahead = np.column_stack([once[1:], once[:-1]]).ravel()
            order = np.concatenate([[0], ahead, [n - 1]]) if n > 2 else once
    closed_walk = order[0] == order[-1] or (same_way and bool((points[0] == points[-1]).all()))
    passes = [order if closed_walk or k % 2 == 0 else order[::-1] for k in range(max(1, repeats))]
    joined = [p if k == 0 else p[1:] for k, p in enumerate(passes)]
    return points[np.concatenate(joined)]


def evenly(xy: Floats, length: float) -> Floats:
    """Needle points along a smooth polyline, spread evenly, at most ``length`` apart."""
    along = lengths(xy)
    count = max(1, math.ceil(along[-1] / length - 1e-9))
    return merge_short(at_lengths(xy, np.linspace(0, along[-1], count + 1), along))
