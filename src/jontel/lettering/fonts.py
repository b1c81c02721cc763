"""Fonts: those that ship with Jontel and those of the system, by name; glyphs as outlines, shaped into words.

Shaping, kerning, ligatures, marks and right to left are HarfBuzz's (``uharfbuzz``), which also reads every outline
format of OpenType. It checks all offsets itself: a broken font has no glyphs rather than wrong ones.
"""

import json
import os
import sys
from dataclasses import dataclass
from functools import cache, cached_property
from pathlib import Path
from typing import NamedTuple

import uharfbuzz as hb

from jontel.data import resource
from jontel.design.errors import CannotRead
from jontel.design.lettering import Axes
from jontel.design.paths import number_text, transform_path
from jontel.design.shapes import Area
from jontel.design.stopping import go_on
from jontel.geometry.region import region_of

ENDINGS = (".ttf", ".otf", ".ttc", ".otc")
LARGEST = 80_000_000
"""A larger file, in bytes, is not taken for a font."""
MOST_AXES, MOST_VARIED = 12, 32
"""So many axes of a variable font are offered, and so many places on them are kept open."""
WEIGHT, WEIGHTS = "wght", 16
"""The tag of the weight (OpenType 1.9, registered axes), and in how many steps a font is made heavier by it."""
CAPITALS = "HEXI"
"""The height of the capitals is that of the first of these that a font has."""
STROKES = "aenotHER"
"""By these signs it is judged how thick the strokes of a font are."""
THIN_PART = 0.12
"""So much of a letter may be thinner: tips, joints and corners are in any."""
THIN_TOLERANCE = 0.004
"""Their curves are followed so nearly, in heights of the capitals."""
CAPITALS_ELSE = 0.7
"""Of its em, where it has none of them."""


class Glyph(NamedTuple):
    """One glyph of a line: its number, the sign that it came from, and where it stands, in units of the font.

    ``at`` is where its origin lies from the line's start, (x, y) with y upwards; ``advance`` leads to the next.
    """

    number: int
    cluster: int
    at: tuple[float, float]
    advance: float


@dataclass(frozen=True)
class FontFile:
    """Where a font is: the bytes of a shipped one by its name, or a file of the system; ``face`` within it."""

    name: str
    character: str
    path: Path | None
    shipped: str = ""
    face: int = 0


@dataclass(frozen=True)
class Axis:
    """What varies in a variable font: its tag, its name, and its least, usual and greatest value."""

    tag: str
    title: str
    low: float
    usual: float
    high: float


