"""Writing a file whole or not at all."""

import contextlib
import errno
import os
import tempfile
from pathlib import Path

from jontel.design.errors import CannotRead, CannotWrite

_WHY = {
    errno.ENOSPC: "the disk is full; free some space or choose another place",
    errno.EDQUOT: "your share of the disk is full; free some space or choose another place",
    errno.EACCES: "you may not write there; choose another folder",
    errno.EPERM: "you may not write there; choose another folder",
    errno.EROFS: "that disk is read-only; choose another folder",
    errno.ENOENT: "that folder does not exist; make it or choose another",
    errno.ENOTDIR: "part of that path is not a folder; choose another",
    errno.EISDIR: "that is a folder; give a file name",
    errno.ENAMETOOLONG: "the name is too long; choose a shorter one",
}


def write_whole(path: Path, data: bytes) -> None:
    """Write ``data`` beside ``path``, sync it, and rename it into place.

    Raises ``CannotWrite``; what was at ``path`` before then is still there and nothing partial is left.
    """
    partial: Path | None = None
    try:
        if path.is_dir():
            raise IsADirectoryError(errno.EISDIR, "is a folder")
        handle, name = tempfile.mkstemp(prefix=".jontel-", dir=path.parent)
        partial = Path(name)
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        mask = os.umask(0)
        os.umask(mask)
        partial.chmod(0o666 & ~mask)
        partial.replace(path)
    except OSError as error:
        if partial is not None:
            with contextlib.suppress(OSError):
                partial.unlink()
        why = _WHY.get(error.errno or 0, (error.strerror or "the disk refused").lower())
        raise CannotWrite(f"{path.name} could not be written: {why}.") from error


def read_whole(path: Path, largest: int = 512_000_000) -> bytes:
    """The bytes of a file. Raises ``CannotRead`` for a folder, a missing, closed or enormous file."""
    try:
        if path.is_dir():
            raise CannotRead(f"{path.name or path} is a folder; choose a file in it.")
        if path.stat().st_size > largest:
            raise CannotRead(f"{path.name} is over {largest // 1_000_000} MB, too large for a design.")
        return path.read_bytes()
    except FileNotFoundError as error:
        raise CannotRead(f"There is no file {path}; check the name.") from error
    except PermissionError as error:
        raise CannotRead(f"You may not read {path.name}; ask its owner for permission.") from error
    except OSError as error:
        raise CannotRead(
            f"{path.name} could not be read: {(error.strerror or 'the disk refused').lower()}."
        ) from error
