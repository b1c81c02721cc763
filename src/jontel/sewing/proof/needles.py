"""More threads than the machine has needles."""

from jontel.design.design import Design
from jontel.design.words import many
from jontel.sewing.plan import SewPlan
from jontel.sewing.proof.finding import Finding


def rule(design: Design, plan: SewPlan) -> list[Finding]:
    """One finding, at the first thread that finds no needle."""
    needles = design.brief.machine.needles
    if len(plan.threads) <= needles:
        return []
    first = next(piece for piece in plan.pieces if piece.thread == needles)
    name = next((item.name for item in design.objects if item.id == first.owner), "")
    sentence = (
        f"{many(len(plan.threads), 'thread')} for {many(needles, 'needle')}: it is threaded anew from “{name}” on; "
        "take one thread for colours that are alike, or tell the machine's needles in Brief."
    )
    return [Finding("too many threads", "look", sentence, (first.owner,), first.segments.first)]
