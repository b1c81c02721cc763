"""Autosave: the work of a session that ended without asking is there again at the next start."""

import contextlib
import os
from dataclasses import dataclass
from pathlib import Path

import msgspec
from msgspec import Struct

from jontel.design.design import Design
from jontel.design.errors import CannotRead
from jontel.files import working
from jontel.files.atomic import read_whole, write_whole


class _Owner(Struct, frozen=True):
    pid: int
    path: str | None


@dataclass(frozen=True)
class Recovered:
    """A design that a dead session left, and the working file it came from, if it had one."""

    design: Design
    path: Path | None
    slot: Path


class Autosave:
    """Keeps the current design of each open document in ``folder``, one slot a document."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder

    def keep(self, slot: str, design: Design, path: Path | None) -> None:
        """Write the slot. Raises ``CannotWrite``."""
        with contextlib.suppress(OSError):
            self._folder.mkdir(parents=True, exist_ok=True)
        owner = _Owner(os.getpid(), str(path) if path else None)
        write_whole(self._folder / f"{slot}.jontel", working.encode(design))
        write_whole(self._folder / f"{slot}.owner", msgspec.json.encode(owner))

    def drop(self, slot: str) -> None:
        """Forget a slot whose document was saved or closed."""
        for ending in ("jontel", "owner"):
            with contextlib.suppress(OSError):
                (self._folder / f"{slot}.{ending}").unlink()

    def left_behind(self) -> list[Recovered]:
        """What sessions that no longer run have left; slots that cannot be read stay where they are."""
        found: list[Recovered] = []
        for note in sorted(self._folder.glob("*.owner")):
            with contextlib.suppress(CannotRead, msgspec.DecodeError):
                owner = msgspec.json.decode(read_whole(note), type=_Owner)
                slot = note.with_suffix(".jontel")
                if not _alive(owner.pid):
                    design = working.decode(read_whole(slot), slot.name)
                    found.append(Recovered(design, Path(owner.path) if owner.path else None, slot))
        return found


def _alive(pid: int) -> bool:
    if pid == os.getpid():
        return True
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True
