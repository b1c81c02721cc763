"""Files: what is written can be read, and what cannot be read is said in a sentence."""

import csv
import errno
import io
import itertools
import json
import math
import os
import re
import select
import signal
import zipfile
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace
from PIL import Image
from pypdf import PdfReader

from jontel.design import Area, CannotRead, CannotWrite, Design, Fill, Line, Run, Satin
from jontel.design.edits import change_objects
from jontel.design.stopping import Stop, Stopped, stoppable
from jontel.files import autosave as autosave_module
from jontel.files import gcode, picture, sheet, stitchlist, svgout, working
from jontel.files.atomic import clear_leftovers, read_whole, write_whole
from jontel.files.autosave import Autosave, kept_in
from jontel.files.claims import Claim
from jontel.files.formats import Format, export, format_of, formats, open_design, read_movements
from jontel.files.movements import movements
from jontel.machine.head import Movement, sew
from jontel.sewing.estimate import totals
from jontel.sewing.plan import plan
from jontel.stitching.stitches import Kind
from tests.conftest import box_path, design_of

# the working file


def test_a_working_file_gives_back_the_same_design(crest_design: Design) -> None:
    assert working.decode(working.encode(crest_design), "crest.jontel") == crest_design


def test_the_same_design_makes_the_same_bytes(crest_design: Design) -> None:
    assert working.encode(crest_design) == working.encode(crest_design)


def test_a_working_file_is_an_open_zip(crest_design: Design) -> None:
    archive = zipfile.ZipFile(io.BytesIO(working.encode(crest_design, b"PNG")))
    assert set(archive.namelist()) == {"design.json", "artwork/0.svg", "preview.png"}
    document = json.loads(archive.read("design.json"))
    assert document["format"] == "jontel" and document["version"] == working.VERSION
    assert document["design"]["objects"][0]["shape"]["path"].startswith("M")
    assert archive.read("artwork/0.svg") == crest_design.artwork[0].data


def changed_file(change: dict[str, object] | None = None, raw: bytes | None = None, drop: bool = False) -> bytes:
    """A working file with its document tampered with."""
    design = design_of((Area(box_path(0, 0, 10, 10)), Fill()))
    document = json.loads(zipfile.ZipFile(io.BytesIO(working.encode(design))).read("design.json"))
    for path, value in (change or {}).items():
        where = document
        *steps, last = path.split("/")
        for step in steps:
            where = where[int(step)] if step.isdigit() else where[step]
        where[last] = value
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        if not drop:
            archive.writestr("design.json", raw if raw is not None else json.dumps(document))
        else:
            archive.writestr("other.txt", "x")
    return out.getvalue()


def test_a_file_of_version_3_gives_each_end_and_each_edge_its_own() -> None:
    line = {"type": "line", "path": "M0 0 L20 0", "width": 3.0, "ends": "pointed"}
    satin = {"type": "satin", "feather": "second", "feather_length": 1.5, "feather_way": "outwards", "split": 6.0}
    data = changed_file({"version": 3, "design/objects/0/shape": line, "design/objects/0/cover": satin})
    item = working.decode(data, "old.jontel").objects[0]
    assert item.shape == Line("M0 0 L20 0", 3.0, start="pointed", end="pointed")
    assert item.cover == Satin(split=6.0, feather_second=1.5, second_way="outwards")


def test_a_file_of_version_3_feathers_both_edges_by_the_length_it_had_without_a_word() -> None:
    data = changed_file({"version": 3, "design/objects/0/cover": {"type": "satin", "feather": "both"}})
    cover = working.decode(data, "old.jontel").objects[0].cover
    assert cover == Satin(feather_first=1.0, first_way="inwards", feather_second=1.0, second_way="inwards")


BAD = {
    "empty": (b"", "empty"),
    "text": (b"hello", "not a working file"),
    "no document": (changed_file(drop=True), "missing"),
    "not json": (changed_file(raw=b"{"), "damaged"),
    "deep json": (changed_file(raw=b"[" * 100_000), "damaged"),
    "another format": (changed_file({"format": "other"}), "not a working file"),
    "newer": (changed_file({"version": 99}), "newer"),
    "wrong type": (changed_file({"design/objects/0/thread": 5}), "damaged"),
    "unknown cover": (changed_file({"design/objects/0/cover": {"type": "magic"}}), "damaged"),
    "not a number": (changed_file({"design/objects/0/cover": {"type": "fill", "spacing": "wide"}}), "damaged"),
    "no spacing": (changed_file({"design/objects/0/cover": {"type": "fill", "spacing": 0}}), "spacing"),
    "bad outline": (changed_file({"design/objects/0/shape/path": "M0 0 Lx"}), "Object 1"),
    "far outline": (changed_file({"design/objects/0/shape/path": "M0 0 L1e9 5 L5 5 Z"}), "Object 1"),
    "same ids": (changed_file({"design/next_id": 1}), "same number"),
    "flat hoop": (changed_file({"design/brief/hoop/width": 0}), "hoop"),
    "cut short": (working.encode(design_of((Area(box_path(0, 0, 9, 9)), Fill())))[:200], "cut short"),
}


