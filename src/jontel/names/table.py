"""The list: a table of names, as a spreadsheet writes it."""

import csv
import io
from dataclasses import dataclass
from pathlib import Path

from jontel.design.errors import CannotRead
from jontel.files.atomic import read_whole

LARGEST, MOST_ROWS, MOST_COLUMNS, LONGEST_CELL = 50_000_000, 200_000, 200, 400
"""What a list holds at most: bytes, rows, columns, signs of a cell."""


@dataclass(frozen=True)
class Table:
    """Columns by name, and rows of as many cells."""

    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]


def read_table(path: Path) -> Table:
    """The table in a CSV file, whose first line names the columns. Raises ``CannotRead`` with the line."""
    data = read_whole(path)
    if len(data) > LARGEST:
        raise CannotRead(f"{path.name} is larger than {LARGEST // 1_000_000} MB; split the list.")
    return table_of(data, path.name)


def table_of(data: bytes, name: str) -> Table:
    """The table in the bytes of a CSV file (RFC 4180), separated by commas, semicolons or tabs."""
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise CannotRead(f"{name} is not text in UTF-8; save the list as CSV in UTF-8.") from error
    if "\0" in text:
        raise CannotRead(f"{name} is no list but a file of another kind; save the list as CSV.")
    head = text.partition("\n")[0]
    comma = max(",;\t", key=head.count) if any(one in head for one in ",;\t") else ","
    rows: list[tuple[str, ...]] = []
    columns: tuple[str, ...] = ()
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=comma, strict=True)
    try:
        for cells in reader:
            cells = [cell.strip() for cell in cells]
            if not columns:
                columns = _columns(cells, name)
            elif any(cells):
                rows.append(_row(cells, columns, name, reader.line_num))
            if len(rows) > MOST_ROWS:
                raise CannotRead(f"{name} has more than {MOST_ROWS:,} rows; split the list.")
    except csv.Error as error:
        raise CannotRead(f"{name}, line {reader.line_num}: {error}; mend the list.") from error
    if not columns:
        raise CannotRead(f"{name} is empty; its first line names the columns, one name a line follows.")
    return Table(columns, tuple(rows))


def _columns(cells: list[str], name: str) -> tuple[str, ...]:
    if not any(cells) or len(cells) > MOST_COLUMNS:
        raise CannotRead(f"{name}: its first line does not name the columns; write for example “name” there.")
    known = [cell.lower() for cell in cells if cell]
    twice = next((cell for cell in known if known.count(cell) > 1), "")
    if twice:
        raise CannotRead(f"{name}: two columns are called “{twice}”; give one another name.")
    return tuple(cells)


def _row(cells: list[str], columns: tuple[str, ...], name: str, line: int) -> tuple[str, ...]:
    if len(cells) > len(columns):
        raise CannotRead(f"{name}, line {line}: {len(cells)} cells for {len(columns)} columns; mend the line.")
    long = next((cell for cell in cells if len(cell) > LONGEST_CELL), "")
    if long:
        raise CannotRead(f"{name}, line {line}: “{long[:30]}…” has over {LONGEST_CELL} signs; shorten it.")
    return (*cells, *("" for _ in range(len(columns) - len(cells))))
