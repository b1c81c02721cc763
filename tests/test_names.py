"""Names by the list: which letters are filled, what fits, the same files wherever they are made, resumed and told."""

import csv
import hashlib
import os
import signal
from pathlib import Path

import psutil
import pytest
from click.testing import CliRunner
from hypothesis import given
from hypothesis import settings as hypothesis_settings
from hypothesis import strategies as st
from msgspec.structs import replace
from pypdf import PdfReader

from jontel.cli import cli
from jontel.data import find_hoop
from jontel.design import CannotRead, Design
from jontel.design.edits import add_objects
from jontel.design.lettering import Lettering
from jontel.files.formats import export, open_design, read_movements
from jontel.lettering.setting import words_object
from jontel.machine.head import sew
from jontel.names.fill import fields_of
from jontel.names.lot import JOURNAL, REPORT, SHEET, Wishes, sew_lot
from jontel.names.table import LONGEST_CELL, Table, table_of
from tests.test_lettering import SANS, sewn_words, words

NAMES = ("Nell", "Ole", "Zoë", "Maximiliane von Auenwald", "漢", "", "Jo")


@pytest.fixture(scope="module")
def bar() -> Design:
    """A design with one name on it, no longer than 40 mm."""
    return replace(sewn_words(words("Sample", height=6.0, longest=40.0)), name="Bar")


def lot(design: Design, folder: Path, names: tuple[str, ...] = NAMES, **wishes: object) -> dict[str, bytes]:
    """The files that a lot writes, without its journal, by name."""
    sew_lot(design, Table(("name",), tuple((name,) for name in names)), folder, Wishes(**wishes))
    return {path.name: path.read_bytes() for path in sorted(folder.iterdir()) if path.name != JOURNAL}


def report(folder: Path) -> list[dict[str, str]]:
    """The rows of a report."""
    with (folder / REPORT).open(newline="", encoding="utf-8") as file:
        return list(csv.DictReader(file))


# the table


@pytest.mark.parametrize(
    "data",
    [
        b'name,role\nNell,"Pilot, 1st"\n',
        b"\xef\xbb\xbfname;role\r\nNell;Pilot, 1st\r\n",
        b"name\trole\nNell\tPilot, 1st\n\n",
    ],
)
def test_a_list_is_read_as_spreadsheets_write_it(data: bytes) -> None:
    assert table_of(data, "l.csv") == Table(("name", "role"), (("Nell", "Pilot, 1st"),))


@pytest.mark.parametrize(
    ("data", "told"),
    [
        (b"", "is empty"), (b"\n\n", "does not name the columns"), (b"name,name\nA,B", "two columns are called"),
        (b"name\nA,B", "line 2: 2 cells for 1 columns"), (b"\xff\xfe\x00n", "not text in UTF-8"),
        (b"name\n" + b"x" * (LONGEST_CELL + 1), "over 400 signs"), (b"a\0b", "no list"), (b'name\n"A', "mend the list"),
        (b"PK\x03\x04\x00\x00", "no list"),
    ],
)  # fmt: skip
def test_a_list_that_is_none_says_where(data: bytes, told: str) -> None:
    with pytest.raises(CannotRead, match=told):
        table_of(data, "l.csv")


@given(st.binary(max_size=300))
@hypothesis_settings(max_examples=150)
def test_any_bytes_are_a_table_or_one_sentence(data: bytes) -> None:
    try:
        found = table_of(data, "l.csv")
    except CannotRead as refused:
        assert str(refused).startswith("l.csv") and "\n" not in str(refused).strip("\n")
        return
    assert all(len(row) == len(found.columns) for row in found.rows)


# which letters are filled


def test_letters_are_filled_by_placeholder_by_name_or_because_they_are_the_only_ones(bar: Design) -> None:
    assert fields_of(bar, ("name", "role")) == ((1, "{name}"),)
    second = words_object(Lettering("PILOT", SANS, 5.0), "1001")
    two = add_objects(bar, [second])
    with pytest.raises(CannotRead, match="several letterings"):
        fields_of(two, ("name", "role"))
    called = replace(two, objects=(two.objects[0], replace(two.objects[1], name="Role")))
    assert fields_of(called, ("name", "role")) == ((2, "{role}"),)
    assert fields_of(two, ("name", "role"), "sample") == ((1, "{name}"),)
    placed = add_objects(bar, [words_object(Lettering("{ROLE} {name}", SANS, 5.0), "1001")])
    assert fields_of(placed, ("name", "role")) == ((2, "{ROLE} {name}"),)
    with pytest.raises(CannotRead, match="has no lettering called"):
        fields_of(two, ("name",), "nowhere")
    with pytest.raises(CannotRead, match="type a sample name"):
        fields_of(replace(bar, objects=()), ("name",))


# the lot


def test_every_name_is_sewn_or_told_why_not(bar: Design, tmp_path: Path) -> None:
    files = lot(bar, tmp_path, longest=30.0)
    assert [row["status"] for row in report(tmp_path)] == [
        "sewn",
        "sewn",
        "sewn",
        "does not fit",
        "lacks signs",
        "is empty",
        "sewn",
    ]
    assert set(files) == {"001-nell.ngc", "002-ole.ngc", "003-zoe.ngc", "007-jo.ngc", REPORT, SHEET}
    assert "3.6 mm is the least" in report(tmp_path)[3]["why"] and "has no 漢" in report(tmp_path)[4]["why"]
    for row in report(tmp_path):
        if row["status"] == "sewn":
            sewn = sew(read_movements(tmp_path / f"{row['file']}.ngc"), bar.brief.hoop)
            assert sewn.stitches == int(row["stitches"]) and float(row["width_mm"]) <= 30.5
    pages = "".join(page.extract_text() for page in PdfReader(tmp_path / SHEET).pages)
    assert "4 sewn, 3 not" in pages and "001-nell" in pages and "does not fit" in pages


