"""Satin, run, underlay and edges with everything that can be tuned, and what is tuned for many objects at once."""

import io
import itertools
import json
import zipfile

import msgspec
import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import settings as hypothesis_settings
from hypothesis import strategies as st
from msgspec.structs import replace
from numpy.typing import NDArray

from jontel.data import find_ground
from jontel.demo import crest
from jontel.design import (
    Area,
    Bare,
    CannotRead,
    CannotStitch,
    CannotWrite,
    Column,
    Design,
    Edges,
    Ends,
    Fill,
    Line,
    Run,
    Satin,
    Shape,
    StitchObject,
    resolve,
)
from jontel.design.edits import change_objects, remove_objects, set_ground, transform_objects
from jontel.design.kinds import Cover
from jontel.design.kinds.edge_run import EdgeRun
from jontel.design.kinds.lattice import Lattice
from jontel.design.kinds.mesh import Mesh
from jontel.design.kinds.parallel import Parallel
from jontel.design.kinds.zigzag import Zigzag
from jontel.design.rebalance import Scales, rebalanced
from jontel.design.shapes import PROFILES
from jontel.files import working
from jontel.sewing.plan import plan
from jontel.sewing.proof import proof
from jontel.sewing.shared import settled, share_underlay
from jontel.stitching.covers.fill import region_for
from jontel.stitching.covers.satin import columns_of
from jontel.stitching.engine import sewn_edge, underlay_of
from jontel.stitching.measure import (
    exposed_travel,
    length_counts,
    measure,
    spacings,
    stitch_lengths,
    thread_lines,
)
from jontel.stitching.stitches import SHORTEST, Kind, Layer, Stitches
from tests.conftest import afresh, band_path, box_path, design_of, points_path, ring_path, s_edges, spiral_edges
from tests.test_stitching import PLAIN, sewn, sound

BAR = Line("M-20 0 L20 0", 5.0)
ZED = Line("M-15 -5 L-4 -5 L2 5 L14 -3 L14 6", 3.0)

FILL_SPACING = ("fill", "spacing")


def widths_along(found: Stitches, places: list[float], reach: float = 0.6) -> list[float]:
    """How wide a level satin is sewn at some x."""
    cover = found.xy[found.layer == Layer.COVER]
    return [float(np.ptp(cover[np.abs(cover[:, 0] - x) < reach, 1])) for x in places]


def edge_of(shape: Shape, cover: Cover) -> shapely.MultiPolygon:
    """The sewn edge without compensation."""
    item = StitchObject(id=1, name="it", thread="1001", shape=shape, cover=cover, underlay=())
    return sewn_edge(resolve(item, PLAIN))


# width


@pytest.mark.parametrize("name", PROFILES)
def test_ready_profiles_shape_the_width(name: str) -> None:
    found = sewn(replace(BAR, profile=PROFILES[name]), Satin())
    knots = PROFILES[name] or ((0.0, 1.0), (1.0, 1.0))
    for x in (-15.0, -5.0, 0.0, 10.0):
        ought = 5.0 * float(np.interp((x + 20) / 40, *np.array(knots).T))
        assert widths_along(found, [x])[0] == pytest.approx(ought, abs=0.25)


def test_a_profile_runs_along_the_whole_line_whatever_its_corners() -> None:
    found = columns_of(replace(ZED, profile=PROFILES["growing"]))
    widths = [float(np.median(rails.widths())) for rails in found]
    assert len(found) == 4 and widths == sorted(widths) and widths[0] < 1.3 < 2.5 < widths[-1]


def test_a_closed_line_with_a_profile_closes_without_a_step() -> None:
    rails = columns_of(Line(ring_path(12), 3.0, profile=PROFILES["growing"]))[0]
    assert rails.closed and rails.widths()[0] == pytest.approx(rails.widths()[-1])


def test_widths_keep_to_their_limits_and_narrow_rows_get_more() -> None:
    leaf = replace(BAR, profile=PROFILES["leaf"])
    limited = sewn(leaf, Satin(least_width=2.0, greatest_width=4.0))
    assert widths_along(limited, [-19.0, -4.0, 19.0]) == pytest.approx([2.0, 4.0, 2.0], abs=0.15)
    plain, more = (sewn(Line("M0 0 L20 0", 1.0), Satin(narrow_extra=extra)) for extra in (0.0, 0.6))
    assert np.ptp(more.xy[:, 1]) - np.ptp(plain.xy[:, 1]) == pytest.approx(0.4, abs=0.02)
    assert edge_of(leaf, Satin(least_width=2.0, greatest_width=4.0)).bounds[3] == pytest.approx(2.0, abs=0.02)


