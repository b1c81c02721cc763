"""The build-up seen from its cut edge: cloth at the bottom, each underlay pass, the cover on top."""

import math

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from jontel.app.drawing import paint_well, pen
from jontel.app.theme import LIGHT, Theme, font
from jontel.design import EdgesRecipe, Ground, Thread
from jontel.design.covers import BareRecipe, CoverRecipe, FillRecipe, RunRecipe, SatinRecipe, faded
from jontel.design.underlays import CentreRun, EdgeRun, Underlay
from jontel.design.units import Unit, format_length
from jontel.stitching.compensation import row_pull

COVER, EDGES = "cover", "edges"


def pull_of(edges: EdgesRecipe, cover: CoverRecipe) -> float:
    """The pull at each end of a fill's rows, mm; of a satin's, whose rows have many directions, the common part."""
    return float(row_pull(edges, cover.angle)) if isinstance(cover, FillRecipe) else edges.pull


class SectionView(QWidget):
    """A live drawing of one object's layers; a click on a layer chooses it.

    It shows the left edge of the object in true proportion across: spacing, inset and compensation are
    the object's own values at a scale of 1 to about 40.
    """

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("section")
        self.setAccessibleName("Build-up of the selected object")
        self.theme: Theme = LIGHT
        self.unit: Unit = "mm"
        self.layer = COVER
        self._what: tuple[CoverRecipe, tuple[Underlay, ...], EdgesRecipe, Ground, Thread, float] | None = None
        self._spots: list[tuple[QRectF, str]] = []
        self.setMinimumHeight(150)
        self.setMouseTracking(True)

    def sizeHint(self) -> QSize:
        """As wide as the panel."""
        return QSize(270, 150)

    def show_build_up(
        self,
        cover: CoverRecipe,
        underlay: tuple[Underlay, ...],
        edges: EdgesRecipe,
        ground: Ground,
        thread: Thread,
        width: float,
    ) -> None:
        """Show these layers; ``width`` is the object's narrow side in mm."""
        self._what = (cover, underlay, edges, ground, thread, width)
        self.setFixedHeight(84 + 20 * max(1, len(underlay)))
        self.update()

    def choose(self, layer: str) -> None:
        """Mark a layer as the one being tuned."""
        self.layer = layer
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Choose the layer under the mouse."""
        assert event is not None
        for box, layer in self._spots:
            if box.contains(event.position()):
                self.chosen.emit(layer)
                return

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint the layers from the cloth up."""
        painter = QPainter(self)
        paint_well(painter, self.rect(), self.theme)
        if self._what is None:
            return
        cover, underlay, edges, ground, thread, width = self._what
        self._spots = []
        px = max(9.0, min(26.0, 150 / max(width, 0.5)))
        half = min(width / 2, 92 / px)
        middle = self.width() / 2
        left, right = middle - half * px, middle + half * px
        floor = self.height() - 20.0
        self._cloth(painter, ground, floor)
        level = floor - 4
        for number, one in enumerate(underlay):
            self._underlay(painter, one, number, QRectF(left, level - 18, right - left, 16), px, thread)
            level -= 20
        self._cover(painter, cover, QRectF(left, level - 25, right - left, 23), px, thread, edges)
        if not isinstance(cover, RunRecipe):
            self._edges(painter, edges, left, right, px, level - 30, floor, width)

    def _cloth(self, painter: QPainter, ground: Ground, floor: float) -> None:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QBrush(QColor(ground.colour)))
        painter.drawRect(QRectF(12, floor, self.width() - 24, 9))
        painter.setBrush(QBrush(QColor(ground.colour).darker(118)))
        painter.drawRect(QRectF(12, floor + 9, self.width() - 24, 4))
        painter.setPen(pen(QColor(ground.colour).darker(135)))
        for x in range(14, self.width() - 14, 5):
            painter.drawLine(QPointF(x, floor + 2), QPointF(x + 3, floor + 7))

    def _mark(self, painter: QPainter, box: QRectF, layer: str) -> None:
        self._spots.append((box.adjusted(-30, -2, 30, 2), layer))
        if layer == self.layer:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(self.theme.colour("accent_soft"))
            painter.drawRoundedRect(QRectF(8, box.top() - 2, self.width() - 16, box.height() + 4), 4, 4)

    def _beads(self, painter: QPainter, box: QRectF, every: float, size: QPointF, colour: QColor) -> None:
        """Threads cut across: ovals ``every`` px."""
        every = max(every, 2.0)
        count = max(1, math.floor(box.width() / every) + 1)
        start = box.center().x() - (count - 1) * every / 2
        painter.setPen(QPen(colour.darker(150), 1))
        painter.setBrush(colour)
        for k in range(count):
            painter.drawEllipse(QPointF(start + k * every, box.center().y()), size.x(), size.y())

    def _underlay(
        self, painter: QPainter, one: Underlay, number: int, box: QRectF, px: float, thread: Thread
    ) -> None:
        layer = f"underlay {number}"
        self._mark(painter, box, layer)
        colour = QColor(thread.colour)
        inset = one.inset * px
        inner = box.adjusted(inset, 3, -inset, -3)
        bead = QPointF(0.2 * px * 1.1, 4)
        match one:
            case EdgeRun():
                for x in (inner.left(), inner.right()):
                    self._beads(painter, QRectF(x, inner.top(), 0, inner.height()), 9, bead, colour)
            case CentreRun():
                self._beads(painter, QRectF(inner.center().x(), inner.top(), 0, inner.height()), 9, bead, colour)
            case _:
                self._beads(painter, inner, one.spacing * px, bead, colour)

    def _cover(
        self,
        painter: QPainter,
        cover: CoverRecipe,
        box: QRectF,
        px: float,
        thread: Thread,
        edges: EdgesRecipe,
    ) -> None:
        self._mark(painter, box, COVER)
        colour = QColor(thread.colour)
        pull = min(pull_of(edges, cover), edges.pull_ceiling) * px
        match cover:
            case RunRecipe(length=length):
                painter.setPen(QPen(colour.darker(140), 3.5))
                x, y = 24.0, box.center().y()
                step = length * 14
                while x < self.width() - 24:
                    painter.drawLine(QPointF(x, y), QPointF(min(x + step - 5, self.width() - 24.0), y))
                    x += step
            case SatinRecipe():
                self._satin(painter, cover, box.adjusted(-pull, 0, pull, 0), px, colour)
            case FillRecipe():
                painter.setPen(Qt.PenStyle.NoPen)
                size = QPointF(thread.width * px / 2 * 1.02, 9)
                self._rows(painter, cover, box.adjusted(-pull, 0, pull, 0), px, size, colour)
            case BareRecipe():
                painter.setFont(font(8))
                painter.setPen(self.theme.colour("muted"))
                painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "no cover")

    def _rows(
        self, painter: QPainter, cover: FillRecipe, box: QRectF, px: float, size: QPointF, colour: QColor
    ) -> None:
        """A fill cut across its rows: they stand apart as they fade, keep off a ragged rim, lie under a border."""
        inner = box.adjusted(cover.ragged * px * 0.5, 0, -cover.ragged * px * 0.5, 0)
        if cover.fade == "none":
            self._beads(painter, inner, cover.spacing * px, size, colour)
        else:
            painter.setPen(QPen(colour.darker(150), 1))
            painter.setBrush(colour)
            x = inner.left()
            while x <= inner.right():
                painter.drawEllipse(QPointF(x, inner.center().y()), size.x(), size.y())
                opened = faded(cover.fade, cover.fade_profile, (x - inner.left()) / max(inner.width(), 1.0))
                x += max(2.0, (cover.spacing + (cover.fade_to - cover.spacing) * min(1.0, max(0.0, opened))) * px)
        if cover.border == "run":
            for x in (box.left(), box.right()):
                painter.drawEllipse(QPointF(x, box.top()), size.x(), 4)
        elif cover.border == "satin":
            half = cover.border_width * px / 2
            for x in (box.left(), box.right()):
                self._floats(painter, QRectF(x - half, box.top() - 4, 2 * half, box.height()), colour)

    def _satin(self, painter: QPainter, cover: SatinRecipe, box: QRectF, px: float, colour: QColor) -> None:
        """Satin seen along its rows: layers on each other, feathered edges, needle points inside rows."""
        for below in range(min(cover.layers, 4) - 1, 0, -1):
            inset = min(below * cover.layer_inset * px, box.width() / 2 - 3)
            self._floats(painter, box.adjusted(inset, 4 + 2 * below, -inset, 0), colour.darker(118))
        reach = cover.feather_length * px * (1 if cover.feather_way == "inwards" else -1)
        first = reach if cover.feather in ("first", "both") else 0.0
        second = reach if cover.feather in ("second", "both") else 0.0
        self._floats(painter, box, colour, first, second)
        if cover.texture != "none" or (cover.split > 0 and box.width() / px > cover.split):
            apart = (cover.texture_length if cover.texture != "none" else cover.split) * px
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour.darker(190))
            x = box.left() + apart
            while x < box.right() - 4:
                painter.drawEllipse(QPointF(x, box.top() + 9), 1.6, 1.6)
                x += apart

    def _floats(
        self, painter: QPainter, box: QRectF, colour: QColor, first: float = 0.0, second: float = 0.0
    ) -> None:
        """Threads that bow from edge to edge; ``first`` and ``second`` px draw every other one in, or out."""
        for k in range(4):
            lift = 5.0 * k
            painter.setPen(QPen(colour.darker(150 - 12 * k), 3.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            part = (0.0, 0.9, 0.35, 0.65)[k]
            left, right = box.left() + k + first * part, box.right() - k - second * part
            arc = QRectF(left, box.top() + 16 - lift, max(right - left, 4.0), 12 + 1.6 * lift)
            painter.drawArc(arc, 0, 180 * 16)
            painter.setPen(QPen(colour, 2.2))
            painter.drawArc(arc, 0, 180 * 16)

    def _edges(
        self,
        painter: QPainter,
        edges: EdgesRecipe,
        left: float,
        right: float,
        px: float,
        top: float,
        floor: float,
        width: float,
    ) -> None:
        """The drawn edge dashed, the sewn one in accent, and both widths in figures."""
        cover = self._what[0] if self._what else None
        pull = 0.0
        if isinstance(cover, FillRecipe | SatinRecipe):
            pull = min(pull_of(edges, cover) + edges.pull_percent / 100 * width, edges.pull_ceiling)
        painter.setPen(pen(self.theme.colour("ink"), 1.2, (3, 3)))
        for x in (left, right):
            painter.drawLine(QPointF(x, top + 4), QPointF(x, floor))
        if pull > 0:
            painter.setPen(pen(self.theme.colour("accent"), 1.6))
            for x, sign in ((left, -1), (right, 1)):
                out = x + sign * pull * px
                painter.drawLine(QPointF(out, top - 4), QPointF(out, floor))
                tip = QPointF(out + sign * 9, top)
                painter.drawLine(QPointF(out + sign * 2, top), tip)
                painter.drawLine(tip, tip + QPointF(-sign * 4, -3))
                painter.drawLine(tip, tip + QPointF(-sign * 4, 3))
        box = QRectF(0, 4, self.width(), 16)
        self._spots.append((box, EDGES))
        painter.setFont(font(8))
        painter.setPen(self.theme.colour("accent" if self.layer == EDGES else "muted"))
        words = f"drawn {format_length(width, self.unit, 1)}"
        if pull > 0:
            words += f"  ·  sewn {format_length(width + 2 * pull, self.unit, 1)}"
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
