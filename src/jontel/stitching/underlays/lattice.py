"""Lattice: two crossed passes of rows, which keep pile down and knits from stretching."""

from jontel.design.kinds.lattice import Lattice
from jontel.stitching.bed import Bed, as_area
from jontel.stitching.stitches import Layer, Needle
from jontel.stitching.underlays.rows import Pass, sew_passes


def sew(kind: Lattice, bed: Bed, needle: Needle) -> None:
    """Sew both passes."""
    area = as_area(bed)
    if area is not None:
        crossed = [Pass(kind.spacing, kind.length, area.angle + lean) for lean in (kind.angle, -kind.angle)]
        sew_passes(crossed, kind.inset, area, Layer.LATTICE, needle)
