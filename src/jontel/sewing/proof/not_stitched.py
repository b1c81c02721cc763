"""Objects that have no stitches."""

from jontel.design.design import Design
from jontel.sewing.plan import SewPlan
from jontel.sewing.proof.finding import Finding


def rule(_design: Design, plan: SewPlan) -> list[Finding]:
    """One finding an object, with the reason."""
    return [Finding("not stitched", "spoils", f.sentence, (f.object,), f.place) for f in plan.failures]
