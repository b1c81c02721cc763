"""What every panel is: it shows a part of the current document and asks it for edits."""

from PyQt6.QtCore import QTimer, pyqtBoundSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from jontel.app.session import Document
from jontel.app.theme import LIGHT, Theme
from jontel.design.units import Unit

AFTER_CLOTH = 25
"""Panels follow so many ms after the stitches, when the cloth has shown them."""
WAIT_FOR_STITCHES = 60
"""So many ms after an edit a panel shows it without waiting for its stitches."""


class Panel(QWidget):
    """Refreshes itself, once per turn of the event loop, after anything it shows has changed.

    After an edit it waits a moment for the stitches, which most often are there sooner, so that it need not do it
    twice.
    """

    title = ""

    def __init__(self) -> None:
        super().__init__()
        self.document: Document | None = None
        self.theme: Theme = LIGHT
        self.unit: Unit = "mm"
        self.body = QVBoxLayout(self)
        self.body.setContentsMargins(14, 12, 14, 12)
        self.body.setSpacing(8)
        self._soon = QTimer(self, singleShot=True, interval=0)
        self._soon.setObjectName(f"refresh {type(self).__name__}")
        self._soon.timeout.connect(self._refresh_if_shown)
        self._late = QTimer(self, singleShot=True, interval=WAIT_FOR_STITCHES)
        self._late.timeout.connect(self._soon.start)

    def show_document(self, document: Document | None) -> None:
        """Show another document."""
        if self.document is not None:
            self.document.design_changed.disconnect(self._edited)
            self.document.sewn_changed.disconnect(self._follow_cloth)
            for signal in self._signals(self.document):
                signal.disconnect(self._soon.start)
        self.document = document
        if document is not None:
            document.design_changed.connect(self._edited)
            document.sewn_changed.connect(self._follow_cloth)
            for signal in self._signals(document):
                signal.connect(self._soon.start)
        self._soon.start()

    @staticmethod
    def _signals(document: Document) -> tuple[pyqtBoundSignal, ...]:
        return (document.selection_changed,)

    def _edited(self) -> None:
        self._late.start(WAIT_FOR_STITCHES)

    def _follow_cloth(self) -> None:
        self._late.start(AFTER_CLOTH)

    def dress(self, theme: Theme, unit: Unit) -> None:
        """Take another theme or unit."""
        self.theme, self.unit = theme, unit
        self.rebuild()
        self._soon.start()

    def rebuild(self) -> None:
        """Make again what depends on the theme."""

    def _refresh_if_shown(self) -> None:
        self._late.stop()
        if self.document is not None and self.isVisible():
            self.refresh()

    def showEvent(self, event: QShowEvent | None) -> None:
        """Be up to date when shown."""
        super().showEvent(event)
        self._soon.start()

    def refresh(self) -> None:
        """Show the document as it is now."""
