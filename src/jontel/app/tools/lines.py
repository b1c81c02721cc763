"""Lines across a shape that are drawn, dragged by their ends and taken away: what the tools for them share."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QLineF, QPointF, Qt
from PyQt6.QtGui import QKeyEvent

from jontel.app.tools.base import Spot, Tool
from jontel.design.shapes import Lines, Point

if TYPE_CHECKING:
    from jontel.app.cloth.canvas import Canvas

GRAB = 9.0
LEAST_DRAG = 6.0


class LinesTool(Tool):
    """Drag for another line; drag an end of one to move it; Delete takes the chosen one away."""

    cursor = Qt.CursorShape.CrossCursor

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.start: QPointF | None = None
        self.stop: QPointF | None = None
        self.held: tuple[int, int] | None = None
        self.chosen: int | None = None

    # what a tool says of its lines

    def lines(self) -> Lines:
        """The lines of the selected object."""
        return ()

    def takes_lines(self) -> bool:
        """Whether an object that takes such lines is selected."""
        return False

    def add(self, start: Point, stop: Point) -> None:
        """Draw another line."""

    def drag_end(self, number: int, end: int, to: Point, done: bool) -> None:
        """Move an end of a line, or only show it moved while it is not ``done``."""

    def take_away(self, number: int) -> None:
        """Take a line away."""

    def clicked(self, spot: Spot) -> None:
        """The cloth was clicked, without a drag."""

    def refused(self) -> None:
        """What was clicked takes no such lines."""

    # mouse and keys

    def press(self, spot: Spot) -> None:
        """Take hold of a line's end, choose an object, or start a line."""
        self.start = self.stop = self.held = None
        camera = self.canvas.camera
        for number, line in enumerate(self.lines()):
            for end, place in enumerate(line):
                if QLineF(camera.to_screen(*place), spot.screen).length() <= GRAB:
                    self.held, self.chosen = (number, end), number
                    self.canvas.update()
                    return
        if not self.takes_lines():
            document, hit = self.canvas.document, self.canvas.object_at(spot.cloth)
            if document is not None and hit is not None:
                document.select({hit})
                if not self.takes_lines():
                    self.refused()
            return
        self.start = spot.cloth

    def move(self, spot: Spot, held: bool) -> None:
        """Draw the line, or drag its end along."""
        if not held:
            return
        self.stop = spot.cloth
        if self.held is not None:
            self.drag_end(*self.held, place_of(spot.cloth), done=False)
        self.canvas.update()

    def release(self, spot: Spot) -> None:
        """Make the edit."""
        start, held, moved = self.start, self.held, self.stop is not None
        self.start = self.stop = self.held = None
        if held is not None and moved:
            self.drag_end(*held, place_of(spot.cloth), done=True)
        elif start is not None:
            camera = self.canvas.camera
            if moved and QLineF(camera.to_screen(start.x(), start.y()), spot.screen).length() >= LEAST_DRAG:
                self.chosen = len(self.lines())
                self.add(place_of(start), place_of(spot.cloth))
            else:
                self.chosen = None
                self.clicked(spot)
        self.canvas.update()

    def takes(self, event: QKeyEvent) -> bool:
        """Delete takes away the chosen line, not the object."""
        return event.key() == Qt.Key.Key_Delete and self.chosen is not None

    def pressed_key(self, event: QKeyEvent) -> bool:
        """Delete takes the chosen line away."""
        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.chosen is not None:
            number, self.chosen = self.chosen, None
            if number < len(self.lines()):
                self.take_away(number)
            return True
        return False

    def cancel(self) -> None:
        """Let go without an edit."""
        if self.held is not None and self.canvas.document is not None:
            self.canvas.document.preview(None)
        self.start = self.stop = self.held = self.chosen = None
        self.canvas.update()

    def drawn(self) -> QLineF | None:
        """The line being drawn, in pixels."""
        if self.start is None or self.stop is None:
            return None
        camera = self.canvas.camera
        return QLineF(*(camera.to_screen(one.x(), one.y()) for one in (self.start, self.stop)))


def place_of(spot: QPointF) -> Point:
    """A place on the cloth as a design keeps it."""
    return round(spot.x(), 3), round(spot.y(), 3)
