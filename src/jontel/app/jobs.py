"""Jobs: pure functions computed aside, one after another in a thread of their own, and stopped when nobody waits."""

import queue
import threading
import weakref
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar

from PyQt6.QtCore import QObject, Qt, pyqtSignal

from jontel.app.faults import FAULTS
from jontel.design.stopping import Stop, Stopped, stoppable

Result = TypeVar("Result")


_LANES: "weakref.WeakSet[Lane]" = weakref.WeakSet()


@dataclass(frozen=True, eq=False)
class Job:
    """Work to do aside, and who gets what it returns, or the exception that ended it, in the interface's thread."""

    work: Callable[[], Any]
    done: Callable[[Any], object]
    failed: Callable[[Exception], object]
    stop: Stop


class Lane(QObject):
    """One thread that takes its jobs in order.

    ``only_newest`` stops what it is at, and forgets what waits, as soon as something newer is asked for.
    """

    _ended = pyqtSignal(object, object, object)
    _said = pyqtSignal(object, object)

    def __init__(self, name: str, only_newest: bool = False) -> None:
        super().__init__()
        self._name, self._only_newest = name, only_newest
        self._jobs: queue.SimpleQueue[Job | None] = queue.SimpleQueue()
        self._waiting: list[Job] = []
        self._thread: threading.Thread | None = None
        self._ended.connect(self._take, Qt.ConnectionType.QueuedConnection)
        self._said.connect(lambda hear, what: hear(what), Qt.ConnectionType.QueuedConnection)
        _LANES.add(self)

    def ask(
        self,
        work: Callable[[], Result],
        done: Callable[[Result], object] = lambda _result: None,
        failed: Callable[[Exception], object] = lambda _error: None,
    ) -> Stop:
        """Do ``work`` aside; what it returns goes to ``done``, its exception to ``failed``. Returns what stops it."""
        if self._only_newest:
            self.stop()
        job = Job(work, done, failed, Stop())
        self._waiting = [one for one in self._waiting if not one.stop.given]
        self._waiting.append(job)
        if self._thread is None:
            self._thread = threading.Thread(target=self._run, name=self._name, daemon=True)
            self._thread.start()
        self._jobs.put(job)
        return job.stop

    def say(self, hear: Callable[[Any], object], what: object) -> None:
        """From inside a job: let ``hear`` have ``what`` in the interface's thread, unless the job was stopped."""
        self._said.emit(hear, what)

    def stop(self) -> None:
        """Stop everything that was asked for."""
        for job in self._waiting:
            job.stop.give()
        self._waiting.clear()

    def close(self, finish: bool = False) -> None:
        """End the thread; with ``finish`` after what was asked for so far."""
        if not finish:
            self.stop()
        if self._thread is not None:
            self._jobs.put(None)

    def join(self, seconds: float) -> None:
        """Wait for the thread to end."""
        if self._thread is not None:
            self._thread.join(seconds)

    def _run(self) -> None:
        while (job := self._jobs.get()) is not None:
            if job.stop.given:
                continue
            result: object = None
            error: BaseException | None = None
            try:
                with stoppable(job.stop):
                    result = job.work()
            except Stopped:
                continue
            except BaseException as raised:  # told by the one who asked, or by FAULTS
                error = raised
            try:
                self._ended.emit(job, result, error)
            except RuntimeError:  # the lane was let go while its last job ran
                return

    def _take(self, job: Job, result: object, error: BaseException | None) -> None:
        if job in self._waiting:
            self._waiting.remove(job)
        if job.stop.given:
            return
        if error is None:
            job.done(result)
        elif isinstance(error, Exception):
            job.failed(error)
        else:
            FAULTS.caught(error, self._name)


def end_all(seconds: float = 2.0) -> None:
    """Stop every job and wait for the threads to end: none may still run when the program goes."""
    lanes = list(_LANES)
    for lane in lanes:
        lane.close()
    for lane in lanes:
        lane.join(seconds)
