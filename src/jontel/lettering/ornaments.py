"""What stands round the letters of a monogram: frames, borders, ornaments of our own, as shapes with their covers."""

import math
from collections.abc import Callable
from typing import NamedTuple

import numpy as np
import shapely
from shapely import affinity
from shapely.geometry.base import BaseGeometry

from jontel.design.kinds import Cover
from jontel.design.kinds.run import Run
from jontel.design.kinds.satin import Satin
from jontel.design.monogram import Border, Frame, Ornament
from jontel.design.paths import ellipse_path, polyline_path
from jontel.design.shapes import Area, Line, Point, Shape
from jontel.geometry.polyline import Floats, flatten
from jontel.geometry.region import path_of, polygons_of

WIDE, THIN = 1.8, 1.0
"""How wide a frame is and the second ring of a double one, mm."""
APART = 2.2
"""A second ring, and an inner border, lie so far inside the frame, mm."""
BORDER_ROOM = WIDE / 2 + APART + THIN / 2
"""So much farther out, mm, is a frame with a border inside."""
ROPE, TWIST = 3.0, 40.0
"""A rope is so wide, mm; its strands lean by so many degrees."""
WAVES, LEAVES = 16, 7


class Piece(NamedTuple):
    """A part of a monogram besides its letters: what it is called, its shape and its cover."""

    part: str
    shape: Shape
    cover: Cover


Made = Callable[[float, float], list[Piece]]
"""Pieces about the origin round letters that are so wide and so high, half of it each, mm, margins included."""


def _radius(wide: float, high: float) -> float:
    return math.hypot(wide, high)


def _ring(wide: float, high: float) -> list[Piece]:
    radius = _radius(wide, high)
    return [Piece("frame", Line(ellipse_path(0.0, 0.0, radius, radius), WIDE), Satin())]


def _double_ring(wide: float, high: float) -> list[Piece]:
    radius = _radius(wide, high) + APART + THIN
    inner = radius - APART - THIN / 2
    return [
        Piece("frame", Line(ellipse_path(0.0, 0.0, radius, radius), WIDE), Satin()),
        Piece("second frame", Line(ellipse_path(0.0, 0.0, inner, inner), THIN), Satin()),
    ]


def _polygon(points: list[Point]) -> list[Piece]:
    return [Piece("frame", Line(polyline_path([(round(x, 3), round(y, 3)) for x, y in points], True), WIDE), Satin())]


def _diamond(wide: float, high: float) -> list[Piece]:
    return _polygon([(0.0, -2 * high), (2 * wide, 0.0), (0.0, 2 * high), (-2 * wide, 0.0)])


def _square(wide: float, high: float) -> list[Piece]:
    half = max(wide, high)
    return _polygon([(-half, -half), (half, -half), (half, half), (-half, half)])


def _lantern(wide: float, high: float) -> list[Piece]:
    roof, neck, foot = 0.7 * high, 0.3 * wide, 0.22 * high
    body = _polygon(
        [
            (-wide, -high), (-1.2 * wide, -high), (-neck, -high - roof), (neck, -high - roof), (1.2 * wide, -high),
            (wide, -high), (wide, high), (1.15 * wide, high + foot), (-1.15 * wide, high + foot), (-wide, high),
        ]
    )  # fmt: skip
    ring = 0.5 * neck + 0.8
    loop = ellipse_path(0.0, round(-high - roof - ring, 3), ring, ring)
    return [*body, Piece("second frame", Line(loop, THIN), Satin())]


def _waves(wide: float, high: float) -> list[Piece]:
    radius = _radius(wide, high) * 1.06
    turn = np.linspace(0, 2 * math.pi, 24 * WAVES, endpoint=False)
    far = radius * (1 + 0.06 * np.cos(WAVES * turn))
    points = np.column_stack([far * np.cos(turn), far * np.sin(turn)])
    return _polygon([(float(x), float(y)) for x, y in points])


def _rope(wide: float, high: float) -> list[Piece]:
    radius = _radius(wide, high) + ROPE / 2
    count = max(12, round(2 * math.pi * radius / 3.4))
    strand = _leaf(1.55 * ROPE, 0.62 * ROPE)
    lying = affinity.rotate(affinity.translate(strand, -0.775 * ROPE, 0.0), 90 - TWIST, origin=(0, 0))
    there = affinity.translate(lying, radius, 0.0)
    cloth = [affinity.rotate(there, 360 * k / count, origin=(0, 0)) for k in range(count)]
    return [Piece("frame", Area(" ".join(path_of(polygons_of(one)) for one in cloth), in_order=True), Satin())]


