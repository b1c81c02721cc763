"""Rows whose spacing changes along them: some run out in pairs, the rest spread to keep the spacing.

Where rows turn they fan out, and where a fill fades they thin out. Rows are laid as near to each other as they have
to be anywhere; every so many of them, the hosts, run through. Between two hosts rows go in pairs, out along the one
and back along the other, as far as they are wanted: the needle leaves its host for them and comes back to it, so
that the order of the cells is that of the hosts. What is left is spread evenly, as are the stripes of F. Knöppel,
K. Crane, U. Pinkall and P. Schröder, "Stripe patterns on surfaces" (2015), in which new stripes also start at points
and push their neighbours aside.

The spread rows are the level rows of one more frame, in which the shape is laid before rows are cut at its rim: so
rows end on the rim wherever they are moved to.
"""

import math
from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise, product

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from jontel.design.stopping import go_on
from jontel.geometry.frames import Curved, Frame, carried
from jontel.geometry.hatch import Intervals, Ints, Passages, even_heights, grouped, labelled, neighbours
from jontel.geometry.polyline import Floats
from jontel.geometry.region import Region
from jontel.stitching.rows.style import RowStyle
from jontel.stitching.stitches import SHORTEST

EVEN = 0.8
"""Where no place wants fewer than this part of the densest rows, all of them run through."""
FEW, UNEVEN, CLOSEST = 5, 0.98, 0.97
"""Where all rows run through, they are laid so near to each other that no more than so many percent of the places
want them nearer, and by this part closer still, since stitches are straight and rows are not; but not so near that
their mean is less than the third part of what is asked."""
CLOSING = 1.4
"""Over about this length, mm, the rows beside two that have run out close up."""
EARLY, TIP = 0.3, 1.0
"""By the first part of ``CLOSING`` they begin to close up before two run out, of which one goes on by the second, mm,
into the narrowing gap between them."""
CLOSER = 1.07
"""Rows that run out leave their neighbours a little wide apart, so all of a close cover are sewn this much closer."""
SLOPE = 2.5
"""Over about this length, mm, it is seen how much rows slope."""
SAME = 0.02
"""Where what is wanted differs by less than this part of itself along each row, all rows run through."""
MOST_IN_GROUP = 51
LEAST_PIECE = SHORTEST
"""Pairs of rows shorter than this are left out, mm."""
BESIDE_END = 0.4
"""Pairs that go on farther than this, mm, beyond the end of the row that is left for them are come back from."""
AS_FAR = 1.0
"""A host beside which a pair lies by less than this, mm, less than beside another, is as good for it."""
SIDES = ("hosts", "around")
SAMPLE, MOST_SAMPLES = 0.5, 120
"""How finely what is wanted is looked at, mm, and at how many places at most along each side."""
ROUNDS = 3
"""Which rows are wanted depends on where they lie, and that on which are there: found by so many rounds."""
BEYOND = 3
"""For so many rows beyond the shape it is known where they would lie."""


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
class Spread:
    """A frame in which rows that are spread lie level: ``levels`` (rows, columns) says how high they lie in another.

    ``columns`` (m,) are ``u`` in that frame, and ``known`` (rows,) the heights in this one, evenly apart; the first
    and the last ``BEYOND`` lie beyond the shape.
    """

    under: Frame
    columns: Floats
    known: Floats
    levels: Floats

    @property
    def angle(self) -> float:
        """See ``Frame``."""
        return self.under.angle

    @property
    def nominal(self) -> Floats:
        """The heights of the rows, (rows,)."""
        return self.known[BEYOND:-BEYOND]

    def _look(self, u: Floats, w: Floats) -> Floats:
        place = np.interp(u, self.columns, np.arange(len(self.columns)))
        each = self.known[1] - self.known[0]
        row = (w - self.known[0]) / each
        inner = np.clip(row, 0, len(self.known) - 1)
        found = scipy.ndimage.map_coordinates(self.levels, [inner, place], order=1, mode="nearest")
        return np.asarray(found + (row - inner) * each)

    def lay(self, uv: Floats) -> Floats:
        """Coordinates of the other frame (n, 2) in this one: by halving, since heights only rise."""
        u, v = uv[:, 0], uv[:, 1]
        reach = float(np.abs(self.levels - self.known[:, None]).max()) + 1.0
        low, high = v - reach, v + reach
        for _ in range(math.ceil(math.log2(2 * reach / 0.002))):
            middle = (low + high) / 2
            below = self._look(u, middle) < v
            low, high = np.where(below, middle, low), np.where(below, high, middle)
        return np.column_stack([u, (low + high) / 2])

    def to(self, xy: Floats) -> Floats:
        """See ``Frame``."""
        found = self.lay(np.atleast_2d(self.under.to(xy)))
        return found if np.ndim(xy) == 2 else np.asarray(found[0])

    def back(self, uv: Floats) -> Floats:
        """See ``Frame``."""
        flat = np.atleast_2d(uv)
        found = self.under.back(np.column_stack([flat[:, 0], self._look(flat[:, 0], flat[:, 1])]))
        return found if np.ndim(uv) == 2 else np.asarray(found[0])

    def level(self, region: Region) -> Region:
        """See ``Frame``."""
        return carried(region, self.to)

    def cloth(self, region: Region) -> Region:
        """See ``Frame``."""
        return carried(region, self.back)


