"""Icons: our own small drawings of the stitches, and a shipped open icon font for the ordinary ones."""

import importlib.util
import json
from functools import cache, lru_cache
from pathlib import Path

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QIcon, QPainter, QPen, QPixmap

from jontel.app.drawing import path_data
from jontel.design.kinds import COVERS, UNDERLAYS, kind_name

# Each is drawn on a field of 20 x 20: the stitch itself, as it lies on the cloth.
STITCHES = {
    "tool direction": "M3 3 L17 5 M3 10 L17 10 M3 17 L17 15 M3 2 L3 4 M17 4 L17 6 M3 9 L3 11 M17 9 L17 11 M3 16 L3 18 M17 14 L17 16",
    "tool guide": "M2 7 C6 0 14 12 18 5 M2 11.5 C6 4.5 14 16.5 18 9.5 M2 16 C6 9 14 21 18 14",
    "tool bend": "M3 16 C5 4 14 16 17 4 M1.8 14.8 L4.2 14.8 L4.2 17.2 L1.8 17.2 Z M15.8 2.8 L18.2 2.8 L18.2 5.2 L15.8 5.2 Z M9.9 8.3 C11.9 8.3 11.9 11.7 9.9 11.7 C7.9 11.7 7.9 8.3 9.9 8.3 Z",
    "tool freehand": "M2.5 13 C4 6 7 5 7.5 9 C8 13 5 15.5 6 17 C8 19 10 7 13 7 C15 7 12.5 13 15 13.5 C16.5 13.8 17.5 12 18 10.5",
    "tool figure": "M3 3.5 L10.5 3.5 L10.5 11 L3 11 Z M13.4 8 C18.6 8 18.6 17 13.4 17 C8.2 17 8.2 8 13.4 8 Z",
    "tool block": "M3 5 L17 5 M3 15 L17 15 M4.5 5 L4.5 15 M7 5 L7 15 M9.5 5 L9.5 15 M12 5 L12 15 M14.5 5 L14.5 15",
    "tool scale": "M2.5 13 L17.5 13 M2.5 10.5 L2.5 15.5 M17.5 10.5 L17.5 15.5 M6 7.5 L8 4 L10 7.5 M12 7.5 L12 4 L14 4 M5 13 L7 11.2 M5 13 L7 14.8 M15 13 L13 11.2 M15 13 L13 14.8",
    "tool cut": "M3 4 L9 4 M3 8 L10.5 8 M3 12 L12 12 M3 16 L13.5 16 M14 4 L17 4 M15.5 8 L17 8 M9.5 1.5 L16.5 18.5",
    "tool needle": "M3 16.5 L12 7.5 M12 7.5 C14 3.5 17 3 17 3 C17 3 16.5 6 12.5 8 M14.6 5.4 L15.2 4.8 M2 18 L3.4 16.6",
    "edges": "M7 3 L7 17 M13 3 L13 17 M5 10 L1.5 10 M3.5 8 L1.5 10 L3.5 12 M15 10 L18.5 10 M16.5 8 L18.5 10 L16.5 12",
    "ends": "M2 10 L13 10 M10 6.5 L13.5 10 L10 13.5 M17 6 L17 14",
    "tool line": "M3 16 C6 4 12 18 17 5",
    "tool column": "M4 17 C4 10 7 8 7 3 M15 17 C15 11 13 8 13 3 M4.4 13 L14.8 13 M6 8.5 L13.6 8.5",
    "tool brush": "M10.5 11.5 L17 3.5 M9 10 L12 13 M9 10 C5.5 10 6 14.5 2.5 16.5 C6 18.5 12 17.5 12 13",
    "tool lasso": "M5 13.5 C0 10 2.5 3 10 3 C17.5 3 19.5 9 14.5 12 C11 14 7.5 13.5 5 13.5 C3 14.5 3.5 17 6.5 17.5",
    "tool regions": "M3 13 L3 4 L10 2.5 L16 5 M3 13 L8 14.5 M3 9 L13 6 M10.5 8.5 L17.5 12.5 L14 13.2 L12.6 17 Z",
    "tool rectangle": "M3.5 5 L16.5 5 L16.5 15 L3.5 15 Z",
    "tool ellipse": "M3 10 C3 2.5 17 2.5 17 10 C17 17.5 3 17.5 3 10 Z",
    "tool letter": "M3 17 L9 3 L15 17 M5.2 12 L12.8 12 M18 3 L18 17 M16.6 3 L19.4 3 M16.6 17 L19.4 17",
    "loop": "M5 6 C1 6 1 14 5 14 L14.5 14 M15 6 L6 6 M15 6 C19 6 19 14 15 14 M9 3.2 L6 6 L9 8.8 M12 11.2 L15 14 L12 16.8",
    "tool shape": "M4 15 L6 5 L13 3.5 L17 9 L12 16.5 Z",
    **{kind.name: kind.traits.icon for kind in COVERS},
    **{kind_name(kind()): traits.icon for kind, traits in UNDERLAYS.items()},
}
FONT = {
    "select": "cursor",
    "measure": "ruler",
    "pan": "hand",
    "zoom": "magnifying-glass-plus",
    "align left": "align-left",
    "align middle": "align-center-horizontal",
    "align right": "align-right",
    "align top": "align-top",
    "align centre": "align-center-vertical",
    "align bottom": "align-bottom",
    "undo": "arrow-u-up-left",
    "redo": "arrow-u-up-right",
    "play": "play-fill",
    "pause": "pause-fill",
    "to start": "skip-back",
    "to end": "skip-forward",
    "back": "caret-left",
    "on": "caret-right",
    "pin": "push-pin-fill",
    "close": "x",
    "plus": "plus",
    "first": "arrow-line-up",
    "earlier": "arrow-up",
    "later": "arrow-down",
    "last": "arrow-line-down",
    "up": "caret-up",
    "down": "caret-down",
    "right": "caret-right",
    "remove": "trash",
    "steady": "crosshair",
}


