"""Kinds of cover and underlay, each declared once in a file of its own; a new one is its file and its line here."""

from typing import TYPE_CHECKING, Union

from msgspec import Struct

from jontel.design.kinds import (
    bare,
    centre_run,
    double_zigzag,
    edge_run,
    fill,
    lattice,
    mesh,
    parallel,
    run,
    satin,
    zigzag,
)
from jontel.design.kinds.base import CoverValues, UnderlayValues
from jontel.design.kinds.traits import CoverTraits, Kind, UnderlayTraits

COVERS: tuple[Kind, ...] = (
    run.KIND,
    satin.KIND,
    fill.KIND,
    bare.KIND,
)
UNDERLAYS: dict[type[UnderlayValues], UnderlayTraits] = {
    centre_run.CentreRun: centre_run.TRAITS,
    edge_run.EdgeRun: edge_run.TRAITS,
    parallel.Parallel: parallel.TRAITS,
    zigzag.Zigzag: zigzag.TRAITS,
    double_zigzag.DoubleZigzag: double_zigzag.TRAITS,
    lattice.Lattice: lattice.TRAITS,
    mesh.Mesh: mesh.TRAITS,
}
UNDERLAY_KINDS: tuple[type[UnderlayValues], ...] = tuple(UNDERLAYS)

if TYPE_CHECKING:
    Cover = CoverValues
    CoverRecipe = CoverValues
    Underlay = UnderlayValues
else:
    # what a file may hold: one of the registered kinds, told apart by its tag
    Cover = Union[tuple(kind.pins for kind in COVERS)]  # noqa: UP007
    CoverRecipe = Union[tuple(kind.recipe for kind in COVERS)]  # noqa: UP007
    Underlay = Union[tuple(UNDERLAYS)]  # noqa: UP007

_BY_NAME = {kind.name: kind for kind in COVERS}


def kind_name(value: Struct) -> str:
    """The trade's name of a cover, an underlay or a shape: its tag."""
    return str(value.__struct_config__.tag)


def kind_of(cover: CoverValues) -> Kind:
    """The kind of a cover, told by its pins or its recipe."""
    return _BY_NAME[kind_name(cover)]


def traits_of(cover: CoverValues) -> CoverTraits:
    """What can be asked of a cover, told by its pins or its recipe."""
    return kind_of(cover).traits


def underlay_traits(one: UnderlayValues) -> UnderlayTraits:
    """What can be asked of an underlay pass."""
    return UNDERLAYS[type(one)]


__all__ = [
    "COVERS", "UNDERLAYS", "UNDERLAY_KINDS", "Cover", "CoverRecipe", "CoverTraits", "CoverValues", "Kind", "Underlay",
    "UnderlayTraits", "UnderlayValues", "kind_name", "kind_of", "traits_of", "underlay_traits",
]  # fmt: skip
