"""The shapes of covers: fills by what their rows take in, satins by their two edges."""

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
import shapely

from jontel.design.shapes import Area, Column
from jontel.geometry.fitting import fitted
from jontel.geometry.nodes import path_through
from jontel.geometry.polyline import Floats
from jontel.geometry.region import Region, polygons_of, rings_of
from jontel.recovering.strokes import Strokes
from jontel.recovering.threads import Block, Ints

NEAR = 0.06
"""Outlines follow what was sewn within this, mm."""
WIDE, CLOSES = 0.54, 0.8
"""A row takes in so much of the distance to the next on either side; gaps of so much to both sides are closed."""
STAIRS = 0.12
"""Rims follow row ends within this, mm."""
STRAIGHT, TURNING = 10.0, 0.2
"""Rows turn where more than the second part of them lies more than the first, degrees, off their mean way."""
LINES = 5
"""So many direction lines say how rows turn."""
GAPES = 1.1
"""Outside of a turn needle points of a satin lie no farther apart than so many times its spacing."""
SPLIT = 4
"""A column has so many strokes."""


def taken_in(block: Block, some: Ints, apart: float) -> Region:
    """The cloth that rows take in: half of their distance to both sides of each, and what is closed between them."""
    lines = shapely.linestrings(np.stack([block.start[some], block.stop[some]], axis=1))
    grown = shapely.unary_union(shapely.buffer(lines, WIDE * apart, cap_style="flat"))
    return polygons_of(shapely.buffer(shapely.buffer(grown, CLOSES * apart), -CLOSES * apart, join_style="mitre"))


def outline_of(region: Region) -> str:
    """Path data of what rows take in, its stairs smoothed."""
    rings = [ring[:-1] for part in region.geoms for ring in rings_of(part)]
    return path_through(
        tuple(
            fitted(np.asarray(shapely.segmentize(shapely.LinearRing(ring), 0.3).coords)[:-1], STAIRS, closed=True)
            for ring in rings
            if len(ring) >= 3
        )
    )


def area_of(block: Block, some: Ints, cloth: Region) -> tuple[Area, float]:
    """A fill on a cloth as an area with the angle of its rows, degrees; direction lines say how rows turn."""
    rows = some[block.length[some] > 0.6 * np.quantile(block.length[some], 0.9)]  # not what leads from row to row
    way, length = block.way[rows], block.length[rows]
    doubled = 2 * np.arctan2(-way[:, 1], way[:, 0])
    mean = (length * np.exp(1j * doubled)).sum() / max(float(length.sum()), 1e-9)
    angle = round(float(np.degrees(np.angle(mean)) / 2) % 180, 1)
    lines: tuple[tuple[tuple[float, float], tuple[float, float]], ...] = ()
    off = np.abs((np.degrees(np.arctan2(-way[:, 1], way[:, 0])) - angle + 90) % 180 - 90)
    if length[off > STRAIGHT].sum() > TURNING * length.sum():
        lines = _lines(block, some)
    return Area(outline_of(cloth), lines=lines), angle


def _lines(block: Block, some: Ints) -> tuple[tuple[tuple[float, float], tuple[float, float]], ...]:
    """Stitches that show how rows turn: the longest of several parts of a fill, in the order in which it was sewn."""
    found = []
    for part in np.array_split(some, LINES):
        best = part[int(np.argmax(block.length[part]))]
        ends = [tuple(round(float(v), 3) for v in one[best]) for one in (block.start, block.stop)]
        found.append((ends[0], ends[1]))
    return tuple(found)  # type: ignore[arg-type]


def columns_of(strokes: Strokes) -> list[tuple[Column, Floats, Ints]]:
    """The columns of a satin, joined where one goes on where another ends.

    Each with its two edges, (2, n, 2), and the numbers of its strokes.
    """
    runs: list[tuple[Floats, Ints]] = []
    begin = 0
    for k in range(len(strokes)):
        if k + 1 == len(strokes) or strokes.turned[k] != 2:
            part = slice(begin, k + 1)
            begin = k + 1
            if part.stop - part.start >= SPLIT:
                runs.append((_edges(strokes.start[part], strokes.stop[part]), np.arange(part.start, part.stop)))
    return [(_column(edges), edges, some) for edges, some in _joined(runs)]


def spacing_of(edges: Floats) -> float:
    """How far apart needle points of one edge lie, mm: at the middle, or outside where that turns."""
    middle = np.hypot(*np.diff(edges.mean(axis=0), axis=0).T)
    outside = np.hypot(*np.diff(edges, axis=1).transpose(2, 0, 1)).max(axis=0)
    return float(np.median(np.maximum(middle, outside / GAPES)))


def _edges(start: Floats, stop: Floats) -> Floats:
    """The needle points of both edges of strokes that go there and back, (2, n, 2)."""
    ends = np.vstack([start, stop[-1:]])
    a, b = ends[0::2], ends[1::2]
    count = max(len(a), len(b))
    at = np.linspace(0, 1, count)
    both = [
        np.column_stack([np.interp(at, np.linspace(0, 1, len(edge)), edge[:, k]) for k in (0, 1)]) for edge in (a, b)
    ]
    return np.stack(both)


def _joined(runs: list[tuple[Floats, Ints]]) -> list[tuple[Floats, Ints]]:
    """Pieces of columns put together where the end of one is the beginning of another."""
    left = list(runs)
    found: list[tuple[Floats, Ints]] = []
    while left:
        one, mine = left.pop(0)
        grew = True
        while grew:
            grew = False
            for k, (other, theirs) in enumerate(left):
                joined = _met(one, other)
                if joined is not None:
                    one, mine, grew = joined, np.concatenate([mine, theirs]), True
                    left.pop(k)
                    break
        found.append((one, mine))
    return found


def _met(one: Floats, other: Floats) -> Floats | None:
    """Two pieces as one, whichever way round they meet; ``None`` where they do not."""
    for first in (one, one[:, ::-1]):
        for second in (other, other[::-1], other[:, ::-1], other[::-1, ::-1]):
            gaps = np.hypot(*(first[:, -1] - second[:, 0]).T)
            across = np.hypot(*(first[0, -1] - first[1, -1]))
            if gaps.max() < 0.8 and gaps.max() < 0.6 * across:
                return np.concatenate([first, second], axis=1)
    return None


def _column(edges: Floats) -> Column:
    """The column between two edges; rows that stop short do not dent them."""
    paths = [
        path_through((fitted(_outermost(edge, other), NEAR),)) for edge, other in zip(edges, edges[::-1], strict=True)
    ]
    return Column(paths[0], paths[1])


def _outermost(edge: Floats, other: Floats) -> Floats:
    """An edge (n, 2) without the points of rows that stop short of it."""
    if len(edge) < 6:
        return edge
    width = np.hypot(*(edge - other).T)
    usual = scipy.ndimage.maximum_filter1d(width, 5, mode="nearest")
    keep = (width > 0.93 * usual) | (usual - width < 0.25)
    keep[[0, -1]] = True
    answer: Floats = edge[keep]
    return answer
