"""In which order the cells of a fill are sewn, and the hidden travel between them."""

import heapq
import math
from collections import defaultdict
from dataclasses import dataclass

import numpy as np

from jontel.design.stopping import go_on
from jontel.geometry.arrays import Ints
from jontel.geometry.hatch import Cells, Intervals
from jontel.geometry.polyline import Floats
from jontel.stitching.rows.orders import there_and_back, through
from jontel.stitching.stitches import SHORTEST

MARGIN = 0.6
"""How far travel keeps from the rim where there is room, mm."""
LEVEL = 1.2
"""Travel that passes the end of a row by more than this, mm, follows its longer neighbour to there."""
BESIDE_ROWS = 4
"""Travel to a row as few rows away goes onto that row at once, and then along under it."""
WORTH_A_ROW = 3.0
"""Where branches on both sides of a row are farther apart than this, mm, the row itself may be the way between."""
LAST_PART = 1.5
"""The last part of such a row, which is sewn after those branches, is at least so long, mm."""
TURNS = 1.0
"""From a row's end to the next row's the needle turns as within a cell if they are no farther apart along it, mm."""
NEAR_ENOUGH = 0.6
"""A row that ends this near, mm, to where the needle shall go on is left at its end."""


@dataclass(frozen=True, eq=False)
class Leg:
    """What is sewn in one go: the ``travel`` (n, 2), then ``rows`` (m,) from ``start`` (m,) to ``stop`` (m,)."""

    travel: Floats
    rows: Ints
    start: Floats
    stop: Floats

    def turned_into(self, other: "Leg") -> "Leg":
        """This leg and the ``other``'s rows, into which the needle turns from its last one."""
        start, stop = np.concatenate([self.start, other.start]), np.concatenate([self.stop, other.stop])
        return Leg(self.travel, np.concatenate([self.rows, other.rows]), start, stop)


@dataclass(frozen=True, eq=False)
class _Link:
    """A place where two cells touch: the other cell, the row on this side and the row on the other."""

    other: int
    mine: int
    theirs: int


@dataclass(frozen=True, eq=False)
class _Step:
    """What is sewn of a cell at a time: rows in order, sewn ``through`` as they come or in the order given.

    ``onward`` is the row that the needle goes on to then, ``None`` when the cell is finished and left next. A single
    row may be sewn in parts, the ``part`` from one place to another.
    """

    cell: int
    rows: Ints
    through: bool
    onward: int | None = None
    part: tuple[float, float] | None = None


@dataclass(frozen=True, eq=False)
class _Branches:
    """Branches that hang on one end of a cell, to be sewn next; ``then`` what of it is sewn with them, if anything.

    That is sewn after them, or its first row as the way to the last of them.
    """

    cells: list[int]
    then: _Step | None = None


@dataclass(frozen=True, eq=False)
class _Leaving:
    """A finished cell is left for its parent."""

    cell: int


_Task = _Step | _Branches | _Leaving


def _in_steps(way: Floats, left: Floats, right: Floats) -> list[Floats]:
    """A way (n, 2) from row to row, each from ``left`` to ``right`` (n,): where the rim is nearly level, along rows.

    Straight past the end of the shorter of two rows it would lie beside both, where no thread will: it follows the
    longer one to that end.
    """
    found = [way[0]]
    for k, other in enumerate(way[1:]):
        long, short = (k + 1, k) if right[k] - left[k] < right[k + 1] - left[k + 1] else (k, k + 1)
        end = min(max(float(way[long, 0]), float(left[short])), float(right[short]))
        if abs(end - way[long, 0]) > LEVEL:
            inward = math.copysign(min(MARGIN, abs(float(way[short, 0]) - end)), end - way[long, 0])
            steps = [np.array([end, way[long, 1]]), np.array([end + inward, way[short, 1]])]
            found += steps if long == k else steps[::-1]
        found.append(other)
    return found


