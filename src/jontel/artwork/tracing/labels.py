"""Which pixel is of which colour: blended edges are put to one of their sides, specks and rims to what is round."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from jontel.artwork.tracing.colours import Floats, lab, off_blends
from jontel.artwork.tracing.palette import Bools, Palette, grown
from jontel.design.stopping import go_on

Labels = NDArray[np.int16]
Singles = NDArray[np.float32]
REACH = 3
"""A blended pixel is of a colour that has even places no farther away than so many pixels."""
WIDE = 7
"""Where JPEG smears, colours that a pixel may be blended of are no farther away than so many."""
SURE = 9.0
"""A pixel nearer to a colour than this, in CIELAB, is sure to be of it, if it is no blend."""
BLEND = 30.0
"""A pixel nearer to the blends of two colours than this, in RGB, may be one."""
RIM, MIXED = 5, 0.5
"""Where JPEG smears, patches thinner than so many pixels of which this part may be blended are rims of others."""
SPECK, MOST_PATCHES = 9, 1000
"""Patches of fewer pixels are specks; larger ones are, where there are more patches than that."""


@dataclass(frozen=True, eq=False)
class Labelled:
    """A picture whose pixels have numbers of colours (h, w), and those colours (n, 3)."""

    labels: Labels
    rgb: Floats


def labelled(rgb: Floats, palette: Palette) -> Labelled:
    """Every pixel of a picture (h, w, 3) with the number of its colour."""
    wanted = lab(palette.rgb)
    far = _distances(palette.colours, wanted)
    nearest, least = far.argmin(axis=0).astype(np.int16), far.min(axis=0)
    sure = least < SURE + 3 * palette.noise
    core = palette.even & (least < 3 * SURE)
    if palette.smeared:
        core = np.logical_or.reduce([_opened(core & (nearest == k)) for k in range(len(wanted))])
    around = np.stack([grown(core & (nearest == k), REACH) for k in range(len(wanted))])
    go_on()
    wide = np.stack([grown(one, WIDE - REACH) for one in around]) if palette.smeared else around
    blended = _blended(rgb, nearest, wide, palette)
    lines = ~palette.even & sure & ~blended
    for k in range(len(wanted)):
        around[k] |= grown(lines & (nearest == k), 1)
    possible = np.where(around, far, np.inf)
    free = around.any(axis=0) & ~core
    labels = np.where(free, possible.argmin(axis=0), nearest).astype(np.int16)
    speck, certain = SPECK, core | lines
    cleared = _without_specks(labels, certain, blended if palette.smeared else None, speck)
    while speck < labels.size and _patches(cleared) > MOST_PATCHES:
        speck *= 4  # of noise only what is large can be sewn
        cleared = _without_specks(cleared, certain, None, speck)
    return Labelled(cleared, palette.rgb)


def _distances(colours: Floats, wanted: Floats) -> Singles:
    """How far each colour of a picture (h, w, 3) is from each of some (n, 3), (n, h, w)."""
    flat, some = colours.reshape(-1, 3).astype(np.float32), wanted.astype(np.float32)
    squared = (flat * flat).sum(axis=1) - 2 * (some @ flat.T) + (some * some).sum(axis=1)[:, None]
    return np.asarray(np.sqrt(np.maximum(squared, 0)).reshape(len(wanted), *colours.shape[:2]))


def _opened(mask: Bools) -> Bools:
    """What of a mask lies in squares of three by three of its pixels: rims that are thinner do not."""
    return np.asarray(ndimage.maximum_filter(ndimage.minimum_filter(mask, 3), 3))


def _blended(rgb: Floats, nearest: Labels, around: Bools, palette: Palette) -> Bools:
    """Which pixels may be blends of two colours that are near, neither of them the one that they are nearest to."""
    found = np.zeros(nearest.shape, dtype=bool)
    some = palette.rgb
    for one in range(len(some)):
        for other in range(one + 1, len(some)):
            both = around[one] & around[other] & (nearest != one) & (nearest != other)
            if both.any():
                found[both] |= off_blends(rgb[both], some[one], some[other], palette.smeared) < BLEND
    return found


def _patches(labels: Labels) -> int:
    """How many patches of one colour there are."""
    return sum(int(ndimage.label(labels == k)[1]) for k in np.unique(labels))


def _without_specks(labels: Labels, sure: Bools, blended: Bools | None, speck: int) -> Labels:
    """Labels without patches smaller than a ``speck``, or of which no pixel is sure: those become what is nearest.

    Nor are there patches that are thin and mostly ``blended``.
    """
    gone = np.zeros(labels.shape, dtype=bool)
    for k in np.unique(labels):
        go_on()
        own = labels == k
        patches, count = ndimage.label(own)
        which = patches.ravel()
        sizes = np.bincount(which, minlength=count + 1)
        certain = np.bincount(which, sure.ravel(), minlength=count + 1)
        bad = (sizes < speck) | (certain < np.minimum(2, sizes / 8))
        if blended is not None:
            broad = np.bincount(which, ndimage.minimum_filter(own, RIM).ravel(), minlength=count + 1)
            mixed = np.bincount(which, blended.ravel(), minlength=count + 1)
            bad |= (broad == 0) & (mixed > MIXED * sizes)
        bad[0] = False
        gone |= bad[patches]
    if not gone.any() or gone.all():
        return labels
    _, (y, x) = ndimage.distance_transform_edt(gone, return_indices=True)
    return np.asarray(labels[y, x])
