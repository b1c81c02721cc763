"""Stops that do not say why, and thread that nothing holds where it starts or is cut."""

from functools import partial

from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects
from jontel.sewing.plan import Piece
from jontel.sewing.proof.finding import Finding, Fix


def stops(piece: Piece, item: StitchObject, _design: Design) -> Finding | None:
    """One finding an object."""
    if all(said is None or said.strip() for said in (item.ends.stop, item.ends.stop_before)):
        return None
    sentence = f"The machine stops at “{item.name}” and nothing says why: write what is to be done there."
    return Finding("stop without a word", "look", sentence, (item.id,), piece.segments.first)


def locks(piece: Piece, item: StitchObject, _design: Design) -> Finding | None:
    """One finding an object whose thread is loose at an end."""
    begins_loose = piece.around.begins and item.ends.lock_in == "never"
    if not begins_loose and not (piece.around.cut_after and item.ends.lock_out == "never"):
        return None
    sentence = f"“{item.name}” begins or ends without a lock where thread is cut: it comes undone."
    fix = Fix("Lock it where thread starts and is cut", partial(_locked, item.id))
    return Finding("no lock", "look", sentence, (item.id,), piece.segments.first, (fix,))


def _locked(identity: int, design: Design) -> Design:
    return change_objects(
        design, {identity}, lambda item: replace(item, ends=replace(item.ends, lock_in="auto", lock_out="auto"))
    )
