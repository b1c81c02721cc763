"""Fills that turn, follow a guide, fade: what a digitizer would measure on them."""

import math

import numpy as np
import pytest
import shapely
from bench import zoo
from hypothesis import example, given
from hypothesis import settings as hypothesis_settings
from hypothesis import strategies as st

from jontel.data import find_ground
from jontel.design import Area, CannotStitch, Column, Edges, Fill, Satin, StitchObject, resolve
from jontel.design.kinds.fades import Fade, faded
from jontel.design.paths import transform_shape
from jontel.design.shapes import Line, Lines
from jontel.geometry.directing import lines_of, with_end_moved, with_line, without_line
from jontel.geometry.frames import Straight, curved_frame
from jontel.geometry.polyline import flatten
from jontel.geometry.region import region_of
from jontel.geometry.smoothing import smooth_path
from jontel.stitching.covers.fill import region_for
from jontel.stitching.engine import sewn_edge
from jontel.stitching.measure import (
    Measures,
    crossings,
    exposed_travel,
    largest_bare,
    measure,
    overspill,
    spacings,
    stitch_lengths,
    thread_lines,
)
from jontel.stitching.patterns import phases
from jontel.stitching.rows.turns import MOST_OUT, Turns, lengthen
from jontel.stitching.stitches import SHORTEST, Kind, Layer, Stitches
from tests.conftest import SHAPES, afresh, box_path, ring_path, s_edges
from tests.test_stitching import PLAIN, random_polygons, sewn

BOX = box_path(-15, -10, 30, 20)
UPRIGHT: Lines = (((-13, -8), (-13, 8)), ((10, -8), (14, 8)))
FAN: Lines = (((-12, -8), (-6, 8)), ((12, -8), (2, 8)))
WAVE = "M-15 0 C-5 -10 5 10 15 0"


def measured(found: Stitches, shape: Area) -> Measures:
    """The measures of a fill on the shape as drawn."""
    return measure(found, region_for(shape))


def angles_near(found: Stitches, place: tuple[float, float], reach: float = 2.5) -> np.ndarray:
    """The directions of the cover's longer stitches near a place, degrees from 0 to 180."""
    lines = thread_lines(found, {Layer.COVER})
    step = lines[:, 1] - lines[:, 0]
    near = np.hypot(*(lines.mean(axis=1) - place).T) < reach
    kept = near & (np.hypot(*step.T) > 1.2)
    return np.degrees(np.arctan2(-step[kept, 1], step[kept, 0])) % 180


# frames


def test_a_straight_frame_lays_rows_level_and_goes_back() -> None:
    frame = Straight(30.0)
    way = np.array([np.cos(np.radians(30)), -np.sin(np.radians(30))])
    assert frame.to(np.array([way]))[0] == pytest.approx([1, 0])
    points = np.random.default_rng(1).uniform(-20, 20, (50, 2))
    assert frame.back(frame.to(points)) == pytest.approx(points)


@pytest.mark.parametrize("shape", [Area(BOX, lines=UPRIGHT), Area(BOX, lines=FAN), Area(BOX, guide=WAVE)])
def test_a_curved_frame_goes_there_and_back(shape: Area) -> None:
    frame = curved_frame(shape)
    points = np.random.default_rng(1).uniform([-15, -10], [15, 10], (500, 2))
    assert np.abs(frame.back(frame.to(points)) - points).max() < 1e-3
    region = region_of(Area(BOX))
    assert frame.cloth(frame.level(region)).symmetric_difference(region).area < 0.02 * region.area


def test_lines_that_fold_the_rows_are_refused_with_the_place() -> None:
    crossed = (((-1.0, -8.0), (-1.0, 8.0)), ((-8.0, 0.0), (8.0, 0.2)), ((-6.0, 6.0), (6.0, -6.0)))
    with pytest.raises(CannotStitch, match="run into each other") as refused:
        sewn(Area(box_path(-9, -9, 18, 18), lines=crossed), Fill())
    assert refused.value.place is not None and max(abs(v) for v in refused.value.place) <= 9


