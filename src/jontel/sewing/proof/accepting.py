"""Findings that a person accepts: remembered with the design by what they say of which objects."""

from msgspec.structs import replace

from jontel.design.design import Accepted, Design
from jontel.sewing.proof.finding import Finding


def accepted_as(finding: Finding) -> Accepted:
    """What is remembered of a finding."""
    return Accepted(finding.kind, tuple(sorted(finding.objects)))


def accept(design: Design, finding: Finding) -> Design:
    """``design`` in which a finding is accepted; what was accepted of objects that are gone is forgotten."""
    there = {item.id for item in design.objects}
    known = tuple(one for one in design.accepted if there.issuperset(one.objects))
    return replace(design, accepted=tuple(dict.fromkeys((*known, accepted_as(finding)))))


def taken_back(design: Design, finding: Finding) -> Design:
    """``design`` in which a finding counts again."""
    return replace(design, accepted=tuple(one for one in design.accepted if one != accepted_as(finding)))


def told_apart(findings: tuple[Finding, ...], design: Design) -> tuple[tuple[Finding, ...], tuple[Finding, ...]]:
    """The findings that count, and those that were accepted."""
    if not design.accepted:
        return findings, ()
    known = set(design.accepted)
    marks = [accepted_as(one) in known for one in findings]
    return (
        tuple(one for one, taken in zip(findings, marks, strict=True) if not taken),
        tuple(one for one, taken in zip(findings, marks, strict=True) if taken),
    )
