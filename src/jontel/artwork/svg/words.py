"""Text of an SVG as lettering, in the nearest font that there is."""

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from xml.etree import ElementTree

from msgspec.structs import replace

from jontel.artwork.svg.cascade import Declared
from jontel.artwork.svg.paint import link_of, local
from jontel.artwork.svg.style import PIXELS, Style, length, style_of
from jontel.design.lettering import MOST_SIGNS, Alignment, Lettering, moved_lettering
from jontel.design.paths import Matrix, inverted, transform_path
from jontel.lettering.fonts import FontFile, open_font, shipped_fonts, system_fonts

ALIGNED: dict[str, Alignment] = {"start": "left", "middle": "middle", "end": "right"}
GENERIC = {
    "serif": "Old Standard TT",
    "cursive": "Dancing Script Bold",
    "fantasy": "Lobster Two Bold Italic",
    "monospace": "Roboto Slab Bold",
}
"""What stands in for the families that every program knows; the first shipped font for all others."""
BOLD = 600


@dataclass
class Chunk:
    """Words of a text that stand at a place of their own, pixels, or along a ``line``, path data in mm."""

    x: float
    y: float
    line: str = ""
    words: str = ""


def chunks_in(
    element: ElementTree.Element,
    style: Style,
    declared: Mapping[ElementTree.Element, Declared],
    line_named: Callable[[str], str],
) -> list[Chunk]:
    """The words of a text, those together that go on from each other.

    Raises ``ValueError`` for a place that is no plain number.
    """
    found = [Chunk(_place(element, "x", style) or 0.0, _place(element, "y", style) or 0.0)]

    def walk(within: ElementTree.Element, above: Style) -> None:
        found[-1].words += within.text or ""
        for child in within:
            own = style_of(declared.get(child, {}), above)
            tag = local(child)
            if tag in ("tspan", "a", "textPath") and own.said("display") != "none":
                x, y = _place(child, "x", own), _place(child, "y", own)
                if tag == "textPath":
                    found.append(Chunk(0.0, 0.0, line_named(link_of(declared[child]))))
                elif x is not None or y is not None:
                    last = found[-1]
                    found.append(Chunk(last.x if x is None else x, last.y if y is None else y))
                down = length(child.get("dy", "0"), own.font_size, 0.0)
                if down and x is not None and y is None:
                    found[-1].y += down
                walk(child, own)
            found[-1].words += child.tail or ""

    walk(element, style)
    return found


def _place(element: ElementTree.Element, name: str, style: Style) -> float | None:
    """The first of the places along one way that an element says; ``None`` for none."""
    said = element.get(name)
    if said is None:
        return None
    match = re.match(r"\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)([a-zA-Z]*|%)", said)
    if match is None or match[2] == "%" or match[2].lower() not in (*PIXELS, "em"):
        raise ValueError(said)
    return length(match[0].strip(), style.font_size, 0.0)


def lettering_of(style: Style, chunks: Sequence[Chunk], matrix: Matrix) -> tuple[list[Lettering], str]:
    """The words of a text, each chunk where it stands, in mm, and the font that it asked for."""
    asked = style.get("font-family", "").strip() or "sans-serif"
    font = nearest_font(asked, _weight(style), style.said("font-style") in ("italic", "oblique"))
    opened = open_font(font)
    found: list[Lettering] = []
    for chunk in chunks:
        words = " ".join(chunk.words.split())[:MOST_SIGNS]
        if not words:
            continue
        plain = Lettering(
            words,
            font,
            style.font_size * opened.capitals / opened.em,
            ALIGNED.get(style.said("text-anchor"), "left"),
            0.0,
            place=(1.0, 0.0, 0.0, 1.0, chunk.x, chunk.y),
        )
        placed = moved_lettering(plain, matrix)
        if chunk.line:
            line = transform_path(chunk.line, inverted(placed.place))  # as it is before they are placed
            placed = replace(placed, course="along a line", line=line)
        found.append(placed)
    return found, asked


def _weight(style: Style) -> int:
    said = style.said("font-weight", "400")
    return int(said) if said.isdigit() and len(said) < 5 else (700 if "bold" in said else 400)


def nearest_font(asked: str, weight: int, slanted: bool) -> str:
    """The name of the font nearest to a list of families, by its name, then its weight and slant."""
    fonts = (*shipped_fonts(), *system_fonts())
    for family in asked.split(","):
        plain = family.strip().strip("'\"").lower()
        like = [file for file in fonts if plain and file.name.lower().startswith(plain)]
        if like:
            return min(like, key=lambda file: _unlike(file, weight, slanted)).name
        if plain in GENERIC:
            return GENERIC[plain]
    return fonts[0].name


def _unlike(file: FontFile, weight: int, slanted: bool) -> tuple[int, int]:
    """How unlike a font's style is to the one that is asked for; among equals the shorter name."""
    words = set(file.name.lower().split())
    bold = bool(words & {"bold", "semibold", "black", "heavy"})
    italic = bool(words & {"italic", "oblique"})
    return (bold != (weight >= BOLD)) + 2 * (italic != slanted), len(file.name)
