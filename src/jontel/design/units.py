"""Typed lengths. Inside there is only mm; a field shows the user's unit and takes any that is typed."""

import math
import re
from typing import Literal

from jontel.design.errors import CannotRead

Unit = Literal["mm", "pt", "in"]
MM_PER: dict[str, float] = {"mm": 1.0, "pt": 0.1, "in": 25.4, "cm": 10.0}
_UNIT_WORDS = {
    "mm": "mm",
    "cm": "cm",
    "pt": "pt",
    "pts": "pt",
    "point": "pt",
    "points": "pt",
    "in": "in",
    "inch": "in",
    "inches": "in",
    '"': "in",
    "″": "in",
}
_ROWS_WORDS = {"/mm", "rows/mm", "rowspermm", "strokes/mm", "strokespermm", "perm", "permm", "rows", "strokes"}
_TYPED = re.compile(r"^\s*([-+]?(?:\d+(?:[.,]\d*)?|[.,]\d+))\s*(.*?)\s*$")


def parse_length(text: str, unit: Unit = "mm", lines: int = 0) -> float:
    """The mm that ``text`` means: a number, with or without a unit.

    ``pt`` is the trade's point of 0.1 mm. For a spacing lines per mm are understood too; ``lines`` is how many one
    spacing counts for: the rows of a fill, or both strokes of a satin. Raises ``CannotRead``.
    """
    match = _TYPED.match(text)
    if match is None:
        raise CannotRead(f"“{text.strip()}” is not a length; type for example 0.4 mm, 4 pt or 0.016 in.")
    value = float(match.group(1).replace(",", "."))
    word = match.group(2).lower().replace(" ", "")
    if word in _ROWS_WORDS and lines:
        if value <= 0:
            raise CannotRead("Rows per mm must be more than nothing; type for example 2.5 rows/mm.")
        return lines / value
    if not word:
        return value * MM_PER[unit]
    if word not in _UNIT_WORDS:
        known = "mm, cm, pt, in or rows/mm" if lines else "mm, cm, pt or in"
        raise CannotRead(f"“{match.group(2)}” is not a unit known here; use {known}.")
    return value * MM_PER[_UNIT_WORDS[word]]


def format_length(mm: float, unit: Unit = "mm", digits: int = 2) -> str:
    """``mm`` in the user's unit, with it: ``0.40 mm``, ``4.0 pt``, ``0.016 in``."""
    if not math.isfinite(mm):
        return "–"
    places = {"mm": digits, "pt": max(0, digits - 1), "in": digits + 1}[unit]
    text = f"{mm / MM_PER[unit]:.{places}f}"
    return f"{text.replace('-', '−') if float(text) else text.lstrip('-')} {unit}"
