"""The user's own threads: charts, and what is in the box with how much of it is left, as CSV in one folder."""

import csv
import io
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from pathlib import Path

from jontel.data import read_chart, thread_chart
from jontel.design.errors import CannotRead, JontelError
from jontel.design.thread import Thread, colour_distance
from jontel.files.atomic import read_whole, write_whole

LARGEST_CHART = 5_000_000
MOST_CHARTS = 200
BOX = "box.csv"
ALIKE = 5.0
"""A thread that differs less from one in the box, by CIEDE2000, is not matched with artwork beside it."""


@dataclass(frozen=True)
class Stock:
    """A thread in the box, and how many metres of it are left, if that is known."""

    thread: Thread
    metres: float | None = None


@dataclass
class ThreadBox:
    """Charts by name and the box by code, as they lie in ``folder``."""

    folder: Path
    charts: dict[str, tuple[Thread, ...]] = field(default_factory=dict)
    stock: dict[str, Stock] = field(default_factory=dict)
    troubles: list[str] = field(default_factory=list)
    unread: bool = False

    @classmethod
    def of(cls, folder: Path) -> "ThreadBox":
        """What lies in a folder; what of it cannot be read is told in ``troubles`` and left where it is."""
        box = cls(folder)
        for path in sorted(folder.glob("*.csv"))[:MOST_CHARTS] if folder.is_dir() else []:
            try:
                data = read_whole(path, LARGEST_CHART)
                if path.name == BOX:
                    box.stock = read_stock(data, path.name)
                else:
                    box.charts[path.stem] = read_chart(data, path.name)
            except JontelError as error:
                box.troubles.append(str(error))
                box.unread = box.unread or path.name == BOX
        return box

    def offered(self, first: Iterable[Thread] = ()) -> tuple[Thread, ...]:
        """Every thread to choose from: those in the box, those in ``first``, the user's charts, the shipped chart."""
        rows = [*(one.thread for one in self.stock.values()), *first]
        rows += [thread for chart in self.charts.values() for thread in chart]
        found: dict[str, Thread] = {}
        for thread in (*rows, *thread_chart()):
            found.setdefault(thread.code, thread)
        return tuple(found.values())

    def for_artwork(self) -> tuple[Thread, ...]:
        """Threads that colours of artwork are matched with: what looks like one in the box is that one."""
        own = [one.thread for one in self.stock.values()]
        rest = [
            thread
            for thread in self.offered()
            if thread.code not in self.stock and all(colour_distance(thread.rgb, one.rgb) >= ALIKE for one in own)
        ]
        return (*own, *rest)

    def add_chart(self, path: Path) -> int:
        """Copy a chart into the folder; how many threads it has. Raises ``CannotRead``, ``CannotWrite``."""
        data = read_whole(path, LARGEST_CHART)
        threads = read_chart(data, path.name)
        name = path.stem if path.name != BOX else "chart"
        self._write(f"{name}.csv", chart_csv(threads))
        self.charts[name] = threads
        return len(threads)

    def remove_chart(self, name: str) -> None:
        """Take a chart away."""
        self.charts.pop(name, None)
        (self.folder / f"{name}.csv").unlink(missing_ok=True)

    def put(self, threads: Iterable[Thread]) -> None:
        """Put threads into the box; those that are there keep what is left of them."""
        for thread in threads:
            self.stock.setdefault(thread.code, Stock(thread))
        self._keep()

    def take_out(self, codes: Iterable[str]) -> None:
        """Take threads out of the box."""
        for code in codes:
            self.stock.pop(code, None)
        self._keep()

    def set_metres(self, code: str, metres: float | None) -> None:
        """Say how much is left of a thread in the box."""
        if code in self.stock:
            self.stock[code] = Stock(self.stock[code].thread, metres)
            self._keep()

    def used(self, metres: Mapping[str, float]) -> None:
        """Take what was sewn, by code, off what is left."""
        for code, length in metres.items():
            known = self.stock.get(code)
            if known is not None and known.metres is not None:
                self.stock[code] = Stock(known.thread, max(0.0, round(known.metres - length, 1)))
        self._keep()

    def _keep(self) -> None:
        if self.unread:  # what could not be read is not written over
            (self.folder / BOX).replace(self.folder / f"{BOX}.unread")
            self.unread = False
        self._write(BOX, stock_csv(self.stock.values()))

    def _write(self, name: str, data: bytes) -> None:
        self.folder.mkdir(parents=True, exist_ok=True)
        write_whole(self.folder / name, data)


def chart_csv(threads: Iterable[Thread]) -> bytes:
    """A chart as CSV ``code,name,hex,weight``."""
    return _csv(("code", "name", "hex", "weight"), ((t.code, t.name, t.colour, t.weight) for t in threads))


def stock_csv(stock: Iterable[Stock]) -> bytes:
    """The box as CSV: a chart with one more column, the metres that are left."""
    rows = ((s.thread, "" if s.metres is None else f"{s.metres:g}") for s in stock)
    return _csv(
        ("code", "name", "hex", "weight", "metres"), ((t.code, t.name, t.colour, t.weight, left) for t, left in rows)
    )


def _csv(head: tuple[str, ...], rows: Iterable[tuple[object, ...]]) -> bytes:
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(head)
    writer.writerows(rows)
    return out.getvalue().encode()


def read_stock(data: bytes, name: str) -> dict[str, Stock]:
    """The threads of a box by code. Raises ``CannotRead`` naming the line."""
    text = data.decode("utf-8-sig", errors="replace")
    if not any(row and row[0].strip().lower() != "code" for row in csv.reader(io.StringIO(text, newline=""))):
        return {}
    threads = {thread.code: thread for thread in read_chart(data, name)}
    found: dict[str, Stock] = {}
    for number, row in enumerate(csv.reader(io.StringIO(text, newline="")), 1):
        if not row or row[0].strip() not in threads:
            continue
        left = row[4].strip() if len(row) > 4 else ""
        try:
            metres = float(left) if left else None
        except ValueError as error:
            raise CannotRead(
                f"Line {number} of {name} says “{left}” where the metres should be; correct it."
            ) from error
        if metres is not None and not 0 <= metres < 1e7:
            raise CannotRead(f"Line {number} of {name} says {left} metres; correct it.")
        found[row[0].strip()] = Stock(threads[row[0].strip()], metres)
    return found
