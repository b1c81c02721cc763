"""Underlay passes, one kind a file; a new one is its struct, its file and its line in ``UNDERLAYS``."""

from collections.abc import Callable
from typing import Any

import numpy as np
from shapely import Polygon

from jontel.design.kinds import Underlay
from jontel.design.kinds.centre_run import CentreRun
from jontel.design.kinds.double_zigzag import DoubleZigzag
from jontel.design.kinds.edge_run import EdgeRun
from jontel.design.kinds.lattice import Lattice
from jontel.design.kinds.mesh import Mesh
from jontel.design.kinds.parallel import Parallel
from jontel.design.kinds.zigzag import Zigzag
from jontel.design.store import kept
from jontel.stitching.bed import AreaBed, Bed
from jontel.stitching.stitches import Needle, Stitches
from jontel.stitching.underlays import centre_run, edge_run, lattice, mesh, parallel, zigzag

Sew = Callable[[Any, Bed, Needle], None]

UNDERLAYS: dict[type[Underlay], Sew] = {
    CentreRun: centre_run.sew,
    EdgeRun: edge_run.sew,
    Parallel: parallel.sew,
    Zigzag: zigzag.sew,
    DoubleZigzag: zigzag.sew_double,
    Lattice: lattice.sew,
    Mesh: mesh.sew,
}


def sew_underlay(passes: tuple[Underlay, ...], bed: Bed, needle: Needle) -> None:
    """Sew every pass, in order."""
    if isinstance(bed, AreaBed) and needle.at is not None and not needle.sewing:
        at = tuple(float(v) for v in needle.at)
        needle.follow(_on_area(passes, bed.part, bed.angle, at))
        return
    for one in passes:
        UNDERLAYS[type(one)](one, bed, needle)


@kept
def _on_area(passes: tuple[Underlay, ...], part: Polygon, angle: float, at: tuple[float, ...]) -> Stitches:
    """The underlay of an area from a fresh start: kept, since tuning a cover leaves it as it is."""
    needle = Needle(np.array(at))
    bed = AreaBed(part, angle)
    for one in passes:
        UNDERLAYS[type(one)](one, bed, needle)
    return needle.stitches()
