"""Edits of nodes, handles and pieces: functions from chains to chains.

``Picked`` are nodes by the number of their chain and their own. What a node was (corner, smooth, symmetric) it stays
while its handles or the curve beside it are dragged.
"""

from collections.abc import Collection, Iterable
from dataclasses import replace
from itertools import pairwise
from typing import Literal

import numpy as np

from jontel.design.paths import Matrix
from jontel.design.shapes import Point
from jontel.geometry.fitting import chain_of, cubic_through, through_corners
from jontel.geometry.nodes import ALIKE, TINY, Chain, Chains, NodeKind, cubic, powers
from jontel.geometry.polyline import Floats, at_lengths, distinct, lengths

Picked = frozenset[tuple[int, int]]
Side = Literal["before", "after"]
SAMPLES = 24
"""Places on each piece from which a curve is fitted again."""
REFITS = 40
"""Rounds of betterment of such a fit: what was parted in two comes back as it was."""


def _with(chains: Chains, number: int, *made: Chain) -> Chains:
    """``chains`` with others in the place of one."""
    return (*chains[:number], *made, *chains[number + 1 :])


def _by_chain(picked: Iterable[tuple[int, int]]) -> dict[int, list[int]]:
    found: dict[int, list[int]] = {}
    for chain, node in sorted(picked):
        found.setdefault(chain, []).append(node)
    return found


def nodes_moved(chains: Chains, picked: Picked, matrix: Matrix) -> Chains:
    """The picked nodes moved by ``matrix`` with their handles."""
    for number, nodes in _by_chain(picked).items():
        chain = chains[number]
        wanted = chain.moved(matrix)
        at, before, after = chain.at.copy(), chain.before.copy(), chain.after.copy()
        at[nodes], before[nodes], after[nodes] = wanted.at[nodes], wanted.before[nodes], wanted.after[nodes]
        chains = _with(chains, number, replace(chain, at=at, before=before, after=after))
    return chains


def handle_moved(chains: Chains, node: tuple[int, int], side: Side, to: Point, alone: bool = False) -> Chains:
    """A handle drawn to a place; the other one turns along at a smooth node, unless the handle goes ``alone``."""
    number, k = node
    chain = chains[number]
    kind = chain.kinds()[k]
    before, after = chain.before.copy(), chain.after.copy()
    mine, other = (before, after) if side == "before" else (after, before)
    mine[k] = to
    if not alone:
        _turn_along(chain, k, mine, other, kind)
    return _with(chains, number, replace(chain, before=before, after=after))


def _turn_along(chain: Chain, k: int, mine: Floats, other: Floats, kind: NodeKind) -> None:
    """Turn the ``other`` handle of node ``k`` into line with ``mine``; it stays as long as the node's kind says."""
    way = chain.at[k] - mine[k]
    size = float(np.hypot(*way))
    if kind == "corner" or size <= TINY:
        return
    long = size if kind == "symmetric" else float(np.hypot(*(other[k] - chain.at[k])))
    other[k] = chain.at[k] + way / size * long


def bent(chains: Chains, number: int, piece: int, t: float, to: Point) -> Chains:
    """The piece drawn so that its place at ``t`` comes to lie at ``to``; smooth neighbours turn along.

    Both handles move by the least that does it, in the sense of least squares (J. D. Fowler and B. Bartels,
    "Constraint-based curve manipulation", 1993).
    """
    chain = chains[number]
    t = min(max(t, 0.05), 0.95)
    c = cubic(chain, piece)
    weights = powers(np.array([t]))[0]
    off = np.asarray(to) - weights @ c
    part = weights[1:3] / float((weights[1:3] ** 2).sum())
    kinds = chain.kinds()
    on = (piece + 1) % len(chain)
    before, after = chain.before.copy(), chain.after.copy()
    after[piece], before[on] = c[1] + part[0] * off, c[2] + part[1] * off
    for k, mine, other in ((piece, after, before), (on, before, after)):
        if piece != on:
            _turn_along(chain, k, mine, other, kinds[k])
    return _with(chains, number, replace(chain, before=before, after=after))