# corners


@pytest.mark.parametrize(("corners", "legs"), [("by angle", 4), ("mitred", 4), ("capped", 4), ("turned", 1)])
def test_corners_are_cut_turned_or_capped(corners: str, legs: int) -> None:
    line = replace(ZED, corners=corners)
    assert len(columns_of(line)) == legs
    found = sewn(line, Satin())
    seen = measure(found, edge_of(line, Satin()))
    assert seen.coverage >= 0.985 and seen.jumps == 0 and seen.longest <= 7.0
    assert seen.shortest >= SHORTEST - 1e-6


@pytest.mark.parametrize("corners", ["mitred", "capped"])
def test_legs_meet_in_a_narrow_overlap(corners: str) -> None:
    legs = [
        shapely.make_valid(shapely.Polygon(rails.outline())) for rails in columns_of(replace(ZED, corners=corners))
    ]
    for one, other in itertools.pairwise(legs):
        seam = one.intersection(other)
        assert 0.05 < seam.area < 0.3 * seam.length / 2


def test_the_angle_decides_which_corners_are_turned() -> None:
    assert [len(columns_of(replace(ZED, mitre_over=over))) for over in (30.0, 70.0, 100.0, 170.0)] == [4, 3, 2, 1]


# rows


def test_a_column_without_lines_pairs_what_faces_each_other() -> None:
    one, other = spiral_edges()
    found = sewn(Column(points_path(one), points_path(other)), Satin())
    assert stitch_lengths(found).max() < 4.0
    assert np.median(spacings(found, 0.19)) == pytest.approx(0.19, rel=0.08)


def test_a_spiral_band_is_worked_out_as_a_column() -> None:
    shape = Area(band_path(spiral_edges()))
    seen = measure(sewn(shape, Satin()), region_for(shape))
    assert seen.coverage >= 0.985 and seen.overspill <= 0.2 and seen.jumps == 0 and seen.longest <= 5.0


@pytest.mark.parametrize("pieces", [(2.0, 0), (4.0, 0), (4.0, 1), (4.0, 3)])
def test_no_piece_of_a_split_row_is_shorter_than_the_least(pieces: tuple[float, int]) -> None:
    least, lines = pieces
    found = sewn(Line("M0 0 L30 0", 11.0), Satin(split=4.0, split_least=least, split_lines=lines))
    sizes = stitch_lengths(found)
    assert sizes.min() >= least - 0.05 and sizes.max() <= 7.0 + 1e-6


@pytest.mark.parametrize("lines", [1, 2, 3])
def test_split_points_lie_in_so_many_lines(lines: int) -> None:
    found = sewn(Line("M0 0 L30 0", 8.0), Satin(split=7.0, split_lines=lines))
    inner = found.xy[np.abs(found.xy[:, 1]) < 3.0]
    assert len(np.unique(inner[:, 1].round(1))) == lines


def test_staggered_split_points_lie_in_many() -> None:
    found = sewn(Line("M0 0 L30 0", 8.0), Satin(split=7.0))
    inner = found.xy[np.abs(found.xy[:, 1]) < 3.0]
    places, counts = np.unique(inner[:, 1].round(2), return_counts=True)
    assert len(places) >= 8 and counts.max() < 0.2 * len(inner)


def test_a_texture_stands_on_the_cloth_whichever_way_a_row_runs() -> None:
    wide = Line("M0 0 L30 0", 6.5)
    both, one = (sewn(wide, Satin(texture="stair", texture_length=2.5, texture_on=on)) for on in ("both", "one"))  # type: ignore[arg-type]
    inner = both.xy[np.abs(both.xy[:, 1]) < 2.6]
    steps = np.unique(((inner[:, 1] + 3.25) % 2.5).round(2))
    assert len(steps) == 8 and np.diff(steps) == pytest.approx(2.5 / 8, abs=0.02)
    assert 0.35 < (np.abs(one.xy[:, 1]) < 2.6).sum() / len(inner) < 0.65


