"""Writing a file whole or not at all, and reading one without trusting its size or its kind."""

import contextlib
import errno
import os
import stat
import tempfile
from pathlib import Path

from jontel.design.errors import CannotRead, CannotWrite
from jontel.design.stopping import go_on

LARGEST = 512_000_000
PART = ".jontel-part"
"""What the name of a file on its way ends in; ``clear_leftovers`` takes those away that nobody finished."""
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
    errno.ELOOP: "its links lead in a circle; choose another name",
}


def write_whole(path: Path, data: bytes) -> None:
    """Write ``data`` beside ``path``, sync it, and rename it into place; a link's target is written, not the link.

    Raises ``CannotWrite``; what was at ``path`` before then is still there and nothing partial is left. Until the
    last moment the new file has no name at all where the system allows it, so that a process that is killed on the
    way leaves nothing behind. A job that was told to stop stops before the old file is replaced.
    """
    part: Path | None = None
    try:
        target = Path(os.path.realpath(path))
        mode = _mode_for(target)
        handle, part = _nameless(target)
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fchmod(file.fileno(), mode)
            os.fsync(file.fileno())
            go_on()
            if part is None:
                part = _named(file.fileno(), target)
        part.replace(target)
        part = None
        _sync_folder(target.parent)
    except OSError as error:
        why = _WHY.get(error.errno or 0, (error.strerror or "the disk refused").lower())
        raise CannotWrite(f"{path.name} could not be written: {why}.") from error
    finally:
        if part is not None:
            with contextlib.suppress(OSError):
                part.unlink()


def _mode_for(target: Path) -> int:
    """The permissions of what is replaced, or those of a new file. Raises ``OSError`` for what is no plain file."""
    try:
        found = target.stat()
    except FileNotFoundError:
        mask = os.umask(0)
        os.umask(mask)
        return 0o666 & ~mask
    if stat.S_ISDIR(found.st_mode):
        raise IsADirectoryError(errno.EISDIR, "is a folder")
    if not stat.S_ISREG(found.st_mode):
        raise OSError(errno.EINVAL, "it is a device or a pipe; give another name")
    return stat.S_IMODE(found.st_mode)


def _nameless(target: Path) -> tuple[int, Path | None]:
    """A new file in the folder of ``target``: its handle, and its name where it has to have one."""
    try:
        return os.open(target.parent, os.O_TMPFILE | os.O_WRONLY, 0o600), None
    except OSError as error:
        if error.errno not in (errno.EOPNOTSUPP, errno.EISDIR, errno.EINVAL):
            raise
    handle, name = tempfile.mkstemp(prefix=f".{target.name[:40]}.", suffix=PART, dir=target.parent)
    return handle, Path(name)


def _named(handle: int, target: Path) -> Path:
    """Give a nameless file the name that it is renamed from; one that a killed process left is taken over."""
    part = target.with_name(f".{target.name[:200]}.{os.getpid()}{PART}")
    with contextlib.suppress(FileNotFoundError):
        part.unlink()
    os.link(f"/proc/self/fd/{handle}", part, src_dir_fd=handle, follow_symlinks=True)  # only so is the link followed
    return part


def _sync_folder(folder: Path) -> None:
    """Make the new name last; not every file system can."""
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def clear_leftovers(folder: Path) -> int:
    """Take away what killed processes left on its way in ``folder``; how many files that were."""
    gone = 0
    for part in folder.glob(f".*{PART}"):
        with contextlib.suppress(OSError):
            part.unlink()
            gone += 1
    return gone


def read_whole(path: Path, largest: int = LARGEST) -> bytes:
    """The bytes of a file. Raises ``CannotRead`` for what is no plain file, is missing, closed or enormous."""
    try:
        with open(path, "rb", opener=_opener) as file:
            found = os.fstat(file.fileno())
            if stat.S_ISDIR(found.st_mode):
                raise CannotRead(f"{path.name or path} is a folder; choose a file in it.")
            if not stat.S_ISREG(found.st_mode):
                raise CannotRead(f"{path.name} is a device or a pipe; save it as a file first.")
            data = b"" if found.st_size > largest else file.read(largest + 1)
        if found.st_size > largest or len(data) > largest:
            raise CannotRead(f"{path.name} is over {largest // 1_000_000} MB, too large for a design.")
        return data
    except FileNotFoundError as error:
        raise CannotRead(f"There is no file {path}; check the name.") from error
    except PermissionError as error:
        raise CannotRead(f"You may not read {path.name}; ask its owner for permission.") from error
    except IsADirectoryError as error:
        raise CannotRead(f"{path.name or path} is a folder; choose a file in it.") from error
    except (OSError, ValueError) as error:
        why = getattr(error, "strerror", None) or "its name is none that a disk knows"
        raise CannotRead(f"{path.name[:80]} could not be read: {why.lower()}.") from error


def _opener(path: str, flags: int) -> int:
    """Open without waiting: a pipe that nobody writes to would wait for ever."""
    return os.open(path, flags | os.O_NONBLOCK)