@pytest.mark.parametrize("name", BAD)
def test_bad_working_files_are_refused_in_one_sentence(name: str) -> None:
    data, words = BAD[name]
    with pytest.raises(CannotRead) as refused:
        working.decode(data, "my.jontel")
    said = str(refused.value)
    assert words in said and said.startswith("my.jontel") and said.endswith(".") and "\n" not in said


def test_a_zip_bomb_is_not_unpacked() -> None:
    out = io.BytesIO()
    with (
        zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive,
        archive.open("design.json", "w", force_zip64=True) as part,
    ):
        for _ in range(230):
            part.write(b"0" * 1_000_000)
    assert len(out.getvalue()) < 1_000_000
    with pytest.raises(CannotRead, match="unpack"):
        working.decode(out.getvalue(), "bomb.jontel")


def test_an_archive_of_countless_parts_is_refused() -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for n in range(200):
            archive.writestr(f"{n}", "")
    with pytest.raises(CannotRead, match="more parts"):
        working.decode(out.getvalue(), "x.jontel")


@given(st.data())
def test_flipped_bytes_never_end_in_anything_but_a_sentence(data: st.DataObject) -> None:
    good = working.encode(design_of((Area(box_path(0, 0, 10, 10)), Fill()), (Line("M0 0 L9 9"), Run())))
    at = data.draw(st.integers(0, len(good) - 1))
    bad = good[:at] + bytes([data.draw(st.integers(0, 255))]) + good[at + 1 :]
    try:
        working.decode(bad, "x.jontel")
    except CannotRead as refused:
        assert str(refused).endswith(".")


# writing whole or not at all


def test_writing_replaces_the_file_and_leaves_nothing_else(tmp_path: Path) -> None:
    target = tmp_path / "a.bin"
    write_whole(target, b"one")
    write_whole(target, b"two")
    assert target.read_bytes() == b"two" and os.listdir(tmp_path) == ["a.bin"]


def test_the_target_of_a_link_is_written_and_permissions_stay(tmp_path: Path) -> None:
    (tmp_path / "real").mkdir()
    real, link = tmp_path / "real/a.bin", tmp_path / "a.bin"
    real.write_bytes(b"old")
    real.chmod(0o640)
    link.symlink_to(real)
    write_whole(link, b"new")
    assert link.is_symlink() and real.read_bytes() == b"new" and real.stat().st_mode & 0o777 == 0o640
    assert os.listdir(tmp_path / "real") == ["a.bin"]


def test_saves_killed_on_the_way_leave_next_to_nothing(tmp_path: Path) -> None:
    """Thirty saves, each killed a little later than the one before: the file is whole, and no heap is left."""
    target = tmp_path / "a.bin"
    write_whole(target, b"0" * 400_000)
    for k in range(30):
        child = os.fork()
        if child == 0:
            write_whole(target, bytes([65 + k]) * 400_000)
            os._exit(0)
        select.select([], [], [], 0.0002 * k)
        os.kill(child, signal.SIGKILL)
        os.waitpid(child, 0)
    found = target.read_bytes()
    assert len(found) == 400_000 and len(set(found)) == 1
    assert len(os.listdir(tmp_path)) <= 3
    clear_leftovers(tmp_path)
    assert os.listdir(tmp_path) == ["a.bin"]


def test_a_save_that_was_told_to_stop_keeps_the_old_file(tmp_path: Path) -> None:
    (tmp_path / "a.bin").write_bytes(b"old")
    stop = Stop()
    stop.give()
    with pytest.raises(Stopped), stoppable(stop):
        write_whole(tmp_path / "a.bin", b"new")
    assert (tmp_path / "a.bin").read_bytes() == b"old" and os.listdir(tmp_path) == ["a.bin"]


