"""The canvas: cloth, hoop, artwork, stitches, and whatever the tool draws over them."""

from typing import Literal

import shapely
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPixmap,
    QResizeEvent,
    QTransform,
    QWheelEvent,
)
from PyQt6.QtWidgets import QWidget

from jontel.app.cloth.camera import Camera
from jontel.app.cloth.fabric import fabric_brush
from jontel.app.cloth.ink import InkStore, make_ink, paint_object, sewn_until
from jontel.app.cloth.markers import paint_connections, paint_failures, paint_findings, paint_plan
from jontel.app.cloth.pictures import artwork_pixmap
from jontel.app.cloth.rulers import THICK, paint_rulers
from jontel.app.drawing import bounds_of, pen, shape_path
from jontel.app.session import Document
from jontel.app.theme import LIGHT, Theme
from jontel.app.tools.base import Spot, Tool
from jontel.data import thread_chart
from jontel.design import Design, Thread
from jontel.design.units import Unit
from jontel.sewing.plan import footprint

View = Literal["plan", "thread", "cloth"]
HIT = 1.0
"""How near, mm, a click must be to a line to mean it."""
SHARP_AFTER = 90
FRAME = 7.0
MARGIN = 160
"""How much more than the window is painted, px, so that panning shows no edge at once."""


