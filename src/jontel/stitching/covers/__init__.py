"""Covers, one kind a file; a new one is its structs, its file and its line in ``COVERS``."""

from collections.abc import Callable
from typing import Any

from jontel.design.covers import BareRecipe, CoverRecipe, FillRecipe, RunRecipe, SatinRecipe
from jontel.design.resolve import Resolved
from jontel.geometry.polyline import Floats
from jontel.stitching.covers import bare, fill, run, satin
from jontel.stitching.stitches import Needle

Sew = Callable[[Resolved, Any, Floats | None, Floats | None], Needle]

COVERS: dict[type[CoverRecipe], Sew] = {
    RunRecipe: run.sew,
    SatinRecipe: satin.sew,
    FillRecipe: fill.sew,
    BareRecipe: bare.sew,
}