class Font:
    """One font, opened, at places of its axes where it is a variable one. Raises ``CannotRead`` without outlines."""

    def __init__(self, data: bytes, name: str, face: int = 0, at: Axes = ()) -> None:
        self.name = name
        self.at = at
        self._data, self._number = data, face
        self._varied: dict[Axes, Font] = {}
        self._face = hb.Face(data, face)
        if self._face.glyph_count == 0:
            raise CannotRead(f"“{name}” is damaged or is no font; choose another font.")
        self._font = hb.Font(self._face)
        self.axes = _axes_of(self._face)
        if at:
            held = {axis.tag: axis for axis in self.axes}
            self._font.set_variations(
                {tag: min(max(value, held[tag].low), held[tag].high) for tag, value in at if tag in held}
            )
        self._outlines: dict[int, str] = {}
        self._draw = _pen()
        self.em = float(self._face.upem)
        signs = [self._font.get_nominal_glyph(ord(sign)) for sign in CAPITALS]
        drawn = [number for number in signs if number and self.outline(number)]
        some = drawn or [number for number in range(1, min(self._face.glyph_count, 200)) if self.outline(number)]
        if not some:
            raise CannotRead(f"“{name}” has no outlines, only pictures of its letters; choose another font.")
        box = self._font.get_glyph_extents(drawn[0]) if drawn else None
        self.capitals = float(box.y_bearing) if box and box.y_bearing > 0 else CAPITALS_ELSE * self.em

    def varied(self, at: Axes) -> "Font":
        """The font at other places of its axes; tags that it has no axis for are left out."""
        tags = {axis.tag for axis in self.axes}
        at = tuple(sorted((tag, value) for tag, value in at if tag in tags))
        if at == self.at:
            return self
        if at not in self._varied:
            if len(self._varied) >= MOST_VARIED:
                self._varied.pop(next(iter(self._varied)))
            self._varied[at] = Font(self._data, self.name, self._number, at)
        return self._varied[at]

    def heavy_enough(self, at: Axes, thin: float) -> "Font":
        """The font at places of its axes, so heavy that its thin strokes are ``thin`` heights of the capitals.

        Its own weight axis makes it so, as far as that goes, in ``WEIGHTS`` steps; where it has none, or ``at`` says
        the weight, it stays as it is.
        """
        usual = self.varied(at)
        weight = next((axis for axis in self.axes if axis.tag == WEIGHT), None)
        if weight is None or WEIGHT in dict(at) or usual.thin >= thin or weight.usual >= weight.high:
            return usual
        step = (weight.high - weight.usual) / WEIGHTS

        def heavier(by: int) -> Font:
            return self.varied((*at, (WEIGHT, weight.usual + by * step)))

        low, high = 0, WEIGHTS
        while high - low > 1:
            middle = (low + high) // 2
            low, high = (low, middle) if heavier(middle).thin >= thin else (middle, high)
        return heavier(high)

    @cached_property
    def thin(self) -> float:
        """How thick the thin strokes of its letters are, in heights of the capitals.

        Found by opening (J. Serra, "Image Analysis and Mathematical Morphology", 1982): a circle that is rolled
        inside the letters reaches all but ``THIN_PART`` of them as long as it is no wider than their thin strokes.
        """
        scale = 1 / self.capitals
        numbers = [self._font.get_nominal_glyph(ord(sign)) for sign in STROKES]
        outlines = [
            transform_path(self.outline(n), (scale, 0, 0, scale, 0, 0)) for n in numbers if n and self.outline(n)
        ]
        regions = [region_of(Area(path), THIN_TOLERANCE) for path in outlines]
        whole = sum(region.area for region in regions)
        if whole <= 0:
            return 1.0
        low, high = 0.0, 0.5
        while high - low > 0.004:
            half = (low + high) / 4
            left = sum(region.buffer(-half).buffer(half * 1.02).intersection(region).area for region in regions)
            low, high = ((low + high) / 2, high) if left >= (1 - THIN_PART) * whole else (low, (low + high) / 2)
        return low

    def shaped(self, line: str) -> list[Glyph]:
        """The glyphs of one line, from left to right."""
        buffer = hb.Buffer()
        buffer.add_str(line)
        buffer.guess_segment_properties()
        hb.shape(self._font, buffer)
        found: list[Glyph] = []
        x = 0.0
        for info, place in zip(buffer.glyph_infos or [], buffer.glyph_positions or [], strict=True):
            found.append(
                Glyph(info.codepoint, info.cluster, (x + place.x_offset, float(place.y_offset)), place.x_advance)
            )
            x += place.x_advance
        return found

    def outline(self, number: int) -> str:
        """The outline of a glyph as path data, in units of the font, y upwards."""
        if number not in self._outlines:
            commands: list[str] = []
            self._font.draw_glyph(number, self._draw, commands)
            self._outlines[number] = " ".join(commands)
        return self._outlines[number]


def _axes_of(face: hb.Face) -> tuple[Axis, ...]:
    """The axes of a variable font that are meant to be seen; none for another, or where they make no sense."""
    found: list[Axis] = []
    for info in face.axis_infos if face.has_var_data else ():
        name = face.get_name(info.name_id) if info.name_id else ""
        shown = not (info.flags & hb.OTVarAxisFlags.HIDDEN)
        if shown and info.min_value < info.max_value and abs(info.min_value) + abs(info.max_value) < 1e6:
            found.append(Axis(info.tag, name or info.tag, info.min_value, info.default_value, info.max_value))
    return tuple(found[:MOST_AXES])


