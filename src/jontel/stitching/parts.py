"""The connected parts of an area that is sewn as a satin: the strokes of each, and which have none that fit."""

import dataclasses
from dataclasses import dataclass

import numpy as np
import shapely
from shapely import Polygon

from jontel.design.kinds.values import MOST_KNOTS
from jontel.design.shapes import UNCORRECTED, Area, Lines, Places, Point
from jontel.design.store import kept
from jontel.geometry.columns import Rails, all_covered, directed
from jontel.geometry.correcting import ON_CLOTH, corrected, nearest_stroke
from jontel.geometry.decompose import STRAYS, Strokes, strokes_of
from jontel.geometry.polyline import flatten, lengths
from jontel.geometry.region import Region, largest, polygons_of, region_of

LINES_APART = 0.7
"""Direction lines across a stroke are so many of its widths apart."""


@dataclass(frozen=True, eq=False)
class Part:
    """A connected part of an area, and its strokes, which may not fit it."""

    cloth: Polygon
    strokes: Strokes

    def nearest(self, place: Point) -> int | None:
        """The number of the stroke whose axis is nearest to a place; ``None`` for one that is not on the part."""
        if not self.strokes.strokes or self.cloth.distance(shapely.Point(place)) > ON_CLOTH:
            return None
        return nearest_stroke(self.strokes, np.array(place))

    def misfit(self) -> tuple[str, Point]:
        """Why its strokes are not the part, in words, and where."""
        strokes = self.strokes
        bare = largest(polygons_of(self.cloth.difference(all_covered([one.rails for one in strokes.strokes]))))
        spot = (self.cloth if bare.is_empty else bare).representative_point()
        told = f"its strokes cover {strokes.covers:.0%} of it and {strokes.beyond:.0%} beside it"
        if strokes.strays > STRAYS:
            told = f"rows of its strokes would pass {strokes.strays:.1f} mm outside it"
        return told, (spot.x, spot.y)


@kept
def parts_of(area: Area) -> tuple[Part, ...]:
    """The connected parts of an area; in the order in which they are drawn or wanted, where it says so."""
    region = region_of(Area(area.path, area.rule))
    if area.columns == UNCORRECTED:
        every = strokes_of(region, letters=area.in_order)
    else:
        every = tuple(corrected(cloth, area.columns) for cloth in region.geoms)
    found = [
        Part(cloth, _with_lines(strokes, area.lines) if area.lines else strokes)
        for cloth, strokes in zip(region.geoms, every, strict=True)
    ]
    numbers = _drawn_order(area, region) if area.in_order else list(range(len(found)))
    if area.columns.order:
        numbers.sort(key=lambda number: _wanted(found[number].cloth, area.columns.order))
    return tuple(found[k] for k in numbers)


@kept
def cloths_of(area: Area) -> tuple[Polygon, ...]:
    """The connected parts of an area as polygons, in the order in which they are drawn."""
    region = region_of(Area(area.path, area.rule))
    return tuple(region.geoms[k] for k in _drawn_order(area, region))


def _wanted(cloth: Polygon, order: Places) -> int:
    """Which of the places in an order is the first on a part; the last of all where none is."""
    far = shapely.distance(shapely.points(np.array(order)), cloth)
    return int(np.argmax(far <= ON_CLOTH)) if (far <= ON_CLOTH).any() else len(order)


def lines_across(rails: Rails) -> Lines:
    """Direction lines across a column, evenly along it."""
    along = lengths(rails.middle)
    count = max(2, round(float(along[-1]) / (LINES_APART * float(rails.widths().mean()))))
    at = np.searchsorted(along, (np.arange(min(count, MOST_KNOTS)) + 0.5) / min(count, MOST_KNOTS) * float(along[-1]))
    pairs = np.round(np.stack([rails.a[at], rails.b[at]], axis=1), 4)
    return tuple(((float(p[0]), float(p[1])), (float(q[0]), float(q[1]))) for p, q in pairs)


def _drawn_order(area: Area, region: Region) -> list[int]:
    """The numbers of a region's parts in the order in which the area's outlines come to them."""
    lines = flatten(area.path)
    if not lines or region.is_empty:
        return list(range(len(region.geoms)))
    starts = shapely.points(np.array([line.xy[0] for line in lines]))
    outline, part = shapely.STRtree(list(region.geoms)).query_nearest(starts, all_matches=False)
    first = {int(number): int(place) for place, number in reversed(list(zip(outline, part, strict=True)))}
    return sorted(range(len(region.geoms)), key=lambda number: first.get(number, len(lines)))


def _with_lines(strokes: Strokes, lines: Lines) -> Strokes:
    """Strokes whose rows follow the direction lines that cross them."""
    turned = [dataclasses.replace(one, rails=directed(one.rails, lines)) for one in strokes.strokes]
    return dataclasses.replace(strokes, strokes=tuple(turned))