@pytest.mark.parametrize(("half", "held_back"), [(11.0, 0.0), (8.0, 0.0), (7.0, 3.0), (6.0, 6.0)])
def test_rows_that_would_run_into_each_other_turn_a_little_less(half: float, held_back: float) -> None:
    shape = Area(BOX, lines=zoo.leaning(90.0, 2 * half))
    off = curved_frame(shape).held_back
    assert off == held_back
    found = sewn(shape, Fill())
    left, right = (np.median(angles_near(found, (x, 0.0))) for x in (-half, half))
    assert left == pytest.approx(135, abs=off + 9) and right == pytest.approx(45, abs=off + 9)
    assert measured(found, shape).coverage > 0.98


@pytest.mark.parametrize("seed", [5, 40, 79, 156, 164, 170, 184, 185, 205])
def test_no_place_in_or_beside_a_shape_lies_in_a_fold_of_its_frame(seed: int) -> None:
    draw = np.random.default_rng(seed)
    path = zoo.blob(seed, 20.0, seed % 3)
    numbers = " ".join(f"{value:.2f}" for value in draw.uniform(-36, 36, 6))
    shape = Area(path, guide=f"M-30 {draw.uniform(-30, 30):.2f} C{numbers}")
    frame = curved_frame(shape)
    places = draw.uniform(-40, 40, (20_000, 2))
    places = places[shapely.contains_xy(region_of(Area(path)).buffer(0.6), places)]
    assert np.quantile(np.hypot(*(frame.back(frame.to(places)) - places).T), 0.9995) < 0.4


def test_a_guide_without_length_is_refused() -> None:
    with pytest.raises(CannotStitch, match="guide"):
        sewn(Area(BOX, guide="M0 0"), Fill())


# direction lines and guides


def test_rows_run_parallel_to_each_direction_line_and_turn_between() -> None:
    found = sewn(Area(BOX, lines=FAN), Fill())
    at_first, between, at_second = (np.median(angles_near(found, (x, 0.0))) for x in (-9.0, -1.0, 7.0))
    first = np.degrees(np.arctan2(-16, 6)) % 180
    second = np.degrees(np.arctan2(-16, -10)) % 180
    assert at_first == pytest.approx(first, abs=7)
    assert at_second == pytest.approx(second, abs=8)
    assert min(first, second) < between < max(first, second)


@pytest.mark.parametrize(
    ("paths", "turns", "most_on_show", "most_crossings"),
    [
        ([zoo.gear(teeth, 22.0, 14.0, 4.0) for teeth in (14, 20, 26)], (40.0, 60.0, 90.0), 83.0, 290),
        ([zoo.comb(6), zoo.comb(5, 25.0), zoo.comb(8, 60.0)], (40.0, 75.0), 36.0, 195),
        ([zoo.blob(seed, 18.0, seed % 3) for seed in range(4)], (40.0, 60.0, 90.0), 13.0, 60),
    ],
    ids=["gears", "combs", "blobs"],
)
def test_travel_between_turning_rows_stays_inside_and_under_them(
    paths: list[str], turns: tuple[float, ...], most_on_show: float, most_crossings: int
) -> None:
    on_show, crossed = 0.0, 0
    for path in paths:
        for turn in turns:
            shape = Area(path, lines=zoo.leaning(turn))
            found = sewn(shape, Fill())
            thread = shapely.linestrings(thread_lines(found, {Layer.COVER, Layer.TRAVEL}))
            assert shapely.length(shapely.difference(thread, region_for(shape).buffer(0.3))).max() < 1.0
            on_show += exposed_travel(found)
            crossed += crossings(thread_lines(found, {Layer.COVER}))
    assert on_show < most_on_show and crossed < most_crossings


def test_one_direction_line_is_one_angle() -> None:
    found = sewn(Area(BOX, lines=(((-5, -5), (5, 5)),)), Fill())
    assert np.median(angles_near(found, (0, 0), 8)) == pytest.approx(135, abs=0.5)
    assert np.percentile(spacings(found, 0.4), [5, 95]) == pytest.approx([0.4, 0.4], abs=0.02)


def test_rows_follow_a_guide() -> None:
    found = sewn(Area(BOX, guide=WAVE), Fill())
    for x, slope in ((-15, 45.0), (0, -26.6), (15, 45.0)):
        place = (x * 0.93, 0.0)
        assert np.median((angles_near(found, place, 2.0) + 90) % 180 - 90) == pytest.approx(slope, abs=12)


