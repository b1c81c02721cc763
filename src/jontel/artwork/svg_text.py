"""Text of an SVG as lettering, in the nearest font that there is."""

import re
from collections.abc import Sequence

import svgelements as se

from jontel.artwork.xml_guard import Chunk
from jontel.design.lettering import MOST_SIGNS, Alignment, Lettering, moved_lettering
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


def lettering_of(element: "se.Text", chunks: Sequence[Chunk], per_pixel: float) -> tuple[list[Lettering], str]:
    """The words of a text element, each chunk where it stands, in mm, and the font that it asked for.

    ``per_pixel`` is how many mm its pixels are. Raises ``ValueError`` for a place that is no number.
    """
    asked = str(element.font_family or "").strip() or "sans-serif"
    font = nearest_font(asked, _weight(element), str(element.font_style or "") in ("italic", "oblique"))
    opened = open_font(font)
    matrix = tuple(
        float(value) * per_pixel
        for value in (getattr(element.transform, name) for name in ("a", "b", "c", "d", "e", "f"))
    )
    size = float(element.font_size) if element.font_size else 16.0
    found: list[Lettering] = []
    for chunk in chunks:
        words = " ".join(chunk.words.split())[:MOST_SIGNS]
        if not words:
            continue
        plain = Lettering(
            words,
            font,
            size * opened.capitals / opened.em,
            ALIGNED.get(str(element.anchor), "left"),
            0.0,
            place=(1.0, 0.0, 0.0, 1.0, _first(chunk.x), _first(chunk.y)),
        )
        found.append(moved_lettering(plain, matrix))  # type: ignore[arg-type]
    return found, asked


def _first(value: str | None) -> float:
    """The first number of a list of places; 0 for none."""
    match = re.match(r"\s*([-+]?[\d.]+(?:[eE][-+]?\d+)?)\s*(px|$|[\s,])", value or "0")
    if match is None:
        raise ValueError(value)
    return float(match.group(1))


def _weight(element: "se.Text") -> int:
    said = str(getattr(element, "font_weight", "") or "400")
    return int(said) if said.isdigit() else (700 if "bold" in said else 400)


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
