"""The one place that owns the open designs and announces changes."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from jontel.app.bending import Bending
from jontel.app.columns import Columns
from jontel.app.faults import FAULTS
from jontel.app.forecasting import Forecasting
from jontel.app.keeper import Keeper
from jontel.app.memory import give_back
from jontel.app.next import Next
from jontel.app.planner import Planner, Sewn
from jontel.app.shaping import Shaping
from jontel.data import thread_chart
from jontel.design import Design, History, JontelError, Line, Point, StitchObject, Thread
from jontel.design.design import MOST_OBJECTS
from jontel.design.edits import with_locked_kept
from jontel.design.kinds import Underlay
from jontel.design.shapes import Lines
from jontel.design.words import quoted
from jontel.files import working
from jontel.files.atomic import write_whole
from jontel.files.autosave import Autosave, Slot
from jontel.files.claims import Claim
from jontel.geometry.region import Region
from jontel.sewing.plan import Entry, plan
from jontel.shaping.outlines import Made

SHOW_PROGRESS_AFTER = 300


class Document(QObject):
    """One open design: its history, its selection, its sew-out and the moment that the cloth shows."""

    design_changed = pyqtSignal()
    sewn_changed = pyqtSignal()
    findings_changed = pyqtSignal()
    selection_changed = pyqtSignal()
    playhead_changed = pyqtSignal()
    saved_changed = pyqtSignal()
    stitching = pyqtSignal(int, int)
    stuck = pyqtSignal()
    troubled = pyqtSignal(str)
    told = pyqtSignal(str)

    def __init__(
        self, design: Design, path: Path | None, autosave: Autosave | None, slot: Slot | None = None
    ) -> None:
        super().__init__()
        self.history = History.of(design)
        self.claim = Claim(path) if path is not None else None
        self.selection: frozenset[int] = frozenset()
        self.playhead: int | None = None
        self.sewn: Sewn | None = None
        self._preview: Design | None = None
        self._given_up: Design | None = None
        nothing_yet = not (design.objects or design.artwork)
        self._saved: Design | None = design if path or nothing_yet else None
        self._keeper = Keeper(autosave, slot, lambda: self.history.design if self.modified else None)
        self._keeper.path = path
        self._keeper.troubled.connect(self.troubled)
        self._planner = Planner()
        self.columns = Columns(self)
        self.forecasting = Forecasting(self)
        self.bending = Bending(self)
        self.next = Next(self)
        self.shaping = Shaping(self)
        self._planner.sewn.connect(self._take)
        self._planner.failed.connect(self._fail)
        self._planner.progress.connect(self._progressed)
        self._late = QTimer(self, singleShot=True, interval=SHOW_PROGRESS_AFTER)
        self._replan()

    @property
    def path(self) -> Path | None:
        """The working file that the design was opened from or saved to."""
        return self.claim.path if self.claim else None

    @property
    def design(self) -> Design:
        """The design as it is shown: with what is dragged just now, shared underlays in their present shapes."""
        asked = self._asked
        return self.sewn.plan.drawn if self.sewn is not None and self.sewn.design is asked else asked

    @property
    def _asked(self) -> Design:
        """The design that is to be sewn: with what is being dragged just now."""
        return self._preview if self._preview is not None else self.history.design

    @property
    def modified(self) -> bool:
        """Whether there is work that no file holds."""
        return self.history.design != self._saved

    @property
    def busy(self) -> bool:
        """Whether the sew-out lags behind the design."""
        if self._given_up is self._asked:
            return False
        return self.sewn is None or self.sewn.design is not self._asked or not self.sewn.proofed

    def _known(self, item: StitchObject) -> tuple[Entry, Region] | None:
        """What the last job worked out for an object."""
        return self.sewn.entries.get(item.id) if self.sewn else None

    def region_of(self, item: StitchObject) -> Region | None:
        """The cloth that an object covers, as the last job found it; ``None`` while it is not known."""
        found = self._known(item)
        return found[1] if found is not None and self._as_drawn(item) else None

    def _as_drawn(self, item: StitchObject) -> bool:
        """Whether what is known of an object is of the shape that it has."""
        then = self.sewn.drawn.get(item.id) if self.sewn else None
        return then is not None and then.shape == item.shape

    def passes_of(self, item: StitchObject) -> tuple[Underlay, ...]:
        """The underlay that an object is sewn with: its own, or what the last job chose for it."""
        if item.underlay is not None:
            return item.underlay
        found = self._known(item)
        return found[0].passes if found is not None and type(found[0].item.cover) is type(item.cover) else ()

    def width_of(self, item: StitchObject) -> float:
        """How wide an object is drawn across its narrow way, mm, as the last job found it; 0 while unknown."""
        found = self._known(item)
        return found[0].width if found is not None else 0.0

    def ends_of(self, item: StitchObject) -> tuple[Point | None, Point | None]:
        """Where an object is entered and left, as the last job found it."""
        found = self._known(item)
        return (found[0].ends.entry, found[0].ends.exit) if found is not None else (None, None)

    def lines_of(self, item: StitchObject) -> Lines:
        """The direction lines of an object: drawn, or as the last job worked them out."""
        found = self._known(item)
        if found is not None and self._as_drawn(item):
            return found[0].lines
        return () if isinstance(item.shape, Line) else item.shape.lines

    def ask(
        self,
        work: Callable[[], Any],
        done: Callable[[Any], object],
        refused: Callable[[JontelError], object] = lambda _error: None,
    ) -> None:
        """Work something out aside; what it cannot do for a reason that the user can act on goes to ``refused``."""
        self._planner.ask(work, done, refused)

    def edit_aside(self, label: str, work: Callable[[], Made]) -> None:
        """Work an edit out aside and select what it made; dropped where the design has changed meanwhile."""
        before = self.history.design

        def done(made: Made) -> None:
            if self.history.design is before:
                self.edit(label, made[0])
                self.select(made[1])

        self.ask(work, done, lambda error: self.told.emit(str(error)))

    def selected(self) -> tuple[StitchObject, ...]:
        """The selected objects in sewing order."""
        return tuple(item for item in self.design.objects if item.id in self.selection)

    def thread_for_new(self) -> Thread:
        """The thread that a new object gets: the selected object's, or the first of the brief."""
        chosen, design = self.selected(), self.history.design
        if chosen:
            return design.thread(chosen[-1].thread)
        if design.brief.threads:
            return design.brief.threads[0]
        return next(t for t in thread_chart() if t.name == "Evening blue")

    def edit(self, label: str, design: Design, locked_too: bool = False) -> None:
        """Make ``design`` the current one, as one step that undo takes back.

        What is locked stays as it is, and that is said, unless the edit is of the whole design, ``locked_too``.
        """
        self._preview = None
        if not locked_too:
            design, held = with_locked_kept(self.history.design, design)
            if held:
                are, stays, them = ("is", "stays", "it") if len(held) == 1 else ("are", "stay", "them")
                self.told.emit(f"{quoted(held)} {are} locked and {stays} as before: unlock {them} to change {them}.")
        if len(design.objects) > MOST_OBJECTS:
            self.troubled.emit(
                f"A design holds at most {MOST_OBJECTS:,} objects: this would be more, and was not done."
            )
            design = self.history.design
        FAULTS.edits.append(label)
        self.history = self.history.push(label, design)
        self._changed()

    def preview(self, design: Design | None) -> None:
        """Show ``design`` while something is dragged; ``None`` goes back to the current one."""
        self._preview = with_locked_kept(self.history.design, design)[0] if design is not None else None
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
        self._planner.cancel()
        self._given_up = self._asked

    def write(self, path: Path) -> Path:
        """Write the working file. Raises ``CannotWrite``; the design stays as it is either way."""
        from jontel.files import picture  # what paints it is slow to load, and only needed here

        design = self.history.design
        write_whole(path, working.encode(design, picture.preview(plan(design), design)))
        return path

    def saved_as(self, path: Path, design: Design) -> None:
        """``design`` is what the file at ``path`` holds now."""
        if self.claim is not None and self.claim.path == path:
            self.claim.renew()
        else:
            if self.claim is not None:
                self.claim.release()
            self.claim = Claim(path)
        self._saved = design
        self._keeper.path = path
        if not self.modified:
            self._keeper.forget()
        self.saved_changed.emit()

    def keep_now(self) -> None:
        """Write the autosave."""
        self._keeper.now()

    def mark_unsaved(self) -> None:
        """Treat the design as work that no file holds: it was recovered."""
        self._saved = None

    def leave_behind(self) -> None:
        """Keep what no file holds for the next start, and end."""
        self._keeper.now()
        self._planner.stop()
        self._keeper.close(forget=False)

    def close(self) -> None:
        """Let go of everything; the autosave of a closed design is forgotten."""
        self._planner.stop()
        self._keeper.close()
        if self.claim is not None:
            self.claim.release()
        self.sewn = None
        QTimer.singleShot(0, give_back)

    def _changed(self, keep: bool = True) -> None:
        alive = {item.id for item in self.design.objects}
        if not self.selection <= alive:
            self.selection &= alive
            self.selection_changed.emit()
        self._replan()
        self.design_changed.emit()
        if keep:
            self._keeper.edited()
            self.saved_changed.emit()

    def _replan(self) -> None:
        self._given_up = None
        self._late.start()
        self._planner.request(self._asked, self.sewn)

    def _take(self, sewn: Sewn) -> None:
        if sewn.design is not self._asked:
            return
        known = self.sewn is not None and self.sewn.plan is sewn.plan
        self.sewn = sewn
        self._late.stop()
        if self.playhead is not None and self.playhead >= len(sewn.plan):
            self.playhead = None
        if not known:
            self.sewn_changed.emit()
        if sewn.proofed:
            self.findings_changed.emit()

    def _fail(self, design: Design) -> None:
        """Stitching met a fault: the design is not busy for ever, and the cloth shows what was there before."""
        if design is self._asked:
            self._given_up = design
            self._late.stop()
            self.stuck.emit()

    def _progressed(self, at: int, count: int) -> None:
        if not self._late.isActive() and self.busy:
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

    def open(self, design: Design, path: Path | None = None, slot: Slot | None = None) -> Document:
        """Open a design in front of the others; ``slot`` holds the autosaves that it was recovered from."""
        document = Document(design, path, self.autosave, slot)
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
