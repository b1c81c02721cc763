"""Select, move, scale, turn; drag the direction of rows and the ends of an object."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from enum import Enum, auto
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF, QTransform

from jontel.app.cloth.finding import objects_in, objects_inside
from jontel.app.cloth.markers import (
    angle_line,
    ends_of,
    handle_spots,
    paint_direction,
    paint_ends,
    paint_handles,
    paint_lines,
    paint_outline,
    turning_spot,
)
from jontel.app.drawing import bounds_of, pen, shape_path
from jontel.app.tools.base import Spot, Tool
from jontel.artwork.pictures import moved_picture
from jontel.design import Design, StitchObject
from jontel.design.edits import change_objects, pin, transform_objects, with_groups
from jontel.design.figures import FigureValues, figure_kind
from jontel.design.kinds import traits_of
from jontel.design.kinds.values import value_of
from jontel.design.paths import Matrix, inverted, transform_point
from jontel.shaping.figures import drawn, live_figure

if TYPE_CHECKING:
    from jontel.app.cloth.canvas import Canvas
    from jontel.app.session import Document

GRAB = 8.0
DRAG_FROM = 3.0


class Grip(Enum):
    """What a drag does."""

    NOTHING = auto()
    BAND = auto()
    MOVE = auto()
    SCALE = auto()
    TURN = auto()
    ANGLE = auto()
    ENTRY = auto()
    EXIT = auto()
    BEAD = auto()
    LASSO = auto()
    PICTURE = auto()


@dataclass
class Drag:
    """A drag under way: what it does, where it began, and the selection's box then (mm)."""

    grip: Grip
    start: Spot
    box: QRectF
    handle: int = 0
    moved: bool = False
    matrix: Matrix = (1, 0, 0, 1, 0, 0)
    stop: QPointF | None = None
    angle: float | None = None
    figure: FigureValues | None = None
    way: list[QPointF] = field(default_factory=list)


