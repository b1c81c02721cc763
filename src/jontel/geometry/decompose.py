"""Any shape as strokes: columns along its medial axis that together cover it.

Branches of the axis run on through a junction where two of them go nearly straight on; the others abut there, and
their columns reach under the one that goes through. A sharp elbow ends a stroke, as a writer would lift the pen.
Edges of a column are the outline itself, bridged straight where another stroke leaves; rows join places that the same
circle of the axis touches, which is square to the stroke. Such circles cover a shape, and their chords do not cross:
H. Blum, "A transformation for extracting new descriptors of shape" (1967).
"""

import itertools
import math
from dataclasses import dataclass, replace

import msgspec
import numpy as np
import shapely
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from jontel.design.shapes import Lines
from jontel.design.stopping import go_on
from jontel.design.store import kept, shelved
from jontel.geometry.columns import SAMPLE, Rails, all_covered, covered, paired
from jontel.geometry.inside import nearest_on
from jontel.geometry.junctions import Layout, Track
from jontel.geometry.laying import laid_along
from jontel.geometry.outline import Outline
from jontel.geometry.polyline import Floats, at_lengths, lengths
from jontel.geometry.region import GRID, Region, polygons_of
from jontel.geometry.skeleton import REACHES

UNDER = 0.5
"""A column reaches so far, mm, under the one that it abuts on."""
LEANING = 25.0
"""Where an end leans by more than this, degrees, rows stay square and grow shorter along it; else they turn to it."""
TURNS_BACK = 0.5
"""Before such an end rows turn back to square over this part of what the end reaches ahead."""
DEEPEST, LOOKED_BACK = 2.2, 1.5
"""A column reaches ahead by so many radii of the junction at most; its way is that of the last so many of them."""
TOUCHES = 0.02
"""Edges nearer than this, mm, to a column touch it."""
ROUGHLY = 0.002
"""What strokes cover is measured to so many mm."""
HOME_DIGITS, OFF_TIES = 4, 0.213e-4
"""Shapes are the same elsewhere if they are to so many digits of a mm. Points of curves often lie right between two
such numbers: they are rounded this much beside that, mm, else the last bit would decide."""
LOOKED_AT = 6
"""One in so many places that face each other is looked at to see whether rows pass outside the shape."""
PRUNED = (REACHES, 0.6 * REACHES, 0.3 * REACHES)
"""Where strokes do not fit a shape, shorter branches of its axis are kept as well."""
COVERED, BEYOND, STRAYS = 0.98, 0.01, 0.3
"""Strokes fit if they cover the first part of a shape at least, and no more than the second beside it, and no row
passes farther outside than the third, mm."""
NEARLY, POCKET = 0.96, 0.31
"""They do as well if they cover the first part and no place left bare is larger than the second, as a radius, mm:
thread lies half of its width beside them, so that less stays bare than a fill would leave."""
BARE = 0.25
"""So large a place left bare, as a radius, mm, asks for shorter branches too."""
CLEAR = 0.15
"""A column that reaches under another keeps so far off the rim beyond, mm."""
Place = tuple[float, float]


@dataclass(frozen=True, eq=False)
class Stroke:
    """One column of a shape, whether its two ends lie under other strokes, and its edges before they reach there."""

    rails: Rails
    under: tuple[bool, bool]
    edges: tuple[Floats, Floats]


@dataclass(frozen=True)
class Joint:
    """Strokes ``one`` and ``other``, by number, meet; ``over`` of them covers the end of the other.

    ``places`` are where on the axis of each.
    """

    one: int
    other: int
    places: tuple[Place, Place]
    over: int


