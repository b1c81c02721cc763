"""The order in which hosts and the pairs of rows between them are sewn."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from jontel.geometry.arrays import Ints
from jontel.geometry.polyline import Floats
from jontel.stitching.rows.hosts import LEAST_PIECE, Detour, Hosted, Pair
from jontel.stitching.stitches import SHORTEST

BESIDE_END = 0.4
"""Pairs that go on farther than this, mm, beyond the end of the row that is left for them are come back from."""
Visits = dict[int, list[tuple[int, float, float]]]
"""For each host, by index, when it is sewn, in one piece or in several, and from where to where."""


def with_detours(found: Hosted, legs: Sequence[tuple[Ints, Floats, Floats]]) -> list[tuple[Ints, Floats, Floats]]:
    """The rows of each leg, hosts and where they start and stop, with their detours: number, start, stop.

    Each host is left and taken up again for its detours.
    """
    visits: Visits = defaultdict(list)
    each = zip(*(np.concatenate(one).tolist() for one in zip(*legs, strict=True)), strict=True)
    for when, (host, first, last) in enumerate(each):
        visits[host].append((when, min(first, last), max(first, last)))
    detours = _of_visits(found, visits)
    when = 0
    answer: list[tuple[Ints, Floats, Floats]] = []
    for hosts, start, stop in legs:
        walked: list[tuple[int, float, float]] = []
        for host, first, last in zip(hosts.tolist(), start.tolist(), stop.tolist(), strict=True):
            is_last = host == hosts[-1] and not found.opened
            _walk(int(found.number[host]), first, last, detours[when], walked, is_last)
            when += 1
        number, begin, end = (np.array(column) for column in zip(*walked, strict=True))
        answer.append((number.astype(np.int64), begin.astype(np.float64), end.astype(np.float64)))
    return answer


def _of_visits(found: Hosted, visits: Visits) -> dict[int, list[Detour]]:
    """The detours of each visit to a host.

    A pair goes with the last of the hosts beside it, so that it lies on all travel from one to the other. From a
    host after it, it is come to from the other side; but where a cover is opened pairs differ so much in length that
    it would take long ways from the short ones to the long ones behind them.
    """
    sides: dict[tuple[int, bool], list[tuple[int, Detour]]] = defaultdict(list)
    for pair in found.pairs:
        host = max(pair.hosts, key=lambda one: visits[one][-1][0])
        one, after = pair.detour, not found.opened and bool(found.number[host] > pair.detour.rows[0])
        detour = Detour(one.rows[::-1], one.left[::-1], one.right[::-1]) if after else one
        sides[_visit(pair, host, visits), after].append((pair.level[after], detour))
    detours: dict[int, list[Detour]] = defaultdict(list)
    for (when, _), pairs in sides.items():
        detours[when] += _nested(pairs)
    return detours


def _visit(pair: Pair, host: int, visits: Visits) -> int:
    """When a pair is sewn with its host: if that is sewn in several pieces, with the one that it lies beside most.

    But with a later one, where it lies beside that at all, if others around it are sewn in between: the way to them
    lies under it.
    """
    beside = [(_shared(pair.detour, low, high), when) for when, low, high in visits[host]]
    first = max(beside)[1]
    around = [when for other in pair.around if other != host for when, _, _ in visits[other]]
    later = [when for shared, when in beside if shared > 0 and any(first < one < when for one in around)]
    return max(later, default=first)


def _shared(one: Detour, low: float, high: float) -> float:
    """How much of a pair lies beside the piece of its host from ``low`` to ``high``, mm; less than 0 off it."""
    return min(max(one.right), high) - max(min(one.left), low)


def _walk(
    row: int,
    first: float,
    last: float,
    detours: Sequence[Detour],
    found: list[tuple[int, float, float]],
    is_last: bool = False,
) -> None:
    """Sew ``row`` from ``first`` to ``last``, leaving it for its detours and they for theirs.

    A pair is sewn beside what is sewn of its row; one that goes on far beyond the end of that, or beside a row that
    ``is_last``, ahead of it: so that the row ends where it does.
    """
    sign = 1.0 if last >= first else -1.0
    at = first
    low, high = min(first, last), max(first, last)
    ways: list[tuple[float, Detour, tuple[float, float], tuple[float, float]]] = []
    for one in detours:
        front, rear = (one.right, one.left) if sign > 0 else (one.left, one.right)
        beyond, before = sign * (front[0] - last), sign * (first - rear[0])
        near, far = (rear, front) if (is_last or beyond > BESIDE_END) and before < beyond else (front, rear)
        ways.append((sign * near[0], one, near, far))
    for _, one, near, far in sorted(ways, key=lambda way: way[0]):
        leave = min(max(near[0], low), high)
        if abs(leave - at) > SHORTEST:
            found.append((row, at, leave))
            at = leave
        found.append((one.rows[0], near[0], far[0]))
        _walk(one.rows[1], far[1], near[1], one.inner, found)
    if abs(last - at) > SHORTEST or at == first:
        found.append((row, at, last))


def _nested(pairs: list[tuple[int, Detour]]) -> list[Detour]:
    """Pairs of one host, each with its place in the group: each inside the one before it, if that reaches there."""
    levels: dict[int, list[Detour]] = defaultdict(list)
    for level, pair in pairs:
        levels[level].append(pair)
    roots: list[Detour] = []
    for level in sorted(levels, reverse=True):
        inner: dict[int, list[Detour]] = defaultdict(list)
        for pair in levels[level]:
            outer = levels.get(level - 1, [])
            shared = [min(o.right[1], pair.right[0]) - max(o.left[1], pair.left[0]) for o in outer]
            if shared and max(shared) > LEAST_PIECE / 2:
                inner[int(np.argmax(shared))].append(pair)
            else:
                roots.append(pair)
        if level - 1 in levels:
            levels[level - 1] = [
                replace(one, inner=tuple(inner[k])) if k in inner else one for k, one in enumerate(levels[level - 1])
            ]
    return roots
