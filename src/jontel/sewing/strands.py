"""Strands: objects sewn as one length of thread.

Lines among them that are runs become one walk over all of them. Between the rest the needle goes under what is sewn
later; where nothing is, along the outlines of the strand, on the shortest such way (E. W. Dijkstra, "A note on two
problems in connexion with graphs", 1959); straight over bare cloth only as far as there is no other way.
"""

from collections.abc import Sequence
from itertools import groupby

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
import shapely
from msgspec.structs import replace
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from jontel.design.design import Design, StitchObject
from jontel.design.ground import Ground
from jontel.design.kinds.run import Run, RunRecipe
from jontel.design.order import Strand
from jontel.design.paths import polyline_path
from jontel.design.resolve import resolve
from jontel.design.shapes import Line, Point
from jontel.design.store import kept
from jontel.geometry.polyline import CORNER_DEGREES, Floats, Polyline, at_lengths, flatten, lengths, turns
from jontel.geometry.touring import Piece, fewest_repeats, toured
from jontel.sewing.overlaps import Bends, Overlaps
from jontel.stitching.running import run_points
from jontel.stitching.stitches import SHORTEST

MEET = 0.6
"""Lines whose ends come as near as this, mm, to another line meet it."""
STEP = 1.0
"""Outlines are followed from one place to the next, so many mm apart."""
ACROSS = 2.5
"""Between outlines nearer than this, mm, the needle may step across."""
BARE, ALONG = 6.0, 1.0
"""What a mm costs over bare cloth and along an outline; under what is sewn later it costs nothing to speak of."""
HIDDEN = 0.05
"""What a mm of any way costs besides, so that of two hidden ones the shorter is taken."""
PLAIN_RIM = 0.05
"""What lies under later cover is found to about this, mm."""
INSET = 0.4
"""Ways along an outline lie so far inside of it, mm."""


def runs_of(items: Sequence[StitchObject]) -> list[list[int]]:
    """The places of objects that are sewn as one, in order; alone where they belong to no strand."""
    shown = [place for place, item in enumerate(items) if not item.hidden]

    def key(place: int) -> tuple[object, ...]:
        item = items[place]
        return (item.strand, item.thread) if item.strand is not None else (place,)

    return [list(run) for _, run in groupby(shown, key)]


def together(one: StitchObject, other: StitchObject) -> bool:
    """Whether two objects that follow each other are one strand."""
    return one.strand is not None and one.strand == other.strand and one.thread == other.thread


def stranded(design: Design) -> Design:
    """``design`` with the runs of each strand that follow each other as one walk, which the first of them sews."""
    if not any(item.strand is not None for item in design.objects):
        return design
    objects = list(design.objects)
    for run in runs_of(objects):
        if len(run) < 2:
            continue
        for lines, some in groupby(run, lambda place: _is_run(design.objects[place], design.brief.ground)):
            places = list(some)
            if not lines or len(places) < 2:
                continue
            members = tuple(design.objects[place] for place in places)
            strand = members[0].strand
            assert strand is not None
            walk = _walk(members, strand, design.brief.ground)
            objects[places[0]] = _first(members[0], walk)
            for place in places[1:]:
                objects[place] = _absorbed(objects[place])
    return replace(design, objects=tuple(objects))


def _is_run(item: StitchObject, ground: Ground) -> bool:
    recipe = resolve(item, ground).cover
    return isinstance(recipe, RunRecipe) and isinstance(item.shape, Line) and not recipe.by_hand


@kept
def _absorbed(item: StitchObject) -> StitchObject:
    return replace(item, hidden=True)


@kept
def _first(item: StitchObject, walk: str) -> StitchObject:
    """The object that sews the walk, needle point by needle point."""
    assert isinstance(item.cover, Run)
    cover = replace(item.cover, by_hand=True, way="forward", style="single", repeats=1)
    return replace(item, shape=Line(walk), cover=cover)


@kept
def _walk(members: tuple[StitchObject, ...], strand: Strand, ground: Ground) -> str:
    """Path data of the needle points of one walk over all lines."""
    recipe = resolve(members[0], ground).cover
    assert isinstance(recipe, RunRecipe)
    lines: list[Polyline] = []
    for item in members:
        assert isinstance(item.shape, Line)
        lines += flatten(item.shape.path)
    nodes, pieces = graph_of([line.loop() for line in lines])
    if not pieces:
        return members[0].shape.path if isinstance(members[0].shape, Line) else ""
    start = _start(members[0], nodes)
    if strand.lines == "twice":
        edges = 2 * list(range(len(pieces)))
        start = start if start is not None else pieces[0].one
    else:
        edges, start = fewest_repeats(pieces, len(nodes), start)
    tour = toured(pieces, edges, start)
    points = [_points(piece, recipe) for piece in pieces]
    walk = [points[number][::-1] if backwards else points[number] for number, backwards in tour]
    xy = np.vstack([walk[0], *(one[1:] for one in walk[1:])])
    return polyline_path([(float(x), float(y)) for x, y in xy.round(3)], closed=False)


