"""Objects aligned, distributed, turned, scaled and mirrored by numbers."""

import math
from collections.abc import Collection
from typing import Annotated, Literal

import numpy as np
from msgspec import Struct

from jontel.design.design import Design, StitchObject
from jontel.design.edits import duplicate_objects, monogram_of, transform_objects
from jontel.design.errors import CannotDo
from jontel.design.kinds.values import Group, number, word, yes_no
from jontel.design.paths import Matrix, composed
from jontel.design.shapes import FARTHEST
from jontel.geometry.nodes import path_through
from jontel.geometry.polyline import Floats, flatten
from jontel.shaping.outlines import Ids, Made, chains_in

HERE = Group("Place", open=True)


class Align(Struct, frozen=True):
    """What is lined up, and with what."""

    side: Annotated[Literal["left", "middle", "right", "top", "centre", "bottom"], word("Line up", HERE)] = "middle"
    to: Annotated[Literal["selection", "last", "hoop"], word("With the", HERE)] = "selection"


class Distribute(Struct, frozen=True):
    """Which way, and what is even."""

    way: Annotated[Literal["across", "down"], word("Way", HERE)] = "across"
    even: Annotated[Literal["gaps", "middles"], word("Even", HERE)] = "gaps"


class Turn(Struct, frozen=True):
    """Degrees counter-clockwise and percents, about the middle of the selection or of each object."""

    turn: Annotated[float, number("Turn", -360.0, 360.0, "angle", 5, HERE)] = 0.0
    across: Annotated[float, number("Width", 1.0, 10_000.0, "percent", 5, HERE)] = 100.0
    down: Annotated[float, number("Height", 1.0, 10_000.0, "percent", 5, HERE)] = 100.0
    each: Annotated[bool, yes_no("Each about its own middle", HERE)] = False


class Mirror(Struct, frozen=True):
    """The axis, how far it lies outside the selection, and whether what was there stays."""

    axis: Annotated[Literal["upright", "level"], word("Axis", HERE)] = "upright"
    through: Annotated[
        Literal["middle", "right or lower side", "left or upper side", "hoop"], word("Through", HERE)
    ] = "middle"
    gap: Annotated[float, number("Gap to the axis", 0.0, 500.0, "length", 0.5, HERE)] = 0.0
    copy: Annotated[bool, yes_no("Keep the first", HERE)] = False


def box_of(items: tuple[StitchObject, ...] | list[StitchObject]) -> Floats:
    """The box round the drawn outlines of objects: left, top, right, bottom, mm."""
    boxes = []
    for item in items:
        lines = flatten(path_through(chains_in(item.shape)))
        if lines:
            xy = np.vstack([line.xy for line in lines])
            boxes.append(np.concatenate([xy.min(axis=0), xy.max(axis=0)]))
    if not boxes:
        return np.zeros(4)
    all_ = np.array(boxes)
    return np.concatenate([all_[:, :2].min(axis=0), all_[:, 2:].max(axis=0)])


def on_cloth(design: Design, ids: Collection[int]) -> None:
    """Raise ``CannotDo`` where an object would lie farther away than any cloth is kept."""
    box = box_of([item for item in design.objects if item.id in ids])
    if float(np.abs(box).max()) > FARTHEST:
        raise CannotDo(f"That would be over {FARTHEST / 1000:.0f} m from the hoop; take less.")


def wholes(design: Design, ids: Ids) -> list[Ids]:
    """The selection in what moves as one: objects, groups and monograms, in sewing order."""
    found: list[Ids] = []
    known: set[int] = set()
    for item in design.objects:
        if item.id not in ids or item.id in known:
            continue
        one = monogram_of(design, {item.id}) & ids | {item.id}
        if item.group:
            one |= {other.id for other in design.objects if other.group == item.group and other.id in ids}
        known |= one
        found.append(frozenset(one))
    return found


def _items(design: Design, ids: Ids) -> list[StitchObject]:
    return [item for item in design.objects if item.id in ids]


def _shift(x: float, y: float) -> Matrix:
    return (1.0, 0.0, 0.0, 1.0, x, y)


