"""Keeps the work of one open design: soon after an edit, and every so often while edits go on."""

import time
import uuid
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from jontel.app.faults import FAULTS
from jontel.app.jobs import Lane
from jontel.design import CannotWrite, Design, JontelError
from jontel.files.autosave import Autosave, Slot

SOON = 1.5
"""So many seconds after the last edit the work is kept,"""
AT_LEAST = 9.0
"""but never later than this after the first edit that is not."""
PAUSE, LONGEST_PAUSE = 5.0, 60.0
"""After a failure it is tried again after a pause, each time twice as long up to the second."""


class Keeper(QObject):
    """Writes autosaves aside; every failure is told, and tried again."""

    troubled = pyqtSignal(str)
    kept = pyqtSignal()

    def __init__(self, autosave: Autosave | None, slot: Slot | None, unkept: Callable[[], Design | None]) -> None:
        super().__init__()
        self._autosave, self._slot, self._unkept = autosave, slot, unkept
        self.path: Path | None = None
        self._lane = Lane("autosave")
        self._since: float | None = None
        self._failures = 0
        self._said = ""
        self._at_work = False
        self._timer = QTimer(self, singleShot=True)
        self._timer.setObjectName("keep")
        self._timer.timeout.connect(self.now)

    def edited(self) -> None:
        """There is something new to keep."""
        moment = time.monotonic()
        self._since = moment if self._since is None else self._since
        if self._said:  # a pause after a failure runs
            return
        latest = self._since + AT_LEAST - moment
        # A timer that runs out in time is left alone: started again by every edit, it would never run out where edits
        # follow each other without a breath.
        if latest < SOON and self._timer.isActive() and self._timer.remainingTime() <= max(latest, 0.0) * 1000 + 1:
            return
        self._timer.start(max(0, round(min(SOON, latest) * 1000)))

    def now(self) -> None:
        """Keep what is there now, aside."""
        design = self._unkept()
        if self._autosave is None or design is None or self._at_work:
            return
        self._timer.stop()
        self._at_work, self._since = True, None
        path, autosave = self.path, self._autosave

        def work() -> None:
            if self._slot is None:
                self._slot = autosave.slot(uuid.uuid4().hex)
            self._slot.keep(design, path)

        self._lane.ask(work, lambda _none: self._done(design), self._failed)

    def _done(self, design: Design) -> None:
        self._at_work, self._failures, self._said = False, 0, ""
        self.kept.emit()
        if self._unkept() not in (None, design):
            self.edited()

    def _failed(self, error: Exception) -> None:
        self._at_work = False
        if not isinstance(error, JontelError):
            FAULTS.caught(error, "autosave")
            error = CannotWrite("The autosave failed.")
        words = f"{str(error).rstrip('.')}. It is tried again; save your work meanwhile."
        if words != self._said:
            self.troubled.emit(words)
        self._said = words
        self._timer.start(round(min(LONGEST_PAUSE, PAUSE * 2**self._failures) * 1000))
        self._failures += 1

    def forget(self) -> None:
        """The work is in a file, or given up: the autosaves go."""
        self._timer.stop()
        self._since = None
        slot = self._slot

        def work() -> None:
            if slot is not None:
                slot.drop()

        self._slot = None
        self._lane.ask(work, failed=lambda error: FAULTS.caught(error, "autosave"))

    def close(self, forget: bool = True) -> None:
        """End, after what was asked for so far."""
        if forget:
            self.forget()
        self._timer.stop()
        self._lane.close(finish=True)
        self._lane.join(5.0)
