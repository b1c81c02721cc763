"""The proof: what would spoil a sew-out, named with its object and its place, and how to mend it."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np
import shapely
from msgspec.structs import replace

from jontel.design.design import Design
from jontel.design.edits import change_objects, reorder
from jontel.design.ground import Hoop
from jontel.design.kinds import traits_of
from jontel.design.shapes import Area, Point
from jontel.geometry.hatch import Ints
from jontel.geometry.polyline import Floats
from jontel.geometry.region import Region, repaired, self_crossings
from jontel.sewing.plan import SewPlan, covered_by, footprint
from jontel.sewing.profile import STANDARD, MachineProfile
from jontel.stitching.stitches import SHORTEST, Kind, Layer

Severity = Literal["spoils", "look"]
BURIED = 0.92
"""An object of which a larger part than this is sewn over afterwards is reported."""
PERSON_SEES = 7.0


@dataclass(frozen=True)
class Finding:
    """One result of the proof. ``fix`` is an edit that mends it, ``fix_label`` says what it does."""

    kind: str
    severity: Severity
    sentence: str
    objects: tuple[int, ...]
    place: Point | None = None
    fix_label: str | None = None
    fix: Callable[[Design], Design] | None = None


def proof(design: Design, plan: SewPlan, profile: MachineProfile = STANDARD) -> tuple[Finding, ...]:
    """All findings, the worst first."""
    found = [
        *_not_stitched(plan),
        *_outside_hoop(design, plan),
        *_too_long(design, plan, profile),
        *_too_short(design, plan),
        *_buried(design),
        *_crossings(design),
    ]
    return tuple(sorted(found, key=lambda one: one.severity != "spoils"))


def _name(design: Design, identity: int) -> str:
    item = design.object(identity)
    return item.name if item else "an object"


def _many(count: int) -> str:
    return f"{count} stitch{'' if count == 1 else 'es'}"


def _at(point: Sequence[float] | Floats) -> str:
    return f"x {point[0]:.1f}, y {point[1]:.1f}"


def _spot(xy: Floats) -> Point:
    return float(xy[0]), float(xy[1])


def _not_stitched(plan: SewPlan) -> list[Finding]:
    return [Finding("not stitched", "spoils", f.sentence, (f.object,), f.place) for f in plan.failures]


def hoop_shape(hoop: Hoop) -> shapely.Polygon:
    """The field of a hoop, mm, its centre at the origin."""
    corner = min(hoop.corner, hoop.width / 2, hoop.height / 2)
    inner = shapely.box(
        -hoop.width / 2 + corner, -hoop.height / 2 + corner, hoop.width / 2 - corner, hoop.height / 2 - corner
    )
    return inner.buffer(corner, quad_segs=32)


def _outside_hoop(design: Design, plan: SewPlan) -> list[Finding]:
    rows = np.flatnonzero(plan.kind == Kind.STITCH)
    field = hoop_shape(design.brief.hoop)
    shapely.prepare(field)
    outside = rows[~shapely.intersects_xy(field, *plan.xy[rows].T)]
    found = []
    for identity in np.unique(plan.object[outside]):
        own = outside[plan.object[outside] == identity]
        far = own[int(np.argmax(shapely.distance(shapely.points(plan.xy[own]), field)))]
        sentence = (
            f"“{_name(design, int(identity))}” sews {_many(len(own))} outside the hoop "
            f"{design.brief.hoop.name}, farthest at {_at(plan.xy[far])}: move it, scale it or take a larger hoop."
        )
        found.append(Finding("outside hoop", "spoils", sentence, (int(identity),), _spot(plan.xy[far])))
    return found


def _stitch_sizes(plan: SewPlan) -> tuple[Ints, Floats]:
    rows = np.flatnonzero(plan.sewn())
    return rows, np.hypot(*(plan.xy[rows] - plan.xy[rows - 1]).T)


def _too_long(design: Design, plan: SewPlan, profile: MachineProfile) -> list[Finding]:
    rows, size = _stitch_sizes(plan)
    found: list[Finding] = []
    long = rows[size > PERSON_SEES + 1e-6]
    for identity in np.unique(plan.object[long]):
        own = long[plan.object[long] == identity]
        worst = own[int(np.argmax(np.hypot(*(plan.xy[own] - plan.xy[own - 1]).T)))]
        length = float(np.hypot(*(plan.xy[worst] - plan.xy[worst - 1])))
        over = length > profile.longest_move
        sentence = (
            f"“{_name(design, int(identity))}” has {_many(len(own))} over {PERSON_SEES:.0f} mm, the longest "
            f"{length:.1f} mm at {_at(plan.xy[worst])}: "
            + ("the machine cannot move that far." if over else "a float that long snags; split it.")
        )
        found.append(
            Finding("long stitch", "spoils" if over else "look", sentence, (int(identity),), _spot(plan.xy[worst]))
        )
    return found


def _too_short(design: Design, plan: SewPlan) -> list[Finding]:
    rows, size = _stitch_sizes(plan)
    short = rows[(size < SHORTEST - 1e-4) & (plan.layer[rows] != Layer.LOCK)]
    found: list[Finding] = []
    for identity in np.unique(plan.object[short]):
        own = short[plan.object[short] == identity]
        sentence = (
            f"“{_name(design, int(identity))}” has {_many(len(own))} under {SHORTEST} mm, one at "
            f"{_at(plan.xy[own[0]])}: thread breaks there; enlarge the shape or widen its spacing."
        )
        found.append(Finding("short stitch", "look", sentence, (int(identity),), _spot(plan.xy[own[0]])))
    return found


def _buried(design: Design) -> list[Finding]:
    regions = [covered_by(item, design) for item in design.objects]
    tree = shapely.STRtree(regions)
    found: list[Finding] = []
    for number, item in enumerate(design.objects):
        own = footprint(item, design)
        if own.is_empty or not traits_of(item.cover).visible:
            continue
        over = sorted(int(k) for k in tree.query(own, predicate="intersects") if k > number)
        if not over or hidden_share(_Same(own), tuple(_Same(regions[k]) for k in over)) < BURIED:
            continue
        shares = {k: shapely.intersection(own, regions[k]).area / own.area for k in over}
        hidden = hidden_share(_Same(own), tuple(_Same(regions[k]) for k in over))
        burier = design.objects[max(shares, key=lambda k: shares[k])]
        last = design.objects[max(k for k, share in shares.items() if share > 0.05)]
        following = design.objects.index(last) + 1
        before = design.objects[following].id if following < len(design.objects) else None
        place = own.representative_point()
        found.append(
            Finding(
                "buried",
                "spoils",
                f"“{item.name}” is sewn before “{burier.name}”, which then covers {hidden:.0%} of it at "
                f"{_at((place.x, place.y))}: sew it after.",
                (item.id, burier.id),
                (place.x, place.y),
                f"Sew “{item.name}” after “{last.name}”",
                _mover(item.id, before),
            )
        )
    return found


@dataclass(frozen=True, eq=False)
class _Same:
    """A region compared by identity: the edges of untouched objects are the same ones as before."""

    region: Region

    def __hash__(self) -> int:
        return id(self.region)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Same) and other.region is self.region


@lru_cache(maxsize=4096)
def hidden_share(own: _Same, over: tuple[_Same, ...]) -> float:
    """The part of a region, 0 to 1, that lies under others."""
    cover = shapely.unary_union([one.region for one in over])
    return float(shapely.intersection(own.region, cover).area / own.region.area)


def _mover(identity: int, before: int | None) -> Callable[[Design], Design]:
    return lambda design: reorder(design, {identity}, before)


def _crossings(design: Design) -> list[Finding]:
    found: list[Finding] = []
    for item in design.objects:
        if not isinstance(item.shape, Area):
            continue
        places = self_crossings(item.shape.path)
        if places:
            sentence = (
                f"The outline of “{item.name}” crosses itself at {_at(places[0])}"
                + (f" and {len(places) - 1} more places" if len(places) > 1 else "")
                + ": repair it, so that what is inside is what you meant."
            )
            found.append(
                Finding(
                    "crossing outline", "look", sentence, (item.id,), places[0], "Repair the outline",
                    _repairer(item.id),
                )
            )  # fmt: skip
    return found


def _repairer(identity: int) -> Callable[[Design], Design]:
    def repair(design: Design) -> Design:
        return change_objects(
            design,
            {identity},
            lambda item: replace(item, shape=repaired(item.shape)) if isinstance(item.shape, Area) else item,
        )

    return repair
