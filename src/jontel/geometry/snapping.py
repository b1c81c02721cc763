"""Where a dragged place snaps to: nodes first, then guides and outlines, then the grid."""

from collections.abc import Iterable, Sequence, Set
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from jontel.design.shapes import Point
from jontel.geometry.nodes import Chain, Chains, nearest_on, place_on
from jontel.geometry.polyline import Floats

MOST_LOOK = 48.0
"""A picture is looked at over no more pixels than this to every side."""
CLEAR = 9.0
"""Colours that change by less from pixel to pixel, of 255, are no edge."""
Sort = Literal["node", "outline", "guide", "grid", "artwork"]
NODE: Sort = "node"
OUTLINE: Sort = "outline"
ARTWORK: Sort = "artwork"


@dataclass(frozen=True)
class Snap:
    """Where a place snaps to, and what is there."""

    place: Point
    sort: Sort


@dataclass(frozen=True, eq=False)
class Tracks:
    """Many outlines, by their boxes (n, 4), so that those near a place are found without looking at each."""

    chains: tuple[Chain, ...]
    owners: tuple[int, ...]
    boxes: Floats

    @classmethod
    def of(cls, outlines: Iterable[tuple[int, Chains]]) -> "Tracks":
        """Outlines, each with whose it is."""
        pairs = [(owner, chain) for owner, chains in outlines for chain in chains if len(chain)]
        boxes = [(*every.min(axis=0), *every.max(axis=0)) for every in (_all_places(chain) for _, chain in pairs)]
        owners, chains = tuple(owner for owner, _ in pairs), tuple(chain for _, chain in pairs)
        return cls(chains, owners, np.array(boxes, dtype=np.float64).reshape(-1, 4))

    def near(self, place: Point, reach: float, without: Set[int] = frozenset()) -> list[Chains]:
        """Those within ``reach`` mm of a place, but for those of some owners."""
        (x, y), boxes = place, self.boxes
        on = (boxes[:, 0] <= x + reach) & (boxes[:, 2] >= x - reach)
        on &= (boxes[:, 1] <= y + reach) & (boxes[:, 3] >= y - reach)
        return [(self.chains[k],) for k in np.flatnonzero(on).tolist() if self.owners[k] not in without]


def _all_places(chain: Chain) -> Floats:
    return np.vstack([chain.at, chain.before, chain.after])


@dataclass(frozen=True)
class Targets:
    """What a place can snap to: outlines, those of artwork that is drawn, upright and level guides (mm), the grid's
    step (mm, 0: none), and boxes of artwork, (left, top, right, bottom), with what their pictures show."""

    outlines: Sequence[Chains] = ()
    upright: Sequence[float] = ()
    level: Sequence[float] = ()
    grid: float = 0.0
    origin: Point = (0.0, 0.0)
    boxes: Sequence[tuple[float, float, float, float]] = ()
    pictures: Sequence["Picture"] = ()
    drawings: Sequence[Chains] = ()


@dataclass(frozen=True, eq=False)
class Picture:
    """The colours of a picture, (high, wide, 3) uint8, and its box on the cloth (left, top, right, bottom), mm."""

    colours: NDArray[np.uint8]
    box: tuple[float, float, float, float]

    def edge_near(self, place: Point, reach: float) -> Point | None:
        """The place of the clearest edge of colours within ``reach`` mm, nearer ones first; ``None`` without one.

        The clearest is where colours change most from pixel to pixel (J. Canny, "A computational approach to edge
        detection", 1986, without its thresholds); its place is the middle of that change.
        """
        high, wide = self.colours.shape[:2]
        left, top, right, low = self.box
        per_mm = (wide / (right - left), high / (low - top))
        x, y = (place[0] - left) * per_mm[0] - 0.5, (place[1] - top) * per_mm[1] - 0.5
        across, down = min(MOST_LOOK, reach * per_mm[0]), min(MOST_LOOK, reach * per_mm[1])
        x0, x1 = max(0, int(x - across) - 1), min(wide, int(x + across) + 3)
        y0, y1 = max(0, int(y - down) - 1), min(high, int(y + down) + 3)
        if x1 - x0 < 4 or y1 - y0 < 4:
            return None
        window = self.colours[y0:y1, x0:x1].astype(np.float64)
        by_y, by_x = np.gradient(window, axis=(0, 1))
        change = np.hypot(by_x, by_y).max(axis=2)
        xs, ys = np.arange(x0, x1)[None, :], np.arange(y0, y1)[:, None]
        far = np.hypot((xs - x) / max(across, 1e-9), (ys - y) / max(down, 1e-9))
        weight = np.where(far <= 1, change * (1 - 0.7 * far), 0.0)
        best = int(weight.argmax())
        row, column = divmod(best, weight.shape[1])
        if change[row, column] < CLEAR or weight[row, column] <= 0:
            return None
        some = (slice(max(0, row - 1), row + 2), slice(max(0, column - 1), column + 2))
        near = change[some]
        spot_x = float((near * np.broadcast_to(xs, change.shape)[some]).sum() / near.sum())
        spot_y = float((near * np.broadcast_to(ys, change.shape)[some]).sum() / near.sum())
        return left + (spot_x + 0.5) / per_mm[0], top + (spot_y + 0.5) / per_mm[1]


