"""What is sewn, in the numbers that a digitizer would measure."""

import numpy as np
import pytest
import shapely
from bench import zoo
from hypothesis import example, given
from hypothesis import settings as hypothesis_settings
from hypothesis import strategies as st
from msgspec.structs import replace

from jontel.data import find_ground
from jontel.design import (
    Area,
    CannotStitch,
    Column,
    Cover,
    Edges,
    EdgesRecipe,
    Fill,
    Ground,
    Line,
    Run,
    Satin,
    Shape,
    StitchObject,
    resolve,
)
from jontel.design.kinds import UNDERLAY_KINDS, Underlay
from jontel.design.kinds.centre_run import CentreRun
from jontel.design.kinds.edge_run import EdgeRun
from jontel.design.kinds.lattice import Lattice
from jontel.design.kinds.parallel import Parallel
from jontel.design.kinds.zigzag import Zigzag
from jontel.geometry.polyline import flatten, lengths
from jontel.geometry.region import region_of
from jontel.sewing.plan import plan
from jontel.sewing.proof import proof
from jontel.stitching.automatic import column_underlay
from jontel.stitching.bed import go
from jontel.stitching.compensation import swept
from jontel.stitching.covers.fill import region_for
from jontel.stitching.engine import drawn_width, sewn_edge, stitch, underlay_of
from jontel.stitching.locks import lock_in, lock_out
from jontel.stitching.measure import coverage, measure, overspill, spacings, stitch_lengths, thread_lines
from jontel.stitching.running import merge_short, split_long, straight_run, styled
from jontel.stitching.stitches import SHORTEST, Kind, Layer, Needle, Stitches
from tests.conftest import SHAPES, box_path, design_of, ring_path

PLAIN = replace(find_ground("Woven twill"), edges=EdgesRecipe(pull=0, push=0))
ANGLES = (0.0, 37.0, 90.0)


def sewn(
    shape: Shape,
    cover: Cover,
    underlay: tuple[Underlay, ...] | None = (),
    ground: Ground = PLAIN,
    edges: Edges = Edges(),
    entry: tuple[float, float] | None = None,
    exit_: tuple[float, float] | None = None,
) -> Stitches:
    """The stitches of one object, without compensation unless asked for."""
    item = StitchObject(id=1, name="it", thread="1001", shape=shape, cover=cover, underlay=underlay, edges=edges)
    return stitch(resolve(item, ground), entry, exit_)


# run


def test_a_run_keeps_its_length_and_spreads_evenly() -> None:
    found = sewn(Line("M0 0 L21 0"), Run(length=2.5))
    assert stitch_lengths(found) == pytest.approx(21 / 9)


def test_corners_are_needle_points_and_no_stub_is_left() -> None:
    found = sewn(Line("M0 0 L10 0 L10 7 L3 7"), Run(length=3.0))
    for corner in ((0, 0), (10, 0), (10, 7), (3, 7)):
        assert np.hypot(*(found.xy - corner).T).min() < 1e-9
    assert stitch_lengths(found).min() > 2.0


def test_in_curves_stitches_shorten_but_not_below_one() -> None:
    line = Line("M0 0 C0 -4 6 -4 6 0 C6 1 5 1.6 4 1.2")
    found = sewn(line, Run(length=4.0))
    sizes = stitch_lengths(found)
    assert sizes.min() >= 0.85 and sizes.max() <= 4.0
    drawn = shapely.LineString(np.vstack([p.xy for p in flatten(line.path)]))
    chords = shapely.LineString(found.xy)
    assert shapely.hausdorff_distance(drawn, chords, densify=0.05) < 0.16


@pytest.mark.parametrize(
    ("style", "times"), [("single", 1), ("there and back", 2), ("triple", 3), ("back-stitch", 3)]
)
def test_run_styles_lay_thread_so_many_times(style: str, times: int) -> None:
    found = sewn(Line("M0 0 L20 0"), Run(length=2.0, style=style))  # type: ignore[arg-type]
    total = stitch_lengths(found).sum()
    assert total == pytest.approx(20 * times, rel=0.12)
    assert np.hypot(*(found.xy[-1] - ((0, 0) if style == "there and back" else (20, 0)))) < 1e-9


def test_back_stitch_is_long_on_top_and_short_below() -> None:
    sizes = stitch_lengths(sewn(Line("M0 0 L20 0"), Run(length=2.0, style="back-stitch")))
    assert sorted(set(sizes.round(6))) == [2.0, 4.0]


@pytest.mark.parametrize("repeats", [1, 2, 3, 5])
def test_repeats_go_there_and_back_without_a_jump(repeats: int) -> None:
    found = sewn(Line("M0 0 L20 0"), Run(length=2.0, repeats=repeats))
    assert stitch_lengths(found).sum() == pytest.approx(20 * repeats)
    assert found.xy[-1, 0] == pytest.approx(20 if repeats % 2 else 0)
    assert (found.kind == Kind.STITCH).all()


