"""Underlay that several objects share: its shape follows theirs, and it is sewn before the first of them."""

from collections.abc import Collection

import shapely
from msgspec.structs import replace

from jontel.design.design import Beneath, Design, StitchObject
from jontel.design.edits import add_objects, change_objects
from jontel.design.errors import CannotStitch
from jontel.design.ground import Ground
from jontel.design.kinds import Underlay, traits_of
from jontel.design.kinds.bare import Bare
from jontel.design.kinds.edge_run import EdgeRun
from jontel.design.kinds.parallel import Parallel
from jontel.design.resolve import resolve
from jontel.design.shapes import Area
from jontel.design.store import kept
from jontel.geometry.region import path_of
from jontel.stitching.covers.fill import region_for
from jontel.stitching.engine import sewn_edge

PASSES: tuple[Underlay, ...] = (EdgeRun(inset=0.0), Parallel(inset=0.0))
"""What a shared underlay is sewn with at first."""
NEAR = 0.6
"""Objects with gaps narrower than twice this, mm, lie on one piece of underlay."""


def settled(design: Design) -> Design:
    """``design`` with every shared underlay in the shape that its objects have now, sewn before them."""
    if not any(item.beneath is not None for item in design.objects):
        return design
    for item in [one for one in design.objects if one.beneath is not None]:
        assert item.beneath is not None
        members = tuple(one for one in design.objects if one.id in item.beneath.objects and one.id != item.id)
        if not members:
            continue
        fresh = replace(item, shape=_shape(members, design.brief.ground, item.beneath.inset))
        rest = [one for one in design.objects if one.id != item.id]
        first = rest.index(members[0])
        place = [one.id for one in design.objects].index(item.id)
        at = min(first, place)
        design = replace(design, objects=(*rest[:at], fresh, *rest[at:]))
    return design


@kept
def _shape(members: tuple[StitchObject, ...], ground: Ground, inset: float) -> Area:
    regions = []
    for item in members:
        try:
            whole = resolve(item, ground)
            regions.append(sewn_edge(whole) or region_for(item.shape))
        except CannotStitch:
            continue
    joined = shapely.unary_union([one.buffer(NEAR) for one in regions]).buffer(-NEAR - inset)
    return Area(path_of(joined.simplify(0.02)))


def share_underlay(design: Design, ids: Collection[int], thread: str | None = None) -> Design:
    """``design`` with one underlay beneath the objects in ``ids``, whose own underlay is taken away.

    It is sewn in ``thread``, or in that of the first of them. Objects that are underlay only are left out. It has no
    shape before ``settled`` gives it one.
    """
    members = [item for item in design.objects if item.id in ids and traits_of(item.cover).visible]
    if not members:
        return design
    made = StitchObject(
        id=0,
        name="Shared underlay",
        thread=thread or members[0].thread,
        shape=Area(""),
        cover=Bare(),
        underlay=PASSES,
        beneath=Beneath(tuple(item.id for item in members)),
    )
    bare = change_objects(design, {item.id for item in members}, lambda item: replace(item, underlay=()))
    at = bare.place_of(members[0].id)
    return add_objects(bare, [made], at)
