"""Counts and times in words."""

from collections.abc import Sequence


def many(count: int, what: str, plural: str | None = None) -> str:
    """A count with its noun, ``1 object`` or ``3 objects``."""
    return f"{count} {noun(count, what, plural)}"


def noun(count: int, what: str, plural: str | None = None) -> str:
    """The noun for so many, which are told beside it."""
    return what if count == 1 else plural or what + "s"


def stitches(count: int) -> str:
    """So many stitches."""
    return many(count, "stitch", "stitches")


def minutes(seconds: float) -> str:
    """``12 min`` or, below ten minutes, ``3:05``."""
    return f"{seconds / 60:.0f} min" if seconds >= 600 else f"{int(seconds) // 60}:{int(seconds) % 60:02d}"


def grouped(number: int) -> str:
    """A count with thin gaps between thousands: ``13 086``."""
    return f"{number:,}".replace(",", "\u202f")


def quoted(names: Sequence[str], most: int = 4) -> str:
    """Objects by their names, the first ones, the rest counted."""
    words = [f"“{name}”" for name in names[:most]]
    return listed([*words, many(len(names) - most, "more object")] if len(names) > most else words)


def listed(words: list[str]) -> str:
    """``a``, ``a and b``, ``a, b and c``."""
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"
