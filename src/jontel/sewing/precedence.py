"""Who has to be sewn before whom: what overlaps keeps its order, and so do steps, stops and underlays."""

from collections.abc import Collection, Sequence

import numpy as np
import shapely

from jontel.design.design import Design, StitchObject
from jontel.design.stopping import go_on
from jontel.sewing.plan import footprint

OVERLAPS = 0.05
"""Objects that share less cloth than this, square mm, only touch."""


def earlier_of(design: Design, items: Sequence[StitchObject], ids: Collection[int] | None = None) -> list[int]:
    """For each of ``items`` those that have to come before it, as bits.

    Those that are not in ``ids``, if it is given, keep their order among each other. Between two steps, and at stops,
    what is before stays before and what is behind behind.
    """
    shapes = np.array([footprint(item, design) for item in items], dtype=object)
    earlier = [0] * len(items)
    one, other = shapely.STRtree(shapes).query(shapes, predicate="intersects")
    some = one < other
    one, other = one[some], other[some]
    go_on()
    shared = shapely.area(shapely.intersection(shapes[one], shapes[other]))
    for a, b, area in zip(one.tolist(), other.tolist(), shared.tolist(), strict=True):
        if area > OVERLAPS:
            earlier[b] |= 1 << a
    last_still = None
    place = {item.id: number for number, item in enumerate(items)}
    barrier = 0
    for number, item in enumerate(items):
        before = (1 << number) - 1
        if item.ends.stop_before is not None or (number and items[number - 1].step != item.step):
            barrier = before
        earlier[number] |= before if item.ends.stop is not None else barrier
        if item.ends.stop is not None or item.ends.stop_before is not None:
            barrier = before | 1 << number
        if item.beneath is not None:
            for member in item.beneath.objects:
                if place.get(member, -1) > number:
                    earlier[place[member]] |= 1 << number
        if ids is not None and item.id not in ids:
            if last_still is not None:
                earlier[number] |= 1 << last_still
            last_still = number
    return earlier