@pytest.mark.parametrize("every", [1, 2, 5])
def test_an_anchor_holds_every_so_many_return_strokes(every: int) -> None:
    found = sewn(Line("M0 0 L38 0", 5.0), Satin(spacing=0.38, anchor=every))
    inner = found.xy[np.abs(found.xy[:, 1]) < 1.8]
    assert len(inner) == pytest.approx(100 / every, abs=2)
    assert len(set(inner[:, 1].round(2))) == 2


@pytest.mark.parametrize(("upper", "lower"), [(True, False), (False, True), (True, True)])
@pytest.mark.parametrize("way", ["inwards", "outwards"])
def test_feathered_edges_are_uneven_on_their_side_by_up_to_their_length(upper: bool, lower: bool, way: str) -> None:
    cover = Satin(
        feather_first=1.5 if upper else 0.0, first_way=way, feather_second=1.5 if lower else 0.0, second_way=way
    )  # type: ignore[arg-type]
    bar = Line("M-20 0 L20 0", 3.6)
    found = sewn(bar, cover)
    y = found.xy[found.layer == Layer.COVER, 1]
    top, low = (found.xy[found.layer == Layer.COVER][side, 1] for side in (y > 0.3, y < -0.3))
    uneven = sorted([float(np.ptp(np.abs(top))), float(np.ptp(np.abs(low)))])
    assert uneven[1] == pytest.approx(1.5, abs=0.15)
    assert (uneven[0] > 1.2) == (upper and lower)
    reach = np.abs(y).max()
    assert reach == pytest.approx(3.3 if way == "outwards" else 1.8, abs=0.15)
    assert (afresh(lambda: sewn(bar, cover)).xy == found.xy).all()
    other = sewn(bar, replace(cover, seed=2)).xy
    assert other.shape != found.xy.shape or (other != found.xy).any()


def _cover_xy(found: Stitches) -> NDArray[np.float64]:
    """The needle points of the cover, (n, 2)."""
    return np.asarray(found.xy[found.layer == Layer.COVER])


def test_the_two_edges_feather_each_by_their_own_length_and_way() -> None:
    cover = Satin(feather_first=1.5, first_way="outwards", feather_second=0.6)
    y = _cover_xy(sewn(Line("M-20 0 L20 0", 4.0), cover))[:, 1]
    first, second = y[y > 0], y[y < 0]
    assert first.min() == pytest.approx(2.0, abs=0.1) and first.max() == pytest.approx(3.5, abs=0.1)
    assert second.min() == pytest.approx(-2.0, abs=0.1) and second.max() == pytest.approx(-1.4, abs=0.1)


@pytest.mark.parametrize("clear", [0.4, 0.7, 1.3])
def test_texture_points_keep_off_the_edges(clear: float) -> None:
    cover = Satin(texture="random", texture_length=1.5, texture_clear=clear, short_stitches=False)
    y = np.abs(_cover_xy(sewn(Line("M-20 0 L20 0", 6.0), cover))[:, 1])
    inside = y[y < 2.9]
    assert len(inside) > 100
    assert 3.0 - clear - 0.2 < inside.max() <= 3.0 - clear + 1e-6


def test_satin_spacing_fades_along_the_column() -> None:
    found = sewn(Line("M0 0 L60 0", 4.0), Satin(spacing=0.4, fade="along", fade_to=2.0))
    upper = np.sort(found.xy[found.xy[:, 1] > 1.9][:, 0])
    gaps = np.diff(upper)
    assert gaps[0] == pytest.approx(0.4, rel=0.15) and gaps[-1] == pytest.approx(2.0, rel=0.15)
    assert (np.diff(gaps) > -0.05).all()


@pytest.mark.parametrize("layers", [2, 3])
def test_a_raised_satin_lies_in_layers_that_widen_upwards(layers: int) -> None:
    plain = sewn(BAR, Satin())
    found = sewn(BAR, Satin(layers=layers, layer_inset=0.6))
    assert found.count > plain.count * (1 + 0.5 * (layers - 1))
    first, last = found.xy[:80], found.xy[-80:]
    assert np.abs(last[:, 1]).max() == pytest.approx(2.5, abs=0.01)
    assert np.abs(first[:, 1]).max() == pytest.approx(2.5 - 0.6 * (layers - 1), abs=0.05)
    assert found.xy[-1, 0] == pytest.approx(20, abs=0.3) and stitch_lengths(found).max() <= 7.0


