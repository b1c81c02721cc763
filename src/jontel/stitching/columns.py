"""Satin rows on a column: where the strokes go, short stitches, and rows too long to sew in one."""

import math

import numpy as np

from jontel.geometry.columns import Rails
from jontel.geometry.hatch import ragged
from jontel.geometry.polyline import Floats
from jontel.stitching.running import merge_short

TIGHT = 0.6
"""Where neighbouring points of one edge are nearer than this part of the spacing, every other row stops short."""
STOPS_SHORT = (0.22, 0.36)
STAGGER = np.array([-0.3, 0.1, -0.1, 0.3])
"""Where split points lie about the even place, in parts of a piece, row after row."""


def strokes(rails: Rails, spacing: float) -> tuple[Floats, Floats]:
    """The needle points of a column and how wide it is at each: (n, 2) and (n,).

    Points alternate between the edges; those of one edge are ``spacing`` apart, measured across the rows
    at the column's middle.
    """
    middle = rails.middle
    across = rails.b - rails.a
    width = np.hypot(*across.T)
    row = across / np.maximum(width, 1e-9)[:, None]
    step = np.diff(middle, axis=0)
    mean_row = (row[1:] + row[:-1]) / 2
    advance = np.abs(step[:, 0] * mean_row[:, 1] - step[:, 1] * mean_row[:, 0])
    measure = np.concatenate([[0.0], np.cumsum(advance)])
    count = max(2, round(measure[-1] / (spacing / 2)))
    if rails.closed:
        count += count % 2
    marks = np.linspace(0, measure[-1], count + 1)
    index = np.interp(marks, measure, np.arange(len(measure)))
    low = np.minimum(index.astype(np.int64), len(middle) - 2)
    part = (index - low)[:, None]
    a = rails.a[low] * (1 - part) + rails.a[low + 1] * part
    b = rails.b[low] * (1 - part) + rails.b[low + 1] * part
    on_a = (np.arange(count + 1) % 2 == 0)[:, None]
    return np.where(on_a, a, b), np.hypot(*(b - a).T)


def with_short_stitches(points: Floats, spacing: float) -> Floats:
    """Strokes with every other row stopped short on the inside of tight bends, by two lengths in turn."""
    out = points.copy()
    for side in (0, 1):
        own = np.arange(side, len(points), 2)
        if len(own) < 3:
            continue
        gap = np.hypot(*np.diff(points[own], axis=0).T)
        near = np.minimum(np.append(gap, gap[-1]), np.insert(gap, 0, gap[0]))
        turn = np.arange(len(own))
        short = (near < TIGHT * spacing) & (turn % 2 == 1)
        share = np.where(turn % 4 == 1, *STOPS_SHORT)
        chosen = own[short]
        before = np.maximum(chosen - 1, 0)
        out[chosen] += (points[before] - points[chosen]) * share[short][:, None]
    return out


def split_rows(points: Floats, limit: float) -> Floats:
    """Strokes longer than ``limit`` in pieces; the split points of neighbouring rows do not line up."""
    step = np.diff(points, axis=0)
    length = np.hypot(*step.T)
    reach = 1 + float(STAGGER.max())
    pieces = np.where(length > limit, np.ceil(length * reach / limit), 1).astype(np.int64)
    stroke, within = ragged(pieces)
    share = (within + np.where(within > 0, STAGGER[stroke % len(STAGGER)], 0)) / pieces[stroke]
    return np.vstack([points[stroke] + share[:, None] * step[stroke], points[-1:]])


def satin_points(rails: Rails, spacing: float, limit: float, short_stitches: bool) -> Floats:
    """All needle points of a satin column, (n, 2)."""
    points, _ = strokes(rails, spacing)
    if short_stitches:
        points = with_short_stitches(points, spacing)
    return merge_short(split_rows(points, limit))


def row_angle(rails: Rails) -> float:
    """The mean direction of a column's rows, degrees counter-clockwise from the x axis."""
    across = rails.b - rails.a
    angle = np.arctan2(-across[:, 1], across[:, 0])
    return math.degrees(math.atan2(np.sin(2 * angle).mean(), np.cos(2 * angle).mean()) / 2)
