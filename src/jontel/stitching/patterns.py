"""Needle-point patterns: by what part of a stitch each row is shifted against the first."""

from functools import lru_cache

import numpy as np

from jontel.design.kinds.fill import Pattern
from jontel.design.kinds.satin import Texture
from jontel.geometry.arrays import Ints
from jontel.geometry.polyline import Floats

READY: dict[str, tuple[float, ...]] = {
    "scatter": (0.0, 0.5, 0.25, 0.75, 0.125, 0.625, 0.375, 0.875),
    "stair": tuple(k / 8 for k in range(8)),
    "halves": (0.0, 0.5),
    "thirds": (0.0, 1 / 3, 2 / 3),
    "chevron": (0.0, 0.12, 0.24, 0.36, 0.48, 0.36, 0.24, 0.12),
    "ripple": tuple(float(0.25 + 0.25 * np.sin(2 * np.pi * k / 14)) for k in range(14)),
}
LOOK_BACK, CALM_BACK = 4, 8
"""A random row, or a calm one, keeps away from this many rows before it, so that no line of holes forms."""
CANDIDATES = 12


def phases(pattern: Pattern | Texture, row: Ints, offset: float = 0.4, rows: int = 5, seed: int = 1) -> Floats:
    """The shift of each of ``row`` (n,), as a part of a stitch from 0 to 1, (n,).

    ``offset`` and ``rows`` are those of a brick: each row is shifted by ``offset`` against the last, and the
    pattern starts again after ``rows``.
    """
    if pattern == "brick":
        return np.asarray(row % rows * offset % 1.0)
    if pattern in ("random", "calm"):
        back = LOOK_BACK if pattern == "random" else CALM_BACK
        return _scattered(seed, 1 << int(row.max(initial=1)).bit_length(), back)[row]
    ready = np.array(READY.get(pattern, (0.0,)))
    return np.asarray(ready[row % len(ready)])


@lru_cache(maxsize=64)
def _scattered(seed: int, count: int, back: int) -> Floats:
    """Random shifts, each the one of some that lies farthest from those of the rows ``back`` from it.

    Rows farther back count less, and so does the shift that would carry on a slanting line of two rows before.

    Source: D. Mitchell, "Spectrally optimal sampling for distribution ray tracing" (1991).
    """
    drawn = np.random.default_rng(seed).random((count, CANDIDATES))
    found = np.zeros(count)
    found[0] = drawn[0][0]
    weight = 1.0 + np.arange(back) / 2
    for k in range(1, count):
        before = found[max(0, k - back) : k][::-1]
        lines = [2 * found[k - step] - found[k - 2 * step] for step in (1, 2) if k >= 2 * step]
        kept_from = np.concatenate([before, lines])
        far = np.concatenate([weight[: len(before)], np.full(len(lines), 1.5)])
        gap = np.abs((drawn[k][:, None] - kept_from[None] + 0.5) % 1.0 - 0.5) * far
        found[k] = drawn[k][int(np.argmax(gap.min(axis=1)))]
    return found
