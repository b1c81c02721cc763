"""PDF in: what the first page paints, as an SVG, which is read, shown and kept from there on.

The page is taken apart by PDFium. Source: ISO 32000-1, "Document management, Portable document format".
"""

import base64
import ctypes
import io
import threading
from collections.abc import Callable
from functools import partial
from html import escape

import numpy as np
import pypdfium2 as pdfium
import pypdfium2.raw as raw

from jontel.design.errors import CannotRead
from jontel.design.paths import Matrix
from jontel.design.stopping import go_on

LARGEST = 100_000_000
MOST_OBJECTS = 50_000
MOST_SEGMENTS = 400_000
DEEPEST = 12
"""Forms within forms are followed so deep."""
CAPS = ("butt", "round", "square")
JOINS = ("miter", "round", "bevel")
MOST_DASHES = 16
UNTOLD = ((255, 255, 255), (191, 191, 191))
"""Colours that PDFium tells of what is filled with a shading or a pattern, and of what is white or grey."""
ALIKE = 3
"""Colours that differ by less than this, of 255, are one."""
MOST_LOOKED_AT, LOOKED_AT = 400, 300
"""Of so many things of such a colour the true one is looked for, in the page painted so many pixels wide or high."""
_ONE_AT_A_TIME = threading.Lock()
"""PDFium is not made for several threads."""


def svg_of_pdf(data: bytes, name: str) -> bytes:
    """The first page of a PDF as an SVG of the same size. Raises ``CannotRead``."""
    if len(data) > LARGEST:
        raise CannotRead(f"{name} is over {LARGEST // 1_000_000} MB; save the page that you need alone.")
    with _ONE_AT_A_TIME:
        try:
            document = pdfium.PdfDocument(data)
        except pdfium.PdfiumError as error:
            if "password" in str(error).lower():
                raise CannotRead(f"{name} is locked by a password; save it without one and try again.") from error
            raise CannotRead(f"{name} is damaged or no PDF; save it again from the drawing program.") from error
        try:
            if not len(document):
                raise CannotRead(f"{name} has no page; choose another file.")
            return _Page(document, name).svg().encode()
        except pdfium.PdfiumError as error:
            raise CannotRead(f"{name} has a first page that cannot be read; save it again.") from error
        finally:
            document.close()


