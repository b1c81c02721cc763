"""Threads: what is in the user's box, and which of them is nearest to a colour."""

from collections.abc import Sequence
from itertools import pairwise
from math import atan2, cos, degrees, exp, hypot, radians, sin, sqrt
from typing import Annotated

from msgspec import Meta, Struct

from jontel.design.errors import CannotRead

Colour = Annotated[str, Meta(pattern="^#[0-9a-fA-F]{6}$")]


USUAL = 0.40
"""What the grounds' spacings are made for: a thread of weight 40, mm."""
WIDTHS = ((12, 0.66), (30, 0.46), (40, USUAL), (60, 0.30), (80, 0.26), (100, 0.23))
"""About how wide threads of some weights lie, mm; between them in a straight line."""


class Thread(Struct, frozen=True):
    """One thread of a chart. ``colour`` is ``#rrggbb``; ``weight`` is the thread number (40, 60)."""

    code: Annotated[str, Meta(min_length=1, max_length=400)]
    name: Annotated[str, Meta(max_length=400)]
    colour: Colour
    weight: Annotated[int, Meta(ge=1, le=1000)] = 40

    @property
    def width(self) -> float:
        """What the sewn thread covers across, in mm: about 0.40 for 40-weight, 0.30 for 60-weight."""
        least, most = WIDTHS[0], WIDTHS[-1]
        if self.weight <= least[0] or self.weight >= most[0]:
            return least[1] if self.weight <= least[0] else most[1]
        for (light, wide), (heavy, thin) in pairwise(WIDTHS):
            if self.weight <= heavy:
                return round(wide + (thin - wide) * (self.weight - light) / (heavy - light), 3)
        return USUAL

    @property
    def rgb(self) -> tuple[int, int, int]:
        """Red, green and blue, 0 to 255."""
        return rgb_of(self.colour)


def rgb_of(colour: str) -> tuple[int, int, int]:
    """Red, green and blue of ``#rrggbb``."""
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)


def hex_of(rgb: tuple[int, int, int]) -> str:
    """Three numbers from 0 to 255 as a colour, “#rrggbb”."""
    return "#{:02x}{:02x}{:02x}".format(*rgb)


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
    """How different two sRGB colours look: the distance CIEDE2000; 1 is about what an eye can tell apart.

    Source: G. Sharma, W. Wu, E. N. Dalal, "The CIEDE2000 color-difference formula: implementation notes,
    supplementary test data, and mathematical observations" (2005).
    """
    return lab_distance(lab_of(one), lab_of(other))


def lab_distance(one: tuple[float, float, float], other: tuple[float, float, float]) -> float:
    """The distance CIEDE2000 of two colours in L*a*b*."""
    (l1, a1, b1), (l2, a2, b2) = one, other
    mean = (hypot(a1, b1) + hypot(a2, b2)) / 2
    grey = 0.5 * (1 - sqrt(mean**7 / (mean**7 + 25.0**7)))
    a1, a2 = a1 * (1 + grey), a2 * (1 + grey)
    c1, c2 = hypot(a1, b1), hypot(a2, b2)
    h1, h2 = (degrees(atan2(b, a)) % 360 if c else 0.0 for a, b, c in ((a1, b1, c1), (a2, b2, c2)))
    turn = (h2 - h1 + 180) % 360 - 180 if c1 * c2 else 0.0
    light, chroma = l2 - l1, c2 - c1
    hue = 2 * sqrt(c1 * c2) * sin(radians(turn / 2))
    level, strong = (l1 + l2) / 2, (c1 + c2) / 2
    angle = (h1 + h2) / 2 if c1 * c2 else h1 + h2
    if c1 * c2 and abs(h1 - h2) > 180:
        angle += 180 if angle < 180 else -180
    t = (
        1
        - 0.17 * cos(radians(angle - 30))
        + 0.24 * cos(radians(2 * angle))
        + 0.32 * cos(radians(3 * angle + 6))
        - 0.20 * cos(radians(4 * angle - 63))
    )
    light /= 1 + 0.015 * (level - 50) ** 2 / sqrt(20 + (level - 50) ** 2)
    chroma /= 1 + 0.045 * strong
    hue /= 1 + 0.015 * strong * t
    twist = -sin(radians(60 * exp(-(((angle - 275) / 25) ** 2)))) * 2 * sqrt(strong**7 / (strong**7 + 25.0**7))
    return sqrt(max(0.0, light**2 + chroma**2 + hue**2 + twist * chroma * hue))


def nearest_thread(rgb: tuple[int, int, int], chart: Sequence[Thread]) -> Thread:
    """The thread of ``chart`` that looks most like ``rgb``."""
    if not chart:
        raise CannotRead("The thread chart is empty; load a chart with at least one thread.")
    return min(chart, key=lambda thread: colour_distance(rgb, thread.rgb))
