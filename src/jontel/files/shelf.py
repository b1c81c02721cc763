"""What took long to work out, kept on disk from one start to the next: columns of letters, in the user's cache.

A name on the shelf is that of what was asked and of the code that answers: another version never finds what an
earlier one put there. Whatever is wrong with the disk, the work is done again.
"""

import contextlib
import hashlib
import importlib.metadata
import os
import tempfile
import zlib
from functools import cache
from importlib import resources
from pathlib import Path

import jontel

ROOM = 120_000_000
"""How many bytes the shelf takes; beyond, what was not asked for longest goes."""
LARGEST = 8_000_000
CHECK = 16
ROOMS = ("geometry", "design")
LIBRARIES = ("numpy", "scipy", "shapely")


@cache
def _code() -> bytes:
    """What tells one version of the code that works out what lies on the shelf from another."""
    told = hashlib.blake2b(jontel.__version__.encode(), digest_size=16)
    for room in ROOMS:
        for file in sorted(resources.files(f"jontel.{room}").iterdir(), key=lambda one: one.name):
            if file.name.endswith(".py"):
                told.update(file.read_bytes())
    for library in LIBRARIES:
        told.update(importlib.metadata.version(library).encode())
    return told.digest()


class FolderShelf:
    """A shelf in a folder, a file an answer."""

    def __init__(self, folder: Path, room: int = ROOM) -> None:
        self.folder, self.room = folder, room
        self.room_left = room

    def _path(self, question: bytes) -> Path:
        name = hashlib.blake2b(_code() + question, digest_size=20).hexdigest()
        return self.folder / name[:2] / name[2:]

    def find(self, question: bytes) -> bytes | None:
        """What was put there for a question; ``None`` where there is nothing whole."""
        path = self._path(question)
        try:
            if path.stat().st_size > LARGEST:
                return None
            packed = path.read_bytes()
            os.utime(path)
        except OSError:
            return None
        if hashlib.blake2b(packed[CHECK:], digest_size=CHECK).digest() != packed[:CHECK]:
            return None
        try:
            unpacker = zlib.decompressobj()
            data = unpacker.decompress(packed[CHECK:], 8 * LARGEST)
        except zlib.error:
            return None
        return data if unpacker.eof else None

    def keep(self, question: bytes, answer: bytes) -> None:
        """Put an answer there, if the disk lets it; in one run of the program no more than the shelf holds."""
        packed = zlib.compress(answer, 1)
        whole = hashlib.blake2b(packed, digest_size=CHECK).digest() + packed
        if len(whole) > min(LARGEST, self.room_left):
            return
        path = self._path(question)
        with contextlib.suppress(OSError):
            path.parent.mkdir(parents=True, exist_ok=True)
            with tempfile.NamedTemporaryFile(dir=path.parent, prefix=".", delete=False) as part:
                part.write(whole)  # not synced: what a lost current leaves of it is told by its check
            Path(part.name).replace(path)
            self.room_left -= len(whole)

    def tidy(self) -> None:
        """Take away what was not asked for longest, as far as the shelf takes too much room."""
        files: list[tuple[float, int, Path]] = []
        with contextlib.suppress(OSError):
            for path in self.folder.glob("??/*"):
                seen = path.stat()
                files.append((seen.st_mtime, seen.st_size, path))
        left = sum(size for _, size, _ in files)
        for _, size, path in sorted(files):
            if left <= self.room:
                return
            with contextlib.suppress(OSError):
                path.unlink()
            left -= size