class Canvas(QWidget):
    """Shows one document. The wheel zooms at the cursor, middle button or space pans."""

    cursor_moved = pyqtSignal(object)
    said = pyqtSignal(str)
    view_changed = pyqtSignal(str)
    tool_changed = pyqtSignal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("cloth")
        self.setAccessibleName("Cloth")
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.document: Document | None = None
        self.theme: Theme = LIGHT
        self.unit: Unit = "mm"
        self.view: View = "cloth"
        self.camera = Camera()
        self.tool = Tool(self)
        self.shows_connections = False
        self.shows_handles = True
        self.shows_artwork = True
        self.shows_findings = False
        self._ink = InkStore()
        self._scene: tuple[QPixmap, Camera, object] | None = None
        self._cursor: QPointF | None = None
        self._pan_from: QPointF | None = None
        self._space = False
        self._fitted = False
        self._sharpen = QTimer(self, singleShot=True, interval=SHARP_AFTER)
        self._sharpen.timeout.connect(self._rested)
        self._stretching = False

    # what is shown

    def show_document(self, document: Document | None) -> None:
        """Show another document."""
        if self.document is not None:
            self.document.design_changed.disconnect(self.update)
            self.document.sewn_changed.disconnect(self.update)
            self.document.selection_changed.disconnect(self.update)
            self.document.playhead_changed.disconnect(self.update)
        self.tool.cancel()
        self.document = document
        if document is not None:
            document.design_changed.connect(self.update)
            document.sewn_changed.connect(self.update)
            document.selection_changed.connect(self.update)
            document.playhead_changed.connect(self.update)
        self._fitted = False
        self._scene = None
        self.fit()

    def set_view(self, view: View) -> None:
        """Plan, thread or cloth."""
        self.view = view
        self.view_changed.emit(view)
        self.update()

    def set_tool(self, tool: Tool) -> None:
        """Work with another tool."""
        self.tool.cancel()
        self.tool = tool
        self.setCursor(tool.cursor)
        self.tool_changed.emit(tool)
        self.update()

    def set_camera(self, camera: Camera) -> None:
        """Look elsewhere."""
        self.camera = camera
        if self._stretching:
            self._sharpen.start()
        self.update()

    def zoom_by(self, factor: float) -> None:
        """Zoom about the middle of the window."""
        self.set_camera(self.camera.zoomed(factor, QRectF(self.rect()).center()))

    def fit(self) -> None:
        """Show the whole design, or the hoop of an empty one."""
        if self.document is None or self.width() < 60:
            return
        design = self.document.design
        box = bounds_of(design.objects)
        hoop = design.brief.hoop
        field = QRectF(-hoop.width / 2, -hoop.height / 2, hoop.width, hoop.height)
        box = field if box.isNull() else box.united(field) if box.width() > field.width() * 0.45 else box
        room = QRectF(THICK, THICK, self.width() - THICK, self.height() - THICK).adjusted(14, 14, -14, -14)
        margin = FRAME if box.contains(field) else 2.0
        self.set_camera(Camera.fitting(box.adjusted(-margin, -margin, margin, margin), room))
        self._fitted = True

    def look_at(self, x: float, y: float) -> None:
        """Bring a place (mm) to the middle, near enough to see its stitches."""
        middle = QRectF(self.rect()).center()
        scale = max(self.camera.scale, 14.0)
        self.set_camera(Camera(scale, middle.x() - x * scale, middle.y() - y * scale))

    def say(self, words: str) -> None:
        """Tell the user something short."""
        self.said.emit(words)

    def thread_for_new(self, design: Design) -> Thread:
        """The thread that a newly drawn object gets: the selected object's, or the first of the brief."""
        chosen = self.document.selected() if self.document else ()
        if chosen:
            return design.thread(chosen[-1].thread)
        if design.brief.threads:
            return design.brief.threads[0]
        return next(t for t in thread_chart() if t.name == "Evening blue")

    # what is where

    def object_at(self, place: QPointF) -> int | None:
        """The topmost object under a place (mm)."""
        if self.document is None:
            return None
        design = self.document.design
        spot = shapely.Point(place.x(), place.y())
        reach = min(HIT, 6 / self.camera.scale)
        for item in reversed(design.objects):
            box = shape_path(item.shape).boundingRect().adjusted(-3, -3, 3, 3)
            if not box.contains(place):
                continue
            region = footprint(item, design)
            inside = shape_path(item.shape).contains(place) if region.is_empty else region.distance(spot) <= reach
            if inside:
                return item.id
        return None

    def objects_in(self, box: QRectF) -> frozenset[int]:
        """The objects that lie wholly inside a box (mm)."""
        if self.document is None:
            return frozenset()
        objects = self.document.design.objects
        return frozenset(o.id for o in objects if box.contains(shape_path(o.shape).boundingRect()))

    # painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint everything."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), self.theme.colour("table"))
        if self.document is None:
            return
        self._paint_hoop(painter)
        self._paint_artwork(painter)
        self._paint_scene(painter)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.document.sewn is not None and (self.shows_connections or self.view == "thread"):
            paint_connections(painter, self.document.sewn, self.camera, self.theme, self.document.playhead)
        if self.document.sewn is not None:
            paint_failures(painter, self.document.sewn, self.document.design, self.camera, self.theme)
            if self.shows_findings:
                paint_findings(painter, self.document.sewn, self.camera, self.theme)
        self._paint_needle(painter)
        self.tool.paint(painter)
        painter.resetTransform()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        paint_rulers(painter, self.camera, QRectF(self.rect()), self.theme, self.unit, self._cursor)

    def _paint_hoop(self, painter: QPainter) -> None:
        assert self.document is not None
        brief = self.document.design.brief
        camera = self.camera
        hoop = brief.hoop
        corner = min(hoop.corner, hoop.width / 2, hoop.height / 2)
        field = QRectF(-hoop.width / 2, -hoop.height / 2, hoop.width, hoop.height)
        painter.setTransform(camera.transform())
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.theme.colour("hoop"))
        painter.drawRoundedRect(field.adjusted(-3.2, -3.2, 3.2, 3.2), corner + 3.2, corner + 3.2)
        painter.resetTransform()
        on_screen = QRectF(
            camera.to_screen(field.left(), field.top()), camera.to_screen(field.right(), field.bottom())
        )
        painter.setBrush(fabric_brush(brief.ground.colour, brief.ground.weave, camera.scale, camera.x, camera.y))
        painter.setPen(pen(self.theme.colour("ink", 60)))
        painter.drawRoundedRect(on_screen, corner * camera.scale, corner * camera.scale)

    def _paint_artwork(self, painter: QPainter) -> None:
        assert self.document is not None
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        for one in self.document.design.artwork:
            if not (one.visible and self.shows_artwork):
                continue
            top, low = (
                self.camera.to_screen(one.x, one.y),
                self.camera.to_screen(one.x + one.width, one.y + one.height),
            )
            painter.setOpacity(1 - one.dim)
            picture = artwork_pixmap(one)
            painter.drawPixmap(QRectF(top, low), picture, QRectF(picture.rect()))
        painter.setOpacity(1.0)

    def _scene_key(self) -> object:
        assert self.document is not None
        design = self.document.design if self.view == "plan" else None
        return (self.document.sewn, self.view, self.document.playhead, design, self.theme.name, self.size())

    def _paint_scene(self, painter: QPainter) -> None:
        """The stitches: painted once, then moved and stretched along until the camera rests."""
        key = self._scene_key()
        if self._scene is not None and self._scene[2] == key and self._scene[1] != self.camera:
            picture, then, _ = self._scene
            panned = abs(then.scale - self.camera.scale) < 1e-9 and self._still_covers(then)
            if not panned and not self._stretching:
                self._stretching = True
                self._sharpen.start()
            if panned or self._stretching:
                self._place(painter, picture, then, self.camera.scale / then.scale)
                return
        if self._scene is None or self._scene[2] != key or self._scene[1] != self.camera:
            self._scene = (self._render(), self.camera, key)
        self._place(painter, self._scene[0], self.camera, 1.0)

    def _rested(self) -> None:
        """The camera has rested: paint the stitches sharp again."""
        self._stretching = False
        self._scene = None
        self.update()

    def _still_covers(self, then: Camera) -> bool:
        step = max(abs(then.x - self.camera.x), abs(then.y - self.camera.y))
        return step <= MARGIN

    def _place(self, painter: QPainter, picture: QPixmap, then: Camera, ratio: float) -> None:
        painter.setTransform(
            QTransform(
                ratio,
                0,
                0,
                ratio,
                self.camera.x - ratio * (then.x + MARGIN),
                self.camera.y - ratio * (then.y + MARGIN),
            )
        )
        painter.drawPixmap(0, 0, picture)
        painter.resetTransform()

    def _render(self) -> QPixmap:
        """Paint the stitches (or the plan) as seen now, with a margin for panning."""
        assert self.document is not None
        density = self.devicePixelRatioF()
        wide, tall = self.width() + 2 * MARGIN, self.height() + 2 * MARGIN
        picture = QPixmap(round(wide * density), round(tall * density))
        picture.setDevicePixelRatio(density)
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        camera = self.camera.panned(MARGIN, MARGIN)
        sewn = self.document.sewn
        if self.view == "plan":
            paint_plan(painter, self.document.design, camera, self.theme)
        elif sewn is not None:
            low, high = camera.to_cloth(QPointF(0, 0)), camera.to_cloth(QPointF(wide, tall))
            visible = QRectF(low, high)
            painter.setTransform(camera.transform())
            for share, last, whole in sewn_until(sewn.shares, self.document.playhead):
                ink = self._ink.of(sewn.plan, share.first, last) if whole else make_ink(sewn.plan, share.first, last)
                thread = sewn.plan.threads[share.thread]
                paint_object(painter, ink, thread, self.view, visible, camera.scale)
        painter.end()
        return picture

    def _paint_needle(self, painter: QPainter) -> None:
        """Where the needle is at the moment shown."""
        assert self.document is not None
        sewn, row = self.document.sewn, self.document.playhead
        if sewn is None or row is None or row >= len(sewn.plan):
            return
        spot = self.camera.to_screen(*sewn.plan.xy[row].tolist())
        painter.setPen(pen(self.theme.colour("surface"), 4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(spot, 7, 7)
        painter.setPen(pen(self.theme.colour("madder"), 2))
        painter.drawEllipse(spot, 7, 7)
        painter.drawLine(spot + QPointF(0, -16), spot + QPointF(0, -7))

    # the mouse and the keys

    def _spot(self, event: QMouseEvent) -> Spot:
        return Spot(self.camera.to_cloth(event.position()), event.position(), event.modifiers())

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Left to the tool; middle, or left with space, pans."""
        assert event is not None
        self.setFocus()
        if event.button() == Qt.MouseButton.MiddleButton or (
            event.button() == Qt.MouseButton.LeftButton and self._space
        ):
            self._pan_from = event.position()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
        elif event.button() == Qt.MouseButton.LeftButton and self.document is not None:
            self.tool.press(self._spot(event))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Pan, or tell the tool."""
        assert event is not None
        self._cursor = event.position()
        place = self.camera.to_cloth(event.position())
        self.cursor_moved.emit((place.x(), place.y()))
        if self._pan_from is not None:
            step = event.position() - self._pan_from
            self._pan_from = event.position()
            self.set_camera(self.camera.panned(step.x(), step.y()))
        elif self.document is not None:
            self.tool.move(self._spot(event), bool(event.buttons() & Qt.MouseButton.LeftButton))
            self.update(0, 0, self.width(), THICK + 1)
            self.update(0, 0, THICK + 1, self.height())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Stop panning, or tell the tool."""
        assert event is not None
        if self._pan_from is not None:
            self._pan_from = None
            self.setCursor(self.tool.cursor)
        elif event.button() == Qt.MouseButton.LeftButton and self.document is not None:
            self.tool.release(self._spot(event))

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """The tool's, or on empty cloth: fit."""
        assert event is not None
        spot = self._spot(event)
        if self.document is None or self.tool.double_click(spot):
            return
        if self.object_at(spot.cloth) is None:
            self.fit()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom at the cursor."""
        assert event is not None
        self.set_camera(self.camera.zoomed(1.0015 ** event.angleDelta().y(), event.position()))

    def event(self, event: QEvent | None) -> bool:
        """Delete is the tool's while it holds something smaller than an object."""
        is_override = event is not None and event.type() == QEvent.Type.ShortcutOverride
        if (
            is_override
            and isinstance(event, QKeyEvent)
            and event.key() == Qt.Key.Key_Delete
            and self.tool.takes_delete
        ):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Space pans; the rest is the tool's, or the window's."""
        assert event is not None
        if event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._space = True
            self.setCursor(Qt.CursorShape.OpenHandCursor)
        elif event.key() == Qt.Key.Key_Escape and not self.tool.pressed_key(event):
            self.tool.cancel()
            if self.document is not None:
                self.document.select(frozenset())
        elif not self.tool.pressed_key(event):
            super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        """Let go of the space bar."""
        assert event is not None
        if event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._space = False
            self.setCursor(self.tool.cursor)
        else:
            super().keyReleaseEvent(event)

    def leaveEvent(self, event: QEvent | None) -> None:
        """The cursor left the cloth."""
        self._cursor = None
        self.cursor_moved.emit(None)
        self.update()
        super().leaveEvent(event)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Fit once, when the window first has its size; keep the middle afterwards."""
        super().resizeEvent(event)
        assert event is not None
        if not self._fitted:
            self.fit()
        elif event.oldSize().isValid():
            step = event.size() - event.oldSize()
            self.set_camera(self.camera.panned(step.width() / 2, step.height() / 2))
