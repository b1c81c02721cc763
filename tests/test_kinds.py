"""Every kind of cover and underlay is declared whole: nothing that it needs elsewhere is forgotten."""

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec import Struct

from jontel.data import find_ground, grounds
from jontel.design import Area, Column, Fill, Line, Satin, StitchObject, resolve
from jontel.design.kinds import COVERS, UNDERLAYS, Kind, UnderlayValues, kind_name, kind_of
from jontel.design.kinds.section import Cut
from jontel.design.kinds.values import value_of, values_of
from jontel.design.paths import commands
from jontel.stitching.covers import GENERATORS
from jontel.stitching.engine import drawn_width, sewn_edge, stitch
from jontel.stitching.underlays import UNDERLAYS as PASSES
from tests.conftest import box_path

SHAPES = {
    "area": Area(box_path(0, 0, 20, 3)),
    "line": Line("M0 0 L20 2", 3.0),
    "column": Column("M0 0 L20 0", "M0 3 L20 3"),
}
CUT = Cut(5.0, 0.3, 0.4)


@pytest.mark.parametrize("kind", COVERS, ids=lambda kind: kind.name)
def test_a_cover_has_all_that_is_asked_of_it(kind: Kind) -> None:
    assert kind.name in GENERATORS and set(GENERATORS) == {one.name for one in COVERS}
    assert kind.recipe.__struct_fields__ == kind.pins.__struct_fields__
    assert kind_of(kind.pins()) is kind_of(kind.recipe()) is kind
    assert len(list(commands(kind.traits.icon))) > 1 and kind.traits.title
    recipe = kind.recipe()
    assert kind.traits.section(recipe, CUT) and kind.traits.summary(recipe, lambda mm: f"{mm:.2f} mm")
    assert [one.field for one in values_of(kind.recipe)] == list(kind.recipe.__struct_fields__), "all have controls"
    assert all(getattr(kind.pins(), field) is None for field in kind.pins.__struct_fields__)
    assert set(kind.traits.directed_by) <= kind.traits.lies_on <= set(SHAPES)


@pytest.mark.parametrize("kind", COVERS, ids=lambda kind: kind.name)
@pytest.mark.parametrize("ground", grounds(), ids=lambda ground: ground.name)
def test_a_cover_sews_on_every_shape_it_lies_on(kind: Kind, ground: object) -> None:
    for shape in kind.traits.lies_on:
        item = StitchObject(id=1, name="it", thread="1001", shape=SHAPES[shape], cover=kind.pins())
        whole = resolve(item, ground)  # type: ignore[arg-type]
        assert len(stitch(whole)) > 3
        assert sewn_edge(whole).is_empty != kind.traits.hides
        assert (drawn_width(whole) > 0) == kind.traits.takes_underlay


@pytest.mark.parametrize("one", UNDERLAYS, ids=lambda one: one.__name__)
def test_an_underlay_has_all_that_is_asked_of_it(one: type[UnderlayValues]) -> None:
    traits = UNDERLAYS[one]
    assert set(PASSES) == set(UNDERLAYS) and traits.title.lower() == kind_name(one())
    assert len(list(commands(traits.icon))) > 1 and traits.section(one(), CUT)
    assert {value.field for value in values_of(one)} == set(one.__struct_fields__)


def test_ranges_hold_the_defaults_and_pins_have_the_ranges_of_their_recipe() -> None:
    structs: list[type[Struct]] = [kind.recipe for kind in COVERS] + list(UNDERLAYS) + [Line]
    for struct in structs:
        plain = struct("M0 0 L1 1") if struct is Line else struct()
        for value in values_of(struct):
            if value.sort == "number":
                assert value.low < value.high and value.low <= getattr(plain, value.field) <= value.high
            if value.sort == "word":
                assert getattr(plain, value.field) in value.options
    assert value_of(Fill, "spacing") == value_of(type(find_ground("Jersey").recipe(Fill)), "spacing")


@given(st.floats(allow_nan=False), st.sampled_from([Fill, Satin]))
def test_a_file_holds_a_spacing_only_within_its_range(spacing: float, kind: type[Struct]) -> None:
    value = value_of(kind, "spacing")
    text = msgspec.json.encode({"type": kind.__struct_config__.tag, "spacing": spacing})
    if value.low <= spacing <= value.high:
        assert msgspec.json.decode(text, type=kind).spacing == pytest.approx(spacing)  # type: ignore[attr-defined]
    elif spacing not in (float("inf"), float("-inf")):
        with pytest.raises(msgspec.ValidationError):
            msgspec.json.decode(text, type=kind)
