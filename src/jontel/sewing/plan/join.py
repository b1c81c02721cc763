"""From a design to its plan. An edit's plan starts from the one before: what it did not touch is taken over.

First every object's ends and stitches, then who lies over whom, then the pieces in order. Each object's part is
taken over from the plan before when all that it depends on is the same thing, told by identity, which costs next to
nothing; so the time of an edit follows what it changed, not how large the design is.
"""

import itertools
import logging
import math
from collections.abc import Callable, Sequence
from operator import is_

import numpy as np

from jontel.design.design import Design, StitchObject
from jontel.design.errors import CannotStitch
from jontel.design.kinds import traits_of
from jontel.design.resolve import resolve
from jontel.design.stopping import go_on
from jontel.design.thread import Thread
from jontel.geometry.directing import lines_of
from jontel.geometry.region import Region
from jontel.lettering.setting import parted
from jontel.sewing.derive import derived, drawn
from jontel.sewing.ends import EntryExit, blocks_of, ends_in
from jontel.sewing.overlaps import Bends, Overlaps, covered_by
from jontel.sewing.plan.piece import Around, Part, Piece, Way, piece_of, segments_of
from jontel.sewing.plan.rules import cut_over, halt, holding
from jontel.sewing.plan.sewplan import Block, Entry, Failure, SewPlan
from jontel.sewing.plan.tally import Tally
from jontel.sewing.strands import runs_of, together, way_between
from jontel.stitching.engine import drawn_width, stitch, underlay_of
from jontel.stitching.stitches import SHORTEST

log = logging.getLogger(__name__)
Progress = Callable[[int, int], object]
Point = tuple[float, float]
Came = tuple[Point, bool, bool, int]
"""Where the needle is, whether thread runs from there, whether it was cut, how many stitches since it stood still."""
BARE = 1.5
"""Thread that is sewn under what comes later lies bare for no more than this, mm, where it gets there."""


def plan(design: Design, before: SewPlan | None = None, progress: Progress | None = None) -> SewPlan:
    """The whole sew-out of ``design``; an object that cannot be stitched is reported, the rest sews.

    ``before`` is the plan of an earlier value of the same design, if there is one: the result is the same, sooner.
    ``progress`` hears how many objects are done, of how many.
    """
    shown = drawn(design)
    design = derived(shown)
    brief = design.brief
    if before is not None:
        then = before.design
        same = then.brief.ground == brief.ground and then.brief.machine == brief.machine
        same = same and then.connections == design.connections and _weights(then) == _weights(design)
        before = before if same and then.least_stitch == design.least_stitch else None
    blocks = _blocks(design, before)
    entries = _entries(design, blocks, before, progress)
    regions = _regions(design, entries, before)
    owners = tuple(item.id for item in design.objects)
    overlaps = Overlaps.of(owners, regions, before.overlaps if before is not None else None)
    parts, threads = _parts(entries, design, before)
    pieces = _pieces(parts, overlaps, design, before)
    tally = Tally.of(pieces, before.tally if before is not None else None)
    return SewPlan(design, shown, pieces, threads, tuple(entries), overlaps, blocks, parts, tally)


def _weights(design: Design) -> dict[str, int]:
    """What the spacing of each thread follows."""
    return {thread.code: thread.weight for thread in design.brief.threads}


def _blocks(design: Design, before: SewPlan | None) -> tuple[Block, ...]:
    """The objects that sew with their ends; those of a block of one thread are as before where it is."""
    earlier = {block[0].id: (block, ends) for block, ends in before.blocks} if before is not None else {}
    found: list[Block] = []
    for block in blocks_of(design):
        old = earlier.get(block[0].id)
        found.append(old if old is not None and old[0] == block else (block, tuple(ends_in(block))))
    return tuple(found)


def _entries(
    design: Design, blocks: Sequence[Block], before: SewPlan | None, progress: Progress | None
) -> list[Entry]:
    """Each object with its ends and stitches."""
    known = {one.item.id: one for one in before.entries} if before is not None else {}
    ends = itertools.chain.from_iterable([one for _, one in blocks])
    found: list[Entry] = []
    for number, item in enumerate(design.objects):
        entry = known.get(item.id)
        if item.hidden:
            found.append(_unsewn(item, entry))
            continue
        at = next(ends)
        if entry is None or entry.item is not item or (entry.ends is not at and entry.ends != at):
            go_on()
            entry = _entry(item, at, design, entry)
            if progress is not None:
                progress(number + 1, len(design.objects))
        found.append(entry)
    return found


