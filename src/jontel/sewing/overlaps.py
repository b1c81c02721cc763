"""Who lies over whom: the cloth that each object covers, by place; computed once and carried on by edits."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from jontel.design.design import Design, StitchObject
from jontel.design.errors import CannotStitch
from jontel.design.ground import Ground
from jontel.design.kinds import traits_of
from jontel.design.resolve import resolve
from jontel.design.shapes import Point
from jontel.design.stopping import go_on
from jontel.design.store import kept
from jontel.geometry.inside import inside_path
from jontel.geometry.polyline import Floats, flatten
from jontel.geometry.region import Region, polygons_of
from jontel.stitching.covers.fill import region_for
from jontel.stitching.engine import sewn_edge

HIDDEN_BUT_FOR = 0.05
"""A connection counts as hidden when less than this of it shows, mm."""
ASIDE = 8.0
"""How far beside the straight one a hidden way is looked for, mm."""
NOWHERE = (np.inf, np.inf, -np.inf, -np.inf)


@kept
def edge_or_nothing(item: StitchObject, ground: Ground) -> Region:
    """The edge that an object's cover is sewn to; empty for one that cannot be stitched."""
    go_on()
    try:
        return sewn_edge(resolve(item, ground))
    except CannotStitch:
        return Region()


def covered_by(item: StitchObject, design: Design) -> Region:
    """The cloth that an object's cover hides; empty for a run or one that cannot be stitched."""
    return edge_or_nothing(item, design.brief.ground)


@kept
def _band(path: str) -> Region:
    return polygons_of(shapely.unary_union([shapely.LineString(one.loop()).buffer(0.2) for one in flatten(path)]))


def band_of_run(item: StitchObject) -> Region:
    """A thread's width along what covers no cloth; empty for what has no path of its own."""
    path = getattr(item.shape, "path", "")
    return _band(path) if path and traits_of(item.cover).visible else Region()


def footprint(item: StitchObject, design: Design) -> Region:
    """The cloth that an object lies on: what it covers, or a thread's width along a run."""
    region = covered_by(item, design)
    if not traits_of(item.cover).visible:
        return region_for(item.shape)
    path = getattr(item.shape, "path", "")
    return _band(path) if region.is_empty and path else region


def bounds_of(region: BaseGeometry) -> tuple[float, float, float, float]:
    """The box round a region; a box that meets none for an empty one."""
    return NOWHERE if region.is_empty else region.bounds


Box = tuple[float, float, float, float]
Bends = tuple[Point, ...]


Told = tuple[Box, Any]
"""An answer, and the box in which a change of others alters it."""


