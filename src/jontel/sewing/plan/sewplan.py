"""A plan as its pieces, and as flat arrays for those who write it down."""

import bisect
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from jontel.design.design import Design, StitchObject
from jontel.design.kinds import Underlay
from jontel.design.shapes import Lines, Point
from jontel.design.thread import Thread
from jontel.geometry.polyline import Floats
from jontel.sewing.ends import EntryExit
from jontel.sewing.overlaps import Overlaps
from jontel.sewing.plan.piece import Part, Piece, Segments
from jontel.sewing.plan.tally import Tally
from jontel.stitching.stitches import Bytes, Kind, Layer, Stitches


@dataclass(frozen=True)
class Failure:
    """An object that has no stitches, why, and where to look."""

    object: int
    name: str
    sentence: str
    place: Point | None


@dataclass(frozen=True, eq=False)
class Entry:
    """What was worked out for one object, and from what: an edit that leaves that as it is takes it over.

    ``passes`` is the underlay that it is sewn with, ``width`` how wide it is drawn across its narrow way, mm;
    ``lines`` are its direction lines, drawn or worked out.
    """

    item: StitchObject
    ends: EntryExit
    segments: Segments | None
    failure: Failure | None
    sewn: Stitches | None = None
    passes: tuple[Underlay, ...] = ()
    width: float = 0.0
    lines: Lines = ()


Block = tuple[tuple[StitchObject, ...], tuple[EntryExit, ...]]


@dataclass(frozen=True, eq=False)
class SewPlan:
    """All needle movements, piece by piece; the last row is the end of the program.

    As flat arrays: ``xy`` (n, 2), ``kind`` and ``layer`` uint8 (n,), ``object`` int32 (n,) (-1: none), ``thread``
    int16 (n,), the index into ``threads``, which are in the order of first use. ``stops`` maps the row of a stop to
    its instruction. ``design`` is what is sewn, ``drawn`` how it was drawn, shared underlays in their present shapes;
    both have the same objects in the same order. ``entries``, ``blocks`` (what sews, those that follow each other in
    one thread together, with their ends), ``parts`` (the object of each piece), ``overlaps`` and ``tally`` are what
    the plan of the next edit starts from.
    """

    design: Design
    drawn: Design
    pieces: tuple[Piece, ...]
    threads: tuple[Thread, ...]
    entries: tuple[Entry, ...]
    overlaps: Overlaps
    blocks: tuple[Block, ...]
    parts: tuple[Part, ...]
    tally: Tally

    def with_pieces(self, pieces: tuple[Piece, ...]) -> "SewPlan":
        """The plan with other pieces, and all that follows from these."""
        return replace(self, pieces=pieces, tally=Tally.of(pieces, self.tally))

    @cached_property
    def failures(self) -> tuple[Failure, ...]:
        """The objects that have no stitches."""
        return tuple(one.failure for one in self.entries if one.failure is not None)

    @cached_property
    def merged(self) -> dict[int, int]:
        """How many stitches of each object were merged, where any were."""
        merged = {one.item.id: one.segments.merged for one in self.entries if one.segments is not None}
        return {owner: count for owner, count in merged.items() if count}

    @cached_property
    def starts(self) -> NDArray[np.int64]:
        """The first row of each piece and, last, of the end, (pieces + 1,)."""
        return np.append(0, np.cumsum(self.tally.counts.sum(axis=1))).astype(np.int64)

    def __len__(self) -> int:
        return int(self.starts[-1]) + 1 if self.pieces else 0

    def sewn(self) -> NDArray[np.bool_]:
        """Rows whose thread lies on the cloth: a needle point right after a needle point, (n,)."""
        return (
            np.append(np.concatenate([one.sewn for one in self.pieces]), False) if self.pieces else np.zeros(0, bool)
        )

    def where(self, row: int) -> tuple[int, int]:
        """The piece that a row belongs to, and its place there; the end belongs to the last one."""
        number = min(bisect.bisect_right(self.starts, row) - 1, len(self.pieces) - 1)
        return number, min(row - int(self.starts[number]), len(self.pieces[number]) - 1)

    def place(self, row: int) -> tuple[float, float]:
        """Where the needle is at a row, mm."""
        number, at = self.where(row)
        x, y = self.pieces[number].xy[at].tolist()
        return x, y

    @cached_property
    def xy(self) -> Floats:
        """Where the needle goes, (n, 2), mm."""
        if not self.pieces:
            return np.zeros((0, 2))
        return np.concatenate([*(one.xy for one in self.pieces), self.pieces[-1].xy[-1:]])

    @cached_property
    def kind(self) -> Bytes:
        """What the machine does, (n,)."""
        return _joined([one.kind for one in self.pieces], int(Kind.END), np.uint8)

    @cached_property
    def layer(self) -> Bytes:
        """The pass of the build-up, (n,)."""
        return _joined([one.layer for one in self.pieces], int(Layer.TRAVEL), np.uint8)

    @cached_property
    def object(self) -> NDArray[np.int32]:
        """Whose row it is, (n,)."""
        return self._each(self.tally.owners, -1).astype(np.int32)

    @cached_property
    def thread(self) -> NDArray[np.int16]:
        """The thread, by its place in ``threads``, (n,)."""
        last = self.pieces[-1].thread if self.pieces else 0
        return self._each(self.tally.threads, last).astype(np.int16)

    def _each(self, values: NDArray[np.int64], end: int) -> NDArray[np.int64]:
        if not self.pieces:
            return np.zeros(0, np.int64)
        return np.append(np.repeat(values, np.diff(self.starts)), end)

    @cached_property
    def stops(self) -> dict[int, str]:
        """The instruction of each stop by its row."""
        rows = zip(self.starts.tolist(), self.pieces, strict=False)
        return {first + row: words for first, one in rows for row, words in one.stops}


def _joined(parts: list[Bytes], end: int, kind: type[np.uint8]) -> Bytes:
    return np.concatenate([*parts, np.array([end], kind)]) if parts else np.zeros(0, kind)
