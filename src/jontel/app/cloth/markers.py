"""What is drawn over the stitches: outlines, direction lines, ends, connections, the selection."""

import math

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPen, QPolygonF

from jontel.app.cloth.camera import Camera
from jontel.app.drawing import DENSE, path_data, pen, region_path, shape_path, stroke
from jontel.app.planner import Sewn
from jontel.app.theme import Theme
from jontel.design import Area, Design, Line, StitchObject, resolve
from jontel.design.kinds import traits_of
from jontel.sewing.plan import Piece
from jontel.stitching.stitches import Kind

BEAD, BAR = 5.0, 5.0
MOST_RINGS = 200


def paint_plan(painter: QPainter, design: Design, sewn: Sewn, camera: Camera, theme: Theme) -> None:
    """The Plan view: every drawn outline, the sewn edge beside it, and direction lines."""
    painter.setTransform(camera.transform())
    edges = dict(zip(sewn.plan.overlaps.owners, sewn.plan.overlaps.regions, strict=True))
    failed = {failure.object for failure in sewn.plan.failures}
    seen = [item for item in design.objects if not item.hidden]
    for item in seen:
        outline = shape_path(item.shape)
        colour = theme.colour("ink")
        thread = design.thread(item.thread)
        if item.id in failed:
            painter.setPen(pen(theme.colour("madder"), 1.6, (4, 3)))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(outline)
            continue
        region = edges.get(item.id)
        if region is not None and not region.is_empty:
            edge = region_path(region)
            wash = QColor(thread.colour)
            wash.setAlpha(70)
            painter.fillPath(edge, QBrush(wash))
            painter.setPen(pen(theme.colour("muted"), 1.0, (4, 3)))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(edge)
        painter.setPen(pen(colour, 1.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(outline)
    painter.resetTransform()
    for item in seen:
        line = angle_line(item, design)
        if traits_of(item.cover).rows == "one way":
            paint_lines(painter, item, camera, theme)
        if line is not None:
            short = min(1.0, 10.0 / max(line.length(), 0.1))
            middle, half = line.center(), (line.p2() - line.p1()) * (short / 2)
            paint_direction(painter, QLineF(middle - half, middle + half), camera, theme, 0.45)


def paint_lines(painter: QPainter, item: StitchObject, camera: Camera, theme: Theme) -> None:
    """The direction lines of a fill, thin, without beads, and its guide."""
    if isinstance(item.shape, Line):
        return
    painter.setTransform(camera.transform())
    painter.setPen(pen(theme.colour("accent"), 1.2))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawLines([QLineF(*p, *q) for p, q in item.shape.lines])
    guide = getattr(item.shape, "guide", None)
    if guide is not None and traits_of(item.cover).rows == "one way":
        painter.setPen(pen(theme.colour("surface", 200), 3.6))
        painter.drawPath(path_data(guide))
        painter.setPen(pen(theme.colour("accent"), 1.8))
        painter.drawPath(path_data(guide))
    painter.resetTransform()


def angle_line(item: StitchObject, design: Design) -> QLineF | None:
    """The line across a fill that its rows are parallel to, mm."""
    recipe = resolve(item, design.ground_for(item)).cover
    directed = getattr(item.shape, "lines", ()) or getattr(item.shape, "guide", None)
    if traits_of(recipe).rows != "one way" or (directed and isinstance(item.shape, Area)):
        return None
    box = shape_path(item.shape).boundingRect()
    reach = max(4.0, 0.55 * min(math.hypot(box.width(), box.height()), 2.2 * min(box.width(), box.height())))
    angle = math.radians(getattr(recipe, "angle", 0.0))
    step = QPointF(math.cos(angle), -math.sin(angle)) * reach
    return QLineF(box.center() - step, box.center() + step)


def paint_direction(painter: QPainter, line: QLineF, camera: Camera, theme: Theme, size: float = 1.0) -> None:
    """A thin accent line with round beads at its ends."""
    start, stop = (camera.to_screen(p.x(), p.y()) for p in (line.p1(), line.p2()))
    painter.setPen(pen(theme.colour("accent"), 1.4))
    painter.drawLine(start, stop)
    painter.setPen(pen(theme.colour("surface"), 1.2))
    painter.setBrush(theme.colour("accent"))
    for spot in (start, stop):
        painter.drawEllipse(spot, BEAD * size, BEAD * size)


def paint_cut(painter: QPainter, line: QLineF, camera: Camera, theme: Theme, chosen: bool) -> None:
    """An ink line with a short bar across each of its ends."""
    start, stop = (camera.to_screen(p.x(), p.y()) for p in (line.p1(), line.p2()))
    shown = QLineF(start, stop)
    for colour, wide in (("surface", 5.0), ("ink", 2.4 if chosen else 1.6)):
        painter.setPen(pen(theme.colour(colour), wide))
        painter.drawLine(shown)
        for end in (shown, QLineF(stop, start)):
            across = end.normalVector().unitVector()
            off = QPointF(across.dx(), across.dy()) * BAR
            painter.drawLine(end.p1() - off, end.p1() + off)


def paint_ends(painter: QPainter, entry: QPointF, ahead: QPointF, exit_: QPointF, theme: Theme) -> None:
    """The entry as a small filled chevron pointing into the shape, the exit as a small open ring (pixels)."""
    angle = math.atan2(ahead.y() - entry.y(), ahead.x() - entry.x())
    painter.save()
    painter.translate(entry)
    painter.rotate(math.degrees(angle))
    painter.setPen(pen(theme.colour("surface"), 1.2))
    painter.setBrush(theme.colour("accent"))
    painter.drawPolygon(QPolygonF([QPointF(6, 0), QPointF(-6, 6), QPointF(-2.5, 0), QPointF(-6, -6)]))
    painter.restore()
    painter.setBrush(theme.colour("surface"))
    painter.setPen(pen(theme.colour("accent"), 2.0))
    painter.drawEllipse(exit_, 4.5, 4.5)


def ends_of(piece: Piece) -> tuple[QPointF, QPointF, QPointF]:
    """First needle point, one a little on, and last needle point of an object's piece, mm."""
    rows = np.flatnonzero(piece.kind == Kind.STITCH)
    body = rows if len(rows) < 5 else rows[3:]
    points = [piece.xy[body[0]], piece.xy[body[min(4, len(body) - 1)]], piece.xy[rows[-1]]]
    entry, ahead, last = (QPointF(float(x), float(y)) for x, y in points)
    return entry, ahead, last


def paint_outline(
    painter: QPainter, outline: QPainterPath, camera: Camera, theme: Theme, role: str = "accent"
) -> None:
    """A shape's outline that shows on any thread."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    fine = outline.elementCount() > DENSE  # its lines lie near each other, and a line of a pixel is soon drawn
    for colour, wide in ((theme.colour("surface", 200), 3.4), (theme.colour(role), 1.0 if fine else 1.6)):
        stroke(painter, outline, camera.transform(), pen(colour, wide))


def paint_failures(painter: QPainter, sewn: Sewn, design: Design, camera: Camera, theme: Theme) -> None:
    """Objects that have no stitches, as their outline: dashed madder."""
    painter.setTransform(camera.transform())
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for failure in sewn.plan.failures:
        item = design.object(failure.object)
        if item is not None:
            painter.setPen(pen(theme.colour("surface", 200), 3.2))
            painter.drawPath(shape_path(item.shape))
            painter.setPen(pen(theme.colour("madder"), 1.8, (5, 3)))
            painter.drawPath(shape_path(item.shape))
    painter.resetTransform()


def paint_findings(painter: QPainter, sewn: Sewn, camera: Camera, theme: Theme) -> None:
    """Where the findings of the proof are: rings, madder for what would spoil the sew-out, else amber."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    window = QRectF(painter.viewport())
    for finding in sewn.findings[:MOST_RINGS]:
        if finding.place is not None:
            spot = camera.to_screen(*finding.place)
            if not window.contains(spot):
                continue
            painter.setPen(pen(theme.colour("surface"), 4.5))
            painter.drawEllipse(spot, 9, 9)
            painter.setPen(pen(theme.colour("madder" if finding.severity == "spoils" else "amber"), 2.2))
            painter.drawEllipse(spot, 9, 9)


def handle_spots(box: QRectF) -> list[QPointF]:
    """The eight scale handles of a box: corners and middles, clockwise from the top left (pixels)."""
    return [
        box.topLeft(),
        QPointF(box.center().x(), box.top()),
        box.topRight(),
        QPointF(box.right(), box.center().y()),
        box.bottomRight(),
        QPointF(box.center().x(), box.bottom()),
        box.bottomLeft(),
        QPointF(box.left(), box.center().y()),
    ]


def paint_handles(painter: QPainter, box: QRectF, theme: Theme) -> None:
    """Scale handles round a box and the turning handle above it (pixels)."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(pen(theme.colour("accent", 150), 1.0, (3, 3)))
    painter.drawRect(box)
    top = QPointF(box.center().x(), box.top())
    painter.drawLine(QLineF(top, turning_spot(box)))
    painter.setPen(QPen(theme.colour("accent"), 1.4))
    painter.setBrush(theme.colour("field"))
    for spot in handle_spots(box):
        painter.drawRect(QRectF(spot.x() - 3.5, spot.y() - 3.5, 7, 7))
    painter.drawEllipse(turning_spot(box), 5, 5)


def turning_spot(box: QRectF) -> QPointF:
    """Where the turning handle of a box is (pixels)."""
    return QPointF(box.center().x(), box.top() - 22)
