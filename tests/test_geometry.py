"""Outlines, rows, columns and bands."""

import math

import numpy as np
import pytest
import shapely
from bench.zoo import blob, gear
from hypothesis import given
from hypothesis import strategies as st

from jontel.design import Area, CannotRead, Column, Line
from jontel.design.paths import commands
from jontel.design.shapes import Corners
from jontel.geometry.bands import as_column, reads_as_satin
from jontel.geometry.columns import covered, rails_of
from jontel.geometry.hatch import Intervals, cells, components, even_heights, hatch, settled_heights
from jontel.geometry.inside import inside_path
from jontel.geometry.polyline import at_lengths, flatten, lengths, nearest_length, start_at, turns
from jontel.geometry.region import path_of, region_of, repaired, rings_of, self_crossings, thinned
from jontel.geometry.strokes import legs_of
from jontel.stitching.rows.route import Router
from tests.conftest import SHAPES, box_path, ring_path, star_path

CIRCLE = "M10 0 C10 5.5228 5.5228 10 0 10 C-5.5228 10 -10 5.5228 -10 0 C-10 -5.5228 -5.5228 -10 0 -10 C5.5228 -10 10 -5.5228 10 0 Z"


def test_curves_are_followed_to_a_twentieth_of_a_thread() -> None:
    line = flatten(CIRCLE)[0]
    radius = np.hypot(*line.xy.T)
    assert line.closed and not line.corner.any()
    assert np.abs(radius - 10).max() < 0.01
    middles = (line.xy + np.roll(line.xy, -1, axis=0)) / 2
    assert (10 - np.hypot(*middles.T)).max() < 0.025


def test_corners_are_marked_and_curves_are_not() -> None:
    line = flatten("M0 0 L10 0 L10 10 C10 14 14 14 20 14")[0]
    assert [tuple(p) for p in line.xy[line.corner]] == [(10.0, 0.0)]


def test_subpaths_of_no_length_are_left_out() -> None:
    assert flatten("M5 5 Z M1 1 L1 1 M0 0 L3 0") and len(flatten("M5 5 Z M1 1 L1 1 M0 0 L3 0")) == 1
    assert flatten("") == ()


def test_a_turn_to_either_side_is_told_apart() -> None:
    xy = np.array([[0, 0], [1, 0], [1, 1], [2, 1]], dtype=float)
    assert turns(xy, False).tolist() == pytest.approx([0, math.pi / 2, -math.pi / 2, 0])


def test_a_closed_line_can_start_anywhere_and_stays_itself() -> None:
    line = flatten(box_path(0, 0, 10, 6))[0]
    turned = start_at(line, 13.0)
    assert tuple(turned.xy[0]) == (10.0, 3.0)
    assert lengths(turned.loop())[-1] == pytest.approx(32)
    assert turned.corner.sum() == 4


@given(st.floats(0, 32))
def test_the_nearest_place_on_a_line_is_found(where: float) -> None:
    loop = flatten(box_path(0, 0, 10, 6))[0].loop()
    spot = at_lengths(loop, np.array([where]))[0]
    found = at_lengths(loop, np.array([nearest_length(loop, spot)]))[0]
    assert np.hypot(*(found - spot)) < 1e-6


def test_fill_rules_decide_what_is_inside() -> None:
    same_way = box_path(0, 0, 20, 20) + " " + box_path(5, 5, 10, 10)
    assert region_of(Area(same_way, "nonzero")).area == pytest.approx(400)
    assert region_of(Area(same_way, "evenodd")).area == pytest.approx(300)
    other_way = box_path(0, 0, 20, 20) + " " + box_path(5, 5, 10, 10, reverse=True)
    assert region_of(Area(other_way, "nonzero")).area == pytest.approx(300)


