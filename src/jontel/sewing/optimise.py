"""A better sewing order: fewest thread changes, then fewest trims, then the shortest jumps; nothing else on top.

What overlaps keeps its order, and so does everything before and behind a stop: a graph of who comes before whom.
The fewest changes are looked for by beam search over sequences of threads, each sewn as far as the graph lets it
(P. S. Ow and T. E. Morton, "Filtered beam search in scheduling", 1988). How few there are at least is known from
below: a thread for each that is used, and as many as the longest chain of the graph changes threads. Within a thread
the next nearest object comes next, then short runs are moved where that is shorter (I. Or, "Traveling salesman-type
combinatorial problems and their relation to the logistics of regional blood banking", 1976).
"""

import math
from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from msgspec.structs import replace
from numpy.typing import NDArray

from jontel.design.design import Design, StitchObject
from jontel.design.stopping import go_on
from jontel.geometry.polyline import Floats
from jontel.sewing.ends import blocks_of, ends_in, left_at
from jontel.sewing.figures import Figures, figures
from jontel.sewing.plan import SewPlan, footprint, plan
from jontel.sewing.plan.rules import cut_over
from jontel.sewing.precedence import earlier_of
from jontel.sewing.strands import runs_of

WORK = 24_000
"""The beam is so wide that about so many objects are looked at for every block of a thread."""
WIDEST, NARROWEST = 60, 4
EXACT = 160
"""Of more objects in a block the distances are those of their middles less their sizes."""
Numbers = NDArray[np.int64]
TRIM = 1_000.0
"""A trim is worth a jump of so many mm."""
ROUNDS = 6


@dataclass(frozen=True)
class Order:
    """A better order, or the same where none was found, with what it cost ``before`` and costs ``after``.

    ``least`` is how few thread changes there must be in any.
    """

    design: Design
    before: Figures
    after: Figures
    least: int


def optimised(design: Design, ids: Collection[int] | None = None, known: SewPlan | None = None) -> Order:
    """The best order found, with what plans of both say; never a worse one. ``known`` is a plan of the design."""
    found = better_order(design, ids)
    first = plan(design, known)
    before = figures(first)
    if found.design != design:
        after = figures(plan(found.design, first))
        if after.rank < before.rank:
            return Order(found.design, before, after, found.least)
    return Order(design, before, before, found.least)


def better_order(design: Design, ids: Collection[int] | None = None) -> Order:
    """The best order found for a design, or for the objects in ``ids`` among the others. A strand moves as one.

    Its figures follow from the ends of the objects, before anything is stitched.
    """
    items = [item for item in design.objects if not item.hidden]
    before = estimated(design)
    units = runs_of(items)
    if len(units) < 2:
        return Order(design, before, before, before.changes)
    earlier = _of_units(earlier_of(design, items, ids), units)
    marks = _numbers([items[unit[0]].thread for unit in units])
    blocks = _blocks(marks, earlier)
    least = _least(marks, earlier) - 1
    order = _nearest_first(design, items, units, blocks, earlier)
    made = _ordered(design, [items[number] for unit in order for number in units[unit]])
    after = estimated(made)
    return Order(made, before, after, least) if after.rank < before.rank else Order(design, before, before, least)


def estimated(design: Design) -> Figures:
    """About what an order costs: its changes, and the jumps between the ends of its objects, cut where they are long.

    No time and no stitches: those take a plan.
    """
    changes, trims, jumps = -1, 0, 0.0
    for block in blocks_of(design):
        go_on()
        changes, trims = changes + 1, trims + 1
        ends = ends_in(block)
        for item, one, other in zip(block, ends, ends[1:], strict=False):
            leave, enter = left_at(one), other.entry or other.exit
            if leave is not None and enter is not None:
                gap = math.dist(leave, enter)
                trims += gap > cut_over(item, design)
                jumps += gap / 1000
    return Figures(max(changes, 0), trims, jumps, 0.0)


def _numbers(threads: Sequence[str]) -> list[int]:
    known: dict[str, int] = {}
    return [known.setdefault(thread, len(known)) for thread in threads]