def test_a_run_starts_at_the_end_nearer_to_the_needle() -> None:
    found = sewn(Line("M0 0 L20 0"), Run(), entry=(22.0, 1.0))
    assert tuple(found.xy[0]) == (20.0, 0.0)


def test_a_closed_run_starts_where_the_needle_is_and_closes() -> None:
    found = sewn(Line(ring_path(10)), Run(), entry=(0.0, 12.0))
    assert found.xy[0] == pytest.approx([0, 10], abs=0.05)
    assert found.xy[-1] == pytest.approx(found.xy[0])


def test_the_styled_order_of_two_points_is_still_a_stitch() -> None:
    points = np.array([[0.0, 0.0], [2.0, 0.0]])
    for style in ("single", "there and back", "triple", "back-stitch"):
        assert len(styled(points, style, 1)) >= 2  # type: ignore[arg-type]


# fill


@pytest.mark.parametrize("angle", ANGLES)
@pytest.mark.parametrize("name", SHAPES)
def test_fills_cover_their_shape_and_keep_inside_it(name: str, angle: float) -> None:
    shape = Area(SHAPES[name])
    found = sewn(shape, Fill(angle=angle))
    seen = measure(found, region_for(shape))
    assert seen.coverage > (0.99 if name == "crescent" else 0.995)
    assert overspill(found.xy[found.layer == Layer.COVER], region_for(shape)) <= 0.2
    assert seen.overspill <= 0.2
    rows = thread_lines(found, {Layer.COVER})
    assert np.hypot(*(rows[:, 1] - rows[:, 0]).T).max() < 3.5 + 2 * 1.1 + 0.3 and seen.longest <= 7.0
    assert seen.shortest >= SHORTEST - 1e-6
    assert seen.jumps == (1 if name == "islands" else 0)


@pytest.mark.parametrize("angle", ANGLES)
def test_travel_is_a_small_part_of_a_fill(angle: float) -> None:
    for name in ("disc", "ring", "plate", "comb", "crescent", "spiral", "S band", "islands"):
        shape = Area(SHAPES[name])
        assert measure(sewn(shape, Fill(angle=angle)), region_for(shape)).travel_share < 0.065


@pytest.mark.parametrize("angle", ANGLES)
def test_holes_hardly_cost_stitches_and_a_large_one_saves_them(angle: float) -> None:
    whole = sewn(Area(box_path(-25, -25, 50, 50)), Fill(angle=angle)).count
    assert sewn(Area(SHAPES["plate"]), Fill(angle=angle)).count <= 1.045 * whole
    assert sewn(Area(SHAPES["ring"]), Fill(angle=angle)).count <= sewn(Area(SHAPES["disc"]), Fill(angle=angle)).count


@pytest.mark.parametrize("angle", ANGLES)
@pytest.mark.parametrize("name", ["ring", "plate", "comb", "spiral", "S band", "star"])
def test_travel_is_sewn_over_later_but_for_a_hundredth(name: str, angle: float) -> None:
    shape = Area(SHAPES[name])
    assert measure(sewn(shape, Fill(angle=angle)), region_for(shape)).exposed_travel < 0.015


@pytest.mark.parametrize("angle", ANGLES)
@pytest.mark.parametrize("name", ["disc", "plate", "comb", "spiral"])
def test_the_spacing_of_straight_rows_holds_everywhere(name: str, angle: float) -> None:
    shape = Area(SHAPES[name])
    assert measure(sewn(shape, Fill(angle=angle)), region_for(shape), spacing=0.4).spacing_error < 0.02


@pytest.mark.parametrize(
    ("path", "outside"), [("M0 0 L40 0", 1.0), ("M0 0 C10 -12 30 -12 40 0", 1.0), (ring_path(12), 14 / 12)]
)
def test_the_spacing_of_a_satin_holds_at_its_middle_to_5_percent(path: str, outside: float) -> None:
    closer = max(1.0, outside / 1.09)  # the outside of a bend gapes by no more than that
    found = np.median(spacings(sewn(Line(path, 4.0), Satin(spacing=0.4)), 0.2))
    assert found == pytest.approx(0.2 / closer, rel=0.06)


def test_rows_are_at_their_spacing_and_angle() -> None:
    found = sewn(Area(box_path(0, 0, 30, 20)), Fill(angle=0.0, spacing=0.45))
    cover = found.xy[found.layer == Layer.COVER]
    heights = np.unique(cover[:, 1].round(3))
    pitch = np.diff(heights)
    assert pitch == pytest.approx(pitch.mean(), abs=2e-3) and pitch.mean() == pytest.approx(0.45, rel=0.05)
    assert heights[0] == pytest.approx(0.45 / 2, abs=2e-3), "the thread of the first row ends on the rim"
    turned = sewn(Area(box_path(0, 0, 30, 20)), Fill(angle=30.0))
    lines = thread_lines(turned, {Layer.COVER})
    long = lines[np.hypot(*(lines[:, 1] - lines[:, 0]).T) > 3]
    step = long[:, 1] - long[:, 0]
    angle = np.degrees(np.arctan2(-step[:, 1], step[:, 0])) % 180
    assert np.median(angle) == pytest.approx(30.0, abs=0.01)


