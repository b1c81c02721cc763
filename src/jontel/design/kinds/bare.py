"""Underlay only: no cover; the passes are all that is sewn."""

from typing import Annotated

from jontel.design.kinds.base import CoverValues
from jontel.design.kinds.section import Cut, Mark
from jontel.design.kinds.section import Words as WordsMark
from jontel.design.kinds.traits import CoverTraits, Kind, Words
from jontel.design.kinds.values import Group, number, pins

PASSES = Group("Passes", open=True)


class BareRecipe(CoverValues, frozen=True, tag="underlay only"):
    """No cover. ``angle``, degrees, is the one that the passes are measured from."""

    angle: Annotated[float, number("Angle", -360.0, 360.0, "angle", 1.0, PASSES)] = 0.0


@pins
class Bare(BareRecipe, frozen=True, tag="underlay only"):
    """What of an object without a cover was set by hand."""


def summary(_recipe: BareRecipe, _mm: Words) -> str:
    """That there is none."""
    return "no cover"


def section(_recipe: BareRecipe, _cut: Cut) -> tuple[Mark, ...]:
    """Nothing but words."""
    return (WordsMark("no cover"),)


KIND = Kind(
    "underlay only",
    CoverTraits(
        title="Underlay only",
        icon="M2 6 L18 6 M2 14 L18 14 M5 3 L5 17 M10 3 L10 17 M15 3 L15 17",
        lies_on=frozenset({"area", "line", "column"}),
        rows="none",
        underlay="by area",
        summary=summary,
        section=section,
        visible=False,
        anywhere=True,
    ),
    BareRecipe,
    Bare,
)
