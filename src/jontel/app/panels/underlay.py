"""The underlay of the selected objects: passes tuned one by one, their order, what is shared."""

from collections.abc import Callable

from msgspec.structs import replace
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QMenu, QVBoxLayout, QWidget

from jontel.app.icons import icon
from jontel.app.panels.parts import NumberField, PinnedRow, label, tool_button
from jontel.app.session import Document
from jontel.app.theme import Theme
from jontel.design import Beneath, Line, StitchObject
from jontel.design.edits import change_objects
from jontel.design.kinds import UNDERLAYS, Underlay, kind_name, traits_of, underlay_traits
from jontel.design.kinds.values import Value, values_of
from jontel.design.units import Unit
from jontel.sewing.shared import share_underlay

Passes = tuple[Underlay, ...]


def passes_of(document: Document, item: StitchObject) -> Passes:
    """The underlay that an object is sewn with, chosen automatically or not."""
    return document.passes_of(item)


def change_passes(document: Document, words: str, change: Callable[[Passes], Passes]) -> None:
    """Pin the underlay of every selected object that can have one."""

    def one(item: StitchObject) -> StitchObject:
        if not traits_of(item.cover).takes_underlay:
            return item
        return replace(item, underlay=change(passes_of(document, item)))

    document.edit(words, change_objects(document.history.design, document.selection, one))


def underlay_menu(parent: QWidget, document: Document, theme: Theme, add: Callable[[Underlay], None]) -> QMenu:
    """Every kind to add, and what can be done with the underlay as a whole."""
    menu = QMenu(parent)
    menu.setObjectName("underlayMenu")

    def offer(words: str, does: Callable[[], object], picture: str = "") -> None:
        action = menu.addAction(icon(picture, theme.ink), words) if picture else menu.addAction(words)
        if action is not None:
            action.triggered.connect(lambda _on=False: does())

    for kind, traits in UNDERLAYS.items():
        offer(traits.title, lambda kind=kind: add(kind()), kind_name(kind()))
    menu.addSeparator()
    ids = document.selection
    offer("None", lambda: change_passes(document, "No underlay", lambda _: ()))
    offer(
        "Automatic",
        lambda: document.edit(
            "Automatic underlay",
            change_objects(document.history.design, ids, lambda item: replace(item, underlay=None)),
        ),
    )
    offer("Share one beneath the selection", lambda: share(document))
    return menu


ONCE_A_SHAPE = "Once beneath the whole shape, not part by part"
ONCE_A_WORD = "Beneath a whole word first, not letter by letter"


def share(document: Document) -> None:
    """Lay one underlay beneath the selected objects and select it."""
    before = document.history.design
    made = share_underlay(before, document.selection)
    if made is not before:
        document.edit("Share underlay", made)
        document.select({item.id for item in made.objects} - {item.id for item in before.objects})