@dataclass(frozen=True, eq=False)
class Strokes:
    """The strokes of a connected shape, and where they meet.

    ``order`` are their numbers in the order in which a person wants them sewn; empty where nobody said.
    ``covers`` is the part of the shape that they cover, ``beyond`` what they cover outside it, in parts of it;
    ``strays`` is how far from it a row passes at most, and ``bare`` the radius of the largest place left bare, mm.
    """

    strokes: tuple[Stroke, ...]
    joints: tuple[Joint, ...] = ()
    covers: float = 1.0
    beyond: float = 0.0
    strays: float = 0.0
    bare: float = 0.0
    order: tuple[int, ...] = ()

    @property
    def fit(self) -> bool:
        """Whether they are the shape: they cover it, but for narrow places, and hardly anything beside it."""
        covered = self.covers >= COVERED or (self.covers >= NEARLY and self.bare <= POCKET)
        return covered and self.beyond <= BEYOND and self.strays <= STRAYS


@kept
def strokes_of(region: Region, letters: bool = False) -> tuple[Strokes, ...]:
    """The strokes of each part of a region, mm; a part that was seen elsewhere, as a letter is, is known."""
    found = []
    for part in region.geoms:
        home, corner = at_home(part)
        found.append(_moved(strokes_of_letter(home) if letters else strokes_at_home(home), corner))
    return tuple(found)


def at_home(shape: Polygon) -> tuple[Polygon, Floats]:
    """A shape moved to where the same shape always lies, and from where, (2,)."""
    corner = np.round(np.array(shape.bounds[:2]) + OFF_TIES, HOME_DIGITS)
    moved = shapely.transform(shape, lambda xy: np.round(xy - corner + OFF_TIES, HOME_DIGITS))
    if not moved.is_valid:  # a hole that came within the rounding of its rim
        moved = max(polygons_of(shapely.make_valid(moved)).geoms, key=lambda one: one.area, default=shape)
    home: Polygon = shapely.normalize(moved)  # its rings begin at the same point too
    return home, corner


class _Packed(msgspec.Struct, array_like=True):
    """A stroke in bytes: its rails, whether they close, their fixed ends, what lies under others, its own edges."""

    a: bytes
    b: bytes
    closed: bool
    fixed_ends: tuple[bool, bool]
    under: tuple[bool, bool]
    edges: tuple[bytes, bytes]


class _PackedStrokes(msgspec.Struct, array_like=True):
    strokes: tuple[_Packed, ...]
    joints: tuple[tuple[int, int, tuple[Place, Place], int], ...]
    fits: tuple[float, float, float, float]


def written_strokes(found: Strokes) -> bytes:
    """Strokes in bytes, to the last bit."""
    strokes = (
        _Packed(
            one.rails.a.tobytes(),
            one.rails.b.tobytes(),
            one.rails.closed,
            one.rails.fixed_ends,
            one.under,
            (one.edges[0].tobytes(), one.edges[1].tobytes()),
        )
        for one in found.strokes
    )
    joints = tuple((one.one, one.other, one.places, one.over) for one in found.joints)
    fits = (float(found.covers), float(found.beyond), float(found.strays), float(found.bare))
    return msgspec.msgpack.encode(_PackedStrokes(tuple(strokes), joints, fits))


def read_strokes(data: bytes) -> Strokes:
    """Strokes from bytes. Raises ``ValueError`` for what was not written so."""
    whole = msgspec.msgpack.decode(data, type=_PackedStrokes)
    strokes = tuple(
        Stroke(
            Rails(_edge(one.a), _edge(one.b), one.closed, one.fixed_ends),
            one.under,
            (_edge(one.edges[0]), _edge(one.edges[1])),
        )
        for one in whole.strokes
    )
    return Strokes(strokes, tuple(Joint(*one) for one in whole.joints), *whole.fits)


def _edge(data: bytes) -> Floats:
    return np.frombuffer(data, dtype=np.float64).reshape(-1, 2).copy()


@kept
def strokes_at_home(shape: Polygon) -> Strokes:
    """The strokes of a shape that lies at home, mm."""
    return decomposed(shape)


