"""Stops that do not say why, and thread that nothing holds where it starts or is cut."""

from functools import partial

from msgspec.structs import replace

from jontel.design.design import Design
from jontel.design.edits import change_objects
from jontel.sewing.plan import SewPlan
from jontel.sewing.proof.finding import Finding, Fix


def stops(design: Design, plan: SewPlan) -> list[Finding]:
    """One finding an object."""
    first = {piece.owner: piece.segments.first for piece in plan.pieces}
    return [
        Finding(
            "stop without a word",
            "look",
            f"The machine stops at “{item.name}” and nothing says why: write what is to be done there.",
            (item.id,),
            first[item.id],
        )
        for item in design.objects
        if item.id in first
        and not item.hidden
        and any(said is not None and not said.strip() for said in (item.ends.stop, item.ends.stop_before))
    ]


def locks(design: Design, plan: SewPlan) -> list[Finding]:
    """One finding an object whose thread is loose at an end."""
    items = {item.id: item for item in design.objects}
    found: list[Finding] = []
    for piece in plan.pieces:
        item = items.get(piece.owner)
        if item is None:
            continue
        loose = (piece.around.begins and item.ends.lock_in == "never") or (
            piece.around.cut_after and item.ends.lock_out == "never"
        )
        if loose:
            sentence = f"“{item.name}” begins or ends without a lock where thread is cut: it comes undone."
            fix = Fix("Lock it where thread starts and is cut", partial(_locked, item.id))
            found.append(Finding("no lock", "look", sentence, (item.id,), piece.segments.first, (fix,)))
    return found


def _locked(identity: int, design: Design) -> Design:
    return change_objects(
        design, {identity}, lambda item: replace(item, ends=replace(item.ends, lock_in="auto", lock_out="auto"))
    )
