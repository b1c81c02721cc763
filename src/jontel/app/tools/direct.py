"""Say which way stitches lie: direction lines across a shape, and a guide that rows follow."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6.QtCore import QLineF, QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter

from jontel.app.cloth.markers import paint_direction
from jontel.app.drawing import pen
from jontel.app.tools.base import Spot, Tool
from jontel.app.tools.draw import PointsTool
from jontel.design import Area, CannotStitch, Design, Shape, StitchObject
from jontel.design.edits import change_objects
from jontel.design.kinds import kind_name, traits_of
from jontel.design.paths import polyline_path
from jontel.design.shapes import Lines, Point
from jontel.geometry.directing import lines_of, with_end_moved, with_line, without_line
from jontel.geometry.smoothing import smooth_path

if TYPE_CHECKING:
    from jontel.app.cloth.canvas import Canvas

GRAB = 9.0
LEAST_DRAG = 6.0


def directed_item(canvas: Canvas) -> StitchObject | None:
    """The one selected object whose stitches can be directed."""
    document = canvas.document
    chosen = document.selected() if document else ()
    fits = len(chosen) == 1 and bool(traits_of(chosen[0].cover).directed_by) and traits_of(chosen[0].cover).hides
    return chosen[0] if fits else None


def _takes_guide(item: StitchObject) -> bool:
    return "guide" in traits_of(item.cover).directed_by.get(kind_name(item.shape), ())


def _edge_to_edge(item: StitchObject) -> bool:
    return traits_of(item.cover).rows == "edge to edge"


class DirectionTool(Tool):
    """Drag across the selected object for another direction line; drag an end of one to move it."""

    name, title, icon, key = "direction", "Direction lines", "tool direction", "D"
    hint = "Drag across the selected object for a direction line, drag its ends to move it, Delete takes it away"
    cursor = Qt.CursorShape.CrossCursor

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.start: QPointF | None = None
        self.stop: QPointF | None = None
        self.held: tuple[int, int] | None = None
        self.chosen: int | None = None

    def _lines(self) -> Lines:
        item = directed_item(self.canvas)
        return () if item is None else lines_of(item.shape, _edge_to_edge(item))

    def press(self, spot: Spot) -> None:
        """Take hold of a line's end, choose an object, or start a line."""
        self.start = self.stop = self.held = None
        camera = self.canvas.camera
        for number, line in enumerate(self._lines()):
            for end, place in enumerate(line):
                if QLineF(camera.to_screen(*place), spot.screen).length() <= GRAB:
                    self.held, self.chosen = (number, end), number
                    self.canvas.update()
                    return
        if directed_item(self.canvas) is None:
            document, hit = self.canvas.document, self.canvas.object_at(spot.cloth)
            if document is not None and hit is not None:
                document.select({hit})
            return
        self.start = spot.cloth

    def move(self, spot: Spot, held: bool) -> None:
        """Draw the line, or drag its end along."""
        if not held:
            return
        self.stop = spot.cloth
        if self.held is not None:
            number, end = self.held
            self._try(lambda shape, satin: with_end_moved(shape, number, end, _place(spot.cloth), satin), "")
        self.canvas.update()

    def release(self, spot: Spot) -> None:
        """Make the edit."""
        start, held, moved = self.start, self.held, self.stop is not None
        self.start = self.stop = self.held = None
        if held is not None and moved:
            number, end = held
            self._try(
                lambda shape, satin: with_end_moved(shape, number, end, _place(spot.cloth), satin),
                "Move direction line",
            )
        elif start is not None and moved:
            camera = self.canvas.camera
            if QLineF(camera.to_screen(start.x(), start.y()), spot.screen).length() >= LEAST_DRAG:
                count = len(self._lines())
                self._try(
                    lambda shape, satin: with_line(shape, _place(start), _place(spot.cloth), satin),
                    "Add direction line",
                )
                self.chosen = count
        self.canvas.update()

    def takes(self, event: QKeyEvent) -> bool:
        """Delete takes away the chosen line, not the object."""
        return event.key() == Qt.Key.Key_Delete and self.chosen is not None

    def pressed_key(self, event: QKeyEvent) -> bool:
        """Delete takes the chosen line away."""
        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.chosen is not None:
            number, self.chosen = self.chosen, None
            if number < len(self._lines()):
                self._try(lambda shape, satin: without_line(shape, number, satin), "Take direction line away")
            return True
        return False

    def cancel(self) -> None:
        """Let go without an edit."""
        if self.held is not None and self.canvas.document is not None:
            self.canvas.document.preview(None)
        self.start = self.stop = self.held = self.chosen = None
        self.canvas.update()

    def _try(self, change: _Change, label: str) -> None:
        """Make an edit of the shape, or only show it when it has no ``label``."""
        document, item = self.canvas.document, directed_item(self.canvas)
        if document is None or item is None:
            return
        original = document.history.design.object(item.id) or item
        try:
            shape = change(original.shape, _edge_to_edge(item))
        except CannotStitch as refused:
            self.canvas.say(f"No line was added to “{item.name}”: {refused}.")
            return
        design: Design = change_objects(document.history.design, {item.id}, lambda one: replace(one, shape=shape))
        document.show(label, design)

    def paint(self, painter: QPainter) -> None:
        """Every line with its beads, and the one being drawn."""
        theme, camera = self.canvas.theme, self.canvas.camera
        for number, (p, q) in enumerate(self._lines()):
            paint_direction(painter, QLineF(*p, *q), camera, theme, 1.15 if number == self.chosen else 0.85)
        if self.start is not None and self.stop is not None:
            painter.setPen(pen(theme.colour("accent"), 1.6, (4, 3)))
            painter.drawLine(*(camera.to_screen(one.x(), one.y()) for one in (self.start, self.stop)))


class GuideTool(PointsTool):
    """Click along a curve that the rows of the selected fill shall follow."""

    name, title, icon, key, kind = "guide", "Guide for rows", "tool guide", "U", "Guide"
    hint = "Click along a curve that the rows shall follow; Enter finishes, Backspace takes one back"

    def complete(self) -> None:
        """Give the curve through the points to the selected fills."""
        points = [_place(p) for p in self.points]
        self.points = []
        document = self.canvas.document
        if len(points) >= 2 and document is not None:
            guide = smooth_path(points) if len(points) > 2 else polyline_path(points)
            fits = {item.id for item in document.selected() if _takes_guide(item)}
            if fits:
                document.edit(
                    "Guide rows",
                    change_objects(document.history.design, fits, lambda item: _guided(item, guide)),
                )
            else:
                self.canvas.say("Select a filled shape first: a guide leads the rows of a fill")
        self.canvas.update()


def _guided(item: StitchObject, guide: str) -> StitchObject:
    return replace(item, shape=replace(item.shape, guide=guide, lines=())) if isinstance(item.shape, Area) else item


def _place(spot: QPointF) -> Point:
    return round(spot.x(), 3), round(spot.y(), 3)


if TYPE_CHECKING:
    from collections.abc import Callable

    _Change = Callable[[Shape, bool], Shape]
