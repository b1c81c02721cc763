"""The value: inheriting, pinning, editing, history."""

import math

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from jontel.data import find_ground, find_hoop, grounds, read_chart, thread_chart
from jontel.design import (
    Area,
    CannotRead,
    Column,
    Edges,
    Fill,
    FillRecipe,
    History,
    Line,
    Run,
    RunRecipe,
    Satin,
    SatinRecipe,
    nearest_thread,
    resolve,
)
from jontel.design.edits import (
    change_objects,
    drop_unused_threads,
    duplicate_objects,
    group_by_thread,
    locked_objects,
    pin,
    release_pins,
    remove_objects,
    reorder,
    set_ground,
    set_thread,
    transform_objects,
    unlocked,
    use_thread,
    with_locked_kept,
)
from jontel.design.kinds import UNDERLAY_KINDS, kind_name
from jontel.design.kinds.edge_run import EdgeRun
from jontel.design.paths import commands, number_text, polyline_path, transform_path
from jontel.design.thread import colour_distance
from tests.conftest import box_path, design_of


@pytest.mark.parametrize(("pins", "recipe"), [(Run, RunRecipe), (Satin, SatinRecipe), (Fill, FillRecipe)])
def test_every_pin_has_a_value_to_lie_over(pins: type, recipe: type) -> None:
    assert pins.__struct_fields__ == recipe.__struct_fields__
    assert all(getattr(pins(), name) is None for name in pins.__struct_fields__)


def test_every_underlay_kind_has_its_own_name() -> None:
    assert len({kind_name(kind()) for kind in UNDERLAY_KINDS}) == len(UNDERLAY_KINDS) == 7


def test_what_is_not_pinned_comes_from_the_ground() -> None:
    design = design_of((Area(box_path(0, 0, 10, 10)), Fill()))
    for ground in grounds():
        whole = resolve(design.objects[0], ground)
        assert whole.cover == ground.recipe(Fill)
        assert whole.edges == ground.edges


def test_pinned_values_survive_a_change_of_ground() -> None:
    design = design_of((Area(box_path(0, 0, 10, 10)), Fill(spacing=0.55)), (Line("M0 0 L9 0", 3), Satin()))
    design = pin(design, {1, 2}, "pull", 0.33)
    knit = find_ground("Jersey")
    moved = set_ground(design, knit)
    fill, satin = (resolve(item, moved.brief.ground) for item in moved.objects)
    assert isinstance(fill.cover, FillRecipe) and fill.cover.spacing == 0.55
    assert fill.cover.length == knit.recipe(Fill).length
    assert fill.edges.pull == satin.edges.pull == 0.33
    assert satin.edges.push == knit.edges.push
    assert moved.pins() == 3


def test_pins_can_be_released_one_by_one_or_all() -> None:
    design = design_of((Area(box_path(0, 0, 10, 10)), Fill(spacing=0.55, angle=30.0)))
    design = change_objects(design, {1}, lambda item: replace(item, underlay=(EdgeRun(),), edges=Edges(pull=0.5)))
    assert design.objects[0].pins() == 4
    assert pin(design, {1}, "spacing", None).objects[0].pins() == 3
    assert release_pins(design, {1}).objects[0].pins() == 0


def test_a_pin_reaches_only_objects_that_have_such_a_value() -> None:
    design = design_of((Area(box_path(0, 0, 10, 10)), Fill()), (Line("M0 0 L9 0"), Run()))
    tuned = pin(design, {1, 2}, "angle", 45.0)
    assert tuned.objects[0].cover == Fill(angle=45.0)
    assert tuned.objects[1] == design.objects[1]


def test_new_objects_get_fresh_ids_even_after_deleting() -> None:
    design = design_of((Area(box_path(0, 0, 10, 10)), Fill()), (Area(box_path(20, 0, 10, 10)), Fill()))
    design = duplicate_objects(remove_objects(design, {2}), {1})
    assert [item.id for item in design.objects] == [1, 3]
    assert design.objects[1].name == "Object 1 copy"
    assert design.objects[1].shape == design.objects[0].shape


def test_duplicates_are_sewn_right_after_the_last_original() -> None:
    design = design_of(*[(Area(box_path(x, 0, 5, 5)), Fill()) for x in (0, 10, 20)])
    made = duplicate_objects(design, {1, 2})
    assert [item.id for item in made.objects] == [1, 2, 4, 5, 3]
    assert duplicate_objects(design, set()) == design


def test_reorder_keeps_the_moved_ones_in_their_order() -> None:
    design = design_of(*[(Area(box_path(x, 0, 5, 5)), Fill()) for x in (0, 10, 20, 30)])
    assert [o.id for o in reorder(design, {1, 2}, None).objects] == [3, 4, 1, 2]
    assert [o.id for o in reorder(design, {4, 3}, 1).objects] == [3, 4, 1, 2]
    assert reorder(design, {2}, 2) == design


