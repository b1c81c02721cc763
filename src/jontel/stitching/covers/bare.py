"""Underlay only: passes without a cover, for an underlay that several objects share or that is the stitching."""

from jontel.design.errors import CannotStitch
from jontel.design.kinds import Underlay
from jontel.design.kinds.bare import BareRecipe
from jontel.design.resolve import Resolved
from jontel.geometry.polyline import Floats
from jontel.geometry.region import largest
from jontel.stitching.automatic import area_underlay
from jontel.stitching.bed import AreaBed, to_next_part
from jontel.stitching.covers.base import Generator
from jontel.stitching.covers.fill import begins_at, narrow_side, region_for
from jontel.stitching.stitches import Needle
from jontel.stitching.underlays import sew_underlay


def sew(item: Resolved, recipe: BareRecipe, entry: Floats | None, exit_: Floats | None) -> Needle:
    """Sew the passes on every part, nearest first; they end where they run out. Raises ``CannotStitch``."""
    parts = list(region_for(item.shape).geoms)
    if not parts:
        raise CannotStitch("it encloses no area that holds a stitch; enlarge it or delete it")
    needle, begins = Needle(entry), begins_at(item.shape)
    while parts:
        part, _ = to_next_part(parts, needle, exit_, begins)
        passes = item.underlay if item.underlay is not None else area_underlay(item.area_underlay, part)
        sew_underlay(passes, AreaBed(part, recipe.angle), needle)
    return needle


def passes(item: Resolved) -> tuple[Underlay, ...]:
    """The ground's passes, as far as the largest part holds them. Raises ``CannotStitch``."""
    return area_underlay(item.area_underlay, largest(region_for(item.shape)))


GENERATOR = Generator(sew, width=narrow_side, passes=passes)