class _Page:
    """Writes a page down as SVG, object by object, from back to front."""

    def __init__(self, document: pdfium.PdfDocument, name: str) -> None:
        self.name, self.document = name, document
        self.page = document[0]
        self.clips: dict[str, str] = {}
        self.means: dict[str, str] = {}
        self.objects = self.segments = self.looked_at = 0

    def svg(self) -> str:
        """The whole page."""
        wide, high = self.page.get_size()
        if not (0.1 < wide < 6000 and 0.1 < high < 6000):
            raise CannotRead(f"{self.name} has a page of no usable size; save it at its true size, up to 2 m.")
        count = raw.FPDFPage_CountObjects(self.page)
        body = self._painted(lambda k: raw.FPDFPage_GetObject(self.page, k), count, 0)
        head = (
            '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" '
            f'width="{wide:.4f}pt" height="{high:.4f}pt" viewBox="0 0 {wide:.4f} {high:.4f}">'
        )
        defs = "".join(f'<clipPath id="{key}">{path}</clipPath>' for path, key in self.clips.items())
        defs += "".join(f'<linearGradient id="{key}">{stop}</linearGradient>' for stop, key in self.means.items())
        matrix = " ".join(f"{v:.6f}" for v in self._upright(wide, high))
        return f'{head}<defs>{defs}</defs><g transform="matrix({matrix})">{body}</g></svg>'

    def _upright(self, wide: float, high: float) -> Matrix:
        """From the page's own places, y up and perhaps turned, to those of a picture."""
        left, bottom, right, top = self.page.get_cropbox()
        match self.page.get_rotation():
            case 90:
                return (0.0, 1.0, 1.0, 0.0, -bottom, -left)
            case 180:
                return (-1.0, 0.0, 0.0, 1.0, right, -bottom)
            case 270:
                return (0.0, -1.0, -1.0, 0.0, top, right)
        return (1.0, 0.0, 0.0, -1.0, -left, top)

    def _painted(self, at: Callable[[int], object], count: int, depth: int) -> str:
        parts: list[str] = []
        for number in range(count):
            go_on()
            self.objects += 1
            if self.objects > MOST_OBJECTS:
                raise CannotRead(f"{self.name} draws over {MOST_OBJECTS:,} things; simplify the page and try again.")
            one = at(number)
            match raw.FPDFPageObj_GetType(one):
                case raw.FPDF_PAGEOBJ_PATH:
                    drawn = self._path(one)
                case raw.FPDF_PAGEOBJ_TEXT:
                    drawn = self._text(one)
                case raw.FPDF_PAGEOBJ_IMAGE:
                    drawn = self._image(one)
                case raw.FPDF_PAGEOBJ_FORM if depth < DEEPEST:
                    inside = raw.FPDFFormObj_CountObjects(one)
                    drawn = self._painted(partial(raw.FPDFFormObj_GetObject, one), inside, depth + 1)
                    drawn = f"<g{_moved(one)}>{drawn}</g>"
                case raw.FPDF_PAGEOBJ_SHADING:
                    drawn = self._shading(one)
                case _:
                    drawn = ""
            parts.append(self._clipped(one, drawn) if drawn else "")
        return "".join(parts)

    def _path(self, one: object) -> str:
        mode, stroked = ctypes.c_int(), ctypes.c_int()
        raw.FPDFPath_GetDrawMode(one, mode, stroked)
        if not mode.value and not stroked.value:
            return ""
        data = self._data(lambda k: raw.FPDFPath_GetPathSegment(one, k), raw.FPDFPath_CountSegments(one))
        fill = self._fill(one) if mode.value else ' fill="none"'
        rule = ' fill-rule="evenodd"' if mode.value == raw.FPDF_FILLMODE_ALTERNATE else ""
        return f'<path d="{data}"{fill}{rule}{_stroke(one) if stroked.value else ""}{_moved(one)}/>'

    def _fill(self, one: object) -> str:
        """What a path is filled with; a shading or a pattern is its mean."""
        told = _rgba(one, raw.FPDFPageObj_GetFillColor)
        seen = self._seen(one) if told is not None and told[0] in UNTOLD else None
        if told is None or seen is None or max(abs(a - b) for a, b in zip(seen, told[0], strict=True)) < ALIKE:
            return _colour("fill", one, raw.FPDFPageObj_GetFillColor)
        opacity = "" if told[1] == 255 else f' fill-opacity="{told[1] / 255:.3f}"'
        return f' fill="url(#{self._mean(seen)})"{opacity}'

    def _shading(self, one: object) -> str:
        """Colours that run into each other, within what clips them, as their mean."""
        seen = self._seen(one)
        sides = [ctypes.c_float() for _ in range(4)]
        if seen is None or not raw.FPDFPageObj_GetBounds(one, *sides):
            return ""
        left, bottom, right, top = (side.value for side in sides)
        place = f'x="{left:.7g}" y="{bottom:.7g}" width="{right - left:.7g}" height="{top - bottom:.7g}"'
        return f'<rect {place} fill="url(#{self._mean(seen)})"/>'

    def _mean(self, seen: tuple[int, int, int]) -> str:
        """The name of a gradient that is one colour throughout: so that it is told that this is a mean."""
        red, green, blue = seen
        stop = f'<stop stop-color="#{red:02x}{green:02x}{blue:02x}"/>'
        return self.means.setdefault(stop, f"mean{len(self.means)}")

    def _seen(self, one: object) -> tuple[int, int, int] | None:
        """The mean colour of an object when the page is painted without all others; ``None`` where it is not seen."""
        go_on()
        self.looked_at += 1
        if self.looked_at > MOST_LOOKED_AT:
            return None
        if self.looked_at == 1:
            self._put_out(lambda k: raw.FPDFPage_GetObject(self.page, k), raw.FPDFPage_CountObjects(self.page), 0)
        raw.FPDFPageObj_SetIsActive(one, True)
        scale = LOOKED_AT / max(self.page.get_size())
        bitmap = self.page.render(scale=scale, fill_color=(0, 0, 0, 0), maybe_alpha=True, rev_byteorder=True)
        pixels = np.array(bitmap.to_pil().convert("RGBA"), dtype=np.float64).reshape(-1, 4)
        bitmap.close()
        raw.FPDFPageObj_SetIsActive(one, False)
        alpha = pixels[:, 3]
        if not alpha.sum():
            return None
        red, green, blue = (pixels[:, :3] * alpha[:, None]).sum(axis=0) / alpha.sum()
        return round(red), round(green), round(blue)

    def _put_out(self, at: Callable[[int], object], count: int, depth: int) -> None:
        """Let nothing be painted of all that there is, but for the forms that hold it."""
        for number in range(count):
            one = at(number)
            if raw.FPDFPageObj_GetType(one) != raw.FPDF_PAGEOBJ_FORM:
                raw.FPDFPageObj_SetIsActive(one, False)
            elif depth < DEEPEST:
                inside = raw.FPDFFormObj_CountObjects(one)
                self._put_out(partial(raw.FPDFFormObj_GetObject, one), inside, depth + 1)

    def _data(self, at: Callable[[int], object], count: int) -> str:
        self.segments += max(count, 0)
        if self.segments > MOST_SEGMENTS:
            raise CannotRead(f"{self.name} has over {MOST_SEGMENTS:,} nodes; simplify the page and try again.")
        parts: list[str] = []
        curve: list[str] = []
        x, y = ctypes.c_float(), ctypes.c_float()
        for number in range(count):
            segment = at(number)
            raw.FPDFPathSegment_GetPoint(segment, x, y)
            place = f"{x.value:.7g} {y.value:.7g}"
            match raw.FPDFPathSegment_GetType(segment):
                case raw.FPDF_SEGMENT_MOVETO:
                    parts.append("M" + place)
                case raw.FPDF_SEGMENT_LINETO:
                    parts.append("L" + place)
                case raw.FPDF_SEGMENT_BEZIERTO:
                    curve.append(place)
                    if len(curve) == 3:
                        parts.append("C" + " ".join(curve))
                        curve = []
            if not curve and raw.FPDFPathSegment_GetClose(segment):
                parts.append("Z")
        return " ".join(parts)

    def _clipped(self, one: object, drawn: str) -> str:
        """What is drawn within the paths that clip it."""
        clip = raw.FPDFPageObj_GetClipPath(one)
        count = raw.FPDFClipPath_CountPaths(clip) if clip else 0
        for number in range(max(count, 0)):
            segments = raw.FPDFClipPath_CountPathSegments(clip, number)
            data = self._data(partial(raw.FPDFClipPath_GetPathSegment, clip, number), segments)
            if data:
                key = self.clips.setdefault(f'<path d="{data}"/>', f"clip{len(self.clips)}")
                drawn = f'<g clip-path="url(#{key})">{drawn}</g>'
        return drawn

    def _text(self, one: object) -> str:
        text = self.page.get_textpage()
        try:
            long = raw.FPDFTextObj_GetText(one, text, None, 0)
            held = ctypes.create_string_buffer(max(long, 2))
            raw.FPDFTextObj_GetText(one, text, ctypes.cast(held, ctypes.POINTER(ctypes.c_ushort)), long)
        finally:
            text.close()
        words = held.raw[:long].decode("utf-16-le", "ignore").rstrip("\0")
        words = "".join(sign for sign in words if sign.isprintable())
        size = ctypes.c_float()
        raw.FPDFTextObj_GetFontSize(one, size)
        if not words.strip() or not size.value:
            return ""
        font = raw.FPDFTextObj_GetFont(one)
        called = _font_name(font)
        bold = raw.FPDFFont_GetWeight(font) >= 600 or "bold" in called.lower()
        slanted = any(word in called.lower() for word in ("italic", "oblique"))
        family = called.split("+")[-1].split("-")[0].split(",")[0] or "sans-serif"
        style = (" font-weight='bold'" if bold else "") + (" font-style='italic'" if slanted else "")
        fill = _colour("fill", one, raw.FPDFPageObj_GetFillColor)
        return (
            f'<g{_moved(one)}><text transform="scale(1 -1)" font-size="{size.value:.4f}" '
            f'font-family="{escape(family)}"{style}{fill}>{escape(words)}</text></g>'
        )

    def _image(self, one: object) -> str:
        """An embedded picture, which lies on the unit square with its head up."""
        bitmap = raw.FPDFImageObj_GetRenderedBitmap(self.document, self.page, one)
        if not bitmap:
            return ""
        held = io.BytesIO()
        found = pdfium.PdfBitmap.from_raw(bitmap)
        found.to_pil().convert("RGBA").save(held, "PNG")
        found.close()
        code = base64.b64encode(held.getvalue()).decode()
        place = 'width="1" height="1" preserveAspectRatio="none" transform="matrix(1 0 0 -1 0 1)"'
        return f'<g{_moved(one)}><image {place} xlink:href="data:image/png;base64,{code}"/></g>'


