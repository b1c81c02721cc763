"""Copies in rows, round a centre, along a line."""

import math
from typing import Annotated

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from jontel.design.design import MOST_OBJECTS, Design
from jontel.design.edits import add_objects, remove_objects, transform_object
from jontel.design.errors import CannotDo
from jontel.design.kinds.values import Group, number, yes_no
from jontel.design.paths import Matrix, composed, transform_point
from jontel.design.shapes import Line
from jontel.geometry.polyline import at_lengths, flatten, lengths
from jontel.shaping.outlines import Ids, Made
from jontel.shaping.placing import about, box_of, on_cloth

COPIES = Group("Copies", open=True)


class Rows(Struct, frozen=True):
    """How many beside and below each other, and from one to the next."""

    across: Annotated[int, number("Across", 1, 200, "count", 1, COPIES)] = 3
    down: Annotated[int, number("Down", 1, 200, "count", 1, COPIES)] = 1
    gap_across: Annotated[float, number("Gap across", -200.0, 500.0, "length", 0.5, COPIES)] = 2.0
    gap_down: Annotated[float, number("Gap down", -200.0, 500.0, "length", 0.5, COPIES)] = 2.0
    stagger: Annotated[float, number("Every other row shifts", 0.0, 100.0, "percent", 5, COPIES)] = 0.0


class Circle(Struct, frozen=True):
    """How many in all, over how many degrees, about which place."""

    count: Annotated[int, number("In all", 2, 360, "count", 1, COPIES)] = 6
    over: Annotated[float, number("Over", 1.0, 360.0, "angle", 5, COPIES)] = 360.0
    x: Annotated[float, number("Centre x", -2000.0, 2000.0, "length", 0.5, COPIES)] = 0.0
    y: Annotated[float, number("Centre y", -2000.0, 2000.0, "length", 0.5, COPIES)] = 0.0
    turn: Annotated[bool, yes_no("Turned along", COPIES)] = True


class Along(Struct, frozen=True):
    """How many along the whole line."""

    count: Annotated[int, number("In all", 2, 1000, "count", 1, COPIES)] = 6
    turn: Annotated[bool, yes_no("Turned along", COPIES)] = True


def _copies(design: Design, ids: Ids, matrices: list[Matrix]) -> Made:
    """``design`` with a copy of the selection for each matrix, sewn after it."""
    chosen = [item for item in design.objects if item.id in ids]
    if len(design.objects) + len(chosen) * len(matrices) > MOST_OBJECTS:
        raise CannotDo(f"That would be more than {MOST_OBJECTS:,} objects; take fewer copies.")
    fresh = []
    for number_, matrix in enumerate(matrices, 2):
        for item in chosen:
            fresh.append(replace(transform_object(item, matrix), name=f"{item.name[:74]} {number_}", group=0))
    at = 1 + max(k for k, item in enumerate(design.objects) if item.id in ids)
    first = design.next_id
    made = add_objects(design, fresh, at)
    on_cloth(made, range(first, first + len(fresh)))
    return made, ids | frozenset(range(first, first + len(fresh)))


def in_rows(design: Design, ids: Ids, values: Struct | None) -> Made:
    """Lines of copies to the right and below, the way there and back by turns so that jumps are short."""
    assert isinstance(values, Rows)
    left, top, right, low = box_of([item for item in design.objects if item.id in ids]).tolist()
    wide, tall = right - left + values.gap_across, low - top + values.gap_down
    places: list[Matrix] = []
    for row in range(values.down):
        shift = values.stagger / 100 * wide if row % 2 else 0.0
        columns = range(values.across) if row % 2 == 0 else range(values.across - 1, -1, -1)
        places += [(1.0, 0.0, 0.0, 1.0, column * wide + shift, row * tall) for column in columns]
    return _copies(design, ids, places[1:])


def in_a_circle(design: Design, ids: Ids, values: Struct | None) -> Made:
    """Copies about a place at even angles, counter-clockwise."""
    assert isinstance(values, Circle)
    whole = values.over >= 360.0
    step = values.over / (values.count if whole else values.count - 1)
    left, top, right, low = box_of([item for item in design.objects if item.id in ids]).tolist()
    middle = ((left + right) / 2, (top + low) / 2)
    matrices: list[Matrix] = []
    for k in range(1, values.count):
        c, s = math.cos(math.radians(k * step)), -math.sin(math.radians(k * step))
        turned = about(values.x, values.y, (c, s, -s, c))
        matrices.append(
            turned if values.turn else composed(turned, about(*transform_point(middle, turned), (c, -s, s, c)))
        )
    return _copies(design, ids, matrices)


def along(design: Design, ids: Ids, values: Struct | None) -> Made:
    """Copies at even steps along the line that is sewn last of the selection; the line itself goes."""
    assert isinstance(values, Along)
    *_, line = [item for item in design.objects if item.id in ids]
    if not isinstance(line.shape, Line):
        raise CannotDo(f"“{line.name}” is sewn last of what is selected and is no line; draw one to copy along.")
    others = ids - {line.id}
    ways = flatten(line.shape.path)
    if not ways:
        raise CannotDo(f"“{line.name}” has no length; draw a line to copy along.")
    way = ways[0]
    loop = way.loop()
    marks = lengths(loop)
    where = (
        np.linspace(0, marks[-1], values.count + 1)[:-1] if way.closed else np.linspace(0, marks[-1], values.count)
    )
    spots = at_lengths(loop, where, marks)
    ahead, back = at_lengths(loop, where + 0.2, marks), at_lengths(loop, where - 0.2, marks)
    left, top, right, low = box_of([item for item in design.objects if item.id in others]).tolist()
    x, y = (left + right) / 2, (top + low) / 2
    matrices: list[Matrix] = []
    for spot, step in zip(spots.tolist(), (ahead - back).tolist(), strict=True):
        size = math.hypot(*step) or 1.0
        c, s = (step[0] / size, step[1] / size) if values.turn else (1.0, 0.0)
        turned = about(x, y, (c, s, -s, c))
        matrices.append(composed(turned, (1.0, 0.0, 0.0, 1.0, spot[0] - x, spot[1] - y)))
    made, fresh = _copies(design, others, matrices)
    return remove_objects(made, {line.id} | others), fresh - others
