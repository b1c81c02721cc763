"""Editors made from tables: numbers, choices, toggles and profiles of the selected objects, in groups."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Any, Literal

from msgspec.structs import replace as with_values
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QComboBox, QToolButton, QVBoxLayout, QWidget

from jontel.app.icons import icon
from jontel.app.panels.knots import KnotsView
from jontel.app.panels.parts import NumberField, PinnedRow, label
from jontel.app.session import Document
from jontel.app.theme import Theme
from jontel.design import Area, CannotRead, Design, EdgesRecipe, Line, StitchObject, resolve
from jontel.design.edits import change_objects, pin
from jontel.design.figures import FigureValues
from jontel.design.kinds import kind_name, kind_of
from jontel.design.kinds.values import Group, Value, When, groups_of
from jontel.design.lettering import Lettering
from jontel.design.monogram import Monogram, Role
from jontel.design.shapes import PROFILES
from jontel.design.units import Unit
from jontel.lettering.fonts import open_font
from jontel.lettering.kin import reworded
from jontel.lettering.monograms import remade
from jontel.lettering.setting import with_value
from jontel.shaping.figures import drawn

Read = Callable[[StitchObject], tuple[Any, bool]]
Write = Callable[[Any], None]
Part = Literal["cover", "edges", "shape", "lettering", "monogram", "figure"]
OWN = ("shape", "lettering", "monogram", "figure")
"""Parts whose values are the object's own: no ground knows them."""


@dataclass(frozen=True)
class Drawer:
    """A group of values of one part of the objects whose cover is of ``kind`` (any, when it is ``None``)."""

    group: Group
    part: Part
    values: tuple[tuple[Value, When | None], ...]
    kind: str | None = None


def drawers_of(item: StitchObject) -> tuple[Drawer, ...]:
    """All groups of values of an object's cover, and of its line where the cover has the line's width."""
    kind = kind_of(item.cover)
    own = [Drawer(group, "cover", values, kind.name) for group, values in groups_of(kind.recipe).items()]
    shape = item.shape
    if kind.traits.rows == "one way" and isinstance(shape, Area) and (shape.lines or shape.guide):
        own = [replace(one, values=tuple(v for v in one.values if v[0].field != "angle")) for one in own]
    if not isinstance(shape, Area):  # what is no area has one line to run along
        own = [replace(one, values=tuple(v for v in one.values if v[0].field != "along")) for one in own]
    line: list[Drawer] = []
    if kind.traits.widens and isinstance(shape, Line):
        line = [Drawer(group, "shape", values, kind.name) for group, values in groups_of(Line).items()]
    return (*own[:1], *line, *own[1:])


def edge_drawers() -> tuple[Drawer, ...]:
    """All groups of the edges."""
    return tuple(Drawer(group, "edges", values) for group, values in groups_of(EdgesRecipe).items())


def lettering_drawers() -> tuple[Drawer, ...]:
    """All groups of lettering."""
    return tuple(Drawer(group, "lettering", values) for group, values in groups_of(Lettering).items())


def monogram_drawers() -> tuple[Drawer, ...]:
    """All groups of a monogram."""
    return tuple(Drawer(group, "monogram", values) for group, values in groups_of(Monogram).items())


def figure_drawers(figure: FigureValues) -> tuple[Drawer, ...]:
    """The numbers of a figure."""
    return tuple(Drawer(group, "figure", values) for group, values in groups_of(type(figure)).items())


class Source:
    """Reads and writes the values of one part of the selected objects, of those with a kind of cover only."""

    def __init__(self, document: Document, part: Part, kind: str | None = None) -> None:
        self.document, self.part, self.kind = document, part, kind

    def has(self, item: StitchObject, field: str) -> bool:
        """Whether an object has such a value."""
        fits = self.kind is None or kind_name(item.cover) == self.kind
        part = self._part(item)
        return fits and part is not None and field in part.__struct_fields__

    def _part(self, item: StitchObject) -> Any:
        part = getattr(item, self.part)
        return part.whole if isinstance(part, Role) else part

    def read(self, item: StitchObject, field: str) -> tuple[Any, bool]:
        """The value of ``field``, and whether it was set by hand."""
        own = getattr(self._part(item), field)
        if self.part in OWN:
            return own, True
        whole = resolve(item, self.document.design.ground_for(item))
        return getattr(getattr(whole, self.part), field), own is not None

    def write(self, title: str, field: str, value: Any) -> None:
        """Set a value on every selected object that has it; ``None`` releases the pin."""
        design = self.document.history.design
        ids = {item.id for item in self.document.selected() if self.has(item, field)}
        if self.part not in OWN:
            self.document.edit(title, pin(design, ids, field, value))
        elif self.part == "monogram" and value is not None:
            change_monogram(self.document, title, lambda whole: with_values(whole, **{field: value}))
        elif value is not None:
            try:
                if self.part == "lettering":
                    made = reworded(design, ids, lambda words: with_value(words, field, value, open_font(words.font)))
                else:
                    change = CHANGES[self.part]
                    made = change_objects(design, ids, lambda item: change(item, field, value))
                self.document.edit(title, made)
            except CannotRead as refused:
                self.document.told.emit(str(refused))


