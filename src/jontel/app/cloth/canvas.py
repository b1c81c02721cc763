"""The canvas: cloth, hoop, artwork, stitches, and whatever the tool draws over them."""

from collections.abc import Iterator
from typing import Literal

from PyQt6.QtCore import QEvent, QPoint, QPointF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
    QShowEvent,
    QTransform,
    QWheelEvent,
)
from PyQt6.QtWidgets import QWidget

from jontel.app.cloth.aids import Aids, paint_grid, paint_guides, paint_snap
from jontel.app.cloth.backdrop import Backdrop, paint_artwork
from jontel.app.cloth.camera import Camera
from jontel.app.cloth.depth import DepthMap
from jontel.app.cloth.edges import Edges
from jontel.app.cloth.finding import objects_under, picture_under
from jontel.app.cloth.markers import paint_failures, paint_findings
from jontel.app.cloth.rulers import THICK, paint_rulers
from jontel.app.cloth.scene import MARGIN, Painter, Scene, Wish
from jontel.app.drawing import bounds_of, pen, xy_of
from jontel.app.faults import FAULTS, painting
from jontel.app.jobs import Lane
from jontel.app.session import Document
from jontel.app.theme import LIGHT, Theme
from jontel.app.tools.base import Spot, Tool
from jontel.design.units import Unit
from jontel.geometry.nodes import Chains

View = Literal["plan", "thread", "cloth", "forecast"]
SHARP_AFTER = 90
AFTER_EDIT = 80
"""So many ms after an edit the cloth is painted without waiting for its stitches."""
FRAME = 7.0
TABS = (Qt.Key.Key_Tab, Qt.Key.Key_Backtab)