def icon(name: str, colour: str, size: int = 20) -> QIcon:
    """The icon called ``name`` in one colour."""
    if name in STITCHES:
        return QIcon(stitch_pixmap(name, colour, size))
    return QIcon(glyph_pixmap(FONT[name], colour, size))


@cache
def _icon_font() -> tuple[str, dict[str, str]]:
    """The family of the open icon font that is shipped in a library, and its characters by name.

    The library itself is not loaded: for these two dozen pictures it would take longer than the whole window.
    """
    found = importlib.util.find_spec("qtawesome")
    assert found is not None and found.origin is not None
    folder = Path(found.origin).parent / "fonts"
    (file,), (names,) = folder.glob("phosphor-*.ttf"), folder.glob("phosphor-charmap-*.json")
    number = QFontDatabase.addApplicationFont(str(file))
    return QFontDatabase.applicationFontFamilies(number)[0], json.loads(names.read_text())


@lru_cache(maxsize=256)
def glyph_pixmap(name: str, colour: str, size: int = 20) -> QPixmap:
    """One picture of the icon font, drawn at twice its size for sharp screens."""
    family, characters = _icon_font()
    made = QPixmap(size * 2, size * 2)
    made.setDevicePixelRatio(2)
    made.fill(Qt.GlobalColor.transparent)
    painter = QPainter(made)
    painter.setRenderHint(QPainter.RenderHint.TextAntialiasing)
    font = QFont(family)
    font.setPixelSize(round(size * 0.9))
    painter.setFont(font)
    painter.setPen(QColor(colour))
    painter.drawText(QRectF(0, 0, size, size), Qt.AlignmentFlag.AlignCenter, chr(int(characters[name], 16)))
    painter.end()
    return made


@lru_cache(maxsize=256)
def stitch_pixmap(name: str, colour: str, size: int = 20) -> QPixmap:
    """One of our own icons, drawn at twice its size for sharp screens."""
    made = QPixmap(size * 2, size * 2)
    made.setDevicePixelRatio(2)
    made.fill(Qt.GlobalColor.transparent)
    painter = QPainter(made)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.scale(size / 20, size / 20)
    stroke = QPen(QColor(colour), 1.5)
    stroke.setCapStyle(Qt.PenCapStyle.RoundCap)
    stroke.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    painter.setPen(stroke)
    painter.drawPath(path_data(STITCHES[name]))
    painter.end()
    return made


@lru_cache(maxsize=256)
def swatch(colour: str, size: int = 16) -> QIcon:
    """A thread's colour as a small rounded square, the same whether it is selected, enabled or not."""
    made = QPixmap(size * 2, size * 2)
    made.setDevicePixelRatio(2)
    made.fill(Qt.GlobalColor.transparent)
    painter = QPainter(made)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(QColor(0, 0, 0, 60), 0.8))
    painter.setBrush(QColor(colour))
    painter.drawRoundedRect(QRectF(1, 1, size - 2, size - 2), 3, 3)
    painter.end()
    found = QIcon()
    for mode in QIcon.Mode:
        found.addPixmap(made, mode)
    return found


@lru_cache(maxsize=4)
def application_mark(size: int = 64) -> QPixmap:
    """Jontel's own mark: a row of stitches rising through a round of verdigris cloth."""
    made = QPixmap(size, size)
    made.fill(Qt.GlobalColor.transparent)
    painter = QPainter(made)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.scale(size / 20, size / 20)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor("#1c7668"))
    painter.drawEllipse(QRectF(1, 1, 18, 18))
    stroke = QPen(QColor("#f8f5ee"), 1.7)
    stroke.setCapStyle(Qt.PenCapStyle.RoundCap)
    painter.setPen(stroke)
    painter.drawPath(path_data("M5 13.2 L7.6 11.2 M9 10 L11.4 8.4 M12.6 7.4 L15 6.2"))
    stroke.setWidthF(1.0)
    painter.setPen(stroke)
    painter.drawPath(path_data("M5.5 15.2 L14.5 15.2"))
    painter.end()
    return made