def _font_name(font: object) -> str:
    long = raw.FPDFFont_GetBaseFontName(font, None, 0)
    held = ctypes.create_string_buffer(max(long, 1))
    raw.FPDFFont_GetBaseFontName(font, held, long)
    return held.value.decode("utf-8", "ignore")


def _moved(one: object) -> str:
    """The matrix of an object as an attribute."""
    found = raw.FS_MATRIX()
    if not raw.FPDFPageObj_GetMatrix(one, found):
        return ""
    values = tuple(float(getattr(found, key)) for key in "abcdef")
    return "" if values == (1, 0, 0, 1, 0, 0) else f' transform="matrix({" ".join(f"{v:.7g}" for v in values)})"'


def _rgba(one: object, ask: Callable[..., int]) -> tuple[tuple[int, int, int], int] | None:
    parts = [ctypes.c_uint() for _ in range(4)]
    if not ask(one, *parts):
        return None
    red, green, blue, alpha = (part.value for part in parts)
    return (red, green, blue), alpha


def _colour(what: str, one: object, ask: Callable[..., int]) -> str:
    told = _rgba(one, ask)
    if told is None:
        return f' {what}="black"'
    (red, green, blue), alpha = told
    seen = "" if alpha == 255 else f' {what}-opacity="{alpha / 255:.3f}"'
    return f' {what}="#{red:02x}{green:02x}{blue:02x}"{seen}'


def _stroke(one: object) -> str:
    """How a path is stroked; the thinnest line that there is is a fifth of a mm."""
    width = ctypes.c_float()
    raw.FPDFPageObj_GetStrokeWidth(one, width)
    cap, join = raw.FPDFPageObj_GetLineCap(one), raw.FPDFPageObj_GetLineJoin(one)
    style = f' stroke-linecap="{CAPS[cap]}"' if 0 <= cap < 3 else ""
    style += f' stroke-linejoin="{JOINS[join]}"' if 0 <= join < 3 else ""
    count = raw.FPDFPageObj_GetDashCount(one)
    if 0 < count <= MOST_DASHES:
        dashes = (ctypes.c_float * count)()
        phase = ctypes.c_float()
        raw.FPDFPageObj_GetDashArray(one, dashes, count)
        raw.FPDFPageObj_GetDashPhase(one, phase)
        said = " ".join(f"{v:.4f}" for v in dashes)
        style += f' stroke-dasharray="{said}" stroke-dashoffset="{phase.value:.4f}"'
    return f'{_colour("stroke", one, raw.FPDFPageObj_GetStrokeColor)} stroke-width="{width.value or 0.57:.4f}"{style}'