@dataclass(frozen=True, eq=False)
class Thinning:
    """Which rows there are where: row ``r`` runs in a column (m,) where ``excess`` (rows, m) is positive.

    Every ``group``-th row is a host. The cover is ``opened`` where it fades.
    """

    spread: Spread
    group: int
    excess: Floats
    opened: bool


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

    ``passages`` has two hosts, one above the other, by index, for any two that rows between them join, and where.
    """

    hosts: Intervals
    number: Ints
    heights: Floats
    pairs: tuple[Pair, ...]
    passages: Passages
    opened: bool


def wanted_spacing(uv: Floats, style: RowStyle, frame: Frame) -> Floats:
    """How far apart rows are wanted at level coordinates (n, 2), in mm of those, (n,)."""
    wanted = np.full(len(uv), style.spacing) if style.opened is None else style.opened(frame.back(uv))
    return wanted * frame.stretch(uv)[1] if isinstance(frame, Curved) else wanted


def thinning(piece: Polygon, style: RowStyle, frame: Frame) -> tuple[float, Thinning | None]:
    """How near to each other the rows of a level polygon lie, mm, and which of them are left out where."""
    low, top, high, bottom = piece.bounds
    sample = max(SAMPLE, (high - low) / MOST_SAMPLES, (bottom - top) / MOST_SAMPLES)
    columns = np.linspace(low, high, max(3, math.ceil((high - low) / sample) + 1))
    down = np.linspace(top, bottom, max(3, math.ceil((bottom - top) / sample) + 1))
    u, v = np.meshgrid(columns, down)
    spots = np.column_stack([u.ravel(), v.ravel()])
    apart = wanted_spacing(spots, style, frame)
    room = piece.buffer(sample, quad_segs=2)
    shapely.prepare(room)
    near = shapely.contains_xy(room, spots)
    if not near.any():
        return style.spacing, None
    least, few, most = (float(one) for one in np.percentile(apart[near], (0.5, FEW, 99.5)))
    if least >= EVEN * most:
        return max(UNEVEN * few, CLOSEST / float(np.mean(1 / apart[near]))), None
    across = apart.reshape(u.shape)
    if style.opened is not None and (np.ptp(across, axis=1) < SAME * across.mean(axis=1)).all():
        return _through(across.mean(axis=1), columns, down, frame)
    spacing = max(least, 0.1)
    part = (CLOSER if style.opened is None else 1.0) * spacing / apart
    fewest = max(float(part[near].min()), 0.02)
    nominal = even_heights(top, bottom, spacing)
    pairs = min(math.ceil((1 / fewest - 1) / 2), MOST_IN_GROUP // 2)
    group = 2 * pairs + 1
    lean = frame.lean(spots) if isinstance(frame, Curved) else (np.zeros(len(spots)), np.ones(len(spots)))
    aside, across = (one.reshape(u.shape) for one in lean)
    part = np.clip(part, fewest, 1.0).reshape(u.shape)
    excess, levels = _settled(part, aside, across, columns, down, nominal, group)
    spread = Spread(frame, columns, _padded(nominal, spacing, spacing), _padded(levels, spacing, spacing))
    return spacing, Thinning(spread, group, excess, style.opened is not None)


def _settled(
    part: Floats, aside: Floats, across: Floats, columns: Floats, down: Floats, nominal: Floats, group: int
) -> tuple[Floats, Floats]:
    """Where each row runs, and at which height: two arrays (rows, columns), see ``Thinning`` and ``Spread``.

    ``part`` (down, columns) is the share of the rows that is wanted where they are level. Each round looks at it
    where the rows lie, leaves out those that are not wanted, and closes up what is left. Rows that close up slope,
    which brings them nearer to each other or parts them: by how much follows from ``aside`` and ``across``, what
    ``Curved.lean`` tells, and the next round wants fewer or more of them.
    """
    limit = _limits(len(nominal), group)
    each = columns[1] - columns[0]
    levels = np.repeat(nominal[:, None], len(columns), axis=1)
    excess = np.ones(levels.shape)
    least = part.min()
    for _ in range(ROUNDS):
        slope = _by_height(down, levels, np.gradient(levels, each, axis=1))
        slope = scipy.ndimage.gaussian_filter(slope, (SLOPE / (down[1] - down[0]), SLOPE / each), mode="nearest")
        sloped = np.clip(part / np.sqrt(np.maximum(1 + 2 * slope * aside + slope**2 * across, 0.25)), least, 1.0)
        steps = (sloped[1:] + sloped[:-1]) / 2 * (down[1] - down[0])
        ought = np.cumsum(np.vstack([np.zeros(len(columns)), steps]), axis=0)
        excess = _paired(_by_height(levels, down, sloped), group) - limit[:, None]
        excess[::group] = 1.0
        weight = (excess > 0).astype(np.float64)
        weight = scipy.ndimage.minimum_filter1d(weight, 1 + 2 * round(EARLY * CLOSING / each), axis=1, mode="nearest")
        weight = scipy.ndimage.gaussian_filter1d(weight, CLOSING / each, axis=1, mode="nearest")
        levels = _levels(weight, ought, down)
    return excess, levels


def _by_height(wanted: Floats, known: Floats, values: Floats) -> Floats:
    """``values`` (n, columns) at the heights ``known``, each column looked up at those that are ``wanted``.

    Heights are the same in every column, (n,), or its own, (n, columns).
    """
    each = [
        np.broadcast_to(one[:, None] if one.ndim == 1 else one, (len(one), values.shape[1])).T
        for one in (wanted, known)
    ]
    return np.stack([np.interp(at, own, one) for at, own, one in zip(*each, values.T, strict=True)], axis=1)


def _through(apart: Floats, columns: Floats, down: Floats, frame: Frame) -> tuple[float, Thinning]:
    """Rows that all run through, ``apart`` (n,) at heights ``down`` (n,) whatever the column."""
    gaps = np.diff(down) * (1 / apart[1:] + 1 / apart[:-1]) / 2
    ought = np.concatenate([[0.0], np.cumsum(gaps)])
    count = max(1, round(float(ought[-1])))
    spacing = float(down[-1] - down[0]) / count
    nominal = even_heights(float(down[0]), float(down[-1]), spacing)
    at = np.interp((np.arange(count) + 0.5) / count * ought[-1], ought, down)
    levels = np.repeat(_padded(at, float(apart[0]), float(apart[-1]))[:, None], len(columns), axis=1)
    spread = Spread(frame, columns, _padded(nominal, spacing, spacing), levels)
    return spacing, Thinning(spread, 1, np.ones((count, len(columns))), True)


def _padded(heights: Floats, before: float, after: float) -> Floats:
    """Heights of rows (n, ...) with those of ``BEYOND`` more on each side, so far apart, mm."""
    step = np.arange(1, BEYOND + 1).reshape(-1, *[1] * (heights.ndim - 1))
    return np.concatenate([heights[:1] - before * step[::-1], heights, heights[-1:] + after * step])


def _paired(wanted: Floats, group: int) -> Floats:
    """What is wanted of rows (n, m), the same for the two rows of a pair."""
    found = wanted.copy()
    first = np.arange(len(wanted) - 1)
    first = first[(first % group) % 2 == 1]
    found[first] = found[first + 1] = (wanted[first] + wanted[first + 1]) / 2
    return found


def _levels(weight: Floats, ought: Floats, down: Floats) -> Floats:
    """Where each row lies in each column, so that the rows that are there are evenly spaced, (rows, m)."""
    there = np.cumsum(weight, axis=0) - weight / 2
    whole = there[-1] + weight[-1] / 2
    return np.stack(
        [np.interp(a / n * b[-1], b, down) for a, n, b in zip(there.T, whole, ought.T, strict=True)], axis=1
    )


def hosted(rows: Intervals, thin: Thinning) -> Hosted:
    """Rows of a thinning's frame as hosts with detours; where no host meets the shape, those that are wanted."""
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
    return Hosted(hosts, number, rows.heights, pairs, slabs.passages(hosts), thin.opened)


