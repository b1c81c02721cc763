"""Orders worked out from what lies over what."""

from jontel.design.design import Design
from jontel.design.edits import group_by_thread
from jontel.sewing.plan import footprint


def grouped_by_thread(design: Design) -> Design:
    """``design`` with as few thread changes as can be had without burying anything that was on top."""
    regions = {item.id: footprint(item, design) for item in design.objects}

    def may_swap(one: int, other: int) -> bool:
        return not regions[one].intersects(regions[other])

    return group_by_thread(design, may_swap)
