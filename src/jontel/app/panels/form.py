"""A form for a struct of declared values that belongs to no object yet."""

from typing import Any

from msgspec import Struct
from msgspec.structs import replace
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QComboBox, QVBoxLayout, QWidget

from jontel.app.panels.parts import NumberField, PinnedRow, clear
from jontel.app.theme import Theme
from jontel.design.kinds.values import Value, groups_of
from jontel.design.units import Unit


class ValuesForm(QWidget):
    """Shows the values of a struct and tells of the one that another value makes of it."""

    changed = pyqtSignal(object)

    def __init__(
        self, values: Struct, theme: Theme, unit: Unit, prefix: str = "", without: tuple[str, ...] = ()
    ) -> None:
        super().__init__()
        self.values = values
        self._theme, self._unit, self._prefix, self._without = theme, unit, prefix, without
        self._rows = QVBoxLayout(self)
        self._rows.setContentsMargins(0, 0, 0, 0)
        self._rows.setSpacing(4)
        self._fill()

    def show_values(self, values: Struct) -> None:
        """Show another struct of the same or another type."""
        if values == self.values:
            return
        self.values = values
        clear(self._rows)
        self._fill()

    def _fill(self) -> None:
        for some in groups_of(type(self.values)).values():
            for value, when in some:
                shown = when is None or getattr(self.values, when[0]) in when[1]
                if shown and value.field not in self._without:
                    self._rows.addWidget(self._row(value))

    def _take(self, field: str, value: Any) -> None:
        self.values = replace(self.values, **{field: value})
        self.changed.emit(self.values)

    def _row(self, value: Value) -> QWidget:
        known = getattr(self.values, value.field)
        name = self._prefix + value.field
        if value.sort == "word":
            box = QComboBox()
            box.addItems([words.capitalize() for words in value.options])
            box.setCurrentIndex(value.options.index(known))
            box.activated.connect(lambda at: self._take(value.field, value.options[at]))
            return self._named(box, name, value, None)
        if value.sort == "yes or no":
            tick = QCheckBox()
            tick.setChecked(known)
            tick.clicked.connect(lambda on: self._take(value.field, on))
            return self._named(tick, name, value, 24)
        field = NumberField(name, value.title, value.unit, value.low, value.high, value.step)
        field.show_value(known, False, self._unit)

        def enter(number: float) -> None:
            self._take(value.field, int(number) if value.whole else number)
            field.show_value(number, False, self._unit)

        field.entered.connect(enter)
        return self._named(field, name, value, None)

    def _named(self, widget: QWidget, name: str, value: Value, width: int | None) -> QWidget:
        widget.setObjectName(name)
        widget.setAccessibleName(value.title)
        if width is None:
            return PinnedRow(value.title, widget, None, self._theme)
        return PinnedRow(value.title, widget, None, self._theme, width)
