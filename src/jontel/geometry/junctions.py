"""Junctions of a shape's axis: which of the branches that meet there are one stroke."""

import itertools
import math
from dataclasses import dataclass, replace

import numpy as np
from shapely import Polygon

from jontel.design.shapes import Lines, Point
from jontel.geometry.elbows import OPEN, Elbow, Piece, cut_at_elbow
from jontel.geometry.outline import Outline
from jontel.geometry.polyline import Floats, at_lengths, lengths
from jontel.geometry.skeleton import skeleton

RUNS_ON = 50.0
"""Two more branches of a junction are one stroke up to this bend, degrees, when two already are."""
UNLIKE = 20.0
"""Widths that differ by a factor of e weigh as much as so many degrees of bend."""
LEAVES_FROM, LEAVES_TO = 0.7, 2.5
"""The direction in which a branch leaves is that of its part between so many radii of the junction."""
MERGED_WITHIN = 1.5
"""A place says which branch is merged if it lies no farther from its axis than so many radii."""
Arm = tuple[int, int]
"""A piece, by number, and which of its ends, 0 or 1."""


@dataclass(frozen=True)
class Track:
    """The pieces of one stroke in order, each with whether it runs backwards; a ring comes back to the first."""

    way: tuple[tuple[int, bool], ...]
    ring: bool

    def end(self, side: int) -> Arm:
        """The arm at which it starts, for 0, or stops, for 1."""
        piece, backwards = self.way[-1 if side else 0]
        return piece, int(backwards) ^ side


