"""The underlay that Jontel chooses where the user chose none."""

from shapely import Polygon

from jontel.design.kinds import Underlay, kind_name, underlay_traits
from jontel.design.kinds.centre_run import CentreRun
from jontel.design.kinds.edge_run import EdgeRun
from jontel.design.kinds.fill import OPEN
from jontel.design.kinds.zigzag import Zigzag

LEAST_AREA = 5.0
NARROW, WIDE = 1.5, 4.0
"""What is narrower than the first, mm, holds a centre run, what is wider than the second more than an edge run."""


def column_underlay(width: float, area: float) -> tuple[Underlay, ...]:
    """By the column's mean width, mm, and area, square mm."""
    if area < LEAST_AREA:
        return ()
    if width < NARROW:
        return (CentreRun(),)
    if width < WIDE:
        return (EdgeRun(),)
    return EdgeRun(), Zigzag()


def area_underlay(recipe: tuple[Underlay, ...], part: Polygon, spacing: float = 0.0) -> tuple[Underlay, ...]:
    """The ground's passes, as far as ``part`` is large enough and covered by rows so near, mm, that none shows.

    A narrow part gets what a column of its mean width does, with the ground's numbers where it has such a pass.
    """
    if any(underlay_traits(one).holds for one in recipe):
        return recipe
    if part.area < LEAST_AREA or spacing > OPEN or not recipe:
        return ()
    width = 2 * part.area / part.length
    if width >= WIDE:
        return recipe
    narrow = column_underlay(width, part.area)
    return tuple(one for one in recipe if kind_name(one) in map(kind_name, narrow)) or narrow