@kept
def strokes_of_letter(shape: Polygon) -> Strokes:
    """The same for a letter, whose strokes are found from one start of the program to the next."""
    question = b"strokes" + shapely.to_wkb(shape)
    return shelved(question, lambda: strokes_at_home(shape), written_strokes, read_strokes)


def _moved(found: Strokes, by: Floats) -> Strokes:
    """Strokes moved by (2,)."""
    strokes = tuple(
        Stroke(
            one.rails.moved(by),
            one.under,
            (one.edges[0] + by, one.edges[1] + by),
        )
        for one in found.strokes
    )
    joints = tuple(
        replace(joint, places=(_place(joint.places[0] + by), _place(joint.places[1] + by))) for joint in found.joints
    )
    return replace(found, strokes=strokes, joints=joints)


def decomposed(shape: Polygon, merges: Lines = ()) -> Strokes:
    """The strokes of a polygon with holes, mm: of the barest axis that leaves nothing bare, else what fits best.

    What a person merged, by a place on each of two strokes, is one.
    """
    found: list[Strokes] = []
    for reaches in PRUNED:
        found.append(_along(shape, Layout(shape, reaches, merges)))
        if found[-1].fit and found[-1].covers >= COVERED and found[-1].bare < BARE:
            return found[-1]
    return max(found, key=lambda one: (one.fit, one.covers - one.beyond - one.strays))


def _along(shape: Polygon, layout: Layout) -> Strokes:
    """The strokes of a shape along the axis that is laid out."""
    found = [(track, laid_along(layout, track)) for track in layout.tracks()]
    sound = [(track, laid) for track, laid in found if laid is not None]
    owner = {piece: number for number, (track, _) in enumerate(sound) for piece, _ in track.way}
    middles = _middles(layout, owner)
    around = shape.buffer(TOUCHES, quad_segs=2)
    shapely.prepare(around)
    strokes: list[Stroke] = []
    for number, (track, laid) in enumerate(sound):
        go_on()
        rails, under = laid.rails, [False, False]
        for side in () if rails.closed else (0, 1):
            arm = track.end(side)
            over = [one for one in middles.get(layout.junction(arm), []) if one != number]
            under[side] = bool(over) and layout.abuts(arm)
            if under[side]:
                cloth = all_covered([sound[one][1].rails for one in over]).buffer(TOUCHES)
                rails = _ended(rails, side, layout.outline, cloth, layout.radii[layout.junction(arm)])
            else:
                rails = _ended(rails, side, layout.outline)
        strokes.append(Stroke(_inside(rails, shape, around), (under[0], under[1]), (laid.a, laid.b)))
    joints: list[Joint] = []
    for junction, arms in layout.arms.items():
        here = sorted({owner[piece] for piece, _ in arms if piece in owner})
        for one, other in itertools.combinations(here, 2):
            passing = [number for number in middles.get(junction, []) if number in (one, other)]
            first, second = (_met(strokes[k].rails, sound[k][0], layout, junction) for k in (one, other))
            joints.append(Joint(one, other, (first, second), passing[0] if passing else one))
    joints += _bridges([one.rails for one in strokes], joints)
    return judged(tuple(strokes), tuple(joints), shape)


def judged(strokes: tuple[Stroke, ...], joints: tuple[Joint, ...], shape: Polygon) -> Strokes:
    """Strokes of a shape with how well they fit it."""
    rough = [covered(one.rails).simplify(ROUGHLY, preserve_topology=False) for one in strokes]
    whole = shapely.unary_union([shapely.make_valid(one) for one in rough], grid_size=GRID)
    area, within = max(shape.area, 1e-9), whole.intersection(shape).area
    shapely.prepare(shape)
    strays = max((_strays(one.rails, shape) for one in strokes), default=0.0)
    left = polygons_of(shape.difference(whole))
    bare = max((float(shapely.length(shapely.maximum_inscribed_circle(one))) for one in left.geoms), default=0.0)
    return Strokes(strokes, joints, within / area, (whole.area - within) / area, strays, bare)


