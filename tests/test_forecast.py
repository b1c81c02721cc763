"""The forecast: the sheet against what is known in closed form, cloth as the trade knows it, edges solved."""

import json
import math
from pathlib import Path

import numpy as np
import pytest
import shapely
from click.testing import CliRunner
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from jontel.cli import cli
from jontel.data import find_ground, find_hoop, grounds, thread_chart
from jontel.design import Area, Brief, Cover, Design, Edges, Ends, Fill, Line, Run, Satin, Shape, StitchObject
from jontel.design.cloth import Cloth
from jontel.design.edits import add_objects, change_objects, reorder, transform_object, use_thread
from jontel.design.errors import CannotDo
from jontel.design.ground import Hoop
from jontel.files.working import decode, encode
from jontel.forecast.cloth import cloth_of
from jontel.forecast.findings import findings, roundness, seams
from jontel.forecast.forecast import Forecast, forecast
from jontel.forecast.sheet import Sheet, axis, sheet_for, stiffness
from jontel.forecast.showing import shown
from jontel.forecast.solving import missed, released, solved
from jontel.geometry.strokes import legs_of
from jontel.sewing.plan import plan
from jontel.sewing.solved import stale
from jontel.stitching.stitches import Kind
from tests.conftest import box_path, ring_path, star_path

PLAIN = Cloth(20.0, 20.0, 20.0 / 2.6, poisson=0.3, grain=30.0)


def design_on(
    ground: str, *items: tuple[Shape, Cover], edges: Edges | None = None, hoop: str = "100 x 100"
) -> Design:
    """Objects of one thread each on a ground; without compensation unless told."""
    bare = Edges(pull=0.0, push=0.0)
    chart = thread_chart()
    made = [
        StitchObject(id=0, name=f"Object {n + 1}", thread=chart[n].code, shape=s, cover=c, edges=edges or bare)
        for n, (s, c) in enumerate(items)
    ]
    return add_objects(Design(name="F", brief=Brief(find_ground(ground), find_hoop(hoop), chart)), made)


def column(width: float, length: float = 40.0, level: bool = False) -> Line:
    half = length / 2
    return Line(f"M{-half} 0 L{half} 0" if level else f"M0 {-half} L0 {half}", width)


def drawn_in(seen: Forecast, width: float, length: float = 40.0, level: bool = False) -> tuple[float, float]:
    """How far a column's edges move in about its middle, and its ends out, mm a side."""
    y = np.linspace(-length / 4, length / 4, 21)
    side = np.array([[s * width / 2, at] for s in (-1, 1) for at in y])
    end = np.array([[at, s * length / 2] for s in (-1, 1) for at in np.linspace(-width / 3, width / 3, 7)])
    along, across = (0, 1) if not level else (1, 0)
    side, end = (side[:, ::-1], end[:, ::-1]) if level else (side, end)
    inward = (seen.moved_rim(0, side) - side)[:, along] * -np.repeat([-1, 1], 21)
    outward = (seen.moved_rim(0, end) - end)[:, across] * np.repeat([-1, 1], 7)
    return float(inward.mean()), float(outward.mean())


# the sheet


def inclusion(sheet: Sheet, radius: float) -> np.ndarray:
    """How much of each element lies inside a circle about the middle."""
    xs, ys = (sheet.xs[1:] + sheet.xs[:-1]) / 2, (sheet.ys[1:] + sheet.ys[:-1]) / 2
    part = np.zeros(sheet.shape)
    for a in np.linspace(-0.45, 0.45, 10):
        for b in np.linspace(-0.45, 0.45, 10):
            x, y = xs + a * np.diff(sheet.xs), ys + b * np.diff(sheet.ys)
            part += (x[None] ** 2 + y[:, None] ** 2 < radius**2) / 100
    return part