def test_no_line_of_holes_forms_within_four_rows() -> None:
    found = sewn(Area(box_path(0, 0, 60, 20)), Fill(angle=0.0))
    cover = found.xy[(found.layer == Layer.COVER)]
    inner = cover[(cover[:, 0] > 5) & (cover[:, 0] < 55)]
    rows = np.unique(inner[:, 1].round(3))
    phases = [np.round(inner[np.abs(inner[:, 1] - y) < 1e-3, 0][0] % 3.5, 3) for y in rows]
    for k in range(len(phases) - 4):
        assert len(set(phases[k : k + 4])) == 4


def test_no_needle_point_inside_a_row_crowds_its_end() -> None:
    found = sewn(Area(box_path(0, 0, 31, 20)), Fill(angle=0.0))
    cover = found.xy[found.layer == Layer.COVER]
    inner = cover[(cover[:, 0] > 0.2) & (cover[:, 0] < 30.8)]
    off = np.minimum(inner[:, 0], 31 - inner[:, 0])
    assert off.min() >= SHORTEST and (off < 0.8 - 0.16).mean() < 0.02


@pytest.mark.parametrize("exit_", [(-20.0, 0.0), (0.0, -20.0), (14.1, 14.1), (20.0, 0.0)])
@pytest.mark.parametrize("entry", [(-20.0, 0.0), (14.1, -14.1)])
@pytest.mark.parametrize("name", ["disc", "ring"])
def test_a_fill_is_entered_and_left_anywhere_on_its_rim(
    name: str, entry: tuple[float, float], exit_: tuple[float, float]
) -> None:
    found = sewn(Area(SHAPES[name]), Fill(), entry=entry, exit_=exit_)
    assert np.hypot(*(found.xy[0] - entry)) < 1.5
    assert np.hypot(*(found.xy[-1] - exit_)) < 1.5


def test_two_islands_are_sewn_one_after_the_other() -> None:
    found = sewn(Area(SHAPES["islands"]), Fill())
    jump = int(np.flatnonzero(found.kind == Kind.JUMP)[0])
    assert (found.xy[:jump, 0] < 0).all() != (found.xy[:jump, 0] > 0).all()


def test_a_sliver_is_sewn_or_refused_in_words() -> None:
    try:
        found = sewn(Area(box_path(0, 0, 30, 0.2)), Fill())
    except CannotStitch as refused:
        assert "enlarge" in str(refused)
    else:
        assert stitch_lengths(found).min() >= SHORTEST - 1e-6


def test_an_outline_of_no_area_is_refused() -> None:
    with pytest.raises(CannotStitch, match="no area"):
        sewn(Area("M0 0 L10 0 L0 0 Z"), Fill())


def test_a_shape_of_many_nodes_is_sewn() -> None:
    t = np.linspace(0, 2 * np.pi, 1500, endpoint=False)
    radius = 20 + 1.5 * np.sin(37 * t)
    path = (
        "M"
        + " L".join(f"{x:.3f} {y:.3f}" for x, y in zip(radius * np.cos(t), radius * np.sin(t), strict=True))
        + " Z"
    )
    seen = measure(sewn(Area(path), Fill()), region_of(Area(path)))
    assert seen.coverage > 0.99 and seen.overspill <= 0.2 and seen.jumps == 0


# satin


def test_satin_spacing_holds_at_the_middle() -> None:
    found = sewn(Line("M0 0 L40 0", 4.0), Satin(spacing=0.4))
    upper = np.sort(found.xy[found.xy[:, 1] > 1.9][:, 0])
    assert np.diff(upper) == pytest.approx(0.4, rel=0.05)


@pytest.mark.parametrize(
    "shape",
    [
        Line("M0 0 L40 0", 4.0),
        Line("M0 0 C10 -12 30 -12 40 0", 3.0),
        Column("M0 0 L40 0", "M0 3 C15 6 25 6 40 3"),
        Line(ring_path(12), 3.0),
        Area(ring_path(20) + " " + ring_path(17, reverse=True)),
    ],
)
def test_satins_cover_their_column(shape: Shape) -> None:
    found = sewn(shape, Satin())
    item = StitchObject(id=1, name="it", thread="1001", shape=shape, cover=Satin(), underlay=())
    edge = sewn_edge(resolve(item, PLAIN))
    seen = measure(found, edge)
    assert seen.coverage >= 0.99
    assert seen.overspill <= 0.2 and seen.longest <= 7.0 and seen.shortest >= SHORTEST - 1e-6


def test_wide_rows_are_split_without_a_line_of_holes() -> None:
    found = sewn(Line("M0 0 L30 0", 11.0), Satin(split=7.0))
    assert stitch_lengths(found).max() <= 7.0
    inner = found.xy[np.abs(found.xy[:, 1]) < 5.0]
    assert len(inner) > 60
    shares, counts = np.unique(inner[:, 1].round(1), return_counts=True)
    assert len(shares) >= 4 and counts.max() < 0.45 * len(inner)