def node_added(chains: Chains, number: int, piece: int, t: float) -> tuple[Chains, tuple[int, int]]:
    """A node on a piece at ``t``, and which it is; the outline stays as it is."""
    chain = chains[number]
    line = bool(chain.straight()[piece])
    c = cubic(chain, piece)
    (_, ab, abc, at), (_, bcd, cd, _) = _split(c, t)
    if line:
        ab, abc, bcd, cd = c[0], at, at, c[3]
    on = (piece + 1) % len(chain)
    before, after = chain.before.copy(), chain.after.copy()
    after[piece], before[on] = ab, cd
    k = piece + 1
    made = Chain(
        np.insert(chain.at, k, at, axis=0),
        np.insert(before, k, abc, axis=0),
        np.insert(after, k, bcd, axis=0),
        chain.closed,
    )
    return _with(chains, number, made), (number, k)


def nodes_removed(chains: Chains, picked: Picked) -> Chains:
    """``chains`` without the picked nodes; what is left is fitted to where the outline was, so that no dent is made.

    A chain of which no piece is left goes.
    """
    gone = _by_chain(picked)
    made: list[Chain] = []
    for number, chain in enumerate(chains):
        left = _thinned(chain, set(gone.get(number, ())))
        if left is not None:
            made.append(left)
    return tuple(made)


def _thinned(chain: Chain, gone: set[int]) -> Chain | None:
    keep = [k for k in range(len(chain)) if k not in gone]
    if not gone:
        return chain
    curved = not bool(chain.straight().all())
    if len(keep) < (2 if curved or not chain.closed else 3):
        return None
    before, after = chain.before.copy(), chain.after.copy()
    pairs = list(zip(keep, [*keep[1:], keep[0] + len(chain)], strict=True))
    for one, other in pairs if chain.closed else pairs[:-1]:
        between = [k % len(chain) for k in range(one, other)]
        if len(between) < 2:
            continue
        end = other % len(chain)
        if all(chain.straight()[k] for k in between):
            after[one], before[end] = chain.at[one], chain.at[end]
            continue
        points = sampled(chain, between)
        start, stop = cubic(chain, between[0])[None], cubic(chain, between[-1])[None, ::-1]
        known = _parameters(chain, between) if len(points) == SAMPLES * len(between) + 1 else None
        c = cubic_through(points, _unit(_leaving(start)[0]), _unit(_leaving(stop)[0]), REFITS, known)[0]
        after[one], before[end] = c[1], c[2]
    if not chain.closed:
        before[keep[0]], after[keep[-1]] = chain.at[keep[0]], chain.at[keep[-1]]
    return Chain(chain.at[keep], before[keep], after[keep], chain.closed)


def sampled(chain: Chain, pieces: Iterable[int]) -> Floats:
    """Places along consecutive pieces of a chain, (m, 2), ends included."""
    t = np.linspace(0, 1, SAMPLES + 1)
    runs = [powers(t) @ cubic(chain, k) for k in pieces]
    return distinct(np.vstack([runs[0], *(run[1:] for run in runs[1:])]))


def _parameters(chain: Chain, pieces: list[int]) -> Floats:
    """The parameters of ``sampled`` places on one cubic that the ``pieces`` may once have been parts of.

    At a node that parts a cubic its two handles are as long as the parts of the parameter are wide.
    """
    widths = [1.0]
    for node in pieces[1:]:
        one, other = (float(np.hypot(*(h[node] - chain.at[node]))) for h in (chain.before, chain.after))
        widths.append(widths[-1] * (other / one if one > TINY and other > TINY else 1.0))
    ends = np.concatenate([[0.0], np.cumsum(widths)]) / sum(widths)
    return np.interp(np.linspace(0, len(pieces), SAMPLES * len(pieces) + 1), np.arange(len(ends)), ends)


def of_kind(chains: Chains, picked: Picked, kind: NodeKind) -> Chains:
    """The picked nodes made corners, smooth or symmetric.

    A corner loses nothing but its bond; only one that is a corner already loses its handles. A node without handles
    gets them along the way from the node before to the one behind, a third of the way to each.
    """
    for number, nodes in _by_chain(picked).items():
        chain = chains[number]
        kinds = chain.kinds()
        before, after = chain.before.copy(), chain.after.copy()
        for k in nodes:
            if kind == "corner":
                if kinds[k] == "corner":
                    before[k] = after[k] = chain.at[k]
                else:  # a hair out of line: no longer one curve, and where it was
                    after[k] = chain.at[k] + _turned(after[k] - chain.at[k], 4 * ALIKE)
                continue
            one, other = _smoothed(chain, k, kind)
            before[k], after[k] = one, other
        chains = _with(chains, number, replace(chain, before=before, after=after))
    return chains