class Canvas(QWidget):
    """Shows one document. The wheel zooms at the cursor, middle button or space pans."""

    cursor_moved = pyqtSignal(object)
    said = pyqtSignal(str)
    view_changed = pyqtSignal(str)
    tool_changed = pyqtSignal(object)
    painted = pyqtSignal()
    length_drawn = pyqtSignal(float, object)
    brushed = pyqtSignal(object, bool)
    brush_wanted = pyqtSignal(str, float)
    colour_wanted = pyqtSignal(QPointF)
    place_chosen = pyqtSignal(QPointF, str, QPoint)

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
        self.resting: Tool | None = None
        self.aids = Aids()
        self._edges = Edges(self)
        self.shows_connections = False
        self.shows_handles = True
        self.shows_artwork = True
        self.artwork_above = False
        self.moves_pictures = False
        self.shows_findings = False
        self._keeps_needle = False
        self.depth_map = DepthMap(self.update)
        self._scenes = Painter()
        self._painters = Lane("painting", only_newest=True)
        self._scene: Scene | None = None
        self._backdrop = Backdrop()
        self._wished: Wish | None = None
        self._cursor: QPointF | None = None
        self._pan_from: QPointF | None = None
        self._space = False
        self._fitted = False
        self._soon = QTimer(self, singleShot=True, interval=AFTER_EDIT)
        self._soon.timeout.connect(self.update)
        self._sharpen = QTimer(self, singleShot=True, interval=SHARP_AFTER)
        self._sharpen.timeout.connect(self._rested)

    # what is shown

    def show_document(self, document: Document | None) -> None:
        """Show another document."""
        if self.document is not None:
            self.document.design_changed.disconnect(self._soon.start)
            self.document.sewn_changed.disconnect(self._renew)
            self.document.findings_changed.disconnect(self.update)
            self.document.selection_changed.disconnect(self.update)
            self.document.playhead_changed.disconnect(self._needle_moved)
            self.document.columns.changed.disconnect(self.update)
            self.document.forecasting.changed.disconnect(self._renew)
            self.document.forecasting.want("view", False)
            self.document.bending.changed.disconnect(self.update)
        self.tool.cancel()
        if self.resting is not None:
            self.resting.cancel()
            self.resting = None
        self.document = document
        if document is not None:
            document.design_changed.connect(self._soon.start)
            document.sewn_changed.connect(self._renew)
            document.findings_changed.connect(self.update)
            document.selection_changed.connect(self.update)
            document.playhead_changed.connect(self._needle_moved)
            document.columns.changed.connect(self.update)
            document.forecasting.changed.connect(self._renew)
            document.forecasting.want("view", self.view == "forecast")
            document.bending.changed.connect(self.update)
        self._fitted = False
        self._painters.stop()
        self._scene = self._wished = None
        self._backdrop.clear()
        self._scenes.clear()
        self.fit()

    def set_view(self, view: View) -> None:
        """Plan, thread, cloth, or cloth as it will lie."""
        self.view = view
        if self.document is not None:
            self.document.forecasting.want("view", view == "forecast")
        self.view_changed.emit(view)
        self.update()

    def set_tool(self, tool: Tool) -> None:
        """Work with another tool."""
        if tool is self.tool:
            self.tool_changed.emit(tool)
            return
        if tool.looks and self.tool.rests:
            self.resting = self.tool
        else:
            self.tool.leave()
        if not tool.looks:
            if self.resting is not None and self.resting is not tool:
                self.resting.leave()
            self.resting = None
        self.aids.snap = None
        self.tool = tool
        self.setCursor(tool.cursor)
        self.tool_changed.emit(tool)
        tool.entered()
        self.update()

    def set_camera(self, camera: Camera) -> None:
        """Look elsewhere."""
        self.camera = camera
        self.update()

    def keep_needle(self, on: bool) -> None:
        """Keep the needle in the middle while it sews, and move the hoop under it, as the machine does."""
        self._keeps_needle = on
        self._needle_moved()

    def _needle_moved(self) -> None:
        """The needle is elsewhere: the hoop follows, where it is to."""
        document = self.document
        if (
            self._keeps_needle
            and document is not None
            and document.sewn is not None
            and document.playhead is not None
        ):
            x, y = document.sewn.plan.place(document.playhead)
            middle, scale = QRectF(self.rect()).center(), self.camera.scale
            self.camera = Camera(scale, round(middle.x() - x * scale), round(middle.y() - y * scale))
        self.update()

    def zoom_by(self, factor: float) -> None:
        """Zoom about the middle of the window."""
        self.set_camera(self.camera.zoomed(factor, QRectF(self.rect()).center()))

    def fit(self) -> None:
        """Show the whole design, or the hoop of an empty one."""
        if self.document is None or self.width() < 60:
            return
        design = self.document.design
        box = bounds_of(item for item in design.objects if not item.hidden)
        hoop = design.brief.hoop
        field = QRectF(-hoop.width / 2, -hoop.height / 2, hoop.width, hoop.height)
        box = field if box.isNull() else box.united(field) if box.width() > field.width() * 0.45 else box
        room = QRectF(THICK, THICK, self.width() - THICK, self.height() - THICK).adjusted(14, 14, -14, -14)
        margin = FRAME if box.contains(field) else 2.0
        self.set_camera(Camera.fitting(box.adjusted(-margin, -margin, margin, margin), room))
        self._fitted = self.isVisible()  # before the window is laid out, its size is not the one to fit

    def show_box(self, box: QRectF) -> None:
        """Fill the window with a box (mm)."""
        room = QRectF(THICK, THICK, self.width() - THICK, self.height() - THICK).adjusted(20, 20, -20, -20)
        if not box.isNull():
            self.set_camera(Camera.fitting(box.adjusted(-0.5, -0.5, 0.5, 0.5), room))

    def show_selection(self) -> None:
        """Fill the window with what is selected."""
        if self.document is not None and self.document.selection:
            self.show_box(bounds_of(self.document.selected()))

    def show_size(self, pixels_per_mm: float) -> None:
        """Zoom about the middle of the window to so many pixels a mm."""
        self.zoom_by(pixels_per_mm / self.camera.scale)

    def look_at(self, x: float, y: float) -> None:
        """Bring a place (mm) to the middle, near enough to see its stitches."""
        middle = QRectF(self.rect()).center()
        scale = max(self.camera.scale, 14.0)
        self.set_camera(Camera(scale, middle.x() - x * scale, middle.y() - y * scale))

    def paste_at(self) -> tuple[float, float]:
        """Where what is pasted goes: under the mouse, or else in the middle of the window."""
        spot = self._cursor if self._cursor is not None else QRectF(self.rect()).center()
        return xy_of(self.camera.to_cloth(spot))

    def turn_artwork(self) -> None:
        """Show the pictures above the stitches, to draw over them, or below again."""
        self.artwork_above = not self.artwork_above
        self.update()
        self.say("Pictures above the stitches" if self.artwork_above else "Pictures below the stitches")

    def set_grid(self, step: float) -> None:
        """Show a grid of so many mm and snap to it; 0 shows none."""
        self.aids.grid = step
        self.update()

    def say(self, words: str) -> None:
        """Tell the user something short."""
        self.said.emit(words)

    def snapped(self, spot: Spot, within: Chains | None = None) -> Spot:
        """The spot that a hand means: on what is near, unless control holds that off.

        ``within`` are outlines to snap to in the place of those of the selected objects.
        """
        self.aids.snap = None
        if self.document is None or not self.aids.snaps or spot.control:
            return spot
        snap = self.aids.snapped(self.document, spot.place, self.camera.scale, within, self.shows_artwork)
        self.aids.snap = snap
        if snap is None:
            return spot
        place = QPointF(*snap.place)
        return Spot(place, self.camera.to_screen(place.x(), place.y()), spot.keys)

    # what is where

    def object_at(self, place: QPointF) -> int | None:
        """The topmost object under a place (mm), by the edges that the last job found."""
        return next(self.objects_at(place), None)

    def objects_at(self, place: QPointF) -> Iterator[int]:
        """The objects under a place (mm) from the topmost down; hidden and locked ones are not there."""
        return objects_under(place, self.document, self.camera.scale) if self.document is not None else iter(())

    def picture_at(self, place: QPointF) -> int | None:
        """The topmost picture at a place (mm), where pictures can be moved."""
        if self.document is None or not self.moves_pictures:
            return None
        return picture_under(place, self.document.history.design)

    # painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint everything."""
        with painting(self) as painter:
            self._paint(painter)

    def _paint(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), self.theme.colour("table"))
        if self.document is None:
            return
        artwork = self.document.design.artwork if self.shows_artwork else ()
        window = self.size(), self.devicePixelRatioF()
        painter.drawPixmap(
            0, 0, self._backdrop.picture(self.document.design.brief, artwork, self.camera, self.theme, *window)
        )
        self._paint_scene(painter)
        self.depth_map.paint(painter, self.document, self.camera, self.theme)
        if self.artwork_above:
            paint_artwork(painter, artwork, self.camera)
        design, box = self.document.design, QRectF(self.rect())
        paint_grid(painter, self.camera, box, self.theme, self.aids.grid, QPointF(*design.zero))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.document.sewn is not None:
            paint_failures(painter, self.document.sewn, self.document.design, self.camera, self.theme)
            if self.shows_findings:
                paint_findings(painter, self.document.sewn, self.camera, self.theme)
        self._paint_needle(painter)
        if self.resting is not None:
            self.resting.paint(painter)
        self.tool.paint(painter)
        painter.resetTransform()
        if self.aids.snap is not None and self.tool.draws | (self.tool.name == "bend"):
            paint_snap(painter, self.camera, self.theme, self.aids.snap)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        zero = self._edges.zero()
        seen = Camera(self.camera.scale, *xy_of(self.camera.to_screen(*zero)))
        paint_rulers(painter, seen, box, self.theme, self.unit, self._cursor)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint_guides(painter, self.camera, box, self.theme, self._edges.guides())

    def _wish(self) -> Wish | None:
        """What the scene shall show now."""
        assert self.document is not None
        if self.document.sewn is None:
            return None
        seen = self.document.forecasting.seen if self.view == "forecast" else None
        sewn = self.document.sewn if seen is None else seen.sewn
        return Wish(
            sewn, self.document.design, self.view, self.camera, self.size(), self.devicePixelRatioF(),
            self.document.playhead, self.shows_connections, self.theme, seen,
        )  # fmt: skip

    def _paint_scene(self, painter: QPainter) -> None:
        """The stitches as they were painted last, moved and stretched along, until painted anew aside."""
        wish = self._wish()
        if wish is None:
            return
        if self._is_news(wish):
            self._ask(wish)
        elif not self._near(wish):
            self._sharpen.start()
        if self._scene is not None:
            self._place(painter, self._scene)

    def _renew(self) -> None:
        """New stitches: have them painted before anything else is done; they are shown with the next picture."""
        wish = self._wish()
        if wish is not None and self.isVisible() and self._is_news(wish):
            self._ask(wish)
        self._soon.start()

    def _is_news(self, wish: Wish) -> bool:
        """Whether other things are to be seen than were asked for last."""
        return self._wished is None or not self._wished.same_things(wish)

    def _near(self, wish: Wish) -> bool:
        """Whether the scene that was asked for still shows all of the window, as sharp."""
        assert self._wished is not None
        then, now = self._wished.camera, wish.camera
        step = max(abs(then.x - now.x), abs(then.y - now.y))
        return abs(then.scale - now.scale) < 1e-9 and step <= MARGIN

    def _ask(self, wish: Wish) -> None:
        """Have a scene painted aside."""
        self._wished = wish
        self._painters.ask(lambda: self._scenes.paint(wish), self._show, lambda e: FAULTS.caught(e, "painting"))

    def _show(self, scene: Scene) -> None:
        """Show a scene that is ready."""
        self._scene = scene
        self._soon.stop()
        self.painted.emit()
        self.update()

    def _rested(self) -> None:
        """The camera has rested: paint the stitches sharp again."""
        wish = self._wish() if self.document is not None else None
        if wish is not None:
            self._ask(wish)

    @property
    def settled(self) -> bool:
        """Whether what is shown is what there is to show."""
        if self.document is None or self.document.sewn is None:
            return True
        wish = self._wish()
        return self._scene is not None and wish is not None and self._scene.wish.same_things(wish)

    def close_down(self) -> None:
        """End the painting thread."""
        self._painters.close()

    def _place(self, painter: QPainter, scene: Scene) -> None:
        then, now = scene.wish.camera, self.camera
        ratio = now.scale / then.scale
        painter.setTransform(
            QTransform(
                ratio, 0, 0, ratio, now.x - ratio * (then.x + MARGIN), now.y - ratio * (then.y + MARGIN)
            )
        )  # fmt: skip
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, False)
        painter.drawImage(0, 0, scene.image)
        painter.resetTransform()

    def _paint_needle(self, painter: QPainter) -> None:
        """Where the needle is at the moment shown."""
        assert self.document is not None
        sewn, row = self.document.sewn, self.document.playhead
        if sewn is None or row is None or row >= len(sewn.plan):
            return
        spot = self.camera.to_screen(*sewn.plan.place(row))
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
            if not self._edges.press(event.position()):
                self.tool.press(self._spot(event))
        elif event.button() == Qt.MouseButton.RightButton and self.document is not None:
            self.tool.right_click(self._spot(event))

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
        elif self._edges.move(event.position()):
            self.update()
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
        elif self._edges.release(event.position()):
            self.update()
        elif event.button() == Qt.MouseButton.LeftButton and self.document is not None:
            self.tool.release(self._spot(event))

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """The tool's, or on empty cloth: fit."""
        assert event is not None
        spot = self._spot(event)
        if event.button() != Qt.MouseButton.LeftButton or self._edges.over(event.position()):
            return
        if self.document is None or self.tool.double_click(spot):
            return
        if self.object_at(spot.cloth) is None:
            self.fit()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom at the cursor."""
        assert event is not None
        self.set_camera(self.camera.zoomed(1.0015 ** event.angleDelta().y(), event.position()))

    def event(self, event: QEvent | None) -> bool:
        """A key that the tool takes is no command of the window."""
        is_override = event is not None and event.type() == QEvent.Type.ShortcutOverride
        if is_override and isinstance(event, QKeyEvent) and self.tool.takes(event):
            event.accept()
            return True
        is_press = event is not None and event.type() == QEvent.Type.KeyPress
        if is_press and isinstance(event, QKeyEvent) and event.key() in TABS and self.tool.takes(event):
            self.keyPressEvent(event)  # Qt would go on to the next widget
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Space pans; the rest is the tool's, or the window's."""
        assert event is not None
        if self.tool.takes(event) and self.tool.pressed_key(event):
            return
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

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """The keys come here."""
        if event is not None and event.reason() == Qt.FocusReason.ActiveWindowFocusReason:
            self.tool.returned()
        super().focusInEvent(event)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """The keys go elsewhere."""
        self.tool.left()
        super().focusOutEvent(event)

    def leaveEvent(self, event: QEvent | None) -> None:
        """The cursor left the cloth."""
        self._cursor = None
        self.cursor_moved.emit(None)
        self.update()
        super().leaveEvent(event)

    def showEvent(self, event: QShowEvent | None) -> None:
        """Fit what was opened before there was a window to see it in."""
        super().showEvent(event)
        if not self._fitted:
            self.fit()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Fit once, when the window first has its size; keep the middle afterwards."""
        super().resizeEvent(event)
        assert event is not None
        if not self._fitted:
            self.fit()
        elif event.oldSize().isValid():
            step = event.size() - event.oldSize()
            self.set_camera(self.camera.panned(step.width() / 2, step.height() / 2))
