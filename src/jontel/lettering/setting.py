"""Setting words: where each letter stands, on straight lines, on arcs and round a circle."""

import itertools
import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import shapely
from msgspec.structs import replace
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from jontel.design.design import Ends, StitchObject
from jontel.design.errors import CannotRead
from jontel.design.kinds.satin import Satin
from jontel.design.kinds.values import value_of
from jontel.design.lettering import NARROWEST, UNMOVED, LetterChange, Lettering, word_gap
from jontel.design.paths import Matrix, composed, transform_path, transform_point
from jontel.design.shapes import Area, Point
from jontel.design.store import kept
from jontel.geometry.polyline import Floats, at_lengths, flatten, lengths
from jontel.geometry.region import Region, path_of, region_of
from jontel.lettering.envelope import Envelope, envelope
from jontel.lettering.fonts import Font, Glyph, open_font

NAMED_BY = 40
"""The name of new words is that of so many of their first signs."""
DIGITS = 4
"""Letters stand at places to so many digits of a mm."""
LEVEL = 0.05
"""Letters that are set smaller are so many times this high, mm."""
MOST_HEAVIER = 0.045
"""Letters are suited to a small size by no more than this part of their height on every edge."""
FINEST = 0.01
"""And by steps of this, mm, so that letters of nearly the same size are the same."""
CHINK = 0.4
"""A hole that is left where a slit closes and is no wider than a thread, mm, closes too."""
OPEN = 0.6
"""Counters narrower than this, mm, fill with thread."""
WIDER = 1.2
"""Letters that are heavier stand so many times the added weight farther apart: gaps are what they were, about."""
MITRE = 3.0
"""Corners of letters that are made heavier reach so many times as far as their edges, at most."""


@dataclass(frozen=True)
class Set:
    """Words as path data, the signs that the font lacks, and each letter by its sign and its own path data.

    ``places`` are those of the letters in the text.
    """

    path: str
    missing: str = ""
    letters: tuple[tuple[str, str], ...] = ()
    places: tuple[int, ...] = ()


def words_object(lettering: Lettering, thread: str, font: Font | None = None) -> StitchObject:
    """New words as satins, in their font or one at hand. Raises ``CannotRead`` where the font is not there.

    Thread is left from letter to letter, not from word to word.
    """
    ends = Ends(leave=round(min(max(word_gap(lettering), 1.0), 50.0), 1))
    item = StitchObject(id=0, name=called(lettering), thread=thread, shape=Area(""), cover=Satin(), ends=ends)
    return lettered(item, lettering, font)


def centred(lettering: Lettering, font: Font) -> Lettering:
    """``lettering`` whose letters lie about the middle of the hoop."""
    box = region_of(Area(set_in(lettering, font).path)).bounds
    if math.isnan(box[0]):
        return lettering
    a, b, c, d, e, f = lettering.place
    return replace(lettering, place=(a, b, c, d, e - (box[0] + box[2]) / 2, f - (box[1] + box[3]) / 2))


def called(lettering: Lettering) -> str:
    """What an object of such words is called: by them."""
    return " ".join(lettering.text.split())[:NAMED_BY] or "Lettering"


def lettered(item: StitchObject, lettering: Lettering, font: Font | None = None) -> StitchObject:
    """An object whose shape is ``lettering``. Raises ``CannotRead`` where the font is not there."""
    drawn = item.shape if isinstance(item.shape, Area) else Area("")
    path = set_in(lettering, font or open_font(lettering.font)).path
    shape = replace(drawn, path=path, rule="nonzero", in_order=True)
    return replace(item, shape=shape, lettering=lettering)


