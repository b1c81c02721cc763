"""Draw new objects on the cloth: lines, shapes, rectangles, ellipses."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter

from jontel.app.drawing import path_data, pen
from jontel.app.tools.base import Spot, Tool
from jontel.design import Area, Column, Cover, Fill, Line, Run, Satin, Shape, StitchObject
from jontel.design.edits import add_objects, use_thread
from jontel.design.paths import ellipse_path, polyline_path

if TYPE_CHECKING:
    from jontel.app.cloth.canvas import Canvas


class DrawTool(Tool):
    """What the drawing tools share: the finished shape becomes an object in the thread used last."""

    cursor = Qt.CursorShape.CrossCursor
    kind = ""

    def finish(self, shape: Shape, cover: Cover) -> None:
        """Add the object, select it, and go back to selecting."""
        document = self.canvas.document
        if document is None:
            return
        design = document.design
        thread = document.thread_for_new()
        number = sum(item.name.startswith(self.kind) for item in design.objects) + 1
        item = StitchObject(id=0, name=f"{self.kind} {number}", thread=thread.code, shape=shape, cover=cover)
        made = add_objects(design, [item])
        fresh = made.objects[-1].id
        document.edit(f"Draw {self.kind.lower()}", use_thread(made, {fresh}, thread))
        document.select({fresh})


class PointsTool(DrawTool):
    """Click from point to point; Enter or a double click finishes, Backspace takes the last one back."""

    closed = False

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.points: list[QPointF] = []
        self.ahead: QPointF | None = None

    def press(self, spot: Spot) -> None:
        """Set a point."""
        if not self.points or QLineF(self.points[-1], spot.cloth).length() > 0.05:
            self.points.append(spot.cloth)
        self.canvas.update()

    def move(self, spot: Spot, held: bool) -> None:
        """Show where the next piece would lie."""
        self.ahead = spot.cloth
        if self.points:
            self.canvas.update()

    def double_click(self, spot: Spot) -> bool:
        """Finish."""
        self.complete()
        return True

    def pressed_key(self, event: QKeyEvent) -> bool:
        """Enter finishes, Backspace takes back, Escape gives up."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.complete()
        elif event.key() == Qt.Key.Key_Backspace and self.points:
            self.points.pop()
            self.canvas.update()
        elif event.key() == Qt.Key.Key_Escape and self.points:
            self.cancel()
        else:
            return False
        return True

    def cancel(self) -> None:
        """Forget the points."""
        self.points = []
        self.canvas.update()

    def complete(self) -> None:
        """Make the object when there are points enough."""
        points = [(p.x(), p.y()) for p in self.points]
        self.points = []
        if len(points) >= (3 if self.closed else 2):
            path = polyline_path(points, self.closed)
            if self.closed:
                self.finish(Area(path), Fill())
            else:
                self.finish(Line(path), Run())
        self.canvas.update()

    def paint(self, painter: QPainter) -> None:
        """The pieces so far."""
        theme = self.canvas.theme
        spots = [self.canvas.camera.to_screen(p.x(), p.y()) for p in self.points]
        if not spots:
            return
        painter.setPen(pen(theme.colour("accent"), 1.6))
        painter.drawPolyline(spots)
        if self.ahead is not None:
            end = self.canvas.camera.to_screen(self.ahead.x(), self.ahead.y())
            painter.setPen(pen(theme.colour("accent"), 1.2, (3, 3)))
            painter.drawLine(spots[-1], end)
            if self.closed:
                painter.drawLine(end, spots[0])
        painter.setPen(pen(theme.colour("accent"), 1.4))
        painter.setBrush(theme.colour("field"))
        for spot in spots:
            painter.drawRect(QRectF(spot.x() - 3, spot.y() - 3, 6, 6))


class LineTool(PointsTool):
    """A line: a running stitch at first, a satin when its cover is changed."""

    name, title, icon, key, kind = "line", "Draw a line", "tool line", "L", "Line"
    hint = "Click from point to point; Enter finishes, Backspace takes one back"