def test_short_stitches_spare_the_inside_of_a_tight_turn() -> None:
    one, other = s_edges()
    bend = Column(points_path(one), points_path(other))
    plain, spared = (measure(sewn(bend, Satin(short_stitches=on)), edge_of(bend, Satin())) for on in (False, True))
    assert spared.nearest_points > 0.15 and spared.nearest_points > 1.4 * plain.nearest_points
    assert spared.coverage >= 0.99


@pytest.mark.parametrize("ground", ["Woven twill", "Pique knit", "Fleece"])
def test_a_letter_like_band_holds_every_figure(ground: str) -> None:
    one, other = s_edges()
    column = Column(points_path(one), points_path(other))
    found = sewn(column, Satin(), (), find_ground(ground))
    item = StitchObject(id=1, name="it", thread="1001", shape=column, cover=Satin(), underlay=())
    seen = measure(found, sewn_edge(resolve(item, find_ground(ground))))
    assert seen.coverage >= 0.99 and seen.overspill <= 0.2 and seen.longest <= 7.0
    assert seen.shortest >= SHORTEST - 1e-6 and seen.jumps == 0 and seen.nearest_points > 0.15


@pytest.mark.parametrize("path", [box_path(0, 0, 30, 0.2), box_path(0, 0, 0.2, 30), "M0 0 L20 20 L20.2 20 L0.2 0 Z"])
@pytest.mark.parametrize("cover", [Fill(), Satin(), Run()])
def test_slivers_are_sewn_safely_or_refused_in_words(path: str, cover: Cover) -> None:
    try:
        found = sewn(Area(path), cover, None, find_ground("Pique knit"))
    except CannotStitch as refused:
        assert any(word in str(refused) for word in ("make it a run", "make it a fill"))
        return
    sizes = stitch_lengths(found)
    assert sizes.min() >= SHORTEST - 1e-6 and sizes.max() <= 7.0


# runs


def test_a_run_goes_forward_reversed_or_there_and_back_over_itself() -> None:
    line, far = Line("M0 0 L20 0"), (30.0, 0.0)
    assert sewn(line, Run(), entry=far).xy[0, 0] == 20
    assert sewn(line, Run(way="forward"), entry=far).xy[0, 0] == 0
    assert sewn(line, Run(way="reversed")).xy[0, 0] == 20
    back = sewn(line, Run(way="retraced"))
    assert back.xy[0].tolist() == back.xy[-1].tolist() == [0, 0]
    assert stitch_lengths(back).sum() == pytest.approx(40)


def test_a_closer_chord_follows_a_curve_more_closely() -> None:
    line = Line(ring_path(4, n=200))
    close, loose = (sewn(line, Run(length=4.0, chord=chord)) for chord in (0.02, 0.4))
    assert close.count > 2 * loose.count
    assert 4 - np.hypot(*((loose.xy[1:] + loose.xy[:-1]) / 2).T).min() <= 0.45


def test_needle_points_placed_by_hand_are_the_ones_sewn() -> None:
    line = Line("M0 0 L0.7 0 L9 0 L9 1 L30 1")
    found = sewn(line, Run(by_hand=True, length=2.0))
    assert found.xy.tolist() == [[0, 0], [0.7, 0], [9, 0], [9, 1], [19.5, 1], [30, 1]]
    twice = sewn(line, Run(by_hand=True, style="there and back"))
    assert len(twice.xy) == 11


# underlay


def test_every_underlay_value_shows_in_the_stitches() -> None:
    box = Area(box_path(0, 0, 30, 30))
    for one, other in (
        (EdgeRun(inset=0.5), EdgeRun(inset=2.0)),
        (EdgeRun(length=2.0), EdgeRun(length=4.0)),
        (Parallel(angle=90.0), Parallel(angle=45.0)),
        (Parallel(spacing=2.0), Parallel(spacing=4.0)),
        (Lattice(angle=45.0), Lattice(angle=20.0)),
        (Mesh(angle=90.0), Mesh(angle=60.0)),
        (Mesh(length=2.0), Mesh(length=3.5)),
        (Zigzag(spacing=2.0), Zigzag(spacing=4.0)),
    ):
        pair = [sewn(box, Fill(), (each,)) for each in (one, other)]
        under = [each.xy[(each.layer != Layer.COVER) & (each.layer != Layer.TRAVEL)] for each in pair]
        assert under[0].shape != under[1].shape or not np.allclose(under[0], under[1])