def test_a_five_pointed_star_drawn_in_one_line_fills_by_its_rule() -> None:
    spots = [(math.sin(4 * math.pi * k / 5) * 10, -math.cos(4 * math.pi * k / 5) * 10) for k in range(5)]
    path = "M" + " L".join(f"{x:.5f} {y:.5f}" for x, y in spots) + " Z"
    assert len(self_crossings(path)) == 5
    whole, hollow = region_of(Area(path, "nonzero")), region_of(Area(path, "evenodd"))
    assert whole.area > hollow.area > 0
    assert len(hollow.geoms) == 5


def test_a_crossing_outline_is_found_and_repaired() -> None:
    bow = Area("M0 0 L20 10 L20 0 L0 10 Z")
    assert self_crossings(bow.path) == ((10.0, 5.0),)
    mended = repaired(bow)
    assert self_crossings(mended.path) == ()
    assert region_of(mended).area == pytest.approx(region_of(bow).area)


def test_touching_is_not_crossing() -> None:
    assert self_crossings(box_path(0, 0, 10, 10) + " " + box_path(10, 0, 10, 10)) == ()


@pytest.mark.parametrize("name", SHAPES)
def test_a_region_survives_being_written_as_path_data(name: str) -> None:
    region = region_of(Area(SHAPES[name]))
    again = region_of(Area(path_of(region), "evenodd"))
    assert again.symmetric_difference(region).area < 0.01


def level_rows(part: shapely.Polygon, spacing: float) -> Intervals:
    """Rows evenly apart across a polygon."""
    return hatch(rings_of(part), even_heights(part.bounds[1], part.bounds[3], spacing), spacing)


@pytest.mark.parametrize("name", SHAPES)
def test_rows_cover_the_area_they_cross(name: str) -> None:
    for part in region_of(Area(SHAPES[name])).geoms:
        rows = level_rows(part, 0.2)
        assert ((rows.right - rows.left) >= 0).all()
        assert (rows.right - rows.left).sum() * 0.2 == pytest.approx(part.area, rel=0.02)


@pytest.mark.parametrize(("name", "count"), [("disc", 1), ("ring", 4), ("comb", 7)])
def test_cells_are_split_where_the_shape_splits(name: str, count: int) -> None:
    part = region_of(Area(SHAPES[name])).geoms[0]
    found = cells(level_rows(part, 0.4))
    assert len(found.members) == count
    assert sum(len(m) for m in found.members) == len(level_rows(part, 0.4).row)


def test_a_neck_between_two_rows_leaves_two_groups() -> None:
    neck = "M0 0 L10 0 L10 3.9 L60 3.9 L60 0 L70 0 L70 10 L60 10 L60 4.1 L10 4.1 L10 10 L0 10 Z"
    (part,) = region_of(Area(neck)).geoms
    rows = level_rows(part, 2.0)
    groups = components(rows)
    assert sorted(float(rows.left[which].min()) for which in groups) == [0.0, 60.0]
    assert len(components(level_rows(part, 0.1))) == 1


@pytest.mark.parametrize("bar", [2.2, 3.0, 3.7, 4.55, 6.1])
def test_rows_settle_to_the_level_rims_of_each_arm(bar: float) -> None:
    step = bar + 6.0
    arms = [f"L20 {k * step} L20 {k * step + bar} L4 {k * step + bar} L4 {(k + 1) * step}" for k in range(3)]
    (part,) = region_of(Area("M0 0 " + " ".join(arms)[: -len(f"L4 {3 * step}")] + f"L0 {2 * step + bar} Z")).geoms
    heights = settled_heights(rings_of(part), 0.4)
    for rim in [k * step + edge for k in range(3) for edge in (0.0, bar)]:
        gaps = np.sort(np.abs(heights - rim))
        assert gaps[0] == pytest.approx(0.2, abs=0.051), "the thread of the nearest row ends on the rim"
    assert np.diff(heights).max() < 0.4 * 1.12 and np.diff(heights).mean() == pytest.approx(0.4, rel=0.05)