def test_grouping_by_thread_never_swaps_what_may_not_be_swapped() -> None:
    codes = ("1001", "3005", "1001", "3005", "1001")
    design = design_of(*[(Area(box_path(10 * n, 0, 5, 5)), Fill(), code) for n, code in enumerate(codes)])
    free = group_by_thread(design, lambda _a, _b: True)
    assert [o.thread for o in free.objects] == ["1001"] * 3 + ["3005"] * 2
    assert [o.id for o in free.objects] == [1, 3, 5, 2, 4]
    bound = group_by_thread(design, lambda _a, _b: False)
    assert bound == design
    partly = group_by_thread(design, lambda a, b: (a, b) != (2, 3))
    ids = [o.id for o in partly.objects]
    assert ids.index(2) < ids.index(3)


def test_scaling_carries_the_width_of_a_line_and_pinned_ends() -> None:
    design = design_of((Line("M0 0 L10 0", 2.0), Satin()))
    design = change_objects(
        design, {1}, lambda i: replace(i, ends=replace(i.ends, entry=(0.0, 0.0), exit=(10.0, 0.0)))
    )
    made = transform_objects(design, {1}, (2, 0, 0, 2, 5, 0)).objects[0]
    assert made.shape == Line("M5 0 L25 0", 4.0)
    assert made.ends.entry == (5.0, 0.0) and made.ends.exit == (25.0, 0.0)


@pytest.mark.parametrize("turn", [90, 30, -45, 180])
def test_turning_a_fill_turns_its_pinned_rows(turn: float) -> None:
    c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    design = design_of((Area(box_path(0, 0, 10, 10)), Fill(angle=30.0)))
    cover = transform_objects(design, {1}, (c, s, -s, c, 0, 0)).objects[0].cover
    assert isinstance(cover, Fill) and cover.angle is not None
    expected = 30.0 - turn
    assert math.sin(math.radians(cover.angle - expected)) == pytest.approx(0, abs=1e-3)


def test_columns_move_with_their_direction_lines() -> None:
    shape = Column("M0 0 L10 0", "M0 3 L10 3", (((5.0, 0.0), (5.0, 3.0)),))
    design = design_of((shape, Satin()))
    moved = transform_objects(design, {1}, (1, 0, 0, 1, 2, 1)).objects[0].shape
    assert moved == Column("M2 1 L12 1", "M2 4 L12 4", (((7.0, 1.0), (7.0, 4.0)),))


def test_changing_a_thread_changes_it_on_every_object() -> None:
    design = design_of((Area(box_path(0, 0, 5, 5)), Fill(), "1001"), (Area(box_path(9, 0, 5, 5)), Fill(), "3005"))
    red = next(t for t in thread_chart() if t.code == "3005")
    both = set_thread(design, "1001", red)
    assert {o.thread for o in both.objects} == {"3005"}
    assert [t.code for t in both.brief.threads] == ["3005"]


def test_using_a_new_thread_adds_it_to_the_brief() -> None:
    design = design_of((Area(box_path(0, 0, 5, 5)), Fill(), "1001"))
    sea = next(t for t in thread_chart() if t.name == "Deep sea")
    made = use_thread(design, {1}, sea)
    assert [t.code for t in made.brief.threads] == ["1001", sea.code]
    assert [t.code for t in drop_unused_threads(made).brief.threads] == [sea.code]


def test_history_undoes_and_redoes_and_forgets_what_was_undone() -> None:
    first = design_of((Area(box_path(0, 0, 5, 5)), Fill()))
    second, third = remove_objects(first, {1}), pin(first, {1}, "angle", 9.0)
    history = History.of(first).push("Delete", second)
    assert history.undo_label == "Delete" and history.redo_label is None
    back = history.undo()
    assert back.design == first and back.redo_label == "Delete" and back.undo().design == first
    assert back.redo().design == second
    other = back.push("Turn", third)
    assert other.redo_label is None and other.redo().design == third


def test_an_edit_that_changes_nothing_leaves_no_step() -> None:
    history = History.of(design_of((Area(box_path(0, 0, 5, 5)), Fill())))
    assert history.push("Nothing", history.design) is history


@given(st.lists(st.sampled_from(["push", "undo", "redo"]), max_size=30))
def test_history_never_loses_its_place(steps: list[str]) -> None:
    history = History.of(design_of())
    for number, step in enumerate(steps):
        history = (
            history.push("x", replace(history.design, name=str(number)))
            if step == "push"
            else getattr(history, step)()
        )
        assert 0 <= history.at < len(history.steps)
        assert history.design == history.steps[history.at].design


def test_a_missing_thread_is_stood_in_for() -> None:
    assert design_of().thread("gone").name == "missing"


def test_the_nearest_thread_looks_like_the_colour() -> None:
    chart = thread_chart()
    assert nearest_thread((244, 241, 232), chart).name == "Chalk"
    assert nearest_thread((180, 48, 48), chart).name == "Signal red"
    assert nearest_thread((0, 0, 0), chart).name in ("Pitch", "Ink", "Pitch fine")
    with pytest.raises(CannotRead):
        nearest_thread((0, 0, 0), ())


@given(*[st.tuples(*[st.integers(0, 255)] * 3)] * 2)
def test_colour_distance_is_a_distance(one: tuple[int, int, int], other: tuple[int, int, int]) -> None:
    assert colour_distance(one, other) == pytest.approx(colour_distance(other, one))
    assert colour_distance(one, one) == 0