def test_tight_insides_get_short_stitches_in_two_lengths() -> None:
    bend = Line("M0 0 C0 -5 8 -5 8 0", 5.0)
    plain, spared = (sewn(bend, Satin(short_stitches=on)) for on in (False, True))
    crowd = [
        min(np.hypot(*(p - q)) for p, q in zip(f.xy[:-2], f.xy[2:], strict=True) if np.hypot(*(p - q)) > 1e-9)
        for f in (plain, spared)
    ]
    assert crowd[1] > crowd[0]
    assert spared.count == plain.count


def test_the_seam_of_a_closed_satin_is_like_any_other_place() -> None:
    found = sewn(Line(ring_path(12), 3.0), Satin())
    outer = found.xy[np.hypot(*found.xy.T) > 13]
    angles = np.sort(np.arctan2(outer[:, 1], outer[:, 0]))
    gaps = np.diff(np.append(angles, angles[0] + 2 * np.pi)) * 13.5
    assert gaps.max() < 1.3 * np.median(gaps)


def test_a_satin_on_what_is_no_stroke_sews_as_a_fill_and_the_proof_says_where_and_why() -> None:
    bar = box_path(30, -10, 4, 20)
    shape = Area(f"{zoo.gear(14)} {bar}")
    found = sewn(shape, Satin())
    assert measure(found, region_for(shape)).coverage > 0.97
    drawn = design_of((shape, Satin()))
    (finding,) = [one for one in proof(drawn, plan(drawn)) if one.kind == "misfit"]
    assert "1 part of it sews as a fill" in finding.sentence and finding.place is not None
    assert region_for(Area(zoo.gear(14))).distance(shapely.Point(finding.place)) < 0.01
    alone = design_of((Area(zoo.gear(14)), Satin()))
    (finding,) = [one for one in proof(alone, plan(alone)) if one.kind == "misfit"]
    mended = finding.fixes[0].edit(alone)
    assert isinstance(mended.objects[0].cover, Fill)
    assert not [one for one in proof(mended, plan(mended)) if one.kind == "misfit"]


def test_a_hairline_satin_is_refused_with_advice() -> None:
    with pytest.raises(CannotStitch, match="widen it"):
        sewn(Line("M0 0 L20 0", 0.2), Satin())


def test_a_satin_starts_at_the_end_nearer_to_the_needle() -> None:
    found = sewn(Line("M0 0 L20 0", 3.0), Satin(), entry=(21.0, 0.0))
    assert found.xy[0, 0] > 19 and found.xy[-1, 0] < 1


def test_separate_strokes_of_one_letter_are_joined_by_jumps() -> None:
    found = sewn(Line("M0 0 L0 8 M6 0 L6 8", 1.6), Satin())
    assert (found.kind == Kind.JUMP).sum() == 1


# underlay


@pytest.mark.parametrize("kind", UNDERLAY_KINDS)
@pytest.mark.parametrize(
    ("shape", "cover"), [(Area(SHAPES["plate"]), Fill()), (Line("M0 0 C10 -9 30 -9 40 0", 4.5), Satin())]
)
def test_every_underlay_lies_inside_the_cover_and_before_it(kind: type[Underlay], shape: Shape, cover: Cover) -> None:
    found = sewn(shape, cover, (kind(),))
    layers = {Layer(one) for one in np.unique(found.layer)}
    own = layers - {Layer.COVER, Layer.TRAVEL}
    assert len(own) == 1
    (layer,) = own
    assert layer.title == str(kind.__struct_config__.tag)
    first_cover = int(np.argmax(found.layer == Layer.COVER))
    assert np.flatnonzero(found.layer == layer).max() < first_cover or layer is Layer.ZIGZAG
    item = StitchObject(id=1, name="it", thread="1001", shape=shape, cover=cover)
    edge = sewn_edge(resolve(item, PLAIN))
    points = found.xy[found.layer == layer]
    assert shapely.distance(shapely.points(points), edge).max() < 1e-6
    rim = shapely.distance(shapely.points(points), edge.boundary)
    assert np.median(rim) >= 0.3


def test_underlay_passes_are_sewn_in_their_order() -> None:
    found = sewn(Area(box_path(0, 0, 30, 20)), Fill(), (EdgeRun(), Lattice(), Parallel()))
    order = [Layer(one) for one in found.layer[np.append(True, np.diff(found.layer) != 0)]]
    passes = [one for one in order if one not in (Layer.TRAVEL, Layer.COVER)]
    assert list(dict.fromkeys(passes)) == [Layer.EDGE_RUN, Layer.LATTICE, Layer.PARALLEL]


@pytest.mark.parametrize("corner", [(-30.0, -20.0), (30.0, -20.0), (30.0, 20.0), (-30.0, 20.0)])
def test_underlay_begins_beside_the_needle(corner: tuple[float, float]) -> None:
    found = sewn(Area(box_path(-30, -20, 60, 40)), Fill(), (Parallel(inset=0.6),), entry=corner)
    first = int(np.argmax(found.layer == Layer.PARALLEL))
    assert np.hypot(*np.diff(found.xy[:first], axis=0).T).sum() < 3.0


