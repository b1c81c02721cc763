"""Between plain geometry and Qt's painter."""

from collections.abc import Iterable
from functools import lru_cache

from PyQt6.QtCore import QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF, QTransform
from shapely.geometry.base import BaseGeometry

from jontel.app.theme import Theme
from jontel.design.design import StitchObject
from jontel.design.paths import commands
from jontel.design.shapes import Area, Column, Line, Shape
from jontel.geometry.polyline import Floats
from jontel.geometry.region import polygons_of, rings_of

DENSE, PIECE = 1500, 16
"""A path of more points than the first is dense: it is stroked by so many straight pieces at a time."""


@lru_cache(maxsize=4096)
def path_data(path: str) -> QPainterPath:
    """Canonical path data as a painter path."""
    made = QPainterPath()
    for letter, n in commands(path):
        match letter:
            case "M":
                made.moveTo(n[0], n[1])
            case "L":
                made.lineTo(n[0], n[1])
            case "C":
                made.cubicTo(*n)
            case "Q":
                made.quadTo(*n)
            case _:
                made.closeSubpath()
    return made


def shape_path(shape: Shape) -> QPainterPath:
    """The drawn outline of a shape."""
    match shape:
        case Area(path, rule):
            made = QPainterPath(path_data(path))
            odd = Qt.FillRule.OddEvenFill if rule == "evenodd" else Qt.FillRule.WindingFill
            made.setFillRule(odd)
            return made
        case Line(path=path):
            return path_data(path)
        case Column(edge=edge, other_edge=other):
            made = QPainterPath(path_data(edge))
            made.addPath(path_data(other))
            if "Z" not in edge:
                for end in (0, -1):
                    ends = [_end(path, end) for path in (edge, other)]
                    made.moveTo(ends[0])
                    made.lineTo(ends[1])
            return made


def bounds_of(items: Iterable[StitchObject]) -> QRectF:
    """The box round the drawn outlines of objects, mm; null when there are none."""
    box = QRectF()
    for item in items:
        own = shape_path(item.shape).boundingRect()
        box = own if box.isNull() else box.united(own)
    return box


def _end(path: str, which: int) -> QPointF:
    element = path_data(path)
    at = element.elementAt(0 if which == 0 else element.elementCount() - 1)
    return QPointF(at.x, at.y)


def region_path(region: BaseGeometry) -> QPainterPath:
    """The outline of polygons with holes."""
    made = QPainterPath()
    for part in polygons_of(region).geoms:
        for ring in rings_of(part):
            made.addPath(ring_path(ring))
    return made


def polygon(points: Floats) -> QPolygonF:
    """Points (n, 2) as a polygon."""
    return QPolygonF([QPointF(x, y) for x, y in points.tolist()])


def ring_path(ring: Floats) -> QPainterPath:
    """A closed ring of points."""
    made = QPainterPath()
    points = ring.tolist()
    made.moveTo(*points[0])
    for x, y in points[1:]:
        made.lineTo(x, y)
    made.closeSubpath()
    return made


def paint_well(painter: QPainter, box: QRect, theme: Theme) -> None:
    """A quiet rounded ground for a small drawing in a panel; sets the painter to smooth edges."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colour("well"))
    painter.drawRoundedRect(QRectF(box), 6, 6)


def pen(colour: QColor | str, width: float = 1.0, dashes: Iterable[float] = ()) -> QPen:
    """A cosmetic pen: ``width`` in pixels at every zoom."""
    made = QPen(QColor(colour), width)
    made.setCosmetic(True)
    pattern = list(dashes)
    if pattern:
        made.setDashPattern(pattern)
    return made


def stroke(painter: QPainter, path: QPainterPath, transform: QTransform, with_pen: QPen) -> None:
    """Draw a path where ``transform`` puts it: a dense one by pieces, in a fifth of the time.

    The painter works out all that one stroke covers again for each band of the picture that it meets.
    """
    if path.elementCount() <= DENSE:
        painter.setPen(with_pen)
        painter.setTransform(transform)
        painter.drawPath(path)
        painter.resetTransform()
        return
    flat = QPen(with_pen)
    flat.setCapStyle(Qt.PenCapStyle.FlatCap)  # where pieces meet nothing is painted twice
    painter.setPen(flat)
    painter.resetTransform()
    for line in path.toSubpathPolygons(transform):
        for first in range(0, len(line) - 1, PIECE):
            painter.drawPolyline(line.mid(first, PIECE + 1))


def xy_of(place: QPointF) -> tuple[float, float]:
    """A place as two numbers."""
    return place.x(), place.y()
