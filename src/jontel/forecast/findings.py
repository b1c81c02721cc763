"""What the forecast finds: cloth that opens between neighbours, outlines that are not round, rims that are toothed.

Each is a finding like those of the proof, with a fix that is worked out aside.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import combinations, product

import numpy as np
import shapely
from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.errors import CannotStitch
from jontel.design.resolve import resolve
from jontel.design.shapes import Area, Point
from jontel.design.units import format_length
from jontel.forecast.forecast import Forecast, forecast
from jontel.forecast.solving import solvable, solved
from jontel.geometry.region import Region, polygons_of
from jontel.sewing.plan import plan
from jontel.sewing.proof.finding import Finding, Fix, at
from jontel.stitching.covers.fill import region_for

TOUCH = 0.1
"""Objects whose drawn edges are no farther apart than this, mm, were to touch."""
SEAM = 0.8
"""Cloth so near to both of two neighbours, mm, is their seam."""
OPEN, LAPPED = 0.15, 1.5
"""Open cloth narrower, and overlap beyond what was drawn narrower than this, mm, passes."""
ROUND, OVAL = 0.985, 0.3
"""An outline with this part of the area of its circle is round; it is to stay so within so many mm across."""
PUCKERS = 3.0
"""Under thread cloth is packed, not stretched: only far beyond its limit is puckering likely."""
TOOTHED, TEETH, ALONG_RIM = 0.25, 6.0, 1.5
"""Row ends that lie farther apart than this, mm, though they were to lie level, show where they do so along so much
rim, mm, looked at so finely; less is the one step where a fill begins and ends."""


@dataclass(frozen=True, eq=False)
class Seam:
    """Two neighbours, by their ids, with the cloth between them: open, or covered by both; its width, mm."""

    one: int
    other: int
    cloth: Region
    width: float
    place: Point
    open: bool


def drawn_of(item: StitchObject) -> Region:
    """The cloth that an object was drawn to cover."""
    try:
        return region_for(item.shape)
    except CannotStitch:
        return Region()


def seams(design: Design, seen: Forecast) -> list[Seam]:
    """Where neighbours that were to touch part, and where they overlap much more than they were drawn to."""
    edges = seen.edges
    items = [item for item in design.objects if item.id in edges and solvable(item)]
    drawn = [drawn_of(item) for item in items]
    found: list[Seam] = []
    sewn = shapely.unary_union(list(edges.values()))
    near = shapely.STRtree(drawn).query(drawn, predicate="dwithin", distance=TOUCH)
    for a, b in zip(*near.tolist(), strict=True):
        if a >= b:
            continue
        found += _between(items[a].id, items[b].id, drawn[a], drawn[b], edges, sewn)
    return found


def _between(
    one: int, other: int, first: Region, second: Region, edges: dict[int, Region], sewn: "shapely.Geometry"
) -> list[Seam]:
    both = shapely.union(first, second)
    filled = shapely.buffer(shapely.buffer(both, TOUCH), -TOUCH)
    band = shapely.intersection(shapely.buffer(first, SEAM), shapely.buffer(second, SEAM))
    found = [
        _seam(one, other, part, True)
        for part in polygons_of(shapely.difference(shapely.intersection(band, filled), sewn)).geoms
    ]
    lap = shapely.intersection(first, second)
    lapped = shapely.difference(shapely.intersection(edges[one], edges[other]), shapely.buffer(lap, LAPPED / 2))
    found += [_seam(one, other, part, False) for part in polygons_of(lapped).geoms if not lap.area > first.area / 2]
    return [seam for seam in found if seam.width >= (OPEN if seam.open else LAPPED)]


def _seam(one: int, other: int, part: "shapely.Polygon", is_open: bool) -> Seam:
    circle = shapely.maximum_inscribed_circle(part, tolerance=0.02)
    x, y = circle.coords[0]
    return Seam(one, other, polygons_of(part), 2 * circle.length, (float(x), float(y)), is_open)


@dataclass(frozen=True)
class Roundness:
    """How wide and high a round outline will be, mm, and how much longer one way than across it."""

    object: int
    least: float
    most: float
    turned: float

    @property
    def oval(self) -> float:
        """How much longer it is one way, mm."""
        return self.most - self.least


def roundness(design: Design, seen: Forecast) -> list[Roundness]:
    """What becomes of outlines that are drawn round."""
    found = []
    for item in design.objects:
        region = seen.edges.get(item.id)
        if region is None:
            continue
        drawn = drawn_of(item)
        if len(drawn.geoms) != 1:
            continue
        outer = shapely.Polygon(drawn.geoms[0].exterior)
        circle = math.pi * shapely.minimum_bounding_radius(outer) ** 2
        if outer.area < ROUND * circle:
            continue
        xy = shapely.get_coordinates(region)
        turns = np.radians(np.arange(0, 180, 5))
        across = np.ptp(xy @ np.array([np.cos(turns), np.sin(turns)]), axis=0)
        longest = int(np.argmax(across))
        found.append(Roundness(item.id, float(across.min()), float(across.max()), float(np.degrees(turns[longest]))))
    return found


def toothed(design: Design, seen: Forecast) -> list[tuple[int, float, Point]]:
    """Objects whose row ends, sewn out and back at different times, will lie apart: by how much, mm, and where."""
    found = []
    items = {item.id: item for item in design.objects}
    for number, piece in enumerate(seen.plan.pieces):
        region = seen.plan.overlaps.regions[seen.plan.overlaps.owners.index(piece.owner)]
        if region.is_empty or not solvable(items[piece.owner]):
            continue
        rim = shapely.get_coordinates(shapely.segmentize(region.boundary, ALONG_RIM))
        ends = seen.moved_ends(number, rim)
        apart = max((np.hypot(*(a - b).T) for a, b in combinations(ends, 2)), key=np.max, default=np.zeros(1))
        worst = int(np.argmax(apart))
        if apart[worst] > TOOTHED and np.count_nonzero(apart > TOOTHED) * ALONG_RIM > TEETH:
            found.append((piece.owner, float(apart[worst]), (float(rim[worst, 0]), float(rim[worst, 1]))))
    return found


def findings(design: Design, seen: Forecast, parted: Sequence[Seam] | None = None) -> list[Finding]:
    """What of a forecast a digitizer has to know before the first stitch, worst first; ``parted`` are its seams."""
    names = {item.id: item.name for item in design.objects}
    found: list[tuple[float, Finding]] = []
    for seam in seams(design, seen) if parted is None else parted:
        who = (seam.one, seam.other)
        fix = Fix("Solve the edges of both", _solver(frozenset(who)), slow=True)
        pair = f"“{names[seam.one]}” and “{names[seam.other]}”"
        width = format_length(seam.width, "mm", 1)
        if seam.open:
            sentence = f"{pair} part by {width} at {at(seam.place)} when the cloth draws in: solve their edges."
            found.append((seam.width, Finding("gap", "spoils", sentence, who, seam.place, (fix,))))
        else:
            sentence = f"{pair} lie over each other by {width} at {at(seam.place)}: solve their edges."
            found.append((seam.width / 4, Finding("overlap", "look", sentence, who, seam.place, (fix,))))
    for one in roundness(design, seen):
        if one.oval > OVAL:
            centre = drawn_of(next(item for item in design.objects if item.id == one.object)).centroid
            place = (float(centre.x), float(centre.y))
            sentence = (
                f"“{names[one.object]}” is drawn round and will be {format_length(one.most, 'mm', 1)} by "
                f"{format_length(one.least, 'mm', 1)}: solve its edge."
            )
            fix = Fix("Solve its edge", _solver(frozenset({one.object})), slow=True)
            found.append((one.oval / 2, Finding("not round", "look", sentence, (one.object,), place, (fix,))))
    for owner, apart, place in toothed(design, seen):
        sentence = (
            f"Rows of “{names[owner]}” are sewn out and back at {at(place)}; their ends will lie "
            f"{format_length(apart, 'mm', 1)} apart: enter and leave it where its rows end."
        )
        fixes = _through(design, owner)
        found.append((apart / 2, Finding("toothed", "look", sentence, (owner,), place, fixes)))
    strain = np.abs(seen.strain)
    if strain.size and strain.max() > PUCKERS * seen.cloth.limit:
        down, across = np.unravel_index(int(np.argmax(strain)), strain.shape)
        spot = (float(seen.sheet.xs[across : across + 2].mean()), float(seen.sheet.ys[down : down + 2].mean()))
        sentence = (
            f"The cloth is strained by {strain.max():.0%} at {at(spot)}, and takes {seen.cloth.limit:.0%} flat: "
            "sew it looser, or on a firmer backing."
        )
        found.append((0.1, Finding("strain", "look", sentence, (), spot, ())))
    return [finding for _, finding in sorted(found, key=lambda pair: -pair[0])]


def _through(design: Design, owner: int) -> tuple[Fix, ...]:
    """Rows sewn from one end of a shape to the other, where they lie one way and its ends are not set by hand."""
    item = design.object(owner)
    if item is None or item.ends.entry is not None or item.ends.exit is not None or not isinstance(item.shape, Area):
        return ()
    angle = getattr(resolve(item, design.ground_for(item)).cover, "angle", None)
    drawn = drawn_of(item)
    if angle is None or drawn.is_empty or item.shape.lines or item.shape.guide is not None:
        return ()
    xy = shapely.get_coordinates(drawn)
    far = xy @ np.array([math.sin(math.radians(angle)), math.cos(math.radians(angle))])
    ends = [(round(float(xy[k, 0]), 3), round(float(xy[k, 1]), 3)) for k in (np.argmin(far), np.argmax(far))]
    return (Fix("Enter and leave at the ends of its rows", lambda one: _best_ends(one, owner, ends), slow=True),)


def _best_ends(design: Design, owner: int, ends: list[Point]) -> Design:
    """``design`` with an object entered and left at those of two places with which its rows lie most level.

    Where its underlay ends decides on which side its cover begins.
    """
    base = plan(design)
    found: list[tuple[float, Design]] = []
    item = next(one for one in design.objects if one.id == owner)
    for entry, leave in product(ends, ends):
        pinned = replace(item, ends=replace(item.ends, entry=entry, exit=leave))
        made = replace(design, objects=tuple(pinned if one.id == owner else one for one in design.objects))
        teeth = {one: apart for one, apart, _ in toothed(made, forecast(plan(made, base)))}
        found.append((teeth.get(owner, 0.0), made))
    return min(found, key=lambda one: one[0])[1]


def _solver(ids: frozenset[int]) -> Callable[[Design], Design]:
    return lambda design: solved(design, ids)
