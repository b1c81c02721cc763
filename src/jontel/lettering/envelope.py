"""Words fitted into a shape: their block is bent so that its top and foot follow the rims of the shape."""

from dataclasses import dataclass

import numpy as np
import shapely

from jontel.design.errors import CannotRead
from jontel.design.paths import polyline_path
from jontel.design.shapes import Area, Point
from jontel.design.store import kept
from jontel.geometry.polyline import Floats, at_lengths, flatten, lengths
from jontel.geometry.region import largest, region_of

PLACES = 400
"""At so many places across the shape it is looked how high it is."""
LOWEST = 0.25
"""Letters stand only where the shape is at least this part as high as where it is highest."""
FLAT = 0.004
STEP = 0.4
"""Outlines are followed by points so near to their curves and no farther from each other, mm, before they bend."""


@dataclass(frozen=True, eq=False)
class Envelope:
    """Across ``x`` (n,) the ``upper`` and the ``lower`` rim of a shape (n,); ``box`` is what is fitted into it."""

    x: Floats
    upper: Floats
    lower: Floats
    box: tuple[float, float, float, float]

    def bent(self, xy: Floats) -> Floats:
        """Where places (n, 2) of the box come to lie in the shape, (n, 2)."""
        left, top, right, low = self.box
        x = np.interp((xy[:, 0] - left) / max(right - left, 1e-9), np.linspace(0, 1, len(self.x)), self.x)
        down = (xy[:, 1] - top) / max(low - top, 1e-9)
        upper, lower = np.interp(x, self.x, self.upper), np.interp(x, self.x, self.lower)
        return np.column_stack([x, upper + down * (lower - upper)])

    def spot(self, place: Point) -> Point:
        """Where one place comes to lie."""
        x, y = self.bent(np.array([place]))[0].tolist()
        return x, y

    def path(self, path: str) -> str:
        """Path data bent into the shape."""
        parts: list[str] = []
        for line in flatten(path, FLAT):
            loop = line.loop()
            along = lengths(loop)
            marks = np.union1d(along, np.arange(0.0, along[-1], STEP))
            xy = self.bent(at_lengths(loop, marks, along)).round(4)
            points = [(float(x), float(y)) for x, y in (xy[:-1] if line.closed else xy)]
            if len(points) > 2:
                parts.append(polyline_path(points, line.closed))
        return " ".join(parts)


@kept
def _rims(shape: str) -> tuple[Floats, Floats, Floats]:
    """The largest part of a shape on upright lines: their places, its upper and its lower rim there, each (n,)."""
    part = largest(region_of(Area(shape)))
    if part.is_empty:
        raise CannotRead("There is no shape to fit the words into; select words and an area.")
    left, top, right, low = part.bounds
    hair = 1e-4 * (right - left)  # an upright line on the very rim need not cut it
    x = np.linspace(left + hair, right - hair, PLACES)
    upright = shapely.linestrings([[(one, top - 1), (one, low + 1)] for one in x])
    cut = shapely.intersection(shapely.Polygon(part.exterior), upright)
    boxes = shapely.bounds(cut)
    high = boxes[:, 3] - boxes[:, 1]
    wide = np.flatnonzero(high >= LOWEST * np.nanmax(high))
    some = slice(int(wide[0]), int(wide[-1]) + 1)
    return x[some], boxes[some, 1], boxes[some, 3]


def envelope(shape: str, letters: list[str]) -> Envelope | None:
    """What fits ``letters``, path data of a straight setting, into a shape; ``None`` for no letters.

    Raises ``CannotRead`` where there is no shape.
    """
    x, upper, lower = _rims(shape)
    points = [line.xy for path in letters for line in flatten(path)]
    if not points:
        return None
    every = np.vstack(points)
    (left, top), (right, low) = every.min(axis=0).tolist(), every.max(axis=0).tolist()
    return Envelope(x, upper, lower, (left, top, right, low))
