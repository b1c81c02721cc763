"""Fills whose rows would run into each other if they turned as far as they are asked to."""

from jontel.design.design import Design, StitchObject
from jontel.design.errors import CannotStitch
from jontel.design.kinds import traits_of
from jontel.design.shapes import Area
from jontel.geometry.frames import curved_frame
from jontel.sewing.plan import Piece
from jontel.sewing.proof.finding import Finding


def rule(piece: Piece, item: StitchObject, _design: Design) -> Finding | None:
    """One finding an object."""
    if traits_of(item.cover).rows != "one way" or not isinstance(item.shape, Area):
        return None
    if not (item.shape.lines or item.shape.guide):
        return None
    try:
        held_back = curved_frame(item.shape).held_back
    except CannotStitch:  # what cannot be stitched is told by a rule of its own
        return None
    if not held_back:
        return None
    asked, mend = ("guide asks", "Bend it") if item.shape.guide else ("direction lines ask", "Turn them")
    sentence = (
        f"“{item.name}” has rows that turn up to {held_back:.0f}° less than its {asked}: else they would run into "
        f"each other. {mend} less where that matters."
    )
    return Finding("held back", "look", sentence, (item.id,), piece.segments.first)
