"""Outlines as nodes with handles: what is bent by hand. Path data is how a file says the same.

A chain is one subpath. Between two neighbouring nodes lies a piece: a cubic with the handle after the first and the
handle before the second, or a straight line where neither has a handle. What a node is follows from its handles, so
nothing is lost between the two ways of saying it.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from jontel.design.paths import Matrix, commands, number_text
from jontel.design.shapes import Point
from jontel.geometry.polyline import Floats, moved

NodeKind = Literal["corner", "smooth", "symmetric"]
TINY = 1e-4
"""Handles no longer than this, mm, are none: path data keeps no finer places."""
ALIKE = 1.0
"""Handles within so many degrees of one line are a smooth node's."""
EVEN = 0.01
"""Handles whose lengths differ by less than this part are a symmetric node's."""


@dataclass(frozen=True, eq=False)
class Chain:
    """Nodes ``at`` (n, 2) with the handles ``before`` and ``after`` them (n, 2), all places in mm.

    A handle that lies on its node is none. The last piece of a ``closed`` chain leads back to its first node.
    """

    at: Floats
    before: Floats
    after: Floats
    closed: bool

    def __len__(self) -> int:
        return len(self.at)

    @property
    def pieces(self) -> int:
        """How many pieces there are: piece ``k`` leads from node ``k`` to the next."""
        return len(self.at) if self.closed else len(self.at) - 1

    def controls(self) -> Floats:
        """The four control points of every piece, (pieces, 4, 2)."""
        on = np.roll(np.arange(len(self.at)), -1)[: self.pieces]
        first = slice(0, self.pieces)
        return np.stack([self.at[first], self.after[first], self.before[on], self.at[on]], axis=1)

    def straight(self) -> NDArray[np.bool_]:
        """Which pieces have no handle, (pieces,)."""
        c = self.controls()
        return np.asarray((_far(c[:, 0], c[:, 1]) <= TINY) & (_far(c[:, 2], c[:, 3]) <= TINY))

    def kinds(self) -> tuple[NodeKind, ...]:
        """What each node is, by its handles."""
        back, on = self.at - self.before, self.after - self.at
        long, wide = np.hypot(*back.T), np.hypot(*on.T)
        has_two = (long > TINY) & (wide > TINY)
        cross = back[:, 0] * on[:, 1] - back[:, 1] * on[:, 0]
        turn = np.degrees(np.abs(np.arctan2(cross, (back * on).sum(axis=1))))
        slack = ALIKE + np.degrees(TINY / np.maximum(np.minimum(long, wide), TINY))
        smooth = has_two & (turn <= slack)
        even = smooth & (np.abs(long - wide) <= EVEN * np.maximum(long, wide) + TINY)
        return tuple("symmetric" if e else "smooth" if s else "corner" for e, s in zip(even, smooth, strict=True))

    def moved(self, matrix: Matrix) -> "Chain":
        """The chain moved by an SVG matrix."""
        return Chain(moved(self.at, matrix), moved(self.before, matrix), moved(self.after, matrix), self.closed)


Chains = tuple[Chain, ...]


def _far(one: Floats, other: Floats) -> Floats:
    answer: Floats = np.hypot(*(one - other).T)
    return answer


def chains_of(path: str) -> Chains:
    """The chains of canonical path data, one a subpath; quadratic pieces become cubics.

    Raises ``CannotRead`` for what is no such path data.
    """
    found: list[Chain] = []
    nodes: list[list[Point]] = []  # (place, handle before, handle after)
    for letter, n in commands(path):
        if letter == "Z":
            _close(found, nodes, closed=True)
            nodes = [[nodes[0][0]] * 3] if nodes else []
            continue
        end = (n[-2], n[-1])
        if letter == "M":
            _close(found, nodes, closed=False)
            nodes = [[end] * 3]
            continue
        start = nodes[-1][0]
        if letter == "C":
            one, other = (n[0], n[1]), (n[2], n[3])
        elif letter == "Q":
            one, other = (
                (s[0] + 2 / 3 * (n[0] - s[0]), s[1] + 2 / 3 * (n[1] - s[1])) for s in (start, end)
            )  # fmt: skip
        else:
            one, other = start, end
        nodes[-1][2] = one
        nodes.append([end, other, end])
    _close(found, nodes, closed=False)
    return tuple(found)


