"""Satin: rows from edge to edge of a column."""

from typing import Annotated, Literal

from jontel.design.kinds.base import CoverValues
from jontel.design.kinds.fades import CLOSED, FADE, FADES, Fade
from jontel.design.kinds.section import Bows, Cut, Mark, Points
from jontel.design.kinds.traits import CoverTraits, Kind, Words
from jontel.design.kinds.values import ABOVE_ZERO, Group, Place, Profile, When, curve, number, pins, word, yes_no

Texture = Literal["none", "brick", "stair", "chevron", "random"]
Strokes = Literal["both", "one"]
Wide = Literal["split", "filled"]
Feather = Literal["inwards", "outwards"]

ROWS = Group("Rows", open=True)
WIDTHS, LONG, SURFACE = Group("Width limits"), Group("Long rows"), Group("Surface")
FEATHERED = Group("Feathered edges")
TEXTURES: When = ("texture", ("brick", "stair", "chevron", "random"))
FIRST: When = ("feather_first", ABOVE_ZERO)
SECOND: When = ("feather_second", ABOVE_ZERO)
SEEDED = (Place(FEATHERED, FIRST), Place(FEATHERED, SECOND))
FILLED: When = ("wide", ("filled",))
RAISED: When = ("layers", tuple(range(2, 9)))


class SatinRecipe(CoverValues, frozen=True, tag="satin"):
    """Rows from edge to edge with every value known. ``spacing`` is between neighbouring needle points of one edge.

    ``split_lines`` 0 staggers split points, n lays them in n lines; no piece is shorter than ``split_least``.
    Parts of an area with strokes wider than ``wide_over`` are split as well, or filled with rows across them.
    ``texture`` sets needle points ``texture_length`` apart inside rows, none nearer to an edge than
    ``texture_clear``, on both strokes or on the return ones; ``anchor`` holds every so many return strokes by one.
    ``feather_first`` and ``feather_second`` move needle points of the two edges by up to so much, each its own
    way. ``fade`` changes the spacing to ``fade_to`` along the column. ``layers`` lie on each other, each lower one
    narrower by ``layer_inset`` a side. Widths are kept between ``least_width`` and ``greatest_width`` (0 is no
    limit), and ``narrow_extra`` is added to narrow rows.
    """

    spacing: Annotated[float, number("Spacing", 0.1, 20.0, "strokes", 0.02, ROWS, rebalanced="Satin spacing")] = 0.38
    short_stitches: Annotated[bool, yes_no("Short stitches on tight insides", ROWS)] = True
    least_width: Annotated[float, number("At least", 0.0, 20.0, "length", 0.1, WIDTHS)] = 0.0
    greatest_width: Annotated[float, number("At most (0: any)", 0.0, 60.0, "length", 0.5, WIDTHS)] = 0.0
    narrow_extra: Annotated[float, number("Extra where narrow", 0.0, 3.0, "length", 0.1, WIDTHS)] = 0.0
    split: Annotated[float, number("Split rows over", 1.0, 12.0, "stitch", 0.5, LONG)] = 7.0
    split_lines: Annotated[int, number("In lines of (0: apart)", 0, 12, "count", 1, LONG)] = 0
    split_least: Annotated[float, number("Least piece", 0.5, 6.0, "length", 0.1, LONG)] = 1.0
    wide: Annotated[Wide, word("Wide shapes are", LONG)] = "split"
    wide_over: Annotated[float, number("Wide is over", 3.0, 60.0, "length", 0.5, LONG, FILLED)] = 8.0
    anchor: Annotated[int, number("Anchor every … returns", 0, 50, "count", 1, LONG)] = 0
    texture: Annotated[Texture, word("Needle points", SURFACE)] = "none"
    texture_length: Annotated[float, number("Apart", 0.5, 7.0, "stitch", 0.1, SURFACE, TEXTURES)] = 2.0
    texture_clear: Annotated[float, number("Off the edges", 0.3, 10.0, "length", 0.1, SURFACE, TEXTURES)] = 0.7
    texture_on: Annotated[Strokes, word("On strokes", SURFACE, TEXTURES)] = "both"
    layers: Annotated[int, number("Layers", 1, 8, "count", 1, SURFACE)] = 1
    layer_inset: Annotated[float, number("Lower ones narrower", 0.0, 5.0, "length", 0.1, SURFACE, RAISED)] = 0.4
    feather_first: Annotated[float, number("First edge up to", 0.0, 20.0, "length", 0.1, FEATHERED)] = 0.0
    first_way: Annotated[Feather, word("It goes", FEATHERED, FIRST)] = "inwards"
    feather_second: Annotated[float, number("Second edge up to", 0.0, 20.0, "length", 0.1, FEATHERED)] = 0.0
    second_way: Annotated[Feather, word("That goes", FEATHERED, SECOND)] = "inwards"
    seed: Annotated[int, number("Seed", 0, 9999, "count", 1, SURFACE, ("texture", ("random",)), also=SEEDED)] = 1
    fade: Annotated[Fade, word("Spacing opens", FADE)] = "none"
    fade_to: Annotated[float, number("Opens to", 0.1, 20.0, "strokes", 0.1, FADE, FADES)] = 1.2
    fade_profile: Annotated[Profile, curve("Profile", FADE, ("fade", ("custom",)))] = ((0.0, 0.0), (1.0, 1.0))


@pins
class Satin(SatinRecipe, frozen=True, tag="satin"):
    """What of a satin was set by hand."""


def summary(recipe: SatinRecipe, mm: Words) -> str:
    """The spacing."""
    return mm(recipe.spacing)


def section(recipe: SatinRecipe, cut: Cut) -> tuple[Mark, ...]:
    """Seen along its rows: layers on each other, feathered edges, needle points inside rows."""
    marks: list[Mark] = []
    for below in range(min(recipe.layers, 4) - 1, 0, -1):
        half = max(cut.sewn - below * recipe.layer_inset, 0.2)
        marks.append(Bows(-half, half, lift=-0.17 - 0.09 * below, darker=True))
    first = recipe.feather_first * (1 if recipe.first_way == "inwards" else -1)
    second = recipe.feather_second * (1 if recipe.second_way == "inwards" else -1)
    marks.append(Bows(-cut.sewn, cut.sewn, first, second))
    if recipe.texture != "none" or 2 * cut.sewn > recipe.split:
        apart = recipe.texture_length if recipe.texture != "none" else recipe.split
        inner = int(2 * cut.sewn / apart)
        marks.append(Points(tuple(-cut.sewn + k * apart for k in range(1, inner + 1))))
    return tuple(marks)


def opaque(recipe: SatinRecipe, thread: float) -> bool:
    """Whether nothing shows through its rows, nor at its edges."""
    feathered = recipe.feather_first > 0 or recipe.feather_second > 0
    return recipe.fade == "none" and not feathered and recipe.spacing <= CLOSED * thread


KIND = Kind(
    "satin",
    CoverTraits(
        title="Satin",
        icon="M3 16 L5 4 L7 16 L9 4 L11 16 L13 4 L15 16 L17 4",
        lies_on=frozenset({"area", "line", "column"}),
        rows="edge to edge",
        underlay="by width",
        summary=summary,
        section=section,
        hides=True,
        widens=True,
        directed_by={"area": ("direction",), "column": ("direction",)},
        opaque=opaque,
    ),
    SatinRecipe,
    Satin,
)