def aligned(design: Design, ids: Ids, values: Struct | None) -> Made:
    """Each object, group or monogram moved so that its side or middle lies where that of the others is."""
    assert isinstance(values, Align)
    parts = wholes(design, ids)
    if values.to == "hoop":
        wide, tall = design.brief.hoop.width / 2, design.brief.hoop.height / 2
        goal = np.array([-wide, -tall, wide, tall])
    else:
        goal = box_of(_items(design, parts[-1] if values.to == "last" else ids))
    for part in parts:
        box = box_of(_items(design, part))
        step = goal - box
        middle = ((step[0] + step[2]) / 2, (step[1] + step[3]) / 2)
        x, y = {
            "left": (step[0], 0.0),
            "middle": (middle[0], 0.0),
            "right": (step[2], 0.0),
            "top": (0.0, step[1]),
            "centre": (0.0, middle[1]),
            "bottom": (0.0, step[3]),
        }[values.side]
        design = transform_objects(design, part, _shift(float(x), float(y)))
    return design, ids


def distributed(design: Design, ids: Ids, values: Struct | None) -> Made:
    """All between the first and the last moved so that gaps or middles are even."""
    assert isinstance(values, Distribute)
    axis = 0 if values.way == "across" else 1
    parts = wholes(design, ids)
    boxes = np.array([box_of(_items(design, part)) for part in parts])
    low, high = boxes[:, axis], boxes[:, axis + 2]
    middle = (low + high) / 2
    order = np.argsort(middle, kind="stable")
    if values.even == "middles":
        goal = np.linspace(middle[order[0]], middle[order[-1]], len(parts))
    else:
        sizes = (high - low)[order]
        gap = (high[order[-1]] - low[order[0]] - sizes.sum()) / max(len(parts) - 1, 1)
        goal = low[order[0]] + np.cumsum(np.concatenate([[0], sizes[:-1] + gap])) + sizes / 2
    for place, k in enumerate(order):
        step = float(goal[place] - middle[k])
        design = transform_objects(design, parts[k], _shift(*((step, 0.0) if axis == 0 else (0.0, step))))
    return design, ids


def about(x: float, y: float, linear: tuple[float, float, float, float]) -> Matrix:
    """The matrix that does ``linear`` about a place."""
    a, b, c, d = linear
    return (a, b, c, d, x - a * x - c * y, y - b * x - d * y)


def turned(design: Design, ids: Ids, values: Struct | None) -> Made:
    """Scaled, then turned, about the middle of all or of each."""
    assert isinstance(values, Turn)
    co, si = math.cos(math.radians(values.turn)), -math.sin(math.radians(values.turn))
    for part in wholes(design, ids) if values.each else [ids]:
        left, top, right, low = box_of(_items(design, part)).tolist()
        x, y = (left + right) / 2, (top + low) / 2
        scale = about(x, y, (values.across / 100, 0.0, 0.0, values.down / 100))
        design = transform_objects(design, part, composed(scale, about(x, y, (co, si, -si, co))))
    on_cloth(design, ids)
    return design, ids


def mirrored(design: Design, ids: Ids, values: Struct | None) -> Made:
    """Turned over about an axis; the first stays where a copy is wanted, which is then selected."""
    assert isinstance(values, Mirror)
    left, top, right, low = box_of(_items(design, ids)).tolist()
    upright = values.axis == "upright"
    first, last = (left, right) if upright else (top, low)
    axis = {
        "middle": (first + last) / 2,
        "right or lower side": last + values.gap,
        "left or upper side": first - values.gap,
        "hoop": 0.0,
    }[values.through]
    if values.copy:
        known = {item.id for item in design.objects}
        design = duplicate_objects(design, ids)
        ids = frozenset(item.id for item in design.objects if item.id not in known)
    matrix = (-1.0, 0.0, 0.0, 1.0, 2 * axis, 0.0) if upright else (1.0, 0.0, 0.0, -1.0, 0.0, 2 * axis)
    return transform_objects(design, ids, matrix), ids
