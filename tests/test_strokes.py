"""Any shape as strokes: how many, how they cover it, how they are written."""

import itertools
import math

import numpy as np
import pytest
import shapely
from bench import zoo
from bench.zoo import SIGNS
from hypothesis import given
from hypothesis import settings as hypothesis_settings
from hypothesis import strategies as st
from msgspec.structs import replace
from shapely import affinity

from jontel.data import find_ground
from jontel.design import Area, CannotStitch, EdgesRecipe, Fill, Line, Run, Satin, resolve
from jontel.design.edits import change_objects
from jontel.design.lettering import Lettering
from jontel.geometry.columns import covered
from jontel.geometry.decompose import Strokes, strokes_of
from jontel.geometry.region import Region, polygons_of, region_of
from jontel.lettering.fonts import open_font
from jontel.lettering.setting import set_in
from jontel.sewing.plan import plan
from jontel.sewing.proof import proof
from jontel.sewing.rims import with_rims
from jontel.stitching.covers.fill import region_for
from jontel.stitching.covers.satin import columns_of
from jontel.stitching.engine import sewn_edge, stitch
from jontel.stitching.measure import coverage, largest_bare, measure, squareness, thread_lines
from jontel.stitching.stitches import Kind, Layer
from tests.conftest import afresh, box_path, design_of, ring_path
from tests.test_stitching import sewn, sound

COUNTS = {
    "A": (3,), "B": (2, 3), "C": (1,), "D": (2,), "E": (4,), "F": (3,), "H": (3,), "K": (3,), "L": (2,), "M": (4,),
    "N": (3,), "O": (1,), "P": (2,), "R": (3,), "S": (1,), "T": (2,), "U": (1,), "V": (2,), "X": (2,), "Y": (2, 3),
    "Z": (3,), "8": (1, 2), "&": (1, 2), "a": (2,), "e": (2,), "o": (1,), "x": (2,),
}  # fmt: skip
"""Strokes that one would count who writes the letter."""
SHAPES = {**zoo.STROKES, "larger comb": zoo.comb(5, 25.0), "dot": ring_path(1.0), "bar of 8": box_path(0, 0, 40, 8)}


def parts_of(path: str) -> tuple[Strokes, ...]:
    """The strokes of path data."""
    return strokes_of(region_of(Area(path)))


def count(region: Region) -> int:
    """How many strokes a region has."""
    return sum(len(part.strokes) for part in strokes_of(region))


@pytest.mark.parametrize("sign", COUNTS)
def test_a_letter_has_the_strokes_that_one_writes(sign: str) -> None:
    assert count(region_of(Area(zoo.glyph(sign, 15.0)))) in COUNTS[sign]


@pytest.mark.parametrize("sign", "AEKMRSg8&")
def test_strokes_do_not_depend_on_how_a_letter_lies_or_is_drawn(sign: str) -> None:
    region = region_of(Area(zoo.glyph(sign, 15.0)))
    wanted = count(region)
    others = [affinity.rotate(region, angle, origin=(0, 0)) for angle in (17, 123, 271)]
    others += [affinity.scale(region, -1, 1), affinity.scale(region, 0.4, 0.4), affinity.scale(region, 3, 3)]
    others.append(shapely.segmentize(region, 0.3))
    rough = shapely.segmentize(affinity.rotate(region, 40), 0.4)
    noisy = shapely.transform(rough, lambda xy: xy + 0.02 * np.sin(xy @ [[371.0, 97.0], [83.0, 409.0]]))
    others.append(shapely.make_valid(noisy))
    assert [count(polygons_of(one)) for one in others] == [wanted] * len(others)


@pytest.mark.parametrize("name", SHAPES)
def test_strokes_cover_the_shape_and_nothing_else(name: str) -> None:
    for part in parts_of(SHAPES[name]):
        assert part.covers > 0.995 and part.beyond < 0.003
        for stroke in part.strokes:
            assert np.isfinite(stroke.rails.a).all() and np.isfinite(stroke.rails.b).all()


