"""Lines drawn one after another with short ways between them, each of them either way round.

The nearest end comes next, then stretches of the order are turned round where that leaves fewer ways that are worth a
cut and shorter ones (G. A. Croes, "A method for solving traveling-salesman problems", 1958).
"""

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
from numpy.typing import NDArray

from jontel.design.stopping import go_on
from jontel.geometry.bending import reversed_way, started
from jontel.geometry.nodes import Chain, Chains
from jontel.geometry.polyline import Floats

CUT = 1_000.0
"""A way that is cut is worth one of so many mm."""
SAME = 0.02
"""Lines no point of which is farther from the other's, mm, are drawn twice."""
ROUNDS = 12
FEW = 24
"""Of no more lines each end is tried as the first."""
Numbers = NDArray[np.int64]


def gone_over(chains: Chains) -> dict[int, int]:
    """The numbers of those among ``chains`` that a later one goes over again, and of the last such."""
    controls = [chain.controls() for chain in chains]
    boxes = np.array([np.concatenate([c.min((0, 1)), c.max((0, 1))]) for c in controls])
    pairs = scipy.spatial.cKDTree(boxes.reshape(-1, 4)).query_pairs(2 * SAME)
    return {one: other for one, other in sorted(pairs) if _same(chains[one], chains[other])}


def _same(one: Chain, other: Chain) -> bool:
    if one.closed != other.closed or len(one) != len(other):
        return False
    mine = one.controls()
    return any(np.abs(mine - way.controls()).max() <= SAME for way in (other, *reversed_way((other,))))


def in_succession(chains: Chains, free: float) -> Chains:
    """``chains`` in an order, and drawn the way round, that leave few ways longer than ``free`` mm, and short ones.

    A closed one begins at its node that is nearest.
    """
    if len(chains) < 2:
        return chains
    ends = np.array([(chain.at[0], chain.at[0 if chain.closed else -1]) for chain in chains])
    starts = [(k, side) for k in range(len(ends)) for side in (0, 1)] if len(ends) <= FEW else [(0, 0), (0, 1)]
    found = [_shortened(*_nearest_first(ends, *one), ends, free) for one in starts]
    _, order, way = min(found, key=lambda one: one[0])
    made: list[Chain] = []
    for number, side in zip(order.tolist(), way.tolist(), strict=True):
        chain = chains[number]
        if chain.closed and made:
            last = made[-1].at[0 if made[-1].closed else -1]
            chain = started(chain, int(np.argmin(np.hypot(*(chain.at - last).T))))
        elif side:
            (chain,) = reversed_way((chain,))
        made.append(chain)
    return tuple(made)


def _nearest_first(ends: Floats, first: int, side: int) -> tuple[Numbers, Numbers]:
    """Lines (n, 2 ends, 2) from ``first`` on, the nearest end next: their order (n,), and which end is first (n,)."""
    left = np.ones(len(ends), bool)
    order, way, here = [first], [side], first
    left[here] = False
    for _ in range(len(ends) - 1):
        far = np.hypot(*(ends - ends[here, 1 - side]).transpose(2, 0, 1))
        far[~left] = np.inf
        here, side = (int(k) for k in np.unravel_index(int(np.argmin(far)), far.shape))
        left[here] = False
        order.append(here)
        way.append(side)
    return np.array(order), np.array(way)


def _shortened(order: Numbers, way: Numbers, ends: Floats, free: float) -> tuple[float, Numbers, Numbers]:
    """An order with stretches turned round as long as that costs less, and what it costs then."""
    for _ in range(ROUNDS):
        go_on()
        if not _turned(order, way, ends, free):
            break
    enter, leave = ends[order, way], ends[order, 1 - way]
    return float(_price(leave[:-1], enter[1:], free).sum()), order, way


def _price(from_: Floats, to: Floats, free: float) -> Floats:
    far = np.hypot(*np.moveaxis(from_ - to, -1, 0))
    cost: Floats = far + CUT * (far > free)
    return cost


def _turned(order: Numbers, way: Numbers, ends: Floats, free: float) -> bool:
    """Turn stretches of the order round where that costs less; whether any was."""
    count, better = len(order), False
    for start in range(count - 1):
        enter, leave = ends[order, way], ends[order, 1 - way]
        stops = np.arange(start, count)
        cost = np.zeros(len(stops))
        if start:
            before = leave[start - 1]
            cost += _price(before, leave[stops], free) - _price(before, enter[start], free)
        on = stops[:-1] + 1
        cost[:-1] += _price(enter[start], enter[on], free) - _price(leave[stops[:-1]], enter[on], free)
        stop = int(np.argmin(cost))
        if cost[stop] < -1e-6:
            part = slice(start, start + stop + 1)
            order[part] = order[part][::-1].copy()
            way[part] = 1 - way[part][::-1]
            better = True
    return better
