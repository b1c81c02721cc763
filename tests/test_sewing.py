"""The sew-out: connections, trims, stops, time, the proof, the stand-in machine."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from jontel.data import find_hoop, thread_chart
from jontel.design import Area, Column, Design, Ends, Fill, Hoop, Line, MachineRefused, Run, Satin
from jontel.design.edits import change_objects, pin, remove_objects, reorder, set_hoop, transform_objects, use_thread
from jontel.design.machine import STANDARD
from jontel.files.movements import movements
from jontel.machine.head import Movement, sew
from jontel.sewing.ends import choose_ends
from jontel.sewing.estimate import clock, shares, totals
from jontel.sewing.order import grouped_by_thread
from jontel.sewing.plan import SewPlan, footprint, plan
from jontel.sewing.proof import hoop_shape, proof
from jontel.sewing.proof.hoop import outside_by
from jontel.sewing.shared import share_underlay
from jontel.stitching.stitches import SHORTEST, Kind, Layer
from tests.conftest import box_path, design_of, ring_path


def kinds(sewn: SewPlan, kind: Kind) -> int:
    """How many rows of a kind."""
    return int((sewn.kind == kind).sum())


def with_ends(design: Design, identity: int, **values: object) -> Design:
    """``design`` with other ends on one object."""
    return change_objects(design, {identity}, lambda item: replace(item, ends=replace(item.ends, **values)))


def test_a_plan_begins_with_a_thread_and_ends_with_a_trim(two_boxes: Design) -> None:
    sewn = plan(two_boxes)
    assert sewn.kind[0] == Kind.THREAD and sewn.kind[-1] == Kind.END and sewn.kind[-2] == Kind.TRIM
    assert kinds(sewn, Kind.THREAD) == kinds(sewn, Kind.END) == 1


def test_far_objects_of_one_thread_are_trimmed_and_locked(two_boxes: Design) -> None:
    sewn = plan(two_boxes)
    assert kinds(sewn, Kind.TRIM) == 2
    assert (sewn.layer == Layer.LOCK).sum() == 12


def test_near_objects_of_one_thread_are_joined_without_a_trim() -> None:
    design = design_of((Line("M0 0 L10 0"), Run(), "1001"), (Line("M10.9 0 L22 0"), Run(), "1001"))
    sewn = plan(design)
    assert kinds(sewn, Kind.TRIM) == 1 and kinds(sewn, Kind.JUMP) >= 1
    assert (sewn.layer == Layer.LOCK).sum() == 6


def test_after_a_jump_the_needle_goes_in_where_it_lands(crest_design: Design) -> None:
    sewn = plan(crest_design)
    jumps = np.flatnonzero((sewn.kind[:-1] == Kind.JUMP) & (sewn.kind[1:] != Kind.JUMP))
    assert len(jumps) > 30
    for row in jumps.tolist():
        assert sewn.kind[row + 1] == Kind.STITCH
        assert np.hypot(*(sewn.xy[row + 1] - sewn.xy[row])) < 1e-9


def test_a_connection_hidden_under_a_later_object_is_sewn() -> None:
    lines = (Line("M0 0 L0 8"), Run(), "1001"), (Line("M12 8 L12 0"), Run(), "1001")
    shown = plan(design_of(*lines))
    hidden = plan(design_of(*lines, (Area(box_path(-4, -4, 20, 16)), Fill(), "3005")))
    assert kinds(shown, Kind.TRIM) == 2
    between = hidden.layer[(hidden.object == 2)]
    assert (between == Layer.TRAVEL).sum() >= 2
    assert kinds(hidden, Kind.TRIM) == 2


def test_a_jump_on_open_cloth_is_cut_from_what_the_machine_profile_says() -> None:
    design = design_of((Line("M0 0 L10 0"), Run(), "1001"), (Line("M11.2 0 L22 0"), Run(), "1001"))
    assert kinds(plan(design), Kind.TRIM) == 2
    patient = replace(design, brief=replace(design.brief, machine=replace(STANDARD, trim_over=3.0)))
    assert kinds(plan(patient), Kind.TRIM) == 1


@pytest.mark.parametrize("gap", [0.3, 0.6])
@pytest.mark.parametrize("lean", [0.0, 0.25])
def test_columns_that_nearly_touch_are_joined_under_the_later_one(gap: float, lean: float) -> None:
    apart = (3.0 + gap) * math.hypot(1, lean)
    bars = [
        (Line(f"M{k * apart} 0 L{k * apart + lean * height} {height}", 3.0), Satin(), "1001")
        for k, height in enumerate((20, 12, 20))
    ]
    sewn = plan(design_of(*bars))
    assert kinds(sewn, Kind.TRIM) == 1
    steps = np.hypot(*np.diff(sewn.xy, axis=0).T)
    assert steps[(sewn.kind[:-1] == Kind.STITCH) & (sewn.kind[1:] == Kind.JUMP)].max(initial=0.0) <= 1.0


def test_trims_can_be_asked_for_or_refused(two_boxes: Design) -> None:
    assert kinds(plan(with_ends(two_boxes, 1, trim="never")), Kind.TRIM) == 1
    near = design_of((Line("M0 0 L10 0"), Run(), "1001"), (Line("M12 0 L22 0"), Run(), "1001"))
    assert kinds(plan(with_ends(near, 1, trim="always")), Kind.TRIM) == 2


def test_locks_can_be_asked_for_or_refused(two_boxes: Design) -> None:
    bare = with_ends(with_ends(two_boxes, 1, lock_in="never", lock_out="never"), 2, lock_in="never", lock_out="never")
    assert (plan(bare).layer == Layer.LOCK).sum() == 0
    near = design_of((Line("M0 0 L10 0"), Run(), "1001"), (Line("M12 0 L22 0"), Run(), "1001"))
    more = with_ends(with_ends(near, 1, lock_out="always"), 2, lock_in="always")
    assert (plan(more).layer == Layer.LOCK).sum() == 12


def test_another_thread_is_a_trim_and_a_change() -> None:
    design = design_of((Line("M0 0 L10 0"), Run(), "1001"), (Line("M10 1 L20 1"), Run(), "3005"))
    sewn = plan(design)
    assert kinds(sewn, Kind.THREAD) == 2 and kinds(sewn, Kind.TRIM) == 2
    assert [t.code for t in sewn.threads] == ["1001", "3005"]


def test_a_stop_carries_its_instruction(two_boxes: Design) -> None:
    sewn = plan(with_ends(two_boxes, 1, stop="Lay the felt"))
    (row,) = sewn.stops
    assert sewn.kind[row] == Kind.STOP and sewn.stops[row] == "Lay the felt" and sewn.object[row] == 1
    assert sewn.kind[row - 1] == Kind.TRIM


def test_jumps_are_hops_that_a_machine_can_move() -> None:
    design = design_of((Line("M-60 0 L-50 0"), Run(), "1001"), (Line("M60 0 L50 0"), Run(), "1001"))
    sewn = plan(design)
    steps = np.hypot(*np.diff(np.vstack([[0, 0], sewn.xy]), axis=0).T)
    assert steps.max() <= STANDARD.longest_move + 1e-9


def test_nearest_ends_are_joined() -> None:
    design = design_of(
        (Line("M0 0 L20 0"), Run(), "1001"),
        (Line("M40 5 L21 5"), Run(), "1001"),
        (Area(box_path(42, 0, 10, 10)), Fill(), "1001"),
    )
    first, second, third = choose_ends(design)
    assert (first.entry, first.exit) == ((0, 0), (20, 0))
    assert (second.entry, second.exit) == ((21, 5), (40, 5))
    assert third.entry is not None and third.entry[0] == 42


def test_pinned_ends_stay() -> None:
    design = design_of((Area(box_path(0, 0, 20, 20)), Fill(), "1001"))
    ends = Ends(entry=(20.0, 10.0), exit=(0.0, 10.0))
    design = change_objects(design, {1}, lambda item: replace(item, ends=ends, underlay=()))
    sewn = plan(pin(pin(design, {1}, "pull", 0.0), {1}, "push", 0.0))
    body = sewn.xy[(sewn.kind == Kind.STITCH) & (sewn.layer != Layer.LOCK)]
    assert np.hypot(*(body[0] - (20, 10))) < 1.5
    assert np.hypot(*(body[-1] - (0, 10))) < 1.5


def test_tuning_one_object_leaves_the_stitches_of_the_others(crest_design: Design) -> None:
    before = plan(crest_design)
    wall = next(o.id for o in crest_design.objects if o.name == "Tower wall")
    after = plan(pin(crest_design, {wall}, "spacing", 0.6))
    for item in crest_design.objects:
        if item.id == wall:
            assert (before.object == wall).sum() > (after.object == wall).sum()
        else:
            one, other = (p.xy[(p.object == item.id) & (p.layer == Layer.COVER)] for p in (before, after))
            assert np.array_equal(one, other)


def test_one_object_that_cannot_be_stitched_does_not_take_the_rest_with_it() -> None:
    design = design_of((Line("M0 0 L20 0", 0.2), Satin()), (Area(box_path(20, 0, 9, 9)), Fill()))
    sewn = plan(design)
    (failure,) = sewn.failures
    assert failure.object == 1 and "“Object 1”" in failure.sentence and failure.sentence.endswith(".")
    assert (sewn.object == 2).any() and not (sewn.object == 1).any()


def test_an_empty_design_has_an_empty_plan() -> None:
    sewn = plan(design_of())
    assert len(sewn) == 0 and totals(sewn).stitches == 0 and shares(sewn) == () and len(clock(sewn)) == 0


def test_the_crest_has_no_short_stitch_and_no_long_one(crest_design: Design) -> None:
    sewn = plan(crest_design)
    rows = np.flatnonzero(sewn.sewn())
    size = np.hypot(*(sewn.xy[rows] - sewn.xy[rows - 1]).T)
    assert size[sewn.layer[rows] != Layer.LOCK].min() >= SHORTEST - 1e-6
    assert size.max() <= 7.0
    assert not sewn.failures


def test_time_adds_up(crest_design: Design) -> None:
    sewn = plan(crest_design)
    sums = totals(sewn)
    gaps = np.hypot(*np.diff(sewn.xy, axis=0, prepend=[[0.0, 0.0]]).T)[np.isin(sewn.kind, [Kind.STITCH, Kind.JUMP])]
    expected = (
        np.maximum(1.0, gaps / STANDARD.full_to).sum() * 60 / STANDARD.speed
        + sums.trims * STANDARD.trim_seconds
        + sums.changes * STANDARD.change_seconds
        + sums.stops * STANDARD.stop_seconds
    )
    assert sums.seconds == pytest.approx(expected)
    assert (np.diff(clock(sewn)) >= 0).all()
    assert sum(s.stitches for s in shares(sewn)) == sums.stitches
    assert sum(s.stop - s.start for s in shares(sewn)) <= sums.seconds + 1e-6


def test_thread_is_measured_per_thread() -> None:
    design = design_of((Line("M0 0 L100 0"), Run(length=2.5), "1001"), (Line("M0 9 L50 9"), Run(length=2.5), "3005"))
    long, short = totals(plan(design)).metres
    assert long == pytest.approx(0.1 * (1 + 1.2 / 2.5), rel=0.1)
    assert 1.7 < long / short < 2.1


def test_grouping_by_thread_saves_changes_and_buries_nothing(crest_design: Design) -> None:
    better = grouped_by_thread(crest_design)
    assert totals(plan(better)).changes < totals(plan(crest_design)).changes
    assert {o.id for o in better.objects} == {o.id for o in crest_design.objects}
    place = {o.id: n for n, o in enumerate(better.objects)}
    items = crest_design.objects
    for n, one in enumerate(items):
        for other in items[n + 1 :]:
            if footprint(one, crest_design).intersects(footprint(other, crest_design)):
                assert place[one.id] < place[other.id]
    assert not [f for f in proof(better, plan(better)) if f.kind == "buried"]


# the proof


def found(design: Design, kind: str) -> list:  # type: ignore[type-arg]
    """The findings of one kind."""
    return [f for f in proof(design, plan(design)) if f.kind == kind]


def test_the_demo_is_ready_to_sew(crest_design: Design) -> None:
    assert proof(crest_design, plan(crest_design)) == ()


def test_a_border_sewn_before_its_fill_is_buried_and_the_fix_unburies_it() -> None:
    border = (Line(ring_path(10), 2.0), Satin())
    fill = (Area(ring_path(14)), Fill())
    (finding,) = found(design_of(border, fill), "buried")
    assert finding.objects == (1, 2) and "“Object 1”" in finding.sentence
    mended = finding.fixes[0].edit(design_of(border, fill))
    assert [o.id for o in mended.objects] == [2, 1]
    assert not found(mended, "buried")


def test_a_buried_run_is_reported_too() -> None:
    assert found(design_of((Line("M-5 0 L5 0"), Run()), (Area(box_path(-10, -10, 20, 20)), Fill())), "buried")


def test_partly_covered_is_not_buried() -> None:
    design = design_of((Area(box_path(-20, -10, 20, 20)), Fill()), (Area(box_path(-10, -10, 20, 20)), Fill()))
    assert not found(design, "buried")


def test_what_leaves_the_hoop_is_reported_with_its_place() -> None:
    design = set_hoop(design_of((Area(box_path(40, -10, 30, 20)), Fill())), find_hoop("100 x 100"))
    (finding,) = found(design, "outside hoop")
    assert finding.severity == "spoils" and finding.place is not None and finding.place[0] > 69
    inside = transform_objects(design, {1}, (1, 0, 0, 1, -55, 0))
    assert not found(inside, "outside hoop")


def test_corners_of_a_round_hoop_count() -> None:
    design = set_hoop(design_of((Area(box_path(38, 38, 20, 20)), Fill())), find_hoop("Round 120"))
    assert found(design, "outside hoop")


def test_a_crossing_outline_is_reported_and_repaired() -> None:
    design = design_of((Area("M0 0 L30 20 L30 0 L0 20 Z"), Fill()))
    (finding,) = found(design, "crossing outline")
    assert finding.place == pytest.approx((15.0, 10.0))
    assert not found(finding.fixes[0].edit(design), "crossing outline")


def test_what_cannot_be_stitched_is_a_finding() -> None:
    (finding,) = found(design_of((Line("M0 0 L20 0", 0.2), Satin())), "not stitched")
    assert finding.severity == "spoils" and finding.objects == (1,)


def test_long_stitches_are_found() -> None:
    design = design_of((Line("M0 0 L50 0"), Run(length=9.0)))
    (finding,) = found(design, "long stitch")
    assert "9" not in finding.sentence[:3] and "“Object 1”" in finding.sentence


# the stand-in machine


def test_the_machine_sews_what_the_plan_says(crest_design: Design) -> None:
    sewn = plan(crest_design)
    report = sew(movements(sewn), crest_design.brief.hoop)
    sums = totals(sewn)
    assert (report.stitches, report.trims, report.changes) == (sums.stitches, sums.trims, sums.changes)
    assert report.seconds == pytest.approx(sums.seconds)
    assert report.stops == list(sewn.stops.values())


THREADED = [Movement(1, Kind.THREAD, 0, 0)]
END = [Movement(99, Kind.END, 0, 0)]


@pytest.mark.parametrize(
    ("moves", "words"),
    [
        ([*THREADED, Movement(2, Kind.STITCH, 13, 0), *END], "Line 2 moves 13.0 mm"),
        ([*THREADED, *[Movement(k, Kind.JUMP, 11.0 * (k - 1), 0) for k in range(2, 8)], *END], "outside the hoop"),
        ([Movement(4, Kind.STITCH, 1, 0), *END], "Line 4 sews before any thread"),
        ([*THREADED, Movement(2, Kind.STITCH, 1, 0)], "without an end"),
        ([*THREADED, *END, Movement(100, Kind.STITCH, 1, 0)], "Line 100 comes after the end"),
    ],
)
def test_the_machine_refuses_what_a_head_would(moves: list[Movement], words: str) -> None:
    with pytest.raises(MachineRefused, match=words):
        sew(moves, find_hoop("100 x 100"))


def test_without_a_hoop_only_the_moves_are_checked() -> None:
    far = [Movement(k, Kind.JUMP, 11.0 * k, 0) for k in range(2, 9)]
    assert sew([*THREADED, Movement(1, Kind.JUMP, 11, 0), *far, *END], None).jumps == 8


def test_deleting_and_reordering_keep_the_plan_sound(crest_design: Design) -> None:
    some = {o.id for o in crest_design.objects[::3]}
    for design in (remove_objects(crest_design, some), reorder(crest_design, some, None)):
        sewn = plan(design)
        assert sew(movements(sewn), design.brief.hoop).stitches == totals(sewn).stitches


def test_a_column_is_entered_at_the_middle_of_its_end() -> None:
    design = design_of((Column("M0 0 L20 0", "M0 4 L20 4"), Satin(), "1001"), (Line("M25 2 L30 2"), Run(), "1001"))
    first, second = choose_ends(design)
    assert first.exit == (20.0, 2.0) and second.entry == (25.0, 2.0)


@given(
    st.floats(10, 400),
    st.floats(10, 400),
    st.floats(0, 90),
    st.lists(st.tuples(st.floats(-300, 300), st.floats(-300, 300)), min_size=1),
)
def test_how_far_a_place_lies_outside_a_hoop(
    width: float, height: float, corner: float, spots: list[tuple[float, float]]
) -> None:
    hoop = Hoop("any", width, height, corner)
    field = hoop_shape(hoop)
    assert field.bounds == pytest.approx((-width / 2, -height / 2, width / 2, height / 2))
    found = outside_by(hoop, np.array(spots))
    assert found == pytest.approx(shapely.distance(shapely.points(np.array(spots)), field), abs=0.05)


def test_rows_that_pile_up_are_a_finding_with_a_mend() -> None:
    for cover, dense in (
        (Fill(spacing=0.15), True),
        (Satin(spacing=0.2), True),
        (Fill(spacing=0.3), False),
        (Fill(), False),
    ):
        design = design_of((Area(box_path(0, 0, 12, 4)), cover))
        kinds = [one for one in proof(design, plan(design)) if one.kind == "too dense"]
        assert bool(kinds) == dense, cover
        for one in kinds:
            assert "Object 1" in one.sentence and "0.40 mm" in one.sentence
            mended = one.fixes[0].edit(design)
            assert not [left for left in proof(mended, plan(mended)) if left.kind == "too dense"]


def test_a_cover_without_underlay_is_a_finding_where_cloth_gives_or_has_a_pile() -> None:
    for ground, told in (("Woven twill", False), ("Jersey T-shirt", True), ("Fleece, towelling", True)):
        design = design_of((Area(box_path(0, 0, 12, 12)), Fill()), ground=ground)
        bare = change_objects(design, {1}, lambda item: replace(item, underlay=()))
        assert not [one for one in proof(design, plan(design)) if one.kind == "no underlay"]
        found = [one for one in proof(bare, plan(bare)) if one.kind == "no underlay"]
        assert bool(found) == told
        for one in found:
            assert not [left for left in proof(one.fixes[0].edit(bare), plan(bare)) if left.kind == "no underlay"]
    shared = share_underlay(design_of((Area(box_path(0, 0, 12, 12)), Fill()), ground="Jersey T-shirt"), {1})
    assert not [one for one in proof(shared, plan(shared)) if one.kind == "no underlay"]


def test_long_stitches_take_longer_and_the_stand_in_machine_takes_as_long() -> None:
    design = design_of((Line("M-40 0 L40 0", 0.4), Run(length=2.0)))
    long = design_of((Line("M-40 0 L40 0", 0.4), Run(length=6.4)))
    each = [float(plan(one).pieces[0].durations[-8:-4].mean()) for one in (design, long)]
    assert each[0] == pytest.approx(60 / 800) and each[1] > 1.4 * each[0]
    for one in (design, long):
        sewn = plan(one)
        report = sew(movements(sewn), None, one.brief.machine)
        assert report.seconds == pytest.approx(totals(sewn).seconds, rel=1e-3)


def test_more_threads_than_needles_are_told() -> None:
    design = design_of(*((Area(box_path(12 * k, 0, 8, 8)), Fill()) for k in range(4)))
    for k, thread in enumerate(thread_chart()[:4]):
        design = use_thread(design, {k + 1}, thread)
    few = replace(design, brief=replace(design.brief, machine=replace(design.brief.machine, needles=3)))
    told = [one for one in proof(few, plan(few)) if one.kind == "too many threads"]
    assert [one.objects for one in told] == [(4,)] and "4 threads for 3 needles" in told[0].sentence
    assert not [one for one in proof(design, plan(design)) if one.kind == "too many threads"]


@pytest.mark.parametrize("ramp", [1, 5, 40])
def test_the_head_gets_up_to_speed_after_it_stood_still(crest_design: Design, ramp: int) -> None:
    """By hand, row by row, and as the head that sews the written file takes it."""
    machine = replace(STANDARD, ramp_stitches=ramp)
    design = replace(crest_design, brief=replace(crest_design.brief, machine=machine))
    sewn = plan(design)
    expected, since, at, begun = 0.0, 0, (0.0, 0.0), False
    for kind, (x, y) in zip(sewn.kind.tolist(), sewn.xy.tolist(), strict=True):
        gap = float(np.hypot(x - at[0], y - at[1]))
        if kind in (Kind.STITCH, Kind.JUMP):
            slower = (ramp + 1) / (since + 1) if kind == Kind.STITCH and since < ramp else 1.0
            expected += 60 / machine.speed * max(1.0, gap / machine.full_to) * slower
            at, since = (x, y), since + (kind == Kind.STITCH)
        elif kind != Kind.END:
            costs = {Kind.TRIM: machine.trim_seconds, Kind.STOP: machine.stop_seconds}
            expected += costs.get(kind, machine.change_seconds if begun else 0.0)
            begun, since = True, 0
    sums = totals(sewn)
    assert sums.seconds == pytest.approx(expected)
    assert sums.seconds > totals(plan(crest_design)).seconds + 0.5 * ramp * 60 / machine.speed * sums.changes
    report = sew(movements(sewn), design.brief.hoop, machine)
    assert report.seconds == pytest.approx(sums.seconds, rel=1e-3)


def test_the_ramp_goes_on_into_what_follows_without_a_cut_and_is_kept_by_edits() -> None:
    machine = replace(STANDARD, ramp_stitches=30)
    short = [(Line(f"M{4 * k} 0 L{4 * k + 3.9} 0"), Run(length=2.0), "1001") for k in range(5)]
    design = design_of(*short)
    design = replace(design, brief=replace(design.brief, machine=machine))
    before = plan(design)
    assert [piece.around.since for piece in before.pieces] == sorted(piece.around.since for piece in before.pieces)
    assert before.pieces[-1].around.since > 3
    finer = change_objects(design, {1}, lambda item: replace(item, cover=Run(length=1.0)))
    assert totals(plan(finer, before)).seconds == pytest.approx(totals(plan(finer)).seconds)
    assert plan(finer, before).pieces[-1].around.since > before.pieces[-1].around.since