def test_what_two_strokes_both_cover_is_small_and_three_never_meet() -> None:
    for sign in "AEHKRTX":
        region = region_of(Area(zoo.glyph(sign, 15.0)))
        (part,) = strokes_of(region)
        cloth = [covered(one.rails) for one in part.strokes]
        twice = sum(one.intersection(other).area for one, other in itertools.combinations(cloth, 2))
        assert twice < (0.12 if sign in "XK" else 0.08) * region.area
        thrice = [a & b & c for a, b, c in itertools.combinations(cloth, 3)]
        assert all(one.area < 0.05 for one in thrice)


def test_the_stem_of_a_t_reaches_under_its_bar_by_the_set_overlap() -> None:
    (part,) = parts_of("M-10 0 L10 0 L10 3 L1.5 3 L1.5 20 L-1.5 20 L-1.5 3 L-10 3 Z")
    bar, stem = sorted(part.strokes, key=lambda one: float(np.ptp(one.rails.middle[:, 1])))
    assert stem.rails.middle[:, 1].min() == pytest.approx(2.5, abs=0.1)
    assert bar.rails.widths() == pytest.approx(3.0, abs=0.05)
    assert sorted([bar.under, stem.under]) in ([(False, False), (False, True)], [(False, False), (True, False)])
    (joint,) = part.joints
    assert part.strokes[joint.over] is bar


@pytest.mark.parametrize("height", [8.0, 40.0])
@pytest.mark.parametrize(
    "font", ["IBM Plex Sans SemiBold", "Old Standard TT", "Roboto Slab Bold", "Dancing Script Bold"]
)
def test_rows_lie_square_to_their_strokes(font: str, height: float) -> None:
    every = []
    for sign in "ABDEKLMNRSXZaegkxyz258&@":
        region = region_of(Area(set_in(Lettering(sign, font, height), open_font(font)).path))
        every.append(squareness([one.rails for part in strokes_of(region) for one in part.strokes]))
    assert min(every) > 0.85 and np.mean(every) > 0.96


def written(path: str) -> tuple[float, float, int, float]:
    """Coverage, the largest bare circle, jumps inside parts, and travel on show, mm, of a satin on path data."""
    found = sewn(Area(path), Satin(), underlay=None)
    sound(found)
    region = region_for(Area(path))
    seen = measure(found, region)
    jumps = int((found.kind == Kind.JUMP).sum()) - (len(region.geoms) - 1)
    outside = shapely.distance(shapely.points(found.xy[found.kind == Kind.STITCH]), region).max()
    assert outside < 0.25
    travel = thread_lines(found, {Layer.TRAVEL})
    if len(travel):
        assert shapely.multilinestrings(travel).difference(region.buffer(0.1)).length < 0.5
    bare = largest_bare(thread_lines(found, {Layer.COVER}), region)
    return seen.coverage, bare, jumps, seen.exposed_travel * seen.sewn_length


HEIGHTS = [8.0, 15.0, 40.0]


@pytest.mark.parametrize("height", HEIGHTS)
@pytest.mark.parametrize("sign", "AEHKMRXgaß&58@")
def test_letters_are_covered_and_written_without_a_cut(sign: str, height: float) -> None:
    coverage, bare, jumps, shown = written(zoo.glyph(sign, height))
    assert coverage > 0.985 and bare < 0.5 and jumps == 0 and shown < 1.5


@pytest.mark.parametrize("height", HEIGHTS)
@pytest.mark.parametrize(
    "font", ["IBM Plex Sans SemiBold", "Old Standard TT", "Roboto Slab Bold", "Dancing Script Bold"]
)
def test_every_letter_of_four_fonts_is_covered_and_nothing_beside_it(font: str, height: float) -> None:
    shares = []
    for sign in SIGNS[HEIGHTS.index(height) :: 2]:
        shape = Area(set_in(Lettering(sign, font, height), open_font(font)).path)
        region = region_of(shape)
        found = sewn(shape, Satin(), underlay=())
        shares.append(coverage(thread_lines(found, {Layer.COVER}), region))
        assert shapely.distance(shapely.points(found.xy[found.kind == Kind.STITCH]), region).max() < 0.21, sign
        assert (found.kind == Kind.JUMP).sum() == len(region.geoms) - 1, sign
        assert all(part.fit for part in strokes_of(region)), sign
    least = 0.99 if height == 40.0 else 0.985
    assert np.median(shares) > 0.995 and min(shares) > least