def test_devices_and_pipes_are_neither_read_nor_written(tmp_path: Path) -> None:
    os.mkfifo(tmp_path / "pipe.svg")
    for path in (Path("/dev/zero"), tmp_path / "pipe.svg"):
        with pytest.raises(CannotRead, match="device or a pipe"):
            read_whole(path)
    with pytest.raises(CannotWrite, match="device or a pipe"):
        write_whole(tmp_path / "pipe.svg", b"x")
    with pytest.raises(CannotRead, match="none that a disk knows"):
        read_whole(Path("a\0b"))


@pytest.mark.parametrize("where", ["gone/a.bin", ".", "file/a.bin"])
def test_what_cannot_be_written_is_said_and_leaves_nothing(tmp_path: Path, where: str) -> None:
    (tmp_path / "file").write_bytes(b"x")
    before = sorted(os.listdir(tmp_path))
    with pytest.raises(CannotWrite) as refused:
        write_whole(tmp_path / where, b"data")
    assert str(refused.value).endswith(".") and sorted(os.listdir(tmp_path)) == before


@pytest.mark.parametrize(
    ("number", "words"), [(errno.ENOSPC, "disk is full"), (errno.EACCES, "may not write"), (errno.EROFS, "read-only")]
)
def test_a_full_or_closed_disk_keeps_the_old_file(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, number: int, words: str
) -> None:
    target = tmp_path / "a.jontel"
    target.write_bytes(b"old")

    def refuse(_handle: int) -> None:
        raise OSError(number, os.strerror(number))

    monkeypatch.setattr(os, "fsync", refuse)
    with pytest.raises(CannotWrite, match=words):
        write_whole(target, b"new")
    assert target.read_bytes() == b"old" and os.listdir(tmp_path) == ["a.jontel"]


def test_reading_a_folder_a_missing_file_or_a_giant_is_refused(tmp_path: Path) -> None:
    (tmp_path / "big").write_bytes(b"x" * 100)
    for path, words in ((tmp_path, "folder"), (tmp_path / "no.jontel", "no file"), (tmp_path / "big", "too large")):
        with pytest.raises(CannotRead, match=words):
            read_whole(path, largest=50)


# autosave


def killed_session(folder: Path, design: Design, path: Path | None = None) -> None:
    """What a session leaves that kept a design and then was killed."""
    child = os.fork()
    if child == 0:
        Autosave(folder).slot("lost").keep(design, path)
        os._exit(0)
    os.waitpid(child, 0)


def test_work_of_a_killed_session_is_found_again(tmp_path: Path, two_boxes: Design) -> None:
    killed_session(tmp_path, two_boxes, Path("/work/boxes.jontel"))
    (one,) = Autosave(tmp_path).left_behind().recovered
    assert one.design == two_boxes and one.path == Path("/work/boxes.jontel")
    assert Autosave(tmp_path).left_behind().recovered == [], "it is held by this session now"
    one.slot.drop()
    assert list(tmp_path.iterdir()) == []


def test_what_a_running_session_holds_is_left_alone(tmp_path: Path, two_boxes: Design) -> None:
    ready, go = os.pipe(), os.pipe()
    child = os.fork()
    if child == 0:
        Autosave(tmp_path).slot("mine").keep(two_boxes, None)
        os.write(ready[1], b"x")
        os.read(go[0], 1)
        os._exit(0)
    os.read(ready[0], 1)
    assert Autosave(tmp_path).left_behind().recovered == []
    os.write(go[1], b"x")
    os.waitpid(child, 0)
    assert [one.design for one in Autosave(tmp_path).left_behind().recovered] == [two_boxes]


def test_damaged_autosaves_are_put_aside_and_the_newest_whole_one_is_taken(tmp_path: Path, two_boxes: Design) -> None:
    killed_session(tmp_path, two_boxes)
    (tmp_path / "lost/00000002.jontel").write_bytes(b"garbage")
    (tmp_path / "lost/.x.jontel-part").write_bytes(b"half")
    (tmp_path / "odd").mkdir()
    (tmp_path / "odd/7.jontel").mkdir()
    found = Autosave(tmp_path).left_behind()
    assert [one.design for one in found.recovered] == [two_boxes]
    assert len(found.troubles) == 2 and "put aside" in " ".join(found.troubles)
    assert (tmp_path / "damaged/lost-00000002.jontel").read_bytes() == b"garbage"
    assert not list((tmp_path / "lost").glob(".*"))
    assert Autosave(tmp_path / "nowhere").left_behind().recovered == []


