"""SVG in: every painted shape, in mm, with what could not be understood named."""

import io
import math
import re
from collections import Counter
from collections.abc import Iterator, Sequence

import numpy as np
import svgelements as se

from jontel.artwork.cascade import cascaded
from jontel.artwork.drawing import RGB, Drawing, Drawn
from jontel.artwork.svg_text import lettering_of
from jontel.artwork.xml_guard import Chunk, Seen, look_at
from jontel.design.errors import CannotRead
from jontel.design.paths import number_text
from jontel.design.shapes import FillRule, LineEnd
from jontel.design.stopping import go_on
from jontel.geometry.nodes import Chain, chains_of, path_through

MM_PER_PIXEL = 25.4 / 96
MOST_NODES = 100_000
LARGEST_MM = 2_000.0
HARDLY_SEEN = 0.04
_REFERENCE = re.compile(r"url\(\s*['\"]?#([^)'\"]+)['\"]?\s*\)")
_LEFT_OUT = {"image": "picture", "foreignObject": "embedded page", "video": "film"}


def read_svg(data: bytes, name: str) -> Drawing:
    """The drawing in an SVG file. Raises ``CannotRead``."""
    seen = look_at(data, name)
    try:
        root = se.SVG.parse(io.BytesIO(cascaded(data)), ppi=96, reify=False)
        width, height = float(root.width), float(root.height)
    except (ValueError, TypeError, AttributeError, ZeroDivisionError, IndexError, KeyError) as error:
        raise CannotRead(f"{name} has a size or a path that is not a number; correct it and try again.") from error
    except RecursionError as error:
        raise CannotRead(f"{name} is nested too deeply to read; ungroup it and try again.") from error
    if not all(math.isfinite(v) and 0 < v * MM_PER_PIXEL < LARGEST_MM for v in (width, height)):
        raise CannotRead(f"{name} has no usable size; give the drawing a width and a height up to 2 m.")
    notes = Notes(seen)
    try:
        shapes = _shapes(root, name, notes)
    except CannotRead:
        raise
    except (ValueError, ArithmeticError, LookupError, TypeError, AttributeError) as error:
        # the reader makes what it can of a damaged path, and stumbles over it later with nearly any error
        raise CannotRead(f"{name} has a path that is damaged; save it again from the drawing program.") from error
    return Drawing(tuple(shapes), width * MM_PER_PIXEL, height * MM_PER_PIXEL, tuple(notes.sentences()), "svg")


def _shapes(root: "se.SVG", name: str, notes: "Notes") -> list[Drawn]:
    """Every painted shape, from back to front. Raises ``CannotRead``."""
    shapes: list[Drawn] = []
    nodes = 0
    elements = list(root.elements())
    texts = [one for one in elements if isinstance(one, se.Text) and one.values.get("tag", "text") == "text"]
    words = dict(zip(map(id, texts), notes.texts, strict=False)) if len(texts) == len(notes.texts) else {}
    for element in elements:
        go_on()
        if isinstance(element, se.Text):
            if id(element) in words:
                shapes += _words(element, words[id(element)], notes)
            elif any(element is one for one in texts):
                notes.add("text was left out: it is drawn from a template; turn it into paths first")
            continue
        if not isinstance(element, se.Shape):
            continue
        path = _canonical(element, name)
        nodes += path.count(" ") // 2
        if nodes > MOST_NODES:
            raise CannotRead(f"{name} has over {MOST_NODES:,} nodes; simplify its paths and try again.")
        drawn = _painted(element, path, notes)
        if drawn is not None:
            shapes.append(drawn)
    return shapes


def _words(element: "se.Text", chunks: Sequence[Chunk], notes: "Notes") -> list[Drawn]:
    """The words of a text as lettering."""
    values: dict[str, str] = {str(k): str(v) for k, v in element.values.items() if v is not None}
    fill = _paint(values.get("fill", "black"), element.fill, "fill", notes)
    if _hidden(values) or fill is None:
        return []
    try:
        found, asked = lettering_of(element, chunks, MM_PER_PIXEL)
    except ValueError:
        notes.add("text was left out: its place is no plain number; turn it into paths first")
        return []
    for one in found:
        family = asked.split(",")[0].strip().strip("'\"")
        notes.add(f"text in “{family}” came in as lettering in “{one.font}”")
    return [Drawn("", "", "nonzero", fill, None, 0.0, words=one) for one in found]


def _hidden(values: dict[str, str]) -> bool:
    """Whether nothing of an element is painted."""
    unseen = values.get("display") == "none" or values.get("visibility") in ("hidden", "collapse")
    return unseen or values.get("opacity") in ("0", "0.0")


class Notes:
    """Collects what in a file cannot be digitized."""

    def __init__(self, seen: Seen) -> None:
        self._counts: Counter[str] = Counter()
        self._first_stop: dict[str, str] = {}
        self._link: dict[str, str] = {}
        self.texts = seen.texts
        gradient = ""
        for tag, attributes in seen.elements:
            if tag in _LEFT_OUT:
                self._counts[f"{_LEFT_OUT[tag]} was left out: Jontel sews shapes; turn it into paths first"] += 1
            if tag in ("linearGradient", "radialGradient", "pattern"):
                gradient = attributes.get("id", "")
                link = attributes.get("xlink:href", attributes.get("href", ""))
                if link.startswith("#"):
                    self._link[gradient] = link[1:]
            if tag == "stop" and gradient:
                self._first_stop.setdefault(gradient, _stop_colour(attributes))

    def of_reference(self, value: str, what: str) -> RGB | None:
        """The flat colour that stands in for a gradient, and the note about it."""
        match = _REFERENCE.search(value)
        if match is None:
            return None
        target = match.group(1)
        while target not in self._first_stop and target in self._link:
            target = self._link.pop(target)
        self._counts[f"{what} with a gradient or pattern came in as one colour"] += 1
        return _rgb(se.Color(self._first_stop.get(target, "#888888")))

    def add(self, sentence: str) -> None:
        """Count one more of these."""
        self._counts[sentence] += 1

    def sentences(self) -> Iterator[str]:
        """One sentence a kind, with how often."""
        for sentence, count in self._counts.items():
            yield f"{count} × {sentence}."


