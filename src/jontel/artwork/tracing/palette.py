"""The flat colours of a picture: those of its even places, and those of lines too thin to have any.

Edges are blended by antialiasing and smeared by JPEG: their colours are none of the picture's. So colours are counted
where a picture is even, by the mean shift of D. Comaniciu and P. Meer, "Mean shift: a robust approach toward feature
space analysis" (2002), with a flat kernel over a histogram, the most frequent first.
"""

import itertools
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from jontel.artwork.tracing.colours import TO_LIGHT, Floats, lab, off_blends
from jontel.design.stopping import go_on

Bools = NDArray[np.bool_]
BIN, CELLS = 3.0, 256
"""How fine colours are counted, in CIELAB, and more than so many cells there are not in any direction."""
ALIKE, ALIKE_SMEARED = 5.5, 2.5
"""How far a flat colour spreads, in CIELAB, and by how much more where JPEG has smeared it."""
SAME, SATELLITE, FEW = 1.4, 1.6, 0.12
"""Colours are one that are nearer than so many times that; where JPEG has smeared them rare ones go to others
that are nearer than so many times more."""
EVEN, EVEN_SMEARED = 5.0, 4.0
"""A place is even where its neighbours differ by no more than this and what noise and JPEG make of it."""
BROAD, BROAD_LINE = 0.08, 0.5
"""So much of a smeared picture's colour lies among its own: what JPEG leaves beside edges does not."""
LEAST_EVEN = 0.02
"""Of a picture that is even at less than this part of its places all are taken."""
LEAST_PART, LEAST_PIXELS = 0.0004, 14
"""A colour has at least so much of the even places, and so many pixels."""
UNEXPLAINED = 34.0
"""Colours of lines are at least so far, in RGB, from every blend of two others."""
NEAR = 4
"""And those two are no farther away than so many pixels."""
LINE_PART = 0.0008
"""They have at least so much of the picture."""
UNREST = 0.8
"""Noise spreads a flat colour as this part of it, in CIELAB, would as the smear of a JPEG."""
TREMBLES, SHAKES = 1.0, 3.0
"""A picture whose light trembles by more than the first, in CIELAB, is evened, and more so beyond the second."""
ROUNDS, MOST_MODES = 8, 100
"""A mode is found in so few steps; more modes than that are noise."""


@dataclass(frozen=True, eq=False)
class Palette:
    """Colours (n, 3) of 0 to 255, those of even places first; which places are even (h, w).

    Where hue is ``smeared`` edges have more colours than blends. ``colours`` (h, w, 3) is the picture in CIELAB.
    """

    rgb: Floats
    even: Bools
    noise: float
    smeared: bool
    colours: Floats


def palette_of(rgb: Floats, most: int, smear: float) -> Palette:
    """The colours of a picture (h, w, 3), ``most`` at most.

    ``smear`` is how much JPEG has smeared them: 0 not at all, 1 as at a quality of 50.
    """
    colours = lab(rgb)
    noise = _noise(colours[..., 0])
    spread = np.max(
        [ndimage.maximum_filter(c, 3) - ndimage.minimum_filter(c, 3) for c in np.moveaxis(colours, -1, 0)], axis=0
    )
    even = np.asarray(spread <= EVEN + EVEN_SMEARED * smear + 6 * noise)
    pixels = even.size
    least = max(LEAST_PIXELS, LEAST_PART * pixels)
    chosen = even if even.mean() > LEAST_EVEN else np.ones(even.shape, dtype=bool)
    unrest = smear + UNREST * noise
    found = _modes(colours[chosen], least, unrest)
    if smear > 0:
        found = _without_rims(rgb, chosen, found)
    found = found or [np.ones(int(chosen.sum()), dtype=bool)]  # a picture of a few pixels, or of nothing but noise
    middle = np.array([rgb[chosen][one].mean(axis=0) for one in found])
    counts = [float(one.sum()) for one in found]
    flat = len(found)
    if flat < most:
        around = [grown(_mask(chosen, one), NEAR) for one in found]
        least = max(LEAST_PIXELS, LINE_PART * pixels)
        more, some = _line_colours(rgb, colours, ~even, around, middle, least, smear)
        middle, counts = np.vstack([middle, more]), counts + some
    return Palette(_fewer(middle, np.array(counts), flat, most), even, noise, smear > 0, colours)


def calmed(rgb: Floats) -> Floats:
    """A picture (h, w, 3) that trembles, evened by a median, which keeps its edges; another as it is."""
    noise = _noise(rgb @ TO_LIGHT[0] / 2.55)
    if noise <= TREMBLES:
        return rgb
    wide = 3 if noise < SHAKES else 5
    return np.stack([ndimage.median_filter(rgb[..., k], wide) for k in range(3)], axis=-1)


def _noise(light: Floats) -> float:
    """How much light (h, w) trembles: by the median of J. Immerkær, "Fast noise variance estimation" (1996)."""
    if min(light.shape) < 5:
        return 0.0
    kernel = np.array([[1.0, -2.0, 1.0], [-2.0, 4.0, -2.0], [1.0, -2.0, 1.0]])
    return float(np.median(np.abs(ndimage.convolve(light, kernel))) / (6 * 0.6745))


