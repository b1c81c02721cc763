"""The stitches of one object: a pure function of its resolved values and its two ends, kept once computed."""

from functools import lru_cache

import numpy as np
import shapely

from jontel.design.covers import BareRecipe, FillRecipe, SatinRecipe
from jontel.design.errors import CannotStitch
from jontel.design.ground import EdgesRecipe
from jontel.design.resolve import Resolved
from jontel.design.shapes import Point, Shape
from jontel.design.underlays import Underlay
from jontel.geometry.columns import covered
from jontel.geometry.polyline import lengths
from jontel.geometry.region import GRID, Region, polygons_of
from jontel.stitching import automatic
from jontel.stitching.columns import limited
from jontel.stitching.compensation import compensated_rails
from jontel.stitching.covers import COVERS, fill, satin
from jontel.stitching.stitches import Stitches


@lru_cache(maxsize=4096)
def stitch(item: Resolved, entry: Point | None = None, exit_: Point | None = None) -> Stitches:
    """The stitches of one object without its locks, from the place nearest ``entry`` to that nearest ``exit_``.

    Raises ``CannotStitch`` with the reason.
    """
    start, stop = (None if p is None else np.asarray(p, dtype=np.float64) for p in (entry, exit_))
    sewn = COVERS[type(item.cover)](item, item.cover, start, stop).stitches()
    if len(sewn) < 2 or not np.isfinite(sewn.xy).all():
        raise CannotStitch("it is too small for a single stitch; enlarge it or delete it")
    return sewn


def sewn_edge(item: Resolved) -> Region:
    """The compensated edge that an object's cover is sewn to; empty for a run or none, which cover no area.

    The same edge is the same object, whatever else about the cover is tuned.

    Raises ``CannotStitch``.
    """
    match item.cover:
        case FillRecipe(angle=angle, border="satin", border_width=width):
            return _bordered(fill.sewn_region(item.shape, item.edges, angle), fill.region_for(item.shape), width)
        case FillRecipe(angle=angle):
            return fill.sewn_region(item.shape, item.edges, angle)
        case SatinRecipe(least_width=least, greatest_width=greatest, narrow_extra=extra):
            return _satin_edge(item.shape, item.edges, (least, greatest, extra))
        case _:
            return Region()


@lru_cache(maxsize=512)
def _bordered(sewn: Region, drawn: Region, width: float) -> Region:
    """What a fill with a satin border along its drawn rim covers."""
    return polygons_of(sewn | drawn.boundary.buffer(width / 2, cap_style="flat", join_style="mitre"))


@lru_cache(maxsize=2048)
def _satin_edge(shape: Shape, edges: EdgesRecipe, widths: tuple[float, float, float]) -> Region:
    least, greatest, extra = widths
    limits = SatinRecipe(least_width=least, greatest_width=greatest, narrow_extra=extra)
    rails = [compensated_rails(limited(one, limits), edges) for one in satin.columns_of(shape)]
    return polygons_of(shapely.unary_union([covered(one) for one in rails], grid_size=GRID))


@lru_cache(maxsize=2048)
def underlay_of(item: Resolved) -> tuple[Underlay, ...]:
    """The underlay passes that an object is sewn with, chosen ones included. Raises ``CannotStitch``."""
    if item.underlay is not None:
        return item.underlay
    match item.cover:
        case FillRecipe():
            return automatic.fill_underlay(item.fill_underlay, sewn_edge(item).area)
        case BareRecipe():
            return automatic.fill_underlay(item.fill_underlay, fill.region_for(item.shape).area)
        case SatinRecipe():
            rails = compensated_rails(satin.columns_of(item.shape)[0], item.edges)
            mean = float(rails.widths().mean())
            return automatic.satin_underlay(mean, mean * float(lengths(rails.middle)[-1]))
        case _:
            return ()


@lru_cache(maxsize=2048)
def drawn_width(item: Resolved) -> float:
    """How wide an object is across its narrow way as drawn, mm; 0 for a run. Raises ``CannotStitch``."""
    match item.cover:
        case SatinRecipe():
            return float(satin.columns_of(item.shape)[0].widths().mean())
        case FillRecipe() | BareRecipe():
            region = fill.region_for(item.shape)
            if region.is_empty:
                return 0.0
            box = shapely.get_coordinates(region.minimum_rotated_rectangle)
            return float(np.hypot(*np.diff(box[:3], axis=0).T).min())
        case _:
            return 0.0
