"""The edges solved: what has to be sewn so that the cloth ends up as drawn.

The edge of each object is moved by what its forecast misses, place by place, and forecast again: a fixed-point
iteration. What is sewn then is an outline of its own, kept with the object beside the drawn one.
"""

import math
from collections.abc import Callable, Collection
from typing import Literal

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
import shapely
from msgspec.structs import replace

from jontel.design.design import Design, Solved, StitchObject
from jontel.design.edits import change_objects
from jontel.design.errors import CannotDo, CannotStitch
from jontel.design.kinds import traits_of
from jontel.design.paths import polyline_path
from jontel.design.shapes import Area, Column, Line, Shape
from jontel.design.stopping import go_on
from jontel.forecast.courses import Course, course_of, moved, rims_of
from jontel.forecast.forecast import EDGE_STEP, Forecast, forecast
from jontel.geometry.polyline import Floats, flatten, lengths
from jontel.geometry.strokes import legs_of
from jontel.sewing.plan import SewPlan, plan
from jontel.sewing.solved import stamp_of

ROUNDS = 7
"""The edges are moved and forecast so many times."""
GOOD = 0.03
"""They are good enough when 95 of 100 places lie within this, mm."""
GRID, EVENED = 0.5, 0.75
"""What is missed is laid on places so many mm apart and evened over so many."""
Progress = Callable[[int, int], object]


def solvable(item: StitchObject) -> bool:
    """Whether an object has an edge that can be solved: what covers cloth from edge to edge."""
    return traits_of(item.cover).hides and item.beneath is None and not item.hidden


def solved(design: Design, ids: Collection[int] = (), progress: Progress | None = None) -> Design:
    """``design`` with the edges of the objects in ``ids``, or all, solved. Raises ``CannotDo`` if there is none."""
    chosen = [item for item in design.objects if (not ids or item.id in ids) and solvable(item)]
    if not chosen:
        raise CannotDo("No object here has an edge to solve: only fills and satins draw the cloth in.")
    drawn = {item.id: _rims(item.shape) for item in chosen}
    drawn = {owner: rims for owner, rims in drawn.items() if rims}
    edges = {owner: [rim.copy() for rim in rims] for owner, rims in drawn.items()}
    courses = {item.id: _course(item.shape) for item in chosen if item.id not in edges}
    lines = {owner: course.line for owner, course in courses.items() if course is not None}
    best: dict[int, tuple[float, Line]] = {}
    made, sewn = design, None
    for turn in range(ROUNDS):
        made = _with_edges(design, edges, lines)
        sewn = plan(made, sewn)
        seen = forecast(sewn)
        worst = 0.0
        for owner, number in _numbers(sewn).items():
            course = courses.get(owner)
            if course is not None:
                go_on()
                following, far = moved(course, lines[owner], seen, number)
                if far < best.get(owner, (math.inf, course.line))[0]:
                    best[owner] = far, lines[owner]
                worst = max(worst, far)
                lines[owner] = following
            if owner not in edges:
                continue
            go_on()
            for k, rim in enumerate(edges[owner]):
                missed = seen.moved_rim(number, rim) - drawn[owner][k]
                worst = max(worst, float(np.percentile(np.hypot(*missed.T), 95)))
                edges[owner][k] = rim - _evened(rim, missed)
        if progress is not None:
            progress(turn + 1, ROUNDS)
        if worst < GOOD and turn:
            break
    return _with_edges(design, edges, _better(design, edges, {owner: line for owner, (_, line) in best.items()}))


def _better(design: Design, edges: dict[int, list[Floats]], lines: dict[int, Line]) -> dict[int, Line]:
    """Those of solved lines with corners whose edges end up nearer to the drawn ones than by the ground's numbers."""
    if not lines:
        return lines
    before, after = missed(design), missed(_with_edges(design, edges, lines))
    return {owner: line for owner, line in lines.items() if owner in after and after[owner][0] < before[owner][0]}


def released(design: Design, ids: Collection[int]) -> Design:
    """``design`` with the objects in ``ids`` compensated by the numbers of the ground again."""
    return change_objects(design, ids, lambda item: replace(item, solved=None))


def _numbers(sewn: SewPlan) -> dict[int, int]:
    return {piece.owner: number for number, piece in enumerate(sewn.pieces)}


