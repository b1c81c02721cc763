"""Stitches outside the hoop."""

import numpy as np

from jontel.design.design import Design, StitchObject
from jontel.design.words import stitches
from jontel.sewing.plan import Piece
from jontel.sewing.proof.finding import Finding, at, spot
from jontel.sewing.proof.hoop import outside_by
from jontel.stitching.stitches import Kind

GRAZES = 1e-6


def rule(piece: Piece, item: StitchObject, design: Design) -> Finding | None:
    """One finding an object, at its farthest stitch."""
    hoop = design.brief.hoop
    needle = piece.xy[piece.kind == Kind.STITCH]
    off = outside_by(hoop, needle)
    count = int((off > GRAZES).sum())
    if not count:
        return None
    far = needle[int(np.argmax(off))]
    sentence = (
        f"“{item.name}” sews {stitches(count)} outside the hoop {hoop.name}, farthest at {at(far)}: "
        "move it, scale it or take a larger hoop."
    )
    return Finding("outside hoop", "spoils", sentence, (item.id,), spot(far))