@dataclass(frozen=True, eq=False)
class _Slabs:
    """What hangs together between two rows of hosts.

    ``label`` (n,) says for each of the ``rows`` (n,) which piece of the shape it lies in; ``above`` and ``below``
    have for each such piece the hosts, by index, that end it. ``next_to`` are two hosts with no row between.
    """

    rows: Intervals
    label: Ints
    above: dict[int, list[int]]
    below: dict[int, list[int]]
    next_to: tuple[tuple[int, int], ...]

    def ends(self, label: int) -> list[int]:
        """The hosts that end a piece."""
        return [*self.above[label], *self.below[label]]

    def passages(self, hosts: Intervals) -> Passages:
        """See ``Hosted``: all that are clear, and what else it takes to join all that hang together."""
        found = {pair: self._clear(hosts, *pair, np.array([], dtype=np.int64)) for pair in self.next_to}
        order = np.argsort(self.label, kind="stable")
        first = np.searchsorted(self.label[order], np.arange(self.label.max() + 2))
        for label in dict.fromkeys([*self.above, *self.below]):
            upper, lower = self.above[label], self.below[label]
            pairs = product(upper, lower) if upper and lower else pairwise([*upper, *lower])
            inside = order[first[label] : first[label + 1]]
            ways = [(pair, self._clear(hosts, *pair, inside)) for pair in pairs]
            joined = {host: {host} for host in (*upper, *lower)}
            for (one, other), (low, high) in sorted(ways, key=lambda way: max(way[1][0] - way[1][1], 0.0)):
                if low < high or joined[one] is not joined[other]:
                    found[one, other] = low, high
                    joined[one] |= joined[other]
                    joined |= dict.fromkeys(joined[one], joined[one])
        return found

    def _clear(self, hosts: Intervals, upper: int, lower: int, inside: Ints) -> tuple[float, float]:
        """Between which x a straight way leads from one host to another over the rows ``inside``, the widest such.

        Where none does: where the two overlap.
        """
        whole = max(hosts.left[upper], hosts.left[lower]), min(hosts.right[upper], hosts.right[lower])
        clear = [whole] if whole[0] < whole[1] else []
        rows = self.rows
        for row in np.unique(rows.row[inside]):
            pieces = inside[rows.row[inside] == row].tolist()
            cut = [(max(a, rows.left[k]), min(b, rows.right[k])) for a, b in clear for k in pieces]
            clear = [one for one in cut if one[0] < one[1]]
        low, high = max(clear, key=lambda one: one[1] - one[0]) if clear else whole
        return float(low), float(high)


