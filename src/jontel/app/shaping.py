"""Operations on the shapes of a selection: worked out aside, seen on the cloth before they are taken."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct
from PyQt6.QtCore import QObject, pyqtSignal

from jontel.design.errors import JontelError
from jontel.shaping.operations import Operation
from jontel.shaping.outlines import Made

if TYPE_CHECKING:
    from jontel.app.session import Document


class Shaping(QObject):
    """The operation that is being told its values, if there is one, and what it would make."""

    changed = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self._remembered: dict[str, Struct] = {}
        self._made: Made | None = None
        self._base: object = None
        self._number = 0
        self.operation: Operation | None = None
        self.values: Struct | None = None
        self.refused = ""
        document.selection_changed.connect(self.leave)

    def begin(self, operation: Operation) -> None:
        """Do an operation, or, where it has values, show what it would do with them."""
        self.leave()
        document = self._document
        if len(document.selection) < operation.least:
            few = "an object" if operation.least == 1 else f"{operation.least} or more objects"
            document.told.emit(f"{operation.name} needs {few}: select them first.")
            return
        if operation.values is None:
            self._do_now(operation)
            return
        self.operation = operation
        self.values = self._remembered.get(operation.name, operation.values())
        self._show()

    def _do_now(self, operation: Operation) -> None:
        document = self._document
        design, ids = document.history.design, document.selection
        document.edit_aside(operation.name, lambda: operation.apply(design, ids, None))

    def tell(self, values: Struct) -> None:
        """Other values: the cloth shows what they make."""
        self.values = values
        self._show()

    def _show(self) -> None:
        operation, values, document = self.operation, self.values, self._document
        assert operation is not None
        if values is not None:
            self._remembered[operation.name] = values
        design, ids = document.history.design, document.selection
        self._number += 1
        number = self._number

        def done(made: Made) -> None:
            if number == self._number and self.operation is operation and document.history.design is design:
                self._made, self._base, self.refused = made, design, ""
                document.preview(made[0])
                self.changed.emit()

        def refused(error: JontelError) -> None:
            if number == self._number and self.operation is operation:
                self._made, self.refused = None, str(error)
                document.preview(None)
                self.changed.emit()

        document.ask(lambda: operation.apply(design, ids, values), done, refused)
        self.changed.emit()

    @property
    def ready(self) -> bool:
        """Whether there is something that can be taken."""
        return self._made is not None and self._base is self._document.history.design

    def take(self) -> None:
        """Make what is shown an edit, and select what came of it."""
        operation, made = self.operation, self._made
        if operation is None or made is None or not self.ready:
            return
        self.operation, self._made = None, None
        self._document.edit(operation.name, made[0])
        self._document.select(made[1])
        self.changed.emit()

    def leave(self) -> None:
        """Leave everything as it is."""
        if self.operation is not None:
            self.operation, self._made, self.refused = None, None, ""
            self._document.preview(None)
            self.changed.emit()
