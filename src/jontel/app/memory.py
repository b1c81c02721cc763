"""Giving memory back to the system: when a design is closed, and while one is worked on that takes much."""

import contextlib
import ctypes
import gc
import os
from functools import cache
from pathlib import Path

MUCH = 300_000_000
"""From so many bytes on freed room is given back after each edit: that takes some 5 ms aside from the window."""


def give_back() -> None:
    """Let go of what nothing refers to any more, and of the room that it took."""
    gc.collect()
    _trim()


def give_back_much() -> None:
    """Give back the room of what was let go where the process takes ``MUCH``.

    Every edit of a large object frees what the one before it took, in pieces that the C library keeps: in 100 edits
    of 100,000 stitches they come to some 110 MB.
    """
    if resident() > MUCH:
        _trim()


def _trim() -> None:
    """The C library keeps freed memory for later; after a large design that is hundreds of megabytes."""
    with contextlib.suppress(OSError, AttributeError):
        _c_library().malloc_trim(0)


@cache
def _c_library() -> ctypes.CDLL:
    return ctypes.CDLL(None)


def resident() -> int:
    """How many bytes of memory the process takes; 0 where the system does not tell."""
    with contextlib.suppress(OSError, ValueError, IndexError):
        return int(Path("/proc/self/statm").read_text().split()[1]) * os.sysconf("SC_PAGE_SIZE")
    return 0