def _modes(colours: Floats, least: float, smear: float) -> list[Bools]:
    """Which of ``colours`` (n, 3) belong to each mode, the most frequent first, none of fewer than ``least``."""
    alike = ALIKE + ALIKE_SMEARED * smear
    same, satellite = SAME * alike, (SAME + SATELLITE * smear) * alike
    cells = np.floor(colours / BIN).astype(np.int64) + CELLS // 2
    keys = (cells[:, 0] * CELLS + cells[:, 1]) * CELLS + cells[:, 2]
    spots, owner, counts = np.unique(keys, return_inverse=True, return_counts=True)
    sums = np.stack([np.bincount(owner, colours[:, k], len(spots)) for k in range(3)], axis=1)
    middle = sums / counts[:, None]
    free = np.ones(len(spots), dtype=bool)
    taken: list[tuple[Floats, Bools]] = []
    while free.any() and len(taken) < MOST_MODES:
        at = middle[np.argmax(np.where(free, counts, 0))]
        for _ in range(ROUNDS):
            near = free & (np.linalg.norm(middle - at, axis=1) < alike)
            if not near.any():
                break
            moved = sums[near].sum(axis=0) / counts[near].sum()
            done = np.linalg.norm(moved - at) < 0.2
            at = moved
            if done:
                break
        own = free & (np.linalg.norm(middle - at, axis=1) < alike)
        own[np.argmax(np.where(free, counts, 0))] = True
        free &= ~own
        taken.append((at, own))
    kept: list[tuple[Floats, Bools, float]] = []
    for at, own in sorted(taken, key=lambda one: -int(counts[one[1]].sum())):
        own_count = float(counts[own].sum())
        for number, (middle_of, others, count) in enumerate(kept):
            gap = float(np.linalg.norm(at - middle_of))
            if gap < same or (gap < satellite and own_count < FEW * count):
                kept[number] = (middle_of, others | own, count)
                break
        else:
            kept.append((at, own, own_count))
    found = [own[owner] for _, own, _ in kept if counts[own].sum() >= least]
    return sorted(found, key=lambda one: -int(one.sum()))


def _without_rims(rgb: Floats, where: Bools, found: list[Bools]) -> list[Bools]:
    """Modes of the places ``where`` (h, w) without those that JPEG may have made between two others: thin ones."""
    broad = [_is_broad(where, one, 3, BROAD) for one in found]
    middle = [rgb[where][one].mean(axis=0) for one in found]
    sure = [one for one, wide in zip(middle, broad, strict=True) if wide]

    def is_rim(colour: Floats) -> bool:
        pairs = itertools.combinations(sure, 2)
        return any(off_blends(colour[None], *pair, True)[0] < UNEXPLAINED for pair in pairs)

    return [one for one, wide, colour in zip(found, broad, middle, strict=True) if wide or not is_rim(colour)]


def _is_broad(where: Bools, own: Bools, wide: int, part: float) -> bool:
    """Whether a ``part`` of the places (h, w) that are a colour's ``own`` (n,) lie in ``wide`` squares of them."""
    return bool(ndimage.minimum_filter(_mask(where, own), wide).sum() > part * own.sum())


def _mask(where: Bools, own: Bools) -> Bools:
    """Those of the places ``where`` (h, w) that are a colour's ``own`` (n,), (h, w)."""
    mask = np.zeros(where.shape, dtype=bool)
    mask[where] = own
    return mask


def grown(mask: Bools, by: int) -> Bools:
    """A mask with all that is no farther from it than ``by`` pixels, along the rows and columns."""
    return np.asarray(ndimage.maximum_filter(mask, 2 * by + 1))


def _line_colours(
    rgb: Floats, colours: Floats, where: Bools, around: list[Bools], known: Floats, least: float, smear: float
) -> tuple[Floats, list[float]]:
    """Colours of places (h, w) that are no blend of two known ones, both near, and how often each is there.

    ``around`` (h, w) is where each known one is near.
    """
    gap = np.full(where.shape, np.inf)
    for k in range(len(known)):
        go_on()
        for other in range(k, len(known)):
            both = where & around[k] & around[other]
            if both.any():
                gap[both] = np.minimum(gap[both], off_blends(rgb[both], known[k], known[other], smear > 0))
    far = where & (gap > UNEXPLAINED)
    found = _modes(colours[far], least, smear) if far.any() else []
    if smear > 0:
        found = [one for one in found if _is_broad(far, one, 2, BROAD_LINE)]
    return np.array([rgb[far][one].mean(axis=0) for one in found]).reshape(-1, 3), [float(one.sum()) for one in found]


def _fewer(rgb: Floats, counts: Floats, flat: int, most: int) -> Floats:
    """Colours merged, those first of which least is lost, until there are ``most``; the first ``flat`` stay first."""
    lines = np.arange(len(rgb)) >= flat
    while len(rgb) > max(most, 1):
        colours = lab(rgb)
        gap = np.linalg.norm(colours[:, None] - colours[None], axis=-1) ** 2
        cost = gap * (counts[:, None] * counts[None] / (counts[:, None] + counts[None]))
        np.fill_diagonal(cost, np.inf)
        one, other = sorted(np.unravel_index(int(np.argmin(cost)), cost.shape))
        whole = counts[one] + counts[other]
        rgb[one] = (rgb[one] * counts[one] + rgb[other] * counts[other]) / whole
        counts[one], lines[one] = whole, lines[one] and lines[other]
        rgb, counts, lines = np.delete(rgb, other, axis=0), np.delete(counts, other), np.delete(lines, other)
    return np.asarray(rgb[np.lexsort((-counts, lines))])
