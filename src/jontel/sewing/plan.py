"""The sew plan: every object's stitches in order, with connections, locks, trims, changes and stops."""

import itertools
from dataclasses import dataclass, field, replace
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from jontel.design.design import Design, Policy, StitchObject
from jontel.design.errors import CannotStitch
from jontel.design.ground import Ground
from jontel.design.kinds import traits_of
from jontel.design.resolve import resolve
from jontel.design.shapes import Point
from jontel.design.thread import Thread
from jontel.geometry.polyline import Floats, flatten
from jontel.geometry.region import Region, polygons_of
from jontel.sewing.ends import choose_ends
from jontel.sewing.profile import STANDARD, MachineProfile
from jontel.sewing.shared import settled
from jontel.stitching.covers.fill import region_for
from jontel.stitching.engine import sewn_edge, stitch
from jontel.stitching.locks import lock_in, lock_out
from jontel.stitching.running import long_enough, straight_run
from jontel.stitching.stitches import SHORTEST, Bytes, Kind, Layer, Stitches


@dataclass(frozen=True)
class Failure:
    """An object that has no stitches, why, and where to look."""

    object: int
    name: str
    sentence: str
    place: Point | None


@dataclass(frozen=True, eq=False)
class SewPlan:
    """All needle movements: ``xy`` (n, 2), ``kind`` and ``layer`` uint8, ``object`` int32 (-1: none).

    ``thread`` int16 is the index into ``threads``, which are in the order of first use. ``stops`` maps the
    row of a stop to its instruction. ``merged`` counts, by object, the stitches that were merged because they
    were shorter than the design's least.
    """

    xy: Floats
    kind: Bytes
    layer: Bytes
    object: NDArray[np.int32]
    thread: NDArray[np.int16]
    threads: tuple[Thread, ...]
    stops: dict[int, str]
    failures: tuple[Failure, ...] = ()
    merged: dict[int, int] = field(default_factory=dict)

    def __len__(self) -> int:
        return len(self.xy)

    def sewn(self) -> NDArray[np.bool_]:
        """Rows whose thread lies on the cloth: a needle point right after a needle point, (n,)."""
        if not len(self.kind):
            return np.zeros(0, dtype=bool)
        stitch_row = self.kind == Kind.STITCH
        return np.asarray(stitch_row & np.append(False, stitch_row[:-1]))


@dataclass
class _Builder:
    profile: MachineProfile
    pieces: list[tuple[Floats, Bytes, Bytes, int, int]] = field(default_factory=list)
    stops: dict[int, str] = field(default_factory=dict)
    rows: int = 0
    at: Floats = field(default_factory=lambda: np.zeros(2))

    def add(self, xy: Floats, kind: Kind | Bytes, layer: Layer | Bytes, owner: int, thread: int) -> None:
        n = len(xy)
        if not n:
            return
        kinds = kind if isinstance(kind, np.ndarray) else np.full(n, int(kind), np.uint8)
        layers = layer if isinstance(layer, np.ndarray) else np.full(n, int(layer), np.uint8)
        self.pieces.append((xy, kinds, layers, owner, thread))
        self.rows += n
        self.at = xy[-1]

    @property
    def stitched(self) -> bool:
        """Whether the last row is a needle point, so that thread runs from it to the next."""
        return bool(self.pieces) and int(self.pieces[-1][1][-1]) == Kind.STITCH

    def mark(self, kind: Kind, owner: int, thread: int) -> None:
        """A row at which the needle does not move."""
        self.add(self.at[None], kind, Layer.TRAVEL, owner, thread)

    def jump(self, to: Floats, owner: int, thread: int) -> None:
        """Hops no longer than the machine's longest move."""
        gap = float(np.hypot(*(to - self.at)))
        if gap < 1e-9:
            return
        hops = max(1, int(np.ceil(gap / self.profile.longest_move - 1e-9)))
        share = (np.arange(1, hops + 1) / hops)[:, None]
        self.add(self.at + share * (to - self.at), Kind.JUMP, Layer.TRAVEL, owner, thread)


@dataclass(frozen=True, eq=False)
class _Segment:
    """An unbroken piece of one object's stitches."""

    item: StitchObject
    xy: Floats
    layer: Bytes
    thread: int
    last: bool


