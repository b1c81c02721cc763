"""Hosts: rows that run through where others run out, the pairs of rows between them, and what joins them.

Where hosts lie far apart the shape between two of them may have notches and necks, so that two that lie across from
each other need not be neighbours: that is told by the rows between them.
"""

import math
from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from jontel.design.stopping import go_on
from jontel.geometry.arrays import Ints
from jontel.geometry.hatch import Intervals, connected_groups, group_numbers, neighbours
from jontel.geometry.polyline import Floats
from jontel.stitching.rows.spread import Thinning
from jontel.stitching.stitches import SHORTEST

TIP = 1.0
"""Of two rows that run out one goes on by this, mm, into the narrowing gap between their neighbours."""
LEAST_PIECE = SHORTEST
"""Pairs of rows shorter than this are left out, mm."""
AS_FAR = 1.0
"""A host beside which a pair lies by less than this, mm, less than beside another, is as good for it."""


@dataclass(frozen=True, eq=False)
class Detour:
    """A pair of rows that a row is left for: for each its number and its two ends.

    ``inner`` are the pairs that the second of its rows is left for in turn.
    """

    rows: tuple[int, int]
    left: tuple[float, float]
    right: tuple[float, float]
    inner: tuple["Detour", ...] = ()


@dataclass(frozen=True, eq=False)
class Pair:
    """A pair of rows between two hosts, and by index all ``hosts`` that lie beside it as far as any does.

    All that end the piece of the shape that it lies in are ``around``. ``level`` says how many pairs lie between it
    and a host before it, and between it and one after it.
    """

    detour: Detour
    hosts: tuple[int, ...]
    around: tuple[int, ...]
    level: tuple[int, int]


@dataclass(frozen=True, eq=False)
class Hosted:
    """Hosts and the pairs between them; ``number`` (n,) is the hosts' place among all rows, which lie at ``heights``.

    ``touching`` are the indices of two hosts, the upper and the lower one, for any two that rows between them join.
    The cover is ``opened`` where it fades.
    """

    hosts: Intervals
    number: Ints
    heights: Floats
    pairs: tuple[Pair, ...]
    touching: tuple[Ints, Ints]
    opened: bool


def hosted(rows: Intervals, thin: Thinning) -> Hosted:
    """Rows of a thinning's frame as hosts and pairs between them; where no host meets the shape, what is wanted."""
    mask = rows.row % thin.group == 0
    if not mask.any():
        return _alone(rows, thin)
    number = rows.row[mask]
    hosts = Intervals(
        number // thin.group,
        rows.left[mask],
        rows.right[mask],
        rows.heights[:: thin.group],
        rows.spacing * thin.group,
    )
    slabs = _slabs(rows, mask)
    pairs = tuple(_pairs_between(rows, hosts, thin, slabs))
    return Hosted(hosts, number, rows.heights, pairs, slabs.touching(hosts), thin.opened)


@dataclass(frozen=True, eq=False)
class _Slabs:
    """What hangs together between two rows of hosts.

    ``label`` (n,) says for each row which piece of the shape it lies in; ``above`` and ``below`` have for each such
    piece the hosts, by index, that end it. ``next_to`` are two hosts with no row between.
    """

    label: Ints
    above: dict[int, list[int]]
    below: dict[int, list[int]]
    next_to: tuple[tuple[int, int], ...]

    def ends(self, label: int) -> list[int]:
        """The hosts that end a piece."""
        return [*self.above[label], *self.below[label]]

    def touching(self, hosts: Intervals) -> tuple[Ints, Ints]:
        """See ``Hosted``: all that lie across from each other, and what else it takes to join what hangs together."""
        left, right = hosts.left, hosts.right

        def gap(pair: tuple[int, int]) -> float:
            return float(max(left[list(pair)].max() - right[list(pair)].min(), 0.0))

        found = list(self.next_to)
        for label in dict.fromkeys([*self.above, *self.below]):
            joined = {host: {host} for host in self.ends(label)}
            for one, other in sorted(_across(hosts, self.above[label], self.below[label]), key=gap):
                if gap((one, other)) == 0.0 or joined[one] is not joined[other]:
                    found.append((one, other))
                    joined[one] |= joined[other]
                    joined |= dict.fromkeys(joined[one], joined[one])
        upper, lower = np.array(found, dtype=np.int64).reshape(-1, 2).T
        return upper, lower


