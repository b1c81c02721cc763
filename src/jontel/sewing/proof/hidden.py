"""Objects that are hidden, and so are not sewn."""

from jontel.design.design import Design
from jontel.design.edits import shown
from jontel.design.words import quoted
from jontel.sewing.plan import SewPlan
from jontel.sewing.proof.finding import Finding, Fix


def rule(design: Design, _plan: SewPlan) -> list[Finding]:
    """One finding for all of them."""
    hidden = [item for item in design.objects if item.hidden]
    if not hidden:
        return []
    names, verb = quoted([item.name for item in hidden]), "is" if len(hidden) == 1 else "are"
    sentence = f"{names} {verb} hidden and will not be sewn: show what belongs to the design, delete the rest."
    return [Finding("hidden", "look", sentence, tuple(item.id for item in hidden), None, (Fix("Show all", shown),))]
