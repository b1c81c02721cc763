"""Stitches too long for a garment or the machine, and too short for the thread."""

import numpy as np

from jontel.design.design import Design
from jontel.design.words import stitches
from jontel.geometry.polyline import Floats
from jontel.sewing.plan import Piece, SewPlan
from jontel.sewing.proof.finding import Finding, at, spot
from jontel.stitching.stitches import SHORTEST, Layer

SNAGS = 7.0
"""Stitches longer than this, mm, snag on a garment."""


def too_long(design: Design, plan: SewPlan) -> list[Finding]:
    """One finding an object, at its longest stitch."""
    longest = design.brief.machine.longest_move
    names = {item.id: item.name for item in design.objects}
    found: list[Finding] = []
    for piece in plan.pieces:
        count, length, place = _extremes(piece)[0]
        if place is not None:
            over = length > longest
            sentence = (
                f"“{names.get(piece.owner, '')}” has {stitches(count)} over {SNAGS:.0f} mm, the longest "
                f"{length:.1f} mm at {at(place)}: "
                + ("the machine cannot move that far." if over else "a float that long snags; split it.")
            )
            kind = "spoils" if over else "look"
            found.append(Finding("long stitch", kind, sentence, (piece.owner,), spot(place)))  # type: ignore[arg-type]
    return found


def too_short(design: Design, plan: SewPlan) -> list[Finding]:
    """One finding an object, at its first short stitch; locks are meant to be short."""
    names = {item.id: item.name for item in design.objects}
    found: list[Finding] = []
    for piece in plan.pieces:
        count, _, place = _extremes(piece)[1]
        if place is not None:
            sentence = (
                f"“{names.get(piece.owner, '')}” has {stitches(count)} under {SHORTEST} mm, one at {at(place)}: "
                "thread breaks there; enlarge the shape or widen its spacing."
            )
            found.append(Finding("short stitch", "look", sentence, (piece.owner,), spot(place)))
    return found


def _extremes(piece: Piece) -> list[tuple[int, float, Floats | None]]:
    """Of the long and of the short stitches of a piece: how many, the length and the place of one, (2,)."""
    if "lengths" not in piece.notes:
        size, sewn = piece.sizes, piece.sewn
        long = np.flatnonzero(sewn & (size > SNAGS + 1e-6))
        short = np.flatnonzero(sewn & (size < SHORTEST - 1e-4) & (piece.layer != Layer.LOCK))
        worst = int(long[np.argmax(size[long])]) if len(long) else -1
        piece.notes["lengths"] = [
            (len(long), float(size[worst]), piece.xy[worst]) if len(long) else (0, 0.0, None),
            (len(short), float(size[short[0]]), piece.xy[short[0]]) if len(short) else (0, 0.0, None),
        ]
    answer: list[tuple[int, float, Floats | None]] = piece.notes["lengths"]
    return answer
