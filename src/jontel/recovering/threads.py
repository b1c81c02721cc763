"""The stitches of a stitch file, thread by thread, as arrays."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jontel.design.errors import CannotRead
from jontel.geometry.polyline import Floats
from jontel.machine.head import Movement
from jontel.stitching.stitches import Kind

Ints = NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class Block:
    """All stitches of one thread between two changes: each from ``start`` to ``stop`` (n, 2), in their order.

    ``piece`` (n,) numbers the unbroken lengths of thread: between them the needle was moved or the thread was cut.
    """

    thread: str
    start: Floats
    stop: Floats
    piece: Ints

    def __len__(self) -> int:
        return len(self.piece)

    @property
    def way(self) -> Floats:
        """What each stitch adds, (n, 2)."""
        return self.stop - self.start

    @property
    def length(self) -> Floats:
        """How long each stitch is, (n,)."""
        return np.asarray(np.hypot(*self.way.T))


MOST_STITCHES, MOST_METRES = 1_000_000, 6_000


def sound_blocks_of(movements: Iterable[Movement], name: str) -> list[Block]:
    """The stitches of every thread in a file. Raises ``CannotRead`` for one that holds none, or far too much."""
    blocks = blocks_of(movements)
    if not blocks:
        raise CannotRead(f"{name} holds no stitches; there is nothing to recover.")
    if sum(len(block) for block in blocks) > MOST_STITCHES:
        raise CannotRead(f"{name} holds over {MOST_STITCHES:,} stitches; recover a part of it.")
    if sum(float(block.length.sum()) for block in blocks) > 1000.0 * MOST_METRES:
        raise CannotRead(f"{name} lays over {MOST_METRES:,} m of thread, more than any design; recover a part of it.")
    return blocks


def blocks_of(movements: Iterable[Movement]) -> list[Block]:
    """The stitches of every thread, as they are sewn; threads without any are left out."""
    found: list[Block] = []
    thread, piece = "", -1
    rows: list[tuple[float, float, float, float, int]] = []
    at: tuple[float, float] | None = None

    def close() -> None:
        nonlocal rows
        if rows:
            every = np.array(rows)
            found.append(Block(thread, every[:, :2], every[:, 2:4], every[:, 4].astype(np.int64)))
        rows = []

    for move in movements:
        if move.kind == Kind.STITCH:
            if at is None:
                piece += 1
            elif at != (move.x, move.y):
                rows.append((*at, move.x, move.y, piece))
            at = move.x, move.y
        elif move.kind == Kind.THREAD:
            close()
            thread, at = move.note, None
        elif move.kind != Kind.STOP:
            at = None
    close()
    return found
