"""Kinds that suit the size: asked for when what was scaled reads as something else, and for what was chosen by hand not."""

import pytest
from msgspec.structs import replace

from jontel.design import Area, Design, Fill, Line, Run, Satin
from jontel.design.edits import change_objects, locked_objects, transform_objects
from jontel.design.errors import CannotDo
from jontel.sewing.plan import plan
from jontel.shaping.suiting import outgrown, sewn_otherwise, suited, words_for
from tests.conftest import box_path, design_of

BAR, BLOCK = box_path(0, 0, 30, 3), box_path(0, 10, 30, 16)
RING = "M0 0 L30 0 L30 30 L0 30 Z M3 3 L27 3 L27 27 L3 27 Z"


def scaled(design: Design, factor: float) -> Design:
    return transform_objects(design, {item.id for item in design.objects}, (factor, 0, 0, factor, 0, 0))


@pytest.mark.parametrize(
    ("shape", "cover", "factor", "kind", "now"),
    [
        (Area(BAR), Satin(), 4.0, "fill", Fill),
        (Area(BLOCK), Fill(), 0.2, "satin", Satin),
        (Area(RING, "evenodd"), Satin(), 4.0, "fill", Fill),
        (Line("M0 0 L40 0", width=0.5), Run(), 3.0, "satin", Satin),
        (Line("M0 0 L40 0", width=1.6), Satin(), 0.3, "run", Run),
        (Line("M0 0 L40 0", width=5.0), Satin(), 3.0, "fill", Fill),
    ],
)
def test_what_is_scaled_out_of_its_kind_is_found_and_changed(shape, cover, factor, kind, now) -> None:  # type: ignore[no-untyped-def]
    before = design_of((shape, cover))
    after = scaled(before, factor)
    assert outgrown(before, after) == {1: kind}
    assert "“Object 1” is better sewn otherwise: 1 " + kind in words_for(after, {1: kind})
    made = sewn_otherwise(after, {1: kind})
    (item,) = made.objects
    assert isinstance(item.cover, now)
    sewn = plan(made)
    assert not sewn.failures and len(sewn) > 10
    assert outgrown(after, scaled(after, 1.02)) == {}


def test_who_chose_a_kind_against_the_size_is_not_asked() -> None:
    wide_satin = design_of((Area(BLOCK), Satin()), (Area(BAR), Fill()), (Line("M0 0 L9 0", width=3.0), Run()))
    for factor in (0.5, 0.9, 1.5, 3.0):
        assert outgrown(wide_satin, scaled(wide_satin, factor)) == {}


def test_nothing_is_asked_of_what_is_bent_locked_or_small_changed() -> None:
    before = design_of((Area(BAR), Satin()))
    bent = change_objects(before, {1}, lambda one: replace(one, shape=Area(box_path(0, 0, 30, 3.3))))
    assert outgrown(before, bent) == {}
    locked = locked_objects(before, {1})
    assert outgrown(locked, scaled(locked, 4.0)) == {}
    assert outgrown(before, scaled(before, 1.05)) == {}


def test_the_operation_changes_what_is_selected_or_says_that_all_suits() -> None:
    design = design_of((Area(BLOCK), Satin()), (Area(BAR), Fill()))
    made, ids = suited(design, frozenset({1, 2}), None)
    assert [type(one.cover) for one in made.objects] == [Fill, Satin] and ids == {1, 2}
    with pytest.raises(CannotDo, match="suits its size"):
        suited(made, frozenset({1, 2}), None)
