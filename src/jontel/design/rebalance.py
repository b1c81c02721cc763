"""Rebalance: the spacings and stitch lengths of many objects scaled together."""

from collections.abc import Callable, Collection

from msgspec import Struct
from msgspec.structs import replace

from jontel.design.covers import FillRecipe, RunRecipe, SatinRecipe
from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects
from jontel.design.ground import Ground
from jontel.design.ranges import RANGES
from jontel.design.resolve import resolve
from jontel.design.underlays import Underlay


class Scales(Struct, frozen=True):
    """By how many percent of what it is each value is sewn; 100 leaves it."""

    satin_spacing: float = 100.0
    fill_spacing: float = 100.0
    fill_length: float = 100.0
    run_length: float = 100.0
    underlay: bool = False


Passes = Callable[[StitchObject], tuple[Underlay, ...]]


def rebalanced(design: Design, ids: Collection[int], scales: Scales, passes_of: Passes) -> Design:
    """``design`` with the objects in ``ids`` scaled: the new values are pinned, those at 100 % stay as they are.

    With ``scales.underlay`` the passes that ``passes_of`` tells of an object are scaled like its cover.
    """
    ground = design.brief.ground
    return change_objects(design, ids, lambda item: _scaled(item, ground, scales, passes_of))


def _scaled(item: StitchObject, ground: Ground, scales: Scales, passes_of: Passes) -> StitchObject:
    recipe = resolve(item, ground).cover
    wanted: dict[str, float] = {}
    match recipe:
        case SatinRecipe():
            wanted = {"spacing": scales.satin_spacing}
        case FillRecipe():
            wanted = {"spacing": scales.fill_spacing, "length": scales.fill_length}
        case RunRecipe():
            wanted = {"length": scales.run_length}
    changes = {
        field: scaled(field, getattr(recipe, field), percent) for field, percent in wanted.items() if percent != 100.0
    }
    if not changes:
        return item
    item = replace(item, cover=replace(item.cover, **changes))
    if not scales.underlay or isinstance(recipe, RunRecipe):
        return item
    return replace(item, underlay=tuple(_scaled_pass(one, wanted) for one in passes_of(item)))


def _scaled_pass(one: Underlay, wanted: dict[str, float]) -> Underlay:
    changes = {
        field: scaled(field, getattr(one, field), percent)
        for field, percent in wanted.items()
        if field in one.__struct_fields__
    }
    return replace(one, **changes)


def scaled(field: str, value: float, percent: float) -> float:
    """``value`` at so many percent, to a hundredth of a mm, within what ``field`` may be."""
    low, high = RANGES[field]
    return min(high, max(low, round(value * percent / 100, 3)))
