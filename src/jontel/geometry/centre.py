"""A shape as one line along its middle: the branches of its medial axis, joined and walked without lifting the pen.

Branches are a graph whose nodes are their ends and junctions. Where two of them run on through a junction they do so
straight, and the others are led to that line. The walk passes every branch at least once, and as little of them twice
as can be (``touring``). It begins at an odd node on the left and ends at one on the right, as one writes.
"""

import functools
import itertools
import math

import numpy as np
import shapely
from shapely import Polygon

from jontel.design.store import kept
from jontel.geometry.decompose import at_home
from jontel.geometry.junctions import RUNS_ON
from jontel.geometry.outline import smooth
from jontel.geometry.polyline import Floats, at_lengths, lengths
from jontel.geometry.skeleton import Branch, Skeleton, skeleton
from jontel.geometry.touring import Piece, Ways, odd_nodes, toured, walked

STEP, EVENED = 0.1, 2.0
"""Branches are followed in such steps, mm, and evened over so many of them."""
CLEAR = 1.0
"""So many radii round a junction the axis says nothing of where a pen would go."""
LOOKED_BACK = 0.8
"""The way in which a branch goes on at its end is that of its last so many radii."""
FROM_RIM = 0.1
"""The line ends so far, mm, from the rim of a free end: the thread covers it."""
SAME = 0.02
"""Places nearer than this, mm, are one node."""
MOST_ODD = 8
"""Up to so many odd nodes are paired in the best way, more of them greedily."""
DOT = 0.6
"""The line of a shape that is about as wide as long is at least so long, mm."""


@kept
def centre_line(shape: Polygon) -> Floats:
    """The walk along the middle of a connected shape, (n, 2)."""
    home, corner = at_home(shape)
    return _at_home(home) + corner


@kept
def _at_home(shape: Polygon) -> Floats:
    axis = skeleton(shape)
    nodes: list[Floats] = []
    pieces = [Piece(_node(nodes, xy[0]), _node(nodes, xy[-1]), xy) for xy in _straightened(axis, shape)]
    walk = _walk(nodes, pieces)
    if float(lengths(walk)[-1]) < DOT:
        walk = walk.mean(axis=0) + np.array([[-DOT / 2, 0.0], [DOT / 2, 0.0]])
    return walk


def _straightened(axis: Skeleton, shape: Polygon) -> list[Floats]:
    """The branches as lines (n, 2) that meet in the same places."""
    lines = [_even(branch) for branch in axis.branches]
    ends: dict[tuple[int, int], Floats] = {}
    for junction, (place, radius) in enumerate(zip(axis.places, axis.radii, strict=True)):
        arms = [(k, end) for k, one in enumerate(axis.branches) for end in (0, 1) if one.ends[end] == junction]
        ends |= _met(arms, lines, place, CLEAR * float(radius))
    found = []
    for number, (branch, xy) in enumerate(zip(axis.branches, lines, strict=True)):
        along = lengths(xy)
        total = float(along[-1])
        low, high = (min(CLEAR * float(axis.radii[end]), total / 2.5) if end >= 0 else 0.0 for end in branch.ends)
        inner = xy[(along >= low) & (along <= total - high)]
        inner = inner if len(inner) > 1 else at_lengths(xy, np.array([low, max(total - high, low + 1e-6)]), along)
        parts = [inner]
        if branch.ends[0] >= 0:
            parts.insert(0, ends[number, 0][None])
        elif not branch.closed:
            parts.insert(0, _to_rim(inner[::-1], shape, float(branch.radius[0])))
        if branch.ends[1] >= 0:
            parts.append(ends[number, 1][None])
        elif not branch.closed:
            parts.append(_to_rim(inner, shape, float(branch.radius[-1])))
        else:
            parts.append(inner[:1])
        found.append(np.vstack(parts))
    return found


def _even(branch: Branch) -> Floats:
    """A branch in even steps, evened, (n, 2)."""
    far = lengths(branch.xy)
    count = max(3, round(float(far[-1]) / STEP))
    xy = at_lengths(branch.xy, np.linspace(0, far[-1], count + 1), far)
    if branch.closed:
        return smooth(xy[:-1], EVENED, closed=True)
    evened = smooth(xy, EVENED)
    evened[[0, -1]] = xy[[0, -1]]
    return evened


