"""A design sewn to a finished size: compensation and whole rows make it grow otherwise than its shapes do."""

from msgspec.structs import replace

from jontel.design.design import Design
from jontel.design.edits import transform_objects
from jontel.sewing.estimate import totals
from jontel.sewing.plan import plan

CLOSE = 0.05
"""The finished size is met within this, mm,"""
TRIES = 12
"""or as nearly as so many tries come."""


def scaled(design: Design, factor: float) -> Design:
    """The whole design, its artwork too, scaled about the hoop's centre."""
    made = transform_objects(design, {item.id for item in design.objects}, (factor, 0, 0, factor, 0, 0))
    artwork = tuple(
        replace(one, x=one.x * factor, y=one.y * factor, width=one.width * factor, height=one.height * factor)
        for one in design.artwork
    )
    return replace(made, artwork=artwork)


def sewn_size(design: Design) -> tuple[float, float]:
    """The width and height that a design is sewn to, mm."""
    sums = totals(plan(design))
    return sums.width, sums.height


def to_size(design: Design, axis: int, wanted: float) -> Design:
    """``design`` scaled so that it is sewn ``wanted`` mm wide (``axis`` 0) or high (1).

    By the secant method on the scale, halving instead where that leaves what is known to hold the answer; whole rows
    make the size jump a little, so the nearest try is taken.
    """
    own = sewn_size(design)[axis]
    if own <= 0:
        return design
    low, high = (0.0, 0.0), (0.0, 0.0)
    if own <= wanted:
        low = (1.0, own)
    else:
        high = (1.0, own)
    factor = wanted / own
    best = (abs(own - wanted), design)
    for number in range(TRIES):
        if best[0] <= CLOSE:
            break
        made = scaled(design, factor)
        size = sewn_size(made)[axis]
        best = min(best, (abs(size - wanted), made), key=lambda one: one[0])
        if size <= wanted:
            low = (factor, size)
        else:
            high = (factor, size)
        if not (low[0] and high[0]):
            factor *= wanted / size if size > 0 else 2.0
        elif number % 3 == 2 or high[1] - low[1] < 1e-9:
            factor = (low[0] + high[0]) / 2
        else:
            factor = low[0] + (high[0] - low[0]) * (wanted - low[1]) / (high[1] - low[1])
    return best[1]