def test_a_branched_shape_is_underlaid_part_by_part_or_once() -> None:
    underlay = (EdgeRun(), Zigzag())
    item = StitchObject(id=1, name="it", thread="1001", shape=ZED, cover=Satin(), underlay=underlay)
    parts, once = (plan_of(replace(item, underlay_once=on)) for on in (False, True))
    for found in (parts, once):
        cover = found.layer == Layer.COVER
        under = np.isin(found.layer, [Layer.EDGE_RUN, Layer.ZIGZAG])
        order = np.where(under, 1, np.where(cover, 2, 0))
        order = order[order > 0]
        assert ((order[:-1] == 1) & (order[1:] == 2)).sum() == 1
    edge = edge_of(ZED, Satin())
    laid = once.xy[np.isin(once.layer, [Layer.EDGE_RUN, Layer.ZIGZAG])]
    assert edge.buffer(1e-6).contains(shapely.MultiPoint(laid))


def plan_of(item: StitchObject) -> Stitches:
    """The stitches of one object without compensation."""
    from jontel.stitching.engine import stitch

    return stitch(resolve(item, PLAIN))


def three_boxes() -> Design:
    """Three boxes side by side, the last apart, each in its own thread."""
    return design_of(
        (Area(box_path(-30, -10, 15, 20)), Fill()),
        (Area(box_path(-15, -10, 15, 20)), Fill()),
        (Area(box_path(20, -10, 15, 20)), Fill()),
    )


def test_one_underlay_is_shared_by_several_objects_and_sewn_before_them() -> None:
    design = settled(share_underlay(three_boxes(), {1, 2, 3}, "1005"))
    shared = design.objects[0]
    assert isinstance(shared.cover, Bare) and shared.thread == "1005" and shared.beneath is not None
    assert [item.underlay for item in design.objects[1:]] == [(), (), ()]
    parts = region_for(shared.shape).geoms
    assert len(parts) == 2
    union = shapely.unary_union([region_for(item.shape) for item in design.objects[1:]])
    assert union.buffer(0.21 - 0.8).buffer(0.01).covers(region_for(shared.shape))
    found = plan(design)
    under = found.object == shared.id
    assert np.flatnonzero(under).max() < np.flatnonzero((found.object == 1) & (found.kind == Kind.STITCH)).min()
    assert {Layer(k) for k in np.unique(found.layer[under & (found.kind == Kind.STITCH)])} >= {
        Layer.EDGE_RUN,
        Layer.PARALLEL,
    }
    assert not [finding for finding in proof(design, found) if finding.kind == "buried"]


def test_a_shared_underlay_follows_its_objects_and_goes_with_the_last() -> None:
    design = settled(share_underlay(three_boxes(), {1, 2}))
    before = region_for(design.objects[0].shape).bounds
    moved = settled(transform_objects(design, {1, 2}, (1, 0, 0, 1, 0, 12)))
    assert region_for(moved.objects[0].shape).bounds == pytest.approx(np.add(before, (0, 12, 0, 12)), abs=0.05)
    knit = settled(set_ground(design, find_ground("Pique knit")))
    assert region_for(knit.objects[0].shape).bounds[0] < before[0]
    fewer = remove_objects(design, {1})
    assert fewer.objects[0].beneath is not None and fewer.objects[0].beneath.objects == (2,)
    assert all(item.beneath is None for item in remove_objects(fewer, {2}).objects)


def test_underlay_only_hides_nothing_and_may_stand_alone() -> None:
    found = sewn(Area(box_path(0, 0, 20, 20)), Bare(), (Mesh(),))
    assert (found.layer != Layer.COVER).all() and found.count > 100
    assert edge_of(Area(box_path(0, 0, 20, 20)), Bare()).is_empty
    tiny = StitchObject(id=1, name="it", thread="1001", shape=Area(box_path(0, 0, 2, 2)), cover=Bare())
    assert underlay_of(resolve(tiny, PLAIN)) == ()


