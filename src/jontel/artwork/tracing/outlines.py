"""Outlines of labelled pixels: found between pixels to a part of one, fitted with few nodes, corners kept."""

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from jontel.artwork.tracing.colours import Floats
from jontel.artwork.tracing.labels import Labels
from jontel.artwork.tracing.palette import Bools, grown
from jontel.design.stopping import go_on
from jontel.geometry.fitting import fitted
from jontel.geometry.nodes import Chain, path_through

Ints = NDArray[np.int64]
UNIT = 0.1
"""Outlines are fitted as if a pixel were so many mm: what a hand draws is fitted as finely."""
TOLERANCE = 0.12
"""How far the outline may lie from the places found between pixels, in the same."""
CORNER = 48.0
LEAST_TOLD = 0.25
"""A pixel and its neighbour have to differ by this part of the way from colour to colour to tell where it lies."""


def outlines_of(
    rgb: Floats, labels: Labels, palette: Floats, numbers: Sequence[int], under: Bools, reach: float
) -> str:
    """Path data, in pixels, of what has one of some numbers in ``labels`` (h, w); (0, 0) is a picture's top left.

    It reaches so many pixels under what is marked in ``under`` (h, w), which is sewn later. Outlines run where the
    picture ``rgb`` (h, w, 3) is half of the one colour and half of the other.
    """
    go_on()
    own = np.isin(labels, numbers)
    mask = own
    if reach > 0 and (under & ~own).any():
        mask = own | (under & grown(own, math.ceil(reach)))
    go_on()
    chains: list[Chain] = []
    for spots in _rings(mask, _places(rgb, labels, palette, own, mask)):
        go_on()
        if len(spots) >= 4:
            chain = fitted(spots * UNIT, TOLERANCE, closed=True, corner=CORNER)
            if len(chain.at) >= 2:
                chains.append(Chain(chain.at / UNIT, chain.before / UNIT, chain.after / UNIT, True))
    return path_through(tuple(chains))


def _places(rgb: Floats, labels: Labels, palette: Floats, own: Bools, mask: Bools) -> tuple[Floats, Ints, Ints]:
    """Between each pixel of a mask and one outside: where the outline runs (n, 2), from which corner to which (n,).

    Corners of pixels are numbered by row; the mask lies to the left, seen with y downwards.
    """
    tall, wide = mask.shape
    padded = np.pad(mask, 1)
    spots: list[Floats] = []
    starts: list[Ints] = []
    stops: list[Ints] = []
    sides = (
        (0, 1, (1, 1), (0, 1)),
        (0, -1, (0, 0), (1, 0)),
        (1, 0, (1, 0), (1, 1)),
        (-1, 0, (0, 1), (0, 0)),
    )
    for down, right, first, last in sides:
        go_on()
        y, x = np.nonzero(mask & ~padded[1 + down : 1 + down + tall, 1 + right : 1 + right + wide])
        part = _part_of_way(rgb, labels, palette, own, y, x, down, right)
        spots.append(np.column_stack([x + 0.5 + right * part, y + 0.5 + down * part]))
        starts.append((y + first[0]) * (wide + 1) + x + first[1])
        stops.append((y + last[0]) * (wide + 1) + x + last[1])
    return np.vstack(spots), np.concatenate(starts), np.concatenate(stops)


def _part_of_way(
    rgb: Floats, labels: Labels, palette: Floats, own: Bools, y: Ints, x: Ints, down: int, right: int
) -> Floats:
    """How far from the middle of each pixel to that of its neighbour the one colour has become the other, (n,).

    Half where that is not told: at the rim of the picture, and under what is sewn later.
    """
    part = np.full(len(y), 0.5)
    tall, wide = labels.shape
    y2, x2 = y + down, x + right
    told = (y2 >= 0) & (y2 < tall) & (x2 >= 0) & (x2 < wide) & own[y, x]
    if not told.any():
        return part
    first, other = palette[labels[y[told], x[told]]], palette[labels[y2[told], x2[told]]]
    way = other - first
    size = np.maximum((way * way).sum(axis=1), 1e-9)
    here = np.clip(((rgb[y[told], x[told]] - first) * way).sum(axis=1) / size, 0, 1)
    there = np.clip(((rgb[y2[told], x2[told]] - first) * way).sum(axis=1) / size, 0, 1)
    change = there - here
    found = np.where(change > LEAST_TOLD, (0.5 - here) / np.maximum(change, LEAST_TOLD), 0.5)
    part[told] = np.clip(found, 0.0, 1.0)
    return part


def _rings(mask: Bools, places: tuple[Floats, Ints, Ints]) -> list[Floats]:
    """The places in order round each outline, (n, 2); where two patches touch at a corner, each keeps its own."""
    spots, starts, stops = places
    if not len(spots):
        return []
    order = np.argsort(starts, kind="stable")
    sorted_starts = starts[order]
    first = np.searchsorted(sorted_starts, stops)
    after = order[first]
    twice = np.flatnonzero((first + 1 < len(order)) & (sorted_starts[np.minimum(first + 1, len(order) - 1)] == stops))
    if len(twice):  # two ways lead on: the one to the left goes round the same pixel
        one, other = order[first[twice]], order[first[twice] + 1]
        wide = mask.shape[1] + 1
        came = _towards(starts[twice], stops[twice], wide)
        ways = [_towards(starts[k], stops[k], wide) for k in (one, other)]
        turns = [came[:, 0] * way[:, 1] - came[:, 1] * way[:, 0] for way in ways]
        after[twice] = np.where(turns[0] < turns[1], one, other)
    onward = after.tolist()
    seen = np.zeros(len(spots), dtype=bool)
    found: list[Floats] = []
    for k in range(len(spots)):
        if seen[k]:
            continue
        ring: list[int] = []
        at = k
        while not seen[at]:
            seen[at] = True
            ring.append(at)
            at = onward[at]
        found.append(spots[ring])
    return found


def _towards(starts: Ints, stops: Ints, wide: int) -> Floats:
    """The ways from corners to corners, (n, 2)."""
    return np.column_stack([stops % wide - starts % wide, stops // wide - starts // wide]).astype(np.float64)
