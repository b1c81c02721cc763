"""The machine file: ISO 6983 G-code, metric, absolute, y up."""

import math
import re

from jontel.design.design import Design
from jontel.design.errors import CannotRead
from jontel.files.movements import on_cloth
from jontel.machine.head import Movement
from jontel.sewing.plan import SewPlan
from jontel.stitching.stitches import Kind

_WORD = re.compile(r"\s*(?:\(([^()]*)\)|([A-Z])\s*([-+]?(?:\d+\.?\d*|\.\d+)))")


def _comment(text: str) -> str:
    """Text that can stand between brackets on one line."""
    return re.sub(r"\s+", " ", text.replace("(", "[").replace(")", "]")).strip()


def write(plan: SewPlan, design: Design) -> bytes:
    """The plan as a program."""
    hoop = design.brief.hoop
    lines = [
        f"({_comment(design.name)})",
        f"(hoop {_comment(hoop.name)}: {hoop.width:g} x {hoop.height:g} mm)",
        "G21 G90",
    ]
    names = {item.id: item.name for item in design.objects}
    owner = -1
    for row in range(len(plan)):
        kind, (x, y) = int(plan.kind[row]), plan.xy[row]
        if plan.object[row] != owner and plan.object[row] in names:
            owner = int(plan.object[row])
            lines.append(f"({_comment(names[owner])})")
        match kind:
            case Kind.STITCH:
                lines += [_move(x, y), "Z0", "Z5"]
            case Kind.JUMP:
                lines.append(_move(x, y))
            case Kind.TRIM:
                lines.append("M101")
            case Kind.THREAD:
                thread = plan.threads[plan.thread[row]]
                lines.append(f"T{int(plan.thread[row]) + 1} M6 ({_comment(thread.code + ' ' + thread.name)})")
            case Kind.STOP:
                lines.append(f"M0 ({_comment(plan.stops.get(row, ''))})")
            case _:
                lines.append("M30")
    return ("\n".join(lines) + "\n").encode()


def _move(x: float, y: float) -> str:
    return f"G0 X{x + 0.0:.3f} Y{-y + 0.0:.3f}".replace("-0.000", "0.000")


def read(data: bytes, name: str) -> list[Movement]:
    """The needle movements of a program. Raises ``CannotRead`` naming the line."""
    try:
        text = data.decode("utf-8")
    except UnicodeDecodeError as error:
        raise CannotRead(f"{name} is not text; a machine file is G-code.") from error
    found: list[Movement] = []
    x = y = 0.0
    metric = absolute = moved = False
    for number, line in enumerate(text.splitlines(), 1):
        words, note = _words(line, number, name)
        codes = {f"{letter}{value:g}" for letter, value in words if letter in "GM"}
        metric |= "G21" in codes
        absolute |= "G90" in codes
        if codes & {"G20", "G91", "G2", "G3"}:
            raise CannotRead(
                f"Line {number} of {name} uses inches, steps or arcs; write it in mm, absolute, straight."
            )
        places = {letter: value for letter, value in words if letter in "XYZ"}
        if ("X" in places or "Y" in places) and not (metric and absolute):
            raise CannotRead(f"Line {number} of {name} moves before G21 G90; put them first.")
        if "X" in places or "Y" in places:
            if moved:
                found.append(Movement(number - 1, Kind.JUMP, x, -y + 0.0))
            x, y, moved = places.get("X", x), places.get("Y", y), True
            on_cloth(x, y, number, name)
        if places.get("Z") == 0:
            found.append(Movement(number, Kind.STITCH, x, -y + 0.0))
            moved = False
        event = next((kind for code, kind in _EVENTS.items() if code in codes), None)
        if event is not None:
            if moved:
                found.append(Movement(number - 1, Kind.JUMP, x, -y + 0.0))
                moved = False
            found.append(Movement(number, event, x, -y + 0.0, note if event in (Kind.STOP, Kind.THREAD) else ""))
    if not found:
        raise CannotRead(f"{name} holds no needle movement; it is not a machine file.")
    return found


_EVENTS = {"M101": Kind.TRIM, "M6": Kind.THREAD, "M0": Kind.STOP, "M30": Kind.END}


def _words(line: str, number: int, name: str) -> tuple[list[tuple[str, float]], str]:
    words: list[tuple[str, float]] = []
    note, at, line = "", 0, line.rstrip()
    while at < len(line):
        match = _WORD.match(line, at)
        if match is None:
            raise CannotRead(
                f"Line {number} of {name} has “{line[at : at + 20].strip()}”, which is not G-code; correct it."
            )
        if match.group(2):
            value = float(match.group(3))
            if not math.isfinite(value):
                raise CannotRead(f"Line {number} of {name} has a number that is too large; correct it.")
            words.append((match.group(2), value))
        else:
            note = match.group(1) or note
        at = match.end()
    return words, note