@lru_cache(maxsize=32)
def plan(design: Design, profile: MachineProfile = STANDARD) -> SewPlan:
    """The whole sew-out of ``design``; an object that cannot be stitched is reported, the rest sews."""
    design = settled(design)
    merged: dict[int, int] = {}
    threads: list[Thread] = []
    segments: list[_Segment] = []
    failures: list[Failure] = []
    for item, ends in zip(design.objects, choose_ends(design), strict=True):
        try:
            sewn = stitch(resolve(item, design.brief.ground), ends.entry, ends.exit)
        except CannotStitch as error:
            sentence = f"“{item.name}” cannot be stitched: {error}."
            failures.append(Failure(item.id, item.name, sentence, error.place))
            continue
        thread = design.thread(item.thread)
        if thread not in threads:
            threads.append(thread)
        for segment in _segments(item, sewn, threads.index(thread)):
            fewer = _merged(segment, design.least_stitch)
            if len(fewer.xy) < len(segment.xy):
                merged[item.id] = merged.get(item.id, 0) + len(segment.xy) - len(fewer.xy)
            segments.append(fewer)
    build = _Builder(profile)
    later = _Later(design)
    cuts = [_is_cut(one, other, later, profile) for one, other in itertools.pairwise(segments)]
    for number, segment in enumerate(segments):
        previous = segments[number - 1] if number else None
        fresh = previous is None or cuts[number - 1]
        policy = segment.item.ends.lock_in if previous is None or previous.item is not segment.item else "auto"
        _reach(build, previous, segment, policy, fresh, later)
        _sew(build, segment, policy, fresh)
        loose = number == len(cuts) or cuts[number]
        if _locked(segment.item.ends.lock_out if segment.last else "auto", loose):
            build.add(lock_out(segment.xy[-12:]), Kind.STITCH, Layer.LOCK, segment.item.id, segment.thread)
    if segments:
        final = segments[-1]
        build.mark(Kind.TRIM, final.item.id, final.thread)
        _stop(build, final)
        build.mark(Kind.END, -1, final.thread)
    return _joined(build, tuple(threads), tuple(failures), merged)


def _segments(item: StitchObject, sewn: Stitches, thread: int) -> list[_Segment]:
    cuts = np.flatnonzero(sewn.kind == Kind.JUMP)
    bounds = [0, *cuts.tolist(), len(sewn)]
    found: list[_Segment] = []
    for low, high in itertools.pairwise(bounds):
        stitched = np.arange(low, high)[sewn.kind[low:high] == Kind.STITCH]
        if len(stitched):
            found.append(_Segment(item, sewn.xy[stitched], sewn.layer[stitched], thread, high == len(sewn)))
    return found


def _merged(segment: _Segment, least: float) -> _Segment:
    """A segment without stitches shorter than ``least`` mm."""
    if least <= SHORTEST or len(segment.xy) < 3:
        return segment
    kept = long_enough(segment.xy, least)
    return (
        segment if len(kept) == len(segment.xy) else replace(segment, xy=segment.xy[kept], layer=segment.layer[kept])
    )


def _locked(policy: Policy, thread_is_loose: bool) -> bool:
    return policy == "always" or (policy == "auto" and thread_is_loose)


def _start(segment: _Segment, policy: Policy, fresh: bool) -> Floats:
    answer: Floats = lock_in(segment.xy)[0] if _locked(policy, fresh) else segment.xy[0]
    return answer


def _sew(build: _Builder, segment: _Segment, policy: Policy, fresh: bool) -> None:
    owner, thread = segment.item.id, segment.thread
    if _locked(policy, fresh):
        lock = lock_in(segment.xy)
        build.add(lock, Kind.STITCH, Layer.LOCK, owner, thread)
    xy, layer = segment.xy, segment.layer
    if build.stitched and len(xy) > 1 and np.hypot(*(xy[0] - build.at)) < SHORTEST:
        xy, layer = xy[1:], layer[1:]
    build.add(xy, Kind.STITCH, layer, owner, thread)


