"""From a picture to a design that can be sewn, in one step, by values that are seen before they are taken.

What a drawing holds becomes objects (``artwork/digitize.py``); here they are made ready: details that are too small
left out, rows laid by the shapes and apart from their neighbours', lower edges reaching under upper ones, an order
with few thread changes, nothing sewn that is hidden, near objects of one thread joined.
"""

from collections import Counter
from collections.abc import Collection
from contextlib import suppress

import numpy as np
import shapely
from msgspec import Struct
from msgspec.structs import replace

from jontel.artwork.choices import Choices
from jontel.artwork.digitize import Digitized
from jontel.artwork.placing import digitized
from jontel.design.design import Artwork, Design, StitchObject
from jontel.design.edits import change_objects, remove_objects
from jontel.design.errors import CannotDo, CannotRead, CannotStitch
from jontel.design.kinds import traits_of
from jontel.design.kinds.fill import Fill
from jontel.design.kinds.satin import Satin
from jontel.design.resolve import resolve
from jontel.design.shapes import Area, Line, Shape
from jontel.design.stopping import go_on
from jontel.design.thread import Thread, hex_of, nearest_thread
from jontel.design.words import many
from jontel.geometry.bands import as_column
from jontel.geometry.polyline import flatten
from jontel.geometry.region import Region, across_angle
from jontel.sewing.estimate import Share, shares
from jontel.sewing.figures import figures
from jontel.sewing.optimise import better_order
from jontel.sewing.plan import SewPlan, plan
from jontel.sewing.proposals import Proposal, Proposed
from jontel.sewing.stranding import made_strand, offered
from jontel.sewing.undercut import MARGIN, hidden_for_good, undercut_where_it_saves
from jontel.shaping.joining import Reach, reached_under, taken_to_pieces
from jontel.shaping.kinds import to_area, to_line
from jontel.shaping.lining import drawn_once, lines_in_succession
from jontel.shaping.outlines import region_in
from jontel.shaping.wishes import PLAIN, Colour, Digitizing, Sorted

LONG = 1.6
"""A shape so many times as long as wide has a direction of its own."""
BAND = 12.0
"""A shape with a direction that is no wider than this, mm, is sewn across it; a wider one at 45 degrees to it."""
BESIDE = 0.6
"""Shapes no farther apart than this, mm, are neighbours."""
APART = 30.0
"""Rows of neighbours lie so many degrees apart, or as far as can be."""
LINE_NEAR = 0.5
"""A line is at a place that is no farther from it than this, mm."""
TURNS = (0.0, 45.0, -45.0, 90.0, 22.5, -22.5, 67.5, -67.5)
"""Rows may lie so many degrees off the way that the shape would have them."""
NEAR_WAY = 60.0
"""So many degrees off its own way count as much as rows that lie wholly as a neighbour's."""
MOST_ORDERED = 1_500
"""Designs of more objects are neither put in order nor looked through for strands until somebody asks for it."""


def ready(design: Design, ids: Collection[int], values: Digitizing = PLAIN) -> Design:
    """``design`` whose objects in ``ids`` were just digitized, made ready to sew. Raises ``CannotRead``."""
    small = {item.id for item in design.objects if item.id in ids and _size(item) < values.least}
    some = frozenset(ids) - small
    if small and not some:
        raise CannotRead(f"All of it is smaller than {values.least:g} mm; leave out less, or bring it in larger.")
    made = remove_objects(design, small)
    few = len(made.objects) <= MOST_ORDERED
    if values.undercut:
        made = drawn_once(made, some)
        some &= {item.id for item in made.objects}
    if values.joined:
        made = lines_in_succession(made, some)
    if values.ordered and few:
        made = better_order(made, some).design
    if values.under > 0:
        made = reached_under(made, some, Reach(values.under))
    if values.turned:
        made = _turned(made, some)
    if values.undercut:
        hidden = hidden_for_good(made, some)
        made, some = remove_objects(made, hidden), some - hidden
        made = undercut_where_it_saves(made, some, MARGIN)
    return _joined(made, some) if values.joined and few else made


