"""The order of a sew-out: what is undercut, sewn as one, held, stopped for; and what none of it may do."""

import itertools

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace
from shapely.geometry.base import BaseGeometry

from jontel.design import Area, Column, Design, Fill, Line, Run, Satin
from jontel.design.design import Ends
from jontel.design.edits import change_objects, transform_object
from jontel.design.errors import CannotDo
from jontel.design.order import Connections, Step
from jontel.geometry.touring import Piece, Ways, fewest_repeats, odd_nodes, toured
from jontel.sewing import ends
from jontel.sewing.ends import choose_ends
from jontel.sewing.estimate import totals
from jontel.sewing.figures import figures
from jontel.sewing.plan import SewPlan, plan
from jontel.sewing.proposals import PROPOSALS, Lines, Proposed, Under, Which, proposal
from jontel.sewing.stranding import made_strand, offered, released_strand
from jontel.sewing.strands import graph_of
from jontel.sewing.undercut import undercut
from jontel.stitching.locks import Locking, lock_in, lock_out
from jontel.stitching.stitches import Kind, Layer
from tests.conftest import box_path, design_of, points_path, ring_path
from tests.test_optimise import over, scattered


def thread_of(sewn: SewPlan, wide: float = 0.42) -> BaseGeometry:
    """The cloth that thread lies on."""
    rows = np.flatnonzero(sewn.sewn())
    return shapely.buffer(shapely.multilinestrings(np.stack([sewn.xy[rows - 1], sewn.xy[rows]], axis=1)), wide / 2)


def proposed(name: str, design: Design, ids: frozenset[int] = frozenset(), **values: object) -> Proposed:
    one = proposal(name)
    return one.work(design, ids, one.values(**values) if one.values is not None else None, plan(design))


# undercut


def test_what_a_later_fill_hides_is_not_sewn_and_no_cloth_is_opened() -> None:
    design = design_of((Area(ring_path(20)), Fill()), (Area(ring_path(10)), Fill(angle=60)))
    found = proposed("Undercut", design)
    assert found.after.stitches < 0.97 * found.before.stitches and found.after.seconds < found.before.seconds
    assert found.design.objects[0].shape == design.objects[0].shape  # the drawn shape stays
    sewn = plan(found.design)
    below = shapely.multipoints(sewn.xy[(sewn.object == design.objects[0].id) & (sewn.kind == Kind.STITCH)])
    assert shapely.intersection(below, shapely.Point(0, 0).buffer(7.5)).is_empty
    bare = shapely.difference(thread_of(plan(design)), thread_of(sewn))
    assert shapely.buffer(bare, -0.15).is_empty


def test_the_margin_is_kept_under_the_edge_besides_the_pull() -> None:
    design = design_of((Area(box_path(-20, -20, 40, 40)), Fill()), (Area(box_path(-10, -10, 20, 20)), Fill(angle=90)))
    pull = design.brief.ground.edges.pull
    for margin in (0.8, 2.0):
        marked = change_objects(design, {1}, lambda item, margin=margin: replace(item, undercut=margin))
        left = undercut(marked).objects[0].shape
        assert isinstance(left, Area)
        hole = shapely.Polygon([(-10, -10), (10, -10), (10, 10), (-10, 10)])
        cover = plan(marked).overlaps.regions[1]
        inner = shapely.difference(cover, shapely.from_wkb(shapely.to_wkb(_region(left))))
        far = shapely.distance(inner, cover.boundary)
        assert far == pytest.approx(margin + pull, abs=0.02)
        assert inner.area > 0.6 * hole.area


def _region(area: Area) -> BaseGeometry:
    from jontel.geometry.region import region_of

    return region_of(area)


@given(st.integers(0, 10_000))
@settings(max_examples=12)
def test_undercut_opens_no_cloth_whatever_lies_over_whatever(seed: int) -> None:
    design = scattered(seed, 7, threads=3, spread=5.0)
    marked = change_objects(design, {item.id for item in design.objects}, lambda item: replace(item, undercut=0.8))
    bare = shapely.difference(thread_of(plan(design), 0.4), thread_of(plan(marked), 0.5))
    assert shapely.buffer(bare, -0.15).is_empty, seed
    assert totals(plan(marked)).stitches <= totals(plan(design)).stitches + 6


