"""Covers: the visible top stitching of an object.

Each kind comes twice, with the same field names: as the user's pins (``None`` = inherited from the ground)
and as the ground's complete recipe. ``resolve`` lays the first over the second.
"""

from typing import Literal

from msgspec import Struct

RunStyle = Literal["single", "there and back", "triple", "back-stitch"]


class Run(Struct, frozen=True, tag="run"):
    """Running stitch along the shape's path. Lengths in mm."""

    length: float | None = None
    style: RunStyle | None = None
    repeats: int | None = None


class Satin(Struct, frozen=True, tag="satin"):
    """Rows from edge to edge. ``spacing`` is between neighbouring needle points of one edge."""

    spacing: float | None = None
    split: float | None = None
    short_stitches: bool | None = None


class Fill(Struct, frozen=True, tag="fill"):
    """Parallel rows. ``angle`` in degrees, counter-clockwise from the x axis.

    ``brick_offset`` is the part of a stitch by which each row is shifted against the last, and
    ``brick_rows`` how many rows the pattern has before it repeats.
    """

    spacing: float | None = None
    length: float | None = None
    angle: float | None = None
    brick_offset: float | None = None
    brick_rows: int | None = None


Cover = Run | Satin | Fill


class RunRecipe(Struct, frozen=True, tag="run"):
    """A run with every value known."""

    length: float = 2.5
    style: RunStyle = "single"
    repeats: int = 1


class SatinRecipe(Struct, frozen=True, tag="satin"):
    """A satin with every value known."""

    spacing: float = 0.38
    split: float = 7.0
    short_stitches: bool = True


class FillRecipe(Struct, frozen=True, tag="fill"):
    """A fill with every value known."""

    spacing: float = 0.40
    length: float = 3.5
    angle: float = 0.0
    brick_offset: float = 0.4
    brick_rows: int = 5


CoverRecipe = RunRecipe | SatinRecipe | FillRecipe
