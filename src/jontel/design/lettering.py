"""Lettering: words that stay words. The outlines of an object's letters follow from this and from the font."""

import math
from typing import Annotated, Literal

from msgspec import Meta, Struct
from msgspec.structs import replace

from jontel.design.ground import Ground, Weave
from jontel.design.kinds.values import Group, When, number, value_of, word
from jontel.design.paths import Matrix, composed, transform_path
from jontel.design.shapes import FARTHEST, PathData

MOST_SIGNS = 4000
LEAST_STROKE = 0.9
"""Satins that are narrower, mm, do not sew well."""
SWALLOWED: dict[Weave, float] = {"knit": 0.1, "pile": 0.3}
"""So much more, mm, on cloth that gives or that has a pile."""
NARROWEST = 70.0
"""Letters that have to be narrower are set smaller instead, percent of their width."""
WITHIN_WORDS = 0.3
"""Letters of a word lie no more than this part of their height, and what is added between them, apart."""
Element = Annotated[float, Meta(ge=-FARTHEST, le=FARTHEST)]
Placement = tuple[Element, Element, Element, Element, Element, Element]
Axes = Annotated[
    tuple[tuple[Annotated[str, Meta(min_length=4, max_length=4)], Annotated[float, Meta(ge=-1e6, le=1e6)]], ...],
    Meta(max_length=64),
]
"""Values of the axes of a variable font, by their tags."""
UNMOVED: Matrix = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)
Alignment = Literal["left", "middle", "right"]
Course = Literal["straight", "arc over", "arc under", "circle", "along a line", "in a shape"]
Sewn = Literal["as one reads", "from the middle"]
Trims = Literal["where it shows", "between letters", "between words", "between lines", "never"]
SETTING, COURSE, SHAPING = (
    Group("Letters", open=True),
    Group("Line and arc", open=True),
    Group("Shape of the letters"),
)
BENT: When = ("course", ("arc over", "arc under", "circle"))


class LetterChange(Struct, frozen=True):
    """How one letter differs from the rest: the one at place ``sign`` of the text.

    ``along`` and ``off`` move it along the baseline and off it, mm; ``space`` moves it and all behind it; ``turn``
    turns it about its middle, degrees counter-clockwise; ``size`` is percent, about the middle of its foot. ``part``
    says which of the objects of these words sews it, where they are in several threads.
    """

    sign: Annotated[int, Meta(ge=0, le=MOST_SIGNS)]
    along: Annotated[float, Meta(ge=-1000.0, le=1000.0)] = 0.0
    off: Annotated[float, Meta(ge=-1000.0, le=1000.0)] = 0.0
    space: Annotated[float, Meta(ge=-500.0, le=1000.0)] = 0.0
    turn: Annotated[float, Meta(ge=-360.0, le=360.0)] = 0.0
    size: Annotated[float, Meta(ge=10.0, le=1000.0)] = 100.0
    part: Annotated[int, Meta(ge=0, le=MOST_SIGNS)] = 0


