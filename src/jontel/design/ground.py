"""Grounds and hoops: what is sewn on, and how large the field is."""

from typing import Literal

from msgspec import Struct

from jontel.design.covers import FillRecipe, RunRecipe, SatinRecipe
from jontel.design.underlays import Underlay

Weave = Literal["twill", "canvas", "knit", "pile", "smooth", "sheer", "felt", "film"]


class Edges(Struct, frozen=True):
    """Pull and push compensation as pinned by the user; ``None`` is inherited."""

    pull: float | None = None
    pull_percent: float | None = None
    pull_ceiling: float | None = None
    push: float | None = None
    pull_x: float | None = None
    pull_y: float | None = None


class EdgesRecipe(Struct, frozen=True):
    """Compensation with every value known.

    A row grows at each end by ``pull`` mm plus ``pull_percent`` of its length, at most ``pull_ceiling``;
    open ends are drawn back across the rows by ``push`` mm. ``pull_x`` and ``pull_y``, mm, are added to the
    pull of level and of upright rows; rows between get a part of each.
    """

    pull: float = 0.20
    pull_percent: float = 0.0
    pull_ceiling: float = 1.0
    push: float = 0.15
    pull_x: float = 0.0
    pull_y: float = 0.0


class Ground(Struct, frozen=True):
    """Fabric, backing and topping, with the recipe that objects on it inherit."""

    name: str
    fabric: str
    backing: str
    topping: str
    colour: str
    weave: Weave
    run: RunRecipe
    satin: SatinRecipe
    fill: FillRecipe
    edges: EdgesRecipe
    fill_underlay: tuple[Underlay, ...]
    satin_underlay: tuple[Underlay, ...] | None = None
    """What every satin gets; ``None`` chooses by the column's width."""


class Hoop(Struct, frozen=True):
    """A sewing field, mm. ``corner`` is the radius of its corners; a round hoop has half its width."""

    name: str
    width: float
    height: float
    corner: float = 10.0
