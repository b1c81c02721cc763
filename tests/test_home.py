"""An object that is moved, and a copy, has the same stitches elsewhere, and nothing of it is sewn again."""

import dataclasses

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from msgspec.structs import replace

from jontel.demo import crest
from jontel.design import Area, Column, Design, Fill, Line, Run, Satin, Shape
from jontel.design.edits import transform_object, transform_objects
from jontel.design.home import HERE, at_home
from jontel.design.kinds import kind_name
from jontel.design.paths import number_text, transform_path
from jontel.design.shapes import Corrections
from jontel.design.store import Store, working_in
from jontel.sewing.ends import choose_ends
from jontel.sewing.plan import plan
from jontel.stitching.covers import GENERATORS
from jontel.stitching.stitches import Needle
from tests.conftest import SHAPES, design_of, points_path

PLACE = st.tuples(*[st.floats(-300, 300)] * 2)
ROAD = st.lists(PLACE, min_size=3, max_size=7)


@st.composite
def shapes(draw: st.DrawFn) -> Shape:
    """Any shape, with all that can be said of one, at places that lie on no grid."""
    path = points_path(np.array(draw(ROAD)), closed=True)
    match draw(st.integers(0, 2)):
        case 0:
            said = Corrections(((draw(PLACE), draw(PLACE)),), ((draw(PLACE), draw(PLACE)),), (draw(PLACE),))
            return Area(path, lines=((draw(PLACE), draw(PLACE)),), guide=path, columns=said)
        case 1:
            return Line(path, draw(st.floats(0.1, 20)))
        case _:
            return Column(path, points_path(np.array(draw(ROAD))), ((draw(PLACE), draw(PLACE)),))


@given(shapes(), st.lists(PLACE, min_size=1, max_size=3))
def test_any_shape_is_the_same_at_home_wherever_it_is_moved_to(
    shape: Shape, moves: list[tuple[float, float]]
) -> None:
    item = design_of((shape, Fill(), "1001")).objects[0]
    home, corner = at_home(shape)
    assume(corner != HERE)
    for x, y in moves:
        item = transform_object(item, (1, 0, 0, 1, x, y))
    there, its_corner = at_home(item.shape)
    assume(its_corner != HERE)
    assert there == home
    way = np.array(its_corner) - corner
    assert np.abs(way - np.sum(moves, axis=0)).max() <= 0.5e-4 * len(moves) + 1e-9
    assert getattr(item.shape, "width", None) == getattr(shape, "width", None)


@given(st.lists(st.floats(-9999, 9999) | st.integers(-900, 900).map(float), min_size=2, max_size=40))
def test_moved_path_data_are_written_as_single_numbers_are(values: list[float]) -> None:
    values = values[: len(values) // 2 * 2]
    path = "M" + " L".join(f"{x!r} {y!r}" for x, y in zip(values[::2], values[1::2], strict=True))
    moved = transform_path(path, (1, 0, 0, 1, 0, 0))
    assert moved.replace("M", "").replace("L", "").split() == [number_text(one) for one in values]


def sewn(design: Design) -> list[np.ndarray]:
    """The needle points of each object."""
    entries = plan(design).entries
    assert all(entry.sewn is not None for entry in entries)
    return [entry.sewn.xy for entry in entries if entry.sewn is not None]


def sew_again(*_: object) -> Needle:
    """What no move may ask for."""
    raise AssertionError


@pytest.mark.parametrize("way", [(0.2, 0.1), (-31.41592, 27.18281), (1e3 / 3, -1e3 / 7)])
def test_a_design_that_is_moved_is_sewn_where_it_goes_and_not_again(
    way: tuple[float, float], monkeypatch: pytest.MonkeyPatch
) -> None:
    design = crest()
    with working_in(Store()):
        before = sewn(design)
        moved = transform_objects(design, {item.id for item in design.objects}, (1, 0, 0, 1, *way))
        for kind in {kind_name(item.cover) for item in design.objects}:
            monkeypatch.setitem(GENERATORS, kind, dataclasses.replace(GENERATORS[kind], sew=sew_again))
        after = sewn(moved)
    assert len(before) == len(after) == len(design.objects)
    for here, there in zip(before, after, strict=True):
        assert np.abs(there - here - np.round(way, 4)).max() < 1e-9


@pytest.mark.parametrize("name", ["comb", "crescent", "S band"])
@pytest.mark.parametrize("cover", [Fill(angle=20.0, border="satin"), Satin()])
def test_copies_are_sewn_alike(name: str, cover: Fill | Satin) -> None:
    here = design_of((Area(SHAPES[name]), cover, "1001"))
    there = transform_objects(here, {here.objects[0].id}, (1, 0, 0, 1, 12.3456, -65.4321))
    one, other = plan(here), plan(there)
    (xy,), (its,) = sewn(here), sewn(there)
    assert np.abs(its - xy - (12.3456, -65.4321)).max() < 1e-9
    assert one.overlaps is not None and other.overlaps is not None
    edges = one.overlaps.regions[0], other.overlaps.regions[0]
    assert edges[0].area == pytest.approx(edges[1].area)
    assert np.allclose(np.array(edges[0].bounds) + np.tile((12.3456, -65.4321), 2), edges[1].bounds)


def test_what_is_refused_says_where_on_the_cloth() -> None:
    turning_back = Area(SHAPES["disc"], guide="M-30 0 C30 0 30 1 -30 1")
    here = design_of((turning_back, Fill(), "1001"))
    there = transform_objects(here, {here.objects[0].id}, (1, 0, 0, 1, 40.0, 7.0))
    (one,), (other,) = plan(here).failures, plan(there).failures
    assert one.place is not None and other.place is not None and one.sentence == other.sentence
    assert np.hypot(*one.place) < 25
    assert np.subtract(other.place, one.place) == pytest.approx([40.0, 7.0])


def test_a_pinned_end_goes_along() -> None:
    design = design_of((Area(SHAPES["star"]), Fill(), "1001"))
    item = design.objects[0]
    pinned = replace(design, objects=(replace(item, ends=replace(item.ends, entry=(0.0, -20.0), exit=(5.0, 9.0))),))
    moved = transform_objects(pinned, {item.id}, (1, 0, 0, 1, 10.00004, -3.0))
    (before,), (after,) = sewn(pinned), sewn(moved)
    assert np.abs(after - before - (10.0, -3.0)).max() < 1e-9
    assert np.hypot(*(after[0] - (10.0, -23.0))) < 1.0


def test_of_two_ends_that_are_equally_near_the_same_is_taken_anywhere() -> None:
    notched = (Area("M-5 -5 L5 -5 L5 5 L-5 5 L-5 2 L0 2 L0 -2 L-5 -2 Z"), Fill(), "1001")
    design = design_of((Line("M-20 0 L-9 0"), Run(), "1001"), notched, (Line("M-9 0 L-20 0"), Run(), "1001"))
    ids = {item.id for item in design.objects}
    chance = np.random.default_rng(1)
    first = choose_ends(design)[1]
    assert first.entry is not None and first.exit is not None
    assert np.abs([first.entry, first.exit]) == pytest.approx(np.array([(5.0, 2.0), (5.0, 2.0)]))
    for x, y in chance.uniform(-90, 90, (400, 2)).round(4).tolist():
        ends = choose_ends(transform_objects(design, ids, (1, 0, 0, 1, x, y)))[1]
        assert ends.entry is not None and ends.exit is not None
        assert np.array([ends.entry, ends.exit]) - (x, y) == pytest.approx(np.array([first.entry, first.exit]))
