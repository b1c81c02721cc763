"""The shape of what is selected: its nodes, its place and size by numbers, its figure, and what can be done to it."""

from __future__ import annotations

import math
from collections.abc import Callable

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from jontel.app.bending import Bending
from jontel.app.drawing import bounds_of
from jontel.app.panels.form import ValuesForm
from jontel.app.panels.parts import FIELD_WIDTH, NumberField, button, clear, label
from jontel.app.session import Document
from jontel.app.theme import Theme
from jontel.design import StitchObject
from jontel.design.edits import transform_objects
from jontel.design.errors import CannotDo
from jontel.design.paths import Matrix
from jontel.design.shapes import FARTHEST
from jontel.design.units import Unit, format_length
from jontel.design.words import many
from jontel.geometry.nodes import NodeKind
from jontel.shaping.operations import OPERATIONS, Operation
from jontel.shaping.placing import on_cloth

PLACES = (("x", "Middle x", "x"), ("y", "Middle y", "y"), ("width", "Width", "Width"), ("height", "Height", "Height"))
AFTER_CLOTH = 40
"""The panel follows what is dragged so many ms after the cloth."""
KINDS: tuple[NodeKind, ...] = ("corner", "smooth", "symmetric")


def small(words: str, name: str, does: Callable[[], object], hint: str = "") -> QPushButton:
    """A button of a grid of many."""
    made = button(words, name, does)
    made.setProperty("kind", "small")
    made.setToolTip(hint)
    policy = QSizePolicy.Policy
    made.setSizePolicy(policy.Ignored, policy.Fixed)
    return made


