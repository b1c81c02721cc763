"""Setting words: where each letter stands, on straight lines, on arcs and round a circle."""

import math
from dataclasses import dataclass

from msgspec.structs import replace

from jontel.design.design import Ends, StitchObject
from jontel.design.kinds.satin import Satin
from jontel.design.lettering import Lettering
from jontel.design.paths import Matrix, composed, transform_path, transform_point
from jontel.design.shapes import Area, Point
from jontel.geometry.region import path_of, region_of
from jontel.lettering.fonts import Font, Glyph, open_font

LEAVES, NAMED_BY = 0.3, 40
"""Connections of new letters are left up to this part of their height and what lies between them: from letter to
letter, not from word to word. The name is that of so many of its first signs."""
DIGITS = 4
MITRE = 3.0
"""Corners of letters that are made heavier reach so many times as far as their edges, at most."""


@dataclass(frozen=True)
class Set:
    """Words as path data, and the signs that the font lacks."""

    path: str
    missing: str = ""


def words_object(lettering: Lettering, thread: str) -> StitchObject:
    """New words as satins. Raises ``CannotRead`` where the font is not there."""
    leave = (LEAVES + lettering.letter_space / 100) * lettering.height
    ends = Ends(leave=round(min(max(leave, 1.0), 50.0), 1))
    item = StitchObject(id=0, name=called(lettering), thread=thread, shape=Area(""), cover=Satin(), ends=ends)
    return lettered(item, lettering)


def called(lettering: Lettering) -> str:
    """What an object of such words is called: by them."""
    return " ".join(lettering.text.split())[:NAMED_BY] or "Lettering"


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
        shift = _shift(lettering, long)
        for glyph, x in zip(glyphs, starts, strict=True):
            if glyph.number == 0 and not line[glyph.cluster].isspace():
                missing.append(line[glyph.cluster])
                continue
            half = glyph.advance * wide / 2
            here = (wide, 0.0, lean, -scale, -half, -glyph.at[1] * scale)
            there = _stand(lettering, number, x + shift + half)
            a, b, c, d, e, f = composed(composed(here, there), lettering.place)
            # the same letter is the same shape to the last digit wherever it stands in a line, and known therefore
            data = transform_path(font.outline(glyph.number), (a, b, c, d, round(e, DIGITS), round(f, DIGITS)))
            if data:
                parts.append(_heavier(data, lettering))
    return Set(" ".join(part for part in parts if part), "".join(dict.fromkeys(missing)))


def with_value(lettering: Lettering, field: str, value: object, font: Font) -> Lettering:
    """``lettering`` with one value changed; aligned anew or bent, the middle of its longest line stays."""
    fresh = replace(lettering, **{field: value})
    if field not in ("course", "alignment"):
        return fresh
    if field == "course" and lettering.course == "straight":
        fresh = replace(fresh, alignment="middle")
    before, after = _middle(lettering, font), _middle(fresh, font)
    a, b, c, d, e, f = lettering.place
    x, y = before[0] - after[0], before[1] - after[1]
    return replace(fresh, place=(a, b, c, d, a * x + c * y + e, b * x + d * y + f))


def _middle(lettering: Lettering, font: Font) -> Point:
    """The middle of the longest line's baseline, before it is placed."""
    wide = lettering.height / font.capitals * lettering.width / 100
    lines = lettering.text.split("\n")
    long = [_spaced(font.shaped(line), line, lettering, wide)[1] for line in lines]
    number = max(range(len(lines)), key=long.__getitem__)
    return _stand(lettering, number, _shift(lettering, long[number]) + long[number] / 2)[4:]


def carets(lettering: Lettering, font: Font) -> list[tuple[Point, Point]]:
    """Where a caret stands before each sign and after the last: its foot and its head on the cloth, mm."""
    wide = lettering.height / font.capitals * lettering.width / 100
    found: list[tuple[Point, Point]] = []
    for number, line in enumerate(lettering.text.split("\n")):
        glyphs = font.shaped(line)
        starts, long = _spaced(glyphs, line, lettering, wide)
        shift = _shift(lettering, long)
        ahead = sorted(zip((glyph.cluster for glyph in glyphs), starts, strict=True))
        for place in range(len(line) + 1):
            x = next((start for cluster, start in ahead if cluster >= place), long)
            there = composed(_stand(lettering, number, x + shift), lettering.place)
            found.append((transform_point((0.0, 0.0), there), transform_point((0.0, -lettering.height), there)))
    return found


def _shift(lettering: Lettering, long: float) -> float:
    """Where a line that is so ``long`` begins, mm."""
    return {"left": 0.0, "middle": -long / 2, "right": -long}[lettering.alignment]


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