@pytest.mark.parametrize("shape", ["disc", "ring", "S band"])
def test_underlay_of_a_fill_keeps_its_inset_along_bends(shape: str) -> None:
    item = StitchObject(
        id=1, name="it", thread="1001", shape=Area(SHAPES[shape]), cover=Fill(), underlay=(Parallel(inset=0.6),)
    )
    whole = resolve(item, PLAIN)
    found = stitch(whole)
    ends = shapely.points(found.xy[found.layer == Layer.PARALLEL])
    apart = shapely.distance(ends, sewn_edge(whole).boundary)
    assert apart.min() > 0.55
    turns = apart[apart < 1.5]  # where rows end, not the needle points between
    assert len(turns) > 20 and np.median(turns) < 0.65


def test_underlay_rows_cross_the_covers() -> None:
    found = sewn(Area(box_path(0, 0, 40, 40)), Fill(angle=20.0), (Parallel(spacing=2.0),))
    lines = thread_lines(found, {Layer.PARALLEL})
    step = lines[:, 1] - lines[:, 0]
    angle = np.degrees(np.arctan2(-step[:, 1], step[:, 0])) % 180
    assert np.median(angle) == pytest.approx(110.0, abs=0.1)


@pytest.mark.parametrize(
    ("seed", "radius", "holes"), [(3, 5, 3), (8, 12, 2), (31, 8, 1), (55, 8, 3), (74, 12, 1), (92, 5, 1), (110, 5, 2)]
)
def test_a_centre_run_keeps_to_the_cloth_beside_holes(seed: int, radius: float, holes: int) -> None:
    shape = Area(zoo.blob(seed, radius, holes))
    found = sewn(shape, Fill(), (CentreRun(),))
    lines = shapely.linestrings(thread_lines(found, {Layer.CENTRE_RUN}))
    cloth = region_of(shape)
    assert shapely.length(lines).sum() > 2 * radius
    assert shapely.length(shapely.difference(lines, cloth.buffer(0.1))).max() == 0
    assert shapely.length(lines).max() < 2.3


@pytest.mark.parametrize(("width", "kinds"), [(1.0, (CentreRun,)), (2.5, (EdgeRun,)), (5.0, (EdgeRun, Zigzag))])
def test_automatic_underlay_goes_by_width(width: float, kinds: tuple[type, ...]) -> None:
    assert tuple(type(one) for one in column_underlay(width, 60.0)) == kinds
    assert column_underlay(width, 4.0) == ()
    item = StitchObject(id=1, name="it", thread="1001", shape=Line("M0 0 L40 0", width), cover=Satin())
    assert tuple(type(one) for one in underlay_of(resolve(item, PLAIN))) == kinds


def test_a_fill_gets_what_its_ground_says_unless_it_is_tiny() -> None:
    for name in ("Woven twill", "Pique knit", "Denim"):
        ground = find_ground(name)
        big = StitchObject(id=1, name="it", thread="1001", shape=Area(box_path(0, 0, 20, 20)), cover=Fill())
        tiny = replace(big, shape=Area(box_path(0, 0, 2, 2)))
        assert underlay_of(resolve(big, ground)) == ground.area_underlay
        assert underlay_of(resolve(tiny, ground)) == ()


# edges and ends


@pytest.mark.parametrize("pull", [0.2, 0.4])
def test_pull_lengthens_rows_at_both_ends(pull: float) -> None:
    box = Area(box_path(0, 0, 20, 20))
    found = sewn(box, Fill(angle=0.0), edges=Edges(pull=pull, push=0.0))
    assert found.xy[:, 0].min() == pytest.approx(-pull, abs=0.16)
    assert found.xy[:, 0].max() == pytest.approx(20 + pull, abs=0.16)
    assert found.xy[:, 1].min() >= 0


def test_a_step_of_the_rim_between_two_rows_grows_by_no_more_than_they_do() -> None:
    rim = [(0, 0), (10, 0), (10, 5), (10.5, 5), (10.5, 4.93), (11, 4.93), (11, 10), (0, 10)]
    grown = swept(shapely.Polygon(rim), lambda length: 0.3 * np.clip(length / 8, 0, 1))
    assert grown.bounds == pytest.approx((-0.3, 0, 11.3, 10), abs=1e-3)
    assert grown.area - shapely.Polygon(rim).area == pytest.approx(0.3 * (10 + 5 + 5.07), abs=0.005)


def test_push_draws_back_the_first_and_last_rows() -> None:
    box = Area(box_path(0, 0, 20, 20))
    plain, drawn = (sewn(box, Fill(angle=0.0), edges=Edges(pull=0.0, push=push)) for push in (0.0, 0.5))
    assert np.ptp(plain.xy[:, 1]) - np.ptp(drawn.xy[:, 1]) == pytest.approx(1.0, abs=0.25)


