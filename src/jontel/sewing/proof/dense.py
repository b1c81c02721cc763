"""Rows so near each other that the needle cuts the cloth and the thread piles up."""

from functools import partial

from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects
from jontel.design.kinds import traits_of
from jontel.design.resolve import resolve
from jontel.sewing.plan import Piece
from jontel.sewing.proof.finding import Finding, Fix

DENSE = 0.62
"""Rows nearer than this part of what their thread covers lie on each other."""


def rule(piece: Piece, item: StitchObject, design: Design) -> Finding | None:
    """One finding an object."""
    if not traits_of(item.cover).hides:
        return None
    spacing: float | None = getattr(resolve(item, design.ground_for(item)).cover, "spacing", None)
    width = design.thread(item.thread).width
    if spacing is None or spacing >= DENSE * width:
        return None
    sentence = (
        f"“{item.name}” has its rows {spacing:.2f} mm apart, and its thread is {width:.2f} mm thick: "
        "it piles up, and the needle cuts the cloth."
    )
    fixes: tuple[Fix, ...] = ()
    if getattr(item.cover, "spacing", None) is not None:
        fixes = (Fix("Space the rows as the ground does", partial(as_the_ground, item.id)),)
    return Finding("too dense", "look", sentence, (item.id,), piece.segments.first, fixes)


def as_the_ground(identity: int, design: Design) -> Design:
    """``design`` with the rows of an object spaced as its ground does."""
    return change_objects(design, {identity}, lambda item: replace(item, cover=replace(item.cover, spacing=None)))
