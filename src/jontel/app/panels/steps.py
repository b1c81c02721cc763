"""Steps: named runs of objects, with what a person does before and after them and what has to lie ready."""

from typing import Any

from msgspec.structs import replace
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from jontel.app.panels.ends import StopRow
from jontel.app.panels.parts import button, label
from jontel.app.session import Document
from jontel.design.edits import change_objects
from jontel.design.order import MATERIALS, Step
from jontel.design.steps import changed_step, members, out_of_step, with_step
from jontel.design.words import many
from jontel.sewing.gathering import gathered

HINTS = {"backing": "cut-away, two layers", "film": "soluble", "felt": "red, 2 mm", "bobbin": "white 60"}


def make_step(document: Document) -> None:
    """Make a step of the selection, brought together."""
    if not document.selection:
        return
    design, ids = document.history.design, document.selection
    document.edit_aside("Make a step", lambda: (with_step(gathered(design, ids), ids)[0], ids))


class StepEditor(QWidget):
    """The step that the first selected object is in, or a button that makes one of the selection."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self._step: Step | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.make = button("Make a step of the selection", "stepMake", lambda: make_step(document))
        column.addWidget(self.make)
        self.inside = QWidget()
        rows = QVBoxLayout(self.inside)
        rows.setContentsMargins(0, 0, 0, 0)
        rows.setSpacing(4)
        self.name = QLineEdit()
        self.name.setObjectName("stepName")
        self.name.setAccessibleName("Name of the step")
        self.name.editingFinished.connect(lambda: self._set("name", self.name.text().strip() or "Step"))
        rows.addWidget(self.name)
        self.count = label("", "muted")
        rows.addWidget(self.count)
        self.before = StopRow("Stop before the step", "stepBefore", self._setter("before"))
        self.after = StopRow("Stop after the step", "stepAfter", self._setter("after"))
        rows.addWidget(self.before)
        rows.addWidget(self.after)
        grid = QGridLayout()
        grid.setSpacing(4)
        self.materials: dict[str, QLineEdit] = {}
        for row, field in enumerate(MATERIALS):
            made = QLineEdit()
            made.setObjectName(f"step-{field}")
            made.setAccessibleName(f"{field.capitalize()} of the step")
            made.setPlaceholderText(HINTS[field])
            made.editingFinished.connect(lambda field=field: self._set(field, self.materials[field].text().strip()))
            grid.addWidget(label(field.capitalize()), row, 0)
            grid.addWidget(made, row, 1)
            self.materials[field] = made
        rows.addLayout(grid)
        foot = QHBoxLayout()
        for words, name, does in (
            ("Select all of it", "stepSelect", self._select),
            ("Hide", "stepHide", self._hide),
            ("Leave the step", "stepLeave", self._leave),
        ):
            one = button(words, name, does)
            one.setProperty("kind", "small")
            foot.addWidget(one)
        rows.addLayout(foot)
        column.addWidget(self.inside)
        self.refresh()

    def refresh(self) -> None:
        """Show the step of the first selected object."""
        items, design = self._document.selected(), self._document.design
        self._step = design.step(items[0].step) if items else None
        self.make.setVisible(self._step is None)
        self.make.setEnabled(bool(items))
        self.inside.setVisible(self._step is not None)
        if self._step is None:
            return
        step = self._step
        if not self.name.hasFocus():
            self.name.setText(step.name)
        self.count.setText(many(len(members(design, step.id)), "object"))
        self.before.show_stop(step.before)
        self.after.show_stop(step.after)
        for field, made in self.materials.items():
            if not made.hasFocus():
                made.setText(getattr(step, field))

    def _setter(self, field: str) -> Any:
        return lambda value: self._set(field, value)

    def _set(self, field: str, value: object) -> None:
        step = self._step
        if step is not None and getattr(step, field) != value:
            self._document.edit("Step", changed_step(self._document.history.design, step.id, **{field: value}))

    def _select(self) -> None:
        if self._step is not None:
            self._document.select(members(self._document.design, self._step.id))

    def _hide(self) -> None:
        if self._step is not None:
            design = self._document.history.design
            ids = members(design, self._step.id)
            on = not all(item.hidden for item in design.objects if item.id in ids)
            words = "Hide the step" if on else "Show the step"
            self._document.edit(words, change_objects(design, ids, lambda item: replace(item, hidden=on)))

    def _leave(self) -> None:
        document = self._document
        document.edit("Leave the step", out_of_step(document.history.design, document.selection))
