"""Stitches too long for a garment or the machine, and too short for the thread."""

import numpy as np

from jontel.design.design import Design, StitchObject
from jontel.design.words import stitches
from jontel.sewing.plan import Piece
from jontel.sewing.proof.finding import Finding, at, spot
from jontel.stitching.stitches import SHORTEST, Layer

SNAGS = 7.0
"""Stitches longer than this, mm, snag on a garment."""


def too_long(piece: Piece, item: StitchObject, design: Design) -> Finding | None:
    """One finding an object, at its longest stitch."""
    long = np.flatnonzero(piece.sewn & (piece.sizes > SNAGS + 1e-6))
    if not len(long):
        return None
    worst = int(long[np.argmax(piece.sizes[long])])
    length, place = float(piece.sizes[worst]), piece.xy[worst]
    over = length > design.brief.machine.longest_move
    sentence = (
        f"“{item.name}” has {stitches(len(long))} over {SNAGS:.0f} mm, the longest {length:.1f} mm at {at(place)}: "
        + ("the machine cannot move that far." if over else "a float that long snags; split it.")
    )
    return Finding("long stitch", "spoils" if over else "look", sentence, (item.id,), spot(place))


def too_short(piece: Piece, item: StitchObject, _design: Design) -> Finding | None:
    """One finding an object, at its first short stitch; locks are meant to be short."""
    short = np.flatnonzero(piece.sewn & (piece.sizes < SHORTEST - 1e-4) & (piece.layer != Layer.LOCK))
    if not len(short):
        return None
    place = piece.xy[short[0]]
    sentence = (
        f"“{item.name}” has {stitches(len(short))} under {SHORTEST} mm, one at {at(place)}: "
        "thread breaks there; enlarge the shape or widen its spacing."
    )
    return Finding("short stitch", "look", sentence, (item.id,), spot(place))