def _start(item: StitchObject, nodes: Floats) -> int | None:
    """The node nearest to where the first line is to be entered, if that was set."""
    if item.ends.entry is None:
        return None
    return int(np.argmin(np.hypot(*(nodes - np.array(item.ends.entry)).T)))


def _points(piece: Piece, recipe: RunRecipe) -> Floats:
    """The needle points of a piece: the same, whichever way it is sewn."""
    corner = np.abs(turns(piece.xy, False)) > np.radians(CORNER_DEGREES)
    found = run_points(Polyline(piece.xy, False, corner), recipe.length, recipe.chord)
    return found


def graph_of(lines: Sequence[Floats]) -> tuple[Floats, list[Piece]]:
    """Lines (n, 2) as a connected graph: its nodes (m, 2), and pieces between them, none shorter than a safe stitch.

    They meet where they cross and where an end comes near to another line; groups of lines that do not meet are
    joined by straight pieces between their nearest places.
    """
    shapes = [shapely.LineString(xy) for xy in lines if len(xy) > 1 and float(lengths(xy)[-1]) > 1e-6]
    if not shapes:
        return np.zeros((0, 2)), []
    shapes += _bridges(shapes, MEET)
    noded = shapely.unary_union(shapes, grid_size=1e-4)
    parts = [np.array(one.coords) for one in getattr(noded, "geoms", [noded])]
    nodes, pieces = _merged(parts)
    while (more := _joins(nodes, pieces)) is not None:
        nodes, pieces = _merged([*(one.xy for one in pieces), more])
    return nodes, pieces


def _bridges(shapes: Sequence[shapely.LineString], near: float) -> list[shapely.LineString]:
    """Short pieces from the ends of lines to others that they come near to."""
    tree = shapely.STRtree(shapes)
    found = []
    for number, one in enumerate(shapes):
        for end in (one.coords[0], one.coords[-1]):
            spot = shapely.Point(end)
            for other in tree.query(spot, predicate="dwithin", distance=near).tolist():
                if other != number:
                    way = shapely.shortest_line(spot, shapes[other])
                    if way.length > 1e-6:
                        found.append(way)
    return found


def _merged(parts: Sequence[Floats]) -> tuple[Floats, list[Piece]]:
    """Lines between nodes, places nearer to each other than a safe stitch being one node."""
    ends = np.array([xy[k] for xy in parts for k in (0, -1)])
    group, nodes = np.arange(len(ends), dtype=np.int64), ends
    while True:  # the middles of what was merged may be near to each other again
        near = scipy.spatial.cKDTree(nodes).query_pairs(SHORTEST, output_type="ndarray").reshape(-1, 2)
        if not len(near):
            break
        graph = scipy.sparse.coo_matrix((np.ones(len(near)), near.T), (len(nodes), len(nodes)))
        count, merged = scipy.sparse.csgraph.connected_components(graph, directed=False)
        group = np.asarray(merged[group], dtype=np.int64)
        sums = [np.bincount(group, ends[:, k], count) for k in (0, 1)]
        nodes = np.column_stack(sums) / np.bincount(group)[:, None]
    pieces = []
    for number, xy in enumerate(parts):
        one, other = int(group[2 * number]), int(group[2 * number + 1])
        line = np.vstack([nodes[one], xy[1:-1], nodes[other]])
        if one == other and float(lengths(line)[-1]) < 3 * SHORTEST:
            continue
        pieces.append(Piece(one, other, line))
    used = sorted({end for piece in pieces for end in piece[:2]})
    place = {node: number for number, node in enumerate(used)}
    return nodes[used], [Piece(place[one], place[other], xy) for one, other, xy in pieces]