def test_pull_in_percent_has_a_ceiling() -> None:
    box = Area(box_path(0, 0, 40, 10))
    some = sewn(box, Fill(angle=0.0), edges=Edges(pull=0.0, push=0.0, pull_percent=1.0))
    most = sewn(box, Fill(angle=0.0), edges=Edges(pull=0.0, push=0.0, pull_percent=10.0, pull_ceiling=0.6))
    assert some.xy[:, 0].max() == pytest.approx(40.4, abs=0.16)
    assert most.xy[:, 0].max() == pytest.approx(40.6, abs=0.16)


def test_satins_grow_across_and_shrink_along() -> None:
    line = Line("M0 0 L30 0", 3.0)
    found = sewn(line, Satin(), edges=Edges(pull=0.3, push=0.5))
    assert np.ptp(found.xy[:, 1]) == pytest.approx(3.0 + 2 * 0.3 * (0.15 + 0.85 * 3 / 8), abs=0.02)
    assert np.ptp(found.xy[:, 0]) == pytest.approx(29.0, abs=0.3)


def test_compensation_never_changes_what_was_drawn(knit: Ground) -> None:
    item = StitchObject(id=1, name="it", thread="1001", shape=Area(box_path(0, 0, 20, 20)), cover=Fill())
    whole = resolve(item, knit)
    assert drawn_width(whole) == pytest.approx(20)
    assert sewn_edge(whole).bounds == pytest.approx((-0.35, 0.25, 20.35, 19.75))


def test_locks_are_three_small_stitches_over_the_first_and_last() -> None:
    xy = np.array([[0.0, 0.0], [3.0, 0.0], [6.0, 0.0]])
    start, stop = lock_in(xy), lock_out(xy)
    assert np.vstack([start, xy[:1]]).tolist() == [[0.7, 0], [0, 0], [0.7, 0], [0, 0]]
    assert np.hypot(*np.diff(np.vstack([xy[-1:], stop]), axis=0).T) == pytest.approx(0.7)


def test_locks_of_a_tiny_start_are_still_safe_stitches() -> None:
    xy = np.array([[0.0, 0.0], [0.2, 0.0], [0.2, 0.2], [0.0, 0.2], [3.0, 3.0]])
    assert np.hypot(*(lock_in(xy)[0] - xy[0])) >= 0.5
    assert np.isfinite(lock_in(np.zeros((1, 2)))).all()


# the small helpers


@given(st.lists(st.tuples(*[st.floats(-20, 20)] * 2), min_size=2, max_size=60))
def test_merging_leaves_no_short_stitch_and_both_ends(points: list[tuple[float, float]]) -> None:
    xy = np.array(points)
    kept = merge_short(xy)
    assert (kept[0] == xy[0]).all() and (kept[-1] == xy[-1]).all()
    sizes = np.hypot(*np.diff(kept, axis=0).T)
    assert len(kept) == 2 or sizes.min() >= SHORTEST


@given(st.lists(st.tuples(*[st.floats(-50, 50)] * 2), min_size=2, max_size=20), st.floats(1, 9))
def test_splitting_leaves_no_long_stitch_and_the_same_path(points: list[tuple[float, float]], limit: float) -> None:
    xy = np.array(points)
    split = split_long(xy, limit)
    assert np.hypot(*np.diff(split, axis=0).T).max(initial=0) <= limit + 1e-9
    assert lengths(split)[-1] == pytest.approx(lengths(xy)[-1])


def test_coverage_counts_only_what_thread_lies_on() -> None:
    square = shapely.box(0, 0, 10, 10)
    half = np.array([[[0.0, y], [5.0, y]] for y in np.arange(0.2, 10, 0.4)])
    assert coverage(half, square) == pytest.approx(0.5, abs=0.03)


# random shapes


@st.composite
def random_polygons(draw: st.DrawFn) -> Area:
    """A simple polygon round a point, with radii that jump."""
    n = draw(st.integers(3, 22))
    radii = draw(st.lists(st.floats(1.5, 30), min_size=n, max_size=n))
    turn = draw(st.floats(0, 6.28))
    t = np.linspace(0, 2 * np.pi, n, endpoint=False) + turn
    return Area(
        "M" + " L".join(f"{r * np.cos(a):.3f} {r * np.sin(a):.3f}" for r, a in zip(radii, t, strict=True)) + " Z"
    )


@st.composite
def random_lines(draw: st.DrawFn) -> Line:
    """A line of curves and corners, with a width."""
    parts = ["M0 0"]
    number = st.floats(-30, 30).map(lambda v: round(v, 3))
    for _ in range(draw(st.integers(1, 5))):
        if draw(st.booleans()):
            parts.append("L" + " ".join(str(draw(number)) for _ in range(2)))
        else:
            parts.append("C" + " ".join(str(draw(number)) for _ in range(6)))
    return Line(" ".join(parts), draw(st.floats(0.8, 9)))


def sound(found: Stitches) -> None:
    """What holds for whatever is sewn."""
    assert np.isfinite(found.xy).all()
    assert stitch_lengths(found).max(initial=0) <= 12.0


