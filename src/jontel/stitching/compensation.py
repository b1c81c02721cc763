"""Pull and push: the edge that is sewn so that the cloth ends up as drawn."""

import itertools
from collections.abc import Callable

import numpy as np
import shapely
from shapely import MultiPolygon, Polygon, affinity
from shapely.geometry.base import BaseGeometry

from jontel.design.ground import EdgesRecipe
from jontel.design.store import kept
from jontel.geometry.arrays import Ints, ragged
from jontel.geometry.columns import Rails
from jontel.geometry.hatch import hatch
from jontel.geometry.polyline import Floats, at_lengths, lengths
from jontel.geometry.region import GRID, Region, polygons_of, rings_of, thinned

FINE_ROWS, MOST_ROWS = 0.25, 800
"""How far apart, mm, rows are looked at, and how many of one polygon at most."""
MANY, DUST = 1500, 0.01
"""A region of so many nodes is grown without those that lie within the second, mm, of a line between others."""
EVEN = 0.005
"""How far from its even course, mm, the end of a row may be moved."""


def row_pull(edges: EdgesRecipe, angle: float | Floats) -> Floats:
    """The pull at each end, mm, of rows at ``angle`` degrees: what is the same for all, and the part of x and y."""
    a = np.radians(angle)
    return np.asarray(edges.pull + edges.pull_x * np.cos(a) ** 2 + edges.pull_y * np.sin(a) ** 2)


def pull_share(edges: EdgesRecipe, length: Floats) -> Floats:
    """The part of the pull in mm that rows of ``length`` mm grow by, of the same shape."""
    return np.asarray(edges.pull_short + (1 - edges.pull_short) * np.clip(length / edges.pull_from, 0, 1))


def compensated_area(region: Region, edges: EdgesRecipe, angle: float = 0.0) -> Region:
    """A region with level rows (at ``angle`` on the cloth), grown at the rows' ends and drawn back across.

    Growing by the pull is the Minkowski sum with a level segment as long as the row there asks for, drawing back by
    the push the erosion by an upright one (J. Serra, "Image analysis and mathematical morphology", 1982). A part too
    thin to be drawn back keeps its height.
    """
    parts: list[Polygon] = []
    for part in _without_dust(region).geoms:
        kept = polygons_of(part)
        if edges.push > 0:
            up, down = affinity.translate(part, 0, -edges.push), affinity.translate(part, 0, edges.push)
            drawn = polygons_of(part & up & down)
            if drawn.area > 0.4 * part.area:
                kept = drawn
        parts.extend(kept.geoms)
    pull = min(float(row_pull(edges, angle)), edges.pull_ceiling)
    if pull == 0 or not parts:
        return MultiPolygon(parts)
    if pull < 0:
        return polygons_of(shapely.unary_union([_narrowed(part, -pull) for part in parts]))
    grown = [swept(part, lambda length: pull * pull_share(edges, length)) for part in parts]
    return grown[0] if len(grown) == 1 else polygons_of(shapely.unary_union(grown))


def _without_dust(region: Region) -> Region:
    """A region without the finest of its nodes where it has very many: each costs time in all that is made of it."""
    few = shapely.get_num_coordinates(region) < MANY
    return region if few else MultiPolygon([thinned(part, DUST) for part in region.geoms])


def _narrowed(part: Polygon, by: float) -> Region:
    """A polygon whose level rows are shorter by ``by`` at each end; where they have no length left, as it was."""
    left = polygons_of(part & affinity.translate(part, by, 0) & affinity.translate(part, -by, 0))
    return left if left.area > 0.4 * part.area else polygons_of(part)


def swept(part: Polygon, reach: Callable[[Floats], Floats]) -> Region:
    """The union of a polygon's level rows, each longer at both ends by what ``reach`` gives for its length.

    Each piece of the rim that only rises or only falls sweeps a simple polygon; level pieces sweep none.
    """
    chains: list[Floats] = []
    for ring in rings_of(part):
        loop = np.vstack([ring, ring[:1]])
        rise = np.sign(np.diff(loop[:, 1])).astype(np.int64)
        turns = np.flatnonzero(np.diff(rise)) + 1
        for first, last in itertools.pairwise([0, *turns.tolist(), len(rise)]):
            if rise[first]:
                chains.append(loop[first : last + 1][:: rise[first]])
    return polygons_of(_united(part, _Rows(part).bands(chains, reach)))


