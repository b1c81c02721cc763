"""The medial axis of a shape with holes, pruned to the branches that a stroke would follow.

Source: R. Ogniewicz and O. Kübler, "Hierarchic Voronoi skeletons" (1995): the inner ridges of the Voronoi diagram of
points on the rim, each with the two of those points that it lies between. A ridge whose two points are as near to
each other along the rim as across it explains nothing of the outline. Of what is left, branches that reach hardly
beyond the circle at their root lead into a corner and are pruned, the least first.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from jontel.design.stopping import go_on
from jontel.geometry.arrays import Ints
from jontel.geometry.polyline import Floats, at_lengths, lengths, turns

SPACED = 1 / 7
"""Points on the rim are so many mean widths apart."""
FEWEST, MOST = 80, 4000
"""How many points a rim has at least and at most."""
TOO_NARROW = 1.3
"""Where the shape is narrower than so many times what points are apart, there are more of them."""
ACROSS, REFINED, NEIGHBOURS = 2.5, 3, 12
"""They are then so many times closer than it is wide; that is looked for so often, among so many neighbours."""
FACING = 4.0
"""Points that are so many times farther from each other along the rim than across face each other."""
LEAST_OF_RING = 8
"""The least ring has so many points."""
CORNER = np.radians(15.0)
"""A point of the rim that turns by more than this is kept exactly."""
EXPLAINS = 0.5
"""The rim between the two points of a ridge is longer than the way across by this part of the radius, at least."""
REACHES = 0.75
"""A branch reaches beyond the circle at its root by this part of its radius, at least."""
ONE_JUNCTION = 1.0
"""Junctions nearer to each other than this part of the larger radius are one."""
COMPACT = 0.5
"""An axis shorter than this part of its radius is none: the shape is about as wide as long."""
FORK = 0.35
"""Where the way to the rim grows faster than this along an axis, it comes out of a corner."""
BEFORE_FORK = 0.2
"""An axis is cut back by this part of its width more than to the fork at which two corners of an end meet."""
TIP_WIDTHS = 1.5
"""No farther from its tip than this many widths is an axis cut back."""


@dataclass(frozen=True, eq=False)
class Rim:
    """Points on the rings of a polygon, which lies on the left of each ring.

    ``rings`` are loops (n + 1, 2) with their ``totals`` (rings,) in mm; ``xy`` (m, 2) are the points, each on
    ``ring`` (m,) at ``place`` (m,) mm along it.
    """

    rings: tuple[Floats, ...]
    totals: Floats
    xy: Floats
    ring: Ints
    place: Floats


@dataclass(frozen=True, eq=False)
class Branch:
    """A piece of the axis between two of its ends and junctions.

    ``xy`` (k + 1, 2) are its points and ``radius`` (k + 1,) their distances to the rim; ``left`` and ``right`` (k,)
    are the points of the rim, by number, on both sides of each step. ``ends`` are the numbers of its junctions; -1 is
    a free end, and a ring without any has -2 twice.
    """

    xy: Floats
    radius: Floats
    left: Ints
    right: Ints
    ends: tuple[int, int]

    def reversed(self) -> "Branch":
        """The same branch from its other end."""
        return Branch(self.xy[::-1], self.radius[::-1], self.right[::-1], self.left[::-1], self.ends[::-1])

    def part(self, first: int, last: int, ends: tuple[int, int]) -> "Branch":
        """The steps from number ``first`` up to ``last``, which is left out."""
        steps, nodes = slice(first, last), slice(first, last + 1)
        return Branch(self.xy[nodes], self.radius[nodes], self.left[steps], self.right[steps], ends)

    @property
    def closed(self) -> bool:
        """Whether it is a ring without any junction."""
        return self.ends == (-2, -2)


@dataclass(frozen=True, eq=False)
class Skeleton:
    """The branches of a shape, and its junctions: their places (j, 2) and radii (j,)."""

    rim: Rim
    branches: tuple[Branch, ...]
    places: Floats
    radii: Floats


def rim_of(shape: Polygon) -> Rim:
    """Points on the rim of a polygon, close enough for its axis, all its corners among them."""
    shape = shapely.geometry.polygon.orient(shape)
    rings = tuple(np.asarray(ring.coords)[:, :2] for ring in (shape.exterior, *shape.interiors))
    mean = 2 * shape.area / max(shape.length, 1e-9)
    step = float(np.clip(mean * SPACED, shape.length / MOST, shape.length / FEWEST))
    totals = np.array([lengths(loop)[-1] for loop in rings])
    marks = [_marks(loop, step) for loop in rings]
    for _ in range(REFINED):
        rim = _rim(rings, totals, marks)
        tree = scipy.spatial.cKDTree(rim.xy)
        finer = [_narrower(rim, tree, which, step) for which in range(len(rings))]
        if sum(map(len, finer)) == len(rim.xy) or sum(map(len, finer)) > 2 * MOST:
            return rim
        marks = finer
    return _rim(rings, totals, marks)


def _marks(loop: Floats, step: float) -> Floats:
    """Places along a loop, mm, no farther than ``step`` apart, its corners among them, (n,)."""
    along = lengths(loop)
    corners = np.flatnonzero(np.abs(turns(loop[:-1], True)) > CORNER)
    ends = np.unique(np.concatenate([[0.0, along[-1]], along[corners]]))
    counts = np.maximum(1, np.ceil(np.diff(ends) / step)).astype(np.int64)
    if counts.sum() < LEAST_OF_RING:
        counts = np.full(len(counts), math.ceil(LEAST_OF_RING / len(counts)), dtype=np.int64)
    knots = np.concatenate([[0], np.cumsum(counts)])
    return np.asarray(np.interp(np.arange(knots[-1]), knots, ends))


def _rim(rings: tuple[Floats, ...], totals: Floats, marks: list[Floats]) -> Rim:
    """The points at ``marks`` along each ring."""
    xy = [at_lengths(loop, where) for loop, where in zip(rings, marks, strict=True)]
    number = np.repeat(np.arange(len(rings)), [len(where) for where in marks])
    return Rim(rings, totals, np.vstack(xy), number, np.concatenate(marks))


def _narrower(rim: Rim, tree: "scipy.spatial.cKDTree", which: int, step: float) -> Floats:
    """The places along one ring, with more of them where it is near to another part of the rim, (m,).

    ``tree`` holds the points of the rim.
    """
    own = rim.ring == which
    marks, total = rim.place[own], float(rim.totals[which])
    far, near = tree.query(rim.xy[own], k=min(NEIGHBOURS, len(rim.xy)), distance_upper_bound=TOO_NARROW * step)
    there = np.minimum(near, len(rim.xy) - 1)  # where there is none, the distance is infinite
    arc = np.abs(rim.place[there] - marks[:, None])
    across = (rim.ring[there] != which) | (np.minimum(arc, total - arc) > FACING * far)
    wide = np.where(across, far, np.inf).min(axis=1)
    gap = np.diff(np.append(marks, total))
    wanted = np.minimum(wide, np.roll(wide, -1)) / ACROSS
    counts = np.where(gap > wanted, np.ceil(gap / np.maximum(wanted, gap / 8)), 1).astype(np.int64)
    owner, part = np.repeat(np.arange(len(marks)), counts), np.concatenate([np.arange(n) / n for n in counts])
    return np.asarray(marks[owner] + part * gap[owner])


def skeleton(shape: Polygon, reaches: float = REACHES) -> Skeleton:
    """The medial axis of a polygon, without branches that ``reaches`` prunes: see ``REACHES``."""
    rim = rim_of(shape)
    graph = _Graph(rim, shape)
    graph.prune(reaches)
    found = graph.skeleton()
    far = sum(float(lengths(one.xy)[-1]) for one in found.branches)
    if not found.branches or far < COMPACT * max(float(one.radius.max()) for one in found.branches):
        return Skeleton(rim, (_across(shape, rim),), np.zeros((0, 2)), np.zeros(0))
    return found


def _across(shape: Polygon, rim: Rim) -> Branch:
    """The axis of a shape about as wide as long: a short way through its middle, along the box round it."""
    box = shapely.get_coordinates(shape.minimum_rotated_rectangle)[:3]
    edges = np.diff(box, axis=0)
    way = edges[int(np.argmax(np.hypot(*edges.T)))]
    way = way / max(float(np.hypot(*way)), 1e-9)
    middle = shapely.get_coordinates(shape.point_on_surface() if len(rim.rings) > 1 else shape.centroid)[0]
    normal = np.array([-way[1], way[0]])
    away = rim.xy - middle
    aside = np.abs(away @ way) - np.abs(away @ normal)  # the least of all right beside the middle
    left, right = (int(np.argmin(np.where(sign * (away @ normal) > 0, aside, np.inf))) for sign in (1, -1))
    radius = float(np.hypot(*away[[left, right]].T).mean())
    step = 0.5 * COMPACT * radius * way
    sides = np.array([left]), np.array([right])
    return Branch(np.array([middle - step, middle + step]), np.full(2, radius), *sides, (-1, -1))


class _Graph:
    """The ridges of the axis: ``nodes`` (n, 2) and ``radius`` (n,), ``edge`` and ``site`` (e, 2), by number."""

    def __init__(self, rim: Rim, shape: Polygon) -> None:
        diagram = scipy.spatial.Voronoi(rim.xy)
        edge, site = np.asarray(diagram.ridge_vertices), np.asarray(diagram.ridge_points)
        whole = (edge >= 0).all(axis=1)
        edge, site = edge[whole], site[whole]
        shapely.prepare(shape)
        inside = np.asarray(shapely.contains_xy(shape, *diagram.vertices.T))
        fits = inside[edge].all(axis=1)
        edge, site = edge[fits], site[fits]
        nodes = diagram.vertices
        p, q = rim.xy[site[:, 0]], rim.xy[site[:, 1]]
        chord = np.hypot(*(p - q).T)
        radius = np.hypot(*(nodes[edge].mean(axis=1) - p).T)
        same = rim.ring[site[:, 0]] == rim.ring[site[:, 1]]
        arc = np.abs(rim.place[site[:, 0]] - rim.place[site[:, 1]])
        arc = np.where(same, np.minimum(arc, rim.totals[rim.ring[site[:, 0]]] - arc), np.inf)
        explains = arc - chord > EXPLAINS * radius
        edge, site = edge[explains], site[explains]
        # steps of no length join what is one node, and have no direction to tell left from right
        step = nodes[edge[:, 1]] - nodes[edge[:, 0]]
        none = np.hypot(*step.T) < 1e-6 * float(np.sqrt(shape.area))
        label = _together(edge[none], len(nodes))
        edge, site = label[edge[~none]], site[~none]
        first = np.unique(label, return_index=True)[1]
        self.rim = rim
        self.nodes: Floats = nodes[first]
        away = self.nodes[edge[:, 1]] - self.nodes[edge[:, 0]]
        side = rim.xy[site[:, 0]] - self.nodes[edge[:, 0]]
        turned = away[:, 0] * side[:, 1] - away[:, 1] * side[:, 0] < 0
        site[turned] = site[turned][:, ::-1]  # the first is on the left of the way from the first node to the second
        self.edge, self.site = edge, site
        self.radius = np.zeros(len(self.nodes))
        for end in (0, 1):
            self.radius[edge[:, end]] = np.hypot(*(self.nodes[edge[:, end]] - rim.xy[site[:, 0]]).T)
        self._keep_largest()

    def _keep_largest(self) -> None:
        """Leave out what hangs together with nothing else: of all pieces, only the longest stays."""
        if not len(self.edge):
            return
        label = _together(self.edge, len(self.nodes))
        size = np.hypot(*(self.nodes[self.edge[:, 0]] - self.nodes[self.edge[:, 1]]).T)
        main = int(np.bincount(label[self.edge[:, 0]], size).argmax())
        self._take(label[self.edge[:, 0]] == main)

    def _take(self, kept: NDArray[np.bool_]) -> None:
        self.edge, self.site = self.edge[kept], self.site[kept]

    def chains(self) -> Iterator[tuple[list[int], list[int]]]:
        """The nodes and the steps of each way between two nodes that are no mere passage, then of closed rings."""
        around: dict[int, list[int]] = {}
        for number, (u, v) in enumerate(self.edge.tolist()):
            around.setdefault(u, []).append(number)
            around.setdefault(v, []).append(number)
        edge = self.edge.tolist()
        used = [False] * len(edge)
        starts = [node for node, near in around.items() if len(near) != 2]
        for start in (*starts, *around):
            for first in around[start]:
                if used[first]:
                    continue
                nodes, steps, number = [start], [], first
                while True:
                    used[number] = True
                    steps.append(number)
                    u, v = edge[number]
                    nodes.append(v if nodes[-1] == u else u)
                    near = around[nodes[-1]]
                    if len(near) != 2 or nodes[-1] == start:
                        break
                    number = near[0] if near[1] == number else near[1]
                yield nodes, steps

    def prune(self, reaches: float) -> None:
        """Take away branches that reach hardly beyond their root, the least of each junction first."""
        while len(self.edge):
            go_on()
            degree = np.bincount(self.edge.ravel(), minlength=len(self.nodes))
            least: dict[int, tuple[float, list[int]]] = {}
            for nodes, steps in self.chains():
                first, last = degree[nodes[0]], degree[nodes[-1]]
                if (first == 1) == (last == 1) or max(first, last) < 3:
                    continue
                root, tip = (nodes[-1], nodes[0]) if first == 1 else (nodes[0], nodes[-1])
                way = float(lengths(self.nodes[nodes])[-1])
                beyond = (way + self.radius[tip]) / max(float(self.radius[root]), 1e-9) - 1
                if beyond < reaches and (root not in least or beyond < least[root][0]):
                    least[root] = beyond, steps
            if not least:
                return
            kept = np.ones(len(self.edge), dtype=bool)
            for _, steps in least.values():
                kept[steps] = False
            self._take(kept)

    def skeleton(self) -> Skeleton:
        """Branches, cut back where they come out of a corner, and junctions, near ones as one."""
        found = list(self.chains())
        degree = np.bincount(self.edge.ravel(), minlength=len(self.nodes))
        size = [float(lengths(self.nodes[nodes])[-1]) for nodes, _ in found]
        short = [
            degree[nodes[0]] > 2
            and degree[nodes[-1]] > 2
            and nodes[0] != nodes[-1]
            and size[k] < ONE_JUNCTION * max(self.radius[nodes[0]], self.radius[nodes[-1]])
            for k, (nodes, _) in enumerate(found)
        ]
        joined = np.array([[nodes[0], nodes[-1]] for k, (nodes, _) in enumerate(found) if short[k]]).reshape(-1, 2)
        label = _together(joined, len(self.nodes))
        junction_nodes = np.flatnonzero(degree > 2)
        labels = np.unique(label[junction_nodes])
        number = {int(one): k for k, one in enumerate(labels)}
        places = np.array([self.nodes[junction_nodes[label[junction_nodes] == one]].mean(axis=0) for one in labels])
        radii = np.array([self.radius[junction_nodes[label[junction_nodes] == one]].max() for one in labels])
        branches = []
        for k, (nodes, steps) in enumerate(found):
            if short[k]:
                continue
            ring = nodes[0] == nodes[-1] and degree[nodes[0]] == 2
            ends = [number[int(label[node])] if degree[node] > 2 else -1 for node in (nodes[0], nodes[-1])]
            forward = self.edge[steps, 0] == np.array(nodes[:-1])
            site = np.where(forward[:, None], self.site[steps], self.site[steps][:, ::-1])
            branch = Branch(
                self.nodes[nodes],
                self.radius[nodes],
                site[:, 0],
                site[:, 1],
                (-2, -2) if ring else (ends[0], ends[1]),
            )
            branches.append(_cut_back(_cut_back(branch).reversed()).reversed())
        return Skeleton(self.rim, tuple(branches), places.reshape(-1, 2), radii)


def _together(pairs: Ints, count: int) -> Ints:
    """For each of ``count`` nodes which of those sets it is in that hang together by ``pairs`` (n, 2), (count,)."""
    links = scipy.sparse.coo_array((np.ones(len(pairs)), pairs.T), shape=(count, count))
    return np.asarray(scipy.sparse.csgraph.connected_components(links, directed=False)[1])


def _cut_back(branch: Branch) -> Branch:
    """A branch whose free last end goes no farther than to where it comes out of a corner.

    In a corner the distance to the rim grows by the sine of half its angle with each step out of it; along a stroke,
    even a tapering one, it hardly does.
    """
    if branch.ends[1] != -1 or len(branch.left) < 3:
        return branch
    along = lengths(branch.xy[::-1])
    width = 2 * float(np.median(branch.radius))
    reach = min(TIP_WIDTHS * width, 0.5 * float(along[-1]))
    where = np.linspace(0.0, reach, 40)
    radius = np.interp(where, along, branch.radius[::-1])
    grows = np.flatnonzero(np.diff(radius) > FORK * np.diff(where))
    if not len(grows):
        return branch
    back = where[grows[-1] + 1] + BEFORE_FORK * width
    taken = int(np.searchsorted(along, min(float(back), 0.6 * float(along[-1]))))
    return branch.part(0, max(len(branch.xy) - taken, 2) - 1, branch.ends)
