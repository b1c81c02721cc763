"""Mesh: rows in three directions, which hold lace together once the film is washed out."""

from jontel.design.kinds.mesh import Mesh
from jontel.stitching.bed import Bed, as_area
from jontel.stitching.stitches import Layer, Needle
from jontel.stitching.underlays.rows import Pass, sew_passes


def sew(kind: Mesh, bed: Bed, needle: Needle) -> None:
    """Sew the three passes."""
    area = as_area(bed)
    if area is not None:
        ways = [
            Pass(kind.spacing, kind.length, area.angle + lean)
            for lean in (kind.angle, kind.angle - 60.0, kind.angle + 60.0)
        ]
        sew_passes(ways, kind.inset, area, Layer.MESH, needle)
