"""The Forecast view: over stitches as they will lie, what was drawn, where cloth opens, and how it is strained."""

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPen

from jontel.app.cloth.camera import Camera
from jontel.app.cloth.pictures import image_of
from jontel.app.drawing import pen, region_path, shape_path
from jontel.app.forecasting import Seen
from jontel.app.theme import Theme, font
from jontel.design import Design

VEIL = 175
MOST_STRAIN = 0.25
"""Strains from this on are shown in the strongest colour."""


def paint_forecast(painter: QPainter, design: Design, seen: Seen, camera: Camera, theme: Theme) -> None:
    """Strain if it is asked for, drawn outlines, open cloth in madder and overlaps in amber with their widths."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    if seen.strained:
        _paint_strain(painter, seen, camera, theme)
    painter.setTransform(camera.transform())
    painter.setBrush(Qt.BrushStyle.NoBrush)
    light, ink = theme.colour("surface", 190), theme.colour("ink", 190)
    for line in (pen(light, 1.9), pen(ink, 0.9)):
        painter.setPen(line)
        for item in design.objects:
            if not item.hidden:
                painter.drawPath(shape_path(item.shape))
    for seam in seen.seams:
        colour = QColor(theme.colour("madder" if seam.open else "amber"))
        painter.fillPath(region_path(seam.cloth), QBrush(colour))
        painter.setPen(QPen(colour, 0))
        painter.drawPath(region_path(seam.cloth))
    painter.resetTransform()
    painter.setFont(font(7.8))
    for seam in seen.seams:
        _label(painter, camera.to_screen(*seam.place), f"{seam.width:.1f}", seam.open, theme)


def _label(painter: QPainter, place: QPointF, words: str, is_open: bool, theme: Theme) -> None:
    box = QRectF(painter.fontMetrics().boundingRect(words).adjusted(-5, -2, 5, 2))
    box.moveCenter(place + QPointF(0, -16))
    painter.setPen(pen(theme.colour("madder" if is_open else "amber"), 1.2))
    painter.setBrush(theme.colour("surface"))
    painter.drawRoundedRect(box, 4, 4)
    painter.setPen(theme.colour("ink"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)


def _paint_strain(painter: QPainter, seen: Seen, camera: Camera, theme: Theme) -> None:
    """How much the cloth is shortened (amber to madder) or widened (accent) in each element."""
    forecast = seen.moment
    part = np.clip(forecast.strain / MOST_STRAIN, -1.0, 1.0)
    xs, ys = forecast.sheet.xs, forecast.sheet.ys
    low, high, wide = theme.colour("amber"), theme.colour("madder"), theme.colour("accent")
    strong = np.abs(part)[..., None]
    ends = np.array([[c.red(), c.green(), c.blue()] for c in (low, high, wide)], dtype=float)
    shorter = ends[0] + (ends[1] - ends[0]) * strong
    colour = np.where(part[..., None] < 0, shorter, ends[2])
    rgba = np.concatenate([colour, 210 * np.sqrt(strong)], axis=2).astype(np.uint8)
    painter.setPen(Qt.PenStyle.NoPen)
    image = image_of(rgba)
    sizes = np.diff(xs), np.diff(ys)
    (left, right), (top, low_row) = (np.flatnonzero(one < 1.05 * one.min())[[0, -1]] for one in sizes)
    source = QRectF(left, top, right - left + 1, low_row - top + 1)
    target = QRectF(camera.to_screen(xs[left], ys[top]), camera.to_screen(xs[right + 1], ys[low_row + 1]))
    painter.fillRect(target, theme.colour("surface", VEIL))  # the stitches step back
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.drawImage(target, image, source)
