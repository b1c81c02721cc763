"""Parallel: rows across the cover's, which tie the cloth to its backing."""

from jontel.design.kinds.parallel import Parallel
from jontel.stitching.bed import Bed, as_area
from jontel.stitching.stitches import Layer, Needle
from jontel.stitching.underlays.rows import Pass, sew_passes


def sew(kind: Parallel, bed: Bed, needle: Needle) -> None:
    """Sew the pass."""
    area = as_area(bed)
    if area is not None:
        across = Pass(kind.spacing, kind.length, area.angle + kind.angle)
        sew_passes([across], kind.inset, area, Layer.PARALLEL, needle)