class NodesEditor(QWidget):
    """The picked nodes: where they are, what they are, what can be done with them."""

    def __init__(self, document: Document, theme: Theme, unit: Unit) -> None:
        super().__init__()
        self._document, self._unit = document, unit
        self._bending: Bending = document.bending
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(label("NODES", "section"))
        self.count = label("", "muted")
        self.count.setObjectName("nodeCount")
        column.addWidget(self.count)
        grid = QGridLayout()
        grid.setSpacing(4)
        self.fields: list[NumberField] = []
        for axis, name in enumerate(("x", "y")):
            made = NumberField(f"node-{name}", name, "length", -FARTHEST, FARTHEST, 0.1)
            made.entered.connect(lambda value, axis=axis: self._bending.place(axis, value))
            grid.addWidget(label(name), 0, 2 * axis)
            grid.addWidget(made, 0, 2 * axis + 1)
            self.fields.append(made)
        column.addLayout(grid)
        row = QHBoxLayout()
        row.setSpacing(4)
        self.kinds: dict[NodeKind, QPushButton] = {}
        for number, kind in enumerate(KINDS, 1):
            tip = f"Make the picked nodes {kind} ({number})"
            made_one = small(kind.capitalize(), f"node-{kind}", lambda kind=kind: self._bending.make(kind), tip)
            made_one.setCheckable(True)
            self.kinds[kind] = made_one
            row.addWidget(made_one)
        column.addLayout(row)
        b = self._bending
        actions = (
            ("Insert", b.insert, "A node in the middle of each picked piece (Ins)"),
            ("Remove", b.remove, "Take nodes out; the outline stays where it was (Del)"),
            ("Straighten", b.straighten, "Straight between picked nodes"),
            ("Cut", b.cut, "Part the outline at the picked nodes (K)"),
            ("Join", b.join, "Join two picked ends, or close the line (J)"),
            ("Start here", b.start_here, "Begin the outline at the picked node"),
            ("Reverse", b.reverse, "Draw it the other way round"),
        )
        more = QGridLayout()
        more.setSpacing(4)
        for place, (words, does, tip) in enumerate(actions):
            name = f"node-{words.lower().replace(' ', '-')}"
            more.addWidget(small(words, name, does, tip), place // 3, place % 3)
        column.addLayout(more)
        self.radius = NumberField("node-round", "Round by", "length", 0.1, 500.0, 0.5)
        self.radius.entered.connect(lambda value: self.radius.show_value(value, False, unit))
        self.radius.setToolTip("Round the picked corners, or all where none are picked, by this radius")
        self.radius.show_value(2.0, False, unit)
        line = QHBoxLayout()
        line.addWidget(label("Round by"), 1)
        self.radius.setFixedWidth(FIELD_WIDTH)
        line.addWidget(self.radius)
        rounding = button("Round", "node-do-round", self._round)
        rounding.setProperty("kind", "small")
        rounding.setFixedWidth(64)
        line.addWidget(rounding)
        column.addLayout(line)
        self._soon = QTimer(self, singleShot=True, interval=AFTER_CLOTH)
        self._soon.timeout.connect(self.show_nodes)
        self._bending.changed.connect(self._soon.start)
        document.design_changed.connect(self._soon.start)

    def refresh(self, _items: tuple[StitchObject, ...]) -> None:
        """Show the nodes as they are now."""
        self.show_nodes()

    def _round(self) -> None:
        self._bending.round_off(self.radius.value or 2.0)

    def show_nodes(self) -> None:
        """Show how many nodes there are, and the place and the kind of those picked."""
        chains, picked = self._bending.chains, self._bending.picked
        total = many(sum(len(chain) for chain in chains), "node")
        self.count.setText(f"{total} · {len(picked)} picked" if picked else f"{total} · click one, or drag a box")
        for axis, made in enumerate(self.fields):
            made.setEnabled(bool(picked))
            made.show_value(self._bending.middle()[axis] if picked else None, False, self._unit)
        found = {chains[c].kinds()[k] for c, k in picked} if len(picked) <= 200 else set()
        for kind, one in self.kinds.items():
            one.setEnabled(bool(picked))
            one.setChecked(kind in found)


class PlaceEditor(QWidget):
    """Middle, width and height of the selection, by numbers."""

    def __init__(self, document: Document, theme: Theme, unit: Unit) -> None:
        super().__init__()
        self._document, self._unit = document, unit
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(label("PLACE AND SIZE", "section"))
        grid = QGridLayout()
        grid.setSpacing(4)
        self.fields: dict[str, NumberField] = {}
        for place, (name, title, short) in enumerate(PLACES):
            low = -FARTHEST if name in ("x", "y") else 0.1
            made = NumberField(f"place-{name}", title, "length", low, FARTHEST, 0.5)
            made.entered.connect(lambda value, name=name: self._enter(name, value))
            grid.addWidget(label(short), place // 2, 2 * (place % 2))
            grid.addWidget(made, place // 2, 2 * (place % 2) + 1)
            self.fields[name] = made
        column.addLayout(grid)
        self.even = QCheckBox("Keep the proportion")
        self.even.setObjectName("place-even")
        self.even.setChecked(True)
        column.addWidget(self.even)

    def refresh(self, items: tuple[StitchObject, ...]) -> None:
        """Show where the selection is."""
        box = bounds_of(items)
        zero = self._document.design.zero
        middle = box.center()
        values = (middle.x() - zero[0], middle.y() - zero[1], box.width(), box.height())
        for field, value in zip(self.fields.values(), values, strict=True):
            field.show_value(value, False, self._unit)

    def _enter(self, name: str, value: float) -> None:
        document = self._document
        box = bounds_of(document.selected())
        middle, zero = box.center(), document.design.zero
        matrix: Matrix
        if name == "x":
            matrix = (1.0, 0.0, 0.0, 1.0, value + zero[0] - middle.x(), 0.0)
        elif name == "y":
            matrix = (1.0, 0.0, 0.0, 1.0, 0.0, value + zero[1] - middle.y())
        else:
            before = box.width() if name == "width" else box.height()
            if before < 1e-6:
                return
            factor = value / before
            across = factor if name == "width" or self.even.isChecked() else 1.0
            down = factor if name == "height" or self.even.isChecked() else 1.0
            matrix = (across, 0.0, 0.0, down, middle.x() * (1 - across), middle.y() * (1 - down))
        if any(not math.isclose(a, b) for a, b in zip(matrix, (1, 0, 0, 1, 0, 0), strict=True)):
            label_ = "Move" if name in ("x", "y") else "Scale"
            made = transform_objects(document.history.design, document.selection, matrix)
            try:
                on_cloth(made, document.selection)
            except CannotDo as refused:
                document.told.emit(str(refused))
            else:
                document.edit(label_, made)


class OperationsEditor(QWidget):
    """All that can be done to the shapes of the selection; the one that is chosen shows its values."""

    def __init__(self, document: Document, theme: Theme, unit: Unit) -> None:
        super().__init__()
        self._document, self._theme, self._unit = document, theme, unit
        self._shaping = document.shaping
        self._shown: Operation | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self._form = QVBoxLayout()
        column.addLayout(self._form)
        self.said = label("", "attention", wrap=True)
        self.said.setObjectName("operationRefused")
        column.addWidget(self.said)
        foot = QHBoxLayout()
        self.leave = button("Leave it", "operationLeave", self._shaping.leave)
        self.take = button("Apply", "operationTake", self._shaping.take, "main")
        foot.addWidget(self.leave)
        foot.addWidget(self.take)
        column.addLayout(foot)
        self._buttons: dict[Operation, QPushButton] = {}
        self._table = QWidget()
        table = QVBoxLayout(self._table)
        table.setContentsMargins(0, 0, 0, 0)
        table.setSpacing(4)
        for section in dict.fromkeys(one.section for one in OPERATIONS):
            table.addWidget(label(section.upper(), "section"))
            grid = QGridLayout()
            grid.setSpacing(4)
            some = [one for one in OPERATIONS if one.section == section]
            for place, operation in enumerate(some):
                words = operation.name + ("…" if operation.values is not None else "")
                name = f"do-{operation.name.lower().replace(' ', '-')}"
                made = small(words, name, lambda operation=operation: self._shaping.begin(operation), operation.hint)
                grid.addWidget(made, place // 2, place % 2)
                self._buttons[operation] = made
            table.addLayout(grid)
        column.addWidget(self._table)
        self._shaping.changed.connect(self.show_operation)
        self.show_operation()

    def refresh(self, items: tuple[StitchObject, ...]) -> None:
        """Show what can be done to so many objects."""
        for operation, made in self._buttons.items():
            made.setEnabled(len(items) >= operation.least)

    def show_operation(self) -> None:
        """Show the values of the operation that was chosen, or the table of all."""
        operation = self._shaping.operation
        active = operation is not None
        self._table.setVisible(not active)
        for part in (self.leave, self.take):
            part.setVisible(active)
        self.said.setText(self._shaping.refused)
        self.said.setVisible(bool(self._shaping.refused))
        self.take.setEnabled(self._shaping.ready)
        if operation is self._shown:
            return
        self._shown = operation
        clear(self._form)
        if operation is None or self._shaping.values is None:
            return
        self._form.addWidget(label(operation.name.upper(), "section"))
        self._form.addWidget(label(operation.hint + ". The cloth shows it before you take it.", "muted", wrap=True))
        form = ValuesForm(self._shaping.values, self._theme, self._unit, "operation-")
        form.changed.connect(self._shaping.tell)
        self._form.addWidget(form)


def shape_summary(items: tuple[StitchObject, ...], unit: Unit) -> str:
    """How large the selection is, in a few words."""
    box = bounds_of(items)
    wide, tall = (format_length(value, unit, 1) for value in (box.width(), box.height()))
    return f"{wide.split()[0]} × {tall}"