def _ordered(design: Design, items: Sequence[StitchObject]) -> Design:
    """``design`` in another order; what is hidden stays before the object that it was before."""
    follows: dict[int | None, list[StitchObject]] = {}
    waiting: list[StitchObject] = []
    for item in design.objects:
        if item.hidden:
            waiting.append(item)
        else:
            follows[item.id], waiting = waiting, []
    objects = [one for item in items for one in (*follows.get(item.id, ()), item)]
    return replace(design, objects=(*objects, *waiting))


def _of_units(earlier: Sequence[int], units: Sequence[Sequence[int]]) -> list[int]:
    """For each unit the units that have to come before it, as bits."""
    owner = {number: at for at, unit in enumerate(units) for number in unit}
    found = []
    for at, unit in enumerate(units):
        bits, mine = 0, 0
        for number in unit:
            bits |= earlier[number]
        for number in _numbers_in(bits):
            mine |= 1 << owner[number]
        found.append(mine & ~(1 << at))
    return found


def _chains(marks: Sequence[int], earlier: Sequence[int]) -> list[int]:
    """For each object the most blocks that have to come from its own on."""
    tails = [1] * len(marks)
    for number in range(len(marks) - 1, -1, -1):
        for before in _numbers_in(earlier[number]):
            tails[before] = max(tails[before], tails[number] + (marks[before] != marks[number]))
    return tails


def _least(marks: Sequence[int], earlier: Sequence[int]) -> int:
    """The fewest blocks that any order has."""
    return max(len(set(marks)), max(_chains(marks, earlier)))


@dataclass(frozen=True)
class _State:
    """What is sewn so far, as bits, in which blocks."""

    done: int
    blocks: tuple[tuple[int, ...], ...]
    last: int


