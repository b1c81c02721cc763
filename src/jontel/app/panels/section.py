"""The build-up seen from its cut edge: cloth at the bottom, each underlay pass, the cover on top."""

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from jontel.app.drawing import paint_well, pen
from jontel.app.faults import painting
from jontel.app.panels.marks import paint_marks
from jontel.app.theme import LIGHT, Theme, font
from jontel.design import EdgesRecipe, Ground, Thread
from jontel.design.kinds import CoverRecipe, Underlay, traits_of, underlay_traits
from jontel.design.kinds.section import Cut
from jontel.design.units import Unit, format_length
from jontel.stitching.compensation import pull_share, row_pull

COVER, EDGES = "cover", "edges"


def pull_of(edges: EdgesRecipe, cover: CoverRecipe, width: float) -> float:
    """How much rows of ``width`` mm grow at each end; a satin's, which have many directions, by the common part."""
    one_way = traits_of(cover).rows == "one way"
    most = float(row_pull(edges, getattr(cover, "angle", 0.0))) if one_way else edges.pull
    some = most * float(pull_share(edges, np.asarray(width)))
    return min(some + edges.pull_percent / 100 * width, edges.pull_ceiling)


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
        with painting(self) as painter:
            self._paint(painter)

    def _paint(self, painter: QPainter) -> None:
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
            self._underlay(painter, one, number, QRectF(left, level - 18, right - left, 16), px, thread, half)
            level -= 20
        pull = pull_of(edges, cover, width)
        self._cover(painter, cover, QRectF(left, level - 25, right - left, 23), px, thread, pull, half)
        if traits_of(cover).takes_underlay:
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

    def _underlay(
        self, painter: QPainter, one: Underlay, number: int, box: QRectF, px: float, thread: Thread, half: float
    ) -> None:
        self._mark(painter, box, f"underlay {number}")
        marks = underlay_traits(one).section(one, Cut(half, 0.0, thread.width))
        paint_marks(painter, marks, box, px, QColor(thread.colour), self.theme)

    def _cover(
        self,
        painter: QPainter,
        cover: CoverRecipe,
        box: QRectF,
        px: float,
        thread: Thread,
        pull: float,
        half: float,
    ) -> None:
        self._mark(painter, box, COVER)
        marks = traits_of(cover).section(cover, Cut(half, pull, thread.width))
        paint_marks(painter, marks, box, px, QColor(thread.colour), self.theme)

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
        if cover is not None and traits_of(cover).hides:
            pull = pull_of(edges, cover, width)
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
