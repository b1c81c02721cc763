"""Shapes put together and cut: united, cut, combined, apart, under each other."""

from collections.abc import Collection, Sequence
from functools import partial
from typing import Annotated

import numpy as np
import shapely
from msgspec import Struct
from msgspec.structs import replace
from shapely.geometry.base import BaseGeometry

from jontel.design.design import Design, StitchObject
from jontel.design.edits import add_objects, change_objects, remove_objects
from jontel.design.errors import CannotDo
from jontel.design.kinds.values import Group, number
from jontel.design.shapes import Area, Line
from jontel.design.stopping import go_on, left_behind
from jontel.geometry.combining import How, combined, drawn_again, fine_region, grown
from jontel.geometry.combining import sliced as cut_up
from jontel.geometry.nodes import Chain, chains_of, path_through
from jontel.geometry.polyline import FINE, Floats, flatten
from jontel.geometry.region import Region, polygons_of
from jontel.shaping.covers import sewn_as
from jontel.shaping.outlines import Ids, Made, area_of, chains_in, may_bend, region_in

UNDER = Group("Neighbours", open=True)
TOUCHES = 0.02
"""Regions no farther apart than this, mm, touch."""
BEYOND = 3.0
"""A line that slices is carried on over its ends by so many mm, so that one drawn to the rim cuts through it."""


class Reach(Struct, frozen=True):
    """How far the lower of two neighbours reaches under the upper, and how wide a gap between them still counts."""

    by: Annotated[float, number("Reach under by", 0.1, 20.0, "length", 0.1, UNDER)] = 0.8
    gap: Annotated[float, number("Across gaps up to", 0.0, 5.0, "length", 0.1, UNDER)] = 0.2


def _chosen(design: Design, ids: Ids) -> list[StitchObject]:
    found = [item for item in design.objects if item.id in ids]
    for item in found:
        may_bend(item)
    return found


def _as_one(design: Design, chosen: Sequence[StitchObject], region: Region, keeper: StitchObject) -> Made:
    """``design`` with one area in the place of all that were chosen, where ``keeper`` was sewn and as it is."""
    if region.is_empty:
        raise CannotDo("Nothing would be left; what is selected does not lie that way.")
    made = sewn_as(keeper, Area(drawn_again(region)))
    design = change_objects(design, {keeper.id}, lambda _item: made)
    return remove_objects(design, {item.id for item in chosen} - {keeper.id}), frozenset({keeper.id})


def _combined(design: Design, ids: Ids, how: How) -> Made:
    chosen = _chosen(design, ids)
    first, *others = [region_in(item) for item in chosen]
    return _as_one(design, chosen, combined(first, others, how), chosen[0])


def united(design: Design, ids: Ids, _values: Struct | None) -> Made:
    """One area of all, sewn where the first was and as it is."""
    return _combined(design, ids, "union")


def subtracted(design: Design, ids: Ids, _values: Struct | None) -> Made:
    """The first without what the others cover."""
    return _combined(design, ids, "difference")


def intersected(design: Design, ids: Ids, _values: Struct | None) -> Made:
    """Only what all of them cover."""
    return _combined(design, ids, "intersection")


def excluded(design: Design, ids: Ids, _values: Struct | None) -> Made:
    """What an odd number of them covers."""
    return _combined(design, ids, "exclude")


def sliced(design: Design, ids: Ids, _values: Struct | None) -> Made:
    """The others cut along the line that is sewn last, which goes; each piece is an object."""
    *others, blade = _chosen(design, ids)
    if not isinstance(blade.shape, Line):
        raise CannotDo(f"“{blade.name}” is sewn last of what is selected and is no line; slicing needs one.")
    ways = flatten(blade.shape.path, FINE)
    if not ways:
        raise CannotDo(f"“{blade.name}” has no length; draw a line to slice along.")
    line = _long(ways[0].loop())
    made: list[int] = []
    for item in others:
        pieces = cut_up(region_in(item), line)
        if len(pieces) < 2 or len(pieces) == len(region_in(item).geoms):
            raise CannotDo(f"The line does not cross “{item.name}” from rim to rim.")
        design, ids = _in_pieces(design, item, [Area(drawn_again(piece)) for piece in pieces])
        made += ids
    return remove_objects(design, {blade.id}), frozenset(made)


def _long(line: Floats) -> Floats:
    """A line (n, 2) carried on over both of its ends."""

    def beyond(end: Floats, inner: Floats) -> Floats:
        step = end - inner
        return np.asarray(end + step / max(float(np.hypot(*step)), 1e-9) * BEYOND)

    return np.vstack([beyond(line[0], line[1]), line, beyond(line[-1], line[-2])])


def _in_pieces(design: Design, item: StitchObject, shapes: Sequence[Area | Line]) -> Made:
    """``design`` with an object for each shape in the place of one."""
    bare = replace(item, ends=replace(item.ends, entry=None, exit=None))
    fresh = [replace(sewn_as(bare, shape), name=f"{item.name} {k}"[:80]) for k, shape in enumerate(shapes, 1)]
    at = design.place_of(item.id)
    ids = frozenset(range(design.next_id, design.next_id + len(fresh)))
    return remove_objects(add_objects(design, fresh, at + 1), {item.id}), ids


