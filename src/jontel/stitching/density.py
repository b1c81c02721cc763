"""Rows whose spacing changes along them: some run out in pairs, the rest spread to keep the spacing.

Where rows turn they fan out, and where a fill fades they thin out. Rows are hatched as near to each other as
they have to be anywhere; every so many of them, the hosts, run through. Between two hosts rows go in pairs,
out along the one and back along the other, as far as they are wanted: the needle leaves its host for them and
comes back to it, so that the order of the cells is that of the hosts. What is left is spread evenly, as are
the stripes of F. Knöppel, K. Crane, U. Pinkall and P. Schröder, "Stripe patterns on surfaces" (2015), in which
new stripes also start at points and push their neighbours aside.
"""

import math
from collections import defaultdict
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window

from jontel.design.kinds.fades import Fade, faded
from jontel.design.kinds.fill import FillRecipe
from jontel.design.kinds.satin import SatinRecipe
from jontel.design.kinds.values import Profile
from jontel.design.stopping import go_on
from jontel.geometry.hatch import Intervals, Ints, components
from jontel.geometry.polyline import Floats

EVEN = 0.80
"""Where no place wants fewer than this part of the densest rows, all of them run through."""
CLOSING = 1.2
"""Over about this length, mm, the rows beside two that have run out close up."""
MOST_IN_GROUP = 51
LEAST_PIECE = 1.2
"""Pairs of rows shorter than this are left out, mm."""
FADE_KNOTS = 65
SAMPLE = 0.75
"""How finely what is wanted is looked at, mm."""


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
class Thinned:
    """Hosts with their detours, by index of the host; ``levels`` (rows, columns) is where each row lies.

    ``number`` (n,) is the hosts' place among all rows, which are ``spacing`` apart before they are spread.
    """

    hosts: Intervals
    number: Ints
    spacing: float
    detours: dict[int, list[Detour]]
    columns: Floats
    levels: Floats

    def heights(self, row: Ints, u: Floats) -> Floats:
        """The height of points ``u`` (n,) on rows ``row`` (n,), (n,)."""
        place = np.interp(u, self.columns, np.arange(len(self.columns)))
        return np.asarray(scipy.ndimage.map_coordinates(self.levels, [row, place], order=1, mode="nearest"))


def faded_spacing(recipe: FillRecipe | SatinRecipe, place: Floats) -> Floats:
    """The spacing wanted at places (n,) from 0 to 1 along a fade's way, mm, (n,)."""
    curve = _fade_curve(recipe.fade, recipe.fade_profile)
    part = np.clip(np.interp(place, np.linspace(0, 1, FADE_KNOTS), curve), 0, 1)
    return np.asarray(recipe.spacing + (recipe.fade_to - recipe.spacing) * part)


@lru_cache(maxsize=64)
def _fade_curve(fade: Fade, profile: Profile) -> Floats:
    """``faded`` at ``FADE_KNOTS`` places."""
    return np.array([faded(fade, profile, at) for at in np.linspace(0, 1, FADE_KNOTS).tolist()])


def separate(thin: Thinned) -> list[Thinned]:
    """The same rows in groups whose hosts are connected: where rows are few, a neck may lie between two hosts."""
    groups = components(thin.hosts)
    if len(groups) == 1:
        return [thin]
    found: list[Thinned] = []
    for which in groups:
        detours = {k: thin.detours[host] for k, host in enumerate(which.tolist()) if host in thin.detours}
        found.append(replace(thin, hosts=thin.hosts.some(which), number=thin.number[which], detours=detours))
    return found


def wanted_part(rows: Intervals, part: Callable[[Floats], Floats]) -> tuple[Floats, Floats, Floats]:
    """``part`` sampled over the rows: columns (m,), heights (k,) and the table (k, m)."""
    low, high = float(rows.left.min()), float(rows.right.max())
    columns = np.linspace(low, high, max(3, math.ceil((high - low) / SAMPLE) + 1))
    y = rows.y()
    down = np.linspace(float(y.min()), float(y.max()), max(3, math.ceil(float(np.ptp(y)) / SAMPLE) + 1))
    u, v = np.meshgrid(columns, down)
    return columns, down, part(np.column_stack([u.ravel(), v.ravel()])).reshape(u.shape)


