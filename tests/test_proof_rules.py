"""What would spoil a sew-out is told, mended by its fix, and not told of what is well."""

from pathlib import Path

import pytest
from bench import zoo
from msgspec.structs import replace

from jontel.data import find_ground, grounds, thread_chart
from jontel.demo import crest, name_bar
from jontel.design import Area, Cover, Design, Edges, Ends, Fill, Line, Run, Satin, Shape
from jontel.design.edits import change_objects, remove_objects, transform_objects, use_thread
from jontel.files.working import decode, encode
from jontel.sewing.plan import plan
from jontel.sewing.proof import Finding, proof, weighing
from jontel.sewing.proof.accepting import accept, taken_back, told_apart
from tests.conftest import box_path, design_of, ring_path
from tests.test_forecast import design_on

SQUARE = (Area(box_path(-10, -10, 20, 20)), Fill())
RIM = "M-10 -10 L10 -10 L10 10 L-10 10 Z"


def on(ground: str, *objects: tuple[Shape, Cover]) -> Design:
    """Objects on a ground."""
    return design_on(ground, *objects)


def told(design: Design, kind: str) -> list[Finding]:
    """The findings of a kind."""
    return [one for one in proof(design, plan(design)) if one.kind == kind]


def mended(design: Design, kind: str) -> Design:
    """The design with the first fix of a finding, after which nobody finds it again."""
    (finding, *_) = told(design, kind)
    assert finding.sentence.endswith(".") and finding.fixes
    fixed = finding.fixes[0].edit(design)
    assert not told(fixed, kind)
    return fixed


def line(width: float) -> Line:
    """A level line."""
    return Line("M-30 0 L30 0", width)


@pytest.mark.parametrize("demo", [crest, name_bar])
def test_the_demo_has_no_finding(demo) -> None:  # type: ignore[no-untyped-def]
    design = demo()
    assert not proof(design, plan(design))


@pytest.mark.parametrize("name", [ground.name for ground in grounds()])
def test_an_ordinary_patch_has_no_finding_on_any_ground(name: str) -> None:
    design = on(name, SQUARE, (Line(RIM, 3.0), Satin()))
    design = use_thread(design, {1, 2}, thread_chart()[5])
    assert [one.kind for one in proof(design, plan(design)) if one.kind not in ("like the ground",)] == []


def test_rows_that_turn_less_than_they_are_asked_to() -> None:
    def leaning(apart: float) -> Area:
        return Area(box_path(-15, -10, 30, 20), lines=zoo.leaning(90.0, apart))

    (finding,) = told(on("Denim", (leaning(12.0), Fill())), "held back")
    assert "direction lines" in finding.sentence and "°" in finding.sentence and finding.severity == "look"
    assert not told(on("Denim", (leaning(22.0), Fill())), "held back")
    assert not told(on("Denim", (leaning(12.0), Satin())), "held back")


def test_satins_too_wide_and_too_narrow() -> None:
    assert isinstance(mended(on("Denim", (line(21.0), Satin())), "wide satin").objects[0].cover, Fill)
    assert told(on("Denim", (line(21.0), Satin())), "wide satin")[0].severity == "spoils"
    assert isinstance(mended(on("Denim", (line(0.5), Satin())), "narrow satin").objects[0].cover, Run)
    for width in (1.2, 4.0, 9.0):
        design = on("Denim", (line(width), Satin()))
        assert not told(design, "wide satin") and not told(design, "narrow satin")
    assert not told(on("Denim", (line(21.0), Satin(wide="filled"))), "wide satin")


def test_rows_too_open_where_nothing_says_that_it_is_meant() -> None:
    assert mended(on("Denim", (SQUARE[0], Fill(spacing=0.6))), "too open").objects[0].cover.spacing is None  # type: ignore[union-attr]
    for cover in (Fill(), Fill(spacing=0.45), Fill(spacing=1.2), Fill(spacing=0.6, fade="linear")):
        assert not told(on("Denim", (SQUARE[0], cover)), "too open")
    assert told(on("Denim", (SQUARE[0], Fill(spacing=0.15))), "too dense")


