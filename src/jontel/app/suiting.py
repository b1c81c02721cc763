"""After a change of size: whether kinds that no longer suit it shall change too."""

from __future__ import annotations

from PyQt6.QtCore import QObject

from jontel.app.notices import Notice
from jontel.app.session import Document
from jontel.design import Design
from jontel.shaping.suiting import Suits, outgrown, sewn_otherwise, words_for


class Suiting(QObject):
    """Watches the designs of the window's documents, and asks by a notice."""

    def __init__(self, notice: Notice) -> None:
        super().__init__()
        self._notice = notice

    def follow(self, document: Document) -> None:
        """Look at every change of a document from now on."""
        known = [document.history.design]

        def changed() -> None:
            before, known[0] = known[0], document.history.design
            if before is not known[0] and document.history.redo_label is None:
                self._look(document, before, known[0])

        document.saved_changed.connect(changed)

    def _look(self, document: Document, before: Design, after: Design) -> None:
        """Look aside whether a change of size has made kinds unsuited, and ask if the design is still that."""
        if all(one.shape is other.shape for one, other in zip(before.objects, after.objects, strict=False)):
            return

        def told(found: dict[int, Suits]) -> None:
            if found and document.history.design is after:
                self._notice.ask(words_for(after, found), "Change them", lambda: self._change(document, after, found))

        document.ask(lambda: outgrown(before, after), told, lambda _error: None)

    def _change(self, document: Document, after: Design, found: dict[int, Suits]) -> None:
        if document.history.design is after:
            ids = frozenset(found)
            document.edit_aside("Kinds that suit the size", lambda: (sewn_otherwise(after, found), ids))