def thinned(rows: Intervals, part: Callable[[Floats], Floats]) -> Thinned | None:
    """Rows of which only ``part`` (of 1, at level coordinates) is wanted; ``None`` when all of them are."""
    columns, down, table = wanted_part(rows, part)
    across = (rows.left, (rows.left + rows.right) / 2, rows.right)
    least = float(part(np.vstack([np.column_stack([u, rows.y()]) for u in across])).min())
    if least > EVEN:
        return None
    pairs = min(math.ceil((1 / max(least, 0.02) - 1) / 2), MOST_IN_GROUP // 2)
    group = 2 * pairs + 1
    count = int(rows.row.max()) + 1
    table = np.clip(table, least, 1.0)
    v = np.asarray(rows.top + np.arange(count) * rows.spacing, dtype=np.float64)
    wanted: Floats = np.stack([np.interp(v, down, column) for column in table.T], axis=1).astype(np.float64)
    limit = _limits(count, group, pairs)
    weight = (wanted > limit[:, None]).astype(np.float64)
    weight[::group] = 1.0
    each = columns[1] - columns[0]
    weight = scipy.ndimage.minimum_filter1d(weight, 1 + 2 * round(CLOSING / 2 / each), axis=1, mode="nearest")
    weight = np.asarray(
        scipy.ndimage.gaussian_filter1d(weight, CLOSING / each, axis=1, mode="nearest"), dtype=np.float64
    )
    hosts_mask = rows.row % group == 0
    if not hosts_mask.any():
        return None
    hosts = Intervals(
        rows.row[hosts_mask] // group,
        rows.left[hosts_mask],
        rows.right[hosts_mask],
        rows.top,
        rows.spacing * group,
    )
    detours = _detours(rows, hosts, group, columns, wanted, limit)
    return Thinned(hosts, rows.row[hosts_mask], rows.spacing, detours, columns, _levels(v, weight, wanted))


def _limits(count: int, group: int, pairs: int) -> Floats:
    """From which part on each row is wanted; hosts always. Two rows of a pair have the same limit.

    The limits of neighbouring groups follow J. van der Corput's sequence (1935), so that rows run out at
    places as far apart as they can be.
    """
    number, within = np.divmod(np.arange(count), group)
    bits = (number[:, None] >> np.arange(16)) & 1
    shift = (bits / 2.0 ** np.arange(1, 17)).sum(axis=1)
    pair = np.maximum(within - 1, 0) // 2
    limit = (1 + 2 * (pair + shift)) / group
    limit[within == 0] = 0.0
    return np.asarray(limit)


def _levels(v: Floats, weight: Floats, wanted: Floats) -> Floats:
    """Where each row lies in each column, so that the rows that are there are evenly spaced, (rows, m)."""
    there = np.cumsum(weight, axis=0) - weight / 2
    ought = np.cumsum(wanted, axis=0) - wanted / 2
    there = there * (ought[-1] / np.maximum(there[-1], 1e-9))
    return np.stack([np.interp(a, b, v) for a, b in zip(there.T, ought.T, strict=True)], axis=1)


def _detours(
    rows: Intervals, hosts: Intervals, group: int, columns: Floats, wanted: Floats, limit: Floats
) -> dict[int, list[Detour]]:
    by_row: dict[int, list[int]] = defaultdict(list)
    for k, row in enumerate(rows.row.tolist()):
        by_row[row].append(k)
    hosts_of: dict[int, list[int]] = defaultdict(list)
    for k, row in enumerate(hosts.row.tolist()):
        hosts_of[row].append(k)
    found: dict[int, list[tuple[int, Detour]]] = defaultdict(list)
    for first in range(int(rows.row.max()) + 1):
        if first % group == 0 or (first % group) % 2 == 0:
            continue
        go_on()
        for k in by_row[first]:
            second = _overlapping(rows, by_row[first + 1], rows.left[k], rows.right[k])
            other = k if second is None else second
            for low, high in _runs(columns, wanted[first] - limit[first]):
                left = (max(rows.left[k], low), max(rows.left[other], low))
                right = (min(rows.right[k], high), min(rows.right[other], high))
                if min(right[0] - left[0], right[1] - left[1]) < LEAST_PIECE:
                    continue
                near = [*hosts_of[first // group], *hosts_of[first // group + 1]]
                host = _overlapping(hosts, near, left[0], right[0])
                if host is not None:
                    numbers = (first, first if second is None else first + 1)
                    found[host].append(((first % group - 1) // 2, Detour(numbers, left, right)))
    return {host: _nested(pairs) for host, pairs in found.items()}


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


def _overlapping(rows: Intervals, candidates: list[int], left: float, right: float) -> int | None:
    """The interval among ``candidates`` that shares most with ``left`` to ``right``."""
    shared = [min(rows.right[k], right) - max(rows.left[k], left) for k in candidates]
    if not shared or max(shared) <= 0:
        return None
    return candidates[int(np.argmax(shared))]


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