def test_grounds_without_what_holds_them() -> None:
    def without(name: str, **values: str) -> Design:
        design = on(name, SQUARE)
        return replace(design, brief=replace(design.brief, ground=replace(find_ground(name), **values)))

    assert mended(without("Fleece, towelling", topping="none"), "no film").brief.ground.topping != "none"
    assert mended(without("Jersey T-shirt", backing="tear-away"), "no backing").brief.ground.backing == "cut-away"
    assert mended(without("Woven twill", backing="none"), "no backing").brief.ground.backing == "tear-away"
    for ground in grounds():
        design = on(ground.name, SQUARE)
        assert not told(design, "no film") and not told(design, "no backing")


def test_borders_before_and_beside_what_they_border() -> None:
    border = (Line(RIM, 3.0), Satin())
    first = mended(on("Denim", border, SQUARE), "border first")
    assert [item.id for item in first.objects] == [2, 1]
    beside = (Line("M-11.8 -11.8 L11.8 -11.8 L11.8 11.8 L-11.8 11.8 Z", 3.0), Satin())
    assert told(on("Denim", SQUARE, beside), "border beside")
    right = on("Denim", SQUARE, border)
    assert not told(right, "border first") and not told(right, "border beside")
    across = on("Denim", (Line("M-30 0 L30 0 L30 1 Z", 2.0), Satin()), SQUARE)
    assert not told(across, "border first")


def test_thread_that_piles_up_and_needle_points_that_crowd() -> None:
    pile = tuple((Area(ring_path(13.5 - 1.3 * k)), Fill(angle=30.0 * k, spacing=0.3)) for k in range(8))
    (finding,) = told(on("Denim", *pile), "layers")
    assert len(finding.objects) >= 6 and finding.place is not None and abs(finding.place[0]) < 12
    assert not told(finding.fixes[0].edit(on("Denim", *pile)), "layers")
    assert not told(on("Denim", *pile[:4]), "layers")
    star = "M-10 0 L10 0 " * 24
    assert told(on("Denim", (Line(star), Run(length=3.0))), "crowded")
    assert not told(on("Denim", SQUARE), "crowded")


def test_lace_that_falls_apart() -> None:
    ring = (Line(ring_path(10), 3.0), Satin())
    loose = on("Water-soluble film", ring, (Area(box_path(-3, -3, 6, 6)), Fill()))
    (finding,) = told(loose, "loose lace")
    assert finding.severity == "spoils" and finding.objects == (2,) and "2 pieces" in finding.sentence
    held = on(
        "Water-soluble film", ring, (Area(box_path(-3, -3, 6, 6)), Fill()), (Line("M-10 0 L10 0", 1.5), Satin())
    )
    assert not told(held, "loose lace") and not told(on("Denim", ring, SQUARE), "loose lace")


def test_stops_without_a_word_and_ends_without_a_lock() -> None:
    def ends(**values: object) -> Design:
        return change_objects(on("Denim", SQUARE), {1}, lambda item: replace(item, ends=Ends(**values)))  # type: ignore[arg-type]

    assert told(ends(stop=""), "stop without a word") and told(ends(stop_before=" "), "stop without a word")
    assert not told(ends(stop="Lay the felt"), "stop without a word")
    assert mended(ends(lock_out="never"), "no lock").objects[0].ends.lock_out == "auto"
    assert mended(ends(lock_in="never"), "no lock")


def test_near_objects_cut_apart_can_be_joined() -> None:
    boxes = tuple((Area(box_path(7.0 * k - 20, 0, 5, 5)), Fill()) for k in range(6))
    one_thread = lambda design: use_thread(design, {item.id for item in design.objects}, thread_chart()[5])  # noqa: E731
    joined = mended(one_thread(on("Denim", *boxes)), "needless cuts")
    assert len({item.strand.id for item in joined.objects if item.strand}) == 1
    far = tuple((Area(box_path(30.0 * k - 40, 0, 5, 5)), Fill()) for k in range(3))
    assert not told(one_thread(on("Denim", *far)), "needless cuts")
    assert not told(on("Denim", *boxes), "needless cuts")  # each in another thread


