"""How large is a mm on this screen: a card held against it tells."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QSlider, QVBoxLayout, QWidget

from jontel.app.drawing import pen
from jontel.app.panels.parts import label
from jontel.app.theme import LIGHT

CARD = 85.6
"""A bank card is so many mm wide, and 53.98 tall (ISO/IEC 7810, size ID-1)."""
TALL = 53.98
FEWEST, MOST = 200, 1400
"""A card is between so many pixels wide."""


class Card(QWidget):
    """A card of so many pixels, with a ruler of 80 mm along it."""

    def __init__(self, pixels: int) -> None:
        super().__init__()
        self.pixels = pixels
        self.setMinimumHeight(260)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Draw it."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        mm = self.pixels / CARD
        box = QRectF(8, 8, self.pixels, TALL * mm)
        painter.setPen(pen(LIGHT.colour("accent"), 2.0))
        painter.setBrush(LIGHT.colour("accent", 30))
        painter.drawRoundedRect(box, 3.2 * mm, 3.2 * mm)
        painter.setPen(pen(LIGHT.colour("ink"), 1.0))
        for k in range(81):
            high = 4.0 if k % 10 == 0 else 2.6 if k % 5 == 0 else 1.4
            painter.drawLine(int(8 + k * mm), 8, int(8 + k * mm), int(8 + high * mm))
        painter.end()


class CardDialog(QDialog):
    """Slide until the drawing is as wide as a bank card, or its ruler as long as a real one."""

    def __init__(self, parent: QWidget, scale: float) -> None:
        super().__init__(parent)
        self.setWindowTitle("Measure this screen")
        column = QVBoxLayout(self)
        words = "Hold a bank card against the screen, or a ruler, and slide until the drawing is as wide."
        column.addWidget(label(words, wrap=True))
        start = min(MOST, max(FEWEST, round(scale * CARD)))
        self.card = Card(start)
        column.addWidget(self.card)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setObjectName("cardWidth")
        self.slider.setAccessibleName("Width of the card on the screen")
        self.slider.setRange(FEWEST, MOST)
        self.slider.setValue(start)
        self.slider.valueChanged.connect(self._slid)
        column.addWidget(self.slider)
        standard = QDialogButtonBox.StandardButton
        foot = QDialogButtonBox(standard.Ok | standard.Cancel)
        foot.accepted.connect(self.accept)
        foot.rejected.connect(self.reject)
        column.addWidget(foot)
        self.resize(max(620, start + 40), 420)

    def _slid(self, pixels: int) -> None:
        self.card.pixels = pixels
        self.card.update()

    @property
    def scale(self) -> float:
        """Pixels a mm, as it stands."""
        return self.card.pixels / CARD


def ask_card(parent: QWidget, scale: float) -> float | None:
    """Pixels a mm, as a person found them; ``None`` when it was left."""
    dialog = CardDialog(parent, scale)
    return dialog.scale if dialog.exec() == QDialog.DialogCode.Accepted else None
