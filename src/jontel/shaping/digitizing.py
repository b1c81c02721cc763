"""From a picture to a design that can be sewn, in one step, by values that are seen before they are taken.

What a drawing holds becomes objects (``artwork/digitize.py``); here they are made ready: details that are too small
left out, rows laid by the shapes and apart from their neighbours', lower edges reaching under upper ones, an order
with few thread changes, nothing sewn that is hidden, near objects of one thread joined.
"""

from collections import Counter
from collections.abc import Collection
from contextlib import suppress
from typing import Annotated

import numpy as np
import shapely
from msgspec import Struct
from msgspec.structs import replace

from jontel.artwork.placing import digitized
from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects, remove_objects
from jontel.design.errors import CannotDo, CannotRead, CannotStitch
from jontel.design.kinds import traits_of
from jontel.design.kinds.fill import Fill
from jontel.design.kinds.values import Group, number, yes_no
from jontel.design.resolve import resolve
from jontel.design.shapes import Area
from jontel.design.stopping import go_on
from jontel.design.thread import Thread
from jontel.design.words import many
from jontel.geometry.polyline import flatten
from jontel.geometry.region import Region, across_angle
from jontel.sewing.figures import figures
from jontel.sewing.optimise import better_order
from jontel.sewing.plan import SewPlan, plan
from jontel.sewing.proposals import Proposal, Proposed
from jontel.sewing.stranding import made_strand, offered
from jontel.sewing.undercut import MARGIN, undercut_where_it_saves
from jontel.shaping.joining import Reach, reached_under
from jontel.shaping.outlines import region_in

HOW = Group("How", open=True)
LONG = 1.6
"""A shape so many times as long as wide has a direction of its own."""
BAND = 12.0
"""A shape with a direction that is no wider than this, mm, is sewn across it; a wider one at 45 degrees to it."""
BESIDE = 0.6
"""Shapes no farther apart than this, mm, are neighbours."""
APART = 30.0
"""Rows of neighbours lie so many degrees apart, or as far as can be."""
TURNS = (0.0, 45.0, -45.0, 90.0, 22.5, -22.5, 67.5, -67.5)
"""Rows may lie so many degrees off the way that the shape would have them."""
NEAR_WAY = 60.0
"""So many degrees off its own way count as much as rows that lie wholly as a neighbour's."""
MOST_ORDERED = 1_500
"""Designs of more objects are neither put in order nor looked through for strands until somebody asks for it."""


class Digitizing(Struct, frozen=True):
    """How a picture is made into a design.

    Of a picture of pixels at most ``colours`` are kept. What is smaller than ``least`` mm is left out; rows of
    neighbours lie apart where they are ``turned``; the lower of two that touch reaches ``under`` the upper.
    """

    colours: Annotated[int, number("At most colours", 1, 12, "count", 1, HOW)] = 12
    least: Annotated[float, number("Leave out under", 0.0, 20.0, "length", 0.1, HOW)] = 0.8
    turned: Annotated[bool, yes_no("Rows by the shapes", HOW)] = True
    under: Annotated[float, number("Reach under", 0.0, 5.0, "length", 0.1, HOW)] = 0.5
    ordered: Annotated[bool, yes_no("Fewest thread changes", HOW)] = True
    undercut: Annotated[bool, yes_no("Do not sew what is hidden", HOW)] = True
    joined: Annotated[bool, yes_no("Join what is near", HOW)] = True


PLAIN = Digitizing()


def ready(design: Design, ids: Collection[int], values: Digitizing = PLAIN) -> Design:
    """``design`` whose objects in ``ids`` were just digitized, made ready to sew. Raises ``CannotRead``."""
    small = {item.id for item in design.objects if item.id in ids and _size(item) < values.least}
    some = frozenset(ids) - small
    if small and not some:
        raise CannotRead(f"All of it is smaller than {values.least:g} mm; leave out less, or bring it in larger.")
    made = remove_objects(design, small)
    few = len(made.objects) <= MOST_ORDERED
    if values.ordered and few:
        made = better_order(made, some).design
    if values.under > 0:
        made = reached_under(made, some, Reach(values.under))
    if values.turned:
        made = _turned(made, some)
    if values.undercut:
        made = undercut_where_it_saves(made, some, MARGIN)
    return _joined(made, some) if values.joined and few else made