def _bridges(columns: list[Rails], joints: list[Joint]) -> list[Joint]:
    """Joints between strokes of a shape that lie side by side and meet at no junction: so that all hang together.

    The part of all strokes that hangs together with the first is joined to what is nearest to it, again and again.
    """
    found: list[Joint] = []
    apart = set(range(1, len(columns)))
    reached = {0} if columns else set()
    while apart:
        ways = [way for one in (*joints, *found) for way in ((one.one, one.other), (one.other, one.one))]
        grown = {there for here, there in ways if here in reached}
        if grown & apart:
            reached |= grown
            apart -= grown
            continue
        near = min((*_nearest(columns[one], columns[other]), one, other) for one in reached for other in apart)
        found.append(Joint(near[3], near[4], (near[1], near[2]), near[3]))
    return found


def _nearest(one: Rails, other: Rails) -> tuple[float, Place, Place]:
    """How near the middles of two columns come to each other, mm, and where on each."""
    far = np.hypot(*(one.middle[:, None] - other.middle[None]).transpose(2, 0, 1))
    k, j = np.unravel_index(int(np.argmin(far)), far.shape)
    return float(far[k, j]), _place(one.middle[k]), _place(other.middle[j])


def _place(spot: Floats) -> Place:
    return float(spot[0]), float(spot[1])


def _inside(rails: Rails, shape: Polygon, around: Polygon) -> Rails:
    """A column whose edges are brought back onto the shape where a bridge or an end lies beside it.

    ``around`` is all that touches the shape.
    """
    edges = []
    for edge in (rails.a, rails.b):
        outside = np.flatnonzero(~shapely.contains_xy(around, *edge.T))
        if len(outside):
            edge = edge.copy()
            edge[outside] = nearest_on(shape, edge[outside])
        edges.append(edge)
    return Rails(edges[0], edges[1], rails.closed, rails.fixed_ends)


def _strays(rails: Rails, shape: Polygon) -> float:
    """How far outside a shape some of the rows of a column pass, mm."""
    a, b = rails.a[::LOOKED_AT], rails.b[::LOOKED_AT]
    inner = np.vstack([a + part * (b - a) for part in (0.25, 0.5, 0.75)])
    outside = inner[~shapely.contains_xy(shape, *inner.T)]
    return float(shapely.distance(shapely.points(outside), shape).max()) if len(outside) else 0.0


def _middles(layout: Layout, owner: dict[int, int]) -> dict[int, list[int]]:
    """The strokes that cover the middle of each junction."""
    found: dict[int, list[int]] = {}
    for junction, arms in layout.arms.items():
        for arm in arms:
            elbow = layout.elbow(arm)
            covers = arm in layout.pairs or (elbow is not None and elbow.through)
            if arm[0] in owner and covers and owner[arm[0]] not in found.get(junction, []):
                found.setdefault(junction, []).append(owner[arm[0]])
    return found


def _met(rails: Rails, track: Track, layout: Layout, junction: int) -> Place:
    """Where on the axis of a track others meet it at a junction: at its end, or where it passes."""
    middle = rails.middle
    spot = middle[rails.nearest(layout.places[junction])]
    for side in (0, 1):
        arm = track.end(side)
        if layout.junction(arm) == junction and arm not in layout.pairs:
            spot = middle[-side]
    return _place(spot)


def _ended(rails: Rails, side: int, outline: Outline, over: BaseGeometry | None = None, radius: float = 0.0) -> Rails:
    """A column finished at its end on one ``side``.

    Rows keep square where it leans much, and grow shorter along it. Where the cloth ``over`` it is sewn later, at a
    junction of that ``radius``, it reaches under that.
    """
    a, b = (rails.a, rails.b) if side == 1 else (rails.a[::-1], rails.b[::-1])
    wide = math.dist(a[-1], b[-1])
    ahead = _way_ahead(a, b, LOOKED_BACK / 2 * (wide if over is None else radius))
    if ahead is None:
        return rails
    middle = (a[-1] + b[-1]) / 2
    level = np.array([float((edge[-1] - middle) @ ahead) for edge in (a, b)])
    if float(np.ptp(level)) > math.sin(math.radians(LEANING)) * wide:
        a, b = _shortening(a, b, ahead, level, outline, 0.0 if over is None else UNDER)
    elif over is not None:
        a, b = _squared(a, b, ahead, level, over, outline, radius)
    else:
        return rails
    return Rails(a, b) if side == 1 else Rails(a[::-1], b[::-1])


