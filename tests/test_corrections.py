"""Columns as a person corrects them: cut, merged, sewn in another order; kept when the shape moves or is edited."""

import itertools
import math
import time

import numpy as np
import pytest
import shapely
from bench import zoo
from hypothesis import given
from hypothesis import settings as hypothesis_settings
from hypothesis import strategies as st
from msgspec.structs import replace

from jontel.design import Area, CannotStitch, Point, Satin, resolve
from jontel.design.edits import transform_object
from jontel.design.shapes import UNCORRECTED, Corrections, Lines
from jontel.files import working
from jontel.geometry.columns import Rails, covered
from jontel.geometry.polyline import lengths
from jontel.sewing.plan import plan
from jontel.stitching.corrections import as_found, merged, sewn_in, with_cut, with_cut_moved, without_cut
from jontel.stitching.covers.areas import columns_sewn
from jontel.stitching.covers.fill import region_for
from jontel.stitching.measure import largest_bare, measure, thread_lines
from jontel.stitching.parts import parts_of
from jontel.stitching.stitches import Kind, Layer
from tests.conftest import box_path, design_of, ring_path
from tests.test_stitching import sewn, sound

CORNER = "M0 0 L4 0 L4 16 L16 16 L16 20 L0 20 Z"
TEE = "M-10 0 L10 0 L10 3 L1.5 3 L1.5 20 L-1.5 20 L-1.5 3 L-10 3 Z"
RING = f"{ring_path(8)} {ring_path(5, reverse=True)}"


def columns(area: Area) -> list[Rails]:
    """The columns of an area."""
    return [stroke.rails for part in parts_of(area) for stroke in part.strokes.strokes]


def cut(path: str, *lines: tuple[Point, Point]) -> Area:
    """An area with cuts."""
    area = Area(path)
    for start, stop in lines:
        area = with_cut(area, start, stop)
    return area


def well_sewn(area: Area) -> None:
    """A satin on the area is covered, written without a cut, shows no travel and has no stitch that breaks."""
    found = sewn(area, Satin(), underlay=None)
    sound(found)
    region = region_for(area)
    seen = measure(found, region)
    assert seen.coverage > 0.985 and largest_bare(thread_lines(found, {Layer.COVER}), region) < 0.5
    assert int((found.kind == Kind.JUMP).sum()) == len(region.geoms) - 1
    assert seen.exposed_travel * seen.sewn_length < 1.5
    assert shapely.distance(shapely.points(found.xy[found.kind == Kind.STITCH]), region).max() < 0.25


@pytest.mark.parametrize(
    ("path", "lines", "wanted"),
    [
        (CORNER, [((-1.0, 21.0), (5.0, 15.0))], 2),
        (CORNER, [((4.0, 15.0), (4.0, 21.0))], 2),
        (CORNER, [((4.0, 15.0), (4.0, 21.0)), ((-1.0, 8.0), (5.0, 9.0))], 3),
        (TEE, [((-3.0, 3.0), (3.0, 3.0))], 2),
        (TEE, [((-4.0, -1.0), (-4.0, 4.0))], 3),
        (RING, [((4.0, 0.0), (9.0, 0.0))], 1),
        (RING, [((4.0, 0.0), (9.0, 0.0)), ((-9.0, 1.0), (-4.0, -1.0))], 2),
        (box_path(0, 0, 30, 4), [((10.0, -1.0), (10.0, 5.0)), ((20.0, -1.0), (21.0, 5.0))], 3),
    ],
)
def test_a_cut_ends_a_column_where_it_is_drawn(path: str, lines: Lines, wanted: int) -> None:
    area = cut(path, *lines)
    found = columns(area)
    assert len(found) == wanted
    for start, stop in lines:
        line = shapely.LineString([start, stop])
        near = [
            min(line.distance(shapely.Point(rails.middle[0])), line.distance(shapely.Point(rails.middle[-1])))
            for rails in found
        ]
        assert min(near) < 0.6
    well_sewn(area)


def test_the_column_that_ends_at_a_cut_reaches_under_the_one_that_passes_it() -> None:
    area = cut(TEE, ((-3.0, 3.0), (3.0, 3.0)))
    bar, stem = sorted(columns(area), key=lambda rails: float(np.ptp(rails.middle[:, 1])))
    assert stem.a[:, 1].min() == pytest.approx(2.5, abs=0.05) and bar.widths() == pytest.approx(3.0, abs=0.05)
    assert covered(bar).intersection(covered(stem)).area == pytest.approx(0.5 * 3.0, abs=0.1)
    points = sewn(area, Satin(), underlay=None)
    order = np.flatnonzero(points.layer == Layer.COVER)
    assert points.xy[order[0], 1] > 3.0 > points.xy[order[-1], 1]  # what passes is sewn on top


