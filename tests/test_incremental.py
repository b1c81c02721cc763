"""A plan that carries on from the one before is the plan made afresh, after any edits in any order."""

import csv
import gc
import io
import random
import weakref

import numpy as np
import pytest
from msgspec.structs import replace

from jontel.data import find_ground
from jontel.design import Area, Bare, Column, Design, Ends, Fill, Line, Run, Satin
from jontel.design.edits import (
    add_objects,
    change_objects,
    duplicate_objects,
    pin,
    remove_objects,
    reorder,
    set_ground,
    transform_objects,
)
from jontel.design.stopping import Stop, Stopped, stoppable
from jontel.design.store import Store, kept, working_in
from jontel.files import stitchlist
from jontel.sewing.estimate import clock, estimate, shares, totals
from jontel.sewing.plan import SewPlan, plan
from jontel.sewing.proof import proof
from jontel.sewing.shared import share_underlay
from tests.conftest import box_path, design_of, ring_path


def start() -> Design:
    """Objects of every kind, some over others, of two threads."""
    return design_of(
        (Area(box_path(-30, -30, 25, 20)), Fill(), "1001"),
        (Area(ring_path(6, -18, -20)), Fill(spacing=0.6), "1001"),
        (Line("M-30 0 L0 4 L20 -4", 3.0), Satin(), "1004"),
        (Line("M-20 -28 L10 -5"), Run(), "1004"),
        (Column("M0 10 L20 10", "M0 14 L20 15"), Satin(), "1004"),
        (Area(ring_path(9, 12, 12)), Fill(angle=30.0), "1001"),
        (Area(box_path(5, -20, 4, 4) + " " + box_path(15, -20, 4, 4)), Fill(), "1001"),
    )


def edited(design: Design, chance: random.Random) -> Design:
    """One edit of many kinds."""
    ids = [item.id for item in design.objects]
    if not ids:
        return add_objects(design, start().objects)
    one = {chance.choice(ids)}
    match chance.randrange(12):
        case 0:
            return transform_objects(design, one, (1, 0, 0, 1, chance.uniform(-9, 9), chance.uniform(-9, 9)))
        case 1:
            return reorder(design, one, chance.choice([*ids, None]))
        case 2:
            return remove_objects(design, one)
        case 3:
            return duplicate_objects(design, one)
        case 4:
            ends = Ends(stop=chance.choice([None, "felt"]), trim=chance.choice(["auto", "always", "never"]))
            return change_objects(design, one, lambda item: replace(item, ends=ends))
        case 5:
            return change_objects(design, one, lambda item: replace(item, thread=chance.choice(["1001", "1004"])))
        case 6:
            return replace(design, least_stitch=chance.choice([0.0, 1.2]))
        case 7:
            return set_ground(design, find_ground(chance.choice(["Woven", "Jersey", "Leather"])))
        case 8:
            return share_underlay(design, one) if len(ids) < 12 else design
        case 9:
            cover = chance.choice([Fill(), Run(), Bare(), Satin()])
            return change_objects(design, one, lambda item: replace(item, cover=cover))
        case 10:
            machine = replace(design.brief.machine, trim_over=chance.choice([1.0, 3.0, 30.0]))
            return replace(design, brief=replace(design.brief, machine=machine))
    return pin(design, one, "spacing", round(chance.uniform(0.3, 0.9), 2))


def same(one: SewPlan, other: SewPlan, design: Design) -> None:
    """The same needle movements, times, totals and findings."""
    assert stitchlist.write(one, design) == stitchlist.write(other, design)
    assert one.threads == other.threads and one.failures == other.failures and one.merged == other.merged
    assert np.allclose(clock(one), clock(other)) and totals(one) == totals(other) and shares(one) == shares(other)
    told = [
        [(f.kind, f.sentence, f.objects, [fix.label for fix in f.fixes]) for f in proof(p.design, p)]
        for p in (one, other)
    ]
    assert told[0] == told[1]