def _turned(way: Floats, degrees: float) -> Floats:
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    return np.array([c * way[0] - s * way[1], s * way[0] + c * way[1]])


def _smoothed(chain: Chain, k: int, kind: NodeKind) -> tuple[Floats, Floats]:
    """The handles of node ``k`` as a smooth or symmetric one."""
    count = len(chain)
    has_back, has_on = chain.closed or k > 0, chain.closed or k < count - 1
    at = chain.at[k]
    back = chain.at[(k - 1) % count] if has_back else at
    on = chain.at[(k + 1) % count] if has_on else at
    one, other = chain.before[k] - at, chain.after[k] - at
    long, wide = float(np.hypot(*one)), float(np.hypot(*other))
    if long <= TINY and wide <= TINY:
        way = on - back
    elif long <= TINY or wide <= TINY:
        way = other - one
    else:
        way = other / wide - one / long
    size = float(np.hypot(*way))
    if size <= TINY:
        way, size = np.array([1.0, 0.0]), 1.0
    way = way / size
    long = long if long > TINY else float(np.hypot(*(at - back))) / 3
    wide = wide if wide > TINY else float(np.hypot(*(on - at))) / 3
    if kind == "symmetric":
        long = wide = (long + wide) / 2 if has_back and has_on else max(long, wide)
    return at - way * (long if has_back else 0.0), at + way * (wide if has_on else 0.0)


def straightened(chains: Chains, picked: Picked) -> Chains:
    """The pieces both of whose nodes are picked made straight."""
    for number, nodes in _by_chain(picked).items():
        chain, chosen = chains[number], set(nodes)
        before, after = chain.before.copy(), chain.after.copy()
        for piece in range(chain.pieces):
            on = (piece + 1) % len(chain)
            if piece in chosen and on in chosen:
                after[piece], before[on] = chain.at[piece], chain.at[on]
        chains = _with(chains, number, replace(chain, before=before, after=after))
    return chains


def reversed_way(chains: Chains) -> Chains:
    """Every chain drawn the other way round."""
    return tuple(Chain(c.at[::-1].copy(), c.after[::-1].copy(), c.before[::-1].copy(), c.closed) for c in chains)


def closed_up(chains: Chains, numbers: Collection[int]) -> Chains:
    """The open ones among the chains ``numbers`` closed by a straight piece, or where both ends meet by none."""
    made = chains
    for number in numbers:
        chain = chains[number]
        if chain.closed or len(chain) < 2:
            continue
        at, before, after = chain.at, chain.before.copy(), chain.after
        if len(chain) > 2 and np.hypot(*(at[0] - at[-1])) <= 0.05:
            before[0] = at[0] + before[-1] - at[-1]
            at, before, after = at[:-1], before[:-1], after[:-1]
        made = _with(made, number, Chain(at, before, after, True))
    return made


def cut_at(chains: Chains, picked: Picked) -> Chains:
    """``chains`` parted at the picked nodes: a closed one opens there, an open one falls into two."""
    cuts = _by_chain(picked)
    made: list[Chain] = []
    for number, chain in enumerate(chains):
        nodes = cuts.get(number, [])
        if chain.closed and nodes:
            chain = _opened(chain, nodes[0])
            nodes = [k - nodes[0] for k in nodes[1:]]
        marks = [0, *(k for k in nodes if 0 < k < len(chain) - 1), len(chain) - 1]
        for start, stop in pairwise(marks):
            made.append(_part(chain, start, stop))
    return tuple(made)


def _opened(chain: Chain, node: int) -> Chain:
    """A closed chain as an open one that begins and ends at ``node``."""
    turned = started(chain, node)
    at = np.vstack([turned.at, turned.at[:1]])
    before = np.vstack([turned.at[:1], turned.before[1:], turned.before[:1]])
    after = np.vstack([turned.after, turned.at[:1]])
    return Chain(at, before, after, False)


