"""What a sew-out takes: stitches, trims, changes, time, thread."""

from dataclasses import dataclass

import numpy as np

from jontel.geometry.polyline import Floats
from jontel.sewing.plan import SewPlan
from jontel.sewing.profile import STANDARD, MachineProfile
from jontel.stitching.stitches import Kind

THROUGH_CLOTH = 1.2
"""Top thread that each needle point takes beyond its length on the cloth, mm: down to the knot and up."""


@dataclass(frozen=True)
class Totals:
    """Of a whole plan. Sizes in mm, thread in metres, time in seconds; ``metres`` per thread in use order."""

    stitches: int
    trims: int
    changes: int
    stops: int
    seconds: float
    width: float
    height: float
    metres: tuple[float, ...]


@dataclass(frozen=True)
class Share:
    """What one object takes of the plan: its rows from ``first`` to ``last``."""

    object: int
    first: int
    last: int
    start: float
    stop: float
    stitches: int
    thread: int


def clock(plan: SewPlan, profile: MachineProfile = STANDARD) -> Floats:
    """The machine time at the end of each row, seconds, (n,)."""
    if not len(plan):
        return np.zeros(0)
    seconds = np.zeros(6)
    seconds[[Kind.STITCH, Kind.JUMP]] = 60.0 / profile.speed
    seconds[Kind.TRIM] = profile.trim_seconds
    seconds[Kind.STOP] = profile.stop_seconds
    seconds[Kind.THREAD] = profile.change_seconds
    each = seconds[plan.kind]
    first = np.flatnonzero(plan.kind == Kind.THREAD)[:1]
    each[first] = 0.0
    return np.cumsum(each)


def totals(plan: SewPlan, profile: MachineProfile = STANDARD) -> Totals:
    """The totals of a plan."""
    needle = plan.xy[plan.kind == Kind.STITCH]
    size = np.ptp(needle, axis=0) if len(needle) else np.zeros(2)
    when = clock(plan, profile)
    sewn = plan.sewn()
    length = np.zeros(len(plan))
    length[1:] = np.hypot(*np.diff(plan.xy, axis=0).T)
    used = np.where(sewn, length + THROUGH_CLOTH, 0.0) / 1000
    metres = np.bincount(plan.thread, weights=used, minlength=len(plan.threads)) if len(plan) else np.zeros(0)
    return Totals(
        stitches=len(needle),
        trims=int((plan.kind == Kind.TRIM).sum()),
        changes=max(0, int((plan.kind == Kind.THREAD).sum()) - 1),
        stops=int((plan.kind == Kind.STOP).sum()),
        seconds=float(when[-1]) if len(when) else 0.0,
        width=float(size[0]),
        height=float(size[1]),
        metres=tuple(float(m) for m in metres),
    )


def shares(plan: SewPlan, profile: MachineProfile = STANDARD) -> tuple[Share, ...]:
    """What each object takes, in sewing order."""
    if not len(plan):
        return ()
    when = clock(plan, profile)
    owner = plan.object
    starts = np.flatnonzero(np.append(True, owner[1:] != owner[:-1]))
    stops = np.append(starts[1:], len(owner)) - 1
    stitched = np.append(0, np.cumsum(plan.kind == Kind.STITCH))
    return tuple(
        Share(
            int(owner[first]),
            int(first),
            int(last),
            float(when[first - 1]) if first else 0.0,
            float(when[last]),
            int(stitched[last + 1] - stitched[first]),
            int(plan.thread[first]),
        )
        for first, last in zip(starts, stops, strict=True)
        if owner[first] >= 0
    )
