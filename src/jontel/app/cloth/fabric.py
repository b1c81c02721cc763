"""The look of a ground: its colour and weave as a brush, at true scale."""

from functools import lru_cache

import numpy as np
from PyQt6.QtGui import QBrush, QColor, QImage, QPixmap, QTransform

from jontel.design.ground import Weave
from jontel.geometry.polyline import Floats

TILE, TILE_MM = 192, 12.0


def _weave(weave: Weave) -> Floats:
    """How much lighter or darker each pixel of a tile is, about -1 to 1. Repeats without a seam."""
    y, x = np.mgrid[0:TILE, 0:TILE] / TILE * 2 * np.pi
    noise = np.random.default_rng(7).normal(size=(TILE, TILE))
    soft = sum(np.roll(noise, (dy, dx), (0, 1)) for dy in (-1, 0, 1) for dx in (-1, 0, 1)) / 4.0
    match weave:
        case "twill":
            pattern = np.sin(16 * (x + y)) * 0.7 + np.sin(24 * x) * 0.25
        case "canvas":
            pattern = np.sin(14 * x) * np.cos(14 * y)
        case "knit":
            pattern = np.cos(12 * y + 2.2 * np.abs(np.sin(6 * x)) * np.pi) * 0.8 + np.cos(12 * x) * 0.3
        case "pile":
            pattern = soft * 0.9
        case "sheer":
            pattern = -np.maximum(np.cos(20 * x), np.cos(20 * y)) * 0.8
        case "felt":
            pattern = soft * 0.5 + np.sin(3 * x + 2 * np.sin(2 * y)) * 0.1
        case "film":
            pattern = np.sin(x + 2 * np.sin(y)) * 0.25
        case "smooth":
            pattern = soft * 0.25
    return np.asarray(pattern + noise * 0.08, dtype=np.float64)


@lru_cache(maxsize=32)
def _tile(colour: str, weave: Weave) -> QPixmap:
    base = QColor(colour)
    rgb = np.array([base.red(), base.green(), base.blue()], dtype=np.float64)
    shade = 1 + 0.045 * np.clip(_weave(weave), -1.5, 1.5)
    pixels = np.full((TILE, TILE, 4), 255, dtype=np.uint8)
    pixels[:, :, :3] = np.clip(rgb * shade[:, :, None], 0, 255)[:, :, ::-1]
    image = QImage(pixels.tobytes(), TILE, TILE, TILE * 4, QImage.Format.Format_RGB32)
    return QPixmap.fromImage(image.copy())


def fabric_brush(colour: str, weave: Weave, scale: float, x: float, y: float) -> QBrush:
    """A brush that lies on the cloth: ``scale`` pixels a mm, the cloth's origin at pixel (x, y)."""
    if scale < 3.0:
        return QBrush(QColor(colour))
    brush = QBrush(_tile(colour, weave))
    part = scale * TILE_MM / TILE
    brush.setTransform(QTransform(part, 0, 0, part, x, y))
    return brush
