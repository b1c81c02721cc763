"""Editors made from tables: numbers, choices, toggles and profiles of the selected objects, in groups."""

from collections.abc import Callable, Sequence
from typing import Any

from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QComboBox, QToolButton, QVBoxLayout, QWidget

from jontel.app.icons import icon
from jontel.app.panels.knots import KnotsView
from jontel.app.panels.layers import Choice, Control, Curve, Group, Part, Toggle, Value
from jontel.app.panels.parts import NumberField, PinnedRow, label
from jontel.app.session import Document
from jontel.app.theme import Theme
from jontel.design import Line, StitchObject, resolve
from jontel.design.edits import change_objects, pin
from jontel.design.shapes import PROFILES
from jontel.design.units import Unit

Read = Callable[[StitchObject], tuple[Any, bool]]
Write = Callable[[Any], None]
COUNTS = ("repeats", "split_lines", "anchor", "layers", "seed", "brick_rows")


class Source:
    """Reads and writes the values of one part of the selected objects."""

    def __init__(self, document: Document, part: Part) -> None:
        self.document, self.part = document, part

    def has(self, item: StitchObject, field: str) -> bool:
        """Whether an object has such a value."""
        return field in getattr(item, self.part).__struct_fields__

    def read(self, item: StitchObject, field: str) -> tuple[Any, bool]:
        """The value of ``field``, and whether it was set by hand."""
        own = getattr(getattr(item, self.part), field)
        if self.part == "shape":
            return own, True
        return getattr(getattr(resolve(item, self.document.design.brief.ground), self.part), field), own is not None

    def write(self, title: str, field: str, value: Any) -> None:
        """Set a value on every selected object that has it; ``None`` releases the pin."""
        if field in COUNTS and value is not None:
            value = int(value)
        design, ids = self.document.history.design, self.document.selection
        if self.part != "shape":
            self.document.edit(title, pin(design, ids, field, value))
        elif value is not None:
            self.document.edit(title, change_objects(design, ids, lambda item: _reshaped(item, field, value)))


def _reshaped(item: StitchObject, field: str, value: Any) -> StitchObject:
    if not isinstance(item.shape, Line):
        return item
    return replace(item, shape=replace(item.shape, **{field: value}))


