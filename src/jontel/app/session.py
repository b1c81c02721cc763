"""The one place that owns the open designs and announces changes."""

import uuid
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from jontel.app.planner import Planner, Sewn
from jontel.design import Design, History, StitchObject
from jontel.design.errors import JontelError
from jontel.files import picture, working
from jontel.files.atomic import write_whole
from jontel.files.autosave import Autosave
from jontel.sewing.plan import plan
from jontel.sewing.shared import settled

AUTOSAVE_AFTER = 1500
SHOW_PROGRESS_AFTER = 300


class Document(QObject):
    """One open design: its history, its selection, its sew-out and the moment that the cloth shows."""

    design_changed = pyqtSignal()
    sewn_changed = pyqtSignal()
    selection_changed = pyqtSignal()
    playhead_changed = pyqtSignal()
    saved_changed = pyqtSignal()
    stitching = pyqtSignal(int, int)

    def __init__(self, design: Design, path: Path | None, autosave: Autosave | None) -> None:
        super().__init__()
        self.history = History.of(design)
        self.path = path
        self.slot = uuid.uuid4().hex
        self.selection: frozenset[int] = frozenset()
        self.playhead: int | None = None
        self.sewn: Sewn | None = None
        self._preview: Design | None = None
        nothing_yet = not (design.objects or design.artwork)
        self._saved: Design | None = design if path or nothing_yet else None
        self._autosave = autosave
        self._planner = Planner(self)
        self._planner.done.connect(self._arrived)
        self._planner.progress.connect(self._progressed)
        self._number = 0
        self._late = QTimer(self, singleShot=True, interval=SHOW_PROGRESS_AFTER)
        self._keep = QTimer(self, singleShot=True, interval=AUTOSAVE_AFTER)
        self._keep.timeout.connect(self.keep_now)
        self._replan()

    @property
    def design(self) -> Design:
        """The design as it is shown: with what is being dragged just now."""
        return self._preview if self._preview is not None else self.history.design

    @property
    def modified(self) -> bool:
        """Whether there is work that no file holds."""
        return self.history.design != self._saved

    @property
    def busy(self) -> bool:
        """Whether the sew-out lags behind the design."""
        return self.sewn is None or self.sewn.design is not self.design

    def selected(self) -> tuple[StitchObject, ...]:
        """The selected objects in sewing order."""
        return tuple(item for item in self.design.objects if item.id in self.selection)

    def edit(self, label: str, design: Design) -> None:
        """Make ``design`` the current one, as one step that undo takes back."""
        self._preview = None
        self.history = self.history.push(label, settled(design))
        self._changed()

    def preview(self, design: Design | None) -> None:
        """Show ``design`` while something is dragged; ``None`` goes back to the current one."""
        self._preview = None if design is None else settled(design)
        self._changed(keep=False)

    def show(self, label: str, design: Design) -> None:
        """Make ``design`` the current one, or only preview it while a drag has no ``label`` yet."""
        if label:
            self.edit(label, design)
        else:
            self.preview(design)

    def undo(self) -> None:
        """One step back."""
        self._preview = None
        self.history = self.history.undo()
        self._changed()

    def redo(self) -> None:
        """One step forward."""
        self._preview = None
        self.history = self.history.redo()
        self._changed()

    def select(self, ids: frozenset[int] | set[int]) -> None:
        """Make ``ids`` the selection."""
        wanted = frozenset(ids)
        if wanted != self.selection:
            self.selection = wanted
            self.selection_changed.emit()

    def show_moment(self, row: int | None) -> None:
        """Show the design as it stands after ``row`` of the plan; ``None`` shows all of it."""
        if row is not None and self.sewn is not None:
            row = max(0, min(row, len(self.sewn.plan) - 1)) if len(self.sewn.plan) else None
        if row != self.playhead:
            self.playhead = row
            self.playhead_changed.emit()

    def stop_stitching(self) -> None:
        """Give up the sew-out that is being computed; the next change asks for one again."""
        self._number = -1
        self._planner.cancel()

    def write(self, path: Path) -> Path:
        """Write the working file. Raises ``CannotWrite``; the design stays as it is either way."""
        design = self.history.design
        write_whole(path, working.encode(design, picture.preview(plan(design), design)))
        return path

    def saved_as(self, path: Path) -> None:
        """The current design is what the file at ``path`` holds."""
        self.path, self._saved = path, self.history.design
        self._keep.stop()
        if self._autosave:
            self._autosave.drop(self.slot)
        self.saved_changed.emit()

    def keep_now(self) -> None:
        """Write the autosave."""
        if self._autosave and self.modified:
            try:
                self._autosave.keep(self.slot, self.history.design, self.path)
            except JontelError:
                self._keep.start()

    def mark_unsaved(self) -> None:
        """Treat the design as work that no file holds: it was recovered."""
        self._saved = None
        self.keep_now()

    def close(self) -> None:
        """Let go of everything; the autosave of a closed design is forgotten."""
        self._keep.stop()
        self._planner.stop()
        if self._autosave:
            self._autosave.drop(self.slot)

    def _changed(self, keep: bool = True) -> None:
        alive = {item.id for item in self.design.objects}
        if not self.selection <= alive:
            self.selection &= alive
            self.selection_changed.emit()
        self._replan()
        self.design_changed.emit()
        if keep:
            self._keep.start()
            self.saved_changed.emit()

    def _replan(self) -> None:
        self._late.start()
        self._number = self._planner.request(self.design)

    def _arrived(self, number: int, sewn: Sewn) -> None:
        if number == self._number:
            self._take(sewn)

    def _take(self, sewn: Sewn) -> None:
        self.sewn = sewn
        self._late.stop()
        if self.playhead is not None and self.playhead >= len(sewn.plan):
            self.playhead = None
        self.sewn_changed.emit()

    def _progressed(self, number: int, at: int, count: int) -> None:
        if number == self._number and not self._late.isActive():
            self.stitching.emit(at, count)


class Session(QObject):
    """The open documents, and which of them is in front."""

    opened = pyqtSignal(object)
    closed = pyqtSignal(object)
    current_changed = pyqtSignal()

    def __init__(self, autosave: Autosave | None = None) -> None:
        super().__init__()
        self.autosave = autosave
        self.documents: list[Document] = []
        self.current: Document | None = None

    def open(self, design: Design, path: Path | None = None) -> Document:
        """Open a design in front of the others."""
        document = Document(design, path, self.autosave)
        self.documents.append(document)
        self.opened.emit(document)
        self.bring(document)
        return document

    def bring(self, document: Document | None) -> None:
        """Bring a document to the front."""
        if document is not self.current:
            self.current = document
            self.current_changed.emit()

    def close(self, document: Document) -> None:
        """Close a document."""
        at = self.documents.index(document)
        self.documents.remove(document)
        document.close()
        self.closed.emit(document)
        if document is self.current:
            rest = self.documents
            self.bring(rest[min(at, len(rest) - 1)] if rest else None)