def _joins(nodes: Floats, pieces: Sequence[Piece]) -> Floats | None:
    """A straight line (2, 2) between the nearest two groups of pieces that do not meet; ``None`` for one group."""
    ends = np.array([piece[:2] for piece in pieces]).reshape(-1, 2)
    graph = scipy.sparse.coo_matrix((np.ones(len(ends)), ends.T), (len(nodes), len(nodes)))
    count, group = scipy.sparse.csgraph.connected_components(graph, directed=False)
    if count < 2:
        return None
    best: tuple[float, Floats] | None = None
    for number in range(count - 1):
        mine, rest = np.flatnonzero(group == number), np.flatnonzero(group > number)
        found = scipy.spatial.cKDTree(nodes[rest]).query(nodes[mine])
        gaps, which = np.asarray(found[0]), np.asarray(found[1])
        k = int(np.argmin(gaps))
        if best is None or gaps[k] < best[0]:
            best = float(gaps[k]), np.array([nodes[mine[k]], nodes[rest[which[k]]]])
    assert best is not None
    return best[1]


def way_between(start: Point, stop: Point, place: int, members: Sequence[int], overlaps: Overlaps) -> Bends:
    """The bends of a way within a strand, from the object at ``place`` on; ``members`` are all places of it."""
    boxes = overlaps.boxes[list(members)]
    box = (
        min(float(boxes[:, 0].min()), start[0], stop[0]),
        min(float(boxes[:, 1].min()), start[1], stop[1]),
        max(float(boxes[:, 2].max()), start[0], stop[0]),
        max(float(boxes[:, 3].max()), start[1], stop[1]),
    )
    key = ("strand", start, stop, tuple(members))
    known: Bends | None = overlaps.answer(place, key)
    if known is None:
        over = [overlaps.regions[k] for k in overlaps.later(place, box).tolist()]
        outlines = [shapely.buffer(overlaps.regions[k], -INSET).boundary for k in members]
        known = way_along(start, stop, shapely.unary_union(over), outlines)
        overlaps.tell(place, key, box, known)
    return known


def way_along(start: Point, stop: Point, later: BaseGeometry, outlines: Sequence[BaseGeometry]) -> Bends:
    """The bends of the way from ``start`` to ``stop``, mm, that shows least.

    It may go under ``later`` cover, along ``outlines``, and straight over bare cloth.
    """
    ends = np.array([start, stop])
    lines = [part for one in outlines for part in getattr(one, "geoms", [one]) if part.length > 0]
    loops = [at_lengths(xy, np.linspace(0, far, max(2, round(far / STEP) + 1))) for xy, far in map(_line, lines)]
    places = np.vstack([ends, *loops])
    begins = np.cumsum([2, *map(len, loops)])
    one = np.setdiff1d(np.arange(2, len(places)), begins[1:] - 1)
    along = np.column_stack([one, one + 1])
    tree = scipy.spatial.cKDTree(places)
    across = tree.query_pairs(ACROSS, output_type="ndarray").reshape(-1, 2)
    free = np.array([[0, 1], *([0, k] for k in range(2, len(places))), *([1, k] for k in range(2, len(places)))])
    pairs = np.vstack([along, across, free]).astype(np.int64)
    strokes: NDArray[np.object_] = np.asarray(shapely.linestrings(places[pairs]))
    shown = _shown(strokes, later)
    price = np.where(np.arange(len(pairs)) < len(along), ALONG, BARE)
    cost = price * shown + HIDDEN * shapely.length(strokes) + 1e-6
    order = np.lexsort((cost, pairs[:, 1], pairs[:, 0]))  # of two pieces between the same places the cheaper counts
    pairs, cost = pairs[order], cost[order]
    first = np.append(True, (np.diff(pairs, axis=0) != 0).any(axis=1))
    pairs, cost = pairs[first], cost[first]
    graph = scipy.sparse.coo_matrix((cost, pairs.T), (len(places), len(places))).tocsr()
    _, came = scipy.sparse.csgraph.dijkstra(graph, directed=False, indices=[0], return_predecessors=True)
    way, node = [], int(came[0, 1])
    while node > 0:
        way.append(node)
        node = int(came[0, node])
    return tuple((float(x), float(y)) for x, y in places[way[::-1]])


def _shown(strokes: NDArray[np.object_], later: BaseGeometry) -> Floats:
    """How much, mm, of straight pieces (n,) does not lie under ``later`` cover (n,)."""
    long: Floats = shapely.length(strokes)
    later = shapely.simplify(later, PLAIN_RIM)
    shapely.prepare(later)
    over = shapely.intersects(later, strokes)
    hidden = over & shapely.covers(later, strokes)
    long[hidden] = 0.0
    some = over & ~hidden  # their intersection is found in their own box, a difference in all of the cover
    long[some] -= shapely.length(shapely.intersection(strokes[some], later))
    return long


def _line(one: BaseGeometry) -> tuple[Floats, float]:
    xy = np.array(one.coords)
    return xy, float(lengths(xy)[-1])
