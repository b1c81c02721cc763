"""Autosave: the work of a session that ended without asking is there again at the next start.

Each open document has a folder of its own, which the running program holds by a lock on a file in it: the lock goes
with the process, however it ends, and no number given again can keep it. Each autosave is one file that holds the
design and where it came from; the one before is let go only after the new one was read back.
"""

import contextlib
import fcntl
import logging
import os
import shutil
from dataclasses import dataclass, field
from pathlib import Path

import msgspec
from msgspec import Struct

from jontel.design.design import Design
from jontel.design.errors import CannotRead, CannotWrite
from jontel.files import working
from jontel.files.atomic import clear_leftovers, read_whole, write_whole

KEPT = 10
"""How many autosaves of a design are kept,"""
KEPT_BYTES = 200_000_000
"""as long as they do not take more than this together."""
LOCK, ENDING, ORIGIN = "lock", ".jontel", "origin.json"
DAMAGED = "damaged"
log = logging.getLogger(__name__)


class _Origin(Struct, frozen=True):
    """Where the design was opened from."""

    path: str | None


@dataclass(eq=False)
class Slot:
    """The folder of one open document, held by this process until it is let go."""

    folder: Path
    handle: int
    last: int = 0

    def keep(self, design: Design, path: Path | None) -> None:
        """Write an autosave, read it back, then let the oldest go. Raises ``CannotWrite``.

        Whatever goes wrong, the autosaves before are still there.
        """
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise CannotWrite(f"{self.folder} could not be made: {(error.strerror or 'no').lower()}.") from error
        fresh = self.folder / f"{self.last + 1:08d}{ENDING}"
        origin = msgspec.json.encode(_Origin(str(path) if path else None))
        write_whole(self.folder / ORIGIN, origin)
        write_whole(fresh, working.encode(design))
        try:
            if working.decode(read_whole(fresh), fresh.name) != design:
                raise CannotRead(f"{fresh.name} is not what was written.")
        except CannotRead as error:
            with contextlib.suppress(OSError):
                fresh.unlink()
            raise CannotWrite(f"The autosave could not be read back: {error}") from error
        self.last += 1
        self._let_old_go()

    def _let_old_go(self) -> None:
        room = KEPT_BYTES
        for number, one in enumerate(kept_in(self.folder)):
            with contextlib.suppress(OSError):
                room -= one.stat().st_size
                if number and (number >= KEPT or room < 0):
                    one.unlink()

    def drop(self) -> None:
        """Forget the document: it was saved or closed."""
        shutil.rmtree(self.folder, ignore_errors=True)
        self.release()

    def release(self) -> None:
        """Let go of the folder without taking anything away."""
        if self.handle >= 0:
            os.close(self.handle)
            self.handle = -1


@dataclass(frozen=True)
class Recovered:
    """A design that a dead session left, the working file it came from, if it had one, and its folder."""

    design: Design
    path: Path | None
    slot: Slot


@dataclass
class Found:
    """What is left of sessions that no longer run; ``troubles`` name what could not be read, and where it lies."""

    recovered: list[Recovered] = field(default_factory=list)
    troubles: list[str] = field(default_factory=list)


class Autosave:
    """Keeps the current design of each open document below ``folder``."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def slot(self, name: str) -> Slot:
        """A folder for a document that was just opened. Raises ``CannotWrite``."""
        made = _taken(self.folder / name)
        if made is None:
            raise CannotWrite(f"{self.folder / name} belongs to another running Jontel.")
        return made

    def left_behind(self) -> Found:
        """What sessions that no longer run have left, held from now on by this one.

        What cannot be read is put aside, named, and never keeps the program from starting.
        """
        found = Found()
        if not self.folder.is_dir():
            return found
        clear_leftovers(self.folder)
        for folder in sorted(one for one in self.folder.iterdir() if one.is_dir() and one.name != DAMAGED):
            try:
                slot = _taken(folder)
                if slot is not None:
                    self._recover(slot, found)
            except Exception:  # nothing in a left folder may keep the program from starting
                log.exception("the autosave %s could not be looked at", folder)
                found.troubles.append(f"An autosave in {folder} could not be looked at.")
        return found

    def _recover(self, slot: Slot, found: Found) -> None:
        """Read the newest autosave that can be read; the damaged ones go to a folder of their own."""
        clear_leftovers(slot.folder)
        files = kept_in(slot.folder)
        for one in files:
            try:
                design = working.decode(read_whole(one), one.name)
            except CannotRead as error:
                aside = self.folder / DAMAGED / f"{slot.folder.name}-{one.name}"
                aside.parent.mkdir(exist_ok=True)
                one.rename(aside)
                found.troubles.append(f"An autosave could not be read and was put aside as {aside}: {error}")
                continue
            slot.last = int(one.stem)
            found.recovered.append(Recovered(design, _origin_of(slot.folder), slot))
            return
        slot.drop()


def kept_in(folder: Path) -> list[Path]:
    """The autosaves of one document, newest first."""
    return sorted((one for one in folder.glob(f"*{ENDING}") if one.stem.isdigit()), reverse=True)


def _origin_of(folder: Path) -> Path | None:
    with contextlib.suppress(CannotRead, msgspec.DecodeError, UnicodeDecodeError):
        path = msgspec.json.decode(read_whole(folder / ORIGIN, 100_000), type=_Origin).path
        return Path(path) if path else None
    return None


def _taken(folder: Path) -> Slot | None:
    """The folder held by this process; ``None`` while another one holds it. Raises ``CannotWrite``."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
        handle = os.open(folder / LOCK, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
    except OSError as error:
        raise CannotWrite(f"Nothing can be kept in {folder}: {(error.strerror or 'no').lower()}.") from error
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        os.close(handle)
        return None
    return Slot(folder, handle)