def test_threads_like_the_ground_but_not_where_others_set_them_off() -> None:
    ground = find_ground("Woven twill")
    like = min(
        thread_chart(), key=lambda one: sum(abs(a - b) for a, b in zip(one.rgb, (0xD9, 0xCF, 0xBD), strict=True))
    )
    pale = replace(like, colour=ground.colour)
    design = use_thread(on("Woven twill", SQUARE), {1}, pale)
    assert told(design, "like the ground")
    dark = use_thread(on("Woven twill", (Area(ring_path(20)), Fill(angle=40)), SQUARE), {2}, pale)
    assert not told(use_thread(dark, {1}, thread_chart()[5]), "like the ground")


def test_travel_on_top_is_told() -> None:
    design = on("Denim", SQUARE)
    assert not told(design, "exposed travel")
    edges = change_objects(design, {1}, lambda item: replace(item, edges=Edges(pull=0.0)))
    assert not told(edges, "exposed travel")


def test_an_accepted_finding_is_remembered_with_the_design_until_its_objects_are_gone() -> None:
    design = design_of(*((Area(box_path(20 * k, 0, 12, 12)), Fill(spacing=0.15)) for k in range(2)))
    found = [one for one in proof(design, plan(design)) if one.kind == "too dense"]
    assert [one.objects for one in found] == [(1,), (2,)]
    made = decode(encode(accept(design, found[0])), "x.jontel")
    counts, accepted = told_apart(proof(made, plan(made)), made)
    assert [one.objects for one in accepted] == [(1,)]
    assert [one.objects for one in counts if one.kind == "too dense"] == [(2,)]
    moved = transform_objects(made, {1}, (1, 0, 0, 1, 3, 3))
    assert told_apart(proof(moved, plan(moved)), moved)[1], "wherever it lies"
    back = taken_back(made, accepted[0])
    assert back.accepted == () and told_apart(proof(back, plan(back)), back)[1] == ()
    gone = accept(remove_objects(made, {1}), found[1])
    assert [one.objects for one in gone.accepted] == [(2,)]
    assert accept(made, found[0]) == made, "once is enough"


@pytest.mark.parametrize(
    ("ground", "severity"), [("Leather, vinyl", "spoils"), ("Woven twill", "look"), ("Jersey T-shirt", "look")]
)
def test_rows_too_dense_are_a_flaw_on_cloth_and_a_cut_in_leather(ground: str, severity: str) -> None:
    design = design_of((Area(box_path(0, 0, 12, 12)), Fill(spacing=0.15)), ground=ground)
    (dense,) = [one for one in proof(design, plan(design)) if one.kind == "too dense"]
    assert dense.severity == severity


def test_what_weighs_more_on_some_cloth_is_something_that_a_rule_says() -> None:
    rules = "".join(
        path.read_text() for path in Path(weighing.__file__).parent.glob("*.py") if "weighing" not in path.name
    )
    for kinds in weighing.SPOILS.values():
        assert all(f'"{kind}"' in rules for kind in kinds)


def test_thread_that_is_carried_over_open_cloth_is_told_and_cut() -> None:
    boxes = ((Area(box_path(30.0 * k, 0, 8, 8)), Fill(), "1001") for k in range(2))
    design = design_of(*boxes)
    assert not told(design, "open float")
    carried = change_objects(design, {1}, lambda item: replace(item, ends=replace(item.ends, trim="never")))
    (float_,) = told(carried, "open float")
    assert float_.objects == (2,) and float_.place is not None and 8 < float_.place[0] < 30
    assert "2" in float_.sentence
    mended(carried, "open float")
    inside = design_of((Line("M0 0 L10 0 M40 0 L50 0", 0.4), Run()))
    kept = change_objects(inside, {1}, lambda item: replace(item, ends=replace(item.ends, leave=50.0)))
    assert [one.objects for one in told(kept, "open float")] == [(1,)]
    mended(kept, "open float")
    sunk = replace(kept, connections=replace(kept.connections, sink_over=4.0))
    assert not told(sunk, "open float"), "the needle goes down on the way"