def _is_cut(one: _Segment, other: _Segment, later: "_Later", profile: MachineProfile) -> bool:
    """Whether the thread is cut between two segments."""
    if one.thread != other.thread or (one.last and one.item.ends.stop is not None):
        return True
    policy = one.item.ends.trim if one.last else "auto"
    if policy != "auto":
        return policy == "always"
    gap = float(np.hypot(*(other.xy[0] - one.xy[-1])))
    return gap > profile.trim_over and not later.hides(one.xy[-1], other.xy[0], one.item.id)


def _reach(
    build: _Builder, one: _Segment | None, other: _Segment, policy: Policy, fresh: bool, later: "_Later"
) -> None:
    """Bring the needle to where ``other`` starts: with fresh thread, hidden under later stitches, or by a jump."""
    owner, thread = other.item.id, other.thread
    if fresh:
        if one is not None:
            build.mark(Kind.TRIM, one.item.id, one.thread)
            _stop(build, one)
        if one is None or one.thread != thread:
            build.mark(Kind.THREAD, owner, thread)
        build.jump(_start(other, policy, fresh), owner, thread)
    elif one is not None and np.hypot(*(other.xy[0] - build.at)) >= SHORTEST:
        if later.hides(build.at, other.xy[0], one.item.id):
            points = straight_run(np.array([build.at, other.xy[0]]))[1:-1]
            build.add(points, Kind.STITCH, Layer.TRAVEL, owner, thread)
        else:
            build.jump(_start(other, policy, fresh), owner, thread)


def _stop(build: _Builder, segment: _Segment) -> None:
    if segment.last and segment.item.ends.stop is not None:
        build.stops[build.rows] = segment.item.ends.stop
        build.mark(Kind.STOP, segment.item.id, segment.thread)


class _Later:
    """Answers whether a straight connection is hidden under what is sewn after it."""

    def __init__(self, design: Design) -> None:
        self._place = {item.id: number for number, item in enumerate(design.objects)}
        self._regions = [covered_by(item, design) for item in design.objects]
        self._tree = shapely.STRtree(self._regions)

    def hides(self, start: Floats, stop: Floats, after: int) -> bool:
        line = shapely.LineString([start, stop])
        first = self._place[after] + 1
        over = [self._regions[k] for k in self._tree.query(line, predicate="intersects") if k >= first]
        left: BaseGeometry = line
        for region in over:
            left = left.difference(region)
            if left.length < 0.05:
                return True
        return False


@lru_cache(maxsize=4096)
def _edge_or_nothing(item: StitchObject, ground: Ground) -> Region:
    try:
        return sewn_edge(resolve(item, ground))
    except CannotStitch:
        return Region()


def covered_by(item: StitchObject, design: Design) -> Region:
    """The cloth that an object's cover hides; empty for a run or one that cannot be stitched."""
    return _edge_or_nothing(item, design.brief.ground)


@lru_cache(maxsize=4096)
def _band(path: str) -> Region:
    return polygons_of(shapely.unary_union([shapely.LineString(one.loop()).buffer(0.2) for one in flatten(path)]))


def footprint(item: StitchObject, design: Design) -> Region:
    """The cloth that an object lies on: what it covers, or a thread's width along a run."""
    region = covered_by(item, design)
    if not traits_of(item.cover).visible:
        return region_for(item.shape)
    path = getattr(item.shape, "path", "")
    return _band(path) if region.is_empty and path else region


def _joined(
    build: _Builder, threads: tuple[Thread, ...], failures: tuple[Failure, ...], merged: dict[int, int]
) -> SewPlan:
    if not build.pieces:
        empty = np.zeros(0)
        return SewPlan(
            np.zeros((0, 2)),
            empty.astype(np.uint8),
            empty.astype(np.uint8),
            empty.astype(np.int32),
            empty.astype(np.int16),
            threads,
            {},
            failures,
            merged,
        )
    sizes = [len(piece[0]) for piece in build.pieces]
    return SewPlan(
        np.concatenate([p[0] for p in build.pieces]),
        np.concatenate([p[1] for p in build.pieces]),
        np.concatenate([p[2] for p in build.pieces]),
        np.repeat(np.array([p[3] for p in build.pieces], np.int32), sizes),
        np.repeat(np.array([p[4] for p in build.pieces], np.int16), sizes),
        threads,
        build.stops,
        failures,
        merged,
    )
