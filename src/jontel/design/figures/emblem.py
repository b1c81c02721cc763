"""Emblems: a small library of ready shapes, drawn for Jontel."""

from typing import Annotated, Literal

from jontel.design.figures.base import FIGURE, FigureKind, FigureValues
from jontel.design.figures.emblems import EMBLEMS
from jontel.design.kinds.values import word
from jontel.design.paths import transform_path
from jontel.design.shapes import Area

EmblemName = Literal[
    "anchor", "banner", "bell", "blossom", "bolt", "breaker", "buoy", "cloud", "compass", "crown", "fern", "fir",
    "fish", "gull", "hook", "house", "key", "kite", "lantern", "leaf", "lighthouse", "moon", "oars", "paw", "peaks",
    "sail", "scallop", "shield", "snowflake", "starfish", "sun", "whale",
]  # fmt: skip
FIELD = 100.0


class Emblem(FigureValues, frozen=True, tag="emblem"):
    """One of the library, as wide and as tall as it is drawn."""

    emblem: Annotated[EmblemName, word("Emblem", FIGURE)] = "lantern"


def draw(figure: Emblem) -> Area:
    """Its outline, stretched to the size."""
    x, y = figure.width / FIELD, figure.height / FIELD
    return Area(transform_path(EMBLEMS[figure.emblem], (x, 0.0, 0.0, y, 0.0, 0.0)))


KIND = FigureKind("Emblem", Emblem, draw)
