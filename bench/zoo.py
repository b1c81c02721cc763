"""Shapes of many kinds that no test names: what fills and satins are measured on, by the benchmark and by tests.

Each function gives path data in mm for a seed or a size, so that a run can look at shapes that nobody saw before.
"""

import math
import os
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from jontel.design.shapes import Lines
from jontel.geometry.region import path_of, polygons_of

Floats = NDArray[np.float64]
SHIPPED_FONT = Path(__file__).parent.parent / "src/jontel/data/fonts/IBMPlexSans-SemiBold.ttf"
LETTERS = "AEKSRTgæ&58"
SIGNS = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789&?@%ß"
"""Every letter that satins are held to."""


def closed(points: Floats) -> str:
    """A polygon through points (n, 2)."""
    return "M" + " L".join(f"{x:.4f} {y:.4f}" for x, y in points.tolist()) + " Z"


def blob(seed: int, radius: float = 18.0, holes: int = 0) -> str:
    """A round shape with a wavy rim and some holes in it, each wavy too."""
    draw = np.random.default_rng(seed)
    turn = np.linspace(0, 2 * math.pi, 181)[:-1]

    def ring(x: float, y: float, size: float, waves: int, depth: float) -> Floats:
        far = np.full_like(turn, size)
        for k in range(2, 2 + waves):
            far += size * depth / k * draw.normal() * np.cos(k * turn + draw.uniform(0, 2 * math.pi))
        far = np.clip(far, 0.35 * size, 1.6 * size)
        return np.column_stack([x + far * np.cos(turn), y + far * np.sin(turn)])

    parts = [closed(ring(0, 0, radius, 5, 0.35))]
    for k in range(holes):
        around = 2 * math.pi * k / max(holes, 1) + draw.uniform(-0.2, 0.2)
        away = 0.0 if holes == 1 else 0.45 * radius
        parts.append(closed(ring(away * math.cos(around), away * math.sin(around), radius * 0.13, 3, 0.3)[::-1]))
    return " ".join(parts)


def gear(teeth: int = 12, outer: float = 18.0, inner: float = 13.0, hole: float = 5.0) -> str:
    """A gear wheel with a round hole."""
    spots: list[tuple[float, float]] = []
    for k in range(teeth):
        for part, far in ((0.05, inner), (0.2, outer), (0.55, outer), (0.7, inner)):
            turn = 2 * math.pi * (k + part) / teeth
            spots.append((far * math.cos(turn), far * math.sin(turn)))
    turns = np.linspace(0, 2 * math.pi, 73)[:-1][::-1]
    return closed(np.array(spots)) + " " + closed(hole * np.column_stack([np.cos(turns), np.sin(turns)]))


def coast(seed: int, radius: float = 18.0, levels: int = 5) -> str:
    """A ragged coast: the sides of a polygon broken again and again by midpoints moved at random."""
    draw = np.random.default_rng(seed)
    turn = np.linspace(0, 2 * math.pi, 8)[:-1]
    points = radius * np.column_stack([np.cos(turn), np.sin(turn)]) * draw.uniform(0.7, 1.0, (7, 1))
    size = 0.22
    for _ in range(levels):
        after = np.roll(points, -1, axis=0)
        side = after - points
        middle = (points + after) / 2 + np.column_stack([-side[:, 1], side[:, 0]]) * draw.normal(
            0, size, (len(points), 1)
        )
        points = np.stack([points, middle], axis=1).reshape(-1, 2)
        size *= 0.62
    return closed(points)


def turned(points: Floats, degrees: float) -> Floats:
    """Points (n, 2) turned round the origin, counter-clockwise."""
    a = math.radians(degrees)
    return np.asarray(points @ np.array([[math.cos(a), -math.sin(a)], [math.sin(a), math.cos(a)]]))


def turned_box(width: float, height: float, degrees: float) -> str:
    """A rectangle round the origin, turned."""
    return closed(turned(np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)]) * (width / 2, height / 2), degrees))


def leaning(turn: float, apart: float = 22.0, size: float = 10.0) -> Lines:
    """Two lines of ``size`` mm beside the origin, so far ``apart``, that lean by ``turn`` degrees to each other."""
    a = math.radians(turn / 2)
    aside, up = size / 2 * math.sin(a), size / 2 * math.cos(a)
    sides = ((-apart / 2, aside), (apart / 2, -aside))
    return tuple(((x - out, -up), (x + out, up)) for x, out in sides)