def test_a_cut_across_nothing_is_refused_and_one_that_ends_inside_goes_on_to_the_rim() -> None:
    for start, stop in (((-9.0, 8.0), (-1.0, 8.0)), ((1.0, 5.0), (1.0, 5.1)), ((40.0, 0.0), (40.0, 9.0))):
        with pytest.raises(CannotStitch, match="rim to rim"):
            with_cut(Area(CORNER), start, stop)
    assert len(columns(cut(CORNER, ((1.0, 8.0), (3.0, 8.0))))) == 3


def test_a_cut_is_moved_and_taken_away() -> None:
    area = cut(box_path(0, 0, 30, 4), ((10.0, -1.0), (10.0, 5.0)))
    ends = sorted(float(rails.middle[:, 0].max()) for rails in columns(area))
    moved = with_cut_moved(with_cut_moved(area, 0, 0, (20.0, -1.0)), 0, 1, (20.0, 5.0))
    assert ends[0] == pytest.approx(10.0, abs=0.6)
    assert sorted(float(rails.middle[:, 0].max()) for rails in columns(moved))[0] == pytest.approx(20.0, abs=0.6)
    assert without_cut(area, 0) == Area(box_path(0, 0, 30, 4)) and len(columns(without_cut(area, 0))) == 1


@pytest.mark.parametrize("sign", "ZNYKA5LT")
def test_two_columns_that_meet_are_merged_into_one_that_covers_both(sign: str) -> None:
    path = TEE if sign == "T" else zoo.glyph(sign, 20.0)
    before = columns(Area(path))
    joint = parts_of(Area(path))[0].strokes.joints[0]
    area = merged(Area(path), (0, joint.one), (0, joint.other))
    after = columns(area)
    # where one of the two ran on through the other's end, its other half becomes a column of its own
    assert len(before) - 1 <= len(after) <= len(before)
    places = [shapely.Point(place) for place in area.columns.merges[0]]
    over = [rails for rails in after if all(covered(rails).buffer(0.01).contains(place) for place in places)]
    assert len(over) == 1
    well_sewn(area)


def test_what_does_not_meet_is_not_merged_and_a_cut_between_two_is_taken_away() -> None:
    path = zoo.glyph("H", 20.0)
    left, right = (
        k for k, rails in enumerate(columns(Area(path))) if np.ptp(rails.middle[:, 1]) > np.ptp(rails.middle[:, 0])
    )
    with pytest.raises(CannotStitch, match="do not meet"):
        merged(Area(path), (0, left), (0, right))
    area = cut(box_path(0, 0, 30, 4), ((10.0, -1.0), (10.0, 5.0)))
    assert merged(area, (0, 0), (0, 1)) == Area(box_path(0, 0, 30, 4))


def order_of(area: Area) -> list[Point]:
    """The middles of the columns in the order in which they are sewn, by the first row of each on the stitches."""
    design = design_of((area, Satin()))
    whole = resolve(design.objects[0], design.brief.ground)
    return [one.middle for one in columns_sewn(whole, None, None)]


@pytest.mark.parametrize("sign", "EHAKB")
def test_columns_are_sewn_in_the_order_that_is_asked_for(sign: str) -> None:
    area = Area(zoo.glyph(sign, 20.0))
    found = order_of(area)
    for wanted in itertools.islice(itertools.permutations(found), 0, 24, 5):
        ordered = sewn_in(area, wanted)
        assert np.hypot(*(np.array(order_of(ordered)) - wanted).T).max() < 0.2
        stitches = sewn(ordered, Satin(), underlay=())
        sound(stitches)
        cover = stitches.xy[stitches.layer == Layer.COVER]
        cover = (cover[1:] + cover[:-1]) / 2
        rails = {
            one: min(columns(ordered), key=lambda r, one=one: np.hypot(*(r.middle - one).T).min()) for one in wanted
        }
        last = [
            int(
                np.flatnonzero(shapely.distance(shapely.points(cover), shapely.LineString(rails[one].middle)) < 0.4)[
                    -1
                ]
            )
            for one in wanted
        ]
        assert last[-1] == max(last)  # what is asked for last is sewn last
        assert measure(stitches, region_for(area)).coverage > 0.985


