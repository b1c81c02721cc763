"""Threads so like the ground that what is sewn in them is hardly seen."""

import numpy as np
import shapely

from jontel.design.design import Design
from jontel.design.thread import colour_distance, rgb_of
from jontel.geometry.polyline import Floats
from jontel.geometry.region import Region
from jontel.sewing.overlaps import Box
from jontel.sewing.plan import Piece, SewPlan
from jontel.sewing.plan.piece import Segments
from jontel.sewing.proof.finding import Finding

BESIDE, MOSTLY = 0.6, 0.5
"""What has others no farther away than this, mm, round so much of its rim is set off by them."""
MOST_SPOTS = 200
ALIKE = 7.0
"""Colours nearer than this by CIEDE2000 are hard to tell on cloth."""


def rule(design: Design, plan: SewPlan) -> list[Finding]:
    """One finding a thread: only where what is sewn in it lies on the bare ground for the most part."""
    ground = design.brief.ground
    alike = {
        thread.code for thread in design.brief.threads if colour_distance(thread.rgb, rgb_of(ground.colour)) < ALIKE
    }
    if not alike:
        return []
    pieces = {piece.owner: piece for piece in plan.pieces}
    found: list[Finding] = []
    for place, item in enumerate(design.objects):
        piece = pieces.get(item.id)
        if item.thread not in alike or piece is None or item.beneath is not None or _on_thread(plan, place, piece):
            continue
        alike.discard(item.thread)
        name = design.thread(item.thread).name
        sentence = f"{name} is hard to tell from {ground.name.lower()}: “{item.name}” will hardly be seen on it."
        found.append(Finding("like the ground", "look", sentence, (item.id,), piece.segments.first))
    return found


def _on_thread(plan: SewPlan, place: int, piece: Piece) -> bool:
    """Whether an object lies on others, or has others round most of it, that set it off."""
    overlaps = plan.overlaps
    known: tuple[Segments, bool] | None = overlaps.answer(place, "set off")
    if known is None or known[0] is not piece.segments:
        spots = _spots(overlaps.regions[place], piece)
        box = _box(spots)
        near = np.zeros(len(spots), dtype=bool)
        for k in overlaps.later(-1, box).tolist():
            if k != place and not overlaps.regions[k].is_empty and not near.all():
                left = np.flatnonzero(~near)
                near[left] = shapely.dwithin(overlaps.regions[k], shapely.points(spots[left]), BESIDE)
        known = (piece.segments, bool(near.mean() > MOSTLY))
        overlaps.tell(place, "set off", box, known)
    return known[1]


def _spots(own: Region, piece: Piece) -> Floats:
    """Places on the rim of what an object covers, or along a run, (n, 2); at least one."""
    if not own.is_empty:
        rim = own.boundary
        spots = shapely.get_coordinates(rim.segmentize(max(0.5, rim.length / MOST_SPOTS)))
    else:
        spots = np.vstack([segment.xy for segment in piece.segments.parts])
    return spots[:: max(1, len(spots) // MOST_SPOTS)]


def _box(spots: Floats) -> Box:
    (left, top), (right, low) = (spots.min(axis=0) - BESIDE).tolist(), (spots.max(axis=0) + BESIDE).tolist()
    return left, top, right, low
