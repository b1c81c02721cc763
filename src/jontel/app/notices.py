"""Short messages over the cloth: what happened, or what could not be done."""

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QLabel, QWidget

from jontel.app.panels.parts import restyle

STAYS_MS = 9000


class Notice(QLabel):
    """One sentence at the foot of the cloth; a click or some seconds take it away."""

    def __init__(self, over: QWidget) -> None:
        super().__init__(over)
        self.setObjectName("notice")
        self.setWordWrap(True)
        self.setTextInteractionFlags(Qt.TextInteractionFlag.NoTextInteraction)
        self.hide()
        self._timer = QTimer(self, singleShot=True, interval=STAYS_MS)
        self._timer.timeout.connect(self.hide)

    def tell(self, words: str, severity: str = "") -> None:
        """Show a sentence."""
        self.setText(words)
        self.setProperty("severity", severity)
        restyle(self)
        over = self.parentWidget()
        if over is not None:
            self.setFixedWidth(min(620, max(240, over.width() - 80)))
            self.adjustSize()
            self.move((over.width() - self.width()) // 2, over.height() - self.height() - 16)
        self.show()
        self.raise_()
        self._timer.start()

    def mousePressEvent(self, _event: QMouseEvent | None) -> None:
        """Take the message away."""
        self.hide()