def test_undercut_follows_what_lies_over_it() -> None:
    design = design_of((Area(box_path(-20, -20, 40, 40)), Fill()), (Area(box_path(-5, -5, 12, 12)), Fill(angle=90)))
    marked = change_objects(design, {1}, lambda item: replace(item, undercut=0.8))
    first = plan(marked)
    moved = change_objects(marked, {2}, lambda item: replace(item, shape=Area(box_path(6, 6, 12, 12))))
    fresh = plan(moved)
    carried = plan(moved, first)
    assert np.array_equal(fresh.xy, carried.xy)
    below = fresh.xy[(fresh.object == 1) & (fresh.layer == Layer.COVER)]
    spot = shapely.Point(12, 12).buffer(2)
    assert not shapely.intersects_xy(spot, *below.T).any() and shapely.intersects_xy(spot, *first.xy.T).any()


@pytest.mark.parametrize(
    "above",
    [Fill(spacing=1.2), Fill(fade="along"), Satin(feather_first=1.0), Run()],
    ids=["open", "faded", "feathered", "run"],
)
def test_nothing_is_left_out_under_what_can_be_seen_through(above: Fill) -> None:
    design = design_of((Area(box_path(-15, -15, 30, 30)), Fill()), (Area(box_path(-4, -12, 8, 24)), above))
    with pytest.raises(CannotDo, match="Nothing is gained"):
        proposed("Undercut", design)


@pytest.mark.parametrize("below", [Fill(border="satin"), Satin(), Run()], ids=["bordered", "satin", "run"])
def test_what_would_change_at_its_rim_is_sewn_whole(below: Fill) -> None:
    design = design_of((Area(box_path(-4, -15, 8, 30)), below), (Area(box_path(-15, -6, 30, 12)), Fill()))
    with pytest.raises(CannotDo, match="Nothing is gained"):
        proposed("Undercut", design)


def test_sewn_whole_again_is_as_before() -> None:
    design = design_of((Area(ring_path(20)), Fill()), (Area(ring_path(10)), Fill(angle=60)))
    made = proposed("Undercut", design, margin=1.5).design
    assert made.objects[0].undercut == 1.5 and made.objects[1].undercut is None
    assert proposed("Sew whole", made).design == design


# strands


def letter_e() -> Design:
    """Four bars of one thread."""
    bars = [(0, 0, 3, 20), (3.2, 0, 10, 3), (3.2, 8.5, 8, 3), (3.2, 17, 10, 3)]
    shapes = [
        (
            Column(points_path(np.array([[x, y], [x + w, y]])), points_path(np.array([[x, y + h], [x + w, y + h]])))
            if w > h
            else Column(
                points_path(np.array([[x, y], [x, y + h]])), points_path(np.array([[x + w, y], [x + w, y + h]]))
            )
        )
        for x, y, w, h in bars
    ]
    order = (0, 3, 1, 2)
    return design_of(*((shapes[k], Satin(), "1001") for k in order))


def test_a_letter_of_four_columns_is_one_length_of_thread() -> None:
    design = letter_e()
    ids = frozenset(item.id for item in design.objects)
    before = totals(plan(design))
    made = made_strand(design, ids)
    sewn = plan(made)
    assert totals(sewn).trims == 1 < before.trims
    jumps = np.flatnonzero(sewn.kind == Kind.JUMP)
    assert (np.hypot(*(sewn.xy[jumps[1:]] - sewn.xy[jumps[1:] - 1]).T) < 0.5).all()
    assert {item.id for item in made.objects} == ids and released_strand(made, {1}).objects != made.objects
    steps = np.hypot(*np.diff(sewn.xy[sewn.kind == Kind.STITCH], axis=0).T)
    assert steps.max() <= 12.0


