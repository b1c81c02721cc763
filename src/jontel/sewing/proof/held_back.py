"""Fills whose rows would run into each other if they turned as far as they are asked to."""

from jontel.design.design import Design, StitchObject
from jontel.design.errors import CannotStitch
from jontel.design.kinds import traits_of
from jontel.design.shapes import Area
from jontel.geometry.frames import Curved
from jontel.sewing.plan import Piece
from jontel.sewing.proof.finding import Finding
from jontel.stitching.covers.fill import frame_for


def rule(piece: Piece, item: StitchObject, _design: Design) -> Finding | None:
    """One finding an object."""
    if traits_of(item.cover).rows != "one way" or not isinstance(item.shape, Area):
        return None
    try:
        frame = frame_for(item.shape, 0.0)
    except CannotStitch:  # what cannot be stitched is told by a rule of its own
        return None
    if not isinstance(frame, Curved) or not frame.held_back:
        return None
    asked, mend = ("guide asks", "Bend it") if item.shape.guide else ("direction lines ask", "Turn them")
    sentence = (
        f"“{item.name}” has rows that turn up to {frame.held_back:.0f}° less than its {asked}: else they would run "
        f"into each other. {mend} less where that matters."
    )
    return Finding("held back", "look", sentence, (item.id,), piece.segments.first)