def _part(chain: Chain, start: int, stop: int) -> Chain:
    """The nodes from ``start`` to ``stop`` of an open chain."""
    some = slice(start, stop + 1)
    at, before, after = chain.at[some].copy(), chain.before[some].copy(), chain.after[some].copy()
    before[0], after[-1] = at[0], at[-1]
    return Chain(at, before, after, chain.closed and start == 0 and stop == len(chain) - 1)


def started(chain: Chain, node: int) -> Chain:
    """A closed chain whose first node is ``node``."""
    at, before, after = (np.roll(one, -node, axis=0) for one in (chain.at, chain.before, chain.after))
    return Chain(at, before, after, chain.closed)


def started_at(chains: Chains, node: tuple[int, int]) -> Chains:
    """``chains`` with the chain of ``node`` beginning there: a closed one turned, an open one drawn from that end."""
    number, k = node
    chain = chains[number]
    if chain.closed:
        return _with(chains, number, started(chain, k))
    return _with(chains, number, *reversed_way((chain,))) if k == len(chain) - 1 else chains


def joined(chains: Chains, one: tuple[int, int], other: tuple[int, int]) -> Chains:
    """Two open ends joined: by nothing where they meet, else by a straight piece. Other nodes are left alone."""
    a, b = one[0], other[0]
    if not (_is_end(chains, one) and _is_end(chains, other)) or one == other:
        return chains
    if a == b:
        return closed_up(chains, {a})
    first, second = chains[a], chains[b]
    if one[1] == 0:
        (first,) = reversed_way((first,))
    if other[1] != 0:
        (second,) = reversed_way((second,))
    meet = bool(np.hypot(*(first.at[-1] - second.at[0])) <= 0.05)
    after = first.after.copy()
    if meet:
        after[-1] = first.at[-1] + second.after[0] - second.at[0]
    skip = 1 if meet else 0
    made = Chain(
        np.vstack([first.at, second.at[skip:]]),
        np.vstack([first.before, second.before[skip:]]),
        np.vstack([after, second.after[skip:]]),
        False,
    )
    left = [chain for number, chain in enumerate(chains) if number not in (a, b)]
    left.insert(min(a, b), made)
    return tuple(left)


def _is_end(chains: Chains, node: tuple[int, int]) -> bool:
    chain = chains[node[0]]
    return not chain.closed and node[1] in (0, len(chain) - 1)


def simplified(chains: Chains, tolerance: float, corner: float = 20.0) -> Chains:
    """The same outlines with as few nodes as stay within ``tolerance`` mm; corners over ``corner`` degrees stay."""
    return tuple(_simplified(chain, tolerance, corner) for chain in chains)


