"""SVG in: every painted shape, in mm, with what could not be understood named.

Source: W3C, "Scalable Vector Graphics (SVG) 2" and "CSS Masking Module Level 1".
"""

import math
from collections import Counter
from collections.abc import Callable, Iterable
from dataclasses import replace
from xml.etree import ElementTree

import shapely

from jontel.artwork.drawing import Drawing, Shade
from jontel.artwork.overlaid import opaque
from jontel.artwork.pieces import HARDLY_SEEN, Piece, bounds_of, clipped, drawn_from, faded, lit
from jontel.artwork.svg.boxes import OWN, SHAPES, STROKED, Boxes
from jontel.artwork.svg.cascade import declared
from jontel.artwork.svg.embedded import NotEmbedded, bytes_of, traced_pieces
from jontel.artwork.svg.guard import look_at
from jontel.artwork.svg.outlines import canonical, data_of
from jontel.artwork.svg.paint import LINK, REFERENCE, Gradients, Paint, link_of, local, mixed, paint_of
from jontel.artwork.svg.strokes import corners_of, sides, stroke_of
from jontel.artwork.svg.style import PLAIN_SIZE, Style, View, length, style_of
from jontel.artwork.svg.views import UNMOVED, box_of, fitted, matrix_of, origin_of
from jontel.artwork.svg.words import chunks_in, lettering_of
from jontel.design.errors import CannotRead, CannotStitch
from jontel.design.paths import Matrix, composed, transform_path
from jontel.design.shapes import FillRule
from jontel.design.stopping import go_on
from jontel.geometry.region import polygons_of

MM_PER_PIXEL = 25.4 / 96
PLAIN_VIEW = View(300.0, 150.0)
"""The size of a drawing that says none, pixels."""
MOST_NODES = 200_000
LARGEST_MM = 2_000.0
DEEPEST = 60
"""Elements that use each other are followed so deep."""
MOST_ELEMENTS = 60_000
HOPELESS = 100
"""Templates that stand for so many times as many elements are refused at once: what is hidden of them is in that."""
PAINTED = SHAPES | {"g", "a", "switch", "svg", "use", "text", "image"}
"""Elements that paint something where they stand."""
MOST_PICTURES = 12
"""So many pictures of a drawing are traced."""
LEFT_OUT = {"foreignObject": "embedded page", "video": "film"}
LANGUAGE = "en"


def read_svg(data: bytes, name: str) -> Drawing:
    """The drawing in an SVG file. Raises ``CannotRead``."""
    root = look_at(data, name)
    try:
        return _Reader(root, name).drawing()
    except RecursionError as error:
        raise CannotRead(f"{name} is nested too deeply to read; ungroup it and try again.") from error
    except shapely.errors.GEOSException as error:
        raise CannotRead(
            f"{name} has a clip or a stroke that is damaged; save it again from the drawing program."
        ) from error