CROOKED = (
    "M8.374 15.718 L3.514 16.993 L-2.288 27.950 L-10.251 26.644 L-13.640 17.836 L-9.237 6.768 L-8.788 3.175 "
    "L-29.944 1.832 L-5.362 -1.224 L-1.658 -0.928 L-1.050 -1.072 L-6.239 -11.711 L-0.594 -2.872 L0.290 -3.545 "
    "L10.070 -26.173 L10.819 -14.147 L1.613 -1.182 L10.770 -3.891 L10.340 -0.633 L15.670 3.578 L3.194 1.787 L4.495 4.588 Z"
)
"""An area with long thin tips: a way out of one bends twice within a safe stitch."""


NOTCHED = (
    "M9.231 17.109 L0.372 1.753 L-1.176 15.351 L-2.787 7.359 L-0.905 1.196 L-13.748 10.184 L-11.568 4.248 "
    "L-10.437 0.694 L-11.289 -2.515 L-25.950 -14.340 L-12.974 -13.106 L-7.689 -14.251 L-3.279 -15.448 L0.595 -7.764 "
    "L3.705 -9.782 L6.310 -8.342 L2.999 -2.221 L10.308 -3.786 L10.394 -0.691 L18.486 4.119 L6.888 3.806 L8.681 8.769 Z"
)
"""Two rows of an open pass end on both sides of a notch, nearer to each other than two spacings."""


THROAT = (
    "M6.902 0.692 L22.781 11.560 L19.220 21.408 L3.418 9.025 L-0.146 19.218 L-1.842 4.648 L-9.701 10.480 "
    "L-7.905 3.862 L-7.347 0.625 L-1.632 -0.478 L-3.464 -2.657 L-5.843 -9.599 L-0.264 -1.477 L0.816 -4.191 "
    "L3.624 -5.755 L14.023 -10.424 L7.568 -2.091 Z"
)
"""A row's end that is moved away from a short turn comes to lie in a notch."""

SPIKY = (
    "M-3.625 -21.699 L0.789 -1.838 L1.658 -1.119 L1.999 -0.045 L1.707 1.043 L0.872 1.800 L-0.240 1.986 L-1.275 1.541 "
    "L-1.906 0.607 L-14.485 -3.898 L-1.008 -1.111 Z"
)
"""A turn along a side that is bent in is so long that it is parted."""


@example(Area(SPIKY), -16.0, "Woven twill")
@example(Area(THROAT), 73.65952366591108, "Woven twill")
@example(Area(NOTCHED), 61.69321171750718, "Jersey")
@example(Area(CROOKED), 0.0, "Fleece")
@hypothesis_settings(max_examples=120)
@given(random_polygons(), st.floats(-90, 90), st.sampled_from(["Woven twill", "Jersey", "Fleece", "Water"]))
def test_any_polygon_can_be_filled(area: Area, angle: float, name: str) -> None:
    ground = find_ground(name)
    try:
        found = sewn(area, Fill(angle=angle), None, ground)
    except CannotStitch:
        assert region_of(area).area < 5
        return
    sound(found)
    item = StitchObject(id=1, name="it", thread="1001", shape=area, cover=Fill(angle=angle))
    edge = sewn_edge(resolve(item, ground))
    assert shapely.distance(shapely.points(found.xy), edge).max() <= 0.2


@hypothesis_settings(max_examples=120)
@given(random_lines(), st.booleans())
def test_any_line_can_be_sewn_as_a_satin_or_a_run(line: Line, satin: bool) -> None:
    try:
        found = sewn(line, Satin() if satin else Run(), None, find_ground("Pique knit"))
    except CannotStitch:
        return
    sound(found)
    if satin:
        item = StitchObject(id=1, name="it", thread="1001", shape=line, cover=Satin())
        edge = sewn_edge(resolve(item, find_ground("Pique knit")))
        assert shapely.distance(shapely.points(found.xy), edge).max() <= 0.2


@pytest.mark.parametrize("shape", [Line("M0 0 L0.05 0.08", 2.0), Column("M0 0 L0.1 0", "M0 2 L0.1 2")])
def test_a_satin_shorter_than_its_thread_is_broad_is_refused(shape: Line | Column) -> None:
    with pytest.raises(CannotStitch, match="shorter than a thread"):
        sewn(shape, Satin())


@pytest.mark.parametrize(
    ("path", "width"),
    [
        ("M0 0 L0.5 0 L-27.5 13.3 C-27.5 29 -27.5 0 -19 0", 0.8),  # its legs cannot share one column
        ("M0 0 C0 0 0 1 0 0 L0 1 L1 0 L0 0", 8.0),  # legs far shorter than they are wide
        ("M0 0 C0 0 0 0 1 0 L0 1 L0 0 L0 -3", 3.0),  # two that follow each other do not touch
        (
            "M0 0 C0 5.473 0.18 -25.094 5.473 0 L5.473 0.35 C0.18 -23.924 16.751 -27.264 13.615 16.751",
            6.107,
        ),  # one comes back past the end of the other, beyond open cloth
    ],
)
@pytest.mark.parametrize("ground", ["Woven twill", "Pique knit"])
def test_thread_between_the_legs_of_a_line_stays_on_them(path: str, width: float, ground: str) -> None:
    line = Line(path, width)
    found = sewn(line, Satin(), None, find_ground(ground))
    item = StitchObject(id=1, name="it", thread="1001", shape=line, cover=Satin())
    edge = sewn_edge(resolve(item, find_ground(ground)))
    assert shapely.distance(shapely.points(found.xy), edge).max() < 0.2


