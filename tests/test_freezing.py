"""Objects and stitch files as stitches: every needle point where it was, and each to be moved."""

from pathlib import Path

import numpy as np
import pytest
from click.testing import CliRunner
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from jontel.cli import cli
from jontel.data import find_ground, find_hoop, thread_chart
from jontel.demo import crest, name_bar
from jontel.design import Area, CannotRead, Design, Fill, Line, Run, Satin
from jontel.design.edits import use_thread
from jontel.design.errors import CannotDo
from jontel.files.formats import export, movements_in, read_movements, stitches_as_design
from jontel.files.working import decode, encode
from jontel.geometry.bending import nodes_removed
from jontel.geometry.nodes import chains_of, path_through
from jontel.machine.head import Movement
from jontel.recovering.recover import recovered
from jontel.recovering.stitches import as_they_are
from jontel.sewing.plan import SewPlan, plan
from jontel.shaping.freezing import frozen
from jontel.stitching.stitches import Kind, Layer
from tests.conftest import box_path, design_of, ring_path, star_path


def points(sewn: SewPlan) -> np.ndarray:
    """Needle points but for locks and what leads from one object to the next, (n, 2)."""
    return np.vstack([part.xy for piece in sewn.pieces for part in piece.segments.parts])


SHAPES = (
    (Area(box_path(-10, -10, 20, 20)), Fill()),
    (Area(ring_path(14) + " " + ring_path(6, reverse=True)), Fill(angle=37)),
    (Area(star_path()), Satin()),
    (Line("M-20 0 C-10 -20 10 20 20 0", 4.0), Satin()),
    (Line("M-20 0 C-10 -20 10 20 20 0", 0.4), Run(style="triple")),
)


@pytest.mark.parametrize("number", range(len(SHAPES)))
def test_what_is_frozen_sews_the_same_needle_points(number: int) -> None:
    design = design_of(SHAPES[number], (Area(box_path(60, 0, 8, 8)), Fill()))
    before = plan(design)
    made, ids = frozen(design, frozenset({1}), None)
    assert ids == {1} and isinstance(made.objects[0].cover, Run) and made.objects[1] == design.objects[1]
    after = plan(made)
    old, new = before.pieces[0].segments.parts, after.pieces[0].segments.parts
    assert len(old) == len(new)
    for one, other in zip(old, new, strict=True):
        assert other.xy == pytest.approx(one.xy, abs=1e-3)
    assert np.sum(before.kind == Kind.TRIM) == np.sum(after.kind == Kind.TRIM)
    assert decode(encode(made), "x.jontel").objects == made.objects


def test_a_needle_point_is_taken_out_and_another_moved() -> None:
    design = design_of((Area(box_path(-10, -10, 20, 20)), Fill()))
    made, _ = frozen(design, frozenset({1}), None)
    chains = chains_of(made.objects[0].shape.path)
    sewn = points(plan(made))
    assert sum(map(len, chains)) == len(sewn)
    less = nodes_removed(chains, {(0, 40)})
    fewer = replace(made.objects[0], shape=replace(made.objects[0].shape, path=path_through(less)))
    again = points(plan(replace(made, objects=(fewer,))))
    assert len(again) == len(sewn) - 1 and np.delete(sewn, 40, axis=0) == pytest.approx(again, abs=1e-3)


def test_what_has_no_stitches_or_too_many_is_told() -> None:
    design = design_of((Area(box_path(0, 0, 5, 5)), Fill()))
    with pytest.raises(CannotDo):
        frozen(replace(design, objects=(replace(design.objects[0], hidden=True),)), frozenset({1}), None)
    large = design_of((Area(box_path(-100, -100, 200, 200)), Fill(spacing=0.3, length=2.0)))
    with pytest.raises(CannotDo) as told:
        frozen(large, frozenset({1}), None)
    assert "“Object 1”" in str(told.value) and str(told.value).endswith(".")


