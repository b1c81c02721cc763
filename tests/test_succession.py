"""Lines of one object in an order of few cuts, either way round, and none sewn twice."""

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jontel.design import Design, Line, Satin
from jontel.design.edits import change_objects
from jontel.geometry.nodes import chains_of, path_through
from jontel.geometry.succession import in_succession
from jontel.sewing.figures import figures
from jontel.sewing.plan import plan
from jontel.shaping.digitizing import ready
from jontel.shaping.wishes import Digitizing
from tests.conftest import design_of, points_path
from tests.test_digitizing import raw

PLACE = st.tuples(st.integers(-40, 40), st.integers(-40, 40))
LINES = st.lists(st.tuples(PLACE, PLACE).filter(lambda two: two[0] != two[1]), min_size=1, max_size=5)


def cost(ends: list[tuple[np.ndarray, np.ndarray]], free: float) -> tuple[int, float]:
    """How many ways between lines are cut, and how long all are, mm."""
    ways = [float(np.hypot(*(enter - leave))) for (_, leave), (enter, _) in itertools.pairwise(ends)]
    return sum(way > free for way in ways), sum(ways)


def ends_of(path: str) -> list[tuple[np.ndarray, np.ndarray]]:
    """The two ends of each line, the same one twice of a closed one."""
    return [(c.at[0], c.at[0 if c.closed else -1]) for c in chains_of(path)]


def path_of(lines: list[tuple[tuple[int, int], tuple[int, int]]]) -> str:
    """Path data of straight lines."""
    return " ".join(points_path(np.array(line, float)) for line in lines)


@given(LINES)
def test_the_same_lines_are_drawn_in_about_the_best_order(lines) -> None:  # type: ignore[no-untyped-def]
    made = path_through(in_succession(chains_of(path_of(lines)), 1.0))

    def sides(path: str) -> list[tuple[tuple[float, float], ...]]:
        return sorted(tuple(sorted(map(tuple, np.round(pair, 3).tolist()))) for pair in ends_of(path))

    assert sides(made) == sides(path_of(lines)), "each is drawn once"
    orders = itertools.permutations(lines)
    turns = list(itertools.product((False, True), repeat=len(lines)))
    every = (
        [(b, a) if turn else (a, b) for (a, b), turn in zip(some, turn, strict=True)]
        for some in orders
        for turn in turns
    )
    least = min(cost([(np.array(a, float), np.array(b, float)) for a, b in one], 1.0) for one in every)
    cuts, way = cost(ends_of(made), 1.0)
    assert cuts <= least[0]
    assert way <= 1.3 * least[1] + 1


def test_a_row_of_strokes_that_came_in_mixed_is_sewn_as_one_thread() -> None:
    spots = np.array([[3.0 * k, 4.0 * (k % 2)] for k in range(15)])
    pieces = [(spots[k], spots[k + 1]) for k in range(14)]
    draw = np.random.default_rng(3)
    mixed = [pieces[k][:: 1 if draw.random() < 0.5 else -1] for k in draw.permutation(14)]
    path = " ".join(points_path(np.array(p)) for p in mixed)
    drawn = raw(f'<path d="{path}" fill="none" stroke="#123" stroke-width="2"/>')
    made = ready(drawn, {one.id for one in drawn.objects}, Digitizing())
    assert figures(plan(drawn)).trims > 5
    assert figures(plan(made)).trims == 1, "only at the end"


def test_a_closed_line_begins_where_the_one_before_ends() -> None:
    square = "M10 0 L20 0 L20 10 L10 10 Z"
    made = chains_of(path_through(in_succession(chains_of(f"M0 10 L9.5 10.2 {square}"), 1.0)))
    assert made[1].closed and made[1].at[0].tolist() == [10, 10]
    assert {tuple(one) for one in made[1].at.tolist()} == {(10, 0), (20, 0), (20, 10), (10, 10)}


@pytest.mark.parametrize("again", ["M5 10 C10 0 20 20 35 10", "M35 10 C20 20 10 0 5 10"])
@pytest.mark.parametrize(("first", "then", "left"), [(1.2, 1.2, 1), (1.2, 2.0, 1), (2.0, 1.2, 2)])
def test_a_line_that_is_drawn_again_as_wide_is_sewn_once(again: str, first: float, then: float, left: int) -> None:
    line = "M5 10 C10 0 20 20 35 10"
    other = "M5 30 L35 30"
    made = drawn_twice((f"{line} {other}", first), (again, then))
    ready_ = ready(made, {1, 2}, Digitizing())
    lines = [chain for item in ready_.objects for chain in chains_of(item.shape.path)]  # type: ignore[union-attr]
    assert len(lines) == left + 1, "and what is drawn once stays"
    plain = ready(made, {1, 2}, Digitizing(undercut=False))
    assert sum(len(chains_of(item.shape.path)) for item in plain.objects) == 3  # type: ignore[union-attr]


def drawn_twice(*lines: tuple[str, float]) -> Design:
    """Satins along lines, in one thread."""
    return design_of(*((Line(path, width), Satin(), "1001") for path, width in lines))


def test_lines_with_ends_of_their_own_stay_as_they_are() -> None:
    made = drawn_twice(("M0 0 L10 0 M30 0 L11 0 M30 20 L30 1", 2.0))
    own = change_objects(
        made, {1}, lambda one: design_of((Line(one.shape.path, 2.0, end="pointed"), Satin())).objects[0]
    )  # type: ignore[union-attr]
    assert ready(own, {1}, Digitizing()).objects[0].shape == own.objects[0].shape
    assert ready(made, {1}, Digitizing()).objects[0].shape != made.objects[0].shape