def set_in(lettering: Lettering, font: Font) -> Set:
    """The outlines of ``lettering`` in a font, letter after letter."""
    font = cut_for(lettering, font)
    lettering = held_to_length(lettering, font)
    heavier = _short_of(lettering, font)
    wide = _wide(lettering, font)
    less = 1 - 2 * heavier / lettering.height  # what is added outside is taken off inside, so that the height stays
    scale = less * lettering.height / font.capitals
    lean = scale * math.tan(math.radians(lettering.slant))
    more = WIDER * heavier
    there_to = UNMOVED if lettering.course == "in a shape" else lettering.place
    letters: list[tuple[str, str, int]] = []
    missing: list[str] = []
    for number, (first, line) in enumerate(_lines(lettering)):
        glyphs = font.shaped(line)
        starts, long = _spaced(glyphs, line, lettering, wide, first, more)
        shift = _shift(lettering, long)
        of_line: list[tuple[str, str, int]] = []
        for glyph, x in zip(glyphs, starts, strict=True):
            if glyph.number == 0 and not line[glyph.cluster].isspace():
                missing.append(line[glyph.cluster])
                continue
            change = change_of(lettering, first + glyph.cluster)
            if change.part != lettering.part:
                continue
            half = glyph.advance * wide / 2
            here = (wide * less, 0.0, lean, -scale, -half * less, -glyph.at[1] * scale - heavier)
            here = composed(here, differs(change, lettering.height))
            there = _stand(lettering, number, x + shift + half)
            a, b, c, d, e, f = composed(composed(here, there), there_to)
            # the same letter is the same shape to the last digit wherever it stands in a line, and known therefore
            data = transform_path(font.outline(glyph.number), (a, b, c, d, round(e, DIGITS), round(f, DIGITS)))
            data = _heavier(data, lettering.weight) if data else ""
            data = _opened(data, heavier) if data else ""
            if data:
                of_line.append((line[glyph.cluster], data, first + glyph.cluster))
        letters += _as_sewn(of_line, lettering)
    if lettering.course == "in a shape":
        fitted = envelope(lettering.line, [data for _, data, _ in letters])
        if fitted is not None:
            letters = [
                (sign, transform_path(fitted.path(data), lettering.place), place) for sign, data, place in letters
            ]
    return Set(
        " ".join(data for _, data, _ in letters),
        "".join(dict.fromkeys(missing)),
        tuple((sign, data) for sign, data, _ in letters),
        tuple(place for _, _, place in letters),
    )


@kept
def letter_cloths(lettering: Lettering) -> tuple[tuple[int, Region], ...]:
    """Each letter by its place in the text, with the cloth it lies on; none where the font is not there."""
    try:
        made = set_in(lettering, open_font(lettering.font))
    except CannotRead:
        return ()
    return tuple((place, region_of(Area(path))) for (_, path), place in zip(made.letters, made.places, strict=True))


def parted(lettering: Lettering, start: Point, stop: Point) -> bool | None:
    """Whether the rule of its trims cuts the thread between two places; ``None`` where there is no such rule."""
    if lettering.trims == "where it shows":
        return None
    if lettering.trims == "never":
        return False
    cloths = letter_cloths(lettering)
    if not cloths:
        return None
    regions = np.array([region for _, region in cloths])
    one, other = (cloths[int(np.argmin(shapely.distance(regions, shapely.Point(spot))))][0] for spot in (start, stop))
    between = lettering.text[min(one, other) : max(one, other)]
    match lettering.trims:
        case "between letters":
            return one != other
        case "between words":
            return any(sign.isspace() for sign in between)
        case _:
            return "\n" in between


def held_to_length(lettering: Lettering, font: Font) -> Lettering:
    """``lettering`` whose lines are no longer than it says: narrower down to ``NARROWEST``, then smaller.

    By whole percents and by ``LEVEL``, so that names of a list share their letters.
    """
    font = cut_for(lettering, font)
    most = lettering.longest
    if most <= 0:
        return lettering
    if line_length(lettering, font) <= most:
        return lettering
    least = min(NARROWEST, lettering.width)

    def fits(width: float, height: float) -> bool:
        return max(_line_lengths(replace(lettering, width=width, height=height), font, 0.0)) <= most

    if lettering.width > least and fits(least, lettering.height):
        wide = _last(lambda k: fits(least + k, lettering.height), math.floor(lettering.width - least))
        held = replace(lettering, width=least + wide)
    else:
        level = _last(lambda k: fits(least, k * LEVEL), math.floor(lettering.height / LEVEL))
        held = replace(lettering, width=least, height=max(level, 1) * LEVEL)
    # where room is short, letters that are suited to their size stand no farther apart for it
    apart = lettering.letter_space - 100 * WIDER * _short_of(held, font) / held.height
    return replace(held, letter_space=value_of(Lettering, "letter_space").within(math.floor(apart * 10) / 10))


