"""The forecast: where every stitch and every edge will lie when all of it is sewn.

Every piece of the sew-out moves the cloth by a field of its own, which depends on its stitches and on what lies
beneath them, and is kept with it: so an edit costs the fields of what it changed. A stitch is put where the cloth is
at that moment; what matters is what moves it afterwards: the displacement in the end less that at its time. Within a
piece the fields of its parcels add up in the order in which they are sewn.
"""

import hashlib
import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
import shapely
from numpy.typing import NDArray

from jontel.design.cloth import Cloth
from jontel.design.design import Design
from jontel.design.stopping import go_on
from jontel.forecast.cloth import cloth_of
from jontel.forecast.sheet import ELEMENT, Box, Sheet, fine_part, sheet_for
from jontel.forecast.strain import SPREAD, covered, parcels_of
from jontel.geometry.polyline import Floats
from jontel.geometry.region import Region, polygons_of
from jontel.sewing.plan import Piece, SewPlan
from jontel.stitching.stitches import Kind

PARCELS = 32
"""The sew-out is taken in about so many parcels at least, and no piece in more than its share of them."""
FINE_ELEMENT, NARROW, MOST_FINE = 0.5, 2.0, 20_000
"""Designs with shapes narrower than the second, mm, are forecast in elements of the first where these are so many."""
MOST_ELEMENTS = 30_000
"""The fine part of a sheet has no more elements than this."""
EDGE_STEP = 0.7
"""Edges are forecast at places so many mm apart."""
NEAREST = 4
"""A place at a rim moves as so many needle points about it, which may be sewn at different times."""
Fields = NDArray[np.float32]


@dataclass(frozen=True, eq=False)
class Share:
    """What a piece does to the cloth: the field of each of its parcels, and where each of its rows stands in them.

    ``laid`` is how often its thread covers each element.
    """

    fields: Fields
    place: Floats
    laid: Floats

    @cached_property
    def whole(self) -> Fields:
        """The field of all of it."""
        return np.asarray(self.fields.sum(axis=0))


@dataclass(frozen=True, eq=False)
class Forecast:
    """A plan with where it will lie; ``shares`` are its pieces', ``total`` (ny, nx, 2) is the sum."""

    plan: SewPlan
    sheet: Sheet
    cloth: Cloth
    shares: tuple[Share, ...]
    total: Fields

    def moved(self, number: int, xy: Floats, place: Floats) -> Floats:
        """How far places (n, 2) on the cloth move after the moments ``place`` (n,) in a piece, mm, (n, 2)."""
        after = self.sheet.at(self._after(number), xy)
        share = self.shares[number]
        for k, field in enumerate(share.fields):
            left = np.clip(k + 1 - place, 0.0, 1.0)  # how much of this parcel is still to come
            some = np.flatnonzero(left > 0)
            after[some] += left[some, None] * self.sheet.at(field, xy[some])
        return after

    def _after(self, number: int) -> Fields:
        """What is moved by all that comes after a piece."""
        return np.asarray(self.total - self._until[number])

    @cached_property
    def _until(self) -> list[Fields]:
        """What is moved by each piece and all before it."""
        found: list[Fields] = []
        sums = np.zeros_like(self.total)
        for share in self.shares:
            sums = sums + share.whole
            found.append(sums)
        return found

    def stitches(self, number: int) -> Floats:
        """Where the rows of a piece will lie, (n, 2)."""
        piece = self.plan.pieces[number]
        return np.asarray(piece.xy + self.moved(number, piece.xy, self.shares[number].place))

    def until(self, row: int) -> "Forecast":
        """How it lies when the plan is sewn up to a row."""
        number, within = self.plan.where(row)
        share = self.shares[number]
        place = float(share.place[within]) if len(share.place) else 0.0
        total = self._until[number] - share.whole
        for k, field in enumerate(share.fields):
            total = total + np.float32(min(max(place - k, 0.0), 1.0)) * field
        return replace(self, total=np.asarray(total))

    @cached_property
    def xy(self) -> Floats:
        """Where all rows of the plan will lie, (n, 2); its last, the end, stays."""
        if not self.plan.pieces:
            return np.zeros((0, 2))
        return np.concatenate([*(self.stitches(k) for k in range(len(self.shares))), self.plan.xy[-1:]])

    def edge(self, number: int) -> Region:
        """The edge that a piece's cover will have; empty for a run."""
        piece = self.plan.pieces[number]
        place = self.plan.overlaps.owners.index(piece.owner)
        region = self.plan.overlaps.regions[place]
        return region if region.is_empty else self.moved_region(number, region)

    @cached_property
    def edges(self) -> dict[int, Region]:
        """The edge that each object's cover will have, by its id; runs have none."""
        found = {piece.owner: self.edge(number) for number, piece in enumerate(self.plan.pieces)}
        return {owner: region for owner, region in found.items() if not region.is_empty}

    def moved_region(self, number: int, region: Region) -> Region:
        """Where a region that a piece covers will lie."""
        rings = [[np.array(ring.coords) for ring in (part.exterior, *part.interiors)] for part in dense(region).geoms]
        flat = [xy for part in rings for xy in part]
        moved = self.moved_rim(number, np.vstack(flat))
        parts, at = [], 0
        for part in rings:
            loops = []
            for xy in part:
                loops.append(moved[at : at + len(xy)])
                at += len(xy)
            parts.append(shapely.make_valid(shapely.Polygon(loops[0], loops[1:])))
        return polygons_of(shapely.unary_union(parts))

    def moved_rim(self, number: int, xy: Floats) -> Floats:
        """Where places (n, 2) at the rim of a piece will lie, (n, 2): as the needle points about them."""
        found: Floats = self.moved_ends(number, xy).mean(axis=0)
        return xy + found

    def moved_ends(self, number: int, xy: Floats) -> Floats:
        """How far places (n, 2) move with each of the needle points nearest to them, mm, (k, n, 2)."""
        piece, place = self.plan.pieces[number], self.shares[number].place
        rows = np.flatnonzero((piece.kind == Kind.STITCH) & (piece.layer == 0))
        if not len(rows):
            rows = np.flatnonzero(piece.kind == Kind.STITCH)
        near = scipy.spatial.cKDTree(piece.xy[rows]).query(xy, k=np.arange(1, min(NEAREST, len(rows)) + 1))[1]
        return np.stack([self.moved(number, xy, place[rows[one]]) for one in np.asarray(near).T])

    @cached_property
    def strain(self) -> Floats:
        """How much the cloth is shortened or widened most in each element, in the end, (ny-1, nx-1)."""
        u = self.total.astype(np.float64)
        dx, dy = np.diff(self.sheet.xs), np.diff(self.sheet.ys)
        across = np.diff(u, axis=1) / dx[None, :, None]
        down = np.diff(u, axis=0) / dy[:, None, None]
        across, down = (across[:-1] + across[1:]) / 2, (down[:, :-1] + down[:, 1:]) / 2
        xx, yy, xy = across[..., 0], down[..., 1], (across[..., 1] + down[..., 0]) / 2
        middle, radius = (xx + yy) / 2, np.hypot((xx - yy) / 2, xy)
        return np.where(np.abs(middle - radius) > np.abs(middle + radius), middle - radius, middle + radius)


