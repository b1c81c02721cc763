"""Strokes of one shape written without lifting the needle: their order, and how one gets from each to the next.

The strokes and their joints are a graph. A spanning tree of it is sewn children first, as a fill sews its cells:
travel then always runs along strokes that are sewn later. A stroke that must be left in its middle is sewn from both
of its ends towards that place, where the next one begins.
"""

import itertools
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
import shapely

from jontel.geometry.columns import Rails
from jontel.geometry.decompose import Place, Strokes
from jontel.geometry.polyline import Floats, lengths
from jontel.stitching.bed import go_along
from jontel.stitching.stitches import Needle

AT_END = 0.8
"""A place nearer than so many widths to the end of a stroke is that end."""
CLEAR_OF_SEWN = 8
"""Travel begins so many samples away from where rows have just ended."""
ON_TOP = 10.0
"""A joint at which the one that abuts is sewn last counts as so many that are right."""

Lay = Callable[[Rails, Needle], None]
Cover = Callable[[Rails, Needle, int | None], None]
"""Sews rows, the last of which ends at the given edge, 0 or 1, or at either."""


class _Step(NamedTuple):
    """From the place where one stroke is left to that where the next is met, and the number of that."""

    leaves: Place
    arrives: Place
    to: int


@dataclass(frozen=True)
class _Leaf:
    """A stroke in the tree: its number, where it is left, where that is on the one above it, and those below it."""

    number: int
    place: Place | None
    above: Place | None
    below: tuple["_Leaf", ...]

    def depth_to(self, number: int) -> tuple[int, ...] | None:
        """The numbers of the strokes on the way down to one, itself first; ``None`` where it is not below."""
        if self.number == number:
            return (number,)
        for leaf in self.below:
            found = leaf.depth_to(number)
            if found is not None:
                return (self.number, *found)
        return None


def _every(tree: _Leaf) -> list[_Leaf]:
    """A stroke and all those below it."""
    return [tree, *(one for leaf in tree.below for one in _every(leaf))]


