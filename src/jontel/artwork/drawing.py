"""A drawing: what a picture or vector file comes in as, before it becomes objects."""

from dataclasses import dataclass
from typing import Literal

from jontel.design.lettering import Lettering
from jontel.design.shapes import FillRule, LineEnd

RGB = tuple[int, int, int]


@dataclass(frozen=True)
class Drawn:
    """One painted shape: canonical path data in mm from the drawing's top left; ``None`` paints nothing.

    Text has ``words`` instead of a path.
    """

    name: str
    path: str
    rule: FillRule
    fill: RGB | None
    stroke: RGB | None
    stroke_width: float
    ends: LineEnd = "flat"
    words: Lettering | None = None


@dataclass(frozen=True)
class Drawing:
    """All shapes from back to front, the size in mm, and what could not be understood."""

    shapes: tuple[Drawn, ...]
    width: float
    height: float
    notes: tuple[str, ...]
    media: Literal["svg", "png", "jpeg", "webp", "bmp", "tiff"]