def _pen() -> hb.DrawFuncs:
    """What writes the commands of an outline into a list."""

    def numbers(*values: float) -> str:
        return " ".join(number_text(value) for value in values)

    made = hb.DrawFuncs()
    made.set_move_to_func(lambda x, y, out: out.append("M" + numbers(x, y)))
    made.set_line_to_func(lambda x, y, out: out.append("L" + numbers(x, y)))
    made.set_quadratic_to_func(lambda a, b, x, y, out: out.append("Q" + numbers(a, b, x, y)))
    made.set_cubic_to_func(lambda a, b, c, d, x, y, out: out.append("C" + numbers(a, b, c, d, x, y)))
    made.set_close_path_func(lambda out: out.append("Z"))
    return made


def _named(data: bytes | hb.Blob, face: int = 0) -> str:
    """What a font calls itself, family and style; empty for none."""
    found = hb.Face(data, face)
    if found.glyph_count == 0:
        return ""
    names = hb.OTNameIdPredefined
    family = found.get_name(names.TYPOGRAPHIC_FAMILY) or found.get_name(names.FONT_FAMILY) or ""
    style = found.get_name(names.TYPOGRAPHIC_SUBFAMILY) or found.get_name(names.FONT_SUBFAMILY) or ""
    style = "" if style in ("Regular", "Roman", "Book") else style
    return " ".join(f"{family} {style}".split())[:200]


@cache
def shipped_fonts() -> tuple[FontFile, ...]:
    """The fonts that ship with Jontel, the plainest first."""
    listed = json.loads(resource("fonts/fonts.json"))
    return tuple(
        FontFile(_named(resource(f"fonts/{one['file']}")), one["character"], None, one["file"]) for one in listed
    )


def system_folders() -> tuple[Path, ...]:
    """The folders in which a system keeps its fonts."""
    home = Path.home()
    data = os.environ.get("XDG_DATA_HOME", "") or str(home / ".local/share")
    shared = os.environ.get("XDG_DATA_DIRS", "") or f"{sys.prefix}/share:/usr/local/share:/usr/share"
    return (*(Path(one) / "fonts" for one in (data, *shared.split(":")) if one), home / ".fonts")


@cache
def system_fonts() -> tuple[FontFile, ...]:
    """The fonts of the system by name, without those that ship; looked for once. What is no font is left out."""
    known = {one.name for one in shipped_fonts()}
    found: dict[str, FontFile] = {}
    for folder in system_folders():
        for path in sorted(folder.rglob("*")) if folder.is_dir() else ():
            go_on()
            if path.suffix.lower() not in ENDINGS or not path.is_file():
                continue
            try:
                blob = hb.Blob.from_file_path(path) if path.stat().st_size <= LARGEST else None
            except (OSError, hb.HarfBuzzError):
                continue
            name = _named(blob) if blob is not None else ""
            if name and name not in known:
                found.setdefault(name, FontFile(name, "of this machine", path))
    return tuple(sorted(found.values(), key=lambda one: one.name.lower()))


@cache
def font_in(file: FontFile) -> Font:
    """The font of a file, opened once. Raises ``CannotRead``."""
    try:
        data = resource(f"fonts/{file.shipped}") if file.path is None else file.path.read_bytes()
    except OSError as error:
        raise CannotRead(f"The font “{file.name}” cannot be read; choose another font.") from error
    return Font(data, file.name, file.face)


def font_of_file(path: Path) -> Font:
    """The font in a file. Raises ``CannotRead`` for one that is not there, too large or no font."""
    try:
        if path.stat().st_size > LARGEST:
            raise CannotRead(f"“{path.name}” is larger than any font; choose another file.")
        name = _named(hb.Blob.from_file_path(path))
    except (OSError, hb.HarfBuzzError) as error:
        raise CannotRead(f"“{path}” cannot be read; choose another font.") from error
    return font_in(FontFile(name or path.stem, "of a file", path))


def open_font(name: str) -> Font:
    """The font of this name, any case. Raises ``CannotRead`` for one that is not there or has no outlines."""
    for fonts in (shipped_fonts, system_fonts):
        for file in fonts():
            if file.name.lower() == name.strip().lower():
                return font_in(file)
    raise CannotRead(
        f"The font “{name}” is not on this machine; its letters stay as they are until another font is chosen."
    )