def _simplified(chain: Chain, tolerance: float, corner: float) -> Chain:
    if len(chain) < 3:
        return chain
    marks, runs, count = [], [], 0
    sharp = corners(chain, corner)
    for piece in range(chain.pieces):
        if piece in sharp:
            marks.append(count)
        run = sampled(chain, [piece])
        line = bool(chain.straight()[piece])
        run = at_lengths(run, np.linspace(0, lengths(run)[-1], max(3, SAMPLES // 4))) if line else run
        runs.append(run[:-1])
        count += len(run) - 1
    points = np.vstack([*runs, chain.at[:1] if chain.closed else chain.at[-1:]])
    if chain.closed:
        points = points[:-1]
    made = through_corners(points, marks, tolerance, chain.closed)
    return made if len(made) < len(chain) else chain


def corners(chain: Chain, degrees: float) -> frozenset[int]:
    """The nodes at which the outline turns by more than ``degrees``; ends of an open chain are none."""
    c = np.stack([cubic(chain, k) for k in range(chain.pieces)])
    out, back = _leaving(c), -_leaving(c[:, ::-1])
    if not chain.closed:
        inner = range(1, len(chain) - 1)
        pairs = [(k, back[k - 1], out[k]) for k in inner]
    else:
        pairs = [(k, back[k - 1], out[k]) for k in range(len(chain))]
    found = []
    for k, one, other in pairs:
        turn = np.degrees(abs(np.arctan2(one[0] * other[1] - one[1] * other[0], one @ other)))
        if turn > degrees:
            found.append(k)
    return frozenset(found)


def _leaving(c: Floats) -> Floats:
    """The way in which cubics (n, 4, 2) leave their first points, (n, 2)."""
    steps = c[:, 1:] - c[:, :1]
    has = np.hypot(steps[..., 0], steps[..., 1]) > TINY
    first = np.argmax(has, axis=1)
    return np.asarray(steps[np.arange(len(c)), first])


def rounded(chains: Chains, radius: float, over: float = 15.0, only: Picked | None = None) -> Chains:
    """Corners that turn by more than ``over`` degrees rounded by ``radius`` mm, all or ``only`` some.

    Where a piece is too short for both of its corners each gets half of it. The round is a cubic of the circle's
    handles (a quarter circle to 0.03 %), tangent to both pieces.
    """
    return tuple(
        _rounded(chain, radius, over, None if only is None else {k for n, k in only if n == number})
        for number, chain in enumerate(chains)
    )


def _rounded(chain: Chain, radius: float, over: float, only: set[int] | None) -> Chain:
    turned = {k for k in corners(chain, over) if only is None or k in only}
    if not turned or radius <= 0:
        return chain
    controls = [cubic(chain, k) for k in range(chain.pieces)]
    runs = [powers(np.linspace(0, 1, 65)) @ c for c in controls]
    sizes = [float(lengths(run)[-1]) for run in runs]
    cuts = {k: _cut(chain, k, radius, turned, controls, runs, sizes) for k in turned}
    made: list[Floats] = []
    for piece, c in enumerate(controls):
        on = (piece + 1) % len(chain)
        start, stop = cuts[piece][1] if piece in cuts else 0.0, cuts[on][0] if on in cuts else 1.0
        part = _span(c, start, max(stop, start))
        if np.hypot(*(part[3] - part[0])) > TINY or piece not in cuts or on not in cuts:
            made.append(part)
        if on in cuts:
            stop, begin, long = cuts[on]
            leave, arrive = _way_at(c, stop), _way_at(controls[on], begin)
            end = powers(np.array([begin]))[0] @ controls[on]
            made.append(np.array([part[3], part[3] + leave * long, end - arrive * long, end]))
    return chain_of(made, chain.closed)


def _cut(
    chain: Chain, k: int, radius: float, turned: set[int], controls: list[Floats], runs: list[Floats],
    sizes: list[float],
) -> tuple[float, float, float]:  # fmt: skip
    """Where the round of corner ``k`` begins on the piece before it and ends on the one behind, as ``t``, and how
    long its handles are, mm."""
    before, behind = (k - 1) % len(chain), k
    one, other = -_leaving(controls[before][None, ::-1])[0], _leaving(controls[behind][None])[0]
    turn = abs(float(np.arctan2(one[0] * other[1] - one[1] * other[0], one @ other)))
    turn = min(turn, float(np.radians(175)))
    far = radius * float(np.tan(turn / 2))
    for piece in (before, behind):
        shared = piece in turned and (piece + 1) % len(chain) in turned
        far = min(far, sizes[piece] * (0.5 if shared else 1.0))
    places = np.linspace(0, 1, 65)
    along, on = lengths(runs[before]), lengths(runs[behind])
    handle = 4 / 3 * float(np.tan(turn / 4)) * far / float(np.tan(turn / 2))
    return float(np.interp(along[-1] - far, along, places)), float(np.interp(far, on, places)), handle


def _way_at(c: Floats, t: float) -> Floats:
    """The unit vector along which a cubic runs at ``t``."""
    ends = powers(np.clip([t - 1e-4, t + 1e-4], 0, 1)) @ c
    return _unit(ends[1] - ends[0])


def _span(c: Floats, start: float, stop: float) -> Floats:
    """The part of a cubic from ``start`` to ``stop`` as a cubic."""
    right = _split(c, start)[1]
    return _split(right, (stop - start) / max(1 - start, 1e-9))[0]


def _split(c: Floats, t: float) -> tuple[Floats, Floats]:
    """Both parts of a cubic at ``t`` (P. de Casteljau, 1959)."""
    ab, bc, cd = (c[k] + (c[k + 1] - c[k]) * t for k in range(3))
    abc, bcd = ab + (bc - ab) * t, bc + (cd - bc) * t
    at = abc + (bcd - abc) * t
    return np.array([c[0], ab, abc, at]), np.array([at, bcd, cd, c[3]])


def _unit(way: Floats) -> Floats:
    return np.asarray(way / max(float(np.hypot(*way)), 1e-12))
