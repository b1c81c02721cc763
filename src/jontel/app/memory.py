"""Giving memory back to the system when a design is closed."""

import contextlib
import ctypes
import gc


def give_back() -> None:
    """Let go of what nothing refers to any more, and of the room that it took.

    The C library keeps freed memory for later; after a large design that is hundreds of megabytes.
    """
    gc.collect()
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL(None).malloc_trim(0)