@pytest.mark.parametrize("strain", [(-0.05, 0.02, 0.0), (0.03, 0.03, 0.0), (0.0, 0.0, 0.04), (-0.05, 0.0, 0.02)])
def test_a_round_inclusion_deforms_as_in_closed_form(strain: tuple[float, float, float]) -> None:
    sheet = sheet_for(PLAIN, Hoop("wide", 300, 300, 0), (-16, -16, 16, 16))
    laid = np.array(strain)[None, :, None, None] * inclusion(sheet, 10.0)
    field = sheet.moved(laid)[0]
    nu = 0.3 / 1.3  # of plane stress, in the formulas of plane strain
    along, across, shear = (5 - 4 * nu) / (8 * (1 - nu)), (4 * nu - 1) / (8 * (1 - nu)), (3 - 4 * nu) / (4 * (1 - nu))
    wanted = (along * strain[0] + across * strain[1], along * strain[1] + across * strain[0], shear * strain[2])
    d = sheet.at(field, np.array([[3.0, 0], [-3, 0], [0, 3], [0, -3]])) / 6
    got = (d[0, 0] - d[1, 0], d[2, 1] - d[3, 1], d[2, 0] - d[3, 0] + d[0, 1] - d[1, 1])
    assert got == pytest.approx(wanted, rel=0.03, abs=3e-4)


def test_a_finer_grid_says_the_same() -> None:
    for shape, cover in (
        (Area(ring_path(12)), Fill()),
        (column(4.0), Satin()),
        (Area(star_path(12, 6, 5)), Fill(angle=30)),
    ):
        sewn = plan(design_on("Woven twill", (shape, cover)))
        coarse, fine = forecast(sewn, 1.0), forecast(sewn, 0.5)
        moved = np.hypot(*(fine.xy - sewn.xy).T)
        assert np.hypot(*(coarse.xy - fine.xy).T).max() < 0.05 * moved.max() + 0.02
        assert np.hypot(*(coarse.xy - fine.xy).T).mean() < 0.05 * moved.mean()


def test_the_cloth_is_held_at_the_hoop_and_moves_inside_it() -> None:
    for hoop in (Hoop("round", 80, 80, 40), Hoop("square", 60, 90, 10)):
        sheet = sheet_for(PLAIN, hoop, (-20, -20, 20, 20))
        strain = np.zeros((1, 3, *sheet.shape))
        strain[0, 0] = -0.05 * inclusion(sheet, 15.0)
        field = sheet.moved(strain)[0]
        corners = np.array([[hoop.width / 2, 0], [0, hoop.height / 2], [hoop.width / 2, hoop.height / 2]])
        assert np.abs(sheet.at(field, corners)).max() == 0
        assert sheet.at(field, np.array([[12.0, 0.0]]))[0, 0] < -0.1


def test_what_moves_adds_up() -> None:
    sheet = sheet_for(PLAIN, Hoop("h", 80, 80, 5), (-20, -20, 20, 20))
    rng = np.random.default_rng(3)
    one, other = rng.normal(0, 0.02, (2, 3, *sheet.shape))
    both, twice = sheet.moved(np.array([one + other, 2 * one]))
    apart = sheet.moved(np.array([one, other]))
    assert both == pytest.approx(apart.sum(axis=0), abs=1e-5) and twice == pytest.approx(2 * apart[0], abs=1e-5)


@pytest.mark.parametrize("grain", [0.0, 30.0, 90.0, 200.0])
def test_stiffness_turns_with_the_grain(grain: float) -> None:
    cloth = Cloth(30.0, 10.0, 4.0, 0.3, grain)
    law = stiffness(cloth)
    assert law == pytest.approx(law.T) and (np.linalg.eigvalsh(law) > 0).all()
    c, s = math.cos(math.radians(grain)), -math.sin(math.radians(grain))
    along, across = np.array([c * c, s * s, c * s]), np.array([s * s, c * c, -c * s])
    inverse = np.linalg.inv(law)  # stress along the grain alone: 1 / E along it
    assert along @ inverse @ np.array([c * c, s * s, c * s]) == pytest.approx(1 / 30.0)
    assert across @ inverse @ np.array([s * s, c * c, -c * s]) == pytest.approx(1 / 10.0)


def test_lines_of_a_grid_are_fine_where_the_design_lies() -> None:
    lines = axis(-90, 90, -20, 30, 1.0)
    steps = np.diff(lines)
    assert (lines[0], lines[-1]) == (-90, 90) and (steps > 0).all()
    inside = (lines[:-1] >= -20) & (lines[1:] <= 30)
    assert steps[inside] == pytest.approx(1.0) and steps.max() <= 12.0
    assert (steps[1:] / steps[:-1]).max() < 1.5 and len(lines) < 90


# cloth as the trade knows it


