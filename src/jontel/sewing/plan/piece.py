"""One object's part of a plan: how the needle gets to it, its stitches, its locks, and how its thread ends."""

import itertools
import math
from collections.abc import Hashable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, NamedTuple

import numpy as np

from jontel.design.design import Ends, Policy, StitchObject
from jontel.design.machine import MachineProfile
from jontel.geometry.arrays import Ints
from jontel.geometry.polyline import Floats
from jontel.sewing.overlaps import Bends
from jontel.sewing.plan.rules import Holding
from jontel.stitching.locks import Locking, lock_in, lock_out
from jontel.stitching.running import long_enough, straight_run
from jontel.stitching.stitches import SHORTEST, Bytes, Kind, Layer, Stitches

LEAST_FLOAT = 2.0
"""In floats no longer than this, mm, the needle never goes down on the way."""
THROUGH_CLOTH = 1.2
"""Top thread that each needle point takes beyond its length on the cloth, mm: down to the knot and up."""

TO_THE_KNOT = 0.2
"""Bobbin thread that each needle point takes beyond its length beneath the cloth, mm: up to the knot."""


@dataclass(frozen=True, eq=False)
class Segment:
    """An unbroken piece of one object's stitches: needle points (n, 2) and their layers (n,)."""

    xy: Floats
    layer: Bytes


@dataclass(frozen=True, eq=False)
class Segments:
    """All segments of an object, and how many stitches were merged because they were too short."""

    parts: tuple[Segment, ...]
    merged: int = 0

    @cached_property
    def first(self) -> tuple[float, float]:
        """Where the first one starts, mm."""
        return _spot(self.parts[0].xy[0])

    @cached_property
    def last(self) -> tuple[float, float]:
        """Where the last one ends, mm."""
        return _spot(self.parts[-1].xy[-1])

    @cached_property
    def gaps(self) -> tuple[tuple[tuple[float, float], tuple[float, float]], ...]:
        """From the end of each segment to the start of the next, mm."""
        return tuple((_spot(a.xy[-1]), _spot(b.xy[0])) for a, b in itertools.pairwise(self.parts))


def _spot(xy: Floats) -> tuple[float, float]:
    return float(xy[0]), float(xy[1])


def segments_of(sewn: Stitches, least: float) -> Segments:
    """The segments of an object's stitches, those shorter than ``least`` mm merged where that is more than safe."""
    bounds = [0, *np.flatnonzero(sewn.kind == Kind.JUMP).tolist(), len(sewn)]
    found: list[Segment] = []
    merged = 0
    for low, high in itertools.pairwise(bounds):
        stitched = np.flatnonzero(sewn.kind[low:high] == Kind.STITCH) + low
        if not len(stitched):
            continue
        xy, layer = sewn.xy[stitched], sewn.layer[stitched]
        if least > SHORTEST and len(xy) >= 3:
            fewer = long_enough(xy, least)
            merged += len(xy) - len(fewer)
            xy, layer = xy[fewer], layer[fewer]
        found.append(Segment(xy, layer))
    return Segments(tuple(found), merged)


class Part(NamedTuple):
    """An object that has stitches: its place in the order, its segments, and the number of its thread.

    The plan of an edit has the very same one where all of that is.
    """

    place: int
    item: StitchObject
    segments: Segments
    thread: int


class Way(NamedTuple):
    """How the needle gets to a segment: with thread that was cut, else by ``under``, or by a jump.

    ``under`` are the bends of a way under later stitches, ``None`` where there is none.
    """

    cut: bool
    under: Bends | None


class Around(NamedTuple):
    """All that an object's piece depends on besides its segments.

    ``at`` is where the needle is before it, ``stitched`` whether thread runs from there, ``begins`` that nothing was
    sewn before, ``changes`` that the thread is another one. ``ways`` lead to each segment. ``cut_after`` says that
    its thread ends here. ``stop_before`` is only told of what is sewn first. ``since`` counts the stitches since the
    head stood still, while it gets up to speed.
    """

    owner: int
    thread: int
    at: tuple[float, float]
    stitched: bool
    begins: bool
    changes: bool
    ways: tuple[Way, ...]
    cut_after: bool
    ends: Ends
    holding: Holding
    stop_before: str | None
    stop_after: str | None
    machine: MachineProfile
    since: int = 0


