"""Fill: parallel rows over an area."""

from typing import Annotated, Literal

from jontel.design.kinds.base import CoverValues
from jontel.design.kinds.fades import CLOSED, FADE, FADES, Fade, faded
from jontel.design.kinds.run import RunStyle
from jontel.design.kinds.section import Beads, Bows, Cut, Mark, every
from jontel.design.kinds.traits import CoverTraits, Kind, Words
from jontel.design.kinds.values import ABOVE_ZERO, Group, Place, Profile, When, curve, number, pins, word

Pattern = Literal["calm", "brick", "scatter", "stair", "halves", "thirds", "chevron", "ripple", "random"]
Travel = Literal["interior", "rim"]
Border = Literal["none", "run", "satin"]

ROWS, POINTS, RIM = Group("Rows", open=True), Group("Needle points"), Group("Rim")
BRICK: When = ("pattern", ("brick",))
BORDERED: When = ("border", ("satin",))
OUTLINED: When = ("border", ("run",))
OPEN = 0.7
"""Fills with a spacing over this, mm, hide no travel."""


class FillRecipe(CoverValues, frozen=True, tag="fill"):
    """Parallel rows with every value known. ``angle`` in degrees, counter-clockwise from the x axis.

    ``pattern`` says how rows are shifted against each other: ``calm`` so that the needle points show no direction;
    for ``brick``, ``brick_offset`` is the part of
    a stitch by which each row is shifted against the last, and ``brick_rows`` how many rows the pattern
    has before it repeats. ``fade`` changes the spacing to ``fade_to`` towards ``fade_angle``. Row ends are
    drawn back by up to ``ragged``. ``border`` is sewn last, along the rim: a satin of its width and spacing, or a run
    of its style, length and repeats.
    """

    spacing: Annotated[float, number("Spacing", 0.1, 20.0, "spacing", 0.02, ROWS, rebalanced="Fill spacing")] = 0.40
    length: Annotated[
        float, number("Stitch length", 0.3, 12.0, "stitch", 0.1, ROWS, rebalanced="Fill stitch length")
    ] = 3.5
    angle: Annotated[float, number("Angle", -360.0, 360.0, "angle", 1.0, ROWS)] = 0.0
    pattern: Annotated[Pattern, word("Pattern", POINTS)] = "calm"
    brick_offset: Annotated[float, number("Brick offset", 0.0, 1.0, "part", 0.05, POINTS, BRICK)] = 0.4
    brick_rows: Annotated[int, number("Brick rows", 1, 40, "count", 1, POINTS, BRICK)] = 5
    fade: Annotated[Fade, word("Spacing opens", FADE)] = "none"
    fade_to: Annotated[float, number("Opens to", 0.1, 20.0, "spacing", 0.1, FADE, FADES)] = 1.2
    fade_angle: Annotated[float, number("Towards", -360.0, 360.0, "angle", 5, FADE, FADES)] = -90.0
    fade_profile: Annotated[Profile, curve("Profile", FADE, ("fade", ("custom",)))] = ((0.0, 0.0), (1.0, 1.0))
    ragged: Annotated[float, number("Ragged by up to", 0.0, 30.0, "length", 0.5, RIM)] = 0.0
    seed: Annotated[
        int,
        number(
            "Seed",
            0,
            9999,
            "count",
            1,
            POINTS,
            ("pattern", ("random",)),
            also=(Place(RIM, ("ragged", ABOVE_ZERO)),),
        ),
    ] = 1
    border: Annotated[Border, word("Border", RIM)] = "none"
    border_width: Annotated[float, number("Border width", 0.6, 20.0, "length", 0.1, RIM, BORDERED)] = 2.0
    border_spacing: Annotated[float, number("Border spacing", 0.1, 10.0, "strokes", 0.02, RIM, BORDERED)] = 0.40
    border_style: Annotated[RunStyle, word("Border style", RIM, OUTLINED)] = "single"
    border_length: Annotated[float, number("Border stitch length", 0.3, 12.0, "stitch", 0.1, RIM, OUTLINED)] = 2.5
    border_repeats: Annotated[int, number("Border repeats", 1, 20, "count", 1, RIM, OUTLINED)] = 1
    travel: Annotated[Travel, word("Travel goes", RIM)] = "interior"


@pins
class Fill(FillRecipe, frozen=True, tag="fill"):
    """What of a fill was set by hand."""


def summary(recipe: FillRecipe, mm: Words) -> str:
    """Spacing and angle."""
    return f"{mm(recipe.spacing)} · {recipe.angle:.0f}°".replace("-", "−")


def section(recipe: FillRecipe, cut: Cut) -> tuple[Mark, ...]:
    """Cut across its rows: they stand apart as they fade, keep off a ragged rim, lie under a border."""
    half = max(cut.sewn - recipe.ragged * 0.5, 0.0)
    places = every(half, recipe.spacing) if recipe.fade == "none" else _faded_places(recipe, half)
    marks: list[Mark] = [Beads(places, cut.thread * 1.02, 0.78)]
    if recipe.border == "run":
        marks.append(Beads((-cut.sewn, cut.sewn), cut.thread * 1.02, 0.35, lift=0.5))
    elif recipe.border == "satin":
        wide = recipe.border_width / 2
        marks += [Bows(at - wide, at + wide, lift=0.17) for at in (-cut.sewn, cut.sewn)]
    return tuple(marks)


def _faded_places(recipe: FillRecipe, half: float) -> tuple[float, ...]:
    places: list[float] = []
    at = -half
    while at <= half:
        places.append(at)
        part = min(1.0, max(0.0, faded(recipe.fade, recipe.fade_profile, (at + half) / max(2 * half, 0.01))))
        at += max(0.1, recipe.spacing + (recipe.fade_to - recipe.spacing) * part)
    return tuple(places)


def shows_travel(pinned: Fill) -> bool:
    """Whether the rows stand so far apart, by what is pinned, that travel between them would show."""
    return pinned.fade not in (None, "none") or (pinned.spacing or 0.0) > OPEN


def opaque(recipe: FillRecipe, thread: float) -> bool:
    """Whether nothing shows through its rows."""
    return recipe.fade == "none" and recipe.ragged == 0 and recipe.spacing <= CLOSED * thread


def spared(recipe: FillRecipe) -> bool:
    """Whether a part of it can be left out: no border would come to lie along the new rim."""
    return recipe.border == "none" and recipe.fade == "none" and recipe.ragged == 0


KIND = Kind(
    "fill",
    CoverTraits(
        title="Fill",
        icon=("M2 5 L9 5 M11 5 L18 5 M2 10 L5 10 M7 10 L14 10 M16 10 L18 10 M2 15 L9 15 M11 15 L18 15"),
        lies_on=frozenset({"area", "line", "column"}),
        rows="one way",
        underlay="by area",
        summary=summary,
        section=section,
        hides=True,
        anywhere=True,
        widens=True,
        directed_by={"area": ("direction", "guide")},
        shows_travel=shows_travel,
        opaque=opaque,
        spared=spared,
    ),
    FillRecipe,
    Fill,
)
