"""Threads so like the ground that what is sewn in them is hardly seen."""

import numpy as np
import shapely

from jontel.design.design import Design
from jontel.design.thread import colour_distance, rgb_of
from jontel.geometry.polyline import Floats
from jontel.sewing.plan import SewPlan
from jontel.sewing.proof.finding import Finding

BESIDE, MOSTLY = 0.6, 0.5
"""What has others no farther away than this, mm, round so much of its rim is set off by them."""
MOST_SPOTS = 200
ALIKE = 7.0
"""Colours nearer than this by CIEDE2000 are hard to tell on cloth."""


def rule(design: Design, plan: SewPlan) -> list[Finding]:
    """One finding a thread: only where what is sewn in it lies on the bare ground for the most part."""
    ground = design.brief.ground
    names = {item.id: item for item in design.objects}
    found: list[Finding] = []
    told: set[str] = set()
    alike: dict[str, bool] = {}
    for place, owner in enumerate(plan.overlaps.owners):
        item = names.get(owner)
        if item is None or item.thread in told or item.hidden or item.beneath is not None:
            continue
        thread = design.thread(item.thread)
        if thread.code not in alike:
            alike[thread.code] = colour_distance(thread.rgb, rgb_of(ground.colour)) < ALIKE
        if not alike[thread.code] or _on_thread(plan, place):
            continue
        told.add(item.thread)
        sentence = (
            f"{thread.name} is hard to tell from {ground.name.lower()}: “{item.name}” will hardly be seen on it."
        )
        first = next((piece.segments.first for piece in plan.pieces if piece.owner == owner), None)
        found.append(Finding("like the ground", "look", sentence, (owner,), first))
    return found


def _on_thread(plan: SewPlan, place: int) -> bool:
    """Whether an object lies on others, or has others round most of it, that set it off."""
    overlaps = plan.overlaps
    key = ("set off", overlaps.owners[place])
    known = overlaps.answers.get(key)
    if known is None:
        spots = _spots(plan, place)
        if not len(spots):
            return True
        box = _box(spots)
        near = np.zeros(len(spots), dtype=bool)
        for k in overlaps.later(-1, box).tolist():
            if k != place and not overlaps.regions[k].is_empty and not near.all():
                left = np.flatnonzero(~near)
                near[left] = shapely.dwithin(overlaps.regions[k], shapely.points(spots[left]), BESIDE)
        known = overlaps.answers[key] = (box, bool(near.mean() > MOSTLY))
    return bool(known[1])


def _spots(plan: SewPlan, place: int) -> Floats:
    """Places on the rim of an object, or along a run, (n, 2)."""
    own = plan.overlaps.regions[place]
    if not own.is_empty:
        rim = own.boundary
        spots = shapely.get_coordinates(rim.segmentize(max(0.5, rim.length / MOST_SPOTS)))
        return spots[:: max(1, len(spots) // MOST_SPOTS)]
    piece = next((one for one in plan.pieces if one.owner == plan.overlaps.owners[place]), None)
    return np.zeros((0, 2)) if piece is None else piece.xy[piece.sewn][:: max(1, len(piece) // MOST_SPOTS)]


def _box(spots: Floats) -> tuple[float, float, float, float]:
    (left, top), (right, low) = (spots.min(axis=0) - BESIDE).tolist(), (spots.max(axis=0) + BESIDE).tolist()
    return left, top, right, low
