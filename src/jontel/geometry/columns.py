"""Columns: two edges, and which place on the one faces which place on the other."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
import shapely
from shapely.geometry.base import BaseGeometry

from jontel.design.shapes import Column, Point
from jontel.design.store import kept
from jontel.geometry.polyline import FINE, Floats, Polyline, at_lengths, flatten, lengths, nearest_length, start_at
from jontel.geometry.region import GRID, Region, polygons_of

SAMPLE = 0.08
"""How finely the two edges are followed together, mm."""
LONGEST_LINE = 3.0
"""A direction line crosses a column if its edges are no farther apart on it than so many widths."""
OWN_WIDTHS, OWN_SAMPLES = 1.5, 12
"""Own lines hold so many widths to both sides; beyond, one in so many of the places that face each other is kept."""
SLANTED = 1.12
"""Where following both edges in proportion makes rows so many times longer than they need be, places that face
each other are paired instead."""


@dataclass(frozen=True, eq=False)
class Rails:
    """Places that face each other: ``a`` and ``b`` (n, 2), in order along the column.

    ``fixed_ends`` says of the start and the stop whether rows end there against another piece of the same
    object (a mitre, a seam), so that push compensation leaves them where they are.
    """

    a: Floats
    b: Floats
    closed: bool = False
    fixed_ends: tuple[bool, bool] = (False, False)

    @property
    def middle(self) -> Floats:
        """The middle of the column, (n, 2)."""
        return (self.a + self.b) / 2

    def widths(self) -> Floats:
        """The distance from edge to edge, (n,)."""
        answer: Floats = np.hypot(*(self.b - self.a).T)
        return answer

    def nearest(self, place: Floats) -> int:
        """The number of the row whose middle is nearest to a place (2,)."""
        return int(np.argmin(np.hypot(*(self.middle - place).T)))

    def started_near(self, place: Floats) -> "Rails":
        """A closed column turned so that its seam lies nearest to a place (2,)."""
        k = int(np.argmin(np.hypot(*(self.middle[:-1] - place).T)))
        a, b = (np.vstack([edge[k:-1], edge[: k + 1]]) for edge in (self.a, self.b))
        return Rails(a, b, True, self.fixed_ends)

    def reversed(self) -> "Rails":
        """The same column from its other end."""
        return Rails(self.a[::-1], self.b[::-1], self.closed, (self.fixed_ends[1], self.fixed_ends[0]))

    def moved(self, by: Floats | Point) -> "Rails":
        """The same column elsewhere, moved by (2,)."""
        return Rails(self.a + np.asarray(by), self.b + np.asarray(by), self.closed, self.fixed_ends)

    def outline(self) -> Floats:
        """The column's rim, (2 n, 2), as an open ring."""
        return np.vstack([self.a, self.b[::-1]])


def rails_of(column: Column) -> Rails:
    """The rails of a drawn column.

    Direction lines pair the places that they join; between two of them both edges are followed in
    proportion. Lines that would make the rows cross are left out.
    """
    one, other = _first(column.edge), _first(column.other_edge)
    if one is None or other is None:
        return Rails(np.zeros((0, 2)), np.zeros((0, 2)))
    closed = one.closed and other.closed
    if closed:
        return _closed_rails(one, other, column.lines)
    a, b = one.xy, other.xy
    if _apart(a[0], b[0]) + _apart(a[-1], b[-1]) > _apart(a[0], b[-1]) + _apart(a[-1], b[0]):
        b = b[::-1]
    if not column.lines:
        plain, facing = paired(a, b, [], False), paired(a, b, _facing_places(a, b), False)
        return facing if plain.widths().mean() > SLANTED * facing.widths().mean() else plain
    return paired(a, b, [(nearest_length(a, p), nearest_length(b, q)) for p, q in column.lines], False)


def _first(path: str) -> Polyline | None:
    lines = flatten(path, FINE)
    return lines[0] if lines else None


def _apart(p: Floats, q: Floats) -> float:
    return float(np.hypot(*(p - q)))


def _closed_rails(one: Polyline, other: Polyline, lines: tuple[tuple[Point, Point], ...]) -> Rails:
    if _turning(one.xy) * _turning(other.xy) < 0:
        other = Polyline(other.xy[::-1].copy(), True, other.corner[::-1].copy())
    first = lines[0] if lines else ((float(one.xy[0, 0]), float(one.xy[0, 1])),) * 2
    a = start_at(one, nearest_length(one.loop(), first[0])).loop()
    b = start_at(other, nearest_length(other.loop(), first[1])).loop()
    pairs = [(nearest_length(a, p), nearest_length(b, q)) for p, q in lines[1:]]
    return paired(a, b, pairs, True)


