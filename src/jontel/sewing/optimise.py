"""A better sewing order: fewest thread changes, then fewest trims, then the shortest jumps; nothing else on top.

What overlaps keeps its order, and so does everything before and behind a stop: a graph of who comes before whom.
The fewest changes are looked for by beam search over sequences of threads, each sewn as far as the graph lets it
(P. S. Ow and T. E. Morton, "Filtered beam search in scheduling", 1988). How few there are at least is known from
below: a thread for each that is used, and as many as the longest chain of the graph changes threads. Within a thread
the next nearest object comes next, then short runs are moved where that is shorter (I. Or, "Traveling salesman-type
combinatorial problems and their relation to the logistics of regional blood banking", 1976).
"""

from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.stopping import go_on
from jontel.geometry.polyline import Floats
from jontel.sewing.figures import Figures, figures
from jontel.sewing.plan import SewPlan, footprint, plan
from jontel.sewing.precedence import earlier_of
from jontel.sewing.strands import runs_of

WORK = 24_000
"""The beam is so wide that about so many objects are looked at for every block of a thread."""
WIDEST, NARROWEST = 60, 4
EXACT = 160
"""Of more objects in a block the distances are those of their middles less their sizes."""
TRIM = 1_000.0
"""A trim is worth a jump of so many mm."""
ROUNDS = 6
SEEN = 1_500
"""A design of no more objects is planned to see which of several orders is best."""


@dataclass(frozen=True)
class Optimised:
    """An order with its figures before and after; ``least`` is how few thread changes there must be in any."""

    design: Design
    before: Figures
    after: Figures
    least: int


def optimised(design: Design, ids: Collection[int] | None = None, known: SewPlan | None = None) -> Optimised:
    """The best order found for a design, or for the objects in ``ids`` among the others; never a worse one.

    A strand moves as one. ``known`` is a plan of the design, if there is one.
    """
    items = [item for item in design.objects if not item.hidden]
    first = plan(design, known)
    before = figures(first)
    units = runs_of(items)
    if len(units) < 2:
        return Optimised(design, before, before, before.changes)
    earlier = _of_units(earlier_of(design, items, ids), units)
    marks = _numbers([items[unit[0]].thread for unit in units])
    blocks = _blocks(marks, earlier)
    least = _least(marks, earlier) - 1
    orders = [[number for block in blocks for number in block], _nearest_first(design, items, units, blocks, earlier)]
    best, cost, sewn = design, before, first
    for order in orders:
        made = _ordered(design, [items[number] for unit in order for number in units[unit]])
        if made == best:
            continue
        if len(items) > SEEN and order is orders[0]:
            continue
        sewn = plan(made, sewn)
        fresh = figures(sewn)
        if fresh.rank < cost.rank:
            best, cost = made, fresh
    return Optimised(best, before, cost, least)


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
        while bits:
            low = bits & -bits
            mine |= 1 << owner[low.bit_length() - 1]
            bits ^= low
        found.append(mine & ~(1 << at))
    return found


def _chains(marks: Sequence[int], earlier: Sequence[int]) -> list[int]:
    """For each object the most blocks that have to come from its own on."""
    tails = [1] * len(marks)
    for number in range(len(marks) - 1, -1, -1):
        bits = earlier[number]
        while bits:
            low = bits & -bits
            before = low.bit_length() - 1
            tails[before] = max(tails[before], tails[number] + (marks[before] != marks[number]))
            bits ^= low
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
    for _ in range(ROUNDS if count <= EXACT else 1):
        if not _moved_runs(order, cost, earlier):
            break
    return order


def _moved_runs(order: list[int], cost: Floats, earlier: Sequence[int]) -> bool:
    """Move runs of one to three objects to where they cost less; whether any was."""
    better = False
    for long in (1, 2, 3):
        place = 0
        while place + long <= len(order):
            run = order[place : place + long]
            rest = order[:place] + order[place + long :]
            gain = _gap(order, place - 1, place, cost) + _gap(order, place + long - 1, place + long, cost)
            gain -= _gap(rest, place - 1, place, cost)
            ends = [cost[run[-1], n] for n in rest]
            begins = [cost[n, run[0]] for n in rest]
            low, high = _room(run, rest, earlier)
            best, to = 1e-9, -1
            for at in range(low, high + 1):
                if at == place:
                    continue
                more = (begins[at - 1] if at > 0 else 0.0) + (ends[at] if at < len(rest) else 0.0)
                more -= _gap(rest, at - 1, at, cost)
                if gain - more > best:
                    best, to = gain - more, at
            if to >= 0:
                order[:] = rest[:to] + run + rest[to:]
                better = True
            place += 1
    return better


def _room(run: Sequence[int], rest: Sequence[int], earlier: Sequence[int]) -> tuple[int, int]:
    """Between which places of the rest a run may stand, so that nobody comes before those that it has to follow."""
    needs = 0
    for n in run:
        needs |= earlier[n]
    mine = sum(1 << n for n in run)
    low = max((k + 1 for k, n in enumerate(rest) if needs >> n & 1), default=0)
    high = next((k for k, n in enumerate(rest) if earlier[n] & mine), len(rest))
    return low, high


def _gap(order: Sequence[int], one: int, other: int, cost: Floats) -> float:
    """What it costs from one place of an order to another; nothing past its ends."""
    if one < 0 or other >= len(order):
        return 0.0
    return float(cost[order[one], order[other]])