def test_travel_in_a_strand_keeps_to_its_outlines_where_nothing_hides_it() -> None:
    """Two bars joined by a third that is sewn first: the way back leads along it, not across the open cloth."""
    shapes = [Area(box_path(0, 0, 4, 30)), Area(box_path(4, 0, 26, 4)), Area(box_path(26, 4, 4, 26))]
    design = design_of(*((one, Fill(), "1001") for one in shapes))
    order = (2, 1, 3)  # the bridge first, then both arms
    design = replace(design, objects=tuple(design.objects[k - 1] for k in order))
    strand = made_strand(design, frozenset({1, 2, 3}))
    strand = replace(strand, objects=tuple(sorted(strand.objects, key=lambda item: order.index(item.id))))
    sewn = plan(strand)
    body = shapely.union_all([shapely.box(0, 0, 4, 30), shapely.box(4, 0, 30, 4), shapely.box(26, 4, 30, 30)])
    rows = np.flatnonzero(sewn.sewn())
    strokes = shapely.linestrings(np.stack([sewn.xy[rows - 1], sewn.xy[rows]], axis=1))
    assert shapely.length(shapely.difference(strokes, body.buffer(0.6))).sum() < 1.0
    assert totals(sewn).trims == 1


def star_of_lines(arms: int = 5) -> Design:
    """Lines from one middle, one with a fork."""
    turns = 2 * np.pi * np.arange(arms) / arms
    ends = 15 * np.column_stack([np.cos(turns), np.sin(turns)])
    shapes = [Line(points_path(np.array([[0, 0], end]))) for end in ends]
    shapes.append(Line(points_path(np.array([ends[0], ends[0] + [5, 5]]))))
    return design_of(*((one, Run(), "1001") for one in shapes))


def passes_over(sewn: SewPlan, place: tuple[float, float]) -> int:
    rows = np.flatnonzero(sewn.sewn())
    strokes = shapely.linestrings(np.stack([sewn.xy[rows - 1], sewn.xy[rows]], axis=1))
    lock = sewn.layer[rows] == Layer.LOCK
    return int((shapely.distance(strokes, shapely.Point(place)) < 0.05)[~lock].sum())


def test_every_line_of_a_drawing_is_sewn_twice_and_it_ends_where_it_began() -> None:
    design = star_of_lines()
    ids = frozenset(item.id for item in design.objects)
    sewn = plan(made_strand(design, ids))
    assert totals(sewn).trims == 1 and len(sewn.pieces) == 1
    for item in design.objects:
        assert isinstance(item.shape, Line)
        ends = np.array([[float(v) for v in part.split()] for part in item.shape.path[1:].split(" L")])
        assert passes_over(sewn, tuple((0.37 * ends[0] + 0.63 * ends[1]).tolist())) == 2
    cover = sewn.xy[(sewn.kind == Kind.STITCH) & (sewn.layer == Layer.COVER)]
    assert np.hypot(*(cover[0] - cover[-1])) < 0.01
    steps = np.hypot(*np.diff(cover, axis=0).T)
    assert steps.min() >= 0.5 and steps.max() <= 2.501


def test_with_the_fewest_repeats_only_what_has_to_be_is_sewn_twice() -> None:
    design = star_of_lines(5)
    ids = frozenset(item.id for item in design.objects)
    twice, fewest = (plan(made_strand(design, ids, how)) for how in ("twice", "fewest"))
    length = {k: sum(one.metres for one in sewn.pieces) for k, sewn in (("twice", twice), ("fewest", fewest))}
    assert length["fewest"] < 0.9 * length["twice"]
    # six ends, the middle has five: of 82 mm three arms of 15 are walked again, the long way round is the open one
    assert totals(fewest).trims == 1


@given(st.integers(0, 10_000), st.integers(2, 6))
@settings(max_examples=30)
def test_no_walk_over_a_small_drawing_is_shorter(seed: int, count: int) -> None:
    """Against every pairing of odd nodes, tried one by one."""
    rng = np.random.default_rng(seed)
    places = rng.uniform(-20, 20, (5, 2))
    lines = [places[rng.choice(5, 2, replace=False)] for _ in range(count)]
    nodes, pieces = graph_of(lines)
    if not pieces:
        return
    edges, start = fewest_repeats(pieces, len(nodes))
    sizes = np.array([np.hypot(*np.diff(piece.xy, axis=0).T).sum() for piece in pieces])
    assert set(edges) == set(range(len(pieces)))
    tour = toured(pieces, edges, start)
    assert sorted(number for number, _ in tour) == sorted(edges)
    odd, far = odd_nodes(pieces, len(nodes)), Ways(pieces, len(nodes)).far
    best = 0.0
    if odd:
        best = (
            min(
                sum(far[a, b] for a, b in zip(some[::2], some[1::2], strict=True))
                for loose in itertools.combinations(odd, 2)
                for some in itertools.permutations([one for one in odd if one not in loose])
                if len(odd) <= 8
            )
            if len(odd) <= 8
            else np.inf
        )
    assert sizes[edges].sum() <= sizes.sum() + best + 0.01


