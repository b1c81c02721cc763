"""What every panel is: it shows a part of the current document and asks it for edits."""

from PyQt6.QtCore import QTimer, pyqtBoundSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from jontel.app.session import Document
from jontel.app.theme import LIGHT, Theme
from jontel.design.units import Unit


class Panel(QWidget):
    """Refreshes itself, once per turn of the event loop, after anything it shows has changed."""

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
        self._soon.timeout.connect(self._refresh_if_shown)

    def show_document(self, document: Document | None) -> None:
        """Show another document."""
        if self.document is not None:
            for signal in self._signals(self.document):
                signal.disconnect(self._soon.start)
        self.document = document
        if document is not None:
            for signal in self._signals(document):
                signal.connect(self._soon.start)
        self._soon.start()

    @staticmethod
    def _signals(document: Document) -> tuple[pyqtBoundSignal, ...]:
        return (document.design_changed, document.sewn_changed, document.selection_changed)

    def dress(self, theme: Theme, unit: Unit) -> None:
        """Take another theme or unit."""
        self.theme, self.unit = theme, unit
        self.rebuild()
        self._soon.start()

    def rebuild(self) -> None:
        """Make again what depends on the theme."""

    def _refresh_if_shown(self) -> None:
        if self.document is not None and self.isVisible():
            self.refresh()

    def showEvent(self, event: QShowEvent | None) -> None:
        """Be up to date when shown."""
        super().showEvent(event)
        self._soon.start()

    def refresh(self) -> None:
        """Show the document as it is now."""
