"""Borders that are sewn before what they border, or beside it."""

from dataclasses import dataclass
from functools import partial
from typing import Literal

import numpy as np
import shapely

from jontel.design.design import Design, StitchObject
from jontel.design.edits import reorder
from jontel.design.errors import CannotStitch
from jontel.design.kinds import traits_of
from jontel.design.shapes import Area, Line, Point, Shape
from jontel.design.store import kept
from jontel.geometry.polyline import Floats, flatten
from jontel.geometry.region import region_of
from jontel.sewing.overlaps import NOWHERE, Box
from jontel.sewing.plan import SewPlan
from jontel.sewing.proof.finding import Finding, Fix, at, spot

FOLLOWS, MOSTLY = 1.2, 0.8
"""A line that keeps within so many mm beside its width of an area's rim over this part of its way is its border."""
HOLDS, ENOUGH = 0.25, 0.3
"""A border reaches over its area by so many mm; where it does not over this part of its way, cloth may show."""


@dataclass(frozen=True, eq=False)
class _Seen:
    """What was found out about a line: whether it is a border, of which place, sewn before it or beside it, where."""

    item: StitchObject
    area: int = -1
    fault: Literal["", "before", "beside"] = ""
    spot: Point = (0.0, 0.0)


def rule(design: Design, plan: SewPlan) -> list[Finding]:
    """One finding a border."""
    found: list[Finding] = []
    for place, item in enumerate(design.objects):
        if not isinstance(item.shape, Line):
            continue
        seen: _Seen | None = plan.overlaps.answer(place, "border")
        if seen is None or seen.item is not item:
            box, seen = _looked_at(place, item, item.shape, design, plan)
            plan.overlaps.tell(place, "border", box, seen)
        if seen.fault:
            found.append(_finding(item, design.objects[seen.area], seen))
    return found


def _looked_at(place: int, border: StitchObject, line: Line, design: Design, plan: SewPlan) -> tuple[Box, _Seen]:
    """The box in which others matter, and the first area that a line borders and what is wrong with that."""
    spots = _spots(line)
    if not _is_border(border) or not len(spots):
        return NOWHERE, _Seen(border)
    beside = line.width / 2 + FOLLOWS
    box = (*(spots.min(axis=0) - beside).tolist(), *(spots.max(axis=0) + beside).tolist())
    for k in plan.overlaps.later(-1, box).tolist():
        area = design.objects[k]
        if _is_fill(area) and _follows(line, area.shape):
            seen = _judged(place, border, k, spots, plan)
            if seen is not None:
                return box, seen
    return box, _Seen(border)


def _judged(place: int, border: StitchObject, k: int, spots: Floats, plan: SewPlan) -> _Seen | None:
    """What is wrong with the border of the area at place ``k``, if anything is."""
    assert isinstance(border.shape, Line)
    if place < k and traits_of(plan.design.objects[k].cover).hides:
        return _Seen(border, k, "before", spot(spots[0]))
    if not traits_of(border.cover).hides:
        return None
    off = shapely.distance(plan.overlaps.regions[k], shapely.points(spots)) - border.shape.width / 2
    if np.mean(off > -HOLDS) <= ENOUGH:
        return None
    return _Seen(border, k, "beside", spot(spots[int(np.argmax(off))]))


def _finding(border: StitchObject, area: StitchObject, seen: _Seen) -> Finding:
    both = (border.id, area.id)
    if seen.fault == "before":
        sentence = f"“{border.name}” borders “{area.name}” but is sewn before it: the fill lies on the border."
        fix = Fix(f"Sew it after “{area.name}”", partial(_after, border.id, area.id))
        return Finding("border first", "look", sentence, both, seen.spot, (fix,))
    sentence = (
        f"“{border.name}” lies beside “{area.name}”, at {at(seen.spot)}, instead of over its rim: "
        "cloth shows between them when it pulls in."
    )
    return Finding("border beside", "look", sentence, both, seen.spot)


@kept
def _spots(shape: Line) -> Floats:
    """Places along a line, (n, 2)."""
    rings = [shapely.LineString(one.loop()) for one in flatten(shape.path)]
    return shapely.get_coordinates(shapely.segmentize(rings, 1.0))


@kept
def _follows(line: Shape, area: Shape) -> bool:
    """Whether a line follows the rim of an area."""
    assert isinstance(line, Line) and isinstance(area, Area)
    try:
        rim = shapely.boundary(region_of(Area(area.path, area.rule)))
    except CannotStitch:
        return False
    spots = _spots(line)
    if rim.is_empty or not len(spots):
        return False
    return bool(np.mean(shapely.distance(rim, shapely.points(spots)) < line.width / 2 + FOLLOWS) >= MOSTLY)


def _is_border(item: StitchObject) -> bool:
    closed = isinstance(item.shape, Line) and any(one.closed for one in flatten(item.shape.path))
    return closed and not item.hidden and item.lettering is None


def _is_fill(item: StitchObject) -> bool:
    return isinstance(item.shape, Area) and not item.hidden and traits_of(item.cover).rows == "one way"


def _after(border: int, area: int, design: Design) -> Design:
    order = [item.id for item in design.objects if item.id != border]
    after = order.index(area) + 1
    return reorder(design, (border,), order[after] if after < len(order) else None)