def _way_ahead(a: Floats, b: Floats, back: float) -> Floats | None:
    """The unit vector in which a column goes on at its end, by the last ``back`` mm of it before rows turn there."""
    middle = (a + b) / 2
    along = lengths(middle)
    last = float(along[-1])
    near, far = at_lengths(middle, np.array([max(0.0, last - 2 * back), max(0.0, last - back / 2)]), along)
    size = math.dist(near, far)
    return None if size < 1e-6 else np.asarray((far - near) / size)


def _squared(
    a: Floats, b: Floats, ahead: Floats, level: Floats, over: BaseGeometry, outline: Outline, radius: float
) -> tuple[Floats, Floats]:
    """Two edges carried on ``ahead`` until both are as far under the cloth ``over`` them as wanted, and level.

    ``level`` (2,) is how far ahead each ends now.
    """
    part = np.linspace(0, 1, 5)[:, None]
    starts = a[-1] * (1 - part) + b[-1] * part
    rays = shapely.linestrings(np.stack([starts, starts + DEEPEST * radius * ahead], axis=1))
    met = shapely.intersection(rays, over)
    far = np.where(shapely.is_empty(met), 0.0, shapely.distance(shapely.points(starts), met))
    depth = np.interp(part[:, 0], (0, 1), level) + far + UNDER
    count = max(2, math.ceil(float(depth.max()) / SAMPLE))
    ends = []
    for edge, low in zip((a, b), level, strict=True):
        inside = edge[-1] + TOUCHES * ((a[-1] + b[-1]) / 2 - edge[-1])
        room = _room(inside, ahead, min(float(depth.max() - low), DEEPEST * radius), outline)
        ends.append(edge[-1] + np.linspace(0, room, count + 1)[1:, None] * ahead)
    return np.vstack([a, ends[0]]), np.vstack([b, ends[1]])


def _shortening(
    a: Floats, b: Floats, ahead: Floats, level: Floats, outline: Outline, reach: float
) -> tuple[Floats, Floats]:
    """Two edges whose rows stay square and grow shorter along their leaning end, ``reach`` mm ahead of it."""
    short = int(np.argmin(level))
    one, other = (a, b) if short == 0 else (b, a)
    tip = other[-1]
    under = _room(tip + TOUCHES * (one[-1] - tip), ahead, reach, outline) * ahead
    along = lengths(one), lengths(other)
    leans = float(np.ptp(level))
    square = float(along[1][-1]) - leans
    pairs = [
        (float(along[0][k]), float(along[1][k])) for k in np.flatnonzero(along[1] < square - TURNS_BACK * leans)[::6]
    ]
    line, long = np.vstack([one, one[-1] + under, tip + under]), np.vstack([other, tip + under])
    made = paired(line, long, [*pairs, (float(along[0][-1]), max(square, 0.0))], False)
    return (made.a, made.b) if short == 0 else (made.b, made.a)


def _room(start: Floats, ahead: Floats, wanted: float, outline: Outline) -> float:
    """How far, up to what is ``wanted``, one can go ``ahead`` and keep clear of the rim, mm."""
    if not shapely.contains_xy(outline.shape, *(start + TOUCHES * ahead)):
        return 0.0
    stop = outline.ray(start, ahead, wanted + CLEAR)
    return max(0.0, wanted if stop is None else min(wanted, float((stop - start) @ ahead) - CLEAR))