class SelectTool(Tool):
    """The tool for everything that is already there."""

    name, title, icon, key = "select", "Select", "select", "S"
    hint = "Click an object, or drag a box round several; Alt click takes what lies below, Alt drag is a lasso"

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.drag: Drag | None = None
        self._leaves: frozenset[int] = frozenset()

    # what is where

    def box(self) -> QRectF:
        """The selection's bounds, mm."""
        document = self.canvas.document
        return bounds_of(document.selected() if document else ())

    def _screen_box(self) -> QRectF:
        box = self.box()
        top, low = (self.canvas.camera.to_screen(p.x(), p.y()) for p in (box.topLeft(), box.bottomRight()))
        return QRectF(top, low).adjusted(-6, -6, 6, 6)

    def _single(self) -> StitchObject | None:
        document = self.canvas.document
        chosen = document.selected() if document else ()
        return chosen[0] if len(chosen) == 1 else None

    def _angle_line(self) -> QLineF | None:
        item, document = self._single(), self.canvas.document
        if item is None or document is None or not self.canvas.shows_handles:
            return None
        return angle_line(item, document.design)

    def _ends(self) -> tuple[QPointF, QPointF, QPointF] | None:
        item, document = self._single(), self.canvas.document
        if item is None or document is None or document.sewn is None or not self.canvas.shows_handles:
            return None
        piece = document.sewn.piece_of(item.id)
        return ends_of(piece) if piece is not None else None

    def _figure(self) -> FigureValues | None:
        """The figure that the one selected object is."""
        item = self._single()
        return live_figure(item) if item is not None and item.figure is not None else None

    def _beads(self) -> list[QPointF]:
        """Where the beads of the selected figure are, mm."""
        drag = self.drag
        figure = drag.figure if drag is not None and drag.figure is not None else self._figure()
        if figure is None:
            return []
        return [QPointF(*transform_point(bead.at(figure), figure.place)) for bead in figure_kind(figure).beads]

    def grip_at(self, spot: Spot) -> tuple[Grip, int]:
        """What a press at ``spot`` would take hold of."""
        document = self.canvas.document
        if document is None or not document.selection or not self.canvas.shows_handles:
            return Grip.NOTHING, 0
        camera = self.canvas.camera

        def near(place: QPointF) -> bool:
            return QLineF(camera.to_screen(place.x(), place.y()), spot.screen).length() <= GRAB

        line = self._angle_line()
        if line is not None and (near(line.p1()) or near(line.p2())):
            return Grip.ANGLE, 0 if near(line.p2()) else 1
        ends = self._ends()
        if ends is not None and near(ends[0]):
            return Grip.ENTRY, 0
        if ends is not None and near(ends[2]):
            return Grip.EXIT, 0
        for number, place in enumerate(self._beads()):
            if near(place):
                return Grip.BEAD, number
        box = self._screen_box()
        if QLineF(turning_spot(box), spot.screen).length() <= GRAB:
            return Grip.TURN, 0
        for number, place in enumerate(handle_spots(box)):
            if QLineF(place, spot.screen).length() <= GRAB:
                return Grip.SCALE, number
        return Grip.NOTHING, 0

    # the mouse

    def press(self, spot: Spot) -> None:
        """Take hold of a handle, an object, or the cloth."""
        document = self.canvas.document
        if document is None:
            return
        self._leaves = frozenset()
        grip, handle = self.grip_at(spot)
        if grip is Grip.NOTHING:
            grip = self._take(spot, document)
        self.drag = Drag(grip, spot, self.box(), handle)
        if grip is Grip.PICTURE:
            self.drag.handle = self.canvas.picture_at(spot.cloth) or 0
        if grip is Grip.BEAD:
            self.drag.figure = self._figure()

    def _take(self, spot: Spot, document: Document) -> Grip:
        """Select what is there: a group as one, with control one of it; with Alt what lies below what is selected."""
        alt = bool(spot.keys & Qt.KeyboardModifier.AltModifier)
        hits = list(self.canvas.objects_at(spot.cloth)) if alt else [self.canvas.object_at(spot.cloth)]
        hit = next(iter(hits), None)
        if hit is None:
            if not spot.shift:
                document.select(frozenset())
            if self.canvas.picture_at(spot.cloth) is not None and not alt:
                return Grip.PICTURE
            return Grip.LASSO if alt else Grip.BAND
        if alt:
            on = next((k for k, one in enumerate(hits) if one in document.selection), -1)
            hit = hits[(on + 1) % len(hits)]
            assert hit is not None
            document.select({hit})
            return Grip.MOVE
        whole = frozenset({hit}) if spot.control else with_groups(document.design, {hit})
        if spot.shift and hit not in document.selection:
            document.select(document.selection | whole)
        elif spot.shift:
            self._leaves = whole  # unless it is dragged: Shift keeps a move straight
        elif hit not in document.selection or spot.control:
            document.select(whole)
        return Grip.MOVE

    def move(self, spot: Spot, held: bool) -> None:
        """Drag along, or show what could be taken hold of."""
        drag, document = self.drag, self.canvas.document
        if document is None:
            return
        if not held or drag is None:
            self.canvas.setCursor(_CURSORS.get(self.grip_at(spot)[0], Qt.CursorShape.ArrowCursor))
            return
        if not drag.moved and QLineF(drag.start.screen, spot.screen).length() < DRAG_FROM:
            return
        drag.moved, drag.stop = True, spot.cloth
        match drag.grip:
            case Grip.MOVE:
                drag.matrix = self._moved(drag, spot)
            case Grip.SCALE:
                drag.matrix = scaling(drag, spot)
            case Grip.TURN:
                drag.matrix = turning(drag, spot)
            case Grip.ANGLE:
                self._turn_rows(drag, spot)
            case Grip.BEAD:
                self._drag_bead(drag, spot)
            case Grip.LASSO:
                drag.way.append(spot.cloth)
            case Grip.PICTURE:
                document.preview(self._with_picture(document, drag, spot))
            case _:
                pass
        self.canvas.update()

    def release(self, spot: Spot) -> None:
        """Make the edit."""
        drag, document = self.drag, self.canvas.document
        leaves, self._leaves = self._leaves, frozenset()
        self.drag = None
        if drag is None or document is None or not drag.moved:
            if document is not None and leaves:
                document.select(document.selection - leaves)
            self.canvas.update()
            return
        design, ids = document.history.design, document.selection
        place = (round(spot.cloth.x(), 3), round(spot.cloth.y(), 3))
        match drag.grip:
            case Grip.BAND:
                inside = objects_in(QRectF(drag.start.cloth, spot.cloth).normalized(), document.design)
                document.select(document.selection | inside if spot.shift else inside)
            case Grip.LASSO:
                inside = objects_inside(QPolygonF([drag.start.cloth, *drag.way]), document.design)
                document.select(document.selection | inside if spot.shift else inside)
            case Grip.PICTURE:
                document.edit("Move the picture", self._with_picture(document, drag, spot))
            case Grip.BEAD:
                if drag.figure is not None:
                    self._draw_figure(document, drag.figure, "Change the figure")
            case Grip.MOVE | Grip.SCALE | Grip.TURN:
                label = {Grip.MOVE: "Move", Grip.SCALE: "Scale", Grip.TURN: "Turn"}[drag.grip]
                document.edit(label, transform_objects(design, ids, drag.matrix))
            case Grip.ANGLE:
                document.edit("Turn rows", pin(design, ids, "angle", drag.angle))
            case Grip.ENTRY | Grip.EXIT:
                end = "entry" if drag.grip is Grip.ENTRY else "exit"
                document.edit(
                    f"Move {end}",
                    change_objects(design, ids, lambda item: replace(item, ends=replace(item.ends, **{end: place}))),
                )
            case _:
                pass
        self.canvas.update()

    def cancel(self) -> None:
        """Let go without an edit."""
        if self.drag is not None and self.canvas.document is not None:
            self.canvas.document.preview(None)
        self.drag, self._leaves = None, frozenset()
        self.canvas.update()

    def _with_picture(self, document: Document, drag: Drag, spot: Spot) -> Design:
        """The design with the picture where it is dragged."""
        _, _, _, _, x, y = self._moved(drag, spot)
        return moved_picture(document.history.design, drag.handle, x, y)

    def _drag_bead(self, drag: Drag, spot: Spot) -> None:
        document = self.canvas.document
        before = self._figure() if drag.figure is None else drag.figure
        if document is None or before is None:
            return
        bead = figure_kind(before).beads[drag.handle]
        x, y = transform_point(spot.place, inverted(before.place))
        value = value_of(type(before), bead.field)
        number = round(value.within(bead.to(before, x, y)), 3)
        drag.figure = replace(before, **{bead.field: int(number) if value.whole else number})
        self.canvas.say(f"{value.title} {number:g}")
        self._draw_figure(document, drag.figure, "")

    def _draw_figure(self, document: Document, figure: FigureValues, label: str) -> None:
        design, ids = document.history.design, document.selection
        document.show(label, change_objects(design, ids, lambda item: drawn(item, figure)))

    @staticmethod
    def _moved(drag: Drag, spot: Spot) -> Matrix:
        step = spot.cloth - drag.start.cloth
        if spot.shift:
            step = QPointF(step.x(), 0) if abs(step.x()) > abs(step.y()) else QPointF(0, step.y())
        return (1, 0, 0, 1, step.x(), step.y())

    def _turn_rows(self, drag: Drag, spot: Spot) -> None:
        document = self.canvas.document
        assert document is not None
        middle = drag.box.center()
        way = spot.cloth - middle
        angle = math.degrees(math.atan2(-way.y(), way.x()))
        angle = round(angle / 15) * 15 if spot.shift else round(angle, 1)
        drag.angle = (angle + 90) % 180 - 90
        self.canvas.say(f"Rows at {drag.angle:.1f}°")
        document.preview(pin(document.history.design, document.selection, "angle", drag.angle))

    # drawing

    def paint(self, painter: QPainter) -> None:
        """The selection, its handles, and what is being dragged."""
        document, drag = self.canvas.document, self.drag
        if document is None:
            return
        theme, camera = self.canvas.theme, self.canvas.camera
        shift = QTransform(*drag.matrix) if drag is not None and drag.moved else QTransform()
        for item in document.selected():
            paint_outline(painter, shift.map(shape_path(item.shape)), camera, theme)
            if (self.canvas.view == "plan" or traits_of(item.cover).rows != "edge to edge") and shift.isIdentity():
                paint_lines(painter, item, camera, theme)
        if drag is not None and drag.grip is Grip.BAND and drag.moved and drag.stop is not None:
            corners = [camera.to_screen(p.x(), p.y()) for p in (drag.start.cloth, drag.stop)]
            painter.setPen(pen(theme.colour("accent"), 1.0, (4, 3)))
            painter.setBrush(theme.colour("accent", 28))
            painter.drawRect(QRectF(*corners).normalized())
        if drag is not None and drag.grip is Grip.LASSO and drag.moved:
            painter.setPen(pen(theme.colour("accent"), 1.0, (4, 3)))
            painter.setBrush(theme.colour("accent", 28))
            painter.drawPolygon(QPolygonF([camera.to_screen(p.x(), p.y()) for p in (drag.start.cloth, *drag.way)]))
        if not document.selection or not self.canvas.shows_handles or not shift.isIdentity():
            return
        paint_handles(painter, self._screen_box(), theme)
        painter.setPen(pen(theme.colour("surface"), 1.2))
        painter.setBrush(theme.colour("amber"))
        for bead in self._beads():
            painter.drawEllipse(camera.to_screen(bead.x(), bead.y()), 5.0, 5.0)
        line = self._angle_line()
        if line is not None:
            paint_direction(painter, line, camera, theme)
        ends = self._ends()
        if ends is not None:
            entry, ahead, last = (camera.to_screen(p.x(), p.y()) for p in ends)
            if drag is not None and drag.moved and drag.stop is not None:
                there = camera.to_screen(drag.stop.x(), drag.stop.y())
                entry = there if drag.grip is Grip.ENTRY else entry
                last = there if drag.grip is Grip.EXIT else last
            paint_ends(painter, entry, ahead, last, theme)