def test_a_long_name_is_narrower_then_smaller_down_to_the_least(bar: Design, tmp_path: Path) -> None:
    long = ("Maximiliane von Auen",)
    lot(bar, tmp_path / "a", long, endings=(".jontel",))
    (item,) = open_design(tmp_path / "a" / "001-maximiliane-von-auen.jontel").objects
    assert item.lettering is not None and item.lettering.text == long[0]
    assert item.lettering.width < 100 and 3.6 <= item.lettering.height < 6.0
    lot(bar, tmp_path / "b", long, least=5.9)
    assert report(tmp_path / "b")[0]["status"] == "does not fit"


def test_the_same_files_are_written_on_one_core_and_on_two_and_a_killed_worker_loses_nothing(
    bar: Design, tmp_path: Path
) -> None:
    names = tuple(
        f"{first}{last}" for first in ("Al", "Bo", "Cy", "Di", "Eve") for last in ("", "ma", "na", "ra", "lin", "ton")
    )
    alone = lot(bar, tmp_path / "one", names)
    killed: list[int] = []

    def told(count: int, _of: int) -> None:
        workers = [
            one for one in psutil.Process().children(recursive=True) if "spawn_main" in " ".join(one.cmdline())
        ]
        if count and not killed and len(workers) > 1:
            killed.append(workers[-1].pid)
            os.kill(workers[-1].pid, signal.SIGKILL)

    table = Table(("name",), tuple((name,) for name in names))
    outcomes = sew_lot(bar, table, tmp_path / "two", Wishes(jobs=2), told)
    assert killed and [one.row for one in outcomes] == list(range(1, 31))
    there = {path.name: path.read_bytes() for path in (tmp_path / "two").iterdir() if path.name != JOURNAL}
    assert there == alone


def test_a_lot_goes_on_where_it_was_stopped_and_makes_anew_what_changed(bar: Design, tmp_path: Path) -> None:
    whole = lot(bar, tmp_path / "whole")

    class Stopped(Exception):
        pass

    def stop(count: int, _of: int) -> None:
        if count:
            raise Stopped

    table = Table(("name",), tuple((name,) for name in NAMES))
    with pytest.raises(Stopped):
        sew_lot(bar, table, tmp_path / "again", Wishes(), stop)
    journal = tmp_path / "again" / JOURNAL
    journal.write_bytes(journal.read_bytes()[:-20])  # the last line was cut off
    first = tmp_path / "again" / "001-nell.ngc"
    first.write_bytes(b"damaged")
    done = first.with_name("002-ole.ngc").stat().st_mtime_ns
    assert lot(bar, tmp_path / "again") == whole
    assert first.with_name("002-ole.ngc").stat().st_mtime_ns == done  # what was there stayed
    other = lot(replace(bar, objects=(replace(bar.objects[0], thread="1005"),)), tmp_path / "again")
    assert other["002-ole.ngc"] != whole["002-ole.ngc"]


def test_several_names_share_a_hoop_without_touching(bar: Design, tmp_path: Path) -> None:
    names = ("Nell", "Ole", "Jo", "Ann", "Tim")
    roomy = replace(bar, brief=replace(bar.brief, hoop=find_hoop("100 x 100")))
    files = lot(roomy, tmp_path, names, together=True)
    hoops = sorted(name for name in files if name.startswith("hoop"))
    assert hoops == ["hoop-001.ngc"]
    together = sew(read_movements(tmp_path / hoops[0]), roomy.brief.hoop)
    each = sum(sew(read_movements(tmp_path / name), roomy.brief.hoop).stitches for name in files if name[0] == "0")
    assert abs(together.stitches - each) < 0.05 * each
    assert [row["name"] for row in report(tmp_path)][-1] == "1, 2, 3, 4, 5"


def test_names_from_the_command_line(bar: Design, tmp_path: Path) -> None:
    export(bar, tmp_path / "bar.jontel")
    (tmp_path / "l.csv").write_text("name\nNell\n漢\n", encoding="utf-8")
    args = ["names", str(tmp_path / "l.csv"), str(tmp_path / "bar.jontel"), "-o", str(tmp_path / "out")]
    done = CliRunner().invoke(cli, [*args, "--format", "csv", "--format", ".ngc", "--jobs", "1"])
    assert done.exit_code == 0 and "1 of 2 names" in done.output and "lacks signs" in done.output
    assert {path.suffix for path in (tmp_path / "out").iterdir() if path.name.startswith("001")} == {".csv", ".ngc"}
    digest = hashlib.sha256((tmp_path / "out" / "001-nell.csv").read_bytes()).hexdigest()
    assert CliRunner().invoke(cli, [*args, "--format", "csv", "--jobs", "1"]).exit_code == 0
    assert hashlib.sha256((tmp_path / "out" / "001-nell.csv").read_bytes()).hexdigest() == digest
    nobody = CliRunner().invoke(cli, [*args, "--scheduler", "tcp://127.0.0.1:1"])
    assert isinstance(nobody.exception, CannotRead) and "No scheduler answers at tcp://127.0.0.1:1" in str(
        nobody.exception
    )
    assert CliRunner().invoke(cli, [*args, "--format", "xyz"]).exception is not None
