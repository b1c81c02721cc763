"""Undercut: what later objects hide of an area is not sewn, but for a margin under their edges.

The drawn shape stays: what is sewn of it follows from the design as it is now, in a stage of every job.
"""

import math
from collections.abc import Collection

import shapely
from msgspec.structs import replace
from shapely import STRtree

from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects
from jontel.design.errors import CannotStitch
from jontel.design.ground import Ground
from jontel.design.kinds import UNDERLAYS, traits_of
from jontel.design.resolve import resolve
from jontel.design.shapes import Area
from jontel.design.stopping import go_on
from jontel.design.store import kept
from jontel.geometry.region import Region, path_of, polygons_of, region_of
from jontel.sewing.overlaps import bounds_of, edge_or_nothing, footprint

MARGIN = 0.8
"""So far under what hides it, mm, an object goes on by default, besides its pull."""
UNDERLAID = 2.5
"""About so many mm of a rim take a stitch of the underlay that follows it."""
NARROW = 0.6
"""Nor is anything left out of hidden strips up to twice this wide, mm."""
UNSEEN = 0.01
"""What shows no larger part of itself than this is hidden for good."""
FINE = 0.01
"""The new edge is as simple as this allows, mm."""


def can_be_undercut(item: StitchObject, ground: Ground) -> bool:
    """Whether what is hidden of an object can be left out: of areas with rows and no border that are not lace."""
    if not isinstance(item.shape, Area) or item.beneath is not None:
        return False
    whole = resolve(item, ground)
    passes = whole.area_underlay if whole.underlay is None else whole.underlay
    return traits_of(item.cover).spared(whole.cover) and not any(UNDERLAYS[type(one)].holds for one in passes)


def undercut(design: Design) -> Design:
    """``design`` with what is sewn of each object that is undercut; itself where none is."""
    if not any(item.undercut is not None for item in design.objects):
        return design
    ground, objects = design.brief.ground, list(design.objects)
    hiders = [hides(item, design) for item in objects]
    covers = [edge_or_nothing(one, ground) if on else Region() for one, on in zip(objects, hiders, strict=True)]
    tree = STRtree(covers)
    for place, item in enumerate(design.objects):
        if item.undercut is None or item.hidden or not can_be_undercut(item, ground):
            continue
        near = tree.query(shapely.box(*bounds_of(_drawn(item)))).tolist() if not _drawn(item).is_empty else []
        over = tuple(design.objects[k] for k in sorted(near) if k > place)
        left = _left(item, over, ground) if over else ""
        if left:
            objects[place] = _sewn_in(item, left)
    return replace(design, objects=tuple(objects))


def worth_undercutting(design: Design, ids: Collection[int], margin: float) -> frozenset[int]:
    """Those of the objects in ``ids`` of which stitches are saved where they are undercut."""
    ground = design.brief.ground
    able = {item.id for item in design.objects if item.id in ids and can_be_undercut(item, ground)}
    tried = change_objects(design, able, lambda item: replace(item, undercut=margin))
    pairs = zip(tried.objects, undercut(tried).objects, strict=True)
    return frozenset(one.id for one, other in pairs if one.shape != other.shape)


def undercut_where_it_saves(design: Design, ids: Collection[int], margin: float) -> Design:
    """``design`` with those of the objects in ``ids`` undercut of which stitches are saved; itself where none are."""
    some = worth_undercutting(design, ids, margin)
    return change_objects(design, some, lambda item: replace(item, undercut=margin))


def hidden_for_good(design: Design, ids: Collection[int]) -> frozenset[int]:
    """Those of the objects in ``ids`` of which later ones that nothing shows through hide all."""
    ground = design.brief.ground
    covers = [edge_or_nothing(item, ground) if hides(item, design) else Region() for item in design.objects]
    tree = STRtree(covers)
    found: set[int] = set()
    for place, item in enumerate(design.objects):
        go_on()
        own = footprint(item, design)
        if item.id not in ids or own.is_empty or item.beneath is not None:
            continue
        over = [covers[k] for k in tree.query(own, predicate="intersects").tolist() if k > place]
        seen = shapely.difference(own, shapely.unary_union(over)).area if over else own.area
        if seen <= UNSEEN * own.area:
            found.add(item.id)
    return frozenset(found)


def hides(item: StitchObject, design: Design) -> bool:
    """Whether nothing shows through an object."""
    recipe = resolve(item, design.ground_for(item)).cover
    return not item.hidden and traits_of(item.cover).opaque(recipe, design.thread(item.thread).width)


def _drawn(item: StitchObject) -> Region:
    assert isinstance(item.shape, Area)
    try:
        return region_of(Area(item.shape.path, item.shape.rule))
    except CannotStitch:
        return Region()


@kept
def _sewn_in(item: StitchObject, path: str) -> StitchObject:
    assert isinstance(item.shape, Area)
    return replace(item, shape=replace(item.shape, path=path, rule="nonzero"))


@kept
def _left(item: StitchObject, over: tuple[StitchObject, ...], ground: Ground) -> str:
    """What is left of ``item`` without what ``over`` hide of it, as path data; nothing where that is not worth it.

    A piece is worth leaving out if that saves stitches: those of its area against those where its rows then end.
    """
    assert isinstance(item.shape, Area) and item.undercut is not None
    drawn = _drawn(item)
    cover = shapely.unary_union([edge_or_nothing(one, ground) for one in over])
    whole = resolve(item, ground)
    under = item.undercut + max(0.0, whole.edges.pull)
    hidden = shapely.intersection(drawn, shapely.buffer(cover, -under))
    opened = shapely.buffer(shapely.buffer(hidden, -NARROW), NARROW, join_style="mitre")
    spacing, length = (float(getattr(whole.cover, name)) for name in ("spacing", "length"))
    ends = 1 / (math.pi * spacing) + 1 / UNDERLAID
    gone = [
        part
        for part in polygons_of(shapely.intersection(opened, hidden)).geoms
        if part.area / (spacing * length)
        > ends * shapely.difference(part.boundary, drawn.boundary.buffer(FINE)).length
    ]
    left = polygons_of(shapely.difference(drawn, shapely.unary_union(gone))) if gone else Region()
    return path_of(shapely.simplify(left, FINE))  # what is hidden for good is for the proof to say