@pytest.mark.parametrize("name", SHAPES)
def test_shapes_are_covered_and_written_without_a_cut(name: str) -> None:
    coverage, bare, jumps, shown = written(SHAPES[name])
    assert coverage > 0.99 and bare < 0.3 and jumps == 0 and shown < 1.0


@pytest.mark.parametrize("sign", "EHK")
@pytest.mark.parametrize("place", [(-6.0, -7.0), (6.0, 7.0), (0.0, 0.0)])
def test_a_letter_begins_and_ends_near_where_it_is_asked_to(sign: str, place: tuple[float, float]) -> None:
    path = zoo.glyph(sign, 15.0)
    (part,) = parts_of(path)
    nearest = min(float(np.hypot(*(one.rails.middle - place).T).min()) for one in part.strokes)
    for entry, exit_ in ((place, None), (None, place)):
        found = sewn(Area(path), Satin(), underlay=None, entry=entry, exit_=exit_)
        end = found.xy[0] if entry is not None else found.xy[-1]
        assert math.dist(end, place) < nearest + 2.6
        assert not (found.kind == Kind.JUMP).any()


def test_an_own_direction_line_turns_the_rows_near_it_and_no_others() -> None:
    path = zoo.glyph("E", 30.0)
    left, top = region_of(Area(path)).bounds[:2]
    arm = np.array([left + 12.0, top + 2.5])
    line = ((arm[0] - 1.5, arm[1] - 4.0), (arm[0] + 1.5, arm[1] + 4.0))
    for own, wanted in (((), 0.0), ((line,), math.degrees(math.atan2(1.5, 4.0)))):
        near, far = [], []
        for rails in columns_of(Area(path, lines=own)):
            away = np.hypot(*(rails.middle - arm).T)
            row = rails.b - rails.a
            lean = np.degrees(np.arctan(row[:, 0] / np.where(row[:, 1] == 0, 1e-9, row[:, 1])))
            near += lean[away < 0.4].tolist()
            far += lean[(away > 9.0) & (rails.middle[:, 1] < top + 4) & (rails.middle[:, 0] > left + 7)].tolist()
        assert near == pytest.approx([wanted] * len(near), abs=3.0) and len(near) > 3
        assert far == pytest.approx([0.0] * len(far), abs=6.0)
    sound(sewn(Area(path, lines=(line,)), Satin()))


def test_a_hairline_of_a_letter_is_run_along_its_axis() -> None:
    path = "M0 0 L3 0 L3 9.9 L15 9.9 L15 10.2 L3 10.2 L3 20 L0 20 Z"
    found = sewn(Area(path), Satin(), underlay=())
    hair = found.xy[(found.xy[:, 0] > 4) & (found.layer == Layer.COVER)]
    assert len(hair) > 5 and hair[:, 1] == pytest.approx(10.05, abs=0.16)
    assert hair[:, 0].max() == pytest.approx(15.0, abs=0.3)
    sound(found)
    assert measure(found, region_for(Area(path))).coverage > 0.98
    assert not (found.kind == Kind.JUMP).any()


def test_a_letter_of_two_parts_jumps_once_between_them() -> None:
    found = sewn(Area(zoo.glyph("i", 15.0)), Satin(), underlay=None)
    assert (found.kind == Kind.JUMP).sum() == 1


def test_underlay_of_each_stroke_lies_under_its_cover() -> None:
    path = zoo.glyph("E", 20.0)
    found = sewn(Area(path), Satin(), underlay=None)
    below = np.isin(found.layer, [int(Layer.EDGE_RUN), int(Layer.CENTRE_RUN), int(Layer.ZIGZAG)])
    assert below.sum() > 40
    later = [found.xy[k:][found.layer[k:] == Layer.COVER] for k in np.flatnonzero(below)[::7]]
    for k, cover in zip(np.flatnonzero(below)[::7], later, strict=True):
        assert np.hypot(*(cover - found.xy[k]).T).min() < 3.5