def _unsewn(item: StitchObject, old: Entry | None) -> Entry:
    """What is known of an object that is hidden: it has no stitches."""
    return old if old is not None and old.item is item else Entry(item, EntryExit(), None, None)


def _entry(item: StitchObject, ends: EntryExit, design: Design, old: Entry | None) -> Entry:
    """One object's stitches."""
    try:
        whole = resolve(item, design.ground_for(item))
        sewn = stitch(whole, ends.entry, ends.exit)
        same = old is not None and old.sewn is sewn and old.segments is not None
        segments = old.segments if same and old is not None else segments_of(sewn, design.least_stitch)
        lines = lines_of(item.shape, traits_of(item.cover).rows == "edge to edge")
        return Entry(item, ends, segments, None, sewn, underlay_of(whole), drawn_width(whole), lines)
    except CannotStitch as error:
        sentence = f"“{item.name}” cannot be stitched: {error}."
        return Entry(item, ends, None, Failure(item.id, item.name, sentence, error.place))
    except Exception:  # one object's fault is that object's failure: the rest sews, and the log names it
        log.exception("“%s” could not be stitched", item.name)
        sentence = f"“{item.name}” cannot be stitched: Jontel met a fault in it; change it, the log tells more."
        return Entry(item, ends, None, Failure(item.id, item.name, sentence, None))


def _regions(design: Design, entries: Sequence[Entry], before: SewPlan | None) -> tuple[Region, ...]:
    """The cloth that each object's cover hides, the same region as before for the same object."""
    known: dict[int, tuple[StitchObject, Region]] = {}
    if before is not None and before.overlaps is not None:
        known = {
            entry.item.id: (entry.item, region)
            for entry, region in zip(before.entries, before.overlaps.regions, strict=True)
        }
    found: list[Region] = []
    for entry in entries:
        old = known.get(entry.item.id)
        if old is not None and old[0] is entry.item:
            found.append(old[1])
            continue
        if entry.item.hidden:
            found.append(Region())
            continue
        go_on()
        try:
            found.append(covered_by(entry.item, design))
        except Exception:  # the stitches of such an object failed too, and said so
            log.exception("the edge of “%s” could not be found", entry.item.name)
            found.append(Region())
    return tuple(found)


def _parts(
    entries: Sequence[Entry], design: Design, before: SewPlan | None
) -> tuple[tuple[Part, ...], tuple[Thread, ...]]:
    """The objects that have stitches, and their threads in the order of first use."""
    known = {part.place: part for part in before.parts} if before is not None else {}
    by_code = {thread.code: thread for thread in reversed(design.brief.threads)}
    threads: dict[Thread, int] = {}
    numbers: dict[str, int] = {}
    parts: list[Part] = []
    for place, entry in enumerate(entries):
        item, segments = entry.item, entry.segments
        if segments is None:
            continue
        number = numbers.get(item.thread)
        if number is None:
            thread = by_code.get(item.thread) or design.thread(item.thread)
            number = numbers[item.thread] = threads.setdefault(thread, len(threads))
        part = known.get(place)
        if part is None or part.segments is not segments or part.item is not item or part.thread != number:
            part = Part(place, item, segments, number)
        parts.append(part)
    return tuple(parts), tuple(threads)


def _pieces(parts: Sequence[Part], overlaps: Overlaps, design: Design, before: SewPlan | None) -> tuple[Piece, ...]:
    """The rows of every object that has stitches, in order."""
    earlier = before.pieces if before is not None else ()
    known = {one.around.owner: one for one in earlier}
    stays = _stays(parts, overlaps, design, before)
    strands = _strands(parts)
    pieces: list[Piece] = []
    follows = True
    for number, part in enumerate(parts):
        if stays[number] and follows:  # the needle comes from where it came before
            piece = earlier[number]
        else:
            old, came = known.get(part.item.id), _came(pieces[-1] if pieces else None)
            was = old.around if old is not None and stays[number] else None
            if old is None or was is None or (was.at, was.stitched, was.ways[0].cut, was.since) != came:
                beside = _at(parts, number - 1), _at(parts, number + 1)
                around = _around(part, *beside, came, strands[number], overlaps, design)
                if old is None or old.segments is not part.segments or old.around != around:
                    go_on()
                    old = piece_of(part.segments, around)
            piece = old
        pieces.append(piece)
        follows = number < len(earlier) and piece is earlier[number]
    return tuple(pieces)


def _came(before: Piece | None) -> Came:
    """How the needle comes from a piece, or from nowhere."""
    if before is None:
        return (0.0, 0.0), False, True, 0
    return before.at, before.stitched, before.around.cut_after, before.since