@pytest.mark.parametrize(
    ("shape", "within", "covered"),
    [
        (Area(BOX, lines=UPRIGHT), 0.94, 0.998),
        (Area(BOX, guide=WAVE), 0.97, 0.993),
        (Area(BOX, lines=FAN), 0.84, 0.995),
        (Area(SHAPES["ring"], lines=(((-18, -3), (-12, 3)), ((12, 3), (18, -3)), ((-3, 14), (3, 14)))), 0.88, 0.996),
    ],
)
def test_spacing_of_turning_rows_stays_within_15_percent(shape: Area, within: float, covered: float) -> None:
    found = sewn(shape, Fill())
    gaps = spacings(found, 0.4)
    assert (np.abs(gaps / 0.4 - 1) < 0.15).mean() >= within
    assert np.median(gaps) == pytest.approx(0.385, abs=0.03)
    seen = measured(found, shape)
    assert seen.coverage >= covered and seen.jumps == 0
    assert seen.shortest >= SHORTEST - 1e-6 and seen.longest <= 7.0
    assert overspill(found.xy[found.layer == Layer.COVER], region_for(shape)) <= 0.2


@pytest.mark.parametrize(
    ("degrees", "entry", "most"),
    [
        (15.0, None, 0.25),
        (15.0, (-18.0, 3.0), 0.2),
        (15.0, (18.0, -3.0), 0.2),
        (25.0, None, 0.25),
        (25.0, (-16.0, 10.0), 0.25),
    ],
)
def test_turning_rows_end_on_a_rim_that_runs_slantwise_to_them(
    degrees: float, entry: tuple[float, float] | None, most: float
) -> None:
    bar = Area(zoo.turned_box(36, 9, degrees), guide="M-25 4 C-8 -14 8 -14 25 4")
    ground = find_ground("Woven twill")
    edge = sewn_edge(resolve(StitchObject(id=1, name="it", thread="1001", shape=bar, cover=Fill()), ground))
    assert largest_bare(thread_lines(sewn(bar, Fill(), None, ground, entry=entry), {Layer.COVER}), edge) < most


@given(st.floats(-0.4, 0.4), st.floats(0.2, 0.45), st.floats(-0.3, 0.3))
def test_turns_into_rows_that_lie_askew_are_safe_stitches(askew: float, height: float, step: float) -> None:
    turns = Turns(np.array([[1.0, 0.0]]), np.array([[askew, height]]))
    start, stop = np.array([0.0, 10.0 + step]), np.array([10.0, 0.0])
    lengthen(start, stop, turns)
    assert turns.size(start[1:] - stop[:-1]).min() >= SHORTEST - 1e-5
    assert stop[0] <= 10 + MOST_OUT + 1e-6 and start[1] <= 10 + step + MOST_OUT + 1e-6
    if math.hypot(askew + step, height) >= SHORTEST:
        assert stop[0] == 10 and start[1] == 10 + step


@pytest.mark.parametrize("size", [36.0, 44.0])
def test_rows_turned_by_a_right_angle_and_back_cover_evenly(size: float) -> None:
    bends = f"M{-size / 2 - 2} 0 C{-size / 6} {-0.6 * size} {size / 6} {0.6 * size} {size / 2 + 2} 0"
    shape = Area(zoo.turned_box(size, size, 5), guide=bends)
    assert measured(sewn(shape, Fill()), shape).coverage >= 0.9945


@pytest.mark.parametrize("spacing", [1.0, 1.8, 2.5])
@pytest.mark.parametrize(
    "path", [zoo.gear(12, 20, 15, 5), zoo.comb(5, 30), zoo.coast(4, 20, 4), zoo.blob(42, 14, 2), zoo.glyph("S", 40)]
)
def test_thread_of_open_rows_never_crosses_cloth_beside_the_shape(path: str, spacing: float) -> None:
    room = region_for(Area(path)).buffer(0.3)
    for angle in (0.0, 33.0, 90.0):
        rows = thread_lines(sewn(Area(path), Fill(spacing=spacing, angle=angle)), {Layer.COVER})
        assert shapely.multilinestrings(rows).difference(room).length < 0.1


def test_stitches_of_turning_rows_shorten_where_they_would_cut_the_curve() -> None:
    straight, wave = (sewn(shape, Fill()) for shape in (Area(BOX), Area(BOX, guide=WAVE)))
    assert stitch_lengths(wave).mean() < 0.75 * stitch_lengths(straight).mean()


