"""The colours of an SVG: plain ones, and what gradients and patterns are on average."""

import re
from collections.abc import Callable, Iterable, Mapping
from xml.etree import ElementTree

import tinycss2.color4

from jontel.artwork.drawing import RGB
from jontel.artwork.svg.cascade import Declared
from jontel.artwork.svg.style import Style, style_of

LINK = "{http://www.w3.org/1999/xlink}href"
"""The older name of ``href``."""
REFERENCE = re.compile(r"url\(\s*['\"]?#([^)'\"]+)['\"]?\s*\)\s*(.*)", re.DOTALL)
MOST_LINKS = 30
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
        for _ in range(MOST_LINKS):
            element = self._named.get(name)
            if element is None or local(element) not in ("linearGradient", "radialGradient"):
                return None
            stops = [child for child in element if local(child) == "stop"]
            if stops:
                return self._mean(element, stops)
            name = link_of(self._declared[element])
        return None

    def _mean(self, gradient: ElementTree.Element, stops: Iterable[ElementTree.Element]) -> Paint | None:
        above = style_of(self._declared[gradient], Style())
        found: list[tuple[float, RGB, float]] = []
        for stop in stops:
            style = style_of(self._declared[stop], above)
            paint = colour_of(style.get("stop-color", "black"), style.get("color", "black"))
            at = Style(offset=style.get("offset", "0")).part("offset")
            colour, alpha = paint or ((0, 0, 0), 0.0)
            found.append((max(at, found[-1][0] if found else 0.0), colour, alpha * style.part("stop-opacity")))
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
