"""Rims: a satin along the outline of an object, as an object of its own, with its own thread."""

from collections.abc import Collection

from jontel.design.design import Design, StitchObject
from jontel.design.edits import add_objects
from jontel.design.errors import CannotStitch
from jontel.design.kinds.satin import Satin
from jontel.design.shapes import Area, Line, Shape
from jontel.geometry.polyline import flatten
from jontel.geometry.region import path_of
from jontel.stitching.covers.fill import region_for

WIDTH = 2.0
"""How wide a rim is at first, mm."""


def with_rims(design: Design, ids: Collection[int]) -> tuple[Design, frozenset[int]]:
    """``design`` with a rim for each object in ``ids``, sewn right after it, and the ids of the rims.

    It lies on the outline of an area or a column, on a line itself. What has no outline gets none.
    """
    made: list[int] = []
    for item in [one for one in design.objects if one.id in ids]:
        path = _outline(item.shape)
        if not path:
            continue
        rim = StitchObject(id=0, name=f"{item.name} rim", thread=item.thread, shape=Line(path, WIDTH), cover=Satin())
        place = design.place_of(item.id)
        made.append(design.next_id)
        design = add_objects(design, [rim], place + 1)
    return design, frozenset(made)


def _outline(shape: Shape) -> str:
    """Path data of where a rim lies; empty for a shape without one."""
    if isinstance(shape, Line):
        return shape.path
    try:
        region = region_for(shape)
    except CannotStitch:
        return ""
    closed = isinstance(shape, Area) and all(line.closed for line in flatten(shape.path))
    return shape.path if closed and isinstance(shape, Area) and not region.is_empty else path_of(region)