def test_turning_rows_are_compensated_along_themselves() -> None:
    shape = Area(BOX, lines=UPRIGHT)
    plain, pulled = (sewn(shape, Fill(), edges=Edges(pull=pull, push=0.0)) for pull in (0.0, 0.5))
    assert np.ptp(pulled.xy[:, 1]) - np.ptp(plain.xy[:, 1]) == pytest.approx(1.0, abs=0.3)


def test_direction_lines_and_guide_move_with_the_shape() -> None:
    shape = transform_shape(Area(BOX, lines=FAN, guide=WAVE), (1, 0, 0, 1, 5, -2))
    assert isinstance(shape, Area) and shape.guide is not None
    assert shape.lines[0] == ((-7.0, -10.0), (-1.0, 6.0))
    assert shape.guide.startswith("M-10 -2")


def test_a_guide_is_smooth_through_its_points() -> None:
    points = [(0.0, 0.0), (10.0, 5.0), (20.0, 0.0)]
    line = shapely.LineString(flatten(smooth_path(points))[0].xy)
    assert all(line.distance(shapely.Point(p)) < 0.02 for p in points)


# direction lines changed by hand


def test_lines_across_a_column_are_brought_to_its_edges() -> None:
    column = Column("M0 0 L40 0", "M0 4 L40 4")
    added = with_line(column, (10.0, 6.0), (14.0, -2.0), True)
    assert isinstance(added, Column) and added.lines == (((13.0, 0.0), (11.0, 4.0)),)
    moved = with_end_moved(added, 0, 0, (20.0, -3.0), True)
    assert isinstance(moved, Column) and moved.lines == (((20.0, 0.0), (11.0, 4.0)),)
    assert without_line(moved, 0, True) == column


def test_a_narrow_area_becomes_the_column_it_was_sewn_as() -> None:
    band = Area(box_path(0, 0, 40, 3))
    worked_out = lines_of(band, True)
    assert len(worked_out) > 3 and lines_of(band, False) == ()
    changed = without_line(band, 0, True)
    assert isinstance(changed, Column) and len(changed.lines) == len(worked_out) - 1


def test_a_line_takes_no_direction_lines_and_a_dot_is_none() -> None:
    with pytest.raises(CannotStitch, match="its stitches follow it"):
        with_line(Line("M0 0 L20 0", 3.0), (0, -12), (0, 12), True)
    with pytest.raises(CannotStitch, match="needs a length"):
        with_line(Area(BOX), (0, 0), (0.1, 0), False)


# fades


@pytest.mark.parametrize("angle", [0.0, -90.0, 30.0])
@pytest.mark.parametrize("rows", [0.0, 37.0])
def test_a_fade_opens_the_spacing_towards_its_own_direction(angle: float, rows: float) -> None:
    shape = Area(box_path(-25, -25, 50, 50))
    found = sewn(shape, Fill(fade="along", fade_to=1.6, fade_angle=angle, angle=rows))
    assert spacing_beside(found, angle, -18) == pytest.approx(0.57, rel=0.25)
    assert spacing_beside(found, angle, 18) == pytest.approx(1.43, rel=0.25)
    assert measured(found, shape).jumps == 0 and stitch_lengths(found).min() >= SHORTEST - 1e-6


def spacing_beside(found: Stitches, angle: float, along: float) -> float:
    """The mean spacing in a strip across the fade: its area over the length of thread in it, mm."""
    turn = np.radians(angle)
    strip = shapely.affinity.rotate(shapely.box(along - 3, -14, along + 3, 14), -angle, (0, 0))
    assert strip.contains(shapely.Point(along * np.cos(turn), -along * np.sin(turn)))
    threads = shapely.linestrings(thread_lines(found, {Layer.COVER}))
    return float(strip.area / shapely.length(shapely.intersection(threads, strip)).sum())


def test_a_fade_from_the_middle_is_densest_there() -> None:
    found = sewn(Area(box_path(-25, -25, 50, 50)), Fill(fade="middle out", fade_to=1.6, fade_angle=0.0))
    left, middle, right = (spacing_beside(found, 0.0, x) for x in (-20, 0, 20))
    assert middle < 0.65 and left > 1.1 and right > 1.1