@given(st.integers(0, 10_000), st.integers(2, 9))
@settings(max_examples=20)
def test_a_strand_of_any_lines_sews_every_one_of_them(seed: int, count: int) -> None:
    rng = np.random.default_rng(seed)
    lines = [rng.uniform(-15, 15, (int(rng.integers(2, 5)), 2)).round(2) for _ in range(count)]
    design = design_of(*((Line(points_path(xy)), Run(), "1001") for xy in lines))
    ids = frozenset(item.id for item in design.objects)
    for how in ("twice", "fewest"):
        sewn = plan(made_strand(design, ids, how))
        assert totals(sewn).trims == 1 and not sewn.failures
        drawn = shapely.union_all([shapely.LineString(xy) for xy in lines])
        assert shapely.difference(drawn, thread_of(sewn, 1.4)).length < 0.5
        kinds = sewn.kind[1:-1]
        gaps = np.hypot(*np.diff(sewn.xy, axis=0).T)[:-1]
        short = (kinds == Kind.STITCH) & (sewn.kind[:-2] == Kind.STITCH) & (gaps < 0.5 - 1e-6)
        assert not (short & (sewn.layer[1:-1] == Layer.COVER)).any()


def test_a_strand_never_changes_what_lies_on_top() -> None:
    refused = 0
    for seed in range(30):
        design = scattered(seed, 9, threads=2, spread=6.0)
        thread = design.objects[0].thread
        ids = frozenset(item.id for item in design.objects if item.thread == thread)
        try:
            made = made_strand(design, ids)
        except CannotDo as error:
            refused += 1
            assert "has to be sewn between these" in str(error) or "two or more" in str(error)
            continue
        assert over(made) == over(design)
        where = [k for k, item in enumerate(made.objects) if item.id in ids]
        assert where == list(range(where[0], where[0] + len(ids)))
        assert totals(plan(made)).trims <= totals(plan(design)).trims
    assert 0 < refused < 30


def test_near_pieces_that_are_cut_apart_are_offered_as_a_strand() -> None:
    near = design_of(*((Area(box_path(9.0 * k, 0, 6, 6)), Fill(), "1001") for k in range(3)))
    assert offered(plan(near)) == (frozenset({1, 2, 3}),)
    assert proposed("Strand", near).after.trims == 1
    far = design_of(*((Area(box_path(20.0 * k, 0, 6, 6)), Fill(), "1001") for k in range(3)))
    assert offered(plan(far)) == ()
    with pytest.raises(CannotDo, match="cut apart"):
        proposed("Strand", far)
    two = design_of((Area(box_path(0, 0, 6, 6)), Fill(), "1001"), (Area(box_path(9, 0, 6, 6)), Fill(), "1002"))
    with pytest.raises(CannotDo, match="in one thread"):
        made_strand(two, {1, 2})


def test_a_better_order_moves_a_strand_as_one() -> None:
    design = scattered(3, 14, threads=3, spread=14.0)
    thread = design.objects[0].thread
    some = [item.id for item in design.objects if item.thread == thread]
    made = made_strand(design, frozenset(some[:3]))
    found = proposed("Optimise", made)
    ids = [item.id for item in found.design.objects]
    places = sorted(ids.index(one) for one in some[:3])
    assert places == list(range(places[0], places[0] + 3))
    assert [one for one in ids if one in some[:3]] == [item.id for item in made.objects if item.id in some[:3]]
    assert over(found.design) == over(made)