@dataclass(frozen=True, eq=False)
class Piece:
    """The rows of one object: ``xy`` (n, 2), ``kind`` and ``layer`` (n,), and what they were made from.

    ``stops`` are the rows at which the machine stops, with the instruction; ``notes`` is what others found out about
    it: it goes with the piece.
    """

    segments: Segments
    around: Around
    xy: Floats
    kind: Bytes
    layer: Bytes
    stops: tuple[tuple[int, str], ...]
    notes: dict[Hashable, Any] = field(default_factory=dict)

    @property
    def owner(self) -> int:
        """The object's number."""
        return self.around.owner

    @property
    def thread(self) -> int:
        """The thread, by its place among those of the plan."""
        return self.around.thread

    def __len__(self) -> int:
        return len(self.xy)

    @cached_property
    def at(self) -> tuple[float, float]:
        """Where the needle is after it."""
        return _spot(self.xy[-1])

    @cached_property
    def stitched(self) -> bool:
        """Whether thread runs from its last row to the next needle point."""
        return int(self.kind[-1]) == Kind.STITCH

    @cached_property
    def sewn(self) -> "np.ndarray[tuple[int], np.dtype[np.bool_]]":
        """Rows whose thread lies on the cloth: a needle point right after a needle point, (n,)."""
        stitch = self.kind == Kind.STITCH
        return np.asarray(stitch & np.append(self.around.stitched, stitch[:-1]))

    @cached_property
    def sizes(self) -> Floats:
        """How far the needle moves to each row, mm, (n,)."""
        before = np.vstack([self.around.at, self.xy[:-1]])
        return np.asarray(np.hypot(*(self.xy - before).T))

    @cached_property
    def durations(self) -> Floats:
        """The machine time of each row, seconds, (n,): of what the machine does, and longer for a long move."""
        each = np.zeros(6)
        machine = self.around.machine
        each[[Kind.STITCH, Kind.JUMP]] = 60.0 / machine.speed
        each[Kind.TRIM], each[Kind.STOP] = machine.trim_seconds, machine.stop_seconds
        each[Kind.THREAD] = 0.0 if self.around.begins else machine.change_seconds
        plain = each[self.kind] * np.maximum(1.0, self.sizes / machine.full_to)
        if not machine.ramp_stitches:
            return np.asarray(plain)
        slower = np.array([machine.slower(k) for k in range(machine.ramp_stitches + 1)])
        since = slower[np.minimum(self._since[:-1], machine.ramp_stitches)]
        return np.asarray(plain * np.where(self.kind == Kind.STITCH, since, 1.0))

    @cached_property
    def _since(self) -> Ints:
        """How many stitches before each row the head stood still, and after the last one, (n + 1,)."""
        stitches = np.concatenate([[0], np.cumsum(self.kind == Kind.STITCH)])
        stands = np.isin(self.kind, (Kind.TRIM, Kind.THREAD, Kind.STOP))
        last = np.maximum.accumulate(np.concatenate([[-1], np.where(stands, np.arange(1, len(self.kind) + 1), -1)]))
        return np.asarray(stitches - np.where(last < 0, -self.around.since, stitches[last]))

    @cached_property
    def since(self) -> int:
        """The stitches since the head stood still, after the last row, while it gets up to speed."""
        ramp = self.around.machine.ramp_stitches
        return min(int(self._since[-1]), ramp) if ramp else 0

    @cached_property
    def seconds(self) -> Floats:
        """The machine time from the piece's start to the end of each row, (n,)."""
        return np.cumsum(self.durations)

    @cached_property
    def spent(self) -> Floats:
        """The seconds that go to each kind of row, (6,)."""
        return np.bincount(self.kind, self.durations, 6).astype(np.float64)

    @cached_property
    def counts(self) -> tuple[int, ...]:
        """How many rows there are of each kind."""
        return tuple(np.bincount(self.kind, minlength=6).tolist())

    @cached_property
    def metres(self) -> float:
        """The thread that it takes."""
        return float(np.where(self.sewn, self.sizes + THROUGH_CLOTH, 0.0).sum() / 1000)

    @cached_property
    def bobbin(self) -> float:
        """The bobbin thread that it takes, metres: beneath the cloth it runs from each needle point to the next."""
        return float(np.where(self.sewn, self.sizes + TO_THE_KNOT, 0.0).sum() / 1000)

    @cached_property
    def bounds(self) -> tuple[float, float, float, float] | None:
        """The box round its needle points, mm."""
        needle = self.xy[self.kind == Kind.STITCH]
        if not len(needle):
            return None
        low, high = needle.min(axis=0), needle.max(axis=0)
        return float(low[0]), float(low[1]), float(high[0]), float(high[1])


