"""Where a dragged place snaps to: nodes first, then guides and outlines, then the grid."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from jontel.design.shapes import Point
from jontel.geometry.nodes import Chains, nearest_on, place_on

Sort = Literal["node", "middle", "outline", "guide", "grid", "artwork"]


@dataclass(frozen=True)
class Snap:
    """Where a place snaps to, and what is there."""

    place: Point
    sort: Sort


@dataclass(frozen=True)
class Targets:
    """What a place can snap to: outlines, upright and level guides (mm), the grid's step (mm, 0: none), and boxes of
    artwork, (left, top, right, bottom)."""

    outlines: Sequence[Chains] = ()
    upright: Sequence[float] = ()
    level: Sequence[float] = ()
    grid: float = 0.0
    origin: Point = (0.0, 0.0)
    boxes: Sequence[tuple[float, float, float, float]] = ()


def snapped(place: Point, reach: float, targets: Targets) -> Snap | None:
    """Where ``place`` snaps to within ``reach`` mm; ``None`` where nothing is near."""
    spot = np.asarray(place)
    best: tuple[float, Point] | None = None
    near: list[Chains] = []
    for chains in targets.outlines:
        for chain in chains:
            everything = np.vstack([chain.at, chain.before, chain.after])
            low, high = everything.min(axis=0) - reach, everything.max(axis=0) + reach
            if not ((spot >= low) & (spot <= high)).all():
                continue
            near.append((chain,))
            gaps = np.hypot(*(chain.at - spot).T)
            k = int(gaps.argmin())
            if gaps[k] <= reach and (best is None or gaps[k] < best[0]):
                best = (float(gaps[k]), (float(chain.at[k, 0]), float(chain.at[k, 1])))
    if best is not None:
        return Snap(best[1], "node")
    corner = _on_boxes(place, reach, targets)
    if corner is not None:
        return corner
    x = min((g for g in targets.upright if abs(g - place[0]) <= reach), key=lambda g: abs(g - place[0]), default=None)
    y = min((g for g in targets.level if abs(g - place[1]) <= reach), key=lambda g: abs(g - place[1]), default=None)
    if x is not None or y is not None:
        return Snap((place[0] if x is None else x, place[1] if y is None else y), "guide")
    for chains in near:
        found = nearest_on(chains, place)
        if found is not None and found[3] <= 0.75 * reach and (best is None or found[3] < best[0]):
            at = place_on(chains[found[0]], found[1], found[2])
            best = (found[3], (float(at[0]), float(at[1])))
    if best is not None:
        return Snap(best[1], "outline")
    if targets.grid > 0:
        origin = np.asarray(targets.origin)
        at = origin + np.round((spot - origin) / targets.grid) * targets.grid
        if np.hypot(*(at - spot)) <= reach:
            return Snap((float(at[0]), float(at[1])), "grid")
    return None


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
