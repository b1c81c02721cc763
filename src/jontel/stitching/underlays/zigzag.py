"""Zigzag: from edge to edge with open spacing, which lifts the cover."""

from jontel.design.kinds.double_zigzag import DoubleZigzag
from jontel.design.kinds.satin import SatinRecipe
from jontel.design.kinds.zigzag import Zigzag
from jontel.geometry.columns import Rails
from jontel.geometry.polyline import lengths
from jontel.stitching.bed import AreaBed, Bed, ColumnBed, facing, go_along, held
from jontel.stitching.columns import satin_points
from jontel.stitching.compensation import inset_rails
from jontel.stitching.stitches import Layer, Needle
from jontel.stitching.underlays.rows import Pass, sew_passes


def sew(kind: Zigzag, bed: Bed, needle: Needle) -> None:
    """Sew one zigzag along the bed."""
    match bed:
        case ColumnBed(rails):
            _along(rails, kind.inset, kind.spacing, Layer.ZIGZAG, needle)
        case AreaBed():
            sew_passes([Pass(kind.spacing, 4.0, bed.angle)], kind.inset, bed, Layer.ZIGZAG, needle)


def sew_double(kind: DoubleZigzag, bed: Bed, needle: Needle) -> None:
    """Sew a zigzag there and one back, which crosses it."""
    match bed:
        case ColumnBed(rails):
            for _ in range(2):
                _along(rails, kind.inset, kind.spacing, Layer.DOUBLE_ZIGZAG, needle)
        case AreaBed():
            ways = [Pass(kind.spacing, 4.0, bed.angle + lean) for lean in (10.0, -10.0)]
            sew_passes(ways, kind.inset, bed, Layer.DOUBLE_ZIGZAG, needle)


def _along(rails: Rails, inset: float, spacing: float, layer: Layer, needle: Needle) -> None:
    way = facing(inset_rails(rails, inset), needle)
    if lengths(way.middle)[-1] < 1.0:
        return
    go_along(rails, needle, way.middle[0])
    needle.sew(held(satin_points(way, SatinRecipe(spacing=spacing, short_stitches=False)), rails), layer)
