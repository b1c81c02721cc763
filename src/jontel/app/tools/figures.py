"""Figures: dragged from corner to corner, live afterwards."""

from __future__ import annotations

import math

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter

from jontel.app.drawing import pen, shape_path
from jontel.app.tools.base import Spot
from jontel.app.tools.draw import DrawTool
from jontel.design.figures import FIGURES, FigureValues, figure_kind, shape_of
from jontel.design.figures.block import Block
from jontel.design.figures.ellipse import Ellipse
from jontel.design.figures.rectangle import Rectangle

LEAST = 1.0
"""A figure less than this wide or tall, mm, was a slip of the hand."""


class FigureTool(DrawTool):
    """Drag from corner to corner; Shift keeps both sides alike, Alt draws from the middle."""

    name, title, icon, key, kind = "figure", "Figures", "tool figure", "Q", "Figure"
    hint = "Drag from corner to corner; Shift keeps sides alike, Alt draws from the middle, Tab takes the next figure"

    start: QPointF | None = None
    stop: QPointF | None = None
    from_middle = False

    def figure(self) -> FigureValues:
        """What is drawn next, of any size."""
        document = self.canvas.document
        return document.next.figure if document is not None else FIGURES[0].values()

    def press(self, spot: Spot) -> None:
        """The first corner."""
        self.start = self.stop = self.canvas.snapped(spot).cloth

    def move(self, spot: Spot, held: bool) -> None:
        """The other corner, so far."""
        if held and self.start is not None:
            self.stop = self._corner(self.canvas.snapped(spot))
            self.canvas.update()

    def release(self, spot: Spot) -> None:
        """Make the object when it is large enough to sew."""
        if self.start is not None:
            self.stop = self._corner(self.canvas.snapped(spot))
            box = self._box()
            self.start = self.stop = None
            if box.width() >= LEAST and box.height() >= LEAST:
                figure = in_box(self.figure(), box)
                self.kind = figure_kind(figure).title
                self.finish(shape_of(figure), figure=figure)
        self.canvas.update()

    def takes(self, event: QKeyEvent) -> bool:
        """Tab is the tool's."""
        return event.key() in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab)

    def pressed_key(self, event: QKeyEvent) -> bool:
        """Tab takes the next kind of figure."""
        document = self.canvas.document
        if event.key() not in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab) or document is None:
            return False
        at = FIGURES.index(figure_kind(self.figure())) + (1 if event.key() == Qt.Key.Key_Tab else -1)
        kind = FIGURES[at % len(FIGURES)]
        document.next.take_figure(kind.values())
        self.canvas.say(f"{kind.title}: drag from corner to corner")
        self.canvas.update()
        return True

    def cancel(self) -> None:
        """Forget the box."""
        self.start = self.stop = None
        self.canvas.update()

    def _corner(self, spot: Spot) -> QPointF:
        assert self.start is not None
        self.from_middle = bool(spot.keys & Qt.KeyboardModifier.AltModifier)
        step = spot.cloth - self.start
        if spot.shift:
            side = max(abs(step.x()), abs(step.y()))
            step = QPointF(math.copysign(side, step.x()), math.copysign(side, step.y()))
        return self.start + step

    def _box(self) -> QRectF:
        assert self.start is not None and self.stop is not None
        first = self.start * 2 - self.stop if self.from_middle else self.start
        return QRectF(first, self.stop).normalized()

    def paint(self, painter: QPainter) -> None:
        """The figure so far."""
        if self.start is None or self.stop is None:
            return
        box = self._box()
        if box.width() < 0.3 or box.height() < 0.3:
            return
        painter.setTransform(self.canvas.camera.transform())
        painter.setBrush(Qt.BrushStyle.NoBrush)
        outline = shape_path(shape_of(in_box(self.figure(), box)))
        for colour, wide in (("surface", 3.6), ("accent", 1.6)):
            painter.setPen(pen(self.canvas.theme.colour(colour), wide))
            painter.drawPath(outline)
        painter.resetTransform()


class RectangleTool(FigureTool):
    """A rectangle, whatever figure was drawn last."""

    name, title, icon, key = "rectangle", "Draw a rectangle", "tool rectangle", "R"
    hint = "Drag from corner to corner; Shift makes a square, Alt draws from the middle"

    def figure(self) -> FigureValues:
        """A plain rectangle."""
        return Rectangle()


class EllipseTool(FigureTool):
    """An ellipse, whatever figure was drawn last."""

    name, title, icon, key = "ellipse", "Draw an ellipse", "tool ellipse", "E"
    hint = "Drag from corner to corner; Shift makes a circle, Alt draws from the middle"

    def figure(self) -> FigureValues:
        """A plain ellipse."""
        return Ellipse()


class BlockTool(FigureTool):
    """A block of straight satin."""

    name, title, icon, key = "block", "Draw a satin block", "tool block", "J"
    hint = "Drag from corner to corner for a block of straight satin; its rows stand upright and can lean"

    def figure(self) -> FigureValues:
        """A block."""
        return Block()


def in_box(figure: FigureValues, box: QRectF) -> FigureValues:
    """A figure as wide and tall as a box on the cloth, in its middle."""
    middle = box.center()
    place = (1.0, 0.0, 0.0, 1.0, round(middle.x(), 4), round(middle.y(), 4))
    return replace(figure, width=round(box.width(), 4), height=round(box.height(), 4), place=place)