def change_monogram(document: Document, title: str, change: Callable[[Monogram], Monogram]) -> None:
    """Change the monogram of the first selected object as a whole, worked out aside."""
    before = document.history.design
    whole = next((item.monogram.whole for item in document.selected() if item.monogram is not None), None)
    if whole is None:
        return
    wanted = change(whole)

    def done(design: Design) -> None:
        if document.history.design is before:
            document.edit(title, design)

    document.ask(lambda: remade(before, wanted), done, lambda error: document.told.emit(str(error)))


def _reshaped(item: StitchObject, field: str, value: Any) -> StitchObject:
    if not isinstance(item.shape, Line):
        return item
    return with_values(item, shape=with_values(item.shape, **{field: value}))


def _refigured(item: StitchObject, field: str, value: Any) -> StitchObject:
    figure = item.figure
    if figure is None or field not in figure.__struct_fields__:
        return item
    return drawn(item, with_values(figure, **{field: value}))


def _set_by_hand(drawer: Drawer, source: Source, items: Sequence[StitchObject]) -> bool:
    """Whether any value of a group was set by hand on any of ``items``; a line's own values always are."""
    return drawer.part not in OWN and any(
        source.read(item, value.field)[1]
        for item in items
        for value, _ in drawer.values
        if source.has(item, value.field)
    )


CHANGES: dict[str, Callable[[StitchObject, str, Any], StitchObject]] = {
    "shape": _reshaped,
    "figure": _refigured,
}
"""How a value of a part that is the object's own is changed."""


