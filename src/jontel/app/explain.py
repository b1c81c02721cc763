"""Hold F1 over anything, and it explains itself."""

from __future__ import annotations

from PyQt6.QtCore import QPoint
from PyQt6.QtGui import QCursor
from PyQt6.QtWidgets import QAbstractButton, QApplication, QComboBox, QToolTip, QWidget

from jontel.app.panels.parts import LENGTHS, NumberField


class Explainer:
    """Tells of what is under the mouse, by the names, tips and hints that it has."""

    def __init__(self, hints: dict[str, str]) -> None:
        self._hints = hints

    def here(self) -> None:
        """Explain what the mouse is over."""
        spot = QCursor.pos()
        self.explain(QApplication.widgetAt(spot), spot)

    def quiet(self) -> None:
        """Say no more."""
        QToolTip.hideText()

    def explain(self, widget: QWidget | None, spot: QPoint) -> str:
        """Show what a widget is for beside it; returns what is shown."""
        while widget is not None and not widget.accessibleName():
            widget = widget.parentWidget()
        words = "" if widget is None else self.words(widget)
        if words:
            QToolTip.showText(spot, words, widget)
        return words

    def words(self, widget: QWidget) -> str:
        """What a widget is, what it does, and what it takes."""
        told = [widget.accessibleName()]
        hint = self._hints.get(widget.objectName(), "")
        if hint:
            told.append(hint)
        if widget.toolTip() and widget.toolTip() != told[0]:
            told.append(widget.toolTip())
        if isinstance(widget, NumberField):
            told.append(f"From {widget.words(widget.low)} to {widget.words(widget.most)}; arrow keys step.")
            if widget.kind in LENGTHS:
                told.append("Any unit can be typed, for example 2.5 mm or 0.1 in.")
            told.append("Grey is the ground's value, ink was set by hand.")
        elif isinstance(widget, QComboBox):
            told.append("One of: " + ", ".join(widget.itemText(k) for k in range(widget.count())[:12]) + ".")
        elif isinstance(widget, QAbstractButton) and not widget.isEnabled():
            told.append("Not possible with what is selected now.")
        return "\n".join(told)