def _at(parts: Sequence[Part], number: int) -> Part | None:
    return parts[number] if 0 <= number < len(parts) else None


def _stays(parts: Sequence[Part], overlaps: Overlaps, design: Design, before: SewPlan | None) -> list[bool]:
    """For each object whether its piece is as before wherever the needle comes to it as before.

    So it is where it and its neighbours are the same things, and nothing changed that may lie over its ways.
    """
    nothing = [False] * len(parts)
    if before is None or len(before.parts) != len(parts):
        return nothing
    then = before.design
    if then.brief is not design.brief or then.steps != design.steps:
        return nothing
    anew = frozenset[int]() if overlaps is before.overlaps else overlaps.anew
    if anew is None:
        return nothing
    same = np.fromiter(map(is_, parts, before.parts), dtype=bool, count=len(parts))
    asked = np.array([part.place in anew or part.item.strand is not None for part in parts], dtype=bool)
    stays = same & ~asked
    stays[1:] &= same[:-1]
    stays[:-1] &= same[1:] & ~asked[1:]
    answer: list[bool] = stays.tolist()
    return answer


def _around(
    part: Part,
    one: Part | None,
    following: Part | None,
    came: Came,
    strand: tuple[int, ...],
    overlaps: Overlaps,
    design: Design,
) -> Around:
    """The surroundings of an object between two others."""
    at, stitched, cut, since = came
    over = cut_over(part.item, design)
    under = None
    if one is not None and not cut:
        shared = strand if together(one.item, part.item) else ()
        under = _under(at, part.segments.first, one.place, overlaps, cut_over(one.item, design), shared)
    stop = halt(part.item, following.item if following is not None else None, design)
    inner = (_inner(gap, part, overlaps, over, strand) for gap in part.segments.gaps)
    return Around(
        part.item.id,
        part.thread,
        at,
        stitched,
        one is None,
        one is None or one.thread != part.thread,
        (Way(cut, under), *inner),
        following is None or _cut(part, following, overlaps, stop, over),
        part.item.ends,
        holding(part.item, design),
        halt(None, part.item, design) if one is None else None,
        stop,
        design.brief.machine,
        since,
    )


def _cut(one: Part, other: Part, overlaps: Overlaps, stop: str | None, over: float) -> bool:
    """Whether the thread is cut between two objects."""
    ends = one.item.ends
    if one.thread != other.thread or stop is not None:
        return True
    if together(one.item, other.item):
        return False
    if ends.trim != "auto":
        return ends.trim == "always"
    return _shows(one.segments.last, other.segments.first, one.place, overlaps, over)


def _shows(start: Point, stop: Point, place: int, overlaps: Overlaps, over: float) -> bool:
    """Whether a connection of more than ``over`` mm is to be cut, since nothing is sewn over it."""
    return math.dist(start, stop) > over and overlaps.way_under(start, stop, place, min(over, BARE)) is None


def _strands(parts: Sequence[Part]) -> list[tuple[int, ...]]:
    """For each object that has stitches the places of the strand that it belongs to, or nothing."""
    if all(part.item.strand is None for part in parts):
        return [()] * len(parts)
    items = [part.item for part in parts]
    found: list[tuple[int, ...]] = [()] * len(parts)
    for run in runs_of(items):
        if items[run[0]].strand is not None:
            for number in run:
                found[number] = tuple(parts[k].place for k in run)
    return found


def _under(
    start: Point, stop: Point, place: int, overlaps: Overlaps, over: float, strand: tuple[int, ...] = ()
) -> Bends | None:
    """The way under what is sewn later, where one is needed and there is one; in a strand there always is a way."""
    if math.dist(start, stop) < SHORTEST:
        return None
    found = overlaps.way_under(start, stop, place, 0.0 if strand else min(over, BARE))
    return way_between(start, stop, place, strand, overlaps) if found is None and strand else found


def _inner(gap: tuple[Point, Point], part: Part, overlaps: Overlaps, over: float, strand: tuple[int, ...]) -> Way:
    """The way from one segment of an object to its next: straight over as much bare cloth as the object leaves."""
    under = _under(*gap, part.place, overlaps, over, strand)
    if strand:
        return Way(False, under)
    words = part.item.lettering
    ruled = parted(words, *gap) if words is not None else None
    if ruled is not None:
        return Way(ruled, None if ruled else under)
    leave = part.item.ends.leave
    if leave is None or math.dist(*gap) <= leave:
        return Way(under is None and math.dist(*gap) > (over if leave is None else leave), under)
    return Way(under is None and overlaps.beside(*gap, part.place) > leave, under)
