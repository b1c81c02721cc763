"""What thread does to the cloth that it lies on: the eigenstrain of the stitches of an object, part by part of it.

Each stitch pulls its two needle points together, less where stitches are short, since their rows hold more thread;
and rows side by side push each other apart. Both are in proportion to how much of an element the thread covers, so
that stitches add up. Thread that lies beneath, underlay or objects sewn before, takes a part of both.
"""

from dataclasses import dataclass

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
from numpy.typing import NDArray

from jontel.design.cloth import Cloth
from jontel.forecast.sheet import Sheet
from jontel.geometry.hatch import spread_along
from jontel.geometry.polyline import Floats
from jontel.sewing.plan import Piece
from jontel.stitching.stitches import Layer

STEP = 0.5
"""Stitches are laid into the elements in pieces no longer than this, mm."""
HELD = 0.6
"""The part of a stitch that holds thread, mm: in one as short as this only half of the thread pulls."""
SPREAD = 3.0
"""Underlay holds the cloth so far about it, mm: its rows stand apart."""
OVER = (int(Layer.COVER), int(Layer.TRAVEL), int(Layer.LOCK))


@dataclass(frozen=True, eq=False)
class Parcels:
    """The eigenstrain of a piece in parcels: (k, 3, ny-1, nx-1), and where each row stands among them.

    ``place`` (n,) counts parcels and parts of one from the start of the piece to each of its rows; ``laid``
    (ny-1, nx-1) is how often its thread covers each element.
    """

    strain: Floats
    place: Floats
    laid: Floats


def parcels_of(
    piece: Piece, sheet: Sheet, cloth: Cloth, wide: float, longest: float, under: Floats | None = None
) -> Parcels:
    """The eigenstrain of a piece whose thread covers ``wide`` mm across, in parcels of up to ``longest`` mm of it.

    ``under`` (ny-1, nx-1) is how often thread of earlier pieces covers each element.
    """
    sewn = piece.sewn
    sizes = np.where(sewn, piece.sizes, 0.0)
    along = np.cumsum(sizes)
    total = float(along[-1]) if len(along) else 0.0
    count = max(1, int(np.ceil(total / longest - 1e-9)))
    place = along / max(total, 1e-9) * count
    before = np.vstack([piece.around.at, piece.xy[:-1]])
    rows = np.flatnonzero(sewn & (piece.sizes > 1e-6))
    start, stop, size = before[rows], piece.xy[rows], piece.sizes[rows]
    parts = np.maximum(1, np.ceil(size / STEP)).astype(np.int64)
    spots, owner = spread_along(start, stop, parts)
    down, across = sheet.cell_of(spots)
    high, broad = sheet.shape
    cell = down * broad + across
    cover = wide * size[owner] / parts[owner] / sheet.areas.reshape(-1)[cell]  # how much of its element each covers
    over = np.isin(piece.layer[rows], OVER)[owner]
    earlier: Floats = np.zeros((high, broad)) if under is None else under
    own = _laid(cell, cover, sheet)
    beneath = _laid(cell[~over], cover[~over], sheet) + earlier
    held = _about(beneath, sheet).reshape(-1)
    first = _about(earlier, sheet).reshape(-1)
    holds = np.where(over, held[cell], first[cell])
    weight = cover * (size / (size + HELD))[owner] / (1.0 + cloth.hold * holds)
    way = ((stop - start) / size[:, None])[owner]
    cc, ss, cs = way[:, 0] ** 2, way[:, 1] ** 2, way[:, 0] * way[:, 1]
    which = np.minimum((place[rows] - 1e-9).astype(np.int64), count - 1)[owner]
    key = which * (high * broad) + cell
    strain = np.zeros((count, 3, high, broad))
    for number, each in enumerate(
        (
            -cloth.pull * cc + cloth.push * ss,
            -cloth.pull * ss + cloth.push * cc,
            -2 * (cloth.pull + cloth.push) * cs,
        )
    ):
        laid = np.bincount(key, weight * each, count * high * broad)
        strain[:, number] = laid.reshape(count, high, broad)
    return Parcels(strain, place, own)


def _laid(cell: NDArray[np.int64], cover: Floats, sheet: Sheet) -> Floats:
    """How often thread covers each element, (ny-1, nx-1)."""
    return np.asarray(np.bincount(cell, cover, sheet.areas.size).reshape(sheet.shape), dtype=np.float64)


def _about(covered: Floats, sheet: Sheet) -> Floats:
    """How often thread covers the cloth about each element."""
    spacing = float(np.min(np.diff(sheet.xs)))
    found: Floats = scipy.ndimage.uniform_filter(covered, size=max(1, round(SPREAD / spacing)), mode="nearest")
    return found


def covered(pieces: "tuple[Piece, ...]") -> float:
    """How much thread lies on the cloth in all, mm."""
    return float(sum(np.where(one.sewn, one.sizes, 0.0).sum() for one in pieces))
