"""What a stroke paints: its width as it is seen, dashes, pens that are not round, and where markers stand on it."""

import math
from itertools import cycle
from typing import NamedTuple

import numpy as np

from jontel.artwork.pieces import Cap, Join, Piece, stroked
from jontel.artwork.svg.outlines import longer
from jontel.artwork.svg.paint import Paint
from jontel.artwork.svg.style import Style, View, length
from jontel.artwork.svg.views import UNMOVED
from jontel.design.paths import Matrix, inverted, number_text
from jontel.geometry.combining import drawn_again
from jontel.geometry.nodes import chains_of
from jontel.geometry.polyline import FINE, Floats, at_lengths, flatten, lengths, moved

EVEN = 1.02
"""A pen whose sides differ by less than this factor is round."""
MOST_DASHES = 2_000
CAPS: dict[str, Cap] = {"round": "round", "square": "square"}
JOINS: dict[str, Join] = {"round": "round", "bevel": "bevel"}


class Dashes(NamedTuple):
    """How many dashes and gaps there are, mm each, and where in them a line begins."""

    pattern: tuple[float, ...]
    offset: float


class Corner(NamedTuple):
    """A place where a marker stands: which of the three, where, mm, and which way it looks, degrees clockwise."""

    which: str
    at: tuple[float, float]
    heading: float


def sides(matrix: Matrix) -> tuple[float, float]:
    """By how much a matrix scales at most and at least."""
    a, b, c, d, _, _ = matrix
    most, least = np.linalg.svd(np.array([[a, c], [b, d]]), compute_uv=False).tolist()
    return most, least


def stroke_of(path: str, style: Style, view: View, matrix: Matrix, paint: Paint, per_pixel: float) -> list[Piece]:
    """The stroke along a path in mm; ``per_pixel`` is how many mm a pixel of the whole drawing is."""
    fixed = style.said("vector-effect") == "non-scaling-stroke"
    most, least = (per_pixel, per_pixel) if fixed else sides(matrix)
    scale = math.sqrt(most * least)
    plain = length(style.get("stroke-width", "1"), style.font_size, view.of(""), 1.0)
    if plain <= 0 or scale <= 0:
        return []
    cap = CAPS.get(style.said("stroke-linecap"), "butt")
    join = JOINS.get(style.said("stroke-linejoin"), "miter")
    mitre = max(length(style.get("stroke-miterlimit", "4"), 1.0, 1.0, 4.0), 1.0)
    uneven = most > EVEN * least
    pen: Matrix = (matrix[0], matrix[1], matrix[2], matrix[3], 0.0, 0.0)
    dashes = _dashes(style, view, 1.0 if uneven else scale)
    if dashes is not None:
        path = dashed(path, dashes, inverted(pen) if uneven else UNMOVED)
    colour, alpha = paint
    if uneven:
        region = stroked(path, plain, cap, join, mitre, pen)
        return [] if region.is_empty else [Piece(drawn_again(region), colour, alpha)]
    if cap == "square":
        path = longer(path, plain * scale / 2)
    return [Piece(path, colour, alpha, "nonzero", plain * scale, "round" if cap == "round" else "butt", join, mitre)]


def _dashes(style: Style, view: View, scale: float) -> Dashes | None:
    said = style.said("stroke-dasharray", "none").replace(",", " ").split()
    pattern = [length(one, style.font_size, view.of(""), -1.0) * scale for one in said]
    if not pattern or min(pattern) < 0 or sum(pattern) <= 0:
        return None
    offset = length(style.get("stroke-dashoffset", "0"), style.font_size, view.of("")) * scale
    return Dashes(tuple(pattern) * (1 + len(pattern) % 2), offset)


def dashed(path: str, dashes: Dashes, measured: Matrix = UNMOVED) -> str:
    """The dashes of lines, as long as ``measured`` by a matrix; lines of more than ``MOST_DASHES`` stay whole."""
    parts: list[str] = []
    whole = sum(dashes.pattern)
    for line in flatten(path, FINE):
        xy = line.loop() if line.closed else line.xy
        along = lengths(moved(xy, measured))
        end = float(along[-1])
        if end / whole * len(dashes.pattern) / 2 > MOST_DASHES:
            return path
        at = -(dashes.offset % whole)
        for k, size in cycle(enumerate(dashes.pattern)):
            if at >= end:
                break
            start, stop = max(at, 0.0), min(at + size, end)
            at += size
            if k % 2 == 0 and stop > start:
                parts.append(_between(xy, along, start, stop))
    return " ".join(parts)


def _between(xy: Floats, along: Floats, start: float, stop: float) -> str:
    """Path data of a piece of a line (n, 2), from one length along it to another."""
    inner = xy[(along > start + 1e-6) & (along < stop - 1e-6)]
    ends = at_lengths(xy, np.array([start, stop]), along)
    spots = np.vstack([ends[:1], inner, ends[1:]]).tolist()
    return "M" + " L".join(f"{number_text(x)} {number_text(y)}" for x, y in spots)


def corners_of(path: str) -> list[Corner]:
    """Where the markers of a path stand: at its first and last node, and at all between."""
    found: list[Corner] = []
    chains = chains_of(path)
    for number, chain in enumerate(chains):
        c = chain.controls()
        if not len(c):
            continue
        leave, arrive = _headings(c)
        count = len(chain.at) + chain.closed
        for k in range(count):
            first, last = k == 0, k == count - 1
            if chain.closed and (first or last):
                heading = _middle(arrive[-1], leave[0])
            else:
                heading = leave[0] if first else arrive[-1] if last else _middle(arrive[k - 1], leave[k])
            ends = "end" if last and number == len(chains) - 1 else "mid"
            x, y = chain.at[k % len(chain.at)].tolist()
            found.append(Corner("start" if first and number == 0 else ends, (x, y), heading))
    return found


def _headings(c: Floats) -> tuple[list[float], list[float]]:
    """The ways in which pieces (n, 4, 2) leave their first and reach their last node, degrees clockwise."""

    def way(points: Floats) -> float:
        for k in (1, 2, 3):
            step = points[k] - points[0]
            if np.hypot(*step) > 1e-6:
                return math.degrees(math.atan2(step[1], step[0]))
        return 0.0

    return [way(one) for one in c], [(way(one[::-1]) + 180) % 360 for one in c]


def _middle(one: float, other: float) -> float:
    """The way between two."""
    return one + ((other - one + 180) % 360 - 180) / 2