def _blocks(marks: Sequence[int], earlier: Sequence[int]) -> list[tuple[int, ...]]:
    """The objects in blocks of one thread each, as few as the beam finds."""
    count = len(marks)
    everything = (1 << count) - 1
    by_thread = [[n for n in range(count) if marks[n] == mark] for mark in range(max(marks) + 1)]
    masks = [sum(1 << n for n in some) for some in by_thread]
    tails = _chains(marks, earlier)
    longest = sorted(range(count), key=lambda n: -tails[n])
    beam = max(NARROWEST, min(WIDEST, WORK // count))
    states = [_State(0, (), -1)]
    while True:
        go_on()
        found: dict[tuple[int, int], tuple[tuple[int, int], _State]] = {}
        for state in states:
            for mark, some in enumerate(by_thread):
                if mark == state.last or not masks[mark] & ~state.done:
                    continue
                done, block = state.done, []
                for n in some:  # in their order, so that one of the same thread that comes before is done by now
                    if not done >> n & 1 and not earlier[n] & ~done:
                        done |= 1 << n
                        block.append(n)
                if not block:
                    continue
                made = _State(done, (*state.blocks, tuple(block)), mark)
                if done == everything:
                    return list(made.blocks)
                left = sum(1 for mask in masks if mask & ~done)
                deep = next(tails[n] for n in longest if not done >> n & 1)
                rank = (max(left, deep), -done.bit_count())
                if (done, mark) not in found or rank < found[done, mark][0]:
                    found[done, mark] = (rank, made)
        states = [one for _, one in sorted(found.values(), key=lambda pair: pair[0])[:beam]]


def _nearest_first(
    design: Design,
    items: Sequence[StitchObject],
    units: Sequence[Sequence[int]],
    blocks: Sequence[Sequence[int]],
    earlier: Sequence[int],
) -> list[int]:
    """The blocks with their units in an order of few trims and short jumps."""
    prints = [footprint(item, design) for item in items]
    bodies = [shapely.unary_union([prints[k] for k in unit]) if len(unit) > 1 else prints[unit[0]] for unit in units]
    shapes = np.array(bodies, dtype=object)
    middles = np.column_stack([shapely.get_x(shapely.centroid(shapes)), shapely.get_y(shapely.centroid(shapes))])
    middles = np.nan_to_num(middles)
    over = design.brief.machine.trim_over
    order: list[int] = []
    at: int | None = None
    for block in blocks:
        go_on()
        numbers = np.array(block)
        far = _distances(shapes[numbers], middles[numbers])
        cost = far + TRIM * (far > over)
        start = np.zeros(len(numbers)) if at is None else np.hypot(*(middles[numbers] - middles[at]).T)
        inside = [_within(earlier[n], block) for n in block]
        order += [block[k] for k in _tour(cost, start, inside)]
        at = order[-1]
    return order


def _within(bits: int, block: Sequence[int]) -> int:
    """The bits of those in a block, by their places in it."""
    return sum(1 << place for place, n in enumerate(block) if bits >> n & 1)


def _distances(shapes: "np.ndarray[tuple[int], np.dtype[np.object_]]", middles: Floats) -> Floats:
    """How far objects are from each other, mm, (m, m)."""
    if len(shapes) <= EXACT:
        return np.asarray(shapely.distance(shapes[:, None], shapes[None, :]))
    boxes = np.nan_to_num(shapely.bounds(shapes))
    size = np.hypot(boxes[:, 2] - boxes[:, 0], boxes[:, 3] - boxes[:, 1]) / 4
    gap = np.hypot(*(middles[:, None] - middles[None, :]).transpose(2, 0, 1)) - size[:, None] - size[None, :]
    return np.asarray(np.maximum(gap, 0.0))


def _tour(cost: Floats, start: Floats, earlier: Sequence[int]) -> list[int]:
    """An order of objects at little cost (m, m), each behind those ``earlier``; the first is near the ``start``."""
    count = len(cost)
    done, order = 0, []
    left = set(range(count))
    here = -1
    while left:
        ready = [n for n in left if not earlier[n] & ~done]
        to = start[ready] if here < 0 else cost[here, ready]
        here = ready[int(np.argmin(to))]
        order.append(here)
        left.discard(here)
        done |= 1 << here
    for _ in range(ROUNDS if count <= EXACT else 2):
        if not _moved_runs(order, cost, earlier):
            break
    return order


def _moved_runs(order: list[int], cost: Floats, earlier: Sequence[int]) -> bool:
    """Move runs of one to three objects to where they cost less; whether any was."""
    better = False
    later = _after(earlier)
    before = [_numbers_in(bits) for bits in earlier]
    for long in (1, 2, 3):
        place = 0
        while place + long <= len(order):
            run, rest = order[place : place + long], np.array(order[:place] + order[place + long :], dtype=np.int64)
            gap = np.concatenate([[0.0], cost[rest[:-1], rest[1:]], [0.0]]) if len(rest) else np.zeros(1)
            more = np.append(0.0, cost[rest, run[0]]) + np.append(cost[run[-1], rest], 0.0) - gap
            low, high = _room(run, rest, before, later)
            more[:low], more[high + 1 :] = np.inf, np.inf
            to = int(np.argmin(more))
            if more[place] - more[to] > 1e-9:
                order[:] = [*rest[:to].tolist(), *run, *rest[to:].tolist()]
                better = True
            place += 1
    return better


def _after(earlier: Sequence[int]) -> list[list[int]]:
    """For each object those that have to come after it."""
    found: list[list[int]] = [[] for _ in earlier]
    for number, bits in enumerate(earlier):
        for one in _numbers_in(bits):
            found[one].append(number)
    return found


def _numbers_in(bits: int) -> list[int]:
    found = []
    while bits:
        low = bits & -bits
        found.append(low.bit_length() - 1)
        bits ^= low
    return found


def _room(
    run: Sequence[int],
    rest: Numbers,
    before: list[list[int]],
    later: list[list[int]],
) -> tuple[int, int]:
    """Between which places of the rest a run may stand, so that nobody comes before those that it has to follow."""
    needs = [one for n in run for one in before[n] if one not in run]
    holds = [one for n in run for one in later[n] if one not in run]
    low = int(np.flatnonzero(np.isin(rest, needs))[-1]) + 1 if needs else 0
    high = int(np.flatnonzero(np.isin(rest, holds))[0]) if holds else len(rest)
    return low, high