def _laurel(wide: float, high: float) -> list[Piece]:
    radius = _radius(wide, high) * 1.18
    long = 0.34 * radius
    parts: list[BaseGeometry] = []
    for turn in np.radians(np.linspace(78.0, -58.0, LEAVES)):
        x, y = radius * math.cos(turn), radius * math.sin(turn)
        onward = math.degrees(math.atan2(-math.cos(turn), math.sin(turn)))
        parts += [affinity.translate(_turned(long, onward + lean), x, y) for lean in (-34.0, 34.0)]
    parts = [affinity.scale(one, side, 1.0, origin=(0, 0)) for side in (1, -1) for one in parts]
    leaves = Area(" ".join(path_of(polygons_of(one)) for one in parts), in_order=True)
    bend = np.radians(np.linspace(84.0, -58.0, 60))
    stems = [[(side * radius * math.cos(t), radius * math.sin(t)) for t in bend] for side in (1, -1)]
    path = " ".join(polyline_path([(round(x, 3), round(y, 3)) for x, y in stem]) for stem in stems)
    return [Piece("second frame", Line(path, THIN), Run(style="triple")), Piece("frame", leaves, Satin())]


def _turned(long: float, degrees: float) -> BaseGeometry:
    """A leaf from the origin in a direction, clear of the stem it stands on."""
    return affinity.rotate(affinity.translate(_leaf(long, 0.3 * long), 0.12 * long, 0.0), degrees, origin=(0, 0))


def _nothing(_wide: float, _high: float) -> list[Piece]:
    return []


FRAMES: dict[Frame, Made] = {
    "none": _nothing, "ring": _ring, "double ring": _double_ring, "diamond": _diamond, "square": _square,
    "lantern": _lantern, "waves": _waves, "rope": _rope, "laurel": _laurel,
}  # fmt: skip


def border_of(kind: Border, frame: list[Piece]) -> list[Piece]:
    """A border inside the first closed line of a frame; nothing for a frame without one."""
    lines = [piece.shape for piece in frame if isinstance(piece.shape, Line) and "Z" in piece.shape.path]
    if kind == "none" or not lines:
        return []
    ring = shapely.Polygon(flatten(lines[0].path)[0].xy).buffer(-WIDE / 2 - APART, join_style="mitre")
    if ring.is_empty:
        return []
    path = path_of(polygons_of(ring))
    return [Piece("border", Line(path, THIN), Satin() if kind == "satin" else Run(style="triple"))]


def ornament_of(kind: Ornament, size: float) -> list[Piece]:
    """An ornament about the origin, ``size`` mm high."""
    return [Piece("ornament", Area(_scaled(_ORNAMENTS[kind], size)), Satin())] if kind in _ORNAMENTS else []


def _leaf(long: float, wide: float) -> BaseGeometry:
    """A leaf along x from the origin."""
    part = np.linspace(0, math.pi, 17)
    x, half = long * (1 - np.cos(part)) / 2, wide / 2 * np.sin(part)
    points: Floats = np.vstack([np.column_stack([x, half]), np.column_stack([x, -half])[::-1][1:-1]])
    return shapely.Polygon(np.round(points, 4))


def _star() -> BaseGeometry:
    turn = np.radians(np.arange(10) * 36 - 90)
    far = np.where(np.arange(10) % 2 == 0, 0.52, 0.22)
    return shapely.Polygon(np.column_stack([far * np.cos(turn), far * np.sin(turn)]))


def _anchor() -> BaseGeometry:
    ring = shapely.Point(0.0, -0.4).buffer(0.12).difference(shapely.Point(0.0, -0.4).buffer(0.05))
    stock = [shapely.box(-0.06, -0.3, 0.06, 0.48), shapely.box(-0.25, -0.22, 0.25, -0.12)]
    arc = np.radians(np.linspace(15, 165, 40))
    arms = shapely.LineString(np.column_stack([0.4 * np.cos(arc), 0.08 + 0.4 * np.sin(arc)])).buffer(0.055)
    return shapely.unary_union([ring, *stock, arms])


def _wave_band() -> BaseGeometry:
    x = np.linspace(-1.4, 1.4, 90)
    way = shapely.LineString(np.column_stack([x, 0.16 * np.sin(5.0 * x)]))
    return way.buffer(0.09, cap_style="round")


def _gull() -> BaseGeometry:
    half = np.radians(np.linspace(200, 330, 24))
    wing = np.column_stack([0.62 + 0.62 * np.cos(half), 0.3 + 0.5 * np.sin(half)])
    body = shapely.LineString(wing).buffer(0.07)
    return shapely.unary_union([body, affinity.scale(body, -1, 1, origin=(0.05, 0))])


_ORNAMENTS: dict[str, BaseGeometry] = {"star": _star(), "anchor": _anchor(), "wave": _wave_band(), "gull": _gull()}


def _scaled(cloth: BaseGeometry, size: float) -> str:
    grown = affinity.scale(cloth, size, size, origin=(0, 0))
    return path_of(polygons_of(shapely.transform(grown, lambda xy: np.round(xy, 4))))
