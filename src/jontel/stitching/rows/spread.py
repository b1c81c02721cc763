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
from dataclasses import dataclass

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
import shapely
from shapely import Polygon

from jontel.geometry.frames import Curved, Frame, carried
from jontel.geometry.hatch import even_heights
from jontel.geometry.polyline import Floats
from jontel.geometry.region import Region
from jontel.stitching.rows.style import RowStyle

EVEN = 0.8
"""Where no place wants fewer than this part of the densest rows, all of them run through."""
FEW, UNEVEN, CLOSEST = 5, 0.98, 0.97
"""Where all rows run through, they are laid so near to each other that no more than so many percent of the places
want them nearer, and by this part closer still, since stitches are straight and rows are not; but not so near that
their mean is less than the third part of what is asked."""
CLOSING = 1.4
"""Over about this length, mm, the rows beside two that have run out close up."""
EARLY = 0.3
"""By this part of ``CLOSING`` they begin to close up before two run out."""
CLOSER = 1.07
"""Rows that run out leave their neighbours a little wide apart, so all of a close cover are sewn this much closer."""
SLOPE = 2.5
"""Over about this length, mm, it is seen how much rows slope."""
SAME = 0.02
"""Where what is wanted differs by less than this part of itself along each row, all rows run through."""
MOST_IN_GROUP = 51
"""Of so many rows one is a host at least."""
SAMPLE, MOST_SAMPLES = 0.5, 120
"""How finely what is wanted is looked at, mm, and at how many places at most along each side."""
ROUNDS = 3
"""Which rows are wanted depends on where they lie, and that on which are there: found by so many rounds."""
BEYOND = 3
"""For so many rows beyond the shape it is known where they would lie."""


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