def made_one(design: Design, ids: Ids, _values: Struct | None) -> Made:
    """One object of all outlines, as they are drawn; of areas what lies inside another is a hole."""
    chosen = _chosen(design, ids)
    first = chosen[0]
    shape: Area | Line
    if isinstance(first.shape, Line) and all(isinstance(item.shape, Line) for item in chosen):
        shape = replace(first.shape, path=" ".join(path_through(chains_in(item.shape)) for item in chosen))
    else:
        shape = Area(" ".join(area_of(item).path for item in chosen), "evenodd")
    design = change_objects(design, {first.id}, lambda item: sewn_as(item, shape))
    return remove_objects(design, ids - {first.id}), frozenset({first.id})


def taken_to_pieces(design: Design, ids: Ids, _values: Struct | None) -> Made:
    """An object for each piece of cloth of an area (with its holes), for each line of several."""
    made: set[int] = set()
    apart = 0
    for item in _chosen(design, ids):
        shapes: list[Area | Line]
        if isinstance(item.shape, Area):
            shapes = [replace(item.shape, path=path, rule="evenodd") for path in _pieces(item.shape)]
        elif isinstance(item.shape, Line):
            shapes = [replace(item.shape, path=path_through((chain,))) for chain in chains_of(item.shape.path)]
        else:
            shapes = []
        if len(shapes) < 2:
            made.add(item.id)
            continue
        apart += 1
        design, fresh = _in_pieces(design, item, shapes)
        made |= fresh
    if not apart:
        raise CannotDo("All that is selected is in one piece already; Slice cuts it along a line.")
    return design, frozenset(made)


def _pieces(area: Area) -> list[str]:
    """The outlines of each piece of cloth of an area: as drawn where rings do not cross, else drawn again."""
    chains = chains_of(area.path)
    parts = list(fine_region(area).geoms)
    found: list[list[Chain]] = [[] for _ in parts]
    order: dict[int, int] = {}
    for chain in chains:
        ring = flatten(path_through((chain,)), FINE)
        spot = shapely.LineString(ring[0].loop()) if ring else None
        home = [k for k, part in enumerate(parts) if spot is not None and part.buffer(0.02).contains(spot)]
        if len(home) != 1:
            return [drawn_again(part) for part in parts]
        found[home[0]].append(chain)
        order.setdefault(home[0], len(order))
    parts = [parts[k] for k in order]
    paths = [path_through(tuple(found[k])) for k in order]
    same = [
        abs(fine_region(Area(path, "evenodd")).area - part.area) < 0.02
        for path, part in zip(paths, parts, strict=True)
    ]
    return [path if fits else drawn_again(part) for path, fits, part in zip(paths, same, parts, strict=True)]


def reached(design: Design, ids: Ids, values: Struct | None) -> Made:
    """Of neighbours those sewn earlier grown under those sewn later, along their common edge."""
    assert isinstance(values, Reach)
    made = reached_under(design, ids, values)
    if made is design:
        raise CannotDo("Nothing of what is selected lies beside something that is sewn later.")
    return made, ids


def reached_under(design: Design, ids: Collection[int], values: Reach) -> Design:
    """``design`` with areas of ``ids`` grown under those of them that are sewn later; itself where none lie so."""
    chosen = [item for item in design.objects if item.id in ids and isinstance(item.shape, Area)]
    regions = [region_in(item) for item in chosen]
    tree = shapely.STRtree(regions)
    grew: dict[int, StitchObject] = {}
    for place, (lower, own) in enumerate(zip(chosen, regions, strict=True)):
        go_on()
        near = grown(own, values.gap + TOUCHES)
        uppers = [regions[k] for k in sorted(tree.query(near, predicate="intersects").tolist()) if k > place]
        over = [other for other in uppers if not near.contains(other)]
        more = left_behind(partial(_reaching, own, over, values)) if over else own
        if more.area > own.area + 0.01:
            may_bend(lower)
            path = drawn_again(_one_piece(polygons_of(more), own))
            grew[lower.id] = replace(lower, shape=replace(lower.shape, path=path, rule="nonzero"), figure=None)
    return change_objects(design, set(grew), lambda item: grew[item.id]) if grew else design


def _reaching(own: Region, uppers: Collection[Region], values: Reach) -> Region:
    """A region grown under each of those that are sewn later."""
    more = own
    for other in uppers:
        go_on()
        seen = shapely.difference(own, other)  # from where it is seen: it may reach under already
        reach = shapely.intersection(grown(seen, values.by + own.distance(other)), other)
        more = polygons_of(shapely.union_all([more, reach, _between(own, other, values.gap)]))
    return more


def _between(own: Region, other: Region, gap: float) -> BaseGeometry:
    """What lies in a gap of up to ``gap`` mm between two regions: what closing over both of them adds."""
    half = gap / 2 + TOUCHES
    both = shapely.union(own, other)
    closed = shapely.buffer(shapely.buffer(both, half, quad_segs=16), -half, quad_segs=16)
    return shapely.buffer(shapely.difference(closed, both), TOUCHES / 4)


def _one_piece(more: Region, own: Region) -> Region:
    """What was grown, without specks that hang on nothing of the object."""
    return polygons_of(shapely.MultiPolygon([part for part in more.geoms if part.intersects(own)]))
