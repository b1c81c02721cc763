"""Artwork as pixels for the screen, made once."""

from functools import lru_cache

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPainterPath, QPen, QPixmap

from jontel.app.drawing import path_data
from jontel.artwork.svg import read_svg
from jontel.design import Artwork, JontelError

PIXELS = 1400


def artwork_pixmap(one: Artwork) -> QPixmap:
    """The picture; an empty one when the bytes cannot be read any more."""
    return _pixmap(one.data, one.media == "svg", one.name)


@lru_cache(maxsize=16)
def _pixmap(data: bytes, vector: bool, name: str) -> QPixmap:
    if not vector:
        image = QImage.fromData(data)
        if max(image.width(), image.height()) > PIXELS:
            image = image.scaled(
                PIXELS, PIXELS, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation
            )
        return QPixmap.fromImage(image)
    try:
        drawing = read_svg(data, name)
    except JontelError:
        return QPixmap()
    scale = PIXELS / max(drawing.width, drawing.height)
    made = QPixmap(max(1, round(drawing.width * scale)), max(1, round(drawing.height * scale)))
    made.fill(Qt.GlobalColor.transparent)
    painter = QPainter(made)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.scale(scale, scale)
    painter.setClipRect(QRectF(0, 0, drawing.width, drawing.height))
    for drawn in drawing.shapes:
        outline = QPainterPath(path_data(drawn.path))
        odd = Qt.FillRule.OddEvenFill if drawn.rule == "evenodd" else Qt.FillRule.WindingFill
        outline.setFillRule(odd)
        painter.setBrush(QColor(*drawn.fill) if drawn.fill else Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(*drawn.stroke), drawn.stroke_width) if drawn.stroke else Qt.PenStyle.NoPen)
        painter.drawPath(outline)
    painter.end()
    return made
