"""In which order the rows of an underlay are sewn: the shortest way through all of its cells.

A cover will lie on all of it, so that a way may lie on rows that are sewn.
"""

import itertools

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window

from jontel.design.stopping import go_on
from jontel.geometry.arrays import Ints
from jontel.geometry.hatch import Cells, Intervals, neighbours
from jontel.geometry.polyline import Floats
from jontel.stitching.rows.orders import SHORT_CELL
from jontel.stitching.rows.route import Leg

LEAST = 1e-6
"""A way is at least so long, mm: in a graph one of no length is none."""
GAIN = 1e-3
"""A change that saves less than this, mm, is none."""
MOST_CHANGES = 400
"""After so many changes the way is taken as it is."""
WAYS, BELOW, BACK = 8, 2, 4
"""In how many ways a cell can be sewn; the bits that say that it is begun at its last row, and sewn out and back."""
LONG_TURNS = 0.5
"""A cell that is sewn out and back counts so much more, of its height: its turns are longer."""


def tour(pieces: Intervals, found: Cells, entry: Floats, exit_: Floats) -> list[Leg]:
    """Every row, cell by cell, from ``entry`` to an end near ``exit_``, by a short way.

    A cell is sewn through from one of its corners, or every other row out and the rest back, which says where it
    ends. The order begins with the nearest cell each and is changed while that makes the way shorter: a stretch of
    it is turned round, a cell is put elsewhere, and how each is sewn is chosen anew. Sources: R. Bähnemann and
    others, "Revisiting boustrophedon coverage path planning as a generalized traveling salesman problem" (2021);
    G. Croes, "A method for solving traveling-salesman problems" (1958).
    """
    legs: list[Leg] = []
    far = _ends(found)
    extra = np.array([[0.0] * 4 + [_extra(rows, pieces.spacing)] * 4 for rows in found.members])
    for one in _shortest(_ways(pieces, found, entry, exit_), far, extra.ravel()):
        cell, sewn = divmod(one, WAYS)
        rows = found.members[cell]
        rows = rows[::-1] if sewn & BELOW else rows
        rows = np.concatenate([rows[::2], rows[1::2][::-1]]) if sewn & BACK else rows
        leftward = (np.arange(len(rows)) + sewn) % 2 == 1
        left, right, y = pieces.left[rows], pieces.right[rows], pieces.heights[pieces.row[rows]]
        start, stop = np.where(leftward, right, left), np.where(leftward, left, right)
        here = np.array([start[0], y[0]])
        before = np.array([legs[-1].stop[-1], pieces.heights[pieces.row[legs[-1].rows[-1]]]]) if legs else here
        legs.append(Leg(np.array([before, here]), rows, start, stop))
    return legs


def _extra(rows: Ints, spacing: float) -> float:
    """How much longer a way may be, mm, that sews a cell through and not out and back."""
    return LONG_TURNS * spacing * len(rows) if len(rows) >= SHORT_CELL else 1e6


def _ends(found: Cells) -> Ints:
    """Each cell can be sewn in eight ways: in which of them backwards, by the way it is sewn forwards, (8 n,).

    Bits say where it is begun, at the right end and at the last row, and that it is sewn out and back. The first
    two are those of the corner it ends at, too.
    """
    ways = np.arange(WAYS)
    odd = np.array([len(rows) % 2 for rows in found.members], dtype=np.int64)[:, None]
    ends = np.where(ways & BACK, ways ^ odd, ways ^ BELOW ^ odd)
    answer: Ints = (WAYS * np.arange(len(odd))[:, None] + ends).ravel()
    return answer


def _ways(pieces: Intervals, found: Cells, entry: Floats, exit_: Floats) -> Floats:
    """How far it is, mm, from each corner of each cell to each other one, (4 n + 2, 4 n + 2).

    The last two are the entry and the exit. Ways lead along rows, and from row to row where these lie side by side.
    """
    count, y = len(pieces.row), pieces.y()
    x = np.stack([pieces.left, pieces.right], axis=1)
    row = np.arange(count)
    edges = [(2 * row, 2 * row + 1, x[:, 1] - x[:, 0])]
    upper, lower = neighbours(pieces)
    low = np.maximum(pieces.left[upper], pieces.left[lower])
    high = np.maximum(np.minimum(pieces.right[upper], pieces.right[lower]), low)
    for one, other in np.ndindex(2, 2):
        over = np.clip(x[upper, one], low, high)
        aside = np.abs(over - x[upper, one]) + np.abs(over - x[lower, other])
        edges.append((2 * upper + one, 2 * lower + other, aside + y[lower] - y[upper]))
    for k, point in enumerate((entry, exit_)):
        beside = np.maximum(np.maximum(pieces.left - point[0], point[0] - pieces.right), 0)
        near = int(np.argmin(np.hypot(beside, y - point[1])))
        ends = np.abs(x[near] - point[0]) + abs(y[near] - point[1])
        edges.append((np.full(2, 2 * count + k), 2 * near + np.arange(2), ends))
    one, other, size = (np.concatenate(part) for part in zip(*edges, strict=True))
    shape = (2 * count + 2, 2 * count + 2)
    graph = scipy.sparse.coo_array((np.maximum(size, LEAST), (one, other)), shape=shape).tocsr()
    corners = [2 * rows[[0, 0, -1, -1]] + np.array([0, 1, 0, 1]) for rows in found.members]
    asked = np.concatenate([*corners, [2 * count, 2 * count + 1]])
    far = scipy.sparse.csgraph.dijkstra(graph, directed=False, indices=asked)
    answer: Floats = far[:, asked].round(4)
    return answer