def test_a_profile_of_ones_own_is_followed() -> None:
    profile = ((0.0, 1.0), (0.5, 0.0), (1.0, 0.0))
    found = sewn(
        Area(box_path(-25, -25, 50, 50)), Fill(fade="custom", fade_to=1.6, fade_angle=0.0, fade_profile=profile)
    )
    assert spacing_beside(found, 0.0, -20) > 1.0 and spacing_beside(found, 0.0, 15) == pytest.approx(0.4, rel=0.1)


@pytest.mark.parametrize(
    ("fade", "start", "middle", "end"),
    [
        ("none", 0, 0, 0),
        ("along", 0, 0.5, 1),
        ("against", 1, 0.5, 0),
        ("middle out", 1, 0, 1),
        ("custom", 0.2, 0.6, 0.2),
    ],
)
def test_fades_have_the_shapes_that_they_are_named_for(fade: Fade, start: float, middle: float, end: float) -> None:
    profile = ((0.0, 0.2), (0.5, 0.6), (1.0, 0.2))
    assert [faded(fade, profile, at) for at in (0.0, 0.5, 1.0)] == pytest.approx([start, middle, end])


# needle points, rims, borders, travel


@pytest.mark.parametrize("pattern", ["scatter", "stair", "random", "brick"])
def test_no_line_of_holes_forms_in_the_plain_patterns(pattern: str) -> None:
    shift = phases(pattern, np.arange(40))  # type: ignore[arg-type]
    for k in range(1, 4):
        gap = np.abs((shift[k:] - shift[:-k] + 0.5) % 1.0 - 0.5)
        assert gap.min() > 0.05


def test_the_ready_patterns_differ_and_random_follows_its_seed() -> None:
    rows = np.arange(14)
    made = {
        name: tuple(phases(name, rows).round(3))
        for name in ("scatter", "stair", "halves", "thirds", "chevron", "ripple")
    }  # type: ignore[arg-type]
    assert len(set(made.values())) == len(made)
    one, again, other = (phases("random", rows, seed=seed) for seed in (1, 1, 2))
    assert (one == again).all() and (one != other).any()


def test_a_pattern_shows_in_the_needle_points() -> None:
    found = sewn(Area(box_path(0, 0, 60, 20)), Fill(pattern="halves", angle=0.0))
    cover = found.xy[found.layer == Layer.COVER]
    inner = cover[(cover[:, 0] > 5) & (cover[:, 0] < 55)]
    assert sorted(set((inner[:, 0] % 3.5).round(2))) == pytest.approx([0.0, 1.75])


def test_a_ragged_rim_is_drawn_back_by_up_to_its_length() -> None:
    box = Area(box_path(0, 0, 40, 30))
    clean, ragged, other = (
        sewn(box, Fill(angle=0.0, ragged=length, seed=seed)) for length, seed in ((0, 1), (4, 1), (4, 2))
    )
    again = afresh(lambda: sewn(box, Fill(angle=0.0, ragged=4, seed=1)))
    ends = row_ends(ragged)
    assert ends.min() < 0.4 and 3.0 < ends.max() <= 4.2 and ends.std() > 0.8
    assert row_ends(clean).max() < 0.3
    assert (again.xy == ragged.xy).all()
    assert other.xy.shape != ragged.xy.shape or (other.xy != ragged.xy).any()


def row_ends(found: Stitches) -> np.ndarray:
    """The left end of every level row."""
    xy = found.xy
    return np.array([xy[np.abs(xy[:, 1] - y) < 1e-6, 0].min() for y in np.unique(xy[:, 1].round(6))])


def test_a_border_is_sewn_last_along_every_rim() -> None:
    shape = Area(SHAPES["ring"])
    plain, run, satin = (sewn(shape, Fill(border=border)) for border in ("none", "run", "satin"))  # type: ignore[arg-type]
    assert plain.count < run.count < satin.count
    last = np.hypot(*run.xy.T)[-200:]
    assert (np.abs(last - 20) < 0.1).sum() + (np.abs(last - 10) < 0.1).sum() > 70
    item = StitchObject(id=1, name="it", thread="1001", shape=shape, cover=Fill(border="satin"), underlay=())
    edge = sewn_edge(resolve(item, PLAIN))
    assert edge.bounds == pytest.approx((-21, -21, 21, 21), abs=0.1)
    seen = measure(satin, edge)
    assert seen.coverage > 0.985 and seen.overspill < 0.3
    assert seen.jumps == 1 and exposed_travel(satin) < 1.0, "to the inner rim by a jump, not over the rows"