def dense(region: Region) -> Region:
    """``region`` with places on its rims no farther apart than is forecast."""
    return polygons_of(shapely.segmentize(region, EDGE_STEP))


def box_of(plan: SewPlan) -> Box:
    """The box that a plan sews in."""
    boxes = np.array([one.bounds for one in plan.pieces if one.bounds is not None]).reshape(-1, 4)
    if not len(boxes):
        return 0.0, 0.0, 0.0, 0.0
    low, high = boxes[:, :2].min(axis=0), boxes[:, 2:].max(axis=0)
    return float(low[0]), float(low[1]), float(high[0]), float(high[1])


def _element_for(plan: SewPlan, box: Box) -> float:
    """How wide the elements of a plan's sheet are, mm: few of those across a narrow column say little of it."""
    left, top, right, low = fine_part(box)
    room = (right - left) * (low - top)
    narrow = any(0 < entry.width < NARROW and entry.segments is not None for entry in plan.entries)
    if narrow and room / FINE_ELEMENT**2 <= MOST_FINE:
        return FINE_ELEMENT
    return max(ELEMENT, math.sqrt(room / MOST_ELEMENTS))


def forecast(plan: SewPlan, element: float | None = None, cloth: Cloth | None = None) -> Forecast:
    """Where a plan will lie, on its ground, or on another ``cloth``. What is known of its pieces is taken over.

    Elements are 1 mm wide, half as wide for fine shapes where that takes not too long, and wider where a design would
    need too many of them.
    """
    design: Design = plan.design
    cloth = cloth or cloth_of(design.brief.ground)
    box = box_of(plan)
    if element is None:
        element = _element_for(plan, box)
    sheet = sheet_for(cloth, design.brief.hoop, box, element)
    longest = max(covered(plan.pieces) / PARCELS, 1.0)
    shares: list[Share] = []
    total = np.zeros((len(sheet.ys), len(sheet.xs), 2), np.float32)
    laid = np.zeros(sheet.shape)
    for piece in plan.pieces:
        share = _share(piece, sheet, cloth, plan.threads[piece.thread].width, longest, laid)
        shares.append(share)
        total = total + share.whole
        laid = laid + share.laid
    return Forecast(plan, sheet, cloth, tuple(shares), total)


def _share(piece: Piece, sheet: Sheet, cloth: Cloth, wide: float, longest: float, laid: Floats) -> Share:
    """What a piece does on cloth that is ``laid`` with thread already, kept with it.

    Its parcels stay as they are while they are about as long as they should be.
    """
    beneath = _beneath(piece, sheet, laid)
    about = (sheet, cloth.pull, cloth.push, cloth.hold, wide, beneath)
    known = piece.notes.get("forecast")
    if known is not None and known[0] == about and known[1] / 2 <= longest <= known[1] * 2:
        share: Share = known[2]
        return share
    go_on()
    parcels = parcels_of(piece, sheet, cloth, wide, longest, laid)
    made = Share(sheet.moved(parcels.strain), parcels.place, parcels.laid)
    piece.notes["forecast"] = (about, longest, made)
    return made


def _beneath(piece: Piece, sheet: Sheet, laid: Floats) -> bytes:
    """What lies beneath a piece, in a few bytes."""
    if piece.bounds is None:
        return b""
    corners = np.array(piece.bounds).reshape(2, 2) + np.array([[-SPREAD], [SPREAD]])
    (top, low), (left, right) = sheet.cell_of(corners)
    return hashlib.blake2b(np.round(laid[top : low + 1, left : right + 1], 3).tobytes(), digest_size=12).digest()
