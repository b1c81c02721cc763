"""Passes of open rows: what parallel, lattice, mesh and zigzag on an area share."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from jontel.geometry.frames import Straight
from jontel.geometry.region import Region, polygons_of
from jontel.stitching.bed import AreaBed, go, inner
from jontel.stitching.limits import afford
from jontel.stitching.rows.sewing import far_side, sew_rows
from jontel.stitching.rows.style import RowStyle
from jontel.stitching.stitches import Layer, Needle

MOSTLY = 0.7
"""A region is broad where so much of it is."""


@dataclass(frozen=True)
class Pass:
    """Rows in one direction: spacing and stitch length in mm, angle in degrees."""

    spacing: float
    length: float
    angle: float


def sew_passes(passes: Iterable[Pass], inset: float, area: AreaBed, layer: Layer, needle: Needle) -> None:
    """Sew ``passes`` inside the bed's rim by ``inset``, each from where the last one ended to its own far side."""
    for one in passes:
        for piece in _broad(inner(area.part, inset), one.spacing).geoms:
            if piece.area < one.spacing**2:
                continue
            rim = np.asarray(piece.exterior.coords)
            if needle.at is not None:
                start = rim[np.argmin(np.hypot(*(rim - needle.at).T))]
                go(area.part, needle, start)
            else:
                start = rim[0]
            afford(piece.area / one.spacing, one.length)
            frame = Straight(one.angle)
            style = RowStyle(one.spacing, one.length)
            sew_rows(piece, style, frame, layer, needle, far_side(piece, frame, start), pinned=False)


def _broad(region: Region, spacing: float) -> Region:
    """``region`` without what is narrower than ``spacing``: rows there would cost more travel than they hold.

    What is narrow for the most part is kept whole.
    """
    broad = polygons_of(region.buffer(-spacing / 2).buffer(spacing / 2) & region)
    return broad if broad.area > MOSTLY * region.area else region
