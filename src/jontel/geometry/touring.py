"""Walks over lines that meet: a graph whose nodes are places and whose pieces are lines between two of them.

A walk over every piece, some of them more than once, is found by C. Hierholzer, "Über die Möglichkeit, einen
Linienzug ohne Wiederholung und ohne Unterbrechung zu umfahren" (1873). Which pieces are walked again is the route
inspection problem (M. Guan, "Graphic programming using odd or even points", 1962): the nodes in which an odd number
of pieces end are paired so that the ways between them are shortest together, a matching (J. Edmonds, "Paths, trees,
and flowers", 1965).
"""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window

from jontel.geometry.polyline import Floats, lengths

Pair = tuple[int, int]
FINENESS = 1000
"""Ways are matched by whole thousandths of a mm: the matching counts in whole numbers."""


class Piece(NamedTuple):
    """A line (n, 2) from one node to another."""

    one: int
    other: int
    xy: Floats


class Ways:
    """The shortest ways between the nodes of a graph of pieces: ``far`` (m, m) mm, and the pieces that they use."""

    def __init__(self, pieces: Sequence[Piece], count: int) -> None:
        direct = np.full((count, count), np.inf)
        self._over = np.full((count, count), -1)
        for number, (one, other, xy) in enumerate(pieces):
            long = float(lengths(xy)[-1])
            if one != other and long < direct[one, other]:
                direct[one, other] = direct[other, one] = long
                self._over[one, other] = self._over[other, one] = number
        graph = np.where(np.isinf(direct), 0.0, direct)
        self.far, self._came = scipy.sparse.csgraph.shortest_path(graph, directed=False, return_predecessors=True)

    def between(self, one: int, other: int) -> list[int]:
        """The pieces on the way from one node to another."""
        found, node = [], other
        while node != one:
            before = int(self._came[one, node])
            found.append(int(self._over[before, node]))
            node = before
        return found


def odd_nodes(pieces: Sequence[Piece], count: int) -> list[int]:
    """The nodes in which an odd number of pieces end."""
    degree = np.bincount([end for piece in pieces for end in piece[:2]], minlength=count)
    return np.flatnonzero(degree % 2 == 1).tolist()


def fewest_repeats(pieces: Sequence[Piece], count: int, start: int | None = None) -> tuple[list[int], int]:
    """Each piece by number, those walked again once more each, and the node that a walk over them begins at.

    The walk is open: it begins at ``start``, or where that costs least, and ends wherever that costs least.
    """
    import rustworkx

    edges = list(range(len(pieces)))
    odd = odd_nodes(pieces, count)
    if start is not None:  # the walk may end where it likes, so the start changes what is odd
        odd = [node for node in odd if node != start] if start in odd else [*odd, start]
    if not odd:
        return edges, start if start is not None else pieces[0].one
    ways = Ways(pieces, count)
    far = np.round(ways.far * FINENESS)
    loose = 2 if start is None else 1
    graph = rustworkx.PyGraph()
    graph.add_nodes_from(range(len(odd) + loose))
    most = int(far[np.ix_(odd, odd)].max()) + 1
    pairs = [(i, j, most - int(far[odd[i], odd[j]])) for i in range(len(odd)) for j in range(i)]
    pairs += [(i, len(odd) + end, most) for i in range(len(odd)) for end in range(loose)]
    graph.add_edges_from(pairs)
    matched = rustworkx.max_weight_matching(graph, max_cardinality=True, weight_fn=int)
    begins = [] if start is None else [start]
    for one, other in sorted((max(pair), min(pair)) for pair in matched):
        if one < len(odd):
            edges += ways.between(odd[one], odd[other])
        elif start is None:
            begins.append(odd[other])
    return edges, min(begins)


def toured(pieces: Sequence[Piece], edges: Sequence[int], start: int) -> list[tuple[int, bool]]:
    """A walk from ``start`` over each of ``edges`` once: pieces by number, and whether each is walked backwards."""
    around: dict[int, list[tuple[int, int]]] = {}
    for edge, number in enumerate(edges):
        for end, node in enumerate(pieces[number][:2]):
            around.setdefault(node, []).append((edge, end))
    used: set[int] = set()
    stack: list[tuple[int, tuple[int, int] | None]] = [(start, None)]
    tour: list[tuple[int, int]] = []
    while stack:
        node, came = stack[-1]
        ahead = around.get(node, [])
        while ahead and ahead[-1][0] in used:
            ahead.pop()
        if ahead:
            edge, end = ahead.pop()
            used.add(edge)
            one, other, _ = pieces[edges[edge]]
            stack.append((one if end else other, (edge, end)))
        else:
            stack.pop()
            if came is not None:
                tour.append(came)
    return [(edges[edge], end == 1) for edge, end in tour[::-1]]


def walked(pieces: Sequence[Piece], tour: Sequence[tuple[int, bool]]) -> Floats:
    """The line (n, 2) of a walk."""
    lines = [pieces[number].xy[::-1] if backwards else pieces[number].xy for number, backwards in tour]
    return np.vstack([lines[0], *(line[1:] for line in lines[1:])]) if lines else np.zeros((1, 2))