class ColumnTool(PointsTool):
    """A satin between two edges: click one edge and the other in turn; every pair is a direction line."""

    name, title, icon, key, kind = "column", "Draw a column", "tool column", "K", "Column"
    hint = "Click one edge and then the other, pair by pair; Enter finishes"

    def complete(self) -> None:
        """Make the column of all whole pairs, when there are two or more."""
        points = [(round(p.x(), 4), round(p.y(), 4)) for p in self.points]
        self.points = []
        one, other = points[::2], points[1::2]
        pairs = tuple(zip(one, other, strict=False))
        if len(pairs) >= 2:
            edge, other_edge = (polyline_path([pair[side] for pair in pairs]) for side in (0, 1))
            self.finish(Column(edge, other_edge, pairs[1:-1]), Satin())
        self.canvas.update()

    def paint(self, painter: QPainter) -> None:
        """The pairs so far, and the edges along their ends."""
        theme = self.canvas.theme
        known = [*self.points, self.ahead] if self.points and self.ahead is not None else self.points
        spots = [self.canvas.camera.to_screen(p.x(), p.y()) for p in known]
        painter.setPen(pen(theme.colour("accent"), 1.6))
        for side in (0, 1):
            if len(spots[side::2]) > 1:
                painter.drawPolyline(spots[side::2])
        painter.setPen(pen(theme.colour("accent"), 1.0, (3, 3)))
        for start, stop in zip(spots[::2], spots[1::2], strict=False):
            painter.drawLine(start, stop)
        painter.setPen(pen(theme.colour("accent"), 1.4))
        painter.setBrush(theme.colour("field"))
        for spot in spots[: len(self.points)]:
            painter.drawRect(QRectF(spot.x() - 3, spot.y() - 3, 6, 6))


class ShapeTool(PointsTool):
    """A closed shape, filled."""

    name, title, icon, key, kind = "shape", "Draw a shape", "tool shape", "G", "Shape"
    hint = "Click round the shape; Enter closes it"
    closed = True


class BoxTool(DrawTool):
    """Drag from corner to corner; shift keeps both sides equal."""

    start: QPointF | None = None
    stop: QPointF | None = None

    def press(self, spot: Spot) -> None:
        """The first corner."""
        self.start = self.stop = spot.cloth

    def move(self, spot: Spot, held: bool) -> None:
        """The other corner, so far."""
        if held and self.start is not None:
            self.stop = self._corner(spot)
            self.canvas.update()

    def release(self, spot: Spot) -> None:
        """Make the object when it is large enough to sew."""
        if self.start is not None:
            box = QRectF(self.start, self._corner(spot)).normalized()
            self.start = self.stop = None
            if box.width() >= 1 and box.height() >= 1:
                self.finish(Area(self.outline(box)), Fill())
        self.canvas.update()

    def cancel(self) -> None:
        """Forget the box."""
        self.start = self.stop = None
        self.canvas.update()

    def _corner(self, spot: Spot) -> QPointF:
        assert self.start is not None
        step = spot.cloth - self.start
        if spot.shift:
            side = max(abs(step.x()), abs(step.y()))
            step = QPointF(math.copysign(side, step.x()), math.copysign(side, step.y()))
        return self.start + step

    def outline(self, box: QRectF) -> str:
        """Path data of the finished shape."""
        raise NotImplementedError

    def paint(self, painter: QPainter) -> None:
        """The shape so far."""
        if self.start is None or self.stop is None:
            return
        painter.setTransform(self.canvas.camera.transform())
        painter.setPen(pen(self.canvas.theme.colour("accent"), 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(path_data(self.outline(QRectF(self.start, self.stop).normalized())))
        painter.resetTransform()


class RectangleTool(BoxTool):
    """A rectangle, filled."""

    name, title, icon, key, kind = "rectangle", "Draw a rectangle", "tool rectangle", "R", "Rectangle"
    hint = "Drag from corner to corner; shift makes a square"

    def outline(self, box: QRectF) -> str:
        """Four corners."""
        corners = [(box.left(), box.top()), (box.right(), box.top()), (box.right(), box.bottom())]
        return polyline_path([*corners, (box.left(), box.bottom())], True)


class EllipseTool(BoxTool):
    """An ellipse, filled."""

    name, title, icon, key, kind = "ellipse", "Draw an ellipse", "tool ellipse", "E", "Ellipse"
    hint = "Drag from corner to corner; shift makes a circle"

    def outline(self, box: QRectF) -> str:
        """Four quarter arcs."""
        middle = box.center()
        return ellipse_path(middle.x(), middle.y(), box.width() / 2, box.height() / 2)