def test_travel_between_columns_of_an_own_order_runs_under_what_is_still_to_come() -> None:
    area = Area(zoo.glyph("E", 20.0))
    arms = sorted(order_of(area), key=lambda place: place[0])
    stem, rest = arms[0], arms[1:]
    later = sewn(sewn_in(area, (*rest, stem)), Satin(), underlay=None)
    assert not (later.kind == Kind.JUMP).any()
    seen = measure(later, region_for(area))
    assert seen.exposed_travel * seen.sewn_length < 1.0
    first = sewn(sewn_in(area, (stem, *rest)), Satin(), underlay=None)
    assert (first.kind == Kind.JUMP).sum() >= 2  # the arms hang on nothing that is still to be sewn


def test_parts_of_an_area_are_sewn_in_the_order_of_their_columns() -> None:
    path = " ".join(box_path(x, 0, 3, 12) for x in (0, 10, 20))
    found = sewn(sewn_in(Area(path), ((21.5, 6.0), (1.5, 6.0), (11.5, 6.0))), Satin(), underlay=())
    jumps = np.flatnonzero(found.kind == Kind.JUMP)
    starts = [float(found.xy[k, 0]) for k in (0, *jumps)]
    assert starts[0] > 19 and starts[1] < 4 and 9 < starts[2] < 14


@given(st.integers(0, 500), st.floats(-0.4, 0.4), st.floats(-0.4, 0.4))
@hypothesis_settings(max_examples=25)
def test_corrections_hold_when_the_outline_is_edited_a_little(seed: int, x: float, y: float) -> None:
    draw = np.random.default_rng(seed)
    points = np.array([(-10, 0), (10, 0), (10, 3), (1.5, 3), (1.5, 20), (-1.5, 20), (-1.5, 3), (-10, 3)], dtype=float)
    area = cut(TEE, ((-3.0, 12.0), (3.0, 12.0)))
    area = sewn_in(area, order_of(area)[::-1])
    moved = points.copy()
    moved[int(draw.integers(0, 8))] += (x, y)
    edited = replace(area, path=zoo.closed(moved))
    assert len(columns(edited)) == len(columns(area)) == 3
    for one, other in zip(order_of(area), order_of(edited), strict=True):
        assert math.dist(one, other) < 1.0


def test_corrections_move_with_the_shape_and_are_kept_in_the_working_file() -> None:
    area = cut(CORNER, ((4.0, 15.0), (4.0, 21.0)))
    area = sewn_in(area, order_of(area)[::-1])
    design = design_of((area, Satin()))
    assert working.decode(working.encode(design), "it.jontel") == design
    turn = math.radians(50)
    matrix = (2 * math.cos(turn), 2 * math.sin(turn), -2 * math.sin(turn), 2 * math.cos(turn), 7.0, -3.0)
    moved = transform_object(design.objects[0], matrix)
    assert isinstance(moved.shape, Area)
    one, other = columns(area), columns(moved.shape)
    assert len(one) == len(other) == 2
    long = sorted(float(lengths(rails.middle)[-1]) for rails in one)
    assert sorted(float(lengths(rails.middle)[-1]) for rails in other) == pytest.approx(
        [2 * v for v in long], abs=1.0
    )
    assert not plan(design).failures


def test_everything_is_taken_back_at_once() -> None:
    area = sewn_in(cut(CORNER, ((4.0, 15.0), (4.0, 21.0))), ((1.0, 1.0),))
    assert as_found(area) == Area(CORNER) and area.columns != UNCORRECTED


@given(
    st.integers(0, 3000),
    st.integers(0, 3),
    st.lists(st.tuples(st.floats(-20, 20), st.floats(-20, 20)), min_size=2, max_size=6),
)
@hypothesis_settings(max_examples=40)
def test_any_cuts_through_any_blob_are_sewn_or_refused_in_a_sentence(
    seed: int, holes: int, spots: list[tuple[float, float]]
) -> None:
    lines = tuple(zip(spots[::2], spots[1::2], strict=False))
    area = Area(zoo.blob(seed, 9.0, holes), columns=Corrections(cuts=lines, order=tuple(spots)))
    try:
        found = sewn(area, Satin(), underlay=None)
    except CannotStitch as refused:
        assert str(refused)
        return
    sound(found)
    assert np.isfinite(found.xy).all()
    assert shapely.distance(shapely.points(found.xy[found.kind == Kind.STITCH]), region_for(area)).max() < 0.6


def test_a_satin_beyond_all_use_is_refused_at_once_and_a_long_one_is_sewn() -> None:
    began = time.perf_counter()
    with pytest.raises(CannotStitch, match="million stitches"):
        sewn(Area(box_path(0, 0, 9000, 9000)), Satin())
    found = sewn(Area(box_path(0, 0, 3000, 4)), Satin(), underlay=None)
    assert len(found) > 15_000 and time.perf_counter() - began < 20
