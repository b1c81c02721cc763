"""Travel within an object that no later thread covers."""

import numpy as np

from jontel.design.design import Design, StitchObject
from jontel.design.kinds import traits_of
from jontel.sewing.plan import Piece
from jontel.sewing.proof.finding import Finding, at
from jontel.stitching.measure import exposed_travel
from jontel.stitching.stitches import Layer, Stitches

SHOWS = 12.0
"""More travel than this, mm, on top of one object is seen."""


def rule(piece: Piece, item: StitchObject, _design: Design) -> Finding | None:
    """One finding an object."""
    if not traits_of(item.cover).hides or traits_of(item.cover).shows_travel(item.cover):
        return None
    width = max(0.4, float(getattr(item.cover, "spacing", None) or 0.0) + 0.1)
    shown = exposed_travel(Stitches(piece.xy, piece.kind, piece.layer), width)
    if shown <= SHOWS:
        return None
    place = _last_travel(piece)
    sentence = f"“{item.name}” has {shown:.0f} mm of travel on top, some at {at(place)}: move its entry or exit."
    return Finding("exposed travel", "look", sentence, (item.id,), place)


def _last_travel(piece: Piece) -> tuple[float, float]:
    rows = np.flatnonzero(piece.layer == Layer.TRAVEL)
    x, y = piece.xy[rows[-1]] if len(rows) else piece.xy[0]
    return float(x), float(y)