def _last(fits: Callable[[int], bool], most: int) -> int:
    """The greatest number below ``most`` that fits, where 0 does and what fits is together."""
    low, high = 0, most
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if fits(middle) else (low, middle)
    return low


def line_length(lettering: Lettering, font: Font) -> float:
    """How long the longest line is, mm, before it is held to any length."""
    font = cut_for(lettering, font)
    return max(_line_lengths(lettering, font, WIDER * _short_of(lettering, font)))


def _wide(lettering: Lettering, font: Font) -> float:
    """How many mm along a line a unit of the font is."""
    return lettering.height / font.capitals * lettering.width / 100


def _line_lengths(lettering: Lettering, font: Font, more: float) -> list[float]:
    wide = _wide(lettering, font)
    return [_spaced(font.shaped(line), line, lettering, wide, first, more)[1] for first, line in _lines(lettering)]


def _lines(lettering: Lettering) -> list[tuple[int, str]]:
    """Each line, and the place of the text at which it begins."""
    lines = lettering.text.split("\n")
    firsts = itertools.accumulate((len(line) + 1 for line in lines), initial=0)
    return list(zip(firsts, lines, strict=False))


def with_value(lettering: Lettering, field: str, value: object, font: Font) -> Lettering:
    """``lettering`` with one value changed; aligned anew or bent, the middle of its longest line stays."""
    fresh = replace(lettering, **{field: value})
    if field not in ("course", "alignment") or {fresh.course, lettering.course} & {"along a line", "in a shape"}:
        return fresh
    if field == "course" and lettering.course == "straight":
        fresh = replace(fresh, alignment="middle")
    before, after = _middle(lettering, font), _middle(fresh, font)
    a, b, c, d, e, f = lettering.place
    x, y = before[0] - after[0], before[1] - after[1]
    return replace(fresh, place=(a, b, c, d, a * x + c * y + e, b * x + d * y + f))


def _middle(lettering: Lettering, font: Font) -> Point:
    """The middle of the longest line's baseline, before it is placed."""
    font = cut_for(lettering, font)
    lettering = held_to_length(lettering, font)
    long = _line_lengths(lettering, font, WIDER * _short_of(lettering, font))
    number = max(range(len(long)), key=long.__getitem__)
    return _stand(lettering, number, _shift(lettering, long[number]) + long[number] / 2)[4:]


def carets(lettering: Lettering, font: Font) -> list[tuple[Point, Point]]:
    """Where a caret stands before each sign and after the last: its foot and its head on the cloth, mm."""
    font = cut_for(lettering, font)
    lettering = held_to_length(lettering, font)
    wide, more = _wide(lettering, font), WIDER * _short_of(lettering, font)
    bends = _bends(lettering)
    found: list[tuple[Point, Point]] = []
    for number, (first, line) in enumerate(_lines(lettering)):
        glyphs = font.shaped(line)
        starts, long = _spaced(glyphs, line, lettering, wide, first, more)
        shift = _shift(lettering, long)
        ahead = sorted(zip((glyph.cluster for glyph in glyphs), starts, strict=True))
        for place in range(len(line) + 1):
            x = next((start for cluster, start in ahead if cluster >= place), long)
            there = _stand(lettering, number, x + shift)
            foot, head = (transform_point((0.0, y), there) for y in (0.0, -lettering.height))
            if bends is not None:
                foot, head = bends.spot(foot), bends.spot(head)
            found.append((transform_point(foot, lettering.place), transform_point(head, lettering.place)))
    return found


@kept
def _bends(lettering: Lettering) -> Envelope | None:
    """What bends the letters into their shape; ``None`` where they stand straight."""
    if lettering.course != "in a shape":
        return None
    straight = set_in(replace(lettering, course="straight", place=UNMOVED), open_font(lettering.font))
    return envelope(lettering.line, [data for _, data in straight.letters])