@pytest.mark.parametrize("angle", [0.0, 37.0])
@pytest.mark.parametrize("border", ["run", "satin"])
@pytest.mark.parametrize("name", ["plate", "ring", "star", "comb"])
def test_a_border_begins_where_the_rows_end(name: str, border: str, angle: float) -> None:
    shape = Area(SHAPES[name])
    found = sewn(shape, Fill(angle=angle, border=border))  # type: ignore[arg-type]
    rings = sum(1 + len(part.interiors) for part in region_for(shape).geoms)
    assert (found.kind == Kind.JUMP).sum() <= rings - 1 and exposed_travel(found) < 5.0


def test_a_run_as_border_has_its_style_length_and_repeats() -> None:
    shape = Area(box_path(0, 0, 20, 20))

    def rim(**values: object) -> int:
        found = sewn(shape, Fill(border="run", **values))  # type: ignore[arg-type]
        return found.count - sewn(shape, Fill(border="run")).count

    assert rim(border_length=5.0) == -16
    assert rim(border_repeats=2) == 32 and rim(border_style="triple") == 64


def test_travel_goes_along_the_rim_when_asked() -> None:
    shape = Area(SHAPES["plate"])
    rim = shapely.MultiLineString(
        [ring for part in region_for(shape).geoms for ring in (part.exterior, *part.interiors)]
    )
    near: dict[str, float] = {}
    for travel in ("interior", "rim"):
        found = sewn(shape, Fill(angle=37.0, travel=travel))  # type: ignore[arg-type]
        lines = thread_lines(found, {Layer.TRAVEL})
        gaps = shapely.distance(shapely.points(lines.mean(axis=1)), rim)
        near[travel] = float(np.average(gaps, weights=np.hypot(*(lines[:, 1] - lines[:, 0]).T)))
        assert measured(found, shape).jumps == 0
    assert near["rim"] < near["interior"]


@pytest.mark.parametrize("angle", [0.0, 20.0, 37.0, 60.0, 90.0])
def test_holes_hardly_cost_stitches_at_any_angle(angle: float) -> None:
    whole = sewn(Area(box_path(-25, -25, 50, 50)), Fill(angle=angle)).count
    assert sewn(Area(SHAPES["plate"]), Fill(angle=angle)).count <= 1.04 * whole
    assert sewn(Area(SHAPES["ring"]), Fill(angle=angle)).count <= sewn(Area(SHAPES["disc"]), Fill(angle=angle)).count


# any shape


@st.composite
def directed_areas(draw: st.DrawFn) -> Area:
    """A round shape with one to four direction lines that turn gently, or with a guide."""
    radius = draw(st.floats(6, 25))
    hole = draw(st.booleans())
    path = ring_path(radius) + (" " + ring_path(radius / 3, reverse=True) if hole else "")
    if draw(st.booleans()):
        bend = draw(st.floats(-0.8, 0.8)) * radius
        return Area(path, guide=smooth_path([(-radius, 0.0), (0.0, round(bend, 3)), (radius, 0.0)]))
    turn = draw(st.floats(0, 3.14))
    lines = []
    for k in range(draw(st.integers(1, 4))):
        angle = turn + draw(st.floats(-0.5, 0.5))
        x = -radius + (2 * k + 1) * radius / 4
        step = np.array([np.cos(angle), np.sin(angle)]) * radius / 3
        lines.append(((round(x - step[0], 3), round(-step[1], 3)), (round(x + step[0], 3), round(step[1], 3))))
    return Area(path, lines=tuple(lines))


@hypothesis_settings(max_examples=60)
@given(directed_areas(), st.sampled_from(["none", "along", "middle out"]), st.floats(-180, 180))
def test_any_directed_area_is_filled_soundly_or_refused_in_words(area: Area, fade: Fade, angle: float) -> None:
    cover = Fill(fade=fade, fade_to=1.4, fade_angle=angle)
    try:
        found = sewn(area, cover)
    except CannotStitch as refused:
        assert "rows would run into each other" in str(refused)
        return
    assert np.isfinite(found.xy).all()
    assert stitch_lengths(found).max() <= 12.0 and stitch_lengths(found).min() >= SHORTEST - 1e-6
    assert shapely.distance(shapely.points(found.xy), region_for(area)).max() <= 0.2


