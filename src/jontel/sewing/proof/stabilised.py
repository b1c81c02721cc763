"""Grounds without the backing or the topping that their cloth asks for."""

from functools import partial

from msgspec.structs import replace

from jontel.design.design import Design
from jontel.sewing.plan import SewPlan
from jontel.sewing.proof.finding import Finding, Fix

FILM = "water-soluble film"
NONE = ("", "none")


def rule(design: Design, plan: SewPlan) -> list[Finding]:
    """At most one finding for the backing and one for the topping."""
    if not len(plan):
        return []
    ground = design.brief.ground
    found: list[Finding] = []
    if ground.weave == "pile" and ground.topping.strip().lower() in NONE:
        sentence = f"{ground.name} has a pile and no topping: stitches sink in; lay a film over it."
        fix = Fix("Lay a water-soluble film over it", partial(_with, "topping", FILM))
        found.append(Finding("no film", "look", sentence, (), None, (fix,)))
    backing = ground.backing.strip().lower()
    if ground.weave == "knit" and (backing in NONE or "tear" in backing):
        said = "no backing" if backing in NONE else "a backing that is torn away"
        sentence = (
            f"{ground.name} gives, and has {said}: what is sewn pulls out of shape in the wash; use a cut-away."
        )
        fix = Fix("Use a cut-away backing", partial(_with, "backing", "cut-away"))
        found.append(Finding("no backing", "look", sentence, (), None, (fix,)))
    elif ground.weave not in ("film", "knit") and backing in NONE:
        sentence = f"{ground.name} has no backing: the cloth puckers under its stitches; use a tear-away at least."
        fix = Fix("Use a tear-away backing", partial(_with, "backing", "tear-away"))
        found.append(Finding("no backing", "look", sentence, (), None, (fix,)))
    return found


def _with(field: str, value: str, design: Design) -> Design:
    ground = replace(design.brief.ground, **{field: value})
    return replace(design, brief=replace(design.brief, ground=ground))