@pytest.mark.parametrize("demo", [crest, name_bar])
@pytest.mark.parametrize("ending", [".csv", ".ngc"])
def test_a_stitch_file_opens_with_every_needle_point_where_it_was(demo, ending: str, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    design: Design = demo()
    path = tmp_path / f"file{ending}"
    export(design, path)
    made = stitches_as_design(path, design.brief.ground, design.brief.hoop)
    sewn, again = plan(design), plan(made)
    assert not again.failures
    needle = sewn.xy[(sewn.kind == Kind.STITCH) & (sewn.layer != Layer.LOCK)]
    far = np.sqrt(((needle[::7, None] - points(again)[None]) ** 2).sum(axis=2).min(axis=1))
    assert far.max() < 0.06
    assert [thread.code for thread in again.threads] == [thread.code for thread in sewn.threads]
    assert np.sum(again.kind == Kind.STITCH) == pytest.approx(np.sum(sewn.kind == Kind.STITCH), rel=0.05)


def test_stitches_change_their_thread_and_their_place_as_any_object(tmp_path: Path) -> None:
    path = tmp_path / "file.csv"
    export(design_of((Area(box_path(-10, -10, 20, 20)), Fill())), path)
    made = as_they_are(
        read_movements(path), "file.csv", find_ground("Woven twill"), find_hoop("130 x 180"), thread_chart()
    )
    red = thread_chart()[6]
    recoloured = use_thread(made, {1}, red)
    assert plan(recoloured).threads[0].code == red.code
    with pytest.raises(CannotRead):
        as_they_are([], "empty.csv", find_ground("Woven twill"), find_hoop("130 x 180"), thread_chart())


def test_a_file_is_kept_as_stitches_on_the_command_line(tmp_path: Path) -> None:
    path, out = tmp_path / "file.csv", tmp_path / "out.jontel"
    export(design_of((Area(box_path(-10, -10, 20, 20)), Fill())), path)
    done = CliRunner().invoke(cli, ["recover", str(path), "-o", str(out), "--as-stitches"])
    assert done.exit_code == 0 and "1 run" in done.output
    (item,) = decode(out.read_bytes(), "out.jontel").objects
    assert isinstance(item.cover, Run) and item.cover.by_hand


@given(st.lists(st.tuples(st.floats(-60, 60), st.floats(-60, 60)), min_size=2, max_size=40))
def test_any_needle_points_stay_what_they_are_unless_no_machine_can_sew_them(
    places: list[tuple[float, float]],
) -> None:
    way = np.round(np.array(places), 3)
    design = design_of(
        (Line("M" + " L".join(f"{x} {y}" for x, y in way.tolist()), 0.4), Run(by_hand=True, way="forward"))
    )
    sewn = plan(design)
    if sewn.failures:
        return
    made, _ = frozen(design, frozenset({1}), None)
    again = plan(made)
    assert not again.failures
    assert points(again) == pytest.approx(points(sewn), abs=1e-3)


@pytest.mark.parametrize("ending", [".csv", ".ngc"])
@pytest.mark.parametrize("make", [recovered, as_they_are])
def test_places_and_lengths_that_no_cloth_has_are_told_and_take_no_memory(make, ending: str, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    path = tmp_path / f"file{ending}"
    export(design_of((Line("M-20 0 L20 0", 0.4), Run())), path)
    text = path.read_text()
    far = "99999999" if ending == ".csv" else "X99999999"
    lines = text.split("\n")
    at = next(
        k for k, line in enumerate(lines) if (",stitch," in line if ending == ".csv" else line.startswith("G0"))
    )
    cells = lines[at].split("," if ending == ".csv" else " ")
    cells[1] = far
    lines[at] = ("," if ending == ".csv" else " ").join(cells)
    with pytest.raises(CannotRead) as told:
        movements_in("\n".join(lines).encode(), path.name)
    assert f"Line {at + 1} of {path.name}" in str(told.value) and "10 m" in str(told.value)
    moves = [Movement(1, Kind.THREAD, 0.0, 0.0, "1001")]
    moves += [Movement(k + 2, Kind.STITCH, 9000.0 * (-1) ** k, 0.0) for k in range(1000)]
    with pytest.raises(CannotRead) as told:
        make(moves, path.name, find_ground("Woven twill"), find_hoop("130 x 180"), thread_chart())
    assert "6,000 m of thread" in str(told.value)