def change_of(lettering: Lettering, sign: int) -> LetterChange:
    """How the letter at a place of the text differs from the rest."""
    return next((one for one in lettering.letters if one.sign == sign), LetterChange(sign))


def differs(change: LetterChange, height: float) -> Matrix:
    """How a letter is changed about the middle of its foot, where y goes down."""
    size, turn = change.size / 100, math.radians(change.turn)
    a, b = size * math.cos(turn), -size * math.sin(turn)
    middle = -height / 2  # it is turned about the middle of its capitals' height
    x, y = change.along + middle * b, middle * size - middle * a - change.off
    return (a, b, -b, a, x, y)


def _as_sewn(letters: list[tuple[str, str, int]], lettering: Lettering) -> list[tuple[str, str, int]]:
    """The letters of a line in the order in which they are sewn."""
    if lettering.sewn == "as one reads":
        return letters
    half = len(letters) // 2
    return letters[half::-1] + letters[half + 1 :] if letters else []


def letter_frame(lettering: Lettering, font: Font, sign: int) -> Matrix | None:
    """What brings a letter's own frame onto the cloth: the middle of its foot at the origin, x along, y down.

    That is without what ``LetterChange`` says of it, but for spaces; ``None`` for what is no letter.
    """
    font = cut_for(lettering, font)
    lettering = held_to_length(lettering, font)
    wide, more = _wide(lettering, font), WIDER * _short_of(lettering, font)
    for number, (first, line) in enumerate(_lines(lettering)):
        if not first <= sign < first + len(line):
            continue
        glyphs = font.shaped(line)
        starts, long = _spaced(glyphs, line, lettering, wide, first, more)
        for glyph, x in zip(glyphs, starts, strict=True):
            if glyph.cluster == sign - first and not line[glyph.cluster].isspace():
                middle = x + _shift(lettering, long) + glyph.advance * wide / 2
                there = _stand(lettering, number, middle)
                bends = _bends(lettering)
                return composed(there if bends is None else _bent_frame(there, bends), lettering.place)
    return None


def _bent_frame(frame: Matrix, bends: Envelope) -> Matrix:
    """A letter's frame where it was bent into a shape: as it lies about the middle of its foot."""
    (x, y), along, down = (bends.spot(transform_point(place, frame)) for place in ((0, 0), (0.5, 0), (0, 0.5)))
    return (2 * (along[0] - x), 2 * (along[1] - y), 2 * (down[0] - x), 2 * (down[1] - y), x, y)


def _shift(lettering: Lettering, long: float) -> float:
    """Where a line that is so ``long`` begins, mm."""
    return {"left": 0.0, "middle": -long / 2, "right": -long}[lettering.alignment]


def _spaced(
    glyphs: list[Glyph], line: str, lettering: Lettering, wide: float, first: int, more: float
) -> tuple[list[float], float]:
    """Where each glyph begins along its line, mm, and how long the line is, whose text begins at place ``first``.

    Letters stand ``more`` mm farther apart than they say.
    """
    starts: list[float] = []
    added = end = 0.0
    moved = {one.sign - first: one.space for one in lettering.letters if one.space}
    for k, glyph in enumerate(glyphs):
        if moved and (not k or glyphs[k - 1].cluster != glyph.cluster):
            added += moved.get(glyph.cluster, 0.0)
        starts.append(glyph.at[0] * wide + added)
        end = max(end, starts[-1] + glyph.advance * wide)
        last = k + 1 == len(glyphs) or glyphs[k + 1].cluster != glyph.cluster
        if last and line[glyph.cluster].isspace():
            added += lettering.word_space / 100 * lettering.height
        if last and k + 1 < len(glyphs):
            added += lettering.letter_space / 100 * lettering.height + more
    return starts, end


def _stand(lettering: Lettering, line: int, x: float) -> Matrix:
    """Where a letter whose middle is ``x`` mm along a line stands, and how it is turned.

    Raises ``CannotRead`` where there is no line to stand along.
    """
    down = line * lettering.line_space / 100 * lettering.height
    radius = lettering.radius
    match lettering.course:
        case "along a line":
            return _on_line(x, down, lettering)
        case "straight" | "in a shape":
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


