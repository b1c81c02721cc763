"""The proof: what would spoil a sew-out, named with its object and its place, and how to mend it.

One rule a file; a new one is its file and its line in ``RULES``.
"""

import logging
from collections.abc import Callable

from jontel.design.design import Design
from jontel.design.stopping import go_on
from jontel.sewing.plan import SewPlan
from jontel.sewing.proof import (
    borders,
    buried,
    crossings,
    cut_apart,
    dense,
    exposed,
    hidden,
    lengths,
    loose,
    misfits,
    near_ground,
    no_underlay,
    not_stitched,
    open_rows,
    outside,
    piled_up,
    satin_widths,
    small_letters,
    specks,
    stabilised,
    told_nothing,
)
from jontel.sewing.proof.finding import Finding, Fix
from jontel.sewing.proof.hoop import hoop_shape

log = logging.getLogger(__name__)
Rule = Callable[[Design, SewPlan], list[Finding]]
RULES: tuple[Rule, ...] = (
    not_stitched.rule,
    outside.rule,
    lengths.too_long,
    lengths.too_short,
    buried.rule,
    crossings.rule,
    specks.rule,
    misfits.rule,
    small_letters.rule,
    satin_widths.rule,
    dense.rule,
    open_rows.rule,
    no_underlay.rule,
    stabilised.rule,
    borders.rule,
    piled_up.layers,
    piled_up.crowded,
    exposed.rule,
    loose.rule,
    told_nothing.stops,
    told_nothing.locks,
    cut_apart.rule,
    near_ground.rule,
    hidden.rule,
)


def proof(design: Design, plan: SewPlan) -> tuple[Finding, ...]:
    """All findings, the worst first. A rule that meets a fault says so and leaves the others to theirs."""
    found: list[Finding] = []
    for rule in RULES:
        go_on()
        try:
            found += rule(design, plan)
        except Exception:  # the fault of one rule hides nothing that the others find
            log.exception("the rule %s of the proof failed", rule.__module__)
            name = rule.__module__.rsplit(".", 1)[-1].replace("_", " ")
            found.append(Finding("fault", "look", f"The check “{name}” met a fault; the log tells more.", ()))
    return tuple(sorted(found, key=lambda one: one.severity != "spoils"))


__all__ = ["RULES", "Finding", "Fix", "hoop_shape", "proof"]
