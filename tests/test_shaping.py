"""What is done to shapes: combined, cut, grown, copied, placed, made other kinds; measured on the cloth they cover."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from jontel.artwork.digitize import read_drawing
from jontel.data import thread_chart
from jontel.design import Area, Column, Design, Fill, Line, Run, Satin, StitchObject
from jontel.design.edits import (
    grouped_together,
    hidden_objects,
    locked_objects,
    released,
    remove_objects,
    shown,
    transform_objects,
    unlocked,
    use_thread,
    with_groups,
)
from jontel.design.errors import CannotDo, JontelError
from jontel.design.lettering import Lettering
from jontel.design.paths import ellipse_path
from jontel.design.shapes import Shape
from jontel.files import working
from jontel.geometry.combining import combined, drawn_again, fine_region, grown
from jontel.geometry.nodes import Chain, chains_of, path_through
from jontel.geometry.polyline import flatten
from jontel.lettering.fonts import open_font, shipped_fonts
from jontel.lettering.setting import set_in
from jontel.sewing.plan import plan
from jontel.sewing.proof import proof
from jontel.shaping.clipping import TakeOver, put_in, svg_of, taken_out, taken_over
from jontel.shaping.copying import Along, Circle, Rows
from jontel.shaping.joining import Reach
from jontel.shaping.operations import OPERATIONS, operation
from jontel.shaping.outlines import chains_in, region_in, with_chains
from jontel.shaping.outlining import Offset, RoundOff, Simplify
from jontel.shaping.placing import Align, Distribute, Mirror, Turn, box_of
from tests.conftest import box_path, design_of

ALL = frozenset(range(1, 20))


def do(
    design: Design, name: str, values: object = None, ids: frozenset[int] | set[int] = ALL
) -> tuple[Design, frozenset[int]]:
    """An operation by its name, with its own values unless others are given."""
    one = operation(name)
    made = values if values is not None else one.values() if one.values is not None else None
    chosen = frozenset(item.id for item in design.objects if item.id in ids)
    return one.apply(design, chosen, made)  # type: ignore[arg-type]


def cloth(item: StitchObject) -> shapely.MultiPolygon:
    """What an object covers."""
    return region_in(item)


def glyphs() -> list[str]:
    """Outlines of letters with holes and curves, of every shipped font."""
    found = []
    for font in shipped_fonts():
        words = Lettering("aR&8", font.name, height=20.0, place=(1.0, 0.0, 0.0, 1.0, 3.0, 5.0))
        found += [path for _, path in set_in(words, open_font(font.name)).letters]
    return found


def blob_path(seed: int) -> str:
    """A round outline with a hole."""
    rng = np.random.default_rng(seed)
    t = np.linspace(0, 2 * np.pi, 400, endpoint=False)
    far = 12 + sum(rng.uniform(0, 1.6) * np.cos(k * t + rng.uniform(0, 7)) for k in range(2, 6))
    ring = np.column_stack([far * np.cos(t), far * np.sin(t)]) + rng.uniform(-6, 6, 2)
    region = shapely.Polygon(ring, [0.35 * ring + 0.65 * ring.mean(axis=0)])
    return drawn_again(region)


def test_what_is_drawn_again_covers_the_same_cloth_with_few_nodes() -> None:
    for path in [*glyphs(), *(blob_path(k) for k in range(12)), ellipse_path(0, 0, 20, 7), box_path(0, 0, 9, 4)]:
        region = fine_region(Area(path))
        again = drawn_again(region)
        there = fine_region(Area(again))
        assert shapely.hausdorff_distance(there.boundary, region.boundary) < 0.03
        assert shapely.symmetric_difference(there, region).area < 0.012 * region.length
        nodes, before = (sum(len(chain) for chain in chains_of(one)) for one in (again, path))
        assert nodes <= max(2.5 * before, 24)


@given(st.integers(0, 300), st.integers(0, 300), st.sampled_from(["Unite", "Subtract", "Intersect", "Exclude"]))
@settings(max_examples=16)
def test_areas_are_combined_as_sets_of_places(one: int, other: int, name: str) -> None:
    design = design_of((Area(blob_path(one)), Fill()), (Area(blob_path(other)), Satin()))
    first, second = (cloth(item) for item in design.objects)
    wanted = combined(
        first,
        [second],
        {"Unite": "union", "Subtract": "difference", "Intersect": "intersection", "Exclude": "exclude"}[name],  # type: ignore[arg-type]
    )
    if wanted.area < 0.5:
        return
    made, ids = do(design, name)
    (item,) = made.objects
    assert ids == {1} and isinstance(item.cover, Fill) and item.thread == design.objects[0].thread
    assert shapely.symmetric_difference(cloth(item), wanted).area < 0.012 * wanted.length + 0.05
    assert not plan(made).failures


def test_what_leaves_nothing_is_refused_and_says_so() -> None:
    apart = design_of((Area(box_path(0, 0, 5, 5)), Fill()), (Area(box_path(20, 0, 5, 5)), Fill()))
    with pytest.raises(CannotDo, match="Nothing would be left"):
        do(apart, "Intersect")
    over = design_of((Area(box_path(0, 0, 5, 5)), Fill()), (Area(box_path(-1, -1, 9, 9)), Fill()))
    with pytest.raises(CannotDo, match="Nothing would be left"):
        do(over, "Subtract")


def test_a_line_cuts_what_it_crosses_and_goes() -> None:
    design = design_of(
        (Area(ellipse_path(0, 0, 10, 10)), Fill()),
        (Area(box_path(20, -5, 10, 10)), Fill()),
        (Line("M-12 1 L32 -1"), Run()),
    )
    made, ids = do(design, "Slice")
    assert len(made.objects) == 4 and ids == {item.id for item in made.objects}
    assert sum(cloth(item).area for item in made.objects) == pytest.approx(math.pi * 100 + 100, rel=1e-3)
    assert [item.name for item in made.objects] == ["Object 1 1", "Object 1 2", "Object 2 1", "Object 2 2"]
    short = design_of((Area(ellipse_path(0, 0, 10, 10)), Fill()), (Line("M-3 0 L3 0"), Run()))
    with pytest.raises(CannotDo, match="rim to rim"):
        do(short, "Slice")


def test_pieces_are_taken_apart_as_drawn_and_put_together_again() -> None:
    path = f"{box_path(0, 0, 10, 10)} {box_path(3, 3, 4, 4)} {box_path(20, 0, 6, 6)}"
    design = design_of((Area(path, "evenodd"), Fill()))
    made, ids = do(design, "Take apart")
    assert [round(cloth(item).area, 2) for item in made.objects] == [84.0, 36.0]
    assert [path_through(chains_in(item.shape)) for item in made.objects][1] == box_path(20, 0, 6, 6)
    again, _ = do(made, "Combine", ids=ids)
    assert cloth(again.objects[0]).area == pytest.approx(120.0)
    lines = design_of((Line("M0 0 L5 0 M10 0 L15 0"), Run()))
    assert len(do(lines, "Take apart")[0].objects) == 2


def test_holes_are_filled_and_outer_rings_stay_as_they_are_drawn() -> None:
    ring = f"{ellipse_path(0, 0, 10, 10)} {ellipse_path(0, 0, 4, 4)}"
    made, _ = do(design_of((Area(ring, "evenodd"), Fill())), "Fill holes")
    assert made.objects[0].shape.path == ellipse_path(0, 0, 10, 10)  # type: ignore[union-attr]
    for path in glyphs():
        region = fine_region(Area(path))
        if not any(part.interiors for part in region.geoms):
            continue
        filled, _ = do(design_of((Area(path), Fill())), "Fill holes")
        whole = shapely.union_all([shapely.Polygon(part.exterior) for part in region.geoms])
        assert shapely.symmetric_difference(cloth(filled.objects[0]), whole).area < 0.02 * whole.length
    with pytest.raises(CannotDo, match="has a hole"):
        do(design_of((Area(box_path(0, 0, 5, 5)), Fill())), "Fill holes")


@pytest.mark.parametrize("by", [0.5, 2.0, 6.0, -0.8, -2.0])
def test_outlines_are_offset_by_what_is_asked(by: float) -> None:
    for path in (ellipse_path(0, 0, 12, 7), box_path(0, 0, 20, 12), blob_path(4)):
        design = design_of((Area(path), Fill()))
        try:
            made, ids = do(design, "Offset", Offset(by=by))
        except CannotDo:
            assert grown(cloth(design.objects[0]), by).is_empty
            continue
        fresh = next(item for item in made.objects if item.id in ids)
        outline = shapely.MultiLineString([one.loop() for one in flatten(fresh.shape.path, 0.001)])  # type: ignore[union-attr]
        rim = cloth(design.objects[0]).boundary
        far = [rim.distance(shapely.Point(*xy)) for xy in shapely.get_coordinates(outline)]
        assert max(abs(one - abs(by)) for one in far) < 0.03


def test_halo_lines_are_sewn_from_the_outside_in_each_with_the_next_thread() -> None:
    design = design_of((Area(ellipse_path(0, 0, 8, 8)), Fill()))
    for thread in thread_chart()[3:6]:
        design = replace(design, brief=replace(design.brief, threads=(*design.brief.threads, thread)))
    made, ids = do(design, "Offset", Offset(by=1.5, copies=3, lines=True, threads=True))
    halo = made.objects[:3]
    assert ids == {item.id for item in halo} and made.objects[3].id == 1
    assert [isinstance(item.shape, Line) for item in halo] == [True] * 3
    sizes = [box_of([item])[2] for item in halo]
    assert sizes == pytest.approx([12.5, 11.0, 9.5], abs=0.02)
    assert len({item.thread for item in halo}) == 3


def test_corners_are_rounded_and_nodes_thinned_on_objects() -> None:
    design = design_of((Area(box_path(0, 0, 20, 10)), Fill()), (Line("M0 20 L10 20 L10 30"), Run()))
    made, _ = do(design, "Round corners", RoundOff(radius=2.0))
    assert cloth(made.objects[0]).area == pytest.approx(200 - (4 - math.pi) * 4, abs=0.02)
    assert "C" in made.objects[1].shape.path  # type: ignore[union-attr]
    dense = design_of((Area("M0 0 L2 0 L4 0 L6 0 L10 0 L10 10 L0 10 L0 3 Z"), Fill()))
    few, _ = do(dense, "Simplify", Simplify(within=0.05))
    assert len(chains_in(few.objects[0].shape)[0]) == 4


def test_lower_neighbours_reach_under_upper_ones_and_nothing_else_changes() -> None:
    design = design_of(
        (Area(box_path(0, 0, 10, 10)), Fill()),
        (Area(box_path(10, 0, 10, 10)), Fill()),
        (Area(box_path(40, 0, 5, 5)), Fill()),
    )
    made, _ = do(design, "Reach under", Reach(by=0.8))
    lower, upper, far = made.objects
    left, top, right, low = box_of([lower])
    assert (left, top, low) == pytest.approx((0, 0, 10), abs=0.01) and right == pytest.approx(10.8, abs=0.25)
    assert upper == design.objects[1] and far == design.objects[2]
    gap = design_of((Area(box_path(0, 0, 10, 10)), Fill()), (Area(box_path(10.3, 0, 10, 10)), Fill()))
    with pytest.raises(CannotDo, match="beside something"):
        do(gap, "Reach under", Reach(by=0.8, gap=0.1))
    closed, _ = do(gap, "Reach under", Reach(by=0.8, gap=0.4))
    both = shapely.union(cloth(closed.objects[0]), cloth(closed.objects[1]))
    assert len(getattr(both, "geoms", [both])) == 1


# copies and places


def test_copies_stand_in_rows_without_touching() -> None:
    design = design_of((Area(box_path(0, 0, 6, 4)), Fill()))
    made, ids = do(design, "Array", Rows(across=3, down=2, gap_across=1.0, gap_down=2.0))
    boxes = sorted(tuple(box_of([item])[:2].round(3).tolist()) for item in made.objects)
    assert boxes == [(0, 0), (0, 6), (7, 0), (7, 6), (14, 0), (14, 6)] and len(ids) == 6
    assert len({item.id for item in made.objects}) == 6


def test_copies_stand_round_a_centre() -> None:
    design = design_of((Area(box_path(9, -1, 2, 2)), Fill()))
    made, _ = do(design, "Round a centre", Circle(count=8))
    middles = [(box_of([item])[:2] + box_of([item])[2:]) / 2 for item in made.objects]
    assert [float(np.hypot(*m)) for m in middles] == pytest.approx([10.0] * 8, abs=1e-3)
    angles = sorted(math.degrees(math.atan2(-m[1], m[0])) % 360 for m in middles)
    assert np.diff(angles) == pytest.approx([45.0] * 7, abs=0.01)
    still, _ = do(design, "Round a centre", Circle(count=4, turn=False))
    assert all(box_of([item])[2] - box_of([item])[0] == pytest.approx(2.0, abs=1e-6) for item in still.objects)


def test_copies_stand_along_a_line_turned_with_it() -> None:
    design = design_of((Area(box_path(50, 50, 4, 2)), Fill()), (Line("M0 0 L30 0 L30 30"), Run()))
    made, ids = do(design, "Along a line", Along(count=5))
    assert len(made.objects) == 5 and ids == {item.id for item in made.objects}
    middles = [((box_of([i])[:2] + box_of([i])[2:]) / 2).tolist() for i in made.objects]
    assert middles == [pytest.approx(m, abs=0.15) for m in ([0, 0], [15, 0], [30, 0], [30, 15], [30, 30])]
    last = box_of([made.objects[-1]])
    assert (last[2] - last[0], last[3] - last[1]) == pytest.approx((2, 4), abs=0.01)


def test_sides_and_middles_are_lined_up_and_groups_move_as_one() -> None:
    design = design_of(*((Area(box_path(x, 3 * x, 4, 4)), Fill()) for x in (0, 10, 30)))
    left, _ = do(design, "Align", Align(side="left"))
    assert [box_of([i])[0] for i in left.objects] == pytest.approx([0, 0, 0])
    bottom, _ = do(design, "Align", Align(side="bottom", to="last"))
    assert [box_of([i])[3] for i in bottom.objects] == pytest.approx([94, 94, 94])
    hoop, _ = do(design, "Align", Align(side="middle", to="hoop"))
    assert [box_of([i])[[0, 2]].mean() for i in hoop.objects] == pytest.approx([0, 0, 0])
    together = grouped_together(design, {1, 2})
    moved, _ = do(together, "Align", Align(side="right"))
    assert [box_of([i])[2] for i in moved.objects] == pytest.approx([24, 34, 34])


def test_gaps_or_middles_are_made_even() -> None:
    design = design_of(*((Area(box_path(x, 0, w, 4)), Fill()) for x, w in ((0, 2), (4, 6), (30, 4))))
    made, _ = do(design, "Distribute", Distribute())
    boxes = [box_of([i]) for i in made.objects]
    assert boxes[1][0] - boxes[0][2] == pytest.approx(boxes[2][0] - boxes[1][2])
    assert (boxes[0][0], boxes[2][2]) == pytest.approx((0, 34))
    even, _ = do(design, "Distribute", Distribute(even="middles"))
    middles = [box_of([i])[[0, 2]].mean() for i in even.objects]
    assert middles[1] - middles[0] == pytest.approx(middles[2] - middles[1])


def test_turned_scaled_and_mirrored_by_numbers() -> None:
    design = design_of((Area(box_path(0, 0, 10, 4)), Fill(angle=0.0)))
    turned, _ = do(design, "Turn and scale", Turn(turn=90.0, across=200.0))
    box = box_of(list(turned.objects))
    assert (box[2] - box[0], box[3] - box[1]) == pytest.approx((4, 20), abs=1e-3)
    assert box[[0, 2]].mean() == pytest.approx(5) and abs(turned.objects[0].cover.angle) == pytest.approx(90)  # type: ignore[attr-defined]
    copy, ids = do(design, "Mirror", Mirror(axis="upright", through="right or lower side", gap=1.0, copy=True))
    assert len(copy.objects) == 2 and ids == {2}
    assert box_of([copy.objects[1]]) == pytest.approx(np.array([12, 0, 22, 4]))


# kinds of shapes


def test_shapes_become_others_and_cover_the_same_cloth() -> None:
    bar = design_of((Line("M0 0 L30 0", width=4.0), Satin()))
    area, _ = do(bar, "To area")
    assert isinstance(area.objects[0].shape, Area) and cloth(area.objects[0]).area == pytest.approx(120, rel=0.01)
    column, _ = do(area, "To column")
    item = column.objects[0]
    assert isinstance(item.shape, Column) and isinstance(item.cover, Satin)
    assert cloth(item).area == pytest.approx(120, rel=0.02)
    back, _ = do(column, "To area")
    assert isinstance(back.objects[0].shape, Area) and cloth(back.objects[0]).area == pytest.approx(120, rel=0.02)
    line, _ = do(back, "To line")
    assert isinstance(line.objects[0].shape, Line) and isinstance(line.objects[0].cover, Run)
    for one in (area, column, back, line):
        assert not plan(one).failures
    closed, _ = do(design_of((Line("M0 0 C5 -5 15 -5 20 0 L10 12"), Run())), "To area")
    assert closed.objects[0].shape.path.startswith("M0 0 C5 -5 15 -5 20 0 L10 12")  # type: ignore[union-attr]
    with pytest.raises(CannotDo, match="not one column"):
        do(design_of((Area("M-10 0 L10 0 L10 3 L1.5 3 L1.5 20 L-1.5 20 L-1.5 3 L-10 3 Z"), Satin())), "To column")


def test_a_border_becomes_an_object_of_its_own_with_its_values() -> None:
    design = design_of((Area(box_path(0, 0, 20, 12)), Fill(border="satin", border_width=3.0, border_spacing=0.5)))
    made, ids = do(design, "Border apart")
    fill, rim = made.objects
    assert ids == {rim.id} and fill.cover.border == "none"  # type: ignore[attr-defined]
    assert isinstance(rim.shape, Line) and rim.shape.width == 3.0 and rim.cover.spacing == 0.5  # type: ignore[attr-defined]
    before, after = plan(design), plan(made)
    assert not after.failures and len(after) == pytest.approx(len(before), rel=0.1)


def test_an_opened_outline_is_a_line_and_what_has_others_is_refused() -> None:
    item = design_of((Area(box_path(0, 0, 5, 5)), Fill())).objects[0]
    (chain,) = chains_in(item.shape)
    opened = with_chains(item, (replace_closed(chain),))
    assert isinstance(opened.shape, Line) and isinstance(opened.cover, Run)
    ring = replace(item, shape=Area(f"{box_path(0, 0, 9, 9)} {box_path(3, 3, 2, 2)}", "evenodd"))
    one, other = chains_in(ring.shape)
    with pytest.raises(CannotDo, match="other outlines"):
        with_chains(ring, (replace_closed(one), other))
    with pytest.raises(CannotDo, match="delete it"):
        with_chains(item, ())


def replace_closed(chain: Chain) -> Chain:
    """An open chain of the same nodes."""
    return Chain(chain.at, chain.before, chain.after, False)


def test_every_operation_leaves_a_design_that_sews_and_is_kept() -> None:
    shapes: tuple[tuple[Shape, object], ...] = (
        (Area(blob_path(1)), Fill(border="satin")),
        (Area(box_path(8, -4, 22, 3)), Satin()),
        (Column("M0 20 L20 20", "M0 24 L20 26"), Satin()),
        (Line("M-25 -3 C-10 8 10 8 45 2"), Run()),
    )
    design = design_of(*shapes)  # type: ignore[arg-type]
    done = 0
    for one in OPERATIONS:
        for ids in (ALL, {1}, {3}, {4}, {1, 2}):
            chosen = frozenset(item.id for item in design.objects if item.id in ids)
            if len(chosen) < one.least:
                continue
            try:
                made, fresh = one.apply(design, chosen, one.values() if one.values else None)
            except CannotDo as refused:
                assert str(refused).endswith((".", "it."))
                continue
            done += 1
            assert fresh <= {item.id for item in made.objects}
            assert not plan(made).failures, (one.name, ids)
            assert working.decode(working.encode(made), "again") == made
    assert done > 40


def test_words_and_monograms_and_shared_underlays_are_not_bent() -> None:
    words = design_of((Area(box_path(0, 0, 5, 5)), Fill()))
    item = replace(words.objects[0], lettering=Lettering("A", shipped_fonts()[0].name))
    with pytest.raises(CannotDo, match="break them into letters"):
        do(replace(words, objects=(item,)), "Round corners")
    locked = locked_objects(words, {1})
    with pytest.raises(CannotDo, match="is locked"):
        do(locked, "Simplify")


# hidden, locked, grouped


def test_what_is_hidden_is_not_sewn_hides_nothing_and_is_told_of() -> None:
    design = design_of(*((Area(box_path(x, 0, 8, 8)), Fill()) for x in (0, 12, 24)))
    made = hidden_objects(design, {2})
    sewn = plan(made)
    assert set(np.unique(sewn.object)) == {1, 3, -1} or set(np.unique(sewn.object)) == {1, 3}
    without = plan(remove_objects(design, {2}))
    assert np.array_equal(sewn.xy, without.xy)
    findings = [one for one in proof(made, sewn) if one.kind == "hidden"]
    assert len(findings) == 1 and "“Object 2” is hidden" in findings[0].sentence
    assert findings[0].fixes[0].edit(made) == design and shown(made) == design
    over = hidden_objects(
        design_of((Area(box_path(0, 0, 8, 8)), Fill()), (Area(box_path(-1, -1, 12, 12)), Fill())), {2}
    )
    assert not [one for one in proof(over, plan(over)) if one.kind == "buried"]
    later = plan(shown(made), sewn)
    assert np.array_equal(later.xy, plan(design).xy)


def test_groups_are_made_released_and_kept() -> None:
    design = design_of(*((Area(box_path(x, 0, 4, 4)), Fill()) for x in (0, 10, 20)))
    made = grouped_together(design, {1, 3})
    assert with_groups(made, {1}) == {1, 3} and with_groups(made, {2}) == {2}
    assert working.decode(working.encode(made), "again") == made
    assert with_groups(released(made, {1, 3}), {1}) == {1}
    assert unlocked(locked_objects(design, {1, 2})) == design


# clipboard


def test_objects_go_to_another_design_with_their_threads_and_settings() -> None:
    source = use_thread(
        design_of((Area(box_path(0, 0, 9, 9)), Fill(angle=33.0)), (Line("M0 0 L9 9"), Run())), {1}, thread_chart()[5]
    )
    clip = taken_out(source, frozenset({1}))
    assert len(clip.objects) == 1 and [t.code for t in clip.brief.threads] == [thread_chart()[5].code]
    target = design_of((Area(box_path(50, 0, 9, 9)), Satin()))
    made, ids = put_in(target, working.decode(working.encode(clip), "clip"))
    fresh = made.objects[-1]
    assert ids == {fresh.id} and fresh.shape == source.objects[0].shape and fresh.cover == source.objects[0].cover
    assert made.thread(fresh.thread) == thread_chart()[5]
    there, _ = put_in(target, clip, (100.0, 50.0))
    assert box_of([there.objects[-1]]) == pytest.approx(np.array([95.5, 45.5, 104.5, 54.5]))


def test_a_thread_whose_code_means_another_here_gets_one_of_its_own() -> None:
    thread = thread_chart()[5]
    source = use_thread(design_of((Area(box_path(0, 0, 9, 9)), Fill())), {1}, thread)
    target = use_thread(design_of((Area(box_path(0, 0, 9, 9)), Fill())), {1}, replace(thread, colour="#123456"))
    made, _ = put_in(target, taken_out(source, frozenset({1})))
    assert made.thread(made.objects[-1].thread).colour == thread.colour
    assert made.thread(made.objects[0].thread).colour == "#123456"
    twice, _ = put_in(made, taken_out(source, frozenset({1})))
    assert len(twice.brief.threads) <= len(made.brief.threads) + 1
    assert working.decode(working.encode(twice), "again") == twice


def test_copies_of_groups_are_groups_of_their_own() -> None:
    design = grouped_together(design_of(*((Area(box_path(x, 0, 4, 4)), Fill()) for x in (0, 10))), {1, 2})
    made, ids = put_in(design, taken_out(design, frozenset({1, 2})))
    assert with_groups(made, {1}) == {1, 2} and with_groups(made, {min(ids)}) == ids
    assert working.decode(working.encode(made), "again") == made


def test_an_empty_clipboard_is_refused() -> None:
    design = design_of((Area(box_path(0, 0, 4, 4)), Fill()))
    with pytest.raises(CannotDo, match="holds no objects"):
        put_in(design, taken_out(design, frozenset()))


def test_shapes_go_to_other_programs_as_an_svg_of_their_size() -> None:
    shapes = (
        (Area(box_path(5, 5, 9, 9)), Fill()),
        (Line("M0 0 L30 0", width=4.0), Satin()),
        (Column("M0 20 L9 20", "M0 24 L9 24"), Satin()),
    )
    design = design_of(*shapes)  # type: ignore[arg-type]
    drawing = read_drawing(svg_of(taken_out(design, ALL)).encode(), "Pasted.svg")
    assert drawing.width == pytest.approx(38.0, abs=0.01) and not drawing.notes
    areas = [one for one in drawing.shapes if one.fill is not None]
    assert len(areas) == 2 and len(drawing.shapes) == 3
    assert fine_region(Area(areas[0].path)).area == pytest.approx(81.0, abs=0.05)


def test_settings_are_taken_over_as_far_as_the_shape_takes_them() -> None:
    design = design_of(
        (Area(box_path(0, 0, 9, 9)), Fill(angle=33.0)),
        (Area(box_path(20, 0, 9, 9)), Satin()),
        (Line("M0 0 L9 9"), Run()),
    )
    source, thread = design.objects[0], thread_chart()[7]
    made, _ = taken_over(source, thread, design, frozenset({2, 3}), TakeOver(thread=True))
    assert made.objects[1].cover == source.cover and made.objects[1].shape == design.objects[1].shape
    assert {made.objects[k].thread for k in (1, 2)} == {thread.code} and made.objects[0] == source
    with pytest.raises(CannotDo, match="Nothing is taken over"):
        taken_over(source, thread, design, frozenset({1}), TakeOver())


def test_a_moved_design_is_shaped_the_same() -> None:
    """Where a shape lies changes nothing of what is made of it."""
    design = design_of((Area(blob_path(3)), Fill()), (Area(blob_path(8)), Fill()))
    far = transform_objects(design, {1, 2}, (1, 0, 0, 1, 200, -150))
    for name in ("Unite", "Exclude"):
        here, there = do(design, name)[0], do(far, name)[0]
        moved = transform_objects(here, {1}, (1, 0, 0, 1, 200, -150))
        assert shapely.symmetric_difference(cloth(moved.objects[0]), cloth(there.objects[0])).area < 0.3


ODD: tuple[tuple[Shape, object], ...] = (
    (Area(""), Fill()),
    (Area("M0 0 L0 0 Z"), Satin()),
    (Area("M0 0 L10 0"), Fill()),
    (Area("M0 0 L10 10 L10 0 L0 10 Z"), Fill()),
    (Area(box_path(0, 0, 0.05, 0.05)), Fill()),
    (Area(box_path(-9000, -9000, 100, 100)), Fill()),
    (Area("M0 0 C100 100 -100 100 0 0 Z"), Fill()),
    (Line(""), Run()),
    (Line("M0 0 L0.001 0"), Run()),
    (Line("M0 0 L10 0 L0 0"), Satin()),
    (Line("M0 0 L5 0 M9 9 L20 20"), Run()),
    (Line(ellipse_path(0, 0, 10, 5)), Satin()),
    (Column("M0 0 L20 0", "M20 5 L0 5"), Satin()),
    (Column(ellipse_path(0, 0, 20, 20), ellipse_path(0, 0, 10, 10)), Satin()),
    (Column("M0 0 L0 0", "M0 0 L1 1"), Satin()),
    (Column("", ""), Satin()),
)


@pytest.mark.parametrize("number", range(len(ODD)))
def test_odd_shapes_are_refused_in_a_sentence_or_done_and_kept(number: int) -> None:
    other = ODD[(number * 7 + 3) % len(ODD)]
    design = design_of(ODD[number], (Area(box_path(2, -3, 12, 9)), Fill()), other)  # type: ignore[arg-type]
    for one in OPERATIONS:
        for ids in ({1}, {1, 2}, {1, 2, 3}):
            if len(ids) < one.least:
                continue
            try:
                made, _ = one.apply(design, frozenset(ids), one.values() if one.values else None)
            except JontelError as refused:
                assert str(refused)
            else:
                assert working.decode(working.encode(made), "again") == made
    clip = taken_out(design, ALL)
    assert svg_of(clip).endswith("</svg>\n")
    assert len(put_in(design, clip)[0].objects) == 6