def _across(hosts: Intervals, upper: list[int], lower: list[int]) -> list[tuple[int, int]]:
    """Pairs of ``upper`` and ``lower`` hosts that lie across from each other, and all beside each other."""
    left, right = hosts.left, hosts.right
    found = list(pairwise(sorted((*upper, *lower), key=lambda host: float(left[host]))))
    if upper and lower:
        others = np.array(sorted(lower))  # from left to right
        ends = np.searchsorted(right[others], left[upper]), np.searchsorted(left[others], right[upper], side="right")
        for host, low, high in zip(upper, *(one.tolist() for one in ends), strict=True):
            found += [(host, int(other)) for other in others[max(low - 1, 0) : high + 1]]
    return sorted({(min(pair), max(pair)) for pair in found})


def _slabs(rows: Intervals, mask: NDArray[np.bool_]) -> _Slabs:
    """The slabs of ``rows`` (n,) of which those where ``mask`` (n,) holds are hosts."""
    upper, lower = neighbours(rows)
    between = ~mask[upper] & ~mask[lower]
    _, label = group_numbers(len(rows.row), upper[between], lower[between])
    index = np.cumsum(mask) - 1
    above: dict[int, list[int]] = defaultdict(list)
    below: dict[int, list[int]] = defaultdict(list)
    next_to: list[tuple[int, int]] = []
    for one, other in zip(upper[~between].tolist(), lower[~between].tolist(), strict=True):
        if mask[one] and mask[other]:
            next_to.append((int(index[one]), int(index[other])))
        elif mask[one]:
            above[int(label[other])].append(int(index[one]))
        else:
            below[int(label[one])].append(int(index[other]))
    return _Slabs(label, above, below, tuple(next_to))