def test_columns_come_out_narrower_and_longer_more_so_the_wider_they_are() -> None:
    found = []
    for width in (2.0, 4.0, 8.0, 12.0):
        for level in (False, True):
            design = design_on("Woven twill", (column(width, level=level), Satin()))
            found.append(drawn_in(forecast(plan(design)), width, level=level))
    pull, push = np.array(found).T.reshape(2, 4, 2)
    assert (np.diff(pull, axis=0) > 0).all() and (np.diff(push, axis=0) > 0).all()
    assert pull.min() > 0.03 and pull.max() < 0.5 and push.min() > 0.03 and push.max() < 0.4
    assert pull[2] == pytest.approx(0.20, abs=0.02) and push[2] == pytest.approx(0.15, abs=0.02)  # of the recipe


def test_every_ground_draws_in_about_as_its_recipe_compensates() -> None:
    for ground in grounds():
        pull, push = drawn_in(forecast(plan(design_on(ground.name, (column(8.0), Satin())))), 8.0)
        assert pull == pytest.approx(ground.edges.pull, rel=0.35) and push == pytest.approx(
            ground.edges.push, rel=0.35
        )


def test_knits_move_more_than_canvas_and_underlay_holds() -> None:
    reach = {
        name: drawn_in(forecast(plan(design_on(name, (column(6.0), Satin())))), 6.0)[0]
        for name in ("Denim", "Woven", "Jersey")
    }
    assert reach["Denim"] < reach["Woven"] < reach["Jersey"]
    design = design_on("Woven twill", (column(6.0), Satin()))
    bare = change_objects(design, {1}, lambda item: replace(item, underlay=()))
    assert drawn_in(forecast(plan(bare)), 6.0)[0] > 1.15 * reach["Woven"]


def test_a_disc_comes_out_as_an_egg_along_its_rows() -> None:
    for angle in (0.0, 90.0):
        design = design_on("Pique knit", (Area(ring_path(15)), Fill(angle=angle)))
        (one,) = roundness(design, forecast(plan(design)))
        assert one.least < 29.6 and one.most > 30.05 and one.oval > 0.5
        assert abs(one.turned - (90.0 - angle)) <= 15 or abs(one.turned - (90.0 - angle)) >= 165


def test_what_is_sewn_first_is_moved_by_what_comes_after() -> None:
    """The same two shapes in both orders: the later one is hardly moved by the earlier."""
    shapes = ((Area(ring_path(4, -12)), Fill()), (Area(box_path(-5, -15, 20, 30)), Fill()))
    design = design_on("Jersey T-shirt", *shapes)
    first = forecast(plan(design))
    turned = reorder(design, {1}, None)
    last = forecast(plan(turned))
    centre = np.array([[-12.0, 0.0]])
    early = np.hypot(*(first.moved_rim(0, centre) - centre)[0])
    late = np.hypot(*(last.moved_rim(1, centre) - centre)[0])
    assert early > 3 * late


def test_a_moment_of_the_sew_out_moves_only_what_is_sewn_by_then() -> None:
    sewn = plan(
        design_on("Woven twill", (Area(ring_path(10)), Fill()), (Area(box_path(-6, -6, 12, 12)), Fill(angle=45)))
    )
    seen = forecast(sewn)
    end = seen.until(len(sewn) - 2)
    assert end.total == pytest.approx(seen.total, abs=1e-4)
    begin = seen.until(0)
    assert np.abs(begin.total).max() < 1e-6
    middle = seen.until(int(sewn.starts[1]) - 1)
    alone = forecast(plan(replace(sewn.design, objects=sewn.design.objects[:1])))
    assert middle.stitches(0) == pytest.approx(alone.stitches(0), abs=0.03)


def test_nothing_moves_without_thread_and_the_plan_shown_is_the_plan() -> None:
    design = design_on("Woven twill", (Line("M-10 0 L10 0"), Run()))
    sewn = plan(design)
    seen = forecast(sewn, cloth=replace(cloth_of(design.brief.ground), pull=0.0, push=0.0))
    assert seen.xy == pytest.approx(sewn.xy)
    as_seen, large = shown(forecast(sewn)), shown(forecast(sewn), 10.0)
    assert np.array_equal(as_seen.kind, sewn.kind)
    one, ten = as_seen.xy - sewn.xy, large.xy - sewn.xy
    assert ten == pytest.approx(10 * one, abs=1e-9) and np.abs(one).max() > 0