def test_what_sticks_out_beyond_a_level_rim_gets_a_row_of_its_own() -> None:
    (part,) = region_of(Area("M0 0.3 L14 0.3 L15 0 L16 0.3 L30 0.3 L30 12 L0 12 Z")).geoms
    heights = settled_heights(rings_of(part), 0.4)
    assert heights[0] == pytest.approx(0.15) and heights[1] == pytest.approx(0.5, abs=0.05)


@pytest.mark.parametrize("name", ["ring", "star", "plate", "crescent", "comb"])
def test_paths_inside_stay_inside(name: str) -> None:
    part = region_of(Area(SHAPES[name])).geoms[0]
    rng = np.random.default_rng(3)
    spots = np.array([p.coords[0] for p in [part.representative_point()]])
    rim = np.asarray(part.exterior.coords)
    for _ in range(25):
        start, stop = rim[rng.integers(len(rim))], rim[rng.integers(len(rim))]
        way = inside_path(part, start, stop)
        assert np.allclose(way[0], start) and np.allclose(way[-1], stop)
        assert part.buffer(0.09).covers(shapely.LineString(way)) or np.allclose(start, stop)
    assert part.buffer(0.09).covers(shapely.LineString(inside_path(part, spots[0] + 500, spots[0])))


def test_a_rectangle_is_a_band_from_short_side_to_short_side() -> None:
    column = as_column(region_of(Area(box_path(0, 0, 30, 3))))
    assert column is not None
    rails = rails_of(column)
    assert rails.widths() == pytest.approx(3.0, abs=0.01)
    assert lengths(rails.middle)[-1] == pytest.approx(30, abs=0.1)


def test_a_crescent_is_a_band_from_tip_to_tip() -> None:
    column = as_column(region_of(Area(SHAPES["crescent"])))
    assert column is not None
    rails = rails_of(column)
    assert rails.widths()[[0, -1]] == pytest.approx(0, abs=0.3)
    assert rails.widths().max() == pytest.approx(5.25, abs=0.5)


def test_a_ring_is_a_closed_band() -> None:
    column = as_column(region_of(Area(ring_path(20) + " " + ring_path(17, reverse=True))))
    assert column is not None
    rails = rails_of(column)
    assert rails.closed
    assert rails.widths() == pytest.approx(3.0, abs=0.05)
    assert np.allclose(rails.a[0], rails.a[-1]) and np.allclose(rails.b[0], rails.b[-1])


BARRED_T = "M0 0 L30 0 L30 3 L16 3 L16 20 L14 20 L14 3 L0 3 Z"


def test_a_path_goes_round_the_finest_notch_of_a_plain_shape() -> None:
    notched = shapely.Polygon([(0, 0), (4.9, 0), (5, 0.025), (5.1, 0), (10, 0), (10, 10), (0, 10)])
    way = shapely.LineString(inside_path(notched, np.array([1.0, 0.0]), np.array([9.0, 0.0])))
    assert notched.buffer(1e-6).covers(way) and way.length < 9


@pytest.mark.parametrize("path", [BARRED_T, star_path(), SHAPES["plate"], SHAPES["islands"]])
def test_what_branches_or_falls_apart_is_no_single_band(path: str) -> None:
    assert as_column(region_of(Area(path))) is None


@pytest.mark.parametrize(
    ("path", "satin"),
    [
        (box_path(0, 0, 30, 3), True),
        (box_path(0, 0, 2, 2), True),
        (BARRED_T, True),
        (SHAPES["crescent"], True),
        ("M0 0 L30 1 L0 2 Z", True),
        (box_path(0, 0, 30, 30), False),
        (box_path(0, 0, 40, 12), False),
        (box_path(0, 0, 5, 5), False),
        (box_path(0, 0, 20, 0.3), False),
        (SHAPES["plate"], False),
        (gear(), False),
    ],
)
def test_narrow_and_slender_shapes_read_as_satins(path: str, satin: bool) -> None:
    assert reads_as_satin(region_of(Area(path)).geoms[0]) == satin


