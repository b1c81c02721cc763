"""Covers without underlay on cloth that swallows or stretches them."""

from functools import partial

from msgspec.structs import replace

from jontel.design.design import Design
from jontel.design.edits import change_objects
from jontel.design.ground import Weave
from jontel.design.kinds import traits_of
from jontel.sewing.plan import SewPlan
from jontel.sewing.proof.finding import Finding, Fix
from jontel.stitching.stitches import Layer

WHY: dict[Weave, str] = {
    "knit": "the knit gives way, and the cover narrows and gapes",
    "pile": "the pile comes up between the rows",
}
"""What happens on cloth of some weaves."""
SMALL = 12.0
"""Covers with less thread than this, mm, are too small for an underlay."""


def rule(design: Design, plan: SewPlan) -> list[Finding]:
    """One finding an object."""
    why = WHY.get(design.brief.ground.weave)
    if why is None:
        return []
    lain_under = {other for item in design.objects if item.beneath is not None for other in item.beneath.objects}
    items = {item.id: item for item in design.objects}
    found: list[Finding] = []
    for piece in plan.pieces:
        item = items.get(piece.owner)
        if item is None or item.id in lain_under or item.underlay != () or not traits_of(item.cover).hides:
            continue
        covered = float(piece.sizes[piece.sewn & (piece.layer == Layer.COVER)].sum())
        if covered < SMALL:
            continue
        sentence = f"“{item.name}” has no underlay on {design.brief.ground.name.lower()}: {why}."
        fix = Fix("Use the underlay that suits it", partial(_underlaid, item.id))
        found.append(Finding("no underlay", "look", sentence, (item.id,), piece.segments.first, (fix,)))
    return found


def _underlaid(identity: int, design: Design) -> Design:
    return change_objects(design, {identity}, lambda item: replace(item, underlay=None))
