"""Faults of Jontel itself: an unforeseen exception never closes the program, never hides, never loses work.

Whatever raises where nobody foresaw it - in a slot, a paint event, a tool, a thread, a job - ends here: it is written
to the log with the last edits, told in one sentence, once for each place in the code, and the work is kept.
"""

import logging
import logging.handlers
import platform
import sys
import threading
import traceback
from collections import deque
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from types import TracebackType

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QPaintDevice, QPainter

from jontel import __version__

LOG_BYTES, LOGS = 1_000_000, 3
LAST_EDITS = 30
SENTENCE = "Something in Jontel failed ({what}). Your work is there and was kept; the log tells what happened."
log = logging.getLogger("jontel")


class Faults(QObject, logging.Handler):
    """Takes what nobody caught, from any thread, and what the core logs as an error."""

    happened = pyqtSignal(str)

    def __init__(self) -> None:
        QObject.__init__(self)
        logging.Handler.__init__(self, logging.ERROR)
        self.edits: deque[str] = deque(maxlen=LAST_EDITS)
        self.file: Path | None = None
        self._told: set[str] = set()
        self._to_file: logging.Handler | None = None

    def keep_log(self, folder: Path) -> None:
        """Write to ``jontel.log`` in ``folder`` from now on; without a place to write, faults are still told."""
        if self._to_file is not None:
            log.removeHandler(self._to_file)
            self._to_file.close()
            self._to_file = None
        if self not in log.handlers:
            log.addHandler(self)
        try:
            folder.mkdir(parents=True, exist_ok=True)
            self._to_file = logging.handlers.RotatingFileHandler(
                folder / "jontel.log", maxBytes=LOG_BYTES, backupCount=LOGS, encoding="utf-8"
            )
        except OSError:
            self.file = None
            return
        self._to_file.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(name)s: %(message)s"))
        log.addHandler(self._to_file)
        self.file = folder / "jontel.log"

    def install(self) -> None:
        """Take every exception that nobody catches, in the interface and in threads."""
        sys.excepthook = self._unhandled
        threading.excepthook = lambda args: self._unhandled(args.exc_type, args.exc_value, args.exc_traceback)

    def _unhandled(
        self, kind: type[BaseException], error: BaseException | None, _trace: TracebackType | None
    ) -> None:
        if error is not None and issubclass(kind, KeyboardInterrupt):
            sys.__excepthook__(kind, error, _trace)
        elif error is not None:
            self.caught(error, "the window")

    def caught(self, error: BaseException, where: str) -> None:
        """Log a fault with the last edits, and tell it."""
        edits = ", ".join(self.edits) or "none yet"
        log.error("a fault in %s; last edits: %s", where, edits, exc_info=error)

    def emit(self, record: logging.LogRecord) -> None:
        """Tell one error of the log, once for each place in the code."""
        error = record.exc_info[1] if record.exc_info else None
        frames = traceback.extract_tb(error.__traceback__) if error is not None else []
        place = f"{type(error).__name__} in {Path(frames[-1].filename).name}:{frames[-1].lineno}" if frames else ""
        what = place or record.getMessage()
        if what not in self._told:
            self._told.add(what)
            self.happened.emit(SENTENCE.format(what=what))

    def report(self) -> str:
        """The end of the log with what it ran on, to be sent by hand."""
        text = ""
        if self.file is not None and self.file.exists():
            text = self.file.read_text(encoding="utf-8", errors="replace")[-20_000:]
        return f"Jontel {__version__}, Python {platform.python_version()}, {platform.platform()}\n\n{text}"


FAULTS = Faults()


@contextmanager
def painting(device: QPaintDevice) -> Iterator[QPainter]:
    """A painter that is ended whatever happens: one left open would take Qt down with it."""
    painter = QPainter(device)
    try:
        yield painter
    except Exception as error:
        FAULTS.caught(error, "painting")
    finally:
        painter.end()
