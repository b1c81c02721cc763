"""Whole arrays of things of unequal size."""

import numpy as np
from numpy.typing import NDArray

Ints = NDArray[np.int64]


def ragged(counts: Ints) -> tuple[Ints, Ints]:
    """For ragged arrays: which owner each element has, and its number within that owner."""
    owner = np.repeat(np.arange(len(counts)), counts)
    first = np.cumsum(counts) - counts
    return owner, np.arange(len(owner)) - first[owner]
