"""The two edges of a stroke, laid along the outline piece by piece."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from jontel.geometry.columns import Rails, paired
from jontel.geometry.elbows import Elbow
from jontel.geometry.junctions import Arm, Layout, Track
from jontel.geometry.outline import bulges, cap, corners, smooth
from jontel.geometry.polyline import Floats, distinct, lengths, nearest_length
from jontel.geometry.skeleton import Branch

STUCK = 0.35
"""Rows that end within this part of the radius beside a place where another stroke leaves fan out from it."""
TURNS = 0.5
"""Rows turn to what a free end is over so many radii."""
SAMPLED, EVENED, TAKEN = 0.12, 3.0, 5
"""Pairs of facing places are sampled the first part of the radius apart and evened over so many samples; one in so
many of them is taken."""
NONE = np.zeros((0, 2))
Mask = NDArray[np.bool_]
SIGNS = (-1, 1)
"""The left edge runs against the ring that it lies on, the right one along it."""


class Laid(NamedTuple):
    """A column and its two edges as they are laid, (n, 2) and (m, 2)."""

    rails: Rails
    a: Floats
    b: Floats


def laid_along(layout: Layout, track: Track) -> Laid | None:
    """The column of a stroke; ``None`` where it has no two edges."""
    return _Edges(layout, track).laid()


class _Edges:
    """Both edges of a track while they are laid, on the left and on the right, and the pairs of places that face."""

    def __init__(self, layout: Layout, track: Track) -> None:
        self.layout, self.track, self.outline = layout, track, layout.outline
        self.edges: tuple[list[Floats], list[Floats]] = ([], [])
        self.size = [0.0, 0.0]
        self.pairs: list[Floats] = []

    def laid(self) -> Laid | None:
        """Both edges, all laid."""
        way, ring = self.track.way, self.track.ring
        for number, (piece, backwards) in enumerate(way):
            begins, ends = (piece, int(backwards)), (piece, 1 - int(backwards))
            before = self.layout.pairs.get(begins) if number or ring else None
            after = self.layout.pairs.get(ends) if number < len(way) - 1 or ring else None
            self._lay(begins, ends, before, after)
        closed = ring or self.layout.pieces[way[0][0]].branch.closed
        a, b = (np.vstack(edge) for edge in self.edges)
        if closed:
            a, b = (np.vstack([edge, edge[:1]]) for edge in (a, b))
        a, b = distinct(a), distinct(b)
        if len(a) < 2 or len(b) < 2:
            return None
        pairs = np.vstack(self.pairs) if self.pairs else NONE
        return Laid(paired(a, b, [(float(p), float(q)) for p, q in pairs], closed), a, b)

    def _add(self, side: int, points: Floats) -> None:
        """Carry an edge on through points (n, 2)."""
        if len(points):
            last = self.edges[side][-1][-1:] if self.edges[side] else points[:1]
            self.size[side] += float(lengths(np.vstack([last, points]))[-1])
            self.edges[side].append(points)

    def _lay(self, begins: Arm, ends: Arm, before: Arm | None, after: Arm | None) -> None:
        """Both edges of one piece from one of its arms to the other, with what lies at its two ends."""
        layout, rim = self.layout, self.outline.rim
        plain = layout.pieces[begins[0]].branch
        branch = plain.reversed() if begins[1] else plain
        leaves = (
            layout.leaving(before, begins) if before is not None else (branch.ends[0] >= 0,) * 2,
            layout.leaving(ends, after) if after is not None else (branch.ends[1] >= 0,) * 2,
        )
        if before is None and not branch.closed:
            right, left = self._end(branch.reversed(), layout.elbow(begins), ends[1] == 1)
            self._add(0, left[::-1])
            self._add(1, right[::-1])
        along = lengths(branch.xy)
        spots = (along[1:] + along[:-1]) / 2
        kept = np.ones(len(spots), dtype=bool)
        marks = []
        for side, sites in enumerate((branch.left, branch.right)):
            ring, place, total = int(rim.ring[sites[0]]), rim.place[sites], float(rim.totals[rim.ring[sites[0]]])
            step = (SIGNS[side] * np.diff(place) + total / 2) % total - total / 2
            gone = np.maximum.accumulate(np.concatenate([[0.0], np.cumsum(step)]))
            if self.edges[side] and before is not None and not leaves[0][side]:
                self._add(side, self._between(self.edges[side][-1][-1], ring, float(place[0]), side))
            distance = total if branch.closed else float(gone[-1])
            self._add(side, self.outline.walk(ring, float(place[0]), distance, SIGNS[side]))
            marks.append(np.minimum(gone, distance) + self.size[side] - distance)
            if leaves[0][side]:
                kept &= gone > STUCK * float(branch.radius[0])
            if leaves[1][side]:
                kept &= gone[-1] - gone > STUCK * float(branch.radius[-1])
        for end, at in ((0, spots), (-1, along[-1] - spots)):
            if branch.ends[end] == -1:
                kept &= at > min(TURNS * float(branch.radius[end]), float(along[-1]) / 3)
        if kept.sum() > 1:
            self._pair(spots, marks, kept, float(np.median(branch.radius)))
        if after is None and not branch.closed:
            for side, points in enumerate(self._end(branch, layout.elbow(ends), begins[1] == 1)):
                self._add(side, points)
        elif self.track.ring and ends == self.track.end(1):
            self._close(leaves[1])

    def _close(self, leaves: tuple[bool, bool]) -> None:
        """The outline from the end of a ring to its start, where nothing leaves."""
        rim = self.outline.rim
        piece, backwards = self.track.way[0]
        first = self.layout.pieces[piece].branch
        first = first.reversed() if backwards else first
        for side, sites in enumerate((first.left, first.right)):
            if not leaves[side]:
                last = self.edges[side][-1][-1]
                self._add(side, self._between(last, int(rim.ring[sites[0]]), float(rim.place[sites[0]]), side))

    def _between(self, at: Floats, ring: int, place: float, side: int) -> Floats:
        """The outline from a point on a ring to a place on it, where that is near; else nothing, for a bridge."""
        here = nearest_length(self.outline.rim.rings[ring], at)
        return self._along(ring, here, place, side, NONE)

    def _along(self, ring: int, place: float, to: float, side: int, else_: Floats) -> Floats:
        """The outline from one place on a ring to another, as a ``side`` runs; ``else_`` where that is far."""
        total = float(self.outline.rim.totals[ring])
        distance = (SIGNS[side] * (to - place)) % total
        return self.outline.walk(ring, place, distance, SIGNS[side]) if distance < total / 2 else else_

    def _end(self, branch: Branch, elbow: Elbow | None, backwards: bool) -> tuple[Floats, Floats]:
        """What both edges of a track end with, left and right of a ``branch`` that runs towards its end.

        A cap at a free end, what an elbow asks for, nothing at a junction. ``backwards`` says that the elbow was
        found from the branch's other end.
        """
        rim = self.outline.rim
        last = branch.left[-1], branch.right[-1]
        rings, places = [int(rim.ring[one]) for one in last], [float(rim.place[one]) for one in last]
        radius = float(branch.radius[-1])
        if elbow is not None:
            outer = int(elbow.inner_left != backwards)
            way = self._along(rings[outer], places[outer], elbow.place, outer, elbow.across[None])
            corner = nearest_length(rim.rings[rings[1 - outer]], elbow.inner)
            inner = self._along(rings[1 - outer], places[1 - outer], corner, 1 - outer, elbow.inner[None])
            if elbow.through:
                found = corners(way, radius)
                rest = way[found[-1] :] if len(found) else way[-1:]
                on = rest[::-1] if len(found) > 1 or (len(found) and bulges(rest)) else elbow.across[None]
                inner = np.vstack([inner, on])
                way = way[: found[0] + 1] if len(found) else way
            return (inner, way) if outer else (way, inner)
        if branch.ends[1] == -1 and rings[0] == rings[1]:
            distance = (places[0] - places[1]) % float(rim.totals[rings[0]])
            ahead = branch.xy[-1] - branch.xy[max(0, len(branch.xy) - 8)]
            way, one, two = cap(self.outline.walk(rings[0], places[0], distance, SIGNS[0]), ahead, radius)
            return way[: one + 1], way[two:][::-1]
        return NONE, NONE

    def _pair(self, spots: Floats, marks: list[Floats], kept: Mask, radius: float) -> None:
        """Keep pairs of places on both edges that face each other, evened along the axis."""
        even = np.arange(spots[kept][0], spots[kept][-1], max(SAMPLED * radius, 1e-3))
        if len(even) < 2:
            even = spots[kept][[0, -1]]
        evened = [smooth(np.interp(even, spots, one), EVENED) for one in marks]
        self.pairs.append(np.column_stack(evened)[TAKEN // 2 :: TAKEN])