def _stop_colour(attributes: dict[str, str]) -> str:
    match = re.search(r"stop-color\s*:\s*([^;]+)", attributes.get("style", ""))
    return match.group(1).strip() if match else attributes.get("stop-color", "#000000")


def _rgb(colour: "se.Color") -> RGB | None:
    if colour is None or colour.value is None or colour.alpha == 0:
        return None
    return int(colour.red), int(colour.green), int(colour.blue)


def _canonical(element: "se.Shape", name: str) -> str:
    """Canonical path data of any shape, in mm."""
    path = se.Path(*element.segments(False))
    path.approximate_arcs_with_cubics()  # before the transform, which makes of a circle no arc that SVG could say
    path = abs(path * element.transform)
    parts: list[str] = []

    def add(letter: str, *points: "se.Point") -> None:
        numbers = [v * MM_PER_PIXEL for p in points for v in (float(p.x), float(p.y))]
        if not all(math.isfinite(v) and abs(v) < 10 * LARGEST_MM for v in numbers):
            raise CannotRead(f"{name} has a path with a point that is not a number; correct it and try again.")
        parts.append(letter + " ".join(number_text(v) for v in numbers))

    for segment in path:
        match segment:
            case se.Move(end=end) if end is not None:
                add("M", end)
            case se.Close():
                parts.append("Z")
            case se.Line(end=end):
                add("L", end)
            case se.CubicBezier(control1=one, control2=two, end=end):
                add("C", one, two, end)
            case se.QuadraticBezier(control=one, end=end):
                add("Q", one, end)
            case _:
                continue
    return " ".join(parts)


def _painted(element: "se.Shape", path: str, notes: Notes) -> Drawn | None:
    values: dict[str, str] = {str(k): str(v) for k, v in element.values.items() if v is not None}
    if _hidden(values) or not path:
        return None
    name = str(element.id or "")
    if _REFERENCE.search(values.get("clip-path", "")) or _REFERENCE.search(values.get("mask", "")):
        notes.add("shape with a clip or a mask came in whole")
    fill = _paint(values.get("fill", "black"), element.fill, "fill", notes)
    stroke = _paint(values.get("stroke", "none"), element.stroke, "stroke", notes)
    whole = _number(values.get("opacity"))
    fill = _seen_through(fill, whole * _number(values.get("fill-opacity")), notes)
    stroke = _seen_through(stroke, whole * _number(values.get("stroke-opacity")), notes)
    width = float(element.implicit_stroke_width or 0) * MM_PER_PIXEL if stroke is not None else 0.0
    if fill is None and (stroke is None or width <= 0):
        return None
    rule: FillRule = "evenodd" if values.get("fill-rule") == "evenodd" else "nonzero"
    ends: LineEnd = "round" if values.get("stroke-linecap") == "round" else "flat"
    if stroke is not None and values.get("stroke-linecap") == "square" and fill is None:
        path = _longer(path, width / 2)
    if stroke is not None and values.get("stroke-dasharray", "none").strip() not in ("none", ""):
        notes.add("dashed line came in whole: choose a longer stitch for it")
    return Drawn(name, path, rule, fill, stroke if width > 0 else None, width, ends)


def _number(value: str | None) -> float:
    """An opacity, of 0 to 1; 1 for none and for what is no number."""
    try:
        part = float(value.rstrip("%")) / (100 if value.endswith("%") else 1) if value else 1.0
    except ValueError:
        return 1.0
    return min(max(part, 0.0), 1.0)


def _seen_through(colour: RGB | None, opacity: float, notes: "Notes") -> RGB | None:
    """A colour as it is seen on white; none of what is hardly seen."""
    if colour is None or opacity <= HARDLY_SEEN:
        return None
    if opacity >= 1:
        return colour
    notes.add("shape that is seen through came in in the colour that it has on white")
    red, green, blue = (round(255 - (255 - part) * opacity) for part in colour)
    return red, green, blue


def _longer(path: str, by: float) -> str:
    """Open lines carried straight on by so many mm at both ends, as square caps do."""
    chains = []
    for chain in chains_of(path):
        if chain.closed or len(chain.at) < 2:
            chains.append(chain)
            continue
        at, before, after = chain.at, chain.before, chain.after
        ends = []
        for node, handle, other in ((0, after[0], at[1]), (-1, before[-1], at[-2])):
            way = at[node] - (handle if np.hypot(*(handle - at[node])) > 1e-6 else other)
            ends.append(at[node] + by * way / max(float(np.hypot(*way)), 1e-9))
        first, last = ends
        chains.append(
            Chain(
                np.vstack([first, at, last]),
                np.vstack([first, at[:1], before[1:], last]),
                np.vstack([first, after[:-1], at[-1:], last]),
                False,
            )
        )
    return path_through(tuple(chains))


def _paint(value: str, colour: "se.Color", what: str, notes: Notes) -> RGB | None:
    if "url(" in value:
        return notes.of_reference(value, what)
    return _rgb(colour)
