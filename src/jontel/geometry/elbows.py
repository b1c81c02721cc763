"""Elbows: where a branch of the axis turns sharply about a corner and one stroke ends against another."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from jontel.geometry.outline import Outline, corners, cross, smooth
from jontel.geometry.polyline import Floats, at_lengths, lengths, nearest_length
from jontel.geometry.skeleton import Branch

ELBOW = 50.0
"""A stroke ends where it bends by more than this, degrees, about a corner outside."""
WINDOW, STEPS = 1.5, 6
"""The bend is that over so many radii before and behind, looked at in so many steps a radius."""
SHORTEST_BRANCH, FEWEST_STEPS = 3.0, 8
"""A branch has no elbow if it is shorter than so many radii, or has fewer steps."""
NEAR = 6
"""The radius at an elbow is the middle one of so many steps before and behind."""
AT_CORNER = 0.35
"""The inner edge turns about its corner while it is within this part of the radius of it."""
EDGE_LEAST = 0.5
"""The inner edge is so many radii long on both sides of its corner: round a small hole nothing turns sharply."""
EDGE_FROM, EDGE_TO = 0.3, 2.5
"""The direction of the inner edge is that of the part between so many radii from its corner."""
FARTHEST = 6.0
"""The line across an elbow meets the outer edge within so many radii."""
STRAIGHT = 30.0
"""A stroke is straight until it has turned by so many degrees."""
MOSTLY, BEYOND_JUNCTION = 0.6, 2.0
"""What is straight over the first part of its way to a junction counts so many times."""
ALIKE = 0.05
"""Two sides that are straight as far as each other within this part are alike: the one on the left goes through."""
OPEN = -3


@dataclass(frozen=True, eq=False)
class Elbow:
    """An elbow as one of its two pieces sees it.

    ``inner`` (2,) is the inner corner, on the left if ``inner_left``. A line goes on from it along the inner edge of
    the piece that goes ``through``, takes the outer corner and covers the end of the other. It meets the outer edge
    at ``across`` (2,), which is ``place`` mm along its ring.
    """

    inner: Floats
    across: Floats
    place: float
    inner_left: bool
    through: bool


@dataclass(frozen=True, eq=False)
class Piece:
    """A branch between junctions and elbows; its elbows by end, 0 or 1, whose junctions are ``OPEN`` at first."""

    branch: Branch
    elbows: dict[int, Elbow] = field(default_factory=dict)


Spared = Callable[[Piece, Piece], bool]
"""Whether an elbow is none, since a person merged the pieces on both of its sides."""


def cut_at_elbow(piece: Piece, outline: Outline, spared: Spared) -> tuple[Piece, ...] | None:
    """The parts of a piece on both sides of its sharpest elbow, ``None`` where it has none.

    A ring comes back as one piece, from its elbow round to it.
    """
    branch = piece.branch
    along = lengths(branch.xy)
    total = float(along[-1])
    radius = float(np.median(branch.radius))
    if len(branch.left) < FEWEST_STEPS or total < SHORTEST_BRANCH * radius:
        return None
    if branch.closed:
        return _opened(branch, outline, spared)
    half = int(total * STEPS / (2 * radius))
    where = total / 2 + np.arange(-half, half + 1) * radius / STEPS  # the same places from both ends
    spine = smooth(at_lengths(branch.xy, where, along), STEPS / 3)
    reach = round(WINDOW * STEPS)
    if len(spine) < 2 * reach + 3:
        return None
    before, after = spine[reach:-reach] - spine[: -2 * reach], spine[2 * reach :] - spine[reach:-reach]
    turn = np.arctan2(cross(before, after), (before * after).sum(axis=1))
    while True:
        k = int(np.argmax(np.abs(turn)))
        if abs(turn[k]) < math.radians(ELBOW):
            return None
        step = int(np.argmin(np.abs((along[1:] + along[:-1]) / 2 - where[k + reach])))
        found = _cut_at(piece, step, bool(turn[k] > 0), outline)
        if found is not None and not spared(*found):
            return found
        turn[max(0, k - reach) : k + reach + 1] = 0.0


def _opened(branch: Branch, outline: Outline, spared: Spared) -> tuple[Piece] | None:
    """A ring with an elbow opened there; ``None`` where it has none."""
    count = len(branch.left)
    for shift in (0, count // 2):  # an elbow at the seam of the one lies in the middle of the other
        order = (np.arange(count) + shift) % count
        nodes = np.append(order, (order[-1] + 1) % count)
        opened = Branch(branch.xy[nodes], branch.radius[nodes], branch.left[order], branch.right[order], (-1, -1))
        cut = cut_at_elbow(Piece(opened), outline, spared)
        if cut is not None:
            last, first = cut
            one, two = first.branch, last.branch
            whole = Branch(
                np.vstack([one.xy, two.xy[1:]]),
                np.append(one.radius, two.radius[1:]),
                np.append(one.left, two.left),
                np.append(one.right, two.right),
                (OPEN, OPEN),
            )
            return (Piece(whole, {0: first.elbows[0], 1: last.elbows[1]}),)
    return None


def _cut_at(piece: Piece, step: int, inner_left: bool, outline: Outline) -> tuple[Piece, Piece] | None:
    """A piece cut at the elbow about ``step``, where its outer edge has a corner; else ``None``."""
    branch, rim = piece.branch, outline.rim
    inner, outer = (branch.left, branch.right) if inner_left else (branch.right, branch.left)
    radius = float(np.median(branch.radius[max(0, step - NEAR) : step + NEAR + 2]))
    corner = rim.xy[inner[step]]
    reach = np.hypot(*(rim.xy[inner] - corner).T)
    away = reach >= AT_CORNER * radius
    before, behind = np.flatnonzero(away[:step]), np.flatnonzero(away[step:])
    first = int(before[-1]) + 1 if len(before) else 0
    last = step + int(behind[0]) - 1 if len(behind) else len(away) - 1
    if first < 2 or last > len(away) - 3 or min(reach[:first].max(), reach[last:].max()) < EDGE_LEAST * radius:
        return None
    sign = 1 if inner_left else -1  # the right edge runs along its ring, the left one against it
    ring = int(rim.ring[outer[step]])
    total = float(rim.totals[ring])
    begin, end = float(rim.place[outer[first]]), float(rim.place[outer[last]])
    way = outline.walk(ring, begin, (sign * (end - begin)) % total, sign)
    if not len(corners(way, radius)):
        return None
    halves = (
        branch.part(0, first, (branch.ends[0], OPEN)),
        branch.part(last, len(branch.left), (OPEN, branch.ends[1])),
    )
    straight = [_straight_for(half.xy[::-1] if side == 0 else half.xy, radius) for side, half in enumerate(halves)]
    for side, half in enumerate(halves):
        whole = float(lengths(half.xy)[-1])
        if half.ends[side] >= 0 and straight[side] >= MOSTLY * whole:  # it may go on beyond the junction
            straight[side] *= BEYOND_JUNCTION
    through = 0 if straight[0] >= straight[1] else 1
    if abs(straight[0] - straight[1]) < ALIKE * max(straight):  # so that it does not depend on how the shape lies
        through = 0 if inner_left else 1
    edge = rim.xy[inner[:first] if through == 0 else inner[last:]]
    far = np.hypot(*(edge - corner).T)
    some = edge[(far > EDGE_FROM * radius) & (far < EDGE_TO * radius)]
    if not len(some):
        return None
    ahead = corner - some.mean(axis=0)
    across = outline.ray(corner, ahead / max(float(np.hypot(*ahead)), 1e-9), FARTHEST * radius)
    if across is None:
        return None
    place = nearest_length(rim.rings[ring], across)
    beyond = (sign * (place - begin)) % total - float(lengths(way)[-1])
    if 2 * radius < beyond < total - float(lengths(way)[-1]) - 2 * radius:  # neither end of the way is near
        return None
    found = []
    for side, half in enumerate(halves):
        elbows = {end: elbow for end, elbow in piece.elbows.items() if end == side}
        found.append(Piece(half, {**elbows, 1 - side: Elbow(corner, across, place, inner_left, side == through)}))
    return found[0], found[1]


def _straight_for(xy: Floats, radius: float) -> float:
    """How far a way (n, 2) goes on about straight, mm."""
    along = lengths(xy)
    where = np.arange(0.0, float(along[-1]), radius / 2)
    if len(where) < 4:
        return float(along[-1])
    step = np.diff(smooth(at_lengths(xy, where, along), 1.0), axis=0)[1:]
    turned = np.abs(np.arctan2(cross(np.broadcast_to(step[0], step.shape), step), step @ step[0]))
    bent = np.flatnonzero(turned > math.radians(STRAIGHT))
    return float(where[bent[0]]) if len(bent) else float(along[-1])
