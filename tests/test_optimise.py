"""A better sewing order: what it saves, and what it never does."""

from itertools import pairwise

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from jontel.data import thread_chart
from jontel.design import Area, Design, Fill, Run
from jontel.design.edits import hidden_objects
from jontel.sewing.optimise import Figures, figures, optimised
from jontel.sewing.order import grouped_by_thread
from jontel.sewing.plan import footprint, plan
from tests.conftest import box_path, design_of


def scattered(seed: int, count: int, threads: int = 4, spread: float = 9.0) -> Design:
    """Boxes here and there in a few threads, some over others."""
    rng = np.random.default_rng(seed)
    chart = thread_chart()[:threads]
    side = spread * np.sqrt(count) / 2
    places = rng.uniform(-side, side, (count, 2)).round(1)
    sizes = rng.uniform(2.5, 8.0, (count, 2)).round(1)
    return design_of(
        *(
            (Area(box_path(float(x), float(y), float(w), float(h))), Fill(), chart[int(rng.integers(threads))].code)
            for (x, y), (w, h) in zip(places, sizes, strict=True)
        )
    )


def over(design: Design) -> set[tuple[int, int]]:
    """Which objects lie over which, by the cloth that they share."""
    items = [item for item in design.objects if not item.hidden]
    regions = [footprint(item, design) for item in items]
    return {
        (one.id, other.id)
        for k, one in enumerate(items)
        for j, other in enumerate(items)
        if k < j and regions[k].intersects(regions[j]) and shapely.intersection(regions[k], regions[j]).area > 0.05
    }


@given(st.integers(0, 10_000), st.integers(2, 14))
@settings(max_examples=25)
def test_no_order_changes_what_lies_on_top_and_none_is_worse(seed: int, count: int) -> None:
    design = scattered(seed, count)
    found = optimised(design)
    assert sorted(item.id for item in found.design.objects) == sorted(item.id for item in design.objects)
    assert over(found.design) == over(design)
    assert found.after.rank <= found.before.rank and found.after.changes >= found.least
    assert found.after == figures(plan(found.design))
    assert optimised(design).design == found.design


def test_a_busy_design_needs_far_fewer_changes_and_shorter_jumps() -> None:
    design = scattered(7, 60, threads=8)
    found = optimised(design)
    grouped = figures(plan(grouped_by_thread(design)))
    assert found.after.changes <= grouped.changes < found.before.changes
    assert found.after.changes <= found.least + 6
    assert found.after.jumps < 0.7 * grouped.jumps and found.after.seconds < grouped.seconds


def test_threads_apart_are_sewn_once_each() -> None:
    chart = thread_chart()
    design = design_of(*((Area(box_path(12.0 * k, 0, 6, 6)), Fill(), chart[k % 3].code) for k in range(12)))
    found = optimised(design)
    assert found.before.changes == 11 and found.after.changes == found.least == 2
    by_thread = [item.thread for item in found.design.objects]
    assert sum(a != b for a, b in pairwise(by_thread)) == 2
    places = [int(item.id) for item in found.design.objects]
    assert all(abs(a - b) == 3 for a, b in pairwise(places[:4]))  # from neighbour to neighbour


def test_a_stop_keeps_what_is_before_before_and_what_is_behind_behind() -> None:
    design = scattered(3, 12)
    still = design.objects[5]
    stop = replace(still, ends=replace(still.ends, stop="Place the felt"))
    design = replace(design, objects=(*design.objects[:5], stop, *design.objects[6:]))
    found = optimised(design)
    ids = [item.id for item in found.design.objects]
    at = ids.index(stop.id)
    assert set(ids[:at]) == {item.id for item in design.objects[:5]}


def test_only_the_chosen_ones_move_among_the_rest() -> None:
    design = scattered(11, 16)
    chosen = {item.id for item in design.objects[4:12]}
    found = optimised(design, chosen)
    rest = [item.id for item in design.objects if item.id not in chosen]
    assert [item.id for item in found.design.objects if item.id not in chosen] == rest
    assert over(found.design) == over(design) and found.after.rank <= found.before.rank


def test_what_is_hidden_stays_with_what_it_was_before() -> None:
    design = hidden_objects(scattered(5, 10), {4})
    found = optimised(design)
    before = [item.id for item in design.objects]
    after = [item.id for item in found.design.objects]
    assert after[after.index(4) + 1] == before[before.index(4) + 1]


@pytest.mark.parametrize("count", [0, 1])
def test_little_is_left_as_it_is(count: int) -> None:
    design = replace(scattered(1, 1), objects=scattered(1, 1).objects[:count])
    assert optimised(design).design == design


def test_figures_count_changes_trims_and_metres_of_jumps() -> None:
    two = design_of((Area(box_path(0, 0, 5, 5)), Fill()), (Area(box_path(105, 0, 5, 5)), Run()))
    one = figures(plan(two))
    assert one.changes == 1 and one.trims == 2 and 0.09 < one.jumps < 0.25
    assert Figures(1, 5, 0.1, 10.0).rank < Figures(2, 0, 0.0, 1.0).rank
