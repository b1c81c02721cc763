"""From what the user pinned to what is sewn: every value known."""

from typing import TypeVar

import msgspec
from msgspec import Struct
from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.ground import EdgesRecipe, Ground
from jontel.design.kinds import CoverRecipe, Underlay, traits_of
from jontel.design.lettering import word_gap
from jontel.design.shapes import Area, Shape
from jontel.design.store import kept

Recipe = TypeVar("Recipe", bound=Struct)


class Resolved(Struct, frozen=True, kw_only=True):
    """All that the stitches of an object depend on. ``underlay`` ``None`` is chosen by width and area.

    Letters with no more than ``word_gap`` mm between them are a word, whose underlay is laid before its covers; with
    0 each letter has its own.
    """

    shape: Shape
    cover: CoverRecipe
    underlay: tuple[Underlay, ...] | None
    area_underlay: tuple[Underlay, ...]
    edges: EdgesRecipe
    underlay_once: bool = False
    word_gap: float = 0.0


def overlay(recipe: Recipe, pins: Struct) -> Recipe:
    """``recipe`` with every pinned (not ``None``) field of ``pins`` laid over the one of the same name."""
    pinned = {name: getattr(pins, name) for name in pins.__struct_fields__}
    return msgspec.structs.replace(recipe, **{k: v for k, v in pinned.items() if v is not None})


def _may_be_filled(item: StitchObject) -> bool:
    """Whether parts of an object that is no fill are sewn as one where nothing else fits."""
    return isinstance(item.shape, Area) and traits_of(item.cover).rows == "edge to edge"


@kept
def resolve(item: StitchObject, ground: Ground) -> Resolved:
    """The complete object: its pins over the recipe of ``ground``."""
    chosen = traits_of(item.cover).underlay
    underlay = item.underlay
    if underlay is None and chosen == "by width":
        underlay = ground.column_underlay
    elif underlay is None and chosen == "never":
        underlay = ()
    return Resolved(
        shape=item.shape,
        cover=overlay(ground.recipe(type(item.cover)), item.cover),
        underlay=underlay,
        area_underlay=ground.area_underlay if chosen == "by area" or _may_be_filled(item) else (),
        edges=overlay(ground.edges, item.edges),
        underlay_once=item.underlay_once,
        word_gap=word_gap(item.lettering) if item.underlay_once and item.lettering is not None else 0.0,
    )


def keep_values(design: Design) -> Design:
    """``design`` with everything pinned that its ground decides now, so that another ground changes none of it."""

    def kept_as_is(item: StitchObject) -> StitchObject:
        whole = resolve(item, design.ground_for(item))
        cover = {name: getattr(whole.cover, name) for name in item.cover.__struct_fields__}
        edges = {name: getattr(whole.edges, name) for name in item.edges.__struct_fields__}
        underlay = whole.underlay
        if underlay is None and traits_of(item.cover).underlay == "by area":
            underlay = whole.area_underlay
        return replace(
            item, cover=replace(item.cover, **cover), edges=replace(item.edges, **edges), underlay=underlay
        )

    return replace(design, objects=tuple(kept_as_is(item) for item in design.objects))