class PassEditor(QWidget):
    """One pass of the first selected object; edits go to the same pass of all of them."""

    moved = pyqtSignal(int)

    def __init__(self, document: Document, number: int, theme: Theme, unit: Unit) -> None:
        super().__init__()
        self._document, self._number, self._unit = document, number, unit
        self._fields: list[tuple[Value, NumberField]] = []
        passes = passes_of(document, document.selected()[0])
        one = passes[number]
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        row = QHBoxLayout()
        row.addWidget(label(f"UNDERLAY {number + 1} OF {len(passes)}", "section"), 1)
        for picture, title, does in (
            ("down", "Sew this pass earlier", lambda: self._move(-1)),
            ("up", "Sew this pass later", lambda: self._move(1)),
            ("remove", "Take this pass away", self._drop),
        ):
            row.addWidget(tool_button(picture, title, f"pass-{picture}", does, theme))
        column.addLayout(row)
        kinds = QComboBox()
        kinds.setObjectName("underlayKind")
        kinds.setAccessibleName("Kind of underlay")
        for kind, traits in UNDERLAYS.items():
            kinds.addItem(icon(kind_name(kind()), theme.ink), traits.title, kind)
        kinds.setCurrentText(underlay_traits(one).title)
        kinds.activated.connect(lambda: self._swap(kinds.currentData()()))
        column.addWidget(kinds)
        for value in values_of(type(one)):
            field = NumberField(value.field, value.title, value.unit, value.low, value.high, value.step)
            field.entered.connect(lambda given, name=value.field: self._tune(name, given))
            field.held.connect(document.told)
            column.addWidget(PinnedRow(value.title, field, None, theme))
            self._fields.append((value, field))
        self.once = QCheckBox(ONCE_A_SHAPE)
        self.once.setObjectName("underlayOnce")
        self.once.clicked.connect(self._set_once)
        column.addWidget(self.once)

    def refresh(self, items: tuple[StitchObject, ...]) -> None:
        """Show the values of the pass."""
        self.once.setChecked(all(item.underlay_once for item in items))
        satins = [item for item in items if traits_of(item.cover).rows == "edge to edge"]
        words = any(item.lettering is not None for item in satins)
        self.once.setText(ONCE_A_WORD if words else ONCE_A_SHAPE)
        self.once.setVisible(words or any(isinstance(item.shape, Line) for item in satins))
        for value, field in self._fields:
            found: set[float | None] = set()
            for item in items:
                passes = passes_of(self._document, item)
                if self._number < len(passes) and traits_of(item.cover).takes_underlay:
                    found.add(getattr(passes[self._number], value.field, None))
            by_hand = any(item.underlay is not None for item in items)
            field.longest = self._document.design.brief.machine.longest_move
            field.show_value(found.pop() if len(found) == 1 else None, not by_hand, self._unit)

    def _tune(self, field: str, value: float) -> None:
        self._change(
            "Tune underlay", lambda one: replace(one, **{field: value}) if field in one.__struct_fields__ else one
        )

    def _swap(self, fresh: Underlay) -> None:
        self._change("Change underlay", lambda _: fresh)

    def _change(self, words: str, change: Callable[[Underlay], Underlay]) -> None:
        change_passes(
            self._document,
            words,
            lambda passes: tuple(change(one) if k == self._number else one for k, one in enumerate(passes)),
        )

    def _drop(self) -> None:
        change_passes(
            self._document,
            "Take underlay away",
            lambda passes: tuple(one for k, one in enumerate(passes) if k != self._number),
        )

    def _move(self, step: int) -> None:
        number = self._number

        def moved(passes: Passes) -> Passes:
            if not (0 <= number < len(passes) and 0 <= number + step < len(passes)):
                return passes
            rest = [*passes[:number], *passes[number + 1 :]]
            rest.insert(number + step, passes[number])
            return tuple(rest)

        self.moved.emit(max(0, number + step))
        change_passes(self._document, "Move underlay", moved)

    def _set_once(self, on: bool) -> None:
        design, ids = self._document.history.design, self._document.selection
        self._document.edit(
            "Underlay once" if on else "Underlay part by part",
            change_objects(design, ids, lambda item: replace(item, underlay_once=on)),
        )


class BeneathEditor(QWidget):
    """What a shared underlay lies beneath, and how far inside."""

    def __init__(self, document: Document, theme: Theme, unit: Unit) -> None:
        super().__init__()
        self._document, self._unit = document, unit
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(label("SHARED UNDERLAY", "section"))
        self.words = label("", "muted", wrap=True)
        self.words.setObjectName("beneathWords")
        column.addWidget(self.words)
        self.inset = NumberField("beneathInset", "Inside their edges", "length", 0.0, 10.0, 0.1)
        self.inset.entered.connect(self._set)
        column.addWidget(PinnedRow("Inside their edges", self.inset, None, theme))

    def refresh(self, items: tuple[StitchObject, ...]) -> None:
        """Show the members of the first shared underlay among ``items``."""
        beneath = next((item.beneath for item in items if item.beneath is not None), None)
        if beneath is not None:
            found = [self._document.design.object(one) for one in beneath.objects]
            names = ", ".join(f"“{one.name}”" for one in found if one is not None)
            self.words.setText(f"Lies beneath {names}, follows their shapes, and is sewn before them.")
            self.inset.show_value(beneath.inset, False, self._unit)

    def _set(self, mm: float) -> None:
        def inset(item: StitchObject) -> StitchObject:
            return item if item.beneath is None else replace(item, beneath=Beneath(item.beneath.objects, mm))

        design = change_objects(self._document.history.design, self._document.selection, inset)
        self._document.edit("Inset of the shared underlay", design)
