"""Rebalance: the spacings and stitch lengths of many objects scaled together."""

from collections.abc import Callable, Collection

from msgspec import Struct
from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects
from jontel.design.ground import Ground
from jontel.design.kinds import COVERS, Underlay, kind_of
from jontel.design.kinds.values import value_of, values_of
from jontel.design.resolve import resolve

Scaled = tuple[str, str]
"""What is scaled: the kind of cover and the field."""
SCALED: dict[Scaled, str] = {
    (kind.name, value.field): value.rebalanced
    for kind in sorted(COVERS, key=lambda one: one.traits.title, reverse=True)
    for value in values_of(kind.recipe)
    if value.rebalanced is not None
}
"""Everything that rebalance can scale, with its name."""


class Scales(Struct, frozen=True):
    """By how many percent of what it is each value is sewn; what is not named is left as it is."""

    percents: tuple[tuple[Scaled, float], ...] = ()
    underlay: bool = False

    def percent(self, what: Scaled) -> float:
        """How much of what it is one value becomes, percent."""
        return dict(self.percents).get(what, 100.0)

    def with_percent(self, what: Scaled, percent: float) -> "Scales":
        """The same with one value scaled otherwise."""
        rest = {**dict(self.percents), what: percent}
        return replace(self, percents=tuple(sorted((k, v) for k, v in rest.items() if v != 100.0)))


PassesOf = Callable[[StitchObject], tuple[Underlay, ...]]


def rebalanced(design: Design, ids: Collection[int], scales: Scales, passes_of: PassesOf) -> Design:
    """``design`` with the objects in ``ids`` scaled: the new values are pinned, those at 100 % stay as they are.

    With ``scales.underlay`` the passes that ``passes_of`` tells of an object are scaled like its cover.
    """
    return change_objects(design, ids, lambda item: _scaled(item, design.ground_for(item), scales, passes_of))


def _scaled(item: StitchObject, ground: Ground, scales: Scales, passes_of: PassesOf) -> StitchObject:
    recipe = resolve(item, ground).cover
    kind = kind_of(recipe)
    wanted = {field: scales.percent((name, field)) for name, field in SCALED if name == kind.name}
    changes = {
        field: scaled(kind.recipe, field, getattr(recipe, field), percent)
        for field, percent in wanted.items()
        if percent != 100.0
    }
    if not changes:
        return item
    item = replace(item, cover=replace(item.cover, **changes))
    if not scales.underlay or not kind.traits.takes_underlay:
        return item
    return replace(item, underlay=tuple(_scaled_pass(one, wanted) for one in passes_of(item)))


def _scaled_pass(one: Underlay, wanted: dict[str, float]) -> Underlay:
    changes = {
        field: scaled(type(one), field, getattr(one, field), percent)
        for field, percent in wanted.items()
        if field in one.__struct_fields__
    }
    return replace(one, **changes)


def scaled(struct: type[Struct], field: str, value: float, percent: float) -> float:
    """``value`` at so many percent, to a thousandth, within what ``field`` of ``struct`` may be."""
    return value_of(struct, field).within(round(value * percent / 100, 3))