def test_an_edit_costs_what_it_changed_and_is_as_if_made_afresh() -> None:
    design = design_on("Woven twill", *((Area(ring_path(3, 11.0 * k - 20)), Fill()) for k in range(5)))
    sewn = plan(design)
    first = forecast(sewn)
    moved = change_objects(design, {3}, lambda item: transform_object(item, (1, 0, 0, 1, 0, 0.5)))
    again = plan(moved, sewn)
    carried = forecast(again)
    kept = [a is b for a, b in zip(first.shares, carried.shares, strict=True)]
    assert kept.count(False) <= 2 and not kept[2]
    assert carried.xy == pytest.approx(forecast(plan(moved)).xy, abs=2e-3)


# findings


def test_two_areas_that_touch_part_on_jersey_and_it_is_said_where_and_how_far() -> None:
    halves = ((Area(box_path(-15, -10, 15, 20)), Fill()), (Area(box_path(0, -10, 15, 20)), Fill()))
    bare = lambda name: change_objects(design_on(name, *halves), {1, 2}, lambda item: replace(item, underlay=()))  # noqa: E731
    design = bare("Jersey T-shirt")
    seen = forecast(plan(design))
    (seam,) = [one for one in seams(design, seen) if one.open]
    assert 0.15 < seam.width < 1.2 and abs(seam.place[0]) < 1.0
    found = [one for one in findings(design, seen) if one.kind == "gap"]
    assert found and found[0].severity == "spoils" and "part by" in found[0].sentence and found[0].fixes[0].slow
    mended = found[0].fixes[0].edit(design)
    assert not [one for one in findings(mended, forecast(plan(mended))) if one.kind == "gap"]
    firm = bare("Denim")
    assert max((one.width for one in seams(firm, forecast(plan(firm)))), default=0.0) < seam.width


@pytest.mark.parametrize("angle", [0.0, 35.0])
@pytest.mark.parametrize("ground", ["Jersey T-shirt", "Pique knit"])
def test_fills_on_knits_are_sewn_through_and_their_rims_are_not_toothed(angle: float, ground: str) -> None:
    shapes = (Area(ring_path(15)), Area(box_path(-15, -15, 30, 30)), Area("M-18 -14 L18 -10 L14 16 L-10 14 Z"))
    for shape in shapes:
        for ends in (Ends(), Ends(entry=(0.0, -15.0), exit=(0.0, -15.0)), Ends(entry=(-15.0, 0.0), exit=(15.0, 0.0))):
            design = change_objects(
                design_on(ground, (shape, Fill(angle=angle))), {1}, lambda item, ends=ends: replace(item, ends=ends)
            )
            assert not [one for one in findings(design, forecast(plan(design))) if one.kind == "toothed"]


@pytest.mark.parametrize("width", [8.0, 10.0])
def test_short_rows_sewn_out_and_back_are_told_and_sewn_through_when_mended(width: float) -> None:
    side = width / 2
    design = design_on(
        "Jersey T-shirt",
        (Line(f"M-30 0 L-{side} 0"), Run()),
        (Area(box_path(-side, -15, width, 30)), Fill(angle=35.0)),
        (Line(f"M-{side} 1 L-30 1"), Run()),
    )
    design = use_thread(design, {item.id for item in design.objects}, thread_chart()[0])  # so they begin and end it
    design = change_objects(design, {2}, lambda item: replace(item, underlay=()))  # and its cover begins there
    (told,) = [one for one in findings(design, forecast(plan(design))) if one.kind == "toothed"]
    assert "sewn out and back" in told.sentence and told.fixes[0].slow
    mended = told.fixes[0].edit(design)
    assert mended.objects[1].ends.entry is not None and mended.objects[1].shape == design.objects[1].shape
    assert not [one for one in findings(mended, forecast(plan(mended))) if one.kind == "toothed"]


def test_shapes_that_were_never_to_touch_do_not_part() -> None:
    apart = design_on(
        "Jersey T-shirt", (Area(box_path(-15, -10, 12, 20)), Fill()), (Area(box_path(0, -10, 12, 20)), Fill())
    )
    assert not seams(apart, forecast(plan(apart)))


# solving


@pytest.mark.parametrize("ground", ["Woven twill", "Jersey T-shirt", "Fleece", "Denim"])
@pytest.mark.parametrize(
    ("shape", "cover"),
    [
        (Area(ring_path(15)), Fill()),
        (column(5.0, 50.0), Satin()),
        (Area(box_path(-10, -8, 20, 16)), Fill(angle=30)),
        (Area(ring_path(12) + " " + ring_path(6, reverse=True)), Fill()),
        (Area(star_path(14, 7, 5)), Fill(angle=70)),
    ],
    ids=["disc", "column", "box", "ring", "star"],
)
def test_solved_edges_end_up_as_drawn(ground: str, shape: Shape, cover: Cover) -> None:
    design = design_on(ground, (shape, cover), edges=Edges())
    made = solved(design)
    most, worst = missed(made)[1]
    assert most <= 0.15 and worst <= 0.30
    assert made.objects[0].shape == shape and made.objects[0].edges == Edges()  # what was drawn stays
    assert not plan(made).failures


