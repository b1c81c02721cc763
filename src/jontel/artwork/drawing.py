"""A drawing: what a picture or vector file comes in as, before it becomes objects."""

from dataclasses import dataclass
from typing import Literal

from jontel.design.errors import CannotRead
from jontel.design.lettering import Lettering
from jontel.design.shapes import FillRule, LineEnd

RGB = tuple[int, int, int]


@dataclass(frozen=True)
class Shade:
    """A fill whose colour runs from ``first`` to ``last`` towards ``angle``, degrees: 0 to the right, 90 upwards."""

    first: RGB
    last: RGB
    angle: float


@dataclass(frozen=True)
class Drawn:
    """One painted shape: canonical path data in mm from the drawing's top left; ``None`` paints nothing.

    Text has ``words`` instead of a path. ``fill`` is the mean of a ``shade``.
    """

    name: str
    path: str
    rule: FillRule
    fill: RGB | None
    stroke: RGB | None
    stroke_width: float
    ends: LineEnd = "flat"
    words: Lettering | None = None
    shade: Shade | None = None


@dataclass(frozen=True)
class Drawing:
    """All shapes from back to front, the size in mm, and what could not be understood.

    ``colours`` are all that it has, also those that were left out; each with whether it is cloth, unless somebody
    wants it sewn.
    """

    shapes: tuple[Drawn, ...]
    width: float
    height: float
    notes: tuple[str, ...]
    media: Literal["svg", "png", "jpeg", "webp", "bmp", "tiff"]
    colours: tuple[tuple[RGB, bool], ...] = ()


@dataclass(frozen=True)
class Size:
    """The wanted size in mm; what is ``None`` follows in proportion, both ``None`` keep the drawing's own."""

    width: float | None = None
    height: float | None = None

    def scale(self, width: float, height: float) -> float:
        """How much larger than drawn, at so many mm, it is wanted. Raises ``CannotRead`` for a size of nothing."""
        for wanted, own in ((self.width, width), (self.height, height)):
            if wanted is not None:
                if not 1.0 <= wanted <= 2_000.0:
                    raise CannotRead("The size must be between 1 mm and 2 m; give another width or height.")
                return wanted / own
        return 1.0
