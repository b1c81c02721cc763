"""In which order the cells of a fill are sewn, and the hidden travel between them."""

import heapq
from collections import defaultdict
from dataclasses import dataclass
from typing import Literal

import numpy as np

from jontel.design.stopping import go_on
from jontel.geometry.hatch import Cells, Intervals, Ints
from jontel.geometry.polyline import Floats

MARGIN = 0.6
"""How far travel keeps from the rim where there is room, mm."""


SHORT_CELL = 4
"""Cells of fewer rows than this are sewn in one go after a travel to their far end."""


Part = Literal["whole", "there", "back", "both"]
"""What is sewn of a cell: all in one go, every other row on the way to its far end, the rest, or both."""


@dataclass(frozen=True, eq=False)
class Leg:
    """One cell as it is sewn: first the ``travel`` (n, 2) to its start, then its rows in order."""

    travel: Floats
    rows: Ints
    from_right: bool


@dataclass(frozen=True, eq=False)
class _Link:
    other: int
    mine: int
    theirs: int


def _part_of(rows: Ints, part: Part) -> Ints:
    """Of the rows of a cell, from its far end to its near one, those that ``part`` sews, in its order."""
    outward = rows[::-1]
    match part:
        case "there":
            return outward[::2]
        case "back":
            return outward[1::2][::-1]
        case "both":
            return np.concatenate([outward[::2], outward[1::2][::-1]])
    return rows


def shortest_legs(
    pieces: Intervals, found: Cells, entry: Floats, exit_: Floats, along_rim: bool = False
) -> list[Leg]:
    """Every cell with its travel, in the better of two orders: branches from the top, or from the bottom, first."""
    ways = (False,) if len(found.members) < 3 else (False, True)
    legs = [Router(pieces, found, entry, exit_, along_rim, upwards).legs() for upwards in ways]
    return min(legs, key=lambda way: sum(float(np.hypot(*np.diff(leg.travel, axis=0).T).sum()) for leg in way))