def test_the_last_ten_autosaves_are_kept_bounded_by_size(
    tmp_path: Path, two_boxes: Design, monkeypatch: pytest.MonkeyPatch
) -> None:
    slot = Autosave(tmp_path).slot("mine")
    for k in range(14):
        slot.keep(replace(two_boxes, name=f"at {k}"), None)
    kept = kept_in(slot.folder)
    assert [open_design(one).name for one in kept] == [f"at {k}" for k in range(13, 3, -1)]
    monkeypatch.setattr(autosave_module, "KEPT_BYTES", 2 * kept[0].stat().st_size)
    slot.keep(replace(two_boxes, name="last"), None)
    assert [open_design(one).name for one in kept_in(slot.folder)] == ["last", "at 13"]


def test_an_autosave_that_fails_or_lies_leaves_the_one_before(
    tmp_path: Path, two_boxes: Design, monkeypatch: pytest.MonkeyPatch
) -> None:
    slot = Autosave(tmp_path).slot("mine")
    slot.keep(two_boxes, None)

    def full(_handle: int) -> None:
        raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))

    with monkeypatch.context() as patched:
        patched.setattr(os, "fsync", full)
        with pytest.raises(CannotWrite, match="disk is full"):
            slot.keep(replace(two_boxes, name="new"), None)
    with monkeypatch.context() as patched:
        patched.setattr(working, "encode", lambda _design: b"not what was meant")
        with pytest.raises(CannotWrite, match="read back"):
            slot.keep(replace(two_boxes, name="new"), None)
    assert [open_design(one) for one in kept_in(slot.folder)] == [two_boxes]


# whose a file is


def test_a_file_open_elsewhere_or_changed_elsewhere_is_noticed(tmp_path: Path) -> None:
    path = tmp_path / "a.jontel"
    path.write_bytes(b"one")
    mine = Claim(path)
    assert not mine.elsewhere and not mine.changed()
    ready, told = os.pipe(), os.pipe()
    child = os.fork()
    if child == 0:
        mine.release()  # the copy of the handle that a fork makes holds the lock too
        os.read(ready[0], 1)
        os.write(told[1], b"y" if Claim(path).elsewhere else b"n")
        os._exit(0)
    os.write(ready[1], b"x")
    assert os.read(told[0], 1) == b"y"
    os.waitpid(child, 0)
    write_whole(path, b"another program's")
    assert mine.changed()
    mine.renew()
    assert not mine.changed()
    mine.release()
    assert not Claim(path).elsewhere


# stitch files


def same(one: list[Movement], other: list[Movement]) -> None:
    """The same needle movements, to the micrometre that the files carry."""
    assert [m.kind for m in one] == [m.kind for m in other]
    assert np.abs(np.array([(m.x, m.y) for m in one]) - np.array([(m.x, m.y) for m in other])).max() <= 5.1e-4
    assert [m.note for m in one] == [m.note for m in other]


def test_a_stitch_list_carries_the_whole_plan(crest_design: Design) -> None:
    sewn = plan(crest_design)
    data = stitchlist.write(sewn, crest_design)
    rows = list(csv.DictReader(io.StringIO(data.decode(), newline="")))
    assert len(rows) == len(sewn) and [int(row["n"]) for row in rows] == list(range(1, len(sewn) + 1))
    assert rows[0]["command"] == "thread" and rows[-1]["command"] == "end"
    assert {"cover", "lock", "travel", "edge run", "lattice"} <= {row["layer"] for row in rows}
    (stop,) = [row for row in rows if row["command"] == "stop"]
    assert stop["layer"].startswith("Lay the film") and stop["object"] == "Ring"
    same(stitchlist.read(data, "crest.csv"), movements(sewn))


def test_a_machine_file_carries_every_movement(crest_design: Design) -> None:
    sewn = plan(crest_design)
    data = gcode.write(sewn, crest_design)
    found = list(gcode.read(data, "crest.ngc"))
    moving = (Kind.STITCH, Kind.JUMP)
    same([m for m in found if m.kind in moving], [m for m in movements(sewn) if m.kind in moving])
    assert [m.kind for m in found if m.kind not in moving] == [
        m.kind for m in movements(sewn) if m.kind not in moving
    ]
    assert sew(found, crest_design.brief.hoop).stitches == totals(sewn).stitches


