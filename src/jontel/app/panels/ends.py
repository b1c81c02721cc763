"""Ends: entry and exit, locks, trim, and the stop after an object."""

from msgspec.structs import replace
from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from jontel.app.panels.parts import NumberField, PinnedRow, button, label
from jontel.app.session import Document
from jontel.app.theme import Theme
from jontel.design.edits import change_objects
from jontel.design.units import Unit

POLICIES = ("auto", "always", "never")
CHOICES = (
    ("lock_in", "Lock at the start"),
    ("lock_out", "Lock at the end"),
    ("trim", "Trim after it"),
)


class EndsEditor(QWidget):
    """Edits the ends of the selected objects."""

    def __init__(self, document: Document, theme: Theme, unit: Unit) -> None:
        super().__init__()
        self._document, self._unit = document, unit
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.places = button("", "releaseEnds", self._release_ends)
        column.addWidget(self.places)
        column.addWidget(
            label(
                "Drag the chevron or the ring on the cloth to choose where the needle enters and leaves.",
                "muted",
                True,
            )
        )
        self.policies: dict[str, QComboBox] = {}
        for field, title in CHOICES:
            row = QHBoxLayout()
            row.addWidget(QLabel(title), 1)
            box = QComboBox()
            box.setObjectName(field)
            box.setAccessibleName(title)
            box.addItems([words.capitalize() for words in POLICIES])
            box.activated.connect(lambda at, field=field: self._set(field, POLICIES[at]))
            box.setFixedWidth(112)
            row.addWidget(box)
            column.addLayout(row)
            self.policies[field] = box
        self.leave = NumberField("leave", "Leave connections inside up to", "length", 0.0, 50.0, 0.5)
        self.leave.entered.connect(lambda value: self._set("leave", value))
        self.leave.released.connect(lambda: self._set("leave", None))
        self.left = PinnedRow("Left uncut inside", self.leave, lambda: self._set("leave", None), theme)
        column.addWidget(self.left)
        self.stops = QCheckBox("The machine stops after it")
        self.stops.setObjectName("stopAfter")
        self.stops.clicked.connect(lambda on: self._set("stop", "" if on else None))
        column.addWidget(self.stops)
        self.instruction = QLineEdit()
        self.instruction.setObjectName("stopInstruction")
        self.instruction.setAccessibleName("What to do at the stop")
        self.instruction.setPlaceholderText("What to do, for example: lay the felt")
        self.instruction.editingFinished.connect(self._tell)
        column.addWidget(self.instruction)
        document.design_changed.connect(self.refresh)
        document.selection_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the ends of the first selected object."""
        items = self._document.selected()
        if not items:
            return
        ends = items[0].ends
        for field, box in self.policies.items():
            box.setCurrentIndex(POLICIES.index(getattr(ends, field)))
        machine = self._document.design.brief.machine
        self.left.show_pinned(ends.leave is not None)
        self.leave.show_value(machine.trim_over if ends.leave is None else ends.leave, ends.leave is None, self._unit)
        pinned = any(item.ends.entry is not None or item.ends.exit is not None for item in items)
        self.places.setText("Join nearest ends again" if pinned else "Nearest ends are joined")
        self.places.setEnabled(pinned)
        self.stops.setChecked(ends.stop is not None)
        self.instruction.setVisible(ends.stop is not None)
        if not self.instruction.hasFocus():
            self.instruction.setText(ends.stop or "")

    def _set(self, field: str, value: object) -> None:
        design = self._document.history.design
        self._document.edit(
            "Ends",
            change_objects(
                design,
                self._document.selection,
                lambda item: replace(item, ends=replace(item.ends, **{field: value})),
            ),
        )

    def _release_ends(self) -> None:
        design = self._document.history.design
        self._document.edit(
            "Join nearest ends",
            change_objects(
                design,
                self._document.selection,
                lambda item: replace(item, ends=replace(item.ends, entry=None, exit=None)),
            ),
        )

    def _tell(self) -> None:
        items = self._document.selected()
        if items and items[0].ends.stop is not None and items[0].ends.stop != self.instruction.text().strip():
            self._set("stop", self.instruction.text().strip())