def test_two_areas_with_a_border_are_solved_together() -> None:
    border = Line("M-14 -10 L14 -10 L14 10 L-14 10 Z", 2.0)
    design = design_on(
        "Pique knit",
        (Area(box_path(-14, -10, 14, 20)), Fill()),
        (Area(box_path(0, -10, 14, 20)), Fill(angle=90)),
        (border, Satin()),
        edges=Edges(),
    )
    before, made = missed(design), solved(design)
    after = missed(made)
    assert all(after[k][0] <= 0.15 and after[k][1] <= 0.3 for k in (1, 2))
    assert after[1][0] < before[1][0]
    assert after[3][0] <= 0.15 < before[3][0] and after[3][1] <= 0.3
    kept = made.objects[2].solved
    assert kept is not None and isinstance(kept.shape, Line) and made.objects[2].shape == border


CORNERED = {
    "bend": Line("M-14 -10 L14 -10 L14 10", 3.0),
    "frame": Line("M-14 -10 L14 -10 L14 10 L-14 10 Z", 2.0),
    "zigzag": Line("M-20 0 L-8 10 L4 -8 L18 9", 4.0, corners="mitred"),
    "capped": Line("M-14 -10 L14 -10 L14 10", 3.0, corners="capped"),
    "tapering": Line("M-14 -10 C0 -16 6 -14 14 -10 L10 12", 3.0, start_width=40.0, end="pointed"),
    "turned round": Line("M10 12 L14 -10 L-14 -10", 3.0, profile=((0.0, 0.6), (0.5, 1.2), (1.0, 0.8))),
}


@pytest.mark.parametrize("name", CORNERED)
def test_lines_with_corners_end_up_as_drawn(name: str) -> None:
    line, ground = CORNERED[name], ("Woven twill", "Jersey T-shirt")[list(CORNERED).index(name) % 2]
    design = design_on(ground, (line, Satin()), edges=Edges())
    before, made = missed(design)[1], solved(design)
    most, worst = missed(made)[1]
    assert most <= 0.15 and worst <= 0.30 and most < before[0]
    (item,) = made.objects
    assert item.solved is not None and isinstance(item.solved.shape, Line) and item.shape == line
    assert len(legs_of(item.solved.shape)) == len(legs_of(line)) and not plan(made).failures
    assert decode(encode(made), "x") == made and released(made, {1}) == design


def test_a_line_that_cannot_be_told_is_left_to_the_ground() -> None:
    design = design_on("Woven twill", (Line("M0 0 L9 0 L9 9 M20 0 L30 0 L30 9", 2.0), Satin()), edges=Edges())
    assert solved(design) == design


def test_a_solution_is_kept_released_and_told_when_it_is_of_another_design() -> None:
    design = design_on("Woven twill", (Area(ring_path(10)), Fill()), (column(4.0, 20.0), Satin()), edges=Edges())
    made = solved(design, {1})
    assert made.objects[0].solved is not None and made.objects[1].solved is None and not stale(made)
    assert decode(encode(made), "x") == made
    changed = change_objects(made, {2}, lambda item: transform_object(item, (1, 0, 0, 1, 2, 0)))
    assert stale(changed) == {1}
    renamed = change_objects(made, {2}, lambda item: replace(item, name="Mast"))
    assert not stale(renamed)
    assert released(made, {1}) == design
    larger = change_objects(made, {1}, lambda item: transform_object(item, (2, 0, 0, 2, 0, 0)))
    assert larger.objects[0].solved is None
    along = change_objects(made, {1}, lambda item: transform_object(item, (1, 0, 0, 1, 5, 5)))
    here, there = (plan(one).overlaps.regions[0].bounds for one in (made, along))
    assert np.subtract(there, here) == pytest.approx([5, 5, 5, 5], abs=0.01)


def test_runs_have_no_edges_to_solve() -> None:
    with pytest.raises(CannotDo, match="No object here has an edge"):
        solved(design_on("Woven twill", (Line("M-10 0 L10 0"), Run())))


