"""Boxes round what an element draws, in pixels of its own, which its transform may be about.

Source: W3C, "CSS Transforms Module Level 1", ``transform-box``, and "Scalable Vector Graphics (SVG) 2", 8.10.
"""

from collections.abc import Callable, Mapping
from xml.etree import ElementTree

import numpy as np

from jontel.artwork.svg.outlines import canonical, data_of
from jontel.artwork.svg.paint import link_of, local
from jontel.artwork.svg.style import Style, View, length, style_of
from jontel.artwork.svg.views import UNMOVED
from jontel.design.paths import Matrix, composed
from jontel.design.stopping import go_on
from jontel.geometry.polyline import FINE, Floats, flatten

Box = tuple[float, float, float, float]
SHAPES = frozenset({"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"})
HELD = frozenset({"g", "a", "svg", "symbol"})
OWN = frozenset({"fill-box", "content-box"})
"""Boxes of what is filled; those of ``STROKED`` go round strokes too."""
STROKED = frozenset({"stroke-box", "border-box"})
DEEPEST, MOST_LOOKED_AT = 60, 20_000
"""Elements within elements are looked at so deep, and so many; a drawing of more is refused as it is painted."""

Moved = Callable[[Style, Matrix, View, ElementTree.Element], Matrix]
"""What gives a matrix that an element's own transform is put before."""


class Boxes:
    """Boxes round the elements of a drawing, whose styles and names are known."""

    def __init__(
        self,
        declared: Mapping[ElementTree.Element, dict[str, str]],
        named: Mapping[str, ElementTree.Element],
        moved: Moved,
        name: str,
    ) -> None:
        self._declared, self._named, self._moved, self._name = declared, named, moved, name
        self._inside: list[ElementTree.Element] = []
        self._known: dict[tuple[object, ...], Box | None] = {}
        self._looked_at = 0

    def box(self, element: ElementTree.Element, style: Style, view: View, stroked: bool) -> Box | None:
        """Left, top, right and bottom of what an element draws, as if it were not moved; ``None`` of nothing."""
        key = (element, view, stroked, style.font_size, style.get("stroke"), style.get("stroke-width"))
        if key not in self._known:
            spots = self._spots(element, style, UNMOVED, view, stroked)
            every = np.vstack([*spots, np.zeros((0, 2))])
            ends = (*every.min(axis=0).tolist(), *every.max(axis=0).tolist()) if len(every) else None
            self._known[key] = None if ends is None else (ends[0], ends[1], ends[2], ends[3])
        return self._known[key]

    def _spots(
        self, element: ElementTree.Element, style: Style, matrix: Matrix, view: View, stroked: bool
    ) -> list[Floats]:
        """Places (n, 2) that the box goes round."""
        go_on()
        tag = local(element)
        self._looked_at += 1
        if self._looked_at > MOST_LOOKED_AT:
            return []
        if tag in SHAPES:
            data = data_of(tag, style, view)
            path = canonical(data, UNMOVED, self._name) if data else ""
            half = 0.0
            if stroked and style.get("stroke", "none") != "none":
                half = length(style.get("stroke-width", "1"), style.font_size, view.of(""), 1.0) / 2
            return [_placed(line.xy, half, matrix) for line in flatten(path, FINE)]
        if tag == "image":
            x, y, wide, high = (
                length(style.get(one, ""), style.font_size, view.of(along))
                for one, along in (("x", "x"), ("y", "y"), ("width", "x"), ("height", "y"))
            )
            corners = [(x, y), (x + wide, y), (x + wide, y + high), (x, y + high)]
            return [_placed(np.array(corners), 0.0, matrix)]
        inner: list[ElementTree.Element] = []
        if tag == "use":
            target = self._named.get(link_of(self._declared[element]))
            inner = [target] if target is not None else []
            x, y = (length(style.get(one, ""), style.font_size, view.of(one)) for one in ("x", "y"))
            matrix = composed((1.0, 0.0, 0.0, 1.0, x, y), matrix)
        elif tag in HELD:
            inner = list(element)
        if element in self._inside or len(self._inside) >= DEEPEST:
            return []
        self._inside.append(element)
        found: list[Floats] = []
        for child in inner:
            own = style_of(self._declared.get(child, {}), style)
            if own.said("display") != "none":
                found += self._spots(child, own, self._moved(own, matrix, view, child), view, stroked)
        self._inside.pop()
        return found


def _placed(xy: Floats, half: float, matrix: Matrix) -> Floats:
    """Places (n, 2) moved, and two corners that lie half a stroke beyond all of them."""
    a, b, c, d, e, f = matrix
    at = xy @ np.array([[a, b], [c, d]]) + (e, f)
    beyond = half * np.hypot((a, b), (c, d))
    return np.vstack([at, at.min(axis=0) - beyond, at.max(axis=0) + beyond])