def _shortest(ways: Floats, ends: Ints, extra: Floats) -> list[int]:
    """The ways in which the cells are sewn, in order."""
    corner = np.arange(len(ends)) // WAYS * 4 + np.arange(len(ends)) % 4
    onward = ways[np.append(corner[ends], -2)][:, np.append(corner, -1)]  # from its end, or the entry, to the next
    onward[:, :-1] += extra
    order = _nearest_each(onward)
    for _ in range(MOST_CHANGES):
        go_on()
        more, tried = min(_turned_round(order, onward, ends), _put_elsewhere(order, onward), key=lambda one: one[0])
        if more > -GAIN:
            more, tried = _sewn_otherwise(order, onward)
        if more > -GAIN:
            break
        order = tried
    found: list[int] = order.tolist()
    return found


def _nearest_each(onward: Floats) -> Ints:
    """The ways in which cells are sewn, in order, (n,): from each on to the nearest."""
    n = len(onward) // WAYS
    left = np.ones(n, dtype=bool)
    order: list[int] = []
    for _ in range(n):
        far = onward[order[-1] if order else -1, :-1]
        order.append(int(np.argmin(np.where(np.repeat(left, WAYS), far, np.inf))))
        left[order[-1] // WAYS] = False
    return np.array(order, dtype=np.int64)


def _sewn_otherwise(order: Ints, onward: Floats) -> tuple[float, Ints]:
    """How much longer the way gets, mm, and the order, (n,), if each cell is sewn in the best way at its time."""
    now = onward[np.append(-1, order), np.append(order, -1)].sum()
    corner = WAYS * (order // WAYS)[:, None] + np.arange(WAYS)
    length = onward[-1, corner[0]]
    came_from: list[Ints] = []
    for here, there in itertools.pairwise(corner):
        all_ways = length[:, None] + onward[here[:, None], there]
        came_from.append(np.argmin(all_ways, axis=0))
        length = all_ways.min(axis=0)
    length = length + onward[corner[-1], -1]
    chosen = [int(np.argmin(length))]
    for before in reversed(came_from):
        chosen.append(int(before[chosen[-1]]))
    return float(length.min() - now), corner[:, 0] + np.array(chosen[::-1])


def _turned_round(order: Ints, onward: Floats, ends: Ints) -> tuple[float, Ints]:
    """How much longer the way gets, mm, and the order, (n,), if the best of its stretches is sewn the other way."""
    before, after = np.append(-1, order[:-1]), np.append(order[1:], -1)
    back = ends[order]
    now = onward[before, order][:, None] + onward[order, after]
    more = onward[before[:, None], back] + onward[back[:, None], after] - now
    more[np.tril_indices(len(order), -1)] = np.inf
    i, j = divmod(int(np.argmin(more)), len(order))
    return float(more[i, j]), np.concatenate([order[:i], back[i : j + 1][::-1], order[j + 1 :]])


def _put_elsewhere(order: Ints, onward: Floats) -> tuple[float, Ints]:
    """How much longer the way gets, mm, and the order, (n,), if the best of its cells is sewn at another time."""
    n = len(order)
    before, after = np.append(-1, order), np.append(order, -1)  # of each gap
    without = onward[before[:-1], after[1:]] - onward[before[:-1], order] - onward[order, after[1:]]
    corner = WAYS * (order // WAYS)[:, None] + np.arange(WAYS)
    there = onward[before[:, None, None], corner] + onward[corner, after[:, None, None]]  # (gap, cell, corner)
    more = there - onward[before, after][:, None, None] + without[None, :, None]
    more[np.arange(n), np.arange(n)] = more[np.arange(n) + 1, np.arange(n)] = np.inf
    gap, cell, which = np.unravel_index(int(np.argmin(more)), more.shape)
    fresh = np.insert(order, int(gap), corner[cell, which])
    return float(more[gap, cell, which]), np.delete(fresh, int(cell) + int(cell >= gap))