def test_the_machine_file_is_what_the_format_says(two_boxes: Design) -> None:
    design = change_objects(
        two_boxes, {1}, lambda i: replace(i, name="Odd (name)\nhere", ends=replace(i.ends, stop="Lay (felt)"))
    )
    lines = gcode.write(plan(design), design).decode().splitlines()
    assert "G21 G90" in lines and lines[-1] == "M30" and "M0 (Lay [felt])" in lines
    assert "(Odd [name] here)" in lines
    first = next(n for n, line in enumerate(lines) if line == "Z0")
    assert lines[first - 1].startswith("G0 X") and lines[first + 1] == "Z5"
    sewn = plan(design)
    row = int(np.flatnonzero(sewn.kind == Kind.STITCH)[0])
    assert lines[first - 1] == f"G0 X{sewn.xy[row, 0]:.3f} Y{-sewn.xy[row, 1]:.3f}".replace("-0.000", "0.000")


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "no needle movement"),
        (b"\xff\xfe", "not text"),
        (b"G21 G90\nG0 Xabc\n", "Line 2"),
        (b"G0 X1 Y1\n", "Line 1"),
        (b"G20 G90\n", "inches"),
        (b"G21 G90\nG2 X1 Y1 I5\n", "arcs"),
        (b"G21 G90\nG0 X" + b"9" * 400 + b" Y1\n", "too large"),
        (b"hello\n", "Line 1"),
    ],
)
def test_odd_machine_files_are_refused_by_line(data: bytes, words: str) -> None:
    with pytest.raises(CannotRead, match=words):
        gcode.read(data, "x.ngc")


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "not a stitch list"),
        (b"a,b,c\n", "not a stitch list"),
        (b"\xff\xfe", "not text"),
        (b"n,x_mm,y_mm,command,object,layer,thread\n1,a,0,stitch,,,\n", "Line 2"),
        (b"n,x_mm,y_mm,command,object,layer,thread\n1,0,0,dance,,,\n", "Line 2"),
        (b"n,x_mm,y_mm,command,object,layer,thread\n1,nan,0,stitch,,,\n", "Line 2"),
        (b"n,x_mm,y_mm,command,object,layer,thread\n1,0\n", "Line 2"),
    ],
)
def test_odd_stitch_lists_are_refused_by_line(data: bytes, words: str) -> None:
    with pytest.raises(CannotRead, match=words):
        stitchlist.read(data, "x.csv")


# pictures and pages


def test_stitches_as_vectors_have_one_path_a_thread(crest_design: Design) -> None:
    sewn = plan(crest_design)
    text = svgout.stitches(sewn, crest_design).decode()
    assert text.count("<path ") == len(sewn.threads)
    assert all(f'stroke="{t.colour}"' in text for t in sewn.threads)


def test_outlines_can_be_digitized_again(crest_design: Design) -> None:
    from jontel.artwork.svg import read_svg

    drawing = read_svg(svgout.outlines(plan(crest_design), crest_design), "out.svg")
    assert len(drawing.shapes) == len(crest_design.objects)
    assert drawing.width == pytest.approx(92.4, abs=0.3)


