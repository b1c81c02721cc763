"""Thread that is carried over open cloth without being cut: it catches, and it shows."""

from functools import partial

import numpy as np
from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects
from jontel.sewing.plan import Piece
from jontel.sewing.proof.finding import Finding, Fix, at, spot
from jontel.stitching.stitches import Kind

CATCHES = 6.0
"""Loose thread longer than this, mm, catches."""


def rule(piece: Piece, item: StitchObject, _design: Design) -> Finding | None:
    """One finding an object, at its longest float."""
    kinds, needle = piece.kind, np.flatnonzero(piece.kind == Kind.STITCH)
    cuts = np.cumsum(np.isin(kinds, [Kind.TRIM, Kind.THREAD, Kind.STOP]))
    jumped = np.flatnonzero((np.diff(needle) > 1) & (np.diff(cuts[needle]) == 0))
    starts, stops = piece.xy[needle[jumped]], piece.xy[needle[jumped + 1]]
    if piece.around.stitched and len(needle) and needle[0] > 0 and cuts[needle[0]] == 0:
        starts, stops = np.vstack([starts, piece.around.at]), np.vstack([stops, piece.xy[needle[0]]])
    size = np.hypot(*(stops - starts).T)
    if not len(size) or size.max() <= CATCHES:
        return None
    worst = int(size.argmax())
    middle = (starts[worst] + stops[worst]) / 2
    sentence = (
        f"“{item.name}” leaves {size[worst]:.1f} mm of thread loose over the cloth at {at(middle)}: it catches; "
        "cut it, or let the needle go down on the way."
    )
    fix = Fix("Cut where it shows", partial(_cut, item.id))
    return Finding("open float", "look", sentence, (item.id,), spot(middle), (fix,))


def _cut(identity: int, design: Design) -> Design:
    """``design`` whose object, and the one before it, are cut again by the rules of the design."""
    place = design.place_of(identity)
    ids = {item.id for item in design.objects[max(place - 1, 0) : place + 1]}
    ruled = {"trim": "auto", "leave": None, "cut_over": None}

    def changed(item: StitchObject) -> StitchObject:
        words = item.lettering
        if words is not None and words.trims != "where it shows":
            item = replace(item, lettering=replace(words, trims="where it shows"))
        return replace(item, ends=replace(item.ends, **ruled))

    return change_objects(design, ids, changed)