def _united(part: Polygon, bands: list[Polygon]) -> BaseGeometry:
    """A polygon and the bands beside it in one, on a grid only where rounding loses area without: that takes long.

    Sound polygons that overlap are united in one sweep when they are grown by nothing, in a third of the time.
    """
    if shapely.is_valid(bands).all():  # bands of a rim that is all but level are no sound polygons
        most = part.area + sum(band.area for band in bands)
        slack = GRID * part.length
        whole = shapely.set_precision(MultiPolygon([part, *bands]).buffer(0), GRID)
        if part.area - slack <= whole.area <= most + slack:
            return whole
    return shapely.unary_union([part, *bands], grid_size=GRID)


class _Rows:
    """The lengths of a polygon's level rows, looked up at its rim."""

    def __init__(self, part: Polygon) -> None:
        left, low, right, high = part.bounds
        count = int(np.clip((high - low) / FINE_ROWS, 8, MOST_ROWS))
        self.heights = np.linspace(low, high, 2 * count + 1)[1::2]
        rows = hatch(rings_of(part), self.heights, (high - low) / count)
        self.shift, self.size, self.apart = left - 1.0, right - left + 2.0, high - low + 1.0
        ends = np.column_stack([rows.left, rows.right])
        self.keys = (rows.row[:, None] * self.size + ends - self.shift).ravel()
        self.lengths = np.repeat(rows.right - rows.left, 2)

    def bands(self, chains: list[Floats], reach: Callable[[Floats], Floats]) -> list[Polygon]:
        """What pieces of rim that rise, (n, 2) each, sweep to both sides by what ``reach`` gives for the row there.

        Points are added where the rows' lengths do not change evenly between their own. All pieces are worked out
        at once: where they are looked up, each lies ``apart`` from the one before.
        """
        xy = np.vstack(chains)
        sizes = np.array([len(one) for one in chains])
        starts = np.cumsum(sizes) - sizes
        owner, _ = ragged(sizes)
        low, heights = xy[starts, 1], xy[:, 1] + owner * self.apart
        first, last = (np.searchsorted(self.heights, xy[ends, 1]) for ends in (starts, starts + sizes - 1))
        chain, within = ragged(last - first)
        row = first[chain] + within
        y = self.heights[row]
        x = np.interp(y + chain * self.apart, heights, xy[:, 0])
        chain, y, grown = _uneven(chain, y, reach(self._lengths_at(row, x)))
        added = np.column_stack([np.interp(y + chain * self.apart, heights, xy[:, 0]), y])
        xy, owner = np.vstack([xy, added]), np.concatenate([owner, chain])
        order = np.argsort(xy[:, 1] + owner * self.apart, kind="stable")
        xy, owner = xy[order], owner[order]
        between = np.flatnonzero(first == last)  # two rows: as if the row there had no length
        chain = np.concatenate([chain, between])
        y = np.concatenate([y, low[between]])
        grown = np.concatenate([grown, reach(np.zeros(len(between)))])
        order = np.lexsort((y, chain))
        chain, y, grown = chain[order], y[order], grown[order]
        pieces = np.arange(len(chains))
        lowest, highest = y[np.searchsorted(chain, pieces)], y[np.searchsorted(chain, pieces, side="right") - 1]
        at = np.clip(xy[:, 1], lowest[owner], highest[owner])
        by = np.interp(at + owner * self.apart, y + chain * self.apart, grown)
        return _beside(xy, by, owner)

    def _lengths_at(self, row: Ints, x: Floats) -> Floats:
        """The lengths of those pieces of rows ``row`` (n,) that begin or end nearest to ``x`` (n,), mm, (n,)."""
        wanted = row * self.size + x - self.shift
        after = np.clip(np.searchsorted(self.keys, wanted), 1, len(self.keys) - 1)
        return self.lengths[after - (wanted - self.keys[after - 1] < self.keys[after] - wanted)]


