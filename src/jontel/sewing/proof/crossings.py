"""Outlines that cross themselves."""

from collections.abc import Callable

from msgspec.structs import replace

from jontel.design.design import Design
from jontel.design.edits import change_objects
from jontel.design.shapes import Area
from jontel.geometry.region import repaired, self_crossings
from jontel.sewing.plan import SewPlan
from jontel.sewing.proof.finding import Finding, Fix, at


def rule(design: Design, _plan: SewPlan) -> list[Finding]:
    """One finding an object, at its first crossing."""
    found: list[Finding] = []
    for item in design.objects:
        places = self_crossings(item.shape.path) if isinstance(item.shape, Area) and not item.hidden else ()
        if places:
            more = len(places) - 1
            sentence = (
                f"The outline of “{item.name}” crosses itself at {at(places[0])}"
                + (f" and {more} more place{'' if more == 1 else 's'}" if more else "")
                + ": repair it, so that what is inside is what you meant."
            )
            fix = Fix("Repair the outline", _repairer(item.id))
            found.append(Finding("crossing outline", "look", sentence, (item.id,), places[0], (fix,)))
    return found


def _repairer(identity: int) -> Callable[[Design], Design]:
    def repair(design: Design) -> Design:
        return change_objects(
            design,
            {identity},
            lambda item: replace(item, shape=repaired(item.shape)) if isinstance(item.shape, Area) else item,
        )

    return repair
