"""Work that takes a while, aside from the interface thread, while the window waits and can still be told to stop."""

from collections.abc import Callable
from typing import TypeVar

from PyQt6.QtCore import QEventLoop, QTimer

from jontel.app.faults import FAULTS
from jontel.app.jobs import Lane
from jontel.app.status import StatusLine
from jontel.design.errors import JontelError

Result = TypeVar("Result")
SHOWN_AFTER = 300


def aside(status: StatusLine, words: str, work: Callable[[], Result]) -> Result | None:
    """The result of ``work``, or ``None`` when the user stopped it or it met a fault, which is told.

    Its ``JontelError`` is raised here. After a moment the status line shows ``words`` and a way to stop; what is
    stopped writes nothing any more.
    """
    lane, loop = Lane("aside"), QEventLoop()
    results: list[Result] = []
    errors: list[Exception] = []

    def done(result: Result) -> None:
        results.append(result)
        loop.quit()

    def failed(error: Exception) -> None:
        errors.append(error)
        loop.quit()

    stop = lane.ask(work, done, failed)
    late = QTimer()
    late.setSingleShot(True)
    late.timeout.connect(lambda: status.say(words, can_stop=True))
    status.stop.clicked.connect(loop.quit)
    late.start(SHOWN_AFTER)
    loop.exec()
    status.stop.clicked.disconnect(loop.quit)
    late.stop()
    stop.give()
    lane.close()
    status.say("")
    if errors and isinstance(errors[0], JontelError):
        raise errors[0]
    if errors:
        FAULTS.caught(errors[0], words)
    return results[0] if results else None
