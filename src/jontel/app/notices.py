"""Short messages over the cloth: what happened, or what could not be done."""

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer
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
        over.installEventFilter(self)
        self.hide()
        self._timer = QTimer(self, singleShot=True, interval=STAYS_MS)
        self._timer.timeout.connect(self.hide)

    def tell(self, words: str, severity: str = "") -> None:
        """Show a sentence."""
        self.setText(words)
        self.setProperty("severity", severity)
        restyle(self)
        self._lay()
        self.show()
        self.raise_()
        self._timer.start()

    def _lay(self) -> None:
        """At the foot of what it lies over, in the middle."""
        over = self.parentWidget()
        if over is not None:
            self.setFixedWidth(min(620, max(240, over.width() - 80)))
            self.adjustSize()
            self.move((over.width() - self.width()) // 2, over.height() - self.height() - 16)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Stay at the foot when the window changes its size, as it does when it is first shown."""
        if event is not None and event.type() == QEvent.Type.Resize:
            self._lay()
        return super().eventFilter(watched, event)

    def mousePressEvent(self, _event: QMouseEvent | None) -> None:
        """Take the message away."""
        self.hide()
