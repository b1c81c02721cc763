"""Threads: what is in the user's box, and which of them is nearest to a colour."""

from collections.abc import Sequence
from typing import Annotated

from msgspec import Meta, Struct

from jontel.design.errors import CannotRead

Colour = Annotated[str, Meta(pattern="^#[0-9a-fA-F]{6}$")]


class Thread(Struct, frozen=True):
    """One thread of a chart. ``colour`` is ``#rrggbb``; ``weight`` is the thread number (40, 60)."""

    code: Annotated[str, Meta(min_length=1, max_length=400)]
    name: Annotated[str, Meta(max_length=400)]
    colour: Colour
    weight: Annotated[int, Meta(ge=1, le=1000)] = 40

    @property
    def width(self) -> float:
        """What the sewn thread covers across, in mm: about 0.40 for 40-weight, 0.30 for 60-weight."""
        return 0.40 if self.weight <= 40 else 0.30

    @property
    def rgb(self) -> tuple[int, int, int]:
        """Red, green and blue, 0 to 255."""
        return rgb_of(self.colour)


def rgb_of(colour: str) -> tuple[int, int, int]:
    """Red, green and blue of ``#rrggbb``."""
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)


def lab_of(rgb: tuple[int, int, int]) -> tuple[float, float, float]:
    """CIE L*a*b* (D65) of an sRGB colour.

    Source: IEC 61966-2-1, "Colour management: default RGB colour space sRGB" (1999) and
    CIE 15, "Colorimetry" (2004).
    """
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in (v / 255 for v in rgb)]
    r, g, b = linear
    x = (0.4124564 * r + 0.3575761 * g + 0.1804375 * b) / 0.95047
    y = 0.2126729 * r + 0.7151522 * g + 0.0721750 * b
    z = (0.0193339 * r + 0.1191920 * g + 0.9503041 * b) / 1.08883
    fx, fy, fz = (t ** (1 / 3) if t > 0.008856 else 7.787 * t + 16 / 116 for t in (x, y, z))
    return 116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)


def colour_distance(one: tuple[int, int, int], other: tuple[int, int, int]) -> float:
    """How different two sRGB colours look: the CIE 1976 distance in L*a*b*."""
    answer: float = sum((p - q) ** 2 for p, q in zip(lab_of(one), lab_of(other), strict=True)) ** 0.5
    return answer


def nearest_thread(rgb: tuple[int, int, int], chart: Sequence[Thread]) -> Thread:
    """The thread of ``chart`` that looks most like ``rgb``."""
    if not chart:
        raise CannotRead("The thread chart is empty; load a chart with at least one thread.")
    return min(chart, key=lambda thread: colour_distance(rgb, thread.rgb))