def snapped(place: Point, reach: float, targets: Targets) -> Snap | None:
    """Where ``place`` snaps to within ``reach`` mm; ``None`` where nothing is near."""
    spot = np.asarray(place)
    for outlines, sort in ((targets.outlines, NODE), (targets.drawings, ARTWORK)):
        node = _node_near(spot, reach, outlines)
        if node is not None:
            return Snap(node, sort)
    corner = _on_boxes(place, reach, targets)
    if corner is not None:
        return corner
    x = min((g for g in targets.upright if abs(g - place[0]) <= reach), key=lambda g: abs(g - place[0]), default=None)
    y = min((g for g in targets.level if abs(g - place[1]) <= reach), key=lambda g: abs(g - place[1]), default=None)
    if x is not None or y is not None:
        return Snap((place[0] if x is None else x, place[1] if y is None else y), "guide")
    for outlines, sort in ((targets.outlines, OUTLINE), (targets.drawings, ARTWORK)):
        on_line = _line_near(place, reach, outlines)
        if on_line is not None:
            return Snap(on_line, sort)
    for picture in targets.pictures:
        seen = picture.edge_near(place, reach)
        if seen is not None:
            return Snap(seen, "artwork")
    if targets.grid > 0:
        origin = np.asarray(targets.origin)
        at = origin + np.round((spot - origin) / targets.grid) * targets.grid
        if np.hypot(*(at - spot)) <= reach:
            return Snap((float(at[0]), float(at[1])), "grid")
    return None


def _near(spot: Floats, reach: float, outlines: Sequence[Chains]) -> list[Chains]:
    """The chains of outlines whose boxes are within reach."""
    found: list[Chains] = []
    for chain in (one for chains in outlines for one in chains):
        every = _all_places(chain)
        if ((spot >= every.min(axis=0) - reach) & (spot <= every.max(axis=0) + reach)).all():
            found.append((chain,))
    return found


def _node_near(spot: Floats, reach: float, outlines: Sequence[Chains]) -> Point | None:
    """The nearest node within reach."""
    best: tuple[float, Point] | None = None
    for (chain,) in _near(spot, reach, outlines):
        gaps = np.hypot(*(chain.at - spot).T)
        k = int(gaps.argmin())
        if gaps[k] <= reach and (best is None or gaps[k] < best[0]):
            best = (float(gaps[k]), (float(chain.at[k, 0]), float(chain.at[k, 1])))
    return None if best is None else best[1]


def _line_near(place: Point, reach: float, outlines: Sequence[Chains]) -> Point | None:
    """The nearest place on a line, nearer than a node would have to be."""
    best: tuple[float, Point] | None = None
    for chains in _near(np.asarray(place), reach, outlines):
        found = nearest_on(chains, place)
        if found is not None and found[3] <= 0.75 * reach and (best is None or found[3] < best[0]):
            at = place_on(chains[found[0]], found[1], found[2])
            best = (found[3], (float(at[0]), float(at[1])))
    return None if best is None else best[1]


def _on_boxes(place: Point, reach: float, targets: Targets) -> Snap | None:
    """A corner, the middle or an edge of a piece of artwork."""
    for left, top, right, low in targets.boxes:
        xs, ys = (left, (left + right) / 2, right), (top, (top + low) / 2, low)
        x = min(xs, key=lambda one: abs(one - place[0]))
        y = min(ys, key=lambda one: abs(one - place[1]))
        on_x, on_y = abs(x - place[0]) <= reach, abs(y - place[1]) <= reach
        inside = left - reach <= place[0] <= right + reach and top - reach <= place[1] <= low + reach
        if inside and on_x and on_y:
            return Snap((x, y), "artwork")
        if inside and (on_x and x != xs[1]):
            return Snap((x, place[1]), "artwork")
        if inside and (on_y and y != ys[1]):
            return Snap((place[0], y), "artwork")
    return None