class Lettering(Struct, frozen=True):
    """Words in a font, and how they are set.

    ``height`` is that of the capitals in mm. Spacings are percent of it: ``letter_space`` and ``word_space`` are
    added to those of the font, ``line_space`` is from one baseline to the next. ``weight`` is added to every edge, in
    mm. Letters whose thin strokes are thinner than ``least_stroke`` mm are drawn heavier within their height, wider
    apart and with their counters opened, as far as they stay letters; 0 leaves them as they are.
    On an arc the first baseline has ``radius`` mm; a circle has its first line over it, the second under it.
    Along a line the first baseline is ``line``, path data; in a shape that is the outline that the words fill. Lines
    longer than ``longest`` mm, unless that is 0, are set narrower, down to ``NARROWEST`` percent, and then smaller.
    Each line is ``sewn`` as one reads, or from its middle to the one side and then to the other, as on caps. Between
    letters the thread is cut by the rule of ``trims``.
    Of words in several threads each object sews one ``part`` (``lettering/kin.py``).
    ``letters`` are those that differ; ``axes`` say where on its axes a variable font is taken.
    ``place`` brings all that onto the cloth: before, the first baseline's start, middle or end is the origin.
    """

    text: Annotated[str, Meta(max_length=MOST_SIGNS)]
    font: Annotated[str, Meta(min_length=1, max_length=200)]
    height: Annotated[float, number("Capitals", 1.0, 500.0, "length", 0.5, SETTING)] = 12.0
    alignment: Annotated[Alignment, word("Aligned", SETTING)] = "middle"
    letter_space: Annotated[float, number("Between letters", -50.0, 300.0, "percent", 1, SETTING)] = 4.0
    word_space: Annotated[float, number("Between words", -50.0, 500.0, "percent", 5, SETTING)] = 0.0
    line_space: Annotated[float, number("From line to line", 50.0, 600.0, "percent", 5, SETTING)] = 165.0
    course: Annotated[Course, word("Course", COURSE)] = "straight"
    radius: Annotated[float, number("Radius", 2.0, 1000.0, "length", 1, COURSE, BENT)] = 40.0
    longest: Annotated[float, number("No longer than (0: any)", 0.0, 2000.0, "length", 1, SETTING)] = 0.0
    weight: Annotated[float, number("Heavier by", -2.0, 3.0, "length", 0.05, SHAPING)] = 0.0
    least_stroke: Annotated[float, number("Strokes at least", 0.0, 3.0, "length", 0.05, SHAPING)] = LEAST_STROKE
    width: Annotated[float, number("Width", 30.0, 300.0, "percent", 5, SHAPING)] = 100.0
    slant: Annotated[float, number("Slant", -45.0, 45.0, "angle", 1, SHAPING)] = 0.0
    sewn: Annotated[Sewn, word("Sewn", SETTING)] = "as one reads"
    trims: Annotated[Trims, word("Trimmed", SETTING)] = "where it shows"
    place: Placement = UNMOVED
    line: PathData = ""
    axes: Axes = ()
    letters: Annotated[tuple[LetterChange, ...], Meta(max_length=MOST_SIGNS)] = ()
    part: Annotated[int, Meta(ge=0, le=MOST_SIGNS)] = 0


def word_gap(lettering: Lettering) -> float:
    """Letters with no more than this between them, mm, are of one word."""
    return (WITHIN_WORDS + lettering.letter_space / 100) * lettering.height


def least_stroke_on(ground: Ground) -> float:
    """How thick strokes of new letters are at least on a ground, mm: what gives and what is hairy swallows more."""
    return round(LEAST_STROKE + SWALLOWED.get(ground.weave, 0.0), 2)


def moved_lettering(lettering: Lettering, matrix: Matrix) -> Lettering:
    """Lettering moved by ``matrix``: what grows evenly are its lengths, the rest goes into its place."""
    a, b, c, d, e, f = composed(lettering.place, matrix)
    scale = math.sqrt(abs(a * d - b * c))
    if scale < 1e-9:
        return lettering
    grown = {
        field: value_of(Lettering, field).within(round(getattr(lettering, field) * scale, 4))
        for field in ("height", "radius", "weight", "least_stroke", "longest")
    }
    rest = scale if grown["height"] == round(lettering.height * scale, 4) else grown["height"] / lettering.height
    line = transform_path(lettering.line, (rest, 0.0, 0.0, rest, 0.0, 0.0))
    letters = tuple(
        replace(one, along=one.along * rest, off=one.off * rest, space=one.space * rest) for one in lettering.letters
    )
    return replace(
        lettering, **grown, line=line, letters=letters, place=(a / rest, b / rest, c / rest, d / rest, e, f)
    )


def changed_letter(lettering: Lettering, change: LetterChange) -> Lettering:
    """Lettering with one letter that differs by ``change``, or as the rest again where that changes nothing."""
    others = tuple(one for one in lettering.letters if one.sign != change.sign)
    plain = change == LetterChange(change.sign)
    return replace(lettering, letters=others if plain else tuple(sorted((*others, change), key=lambda one: one.sign)))


def retyped(lettering: Lettering, text: str) -> Lettering:
    """Lettering with another text; letters that differ stay the same ones, before and behind what was typed."""
    old = lettering.text
    most = min(len(old), len(text))
    first = next((k for k in range(most) if old[k] != text[k]), most)
    last = next((k for k in range(most - first) if old[-1 - k] != text[-1 - k]), most - first)
    shift = len(text) - len(old)
    letters = tuple(
        replace(one, sign=one.sign if one.sign < first else one.sign + shift)
        for one in lettering.letters
        if one.sign < first or one.sign >= len(old) - last
    )
    return replace(lettering, text=text, letters=letters)