class Layout:
    """The pieces of a shape's axis, its junctions and elbows, and which arms go on as one stroke: ``pairs``.

    Each of ``merges`` are two places whose pieces are one stroke whatever they look like.
    """

    def __init__(self, shape: Polygon, reaches: float, merges: Lines = ()) -> None:
        axis = skeleton(shape, reaches)
        self.merges = merges
        self.outline = Outline(shape, axis.rim)
        self.pieces: list[Piece] = []
        self.places: list[Floats] = list(axis.places)
        self.radii = [float(radius) for radius in axis.radii]
        self.arms: dict[int, list[Arm]] = {}
        self.pairs: dict[Arm, Arm] = {}
        todo = [Piece(branch) for branch in axis.branches[::-1]]
        while todo:
            piece = todo.pop()
            cut = cut_at_elbow(piece, self.outline, self._is_merged)
            if cut is None:
                self._add(piece)
            else:
                todo += cut[::-1]
        for junction in self.arms:
            self._pair(junction)

    def _add(self, piece: Piece) -> None:
        """Take a piece in, with numbers for its elbows."""
        ends = [self._elbow(piece.elbows[end]) if at == OPEN else at for end, at in enumerate(piece.branch.ends)]
        piece = Piece(replace(piece.branch, ends=(ends[0], ends[1])), piece.elbows)
        for end, junction in enumerate(ends):
            if junction >= 0:
                self.arms.setdefault(junction, []).append((len(self.pieces), end))
        self.pieces.append(piece)

    def _is_merged(self, one: Piece, other: Piece) -> bool:
        """Whether two pieces that meet were merged by hand: one place lies on the first, the other on the second."""
        for p, q in self.merges:
            first, second = (np.array([_away(piece, place) for piece in (one, other)]) for place in (p, q))
            near = max(float(first.min()), float(second.min())) < MERGED_WITHIN
            if near and int(first.argmin()) != int(second.argmin()):
                return True
        return False

    def _elbow(self, elbow: Elbow) -> int:
        """The number of the junction that an elbow is."""
        for number, place in enumerate(self.places):
            if place is elbow.inner:
                return number
        self.places.append(elbow.inner)
        self.radii.append(float(np.hypot(*(elbow.across - elbow.inner))) / 2)
        return len(self.places) - 1

    def elbow(self, arm: Arm) -> Elbow | None:
        """The elbow at an arm, if there is one."""
        return self.pieces[arm[0]].elbows.get(arm[1])

    def junction(self, arm: Arm) -> int:
        """The junction at an arm; below 0 for none."""
        return self.pieces[arm[0]].branch.ends[arm[1]]

    def _out(self, arm: Arm) -> Floats:
        """The way out of a junction along an arm, (n, 2)."""
        xy = self.pieces[arm[0]].branch.xy
        return xy if arm[1] == 0 else xy[::-1]

    def _direction(self, arm: Arm, radius: float) -> Floats:
        """The unit direction in which an arm leaves its junction, (2,)."""
        way = self._out(arm)
        along = lengths(way)
        total = float(along[-1])
        near, far = at_lengths(
            way, np.array([min(LEAVES_FROM * radius, total / 3), min(LEAVES_TO * radius, total)]), along
        )
        return np.asarray((far - near) / max(float(np.hypot(*(far - near))), 1e-9))

    def _bearing(self, arm: Arm) -> float:
        """The angle at which an arm lies about its junction, radians."""
        junction, way = self.junction(arm), self._out(arm)
        along = lengths(way)
        out = at_lengths(way, np.array([min(self.radii[junction], float(along[-1]) / 2)]), along)[0]
        out = out - self.places[junction]
        return math.atan2(float(out[1]), float(out[0]))

    def _width(self, arm: Arm) -> float:
        """How wide an arm is on the half towards its junction, as a radius."""
        radius = self.pieces[arm[0]].branch.radius
        half = max(1, len(radius) // 2)
        return max(float(np.median(radius[:half] if arm[1] == 0 else radius[-half:])), 1e-3)

    def _pair(self, junction: int) -> None:
        """Find which arms of a junction are one stroke; two always are, so that its middle is covered."""
        arms = self.arms[junction]
        if len(arms) < 2 or any(self.elbow(arm) for arm in arms):
            return
        way = [self._direction(arm, self.radii[junction]) for arm in arms]
        width = [self._width(arm) for arm in arms]
        costs = []
        for i, j in itertools.combinations(range(len(arms)), 2):
            bend = math.degrees(math.acos(float(np.clip(-way[i] @ way[j], -1, 1))))
            costs.append((bend + UNLIKE * abs(math.log(width[i] / width[j])), bend, i, j))
        taken: set[int] = set()
        for i, j in itertools.combinations(range(len(arms)), 2):
            if not taken & {i, j} and self._is_merged(self.pieces[arms[i][0]], self.pieces[arms[j][0]]):
                taken |= {i, j}
                self.pairs[arms[i]], self.pairs[arms[j]] = arms[j], arms[i]
        for _, bend, i, j in sorted(costs):
            if i in taken or j in taken or (taken and bend > RUNS_ON):
                continue
            taken |= {i, j}
            self.pairs[arms[i]], self.pairs[arms[j]] = arms[j], arms[i]

    def leaving(self, back: Arm, on: Arm) -> tuple[bool, bool]:
        """Whether other arms leave on the left and on the right of the way from arm ``back`` to arm ``on``."""
        bearing = {arm: self._bearing(arm) for arm in self.arms[self.junction(back)]}
        span = (bearing[back] - bearing[on]) % (2 * math.pi)
        others = [(bearing[arm] - bearing[on]) % (2 * math.pi) for arm in bearing if arm not in (back, on)]
        return any(one < span for one in others), any(one > span for one in others)

    def tracks(self) -> list[Track]:
        """The strokes."""
        found: list[Track] = []
        used: set[int] = set()
        every = [(piece, end) for piece in range(len(self.pieces)) for end in (0, 1)]
        for arm in sorted(every, key=lambda one: one in self.pairs):
            if arm[0] in used:
                continue
            way: list[tuple[int, bool]] = []
            at: Arm | None = arm
            while at is not None and at[0] not in used:
                used.add(at[0])
                way.append((at[0], at[1] == 1))
                at = self.pairs.get((at[0], 1 - at[1]))
            found.append(Track(tuple(way), at == arm))
        return found

    def abuts(self, arm: Arm) -> bool:
        """Whether a stroke ends at an arm against another one."""
        elbow = self.elbow(arm)
        return self.junction(arm) >= 0 and arm not in self.pairs and not (elbow is not None and elbow.through)


def _away(piece: Piece, place: Point) -> float:
    """How far a place lies from the axis of a piece, in radii of that."""
    far = np.hypot(*(piece.branch.xy - place).T)
    return float((far / np.maximum(piece.branch.radius, 1e-3)).min())