@pytest.mark.parametrize("seed", range(6))
def test_any_edits_give_the_plan_that_is_made_afresh(seed: int) -> None:
    chance = random.Random(seed)
    design, before = start(), None
    for _ in range(14):
        before = plan(design, before)
        with working_in(Store()):
            same(before, plan(design), design)
        design = edited(design, chance)


def test_time_and_rows_lead_to_each_other() -> None:
    sewn = plan(start())
    times, when = clock(sewn), estimate(sewn)
    for row in range(0, len(sewn) - 1, 37):
        assert when.at(row) == pytest.approx(times[row])
        assert times[when.row_at(float(times[row]))] == pytest.approx(times[row])
    rows = list(csv.DictReader(io.StringIO(stitchlist.write(sewn, start()).decode(), newline="")))
    assert sewn.place(100) == pytest.approx((float(rows[100]["x_mm"]), float(rows[100]["y_mm"])), abs=1e-3)


def test_a_job_that_was_told_to_stop_stops() -> None:
    stop = Stop()
    done: list[int] = []

    def hear(at: int, _count: int) -> None:
        done.append(at)
        stop.give()

    with pytest.raises(Stopped), stoppable(stop), working_in(Store()):
        plan(start(), progress=hear)
    assert done == [1]


def test_what_is_kept_is_found_however_its_defaults_are_given() -> None:
    asked: list[tuple[float, float]] = []

    @kept
    def worked_out(length: float, tolerance: float = 0.02) -> float:
        asked.append((length, tolerance))
        return length + tolerance

    with working_in(Store()):
        assert worked_out(1.0) == worked_out(1.0, 0.02) == 1.02
        assert worked_out(1.0, 0.5) == 1.5
    assert asked == [(1.0, 0.02), (1.0, 0.5)]


def test_a_store_holds_no_more_than_its_room_and_keeps_what_was_asked_for_last() -> None:
    store = Store(room=100_000)
    for k in range(50):
        store.keep(k, np.zeros(1000))
        store.find(0)
    assert store.size <= 100_000 and len(store) < 14
    assert store.find(0)[1] and store.find(49)[1] and not store.find(5)[1]
    store.keep("large", np.zeros(10_000))
    assert not store.find("large")[1]
    store.clear()
    assert store.size == 0 and len(store) == 0


def test_an_edit_counts_only_what_it_changed_and_every_sum_is_that_of_all_pieces() -> None:
    design = start()
    before = plan(design)
    one = design.objects[1].id
    after = plan(pin(design, {one}, "spacing", 0.61), before)
    fresh = [piece.owner for piece in after.pieces if not any(piece is old for old in before.pieces)]
    assert one in fresh and len(fresh) <= 3  # itself, and at most where the needle comes from and goes to
    for sewn in (before, after, after.with_pieces(after.pieces[1:])):
        assert sewn.tally.pieces == sewn.pieces and len(sewn) == sum(map(len, sewn.pieces)) + 1
        assert sewn.tally.counts.sum(axis=1).tolist() == [len(piece) for piece in sewn.pieces]
        assert sewn.tally.seconds.tolist() == [piece.seconds[-1] for piece in sewn.pieces]
        assert [tuple(box) for box in sewn.tally.boxes.tolist()] == [piece.bounds for piece in sewn.pieces]
        assert totals(sewn).metres == pytest.approx(
            [
                sum(piece.metres for piece in sewn.pieces if piece.thread == number)
                for number in range(len(sewn.threads))
            ]
        )


def test_a_plan_that_was_proofed_is_let_go_of_without_waiting_for_a_collection() -> None:
    gc.collect()
    gc.disable()
    try:
        with working_in(Store()):
            sewn = plan(start())
            proof(sewn.design, sewn)
            pieces = [weakref.ref(piece) for piece in sewn.pieces]
            del sewn
        assert len(pieces) > 4 and not any(piece() is not None for piece in pieces)
    finally:
        gc.enable()
