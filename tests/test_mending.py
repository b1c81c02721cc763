"""A part of a design sewn again, in register with what is sewn already."""

from pathlib import Path

import numpy as np
import pytest
from click.testing import CliRunner
from msgspec.structs import replace

from jontel.cli import cli
from jontel.demo import crest
from jontel.design import Design
from jontel.design.edits import change_objects
from jontel.design.errors import CannotDo
from jontel.files.formats import Part, export, read_movements
from jontel.files.movements import movements
from jontel.files.working import encode
from jontel.machine.head import sew
from jontel.sewing.mending import from_stitch, only
from jontel.sewing.plan import plan
from jontel.sewing.stranding import made_strand
from jontel.stitching.stitches import Kind, Layer
from tests.test_order import letter_e


def needle_points(sewn: object) -> np.ndarray:
    return sewn.xy[(sewn.kind == Kind.STITCH) & (sewn.layer != Layer.LOCK)]  # type: ignore[attr-defined]


@pytest.mark.parametrize("part", [0.1, 0.37, 0.5, 0.93])
def test_from_a_stitch_on_every_later_needle_point_is_where_it_was(part: float) -> None:
    sewn = plan(crest())
    points = np.flatnonzero(sewn.kind == Kind.STITCH)
    number = int(part * len(points))
    rest = from_stitch(sewn, number, (-40.0, 25.0))
    later = sewn.xy[points[number - 1] :][sewn.kind[points[number - 1] :] == Kind.STITCH]
    assert np.array_equal(rest.xy[rest.kind == Kind.STITCH][-len(later) :], later)
    held = (rest.kind == Kind.STITCH).sum() - len(later)
    assert held == 3  # a lock where the thread begins anew
    assert rest.thread[np.argmax(rest.kind == Kind.STITCH)] == sewn.thread[points[number - 1]]


def test_it_begins_at_the_known_place_and_waits_there() -> None:
    sewn = plan(crest())
    rest = from_stitch(sewn, 5000, (-40.0, 25.0))
    assert rest.kind[0] == Kind.THREAD
    stop = int(np.argmax(rest.kind == Kind.STOP))
    assert rest.xy[stop] == pytest.approx((-40, 25)) and (rest.kind[1:stop] == Kind.JUMP).all()
    assert rest.stops[stop] == "Check that the needle stands over the mark at -40.0, 25.0 mm"
    moves = np.hypot(*np.diff(np.vstack([[0.0, 0.0], rest.xy]), axis=0).T)
    assert moves.max() <= 12.0 + 1e-6
    report = sew(movements(rest), crest().brief.hoop)
    assert report.stitches == (rest.kind == Kind.STITCH).sum()
    assert len([one for one in sewn.stops if one > 0]) <= len(rest.stops)


def test_only_the_chosen_objects_are_sewn_stitch_by_stitch_as_before() -> None:
    design = crest()
    sewn = plan(design)
    ids = frozenset(item.id for item in design.objects[3:6])
    part = only(sewn, ids, (0.0, 0.0))
    for piece in part.pieces:
        whole = next(one for one in sewn.pieces if one.owner == piece.owner)
        assert all(
            np.array_equal(a.xy, b.xy) for a, b in zip(piece.segments.parts, whole.segments.parts, strict=True)
        )
    assert {one.owner for one in part.pieces} == ids
    assert part.kind[0] == Kind.THREAD and (part.kind == Kind.STOP).sum() >= 1


def test_a_part_of_a_strand_and_of_what_is_undercut_is_sewn_as_it_was() -> None:
    strand = made_strand(letter_e(), frozenset({1, 2, 3, 4}))
    sewn = plan(strand)
    part = only(sewn, {2})
    whole = next(one for one in sewn.pieces if one.owner == 2)
    assert np.array_equal(part.pieces[0].segments.parts[0].xy, whole.segments.parts[0].xy)
    design = change_objects(crest(), {item.id for item in crest().objects}, lambda item: replace(item, undercut=0.8))
    sewn = plan(design)
    spared = next(k for k, item in enumerate(design.objects) if item.shape != sewn.design.objects[k].shape)
    owner = design.objects[spared].id
    again = only(sewn, {owner})
    whole = next(one for one in sewn.pieces if one.owner == owner)
    assert np.array_equal(again.pieces[0].segments.parts[0].xy, whole.segments.parts[0].xy)


@pytest.mark.parametrize("stitch", [0, -3, 10_000_000])
def test_there_is_no_such_stitch(stitch: int) -> None:
    with pytest.raises(CannotDo, match="There is no stitch"):
        from_stitch(plan(letter_e()), stitch)


def test_what_has_no_stitches_cannot_be_sewn_again() -> None:
    with pytest.raises(CannotDo, match="None of the selected"):
        only(plan(letter_e()), {99})


def test_the_files_of_a_part_are_read_and_sewn_by_the_machine(tmp_path: Path) -> None:
    design: Design = letter_e()
    for ending in (".ngc", ".csv"):
        path = tmp_path / f"part{ending}"
        export(design, path, Part(stitch=40, known=(-10.0, 5.0)))
        report = sew(read_movements(path), design.brief.hoop)
        assert report.stops[0].startswith("Check that the needle stands")
    export(design, tmp_path / "part.png", Part(ids=frozenset({1})))
    export(design, tmp_path / "part.pdf", Part(stitch=20))


def test_a_part_is_asked_for_on_the_command_line(tmp_path: Path) -> None:
    file, out = tmp_path / "e.jontel", tmp_path / "part.csv"
    file.write_bytes(encode(letter_e()))
    run = CliRunner()
    done = run.invoke(cli, ["export", str(file), "-o", str(out), "--only", "Object 2", "--known", "-20,-30"])
    assert done.exit_code == 0, done.output
    stops = [move for move in read_movements(out) if move.kind == Kind.STOP]
    assert (stops[0].x, stops[0].y) == (-20, -30)
    assert run.invoke(cli, ["export", str(file), "-o", str(out), "--from-stitch", "30"]).exit_code == 0
    for wrong in (["--only", "Object 2", "--from-stitch", "3"], ["--from-stitch", "3", "--known", "here"]):
        assert run.invoke(cli, ["export", str(file), "-o", str(out), *wrong]).exit_code == 2
    missing = run.invoke(cli, ["export", str(file), "-o", str(out), "--only", "Nobody"])
    assert missing.exit_code != 0 and "There is no object “Nobody”" in str(missing.exception)
