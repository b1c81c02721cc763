"""Passes of open rows: what parallel, lattice, mesh and zigzag on an area share."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from jontel.geometry.frames import Straight
from jontel.stitching.bed import AreaBed, go, inner
from jontel.stitching.rows import RowStyle, sew_rows
from jontel.stitching.stitches import Layer, Needle


@dataclass(frozen=True)
class Pass:
    """Rows in one direction: spacing and stitch length in mm, angle in degrees."""

    spacing: float
    length: float
    angle: float


def sew_passes(passes: Iterable[Pass], inset: float, area: AreaBed, layer: Layer, needle: Needle) -> None:
    """Sew ``passes`` inside the bed's rim by ``inset``, each ending towards the cover's far side."""
    for one in passes:
        for piece in inner(area.part, inset).geoms:
            if piece.area < one.spacing**2:
                continue
            rim = np.asarray(piece.exterior.coords)
            if needle.at is not None:
                start = rim[np.argmin(np.hypot(*(rim - needle.at).T))]
                go(area.part, needle, start)
                goal = rim[np.argmax(np.hypot(*(rim - area.exit).T))]
            else:
                goal = rim[0]
            style = RowStyle(one.spacing, one.length)
            sew_rows(piece, style, Straight(one.angle), layer, needle, goal)
