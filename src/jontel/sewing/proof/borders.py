"""Borders that are sewn before what they border, or beside it."""

from functools import partial

import numpy as np
import shapely

from jontel.design.design import Design, StitchObject
from jontel.design.edits import reorder
from jontel.design.errors import CannotStitch
from jontel.design.kinds import traits_of
from jontel.design.shapes import Area, Line, Shape
from jontel.design.store import kept
from jontel.geometry.polyline import Floats, flatten
from jontel.geometry.region import region_of
from jontel.sewing.plan import SewPlan
from jontel.sewing.proof.finding import Finding, Fix, at, spot

FOLLOWS, MOSTLY = 1.2, 0.8
"""A line that keeps within so many mm beside its width of an area's rim over this part of its way is its border."""
HOLDS, ENOUGH = 0.25, 0.3
"""A border reaches over its area by so many mm; where it does not over this part of its way, cloth may show."""


def rule(design: Design, plan: SewPlan) -> list[Finding]:
    """One finding a border."""
    places = {owner: k for k, owner in enumerate(plan.overlaps.owners)}
    shown = [item for item in design.objects if item.id in places]
    lines, areas = [item for item in shown if _is_border(item)], [item for item in shown if _is_fill(item)]
    found: list[Finding] = []
    boxes = plan.overlaps.boxes[[places[area.id] for area in areas]]
    for border in lines:
        assert isinstance(border.shape, Line)
        spots = _spots(border.shape)
        beside = border.shape.width / 2 + FOLLOWS
        near = (boxes[:, :2] <= spots.max(axis=0) + beside) & (boxes[:, 2:] >= spots.min(axis=0) - beside)
        for area in (areas[k] for k in np.flatnonzero(near.all(axis=1)).tolist()):
            told = _told(border, area, plan, places) if _follows(border.shape, area.shape) else None
            if told is not None:
                found.append(told)
                break
    return found


def _told(border: StitchObject, area: StitchObject, plan: SewPlan, places: dict[int, int]) -> Finding | None:
    """What is wrong with a border of an area, if anything is."""
    assert isinstance(border.shape, Line)
    both = (border.id, area.id)
    spots = _spots(border.shape)
    if places[border.id] < places[area.id] and traits_of(area.cover).hides:
        sentence = f"“{border.name}” borders “{area.name}” but is sewn before it: the fill lies on the border."
        fix = Fix(f"Sew it after “{area.name}”", partial(_after, border.id, area.id))
        return Finding("border first", "look", sentence, both, spot(spots[0]), (fix,))
    if not traits_of(border.cover).hides:
        return None
    off = shapely.distance(plan.overlaps.regions[places[area.id]], shapely.points(spots)) - border.shape.width / 2
    if np.mean(off > -HOLDS) <= ENOUGH:
        return None
    worst = spots[int(np.argmax(off))]
    sentence = (
        f"“{border.name}” lies beside “{area.name}”, at {at(worst)}, instead of over its rim: "
        "cloth shows between them when it pulls in."
    )
    return Finding("border beside", "look", sentence, both, spot(worst))


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
