"""Stitches outside the hoop."""

import numpy as np

from jontel.design.design import Design
from jontel.design.ground import Hoop
from jontel.design.words import stitches
from jontel.geometry.polyline import Floats
from jontel.sewing.plan import Piece, SewPlan
from jontel.sewing.proof.finding import Finding, at, spot
from jontel.sewing.proof.hoop import outside_by
from jontel.stitching.stitches import Kind

GRAZES = 1e-6


def rule(design: Design, plan: SewPlan) -> list[Finding]:
    """One finding an object, at its farthest stitch."""
    hoop = design.brief.hoop
    names = {item.id: item.name for item in design.objects}
    found: list[Finding] = []
    for piece in plan.pieces:
        count, far = _outside(piece, hoop)
        if far is not None:
            sentence = (
                f"“{names.get(piece.owner, '')}” sews {stitches(count)} outside the hoop {hoop.name}, farthest at "
                f"{at(far)}: move it, scale it or take a larger hoop."
            )
            found.append(Finding("outside hoop", "spoils", sentence, (piece.owner,), spot(far)))
    return found


def _outside(piece: Piece, hoop: Hoop) -> tuple[int, Floats | None]:
    """How many needle points of a piece lie outside, and the farthest, (2,)."""
    known = piece.notes.get("outside")
    if known is None or known[0] != hoop:
        needle = piece.xy[piece.kind == Kind.STITCH]
        off = outside_by(hoop, needle)
        count = int((off > GRAZES).sum())
        known = piece.notes["outside"] = (hoop, count, needle[int(np.argmax(off))] if count else None)
    return known[1], known[2]