def test_one_thread_alone_is_put_in_order() -> None:
    design = scattered(21, 24, threads=3)
    chosen = frozenset({design.objects[0].id})
    found = proposed("Optimise", design, chosen, what="its thread")
    rest = [item.id for item in design.objects if item.thread != design.objects[0].thread]
    assert [item.id for item in found.design.objects if item.id in rest] == rest
    assert figures(plan(found.design)).rank < found.before.rank


# connections


def two_near(gap: float, thread: str = "1001") -> Design:
    return design_of((Area(box_path(0, 0, 8, 8)), Fill(), thread), (Area(box_path(8 + gap, 0, 8, 8)), Fill(), thread))


def test_a_design_says_from_where_on_connections_are_cut_and_an_object_may_say_otherwise() -> None:
    design = two_near(4.0)
    assert totals(plan(design)).trims == 2
    loose = replace(design, connections=Connections(cut_over=6.0))
    assert totals(plan(loose, plan(design))).trims == 1
    own = change_objects(loose, {1}, lambda item: replace(item, ends=Ends(cut_over=2.0)))
    assert totals(plan(own)).trims == 2


def test_a_thread_like_the_cloth_may_show_for_longer() -> None:
    design = two_near(4.0)
    rules = replace(design, connections=Connections(alike=8.0))
    assert totals(plan(rules)).trims == 2  # another colour
    colour = design.thread("1001").colour
    ground = replace(design.brief.ground, colour=colour)
    same = replace(rules, brief=replace(rules.brief, ground=ground))
    assert totals(plan(same)).trims == 1


def test_in_long_floats_the_needle_goes_down_on_the_way() -> None:
    design = replace(two_near(14.0), connections=Connections(cut_over=30.0, sink_over=5.0))
    sewn = plan(design)
    assert totals(sewn).trims == 1
    between = (sewn.kind == Kind.STITCH) & (sewn.xy[:, 0] > 8.6) & (sewn.xy[:, 0] < 21.4)
    floats = np.diff(np.sort(np.append(sewn.xy[between][:, 0], [8.0, 22.0])))
    assert between.sum() >= 2 and floats.max() <= 5.6 and floats.min() > 2.0
    plain = plan(replace(design, connections=Connections(cut_over=30.0)))
    assert not ((plain.kind == Kind.STITCH) & (plain.xy[:, 0] > 8.6) & (plain.xy[:, 0] < 21.4)).any()


@pytest.mark.parametrize("kind", ["straight", "tiny", "cross", "star"])
@pytest.mark.parametrize("size", [0.5, 0.7, 1.2, 2.0])
def test_locks_hold_within_their_size_and_take_no_stitch_too_short(kind: str, size: float) -> None:
    rng = np.random.default_rng(5)
    for xy in (
        np.column_stack([np.arange(0, 30, 2.5), np.zeros(12)]),
        np.column_stack([np.arange(20) * 0.2, np.tile([0.0, 3.0], 10)]),
        np.cumsum(rng.normal(0, 1.5, (20, 2)), axis=0),
    ):
        how = Locking(kind, size)  # type: ignore[arg-type]
        begin, end = lock_in(xy, how), lock_out(xy, how)
        reach = {"tiny": 0.5, "cross": max(size, 0.75), "star": max(size, 1.0)}.get(kind, size)
        for points, way in ((np.vstack([begin, xy[:1]]), begin), (np.vstack([xy[-1:], end]), end)):
            steps = np.hypot(*np.diff(points, axis=0).T)
            assert steps.min() >= 0.5 - 1e-9 and len(way) >= 3
            place = xy[0] if way is begin else xy[-1]
            assert np.hypot(*(way - place).T).max() <= reach + 1e-9
    strokes = {"straight": 3, "tiny": 3, "cross": 5, "star": 7}[kind]
    assert len(lock_in(xy, how)) == strokes


def test_the_design_or_the_object_says_how_thread_is_locked() -> None:
    design = two_near(20.0)
    count = lambda made: int((plan(made).layer == Layer.LOCK).sum())  # noqa: E731
    assert count(design) == 12
    stars = replace(design, connections=Connections(lock="star"))
    assert count(stars) == 2 * (7 + 6)
    own = change_objects(stars, {1}, lambda item: replace(item, ends=Ends(lock="tiny")))
    assert count(own) == 6 + 13


