"""Underlay only: passes without a cover, for an underlay that several objects share or that is the stitching."""

from jontel.design.covers import BareRecipe
from jontel.design.errors import CannotStitch
from jontel.design.resolve import Resolved
from jontel.geometry.polyline import Floats
from jontel.stitching.automatic import fill_underlay
from jontel.stitching.bed import AreaBed, to_next_part
from jontel.stitching.covers.fill import region_for
from jontel.stitching.stitches import Needle
from jontel.stitching.underlays import sew_underlay


def sew(item: Resolved, recipe: BareRecipe, entry: Floats | None, _exit: Floats | None) -> Needle:
    """Sew the passes on every part, nearest first; they end where they run out. Raises ``CannotStitch``."""
    parts = list(region_for(item.shape).geoms)
    if not parts:
        raise CannotStitch("it encloses no area that holds a stitch; enlarge it or delete it")
    needle = Needle(entry)
    while parts:
        part, _ = to_next_part(parts, needle)
        passes = item.underlay if item.underlay is not None else fill_underlay(item.fill_underlay, part.area)
        sew_underlay(passes, AreaBed(part, recipe.angle), needle)
    return needle
