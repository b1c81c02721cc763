"""Objects of one thread that lie near, follow each other, and are cut apart all the same."""

from jontel.design.design import Design
from jontel.design.words import many
from jontel.sewing.plan import SewPlan
from jontel.sewing.proof.finding import Finding, Fix
from jontel.sewing.stranding import made_strands, offered

NEEDLESS = 3
"""So many cuts that could be spared are worth a word."""


def rule(design: Design, plan: SewPlan) -> list[Finding]:
    """One finding for all of them."""
    locked = {item.id for item in design.objects if item.locked}
    groups = [group for group in offered(plan) if not group & locked]
    cuts = sum(len(group) - 1 for group in groups)
    if cuts < NEEDLESS:
        return []
    first = min(groups[0])
    place = next((piece.segments.first for piece in plan.pieces if piece.owner == first), None)
    sentence = f"{many(cuts, 'cut')} could be spared: near objects of one thread are cut apart; join them as strands."
    fix = Fix("Join them as strands", lambda design: made_strands(design, groups), slow=True)
    return [Finding("needless cuts", "look", sentence, tuple(sorted(groups[0])), place, (fix,))]