# edges


@pytest.mark.parametrize(("angle", "grown"), [(0.0, 0.5), (90.0, 0.1), (45.0, 0.3)])
def test_pull_differs_along_x_and_y(angle: float, grown: float) -> None:
    shape = Area(ring_path(15))
    edges = Edges(pull=0.1, push=0.0, pull_x=0.4, pull_y=0.0)
    item = StitchObject(id=1, name="it", thread="1001", shape=shape, cover=Fill(angle=angle), edges=edges)
    way = np.array([np.cos(np.radians(angle)), -np.sin(np.radians(angle))])
    reach = (shapely.get_coordinates(sewn_edge(resolve(item, PLAIN))) @ way).max()
    assert reach == pytest.approx(15 + grown, abs=0.03)


def test_a_round_satin_is_pulled_more_along_x_when_asked() -> None:
    item = StitchObject(
        id=1,
        name="it",
        thread="1001",
        shape=Line(ring_path(12), 3.0),
        cover=Satin(),
        edges=Edges(pull=0.0, pull_x=0.5, pull_short=1.0),
    )
    x0, y0, x1, y1 = sewn_edge(resolve(item, PLAIN)).bounds
    assert x1 - x0 == pytest.approx(28, abs=0.1) and y1 - y0 == pytest.approx(27, abs=0.1)


# everything together


def test_rebalance_scales_what_it_is_told_and_leaves_the_underlay() -> None:
    design = crest()
    ids = {item.id for item in design.objects}
    ground = design.brief.ground
    made = rebalanced(design, ids, Scales(((FILL_SPACING, 125.0), (("run", "length"), 80.0))), lambda item: ())
    for before, after in zip(design.objects, made.objects, strict=True):
        one, other = (resolve(item, ground) for item in (before, after))
        assert one.underlay == other.underlay
        if isinstance(before.cover, Fill):
            assert other.cover.spacing == pytest.approx(one.cover.spacing * 1.25, abs=1e-3)  # type: ignore[union-attr]
            assert after.cover.length == before.cover.length  # type: ignore[union-attr]
        elif isinstance(before.cover, Satin):
            assert after == before
        else:
            assert other.cover.length == pytest.approx(one.cover.length * 0.8, abs=1e-3)  # type: ignore[union-attr]
    counts = [int((plan(each).kind == Kind.STITCH).sum()) for each in (design, made)]
    assert counts[1] < counts[0]


def test_rebalance_scales_the_underlay_when_asked_and_stays_in_range() -> None:
    design = design_of((Area(box_path(0, 0, 20, 20)), Fill()))
    passes = underlay_of(resolve(design.objects[0], design.brief.ground))
    made = rebalanced(design, {1}, Scales(((FILL_SPACING, 150.0),), underlay=True), lambda item: passes)
    spaced = [one for one in made.objects[0].underlay or () if isinstance(one, Parallel)]
    assert spaced[0].spacing == pytest.approx(3.0)
    wild = rebalanced(design, {1}, Scales(((("fill", "length"), 500.0), (FILL_SPACING, 20.0))), lambda item: passes)
    assert wild.objects[0].cover == Fill(spacing=0.1, length=12.0)


def test_a_least_stitch_merges_what_is_shorter_and_counts_it() -> None:
    design = design_of((Line("M0 0 L0.7 0 L9 0 L9 0.6 L20 0.6"), Run(by_hand=True)))
    plain, merged = plan(design), plan(replace(design, least_stitch=1.0))
    assert plain.merged == {} and merged.merged == {1: 2}
    sizes = [
        np.hypot(*np.diff(one.xy[(one.kind == Kind.STITCH) & (one.layer == Layer.COVER)], axis=0).T)
        for one in (plain, merged)
    ]
    assert sizes[0].min() < 0.65 and sizes[1].min() >= 1.0


def test_resizing_computes_the_stitches_again() -> None:
    design = design_of((Area(box_path(-10, -10, 20, 20)), Fill()))
    larger = transform_objects(design, {1}, (2, 0, 0, 2, 0, 0))
    counts = [int((plan(each).kind == Kind.STITCH).sum()) for each in (design, larger)]
    assert counts[1] == pytest.approx(4 * counts[0], rel=0.15)


