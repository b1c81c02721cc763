"""How an ``svg``, a ``symbol`` or a ``marker`` fits what it holds into its place."""

import re

import svgelements as se

from jontel.artwork.svg.style import View, length, numbers
from jontel.design.paths import Matrix

UNMOVED: Matrix = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)
_PLACES = {"min": 0.0, "mid": 0.5, "max": 1.0}
_SIDES = {"left": "0%", "top": "0%", "center": "50%", "right": "100%", "bottom": "100%"}
_ASPECT = re.compile(r"x(min|mid|max)y(min|mid|max)(?:\s+(meet|slice))?")


def box_of(value: str) -> tuple[float, float, float, float] | None:
    """A ``viewBox``: left, top, width, height; ``None`` where there is none to use."""
    found = numbers(value)
    return (found[0], found[1], found[2], found[3]) if len(found) == 4 and min(found[2:]) > 0 else None


def fitted(box: tuple[float, float, float, float] | None, aspect: str, place: View) -> tuple[Matrix, View]:
    """The matrix from what is drawn in a ``box`` into a place of so many pixels, and the view in there."""
    if box is None:
        return UNMOVED, place
    left, top, wide, high = box
    across, down = place.width / wide, place.height / high
    match = _ASPECT.fullmatch(" ".join(aspect.lower().split()).removeprefix("defer ") or "xmidymid")
    if match is None:  # none: stretched both ways
        if aspect.strip().lower() == "none":
            return (across, 0.0, 0.0, down, -left * across, -top * down), View(wide, high)
        match = _ASPECT.fullmatch("xmidymid")
        assert match is not None
    scale = max(across, down) if match[3] == "slice" else min(across, down)
    x = _PLACES[match[1]] * (place.width - wide * scale) - left * scale
    y = _PLACES[match[2]] * (place.height - high * scale) - top * scale
    return (scale, 0.0, 0.0, scale, x, y), View(wide, high)


def matrix_of(value: str) -> Matrix:
    """A ``transform`` as a matrix. Raises ``ValueError`` for one that is none."""
    if not value.strip() or value.strip().lower() == "none":
        return UNMOVED
    found = se.Matrix(value)
    return tuple(float(getattr(found, name)) for name in "abcdef")  # type: ignore[return-value]


def origin_of(value: str, font_size: float, view: View) -> tuple[float, float]:
    """The place that a ``transform-origin`` in lower case says, pixels; a side that is not said is the middle."""
    words = value.split()[:2]
    if len(words) == 1:
        words = ["center", words[0]] if words[0] in ("top", "bottom") else [words[0], "center"]
    elif words[0] in ("top", "bottom") or words[1] in ("left", "right"):
        words.reverse()
    return (
        length(_SIDES.get(words[0], words[0]), font_size, view.width),
        length(_SIDES.get(words[1], words[1]), font_size, view.height),
    )