def comb(teeth: int = 6, degrees: float = 0.0) -> str:
    """A comb of ``teeth`` teeth, turned."""
    spots = [(-25.0, 18.0), (-25.0, -20.0)]
    for k in range(teeth):
        x = -25 + 50 / (teeth - 0.5) * k
        wide = 25 / (teeth - 0.5)
        spots += [(x, -20), (x + wide, -20)] if k else [(x + wide, -20)]
        if k < teeth - 1:
            spots += [(x + wide, 10), (x + 2 * wide, 10)]
    spots.append((spots[-1][0], 18.0))
    return closed(turned(np.array(spots), degrees))


def glyph(sign: str, height: float = 30.0, font: Path = SHIPPED_FONT) -> str:
    """The outline of a sign of a font, its capitals ``height`` mm high."""
    from PyQt6.QtGui import QFont, QPainterPath, QRawFont
    from PyQt6.QtWidgets import QApplication

    glyph.application = QApplication.instance() or QApplication([])  # type: ignore[attr-defined]
    raw = QRawFont(str(font), 200.0, QFont.HintingPreference.PreferNoHinting)
    path: QPainterPath = raw.pathForGlyph(raw.glyphIndexesForString(sign)[0])
    scale = height / max(raw.capHeight(), 1.0)
    box = path.boundingRect()
    parts: list[str] = []
    for polygon in path.toSubpathPolygons():
        xy = np.array([(p.x() - box.center().x(), p.y() - box.center().y()) for p in polygon]) * scale
        parts.append(closed(xy[:-1]))
    return " ".join(parts)


def fills(seed: int = 0) -> dict[str, str]:
    """Shapes for fills, by name: letters, blobs with holes, gears, combs, coasts, turned rectangles."""
    found = {f"letter {sign}": glyph(sign) for sign in LETTERS}
    for k in range(8):
        found[f"blob {seed + k}"] = blob(seed + k, 12 + 3 * (k % 3), k % 4)
        found[f"coast {seed + k}"] = coast(seed + k) if k < 4 else coast(seed + k, 9.0, 4)
    found |= {"gear": gear(), "gear of 20": gear(20, 20, 16, 8), "comb": comb(), "turned comb": comb(5, 25.0)}
    for k, degrees in enumerate((0, 12, 30, 45, 77)):
        found[f"box turned {degrees}"] = turned_box(20, 12 + 3 * k, degrees)
    return found


def _outline(cloth: BaseGeometry) -> str:
    """A polygon with holes as path data."""
    return path_of(polygons_of(cloth))


def wave() -> str:
    """A band that waves and runs out into points."""
    x = np.linspace(-8.5, 8.5, 120)
    middle = np.column_stack([x, 2.4 * np.sin(0.62 * x)])
    way = np.gradient(middle, axis=0)
    normal = np.column_stack([-way[:, 1], way[:, 0]]) / np.hypot(*way.T)[:, None]
    half = 1.0 * np.sqrt(np.clip(1 - (x / 8.5) ** 2, 0, 1))[:, None]
    return closed(np.vstack([middle + half * normal, (middle - half * normal)[::-1][1:-1]]))


def knot() -> str:
    """A rope knot: a band that crosses itself three times."""
    turn = np.linspace(0, 2 * math.pi, 241)
    way = 2.6 * np.column_stack([np.sin(turn) + 2 * np.sin(2 * turn), np.cos(turn) - 2 * np.cos(2 * turn)])
    return _outline(shapely.LinearRing(way[:-1]).buffer(1.0, quad_segs=12))


def rippled(nodes: int = 2000, first: float = 0.0, ripples: int = 40) -> str:
    """A round outline of so many curved nodes with ripples; its ``first`` node is that far out of line, mm."""
    turn = np.linspace(0, 2 * math.pi, nodes, endpoint=False)
    far, steep = 30 + 2 * np.sin(ripples * turn), 2 * ripples * np.cos(ripples * turn)
    out = np.column_stack([np.cos(turn), np.sin(turn)])
    at = far[:, None] * out
    handle = (steep[:, None] * out + far[:, None] * out[:, ::-1] * (-1, 1)) * (2 * math.pi / nodes / 3)
    at[0, 0] += first
    curves = np.hstack([at + handle, np.roll(at - handle, -1, axis=0), np.roll(at, -1, axis=0)])
    pieces = (f"C{' '.join(f'{value:.4f}' for value in curve)}" for curve in curves.tolist())
    return f"M{at[0, 0]:.4f} {at[0, 1]:.4f} {' '.join(pieces)} Z"


