"""What a region of a picture will be, told where the mouse is, and chosen by a click before anything is made."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QTransform

from jontel.app.drawing import pen, shape_path
from jontel.app.theme import font
from jontel.app.tools.base import Spot, Tool
from jontel.design.kinds import traits_of
from jontel.design.resolve import resolve
from jontel.design.words import grouped, minutes

ROOM, HIGH, ASIDE = 9, 22, 14
"""How far words stand off the rim of their label, how high it is, how far from the mouse, px."""


class RegionTool(Tool):
    """Point at a region to read what it will be; click to have it sewn otherwise."""

    name, title, icon, key = "regions", "Regions of a picture", "tool regions", "I"
    hint = "Point at a region to see what it will be; click it to choose otherwise"
    cursor = Qt.CursorShape.PointingHandCursor
    looks = True
    at: QPointF | None = None

    def move(self, spot: Spot, held: bool) -> None:
        """Another region may be under the mouse."""
        self.at = spot.cloth
        self.canvas.update()

    def release(self, spot: Spot) -> None:
        """Ask what becomes of what is there."""
        found = self.reading(spot.cloth)
        words = found[1] if found is not None else ""
        self.canvas.place_chosen.emit(spot.cloth, words, self.canvas.mapToGlobal(spot.screen.toPoint()))

    def left(self) -> None:
        """The mouse points at nothing any more."""
        self.cancel()

    def cancel(self) -> None:
        """Point at nothing."""
        self.at = None
        self.canvas.update()

    def reading(self, place: QPointF) -> tuple[int, str] | None:
        """The object at a place, and what it is, in words."""
        document, identity = self.canvas.document, self.canvas.object_at(place)
        item = document.design.object(identity) if document is not None and identity is not None else None
        if document is None or item is None:
            return None
        cover = resolve(item, document.design.ground_for(item)).cover
        angle = getattr(cover, "angle", None)
        kind = traits_of(item.cover).title.lower() + (f" at {angle:g}°" if angle is not None else "")
        words = [item.name, kind, document.design.thread(item.thread).name]
        share = document.sewn.by_object.get(item.id) if document.sewn is not None else None
        if share is not None:
            words += [f"{grouped(share.stitches)} stitches", minutes(share.stop - share.start)]
        return item.id, " · ".join(words)

    def paint(self, painter: QPainter) -> None:
        """The region's edge, and a label beside the mouse."""
        found = self.reading(self.at) if self.at is not None else None
        if found is None or self.at is None or self.canvas.document is None:
            return
        theme, camera = self.canvas.theme, self.canvas.camera
        item = self.canvas.document.design.object(found[0])
        assert item is not None
        painter.setPen(pen(theme.colour("accent"), 2.0))
        painter.setBrush(theme.colour("accent", 40))
        painter.drawPath(QTransform(camera.transform()).map(shape_path(item.shape)))
        painter.setFont(font(8.6))
        spot, wide = camera.to_screen(self.at.x(), self.at.y()), self.canvas.width()
        broad = painter.fontMetrics().horizontalAdvance(found[1]) + 2 * ROOM
        left = min(max(spot.x() + ASIDE, 4.0), max(wide - broad - 4.0, 4.0))
        box = QRectF(left, spot.y() + ASIDE, broad, HIGH)
        painter.setPen(pen(theme.colour("line")))
        painter.setBrush(theme.colour("field"))
        painter.drawRoundedRect(box, 6, 6)
        painter.setPen(theme.colour("ink"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, found[1])