def digitizing(number: int, chart: tuple[Thread, ...]) -> Proposal:
    """Making objects of a picture that lies on the cloth, as a proposal: seen before it is taken."""

    def work(design: Design, _ids: frozenset[int], values: Struct | None, known: SewPlan | None) -> Proposed:
        assert isinstance(values, Digitizing)
        before = {item.id for item in design.objects}
        raw = digitized(design, number, chart, values.colours)
        fresh = {item.id for item in raw.objects} - before
        made = ready(raw, fresh, values)
        first = plan(design, known)
        return Proposed(made, figures(first), figures(plan(made, first)), told(made, fresh))

    return Proposal(
        "Digitize",
        "Objects of what the picture shows",
        "Digitize the picture",
        work,
        Digitizing,
        yes="Make objects",
    )


def told(design: Design, ids: Collection[int]) -> str:
    """What the objects in ``ids`` are, in a sentence."""
    some = [item for item in design.objects if item.id in ids]
    kinds = Counter(traits_of(item.cover).title.lower() for item in some)
    threads = {item.thread for item in some}
    parts = ", ".join(many(count, kind) for kind, count in kinds.most_common())
    return f"{many(len(some), 'object')} in {many(len(threads), 'thread')}: {parts}."


def _size(item: StitchObject) -> float:
    """How long what is drawn is at most, mm; words are as large as they are wanted."""
    if item.lettering is not None:
        return float("inf")
    paths = (item.shape.edge, item.shape.other_edge) if not hasattr(item.shape, "path") else (item.shape.path,)
    spots = [line.xy for path in paths for line in flatten(path)]
    wide = getattr(item.shape, "width", 0.0)
    return float(np.hypot(*np.ptp(np.vstack(spots), axis=0))) + wide if spots else 0.0


def _turned(design: Design, ids: Collection[int]) -> Design:
    """Rows of fills laid by their shapes, and apart from those of the neighbours that were laid before them."""
    items: list[StitchObject] = []
    regions: list[Region] = []
    for item in design.objects:
        if isinstance(item.shape, Area) and isinstance(item.cover, Fill):
            with suppress(CannotStitch, CannotDo):
                regions.append(region_in(item))
                items.append(item)
    tree = shapely.STRtree(regions)
    laid: list[float] = []
    angles: dict[int, float] = {}
    for place, (item, region) in enumerate(zip(items, regions, strict=True)):
        go_on()
        assert isinstance(item.cover, Fill) and isinstance(item.shape, Area)
        own = float(getattr(resolve(item, design.brief.ground).cover, "angle", 0.0))
        if item.id in ids and item.cover.angle is None and not item.shape.lines and item.shape.guide is None:
            near = tree.query(region, predicate="dwithin", distance=BESIDE).tolist()
            own = angles[item.id] = _angle(_way(region, own), [laid[k] for k in near if k < place])
        laid.append(own)

    def changed(item: StitchObject) -> StitchObject:
        assert isinstance(item.cover, Fill)
        return replace(item, cover=replace(item.cover, angle=angles[item.id]))

    return change_objects(design, set(angles), changed)


def _way(region: Region, plain: float) -> float:
    """How the rows of a shape want to lie, degrees: ``plain`` where it has no direction of its own."""
    if region.is_empty:
        return plain
    sides = np.hypot(*np.diff(shapely.get_coordinates(region.minimum_rotated_rectangle)[:3], axis=0).T)
    if len(sides) < 2 or sides.max() < LONG * max(float(sides.min()), 1e-6):
        return plain
    across = across_angle(region)
    return across if sides.min() <= BAND else (across + 45.0) % 180


def _angle(way: float, others: Collection[float]) -> float:
    """The angle nearest to ``way`` that lies apart from those of the neighbours."""

    def cost(turn: float) -> float:
        gaps = [abs((way + turn - other + 90) % 180 - 90) for other in others]
        return abs(turn) / NEAR_WAY + 3 * sum(max(0.0, 1 - gap / APART) for gap in gaps)

    return round((way + min(TURNS, key=cost)) % 180, 1)


def _joined(design: Design, ids: Collection[int]) -> Design:
    """Near objects of one thread, cut apart otherwise, as strands; as they are where that cannot be."""
    made = design
    for group in offered(plan(design)):
        go_on()
        if group <= set(ids):
            try:
                made = made_strand(made, group)
            except CannotDo:
                continue
    return made
