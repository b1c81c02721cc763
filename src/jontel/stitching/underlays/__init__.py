"""Underlay passes, one kind a file; a new one is its struct, its file and its line in ``UNDERLAYS``."""

from collections.abc import Callable
from typing import Any

from jontel.design.underlays import (
    CentreRun,
    DoubleZigzag,
    EdgeRun,
    Lattice,
    Mesh,
    Parallel,
    Underlay,
    Zigzag,
)
from jontel.stitching.bed import Bed
from jontel.stitching.stitches import Needle
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
    for one in passes:
        UNDERLAYS[type(one)](one, bed, needle)
