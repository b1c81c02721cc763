"""Travel within an object that no later thread covers."""

import numpy as np

from jontel.design.design import Design
from jontel.design.kinds import traits_of
from jontel.sewing.plan import Piece, SewPlan
from jontel.sewing.proof.finding import Finding, at
from jontel.stitching.measure import exposed_travel
from jontel.stitching.stitches import Layer, Stitches

SHOWS = 12.0
"""More travel than this, mm, on top of one object is seen."""


def rule(design: Design, plan: SewPlan) -> list[Finding]:
    """One finding an object."""
    items = {item.id: item for item in design.objects}
    found: list[Finding] = []
    for piece in plan.pieces:
        item = items.get(piece.owner)
        if item is None or not traits_of(item.cover).hides or traits_of(item.cover).shows_travel(item.cover):
            continue
        if "exposed" not in piece.notes:
            width = max(0.4, float(getattr(item.cover, "spacing", None) or 0.0) + 0.1)
            piece.notes["exposed"] = exposed_travel(Stitches(piece.xy, piece.kind, piece.layer), width)
        shown: float = piece.notes["exposed"]
        if shown > SHOWS:
            place = _last_travel(piece)
            sentence = (
                f"“{item.name}” has {shown:.0f} mm of travel on top, some at {at(place)}: move its entry or exit."
            )
            found.append(Finding("exposed travel", "look", sentence, (item.id,), place))
    return found


def _last_travel(piece: Piece) -> tuple[float, float]:
    rows = np.flatnonzero(piece.layer == Layer.TRAVEL)
    x, y = piece.xy[rows[-1]] if len(rows) else piece.xy[0]
    return float(x), float(y)