class Router:
    """Orders cells so that every travel runs under rows that are sewn later.

    The cells and their touching places form a graph; a shortest-path tree from the cell of the exit is
    sewn children first, the branch of the entry before its siblings. From a finished cell the needle goes
    through its parent, which is not sewn yet, down to the next one: so travel never leaves the region,
    never crosses a hole and never lies on top. Nor is there travel to a cell's far end: every other row
    is sewn on the way there, and the rest on the way back. Cells: Choset and Pignon, "Coverage path planning: the
    boustrophedon cellular decomposition" (1998).
    """

    def __init__(
        self,
        pieces: Intervals,
        found: Cells,
        entry: Floats,
        exit_: Floats,
        along_rim: bool = False,
        upwards: bool = False,
    ) -> None:
        self.pieces = pieces
        self.along_rim, self.upwards = along_rim, upwards
        self.y = pieces.y()
        self.members = list(found.members)
        self.position = np.empty((len(pieces.row), 2), dtype=np.int64)
        for cell, rows in enumerate(self.members):
            self.position[rows, 0], self.position[rows, 1] = cell, np.arange(len(rows))
        self.links: dict[int, list[_Link]] = defaultdict(list)
        self.entry, self.exit = entry, exit_
        self.root, self.root_down = self._split_at_exit()
        for upper, lower in found.links[:, 2:]:
            self._join(int(upper), int(lower))
        self.parent, self.reach = self._tree()
        self._suit_the_way()

    def _nearest_row(self, point: Floats) -> int:
        outside = np.maximum(np.maximum(self.pieces.left - point[0], point[0] - self.pieces.right), 0)
        return int(np.argmin(outside**2 + (self.y - point[1]) ** 2))

    def entry_on_row(self) -> Floats:
        """The place on the nearest row at which the needle comes in."""
        row = self._nearest_row(self.entry)
        x = np.clip(self.entry[0], self.pieces.left[row], self.pieces.right[row])
        return np.array([x, self.y[row]])

    def _split_at_exit(self) -> tuple[int, bool]:
        """Cut the exit's cell at the exit's row; the piece that ends there is sewn last."""
        cell, at = self.position[self._nearest_row(self.exit)]
        rows = self.members[cell]
        down = bool(at >= len(rows) / 2)
        first, second = (rows[: at + 1], rows[at + 1 :]) if down else (rows[at:], rows[:at])
        self.members[cell] = first
        if len(second):
            self.members.append(second)
        for number in (int(cell), len(self.members) - 1):
            rows = self.members[number]
            self.position[rows, 0], self.position[rows, 1] = number, np.arange(len(rows))
        if len(second):
            upper, lower = (first[-1], second[0]) if down else (second[-1], first[0])
            self._join(int(upper), int(lower))
        return int(cell), down

    def _join(self, upper: int, lower: int) -> None:
        above, below = int(self.position[upper, 0]), int(self.position[lower, 0])
        self.links[above].append(_Link(below, upper, lower))
        self.links[below].append(_Link(above, lower, upper))

    def _tree(self) -> tuple[dict[int, _Link], dict[int, int]]:
        """For each cell but the root the link to its parent, by the fewest rows to travel, and how many those are."""
        reach = {self.root: 0}
        parent: dict[int, _Link] = {}
        queue = [(0, self.root)]
        while queue:
            far, cell = heapq.heappop(queue)
            if far > reach[cell]:
                continue
            for link in self.links[cell]:
                there = far + len(self.members[cell])
                if there < reach.get(link.other, 1 << 60):
                    reach[link.other] = there
                    parent[link.other] = _Link(cell, link.theirs, link.mine)
                    heapq.heappush(queue, (there, link.other))
        return parent, reach

    def _suit_the_way(self) -> None:
        """Lead the way from the entry to the root through the neighbours that the rows run out at.

        Of several cells that lead to the root, the parent becomes the one nearest to the side on which the last
        row ends, so that nothing is travelled across rows that are sewn already.
        """
        cell = int(self.position[self._nearest_row(self.entry), 0])
        at = float(self.entry[0])
        seen = set()
        while cell != self.root and cell in self.parent and cell not in seen:
            seen.add(cell)
            rows = self._directed(cell)
            ends = [float(self.pieces.left[rows[0]]), float(self.pieces.right[rows[0]])]
            from_right = abs(ends[1] - at) < abs(ends[0] - at)
            side = self.pieces.right if from_right == (len(rows) % 2 == 0) else self.pieces.left
            end = float(side[rows[-1]])
            last_end = self.position[self.parent[cell].mine, 1] * 2 >= len(rows) - 1
            choice = [
                link
                for link in self.links[cell]
                if link.other in self.reach
                and self.reach[link.other] < self.reach[cell]
                and (self.position[link.mine, 1] * 2 >= len(rows) - 1) == last_end
            ]
            crossings = [float(self._through(np.array([end, 0.0]), link.mine, link.theirs)[1][0]) for link in choice]
            if choice:
                best = int(np.argmin([abs(x - end) for x in crossings]))
                self.parent[cell], at = choice[best], crossings[best]
            at = self._last_before(self.parent[cell].other, cell, at)
            cell = self.parent[cell].other

    def _last_before(self, cell: int, child: int, at: float) -> float:
        """Where the needle comes into ``cell`` after ``child`` and the branches sewn between them."""
        children = [c for c, link in self.parent.items() if link.other == cell and c != child]
        near, far = self._at_ends(cell, children) if cell != self.root else (children, [])
        if not children:
            return at
        link = self.parent[max(far or near, key=self._rank)]
        return float(self._through(np.array([at, 0.0]), link.mine, link.theirs)[1][0])

    def _rank(self, cell: int) -> tuple[float, int]:
        """Branches are sewn in this order."""
        return (-1.0 if self.upwards else 1.0) * float(self.y[self.parent[cell].mine]), cell

    def order(self) -> list[tuple[int, Part]]:
        """The cells in sewing order, each whole, or first half its rows and later the rest."""
        children: dict[int, list[int]] = defaultdict(list)
        for cell, link in self.parent.items():
            children[link.other].append(cell)
        on_way = self._way_from(int(self.position[self._nearest_row(self.entry), 0]))
        for siblings in children.values():
            siblings.sort(key=lambda c: (c not in on_way, *self._rank(c)))
        ordered: list[tuple[int, Part]] = []
        stack: list[tuple[int, Part | None]] = [(self.root, None)]
        while stack:
            cell, part = stack.pop()
            if part is not None:
                ordered.append((cell, part))
                continue
            near, far = ([], children[cell]) if cell in on_way else self._at_ends(cell, children[cell])
            twice = cell not in on_way and bool(far) and len(self.members[cell]) >= SHORT_CELL
            steps: list[tuple[int, Part | None]] = [(child, None) for child in near]
            steps += [(cell, "there")] if twice else []
            steps += [(child, None) for child in far]
            leaf = cell not in on_way and not children[cell] and len(self.members[cell]) >= SHORT_CELL
            steps.append((cell, "back" if twice else "both" if leaf else "whole"))
            stack.extend(reversed(steps))
        return ordered

    def _at_ends(self, cell: int, children: list[int]) -> tuple[list[int], list[int]]:
        """Children that touch a cell nearer to its own parent, and nearer to its far end."""
        own = self.position[self.parent[cell].mine, 1]
        middle = (len(self.members[cell]) - 1) / 2
        far = [c for c in children if (self.position[self.parent[c].theirs, 1] >= middle) != (own >= middle)]
        return [c for c in children if c not in far], far

    def _way_from(self, cell: int) -> set[int]:
        """The cells from ``cell`` up to the root."""
        way = {cell}
        while cell != self.root:
            cell = self.parent[cell].other
            way.add(cell)
        return way

    def legs(self) -> list[Leg]:
        """Every cell with its travel and the order of its rows."""
        found: list[Leg] = []
        row = self._nearest_row(self.entry)
        here = int(self.position[row, 0])
        at = self.entry_on_row()
        finished = False
        for cell, part in self.order():
            go_on()
            rows = _part_of(self._directed(cell), part)
            waypoints = [at]
            if finished:
                link = self.parent[here]
                waypoints.append(self._through(at, link.mine, link.theirs)[1])
                here, row = link.other, link.theirs
            waypoints += self._descend(waypoints[-1], here, row, cell, int(rows[0]))
            from_right = self._from_right(cell, rows, waypoints[-1], part)
            x = self.pieces.right[rows[0]] if from_right else self.pieces.left[rows[0]]
            waypoints.append(np.array([x, self.y[rows[0]]]))
            found.append(Leg(np.array(waypoints), rows, from_right))
            ends_right = from_right == (len(rows) % 2 == 0)
            x = self.pieces.right[rows[-1]] if ends_right else self.pieces.left[rows[-1]]
            at, here, row = np.array([x, self.y[rows[-1]]]), cell, int(rows[-1])
            finished = part != "there"
        return found

    def _directed(self, cell: int) -> Ints:
        """The rows of a cell in the direction that ends at its parent (or at the exit)."""
        rows = self.members[cell]
        if cell == self.root:
            return rows if self.root_down else rows[::-1]
        return rows if self.position[self.parent[cell].mine, 1] * 2 >= len(rows) - 1 else rows[::-1]

    def _from_right(self, cell: int, rows: Ints, at: Floats, part: Part) -> bool:
        """The side to start from: the one with the shorter way to it and from the other end onwards."""
        first, last = rows[0], rows[-1]
        cost: list[float] = []
        for from_right in (False, True):
            x = float(self.pieces.right[first] if from_right else self.pieces.left[first])
            ends_right = from_right == (len(rows) % 2 == 0)
            end = float(self.pieces.right[last] if ends_right else self.pieces.left[last])
            onward = end
            if cell == self.root:
                onward = float(self.exit[0])
            elif part != "there":
                link = self.parent[cell]
                onward = float(self._through(np.array([end, 0.0]), link.mine, link.theirs)[1][0])
            cost.append(abs(x - float(at[0])) + abs(end - onward))
        return cost[1] < cost[0]

    def _through(self, at: Floats, mine: int, theirs: int) -> list[Floats]:
        """Points that cross from one cell to its neighbour where they overlap."""
        low = max(self.pieces.left[mine], self.pieces.left[theirs])
        high = min(self.pieces.right[mine], self.pieces.right[theirs])
        margin = min(MARGIN, (high - low) / 2)
        x = min(max(float(at[0]), low + margin), high - margin)
        if self.along_rim:
            x = low + margin if x - low < high - x else high - margin
        return [np.array([x, self.y[mine]]), np.array([x, self.y[theirs]])]

    def _descend(self, at: Floats, here: int, row: int, target: int, first: int) -> list[Floats]:
        """Points from ``at`` in cell ``here`` down the tree to the row ``first`` of cell ``target``."""
        chain = [target]
        while chain[-1] != here:
            chain.append(self.parent[chain[-1]].other)
        found: list[Floats] = []
        for cell in chain[-2::-1]:
            link = self.parent[cell]
            crossing = self._through(at, link.theirs, link.mine)
            found += self._within(at, crossing[0], row, link.theirs)
            found += crossing
            at, row = crossing[1], link.mine
        share = round(self._part(float(at[0]), first)) if self.along_rim else 0.5
        goal_x = self.pieces.left[first] + share * (self.pieces.right[first] - self.pieces.left[first])
        found += self._within(at, np.array([goal_x, self.y[first]]), row, first)
        return found

    def _within(self, start: Floats, stop: Floats, from_row: int, to_row: int) -> list[Floats]:
        """Points along one cell: by its rim, or keeping the same part of the way from its left to its right one."""
        cell = int(self.position[from_row, 0])
        i, j = int(self.position[from_row, 1]), int(self.position[to_row, 1])
        if abs(i - j) < 2 or cell != int(self.position[to_row, 0]):
            return []
        rows = self.members[cell][i : j + 1] if i < j else self.members[cell][j : i + 1][::-1]
        left, right = self.pieces.left[rows], self.pieces.right[rows]
        part = np.array([self._part(start[0], rows[0]), self._part(stop[0], rows[-1])])
        share = np.linspace(part[0], part[1], len(rows))
        if self.along_rim:
            share[:] = 0.0 if part.sum() < 1.0 else 1.0
        margin = np.minimum(MARGIN, (right - left) / 2)
        x = np.clip(left + share * (right - left), left + margin, right - margin)
        return list(np.column_stack([x, self.y[rows]])[1:-1])

    def _part(self, x: float, row: int) -> float:
        width = self.pieces.right[row] - self.pieces.left[row]
        return float(np.clip((x - self.pieces.left[row]) / max(width, 1e-9), 0, 1))