# steps and stops


def stepped() -> Design:
    design = design_of(*((Area(box_path(10.0 * k, 0, 6, 6)), Fill(), "1001") for k in range(5)))
    steps = (
        Step(1, "Felt", before="Place the felt", felt="red, 2 mm"),
        Step(2, "Detail", after="Tear the film away", film="soluble"),
    )
    design = replace(design, steps=steps)
    design = change_objects(design, {2, 3}, lambda item: replace(item, step=1))
    return change_objects(design, {4, 5}, lambda item: replace(item, step=2))


def test_a_step_stops_before_its_first_and_after_its_last_object() -> None:
    sewn = plan(stepped())
    stops = [(int(sewn.object[row]), words) for row, words in sorted(sewn.stops.items())]
    assert stops == [(1, "Place the felt"), (5, "Tear the film away")]
    assert totals(sewn).stops == 2
    assert [one.name for one in sewn.design.steps] == ["Felt", "Detail"]


def test_stops_that_fall_together_are_one_with_both_instructions() -> None:
    design = change_objects(stepped(), {1}, lambda item: replace(item, ends=Ends(stop="Trim")))
    design = change_objects(design, {2}, lambda item: replace(item, ends=Ends(stop_before="Look")))
    assert sorted(plan(design).stops.values()) == ["Tear the film away", "Trim; Place the felt; Look"]


def test_the_machine_may_stop_before_anything_is_sewn() -> None:
    design = change_objects(two_near(3.0), {1}, lambda item: replace(item, ends=Ends(stop_before="Tape the backing")))
    sewn = plan(design)
    assert sewn.stops == {0: "Tape the backing"} and sewn.kind[0] == Kind.STOP
    assert totals(sewn).seconds > totals(plan(two_near(3.0))).seconds + 50


def test_a_hidden_object_leaves_its_step_as_it_is() -> None:
    design = change_objects(stepped(), {2}, lambda item: replace(item, hidden=True))
    sewn = plan(design)
    assert sorted(sewn.stops.items())[0][1] == "Place the felt" and int(sewn.object[min(sewn.stops)]) == 1


@given(st.integers(0, 10_000))
@settings(max_examples=15)
def test_no_order_mixes_steps_or_passes_a_stop(seed: int) -> None:
    rng = np.random.default_rng(seed)
    design = replace(scattered(seed, 12), steps=(Step(1, "one"), Step(2, "two", before="wait")))
    step = {item.id: 1 + int(k >= 6) for k, item in enumerate(design.objects)}
    still = design.objects[int(rng.integers(12))].id
    design = change_objects(
        design,
        set(step),
        lambda item: replace(
            item, step=step[item.id], ends=Ends(stop_before="look") if item.id == still else item.ends
        ),
    )
    try:
        found = proposed("Optimise", design).design
    except CannotDo:
        return
    assert [step[item.id] for item in found.objects] == [1] * 6 + [2] * 6
    before = [item.id for item in design.objects]
    after = [item.id for item in found.objects]
    assert set(after[: after.index(still)]) == set(before[: before.index(still)])


def test_what_is_proposed_is_the_same_each_time_and_shows_what_it_does() -> None:
    design = scattered(13, 20, threads=2, spread=5.0)
    for one in PROPOSALS:
        values = one.values() if one.values is not None else None
        try:
            first = one.work(design, frozenset(), values, plan(design))
        except CannotDo as error:
            assert str(error).endswith(".")
            continue
        again = one.work(design, frozenset(), values, plan(design))
        assert first.design == again.design and first.after == again.after and first.said
    assert (Which(), Under(), Lines()) == (Which("everything"), Under(0.8), Lines("twice"))


def test_pieces_of_a_graph_meet_where_lines_cross_and_where_an_end_comes_near() -> None:
    nodes, pieces = graph_of(
        [np.array([[0.0, 0], [10, 0]]), np.array([[5.0, -5], [5, 5]]), np.array([[2.0, 0.4], [2, 6]])]
    )
    degree = np.bincount([end for piece in pieces for end in piece[:2]], minlength=len(nodes))
    assert sorted(degree.tolist()) == [1, 1, 1, 1, 1, 3, 4]
    apart = graph_of([np.array([[0.0, 0], [5, 0]]), np.array([[9.0, 0], [14, 0]])])[1]
    assert len(apart) == 3 and all(isinstance(piece, Piece) for piece in apart)