def _uneven(chain: Ints, y: Floats, grown: Floats) -> tuple[Ints, Floats, Floats]:
    """Of what was found at heights ``y`` of pieces of rim ``chain``, (n,) each, what the rest lies evenly between."""
    several = np.bincount(chain)[chain] > 1  # a line has two ends
    found = np.column_stack([y, grown])
    some, number = np.unique(chain[several], return_inverse=True)
    lines = shapely.simplify(shapely.linestrings(found[several], indices=number), EVEN, preserve_topology=False)
    left, which = shapely.get_coordinates(lines, return_index=True)
    left = np.vstack([left, found[~several]])
    return np.concatenate([some[which], chain[~several]]), left[:, 0], left[:, 1]


def _beside(xy: Floats, by: Floats, owner: Ints) -> list[Polygon]:
    """The places that lie level beside those of pieces of rim (n, 2) by no more than ``by`` (n,) to both sides.

    ``owner`` (n,) says of which piece each is.
    """
    count = np.bincount(owner)
    piece, within = ragged(2 * count)
    there = within < count[piece]
    at = (np.cumsum(count) - count)[piece] + np.where(there, within, 2 * count[piece] - 1 - within)
    around = xy[at] + np.column_stack([np.where(there, -by[at], by[at]), np.zeros(len(at))])
    return list(shapely.polygons(shapely.linearrings(around, indices=piece)))


@kept
def compensated_rails(rails: Rails, edges: EdgesRecipe) -> Rails:
    """A column widened by the pull at each edge and shortened by the push at each open end; kept once found."""
    a, b = rails.a, rails.b
    if edges.push > 0 and not rails.closed and len(a) > 2:
        along = lengths(rails.middle)
        start = 0.0 if rails.fixed_ends[0] else edges.push
        stop = along[-1] - (0.0 if rails.fixed_ends[1] else edges.push)
        if stop - start > 0.5 * along[-1]:
            inner = along[(along > start) & (along < stop)]
            marks = np.concatenate([[start], inner, [stop]])
            a, b = at_lengths(a, marks, along), at_lengths(b, marks, along)
    width = np.hypot(*(b - a).T)
    across = (b - a) / np.maximum(width, 1e-9)[:, None]
    angle = np.degrees(np.arctan2(-across[:, 1], across[:, 0]))
    grow = row_pull(edges, angle) * pull_share(edges, width) + edges.pull_percent / 100 * width
    grow = np.minimum(grow, edges.pull_ceiling)
    thin = np.clip(width / 0.3, 0, 1)
    shift = across * (grow * thin)[:, None]
    return Rails(a - shift, b + shift, rails.closed, rails.fixed_ends)


def inset_rails(rails: Rails, inset: float) -> Rails:
    """A column narrowed by ``inset`` at each edge and open end, never below a third of its width."""
    width = np.hypot(*(rails.b - rails.a).T)
    across = (rails.b - rails.a) / np.maximum(width, 1e-9)[:, None]
    a, b = (
        edge + sign * across * np.minimum(inset / _slant(edge, across), width / 3)[:, None]
        for edge, sign in ((rails.a, 1), (rails.b, -1))
    )
    if not rails.closed and len(a) > 2:
        most = len(a) // 4
        first = _off_the_end(rails, inset, most)
        last = len(a) - _off_the_end(rails.reversed(), inset, most)
        a, b = a[first:last], b[first:last]
    return Rails(a, b, rails.closed)


def _off_the_end(rails: Rails, by: float, most: int) -> int:
    """How many rows to leave out so that both ends of the next are ``by`` mm from the first row's line."""
    step = rails.b[0] - rails.a[0]
    normal = np.array([-step[1], step[0]]) / max(float(np.hypot(*step)), 1e-9)
    if np.hypot(*step) < by:
        off = np.hypot(*(rails.middle[: most + 1] - rails.middle[0]).T)
    else:
        off = np.minimum(*(np.abs((edge[: most + 1] - rails.a[0]) @ normal) for edge in (rails.a, rails.b)))
    far = np.flatnonzero(off >= by - 1e-9)
    return int(far[0]) if len(far) else most


def _slant(edge: Floats, across: Floats) -> Floats:
    """How square rows along ``across`` (n, 2) stand on an edge (n, 2), 1 for square, never under a third, (n,)."""
    along = np.gradient(edge, axis=0)
    along = along / np.maximum(np.hypot(*along.T), 1e-9)[:, None]
    return np.asarray(np.maximum(np.abs(along[:, 0] * across[:, 1] - along[:, 1] * across[:, 0]), 1 / 3))
