"""The proof: what would spoil a sew-out, named with its object and its place, and how to mend it.

One rule a file; a new one is its file and its line in ``RULES``. A rule about one object is only
asked of what changed.
"""

import logging
from collections.abc import Callable
from typing import NamedTuple

from jontel.design.design import Design, StitchObject
from jontel.design.stopping import go_on
from jontel.sewing.plan import Piece, SewPlan
from jontel.sewing.proof import (
    borders,
    buried,
    crossings,
    cut_apart,
    dense,
    exposed,
    floats,
    held_back,
    hidden,
    lengths,
    loose,
    misfits,
    near_ground,
    needles,
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
from jontel.sewing.proof.weighing import weighed

log = logging.getLogger(__name__)
Rule = Callable[[Design, SewPlan], list[Finding]]
"""A rule about the whole sew-out."""


class Each(NamedTuple):
    """A rule about one object: its piece, itself, and of the design no more than its brief."""

    rule: Callable[[Piece, StitchObject, Design], Finding | None]


RULES: tuple[Rule | Each, ...] = (
    not_stitched.rule,
    Each(outside.rule),
    Each(lengths.too_long),
    Each(lengths.too_short),
    buried.rule,
    crossings.rule,
    Each(specks.rule),
    Each(misfits.rule),
    Each(held_back.rule),
    Each(small_letters.rule),
    Each(satin_widths.rule),
    Each(dense.rule),
    Each(open_rows.rule),
    no_underlay.rule,
    stabilised.rule,
    borders.rule,
    piled_up.layers,
    Each(piled_up.crowded),
    Each(exposed.rule),
    Each(floats.rule),
    loose.rule,
    Each(told_nothing.stops),
    Each(told_nothing.locks),
    cut_apart.rule,
    near_ground.rule,
    needles.rule,
    hidden.rule,
)
Ranked = tuple[int, Finding]
"""A finding and the place in ``RULES`` of the rule that made it."""


def proof(design: Design, plan: SewPlan) -> tuple[Finding, ...]:
    """All findings, the worst first. A rule that meets a fault says so and leaves the others to theirs."""
    found = _of_each(design, plan)
    for rank, rule in enumerate(RULES):
        if not isinstance(rule, Each):
            go_on()
            try:
                found += [(rank, one) for one in rule(design, plan)]
            except Exception:  # the fault of one rule hides nothing that the others find
                found.append((rank, _fault(rule)))
    weave = design.brief.ground.weave
    told = [(rank, weighed(finding, weave)) for rank, finding in found]
    told.sort(key=lambda one: (one[1].severity != "spoils", one[0]))
    return tuple(dict.fromkeys(finding for _, finding in told))


def _of_each(design: Design, plan: SewPlan) -> list[Ranked]:
    """What the rules about one object find; a piece keeps it, so that an edit asks of what it changed."""
    items, brief = {item.id: item for item in design.objects}, design.brief
    found: list[Ranked] = []
    for piece in plan.pieces:
        item = items[piece.owner]
        known = piece.notes.get("findings")
        if known is None or known[0] is not item or known[1] is not brief:
            go_on()
            known = piece.notes["findings"] = (item, brief, _told(piece, item, design))
        found += known[2]
    return found


def _told(piece: Piece, item: StitchObject, design: Design) -> list[Ranked]:
    found: list[Ranked] = []
    for rank, one in enumerate(RULES):
        if isinstance(one, Each):
            try:
                finding = one.rule(piece, item, design)
            except Exception:  # as above
                finding = _fault(one.rule)
            if finding is not None:
                found.append((rank, finding))
    return found


def _fault(rule: Callable[..., object]) -> Finding:
    """What is said of a rule that failed; the log tells why."""
    log.exception("the rule %s of the proof failed", rule.__module__)
    name = rule.__module__.rsplit(".", 1)[-1].replace("_", " ")
    return Finding("fault", "look", f"The check “{name}” met a fault; the log tells more.", ())


__all__ = ["RULES", "Each", "Finding", "Fix", "hoop_shape", "proof"]