def _facing_places(a: Floats, b: Floats) -> list[tuple[float, float]]:
    """Places along two edges, mm, that face each other: the pairing in order with the least squared distances.

    Dynamic time warping: H. Sakoe and S. Chiba, "Dynamic programming algorithm optimization for spoken word
    recognition" (1978), one diagonal of the table after another.
    """
    along_a, along_b = lengths(a), lengths(b)
    n = int(np.clip(max(along_a[-1], along_b[-1]) / 0.5, 20, 400))
    marks_a, marks_b = np.linspace(0, along_a[-1], n), np.linspace(0, along_b[-1], n)
    one, other = at_lengths(a, marks_a, along_a), at_lengths(b, marks_b, along_b)
    cost = ((one[:, None] - other[None]) ** 2).sum(axis=2)
    total = np.full((n + 1, n + 1), np.inf)
    total[0, 0] = 0.0
    for diagonal in range(2, 2 * n + 1):
        i = np.arange(max(1, diagonal - n), min(n, diagonal - 1) + 1)
        j = diagonal - i
        best = np.minimum(np.minimum(total[i - 1, j], total[i, j - 1]), total[i - 1, j - 1])
        total[i, j] = cost[i - 1, j - 1] + best
    path = [(n, n)]
    while path[-1] != (1, 1):
        row, column = path[-1]
        steps = [(row - 1, column - 1), (row - 1, column), (row, column - 1)]
        path.append(min(steps, key=lambda at: float(total[at])))
    pairs = np.array(path[::-1]) - 1
    smooth = scipy.ndimage.gaussian_filter1d(pairs.astype(np.float64), 3.0, axis=0, mode="nearest")[4:-4:4]
    return [(float(p * along_a[-1] / (n - 1)), float(q * along_b[-1] / (n - 1))) for p, q in smooth]


def _turning(xy: Floats) -> float:
    """Twice the signed area of a ring."""
    after = np.roll(xy, -1, axis=0)
    return float((xy[:, 0] * after[:, 1] - xy[:, 1] * after[:, 0]).sum())


def paired(a: Floats, b: Floats, pairs: list[tuple[float, float]], closed: bool) -> Rails:
    """Two edges (n, 2) and (m, 2) as a column; ``pairs`` are distances along them of places that face."""
    along_a, along_b = lengths(a), lengths(b)
    kept = [(0.0, 0.0)]
    for p, q in sorted(pairs):
        if p > kept[-1][0] + 0.05 and q > kept[-1][1] and p < along_a[-1] - 0.05 and q < along_b[-1]:
            kept.append((p, q))
    kept.append((float(along_a[-1]), float(along_b[-1])))
    marks = np.array(kept)
    size = np.maximum(*np.diff(marks, axis=0).T)
    counts = np.maximum(2, np.ceil(size / SAMPLE).astype(np.int64))
    knots = np.concatenate([[0], np.cumsum(counts)])
    t = np.arange(knots[-1] + 1)
    where_a, where_b = np.interp(t, knots, marks[:, 0]), np.interp(t, knots, marks[:, 1])
    return Rails(at_lengths(a, where_a, along_a), at_lengths(b, where_b, along_b), closed)


def directed(rails: Rails, lines: tuple[tuple[Point, Point], ...]) -> Rails:
    """A column whose rows run along those of ``lines`` that cross it, and turn to its own on both sides of them."""
    edges = shapely.LineString(rails.a), shapely.LineString(rails.b)
    along = lengths(rails.a), lengths(rails.b)
    own: list[tuple[float, float]] = []
    taken = np.ones(len(rails.a), dtype=bool)
    for line in lines:
        drawn = shapely.LineString(line)
        met = [shapely.get_coordinates(shapely.intersection(drawn, edge)) for edge in edges]
        if not len(met[0]) or not len(met[1]):
            continue
        gaps = np.hypot(*(met[0][:, None] - met[1][None]).transpose(2, 0, 1))
        i, j = np.unravel_index(int(np.argmin(gaps)), gaps.shape)
        p, q = nearest_length(rails.a, met[0][i]), nearest_length(rails.b, met[1][j])
        width = float(rails.widths()[np.argmin(np.abs(along[0] - p))])
        if gaps[i, j] > LONGEST_LINE * width:
            continue
        off = abs(q - float(np.interp(p, along[0], along[1])))
        near = max(OWN_WIDTHS * width, 2.0 * off)
        taken &= (np.abs(along[0] - p) > near) & (np.abs(along[1] - q) > near)
        own.append((p, q))
    if not own:
        return rails
    kept = [(float(along[0][k]), float(along[1][k])) for k in np.flatnonzero(taken)[::OWN_SAMPLES]]
    made = paired(rails.a, rails.b, [*kept, *own], rails.closed)
    return Rails(made.a, made.b, rails.closed, rails.fixed_ends)


@kept
def covered(rails: Rails) -> Region:
    """The cloth between the two edges of a column.

    Its outline where that is a simple one, else the union of pieces of it that are.
    """
    if not rails.closed:
        whole = shapely.Polygon(rails.outline())
    else:
        rings = sorted((shapely.Polygon(rails.a), shapely.Polygon(rails.b)), key=lambda ring: -ring.area)
        whole = shapely.Polygon(rings[0].exterior.coords, [rings[1].exterior.coords])
    if whole.is_valid:
        return polygons_of(whole)
    pieces: list[BaseGeometry] = []
    todo = [(0, len(rails.a) - 1)]
    while todo:  # the column as few pieces none of which crosses itself
        first, last = todo.pop()
        outline = np.vstack([rails.a[first : last + 1], rails.b[first : last + 1][::-1]])
        piece = shapely.Polygon(outline)
        if piece.is_valid:
            pieces.append(piece)
        elif last - first < 2:
            pieces.append(shapely.make_valid(piece))
        else:
            middle = (first + last) // 2
            todo += [(first, middle), (middle, last)]
    return polygons_of(shapely.unary_union(pieces, grid_size=GRID))


def all_covered(columns: Sequence[Rails]) -> BaseGeometry:
    """The cloth under several columns."""
    return shapely.unary_union([covered(one) for one in columns], grid_size=GRID)
