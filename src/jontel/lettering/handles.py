"""Handles of one letter: where they are, and what dragging them makes of the words."""

import math
from typing import Literal

from msgspec.structs import replace

from jontel.design.lettering import LetterChange, Lettering, changed_letter
from jontel.design.paths import Matrix, composed, transform_point
from jontel.design.shapes import Point
from jontel.lettering.fonts import Font
from jontel.lettering.setting import change_of, differs, held_to_length, letter_frame

Handle = Literal["move", "space", "turn", "size", "thread"]
PLACES: dict[Handle, tuple[float, float]] = {
    "move": (0.0, 0.22), "space": (-0.5, -0.5), "turn": (0.0, -1.3), "size": (0.5, -1.0), "thread": (0.5, 0.22)
}  # fmt: skip
"""Where they lie in a letter's own frame, in heights of its capitals."""
STEP, TURN_STEP = 0.01, 0.1
"""Letters are moved by multiples of the first, mm, and turned by those of the second, degrees."""


def handles(words: Lettering, font: Font, sign: int) -> dict[Handle, Point]:
    """The places of the handles of the letter at a place of the text, on the cloth; none for what is no letter."""
    frame = letter_frame(words, font, sign)
    if frame is None:
        return {}
    height = held_to_length(words, font).height
    whole = composed(differs(change_of(words, sign), height), frame)
    return {handle: transform_point((x * height, y * height), whole) for handle, (x, y) in PLACES.items()}


def dragged(
    words: Lettering, font: Font, sign: int, handle: Handle, start: Point, to: Point, straight: bool = False
) -> Lettering:
    """``words`` whose letter at a place of the text was dragged by a handle, from one place on the cloth to another.

    Moved ``straight`` it stays on the baseline; turned so, by steps of 15 degrees.
    """
    frame = letter_frame(words, font, sign)
    if frame is None:
        return words
    height = held_to_length(words, font).height
    change = change_of(words, sign)
    inverse = _inverse(frame)
    (x0, y0), (x, y) = transform_point(start, inverse), transform_point(to, inverse)
    match handle:
        case "move":
            off = change.off if straight else _even(change.off - (y - y0), STEP)
            change = replace(change, along=_even(change.along + x - x0, STEP), off=off)
        case "space":
            change = replace(change, space=_even(change.space + x - x0, STEP))
        case "turn":
            middle = transform_point((0.0, -height / 2), differs(replace(change, turn=0.0), height))
            by = math.degrees(_angle(middle, (x0, y0)) - _angle(middle, (x, y)))
            turn = (change.turn + by + 180) % 360 - 180
            change = replace(change, turn=_even(turn, 15.0 if straight else TURN_STEP))
        case "size":
            foot = (change.along, -change.off)
            grown = math.dist(foot, (x, y)) / max(math.dist(foot, (x0, y0)), 1e-6)
            change = replace(change, size=round(min(max(change.size * grown, 10.0), 1000.0), 1))
        case "thread":  # it is pressed, not dragged
            return words
    return changed_letter(words, _within(change))


def _within(change: LetterChange) -> LetterChange:
    return replace(
        change,
        along=min(max(change.along, -1000.0), 1000.0),
        off=min(max(change.off, -1000.0), 1000.0),
        space=min(max(change.space, -500.0), 1000.0),
    )


def _even(value: float, step: float) -> float:
    return round(round(value / step) * step, 4)


def _angle(middle: Point, place: Point) -> float:
    return math.atan2(place[1] - middle[1], place[0] - middle[0])


def _inverse(matrix: Matrix) -> Matrix:
    a, b, c, d, e, f = matrix
    size = a * d - b * c
    return (d / size, -b / size, -c / size, a / size, (c * f - d * e) / size, (b * e - a * f) / size)
