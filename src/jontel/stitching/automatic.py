"""The underlay that Jontel chooses where the user chose none."""

from jontel.design.kinds import Underlay
from jontel.design.kinds.centre_run import CentreRun
from jontel.design.kinds.edge_run import EdgeRun
from jontel.design.kinds.zigzag import Zigzag

LEAST_AREA = 5.0


def column_underlay(width: float, area: float) -> tuple[Underlay, ...]:
    """By the column's mean width, mm, and area, square mm."""
    if area < LEAST_AREA:
        return ()
    if width < 1.5:
        return (CentreRun(),)
    if width < 4.0:
        return (EdgeRun(),)
    return EdgeRun(), Zigzag()


def area_underlay(recipe: tuple[Underlay, ...], area: float) -> tuple[Underlay, ...]:
    """The ground's passes, except on areas, square mm, too small to hold them."""
    return recipe if area >= LEAST_AREA else ()