def _close(found: list[Chain], nodes: list[list[Point]], closed: bool) -> None:
    """Make a chain of ``nodes``; a closed one that comes back to its first node has that once."""
    if len(nodes) < 2:
        return
    places = np.asarray(nodes, dtype=np.float64)
    if closed and len(places) > 2 and np.hypot(*(places[0, 0] - places[-1, 0])) <= TINY:
        places[0, 1] = places[0, 0] + places[-1, 1] - places[-1, 0]
        places = places[:-1]
    found.append(Chain(places[:, 0], places[:, 1], places[:, 2], closed))


def path_through(chains: Chains) -> str:
    """Path data of chains."""
    parts: list[str] = []
    for chain in chains:
        text = [[number_text(v) for v in four.ravel().tolist()] for four in chain.controls()]
        if not text:
            continue
        parts.append(f"M{text[0][0]} {text[0][1]}")
        straight = chain.straight()
        for k, (n, line) in enumerate(zip(text, straight, strict=True)):
            if not line:
                parts.append("C" + " ".join(n[2:]))
            elif not (chain.closed and k == chain.pieces - 1):  # Z draws the last straight piece
                parts.append("L" + " ".join(n[6:]))
        if chain.closed:
            parts.append("Z")
    return " ".join(parts)


def powers(t: Floats) -> Floats:
    """The four cubic Bernstein weights at ``t`` (m,), (m, 4)."""
    u = 1 - t
    return np.stack([u**3, 3 * u * u * t, 3 * u * t * t, t**3], axis=-1)


def place_on(chain: Chain, piece: int, t: float) -> Floats:
    """The place at ``t``, 0 to 1, of a piece, (2,)."""
    answer: Floats = powers(np.array([t]))[0] @ cubic(chain, piece)
    return answer


def cubic(chain: Chain, piece: int) -> Floats:
    """The control points of a piece as a cubic that is passed evenly, (4, 2): a straight one's lie on thirds."""
    on = (piece + 1) % len(chain)
    c = np.array([chain.at[piece], chain.after[piece], chain.before[on], chain.at[on]])
    if np.hypot(*(c[0] - c[1])) <= TINY and np.hypot(*(c[2] - c[3])) <= TINY:
        c[1], c[2] = c[0] + (c[3] - c[0]) / 3, c[3] - (c[3] - c[0]) / 3
    return c


def nearest_on(chains: Chains, place: Point) -> tuple[int, int, float, float] | None:
    """The chain, the piece, the ``t`` on it and the distance, mm, of the place of ``chains`` nearest to ``place``.

    Found among samples of every piece, then by halving the step about the best one.
    """
    best: tuple[float, int, int, float] | None = None
    t = np.linspace(0, 1, 17)
    weights = powers(t)
    for number, chain in enumerate(chains):
        if not chain.pieces:
            continue
        c = chain.controls()
        line = chain.straight()
        c[line, 1] = c[line, 0] + (c[line, 3] - c[line, 0]) / 3
        c[line, 2] = c[line, 3] - (c[line, 3] - c[line, 0]) / 3
        far = np.hypot(*(np.einsum("tk,pkx->ptx", weights, c) - np.asarray(place)).transpose(2, 0, 1))
        for piece in np.argsort(far.min(axis=1))[:4]:  # a curve may come nearer between the samples
            here, step = float(t[int(far[piece].argmin())]), 1 / 16
            while step > 1e-5:
                tries = np.clip([here - step, here - step / 2, here, here + step / 2, here + step], 0, 1)
                gaps = np.hypot(*(powers(tries) @ c[piece] - np.asarray(place)).T)
                here, step = float(tries[int(gaps.argmin())]), step / 2
            gap = float(np.hypot(*(powers(np.array([here]))[0] @ c[piece] - np.asarray(place))))
            if best is None or gap < best[0]:
                best = (gap, number, int(piece), here)
    return None if best is None else (best[1], best[2], best[3], best[0])