def _met(
    arms: list[tuple[int, int]], lines: list[Floats], place: Floats, clear: float
) -> dict[tuple[int, int], Floats]:
    """Where each arm of a junction begins: on the line of those two that run on, else all in its middle."""
    starts, ways = [], []
    for number, end in arms:
        xy = lines[number] if end == 0 else lines[number][::-1]
        along = lengths(xy)
        near = min(clear, float(along[-1]) / 2.5)
        spots = at_lengths(xy, np.array([near, min(near + LOOKED_BACK * clear, float(along[-1]))]), along)
        starts.append(spots[0])
        ways.append((spots[1] - spots[0]) / max(math.dist(*spots), 1e-9))
    bends = sorted(
        (math.degrees(math.acos(float(np.clip(-ways[i] @ ways[j], -1, 1)))), i, j)
        for i, j in itertools.combinations(range(len(arms)), 2)
    )
    if not bends or bends[0][0] > RUNS_ON:
        return dict.fromkeys(arms, place)
    _, i, j = bends[0]
    through = shapely.LineString([starts[i], starts[j]])
    rest = [k for k in range(len(arms)) if k not in (i, j)]
    found = {}
    for k in rest:
        ray = shapely.LineString([starts[k], starts[k] - 3 * clear * ways[k]])
        hit = shapely.get_coordinates(ray.intersection(through))
        found[arms[k]] = hit[0] if len(hit) else shapely.get_coordinates(shapely.shortest_line(through, ray))[0]
    node = np.mean([found[arms[k]] for k in rest], axis=0) if rest else place
    return dict.fromkeys(arms, node)


def _to_rim(xy: Floats, shape: Polygon, radius: float) -> Floats:
    """Where a line (n, 2) that goes straight on from its free end all but meets the rim, (1, 2) or (0, 2)."""
    back = xy[max(0, len(xy) - 1 - max(1, round(LOOKED_BACK * radius / STEP)))]
    way = (xy[-1] - back) / max(math.dist(xy[-1], back), 1e-9)
    ray = shapely.LineString([xy[-1], xy[-1] + 6 * radius * way])
    hits = shapely.get_coordinates(ray.intersection(shape.boundary))
    far = float(((hits - xy[-1]) @ way).min()) - FROM_RIM if len(hits) else 0.0
    return xy[-1:] + far * way if far > SAME else np.zeros((0, 2))


def _node(nodes: list[Floats], place: Floats) -> int:
    """The number of the node at a place, which is a new one if there is none."""
    for number, known in enumerate(nodes):
        if math.dist(known, place) < SAME:
            return number
    nodes.append(place)
    return len(nodes) - 1


def _walk(nodes: list[Floats], pieces: list[Piece]) -> Floats:
    """The walk over all pieces, some of them twice, (n, 2)."""
    ways = Ways(pieces, len(nodes))
    start, pairs = _paired(odd_nodes(pieces, len(nodes)), ways.far, np.array(nodes)[:, 0])
    edges = list(range(len(pieces)))
    for one, other in pairs:
        edges += ways.between(one, other)
    return walked(pieces, toured(pieces, edges, start))


def _paired(odd: list[int], ways: Floats, x: Floats) -> tuple[int, list[tuple[int, int]]]:
    """The node at which a walk begins, and which odd nodes are joined by pieces walked twice, so that two are left.

    Of all choices the shortest; among like ones the walk that leads from the left to the right.
    """
    if not odd:
        return int(np.argmin(x)), []
    best: tuple[float, int, list[tuple[int, int]]] | None = None
    for first, last in itertools.permutations(odd, 2):
        if x[first] > x[last]:
            continue
        rest = tuple(node for node in odd if node not in (first, last))
        size, pairs = _matched(rest, ways)
        cost = size - 1e-3 * float(x[last] - x[first])
        if best is None or cost < best[0]:
            best = cost, first, pairs
    assert best is not None
    return best[1], best[2]


def _matched(rest: tuple[int, ...], ways: Floats) -> tuple[float, list[tuple[int, int]]]:
    """Nodes in pairs between which the ways are short together: the shortest, for up to ``MOST_ODD`` of them."""
    if len(rest) > MOST_ODD:
        one = rest[0]
        other = min(rest[1:], key=lambda node: float(ways[one, node]))
        size, pairs = _matched(tuple(node for node in rest if node not in (one, other)), ways)
        return size + float(ways[one, other]), [(one, other), *pairs]

    @functools.cache
    def best(left: tuple[int, ...]) -> tuple[float, tuple[tuple[int, int], ...]]:
        if not left:
            return 0.0, ()
        found = []
        for other in left[1:]:
            long, others = best(tuple(node for node in left[1:] if node != other))
            found.append((long + float(ways[left[0], other]), ((left[0], other), *others)))
        return min(found)

    whole, found = best(rest)
    return whole, list(found)