def _alone(rows: Intervals, thin: Thinning) -> Hosted:
    """Rows between two hosts, those of them that are wanted half way along, or the middle one, as hosts."""
    middle = (rows.left + rows.right) / 2
    wanted = [
        float(np.interp(u, thin.spread.columns, thin.excess[row])) > 0
        for u, row in zip(middle.tolist(), rows.row.tolist(), strict=True)
    ]
    mask = np.array(wanted) if any(wanted) else rows.row == rows.row[len(rows.row) // 2]
    number = rows.row[mask]
    present, place = np.unique(number, return_inverse=True)
    hosts = Intervals(
        place.astype(np.int64), rows.left[mask], rows.right[mask], rows.heights[present], rows.spacing * thin.group
    )
    return Hosted(hosts, number, rows.heights, (), neighbours(hosts), thin.opened)


def separate(found: Hosted) -> list[Hosted]:
    """The same rows in groups whose hosts are connected: where rows are few, a neck may lie between two hosts."""
    groups = connected_groups(len(found.number), *found.touching)
    if len(groups) == 1:
        return [found]
    parts: list[Hosted] = []
    for which in groups:
        place = {host: k for k, host in enumerate(which.tolist())}
        pairs = tuple(
            Pair(one.detour, _placed(one.hosts, place), _placed(one.around, place), one.level)
            for one in found.pairs
            if one.hosts[0] in place
        )
        own = np.isin(found.touching[0], which)
        touching = np.searchsorted(which, found.touching[0][own]), np.searchsorted(which, found.touching[1][own])
        hosts, number = found.hosts.some(which), found.number[which]
        parts.append(replace(found, hosts=hosts, number=number, pairs=pairs, touching=touching))
    return parts


def _placed(hosts: tuple[int, ...], place: dict[int, int]) -> tuple[int, ...]:
    """Those of ``hosts`` that have a new ``place``, by it."""
    return tuple(place[k] for k in hosts if k in place)


def _pairs_between(rows: Intervals, hosts: Intervals, thin: Thinning, slabs: _Slabs) -> Iterator[Pair]:
    by_row: dict[int, list[int]] = defaultdict(list)
    for k, row in enumerate(rows.row.tolist()):
        by_row[row].append(k)
    group = thin.group
    for first in range(int(rows.row.max()) + 1):
        if first % group == 0 or (first % group) % 2 == 0:
            continue
        go_on()
        level = first % group // 2
        spans = _runs(thin.spread.columns, thin.excess[first])
        for pair, left, right in _pairs(rows, by_row[first], by_row[first + 1], spans):
            detour = Detour((first + pair[0], first + pair[1]), left, right)
            pieces = np.array(by_row[detour.rows[0]])
            own = pieces[np.argmax(np.minimum(rows.right[pieces], right[0]) - np.maximum(rows.left[pieces], left[0]))]
            near = slabs.ends(int(slabs.label[own]))
            beside = _beside(hosts, near or range(len(hosts.row)), detour)
            yield Pair(detour, beside, tuple(near), (level, group // 2 - 1 - level))


def _pairs(
    rows: Intervals, upper: list[int], lower: list[int], spans: list[tuple[float, float]]
) -> list[tuple[tuple[int, int], tuple[float, float], tuple[float, float]]]:
    """The pieces of two neighbouring rows inside ``spans``, in pairs: which of the two, their lefts, their rights.

    Each piece goes with the one beside it that it shares most with; what has none is sewn there and back alone.
    """
    found: list[tuple[tuple[int, int], tuple[float, float], tuple[float, float]]] = []
    for low, high in spans:
        pieces = [
            [
                (max(rows.left[k], low - tip), min(rows.right[k], high + tip))
                for k in side
                if min(rows.right[k], high) - max(rows.left[k], low) > LEAST_PIECE
            ]
            for side, tip in ((upper, TIP), (lower, 0.0))
        ]
        pieces[0] = _parted(pieces[0], pieces[1])
        pieces[1] = _parted(pieces[1], pieces[0])
        shared = sorted(
            (
                (min(a[1], b[1]) - max(a[0], b[0]), i, j)
                for i, a in enumerate(pieces[0])
                for j, b in enumerate(pieces[1])
            ),
            reverse=True,
        )
        alone = [set(range(len(side))) for side in pieces]
        for share, i, j in shared:
            if share > 0 and i in alone[0] and j in alone[1]:
                a, b = pieces[0][i], pieces[1][j]
                found.append(((0, 1), (a[0], b[0]), (a[1], b[1])))
                alone[0].discard(i)
                alone[1].discard(j)
        for side in (0, 1):
            for k in sorted(alone[side]):
                a = pieces[side][k]
                found.append(((side, side), (a[0], a[0]), (a[1], a[1])))
    return found


def _parted(pieces: list[tuple[float, float]], others: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """Pieces of a row, parted where those of the row beside it are: so each pair comes back to where it began."""
    found: list[tuple[float, float]] = []
    for low, high in pieces:
        beside = [one for one in others if min(one[1], high) - max(one[0], low) > LEAST_PIECE]
        cuts = [(one[1] + other[0]) / 2 for one, other in pairwise(beside)]
        found += pairwise([low, *cuts, high])
    return found


def _beside(hosts: Intervals, candidates: Sequence[int], pair: Detour) -> tuple[int, ...]:
    """Those of ``candidates`` that lie beside most of a pair, or the one nearest to it."""

    def apart(k: int) -> float:
        ends = zip(pair.left, pair.right, strict=True)
        return float(sum(max(hosts.left[k], left) - min(hosts.right[k], right) for left, right in ends))

    first = min(candidates, key=apart)
    others = [k for k in candidates if k != first and apart(k) < min(apart(first) + AS_FAR, 0.0)]
    return (first, *others)


def _runs(columns: Floats, above: Floats) -> list[tuple[float, float]]:
    """Where ``above`` (m,) is positive between ``columns`` (m,), straight between them."""
    positive = above > 0
    turns = np.flatnonzero(positive[1:] != positive[:-1])
    part = above[turns] / (above[turns] - above[turns + 1])
    cuts = (columns[turns] + part * (columns[turns + 1] - columns[turns])).tolist()
    if positive[0]:
        cuts.insert(0, -math.inf)
    if positive[-1]:
        cuts.append(math.inf)
    return list(zip(cuts[::2], cuts[1::2], strict=True))
