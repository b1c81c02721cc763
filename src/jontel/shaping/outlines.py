"""The outlines of an object as chains of nodes, and an object with others."""

import math

import numpy as np
import shapely
from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.errors import CannotDo, CannotStitch
from jontel.design.kinds import kind_name
from jontel.design.shapes import Area, Column, Line, Shape
from jontel.geometry.combining import fine_region
from jontel.geometry.nodes import Chains, chains_of, path_through
from jontel.geometry.polyline import FINE, at_lengths, flatten, lengths
from jontel.geometry.region import Region, polygons_of, region_of
from jontel.shaping.covers import sewn_as
from jontel.stitching.covers.fill import region_for

Ids = frozenset[int]
Made = tuple[Design, Ids]
"""A design, and what is selected in it."""


def why_not_bent(item: StitchObject) -> str:
    """Why the outline of an object is not its own to bend, in a sentence; nothing where it is."""
    if item.locked:
        return f"“{item.name}” is locked; unlock it to change its shape."
    if item.lettering is not None:
        return f"“{item.name}” is words; break them into letters to bend those."
    if item.monogram is not None:
        return f"“{item.name}” belongs to a monogram; break it apart to bend its parts."
    if item.beneath is not None:
        return f"“{item.name}” follows the shapes that it lies beneath; bend those."
    return ""


def may_bend(item: StitchObject) -> None:
    """Raise ``CannotDo`` where the outline of an object is not its own."""
    why = why_not_bent(item)
    if why:
        raise CannotDo(why)


def chains_in(shape: Shape) -> Chains:
    """The chains of a shape; of a column those of its one edge and then those of the other."""
    match shape:
        case Area(path=path) | Line(path=path):
            return chains_of(path)
        case Column(edge=edge, other_edge=other):
            return (*chains_of(edge), *chains_of(other))


def with_chains(item: StitchObject, chains: Chains) -> StitchObject:
    """An object with the outline ``chains``, no figure any more.

    An area that was opened is a line from then on, sewn as before where lines can be. Raises ``CannotDo`` where
    nothing that can be sewn is left.
    """
    if not any(len(chain) >= 2 for chain in chains):
        raise CannotDo(f"Nothing would be left of “{item.name}”; delete it instead.")
    shape = item.shape
    if isinstance(shape, Column):
        if len(chains) != 2 or chains[0].closed != chains[1].closed:
            raise CannotDo(f"“{item.name}” is a column: both of its edges stay in one piece.")
        shape = replace(shape, edge=path_through(chains[:1]), other_edge=path_through(chains[1:]))
        return replace(item, shape=shape, figure=None)
    path = path_through(chains)
    if isinstance(shape, Area) and not all(chain.closed for chain in chains):
        if any(chain.closed for chain in chains):
            raise CannotDo(f"“{item.name}” has other outlines that stay closed; take it apart before you open one.")
        return sewn_as(item, Line(path))
    return replace(item, shape=replace(shape, path=path), figure=None)


def region_in(item: StitchObject) -> Region:
    """The cloth that an object is drawn over, finely; of a line a band of its width. Raises ``CannotDo``."""
    shape = item.shape
    try:
        if isinstance(shape, Area):
            return fine_region(shape)
        if isinstance(shape, Column):
            return region_for(shape)
        return band_of(shape)
    except CannotStitch as error:
        raise CannotDo(f"“{item.name}” covers no cloth that could be used here: {error}.") from error


def places_on(shape: Shape, count: int) -> list[tuple[float, float]]:
    """About so many places spread over the cloth of an area or a column, or along a line, mm."""
    if isinstance(shape, Line):
        lines = [one.loop() for one in flatten(shape.path)]
        spots = [at_lengths(xy, np.linspace(0, lengths(xy)[-1], count)) for xy in lines]
        return [(float(x), float(y)) for x, y in np.vstack(spots)] if spots else []
    try:
        region = region_of(shape) if isinstance(shape, Area) else region_for(shape)
    except CannotStitch:
        return []
    if region.is_empty:
        return []
    left, top, right, low = region.bounds
    step = math.sqrt(region.area / count)
    xs, ys = np.arange(left + step / 2, right, step), np.arange(top + step / 2, low, step)
    x, y = (grid.ravel() for grid in np.meshgrid(xs, ys))
    inside = shapely.contains_xy(region, x, y)
    found = [(float(a), float(b)) for a, b in zip(x[inside], y[inside], strict=True)]
    spot = region.representative_point()
    return found or [(spot.x, spot.y)]


def band_of(line: Line) -> Region:
    """The cloth under a line of its width, its ends flat, its corners pointed where they are not sharp."""
    lines = [shapely.LineString(one.loop()) for one in flatten(line.path, FINE)]
    if not lines:
        return Region()
    return polygons_of(
        shapely.union_all([one.buffer(line.width / 2, cap_style="flat", join_style="mitre") for one in lines])
    )


def area_of(item: StitchObject) -> Area:
    """The area of an object. Raises ``CannotDo`` for another shape."""
    if not isinstance(item.shape, Area):
        raise CannotDo(f"“{item.name}” is a {kind_name(item.shape)}; make it an area first.")
    return item.shape
