"""The needle track: the whole sew-out drawn in machine time."""

import math
from dataclasses import dataclass
from itertools import pairwise
from operator import is_

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPixmap, QPolygonF, QWheelEvent
from PyQt6.QtWidgets import QWidget

from jontel.app.cloth.ink import paint_lines
from jontel.app.drawing import pen
from jontel.app.faults import painting
from jontel.app.planner import Sewn
from jontel.app.session import Document
from jontel.app.theme import LIGHT, Theme, font
from jontel.app.whatif import WhatIf
from jontel.design.order import Step
from jontel.design.steps import members
from jontel.geometry.arrays import Ints
from jontel.geometry.polyline import Floats
from jontel.sewing.estimate import Share
from jontel.sewing.gathering import resewn
from jontel.sewing.stranding import strand_mates
from jontel.stitching.stitches import Kind

RULER, BLOCKS, TALL = 20, 24, 34
STRIP = 17
"""How high the strip of the steps above the blocks is, px, where there are steps."""
EDGE = 12
DRAG_FROM = 4
LEAST, NARROW = 1.5, 3.0
"""Blocks are at least so wide, px; those narrower than the second are plain bars."""
LEAST_WORDS = 30.0
"""Between two stops nearer than this, px, there is no room for the first one's words."""
AFTER_CLOTH = 30
"""The track follows so many ms after the stitches, when the cloth has shown them."""
FINE = 4
"""Narrow blocks end within so many parts of a pixel."""
NEAREST = 60.0
"""Pixels a second at most: single stitches at 800 a minute are then 4.5 px apart."""


@dataclass
class _Drag:
    start: QPointF
    share: Share | None
    moved: bool = False
    x: float = 0.0


