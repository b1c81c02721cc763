"""Stopping work that nobody waits for any more, from outside and within a few milliseconds.

Whoever starts a job runs it under ``stoppable(stop)``; loops that can take long call ``go_on`` on their way, which
raises ``Stopped`` once the stop was given. Without a job nothing is ever stopped, so the functions stay pure.
"""

import time
from collections.abc import Callable, Iterator
from concurrent.futures import Future, wait
from contextlib import contextmanager
from contextvars import ContextVar, copy_context
from threading import Event, Thread
from typing import TypeVar

Outcome = TypeVar("Outcome")

LOOKED_UP = 0.01
"""How often, s, a job that waits for work which cannot be ended looks whether it is still wanted."""


class Stopped(BaseException):
    """The job was told to stop; like ``KeyboardInterrupt`` it is no error of the work, and nothing may swallow it."""


class Stop:
    """A wish to stop, given from any thread."""

    def __init__(self) -> None:
        self._given = Event()

    def give(self) -> None:
        """Stop as soon as may be."""
        self._given.set()

    def waited(self, seconds: float) -> bool:
        """Wait until the stop is given, at most so long; whether it was."""
        return self._given.wait(seconds)

    @property
    def given(self) -> bool:
        """Whether the work is to stop."""
        return self._given.is_set()


_current: ContextVar[Stop | None] = ContextVar("stop", default=None)


@contextmanager
def stoppable(stop: Stop) -> Iterator[None]:
    """Let ``stop`` end the work inside, in this thread."""
    token = _current.set(stop)
    try:
        yield
    finally:
        _current.reset(token)


def pause(seconds: float) -> None:
    """Wait, but no longer than the job is wanted: raise ``Stopped`` when it was told to stop meanwhile."""
    stop = _current.get()
    if stop is None:
        time.sleep(seconds)
    elif stop.waited(seconds):
        raise Stopped


def go_on() -> None:
    """Raise ``Stopped`` when the job that this belongs to was told to stop."""
    stop = _current.get()
    if stop is not None and stop.given:
        raise Stopped


def left_behind(work: Callable[[], Outcome]) -> Outcome:
    """What ``work`` gives, of whose calls into libraries single ones take long and nothing can end them.

    In a job it runs on a thread of its own: told to stop, the job goes at once and leaves the work to itself, which
    ends when it goes on itself and whose outcome nobody takes. It must change nothing that others see.
    """
    if _current.get() is None:
        return work()
    outcome: Future[Outcome] = Future()

    def run() -> None:
        try:
            outcome.set_result(work())
        except BaseException as error:
            outcome.set_exception(error)

    # No daemon, though lanes are: the interpreter must not end under a library that is at work.
    Thread(target=copy_context().run, args=(run,), name="left behind", daemon=False).start()
    while not wait((outcome,), LOOKED_UP).done:
        go_on()
    return outcome.result()