@given(st.integers(0, 10_000), st.floats(1.5, 14.0), st.integers(0, 3))
@hypothesis_settings(max_examples=40)
def test_any_blob_is_sewn_as_a_satin_or_refused_in_a_sentence(seed: int, radius: float, holes: int) -> None:
    shape = Area(zoo.blob(seed, radius, holes))
    try:
        found = sewn(shape, Satin())
    except CannotStitch as refused:
        assert "make it a fill" in str(refused) or "widen it" in str(refused)
        return
    sound(found)
    region = region_for(shape)
    assert shapely.distance(shapely.points(found.xy[found.kind == Kind.STITCH]), region).max() < 0.6
    again = afresh(lambda: sewn(shape, Satin()))
    assert (again.xy == found.xy).all()


def test_another_weight_is_covered_too() -> None:
    light = zoo.SHIPPED_FONT.with_name("IBMPlexSans-Regular.ttf")
    for sign in "RQk3f":
        coverage, bare, jumps, shown = written(zoo.glyph(sign, 12.0, light))
        assert coverage > 0.985 and bare < 0.5 and jumps == 0 and shown < 1.5


@pytest.mark.parametrize("turn", [0, 20, 40, 45])
def test_a_speck_that_rows_cover_badly_is_a_finding_and_its_mend_covers_it(turn: int) -> None:
    speck = Area(zoo.turned_box(1.0, 1.0, turn))
    design = design_of((speck, Fill()), (Area(box_path(10, 0, 9, 9)), Fill()), ground="Woven")
    sewn_ = plan(design)
    own = sewn_.pieces[0]
    rows = own.sewn & (own.layer == Layer.COVER)
    lines = np.stack([own.xy[:-1][rows[1:]], own.xy[1:][rows[1:]]], axis=1)
    specks = [one for one in proof(design, sewn_) if one.kind == "speck"]
    edge = sewn_edge(resolve(design.objects[0], design.brief.ground))
    assert len(specks) == int(coverage(lines, edge) < 0.97)
    for one in specks:
        assert one.objects == (1,)
        mended = one.fixes[0].edit(design)
        assert isinstance(mended.objects[0].cover, Satin)
        assert not [one for one in proof(mended, plan(mended)) if one.kind == "speck"]
        whole = resolve(mended.objects[0], design.brief.ground)
        assert measure(stitch(whole), sewn_edge(whole)).coverage > 0.97


def test_a_rim_is_an_object_of_its_own_on_the_outline_and_closes_without_a_notch() -> None:
    disc, bar = Area(ring_path(9)), Line("M20 0 L40 0", 3.0)
    design, rims = with_rims(design_of((disc, Fill()), (bar, Run()), (disc, Fill())), {1, 2})
    assert [one.name for one in design.objects] == [
        "Object 1",
        "Object 1 rim",
        "Object 2",
        "Object 2 rim",
        "Object 3",
    ]
    assert rims == {design.objects[1].id, design.objects[3].id} and len({one.id for one in design.objects}) == 5
    rim = design.objects[1]
    assert rim.shape == Line(disc.path, 2.0) and isinstance(rim.cover, Satin)
    points = sewn(rim.shape, rim.cover).xy
    away = np.hypot(*points.T)
    assert away.min() == pytest.approx(8.0, abs=0.05) and away.max() == pytest.approx(10.0, abs=0.05)
    turn = np.sort(np.arctan2(points[away > 9.9, 1], points[away > 9.9, 0]))
    gaps = np.diff(np.append(turn, turn[0] + 2 * math.pi))
    assert gaps.max() < 1.3 * np.median(gaps)
    other = change_objects(design, {rim.id}, lambda one: replace(one, thread="1005"))
    assert other.objects[0].thread != other.objects[1].thread and not plan(other).failures