def scaling(drag: Drag, spot: Spot) -> Matrix:
    """The scale that brings a handle to the mouse; corners keep the proportion unless shift is held."""
    box, handle = drag.box, drag.handle
    left, right = handle in (0, 6, 7), handle in (2, 3, 4)
    top, low = handle in (0, 1, 2), handle in (4, 5, 6)
    anchor_x = box.right() if left else box.left() if right else box.center().x()
    anchor_y = box.bottom() if top else box.top() if low else box.center().y()
    step = spot.cloth - drag.start.cloth
    wide, tall = max(box.width(), 0.1), max(box.height(), 0.1)
    sx = (wide + (step.x() if right else -step.x() if left else 0)) / wide
    sy = (tall + (step.y() if low else -step.y() if top else 0)) / tall
    sx, sy = max(sx, 0.05), max(sy, 0.05)
    if (left or right) and (top or low) and not spot.shift:
        sx = sy = max(sx, sy) if max(sx, sy) > 1 else (sx + sy) / 2
    return (sx, 0, 0, sy, anchor_x * (1 - sx), anchor_y * (1 - sy))


def turning(drag: Drag, spot: Spot) -> Matrix:
    """The turn about the box's middle that follows the mouse; shift takes steps of 15 degrees."""
    middle = drag.box.center()
    before, after = drag.start.cloth - middle, spot.cloth - middle
    angle = math.atan2(after.y(), after.x()) - math.atan2(before.y(), before.x())
    if spot.shift:
        angle = math.radians(round(math.degrees(angle) / 15) * 15)
    c, s = math.cos(angle), math.sin(angle)
    return (
        c,
        s,
        -s,
        c,
        middle.x() - c * middle.x() + s * middle.y(),
        middle.y() - s * middle.x() - c * middle.y(),
    )


_CURSORS = {
    Grip.SCALE: Qt.CursorShape.SizeAllCursor,
    Grip.TURN: Qt.CursorShape.PointingHandCursor,
    Grip.ANGLE: Qt.CursorShape.PointingHandCursor,
    Grip.ENTRY: Qt.CursorShape.PointingHandCursor,
    Grip.EXIT: Qt.CursorShape.PointingHandCursor,
}
