"""Place the needle points of a run by hand, one by one."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from msgspec.structs import replace
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter

from jontel.app.drawing import pen
from jontel.app.tools.base import Spot
from jontel.app.tools.draw import DrawTool
from jontel.design import Area, Line, Run, StitchObject
from jontel.design.edits import change_objects
from jontel.design.paths import polyline_path
from jontel.design.shapes import Point
from jontel.geometry.polyline import Floats, lengths, nearest_length
from jontel.stitching.covers.run import needle_points

if TYPE_CHECKING:
    from jontel.app.cloth.canvas import Canvas

GRAB = 7.0


class NeedleTool(DrawTool):
    """Drag a needle point of the selected run, click to add one, Delete takes one away.

    With no run selected, clicks sew a new run, point by point.
    """

    name, title, icon, key, kind = "needle", "Needle points", "tool needle", "N", "Run"
    hint = "Click to place needle points one by one; drag one to move it, Delete takes it away, Escape starts anew"

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.chosen: int | None = None
        self.first: Point | None = None
        self.dragged = False

    def _item(self) -> StitchObject | None:
        document = self.canvas.document
        chosen = document.selected() if document else ()
        if len(chosen) == 1 and isinstance(chosen[0].cover, Run) and isinstance(chosen[0].shape, Line | Area):
            return chosen[0]
        return None

    def points(self) -> Floats:
        """The needle points of the selected run, as they are or as they would be placed, (n, 2)."""
        item, document = self._item(), self.canvas.document
        if item is None or document is None:
            return np.zeros((0, 2))
        return needle_points(item, document.design.brief.ground)

    def press(self, spot: Spot) -> None:
        """Take hold of a point, or place one."""
        points = self.points()
        camera = self.canvas.camera
        gaps = [QLineF(camera.to_screen(*one), spot.screen).length() for one in points.tolist()]
        self.dragged = False
        if gaps and min(gaps) <= GRAB:
            self.chosen = int(np.argmin(gaps))
            self.canvas.update()
            return
        place = (round(spot.cloth.x(), 3), round(spot.cloth.y(), 3))
        if not len(points):
            self._start(place)
            return
        at = self._where(points, spot, place)
        self.chosen = at
        self._set(np.insert(points, at, place, axis=0), "Place needle point")

    def _start(self, place: Point) -> None:
        """The first point of a new run waits for the second."""
        if self.first is None:
            self.first = place
        elif self.first != place:
            first, self.first = self.first, None
            self.finish(Line(polyline_path([first, place])), Run(by_hand=True))
            self.chosen = 1
        self.canvas.update()

    def _where(self, points: Floats, spot: Spot, place: Point) -> int:
        """Before which point a new one goes: into the thread under the mouse, else after the last."""
        if len(points) < 2:
            return len(points)
        along = nearest_length(points, place)
        marks = lengths(points)
        on = np.array([np.interp(along, marks, points[:, k]) for k in (0, 1)])
        if QLineF(self.canvas.camera.to_screen(*on.tolist()), spot.screen).length() > GRAB:
            return len(points)
        return int(np.searchsorted(marks, along))

    def move(self, spot: Spot, held: bool) -> None:
        """Drag a point along."""
        if held and self.chosen is not None:
            points = self.points()
            if self.chosen < len(points):
                self.dragged = True
                points = points.copy()
                points[self.chosen] = spot.cloth.x(), spot.cloth.y()
                self._set(points, "")

    def release(self, spot: Spot) -> None:
        """Make the edit."""
        if self.dragged and self.canvas.document is not None:
            self.dragged = False
            self.canvas.document.edit("Move needle point", self.canvas.document.design)

    def double_click(self, spot: Spot) -> bool:
        """The second click placed nothing new."""
        return True

    @property
    def takes_delete(self) -> bool:
        """See ``Tool``."""
        return self.chosen is not None

    def pressed_key(self, event: QKeyEvent) -> bool:
        """Delete takes the chosen point away, Escape leaves this run."""
        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.chosen is not None:
            points = self.points()
            if self.chosen < len(points) and len(points) > 2:
                self._set(np.delete(points, self.chosen, axis=0), "Take needle point away")
                self.chosen = max(0, self.chosen - 1)
            return True
        if event.key() == Qt.Key.Key_Escape and self.canvas.document is not None and (self.first or self._item()):
            self.chosen = self.first = None
            self.canvas.document.select(frozenset())
            return True
        return False

    def cancel(self) -> None:
        """Let go."""
        if self.dragged and self.canvas.document is not None:
            self.canvas.document.preview(None)
        self.chosen, self.first, self.dragged = None, None, False
        self.canvas.update()

    def _set(self, points: Floats, label: str) -> None:
        document, item = self.canvas.document, self._item()
        if document is None or item is None:
            return
        path = polyline_path([(float(x), float(y)) for x, y in points])

        def placed(one: StitchObject) -> StitchObject:
            width = one.shape.width if isinstance(one.shape, Line) else 1.6
            cover = replace(one.cover, by_hand=True) if isinstance(one.cover, Run) else one.cover
            return replace(one, shape=Line(path, width), cover=cover)

        design = change_objects(document.history.design, {item.id}, placed)
        if label:
            document.edit(label, design)
        else:
            document.preview(design)

    def paint(self, painter: QPainter) -> None:
        """Every needle point of the run as a small square, the chosen one filled."""
        theme, camera = self.canvas.theme, self.canvas.camera
        placed = self.points().tolist() or ([self.first] if self.first is not None else [])
        spots = [camera.to_screen(x, y) for x, y in placed]
        painter.setPen(pen(theme.colour("accent"), 1.0))
        if len(spots) > 1:
            painter.drawPolyline([QPointF(one) for one in spots])
        for number, spot in enumerate(spots):
            painter.setPen(pen(theme.colour("accent"), 1.4))
            painter.setBrush(theme.colour("accent" if number == self.chosen else "field"))
            painter.drawRect(QRectF(spot.x() - 3, spot.y() - 3, 6, 6))
