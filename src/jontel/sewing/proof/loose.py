"""Lace that falls apart when its film is washed out."""

import shapely

from jontel.design.design import Design
from jontel.design.words import many
from jontel.sewing.plan import SewPlan
from jontel.sewing.proof.finding import Finding, at
from jontel.stitching.measure import thread_lines
from jontel.stitching.stitches import Stitches

HOLDS = 0.25
"""Threads no farther apart than twice this, mm, hold each other."""


def rule(design: Design, plan: SewPlan) -> list[Finding]:
    """One finding, at the smallest piece that nothing holds."""
    if design.brief.ground.weave != "film":
        return []
    every: list[shapely.Geometry] = []
    for piece in plan.pieces:
        if "lace" not in piece.notes:
            lines = thread_lines(Stitches(piece.xy, piece.kind, piece.layer))
            piece.notes["lace"] = shapely.unary_union(shapely.buffer(shapely.linestrings(lines), HOLDS, quad_segs=2))
        every.append(piece.notes["lace"])
    whole = shapely.unary_union(every) if every else shapely.MultiPolygon()
    parts = [one for one in getattr(whole, "geoms", [whole]) if not one.is_empty]
    if len(parts) < 2:
        return []
    least = min(parts, key=lambda one: one.area)
    place = least.representative_point().coords[0]
    owner = next((p.owner for p in plan.pieces if p.notes["lace"].intersects(least)), 0)
    sentence = (
        f"The lace falls into {many(len(parts), 'piece')} when the film is washed out, one at {at(place)}: "
        "join them with a run or let them overlap."
    )
    return [Finding("loose lace", "spoils", sentence, (owner,), (float(place[0]), float(place[1])))]
