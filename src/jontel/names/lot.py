"""A lot: every row of a list sewn, its files written, resumed where it was left, told in a report and a sheet."""

import csv
import hashlib
import io
import os
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import msgspec
from msgspec import Struct
from msgspec.structs import replace

from jontel import __version__
from jontel.design.design import Design
from jontel.design.errors import CannotWrite
from jontel.files import lotsheet, working
from jontel.files.atomic import write_whole
from jontel.names.fill import Hoopful, Order, Outcome, fields_of, worked, worked_together
from jontel.names.runners import Runner, here, on_cluster
from jontel.names.table import Table

BATCH = 8
"""So many rows are one piece of work."""
GAP = 6.0
"""Names in one hoop are so far apart, mm."""
JOURNAL, REPORT, SHEET = ".lot-done.jsonl", "lot.csv", "lot.pdf"
HEAD = ("row", "name", "status", "file", "stitches", "minutes", "width_mm", "height_mm", "letters_mm", "why")
Told = Callable[[int, int], object]


def _nobody(_count: int, _of: int) -> None:
    """Nobody hears how far it is."""


class Wishes(Struct, frozen=True):
    """How a lot is made; ``jobs`` 1 is this process alone, ``scheduler`` the address of a cluster."""

    field: str = ""
    endings: tuple[str, ...] = (".ngc",)
    longest: float = 0.0
    least: float = 0.0
    together: bool = False
    jobs: int = 1
    scheduler: str = ""


class _Done(Struct, frozen=True):
    """A line of the journal: what a row depended on, what became of it, and its files with their digests."""

    key: str
    outcome: Outcome
    files: dict[str, str]


def sew_lot(design: Design, table: Table, folder: Path, wishes: Wishes, told: Told = _nobody) -> list[Outcome]:
    """Sew every row of a list and write its files, a report and a sheet into ``folder``; what is there already stays.

    Returns what became of each row, in order. Raises ``CannotRead`` for a design and a list that do not fit each
    other, ``CannotWrite`` where a file cannot be written: what was written stays, and the next run goes on there.
    """
    order = Order(
        table.columns, fields_of(design, table.columns, wishes.field), wishes.endings, wishes.longest, wishes.least,
        max(3, len(str(len(table.rows)))),
    )  # fmt: skip
    design = replace(design, artwork=())
    data = working.encode(design)
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise _unwritten(folder, error) from error
    common = hashlib.sha256(msgspec.json.encode((design, order, __version__))).hexdigest()
    rows = list(enumerate(table.rows, 1))
    with _runner(wishes, len(rows)) as run, _Journal(folder) as journal:
        found = dict(_finished(run, worked, data, order, rows, common, journal, told))
        outcomes = [found[number] for number, _ in rows]
        hoops: list[Outcome] = []
        if wishes.together:
            hoopfuls = _hoopfuls(design, rows, outcomes)
            numbered = [(one.number, one) for one in hoopfuls]
            sewn = dict(_finished(run, worked_together, data, order, numbered, common + "hoops", journal, _nobody))
            hoops = [sewn[number] for number, _ in numbered]
    write_whole(folder / REPORT, _report(outcomes, hoops))
    write_whole(folder / SHEET, lotsheet.write(design, [_line(one) for one in (*outcomes, *hoops)]))
    return outcomes


@contextmanager
def _runner(wishes: Wishes, rows: int) -> Iterator[Runner]:
    if wishes.scheduler or (wishes.jobs > 1 and rows > BATCH):
        with on_cluster(wishes.jobs, wishes.scheduler) as run:
            yield run
    else:
        yield here


def _unwritten(path: Path, error: OSError) -> CannotWrite:
    return CannotWrite(f"{path} cannot be written: {(error.strerror or 'the disk refused').lower()}.")


