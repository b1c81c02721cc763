"""The rulers as handles: guides are drawn out of them, moved and dropped back; their corner sets the zero."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from msgspec.structs import replace
from PyQt6.QtCore import QLineF, QPointF, QRectF

from jontel.app.cloth.aids import guide_on_screen
from jontel.app.cloth.rulers import THICK
from jontel.design.design import MOST_GUIDES, Design, Guide
from jontel.design.shapes import Point

if TYPE_CHECKING:
    from jontel.app.cloth.canvas import Canvas

GRAB = 7.0
Drag = tuple[Literal["guide", "zero"], int | None, bool]
"""What is dragged; which guide, or none for a new one; whether it is upright."""


class Edges:
    """Both rulers of a cloth."""

    def __init__(self, canvas: Canvas) -> None:
        self._canvas = canvas
        self._drag: Drag | None = None
        self._at: QPointF | None = None

    def over(self, spot: QPointF) -> bool:
        """Whether a pixel is on a ruler."""
        return spot.x() < THICK or spot.y() < THICK

    def _design(self) -> Design | None:
        document = self._canvas.document
        return document.history.design if document is not None else None

    def zero(self) -> Point:
        """Where the rulers count from, as it is dragged just now."""
        design = self._design()
        if self._drag is not None and self._drag[0] == "zero" and self._at is not None:
            place = self._canvas.camera.to_cloth(self._at)
            return place.x(), place.y()
        return design.zero if design is not None else (0.0, 0.0)

    def guides(self) -> list[tuple[bool, float]]:
        """All guides, as one is dragged just now."""
        design = self._design()
        known = [(one.upright, one.at) for one in design.guides] if design is not None else []
        if self._drag is None or self._drag[0] != "guide" or self._at is None:
            return known
        _, number, upright = self._drag
        dragged = (upright, self._value(upright, self._at))
        if number is None:
            return [*known, dragged]
        return [dragged if k == number else one for k, one in enumerate(known)]

    def _value(self, upright: bool, spot: QPointF) -> float:
        place = self._canvas.camera.to_cloth(spot)
        return round(place.x() if upright else place.y(), 2)

    def press(self, spot: QPointF) -> bool:
        """Take hold of a guide's mark, draw a new one out of a ruler, or the zero out of their corner."""
        if not self.over(spot):
            return False
        self._at = spot
        if spot.x() < THICK and spot.y() < THICK:
            self._drag = ("zero", None, False)
            return True
        size = QRectF(self._canvas.rect())
        for number, (upright, at) in enumerate(self.guides()):
            _, mark = guide_on_screen(self._canvas.camera, size, upright, at)
            if QLineF(mark, spot).length() <= GRAB + 4:
                self._drag = ("guide", number, upright)
                return True
        self._drag = ("guide", None, spot.x() < THICK)
        return True

    def move(self, spot: QPointF) -> bool:
        """Drag along."""
        if self._drag is None:
            return False
        self._at = spot
        if self._drag[0] == "guide":
            self._canvas.say(f"{'x' if self._drag[2] else 'y'} {self._value(self._drag[2], spot):.2f} mm")
        return True

    def release(self, spot: QPointF) -> bool:
        """Make the edit: a guide that is dropped on a ruler goes; a click on the corner brings the zero back."""
        drag, self._drag, self._at = self._drag, None, None
        document = self._canvas.document
        if drag is None or document is None:
            return drag is not None
        design = document.history.design
        sort, number, upright = drag
        if sort == "zero":
            place = self._canvas.camera.to_cloth(spot)
            zero = (0.0, 0.0) if self.over(spot) else (round(place.x(), 2), round(place.y(), 2))
            if zero != design.zero:
                document.edit("Move the zero", replace(design, zero=zero))
            return True
        guides = list(design.guides)
        fresh = Guide(upright, self._value(upright, spot))
        gone = spot.x() < THICK if upright else spot.y() < THICK
        if number is not None and gone:
            del guides[number]
        elif number is not None:
            guides[number] = fresh
        elif not gone and len(guides) < MOST_GUIDES:
            guides.append(fresh)
        if tuple(guides) != design.guides:
            label = "Remove a guide" if gone else "Move a guide" if number is not None else "Add a guide"
            document.edit(label, replace(design, guides=tuple(guides)))
        return True
