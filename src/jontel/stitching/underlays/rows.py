"""Passes of open rows: what parallel, lattice, mesh and zigzag on an area share."""

from collections.abc import Iterable
from dataclasses import dataclass
from operator import itemgetter

import numpy as np
from shapely import MultiPolygon

from jontel.geometry.frames import Straight
from jontel.geometry.inside import nearest_on
from jontel.geometry.region import Region, polygons_of, thinned
from jontel.stitching.bed import FOLLOWS, AreaBed, go, inner
from jontel.stitching.limits import afford
from jontel.stitching.rows.sewing import far_side, sew_rows
from jontel.stitching.rows.style import RowStyle
from jontel.stitching.stitches import Layer, Needle, Stitches

MOST_TRAVEL = 0.16
"""Where more of a pass than this were travel, it leaves out more of what is narrow."""
ROUND = 6
"""In so many straight pieces a quarter turn about what is narrow is: to 0.01 of its radius, as underlay needs it."""
NARROW = ((1.0, 0.7), (1.5, 0.5), (2.0, 0.4), (3.0, 0.4))
"""What is narrower than so many spacings is left out at first and then, where at least such a part of it is left."""


@dataclass(frozen=True)
class Pass:
    """Rows in one direction: spacing and stitch length in mm, angle in degrees."""

    spacing: float
    length: float
    angle: float


def sew_passes(passes: Iterable[Pass], inset: float, area: AreaBed, layer: Layer, needle: Needle) -> None:
    """Sew ``passes`` inside the bed's rim by ``inset``, each from where the last one ended to its own far side.

    Narrow parts are left out where too much of a pass were travel between them.
    """
    for one in passes:
        region = inner(area.part, inset)
        tried: list[tuple[float, Stitches]] = []
        for narrow, least in NARROW:
            ahead = needle.aside()
            _sew_pass(one, _broad(region, narrow * one.spacing, least), area, layer, ahead)
            sewn = ahead.stitches()
            tried.append((_travel_share(needle, sewn), sewn))
            if tried[-1][0] <= MOST_TRAVEL:
                break
        needle.follow(min(tried, key=itemgetter(0))[1])


def _sew_pass(one: Pass, region: Region, area: AreaBed, layer: Layer, needle: Needle) -> None:
    for piece in region.geoms:
        if piece.area < one.spacing**2:
            continue
        if needle.at is not None:
            (start,) = nearest_on(piece.exterior, needle.at[None])
            go(area.part, needle, start)
        else:
            start = np.asarray(piece.exterior.coords[0])
        afford(piece.area / one.spacing, one.length)
        frame = Straight(one.angle)
        style = RowStyle(one.spacing, one.length)
        sew_rows(piece, style, frame, layer, needle, far_side(piece, frame, start), pinned=False)


def _travel_share(needle: Needle, sewn: Stitches) -> float:
    """Which part of what is sewn from a needle on is travel."""
    xy = sewn.xy if needle.at is None else np.vstack([needle.at, sewn.xy])
    steps = np.hypot(*np.diff(xy, axis=0).T)
    travel = float(steps[sewn.layer[-len(steps) :] == Layer.TRAVEL].sum()) if len(steps) else 0.0
    return travel / max(float(steps.sum()), 1e-9)


def _broad(region: Region, narrow: float, least: float) -> Region:
    """``region`` without what is narrower than ``narrow`` mm: rows there would cost more travel than they hold.

    It is kept whole where less than a part of ``least`` were left.
    """
    opened = polygons_of(region.buffer(-narrow / 2, quad_segs=ROUND).buffer(narrow / 2, quad_segs=ROUND))
    broad = MultiPolygon([thinned(piece, FOLLOWS) for piece in opened.geoms])
    return broad if broad.area > least * region.area else region
