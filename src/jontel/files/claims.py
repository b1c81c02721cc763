"""Whose a working file is: held by a lock while it is open here, and looked at before it is replaced."""

import contextlib
import fcntl
import os
from dataclasses import dataclass
from pathlib import Path


@dataclass(frozen=True)
class Look:
    """How a file looked when it was read or written last: enough to see that another program changed it."""

    node: int
    size: int
    changed: int

    @classmethod
    def of(cls, path: Path) -> "Look | None":
        """How the file looks now; ``None`` where there is none."""
        try:
            found = path.stat()
        except OSError:
            return None
        return cls(found.st_ino, found.st_size, found.st_mtime_ns)


class Claim:
    """A working file held by this program until ``release``; the lock goes with the process."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.elsewhere = False
        """Whether another running program has the file open."""
        self._handle = -1
        self.renew()

    def renew(self) -> None:
        """Hold the file that is there now, and remember how it looks."""
        self.release()
        self.look = Look.of(self.path)
        try:
            self._handle = os.open(self.path, os.O_RDONLY | os.O_CLOEXEC | os.O_NONBLOCK)
        except OSError:
            return
        try:
            fcntl.flock(self._handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
            self.elsewhere = False
        except BlockingIOError:
            self.elsewhere = True
        except OSError:  # not every file system has locks
            self.elsewhere = False

    def changed(self) -> bool:
        """Whether another program has replaced or changed the file since it was read or written here."""
        now = Look.of(self.path)
        return self.look is not None and now is not None and now != self.look

    def release(self) -> None:
        """Let go of the file."""
        if self._handle >= 0:
            with contextlib.suppress(OSError):
                os.close(self._handle)
            self._handle = -1