def digitizing(number: int, chart: tuple[Thread, ...]) -> Proposal:
    """Making objects of a picture that lies on the cloth, as a proposal: seen before it is taken."""

    def work(design: Design, _ids: frozenset[int], values: Struct | None, known: SewPlan | None) -> Proposed:
        assert isinstance(values, Digitizing)
        found = digitized(design, number, chart, values.colours, values.choices)
        raw, colour_of = chosen(found, values.choices, design.artwork[number])
        if not colour_of:
            raise CannotRead(f"All that {design.artwork[number].name} shows is left out; choose what shall be sewn.")
        made = ready(raw, set(colour_of), values)
        first = plan(design, known)
        sewn = plan(made, first)
        said = told(made, set(colour_of))
        colours = _colours(found, values.choices, colour_of, sewn, chart)
        return Sorted(made, figures(first), figures(sewn), said, colours)

    return Proposal(
        "Digitize",
        "Objects of what the picture shows",
        "Digitize the picture",
        work,
        Digitizing,
        yes="Make objects",
    )


def chosen(found: Digitized, choices: Choices, picture: Artwork) -> tuple[Design, dict[int, str]]:
    """Objects that are sewn as was chosen for their colours and for places of the picture, and the colour of each."""
    design, colour_of = found.design, dict(found.colour_of)
    singly: dict[int, str] = {}
    for across, down, what in choices.places:
        go_on()
        spot = shapely.Point(picture.x + across * picture.width, picture.y + down * picture.height)
        on_top = next(
            (item for item in reversed(design.objects) if item.id in colour_of and _is_at(item, spot)), None
        )
        if on_top is None:
            continue
        colour = colour_of.pop(on_top.id)
        design, pieces = _apart(design, on_top.id)
        colour_of |= dict.fromkeys(pieces, colour)
        here = [item.id for item in design.objects if item.id in pieces and _is_at(item, spot)]
        singly |= dict.fromkeys(here[-1:], what)
    for identity, colour in list(colour_of.items()):
        what = singly.get(identity, choices.of_colour(colour))
        if what == "left out":
            design = remove_objects(design, {identity})
            del colour_of[identity]
        else:
            design = _sewn_as(design, identity, what)
    return design, colour_of


def _apart(design: Design, identity: int) -> tuple[Design, frozenset[int]]:
    """An object in its pieces, if it has several."""
    try:
        return taken_to_pieces(design, frozenset({identity}), None)
    except CannotDo:
        return design, frozenset({identity})


def _is_at(item: StitchObject, spot: shapely.Point) -> bool:
    """Whether a place lies on an object, or on the thread of a line."""
    if isinstance(item.shape, Line) and item.lettering is None:
        lines = [shapely.LineString(one.loop()) for one in flatten(item.shape.path)]
        return any(line.distance(spot) <= max(item.shape.width / 2, LINE_NEAR) for line in lines)
    with suppress(CannotStitch, CannotDo):
        return bool(region_in(item).intersects(spot))
    return False


def _sewn_as(design: Design, identity: int, what: str) -> Design:
    """An object as a fill, a satin or a run along its outline; as it is where it cannot be that, or is to stay."""
    item = design.object(identity)
    if item is None or item.lettering is not None or what not in ("fill", "satin", "outline"):
        return design
    some = frozenset({identity})
    with suppress(CannotDo):
        if what == "outline":
            return to_line(design, some, None)[0]
        if what == "satin" and isinstance(item.shape, Area):
            shape: Shape = as_column(region_in(item)) or item.shape
            return change_objects(design, some, lambda one: replace(one, shape=shape, cover=Satin(), underlay=None))
        if what == "satin":
            return change_objects(design, some, lambda one: replace(one, cover=Satin(), underlay=None))
        made = to_area(design, some, None)[0]
        return change_objects(made, some, lambda one: replace(one, cover=Fill(), underlay=None))
    return design


def _colours(
    found: Digitized,
    choices: Choices,
    colour_of: dict[int, str],
    sewn: SewPlan,
    chart: tuple[Thread, ...],
) -> tuple[Colour, ...]:
    """All colours of a picture, with what they come to."""
    objects: dict[str, list[Share]] = {}
    for share in shares(sewn):
        if share.object in colour_of:
            objects.setdefault(colour_of[share.object], []).append(share)
    told: list[Colour] = []
    for rgb, cloth in found.colours:
        mine = objects.get(hex_of(rgb), [])
        stitches, seconds = sum(one.stitches for one in mine), sum(one.stop - one.start for one in mine)
        choice, thread = choices.of_colour(hex_of(rgb)), nearest_thread(rgb, chart)
        shaded = rgb in found.shaded
        told.append(Colour(hex_of(rgb), cloth, choice, thread, len(mine), stitches, seconds, shaded))
    return tuple(told)


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
