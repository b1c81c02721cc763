"""How the letters of a monogram stand together. Each takes letters as regions and gives them in their places.

A letter comes with its capitals' height 1, its foot on y = 0, y downwards, its left edge at x = 0. Arrangements keep
the order of the letters; the whole is centred and scaled afterwards.
"""

import math
from collections.abc import Callable, Sequence

import numpy as np
import shapely
from shapely import affinity
from shapely.geometry.base import BaseGeometry

from jontel.design.monogram import Arrangement
from jontel.geometry.polyline import Floats

Letters = list[BaseGeometry]
Arrange = Callable[[Letters, float, float], Letters]
"""Letters, how much larger the middle one is, and the gap between them in heights."""
FINE = 0.02
"""Outlines that are bent are followed in steps of so many heights."""
OVERLAP, CROSSES = 0.42, 0.02
"""Interlaced letters lie over each other by the first part of their width, and meet where they share the second."""
STAIR = 0.42
ARCH = 24.0
"""Letters of an arch lean by so many degrees from one to the next."""


def _side_by_side(letters: Letters, sizes: Sequence[float], gap: float) -> Letters:
    """Letters of different sizes beside each other, their middles on one height."""
    found, x = [], 0.0
    for letter, size in zip(letters, sizes, strict=True):
        grown = affinity.scale(letter, size, size, origin=(0, 0))
        found.append(affinity.translate(grown, x - grown.bounds[0], (size - 1) / 2))
        x += grown.bounds[2] - grown.bounds[0] + gap
    return found


def _sizes(letters: Letters, middle: float) -> list[float]:
    return [middle if len(letters) == 3 and k == 1 else 1.0 for k in range(len(letters))]


def in_a_row(letters: Letters, _middle: float, gap: float) -> Letters:
    """All alike, side by side."""
    return _side_by_side(letters, [1.0] * len(letters), gap)


def middle_larger(letters: Letters, middle: float, gap: float) -> Letters:
    """The second of three larger than the others."""
    return _side_by_side(letters, _sizes(letters, middle), gap)


def stacked(letters: Letters, _middle: float, gap: float) -> Letters:
    """One above the other, about one line."""
    return [_centred(letter, (0.0, k * (1 + gap))) for k, letter in enumerate(letters)]


def stairs(letters: Letters, _middle: float, gap: float) -> Letters:
    """Side by side, each lower than the one before."""
    row = _side_by_side(letters, [1.0] * len(letters), gap)
    return [affinity.translate(letter, 0.0, k * STAIR) for k, letter in enumerate(row)]


def interlaced(letters: Letters, _middle: float, gap: float) -> Letters:
    """Over each other, each passing over the next and under it by turns; the lower one is cut beside the upper."""
    found: Letters = []
    x = 0.0
    for letter in letters:
        wide = letter.bounds[2] - letter.bounds[0]
        found.append(affinity.translate(letter, x - letter.bounds[0], 0.12 * (len(found) % 2)))
        x += wide * (1 - OVERLAP)
    for k in range(len(found) - 1):
        found[k], found[k + 1] = _woven(found[k], found[k + 1], gap / 2)
    return found


def _woven(one: BaseGeometry, other: BaseGeometry, gap: float) -> tuple[BaseGeometry, BaseGeometry]:
    """Two letters that cross: where they do, from above to below, the second and the first lie lower by turns."""
    crossings = [part for part in shapely.get_parts(one.intersection(other)) if part.area > CROSSES**2]
    crossings.sort(key=lambda part: (part.centroid.y, part.centroid.x))
    upper = one, other
    for k, crossing in enumerate(crossings):
        near = crossing.buffer(3 * gap)
        if k % 2 == 0:
            other = other.difference(upper[0].buffer(gap).intersection(near))
        else:
            one = one.difference(upper[1].buffer(gap).intersection(near))
    return one, other


