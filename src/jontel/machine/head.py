"""The stand-in machine: sews needle movements in simulated time and refuses what a real head would."""

import math
from collections.abc import Iterable
from dataclasses import dataclass, field

import shapely

from jontel.design.errors import MachineRefused
from jontel.design.ground import Hoop
from jontel.design.machine import STANDARD, MachineProfile
from jontel.sewing.proof.hoop import hoop_shape
from jontel.stitching.stitches import Kind


@dataclass(frozen=True)
class Movement:
    """One thing the machine is told: on which line of the file, what, where to (mm, y down).

    A stop's ``note`` is its instruction, that of a thread change says which thread.
    """

    line: int
    kind: Kind
    x: float
    y: float
    note: str = ""


@dataclass
class SewReport:
    """What the machine did. Time in seconds, bounds in mm."""

    stitches: int = 0
    jumps: int = 0
    trims: int = 0
    changes: int = 0
    seconds: float = 0.0
    stops: list[str] = field(default_factory=list)
    bounds: tuple[float, float, float, float] | None = None


def sew(movements: Iterable[Movement], hoop: Hoop | None, profile: MachineProfile = STANDARD) -> SewReport:
    """Sew ``movements``. Raises ``MachineRefused`` naming the line of the first that a head would refuse."""
    report = SewReport()
    at = (0.0, 0.0)
    threaded = ended = False
    since = 0
    field_ = hoop_shape(hoop).buffer(1e-3) if hoop else None
    if field_ is not None:
        shapely.prepare(field_)
    for move in movements:
        gap = math.dist(at, (move.x, move.y)) if move.kind in (Kind.STITCH, Kind.JUMP) else 0.0
        if ended:
            raise MachineRefused(f"Line {move.line} comes after the end of the program; delete it.")
        if move.kind in (Kind.STITCH, Kind.JUMP):
            _check_move(move, gap, hoop, field_, profile)
            at = (move.x, move.y)
        if move.kind == Kind.STITCH:
            if not threaded:
                raise MachineRefused(f"Line {move.line} sews before any thread is chosen; put a thread change first.")
            report.stitches += 1
            x0, y0, x1, y1 = report.bounds or (move.x, move.y, move.x, move.y)
            report.bounds = min(x0, move.x), min(y0, move.y), max(x1, move.x), max(y1, move.y)
        report.seconds += seconds_of(move, profile, threaded, gap, since)
        since = since_after(move, since)
        _count(report, move, threaded)
        threaded |= move.kind == Kind.THREAD
        ended = move.kind == Kind.END
    if not ended:
        raise MachineRefused("The program stops without an end; the file is cut short, export it again.")
    return report


def _check_move(
    move: Movement,
    gap: float,
    hoop: Hoop | None,
    field_: shapely.Geometry | None,
    profile: MachineProfile,
) -> None:
    if gap > profile.longest_move + 2e-3:
        raise MachineRefused(
            f"Line {move.line} moves {gap:.1f} mm; the machine moves at most {profile.longest_move:.0f} mm at once."
        )
    if field_ is not None and hoop is not None and not shapely.intersects_xy(field_, move.x, move.y):
        raise MachineRefused(
            f"Line {move.line} goes to x {move.x:.1f}, y {move.y:.1f}, outside the hoop {hoop.name}."
        )


def since_after(move: Movement, since: int) -> int:
    """How many stitches it is since the head stood still, after a movement."""
    return 0 if move.kind in (Kind.TRIM, Kind.THREAD, Kind.STOP) else since + (move.kind == Kind.STITCH)


def seconds_of(move: Movement, profile: MachineProfile, threaded: bool, gap: float, since: int) -> float:
    """How long a head takes for a movement over ``gap`` mm, seconds.

    ``threaded`` is whether a thread is on the needle before, ``since`` how many stitches ago the head stood still.
    """
    match move.kind:
        case Kind.STITCH:
            return 60 / profile.speed * max(1.0, gap / profile.full_to) * profile.slower(since)
        case Kind.JUMP:
            return 60 / profile.speed * max(1.0, gap / profile.full_to)
        case Kind.TRIM:
            return profile.trim_seconds
        case Kind.STOP:
            return profile.stop_seconds
        case Kind.THREAD if threaded:
            return profile.change_seconds
    return 0.0


def _count(report: SewReport, move: Movement, threaded: bool) -> None:
    match move.kind:
        case Kind.JUMP:
            report.jumps += 1
        case Kind.TRIM:
            report.trims += 1
        case Kind.STOP:
            report.stops.append(move.note)
        case Kind.THREAD if threaded:
            report.changes += 1
        case _:
            pass