class ControlsEditor(QWidget):
    """Groups of controls over the selected objects; some are always open, the others open at a click."""

    opened: set[str] = set()
    """Titles of the groups that were opened; they stay so from object to object."""

    def __init__(
        self, document: Document, drawers: Sequence[Drawer], theme: Theme, unit: Unit, prefix: str = ""
    ) -> None:
        super().__init__()
        self._theme, self._unit, self._prefix = theme, unit, prefix
        self._shown: list[Callable[[tuple[StitchObject, ...]], None]] = []
        self._headings: list[tuple[QToolButton, Drawer, Source]] = []
        self._for = tuple(item.id for item in document.selected())
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        items = document.selected()
        for drawer in drawers:
            source = Source(document, drawer.part, drawer.kind)
            values = [one for one in drawer.values if any(source.has(item, one[0].field) for item in items)]
            if not values:
                continue
            first = next(item for item in items if source.has(item, values[0][0].field))
            body = QWidget()
            rows = QVBoxLayout(body)
            rows.setContentsMargins(0, 0, 0, 4)
            rows.setSpacing(4)
            shown = [v for v, when in values if when is None or source.read(first, when[0])[0] in when[1]]
            if drawer.group.open:
                self._fill(rows, shown, source)
            else:
                later = partial(self._fill, rows, shown, source)
                column.addWidget(self._heading(drawer, body, source, first, later))
            column.addWidget(body)

    def _fill(self, rows: QVBoxLayout, values: Sequence[Value], source: Source) -> None:
        """Make the rows of a group, if they are not there yet: most groups stay closed."""
        if rows.count():
            return
        known = len(self._shown)
        for value in values:
            rows.addWidget(self._row(value, source))
        items = source.document.selected()
        for show in self._shown[known:]:
            show(items)

    def refresh(self, items: tuple[StitchObject, ...]) -> None:
        """Show the values of ``items``; groups in which something was set by hand open for other objects."""
        ids = tuple(item.id for item in items)
        if ids != self._for:
            self._for = ids
            for heading, drawer, source in self._headings:
                if _set_by_hand(drawer, source, items):
                    heading.setChecked(True)
        for show in self._shown:
            show(items)

    def _heading(
        self, drawer: Drawer, body: QWidget, source: Source, first: StitchObject, fill: Callable[[], None]
    ) -> QToolButton:
        group = drawer.group
        made = QToolButton()
        made.setObjectName(f"{self._prefix}group-{group.title}")
        made.setAccessibleName(group.title)
        made.setText(group.title)
        made.setProperty("kind", "group")
        made.setCheckable(True)
        made.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
        policy = made.sizePolicy()
        policy.setHorizontalPolicy(policy.Policy.Expanding)
        made.setSizePolicy(policy)

        def turn(on: bool) -> None:
            if on:
                fill()
            body.setVisible(on)
            made.setIcon(icon("down" if on else "right", self._theme.ink))
            (self.opened.add if on else self.opened.discard)(group.title)

        made.toggled.connect(turn)
        self._headings.append((made, drawer, source))
        is_open = group.title in self.opened or _set_by_hand(drawer, source, (first,))
        body.setVisible(is_open)
        made.setIcon(icon("right", self._theme.ink))
        made.setChecked(is_open)
        return made

    def _row(self, value: Value, source: Source) -> QWidget:
        def write(given: Any) -> None:
            whole = value.whole and given is not None
            source.write(value.title, value.field, int(given) if whole else given)

        release = None if source.part in OWN else (lambda: write(None))
        match value.sort:
            case "number":
                return self._number(value, source, write, release)
            case "word":
                return self._choice(value, source, write, release)
            case "yes or no":
                return self._toggle(value, source, write, release)
            case "curve":
                return self._curve(value, source, write)

    def _watch(self, control: Value, source: Source, show: Callable[[set[Any], bool], None]) -> None:
        def refresh(items: tuple[StitchObject, ...]) -> None:
            found = [source.read(item, control.field) for item in items if source.has(item, control.field)]
            if found:
                show({value for value, _ in found}, any(by_hand for _, by_hand in found))

        self._shown.append(refresh)

    def _number(self, value: Value, source: Source, write: Write, release: Callable[[], None] | None) -> QWidget:
        field = NumberField(self._prefix + value.field, value.title, value.unit, value.low, value.high, value.step)
        row = PinnedRow(value.title, field, release, self._theme)
        field.entered.connect(write)
        field.held.connect(source.document.told)
        if release is not None:
            field.released.connect(release)

        def show(values: set[Any], by_hand: bool) -> None:
            field.longest = source.document.design.brief.machine.longest_move
            field.show_value(next(iter(values)) if len(values) == 1 else None, not by_hand, self._unit)
            row.show_pinned(by_hand and row.releasable)

        self._watch(value, source, show)
        return row

    def _choice(self, choice: Value, source: Source, write: Write, release: Callable[[], None] | None) -> QWidget:
        box = QComboBox()
        box.setObjectName(self._prefix + choice.field)
        box.setAccessibleName(choice.title)
        box.addItems([words.capitalize() for words in choice.options])
        box.activated.connect(lambda at: write(choice.options[at]))
        row = PinnedRow(choice.title, box, release, self._theme)

        def show(values: set[Any], by_hand: bool) -> None:
            box.setCurrentIndex(choice.options.index(next(iter(values))) if len(values) == 1 else -1)
            row.show_pinned(by_hand and row.releasable)

        self._watch(choice, source, show)
        return row

    def _toggle(self, toggle: Value, source: Source, write: Write, release: Callable[[], None] | None) -> QWidget:
        box = QCheckBox()
        box.setObjectName(self._prefix + toggle.field)
        box.setAccessibleName(toggle.title)
        box.clicked.connect(write)
        row = PinnedRow(toggle.title, box, release, self._theme, 24)

        def show(values: set[Any], by_hand: bool) -> None:
            box.setChecked(values == {True})
            row.show_pinned(by_hand and row.releasable)

        self._watch(toggle, source, show)
        return row

    def _curve(self, curve: Value, source: Source, write: Write) -> QWidget:
        made = QWidget()
        column = QVBoxLayout(made)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        view = KnotsView(self._prefix + curve.field, curve.title, self._theme)
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