def test_wide_parts_are_split_or_filled_as_one_picks_and_narrow_ones_stay_satins() -> None:
    shape = Area(f"{box_path(-20, -30, 14, 60)} {box_path(10, -30, 4, 60)}")
    edges = replace(find_ground("Woven twill"), edges=EdgesRecipe(pull=0.0, push=0.0))
    for wide, most in (("split", 7.0), ("filled", 3.6)):
        found = sewn(shape, Satin(wide=wide), ground=edges)
        left = (found.xy[:, 0] < 0) & (found.layer == Layer.COVER) & (found.kind == Kind.STITCH)
        rows = np.hypot(*np.diff(found.xy, axis=0).T)[left[1:] & left[:-1]]
        assert most - 2.5 < np.quantile(rows, 0.9) <= most + 0.1, wide
        right = (found.xy[:, 0] > 5) & (found.layer == Layer.COVER) & (found.kind == Kind.STITCH)
        long = np.hypot(*np.diff(found.xy, axis=0).T)[right[1:] & right[:-1]]
        assert np.median(long) == pytest.approx(4.0, abs=0.1)
        assert measure(found, region_of(shape)).coverage > 0.985
    narrow = sewn(shape, Satin(wide="filled", wide_over=20.0), ground=edges)
    assert (narrow.xy == sewn(shape, Satin(), ground=edges).xy).all()


@pytest.mark.parametrize(("beside", "near", "far"), [(100.0, 9.0, 11.0), (-100.0, 7.0, 9.0), (50.0, 8.5, 10.5)])
def test_a_rim_lies_outside_or_inside_the_outline_or_between(beside: float, near: float, far: float) -> None:
    points = sewn(Line(ring_path(9), 2.0, beside=beside), Satin()).xy
    away = np.hypot(*points.T)
    assert away.min() == pytest.approx(near, abs=0.05) and away.max() == pytest.approx(far, abs=0.05)


def test_outwards_is_away_from_the_cloth_at_a_hole_and_to_the_left_of_an_open_line() -> None:
    ring = ring_path(12) + " " + ring_path(6, reverse=True)
    away = np.hypot(*sewn(Line(ring, 2.0, beside=100.0), Satin()).xy.T)
    inner = away[away < 9]
    assert (inner.min(), inner.max()) == pytest.approx((4.0, 6.0), abs=0.06) and away.max() == pytest.approx(
        14, abs=0.06
    )
    square = sewn(Line(box_path(-8, -8, 16, 16), 2.0, beside=100.0), Satin()).xy
    off = np.abs(square).max(axis=1)
    assert off.min() == pytest.approx(8.0, abs=0.05) and off.max() == pytest.approx(10.0, abs=0.25)
    line = sewn(Line("M0 0 L20 0", 3.0, beside=100.0), Satin()).xy
    assert (line[:, 1].min(), line[:, 1].max()) == pytest.approx((-3.0, 0.0), abs=0.05)


def test_a_rim_that_has_no_room_inside_says_so() -> None:
    with pytest.raises(CannotStitch, match="no room for it inside"):
        sewn(Line(box_path(0, 0, 2, 2), 4.5, beside=-100.0), Satin())


def test_what_has_no_outline_gets_no_rim() -> None:
    design = design_of((Area("M0 0 L9 0 L0 0 Z"), Fill()))
    assert with_rims(design, {1}) == (design, frozenset())


@pytest.mark.parametrize("seed", range(12))
def test_a_hole_that_all_but_touches_the_rim_leaves_strokes(seed: int) -> None:
    draw = np.random.default_rng(seed)
    turn = np.sort(draw.uniform(0, 2 * np.pi, 40))
    rim = np.column_stack([np.cos(turn), np.sin(turn)]) * [[3.0, 1.2]]
    nearest = shapely.LineString(rim[8:10]).interpolate(draw.uniform(0.2, 0.8), normalized=True).coords[0]
    hole = shapely.Polygon(
        [np.array(nearest) * (1 - 4e-6), *(np.array(nearest) * 0.9 + draw.uniform(-0.1, 0.1, (2, 2)))]
    )
    shape = shapely.Polygon(rim).difference(hole)
    assert isinstance(shape, shapely.Polygon) and len(shape.interiors) == 1
    (found,) = strokes_of(Region([shape]))
    assert found.strokes and np.isfinite([found.covers, found.beyond]).all()