def fern() -> str:
    """A stem with five pairs of leaves that grow shorter."""
    parts: list[BaseGeometry] = [shapely.Polygon([(-0.7, 8), (0.7, 8), (0.25, -8), (-0.25, -8)])]
    part = np.linspace(0, math.pi, 24)
    for k in range(5):
        long, high = 5.6 - 0.8 * k, 4.6 - 2.6 * k
        half = 0.18 * long * np.sin(part)
        x = long * (1 - np.cos(part)) / 2
        leaf = np.vstack([np.column_stack([x, half]), np.column_stack([x, -half])[::-1][1:-1]])
        for side in (1, -1):
            lying = turned(leaf, 32.0) * (side, 1.0)
            parts.append(shapely.Polygon(lying + np.array([0.0, high])))
    return _outline(shapely.unary_union(parts))


STROKES = {
    "drop": "M0 -7 C1 -3 4 -1 4 2.5 C4 5 2 6.5 0 6.5 C-2 6.5 -4 5 -4 2.5 C-4 -1 -1 -3 0 -7 Z",
    "broad lens": "M-8 0 C-4 -5 4 -5 8 0 C4 5 -4 5 -8 0 Z",
    "swoosh": "M-8.5 2 C-4 7 3 2 8.5 -5 C6 5 -3 9 -8.5 2 Z",
    "gull": "M-8.5 -3 C-5 -6 -2 -4 0 1 C2 -4 5 -6 8.5 -3 C5 -4 2 0 0.6 5 L-0.6 5 C-2 0 -5 -4 -8.5 -3 Z",
    "anchor": "M-1 -7 L1 -7 L1 -4.5 L4 -4.5 L4 -2.5 L1 -2.5 L1 4.6 C4 4 6 2 6.4 -0.5 L8.4 0 C7.6 4.5 4 7.4 0 7.6 "
    "C-4 7.4 -7.6 4.5 -8.4 0 L-6.4 -0.5 C-6 2 -4 4 -1 4.6 L-1 -2.5 L-4 -2.5 L-4 -4.5 L-1 -4.5 Z",
    "crescent": "M2 -7.5 C-9 -5 -9 5 2 7.5 C-4 4 -4 -4 2 -7.5 Z",
    "comb": "M-8 -6 L8 -6 L8 6 L6 6 L6 -3.5 L3.4 -3.5 L3.4 6 L1.4 6 L1.4 -3.5 L-1.4 -3.5 L-1.4 6 L-3.4 6 L-3.4 -3.5 "
    "L-6 -3.5 L-6 6 L-8 6 Z",
    "ring with a tail": "M6 -1 C6 2.3 3.3 5 0 5 C-3.3 5 -6 2.3 -6 -1 C-6 -4.3 -3.3 -7 0 -7 C3.3 -7 6 -4.3 6 -1 Z "
    "M3.4 -1 C3.4 -2.9 1.9 -4.4 0 -4.4 C-1.9 -4.4 -3.4 -2.9 -3.4 -1 C-3.4 0.9 -1.9 2.4 0 2.4 C1.9 2.4 3.4 0.9 "
    "3.4 -1 Z "
    "M3.2 2 L8.2 6.6 L6.4 8.2 L1.6 3.6 Z",
    "rope knot": knot(),
    "wave": wave(),
    "fern": fern(),
    "bar of 8": "M-8.5 -4 L8.5 -4 L8.5 4 L-8.5 4 Z",
    "cross": "M-1.4 -7 L1.4 -7 L1.4 -1.4 L7 -1.4 L7 1.4 L1.4 1.4 L1.4 7 L-1.4 7 L-1.4 1.4 L-7 1.4 L-7 -1.4 "
    "L-1.4 -1.4 Z",
    "wedge": "M-8.5 -2 L8.5 -2 L-8.5 1.5 Z",
    "square": "M-1 -1 L1 -1 L1 1 L-1 1 Z",
}
"""Shapes for satins in strokes, by name, about 17 mm wide."""
