"""Rows so far apart that the cloth shows between them, where nothing says that it is meant to."""

from functools import partial

from jontel.design.design import Design
from jontel.design.kinds import traits_of
from jontel.design.resolve import resolve
from jontel.sewing.plan import SewPlan
from jontel.sewing.proof.dense import as_the_ground
from jontel.sewing.proof.finding import Finding, Fix

OPEN, MEANT = 1.3, 2.2
"""Rows farther apart than the first part of what thread covers show the cloth; from the second on it is meant."""


def rule(design: Design, plan: SewPlan) -> list[Finding]:
    """One finding an object."""
    items = {item.id: item for item in design.objects}
    found: list[Finding] = []
    for piece in plan.pieces:
        item = items.get(piece.owner)
        if item is None or not traits_of(item.cover).hides or getattr(item.cover, "spacing", None) is None:
            continue
        if "open rows" not in piece.notes:
            whole = resolve(item, design.ground_for(item)).cover
            faded = getattr(whole, "fade", "none") != "none"
            piece.notes["open rows"] = 0.0 if faded else float(getattr(whole, "spacing", 0.0))
        spacing: float = piece.notes["open rows"]
        width = design.thread(item.thread).width
        if not OPEN * width < spacing < MEANT * width:
            continue
        sentence = (
            f"“{item.name}” has its rows {spacing:.2f} mm apart, and its thread covers {width:.2f} mm: "
            "the cloth shows between them."
        )
        fix = Fix("Space the rows as the ground does", partial(as_the_ground, item.id))
        found.append(Finding("too open", "look", sentence, (item.id,), piece.segments.first, (fix,)))
    return found