def test_path_data_is_read_with_repeated_letters_written_out() -> None:
    found = list(commands("M0 0 10,0 L5-5 1e1 .5Z"))
    assert found == [("M", [0, 0]), ("L", [10, 0]), ("L", [5, -5]), ("L", [10, 0.5]), ("Z", [])]


@pytest.mark.parametrize(
    "path",
    [
        "L0 0 L5 5 Z",
        "Z M0 0 L5 5",
        "C1 1 2 2 3 3",
        "M0",
        "L0 0 5",
        "5 5",
        "M0 0 A1 1 0 0 0 5 5",
        "M0 0 L5",
        "M0 0 Lx 5",
        "M0 0 h5",
    ],
)
def test_damaged_path_data_is_refused(path: str) -> None:
    with pytest.raises(CannotRead):
        list(commands(path))


@given(st.lists(st.tuples(*[st.floats(-500, 500)] * 2), min_size=2, max_size=9), st.booleans())
def test_moving_there_and_back_is_no_move(points: list[tuple[float, float]], closed: bool) -> None:
    path = polyline_path(points, closed)
    back = transform_path(transform_path(path, (1, 0, 0, 1, 7, -3)), (1, 0, 0, 1, -7, 3))
    for (letter, there), (same, here) in zip(commands(path), commands(back), strict=True):
        assert letter == same
        assert there == pytest.approx(here, abs=2e-4)


@given(st.lists(st.floats(-500, 500) | st.integers(-5000, 5000).map(lambda v: v / 1e4), min_size=6, max_size=6))
def test_moved_path_data_is_written_as_short_as_single_numbers_are(values: list[float]) -> None:
    moved = transform_path("M{!r} {!r} Q{!r} {!r} {!r} {!r} Z".format(*values), (1, 0, 0, 1, 0, 0))
    texts = [number_text(value or 0.0) for value in values]
    assert moved == "M{} {} Q{} {} {} {} Z".format(*texts)


def test_grounds_and_hoops_are_found_by_the_start_of_their_name() -> None:
    assert find_ground("pique").name == "Pique knit"
    assert find_hoop("130").height == 180
    with pytest.raises(CannotRead, match="choose one of"):
        find_ground("sailcloth")
    with pytest.raises(CannotRead):
        find_hoop("")


def test_every_ground_is_a_complete_and_sensible_recipe() -> None:
    assert len(grounds()) == 9
    for ground in grounds():
        assert 0.3 <= ground.recipe(Fill).spacing <= 0.6 and 0.3 <= ground.recipe(Satin).spacing <= 0.6
        assert 0 <= ground.edges.pull <= 0.5 and ground.area_underlay
        assert msgspec.json.decode(msgspec.json.encode(ground), type=type(ground)) == ground


def test_a_thread_chart_of_ones_own_is_read() -> None:
    chart = read_chart(b"\xef\xbb\xbfcode,name,hex,weight\r\nA1,Sand,#d8c8a0\r\nA2,Fine,112233,60\r\n", "mine.csv")
    assert [t.code for t in chart] == ["A1", "A2"]
    assert chart[1].width == 0.30 and chart[0].width == 0.40


@pytest.mark.parametrize(
    "data",
    [
        b"",
        b"code,name,hex\n",
        b"A1,Sand\n",
        b"A1,Sand,#12\n",
        b"A1,Sand,#gggggg\n",
        b"\xff\xfe\x00",
        b"A,B,#112233,x\n",
    ],
)
def test_a_damaged_thread_chart_is_refused_by_name(data: bytes) -> None:
    with pytest.raises(CannotRead, match=r"mine\.csv"):
        read_chart(data, "mine.csv")


def test_what_is_locked_keeps_its_shape_and_its_build_up_whatever_is_done() -> None:
    design = design_of(*((Area(box_path(20 * k, 0, 10, 10)), Fill()) for k in range(4)))
    before = locked_objects(design, {2, 3})
    moved = transform_objects(before, {1, 2, 3}, (1, 0, 0, 1, 5, 0))
    made, names = with_locked_kept(before, moved)
    assert [item.shape == other.shape for item, other in zip(made.objects, before.objects, strict=True)] == [
        False,
        True,
        True,
        True,
    ]
    assert names == (before.objects[1].name, before.objects[2].name)
    tuned, names = with_locked_kept(before, pin(before, {3, 4}, "spacing", 0.7))
    assert tuned.objects[2] == before.objects[2] and tuned.objects[3].cover.spacing == 0.7 and len(names) == 1
    fewer, names = with_locked_kept(before, remove_objects(before, {1, 2, 3}))
    assert [item.id for item in fewer.objects] == [2, 3, 4] and len(names) == 2
    ordered = reorder(before, {2}, None)
    assert with_locked_kept(before, ordered) == (ordered, ())
    free = unlocked(transform_objects(before, {2}, (1, 0, 0, 1, 5, 0)))
    assert with_locked_kept(before, free) == (free, ()), "what the edit itself unlocks may change"
    assert with_locked_kept(design, moved) == (moved, ())
