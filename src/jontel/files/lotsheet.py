"""The sheet of a lot: one line a name, with its file, its stitches and its time, and what could not be sewn."""

import io
from collections.abc import Sequence

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from jontel.design.design import Design
from jontel.files.sheet import LEFT, RIGHT, Page

AMBER = HexColor("#9a6411")
PLACES = (LEFT, LEFT + 12 * mm, LEFT + 70 * mm, LEFT + 128 * mm)
LONGEST = 34
"""So many signs of a name are shown."""


def write(design: Design, lines: Sequence[tuple[str, ...]]) -> bytes:
    """The sheet as PDF. Each line is row, name, status, file, stitches, minutes, width, height, letters, why."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4, invariant=True)
    canvas.setTitle(f"{design.name} · lot")
    page = Page(canvas, f"{design.name} · lot")
    page.text(LEFT, design.name, 20, True)
    page.right(RIGHT, "names by the list", 10)
    page.down(9 * mm)
    good = sum(line[2] == "sewn" for line in lines)
    left = len(lines) - good
    page.text(LEFT, f"{good} sewn" + (f", {left} not: see below" if left else ""), 9.5)
    page.down(5 * mm)
    brief = design.brief
    page.text(LEFT, f"{brief.ground.name}, hoop {brief.hoop.name}, backing {brief.ground.backing}", 9.5)
    page.down(8 * mm)
    for x, words in zip(PLACES, ("row", "name", "file", "stitches, time, size"), strict=True):
        page.text(x, words, 8, True)
    page.down(2 * mm)
    page.rule()
    page.down(5 * mm)
    for row, name, status, file, stitches, minutes, width, height, letters, why in lines:
        page.room(10 * mm)
        page.text(PLACES[0], row, 8.5)
        page.text(PLACES[1], name if len(name) <= LONGEST else name[: LONGEST - 1] + "…", 8.5, status == "sewn")
        if status == "sewn":
            page.text(PLACES[2], file[:44], 8.5)
            size = f" · letters {letters} mm" if float(letters) else ""
            page.text(PLACES[3], f"{stitches} · {minutes} min · {width} × {height}{size}", 8.5)
        else:
            page.text(PLACES[2], f"{status}: {why}"[:110], 7.5, False, AMBER)
        page.down(5 * mm)
    page.footer()
    canvas.save()
    return out.getvalue()