def test_edges_drawn_against_each_other_still_make_a_column() -> None:
    rails = rails_of(Column("M0 0 L20 0", "M20 3 L0 3"))
    assert rails.widths() == pytest.approx(3.0)


def test_direction_lines_turn_the_rows() -> None:
    slanted = rails_of(Column("M0 0 L20 0", "M0 3 L20 3", (((8.0, 0.0), (12.0, 3.0)),)))
    k = int(np.argmin(np.abs(slanted.a[:, 0] - 8)))
    assert slanted.b[k, 0] == pytest.approx(12, abs=0.2)


def test_direction_lines_that_would_cross_are_left_out() -> None:
    crossing = (((5.0, 0.0), (15.0, 3.0)), ((10.0, 0.0), (8.0, 3.0)))
    rails = rails_of(Column("M0 0 L20 0", "M0 3 L20 3", crossing))
    assert (np.diff(rails.a[:, 0]) >= -1e-9).all() and (np.diff(rails.b[:, 0]) >= -1e-9).all()


def test_a_bent_line_is_mitred_at_its_corner() -> None:
    legs = legs_of(Line("M0 0 L20 0 L20 15", 3.0))
    assert [leg.fixed_ends for leg in legs] == [(False, True), (True, False)]
    areas = [shapely.Polygon(leg.outline()) for leg in legs]
    assert areas[0].intersection(areas[1]).area == pytest.approx(3 * math.sqrt(2) * 0.2, abs=0.05)
    mitre = shapely.Polygon([(0, -1.5), (21.5, -1.5), (21.5, 15), (18.5, 15), (18.5, 1.5), (0, 1.5)])
    assert mitre.difference(shapely.unary_union(areas)).area < 1.2
    assert shapely.unary_union(areas).difference(mitre.buffer(0.01)).area < 0.05


def test_a_hairpin_is_capped_not_mitred_for_ever() -> None:
    legs = legs_of(Line("M0 0 L20 0 L0 1", 3.0))
    reach = max(float(leg.middle[:, 0].max()) for leg in legs)
    assert 20 < reach < 23


def test_a_closed_line_closes_without_a_gap() -> None:
    round_ = legs_of(Line(CIRCLE, 2.0))
    assert len(round_) == 1 and round_[0].closed
    square = legs_of(Line(box_path(0, 0, 20, 20), 2.0))
    assert len(square) == 4 and all(leg.fixed_ends == (True, True) for leg in square)


@pytest.mark.parametrize(("ends", "length", "tip"), [("flat", 20, 2.0), ("round", 22, 0.5), ("pointed", 20, 0.5)])
def test_line_ends_are_flat_round_or_pointed(ends: str, length: float, tip: float) -> None:
    leg = legs_of(Line("M0 0 L20 0", 2.0, start=ends, end=ends))[0]  # type: ignore[arg-type]
    assert np.ptp(leg.middle[:, 0]) == pytest.approx(length, abs=1.2)
    assert leg.widths()[0] <= tip + 0.3
    assert leg.widths()[-1] <= tip + 0.3
    assert leg.widths().max() == pytest.approx(2.0)