class ControlsEditor(QWidget):
    """Groups of controls over the selected objects; some are always open, the others open at a click."""

    opened: set[str] = set()
    """Titles of the groups that were opened; they stay so from object to object."""

    def __init__(self, document: Document, groups: Sequence[Group], theme: Theme, unit: Unit) -> None:
        super().__init__()
        self._theme, self._unit = theme, unit
        self._shown: list[Callable[[tuple[StitchObject, ...]], None]] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        first = document.selected()[0]
        for group in groups:
            source = Source(document, group.part)
            controls = [one for one in group.controls if source.has(first, one.field)]
            if not controls:
                continue
            body = QWidget()
            rows = QVBoxLayout(body)
            rows.setContentsMargins(0, 0, 0, 4)
            rows.setSpacing(4)
            if not group.open:
                column.addWidget(self._heading(group, body, source, first))
            for control in controls:
                if control.when is None or source.read(first, control.when[0])[0] in control.when[1]:
                    rows.addWidget(self._row(control, source))
            column.addWidget(body)

    def refresh(self, items: tuple[StitchObject, ...]) -> None:
        """Show the values of ``items``."""
        for show in self._shown:
            show(items)

    def _heading(self, group: Group, body: QWidget, source: Source, first: StitchObject) -> QToolButton:
        made = QToolButton()
        made.setObjectName(f"group-{group.title}")
        made.setAccessibleName(group.title)
        made.setText(group.title)
        made.setProperty("kind", "group")
        made.setCheckable(True)
        made.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
        policy = made.sizePolicy()
        policy.setHorizontalPolicy(policy.Policy.Expanding)
        made.setSizePolicy(policy)
        set_by_hand = group.part != "shape" and any(
            source.read(first, one.field)[1] for one in group.controls if source.has(first, one.field)
        )

        def turn(on: bool) -> None:
            body.setVisible(on)
            made.setIcon(icon("down" if on else "right", self._theme.ink))
            (self.opened.add if on else self.opened.discard)(group.title)

        made.toggled.connect(turn)
        is_open = group.title in self.opened or set_by_hand
        body.setVisible(is_open)
        made.setIcon(icon("right", self._theme.ink))
        made.setChecked(is_open)
        return made

    def _row(self, control: Control, source: Source) -> QWidget:
        def write(value: Any) -> None:
            source.write(control.title, control.field, value)

        release = None if source.part == "shape" else (lambda: write(None))
        match control:
            case Value():
                return self._number(control, source, write, release)
            case Choice():
                return self._choice(control, source, write, release)
            case Toggle():
                return self._toggle(control, source, write, release)
            case Curve():
                return self._curve(control, source, write)
        raise AssertionError(control)

    def _watch(self, control: Control, source: Source, show: Callable[[set[Any], bool], None]) -> None:
        def refresh(items: tuple[StitchObject, ...]) -> None:
            found = [source.read(item, control.field) for item in items if source.has(item, control.field)]
            if found:
                show({value for value, _ in found}, any(by_hand for _, by_hand in found))

        self._shown.append(refresh)

    def _number(self, value: Value, source: Source, write: Write, release: Callable[[], None] | None) -> QWidget:
        field = NumberField(value.field, value.title, value.kind, value.low, value.high, value.step)
        row = PinnedRow(value.title, field, release, self._theme)
        field.entered.connect(write)
        if release is not None:
            field.released.connect(release)

        def show(values: set[Any], by_hand: bool) -> None:
            field.show_value(next(iter(values)) if len(values) == 1 else None, not by_hand, self._unit)
            row.show_pinned(by_hand and row.releasable)

        self._watch(value, source, show)
        return row

    def _choice(self, choice: Choice, source: Source, write: Write, release: Callable[[], None] | None) -> QWidget:
        box = QComboBox()
        box.setObjectName(choice.field)
        box.setAccessibleName(choice.title)
        box.addItems([words.capitalize() for words in choice.options])
        box.activated.connect(lambda at: write(choice.options[at]))
        row = PinnedRow(choice.title, box, release, self._theme)

        def show(values: set[Any], by_hand: bool) -> None:
            box.setCurrentIndex(choice.options.index(next(iter(values))) if len(values) == 1 else -1)
            row.show_pinned(by_hand and row.releasable)

        self._watch(choice, source, show)
        return row

    def _toggle(self, toggle: Toggle, source: Source, write: Write, release: Callable[[], None] | None) -> QWidget:
        box = QCheckBox()
        box.setObjectName(toggle.field)
        box.setAccessibleName(toggle.title)
        box.clicked.connect(write)
        row = PinnedRow(toggle.title, box, release, self._theme, 24)

        def show(values: set[Any], by_hand: bool) -> None:
            box.setChecked(values == {True})
            row.show_pinned(by_hand and row.releasable)

        self._watch(toggle, source, show)
        return row

    def _curve(self, curve: Curve, source: Source, write: Write) -> QWidget:
        made = QWidget()
        column = QVBoxLayout(made)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        view = KnotsView(curve.field, curve.title, self._theme)
        view.changed.connect(write)
        ready: QComboBox | None = None
        if curve.ready:
            ready = QComboBox()
            ready.setObjectName(f"{curve.field}-ready")
            ready.setAccessibleName(f"Ready {curve.title.lower()}s")
            ready.addItems([words.capitalize() for words in PROFILES])
            ready.activated.connect(lambda at: write(list(PROFILES.values())[at]))
            column.addWidget(PinnedRow(curve.title, ready, None, self._theme))
        else:
            column.addWidget(label(curve.title))
        column.addWidget(view)

        def show(values: set[Any], _by_hand: bool) -> None:
            profile = next(iter(values))
            view.show_profile(profile)
            if ready is not None:
                known = list(PROFILES.values())
                ready.setCurrentIndex(known.index(profile) if profile in known else -1)

        self._watch(curve, source, show)
        return made