def one_over_two(letters: Letters, _middle: float, gap: float) -> Letters:
    """The first above the two others."""
    if len(letters) < 3:
        return stacked(letters, _middle, gap)
    low = _side_by_side(letters[1:], [1.0, 1.0], gap)
    middle = (low[0].bounds[0] + low[1].bounds[2]) / 2
    return [_centred(letters[0], (middle, -1 - gap)), *low]


def two_over_one(letters: Letters, _middle: float, gap: float) -> Letters:
    """The first two above the last."""
    if len(letters) < 3:
        return stacked(letters, _middle, gap)
    high = _side_by_side(letters[:2], [1.0, 1.0], gap)
    middle = (high[0].bounds[0] + high[1].bounds[2]) / 2
    return [*high, _centred(letters[2], (middle, 1 + gap))]


def arch(letters: Letters, _middle: float, gap: float) -> Letters:
    """Upright on an arc, as over a door."""
    row = _side_by_side(letters, [1.0] * len(letters), gap)
    long = row[-1].bounds[2] - row[0].bounds[0]
    radius = max(long / max(math.radians(ARCH) * len(letters), 1e-6), 1.2)
    middle = (row[0].bounds[0] + row[-1].bounds[2]) / 2
    found = []
    for letter in row:
        at = (letter.bounds[0] + letter.bounds[2]) / 2
        turn = (at - middle) / radius
        home = affinity.translate(letter, middle - at, 0.0)
        found.append(affinity.rotate(home, turn, origin=(middle, radius), use_radians=True))
    return found


def _bent(wide: float, top: Callable[[Floats], Floats], low: Callable[[Floats], Floats]) -> Arrange:
    """Letters in a row that fills an outline which is so ``wide``: ``top`` and ``low`` are its heights over a line.

    They take where one is across, from -1 to 1, and y is upwards.
    """

    def arrange(letters: Letters, middle: float, gap: float) -> Letters:
        row = _side_by_side(letters, [1.0] * len(letters), 0.0)
        share = np.array([one.bounds[2] - one.bounds[0] for one in row]) * _sizes(letters, middle)
        room = wide - gap * (len(letters) - 1)
        found, x = [], 0.0
        for letter, part in zip(row, share / share.sum() * room, strict=True):
            left, _, right, _ = letter.bounds
            begin, factor = x, part / (right - left)

            def lay(xy: Floats, left: float = left, begin: float = begin, factor: float = factor) -> Floats:
                across = begin + (xy[:, 0] - left) * factor
                at = np.clip(2 * across / wide - 1, -1.0, 1.0)
                high, foot = top(at), low(at)
                return np.column_stack([across, -(foot + (high - foot) * -xy[:, 1])])

            found.append(shapely.make_valid(shapely.transform(shapely.segmentize(letter, FINE), lay)))
            x += part + gap
        return found

    return arrange


def _roof(at: Floats) -> Floats:
    """A pointed roof over a body, as of a lantern."""
    return np.asarray(0.55 + 0.75 * (1 - np.abs(at)))


ARRANGEMENTS: dict[Arrangement, Arrange] = {
    "in a row": in_a_row,
    "middle larger": middle_larger,
    "stacked": stacked,
    "stairs": stairs,
    "interlaced": interlaced,
    "one over two": one_over_two,
    "two over one": two_over_one,
    "diamond": _bent(2.0, lambda at: 0.16 + 0.84 * (1 - np.abs(at)), lambda at: -0.16 - 0.84 * (1 - np.abs(at))),
    "circle": _bent(2.0, lambda at: np.sqrt(1.04 - at**2), lambda at: -np.sqrt(1.04 - at**2)),
    "lantern": _bent(1.7, _roof, lambda at: np.full_like(at, -1.0)),
    "pennant": _bent(2.4, lambda at: 0.65 - 0.35 * at, lambda at: -0.65 + 0.35 * at),
    "arch": arch,
}


def _centred(letter: BaseGeometry, at: tuple[float, float]) -> BaseGeometry:
    """A letter whose middle across is at x, its foot at y."""
    return affinity.translate(letter, at[0] - (letter.bounds[0] + letter.bounds[2]) / 2, at[1])