class _Rows:
    """Rows laid down one after another."""

    def __init__(self, around: Around) -> None:
        self.longest = around.machine.longest_move
        self.xy: list[Floats] = []
        self.kind: list[Bytes] = []
        self.layer: list[Bytes] = []
        self.count = 0
        self.at = np.array(around.at)
        self.stitched = around.stitched

    def add(self, xy: Floats, kind: Kind, layer: Layer | Bytes) -> None:
        n = len(xy)
        if not n:
            return
        self.xy.append(xy)
        self.kind.append(np.full(n, int(kind), np.uint8))
        self.layer.append(layer if isinstance(layer, np.ndarray) else np.full(n, int(layer), np.uint8))
        self.count += n
        self.at, self.stitched = xy[-1], kind == Kind.STITCH

    def mark(self, kind: Kind) -> None:
        """A row at which the needle does not move."""
        self.add(self.at[None], kind, Layer.TRAVEL)

    def jump(self, to: Floats) -> None:
        """Hops no longer than the machine's longest move."""
        gap = float(np.hypot(*(to - self.at)))
        if gap < 1e-9:
            return
        hops = max(1, int(np.ceil(gap / self.longest - 1e-9)))
        parts = (np.arange(1, hops + 1) / hops)[:, None]
        self.add(self.at + parts * (to - self.at), Kind.JUMP, Layer.TRAVEL)

    def float_to(self, to: Floats, longest: float) -> None:
        """A jump whose thread stays; in one over ``longest`` mm the needle goes down on the way. 0 lets it be."""
        gap = float(np.hypot(*(to - self.at)))
        parts = math.ceil(gap / max(longest, LEAST_FLOAT) - 1e-9) if longest > 0 else 1
        begin = self.at
        for number in range(1, parts):
            place = begin + (to - begin) * number / parts
            self.jump(place)
            self.add(place[None], Kind.STITCH, Layer.TRAVEL)
        self.jump(to)


def piece_of(segments: Segments, around: Around) -> Piece:
    """The rows of one object in its surroundings."""
    rows = _Rows(around)
    stops: list[tuple[int, str]] = []
    if around.stop_before is not None:
        stops.append((rows.count, around.stop_before))
        rows.mark(Kind.STOP)
    last = len(segments.parts) - 1
    for number, (segment, way) in enumerate(zip(segments.parts, around.ways, strict=True)):
        if number and way.cut:
            rows.mark(Kind.TRIM)
        locked = _locked(around.ends.lock_in if number == 0 else "auto", way.cut)
        _reach(rows, segment, way, locked, around, number)
        _sew(rows, segment, around.holding.locking if locked else None)
        loose = around.cut_after if number == last else around.ways[number + 1].cut
        if _locked(around.ends.lock_out if number == last else "auto", loose):
            rows.add(lock_out(segment.xy[-12:], around.holding.locking), Kind.STITCH, Layer.LOCK)
    if around.cut_after:
        rows.mark(Kind.TRIM)
        if around.stop_after is not None:
            stops.append((rows.count, around.stop_after))
            rows.mark(Kind.STOP)
    joined = (np.concatenate(rows.xy), np.concatenate(rows.kind), np.concatenate(rows.layer))
    return Piece(segments, around, *joined, tuple(stops))


def _locked(policy: Policy, thread_is_loose: bool) -> bool:
    return policy == "always" or (policy == "auto" and thread_is_loose)


def _reach(rows: _Rows, segment: Segment, way: Way, locked: bool, around: Around, number: int) -> None:
    """Bring the needle to where a segment starts: with fresh thread, hidden under later stitches, or by a jump."""
    start: Floats = lock_in(segment.xy, around.holding.locking)[0] if locked else segment.xy[0]
    if way.cut:
        if number == 0 and around.changes:
            rows.mark(Kind.THREAD)
        rows.jump(start)
    elif np.hypot(*(segment.xy[0] - rows.at)) >= SHORTEST:
        if way.under is not None:
            ends = rows.at, segment.xy[0]  # a bend next to either would be a stitch too short
            bends = [one for one in way.under if min(math.dist(one, end) for end in ends) >= SHORTEST]
            path = np.vstack([rows.at, *bends, segment.xy[0]])
            rows.add(straight_run(path)[1:-1], Kind.STITCH, Layer.TRAVEL)
        else:
            rows.float_to(start, around.holding.sink_over)


def _sew(rows: _Rows, segment: Segment, locking: Locking | None) -> None:
    if locking is not None:
        rows.add(lock_in(segment.xy, locking), Kind.STITCH, Layer.LOCK)
    xy, layer = segment.xy, segment.layer
    while rows.stitched and len(xy) > 1 and np.hypot(*(xy[0] - rows.at)) < SHORTEST:
        xy, layer = xy[1:], layer[1:]
    rows.add(xy, Kind.STITCH, layer)
