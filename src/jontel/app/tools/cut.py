"""Cut lines: where one column of a satin ends and the next begins."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QLineF, QRectF, Qt
from PyQt6.QtGui import QPainter

from jontel.app.cloth.markers import paint_cut
from jontel.app.drawing import pen, polygon
from jontel.app.tools.base import Spot
from jontel.app.tools.lines import LinesTool
from jontel.design import Area
from jontel.design.shapes import Lines, Point
from jontel.stitching.corrections import with_cut, with_cut_moved, without_cut

if TYPE_CHECKING:
    from jontel.app.columns import Columns

MOST_NUMBERED = 60
DISC = 9.0


class CutTool(LinesTool):
    """Drag across the selected satin for a cut line; drag an end of one to move it; click a column to choose it."""

    name, title, icon, key = "cut", "Cut lines", "tool cut", "X"
    hint = "Drag across a column where it should end; drag the ends of a cut, Delete takes it away"

    @property
    def _columns(self) -> Columns | None:
        document = self.canvas.document
        return document.columns if document is not None and document.columns.item is not None else None

    def lines(self) -> Lines:
        """The cuts of the selected satin."""
        item = self._columns.item if self._columns is not None else None
        return item.shape.columns.cuts if item is not None and isinstance(item.shape, Area) else ()

    def takes_lines(self) -> bool:
        """Whether a satin on an area is selected."""
        return self._columns is not None

    def refused(self) -> None:
        """Say what can be cut."""
        self.canvas.say("Only a satin on a drawn shape has columns that can be cut")

    def add(self, start: Point, stop: Point) -> None:
        """Cut the column."""
        if self._columns is not None:
            self._columns.change("Cut the column", lambda area: with_cut(area, start, stop))

    def drag_end(self, number: int, end: int, to: Point, done: bool) -> None:
        """Cut elsewhere, once the end is let go."""
        if self._columns is not None and done:
            self._columns.change("Move the cut", lambda area: with_cut_moved(area, number, end, to))

    def take_away(self, number: int) -> None:
        """Let the column run on."""
        if self._columns is not None:
            self._columns.change("Take the cut away", lambda area: without_cut(area, number))

    def clicked(self, spot: Spot) -> None:
        """Choose the column at a place; with Shift besides those that are."""
        columns = self._columns
        if columns is None:
            return
        wind = Qt.FillRule.WindingFill
        hit = [k for k, one in enumerate(columns.look()) if polygon(one.outline).containsPoint(spot.cloth, wind)]
        last = frozenset(hit[-1:])
        columns.choose(columns.chosen ^ last if spot.shift else last)

    def paint(self, painter: QPainter) -> None:
        """The columns with their numbers, every cut, and the one being drawn."""
        theme, camera = self.canvas.theme, self.canvas.camera
        if self._columns is not None:
            self._paint_columns(painter, self._columns)
        for number, (p, q) in enumerate(self.lines()):
            line = QLineF(*p, *q)
            if self.held is not None and self.held[0] == number and self.stop is not None:
                line = QLineF(self.stop, line.p2()) if self.held[1] == 0 else QLineF(line.p1(), self.stop)
            paint_cut(painter, line, camera, theme, number == self.chosen)
        drawn = self.drawn()
        if drawn is not None:
            painter.setPen(pen(theme.colour("ink"), 1.6, (4, 3)))
            painter.drawLine(drawn)

    def _paint_columns(self, painter: QPainter, columns: Columns) -> None:
        theme, camera = self.canvas.theme, self.canvas.camera
        found = columns.look()
        painter.setTransform(camera.transform())
        for number, one in enumerate(found):
            chosen = number in columns.chosen
            painter.setBrush(theme.colour("accent", 90 if chosen else 0))
            painter.setPen(pen(theme.colour("accent"), 1.6 if chosen else 0.9))
            painter.drawPolygon(polygon(one.outline))
        painter.resetTransform()
        for number, one in enumerate(found if len(found) <= MOST_NUMBERED else ()):
            chosen = number in columns.chosen
            middle = camera.to_screen(*one.middle)
            painter.setPen(pen(theme.colour("accent"), 1.2))
            painter.setBrush(theme.colour("accent" if chosen else "surface"))
            painter.drawEllipse(middle, DISC, DISC)
            painter.setPen(theme.colour("on_accent" if chosen else "ink"))
            box = QRectF(middle.x() - DISC, middle.y() - DISC, 2 * DISC, 2 * DISC)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, str(number + 1))
