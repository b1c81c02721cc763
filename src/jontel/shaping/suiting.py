"""Kinds that suit the size: what was narrow enough for a satin may be too wide for one when it is larger."""

import math
from collections import Counter
from typing import Literal

from msgspec import Struct
from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects
from jontel.design.errors import CannotDo, CannotStitch
from jontel.design.kinds.fill import Fill
from jontel.design.kinds.run import Run
from jontel.design.kinds.satin import Satin
from jontel.design.shapes import Area, Line
from jontel.design.stopping import go_on
from jontel.design.words import many
from jontel.geometry.bands import as_column, reads_as_satin
from jontel.sewing.proof.satin_widths import NARROW, WIDE
from jontel.shaping.kinds import to_area
from jontel.shaping.outlines import Ids, Made, region_in

RESCALED = 1.1
"""By this factor at least a size has to change before anything is asked."""
Suits = Literal["run", "satin", "fill"]


def suits(item: StitchObject) -> Suits | None:
    """What an object's shape reads as at its size; ``None`` where that says nothing, or parts say one and another.

    Raises ``CannotDo`` and ``CannotStitch`` for shapes that cover nothing.
    """
    if isinstance(item.shape, Line):
        return "run" if item.shape.width < NARROW else "fill" if item.shape.width > WIDE else "satin"
    narrow = {reads_as_satin(part) for part in region_in(item).geoms}
    return None if len(narrow) != 1 else "satin" if narrow == {True} else "fill"


def _sewn_as(item: StitchObject) -> Suits | None:
    """What an object is sewn as, of those that the size decides between."""
    if item.lettering is not None or item.locked:
        return None
    is_line = isinstance(item.shape, Line)
    match item.cover:
        case Run() if is_line:
            return "run"
        case Satin():
            return "satin"
        case Fill() if not is_line:
            return "fill"
    return None


def _rescaled(old: StitchObject, new: StitchObject) -> bool:
    """Whether an object is so much larger or smaller than it was, not only bent."""
    if isinstance(old.shape, Line) and isinstance(new.shape, Line):
        sizes = [one.shape.width for one in (old, new) if isinstance(one.shape, Line)]
    else:
        sizes = [math.sqrt(region_in(one).area) for one in (old, new)]
    return min(sizes) > 0 and max(sizes) / min(sizes) > RESCALED


def outgrown(before: Design, after: Design) -> dict[int, Suits]:
    """Objects that were sewn as their shapes read, and at their new size read as something else: as what, by id.

    Only those that were scaled and kept their kind: who chose a kind against the size is not asked again.
    """
    then = {item.id: item for item in before.objects}
    found: dict[int, Suits] = {}
    for item in after.objects:
        old = then.get(item.id)
        if old is None or old is item or old.shape == item.shape or type(old.cover) is not type(item.cover):
            continue
        go_on()
        try:
            own, now = _sewn_as(item), suits(item)
            if own is not None and _rescaled(old, item) and now not in (None, own) and suits(old) == own:
                assert now is not None
                found[item.id] = now
        except (CannotDo, CannotStitch):
            continue
    return found


def words_for(design: Design, found: dict[int, Suits]) -> str:
    """What no longer suits its size, in a sentence that asks."""
    names = [item.name for item in design.objects if item.id in found]
    what = f"“{names[0]}” is" if len(names) == 1 else f"{many(len(names), 'object')} are"
    counts = Counter(found.values())
    kinds = " and ".join(many(counts[kind], kind) for kind in ("run", "satin", "fill") if counts[kind])
    return f"At this size {what} better sewn otherwise: {kinds}."


def sewn_otherwise(design: Design, found: dict[int, Suits]) -> Design:
    """Each object as the kind that was found for it, at once; what cannot be that stays."""
    for identity, kind in found.items():
        go_on()
        item = design.object(identity)
        if item is None:
            continue
        some = frozenset({identity})
        if kind == "fill":
            design = to_area(design, some, None)[0]
        shape = item.shape
        if kind == "satin" and isinstance(shape, Area):
            shape = as_column(region_in(item)) or shape
        made = {"run": Run, "satin": Satin, "fill": Fill}[kind]()
        own = shape if kind == "satin" else None

        def changed(one: StitchObject, made: Run | Satin | Fill = made, own: object = own) -> StitchObject:
            return replace(one, cover=made, underlay=None, shape=own or one.shape)

        design = change_objects(design, some, changed)
    return design


def suited(design: Design, ids: Ids, _values: Struct | None) -> Made:
    """Objects sewn as their shapes read at their size."""
    found: dict[int, Suits] = {}
    for item in design.objects:
        own = _sewn_as(item) if item.id in ids else None
        if own is not None:
            kind = suits(item)
            if kind is not None and kind != own:
                found[item.id] = kind
    if not found:
        raise CannotDo("What is selected is sewn as suits its size already.")
    return sewn_otherwise(design, found), ids
