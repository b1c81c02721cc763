"""What ships with Jontel: grounds, hoops, a thread chart, fonts, icons and the demo's artwork."""

import csv
import io
from functools import cache
from importlib import resources
from typing import TypeVar

import msgspec

from jontel.design import CannotRead, Ground, Hoop, Thread

Found = TypeVar("Found")


def resource(name: str) -> bytes:
    """The bytes of a shipped file, by its name below this folder."""
    return (resources.files(__name__) / name).read_bytes()


@cache
def grounds() -> tuple[Ground, ...]:
    """The shipped grounds."""
    return msgspec.json.decode(resource("grounds.json"), type=tuple[Ground, ...])


@cache
def hoops() -> tuple[Hoop, ...]:
    """The shipped hoops, smallest first."""
    return msgspec.json.decode(resource("hoops.json"), type=tuple[Hoop, ...])


@cache
def thread_chart() -> tuple[Thread, ...]:
    """The shipped thread chart."""
    return read_chart(resource("threads.csv"), "the shipped chart")


def read_chart(data: bytes, name: str) -> tuple[Thread, ...]:
    """Threads from CSV ``code,name,hex[,weight]``. Raises ``CannotRead`` naming the line."""
    try:
        rows = list(csv.reader(io.StringIO(data.decode("utf-8-sig"), newline="")))
    except (UnicodeDecodeError, csv.Error) as error:
        raise CannotRead(f"{name} is not a thread chart: save it as CSV text in UTF-8.") from error
    threads: dict[str, Thread] = {}
    for number, row in enumerate(rows, 1):
        if not row or (number == 1 and row[0].strip().lower() == "code"):
            continue
        try:
            code, title, colour = (cell.strip() for cell in row[:3])
            int(colour.lstrip("#"), 16)
            weight = int(row[3]) if len(row) > 3 and row[3].strip() else 40
            if len(colour.lstrip("#")) != 6 or not code:
                raise ValueError
        except ValueError as error:
            raise CannotRead(f"Line {number} of {name} is not code,name,hex[,weight]; correct it.") from error
        threads[code] = Thread(code, title, "#" + colour.lstrip("#").lower(), weight)
    if not threads:
        raise CannotRead(f"{name} holds no thread; give it lines of code,name,hex.")
    return tuple(threads.values())


def find_ground(name: str) -> Ground:
    """The shipped ground whose name is, or starts with, ``name``, in any case. Raises ``CannotRead``."""
    return _find(name, {ground.name: ground for ground in grounds()}, "ground")


def find_hoop(name: str) -> Hoop:
    """The shipped hoop whose name is, or starts with, ``name``, in any case. Raises ``CannotRead``."""
    return _find(name, {hoop.name: hoop for hoop in hoops()}, "hoop")


def _find(name: str, known: dict[str, Found], what: str) -> Found:
    wanted = name.strip().lower()
    exact = [value for title, value in known.items() if title.lower() == wanted]
    near = [value for title, value in known.items() if wanted and title.lower().startswith(wanted)]
    if not (exact or near):
        raise CannotRead(f"There is no {what} “{name}”; choose one of: {', '.join(known)}.")
    return (exact or near)[0]
