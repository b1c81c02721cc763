"""The template: outlines at true scale on as many pages as they take, to lay on the cloth before it is hooped.

A page carries so little of the design that it prints unscaled on A4 and on Letter alike.
"""

import io
import math

import numpy as np
import shapely
from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from jontel.design.design import Design
from jontel.design.errors import CannotWrite
from jontel.files.sheet import GREY, INK, sheet_fonts
from jontel.geometry.polyline import Floats, flatten
from jontel.geometry.region import rings_of
from jontel.sewing.plan import SewPlan

TILE = (180.0, 240.0)
"""How much of the design is on a page, mm."""
MARK, CHECK = 4.0, 50.0
"""The arms of registration marks and the length of the rule to check the print by, mm."""
ACCENT = HexColor("#1d7a6b")
MOST_PAGES = 400


def write(plan: SewPlan, design: Design) -> bytes:
    """The template as PDF: page after page from the top left, with a centre cross and registration marks.

    Raises ``CannotWrite`` for more pages than anybody joins.
    """
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4, invariant=True)
    canvas.setTitle(f"{design.name} · template")
    lines = outlines(plan, design)
    left, top, right, bottom = _box(lines)
    across, down = (
        max(1, math.ceil((b - a) / size)) for a, b, size in zip((left, top), (right, bottom), TILE, strict=True)
    )
    if across * down > MOST_PAGES:
        raise CannotWrite(f"The template of {design.name} would take {across * down:,} pages; print a part of it.")
    # the pages lie evenly about the design, so that one page has it in its middle
    start = (left + right) / 2 - across * TILE[0] / 2, (top + bottom) / 2 - down * TILE[1] / 2
    for number in range(across * down):
        row, column = divmod(number, across)
        corner = start[0] + column * TILE[0], start[1] + row * TILE[1]
        _page(
            canvas, design, lines, corner, f"page {number + 1} of {across * down}: row {row + 1}, column {column + 1}"
        )
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def outlines(plan: SewPlan, design: Design) -> list[Floats]:
    """The edges of what is sewn, (n, 2) each, mm; the paths of runs."""
    found: list[Floats] = []
    items = {item.id: item for item in design.objects}
    for owner, region in zip(plan.overlaps.owners, plan.overlaps.regions, strict=True):
        if not region.is_empty:
            found += [np.vstack([ring, ring[:1]]) for part in region.geoms for ring in rings_of(part)]
        elif owner in items:
            found += [line.loop() for line in flatten(getattr(items[owner].shape, "path", ""))]
    return [line for line in found if len(line) > 1]


def _box(lines: list[Floats]) -> tuple[float, float, float, float]:
    if not lines:
        return -1.0, -1.0, 1.0, 1.0
    bounds = shapely.total_bounds([shapely.LineString(line) for line in lines])
    left, top, right, bottom = bounds.tolist()
    return min(left, 0.0), min(top, 0.0), max(right, 0.0), max(bottom, 0.0)


def _page(canvas: Canvas, design: Design, lines: list[Floats], corner: tuple[float, float], said: str) -> None:
    """One page: what lies from ``corner`` on, mm."""
    plain, bold = sheet_fonts()
    x0, y0 = (A4[0] - TILE[0] * mm) / 2, (A4[1] - TILE[1] * mm) / 2
    tile = shapely.box(*corner, corner[0] + TILE[0], corner[1] + TILE[1])

    def place(x: float, y: float) -> tuple[float, float]:
        return x0 + (x - corner[0]) * mm, y0 + (TILE[1] - (y - corner[1])) * mm

    canvas.setLineWidth(0.6)
    canvas.setStrokeColor(INK)
    for line in lines:
        shown = shapely.LineString(line).intersection(tile)
        for part in getattr(shown, "geoms", [shown]):
            if part.is_empty or part.geom_type != "LineString":
                continue
            path = canvas.beginPath()
            for k, (x, y) in enumerate(part.coords):
                (path.lineTo if k else path.moveTo)(*place(x, y))
            canvas.drawPath(path)
    canvas.setStrokeColor(ACCENT)
    canvas.setLineWidth(0.4)
    for axis in (0, 1):  # the middle lines of the hoop, which cross in its centre
        if corner[axis] <= 0 <= corner[axis] + TILE[axis]:
            ends = (
                [(0.0, corner[1]), (0.0, corner[1] + TILE[1])]
                if axis == 0
                else [(corner[0], 0.0), (corner[0] + TILE[0], 0.0)]
            )
            canvas.setDash(6, 3)
            canvas.line(*place(*ends[0]), *place(*ends[1]))
            canvas.setDash()
    if tile.contains(shapely.Point(0, 0)):
        cx, cy = place(0, 0)
        canvas.setLineWidth(0.9)
        canvas.circle(cx, cy, 3 * mm)
        canvas.line(cx - 6 * mm, cy, cx + 6 * mm, cy)
        canvas.line(cx, cy - 6 * mm, cx, cy + 6 * mm)
    canvas.setStrokeColor(GREY)
    canvas.setLineWidth(0.5)
    for x in (corner[0], corner[0] + TILE[0]):
        for y in (corner[1], corner[1] + TILE[1]):
            px, py = place(x, y)
            canvas.line(px - MARK * mm, py, px + MARK * mm, py)
            canvas.line(px, py - MARK * mm, px, py + MARK * mm)
    canvas.setFillColor(INK)
    canvas.setFont(bold, 10)
    canvas.drawString(x0, A4[1] - 14 * mm, design.name)
    canvas.setFont(plain, 8.5)
    canvas.setFillColor(GREY)
    canvas.drawRightString(x0 + TILE[0] * mm, A4[1] - 14 * mm, said)
    foot = 15 * mm
    canvas.setStrokeColor(INK)
    canvas.line(x0, foot, x0 + CHECK * mm, foot)
    canvas.drawString(
        x0 + (CHECK + 3) * mm, foot - 1 * mm, "50 mm: print unscaled, on A4 or Letter; join the pages at their marks"
    )
