"""Objects that are sewn over afterwards.

What is buried is sewn after what buries it, where that buries nothing else in turn: then each such mend leaves one
finding fewer, and mending comes to an end. What lies hidden for good is deleted, or what is hidden of it cut away.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import shapely
from msgspec.structs import replace
from shapely import STRtree

from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects, remove_objects, reorder
from jontel.design.shapes import Area, Point
from jontel.geometry.region import Region, path_of, polygons_of, region_of
from jontel.sewing.overlaps import band_of_run, bounds_of
from jontel.sewing.plan import SewPlan
from jontel.sewing.proof.finding import Finding, Fix, at
from jontel.sewing.undercut import hides

BURIED = 0.92
"""An object of which a larger part than this is sewn over afterwards is reported."""
WHOLLY = 0.99
"""From this part on nothing is left to be seen."""
TOUCHES = 0.05
"""An object that hides less than this part of another is not in its way."""
MARGIN = 0.8
"""So far under what hides it, mm, the rest of a shape goes on when what is hidden is cut away."""


@dataclass(frozen=True, eq=False)
class _Hidden:
    """How much of ``own`` lies under others, and how much under each, by its place in the order.

    ``over`` is all that lies over it, by its place: what cannot be seen through hides it.
    """

    own: Region
    part: float
    by: tuple[tuple[int, float], ...]
    over: tuple[tuple[int, StitchObject], ...]


def rule(design: Design, plan: SewPlan) -> list[Finding]:
    """One finding an object that is sewn over."""
    found: list[Finding] = []
    for place in range(len(plan.design.objects)):
        own = _seen(place, plan)
        if own.is_empty or plan.design.objects[place].hidden:
            continue
        hidden = _hidden(own, place, plan)
        if hidden.part >= BURIED:
            found.append(_finding(place, own, hidden, plan))
    return found


def _seen(place: int, plan: SewPlan) -> Region:
    """Where an object's thread is to be seen: the cloth that it covers, or a thread's width along a run."""
    covers = plan.overlaps.boxes[place, 0] < np.inf
    return plan.overlaps.regions[place] if covers else band_of_run(plan.design.objects[place])


def _hidden(own: Region, place: int, plan: SewPlan) -> _Hidden:
    overlaps, design = plan.overlaps, plan.design
    known: _Hidden | None = overlaps.answer(place, "buried")
    if known is not None and known.own is own and all(design.objects[k] is item for k, item in known.over):
        return known
    box = bounds_of(own)
    lying = [k for k in overlaps.later(place, box).tolist() if overlaps.regions[k].intersects(own)]
    over = [k for k in lying if hides(design.objects[k], design)]
    parts = [float(shapely.intersection(own, overlaps.regions[k]).area / own.area) for k in over]
    part = 0.0
    if sum(parts) >= BURIED:
        cover = shapely.unary_union([overlaps.regions[k] for k in over])
        part = float(shapely.intersection(own, cover).area / own.area)
    made = _Hidden(own, part, tuple(zip(over, parts, strict=True)), tuple((k, design.objects[k]) for k in lying))
    overlaps.tell(place, "buried", box, made)
    return made


def _finding(place: int, own: Region, hidden: _Hidden, plan: SewPlan) -> Finding:
    objects = plan.design.objects
    item = objects[place]
    burier = objects[max(hidden.by, key=lambda one: one[1])[0]]
    spot = own.representative_point()
    where: Point = (spot.x, spot.y)
    last = max((k for k, part in hidden.by if part > TOUCHES), default=place)
    fixes: list[Fix] = []
    if last > place and not _buries(place, last, own, plan):
        following = objects[last + 1].id if last + 1 < len(objects) else None
        fixes.append(Fix(f"Sew “{item.name}” after “{objects[last].name}”", _mover(item.id, following)))
    if hidden.part >= WHOLLY or not isinstance(item.shape, Area):
        fixes.append(Fix(f"Delete “{item.name}”, which is not seen", _deleter(item.id)))
    else:
        cover = polygons_of(shapely.unary_union([plan.overlaps.regions[k] for k, _ in hidden.by]))
        fixes.append(Fix(f"Cut away what is hidden of “{item.name}”", _cutter(item.id, cover)))
    sentence = (
        f"“{item.name}” is sewn before “{burier.name}”, which then covers {hidden.part:.0%} of it at {at(where)}: "
        f"{fixes[0].label[:1].lower()}{fixes[0].label[1:]}."
    )
    return Finding("buried", "spoils", sentence, (item.id, burier.id), where, tuple(fixes))


def _buries(place: int, last: int, own: Region, plan: SewPlan) -> bool:
    """Whether an object sewn after ``last`` would bury one that is to be seen now."""
    regions = plan.overlaps.regions
    bodies = [_seen(k, plan) for k in range(place + 1, last + 1)]
    for number in STRtree(bodies).query(own).tolist():
        body, k = bodies[number], place + 1 + number
        if body.is_empty or _hidden(body, k, plan).part >= BURIED:
            continue
        over = [own, *(regions[j] for j, _ in _hidden(body, k, plan).by)]
        if shapely.intersection(body, shapely.unary_union(over)).area >= BURIED * body.area:
            return True
    return False


def _mover(identity: int, before: int | None) -> Callable[[Design], Design]:
    return lambda design: reorder(design, {identity}, before)


def _deleter(identity: int) -> Callable[[Design], Design]:
    return lambda design: remove_objects(design, {identity})


def _cutter(identity: int, cover: Region) -> Callable[[Design], Design]:
    """Leave what is to be seen of a shape, and a margin under what hides the rest."""

    def cut(design: Design) -> Design:
        item = design.object(identity)
        if item is None or not isinstance(item.shape, Area):
            return design
        left = polygons_of(region_of(Area(item.shape.path, item.shape.rule)) - shapely.buffer(cover, -MARGIN))
        if left.is_empty:
            return remove_objects(design, {identity})
        shape = replace(item.shape, path=path_of(left), rule="nonzero")
        return change_objects(design, {identity}, lambda one: replace(one, shape=shape))

    return cut
