"""Rows so far apart that the cloth shows between them, where nothing says that it is meant to."""

from functools import partial

from jontel.design.design import Design, StitchObject
from jontel.design.kinds import traits_of
from jontel.design.resolve import resolve
from jontel.sewing.plan import Piece
from jontel.sewing.proof.dense import as_the_ground
from jontel.sewing.proof.finding import Finding, Fix

OPEN, MEANT = 1.3, 2.2
"""Rows farther apart than the first part of what thread covers show the cloth; from the second on it is meant."""


def rule(piece: Piece, item: StitchObject, design: Design) -> Finding | None:
    """One finding an object."""
    if not traits_of(item.cover).hides or getattr(item.cover, "spacing", None) is None:
        return None
    whole = resolve(item, design.ground_for(item)).cover
    spacing = 0.0 if getattr(whole, "fade", "none") != "none" else float(getattr(whole, "spacing", 0.0))
    width = design.thread(item.thread).width
    if not OPEN * width < spacing < MEANT * width:
        return None
    sentence = (
        f"“{item.name}” has its rows {spacing:.2f} mm apart, and its thread covers {width:.2f} mm: "
        "the cloth shows between them."
    )
    fix = Fix("Space the rows as the ground does", partial(as_the_ground, item.id))
    return Finding("too open", "look", sentence, (item.id,), piece.segments.first, (fix,))
