"""Run: running stitch along the shape's path."""

from typing import Annotated, Literal

from jontel.design.kinds.base import CoverValues
from jontel.design.kinds.section import Cut, Dashes, Mark
from jontel.design.kinds.traits import CoverTraits, Kind, Words
from jontel.design.kinds.values import Group, number, pins, word, yes_no

RunStyle = Literal["single", "there and back", "triple", "back-stitch"]
RunAlong = Literal["outline", "centre line"]
RunWay = Literal["nearest", "forward", "reversed", "retraced"]
MAIN, PATH = Group("Run", open=True), Group("Path")
REPEATED = ("repeats", tuple(range(2, 21)))
SPREAD = ("by_hand", (False,))


class RunRecipe(CoverValues, frozen=True, tag="run"):
    """Running stitch with every value known. Lengths in mm.

    Repeats go there and back; those of a closed line in the same sense, if ``round_again``. ``way`` is the direction:
    from the nearer end, as drawn, reversed, or to the end and back over it. On an area it runs ``along`` the outline,
    or along the middle of what is drawn, each part in one go. ``chord`` is how far
    a stitch may cut a curve. ``by_hand`` takes every node of the path, and nothing else, as a needle point.
    """

    along: Annotated[RunAlong, word("Along the", MAIN)] = "outline"
    style: Annotated[RunStyle, word("Style", MAIN)] = "single"
    length: Annotated[
        float,
        number("Stitch length", 0.3, 12.0, "stitch", 0.1, MAIN, SPREAD, rebalanced="Run stitch length"),
    ] = 2.5
    repeats: Annotated[int, number("Repeats", 1, 20, "count", 1, MAIN)] = 1
    round_again: Annotated[bool, yes_no("Closed lines go round again", MAIN, REPEATED)] = False
    way: Annotated[RunWay, word("Direction", PATH)] = "nearest"
    chord: Annotated[float, number("May cut curves by", 0.01, 2.0, "length", 0.02, PATH, SPREAD)] = 0.1
    by_hand: Annotated[bool, yes_no("Needle points placed by hand", PATH)] = False


@pins
class Run(RunRecipe, frozen=True, tag="run"):
    """What of a run was set by hand."""


def summary(recipe: RunRecipe, mm: Words) -> str:
    """Length and style."""
    return "by hand" if recipe.by_hand else f"{mm(recipe.length)} · {recipe.style}"


def section(recipe: RunRecipe, _cut: Cut) -> tuple[Mark, ...]:
    """Seen from the side."""
    return (Dashes(recipe.length),)


KIND = Kind(
    "run",
    CoverTraits(
        title="Run",
        icon="M2 13 L6 11.5 M8 10.8 L12 9.2 M14 8.5 L18 7",
        lies_on=frozenset({"area", "line", "column"}),
        rows="none",
        underlay="never",
        summary=summary,
        section=section,
        by_hand=True,
        comes_round=True,
        directed_by={"line": ("needle",)},
    ),
    RunRecipe,
    Run,
)