@st.composite
def random_fills(draw: st.DrawFn) -> Fill:
    """A fill with a good deal tuned."""
    return Fill(
        spacing=draw(st.floats(0.3, 1.5)),
        length=draw(st.floats(1.5, 6)),
        angle=draw(st.floats(-90, 90)),
        pattern=draw(st.sampled_from(["brick", "stair", "random", "ripple"])),
        fade=draw(st.sampled_from(["none", "along", "against", "middle out", "custom"])),
        fade_to=draw(st.floats(0.3, 6)),
        fade_angle=draw(st.floats(-180, 180)),
        ragged=draw(st.sampled_from([0.0, 1.0, 6.0])),
        travel=draw(st.sampled_from(["interior", "rim"])),
        border=draw(st.sampled_from(["none", "run", "satin"])),
        border_width=draw(st.floats(0.8, 4)),
    )


STAR = (
    "M5.133 -13.033 L2.009 -2.271 L17.263 -9.374 L5.281 -0.789 L1.960 0.399 L3.012 1.846 L8.720 10.962 L4.445 13.284 "
    "L-0.039 1.499 L-8.952 22.729 L-1.325 1.498 L-11.357 6.167 L-22.364 3.343 L-2.152 -0.438 L-18.035 -11.051 "
    "L-1.245 -1.565 L-9.113 -27.231 L0.140 -5.338 Z"
)
NO_ROW_IN_A_PART = Fill(
    spacing=0.9027, length=3.522, angle=87.0878, pattern="random", fade="against", fade_to=4.6,
    fade_angle=-94.3852, ragged=1.0, border="run",
)  # fmt: skip
CONCAVE = (
    "M-2.704 -6.131 L0.074 -21.053 L1.512 -3.364 L12.749 -11.399 L26.239 -8.424 L16.278 1.769 L24.214 14.094 "
    "L12.315 17.076 L5.635 26.976 L-5.824 26.936 L-9.671 13.213 L-18.270 10.463 L-3.670 0.373 L-3.462 -1.138 "
    "L-21.825 -19.791 Z"
)
TURNS_OUTSIDE = Fill(
    spacing=0.48264702445756247, length=1.9, angle=51.31250522165854, pattern="brick", fade="custom",
    fade_to=4.766761798360035, fade_angle=0.0, ragged=0.0, travel="rim",
)  # fmt: skip


@example(Area(STAR), NO_ROW_IN_A_PART)
@example(Area(CONCAVE), TURNS_OUTSIDE)
@hypothesis_settings(max_examples=100)
@given(random_polygons(), random_fills())
def test_any_polygon_can_be_filled_with_any_fill(area: Area, cover: Fill) -> None:
    try:
        found = sewn(area, cover, None)
    except CannotStitch:
        assert region_of(area).area < 5
        return
    assert np.isfinite(found.xy).all() and stitch_lengths(found).max() <= 12.0
    item = StitchObject(id=1, name="it", thread="1001", shape=area, cover=cover)
    assert shapely.distance(shapely.points(found.xy), sewn_edge(resolve(item, PLAIN))).max() <= 0.2


@hypothesis_settings(max_examples=25)
@given(st.one_of(directed_areas(), random_polygons()), random_fills())
def test_any_fill_sewn_afresh_is_the_same(area: Area, cover: Fill) -> None:
    try:
        found = sewn(area, cover, None)
    except CannotStitch:
        return
    again = afresh(lambda: sewn(area, cover, None))
    assert again is not found and (again.xy == found.xy).all()


def test_satin_needs_no_lines_to_find_its_rows() -> None:
    one, other = s_edges()
    column = Column("M" + " L".join(f"{x} {y}" for x, y in one), "M" + " L".join(f"{x} {y}" for x, y in other))
    found = sewn(column, Satin())
    item = StitchObject(id=1, name="it", thread="1001", shape=column, cover=Satin(), underlay=())
    seen = measure(found, sewn_edge(resolve(item, PLAIN)))
    assert seen.coverage >= 0.99 and seen.nearest_points > 0.18 and seen.longest <= 7.0