class NeedleTrack(QWidget):
    """Blocks are objects in their thread's colour; the playhead is the needle.

    Drag a block to resew it earlier or later, drag above the blocks to move the playhead, wheel to zoom.
    """

    zoom_changed = pyqtSignal(float)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("needleTrack")
        self.setAccessibleName("Needle track")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.document: Document | None = None
        self.theme: Theme = LIGHT
        self.zoom = 0.0
        self._from = 0.0
        self._drag: _Drag | None = None
        self._painted: tuple[QPixmap, tuple[object, ...], tuple[object, ...]] | None = None
        self.what_if = WhatIf(self)
        self.what_if.told.connect(self.update)
        self._soon = QTimer(self, singleShot=True, interval=AFTER_CLOTH)
        self._soon.timeout.connect(self.update)

    def sizeHint(self) -> QSize:
        """Ruler, steps, blocks, marks."""
        return QSize(900, 78 + self._strip)

    @property
    def _strip(self) -> int:
        return STRIP if self.document is not None and self.document.design.steps else 0

    @property
    def _top(self) -> int:
        """Where the blocks begin, px."""
        return BLOCKS + self._strip

    def show_document(self, document: Document | None) -> None:
        """Show another document."""
        if self.document is not None:
            self.document.sewn_changed.disconnect(self._soon.start)
            self.document.sewn_changed.disconnect(self._fit)
            for signal in (self.document.selection_changed, self.document.playhead_changed):
                signal.disconnect(self.update)
        self.document = document
        self._painted = None
        if document is not None:
            document.sewn_changed.connect(self._soon.start)
            document.sewn_changed.connect(self._fit)
            for signal in (document.selection_changed, document.playhead_changed):
                signal.connect(self.update)
        self._from = 0.0
        self._fit()
        self.update()

    def _fit(self) -> None:
        """Be as high as what is shown."""
        if self.minimumHeight() != 78 + self._strip:
            self.setMinimumHeight(78 + self._strip)
            self.updateGeometry()

    # time and pixels

    @property
    def _sewn(self) -> Sewn | None:
        return self.document.sewn if self.document else None

    def _total(self) -> float:
        sewn = self._sewn
        return max(1.0, sewn.totals.seconds) if sewn else 1.0

    def scale(self) -> float:
        """Pixels a second, from the whole design (zoom 0) to single stitches (zoom 1), evenly in ratio."""
        fit = (self.width() - 2 * EDGE) / self._total()
        return float(fit * max(1.0, NEAREST / fit) ** self.zoom)

    def x_of(self, seconds: float) -> float:
        """The pixel of a moment."""
        return EDGE + (seconds - self._from) * self.scale()

    def seconds_at(self, x: float) -> float:
        """The moment at a pixel."""
        return (x - EDGE) / self.scale() + self._from

    def set_zoom(self, zoom: float, about: float | None = None) -> None:
        """Zoom, keeping the moment at pixel ``about`` (or the playhead, or the middle) where it is."""
        if about is None:
            about = self.x_of(self._needle_seconds())
            if not 0 <= about <= self.width():
                about = self.width() / 2
        moment = self.seconds_at(about)
        self.zoom = min(1.0, max(0.0, zoom))
        self._from = moment - (about - EDGE) / self.scale()
        self._hold()
        self.zoom_changed.emit(self.zoom)
        self.update()

    def _hold(self) -> None:
        shown = (self.width() - 2 * EDGE) / self.scale()
        self._from = min(max(0.0, self._from), max(0.0, self._total() - shown))

    def _needle_seconds(self) -> float:
        sewn, row = self._sewn, self.document.playhead if self.document else None
        if sewn is None or not len(sewn.plan):
            return 0.0
        return sewn.totals.seconds if row is None else sewn.estimate.at(min(row, len(sewn.plan) - 1))

    def follow(self) -> None:
        """Scroll so that the playhead is in sight."""
        x = self.x_of(self._needle_seconds())
        if not EDGE <= x <= self.width() - EDGE:
            self._from = self._needle_seconds() - 0.1 * (self.width() - 2 * EDGE) / self.scale()
            self._hold()

    def share_at(self, spot: QPointF) -> Share | None:
        """The block under a pixel."""
        sewn = self._sewn
        if sewn is None or not self._top <= spot.y() <= self._top + TALL:
            return None
        moment = self.seconds_at(spot.x())
        return next((s for s in sewn.shares if s.start <= moment <= s.stop), None)

    def block(self, share: Share) -> QRectF:
        """Where an object's block is, pixels."""
        left, right = self.x_of(share.start), self.x_of(share.stop)
        return QRectF(left, self._top, max(LEAST, right - left - 1), TALL)

    def step_at(self, spot: QPointF) -> Step | None:
        """The step whose strip is under a pixel."""
        if not BLOCKS - 3 <= spot.y() < self._top:
            return None
        return next((step for step, box in self._strips() if box.left() <= spot.x() <= box.right()), None)

    def _strips(self) -> list[tuple[Step, QRectF]]:
        """Where each run of a step is, pixels."""
        sewn, document = self._sewn, self.document
        if sewn is None or document is None or not self._strip:
            return []
        found: list[tuple[Step, QRectF]] = []
        before = 0
        for share in sewn.shares:
            item = document.design.object(share.object)
            step = document.design.step(item.step) if item is not None else None
            if step is not None:
                left, right = self.x_of(share.start), self.x_of(share.stop)
                if step.id == before:
                    found[-1][1].setRight(right - 1)
                else:
                    found.append((step, QRectF(left, BLOCKS - 2, max(2.0, right - left - 1), STRIP - 2)))
            before = step.id if step is not None else 0
        return found

    # painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint the ruler, the blocks, the marks, the playhead."""
        with painting(self) as painter:
            self._paint(painter)

    def _paint(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        sewn = self._sewn
        if sewn is None or not sewn.shares:
            painter.setPen(self.theme.colour("muted"))
            words = "Nothing to sew yet: bring in artwork, or draw an object." if sewn else "Stitching …"
            words = words if self.document else "No design is open: open one, or drop a drawing on the cloth."
            painter.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter, words)
            return
        painter.drawPixmap(0, 0, self._standing(sewn))
        if self._drag is not None and self._drag.moved and self._drag.share is not None:
            self._landing(painter, sewn)
        self._playhead(painter)

    def _standing(self, sewn: Sewn) -> QPixmap:
        """All that stays where it is while the needle moves: painted once."""
        assert self.document is not None
        density = self.devicePixelRatioF()
        design, chosen = self.document.design, self.document.selection
        things = (sewn, design, self.theme)
        place = (chosen, self.zoom, self._from, self.size(), density)
        known = self._painted
        if known is None or known[2] != place or not all(map(is_, known[1], things)):
            picture = QPixmap(round(self.width() * density), round(self.height() * density))
            picture.setDevicePixelRatio(density)
            picture.fill(Qt.GlobalColor.transparent)
            painter = QPainter(picture)
            try:
                painter.setRenderHint(QPainter.RenderHint.Antialiasing)
                self._ruler(painter)
                self._blocks(painter, sewn)
                self._together(painter, sewn)
                self._marks(painter, sewn)
            finally:
                painter.end()
            known = self._painted = (picture, things, place)
        return known[0]

    def _ruler(self, painter: QPainter) -> None:
        painter.setFont(font(7.2))
        steps = (1, 2, 5, 10, 30, 60, 120, 300, 600, 1200, 3600)
        step = next((s for s in steps if s * self.scale() >= 74), 3600)
        first, last = int(max(0, self.seconds_at(0)) // step), int(self.seconds_at(self.width()) // step)
        for k in range(first, last + 1):
            if k * step > self._total():
                break
            x = round(self.x_of(k * step)) + 0.5
            painter.setPen(pen(self.theme.colour("faint")))
            painter.drawLine(QLineF(x, 10, x, RULER))
            painter.setPen(self.theme.colour("muted"))
            words = f"{k * step // 60} min" if step >= 60 else f"{k * step // 60}:{k * step % 60:02d}"
            if x + 6 + painter.fontMetrics().horizontalAdvance(words) < self.width():
                painter.drawText(QPointF(x + 3, 16), words)

    def _blocks(self, painter: QPainter, sewn: Sewn) -> None:
        """The narrow ones as plain bars all at once; the others one by one."""
        chosen, top = self.document.selection if self.document else frozenset[int](), self._top
        at = EDGE + (sewn.estimate.starts - self._from) * self.scale()
        left, right = at[:-1], np.maximum(at[1:] - 1, at[:-1] + LEAST)
        seen = (right >= 0) & (left <= self.width())
        selected = np.isin(sewn.plan.tally.owners, list(chosen))
        bars = seen & (right - left < NARROW) & ~selected
        if bars.any():
            colours = np.array([thread.rgb for thread in sewn.plan.threads])[sewn.plan.tally.threads[bars]]
            self._bars(painter, left[bars], right[bars], colours)
        for number in np.flatnonzero(seen & ~bars).tolist():
            first, last = float(left[number]), float(right[number])
            box = QRectF(first, top, last - first, TALL)
            self._block(painter, sewn, sewn.shares[number], box, bool(selected[number]))

    def _bars(self, painter: QPainter, left: Floats, right: Floats, colours: Ints) -> None:
        """Bars from ``left`` to ``right`` (n,), in order, of ``colours`` (n, 3): one row of pixels, drawn out."""
        density = self.devicePixelRatioF()
        wide = math.ceil(self.width() * density)
        x = (np.arange(wide * FINE) + 0.5) / (FINE * density)
        bar = np.searchsorted(left, x, side="right") - 1
        on = np.flatnonzero((bar >= 0) & (x < right[bar]))
        row = np.zeros((wide * FINE, 4))
        row[on] = np.column_stack([colours, np.full(len(colours), 255)])[bar[on]]
        pixels = row.reshape(wide, FINE, 4).mean(axis=1).round().astype(np.uint8)
        image = QImage(pixels.tobytes(), wide, 1, 4 * wide, QImage.Format.Format_RGBA8888_Premultiplied)
        painter.drawImage(QRectF(0, self._top, wide / density, TALL), image)

    def _block(self, painter: QPainter, sewn: Sewn, share: Share, box: QRectF, chosen: bool) -> None:
        colour = QColor(sewn.plan.threads[share.thread].colour)
        painter.setPen(pen(colour.darker(130)) if not chosen else pen(self.theme.colour("accent"), 2.4))
        painter.setBrush(colour)
        radius = min(4.0, box.width() / 3)
        painter.drawRoundedRect(box, radius, radius)
        if self.scale() > 12:
            self._single_stitches(painter, sewn, share, colour)
        room = box.intersected(QRectF(self.rect())).adjusted(7, 0, -4, 0)
        known = sewn.entries.get(share.object) if room.width() > 26 else None
        if known is not None:
            item = known[0].item
            painter.setFont(font(8.2))
            painter.setPen(QColor("#1f2624") if colour.lightnessF() > 0.55 else QColor("#f8f5ee"))
            words = painter.fontMetrics().elidedText(item.name, Qt.TextElideMode.ElideRight, int(room.width()))
            painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, words)

    def _single_stitches(self, painter: QPainter, sewn: Sewn, share: Share, colour: QColor) -> None:
        piece = sewn.plan.pieces[share.number]
        x = EDGE + (share.start + piece.seconds[piece.kind == Kind.STITCH] - self._from) * self.scale()
        x = x[(x > 0) & (x < self.width())]
        painter.setPen(pen(colour.darker(140) if colour.lightnessF() > 0.4 else colour.lighter(170)))
        low = self._top + TALL
        painter.drawLines([QLineF(v, low - 7, v, low - 2) for v in x.tolist()])

    def _together(self, painter: QPainter, sewn: Sewn) -> None:
        """Steps as a strip with their names, strands as a line below their blocks."""
        painter.setFont(font(7.6))
        for step, box in self._strips():
            painter.setPen(pen(self.theme.colour("faint")))
            painter.setBrush(self.theme.colour("strip"))
            painter.drawRoundedRect(box, 3, 3)
            room = box.intersected(QRectF(self.rect())).adjusted(6, 0, -4, 0)
            if room.width() > 20:
                painter.setPen(self.theme.colour("ink"))
                words = painter.fontMetrics().elidedText(step.name, Qt.TextElideMode.ElideRight, int(room.width()))
                painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, words)
        low = self._top + TALL
        objects = self.document.design.objects if self.document is not None else ()
        stranded = [item.id for item in objects if item.strand is not None]
        painter.setPen(pen(self.theme.colour("accent"), 2.2))
        for share in (sewn.shares[k] for k in np.flatnonzero(np.isin(sewn.plan.tally.owners, stranded)).tolist()):
            box = self.block(share)
            joined = sewn.plan.pieces[share.number].around.cut_after
            painter.drawLine(QLineF(box.left(), low + 1, box.right() - (3 if joined else -2), low + 1))

    def _marks(self, painter: QPainter, sewn: Sewn) -> None:
        """Trims below the blocks, thread changes across them, stops as amber signs."""
        plan = sewn.plan
        low = self._top + TALL
        starts = sewn.estimate.starts
        painter.setPen(pen(self.theme.colour("muted"), 1.5))
        self._ticks(painter, sewn.trims, low + 3, low + 8)
        changes = plan.tally.counts[:, Kind.THREAD] > 0
        changes[0] = False
        painter.setPen(pen(self.theme.colour("ink"), 1.6))
        self._ticks(painter, starts[:-1][changes], self._top - 3, low + 3)
        painter.setFont(font(7.2))
        painter.setPen(pen(self.theme.colour("amber"), 1.4))
        stops = [(self.x_of(sewn.estimate.at(row)), words) for row, words in plan.stops.items()]
        for (x, words), (following, _) in pairwise([*stops, (float(self.width()), "")]):
            painter.setBrush(self.theme.colour("amber_soft"))
            sign = QPolygonF(
                [QPointF(x + dx, low + 9 + dy) for dx, dy in ((-3, -6), (3, -6), (6, 0), (3, 6), (-3, 6), (-6, 0))]
            )
            painter.drawPolygon(sign)
            wide = painter.fontMetrics().horizontalAdvance(words) + 8 if words and following > x + LEAST_WORDS else 0
            if wide and x + 8 + wide < following - 6:
                painter.fillRect(QRectF(x + 8, low + 3, wide, 13), self.theme.colour("strip"))
                painter.drawText(QPointF(x + 11, low + 13), words)

    def _ticks(self, painter: QPainter, seconds: Floats, top: float, low: float) -> None:
        """Upright lines at moments (n,); of those that fall on the same half pixel one."""
        x = np.unique(np.round(2 * (EDGE + (seconds - self._from) * self.scale()))) / 2
        x = x[(x > -2) & (x < self.width() + 2)]
        ends = np.stack([np.column_stack([x, np.full(len(x), y)]) for y in (top, low)], axis=1)
        paint_lines(painter, ends)

    def _landing(self, painter: QPainter, sewn: Sewn) -> None:
        assert self._drag is not None and self._drag.share is not None
        before = self._before(sewn, self._drag.x)
        moment = next((s.start for s in sewn.shares if s.object == before), sewn.totals.seconds)
        x = self.x_of(moment)
        painter.setPen(pen(self.theme.colour("accent"), 3))
        painter.drawLine(QLineF(x, self._top - 5, x, self._top + TALL + 5))
        ghost = self.block(self._drag.share).translated(self._drag.x - self._drag.start.x(), 0)
        painter.setBrush(self.theme.colour("accent", 50))
        painter.setPen(pen(self.theme.colour("accent"), 1.4))
        painter.drawRoundedRect(ghost, 4, 4)
        if self.what_if.words:
            painter.setFont(font(7.5))
            words = painter.fontMetrics().boundingRect(self.what_if.words).adjusted(-6, -3, 6, 3)
            words.moveTo(int(min(max(x + 8, EDGE), self.width() - words.width() - EDGE)), int(self._top + 6))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(self.theme.colour("surface", 235))
            painter.drawRoundedRect(QRectF(words), 4, 4)
            painter.setPen(self.theme.colour("ink"))
            painter.drawText(words, Qt.AlignmentFlag.AlignCenter, self.what_if.words)

    def _playhead(self, painter: QPainter) -> None:
        x = self.x_of(self._needle_seconds())
        painter.setPen(pen(self.theme.colour("madder"), 1.6))
        painter.drawLine(QLineF(x, 4, x, self._top + TALL + 10))
        painter.setBrush(self.theme.colour("madder"))
        painter.drawPolygon(QPolygonF([QPointF(x - 6, 1), QPointF(x + 6, 1), QPointF(x, 9)]))

    # the mouse and the keys

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of a block or the playhead."""
        assert event is not None
        if self.document is None or event.button() != Qt.MouseButton.LeftButton:
            return
        share, step = self.share_at(event.position()), self.step_at(event.position())
        if step is not None:
            ids = members(self.document.design, step.id)
            self.document.select(ids)
            sewn = self._sewn
            share = next((one for one in sewn.shares if one.object in ids), None) if sewn is not None else None
        self._drag = _Drag(event.position(), share)
        if share is None:
            self.seek(event.position().x())
        elif event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.document.select(self.document.selection ^ strand_mates(self.document.design, {share.object}))
        elif share.object not in self.document.selection:
            self.document.select(strand_mates(self.document.design, {share.object}))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag along."""
        assert event is not None
        drag, sewn = self._drag, self._sewn
        if drag is None:
            share = self.share_at(event.position())
            item = self.document.design.object(share.object) if share and self.document else None
            self.setToolTip(f"{item.name}: {share.stitches} stitches" if item and share else "")
            return
        if drag.share is None:
            self.seek(event.position().x())
        elif sewn is not None and abs(event.position().x() - drag.start.x()) >= DRAG_FROM:
            drag.moved, drag.x = True, event.position().x()
            if self.document is not None:
                self.what_if.ask(self.document, self._before(sewn, drag.x))
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Resew the dragged blocks where they were let go."""
        assert event is not None
        drag, sewn, document = self._drag, self._sewn, self.document
        self._drag = None
        self.what_if.end()
        if drag is not None and drag.moved and sewn is not None and document is not None:
            before = self._before(sewn, event.position().x())
            made = resewn(document.history.design, document.selection, before)
            document.edit("Resew in another order", made)
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Show the whole sew-out again."""
        self.set_zoom(0.0)

    def _before(self, sewn: Sewn, x: float) -> int | None:
        """The object before which a block let go at ``x`` is sewn; ``None`` is last."""
        moment = self.seconds_at(x)
        chosen = self.document.selection if self.document else frozenset()
        for share in sewn.shares:
            if share.object not in chosen and moment < (share.start + share.stop) / 2:
                return share.object
        return None

    def seek(self, x: float) -> None:
        """Move the playhead to a pixel."""
        sewn = self._sewn
        if self.document is None or sewn is None or not len(sewn.plan):
            return
        row = sewn.estimate.row_at(self.seconds_at(x))
        self.document.show_moment(None if row >= len(sewn.plan) - 1 else row)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom at the cursor; with shift, scroll."""
        assert event is not None
        turn = event.angleDelta().y() or event.angleDelta().x()
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self._from -= turn / self.scale() * 0.6
            self._hold()
            self.update()
        else:
            self.set_zoom(self.zoom + turn / 1600, event.position().x())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Plus and minus zoom."""
        assert event is not None
        if event.key() in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.set_zoom(self.zoom + 0.1)
        elif event.key() == Qt.Key.Key_Minus:
            self.set_zoom(self.zoom - 0.1)
        else:
            super().keyPressEvent(event)
