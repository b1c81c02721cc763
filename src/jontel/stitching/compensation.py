"""Pull and push: the edge that is sewn so that the cloth ends up as drawn."""

import itertools

import numpy as np
import shapely
from shapely import MultiPolygon, Polygon, affinity

from jontel.design.ground import EdgesRecipe
from jontel.design.store import kept
from jontel.geometry.columns import Rails
from jontel.geometry.polyline import Floats, at_lengths, lengths
from jontel.geometry.region import GRID, Region, polygons_of, rings_of


def row_pull(edges: EdgesRecipe, angle: float | Floats) -> Floats:
    """The pull at each end, mm, of rows at ``angle`` degrees: what is the same for all, and the part of x and y."""
    a = np.radians(angle)
    return np.asarray(edges.pull + edges.pull_x * np.cos(a) ** 2 + edges.pull_y * np.sin(a) ** 2)


def compensated_area(region: Region, edges: EdgesRecipe, angle: float = 0.0) -> Region:
    """A region with level rows (at ``angle`` on the cloth), grown at the rows' ends and drawn back across.

    Growing by the pull is the Minkowski sum with a level segment, drawing back by the push the erosion by an
    upright one (J. Serra, "Image analysis and mathematical morphology", 1982). A part too thin to be drawn back
    keeps its height.
    """
    parts: list[Polygon] = []
    for part in region.geoms:
        kept = polygons_of(part)
        if edges.push > 0:
            up, down = affinity.translate(part, 0, -edges.push), affinity.translate(part, 0, edges.push)
            drawn = polygons_of(part & up & down)
            if drawn.area > 0.4 * part.area:
                kept = drawn
        parts.extend(kept.geoms)
    pull = min(float(row_pull(edges, angle)), edges.pull_ceiling)
    if pull <= 0 or not parts:
        return MultiPolygon(parts)
    grown = [swept(part, pull) for part in parts]
    return polygons_of(shapely.unary_union(grown))


def swept(part: Polygon, reach: float) -> Region:
    """The Minkowski sum of a polygon and a level segment from ``-reach`` to ``reach``.

    Each piece of the rim that only rises or only falls sweeps a simple polygon; level pieces sweep none.
    """
    shift = np.array([reach, 0.0])
    bands: list[Polygon] = []
    for ring in rings_of(part):
        loop = np.vstack([ring, ring[:1]])
        rise = np.sign(np.diff(loop[:, 1]))
        turns = np.flatnonzero(np.diff(rise)) + 1
        for first, last in itertools.pairwise([0, *turns.tolist(), len(rise)]):
            if rise[first] != 0:
                chain = loop[first : last + 1]
                bands.append(shapely.Polygon(np.vstack([chain - shift, (chain + shift)[::-1]])))
    return polygons_of(shapely.unary_union([part, *bands], grid_size=GRID))


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
    grow = np.minimum(row_pull(edges, angle) + edges.pull_percent / 100 * width, edges.pull_ceiling)
    thin = np.clip(width / 0.3, 0, 1)
    shift = across * (grow * thin)[:, None]
    return Rails(a - shift, b + shift, rails.closed, rails.fixed_ends)


def inset_rails(rails: Rails, inset: float) -> Rails:
    """A column narrowed by ``inset`` at each edge and open end, never below a third of its width."""
    width = np.hypot(*(rails.b - rails.a).T)
    across = (rails.b - rails.a) / np.maximum(width, 1e-9)[:, None]
    shift = across * np.minimum(inset, width / 3)[:, None]
    inner = Rails(rails.a + shift, rails.b - shift, rails.closed, rails.fixed_ends)
    ends = EdgesRecipe(pull=0.0, push=inset, pull_ceiling=0.0)
    return compensated_rails(Rails(inner.a, inner.b, rails.closed), ends)
