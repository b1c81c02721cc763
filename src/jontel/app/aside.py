"""Work that takes a while, aside from the interface thread, while the window waits and can still be told to stop."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import TypeVar

from PyQt6.QtCore import QEventLoop, QTimer

from jontel.app.status import StatusLine

Result = TypeVar("Result")
SHOWN_AFTER = 300
LOOKED_AT_EVERY = 15


def aside(status: StatusLine, words: str, work: Callable[[], Result]) -> Result | None:
    """The result of ``work``, or ``None`` when the user stopped it; its errors are raised here.

    After a moment the status line shows ``words`` and a way to stop.
    """
    pool = ThreadPoolExecutor(1, "aside")
    future = pool.submit(work)
    loop = QEventLoop()
    late, look = QTimer(), QTimer()
    late.setSingleShot(True)
    late.timeout.connect(lambda: status.say(words, can_stop=True))
    look.timeout.connect(lambda: loop.quit() if future.done() else None)
    status.stop.clicked.connect(loop.quit)
    late.start(SHOWN_AFTER)
    look.start(LOOKED_AT_EVERY)
    loop.exec()
    status.stop.clicked.disconnect(loop.quit)
    late.stop()
    look.stop()
    pool.shutdown(wait=False, cancel_futures=True)
    status.say("")
    return future.result() if future.done() else None