class Router:
    """Orders cells so that every travel runs under rows that are sewn later.

    The cells and their touching places form a graph; a shortest-path tree from the row of the exit, a cell of its
    own, is sewn children first. From a finished cell the needle goes through its parent, which is not sewn yet, to
    the next one: so travel never leaves the region, never crosses a hole and never lies on top. A branch is left
    where it was entered: its rows, where they are ``through_from`` long on average, are sewn on the way back from
    its far end, else every other one on the way out and the rest on the way back. The cells between the entry and
    the exit are sewn through; where branches hang on the end at which such a cell is left, its last row is a cell
    of its own, sewn after them. Where branches hang on both sides of a row, it is itself the way from the ones to
    the others: all but the part that leads to the last ones is sewn before these. The last row of a cell is
    finished at the place where the needle goes on: what of it lies beyond is first travelled and then sewn on top;
    so is the exit's, if it is ``pinned``, and else the row is left at whichever end it comes to. Where rows are
    ``straight`` the needle turns from a cell into the next one's row beside it.

    Cells: H. Choset and P. Pignon, "Coverage path planning: the boustrophedon cellular decomposition" (1998).
    """

    def __init__(
        self,
        pieces: Intervals,
        found: Cells,
        entry: Floats,
        exit_: Floats,
        along_rim: bool = False,
        pinned: bool = True,
        through_from: float = math.inf,
        straight: bool = True,
    ) -> None:
        self.pieces, self.through_from, self.straight = pieces, through_from, straight
        self.along_rim, self.pinned = along_rim, pinned
        self.y = pieces.y()
        self.ends = np.stack([np.column_stack([side, self.y]) for side in (pieces.left, pieces.right)], axis=1)
        self.members = list(found.members)
        self.position = np.empty((len(pieces.row), 2), dtype=np.int64)
        for cell in range(len(self.members)):
            self._number(cell)
        self.touching: list[tuple[int, int]] = [(int(upper), int(lower)) for upper, lower in found.links[:, 2:]]
        self.parted: set[tuple[int, int]] = set()
        self.entry, self.exit = entry, exit_
        self.root = self._own_cell(self._nearest_row(exit_))
        self._span()
        self._part_at_entry()
        self._part_at_branches()

    def _number(self, cell: int) -> None:
        rows = self.members[cell]
        self.position[rows, 0], self.position[rows, 1] = cell, np.arange(len(rows))

    def _nearest_row(self, point: Floats) -> int:
        outside = np.maximum(np.maximum(self.pieces.left - point[0], point[0] - self.pieces.right), 0)
        return int(np.argmin(outside**2 + (self.y - point[1]) ** 2))

    def _cut(self, cell: int, at: int) -> int:
        """Cut a cell before its row ``at``; the number of the new cell that begins there."""
        rows = self.members[cell]
        self.members[cell] = rows[:at]
        self.members.append(rows[at:])
        fresh = len(self.members) - 1
        self._number(fresh)
        self.touching.append((int(rows[at - 1]), int(rows[at])))
        self.parted.add(self.touching[-1])
        return fresh

    def _own_cell(self, row: int) -> int:
        """Make a row a cell of its own; its number."""
        cell, at = (int(v) for v in self.position[row])
        if at + 1 < len(self.members[cell]):
            self._cut(cell, at + 1)
        return self._cut(cell, at) if at else cell

    def _span(self) -> None:
        """Span the tree: links by cell, parents and children, and the cells from the entry to the root."""
        self.links: dict[int, list[_Link]] = defaultdict(list)
        for upper, lower in self.touching:
            above, below = int(self.position[upper, 0]), int(self.position[lower, 0])
            self.links[above].append(_Link(below, upper, lower))
            self.links[below].append(_Link(above, lower, upper))
        self.parent = self._tree()
        self.children: dict[int, list[int]] = defaultdict(list)
        for cell, link in self.parent.items():
            self.children[link.other].append(cell)
        self.on_way = [int(self.position[self._nearest_row(self.entry), 0])]
        while self.on_way[-1] != self.root:
            self.on_way.append(self.parent[self.on_way[-1]].other)

    def _tree(self) -> dict[int, _Link]:
        """For each cell but the root the link to its parent, by the fewest rows to travel."""
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
        return parent

    def _part_at_entry(self) -> None:
        """Cut the entry's cell at the entry, so that what lies beyond is a branch."""
        cell, at = (int(v) for v in self.position[self._nearest_row(self.entry)])
        if cell == self.root:
            return
        n = len(self.members[cell])
        at = at if self._leaves_below(cell) else at + 1
        if 1 < at < n - 1:
            self._cut(cell, at)
            self._span()

    def _part_at_branches(self) -> None:
        """Cut off the last row of the cells on the way where branches hang on it."""
        cut = False
        for cell in [one for one in self.on_way if one != self.root and len(self.members[one]) > 1]:
            if any(not self._at_far_end(cell, child) for child in self.children[cell]):
                self._cut(cell, len(self.members[cell]) - 1 if self._leaves_below(cell) else 1)
                cut = True
        if cut:
            self._span()

    def _leaves_below(self, cell: int) -> bool:
        """Whether a cell is left at its last row, and not at its first."""
        return bool(self.position[self.parent[cell].mine, 1] * 2 >= len(self.members[cell]) - 1)

    def _at_far_end(self, cell: int, child: int) -> bool:
        """Whether a child touches a cell at the other end than the one it is left at."""
        at, last = int(self.position[self.parent[child].theirs, 1]), len(self.members[cell]) - 1
        return last > 0 and (at == 0 if self._leaves_below(cell) else at == last)

    def _todo(self, cell: int) -> list[_Task]:
        """What is sewn of a cell and its branches, in order."""
        children = self.children[cell]
        rows = self.members[cell]
        if cell == self.root:
            return [_Branches(children), _Step(cell, rows, True)]
        rows = rows if self._leaves_below(cell) else rows[::-1]
        if cell in self.on_way or len(rows) == 1:
            return [_Branches(children, _Step(cell, rows, True)), _Leaving(cell)]
        far = [child for child in children if self._at_far_end(cell, child)]
        near = [child for child in children if child not in far]
        outward, back = there_and_back(len(rows), not far, self._long(rows))
        near_first = rows[::-1]
        last = _Step(cell, near_first[back], len(back) == len(rows))
        if last.through:
            return [_Branches(near), _Branches(far, last), _Leaving(cell)]
        there = _Step(cell, near_first[outward], False, int(near_first[back[0]]))
        return [_Branches(near), there, _Branches(far), last, _Leaving(cell)]

    def _long(self, rows: Ints) -> bool:
        """Whether rows are so long that a travel past all of them is little against their thread."""
        return bool(np.mean(self.pieces.right[rows] - self.pieces.left[rows]) >= self.through_from)

    def _next(self, branches: list[int], at: Floats) -> int:
        """The branch to sew next: the one that holds the entry, else the one nearest to the needle."""

        def far(cell: int) -> tuple[bool, float]:
            link = self.parent[cell]
            height = float(self.y[link.mine])
            aside = abs(float(self._through(float(at[0]), link.mine, link.theirs)[0][0]) - float(at[0]))
            return cell not in self.on_way, aside + abs(height - float(at[1]))

        return min(branches, key=far)

    def _branched(self, task: _Branches, at: Floats) -> list[_Task]:
        """What is sewn next of branches and of the rows they hang on, in order."""
        left, then = task.cells, task.then
        if not left:
            return [] if then is None else [then]
        parts = self._as_way(then, left, float(at[0])) if then is not None else None
        if then is not None and parts is not None:
            there, last = (_Step(then.cell, then.rows[:1], True, part=part) for part in parts)
            rest = [_Step(then.cell, then.rows[1:], True)] if len(then.rows) > 1 else []
            return [there, _Branches(left), last, *rest]
        cell = self._next(left, at) if len(left) > 1 else left[0]
        return [*self._todo(cell), _Branches([one for one in left if one != cell], then)]

    def _as_way(
        self, step: _Step, branches: list[int], at: float
    ) -> tuple[tuple[float, float], tuple[float, float]] | None:
        """The two parts, from and to, in which the first row of a step is better sewn than after the branches on it.

        It is the way from x = ``at`` to them if they hang on its other end. What is left of it there is sewn after
        them, so that what leads to them and back lies under it, and ends where the row that follows it is beside it.
        ``None`` if it is better sewn after them.
        """
        if any(branch in self.on_way for branch in branches):
            return None
        left, right = self.pieces.left, self.pieces.right
        own = step.rows[0]
        onward = step.rows[1] if len(step.rows) > 1 else self.parent[step.cell].theirs
        rightward = at - left[own] < right[own] - at
        sign = 1.0 if rightward else -1.0
        first, last = (left, right) if rightward else (-right, -left)
        near, far = float(first[own]), float(last[own])
        theirs = [self.parent[branch].mine for branch in branches]
        stop = min(float(first[theirs].min()), far - LAST_PART, float(last[onward]) - SHORTEST)
        if stop < first[onward] or (last[theirs] <= stop).any():
            return None
        if abs(sign * at - near) + WORTH_A_ROW + 2 * (far - stop) > stop - sign * at:
            return None
        return (sign * near, sign * (stop + SHORTEST)), (sign * far, sign * stop)

    def legs(self) -> list[Leg]:
        """Every row with the travel to it."""
        found: list[Leg] = []
        self.sewn = np.zeros(len(self.pieces.row), dtype=np.bool_)
        row = self._nearest_row(self.entry)
        here = int(self.position[row, 0])
        at = np.array([np.clip(self.entry[0], self.pieces.left[row], self.pieces.right[row]), self.y[row]])
        waypoints = [at]
        stack: list[_Task] = [_Branches([self.root])]
        turned_into: _Step | None = None
        while stack:
            task = stack.pop()
            if isinstance(task, _Branches):
                stack += reversed(self._branched(task, waypoints[-1]))
                continue
            if isinstance(task, _Leaving):
                link = self.parent[task.cell]
                waypoints.append(self._through(float(waypoints[-1][0]), link.mine, link.theirs)[1])
                here, row = link.other, link.theirs
                continue
            go_on()
            waypoints += self._descend(waypoints[-1], here, row, task.cell, int(task.rows[0]))
            following = self._next_step(stack) if self.straight else None
            rows, start, stop, goal = self._suited(task, float(waypoints[-1][0]), following)
            if rows[0] != task.rows[0]:  # onto the row that is sewn first, then along it
                waypoints.append(np.array([self._inside(float(waypoints[-1][0]), int(rows[0])), self.y[rows[0]]]))
            waypoints.append(np.array([start[0], self.y[rows[0]]]))
            legs, end = self._finished(np.array(waypoints), rows, start, stop, goal)
            found += legs if task is not turned_into else [found.pop().turned_into(legs[0]), *legs[1:]]
            turned_into = following if following is not None and goal == stop[-1] else None
            self.sewn[rows] = True
            here, row = task.cell, int(rows[-1])
            waypoints = [np.array([end, self.y[row]])]
        return found

    @staticmethod
    def _next_step(stack: list[_Task]) -> _Step | None:
        """What is sewn next if it is of the parent of the cell that is left, with no branches before."""
        if not stack or not isinstance(stack[-1], _Leaving):
            return None
        for after in reversed(stack[:-1]):
            step = after.then if isinstance(after, _Branches) and not after.cells else after
            if step is not None:
                return step if isinstance(step, _Step) and step.part is None else None
        return None

    def _turns(self, row: int, end: float, following: _Step) -> bool:
        """Whether the needle turns from a row's ``end`` into the step ``following`` as from row to row."""
        rows, start, _, _ = self._suited(following, end)
        first, left, right = int(rows[0]), self.pieces.left, self.pieces.right
        if (row, first) in self.parted or (first, row) in self.parted:
            return True  # they are of one cell
        beside = bool(max(left[row], left[first]) < min(right[row], right[first]))
        return beside and abs(float(start[0]) - end) <= TURNS

    def _suited(self, step: _Step, at: float, following: _Step | None = None) -> tuple[Ints, Floats, Floats, float]:
        """The rows of a step in order, their starts and stops, and where on the last one the needle goes on.

        Begun on the side with the shorter way to it and from the other end onwards. Where the step ``following`` can
        be turned into from there, as from row to row, that is no way.
        """
        left, right = self.pieces.left, self.pieces.right
        if step.part is not None:
            start, stop = np.array(step.part)[:, None]
            return step.rows, start, stop, float(stop[0])
        best: tuple[float, tuple[Ints, Floats, Floats, float]] | None = None
        for from_right in (False, True):
            rows = step.rows
            if step.through:
                rows = rows[through(self.ends[rows], from_right)]
            leftward = (np.arange(len(rows)) % 2 == 1) ^ from_right
            start, stop = np.where(leftward, right[rows], left[rows]), np.where(leftward, left[rows], right[rows])
            goal = end = float(stop[-1])
            onward = 0.0
            if step.onward is not None:
                onward = abs(min(max(end, float(left[step.onward])), float(right[step.onward])) - end)
            elif step.cell == self.root and self.pinned:
                goal = min(max(float(self.exit[0]), float(left[rows[-1]])), float(right[rows[-1]]))
            elif step.cell != self.root:
                link = self.parent[step.cell]
                if following is None or not self._turns(int(rows[-1]), end, following):
                    goal = float(self._through(end, link.mine, link.theirs)[0][0])
            cost = abs(float(start[0]) - at) + abs(goal - end) + onward
            if best is None or cost < best[0]:
                best = cost, (rows, start, stop, goal)
        assert best is not None
        return best[1]

    def _finished(
        self, travel: Floats, rows: Ints, start: Floats, stop: Floats, goal: float
    ) -> tuple[list[Leg], float]:
        """The leg, or the two that it becomes where its last row is left at ``goal`` and not at its end; and where.

        What lies beyond is travelled to the row's end and then sewn back on top.
        """
        end = float(stop[-1])
        beyond = abs(end - goal)
        turn = goal + (SHORTEST if end > goal else -SHORTEST) if beyond >= 2 * SHORTEST else goal
        if beyond < NEAR_ENOUGH or abs(turn - start[-1]) < SHORTEST:
            return [Leg(travel, rows, start, stop)], end
        height = self.y[rows[-1]]
        first = Leg(travel, rows, start, np.append(stop[:-1], turn))
        again = Leg(np.array([[turn, height], [end, height]]), rows[-1:], stop[-1:], np.array([goal]))
        return [first, again], goal

    def _through(self, at: float, mine: int, theirs: int) -> tuple[Floats, Floats]:
        """Where to cross from one row to a touching one, near x = ``at``: the place on the one, and on the other.

        They lie across from each other, unless the way between leads aside.
        """
        left, right = self.pieces.left, self.pieces.right
        low, high = max(left[mine], left[theirs]), min(right[mine], right[theirs])
        if low > high:
            x = [low, high] if left[mine] > right[theirs] else [high, low]
        else:
            margin = min(MARGIN, (high - low) / 2)
            low, high = low + margin, high - margin
            nearest = (low if at - low < high - at else high) if self.along_rim else min(max(at, low), high)
            x = [nearest, nearest]
        return np.array([x[0], self.y[mine]]), np.array([x[1], self.y[theirs]])

    def _descend(self, at: Floats, here: int, row: int, target: int, first: int) -> list[Floats]:
        """Points from ``at`` in cell ``here`` down the tree onto the row ``first`` of cell ``target``."""
        chain = [target]
        while chain[-1] != here:
            chain.append(self.parent[chain[-1]].other)
        found: list[Floats] = []
        for cell in chain[-2::-1]:
            link = self.parent[cell]
            leave, there = self._through(float(at[0]), link.theirs, link.mine)
            found += self._within(at, leave, row, link.theirs)
            at, row = there, link.mine
            found += [leave, at]
        goal = np.array([self._inside(float(at[0]), first), self.y[first]])
        return [*found, *self._within(at, goal, row, first), goal]

    def _inside(self, x: float, row: int) -> float:
        """The place on a row nearest to ``x`` that is clear of the rim; at the rim where travel goes along it."""
        left, right = float(self.pieces.left[row]), float(self.pieces.right[row])
        margin = min(MARGIN, (right - left) / 2)
        if self.along_rim:
            return left + margin if x - left < right - x else right - margin
        return min(max(x, left + margin), right - margin)

    def _within(self, start: Floats, stop: Floats, from_row: int, to_row: int) -> list[Floats]:
        """Points along one cell: by its rim, or keeping the same part of the way from its left to its right one."""
        cell = int(self.position[from_row, 0])
        i, j = int(self.position[from_row, 1]), int(self.position[to_row, 1])
        if i == j or cell != int(self.position[to_row, 0]):
            return []
        if abs(i - j) <= BESIDE_ROWS:
            onto = self._inside(float(start[0]), to_row)
            if self.along_rim or abs(onto - start[0]) <= LEVEL:
                return [np.array([onto, self.y[to_row]])]
            rows = self._over_bare(cell, i, j)
            wanted = np.full(len(rows), onto)
            if rows[0] != from_row:  # first onto the row beside, then along it
                rows = np.concatenate([rows[:1], rows])
                wanted = np.append(start[0] + math.copysign(MARGIN, onto - start[0]), wanted)
            left, right = self.pieces.left[rows], self.pieces.right[rows]
            x = np.clip(wanted, np.minimum(left + MARGIN, right), np.maximum(right - MARGIN, left))
            return list(np.column_stack([x, self.y[rows]]))
        rows = self.members[cell][i : j + 1] if i < j else self.members[cell][j : i + 1][::-1]
        left, right = self.pieces.left[rows], self.pieces.right[rows]
        part = np.array([self._part(start[0], rows[0]), self._part(stop[0], rows[-1])])
        share = np.linspace(part[0], part[1], len(rows))
        if self.along_rim:
            share[:] = 0.0 if part.sum() < 1.0 else 1.0
        margin = np.minimum(MARGIN, (right - left) / 2)
        x = np.clip(left + share * (right - left), left + margin, right - margin)
        way = np.column_stack([x, self.y[rows]])
        return (list(way) if self.along_rim else _in_steps(way, left, right))[1:-1]

    def _over_bare(self, cell: int, i: int, j: int) -> Ints:
        """The rows of a cell from its ``i``-th to its ``j``-th, of which the first is bare, if any near there is.

        So a way along the rim that these have in common runs on it and will be sewn over.
        """
        step = 1 if j > i else -1
        between = self.members[cell][i : j + step if j + step >= 0 else None : step]
        before = self.members[cell][i - step : i - step + 1] if i >= step else between[:0]
        bare = np.flatnonzero(~self.sewn[between[:-1]])
        if len(bare):
            return between[int(bare[0]) :]
        return np.concatenate([before[~self.sewn[before]], between[-1:]])

    def _part(self, x: float, row: int) -> float:
        width = self.pieces.right[row] - self.pieces.left[row]
        return float(np.clip((x - self.pieces.left[row]) / max(width, 1e-9), 0, 1))
