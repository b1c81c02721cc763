"""How much a finding weighs on which cloth: what is a flaw on a shirt tears a patch of leather."""

from dataclasses import replace

from jontel.design.ground import Weave
from jontel.sewing.proof.finding import Finding

SPOILS: dict[Weave, frozenset[str]] = {
    # what pulls out of shape in the wash cannot be pressed back
    "knit": frozenset({"no backing", "no underlay"}),
    # stitches sink between loops and are gone
    "pile": frozenset({"no film", "no underlay", "small letters"}),
    # holes of the needle never close: a row of them is a cut
    "smooth": frozenset({"too dense", "crowded", "layers", "short stitch"}),
    # it is cut out along its border
    "felt": frozenset({"border beside", "border first"}),
    # nothing but thread holds it once the film is gone
    "film": frozenset({"no lock", "crossing outline"}),
}
"""Findings that are worth a look elsewhere and spoil the sew-out on some cloth."""
NONE: frozenset[str] = frozenset()


def weighed(finding: Finding, weave: Weave) -> Finding:
    """A finding with the severity that it has on a cloth."""
    return replace(finding, severity="spoils") if finding.kind in SPOILS.get(weave, NONE) else finding
