"""Setting words: where each letter stands, on straight lines, on arcs and round a circle."""

import math
from dataclasses import dataclass

from msgspec.structs import replace

from jontel.design.design import StitchObject
from jontel.design.lettering import Lettering
from jontel.design.paths import Matrix, composed, transform_path
from jontel.design.shapes import Area
from jontel.geometry.region import path_of, region_of
from jontel.lettering.fonts import Font, Glyph, open_font

MITRE = 3.0
"""Corners of letters that are made heavier reach so many times as far as their edges, at most."""


@dataclass(frozen=True)
class Set:
    """Words as path data, and the signs that the font lacks."""

    path: str
    missing: str = ""


def lettered(item: StitchObject, lettering: Lettering) -> StitchObject:
    """An object whose shape is ``lettering``. Raises ``CannotRead`` where the font is not there."""
    drawn = item.shape if isinstance(item.shape, Area) else Area("")
    shape = replace(drawn, path=set_in(lettering, open_font(lettering.font)).path, rule="nonzero", in_order=True)
    return replace(item, shape=shape, lettering=lettering)


def set_in(lettering: Lettering, font: Font) -> Set:
    """The outlines of ``lettering`` in a font, letter after letter."""
    scale = lettering.height / font.capitals
    wide, lean = scale * lettering.width / 100, scale * math.tan(math.radians(lettering.slant))
    parts: list[str] = []
    missing: list[str] = []
    for number, line in enumerate(lettering.text.split("\n")):
        glyphs = font.shaped(line)
        starts, long = _spaced(glyphs, line, lettering, wide)
        shift = {"left": 0.0, "middle": -long / 2, "right": -long}[lettering.alignment]
        for glyph, x in zip(glyphs, starts, strict=True):
            if glyph.number == 0 and not line[glyph.cluster].isspace():
                missing.append(line[glyph.cluster])
                continue
            half = glyph.advance * wide / 2
            here = (wide, 0.0, lean, -scale, -half, -glyph.at[1] * scale)
            there = _stand(lettering, number, x + shift + half)
            data = transform_path(font.outline(glyph.number), composed(composed(here, there), lettering.place))
            if data:
                parts.append(_heavier(data, lettering))
    return Set(" ".join(part for part in parts if part), "".join(dict.fromkeys(missing)))


def _spaced(glyphs: list[Glyph], line: str, lettering: Lettering, wide: float) -> tuple[list[float], float]:
    """Where each glyph begins along its line, mm, and how long the line is."""
    starts: list[float] = []
    added = end = 0.0
    for k, glyph in enumerate(glyphs):
        starts.append(glyph.at[0] * wide + added)
        end = max(end, starts[-1] + glyph.advance * wide)
        last = k + 1 == len(glyphs) or glyphs[k + 1].cluster != glyph.cluster
        if last and line[glyph.cluster].isspace():
            added += lettering.word_space / 100 * lettering.height
        if last and k + 1 < len(glyphs):
            added += lettering.letter_space / 100 * lettering.height
    return starts, end


def _stand(lettering: Lettering, line: int, x: float) -> Matrix:
    """Where a letter whose middle is ``x`` mm along a line stands, and how it is turned."""
    down = line * lettering.line_space / 100 * lettering.height
    radius = lettering.radius
    match lettering.course:
        case "straight":
            return (1.0, 0.0, 0.0, 1.0, x, down)
        case "arc over":
            return _on_circle(x, max(radius - down, 0.1), (0.0, radius), False)
        case "arc under":
            return _on_circle(x, radius + down, (0.0, -radius), True)
        case "circle":
            if line % 2 == 0:
                return _on_circle(x, max(radius - down / 2, 0.1), (0.0, 0.0), False)
            step = lettering.line_space / 100 * lettering.height
            return _on_circle(x, max(radius + lettering.height - (down - step) / 2, 0.1), (0.0, 0.0), True)


def _on_circle(x: float, radius: float, middle: tuple[float, float], below: bool) -> Matrix:
    """A letter ``x`` mm from the top of a circle clockwise, or from its bottom counter-clockwise, upright there."""
    turn = -x / radius if below else x / radius
    side = -1.0 if below else 1.0
    a, b = math.cos(turn), math.sin(turn)
    return (a, b, -b, a, middle[0] + side * radius * b, middle[1] - side * radius * a)


def _heavier(path: str, lettering: Lettering) -> str:
    """The outline of a letter with all edges moved outwards by the added weight."""
    if lettering.weight == 0:
        return path
    grown = region_of(Area(path)).buffer(lettering.weight, join_style="mitre", mitre_limit=MITRE)
    return path_of(grown)
