"""Grounds and hoops: what is sewn on, and how large the field is."""

from functools import lru_cache
from typing import Annotated, Literal, TypeVar, cast

from msgspec import Meta, Struct
from msgspec.structs import replace

from jontel.design.cloth import Cloth
from jontel.design.kinds import COVERS, CoverRecipe, CoverValues, Underlay, kind_of
from jontel.design.kinds.values import Group, number, pins, values_of
from jontel.design.thread import USUAL, Colour

Weave = Literal["twill", "canvas", "knit", "pile", "smooth", "sheer", "felt", "film"]
Name = Annotated[str, Meta(max_length=400)]
MOST_PASSES = 12
Passes = Annotated[tuple[Underlay, ...], Meta(max_length=MOST_PASSES)]
"""Underlay passes in sewing order."""
EDGES, BY_LENGTH, ALONG = Group("Edges", open=True), Group("By the row's length"), Group("Along x and y")
R = TypeVar("R", bound=CoverValues)


class EdgesRecipe(Struct, frozen=True):
    """Compensation with every value known.

    A row grows at each end by ``pull`` mm plus ``pull_percent`` of its length, at most ``pull_ceiling``;
    open ends are drawn back across the rows by ``push`` mm. ``pull_x`` and ``pull_y``, mm, are added to the
    pull of level and of upright rows; rows between get a part of each. Rows of ``pull_from`` mm and longer grow by
    all of the pull in mm, shorter ones by less, down to the part ``pull_short``: they draw in little cloth.
    """

    pull: Annotated[float, number("Pull, each side", -3.0, 5.0, "length", 0.05, EDGES)] = 0.20
    pull_percent: Annotated[float, number("Pull, of the row", 0.0, 200.0, "percent", 1.0, EDGES)] = 0.0
    pull_ceiling: Annotated[float, number("Pull at most", 0.0, 10.0, "length", 0.1, EDGES)] = 1.0
    push: Annotated[float, number("Push, each end", 0.0, 5.0, "length", 0.05, EDGES)] = 0.15
    pull_short: Annotated[float, number("Of it on the shortest rows", 0.0, 1.0, "part", 0.05, BY_LENGTH)] = 0.15
    pull_from: Annotated[float, number("All of it from rows of", 0.5, 100.0, "length", 0.5, BY_LENGTH)] = 8.0
    pull_x: Annotated[float, number("More for level rows", -3.0, 5.0, "length", 0.05, ALONG)] = 0.0
    pull_y: Annotated[float, number("More for upright rows", -3.0, 5.0, "length", 0.05, ALONG)] = 0.0


@pins
class Edges(EdgesRecipe, frozen=True):
    """Pull and push compensation as pinned by the user; ``None`` is inherited."""


class Ground(Struct, frozen=True):
    """Fabric, backing and topping, with the recipe that objects on it inherit.

    ``covers`` are its recipes, at most one a kind; a kind that it says nothing about has its own defaults.
    ``column_underlay`` ``None`` chooses by the column's width, ``cloth`` ``None`` follows the weave.
    """

    name: Name
    fabric: Name
    backing: Name
    topping: Name
    colour: Colour
    weave: Weave
    covers: Annotated[tuple[CoverRecipe, ...], Meta(max_length=len(COVERS))]
    edges: EdgesRecipe
    area_underlay: Passes
    column_underlay: Passes | None = None
    cloth: Cloth | None = None

    def recipe(self, kind: type[R]) -> R:
        """The recipe of a cover, told by the class of its recipe or of its pins."""
        name = kind.__struct_config__.tag
        for one in self.covers:
            if one.__struct_config__.tag == name:
                return one  # type: ignore[return-value]
        return kind_of(kind()).recipe()  # type: ignore[return-value]


@lru_cache(maxsize=64)
def suited_to(ground: Ground, width: float) -> Ground:
    """``ground`` with its spacings as they have to be for a thread that covers ``width`` mm across."""
    covers = []
    for kind in COVERS:
        recipe = ground.recipe(cast(type[CoverValues], kind.recipe))
        closer = {
            value.field: round(value.within(getattr(recipe, value.field) * width / USUAL), 3)
            for value in values_of(type(recipe))
            if value.unit in ("spacing", "strokes")
        }
        covers.append(replace(recipe, **closer))
    return replace(ground, covers=tuple(covers))


class Hoop(Struct, frozen=True):
    """A sewing field, mm. ``corner`` is the radius of its corners; a round hoop has half its width."""

    name: Name
    width: Annotated[float, Meta(ge=10.0, le=5000.0)]
    height: Annotated[float, Meta(ge=10.0, le=5000.0)]
    corner: Annotated[float, Meta(ge=0.0, le=2500.0)] = 10.0
