"""A forecast as plain numbers, for other programs."""

from collections.abc import Sequence
from typing import Any

import numpy as np

from jontel.design.design import Design
from jontel.forecast.findings import Roundness
from jontel.forecast.forecast import Forecast
from jontel.forecast.solving import missed_in
from jontel.sewing.proof.finding import Finding
from jontel.sewing.solved import stale
from jontel.stitching.stitches import Kind


def report(
    design: Design, seen: Forecast, found: Sequence[Finding], round_ones: Sequence[Roundness]
) -> dict[str, Any]:
    """Sizes and movements in mm, as drawn and as forecast, and what was found."""
    points = seen.xy[seen.plan.kind == Kind.STITCH]
    before = seen.plan.xy[seen.plan.kind == Kind.STITCH]
    size = np.ptp(points, axis=0) if len(points) else np.zeros(2)
    moved = np.hypot(*(points - before).T) if len(points) else np.zeros(1)
    far, old = missed_in(seen, design), stale(design)
    return {
        "design": design.name,
        "ground": design.brief.ground.name,
        "width_mm": round(float(size[0]), 2),
        "height_mm": round(float(size[1]), 2),
        "moved_mm": {"mean": round(float(moved.mean()), 3), "most": round(float(moved.max()), 3)},
        "strain": round(float(np.abs(seen.strain).max()), 4),
        "objects": [
            {
                "name": item.name,
                "id": item.id,
                "edge_off_95_mm": round(far[item.id][0], 3),
                "edge_off_most_mm": round(far[item.id][1], 3),
                "solved": item.solved is not None,
                "stale": item.id in old,
            }
            for item in design.objects
            if item.id in far
        ],
        "round": [
            {"id": one.object, "least_mm": round(one.least, 2), "most_mm": round(one.most, 2)} for one in round_ones
        ],
        "findings": [
            {
                "kind": one.kind,
                "severity": one.severity,
                "sentence": one.sentence,
                "objects": one.objects,
                "place_mm": one.place,
            }
            for one in found
        ],
    }