@pytest.mark.parametrize("width", [0.6, 0.8, 1.0, 1.4, 3.0])
@pytest.mark.parametrize("radius", [0.5, 0.8, 1.5])
def test_the_outside_of_a_tight_bend_is_covered_however_narrow_the_column(width: float, radius: float) -> None:
    k, r = 0.5522847498 * radius, radius
    bend = f"M{-r} 6 L{-r} 0 C{-r} {-k} {-k} {-r} 0 {-r} C{k} {-r} {r} {-k} {r} 0 L{r} 6"
    found = sewn(Line(bend, min(width, 2 * radius)), Satin())
    cloth = sewn_edge(
        resolve(
            StitchObject(id=1, name="it", thread="1001", shape=Line(bend, min(width, 2 * radius)), cover=Satin()),
            PLAIN,
        )
    )
    assert coverage(thread_lines(found, {Layer.COVER}), cloth) > 0.985


@pytest.mark.parametrize("lean", [0.0, 0.5, 1.0, -0.8])
@pytest.mark.parametrize("width", [0.7, 1.2, 2.0, 4.0])
def test_both_corners_of_a_slanted_end_are_covered(width: float, lean: float) -> None:
    column = Column(f"M0 0 L12 {lean}", f"M{lean * width} {width} L{12 - lean * width} {width + lean}")
    found = sewn(column, Satin())
    threads = shapely.union_all(shapely.buffer(shapely.linestrings(thread_lines(found, {Layer.COVER})), 0.2))
    for corner in ((0, 0), (lean * width, width), (12, lean), (12 - lean * width, width + lean)):
        assert threads.distance(shapely.Point(corner)) < 0.06


def test_what_lies_beneath_leaves_a_cover_its_first_point() -> None:
    for at in (0.2, 0.45, 0.49, 0.51, 1.0):
        needle = Needle(np.zeros(2))
        needle.sew(np.array([[0.0, 0.0], [2.0, 0.0], [4.0, 0.0]]), Layer.CENTRE_RUN)
        needle.draw_back(np.array([4.0, at]))
        needle.sew(np.array([[4.0, at], [4.0, 3.0]]), Layer.COVER)
        found = needle.stitches().xy
        assert [4.0, at] in found.tolist()
        assert np.hypot(*np.diff(found, axis=0).T).min() >= 0.5


@pytest.mark.parametrize("lean", [45.0, 25.0])
@pytest.mark.parametrize("angle", [0.0, 30.0])
def test_the_passes_of_a_lattice_cross(angle: float, lean: float) -> None:
    found = sewn(Area(box_path(0, 0, 30, 24)), Fill(angle=angle), (Lattice(angle=lean),))
    rows = np.flatnonzero(found.layer == Layer.LATTICE)
    step = found.xy[rows[1:]] - found.xy[rows[1:] - 1]
    step = step[np.hypot(*step.T) > 2.0]
    way = np.degrees(np.arctan2(-step[:, 1], step[:, 0])) % 180
    near = [np.abs((way - angle - turn + 90) % 180 - 90) < 6 for turn in (lean, -lean)]
    assert near[0].mean() > 0.3 and near[1].mean() > 0.3 and (near[0] | near[1]).mean() > 0.75


def test_of_two_bends_too_near_to_each_other_the_flatter_one_goes() -> None:
    """Whatever lies far about it: a long flat way into a sharp corner keeps the corner."""
    way = np.array([[0.0, 0.0], [30.0, 0.05], [30.3, 0.0], [30.3, 1.0]])
    for path in (way, way[::-1]):
        points = straight_run(path)
        assert np.hypot(*(points - [30.3, 0.0]).T).min() < 1e-6
        assert np.hypot(*(points - [30.0, 0.05]).T).min() > 0.04
        assert (points[[0, -1]] == path[[0, -1]]).all()


@pytest.mark.parametrize("to", [(15.0, 15.0), (10.3, 14.0), (30.0, 3.0), (11.0, -12.0)])
def test_travel_to_a_place_outside_ends_at_the_rim_with_safe_stitches(to: tuple[float, float]) -> None:
    part, needle = shapely.box(-10, -10, 10, 10), Needle(np.zeros(2))
    go(part, needle, np.array(to))
    found = needle.stitches().xy
    assert np.hypot(*np.diff(found, axis=0).T).min() >= SHORTEST
    assert part.buffer(0.2).contains(shapely.points(found)).all()
    assert found[-1] == pytest.approx(np.clip(to, -10, 10), abs=0.01)