@given(st.integers(0, 10_000))
@settings(max_examples=6)
def test_any_blob_is_solved_and_still_sews(seed: int) -> None:
    rng = np.random.default_rng(seed)
    turns = np.linspace(0, 2 * np.pi, 72, endpoint=False)
    radius = 10 + sum(rng.normal(0, 1.6 / k) * np.cos(k * turns + rng.uniform(0, 6)) for k in range(2, 6))
    xy = np.column_stack([radius * np.cos(turns), radius * np.sin(turns)]).round(3)
    path = "M" + " L".join(f"{x} {y}" for x, y in xy.tolist()) + " Z"
    design = design_on("Pique knit", (Area(path), Fill(angle=float(rng.uniform(-90, 90)))), edges=Edges())
    made = solved(design)
    most, worst = missed(made)[1]
    assert most <= 0.15 and worst <= 0.35, seed
    sewn = plan(made)
    steps = np.hypot(*np.diff(sewn.xy[sewn.kind == Kind.STITCH], axis=0).T)
    assert steps.max() <= 12.0


# the command line


def test_the_command_line_forecasts_and_solves(tmp_path: Path) -> None:
    design = design_on("Jersey T-shirt", (Area(ring_path(12)), Fill()), edges=Edges())
    file, out, picture = tmp_path / "d.jontel", tmp_path / "s.jontel", tmp_path / "f.png"
    file.write_bytes(encode(design))
    run = CliRunner()
    told = run.invoke(cli, ["forecast", str(file), "-o", str(picture)])
    assert told.exit_code == 0 and "not round" not in told.output and "drawn round" in told.output
    assert picture.read_bytes().startswith(b"\x89PNG")
    document = json.loads(run.invoke(cli, ["forecast", str(file), "--json"]).output)
    assert (
        document["objects"][0]["edge_off_95_mm"] > 0.1
        and document["round"][0]["most_mm"] > document["round"][0]["least_mm"]
    )
    done = run.invoke(cli, ["solve", str(file), "-o", str(out), "--only", "Object 1"])
    assert done.exit_code == 0 and "95 of 100 places" in done.output
    again = json.loads(run.invoke(cli, ["forecast", str(out), "--json"]).output)
    assert again["objects"][0]["edge_off_95_mm"] < 0.1 and again["objects"][0]["solved"]
    assert "not round" not in {one["kind"] for one in again["findings"]}
    wrong = run.invoke(cli, ["forecast", str(file), "-o", str(tmp_path / "f.ngc")])
    assert wrong.exit_code != 0 and not (tmp_path / "f.ngc").exists()


def test_numbers_of_ones_own_are_what_is_forecast_with() -> None:
    design = design_on("Woven twill", (column(6.0), Satin()))
    soft = replace(design.brief.ground, cloth=replace(cloth_of(design.brief.ground), pull=0.2))
    softer = replace(design, brief=replace(design.brief, ground=soft))
    assert drawn_in(forecast(plan(softer)), 6.0)[0] > 2 * drawn_in(forecast(plan(design)), 6.0)[0]
    edge = shapely.Polygon(forecast(plan(softer)).edge(0).geoms[0])
    assert edge.is_valid


def element_of(design: Design) -> float:
    sheet = forecast(plan(design)).sheet
    return float(np.diff(sheet.xs).min())


def test_narrow_shapes_are_forecast_in_finer_elements_where_that_is_soon_done() -> None:
    narrow, wide = Line("M-15 0 L15 0", 1.2), Line("M-15 0 L15 0", 4.0)
    assert element_of(design_on("Woven twill", (narrow, Satin()))) == pytest.approx(0.5, abs=0.04)
    assert element_of(design_on("Woven twill", (wide, Satin()))) == pytest.approx(1.0, abs=0.06)
    large = (Area(box_path(-45, -45, 90, 90)), Fill())
    assert element_of(design_on("Woven twill", large, (narrow, Satin()))) > 0.9
    sewn = plan(design_on("Jersey T-shirt", (narrow, Satin()), edges=Edges(pull=0.0, push=0.0)))
    usual, finest, coarse = (forecast(sewn, element) for element in (None, 0.25, 1.0))
    moved = float(np.hypot(*(finest.xy - sewn.xy).T).mean())
    off = [float(np.hypot(*(one.xy - finest.xy).T).mean()) / moved for one in (usual, coarse)]
    assert off[0] < 0.10 and off[0] < off[1]
