"""A stitch file as a design again: covers, what lies beneath each, and runs; resized and retuned as any other.

Sewn shapes are what comes back, so their compensation is pinned to none: sewn again they lie where they lay.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from msgspec.structs import replace
from shapely.geometry.base import BaseGeometry

from jontel.design.design import Brief, Design, StitchObject
from jontel.design.edits import add_objects, named
from jontel.design.errors import CannotRead
from jontel.design.ground import Edges, Ground, Hoop
from jontel.design.kinds import Underlay
from jontel.design.kinds.centre_run import CentreRun
from jontel.design.kinds.edge_run import EdgeRun
from jontel.design.kinds.fill import Fill
from jontel.design.kinds.lattice import Lattice
from jontel.design.kinds.parallel import Parallel
from jontel.design.kinds.run import Run, RunStyle
from jontel.design.kinds.satin import Satin
from jontel.design.kinds.values import value_of
from jontel.design.kinds.zigzag import Zigzag
from jontel.design.shapes import Line, Shape
from jontel.design.stopping import go_on
from jontel.design.thread import Thread
from jontel.geometry.fitting import fitted
from jontel.geometry.nodes import path_through
from jontel.geometry.polyline import Floats, lengths
from jontel.geometry.region import Region, across_angle
from jontel.machine.head import Movement
from jontel.recovering.covers import covers_in
from jontel.recovering.shapes import area_of, columns_of, spacing_of, taken_in
from jontel.recovering.strokes import OPEN, strokes_of
from jontel.recovering.threads import Block, Ints, sound_blocks_of

AS_SEWN = Edges(pull=0.0, pull_percent=0.0, push=0.0, pull_x=0.0, pull_y=0.0)
BENEATH = 0.25
"""What lies no farther than this, mm, outside of a cover that is sewn over it is underlay or travel."""
UNDER = 0.85
"""Open rows of which so much is covered by what is sewn after them are underlay."""
SPECK, SPECK_PART = 10.0, 0.02
"""Close rows on no more cloth than this, mm2, or than such a part of a later cover of the same thread that hides them
are no object."""
LEAST_APART = 0.2
"""Strokes of a satin lie closer where it is narrow; its cloth is what they take in at this distance, mm."""
LEAST_RUN, ON_ITSELF = 2.0, 0.12
"""Shorter runs, mm, are travel; a run that comes no farther from itself is sewn several times."""
LEAST_LOOK, MOST_LOOK, BEGUN, MOST_OF_IT, FIRST = 12, 80, 0.5, 0.8, 4
"""Before most of a cover is sewn it has begun where less than so much of so many stitches belongs to it for the last
time, with the first few that do without break; what came before is beneath it."""
RIM = 1.3
"""An underlay no farther inside than this, mm, along most of its way runs along the rim."""
SOME = 6.0
"""Less underlay, mm, tells no pass."""


@dataclass(frozen=True, eq=False)
class _Found:
    """A cover that was found: what it is, its cloth, its stitches, and how far apart its rows lie, mm."""

    shape: Shape
    cover: Fill | Satin
    cloth: Region
    stitches: Ints
    apart: float


def recovered(
    movements: Sequence[Movement], name: str, ground: Ground, hoop: Hoop, chart: tuple[Thread, ...]
) -> Design:
    """The design in the ``movements`` of a stitch file. Raises ``CannotRead``."""
    blocks = sound_blocks_of(movements, name)
    threads = threads_of([block.thread for block in blocks], chart)
    found = [_covers(block) for block in blocks]
    later: list[BaseGeometry] = [shapely.MultiPolygon()]
    for covers in reversed(found):
        later.append(shapely.union_all([later[-1], *(one.cloth for one in covers)]))
    items: list[StitchObject] = []
    for number, (block, covers) in enumerate(zip(blocks, found, strict=True)):
        go_on()
        after = later[len(blocks) - 1 - number]
        items += _objects(block, covers, after, threads[number].code)
    if not items:
        raise CannotRead(f"{name} holds too few stitches to tell what they are.")
    used = tuple({thread.code: thread for thread in threads}.values())
    return add_objects(Design(name=name.rsplit(".", 1)[0], brief=Brief(ground, hoop, used)), named(items))


def threads_of(said: Sequence[str], chart: tuple[Thread, ...]) -> list[Thread]:
    """The thread that each block says it is sewn in; others of the chart for those it does not know."""
    known = {thread.code: thread for thread in chart}
    names: dict[str, Thread] = {}
    for number, word in enumerate(said):
        if word not in names:
            code = word.split(" ", 1)[0] if word else ""
            spare = [thread for thread in chart if thread not in names.values()] or list(chart)
            names[word] = known.get(code) or known.get(word) or spare[number % len(spare)]
    return [names[word] for word in said]


def _covers(block: Block) -> list[_Found]:
    """The covers of a block, as shapes."""
    found: list[_Found] = []
    for cover in covers_in(block):
        go_on()
        strokes = strokes_of(block, cover.stitches)
        if not strokes.is_cover():
            continue
        if len(strokes) > 3 and strokes.is_satin():
            strokes = strokes.close()
            for column, edges, some in columns_of(strokes):
                inside = np.concatenate([np.arange(strokes.first[k], strokes.last[k] + 1) for k in some.tolist()])
                spacing = spacing_of(edges)
                satin = Satin(spacing=_held(Satin, "spacing", spacing))
                cloth = taken_in(block, inside, max(spacing / 2, LEAST_APART))
                found.append(_Found(column, satin, cloth, np.sort(inside), spacing))
            continue
        cloth = taken_in(block, cover.stitches, cover.apart)
        shape, angle = area_of(block, cover.stitches, cloth)
        length = block.length[cover.stitches]
        usual = float(np.median(length[length > 0.6 * np.quantile(length, 0.9)]))
        fill = Fill(spacing=_held(Fill, "spacing", cover.apart), length=_held(Fill, "length", usual))
        if not shape.lines:
            fill = replace(fill, angle=angle)
        found.append(_Found(shape, fill, cloth, cover.stitches, cover.apart))
    return [one for k, one in enumerate(found) if not _lies_beneath(one, found[k + 1 :])]


def _lies_beneath(one: _Found, later: Sequence[_Found]) -> bool:
    """Whether open rows, or a few close ones as travel there and back makes, lie under a cover that is sewn later."""
    area = one.cloth.area
    return any(
        (one.apart > OPEN or area <= max(SPECK, SPECK_PART * other.cloth.area))
        and other.cloth.intersection(one.cloth).area > UNDER * area
        for other in later
    )


def _held(kind: type, field: str, value: float) -> float:
    """A value within what a kind allows, as a person would type it."""
    return round(value_of(kind, field).within(value), 2)


def _objects(block: Block, covers: Sequence[_Found], after: BaseGeometry, thread: str) -> list[StitchObject]:
    """The objects of a block in the order in which their covers begin."""
    mine = np.full(len(block), -1)
    for number, one in enumerate(covers):
        mine[one.stitches] = number
    middle = (block.start + block.stop) / 2
    beneath = np.full(len(block), -1)
    for number, one in enumerate(covers):
        free = np.flatnonzero((mine < 0) & (beneath < 0) & (np.arange(len(block)) < one.stitches[-1]))
        held = _within(one.cloth, block, free)
        beneath[held] = number
    left = np.flatnonzero((mine < 0) & (beneath < 0))
    hidden = (
        shapely.dwithin(after, shapely.points(middle[left]), 0.0) if not after.is_empty else np.zeros(len(left), bool)
    )
    loose = left[~hidden]
    found: list[tuple[int, StitchObject]] = []
    for number, one in enumerate(covers):
        under = np.flatnonzero(beneath == number)
        passes = _passes(block, under[under < _begins(one.stitches, len(block))], one)
        item = StitchObject(
            id=0, name="", thread=thread, shape=one.shape, cover=one.cover, underlay=passes, edges=AS_SEWN
        )
        found.append((int(one.stitches[0]), item))
    for some in _runs(block, loose):
        run = _run(block, some, thread)
        if run is not None:
            found.append((int(some[0]), run))
    return [item for _, item in sorted(found, key=lambda pair: pair[0])]


def _begins(some: Ints, count: int) -> int:
    """From which stitch of a block on a cover is sewn without break."""
    look = int(np.clip(len(some) // 4, LEAST_LOOK, MOST_LOOK))
    mine = np.zeros(count + look)
    mine[some] = 1.0
    ahead = np.convolve(mine, np.ones(look), "valid") / look
    broken = np.flatnonzero(ahead[: int(np.quantile(some, MOST_OF_IT))] < BEGUN)
    if not len(broken):
        return int(some[0])
    follow = np.convolve(mine, np.ones(FIRST), "valid")[some] >= FIRST
    begun = some[follow & (some > broken[-1])]
    return int(begun[0]) if len(begun) else int(some[0])


def _within(cloth: BaseGeometry, block: Block, some: Ints) -> Ints:
    """Those of some stitches that lie in a cloth with both ends."""
    if cloth.is_empty or not len(some):
        return some[:0]
    shapely.prepare(cloth)
    held = shapely.dwithin(cloth, shapely.points(block.start[some]), BENEATH)
    return np.asarray(some[held & shapely.dwithin(cloth, shapely.points(block.stop[some]), BENEATH)])


def _passes(block: Block, some: Ints, one: _Found) -> tuple[Underlay, ...]:
    """What lies beneath a cover: runs along its rim or its middle, open rows across it."""
    if not len(some) or one.cloth.is_empty:
        return ()
    middle = (block.start[some] + block.stop[some]) / 2
    length = block.length[some]
    rim = np.atleast_1d(shapely.distance(one.cloth.boundary, shapely.points(middle)))
    along = _beside_rim(block, some, one.cloth)
    found: list[Underlay] = []
    edge = along & (rim < RIM)
    if length[edge].sum() > 0.5 * one.cloth.length and length[edge].sum() > SOME:
        found.append(
            EdgeRun(length=_held(EdgeRun, "length", float(np.median(length[edge]))), inset=_inset(rim[edge]))
        )
    rest = ~edge
    if length[rest].sum() <= SOME:
        if not found and length.sum() > SOME:
            found.append(CentreRun(length=_held(CentreRun, "length", float(np.median(length)))))
        return tuple(found)
    way = block.way[some][rest]
    turns = np.degrees(np.arctan2(-way[:, 1], way[:, 0]))
    if isinstance(one.cover, Satin):
        back = np.abs((np.diff(turns) + 180) % 360 - 180) > 90
        if back.mean() > 0.5 if len(back) else False:
            ends = block.start[some][rest]
            step = np.hypot(*(ends[2:] - ends[:-2]).T)
            spacing = float(np.median(step)) if len(step) else 2.0
            found.append(Zigzag(spacing=_held(Zigzag, "spacing", spacing)))
        elif not found:
            found.append(CentreRun(length=_held(CentreRun, "length", float(np.median(length)))))
        return tuple(found)
    own = one.cover.angle if one.cover.angle is not None else across_angle(one.cloth)
    relative = (turns - own + 90) % 180 - 90
    spacing = one.cloth.area / max(float(length[rest].sum()), 1.0)
    weights = length[rest]
    first = weights[(np.abs(relative) > 20) & (relative > 0) & (relative < 75)].sum()
    second = weights[(np.abs(relative) > 20) & (relative < 0) & (relative > -75)].sum()
    usual = _held(Parallel, "length", float(np.quantile(weights, 0.75)))
    if min(first, second) > 0.2 * weights.sum():
        found.append(Lattice(spacing=_held(Lattice, "spacing", 2 * spacing), length=usual))
    else:
        found.append(Parallel(spacing=_held(Parallel, "spacing", spacing), length=usual))
    return tuple(found)


def _inset(rim: Floats) -> float:
    return round(float(np.clip(np.median(rim), 0.1, 3.0)), 2)


def _beside_rim(block: Block, some: Ints, cloth: Region) -> "np.ndarray[tuple[int], np.dtype[np.bool_]]":
    """Which stitches run the way that the nearest rim does."""
    ends = np.stack([block.start[some], block.stop[some]])
    near = [shapely.distance(cloth.boundary, shapely.points(spots)) for spots in ends]
    middle = shapely.distance(cloth.boundary, shapely.points(ends.mean(axis=0)))
    spread = np.max(np.stack([*near, middle]), axis=0) - np.min(np.stack([*near, middle]), axis=0)
    return np.asarray(spread < 0.35)


def _runs(block: Block, loose: Ints) -> Iterable[Ints]:
    """Stitches of no cover, those together that follow each other in one length of thread."""
    if not len(loose):
        return
    cut = (np.diff(loose) != 1) | (np.diff(block.piece[loose]) != 0)
    yield from np.split(loose, np.flatnonzero(cut) + 1)


def _run(block: Block, some: Ints, thread: str) -> StitchObject | None:
    """A run along some stitches; ``None`` for what is no more than a way from one place to another."""
    length = block.length[some]
    if length.sum() < LEAST_RUN or len(some) < 2:
        return None
    points = np.vstack([block.start[some[:1]], block.stop[some]])
    line, style, repeats = _once(points)
    if lengths(line)[-1] < LEAST_RUN or np.hypot(*np.ptp(line, axis=0)) < LEAST_RUN / 2:
        return None
    closed = bool(np.hypot(*(line[0] - line[-1])) < 0.3 and len(line) > 4)
    path = path_through((fitted(line[:-1] if closed else line, 0.1, closed=closed),))
    usual = float(np.median(length))
    cover = Run(length=_held(Run, "length", usual), style=style, repeats=repeats)
    return StitchObject(id=0, name="", thread=thread, shape=Line(path, 0.4), cover=cover)


def _once(points: Floats) -> tuple[Floats, RunStyle, int]:
    """The line that needle points (n, 2) go along, how often in one go, and how many times."""
    if len(points) > 6:
        apart = np.hypot(*(points[2:] - points[:-2]).T)
        if np.mean(apart < ON_ITSELF) > 0.5:  # forwards, back and forwards again
            keep = [0]
            for k in range(1, len(points)):
                if np.hypot(*(points[keep] - points[k]).T).min() > ON_ITSELF:
                    keep.append(k)
            return points[keep], "triple", 1
    half = len(points) // 2
    there, back = points[: half + 1], points[half:][::-1]
    if len(there) == len(back) and len(points) > 4 and np.hypot(*(there - back).T).max() < ON_ITSELF:
        return there, "single", 2
    return points, "single", 1