# files


def test_every_new_value_survives_the_working_file() -> None:
    design = settled(share_underlay(three_boxes(), {1, 2}))
    design = replace(design, least_stitch=0.8)
    rich = Satin(
        texture="brick",
        feather_first=1.0,
        first_way="outwards",
        fade="custom",
        fade_profile=((0.0, 0.2), (1.0, 0.9)),
        layers=3,
    )
    line = Line(
        "M0 0 L20 0", 4.0, 50.0, "round", 5.0, "slanted", 9.0, PROFILES["leaf"], 80.0, 30.0, "turned", 20.0, 90.0
    )
    area = Area(box_path(0, 0, 9, 9), lines=(((0.0, 0.0), (5.0, 5.0)),), guide="M0 0 L9 9")
    extra = [
        StitchObject(id=8, name="A", thread="1001", shape=line, cover=rich, underlay_once=True),
        StitchObject(
            id=9, name="B", thread="1001", shape=area, cover=Fill(fade="along", border="satin", pattern="random")
        ),
    ]
    design = replace(design, objects=(*design.objects, *extra), next_id=10)
    assert working.decode(working.encode(design), "it.jontel") == design


def earlier(design: Design, version: int) -> bytes:
    """A working file as an earlier version wrote it."""
    new_fields = {"least_stitch", "underlay_once", "beneath", "lines", "guide", "pull_x", "pull_y"}

    def without(value: object) -> object:
        if isinstance(value, dict):
            return {k: without(v) for k, v in value.items() if k not in new_fields}
        return [without(one) for one in value] if isinstance(value, list) else value

    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(working.encode(design))) as new, zipfile.ZipFile(out, "w") as old:
        document = json.loads(new.read("design.json"))
        assert document["version"] == working.VERSION
        ground = document["design"]["brief"]["ground"]
        ground.update({one["type"]: one for one in ground.pop("covers")})
        ground["fill_underlay"] = ground.pop("area_underlay")
        ground["satin_underlay"] = ground.pop("column_underlay")
        document = without(document) if version == 1 else document
        old.writestr("design.json", json.dumps({**document, "version": version}))  # type: ignore[dict-item]
    return out.getvalue()


@pytest.mark.parametrize("version", [1, 2])
def test_working_files_of_earlier_formats_are_read_as_before(version: int) -> None:
    design = three_boxes()
    assert working.decode(earlier(design, version), "old.jontel") == design


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda item: replace(item, cover=Satin(layers=5000)), "layers"),
        (lambda item: replace(item, cover=Fill(spacing=1e-6)), "spacing"),
        (lambda item: replace(item, underlay=(EdgeRun(length=0.0),)), "stitch length"),
        (lambda item: replace(item, underlay=(EdgeRun(),) * 50), "underlay"),
        (lambda item: replace(item, ends=Ends(entry=(1e30, 0.0))), "entry"),
        (lambda item: replace(item, cover=Fill(fade_profile=((0.0, 7.0), (1.0, 0.0)))), "profile"),
        (lambda item: replace(item, cover=Fill(fade_profile=((0.8, 1.0), (0.2, 0.0)))), "backwards"),
        (lambda item: replace(item, cover=Fill(fade_profile=((0.0, 0.0),) * 500)), "profile"),
        (lambda item: replace(item, cover=Fill(ragged=-4.0)), "ragged"),
        (lambda item: replace(item, cover=Fill(angle=float("nan"))), "not a number"),
        (lambda item: replace(item, shape=Line("M0 0 L9 9", profile=((0.0, 99.0), (1.0, 1.0)))), "profile"),
        (lambda item: replace(item, shape=replace(item.shape, lines=(((0.0, 0.0), (1e9, 0.0)),))), "direction line"),
        (lambda item: replace(item, shape=replace(item.shape, guide="M0 0 L1e9 0")), "outline"),
        (lambda item: replace(item, shape=replace(item.shape, guide="M0 0 K1 0")), "path data"),
    ],
)
def test_nonsense_is_refused_with_its_object_when_written_and_when_read(change: object, words: str) -> None:
    design = change_objects(three_boxes(), {2}, change)  # type: ignore[arg-type]
    with pytest.raises(CannotWrite, match="Object 2") as refused:
        working.encode(design)
    assert words in str(refused.value)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        document = msgspec.json.encode(working.WorkingFile("jontel", 3, design))
        archive.writestr("design.json", document.replace(b"null", b"1e999") if words == "not a number" else document)
    with pytest.raises(CannotRead) as refused:
        working.decode(out.getvalue(), "it.jontel")
    assert words == "not a number" or ("Object 2" in str(refused.value) and words in str(refused.value))


