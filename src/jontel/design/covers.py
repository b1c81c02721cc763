"""Covers: the visible top stitching of an object.

Each kind comes twice, with the same field names: as the user's pins (``None`` = inherited from the ground)
and as the ground's complete recipe. ``resolve`` lays the first over the second.
"""

from typing import Literal

from msgspec import Struct

RunStyle = Literal["single", "there and back", "triple", "back-stitch"]
RunWay = Literal["nearest", "forward", "reversed", "retraced"]
Pattern = Literal["brick", "scatter", "stair", "halves", "thirds", "chevron", "ripple", "random"]
Fade = Literal["none", "along", "against", "middle out", "custom"]
Profile = tuple[tuple[float, float], ...]
"""A curve over a way: ``(place, value)``, the place from 0 to 1, straight between."""
Travel = Literal["interior", "rim"]
Border = Literal["none", "run", "satin"]
Texture = Literal["none", "brick", "stair", "chevron", "random"]
Strokes = Literal["both", "one"]
Sides = Literal["none", "first", "second", "both"]
Feather = Literal["inwards", "outwards"]


class Run(Struct, frozen=True, tag="run"):
    """Running stitch along the shape's path. Lengths in mm.

    ``way`` is the direction: from the nearer end, as drawn, reversed, or to the end and back over it.
    ``chord`` is how far a stitch may cut a curve. ``by_hand`` takes every node of the path, and nothing
    else, as a needle point.
    """

    length: float | None = None
    style: RunStyle | None = None
    repeats: int | None = None
    way: RunWay | None = None
    chord: float | None = None
    by_hand: bool | None = None


class Satin(Struct, frozen=True, tag="satin"):
    """Rows from edge to edge. ``spacing`` is between neighbouring needle points of one edge.

    ``split_lines`` 0 staggers split points, n lays them in n lines; no piece is shorter than ``split_least``.
    ``texture`` sets needle points ``texture_length`` apart inside rows, on both strokes or on the return
    ones; ``anchor`` holds every so many return strokes by one. ``feather`` moves needle points of an edge
    by up to ``feather_length``. ``fade`` changes the spacing to ``fade_to`` along the column. ``layers`` lie
    on each other, each lower one narrower by ``layer_inset`` a side. Widths are kept between
    ``least_width`` and ``greatest_width`` (0 is no limit), and ``narrow_extra`` is added to narrow rows.
    """

    spacing: float | None = None
    split: float | None = None
    short_stitches: bool | None = None
    split_lines: int | None = None
    split_least: float | None = None
    texture: Texture | None = None
    texture_length: float | None = None
    texture_on: Strokes | None = None
    anchor: int | None = None
    feather: Sides | None = None
    feather_length: float | None = None
    feather_way: Feather | None = None
    fade: Fade | None = None
    fade_to: float | None = None
    fade_profile: Profile | None = None
    layers: int | None = None
    layer_inset: float | None = None
    least_width: float | None = None
    greatest_width: float | None = None
    narrow_extra: float | None = None
    seed: int | None = None


class Fill(Struct, frozen=True, tag="fill"):
    """Parallel rows. ``angle`` in degrees, counter-clockwise from the x axis.

    ``pattern`` says how rows are shifted against each other; for ``brick``, ``brick_offset`` is the part of
    a stitch by which each row is shifted against the last, and ``brick_rows`` how many rows the pattern
    has before it repeats. ``fade`` changes the spacing to ``fade_to`` towards ``fade_angle``. Row ends are
    drawn back by up to ``ragged``. ``border`` is sewn last, along the rim.
    """

    spacing: float | None = None
    length: float | None = None
    angle: float | None = None
    pattern: Pattern | None = None
    brick_offset: float | None = None
    brick_rows: int | None = None
    fade: Fade | None = None
    fade_to: float | None = None
    fade_angle: float | None = None
    fade_profile: Profile | None = None
    ragged: float | None = None
    travel: Travel | None = None
    border: Border | None = None
    border_width: float | None = None
    border_spacing: float | None = None
    seed: int | None = None


class Bare(Struct, frozen=True, tag="underlay only"):
    """No cover: the underlay is all that is sewn. ``angle`` is the one that its passes are measured from."""

    angle: float | None = None


Cover = Run | Satin | Fill | Bare


class RunRecipe(Struct, frozen=True, tag="run"):
    """A run with every value known."""

    length: float = 2.5
    style: RunStyle = "single"
    repeats: int = 1
    way: RunWay = "nearest"
    chord: float = 0.1
    by_hand: bool = False


class SatinRecipe(Struct, frozen=True, tag="satin"):
    """A satin with every value known."""

    spacing: float = 0.38
    split: float = 7.0
    short_stitches: bool = True
    split_lines: int = 0
    split_least: float = 1.0
    texture: Texture = "none"
    texture_length: float = 2.0
    texture_on: Strokes = "both"
    anchor: int = 0
    feather: Sides = "none"
    feather_length: float = 1.0
    feather_way: Feather = "inwards"
    fade: Fade = "none"
    fade_to: float = 1.2
    fade_profile: Profile = ((0.0, 0.0), (1.0, 1.0))
    layers: int = 1
    layer_inset: float = 0.4
    least_width: float = 0.0
    greatest_width: float = 0.0
    narrow_extra: float = 0.0
    seed: int = 1


class FillRecipe(Struct, frozen=True, tag="fill"):
    """A fill with every value known."""

    spacing: float = 0.40
    length: float = 3.5
    angle: float = 0.0
    pattern: Pattern = "brick"
    brick_offset: float = 0.4
    brick_rows: int = 5
    fade: Fade = "none"
    fade_to: float = 1.2
    fade_angle: float = -90.0
    fade_profile: Profile = ((0.0, 0.0), (1.0, 1.0))
    ragged: float = 0.0
    travel: Travel = "interior"
    border: Border = "none"
    border_width: float = 2.0
    border_spacing: float = 0.40
    seed: int = 1


class BareRecipe(Struct, frozen=True, tag="underlay only"):
    """No cover, with every value known."""

    angle: float = 0.0


CoverRecipe = RunRecipe | SatinRecipe | FillRecipe | BareRecipe


def faded(fade: Fade, profile: Profile, place: float) -> float:
    """How far a fade has got, 0 to 1, at ``place`` (0 to 1) of its way.

    ``along`` opens from the start on, ``against`` from the end back, ``middle out`` from the middle to both
    ends; ``custom`` follows the profile.
    """
    match fade:
        case "along":
            return place
        case "against":
            return 1.0 - place
        case "middle out":
            return abs(2.0 * place - 1.0)
        case "custom":
            before = (0.0, profile[0][1]) if profile else (0.0, 0.0)
            for at, value in (*profile, (1.0, profile[-1][1] if profile else 0.0)):
                if place <= at:
                    span = at - before[0]
                    part = (place - before[0]) / span if span > 0 else 1.0
                    return before[1] + part * (value - before[1])
                before = (at, value)
            return before[1]
    return 0.0
