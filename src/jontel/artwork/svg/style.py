"""What is declared of an element together with what it inherits, and lengths in the units of CSS.

Source: W3C, "Scalable Vector Graphics (SVG) 2", chapters "Styling" and "Coordinate systems".
"""

import math
import re
from typing import NamedTuple

from jontel.artwork.svg.cascade import Declared

INHERITED = frozenset(
    {
        *("fill", "fill-rule", "fill-opacity", "color", "visibility", "clip-rule", "paint-order"),
        *("stroke", "stroke-width", "stroke-linecap", "stroke-linejoin", "stroke-miterlimit", "stroke-opacity"),
        *("stroke-dasharray", "stroke-dashoffset", "marker-start", "marker-mid", "marker-end"),
        *("font-family", "font-size", "font-weight", "font-style", "text-anchor"),
    }
)
PIXELS = {"": 1.0, "px": 1.0, "in": 96.0, "cm": 96 / 2.54, "mm": 96 / 25.4, "q": 96 / 101.6, "pt": 4 / 3, "pc": 16.0}
"""How many pixels a unit is."""
EX = 0.5
PLAIN_SIZE = 16.0
SIZES = {"xx-small": 9.0, "x-small": 10.0, "small": 13.0, "medium": 16.0, "large": 18.0, "x-large": 24.0}
"""The sizes of letters that have names, pixels."""
_LENGTH = re.compile(r"\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)\s*([a-zA-Z]*|%)\s*")
_FONT = re.compile(r"(?P<before>.*?)(?P<size>[\d.]+(?:px|pt|em|mm|cm|in|pc|%))(?:\s*/\s*\S+)?\s+(?P<family>.+)")


class View(NamedTuple):
    """The size of the nearest view, pixels of its own: what percentages are of."""

    width: float
    height: float

    def of(self, along: str) -> float:
        """What a percentage is of ``"x"``, ``"y"`` or neither."""
        if along == "x":
            return self.width
        return self.height if along == "y" else math.hypot(self.width, self.height) / math.sqrt(2)


class Style(dict[str, str]):
    """The values of an element by the names of their properties; ``font_size`` in pixels."""

    font_size: float = PLAIN_SIZE

    def said(self, name: str, plain: str = "") -> str:
        """A value in lower case without blanks round it."""
        return self.get(name, plain).strip().lower()

    def part(self, name: str) -> float:
        """An opacity, 0 to 1; 1 where none is said or what is said is no number."""
        value = self.said(name)
        try:
            part = float(value.rstrip("%")) / (100 if value.endswith("%") else 1) if value else 1.0
        except ValueError:
            return 1.0
        return min(max(part, 0.0), 1.0) if math.isfinite(part) else 1.0


def style_of(own: Declared, above: Style) -> Style:
    """The style of an element of which ``own`` is declared, in one whose style is ``above``."""
    style = Style({name: value for name, value in above.items() if name in INHERITED})
    own = _with_font(own)
    for name, value in own.items():
        word = value.strip().lower()
        if word in ("inherit",) or (word == "unset" and name in INHERITED):
            if name in above:
                style[name] = above[name]
        elif word in ("initial", "unset", "revert"):
            style.pop(name, None)
        else:
            style[name] = value
    style.font_size = _font_size(own.get("font-size", ""), above.font_size)
    if style.said("color") == "currentcolor":
        style["color"] = above.get("color", "black")
    return style


def _with_font(own: Declared) -> Declared:
    """With what ``font`` says in one written apart."""
    match = _FONT.fullmatch(own.get("font", "").strip())
    if match is None:
        return own
    before = match["before"].lower()
    slant = "italic" if "italic" in before or "oblique" in before else "normal"
    weight = next((word for word in before.split() if word in ("bold", "bolder") or word.isdigit()), "400")
    apart = {"font-size": match["size"], "font-family": match["family"], "font-style": slant, "font-weight": weight}
    return {**apart, **own}


def _font_size(value: str, above: float) -> float:
    word = value.strip().lower()
    if word in SIZES:
        return SIZES[word]
    if word in ("larger", "smaller"):
        return above * (1.2 if word == "larger" else 1 / 1.2)
    size = length(value, above, above, math.nan)
    return size if math.isfinite(size) and size > 0 else above


def length(value: str, font_size: float, whole: float, plain: float = 0.0) -> float:
    """A length in pixels; percent are of ``whole``. ``plain`` for none and for what is no length."""
    match = _LENGTH.fullmatch(value)
    if match is None:
        return plain
    number, unit = float(match[1]), match[2].lower()
    if unit == "%":
        return number / 100 * whole
    if unit in ("em", "rem", "ex", "ch"):
        return number * (PLAIN_SIZE if unit == "rem" else font_size) * (EX if unit in ("ex", "ch") else 1.0)
    return number * PIXELS[unit] if unit in PIXELS else plain


def numbers(value: str) -> list[float]:
    """The plain numbers in a list, parted by blanks or commas; empty where one of them is none."""
    try:
        found = [float(one) for one in re.split(r"[\s,]+", value.strip()) if one]
    except ValueError:
        return []
    return found if all(math.isfinite(one) for one in found) else []
