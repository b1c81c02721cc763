"""The marks of a section, painted."""

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from jontel.app.theme import Theme, font
from jontel.design.kinds.section import Beads, Bows, Dashes, Mark, Points, Words

ALONG = 14.0
"""Pixels a mm at which a run is seen from the side, whatever the object's width."""


def paint_marks(
    painter: QPainter, marks: Sequence[Mark], box: QRectF, px: float, colour: QColor, theme: Theme
) -> None:
    """Paint ``marks`` in a pass's ``box`` (pixels), ``px`` pixels a mm across."""
    middle, level = box.center().x(), box.center().y()
    for mark in marks:
        match mark:
            case Beads():
                painter.setPen(QPen(colour.darker(150), 1))
                painter.setBrush(colour)
                for x in mark.places:
                    spot = QPointF(middle + x * px, level - mark.lift * box.height())
                    painter.drawEllipse(spot, mark.wide * px / 2, mark.tall * box.height() / 2)
            case Bows():
                _paint_bows(painter, mark, box, px, colour)
            case Points():
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(colour.darker(190))
                for x in mark.places:
                    painter.drawEllipse(QPointF(middle + x * px, box.top() + 9), 1.6, 1.6)
            case Dashes():
                painter.setPen(QPen(colour.darker(140), 3.5))
                reach = 130.0
                x = middle - reach
                while x < middle + reach:
                    stop = min(x + max(mark.length * ALONG - 5, 2.0), middle + reach)
                    painter.drawLine(QPointF(x, level), QPointF(stop, level))
                    x += max(mark.length * ALONG, 7.0)
            case Words():
                painter.setFont(font(8))
                painter.setPen(theme.colour("muted"))
                painter.drawText(box.adjusted(-60, 0, 60, 0), Qt.AlignmentFlag.AlignCenter, mark.text)


def _paint_bows(painter: QPainter, mark: Bows, box: QRectF, px: float, colour: QColor) -> None:
    colour = colour.darker(118) if mark.darker else colour
    middle = box.center().x()
    for k in range(4):
        raised = 5.0 * k
        painter.setPen(QPen(colour.darker(150 - 12 * k), 3.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        part = (0.0, 0.9, 0.35, 0.65)[k]
        left = middle + (mark.left + mark.first * part) * px + k
        right = middle + (mark.right - mark.second * part) * px - k
        top = box.top() - mark.lift * box.height() + 16 - raised
        arc = QRectF(left, top, max(right - left, 4.0), 12 + 1.6 * raised)
        painter.drawArc(arc, 0, 180 * 16)
        painter.setPen(QPen(colour, 2.2))
        painter.drawArc(arc, 0, 180 * 16)