def test_the_picture_shows_the_threads_in_their_place(two_boxes: Design) -> None:
    image = Image.open(io.BytesIO(picture.png(plan(two_boxes), two_boxes)))
    left, cloth, right = (image.getpixel((int(image.width * x), image.height // 2)) for x in (0.15, 0.5, 0.85))
    ground = tuple(int(two_boxes.brief.ground.colour[k : k + 2], 16) for k in (1, 3, 5))
    assert cloth == ground
    assert left != ground and right != ground


def test_a_picture_of_nothing_is_cloth() -> None:
    assert Image.open(io.BytesIO(picture.png(plan(design_of()), design_of()))).size == (64, 64)


def test_the_production_sheet_says_what_the_operator_needs(crest_design: Design) -> None:
    sewn = plan(crest_design)
    pages = PdfReader(io.BytesIO(sheet.write(sewn, crest_design))).pages
    words = " ".join(page.extract_text() for page in pages).replace("\u202f", " ")
    for needed in (
        "Pellan Point crest",
        "cut-away",
        "5012",
        "Evening blue",
        "100 x 100",
        "Lay the film over the ring before the letters",
        f"{totals(sewn).stitches:,}".replace(",", " "),
        "true scale",
    ):
        assert needed in words
    assert len(pages) == 1


def test_a_long_sheet_goes_on_to_another_page() -> None:
    chart = ("1001", "3005")
    design = design_of(*[(Line(f"M0 {n} L30 {n}"), Run(), chart[n % 2]) for n in range(90)])
    pages = PdfReader(io.BytesIO(sheet.write(plan(design), design))).pages
    assert len(pages) >= 2
    assert "90" in pages[-1].extract_text()


# by their endings


@pytest.mark.parametrize("ending", [".jontel", ".csv", ".ngc", ".svg", ".png", ".pdf"])
def test_every_format_is_written_by_its_ending(tmp_path: Path, two_boxes: Design, ending: str) -> None:
    target = tmp_path / f"out{ending}"
    export(two_boxes, target)
    assert target.stat().st_size > 400
    if ending == ".jontel":
        assert open_design(target) == two_boxes
    if ending in (".csv", ".ngc"):
        assert sew(read_movements(target), two_boxes.brief.hoop).stitches == totals(plan(two_boxes)).stitches


def test_unknown_endings_and_empty_designs_are_refused(tmp_path: Path, two_boxes: Design) -> None:
    with pytest.raises(CannotWrite, match="ending"):
        format_of(Path("x.xyz"))
    with pytest.raises(CannotWrite, match="no stitches"):
        export(design_of(), tmp_path / "x.ngc")
    with pytest.raises(CannotRead, match="not a stitch file"):
        export(two_boxes, tmp_path / "x.png")
        read_movements(tmp_path / "x.png")


def test_a_shop_can_add_a_format(monkeypatch: pytest.MonkeyPatch, tmp_path: Path, two_boxes: Design) -> None:
    from importlib import metadata

    class Entry:
        """An installed package's entry point."""

        @staticmethod
        def load() -> Format:
            return Format(".count", "stitch count", lambda sewn, _design: str(len(sewn)).encode())

    monkeypatch.setattr(metadata, "entry_points", lambda group: [Entry()] if group == "jontel.stitch_formats" else [])
    assert ".count" in formats()
    export(two_boxes, tmp_path / "a.count")
    assert int((tmp_path / "a.count").read_text()) == len(plan(two_boxes))


# what is written says all of it


def test_vectors_hold_every_needle_point(crest_design: Design) -> None:
    sewn = plan(crest_design)
    text = svgout.stitches(sewn, crest_design).decode()
    pieces = [run for d in re.findall(r' d="([^"]*)"', text) for run in d.split("M")[1:]]
    places = [tuple(float(v) for v in spot.split(",")) for run in pieces for spot in run.split()]
    stitch = sewn.kind == Kind.STITCH
    alone = stitch & ~np.append(sewn.sewn()[1:], False) & ~sewn.sewn()
    assert len(places) == int(stitch.sum() - alone.sum())
    first = sewn.xy[np.flatnonzero(sewn.sewn())[0] - 1]
    assert places[0] == pytest.approx(tuple(first), abs=1e-3)
    lines = sum(
        math.dist(a, b)
        for run in pieces
        for a, b in itertools.pairwise([tuple(map(float, p.split(","))) for p in run.split()])
    )
    rows = np.flatnonzero(sewn.sewn())
    assert lines == pytest.approx(float(np.hypot(*(sewn.xy[rows] - sewn.xy[rows - 1]).T).sum()), rel=1e-4)


def test_the_sheet_names_the_metres_of_every_thread(crest_design: Design) -> None:
    sewn = plan(crest_design)
    pages = PdfReader(io.BytesIO(sheet.write(sewn, crest_design))).pages
    text = " ".join(page.extract_text() for page in pages)
    starts = sewn.thread[sewn.kind == Kind.THREAD].tolist()
    once = [number for number in range(len(sewn.threads)) if starts.count(number) == 1]
    assert len(once) > 5
    for number in once:
        row = text[text.index(sewn.threads[number].name) :][:120]
        assert f"{totals(sewn).metres[number]:.1f}" in row, row


def test_the_note_of_a_stop_comes_back_from_a_machine_file(crest_design: Design) -> None:
    notes = [
        m.note for m in gcode.read(gcode.write(plan(crest_design), crest_design), "it.ngc") if m.kind == Kind.STOP
    ]
    assert notes == ["Lay the film over the ring before the letters"]
    kinds = [m.kind for m in gcode.read(gcode.write(plan(crest_design), crest_design), "it.ngc")]
    assert kinds.count(Kind.STOP) == 1 and kinds.count(Kind.THREAD) == int(
        (plan(crest_design).kind == Kind.THREAD).sum()
    )
