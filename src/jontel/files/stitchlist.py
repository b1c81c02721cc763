"""The stitch list: CSV (RFC 4180) with one needle movement a row."""

import csv
import io
import math

from jontel.design.design import Design
from jontel.design.errors import CannotRead
from jontel.files.movements import on_cloth
from jontel.machine.head import Movement
from jontel.sewing.plan import SewPlan
from jontel.stitching.stitches import Kind, Layer

HEADER = ["n", "x_mm", "y_mm", "command", "object", "layer", "thread"]
WORDS = {kind: kind.name.lower() for kind in Kind}
KINDS = {word: kind for kind, word in WORDS.items()}
MOST_ROWS = 5_000_000


def write(plan: SewPlan, design: Design) -> bytes:
    """The whole plan as text. A stop carries its instruction in ``layer``."""
    names = {item.id: item.name for item in design.objects}
    out = io.StringIO(newline="")
    table = csv.writer(out)
    table.writerow(HEADER)
    for row in range(len(plan)):
        kind = Kind(plan.kind[row])
        layer = plan.stops.get(row, "") if kind == Kind.STOP else Layer(plan.layer[row]).title
        table.writerow(
            [
                row + 1,
                f"{plan.xy[row, 0]:.3f}",
                f"{plan.xy[row, 1]:.3f}",
                WORDS[kind],
                names.get(int(plan.object[row]), ""),
                layer,
                plan.threads[plan.thread[row]].code,
            ]
        )
    return out.getvalue().encode()


def read(data: bytes, name: str) -> list[Movement]:
    """The needle movements in a stitch list. Raises ``CannotRead`` naming the line."""
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise CannotRead(f"{name} is not text; save the stitch list as CSV in UTF-8.") from error
    rows = csv.reader(io.StringIO(text, newline=""))
    found: list[Movement] = []
    try:
        if next(rows, None) != HEADER:
            raise CannotRead(f"{name} is not a stitch list: its first line must be {','.join(HEADER)}.")
        for cells in rows:
            if cells:
                found.append(_movement(cells, rows.line_num, name))
            if len(found) > MOST_ROWS:
                raise CannotRead(f"{name} holds over {MOST_ROWS:,} rows, more than any machine sews.")
    except csv.Error as error:
        raise CannotRead(f"Line {rows.line_num} of {name} is not CSV; correct it.") from error
    return found


def _movement(cells: list[str], line: int, name: str) -> Movement:
    try:
        x, y = float(cells[1]), float(cells[2])
        kind = KINDS[cells[3]]
    except (IndexError, ValueError, KeyError) as error:
        raise CannotRead(f"Line {line} of {name} is not a needle movement; correct it.") from error
    if not (math.isfinite(x) and math.isfinite(y)):
        raise CannotRead(f"Line {line} of {name} has no place to go to; correct it.")
    on_cloth(x, y, line, name)
    notes = {Kind.STOP: 5, Kind.THREAD: 6}
    note = cells[notes[kind]] if kind in notes and len(cells) > notes[kind] else ""
    return Movement(line, kind, x, y, note)
