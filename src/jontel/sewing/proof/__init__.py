"""The proof: what would spoil a sew-out, named with its object and its place, and how to mend it.

One rule a file; a new one is its file and its line in ``RULES``.
"""

import logging
from collections.abc import Callable

from jontel.design.design import Design
from jontel.design.stopping import go_on
from jontel.sewing.plan import SewPlan
from jontel.sewing.proof import (
    buried,
    crossings,
    dense,
    hidden,
    lengths,
    misfits,
    no_underlay,
    not_stitched,
    outside,
    small_letters,
    specks,
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
    dense.rule,
    no_underlay.rule,
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