@dataclass(frozen=True, eq=False)
class Overlaps:
    """What each object of a design covers, in sewing order: regions and their boxes (n, 4).

    ``told`` are, by the place that it was asked for, the answers given about what lies over a box, under keys of what
    is asked; ``reaches`` (n, 4) are the boxes round those of each place. They go on to the next edit's where nothing
    near the box changed. ``anew`` are the places of which something has to be asked again; ``None`` are all.
    """

    owners: tuple[int, ...]
    regions: tuple[Region, ...]
    boxes: Floats
    told: dict[int, dict[Hashable, Told]]
    reaches: Floats
    anew: frozenset[int] | None = None

    @classmethod
    def of(cls, owners: tuple[int, ...], regions: tuple[Region, ...], before: Overlaps | None = None) -> Overlaps:
        """The overlaps of ``regions``; what those that stayed in their place tell is taken from ``before``."""
        if before is None or before.owners != owners:
            boxes = np.array([bounds_of(one) for one in regions]).reshape(-1, 4)
            return cls(owners, regions, boxes, {}, np.tile(NOWHERE, (len(regions), 1)))
        changed = [k for k, (a, b) in enumerate(zip(before.regions, regions, strict=True)) if a is not b]
        if not changed:
            return before
        boxes = before.boxes.copy()
        boxes[changed] = [bounds_of(regions[k]) for k in changed]
        touched = np.vstack([before.boxes[changed], boxes[changed]])
        told, reaches = dict(before.told), before.reaches.copy()
        near = np.flatnonzero(np.any([_meet(reaches, box) for box in touched], axis=0)).tolist()
        for place in near:
            told[place] = {key: one for key, one in told[place].items() if not _meet(touched, one[0]).any()}
            reaches[place] = _round([box for box, _ in told[place].values()])
        anew = frozenset(place for place in near if len(told[place]) < len(before.told[place]))
        return cls(owners, regions, boxes, told, reaches, anew)

    def answer(self, place: int, key: Hashable) -> Any:
        """What was told of ``key`` for the object at ``place``; ``None`` where nothing was."""
        known = self.told.get(place, {}).get(key)
        return None if known is None else known[1]

    def tell(self, place: int, key: Hashable, box: Box, answer: Any) -> None:
        """Keep an answer that holds until something changes in ``box``.

        The plan before may have the same answers, and does not hear of this one: it was not asked of its regions.
        """
        self.told[place] = {**self.told.get(place, {}), key: (box, answer)}
        self.reaches[place] = _round([box, tuple(self.reaches[place].tolist())])

    def later(self, place: int, box: Box) -> NDArray[np.int64]:
        """The objects sewn after ``place`` whose box meets ``box``, in sewing order."""
        return np.flatnonzero(_meet(self.boxes[place + 1 :], box)) + place + 1

    def beside(self, start: Point, stop: Point, place: int) -> float:
        """How much of the straight way from ``start`` to ``stop`` leads beside the object at ``place``, mm."""
        key = ("beside", start, stop)
        known: float | None = self.answer(place, key)
        if known is None:
            (x0, x1), (y0, y1) = (sorted(pair) for pair in zip(start, stop, strict=True))
            known = float(shapely.LineString([start, stop]).difference(self.regions[place]).length)
            self.tell(place, key, (x0, y0, x1, y1), known)
        return known

    def way_under(self, start: Point, stop: Point, after: int, bare: float) -> Bends | None:
        """The bends of a way from ``start`` to ``stop``, mm, under what is sewn after place ``after``; else ``None``.

        The straight one, of which nothing may show, or one round inside a single piece of cloth that is covered
        later and that both ends lie in, or no farther from than ``bare`` mm.
        """
        key = ("under", start, stop, bare)
        known: tuple[Bends | None] | None = self.answer(after, key)
        if known is None:
            (x0, x1), (y0, y1) = (sorted(pair) for pair in zip(start, stop, strict=True))
            box = (x0 - ASIDE, y0 - ASIDE, x1 + ASIDE, y1 + ASIDE)
            known = (self._way_under(start, stop, after, bare, box),)
            self.tell(after, key, box, known)
        return known[0]

    def _way_under(self, start: Point, stop: Point, after: int, bare: float, box: Box) -> Bends | None:
        left: BaseGeometry = shapely.LineString([start, stop])
        near = [shapely.clip_by_rect(self.regions[k], *box) for k in self.later(after, box).tolist()]
        for region in near:
            left = left.difference(region)
            if left.length < HIDDEN_BUT_FOR:
                return ()
        cover = polygons_of(shapely.unary_union(near))
        ends = shapely.points([start, stop])
        for one in cover.geoms:
            if shapely.distance(ends, one).max() <= bare:
                way = inside_path(one, *np.array([start, stop]))
                shown = shapely.LineString([start, *way, stop]).difference(one.buffer(HIDDEN_BUT_FOR))
                if max((piece.length for piece in getattr(shown, "geoms", [shown])), default=0.0) <= bare:
                    return tuple((float(x), float(y)) for x, y in way)
        return None


def _meet(boxes: Floats, box: Box | Floats) -> NDArray[np.bool_]:
    """Which of ``boxes`` (n, 4) meet ``box``, (n,)."""
    return np.asarray(
        (boxes[:, 0] <= box[2]) & (boxes[:, 2] >= box[0]) & (boxes[:, 1] <= box[3]) & (boxes[:, 3] >= box[1])
    )


def _round(boxes: list[Box]) -> Box:
    """The box round others."""
    if not boxes:
        return NOWHERE
    left, top, right, low = zip(*boxes, strict=True)
    return min(left), min(top), max(right), max(low)