# measures


def test_the_measures_say_what_they_measure() -> None:
    xy = np.array([[0.0, 0.0], [10.0, 0.0], [10.0, 4.0], [0.0, 4.0], [0.0, 1.0], [10.0, 1.0]])
    layer = np.array([0, 0, 1, 1, 1, 0], np.uint8)
    found = Stitches(xy, np.zeros(6, np.uint8), layer)
    assert exposed_travel(found) == pytest.approx(4 + 10 + 3)
    assert length_counts(np.array([0.2, 0.6, 0.7, 2.1])) == (1, 2, 0, 0, 1)
    rows = np.array([[0.0, y] if k % 2 == 0 else [20.0, y] for k in range(40) for y in [0.5 * (k // 2)]])
    level = Stitches(rows, np.zeros(40, np.uint8), np.zeros(40, np.uint8))
    assert np.median(spacings(level, 0.5)) == pytest.approx(0.5, abs=0.26)


# any column


@st.composite
def random_columns(draw: st.DrawFn) -> Column:
    """Two edges beside a wandering middle, with lines across or without."""
    n = draw(st.integers(3, 7))
    turns = np.cumsum(draw(st.lists(st.floats(-0.9, 0.9), min_size=n, max_size=n)))
    step = draw(st.floats(4, 10))
    middle = np.cumsum(np.column_stack([np.cos(turns), np.sin(turns)]) * step, axis=0)
    half = np.array(draw(st.lists(st.floats(0.4, 4.5), min_size=n, max_size=n)))[:, None]
    normal = np.column_stack([-np.sin(turns), np.cos(turns)])
    one, other = middle + normal * half, middle - normal * half
    lines = tuple(((float(p[0]), float(p[1])), (float(q[0]), float(q[1]))) for p, q in zip(one, other, strict=True))
    return Column(points_path(one), points_path(other), lines[1:-1] if draw(st.booleans()) else ())


@st.composite
def random_satins(draw: st.DrawFn) -> Satin:
    """A satin with a good deal tuned."""
    return Satin(
        spacing=draw(st.floats(0.25, 1.0)),
        split=draw(st.floats(3, 9)),
        split_lines=draw(st.integers(0, 4)),
        texture=draw(st.sampled_from(["none", "brick", "random"])),
        anchor=draw(st.integers(0, 3)),
        feather_first=draw(st.floats(0, 2)),
        feather_second=draw(st.sampled_from([0.0, 1.5])),
        fade=draw(st.sampled_from(["none", "along", "middle out"])),
        layers=draw(st.integers(1, 3)),
        greatest_width=draw(st.sampled_from([0.0, 3.0, 6.0])),
        least_width=draw(st.sampled_from([0.0, 1.0])),
    )


@hypothesis_settings(max_examples=80)
@given(random_columns(), random_satins())
def test_any_column_can_be_sewn_with_any_satin(column: Column, cover: Satin) -> None:
    found = sewn(column, cover, None, find_ground("Pique knit"))
    sound(found)
    item = StitchObject(id=1, name="it", thread="1001", shape=column, cover=cover)
    edge = sewn_edge(resolve(item, find_ground("Pique knit")))
    assert shapely.distance(shapely.points(found.xy), edge).max() <= 0.25
    again = afresh(lambda: sewn(column, cover, None, find_ground("Pique knit")))
    assert again is not found and (again.xy == found.xy).all()


def test_thread_lines_pick_their_layers() -> None:
    found = sewn(Area(box_path(0, 0, 20, 20)), Fill(), (EdgeRun(),))
    assert len(thread_lines(found)) > len(thread_lines(found, {Layer.COVER})) > 0
