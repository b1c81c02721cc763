"""Honest measures of a sewn object: the tests, the benchmark and the proof use the same ones."""

from dataclasses import dataclass

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
import shapely
from shapely.geometry.base import BaseGeometry

from jontel.geometry.polyline import Floats
from jontel.stitching.stitches import Kind, Layer, Stitches

LENGTH_STEP = 0.5
REACH = 3.0
"""How far from a row the next one is looked for, in spacings."""


@dataclass(frozen=True)
class Measures:
    """What was measured. Lengths in mm, shares from 0 to 1.

    ``coverage`` is the part of the shape that the cover's thread hides, ``overspill`` how far the farthest
    needle point lies outside, ``nearest_points`` the two nearest needle points of the cover. ``spacing_error`` is
    the part of the wanted spacing by which 95 of 100 places are off at most; 0 when none was given. ``lengths``
    counts the stitches in steps of ``LENGTH_STEP``. ``travel_share`` and ``exposed_travel`` are parts of the length.
    """

    coverage: float
    overspill: float
    spacing_error: float
    nearest_points: float
    shortest: float
    longest: float
    mean_length: float
    lengths: tuple[int, ...]
    sewn_length: float
    travel_share: float
    exposed_travel: float
    jumps: int


def thread_lines(stitches: Stitches, layers: set[Layer] | None = None) -> Floats:
    """The sewn pieces of thread, (n, 2, 2): from one needle point to the next, without jumps."""
    pair = (stitches.kind[1:] == Kind.STITCH) & (stitches.kind[:-1] == Kind.STITCH)
    if layers is not None:
        pair &= np.isin(stitches.layer[1:], [int(one) for one in layers])
    return np.stack([stitches.xy[:-1][pair], stitches.xy[1:][pair]], axis=1)


def coverage(lines: Floats, shape: BaseGeometry, width: float = 0.40) -> float:
    """The part of ``shape`` that thread of ``width`` mm along ``lines`` (n, 2, 2) covers."""
    threads = shapely.unary_union(shapely.buffer(shapely.linestrings(lines), width / 2, quad_segs=4))
    return float(shapely.intersection(threads, shape).area / shape.area)


def overspill(points: Floats, shape: BaseGeometry) -> float:
    """How far the farthest of ``points`` (n, 2) lies outside ``shape``, mm."""
    return float(shapely.distance(shapely.points(points), shape).max(initial=0.0))


def stitch_lengths(stitches: Stitches) -> Floats:
    """The length of every sewn stitch, mm, (n,)."""
    lines = thread_lines(stitches)
    answer: Floats = np.hypot(*(lines[:, 1] - lines[:, 0]).T)
    return answer


def length_counts(sizes: Floats) -> tuple[int, ...]:
    """How many of stitches ``sizes`` (n,) mm long fall into each step of ``LENGTH_STEP`` from 0 on."""
    return tuple(int(n) for n in np.bincount((sizes / LENGTH_STEP).astype(np.int64))) if len(sizes) else ()


def exposed_travel(stitches: Stitches, width: float = 0.40) -> float:
    """How many mm of travel no thread that is sewn later lies on; travel after the cover's end is not counted."""
    sewn = np.flatnonzero((stitches.kind[1:] == Kind.STITCH) & (stitches.kind[:-1] == Kind.STITCH)) + 1
    cover = sewn[stitches.layer[sewn] == Layer.COVER]
    if not len(cover):
        return 0.0
    travel = sewn[(stitches.layer[sewn] == Layer.TRAVEL) & (sewn < cover.max())]
    threads = np.asarray(shapely.linestrings(np.stack([stitches.xy[cover - 1], stitches.xy[cover]], axis=1)))
    tree = shapely.STRtree(threads)
    exposed = 0.0
    for row in travel.tolist():
        line = shapely.LineString(stitches.xy[[row - 1, row]])
        near = tree.query(line, predicate="dwithin", distance=width)
        later = threads[near[cover[near] > row]]
        hidden = shapely.unary_union(shapely.buffer(later, width * 0.625, quad_segs=4))
        exposed += float(line.difference(hidden).length)
    return exposed


def spacings(stitches: Stitches, expected: float, samples: int = 500) -> Floats:
    """The distance from rows of the cover to the next row on each side, mm, (n,), at up to so many places.

    Measured across the row at the middle of its long stitches; places with no row within ``REACH`` spacings on
    one of the sides, as at a rim, are left out.
    """
    lines = thread_lines(stitches, {Layer.COVER})
    step = lines[:, 1] - lines[:, 0]
    size = np.hypot(*step.T)
    long = np.flatnonzero(size > 1.5)
    long = long[:: max(1, len(long) // samples)]
    middle = lines[long].mean(axis=1)
    across = np.column_stack([-step[long, 1], step[long, 0]]) / size[long, None]
    rows = np.asarray(shapely.linestrings(lines[size > 1.0]))
    tree = shapely.STRtree(rows)
    sides: list[Floats] = []
    for sign in (1.0, -1.0):
        far = middle + sign * REACH * expected * across
        rays = np.asarray(shapely.linestrings(np.stack([middle + sign * 0.02 * across, far], axis=1)))
        ray, row = tree.query(rays, predicate="intersects")
        hit = shapely.distance(shapely.intersection(rays[ray], rows[row]), shapely.points(middle[ray]))
        nearest = np.full(len(middle), np.inf)
        np.minimum.at(nearest, ray, hit)
        sides.append(nearest)
    both = np.stack(sides)
    return np.asarray(both[:, np.isfinite(both).all(axis=0)].mean(axis=0))


def spacing_error(stitches: Stitches, wanted: float) -> float:
    """By which part of ``wanted``, mm, the gaps of 95 of 100 places are off at most; 0 where there are no rows."""
    gaps = spacings(stitches, wanted)
    return float(np.percentile(np.abs(gaps / wanted - 1), 95)) if len(gaps) else 0.0


def measure(stitches: Stitches, shape: BaseGeometry, width: float = 0.40, spacing: float | None = None) -> Measures:
    """Measure the stitches of one object against the shape that they ought to cover.

    ``width`` is the thread's and ``spacing`` the wanted gap from row to row, mm: half its spacing for a satin.
    """
    sizes = stitch_lengths(stitches)
    needle = stitches.xy[stitches.kind == Kind.STITCH]
    cover = stitches.xy[(stitches.kind == Kind.STITCH) & (stitches.layer == Layer.COVER)]
    nearest = np.asarray(scipy.spatial.cKDTree(cover).query(cover, k=2)[0]) if len(cover) > 1 else np.zeros((1, 2))
    travel = thread_lines(stitches, {Layer.TRAVEL})
    travelled = float(np.hypot(*(travel[:, 1] - travel[:, 0]).T).sum())
    return Measures(
        coverage=coverage(thread_lines(stitches, {Layer.COVER}), shape, width),
        overspill=overspill(needle, shape),
        spacing_error=0.0 if spacing is None else spacing_error(stitches, spacing),
        nearest_points=float(nearest[:, 1].min()),
        shortest=float(sizes.min(initial=np.inf)),
        longest=float(sizes.max(initial=0.0)),
        mean_length=float(sizes.mean()),
        lengths=length_counts(sizes),
        sewn_length=float(sizes.sum()),
        travel_share=travelled / max(float(sizes.sum()), 1e-9),
        exposed_travel=exposed_travel(stitches, width) / max(float(sizes.sum()), 1e-9),
        jumps=int((stitches.kind == Kind.JUMP).sum()),
    )
