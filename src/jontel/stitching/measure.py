"""Honest measures of a sewn object: the tests, the benchmark and the proof use the same ones."""

from dataclasses import dataclass

import numpy as np
import shapely
from scipy.spatial import cKDTree
from shapely.geometry.base import BaseGeometry

from jontel.geometry.polyline import Floats
from jontel.stitching.stitches import Kind, Layer, Stitches


@dataclass(frozen=True)
class Measures:
    """What was measured. Lengths in mm, shares from 0 to 1."""

    coverage: float
    overspill: float
    nearest_points: float
    shortest: float
    longest: float
    mean_length: float
    sewn_length: float
    travel_share: float
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


def measure(stitches: Stitches, shape: BaseGeometry, width: float = 0.40) -> Measures:
    """Measure the stitches of one object against the shape that they ought to cover."""
    sizes = stitch_lengths(stitches)
    needle = stitches.xy[stitches.kind == Kind.STITCH]
    cover = stitches.xy[(stitches.kind == Kind.STITCH) & (stitches.layer == Layer.COVER)]
    nearest = np.asarray(cKDTree(cover).query(cover, k=2)[0]) if len(cover) > 1 else np.zeros((1, 2))
    travel = thread_lines(stitches, {Layer.TRAVEL})
    travelled = float(np.hypot(*(travel[:, 1] - travel[:, 0]).T).sum())
    return Measures(
        coverage=coverage(thread_lines(stitches, {Layer.COVER}), shape, width),
        overspill=overspill(needle, shape),
        nearest_points=float(nearest[:, 1].min()),
        shortest=float(sizes.min(initial=np.inf)),
        longest=float(sizes.max(initial=0.0)),
        mean_length=float(sizes.mean()),
        sewn_length=float(sizes.sum()),
        travel_share=travelled / max(float(sizes.sum()), 1e-9),
        jumps=int((stitches.kind == Kind.JUMP).sum()),
    )