def _on_line(x: float, down: float, lettering: Lettering) -> Matrix:
    """A letter ``x`` mm along the line from where its text is aligned, ``down`` mm on its right; straight past it."""
    course = _courses(lettering.line)
    if course is None:
        raise CannotRead("There is no line to follow; select words and a line and set them along it.")
    xy, along = course
    total = float(along[-1])
    at = x + {"left": 0.0, "middle": total / 2, "right": total}[lettering.alignment]
    inside = min(max(at, 0.0), total)
    reach = min(lettering.height / 2, total / 4)
    span = (max(0.0, inside - reach), min(total, inside + reach))
    spot, before, behind = at_lengths(xy, np.array([inside, *span]), along)
    size = max(math.dist(before, behind), 1e-9)
    a, b = (behind - before) / size
    off = at - inside
    return (a, b, -b, a, float(spot[0] + off * a - down * b), float(spot[1] + off * b + down * a))


@kept
def _courses(line: str) -> tuple[Floats, Floats] | None:
    """The first path of a line, (n, 2), and how far along it each of its points is; ``None`` for none."""
    paths = [one for one in flatten(line) if len(one.xy) > 1]
    return (paths[0].loop(), lengths(paths[0].loop())) if paths else None


def _on_circle(x: float, radius: float, middle: tuple[float, float], below: bool) -> Matrix:
    """A letter ``x`` mm from the top of a circle clockwise, or from its bottom counter-clockwise, upright there."""
    turn = -x / radius if below else x / radius
    side = -1.0 if below else 1.0
    a, b = math.cos(turn), math.sin(turn)
    return (a, b, -b, a, middle[0] + side * radius * b, middle[1] - side * radius * a)


def _heavier(path: str, weight: float) -> str:
    """The outline of a letter with all edges moved outwards by the added weight."""
    if weight == 0:
        return path
    grown = region_of(Area(path)).buffer(weight, join_style="mitre", mitre_limit=MITRE)
    return path_of(grown)


def cut_for(lettering: Lettering, font: Font) -> Font:
    """The font at the places of its axes that ``lettering`` says, by its own weight axis as heavy as it has to be."""
    return font.heavy_enough(lettering.axes, (lettering.least_stroke - 2 * lettering.weight) / _size(lettering))


def _size(lettering: Lettering) -> float:
    """The height of the capitals, mm, or what strokes are as thin as where letters are narrower."""
    return lettering.height * min(1.0, lettering.width / 100)


def suited(lettering: Lettering, font: Font) -> float:
    """How much heavier, mm on every edge, letters are drawn so that their thin strokes are as thick as they shall be.

    That is what the font's own weight axis does not do. No more than ``MOST_HEAVIER`` of their height: beyond that
    they would close.
    """
    return _short_of(lettering, cut_for(lettering, font))


def _short_of(lettering: Lettering, font: Font) -> float:
    """The same for a font that is cut already."""
    thin = font.thin * _size(lettering) + 2 * lettering.weight
    short = max(0.0, lettering.least_stroke - thin) / 2
    return math.ceil(min(short, MOST_HEAVIER * lettering.height) / FINEST) * FINEST


def _across(ring: shapely.LinearRing) -> float:
    """How wide the largest circle in a ring is, mm."""
    return 2 * float(shapely.maximum_inscribed_circle(Polygon(ring), 0.02).length)


def _opened(path: str, heavier: float) -> str:
    """A letter made heavier whose counters shrink only where they are wide: the others would fill with thread."""
    if heavier <= 0:
        return path
    parts: list[BaseGeometry] = []
    for part in region_of(Area(path)).geoms:
        grown = Polygon(part.exterior).buffer(heavier, join_style="mitre", mitre_limit=MITRE)
        chinks = [ring for ring in grown.interiors if _across(ring) > CHINK]  # those that slits left go
        outer: BaseGeometry = Polygon(grown.exterior, chinks)
        for ring in part.interiors:
            hole = Polygon(ring)
            less = min(heavier, max(-heavier / 2, (_across(ring) - OPEN) / 2))
            outer = outer.difference(hole.buffer(-less, join_style="mitre", mitre_limit=MITRE))
        parts.append(outer)
    return path_of(shapely.union_all(parts))