@dataclass(frozen=True, eq=False)
class Writing:
    """How the strokes of a connected shape are sewn: each as ``rails``, by ``underlay`` and ``cover``."""

    shape: Strokes
    rails: Sequence[Rails]
    underlay: Lay
    cover: Cover

    def write(self, needle: Needle, entry: Floats | None, exit_: Floats | None) -> tuple[int, ...]:
        """Sew all strokes, from the one nearest to ``entry`` to the place nearest to ``exit_``.

        Returns their numbers in the order in which they were sewn.
        """
        if self.shape.order:
            return self._write_in_order(needle, entry, exit_)
        root = self._root(exit_)
        tree = self._tree(root)
        first = self._nearest(entry) if entry is not None else self._deepest(tree)
        way = tree.depth_to(first)
        assert way is not None
        leaf = next(one for one in _every(tree) if one.number == first)
        left = None if leaf.place is None else np.array(leaf.place)
        self._begin(needle, self._first_place(first, entry, left))
        return self._sew(tree, needle, way[1:], exit_)

    # in the order that a person wants

    def _write_in_order(self, needle: Needle, entry: Floats | None, exit_: Floats | None) -> tuple[int, ...]:
        """Sew the strokes one after another; between two of them along others that are still to come, if one can."""
        order = self.shape.order
        for place, number in enumerate(order):
            later = order[place + 1 :]
            way = self._way(number, later)
            goal = exit_
            if later:
                goal = np.array(way[0].leaves) if way else self._nearest_on(number, later[0])
            if place == 0:
                self._begin(needle, self._first_place(number, entry, goal))
            self._stroke(self.rails[number], needle, goal, np.array(way[0].arrives) if way else goal)
            for step, after in itertools.pairwise(way):
                go_along(self.rails[step.to], needle, np.array(after.leaves))
            if later and not way:
                needle.jump(self._nearest_on(later[0], number))
        return order

    def _way(self, number: int, later: tuple[int, ...]) -> list[_Step]:
        """The steps from one stroke to the first of those ``later``, over no others; none where there is no way."""
        came: dict[int, list[_Step]] = {number: []}
        todo = [number]
        while todo and later:
            here = todo.pop(0)
            if here == later[0]:
                return came[here]
            for joint in self.shape.joints:
                for one, other, (leaves, arrives) in (
                    (joint.one, joint.other, joint.places),
                    (joint.other, joint.one, joint.places[::-1]),
                ):
                    if one == here and other in later and other not in came:
                        came[other] = [*came[here], _Step(leaves, arrives, other)]
                        todo.append(other)
        return []

    def _nearest_on(self, number: int, other: int) -> Floats:
        """The place on the axis of a stroke that is nearest to another stroke."""
        one, two = self.rails[number].middle, self.rails[other].middle
        return np.asarray(one[int(np.argmin(shapely.distance(shapely.points(one), shapely.LineString(two))))])

    def _first_place(self, number: int, entry: Floats | None, goal: Floats | None) -> Floats:
        """Where the first stroke begins: nearest to the entry, else at the end far from where it is left."""
        rails = self.rails[number]
        middle = rails.middle
        if entry is not None:
            return np.asarray(middle[rails.nearest(entry)])
        left = middle[-1] if goal is None else goal
        return np.asarray(max((middle[0], middle[-1]), key=lambda end: float(np.hypot(*(end - left)))))

    @staticmethod
    def _begin(needle: Needle, start: Floats) -> None:
        """Bring the needle to where the first stroke begins."""
        if needle.sewing:
            needle.jump(start)
        else:
            needle.at = start

    # the tree

    def _root(self, exit_: Floats | None) -> int:
        """The stroke that is sewn last: the nearest to the exit, else the one under which most of the others end."""
        if exit_ is not None:
            return self._nearest(exit_)
        weights = [(self._weight(k), -float(lengths(self.rails[k].middle)[-1]), k) for k in range(len(self.rails))]
        return min(weights)[2]

    def _edges(self, root: int) -> list[tuple[int, int, Place, Place, bool]]:
        """The joints of a tree from ``root``: parent, child, places on both, whether the parent is over the child.

        R. C. Prim, "Shortest connection networks and some generalizations" (1957).
        """
        inside = {root}
        found: list[tuple[int, int, Place, Place, bool]] = []
        while True:
            best: tuple[float, int, int, Place, Place, bool] | None = None
            for joint in self.shape.joints:
                for parent, child, at in (
                    (joint.one, joint.other, joint.places),
                    (joint.other, joint.one, joint.places[::-1]),
                ):
                    if parent in inside and child not in inside:
                        right = joint.over == parent
                        one = (0.0 if right else ON_TOP, parent, child, *at, right)
                        best = one if best is None or one < best else best
            if best is None:
                return found
            inside.add(best[2])
            found.append(best[1:])

    def _weight(self, root: int) -> float:
        return sum(not edge[-1] for edge in self._edges(root))

    def _tree(self, root: int) -> _Leaf:
        edges = self._edges(root)

        def leaf(number: int, place: Place | None, above: Place | None) -> _Leaf:
            return _Leaf(number, place, above, tuple(leaf(c, on, up) for p, c, up, on, _ in edges if p == number))

        return leaf(root, None, None)

    def _deepest(self, tree: _Leaf) -> int:
        """The stroke that is most others away from the last one, so that the way to it is the longest one spared."""
        found = [(len(tree.depth_to(one.number) or ()), -one.number) for one in _every(tree)]
        return -max(found)[1]

    def _nearest(self, place: Floats) -> int:
        return int(np.argmin([math.dist(rails.middle[rails.nearest(place)], place) for rails in self.rails]))

    # sewing

    def _sew(self, leaf: _Leaf, needle: Needle, begins: tuple[int, ...], exit_: Floats | None) -> tuple[int, ...]:
        """Sew what is below a stroke, then the stroke; the first stroke of all ends the way ``begins``."""
        sewn: list[int] = []
        rails = self.rails[leaf.number]
        below = sorted(
            leaf.below, key=lambda one: (not begins or one.number != begins[0], self._away(one, rails, needle))
        )
        for one in below:
            here = bool(begins) and one.number == begins[0]
            if not here:
                go_along(rails, needle, np.array(one.above))
            sewn += self._sew(one, needle, begins[1:] if here else (), None)
        goal = exit_ if leaf.place is None else np.array(leaf.place)
        self._stroke(rails, needle, goal, goal if leaf.above is None else np.array(leaf.above))
        return (*sewn, leaf.number)

    def _away(self, leaf: _Leaf, rails: Rails, needle: Needle) -> float:
        """How far along a stroke the one below leaves it, from the end nearer to the needle."""
        along = lengths(rails.middle)
        at = float(along[rails.nearest(np.array(leaf.above))])
        return at if needle.at is None else abs(at - float(along[rails.nearest(needle.at)]))

    def _stroke(self, rails: Rails, needle: Needle, goal: Floats | None, onward: Floats | None) -> None:
        """Sew one stroke so that it ends at the place on it nearest to ``goal``, or at its far end.

        Its last row ends at the edge that is nearer to where the needle goes ``onward``.
        """
        middle = rails.middle
        at = needle.at if needle.at is not None else middle[0]
        if rails.closed:  # its underlay begins where the needle comes in, its cover ends where it goes on
            self.underlay(rails.started_near(at), needle)
            turned = rails.started_near(at if goal is None else goal)
            if _facing(turned, onward) == 1:  # it begins and ends at its first edge
                turned = Rails(turned.b, turned.a, True, turned.fixed_ends)
            go_along(turned, needle, turned.middle[0])
            self.cover(turned, needle, None)
            return
        along = lengths(middle)
        if goal is None:
            near_start = np.hypot(*(middle[0] - at)) <= np.hypot(*(middle[-1] - at))
            k = len(middle) - 1 if near_start else 0
        else:
            k = rails.nearest(goal)
        close = AT_END * float(np.median(rails.widths()))
        if close < along[k] < along[-1] - close:
            part = Rails(rails.a[: k + 1], rails.b[: k + 1], False, (rails.fixed_ends[0], True))
            rest = Rails(rails.a[k:], rails.b[k:], False, (True, rails.fixed_ends[1])).reversed()
            self.underlay(rails, needle)
            go_along(rails, needle, part.middle[0])
            self.cover(part, needle, None)
            bare = max(2, len(rest.a) - CLEAR_OF_SEWN)
            go_along(Rails(rest.a[:bare], rest.b[:bare]), needle, rest.middle[0])
            self.cover(rest, needle, _facing(rest, onward))
            return
        whole = rails if along[k] > along[-1] / 2 else rails.reversed()
        self.underlay(whole, needle)
        go_along(whole, needle, whole.middle[0])
        self.cover(whole, needle, _facing(whole, onward))


def _facing(rails: Rails, onward: Floats | None) -> int | None:
    """The edge of a column whose end is nearer to a place."""
    if onward is None:
        return None
    return int(np.hypot(*(rails.b[-1] - onward)) < np.hypot(*(rails.a[-1] - onward)))