def _rims(shape: Shape) -> list[Floats]:
    """The rims of a shape at places as dense as they are forecast, (n, 2) each; closed ones end where they begin.

    Lines with corners have none here: they are solved as courses.
    """
    try:
        match shape:
            case Area(path=path):
                return [_dense(line.loop()) for line in flatten(path) if len(line.xy) > 2]
            case Column(edge=edge, other_edge=other):
                return [_dense(line.loop()) for one in (edge, other) for line in flatten(one)[:1]]
            case Line():
                legs = legs_of(shape)
                return (
                    [_dense(_looped(one, legs[0].closed)) for one in (legs[0].a, legs[0].b)] if len(legs) == 1 else []
                )
    except CannotStitch:
        pass
    return []


def _course(shape: Shape) -> Course | None:
    """The course of a line with corners."""
    try:
        return course_of(shape) if isinstance(shape, Line) else None
    except CannotStitch:
        return None


def _looped(xy: Floats, closed: bool) -> Floats:
    return np.vstack([xy, xy[:1]]) if closed and np.hypot(*(xy[0] - xy[-1])) > 1e-9 else xy


def _dense(xy: Floats) -> Floats:
    """A line (n, 2) with places between its own, so that none are farther apart than is forecast."""
    return shapely.get_coordinates(shapely.segmentize(shapely.LineString(xy), EDGE_STEP))


def _evened(rim: Floats, missed: Floats) -> Floats:
    """What is missed along a rim, (n, 2) each, evened: needle points lie on it only here and there."""
    along = lengths(rim)
    count = max(4, round(float(along[-1]) / GRID))
    even = np.linspace(0, along[-1], count + 1)
    mode: Literal["wrap", "nearest"] = "wrap" if np.hypot(*(rim[0] - rim[-1])) < 1e-9 else "nearest"
    laid = np.column_stack([np.interp(even, along, missed[:, k]) for k in (0, 1)])
    smooth = scipy.ndimage.gaussian_filter1d(laid[:-1] if mode == "wrap" else laid, EVENED / GRID, axis=0, mode=mode)
    smooth = np.vstack([smooth, smooth[:1]]) if mode == "wrap" else smooth
    return np.column_stack([np.interp(along, even, smooth[:, k]) for k in (0, 1)])


def _with_edges(design: Design, edges: dict[int, list[Floats]], lines: dict[int, Line]) -> Design:
    """``design`` with objects sewn to edges of their own, lines with corners along courses of their own."""
    stamp = stamp_of(design)

    def one(item: StitchObject) -> StitchObject:
        shape = lines[item.id] if item.id in lines else _shape(item.shape, edges[item.id])
        return replace(item, solved=Solved(shape, stamp))

    return change_objects(design, set(edges) | set(lines), one)


def _shape(shape: Shape, rims: list[Floats]) -> Shape:
    paths = [_path(xy) for xy in rims]
    if isinstance(shape, Area):
        return replace(shape, path=" ".join(paths))
    return Column(paths[0], paths[1], shape.lines if isinstance(shape, Column) else ())


def _path(xy: Floats) -> str:
    closed = bool(np.hypot(*(xy[0] - xy[-1])) < 1e-9)
    places = [(round(float(x), 3), round(float(y), 3)) for x, y in (xy[:-1] if closed else xy)]
    return polyline_path(places, closed=closed)


def missed(design: Design) -> dict[int, tuple[float, float]]:
    """How far the edges of each object that has some will lie off the drawn ones, mm: 95 of 100 places, and all."""
    return missed_in(forecast(plan(design)), design)


def missed_in(seen: Forecast, design: Design) -> dict[int, tuple[float, float]]:
    """The same in a forecast of a design."""
    drawn = {item.id: item for item in design.objects}
    found = {}
    for piece in seen.plan.pieces:
        item = drawn[piece.owner]
        rims = _rims(item.shape) if solvable(item) else []
        course = _course(item.shape) if solvable(item) and not rims else None
        rims = rims_of(course) if course is not None else rims
        edge = seen.edges.get(piece.owner) if rims else None
        if edge is None:
            continue
        places = shapely.points(np.vstack(rims))
        far = shapely.distance(places, edge.boundary)
        found[item.id] = float(np.percentile(far, 95)), float(far.max())
    return found
