"""Objects that follow from others, in the shape that those have now: a stage of every job, never part of an edit."""

from jontel.design.design import Design
from jontel.sewing.shared import settled


def derived(design: Design) -> Design:
    """``design`` with the shapes of all objects that say how they are made; itself when there is none."""
    return settled(design)
