"""Rulers along the top and the left of the cloth, in the user's unit."""

import math

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from jontel.app.cloth.camera import Camera
from jontel.app.drawing import pen
from jontel.app.theme import Theme, font
from jontel.design.units import MM_PER, Unit

THICK = 22


def _step(scale: float, unit: Unit) -> float:
    """The distance between numbered ticks, in the unit: 1, 2 or 5 times a power of ten, 60 px or more."""
    wanted = 58 / (scale * MM_PER[unit])
    power = 10 ** math.floor(math.log10(wanted))
    answer: float = next(power * k for k in (1, 2, 5, 10) if power * k >= wanted)
    return answer


def paint_rulers(
    painter: QPainter, camera: Camera, size: QRectF, theme: Theme, unit: Unit, cursor: QPointF | None
) -> None:
    """Paint both rulers over the edge of the canvas."""
    painter.fillRect(QRectF(0, 0, size.width(), THICK), theme.colour("surface"))
    painter.fillRect(QRectF(0, 0, THICK, size.height()), theme.colour("surface"))
    painter.setFont(font(7.2))
    step = _step(camera.scale, unit)
    mm = MM_PER[unit]
    for level in (True, False):
        origin, length = (camera.x, size.width()) if level else (camera.y, size.height())
        first = math.floor((THICK - origin) / camera.scale / mm / step * 5)
        last = math.ceil((length - origin) / camera.scale / mm / step * 5)
        ticks, numbers = [], []
        for k in range(first, last + 1):
            at = round(origin + k * step / 5 * mm * camera.scale) + 0.5
            if at < THICK:
                continue
            tall = 8 if k % 5 == 0 else 4
            ticks.append(QLineF(at, THICK - tall, at, THICK) if level else QLineF(THICK - tall, at, THICK, at))
            if k % 5 == 0:
                numbers.append((at, f"{k * step / 5:g}".replace("-", "−")))
        painter.setPen(pen(theme.colour("faint")))
        painter.drawLines(ticks)
        painter.setPen(theme.colour("muted"))
        for at, words in numbers:
            if level:
                painter.drawText(QRectF(at + 3, 0, 60, 13), Qt.AlignmentFlag.AlignLeft, words)
            else:
                painter.save()
                painter.translate(1, at - 3)
                painter.rotate(-90)
                painter.drawText(QRectF(0, 0, 60, 13), Qt.AlignmentFlag.AlignLeft, words)
                painter.restore()
    painter.fillRect(QRectF(0, 0, THICK, THICK), theme.colour("surface"))
    painter.setPen(theme.colour("muted"))
    painter.drawText(QRectF(0, 0, THICK, THICK), Qt.AlignmentFlag.AlignCenter, unit)
    painter.setPen(pen(theme.colour("line")))
    painter.drawLine(QLineF(0, THICK + 0.5, size.width(), THICK + 0.5))
    painter.drawLine(QLineF(THICK + 0.5, 0, THICK + 0.5, size.height()))
    if cursor is not None:
        painter.setPen(pen(theme.colour("accent"), 1.4))
        painter.drawLine(QLineF(cursor.x(), 0, cursor.x(), THICK))
        painter.drawLine(QLineF(0, cursor.y(), THICK, cursor.y()))
