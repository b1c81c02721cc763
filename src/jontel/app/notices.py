"""Short messages over the cloth: what happened, or what could not be done."""

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QLabel, QPushButton, QWidget

from jontel.app.panels.parts import restyle
from jontel.app.theme import ANSWER

STAYS_MS, ASKS_MS = 9000, 25_000
ACROSS = 12
"""An answer stands so far off the rim, px."""


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
        self._yes: Callable[[], object] | None = None
        self.answer = QPushButton(self)
        self.answer.setObjectName("noticeAnswer")
        self.answer.setProperty("kind", "small")
        self.answer.clicked.connect(self._answered)
        self.answer.hide()

    def tell(self, words: str, severity: str = "") -> None:
        """Show a sentence."""
        self._show(words, severity, "", None)

    def ask(self, words: str, answer: str, yes: Callable[[], object]) -> None:
        """Show a sentence with the one thing that may be done about it; it stays longer, then nothing is done."""
        self._show(words, "", answer, yes)
        self._timer.start(ASKS_MS)

    def _answered(self) -> None:
        yes, self._yes = self._yes, None
        self.hide()
        if yes is not None:
            yes()

    def _show(self, words: str, severity: str, answer: str, yes: Callable[[], object] | None) -> None:
        self._yes = yes
        self.answer.setText(answer)
        self.answer.setAccessibleName(answer)
        self.answer.setVisible(yes is not None)
        self.setText(words)
        self.setProperty("severity", severity)
        self.setProperty("asks", "yes" if yes is not None else "")
        restyle(self)
        self._lay()
        self.show()
        self.raise_()
        self._timer.start(STAYS_MS)

    def _lay(self) -> None:
        """At the foot of what it lies over, in the middle."""
        over = self.parentWidget()
        if over is not None:
            self.setFixedWidth(min(620, max(240, over.width() - 80)))
            self.adjustSize()
            self.answer.resize(ANSWER - ACROSS, self.answer.sizeHint().height())
            self.answer.move(self.width() - ANSWER, (self.height() - self.answer.height()) // 2)
            self.move((over.width() - self.width()) // 2, over.height() - self.height() - 16)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Stay at the foot when the window changes its size, as it does when it is first shown."""
        if event is not None and event.type() == QEvent.Type.Resize:
            self._lay()
        return super().eventFilter(watched, event)

    def mousePressEvent(self, _event: QMouseEvent | None) -> None:
        """Take the message away."""
        self.hide()
