"""What follows from other objects, in the shape that those have now: a stage of every job, never part of an edit."""

from jontel.design.design import Design
from jontel.sewing.shared import settled
from jontel.sewing.solved import with_solved_edges
from jontel.sewing.strands import stranded
from jontel.sewing.undercut import undercut


def drawn(design: Design) -> Design:
    """``design`` as it is drawn, with the shapes of underlays that others share as those are now."""
    return settled(design)


def derived(design: Design) -> Design:
    """What is sewn of a design as it is drawn: solved edges, nothing that is undercut, strands as one walk."""
    return stranded(undercut(with_solved_edges(design)))