@pytest.mark.parametrize("slants", [(30.0, -45.0), (-60.0, 20.0), (40.0, 40.0)])
@pytest.mark.parametrize("length", [8.0, 40.0])
def test_slanted_ends_lie_at_their_angle_and_rows_turn_without_crossing(
    slants: tuple[float, float], length: float
) -> None:
    line = Line(f"M0 0 L{length} 0", 4.0, start="slanted", start_slant=slants[0], end="slanted", end_slant=slants[1])
    leg = legs_of(line)[0]
    held = min(1.0, 0.8 * length / max(abs(np.diff(2 * np.tan(np.radians(slants)))[0]), 1e-9))
    for end, slant in ((0, slants[0]), (-1, slants[1])):
        left, right = sorted((leg.a[end], leg.b[end]), key=lambda p: p[1])
        assert left[0] - right[0] == pytest.approx(held * 4 * math.tan(math.radians(slant)), abs=0.15)
        assert leg.middle[end, 0] == pytest.approx(0.0 if end == 0 else length, abs=0.1)
    assert leg.widths().min() >= 4.0 - 1e-6
    assert (np.diff(leg.a[:, 0]) > 0).all() and (np.diff(leg.b[:, 0]) > 0).all()
    if length > 30:
        middle = leg.b[len(leg.b) // 2] - leg.a[len(leg.a) // 2]
        assert abs(middle[0]) < 0.05


def test_the_width_grows_from_that_at_the_start_to_that_at_the_end() -> None:
    leg = legs_of(Line("M0 0 L20 0", 4.0, start_width=50, end_width=150))[0]
    assert leg.widths()[[0, len(leg.a) // 2, -1]] == pytest.approx([2.0, 4.0, 6.0], abs=0.05)
    ring = legs_of(Line(CIRCLE, 2.0, start_width=50, end_width=150))[0]
    assert np.ptp(ring.widths()) < 0.01


@pytest.mark.parametrize(("width", "sound"), [(2.0, 0.95), (4.0, 0.8), (9.0, 0.6)])
def test_rows_do_not_cross_inside_a_bend(width: float, sound: float) -> None:
    leg = legs_of(Line("M0 0 C0 -11 9 -11 9 0", width))[0]
    quads = shapely.polygons(np.stack([leg.a[:-1], leg.a[1:], leg.b[1:], leg.b[:-1]], axis=1))
    assert shapely.is_valid(quads).mean() > sound


@given(st.data())
def test_path_data_reads_the_same_however_it_is_written(data: st.DataObject) -> None:
    """Numbers parted by blanks, by commas, by signs or by nothing but a dot; letters left out where they repeat."""
    number = st.floats(-500, 500).map(lambda v: round(v, 3))
    said: list[tuple[str, list[float]]] = [("M", [data.draw(number), data.draw(number)])]
    for letter in data.draw(st.lists(st.sampled_from("LCQZM"), max_size=12)):
        said.append((letter, [data.draw(number) for _ in range({"M": 2, "L": 2, "C": 6, "Q": 4, "Z": 0}[letter])]))
    written, before = "", ""
    for letter, numbers in said:
        again = letter in "LCQ" and (letter == before or (letter == "L" and before == "M"))
        written += "" if again and data.draw(st.booleans()) else data.draw(st.sampled_from(["", " ", "\n"])) + letter
        for value in numbers:
            text = f"{value:g}" if value == float(f"{value:g}") else repr(value)
            tight = written and (written[-1] in "MLCQZ" or text[0] == "-")
            written += (
                "" if tight and data.draw(st.booleans()) else data.draw(st.sampled_from([" ", ",", " , ", "\n"]))
            ) + text
        before = letter
    assert list(commands(written)) == said


@pytest.mark.parametrize(
    "path",
    [
        "10 20",
        "M1",
        "M1 2 L3",
        "M1 2 Z 3",
        "M1 2 A3 4",
        "M1 2 L inf 3",
        "M1 2 L1_0 3",
        "M1 2 Lnan 0",
        "M1 2 C1 2 3 4 5 Z",
        "M1 2 m",
    ],
)
def test_what_is_no_path_data_is_refused(path: str) -> None:
    with pytest.raises(CannotRead):
        list(commands(path))


@pytest.mark.parametrize("width", [1.0, 2.0, 4.0, 7.0])
def test_a_cap_is_all_of_the_first_legs_up_to_the_seconds_outer_edge(width: float) -> None:
    first, second = legs_of(Line("M0 0 L30 0 L30 30", width, corners="capped"))
    half = width / 2
    assert max(first.a[:, 0].max(), first.b[:, 0].max()) == pytest.approx(30 + half, abs=0.12)
    last = np.array([first.a[-1], first.b[-1]])
    assert sorted(last[:, 1].tolist()) == pytest.approx([-half, half], abs=0.01), "its last row is whole"
    begins = np.array([second.a[0], second.b[0]])
    assert begins[:, 1] == pytest.approx([half, half], abs=0.12) and second.widths().min() == pytest.approx(width)
    both = shapely.union_all([shapely.Polygon(one.outline()) for one in (first, second)])
    corner = shapely.box(30 - half, -half, 30 + half, half)
    assert both.intersection(corner).area == pytest.approx(corner.area, rel=0.03)


@pytest.mark.parametrize("width", [1.0, 4.0, 7.0])
def test_a_mitre_divides_the_corner_between_both_legs(width: float) -> None:
    first, second = (
        shapely.Polygon(one.outline()) for one in legs_of(Line("M0 0 L30 0 L30 30", width, corners="mitred"))
    )
    half = width / 2
    corner = shapely.box(30 - half, -half, 30 + half, half)
    assert first.intersection(corner).area == pytest.approx(second.intersection(corner).area, rel=0.05)
    assert first.intersection(corner).area == pytest.approx(corner.area / 2, abs=0.2 * width)
    assert shapely.union(first, second).intersection(corner).area == pytest.approx(corner.area, rel=0.03)


@pytest.mark.parametrize("corners", ["mitred", "capped"])
@pytest.mark.parametrize("width", [1.5, 4.0, 7.0])
@pytest.mark.parametrize("bend", [40.0, 65.0, 100.0, 125.0, -65.0])
def test_legs_leave_nothing_bare_at_a_corner(corners: Corners, width: float, bend: float) -> None:
    a = math.radians(bend)
    path = [(0.0, 0.0), (30.0, 0.0), (30.0 + 30.0 * math.cos(a), 30.0 * math.sin(a))]
    legs = legs_of(Line("M" + " L".join(f"{x:.4f} {y:.4f}" for x, y in path), width, corners=corners))
    both = shapely.union_all([covered(one) for one in legs])
    line = shapely.LineString(path).buffer(width / 2, cap_style="flat", join_style="bevel")
    assert line.difference(both).area < 0.01 * width**2
    pointed = shapely.LineString(path).buffer(width / 2, cap_style="flat", join_style="mitre", mitre_limit=4)
    assert both.difference(pointed.buffer(0.2)).area < 0.06 * width**2


@pytest.mark.parametrize("seed", range(12))
@pytest.mark.parametrize("tolerance", [0.01, 0.3, 3.0])
def test_a_thinned_polygon_stays_near_its_own_and_keeps_its_rings(seed: int, tolerance: float) -> None:
    (part, *_) = region_of(Area(blob(seed, 6.0 + seed, seed % 4))).geoms
    rough = shapely.segmentize(part, 0.05)
    found = thinned(rough, tolerance)
    assert found.is_valid and found.area > 0 and len(found.interiors) == len(part.interiors)
    assert shapely.hausdorff_distance(found.boundary, part.boundary) <= 1.5 * tolerance
    assert shapely.get_num_coordinates(found) < shapely.get_num_coordinates(rough) / 2


def test_a_polygon_smaller_than_what_it_is_thinned_by_is_still_there() -> None:
    assert thinned(shapely.Point(0, 0).buffer(0.001), 1.0).area > 0


def test_a_way_from_a_row_to_one_aside_of_it_leaves_its_end_and_comes_to_the_others() -> None:
    heights = np.array([0.0, 2.0, 4.0])
    rows = Intervals(np.array([0, 1, 2]), np.array([0.0, 14.0, 2.0]), np.array([10.0, 20.0, 9.0]), heights, 2.0)
    hang_together = np.array([0, 1]), np.array([1, 2])
    legs = Router(rows, cells(rows, hang_together), np.array([1.0, 0.0]), np.array([8.0, 4.0])).legs()
    assert {int(row) for leg in legs for row in leg.rows} == {0, 1, 2}
    for x, y in np.vstack([leg.travel for leg in legs]).tolist():
        (row,) = np.flatnonzero(heights == y)
        assert rows.left[row] - 1e-9 <= x <= rows.right[row] + 1e-9
