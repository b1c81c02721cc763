"""What follows from other objects, in the shape that those have now: a stage of every job, never part of an edit."""

from jontel.design.design import Design
from jontel.sewing.shared import settled
from jontel.sewing.solved import with_solved_edges
from jontel.sewing.strands import stranded
from jontel.sewing.undercut import undercut


def derived(design: Design) -> Design:
    """``design`` with all shapes that follow from other objects as those are now; itself when there is none."""
    return stranded(undercut(with_solved_edges(settled(design))))