def _slabs(rows: Intervals, mask: NDArray[np.bool_]) -> _Slabs:
    """The slabs of ``rows`` (n,) of which those where ``mask`` (n,) holds are hosts."""
    upper, lower = neighbours(rows)
    between = ~mask[upper] & ~mask[lower]
    _, label = labelled(len(rows.row), upper[between], lower[between])
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
    return _Slabs(rows, label, above, below, tuple(next_to))


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
    return Hosted(hosts, number, rows.heights, (), _overlaps(hosts), thin.opened)


def _overlaps(rows: Intervals) -> Passages:
    """Where neighbours among rows overlap."""
    pairs = zip(*(one.tolist() for one in neighbours(rows)), strict=True)
    left, right = rows.left.tolist(), rows.right.tolist()
    return {(a, b): (max(left[a], left[b]), min(right[a], right[b])) for a, b in pairs}


def separate(found: Hosted) -> list[Hosted]:
    """The same rows in groups whose hosts are connected: where rows are few, a neck may lie between two hosts."""
    touching = np.array(list(found.passages), dtype=np.int64).reshape(-1, 2)
    groups = grouped(len(found.number), *touching.T)
    if len(groups) == 1:
        return [found]
    parts: list[Hosted] = []
    for which in groups:
        place = {host: k for k, host in enumerate(which.tolist())}
        own = [pair for pair in found.pairs if pair.hosts[0] in place]
        pairs = tuple(
            replace(one, **{side: tuple(place[k] for k in getattr(one, side) if k in place) for side in SIDES})
            for one in own
        )
        passages = {(place[a], place[b]): clear for (a, b), clear in found.passages.items() if a in place}
        hosts, number = found.hosts.some(which), found.number[which]
        parts.append(replace(found, hosts=hosts, number=number, pairs=pairs, passages=passages))
    return parts


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
            own = max(by_row[detour.rows[0]], key=lambda k: min(rows.right[k], right[0]) - max(rows.left[k], left[0]))
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
    host after it, it is come to from the other side. Not so where a cover is opened: pairs differ so much in length
    that it would take long ways from the short ones to the long ones behind them.
    """
    sides: dict[tuple[int, bool], list[tuple[int, Detour]]] = defaultdict(list)
    for pair in found.pairs:
        host = pair.hosts[0] if found.opened else max(pair.hosts, key=lambda one: visits[one][-1][0])
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


def _limits(count: int, group: int) -> Floats:
    """From which part on each row is wanted; hosts always. Two rows of a pair have the same limit.

    The limits of neighbouring groups follow J. van der Corput's sequence (1935), so that rows run out at
    places as far apart as they can be.
    """
    number, within = np.divmod(np.arange(count), group)
    groups = int(number[-1]) + 1
    bits = (np.arange(groups)[:, None] >> np.arange(16)) & 1
    order = np.argsort(bits @ 0.5 ** np.arange(1, 17))
    shift = np.empty(groups)
    shift[order] = (np.arange(groups) + 0.5) / groups
    pair = np.maximum(within - 1, 0) // 2
    limit = (1 + 2 * (pair + shift[number])) / np.minimum(group, count - number * group)
    limit[within == 0] = 0.0
    return np.asarray(limit)


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
