"""From what the user pinned to what is sewn: every value known."""

from functools import lru_cache
from typing import TypeVar

import msgspec
from msgspec import Struct

from jontel.design.covers import Bare, BareRecipe, CoverRecipe, Fill, Run, Satin
from jontel.design.design import StitchObject
from jontel.design.ground import EdgesRecipe, Ground
from jontel.design.shapes import Shape
from jontel.design.underlays import Underlay

Recipe = TypeVar("Recipe", bound=Struct)


class Resolved(Struct, frozen=True, kw_only=True):
    """All that the stitches of an object depend on. ``underlay`` ``None`` is chosen by width and area."""

    shape: Shape
    cover: CoverRecipe
    underlay: tuple[Underlay, ...] | None
    fill_underlay: tuple[Underlay, ...]
    edges: EdgesRecipe
    underlay_once: bool = False


def overlay(recipe: Recipe, pins: Struct) -> Recipe:
    """``recipe`` with every pinned (not ``None``) field of ``pins`` laid over the one of the same name."""
    pinned = {name: getattr(pins, name) for name in pins.__struct_fields__}
    return msgspec.structs.replace(recipe, **{k: v for k, v in pinned.items() if v is not None})


@lru_cache(maxsize=8192)
def resolve(item: StitchObject, ground: Ground) -> Resolved:
    """The complete object: its pins over the recipe of ``ground``."""
    cover: CoverRecipe
    match item.cover:
        case Run():
            cover = overlay(ground.run, item.cover)
        case Satin():
            cover = overlay(ground.satin, item.cover)
        case Fill():
            cover = overlay(ground.fill, item.cover)
        case Bare():
            cover = overlay(BareRecipe(), item.cover)
    underlay = item.underlay
    if underlay is None and isinstance(item.cover, Satin):
        underlay = ground.satin_underlay
    if isinstance(item.cover, Run) and item.underlay is None:
        underlay = ()
    return Resolved(
        shape=item.shape,
        cover=cover,
        underlay=underlay,
        fill_underlay=ground.fill_underlay,
        edges=overlay(ground.edges, item.edges),
        underlay_once=item.underlay_once,
    )