class _Journal:
    """What is done already, line by line in a file; a line that was cut off is as good as none."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._path = folder / JOURNAL
        self.known: dict[str, _Done] = {}

    def __enter__(self) -> "_Journal":
        try:
            lines = self._path.read_bytes().splitlines() if self._path.exists() else []
            self._file = self._path.open("ab")
        except OSError as error:
            raise _unwritten(self._path, error) from error
        for line in lines:
            try:
                done = msgspec.json.decode(line, type=_Done)
            except msgspec.MsgspecError:
                continue
            self.known[done.key] = done
        self._file.write(b"\n")
        return self

    def __exit__(self, *_: object) -> None:
        self._file.close()

    def still(self, key: str) -> Outcome | None:
        """What became of a row with this key, if all of its files are still what was written."""
        done = self.known.get(key)
        if done is None:
            return None
        for name, digest in done.files.items():
            path = self.folder / name
            if not path.is_file() or hashlib.sha256(path.read_bytes()).hexdigest() != digest:
                return None
        return done.outcome

    def keep(self, key: str, outcome: Outcome) -> Outcome:
        """Write the files of an outcome, then the line that says so; returns it without them."""
        digests = {}
        for ending, data in outcome.files.items():
            name = f"{outcome.stem}{ending}"
            write_whole(self.folder / name, data)
            digests[name] = hashlib.sha256(data).hexdigest()
        bare = replace(outcome, files={})
        try:
            self._file.write(msgspec.json.encode(_Done(key, bare, digests)) + b"\n")
            self._file.flush()
            os.fsync(self._file.fileno())
        except OSError as error:
            raise _unwritten(self._path, error) from error
        return bare


def _finished(
    run: Runner,
    work: Callable[..., list[Any]],
    data: bytes,
    order: Order,
    items: Sequence[tuple[int, Any]],
    common: str,
    journal: _Journal,
    told: Told,
) -> Iterator[tuple[int, Outcome]]:
    """What became of each item, by its number: known from before, or worked out now and written."""
    keys = {number: hashlib.sha256(common.encode() + msgspec.json.encode((number, item))).hexdigest()
            for number, item in items}  # fmt: skip
    todo: list[tuple[int, Any]] = []
    count = 0
    for number, item in items:
        known = journal.still(keys[number])
        if known is None:
            todo.append((number, item))
        else:
            count += 1
            yield number, known
    told(count, len(items))
    given = [(number, item) if work is worked else item for number, item in todo]
    size = BATCH if work is worked else 1
    batches = [given[k : k + size] for k in range(0, len(given), size)]
    for outcomes in run(work, data, order, batches):
        for outcome in outcomes:
            yield outcome.row, journal.keep(keys[outcome.row], outcome)
        count += len(outcomes)
        told(count, len(items))


def _hoopfuls(
    design: Design, rows: Sequence[tuple[int, tuple[str, ...]]], outcomes: Sequence[Outcome]
) -> list[Hoopful]:
    """Rows that are sewn, several to a hoop, in a grid of equal places; none where no two fit."""
    good = [(number, cells) for (number, cells), one in zip(rows, outcomes, strict=True) if one.status == "sewn"]
    hoop = design.brief.hoop
    wide = max((one.width for one in outcomes if one.status == "sewn"), default=0.0) + GAP
    high = max((one.height for one in outcomes if one.status == "sewn"), default=0.0) + GAP
    room = hoop.width - 2 * hoop.corner * 0.3 + GAP, hoop.height - 2 * hoop.corner * 0.3 + GAP
    across, down = max(1, int(room[0] / wide)), max(1, int(room[1] / high))
    if across * down < 2:
        return []
    places = [
        ((column - (across - 1) / 2) * wide, (line - (down - 1) / 2) * high)
        for line in range(down)
        for column in range(across)
    ]
    found = []
    for number, first in enumerate(range(0, len(good), len(places)), 1):
        part = good[first : first + len(places)]
        found.append(
            Hoopful(number, tuple((k, cells, place) for (k, cells), place in zip(part, places, strict=False)))
        )
    return found


def _line(one: Outcome) -> tuple[str, ...]:
    """A row of the report."""
    sewn = one.status == "sewn"
    figures = (
        str(one.stitches),
        f"{one.seconds / 60:.1f}",
        f"{one.width:.1f}",
        f"{one.height:.1f}",
        f"{one.letters:.1f}",
    )
    return (str(one.row), one.name, one.status, one.stem if sewn else "", *(figures if sewn else ("",) * 5), one.told)


def _report(outcomes: Sequence[Outcome], hoops: Sequence[Outcome]) -> bytes:
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(HEAD)
    writer.writerows(_line(one) for one in (*outcomes, *hoops))
    return out.getvalue().encode()
