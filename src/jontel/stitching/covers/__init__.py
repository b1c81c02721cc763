"""Generators of covers, one kind a file; a new one is its file and its line in ``GENERATORS``."""

from jontel.stitching.covers import bare, fill, run, satin
from jontel.stitching.covers.base import Generator

GENERATORS: dict[str, Generator] = {
    "run": run.GENERATOR,
    "satin": satin.GENERATOR,
    "fill": fill.GENERATOR,
    "underlay only": bare.GENERATOR,
}
"""By the name of the kind in ``design.kinds.COVERS``."""
