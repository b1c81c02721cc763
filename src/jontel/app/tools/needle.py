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
from jontel.design.kinds import traits_of
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

    draws, makes = False, False
    name, title, icon, key, kind = "needle", "Needle points", "tool needle", "N", "Run"
    hint = "Click to place needle points one by one; drag one to move it, Delete takes it away, Escape starts anew"

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.chosen: tuple[int, int] | None = None
        self.first: Point | None = None
        self.dragged = False

    def _item(self) -> StitchObject | None:
        document = self.canvas.document
        chosen = document.selected() if document else ()
        if len(chosen) == 1 and traits_of(chosen[0].cover).by_hand and isinstance(chosen[0].shape, Line | Area):
            return chosen[0]
        return None

    def paths(self) -> list[Floats]:
        """The needle points of every path of the selected run, as they are or would be placed, (n, 2) each."""
        item, document = self._item(), self.canvas.document
        return [] if item is None or document is None else needle_points(item, document.design.brief.ground)

    def press(self, spot: Spot) -> None:
        """Take hold of a point, or place one."""
        paths, camera = self.paths(), self.canvas.camera
        self.dragged = False
        gaps = [
            (QLineF(camera.to_screen(*point), spot.screen).length(), path, at)
            for path, points in enumerate(paths)
            for at, point in enumerate(points.tolist())
        ]
        nearest = min(gaps, default=(float("inf"), 0, 0))
        if nearest[0] <= GRAB:
            self.chosen = nearest[1:]
            self.canvas.update()
            return
        place = (round(spot.cloth.x(), 3), round(spot.cloth.y(), 3))
        if not paths:
            self._start(place)
            return
        path, at = self._where(paths, spot, place)
        paths[path] = np.insert(paths[path], at, place, axis=0)
        self.chosen = path, at
        self._set(paths, "Place needle point")

    def _start(self, place: Point) -> None:
        """The first point of a new run waits for the second."""
        if self.first is None:
            self.first = place
        elif self.first != place:
            first, self.first = self.first, None
            self.finish(Line(polyline_path([first, place])), Run(by_hand=True))
            self.chosen = 0, 1
        self.canvas.update()

    def _where(self, paths: list[Floats], spot: Spot, place: Point) -> tuple[int, int]:
        """Before which point of which path a new one goes: into the thread under the mouse, else after the last."""
        for path, points in enumerate(paths):
            along, marks = nearest_length(points, place), lengths(points)
            on = np.array([np.interp(along, marks, points[:, k]) for k in (0, 1)])
            if QLineF(self.canvas.camera.to_screen(*on.tolist()), spot.screen).length() <= GRAB:
                return path, int(np.searchsorted(marks, along))
        return len(paths) - 1, len(paths[-1])

    def move(self, spot: Spot, held: bool) -> None:
        """Drag a point along."""
        paths = self.paths() if held else []
        if self.chosen is not None and self._there(paths):
            path, at = self.chosen
            self.dragged = True
            paths[path] = paths[path].copy()
            paths[path][at] = spot.cloth.x(), spot.cloth.y()
            self._set(paths, "")

    def _there(self, paths: list[Floats]) -> bool:
        """Whether the chosen point is still one of ``paths``."""
        return self.chosen is not None and self.chosen[0] < len(paths) and self.chosen[1] < len(paths[self.chosen[0]])

    def release(self, spot: Spot) -> None:
        """Make the edit."""
        if self.dragged and self.canvas.document is not None:
            self.dragged = False
            self.canvas.document.edit("Move needle point", self.canvas.document.design)

    def double_click(self, spot: Spot) -> bool:
        """The second click placed nothing new."""
        return True

    def takes(self, event: QKeyEvent) -> bool:
        """Delete takes away the chosen point, not the object."""
        return event.key() == Qt.Key.Key_Delete and self.chosen is not None

    def pressed_key(self, event: QKeyEvent) -> bool:
        """Delete takes the chosen point away, Escape leaves this run."""
        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.chosen is not None:
            paths = self.paths()
            path, at = self.chosen
            if self._there(paths) and len(paths[path]) > 2:
                paths[path] = np.delete(paths[path], at, axis=0)
                self.chosen = path, max(0, at - 1)
                self._set(paths, "Take needle point away")
            return True
        if event.key() == Qt.Key.Key_Escape and self.canvas.document is not None and (self.first or self._item()):
            self.chosen, self.first = None, None
            self.canvas.document.select(frozenset())
            return True
        return False

    def cancel(self) -> None:
        """Let go."""
        if self.dragged and self.canvas.document is not None:
            self.canvas.document.preview(None)
        self.chosen, self.first, self.dragged = None, None, False
        self.canvas.update()

    def _set(self, paths: list[Floats], label: str) -> None:
        document, item = self.canvas.document, self._item()
        if document is None or item is None:
            return
        path = " ".join(polyline_path([(float(x), float(y)) for x, y in points]) for points in paths)

        def placed(one: StitchObject) -> StitchObject:
            width = one.shape.width if isinstance(one.shape, Line) else 1.6
            cover = replace(one.cover, by_hand=True) if traits_of(one.cover).by_hand else one.cover
            return replace(one, shape=Line(path, width), cover=cover)

        design = change_objects(document.history.design, {item.id}, placed)
        document.show(label, design)

    def paint(self, painter: QPainter) -> None:
        """Every needle point of the run as a small square, the chosen one filled."""
        theme, camera = self.canvas.theme, self.canvas.camera
        placed = [points.tolist() for points in self.paths()] or ([[self.first]] if self.first is not None else [])
        for path, points in enumerate(placed):
            spots = [camera.to_screen(x, y) for x, y in points]
            painter.setPen(pen(theme.colour("accent"), 1.0))
            if len(spots) > 1:
                painter.drawPolyline([QPointF(one) for one in spots])
            for number, spot in enumerate(spots):
                painter.setPen(pen(theme.colour("accent"), 1.4))
                painter.setBrush(theme.colour("accent" if (path, number) == self.chosen else "field"))
                painter.drawRect(QRectF(spot.x() - 3, spot.y() - 3, 6, 6))
