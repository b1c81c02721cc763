"""Honest measures of a sewn object: the tests, the benchmark and the proof use the same ones."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from jontel.geometry.columns import Rails
from jontel.geometry.frames import Straight
from jontel.geometry.outline import smooth
from jontel.geometry.polyline import Floats, lengths
from jontel.stitching.stitches import Kind, Layer, Stitches

LENGTH_STEP = 0.5
SQUARE, SQUARE_STEP, SQUARE_EVENED = 20.0, 0.1, 5.0
"""Rows within the first, degrees, are square to a column, looked at every so many mm, evened over so many of them."""
TOGETHER = 60
"""So many lines of thread are widened in one go: a buffer of thousands takes more than their union."""
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


def _threads(lines: Floats, width: float, quad_segs: int = 4) -> BaseGeometry:
    """The cloth that thread of ``width`` mm along ``lines`` (n, 2, 2) lies on.

    Lines that go on where the last one ended are widened together: to unite them one by one takes ten times as long.
    Where thread that all but touches itself loses cloth by that, in rounding, it is done one by one.
    """
    if not len(lines):
        return shapely.Polygon()
    apart = np.append(True, (lines[1:, 0] != lines[:-1, 1]).any(axis=1))
    number = np.arange(len(lines))
    apart |= (number - np.flatnonzero(apart)[np.cumsum(apart) - 1]) % TOGETHER == 0
    chain = np.cumsum(apart) - 1
    spots = np.vstack([lines[apart, 0], lines[:, 1]])
    owner = np.concatenate([chain[apart], chain])
    order = np.argsort(owner, kind="stable")
    chains = shapely.linestrings(spots[order], indices=owner[order])
    wide = np.asarray(shapely.buffer(chains, width / 2, quad_segs=quad_segs))
    lost = np.isin(chain, chain[~_lies_on(lines, wide[chain], width)])
    single = np.asarray(shapely.buffer(shapely.linestrings(lines[lost]), width / 2, quad_segs=quad_segs))
    return shapely.union_all([*np.delete(wide, chain[lost]), *single])


def _lies_on(lines: Floats, cloth: NDArray[np.object_], width: float) -> NDArray[np.bool_]:
    """Whether both sides of the thread of each of ``lines`` (n, 2, 2) lie on its ``cloth`` (n,) half way along."""
    way = lines[:, 1] - lines[:, 0]
    size = np.maximum(np.hypot(*way.T), 1e-9)
    beside = np.column_stack([-way[:, 1], way[:, 0]]) * (0.4 * width / size)[:, None]
    middle = lines.mean(axis=1)
    both = [shapely.contains_xy(cloth, *(middle + side * beside).T) for side in (1.0, -1.0)]
    answer: NDArray[np.bool_] = both[0] & both[1]
    return answer


def coverage(lines: Floats, shape: BaseGeometry, width: float = 0.40) -> float:
    """The part of ``shape`` that thread of ``width`` mm along ``lines`` (n, 2, 2) covers."""
    threads = _threads(lines, width)
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
    """How many mm of travel lie on top: those of stitches whose middle no thread of the cover lies on later.

    A thread lies on what is nearer to its middle than half its ``width``.
    """
    sewn = np.flatnonzero((stitches.kind[1:] == Kind.STITCH) & (stitches.kind[:-1] == Kind.STITCH)) + 1
    cover = sewn[stitches.layer[sewn] == Layer.COVER]
    travel = sewn[stitches.layer[sewn] == Layer.TRAVEL]
    if not len(cover) or not len(travel):
        return 0.0
    threads = np.asarray(shapely.linestrings(np.stack([stitches.xy[cover - 1], stitches.xy[cover]], axis=1)))
    middle = (stitches.xy[travel] + stitches.xy[travel - 1]) / 2
    which, thread = shapely.STRtree(threads).query(shapely.points(middle), predicate="dwithin", distance=width / 2)
    hidden = np.zeros(len(travel), dtype=np.bool_)
    hidden[which[cover[thread] > travel[which]]] = True
    return float(np.hypot(*(stitches.xy[travel] - stitches.xy[travel - 1]).T)[~hidden].sum())


def bare(lines: Floats, shape: BaseGeometry, width: float = 0.40) -> BaseGeometry:
    """The part of ``shape`` that thread of ``width`` mm along ``lines`` (n, 2, 2) leaves bare."""
    threads = _threads(lines, width)
    return shapely.difference(shape, threads)


def largest_bare(lines: Floats, shape: BaseGeometry, width: float = 0.40) -> float:
    """How wide, mm, the largest circle is that fits into what thread along ``lines`` (n, 2, 2) leaves bare."""
    left = bare(lines, shape, width)
    pieces = [one for one in getattr(left, "geoms", [left]) if one.area > 0.003]
    pieces.sort(key=lambda one: -float(one.area))
    circles = [shapely.maximum_inscribed_circle(one, 0.005).length for one in pieces[:40]]
    return 2 * max(circles, default=0.0)


def crossings(lines: Floats, least: float = 1.0, clear: float = 0.3) -> int:
    """How often stitches of ``lines`` (n, 2, 2) that are longer than ``least`` mm cross each other.

    A turn that runs along the rim over the very end of a row, by less than ``clear`` mm, does not count.
    """
    size = np.hypot(*(lines[:, 1] - lines[:, 0]).T)
    long = lines[size > least]
    inward = (long[:, 1] - long[:, 0]) * (clear / size[size > least])[:, None]
    threads = np.asarray(shapely.linestrings(np.stack([long[:, 0] + inward, long[:, 1] - inward], axis=1)))
    return int(shapely.STRtree(threads).query(threads, predicate="crosses").shape[1] // 2)


def rim_deviation(lines: Floats, shape: BaseGeometry, width: float = 0.40) -> float:
    """How far the rim of the thread along ``lines`` (n, 2, 2) goes in and out about that of ``shape``, mm.

    From the 2.5th to the 97.5th of 100 places on the thread's outer rims.
    """
    closing = width / 8  # what lies between rows is no rim
    wider = _threads(lines, width + 2 * closing, 8)
    threads = shapely.buffer(wider, -closing, quad_segs=4)
    rims = [ring for part in getattr(threads, "geoms", [threads]) for ring in (part.exterior, *part.interiors)]
    rims = [ring for ring in rims if shapely.Polygon(ring).area > 1.0]
    if not rims:
        return 0.0
    spots = np.asarray(
        shapely.points(np.vstack([shapely.get_coordinates(shapely.segmentize(ring, 0.1)) for ring in rims]))
    )
    off = shapely.distance(spots, shape.boundary) * np.where(shapely.covers(shape, spots), -1.0, 1.0)
    return float(np.subtract(*np.percentile(off, (97.5, 2.5))))


def lattice_strength(stitches: Stitches, angle: float, length: float, rows: int = 8) -> float:
    """How much the needle points inside rows at ``angle`` degrees repeat from row to row, from 0 to 1.

    For each distance of up to ``rows`` rows: which part of the points has another one there at the same shift
    along the row, of all shifts that are a tenth of ``length`` wide the most frequent.
    """
    level = Straight(angle).to(stitches.xy)
    ours = (stitches.kind == Kind.STITCH) & (stitches.layer == Layer.COVER)
    inner = np.flatnonzero(ours[1:-1] & ours[:-2] & ours[2:]) + 1
    flat = (np.abs(level[inner, 1] - level[inner - 1, 1]) < 0.05) & (
        np.abs(level[inner, 1] - level[inner + 1, 1]) < 0.05
    )
    points = level[inner[flat]]
    if len(points) < 2 * rows:
        return 0.0
    tops = np.unique(points[:, 1].round(2))
    pitch = float(np.median(np.diff(tops[np.append(True, np.diff(tops) > 0.1)])))
    pairs = scipy.spatial.cKDTree(points).query_pairs(
        float(np.hypot(rows * pitch + 0.05, length)), output_type="ndarray"
    )
    way = points[pairs[:, 1]] - points[pairs[:, 0]]
    way *= np.where(way[:, 1] < 0, -1.0, 1.0)[:, None]
    apart = np.rint(way[:, 1] / pitch).astype(np.int64)
    strongest = 0.0
    for one in range(1, rows + 1):
        shift = way[apart == one, 0] % length
        if len(shift) > 20:
            count = np.bincount(np.floor(shift / length * 20).astype(np.int64) % 20, minlength=20)
            both = count + np.roll(count, 1)
            strongest = max(strongest, float(both.max() / len(shift)))
    return strongest


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
    rows = np.asarray(shapely.linestrings(lines[size > 0.7]))
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


def squareness(columns: Sequence[Rails]) -> float:
    """The part of the length of columns over which rows lie within ``SQUARE`` of square to them.

    That is square to one of the edges, evened over about a mm, or to the way between both: where an end leans, the
    edge that is cut short there says nothing of the column's way.
    """
    good = every = 0
    for rails in columns:
        along = lengths(rails.middle)
        where = np.arange(0.0, float(along[-1]), SQUARE_STEP)
        at = np.minimum(np.searchsorted(along, where), len(along) - 1)
        row = (rails.b - rails.a)[at]
        ways = [np.gradient(smooth(edge[at], SQUARE_EVENED), axis=0) for edge in (rails.a, rails.b)]
        ways = [way / np.maximum(np.hypot(*way.T), 1e-9)[:, None] for way in ways]
        lean = [np.abs((row * way).sum(axis=1)) / np.maximum(np.hypot(*row.T) * np.hypot(*way.T), 1e-9)
                for way in (*ways, ways[0] + ways[1])]  # fmt: skip
        good += int((np.min(lean, axis=0) < np.sin(np.radians(SQUARE))).sum())
        every += len(where)
    return good / max(every, 1)
