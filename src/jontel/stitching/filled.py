"""Columns that are too wide for a satin, filled with rows that lie as its rows would."""

import contextlib

from jontel.design.errors import CannotStitch
from jontel.design.kinds.fill import FillRecipe
from jontel.design.kinds.satin import SatinRecipe
from jontel.design.shapes import Area
from jontel.geometry.columns import Rails, covered
from jontel.geometry.frames import Frame, Straight, curved_frame
from jontel.geometry.region import across_angle, path_of
from jontel.stitching.parts import lines_across
from jontel.stitching.rows.sewing import sew_rows
from jontel.stitching.rows.style import RowStyle
from jontel.stitching.stitches import Layer, Needle


def is_wide(rails: Rails, recipe: SatinRecipe) -> bool:
    """Whether a column is to be filled: it is wider on average than a satin may be."""
    return recipe.wide == "filled" and float(rails.widths().mean()) > recipe.wide_over


def fill_column(rails: Rails, recipe: SatinRecipe, needle: Needle) -> None:
    """Fill a compensated column from where the needle is to its end."""
    region = covered(rails)
    angle = across_angle(region)
    frame: Frame = Straight(angle)
    with contextlib.suppress(CannotStitch):  # rows that would run into each other keep one angle
        frame = curved_frame(Area(path_of(region), lines=lines_across(rails)))
    style = RowStyle(recipe.spacing, FillRecipe().length, FillRecipe().pattern)
    for part in region.geoms:
        if needle.at is None:
            needle.at = rails.middle[0]
        sew_rows(part, style, frame, Layer.COVER, needle, rails.middle[-1], True)
