"""In which order the rows of one cell are sewn: so that the turns at the rim are safe stitches.

Where the rim runs across the rows, the ends of two neighbours are nearer to each other than a safe stitch. There the
needle turns into the row after the next one, and takes up what it has passed over a little later.
"""

import numpy as np
from numpy.typing import NDArray

from jontel.geometry.arrays import Ints
from jontel.geometry.polyline import Floats
from jontel.stitching.stitches import SHORTEST

BLOCK = (0, 2, 4, 1, 3)
"""Five rows between whose ends lie two or three spacings; the next row after them is two from the last."""
LAST_BLOCKS: dict[int, tuple[int, ...]] = {
    1: (0,),
    2: (0, 1),
    3: (1, 0, 2),
    4: (0, 2, 1, 3),
    5: (1, 3, 0, 2, 4),
    6: (0, 2, 4, 1, 3, 5),
    7: (0, 2, 5, 3, 1, 4, 6),
    8: (1, 4, 6, 3, 0, 2, 5, 7),
    9: (0, 2, 5, 7, 4, 1, 3, 6, 8),
}
"""By how many rows are left: orders that end with the last one, with the fewest turns into a neighbour, then the
shortest turns."""
SHORT_CELL = 4
"""Cells of fewer rows than this are sewn in one go after a travel to their far end."""


def through(ends: Floats, from_right: bool) -> Ints:
    """The order, (n,), in which rows are sewn from the first to the last one.

    ``ends`` (n, 2, 2) are the left and the right end of each. Rows are sewn as they come where the turn from one
    into the next is a safe stitch, else in blocks.
    """
    n = len(ends)
    turns = np.hypot(*(ends[1:] - ends[:-1]).transpose(2, 0, 1)) >= SHORTEST
    safe: list[list[bool]] = turns.tolist()
    order: list[int] = []
    k = 0
    while k < n:
        ends_right = int(from_right == (len(order) % 2 == 1))
        if k == n - 1 or safe[k][ends_right]:
            order.append(k)
            k += 1
            continue
        block = LAST_BLOCKS.get(n - k, BLOCK)
        order += [k + one for one in block]
        k += len(block)
    return np.array(order, dtype=np.int64)


def there_and_back(count: int, leaf: bool, long: bool = False) -> tuple[Ints, Ints]:
    """Rows of a cell, numbered from its near end, that are sewn on the way to its far end, and on the way back.

    The row at the near end is sewn last, and so is the one at the far end unless the cell is a ``leaf``: whatever
    leads on to another cell lies under it. Where they are ``long``, all are sewn on the way back.
    """
    rows = np.arange(count, dtype=np.int64)
    if count < SHORT_CELL or long:
        return rows[:0], rows[::-1]
    there: NDArray[np.bool_] = rows % 2 == 1
    if not leaf:
        there[-1] = False
    return rows[there], rows[~there][::-1]