class _Reader:
    """Walks through an SVG as it is painted. What is painted is in mm from the drawing's top left."""

    def __init__(self, root: ElementTree.Element, name: str) -> None:
        self.root, self.name = root, name
        self.declared = declared(root)
        self.named: dict[str, ElementTree.Element] = {}
        for element in root.iter():
            if isinstance(element.tag, str):
                self.named.setdefault(element.get("id", ""), element)
        self.boxes = Boxes(self.declared, self.named, self._moved, name)
        self.gradients = Gradients(self.named, self.declared)
        self.counts: Counter[str] = Counter()
        self.nodes = self.elements = 0
        self.inside: list[ElementTree.Element] = []
        self.cutting = False  # what is read is a clip: how it would be painted is nothing to it
        self.context: list[tuple[Paint | None, Paint | None]] = []
        self.pictures = 0
        self.paints = {
            "text": self._words,
            "image": self._pictured,
            "switch": self._switched,
            "use": self._used,
            "svg": self._nested,
        }

    # the whole

    def drawing(self) -> Drawing:
        """All that is painted."""
        if self._unfolded(self.root, {}) > HOPELESS * MOST_ELEMENTS:
            raise self._too_much()
        style = style_of(self.declared[self.root], Style())
        box = box_of(style.get("viewBox", ""))
        place = self._size(style, box)
        matrix, view = fitted(box, style.get("preserveAspectRatio", ""), place)
        wide, high = place.width * MM_PER_PIXEL, place.height * MM_PER_PIXEL
        matrix = composed(matrix, (MM_PER_PIXEL, 0.0, 0.0, MM_PER_PIXEL, 0.0, 0.0))
        pieces = (
            []
            if style.said("display") == "none"
            else self._dressed(self.root, style, matrix, view, lambda: self._children(self.root, style, matrix, view))
        )
        if style.said("overflow") not in ("visible", "auto"):
            pieces = clipped(pieces, shapely.box(0.0, 0.0, wide, high), by_middle=True)
        pieces, plain = opaque(pieces)
        if plain:
            self.counts["shape that is seen through came in as on white: too much lies under it"] += plain
        notes = tuple(f"{count} × {sentence}." for sentence, count in self.counts.items())
        return Drawing(tuple(drawn_from(pieces)), wide, high, notes, "svg")

    def _too_much(self) -> CannotRead:
        return CannotRead(f"{self.name} draws over {MOST_ELEMENTS:,} shapes by templates; simplify it and try again.")

    def _unfolded(self, element: ElementTree.Element, known: dict[ElementTree.Element, int], deep: int = 0) -> int:
        """About how many elements are painted where ``element`` stands, with those of templates of templates."""
        if deep > DEEPEST:
            return 1
        if element not in known:
            known[element] = 1  # what is inside itself paints nothing more
            found = 1 + sum(self._unfolded(child, known, deep + 1) for child in element if local(child) in PAINTED)
            target = self.named.get(link_of(self.declared[element])) if local(element) == "use" else None
            known[element] = found + (self._unfolded(target, known, deep + 1) if target is not None else 0)
        return known[element]

    def _size(self, style: Style, box: tuple[float, float, float, float] | None) -> View:
        """The size of the drawing, pixels; what it does not say follows from its view box. Raises ``CannotRead``."""
        own = View(box[2], box[3]) if box else PLAIN_VIEW
        said = [style.said(one, "auto") for one in ("width", "height")]
        wide, high = (
            math.nan if word in ("auto", "") else length(word, PLAIN_SIZE, whole, 0.0)
            for word, whole in zip(said, own, strict=True)
        )
        if box and math.isnan(wide) != math.isnan(high):
            wide, high = (
                (high * own.width / own.height, high) if math.isnan(wide) else (wide, wide * own.height / own.width)
            )
        size = View(own.width if math.isnan(wide) else wide, own.height if math.isnan(high) else high)
        if not all(math.isfinite(v) and 0 < v * MM_PER_PIXEL < LARGEST_MM for v in size):
            raise CannotRead(f"{self.name} has no usable size; give the drawing a width and a height up to 2 m.")
        return size

    def _children(self, element: ElementTree.Element, style: Style, matrix: Matrix, view: View) -> list[Piece]:
        found: list[Piece] = []
        for child in element:
            found += self._element(child, style, matrix, view)
        return found

    # one element

    def _element(self, element: ElementTree.Element, above: Style, matrix: Matrix, view: View) -> list[Piece]:
        """What an element paints, from back to front."""
        tag = local(element)
        if tag in LEFT_OUT and style_of(self.declared[element], above).said("display") != "none":
            self.counts[f"{LEFT_OUT[tag]} was left out: Jontel sews shapes; turn it into paths first"] += 1
            return []
        if tag not in PAINTED:
            return []
        go_on()
        self.elements += 1
        if self.elements > MOST_ELEMENTS:
            raise self._too_much()
        style = style_of(self.declared[element], above)
        if style.said("display") == "none" or (style.part("opacity") <= HARDLY_SEEN and not self.cutting):
            return []
        matrix = self._moved(style, matrix, view, element)
        paint = self._shape if tag in SHAPES else self.paints.get(tag, self._children)
        return self._dressed(element, style, matrix, view, lambda: paint(element, style, matrix, view))

    def _moved(self, style: Style, matrix: Matrix, view: View, element: ElementTree.Element | None = None) -> Matrix:
        """``matrix`` with what the style of an ``element`` says that it is moved by, about its origin."""
        try:
            own = matrix_of(style.get("transform", ""))
            about = style.said("transform-box", "view-box")
            if own != UNMOVED and (style.said("transform-origin") or about in OWN | STROKED):
                left = top = 0.0
                if element is not None and about in OWN | STROKED:
                    left, top, right, bottom = self.boxes.box(element, style, view, about in STROKED) or (0.0,) * 4
                    view = View(right - left, bottom - top)
                x, y = origin_of(style.said("transform-origin") or "0 0", style.font_size, view)
                x, y = left + x, top + y
                own = composed(composed((1.0, 0.0, 0.0, 1.0, -x, -y), own), (1.0, 0.0, 0.0, 1.0, x, y))
            return composed(own, matrix)
        except (ValueError, IndexError, TypeError, ZeroDivisionError) as error:
            raise CannotRead(
                f"{self.name} has a transform that is damaged; save it again from the drawing program."
            ) from error

    def _dressed(
        self, element: ElementTree.Element, style: Style, matrix: Matrix, view: View, paint: Callable[[], list[Piece]]
    ) -> list[Piece]:
        """What is painted, clipped, masked and seen through as its style says."""
        if len(self.inside) > DEEPEST or element in self.inside:
            return []
        self.inside.append(element)
        try:
            pieces = paint()
            if pieces:
                pieces = self._through_clip(pieces, style, matrix, view)
                pieces = self._through_mask(pieces, style, matrix, view)
        finally:
            self.inside.pop()
        if style.part("opacity") < 1 and pieces and not self.cutting:
            pieces = faded(pieces, style.part("opacity"))
        if style.said("filter", "none") != "none":
            self.counts["shape with a filter came in without"] += 1
        return pieces

    def _shape(self, element: ElementTree.Element, style: Style, matrix: Matrix, view: View) -> list[Piece]:
        tag = local(element)
        path = self._path(data_of(tag, style, view), matrix)
        if not path or style.said("visibility", "visible") != "visible":
            return []
        fill = None if tag == "line" else self._paint("fill", style, "black")
        stroke = self._paint("stroke", style, "none")
        rule: FillRule = "evenodd" if style.said("fill-rule") == "evenodd" else "nonzero"
        called = next((value for key, value in style.items() if key.endswith("}label")), "") or style.get("id", "")
        shade = self._shade(element, style, matrix, view)
        layers = {"fill": [] if fill is None else [Piece(path, *fill, rule, name=called, shade=shade)]}
        layers["stroke"] = []
        if stroke is not None:
            drawn = stroke_of(path, style, view, matrix, stroke, MM_PER_PIXEL)
            layers["stroke"] = [replace(one, name=called) for one in drawn]
        layers["markers"] = self._markers(tag, path, style, matrix, view, (fill, stroke))
        order = [word for word in style.said("paint-order").split() if word in layers]
        return [piece for word in dict.fromkeys((*order, "fill", "stroke", "markers")) for piece in layers[word]]

    def _path(self, data: str, matrix: Matrix) -> str:
        path = canonical(data, matrix, self.name) if data else ""
        self._count((path,))
        return path

    def _count(self, paths: Iterable[str]) -> None:
        """Keep count of nodes. Raises ``CannotRead`` for too many."""
        self.nodes += sum(path.count(letter) for path in paths for letter in "MLCQ")
        if self.nodes > MOST_NODES:
            raise CannotRead(f"{self.name} has over {MOST_NODES:,} nodes; simplify its paths and try again.")

    # colours

    def _paint(self, what: str, style: Style, plain: str) -> Paint | None:
        """What a fill or a stroke is painted with, and how opaque; a clip cuts by what could be filled."""
        if self.cutting:
            return ((0, 0, 0), 1.0) if what == "fill" else None

        def mean(name: str) -> Paint | None:
            found = self.gradients.mean(name)
            if found is None and local(self.named.get(name, self.root)) == "pattern":
                found = self._pattern(name)
            if found is not None:
                self.counts[f"{what} with a gradient or pattern came in as one colour, its mean"] += 1
            return found

        def context(word: str) -> Paint | None:
            return self.context[-1][word == "context-stroke"] if self.context else None

        found = paint_of(style.get(what, plain), style, mean, context)
        if found is None:
            return None
        colour, alpha = found[0], found[1] * style.part(f"{what}-opacity")
        if alpha <= HARDLY_SEEN:
            return None
        if alpha * style.part("opacity") < 1:
            self.counts["shape that is seen through came in in the colours that it has on what is under it"] += 1
        return colour, alpha

    def _shade(self, element: ElementTree.Element, style: Style, matrix: Matrix, view: View) -> Shade | None:
        """The colours that an element's fill runs from and to."""
        match = REFERENCE.match(style.get("fill", "").strip())
        if match is None or match[1] not in self.named:
            return None
        return self.gradients.shade(match[1], lambda: self.boxes.box(element, style, view, False), matrix, view)

    def _pattern(self, name: str) -> Paint | None:
        """The mean colour of what a pattern repeats."""
        element = self.named[name]
        for _ in range(DEEPEST):
            if len(element) or link_of(self.declared[element]) not in self.named:
                break
            element = self.named[link_of(self.declared[element])]
        if element in self.inside:
            return None
        self.inside.append(element)
        try:
            style = style_of(self.declared[element], Style())
            pieces = self._children(element, style, UNMOVED, PLAIN_VIEW)
            return mixed(((one.colour, one.alpha), one.region().area) for one in pieces)
        except CannotStitch:
            return None
        finally:
            self.inside.pop()

    # pictures

    def _pictured(self, element: ElementTree.Element, style: Style, matrix: Matrix, view: View) -> list[Piece]:
        """A picture that stands in the drawing, as the flat colours that it shows."""
        if style.said("visibility", "visible") != "visible":
            return []
        said = self.declared[element]
        x, y = (length(style.get(one, ""), style.font_size, view.of(one)) for one in ("x", "y"))
        wide, high = (
            None
            if style.said(one, "auto") in ("", "auto")
            else length(style.get(one, ""), style.font_size, view.of(along), 0.0)
            for one, along in (("width", "x"), ("height", "y"))
        )
        if (wide is not None and wide <= 0) or (high is not None and high <= 0):
            return []
        place = composed((1.0, 0.0, 0.0, 1.0, x, y), matrix)
        try:
            data = bytes_of(said.get("href", said.get(LINK, "")))
            self.pictures += 1
            if self.pictures > MOST_PICTURES:
                raise NotEmbedded(f"picture beyond the {MOST_PICTURES}th")
            pieces = traced_pieces(data, (wide, high), style.get("preserveAspectRatio", ""), place)
        except NotEmbedded as error:
            self.counts[f"{error} was left out: bring its file in by itself"] += 1
            return []
        self._count(one.path for one in pieces)
        self.counts["picture came in as its flat colours"] += 1
        cut = "slice" in style.get("preserveAspectRatio", "") and wide is not None and high is not None
        return clipped(pieces, _box(0.0, 0.0, wide or 0.0, high or 0.0, place)) if cut else pieces

    # templates and views

    def _used(self, element: ElementTree.Element, style: Style, matrix: Matrix, view: View) -> list[Piece]:
        target = self.named.get(link_of(self.declared[element]))
        if target is None or target in self.inside:
            return []
        x, y = (length(style.get(one, ""), style.font_size, view.of(one)) for one in ("x", "y"))
        matrix = composed((1.0, 0.0, 0.0, 1.0, x, y), matrix)
        if local(target) not in ("svg", "symbol"):
            return self._element(target, style, matrix, view)
        inner = style_of(self.declared[target], style)
        if inner.said("display") == "none":
            return []
        size = {name: style[name] for name in ("width", "height") if style.said(name) not in ("", "auto")}
        inner.update(size)
        matrix = self._moved(inner, matrix, view, target) if local(target) == "symbol" else matrix
        return self._dressed(target, inner, matrix, view, lambda: self._nested(target, inner, matrix, view))

    def _nested(self, element: ElementTree.Element, style: Style, matrix: Matrix, view: View) -> list[Piece]:
        """What stands in an ``svg`` or a ``symbol`` within another."""
        x, y = (length(style.get(one, ""), style.font_size, view.of(one)) for one in ("x", "y"))
        wide, high = (
            length(style.get(one, "") or "100%", style.font_size, view.of(along), view.of(along))
            for one, along in (("width", "x"), ("height", "y"))
        )
        if wide <= 0 or high <= 0:
            return []
        place = composed((1.0, 0.0, 0.0, 1.0, x, y), matrix)
        fit, inner = fitted(box_of(style.get("viewBox", "")), style.get("preserveAspectRatio", ""), View(wide, high))
        pieces = self._children(element, style, composed(fit, place), inner)
        if not pieces or style.said("overflow") in ("visible", "auto"):
            return pieces
        return clipped(pieces, _box(0.0, 0.0, wide, high, place))

    def _switched(self, element: ElementTree.Element, style: Style, matrix: Matrix, view: View) -> list[Piece]:
        """The first of the children that this program understands."""
        for child in element:
            said = self.declared.get(child, {})
            languages = [one.strip().lower() for one in said.get("systemLanguage", LANGUAGE).split(",")]
            known = local(child) in PAINTED
            if known and not said.get("requiredExtensions") and any(one.startswith(LANGUAGE) for one in languages):
                return self._element(child, style, matrix, view)
        return []

    def _markers(
        self, tag: str, path: str, style: Style, matrix: Matrix, view: View, paints: tuple[Paint | None, Paint | None]
    ) -> list[Piece]:
        """What stands at the nodes of a line."""
        asked = {
            which: REFERENCE.match(style.get(f"marker-{which}", "").strip()) for which in ("start", "mid", "end")
        }
        if tag not in ("path", "line", "polyline", "polygon") or not any(asked.values()):
            return []
        width = length(style.get("stroke-width", "1"), style.font_size, view.of(""), 1.0)
        scale = math.sqrt(math.prod(sides(matrix)))
        turned = math.degrees(math.atan2(matrix[1], matrix[0]))
        self.context.append(paints)
        drawn = {which: self._marker(match[1], scale, width) for which, match in asked.items() if match is not None}
        self.context.pop()
        found: list[Piece] = []
        for corner in corners_of(path):
            turn, pieces = drawn.get(corner.which, ("0", []))
            if turn in ("auto", "auto-start-reverse"):
                heading = corner.heading + 180 * (turn == "auto-start-reverse" and corner.which == "start")
            else:
                heading = turned + length(turn.removesuffix("deg"), 1.0, 0.0)
            cosine, sine = math.cos(math.radians(heading)), math.sin(math.radians(heading))
            place = (cosine, sine, -sine, cosine, *corner.at)
            found += [replace(one, path=transform_path(one.path, place)) for one in pieces]
            self._count(one.path for one in pieces)
        return found

    def _marker(self, name: str, scale: float, width: float) -> tuple[str, list[Piece]]:
        """How a marker says that it is turned, and what it paints, as large as it is seen and looking to the right.

        Its place lies at nought. It paints nothing where there is no such marker.
        """
        marker = self.named.get(name)
        if marker is None or local(marker) != "marker" or marker in self.inside:
            return "0", []
        style = style_of(self.declared[marker], Style())
        wide, high = (
            length(style.get(one, "3"), style.font_size, 0.0, 3.0) for one in ("markerWidth", "markerHeight")
        )
        if wide <= 0 or high <= 0:
            return "0", []
        fit, inner = fitted(box_of(style.get("viewBox", "")), style.get("preserveAspectRatio", ""), View(wide, high))
        x, y = (
            length(style.get(one, "0"), style.font_size, whole)
            for one, whole in (("refX", inner.width), ("refY", inner.height))
        )
        grown = scale * (1.0 if style.get("markerUnits") == "userSpaceOnUse" else width)
        place = (grown, 0.0, 0.0, grown, -grown * (fit[0] * x + fit[4]), -grown * (fit[3] * y + fit[5]))
        drawn = composed(fit, place)
        pieces = self._dressed(marker, style, drawn, inner, lambda: self._children(marker, style, drawn, inner))
        if pieces and style.said("overflow") not in ("visible", "auto"):
            pieces = clipped(pieces, _box(0.0, 0.0, wide, high, place))
        return style.said("orient", "0"), pieces

    # clips and masks

    def _through_clip(self, pieces: list[Piece], style: Style, matrix: Matrix, view: View) -> list[Piece]:
        said = style.get("clip-path", "none").strip()
        if said.lower() in ("none", ""):
            return pieces
        match = REFERENCE.match(said)
        if match is None:
            self.counts["shape with a clip drawn in CSS came in whole"] += 1
            return pieces
        element = self.named.get(match[1])
        if element is None or local(element) != "clipPath":
            return pieces
        if element in self.inside:
            return []
        region = polygons_of(
            shapely.unary_union([piece.region() for piece in self._clip(element, pieces, matrix, view)])
        )
        return clipped(pieces, region)

    def _clip(self, element: ElementTree.Element, pieces: list[Piece], matrix: Matrix, view: View) -> list[Piece]:
        """What is filled in a clip, each shape by its clip rule."""
        style = style_of(self.declared[element], Style())
        within = _in_box(matrix, bounds_of(pieces))
        matrix = self._moved(style, within if style.get("clipPathUnits") == "objectBoundingBox" else matrix, view)
        plain = Style({"fill": "black", "stroke": "none"})
        found: list[Piece] = []
        self.inside.append(element)
        cutting, self.cutting = self.cutting, True
        for child in element:
            said = self.declared.get(child, {})
            tag = local(child)
            if tag == "text":
                self.counts["clip by text was left out: turn it into paths first"] += 1
            if tag not in SHAPES and tag != "use":
                continue
            rule = style_of(said, style).said("clip-rule")
            for one in self._element(child, plain, matrix, view):
                if one.width is None and one.words is None:
                    found.append(replace(one, rule="evenodd" if rule == "evenodd" else "nonzero"))
        self.cutting = cutting
        self.inside.pop()
        return self._through_clip(found, style, matrix, view) if found else found

    def _through_mask(self, pieces: list[Piece], style: Style, matrix: Matrix, view: View) -> list[Piece]:
        match = REFERENCE.match(style.get("mask", "").strip())
        element = None if match is None else self.named.get(match[1])
        if element is None or local(element) != "mask":
            return pieces
        if element in self.inside:
            return []
        own = style_of(self.declared[element], Style())
        box = bounds_of(pieces)
        if box is None:
            return pieces
        within = _in_box(matrix, box)
        drawn = within if own.get("maskContentUnits") == "objectBoundingBox" else matrix
        shown = self._dressed(element, own, drawn, view, lambda: self._children(element, own, drawn, view))
        region = lit(shown, own.said("mask-type") == "alpha")
        by_box = own.get("maskUnits", "objectBoundingBox") == "objectBoundingBox"
        plain = ("-10%", "-10%", "120%", "120%")
        x, y, wide, high = (
            length(own.get(one, usual), own.font_size, 1.0 if by_box else view.of(along))
            for one, along, usual in zip(("x", "y", "width", "height"), "xyxy", plain, strict=True)
        )
        return clipped(pieces, region & _box(x, y, wide, high, within if by_box else matrix))

    # words

    def _words(self, element: ElementTree.Element, style: Style, matrix: Matrix, _view: View) -> list[Piece]:
        fill = self._paint("fill", style, "black")
        if fill is None or style.said("visibility", "visible") != "visible":
            return []
        try:
            chunks = chunks_in(element, style, self.declared, self._line_named(matrix))
            found, asked = lettering_of(style, chunks, matrix)
        except ValueError:
            self.counts["text was left out: its place is no plain number; turn it into paths first"] += 1
            return []
        family = asked.split(",")[0].strip().strip("'\"")
        for one in found:
            self.counts[f"text in “{family}” came in as lettering in “{one.font}”"] += 1
        return [Piece("", *fill, words=one) for one in found]

    def _line_named(self, matrix: Matrix) -> Callable[[str], str]:
        """What gives the path, in mm, that a text runs along."""

        def line(name: str) -> str:
            element = self.named.get(name)
            if element is None or local(element) not in SHAPES:
                return ""
            style = style_of(self.declared[element], Style())
            return self._path(data_of(local(element), style, PLAIN_VIEW), self._moved(style, matrix, PLAIN_VIEW))

        return line


def _in_box(matrix: Matrix, box: tuple[float, float, float, float] | None) -> Matrix:
    """The matrix by which 0 to 1 is the box of what is drawn; ``matrix`` where nothing is.

    Where the drawing is turned that box is taken of what is seen, not of what was drawn.
    """
    if box is None:
        return matrix
    left, top, right, bottom = box
    return (right - left, 0.0, 0.0, bottom - top, left, top)


def _box(x: float, y: float, wide: float, high: float, matrix: Matrix) -> shapely.Polygon:
    """A rectangle moved by a matrix."""
    a, b, c, d, e, f = matrix
    spots = ((x, y), (x + wide, y), (x + wide, y + high), (x, y + high))
    return shapely.Polygon([(a * u + c * v + e, b * u + d * v + f) for u, v in spots])