# ends


def drawn_lines(seed: int, count: int = 12) -> Design:
    """Lines, rings and spots of one thread, here and there."""
    rng = np.random.default_rng(seed)
    shapes: list[tuple[Area | Line, Fill | Run | Satin, str]] = []
    for _ in range(count):
        place = rng.uniform(-40, 40, 2)
        if rng.random() < 0.3:
            ring = Area(ring_path(float(rng.uniform(2, 5)), *place.tolist()))
            shapes.append((ring, Run() if rng.random() < 0.5 else Fill(), "1001"))
        else:
            line = Line(points_path(np.array([place, place + rng.uniform(-15, 15, 2)])), 2.0)
            shapes.append((line, Run() if rng.random() < 0.5 else Satin(), "1001"))
    return design_of(*shapes)


def test_ends_chosen_over_the_whole_sequence_are_never_worse_than_the_nearest(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    found = []
    for seed in range(30):
        design = drawn_lines(seed)
        best = figures(plan(design))
        with monkeypatch.context() as patch:
            patch.setattr(ends, "ways_through", lambda block: [None] * len(block))
            nearest = figures(plan(design))
        assert best.rank <= (nearest.changes, nearest.trims, nearest.jumps + 1e-4), seed
        found.append((best.jumps, nearest.jumps))
    assert sum(one for one, _ in found) < 0.99 * sum(other for _, other in found)


def test_a_chain_of_lines_begins_at_the_end_from_which_all_of_it_is_near() -> None:
    """Taking what is nearest one by one walks into the middle, and has to come back."""
    lines = ([[0, 0], [10, 0]], [[10, 1.8], [0, 1.8]], [[0, 2.4], [30, 2.4]], [[30, 3], [30, 20]])
    design = design_of(*((Line(points_path(np.array(xy, dtype=float))), Run(), "1001") for xy in lines))
    chosen = choose_ends(design)
    gaps = [np.hypot(*(np.array(a.exit) - np.array(b.entry))) for a, b in itertools.pairwise(chosen)]
    assert max(gaps) < 2.0
    pinned = change_objects(design, {4}, lambda item: replace(item, ends=Ends(entry=(30.0, 20.0))))
    assert choose_ends(pinned)[3].entry == (30.0, 20.0)


def test_ends_of_a_plan_carried_on_are_those_of_one_made_afresh() -> None:
    design = drawn_lines(3)
    sewn = plan(design)
    for number in (0, 5, 11):
        moved = change_objects(
            design, {design.objects[number].id}, lambda item: transform_object(item, (1, 0, 0, 1, 9, 4))
        )
        assert [one.ends for one in plan(moved, sewn).entries] == [one.ends for one in plan(moved).entries]


def test_no_way_within_a_strand_takes_a_stitch_too_short() -> None:
    rng = np.random.default_rng(59)
    for _ in range(12):
        items: list[tuple[Area | Line, Fill | Run | Satin, str]] = []
        for _ in range(5):
            place = rng.uniform(-12, 12, 2)
            stroke = Line(points_path(np.array([place, place + rng.uniform(-12, 12, 2)])), float(rng.uniform(1.5, 4)))
            items.append((Area(ring_path(float(rng.uniform(2, 5)), *place.tolist())), Fill(), "1001"))
            items.append((stroke, Satin() if rng.random() < 0.5 else Run(), "1001"))
        design = design_of(*items)
        try:
            sewn = plan(made_strand(design, {item.id for item in design.objects}))
        except CannotDo:
            continue
        rows = np.flatnonzero(sewn.sewn() & (sewn.layer == Layer.TRAVEL))
        assert np.hypot(*(sewn.xy[rows] - sewn.xy[rows - 1]).T).min(initial=1.0) >= 0.5 - 1e-6
        assert totals(sewn).trims == 1
