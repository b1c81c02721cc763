"""The colours of an SVG: plain ones, and what gradients and patterns are on average."""

import math
import re
from collections.abc import Callable, Iterable, Mapping
from xml.etree import ElementTree

import tinycss2.color4

from jontel.artwork.drawing import RGB, Shade
from jontel.artwork.svg.cascade import Declared
from jontel.artwork.svg.style import PLAIN_SIZE, Style, View, length, style_of
from jontel.artwork.svg.views import matrix_of
from jontel.design.paths import Matrix, composed

LINK = "{http://www.w3.org/1999/xlink}href"
"""The older name of ``href``."""
REFERENCE = re.compile(r"url\(\s*['\"]?#([^)'\"]+)['\"]?\s*\)\s*(.*)", re.DOTALL)
MOST_LINKS = 30
Box = tuple[float, float, float, float]
Paint = tuple[RGB, float]
"""A colour and how opaque it is, 0 to 1."""


def colour_of(value: str, current: str) -> Paint | None:
    """A plain colour of CSS; ``None`` for none and for what is no colour. ``current`` is that of ``currentColor``."""
    word = value.strip()
    if word.lower() == "currentcolor":
        word = current or "black"
    try:
        found = tinycss2.color4.parse_color(word)
    except (ValueError, ArithmeticError):
        return None
    if found is None or isinstance(found, str):
        return None
    try:
        red, green, blue = (min(max(part, 0.0), 1.0) for part in found.to("srgb").coordinates)
    except (NotImplementedError, ValueError, TypeError):
        return None
    return (round(red * 255), round(green * 255), round(blue * 255)), float(found.alpha)


class Gradients:
    """The mean colours of what ``url(#name)`` paints with, by the names of gradients."""

    def __init__(
        self, named: Mapping[str, ElementTree.Element], declared: Mapping[ElementTree.Element, Declared]
    ) -> None:
        self._named, self._declared = named, declared

    def mean(self, name: str) -> Paint | None:
        """The mean colour along a gradient; ``None`` where it is none or has no stops."""
        stops = self._stops(self._chain(name))
        return self._mean(stops) if stops else None

    def shade(self, name: str, box: Callable[[], Box | None], matrix: Matrix, view: View) -> Shade | None:
        """The first and the last colour of a linear gradient and the way from one to the other, as it is seen.

        ``box`` gives that of what it fills, before ``matrix`` moves it. ``None`` where it is not so plain.
        """
        chain = self._chain(name)
        stops = self._stops(chain)
        if not stops or local(chain[0]) != "linearGradient" or stops[0][1] == stops[-1][1]:
            return None

        def said(key: str, plain: str) -> str:
            return next((self._declared[one][key] for one in chain if key in self._declared[one]), plain)

        by_box = said("gradientUnits", "objectBoundingBox") != "userSpaceOnUse"
        whole = View(1.0, 1.0) if by_box else view
        x1, y1, x2, y2 = (
            length(said(key, plain), PLAIN_SIZE, whole.of(key[0]))
            for key, plain in (("x1", "0%"), ("y1", "0%"), ("x2", "100%"), ("y2", "0%"))
        )
        try:
            own = matrix_of(said("gradientTransform", ""))
        except (ValueError, IndexError, TypeError, ZeroDivisionError):
            return None
        fitted = matrix
        if by_box:
            found = box()
            if found is None:
                return None
            left, top, right, bottom = found
            fitted = composed((right - left, 0.0, 0.0, bottom - top, left, top), matrix)
        a, b, c, d = composed(own, fitted)[:4]
        if abs(a * d - b * c) < 1e-12:
            return None
        x, y = d * (x2 - x1) - b * (y2 - y1), a * (y2 - y1) - c * (x2 - x1)  # square to lines of one colour
        turned = math.copysign(1.0, a * d - b * c)
        if math.hypot(x, y) < 1e-12:
            return None
        return Shade(stops[0][1], stops[-1][1], math.degrees(math.atan2(-y * turned, x * turned)))

    def _chain(self, name: str) -> list[ElementTree.Element]:
        """A gradient, and those that it refers to for what it does not say itself."""
        chain: list[ElementTree.Element] = []
        for _ in range(MOST_LINKS):
            element = self._named.get(name)
            if element is None or local(element) not in ("linearGradient", "radialGradient"):
                break
            chain.append(element)
            name = link_of(self._declared[element])
        return chain

    def _stops(self, chain: Iterable[ElementTree.Element]) -> list[tuple[float, RGB, float]]:
        """Where each stop of the first gradient that has some is, from 0 to 1, its colour and how opaque it is."""
        gradient = next((one for one in chain if any(local(child) == "stop" for child in one)), None)
        if gradient is None:
            return []
        above = style_of(self._declared[gradient], Style())
        found: list[tuple[float, RGB, float]] = []
        for stop in (child for child in gradient if local(child) == "stop"):
            style = style_of(self._declared[stop], above)
            paint = colour_of(style.get("stop-color", "black"), style.get("color", "black"))
            at = Style(offset=style.get("offset", "0")).part("offset")
            colour, alpha = paint or ((0, 0, 0), 0.0)
            found.append((max(at, found[-1][0] if found else 0.0), colour, alpha * style.part("stop-opacity")))
        return found

    @staticmethod
    def _mean(found: list[tuple[float, RGB, float]]) -> Paint | None:
        places = [0.0, *(one[0] for one in found), 1.0]
        whole = [found[0], *found, found[-1]]
        share = [0.0] * len(whole)
        for k in range(len(whole) - 1):
            for end in (k, k + 1):
                share[end] += (places[k + 1] - places[k]) / 2
        return mixed(((colour, alpha), part) for (_, colour, alpha), part in zip(whole, share, strict=True))


def mixed(paints: Iterable[tuple[Paint, float]]) -> Paint | None:
    """The mean of paints that take so much each."""
    total = seen = 0.0
    sums = [0.0, 0.0, 0.0]
    for (colour, alpha), part in paints:
        total += part
        seen += part * alpha
        sums = [one + part * alpha * value for one, value in zip(sums, colour, strict=True)]
    if total <= 0 or seen <= 0:
        return None
    red, green, blue = (round(one / seen) for one in sums)
    return (red, green, blue), seen / total


def paint_of(
    value: str, style: Style, mean: Callable[[str], Paint | None], context: Callable[[str], Paint | None]
) -> Paint | None:
    """What a fill or a stroke is painted with.

    ``mean`` says what a name paints with, ``context`` what the line of a marker is painted with.
    """
    word = value.strip()
    if word.lower() in ("none", ""):
        return None
    if word.lower() in ("context-fill", "context-stroke"):
        return context(word.lower())
    match = REFERENCE.match(word)
    if match is None:
        return colour_of(word, style.get("color", "black"))
    return mean(match[1]) or (paint_of(match[2], style, mean, context) if match[2].strip() else None)


def local(element: ElementTree.Element) -> str:
    """The name of an element without its name space; empty for what is none of SVG's."""
    tag = element.tag
    if not isinstance(tag, str):
        return ""
    if tag.startswith("{"):
        space, _, name = tag[1:].partition("}")
        return name if space == "http://www.w3.org/2000/svg" else ""
    return tag


def link_of(said: Declared) -> str:
    """The name that an element refers to; empty where it is none within the file."""
    link = said.get("href", said.get(LINK, "")).strip()
    return link[1:] if link.startswith("#") else ""
