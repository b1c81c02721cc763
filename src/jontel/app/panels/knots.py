"""A profile drawn by hand: knots on a curve that are dragged, added and taken away."""

from PyQt6.QtCore import QEvent, QLineF, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent
from PyQt6.QtWidgets import QWidget

from jontel.app.drawing import paint_well, pen
from jontel.app.faults import painting
from jontel.app.theme import Theme
from jontel.design.kinds.values import Profile

GRAB = 9.0
STEP = 0.02
LEAST_KNOTS = 2


class KnotsView(QWidget):
    """Shows a profile over its way from left to right; values from 0 below to 1 above.

    Drag a knot, double-click to add one, Delete takes the chosen one away; the arrow keys move it.
    """

    changed = pyqtSignal(object)

    def __init__(self, name: str, title: str, theme: Theme) -> None:
        super().__init__()
        self.setObjectName(name)
        self.setAccessibleName(title)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setToolTip("Drag a knot; double-click adds one; Delete takes it away")
        self.theme = theme
        self.knots: list[tuple[float, float]] = [(0.0, 0.0), (1.0, 1.0)]
        self.chosen = 0
        self._held = False
        self.setFixedHeight(72)

    def sizeHint(self) -> QSize:
        """As wide as the panel."""
        return QSize(240, 72)

    def show_profile(self, profile: Profile) -> None:
        """Show a profile; an empty one is even."""
        if not self._held:
            self.knots = list(profile) or [(0.0, 1.0), (1.0, 1.0)]
            self.chosen = min(self.chosen, len(self.knots) - 1)
            self.update()

    def place(self, knot: tuple[float, float]) -> QPointF:
        """Where a knot is (pixels)."""
        box = self._box()
        return QPointF(box.left() + knot[0] * box.width(), box.bottom() - knot[1] * box.height())

    def _box(self) -> QRectF:
        return QRectF(self.rect()).adjusted(10, 9, -10, -9)

    def _knot_at(self, spot: QPointF) -> tuple[float, float]:
        box = self._box()
        x = min(1.0, max(0.0, (spot.x() - box.left()) / box.width()))
        y = min(1.0, max(0.0, (box.bottom() - spot.y()) / box.height()))
        return round(x, 3), round(y, 3)

    def _near(self, spot: QPointF) -> int | None:
        gaps = [QLineF(self.place(knot), spot).length() for knot in self.knots]
        best = min(range(len(gaps)), key=lambda k: gaps[k])
        return best if gaps[best] <= GRAB else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of a knot."""
        assert event is not None
        near = self._near(event.position())
        self._held = near is not None
        if near is not None:
            self.chosen = near
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag it between its neighbours."""
        assert event is not None
        if self._held:
            self._move(self._knot_at(event.position()))

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:
        """Let go and make the edit."""
        if self._held:
            self._held = False
            self.changed.emit(tuple(self.knots))

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Add a knot."""
        assert event is not None
        if self._near(event.position()) is None:
            fresh = self._knot_at(event.position())
            self.knots = sorted([*self.knots, fresh])
            self.chosen = self.knots.index(fresh)
            self.update()
            self.changed.emit(tuple(self.knots))

    def event(self, event: QEvent | None) -> bool:
        """Delete takes a knot away here, not the selected objects."""
        is_override = event is not None and event.type() == QEvent.Type.ShortcutOverride
        if is_override and isinstance(event, QKeyEvent) and event.key() == Qt.Key.Key_Delete:
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrow keys move the chosen knot, Delete takes it away, space goes to the next."""
        assert event is not None
        x, y = self.knots[self.chosen]
        moves = {
            Qt.Key.Key_Up: (x, y + STEP),
            Qt.Key.Key_Down: (x, y - STEP),
            Qt.Key.Key_Left: (x - STEP, y),
            Qt.Key.Key_Right: (x + STEP, y),
        }
        key = Qt.Key(event.key())
        if key in moves:
            self._move(moves[key])
        elif key == Qt.Key.Key_Delete and len(self.knots) > LEAST_KNOTS:
            del self.knots[self.chosen]
            self.chosen = max(0, self.chosen - 1)
        elif key == Qt.Key.Key_Space:
            self.chosen = (self.chosen + 1) % len(self.knots)
            self.update()
            return
        else:
            super().keyPressEvent(event)
            return
        self.update()
        self.changed.emit(tuple(self.knots))

    def _move(self, to: tuple[float, float]) -> None:
        k = self.chosen
        low = self.knots[k - 1][0] if k else 0.0
        high = self.knots[k + 1][0] if k + 1 < len(self.knots) else 1.0
        x = 0.0 if k == 0 else 1.0 if k == len(self.knots) - 1 else min(high, max(low, to[0]))
        self.knots[k] = (round(x, 3), round(min(1.0, max(0.0, to[1])), 3))
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The curve over a quiet ground, with its knots."""
        with painting(self) as painter:
            self._paint(painter)

    def _paint(self, painter: QPainter) -> None:
        paint_well(painter, self.rect(), self.theme)
        box = self._box()
        path = QPainterPath(QPointF(box.left(), box.bottom()))
        spots = [self.place(knot) for knot in self.knots]
        path.lineTo(QPointF(box.left(), spots[0].y()))
        for spot in spots:
            path.lineTo(spot)
        path.lineTo(QPointF(box.right(), spots[-1].y()))
        path.lineTo(box.bottomRight())
        painter.fillPath(path, self.theme.colour("accent_soft"))
        painter.setPen(pen(self.theme.colour("accent"), 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline([QPointF(box.left(), spots[0].y()), *spots, QPointF(box.right(), spots[-1].y())])
        for k, spot in enumerate(spots):
            painter.setPen(pen(self.theme.colour("accent"), 1.6))
            painter.setBrush(self.theme.colour("accent" if k == self.chosen and self.hasFocus() else "field"))
            painter.drawEllipse(spot, 4.5, 4.5)
