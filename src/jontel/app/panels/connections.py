"""Connections of the whole design: where they are cut, how thread is locked, how long it may float."""

from msgspec import Struct
from msgspec.structs import replace
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from jontel.app.panels.form import ValuesForm
from jontel.app.panels.parts import NumberField, PinnedRow
from jontel.app.session import Document
from jontel.app.theme import Theme
from jontel.design.order import Connections
from jontel.design.units import Unit, format_length


class ConnectionsEditor(QWidget):
    """Edits the rules that all objects follow which do not say otherwise."""

    def __init__(self, document: Document, theme: Theme, unit: Unit) -> None:
        super().__init__()
        self._document, self._unit = document, unit
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.cut = NumberField("designCutOver", "Cut what shows over", "length", 0.0, 50.0, 0.5)
        self.cut.entered.connect(lambda value: self._set(replace(self._rules, cut_over=value)))
        self.cut.released.connect(self._release)
        self.row = PinnedRow("Cut what shows over", self.cut, self._release, theme)
        column.addWidget(self.row)
        self.form = ValuesForm(self._rules, theme, unit, "connections-")
        self.form.changed.connect(self._take)
        column.addWidget(self.form)
        self.refresh()

    @property
    def _rules(self) -> Connections:
        return self._document.design.connections

    def refresh(self) -> None:
        """Show the rules."""
        rules = self._rules
        self.row.show_pinned(rules.cut_over is not None)
        over = self._document.design.brief.machine.trim_over if rules.cut_over is None else rules.cut_over
        self.cut.show_value(over, rules.cut_over is None, self._unit)
        self.form.show_values(rules)

    def summary(self) -> str:
        """The rules in a few words."""
        rules = self._rules
        over = self._document.design.brief.machine.trim_over if rules.cut_over is None else rules.cut_over
        return f"cut over {format_length(over, self._unit)}, {rules.lock} locks"

    def _release(self) -> None:
        self._set(replace(self._rules, cut_over=None))

    def _take(self, rules: Struct) -> None:
        assert isinstance(rules, Connections)
        self._set(replace(rules, cut_over=self._rules.cut_over))

    def _set(self, rules: Connections) -> None:
        if rules != self._rules:
            design = self._document.history.design
            self._document.edit("Connections", replace(design, connections=rules))
