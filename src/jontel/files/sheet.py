"""The production sheet: the page that goes to the machine with the file."""

import io

import numpy as np
from reportlab.lib.colors import Color, HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from jontel.data import resource
from jontel.design.design import Design
from jontel.design.words import grouped, minutes
from jontel.files.picture import sewn_lines
from jontel.sewing.estimate import shares, totals
from jontel.sewing.light import shade
from jontel.sewing.plan import SewPlan
from jontel.stitching.stitches import Kind

INK, GREY, RULE = HexColor("#26302e"), HexColor("#75706a"), HexColor("#d5cec2")
LEFT, RIGHT, TOP, BOTTOM = 18 * mm, 192 * mm, 279 * mm, 18 * mm
PICTURE = (174.0, 128.0)


def sheet_fonts() -> tuple[str, str]:
    """The names of the plain and the bold typeface, which are there from now on."""
    for name, file in (("Sheet", "Regular"), ("Sheet-Bold", "SemiBold")):
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, io.BytesIO(resource(f"fonts/IBMPlexSans-{file}.ttf"))))
    return "Sheet", "Sheet-Bold"


class Page:
    """A pen that moves down A4 pages and starts a new one when the last is full."""

    def __init__(self, canvas: Canvas, title: str) -> None:
        self.canvas, self.title, self.y, self.number = canvas, title, TOP, 1
        self.plain, self.bold = sheet_fonts()

    def text(self, x: float, words: str, size: float = 9, bold: bool = False, colour: Color = INK) -> None:
        """Words that begin at ``x``."""
        self.canvas.setFont(self.bold if bold else self.plain, size)
        self.canvas.setFillColor(colour)
        self.canvas.drawString(x, self.y, words)

    def right(self, x: float, words: str, size: float = 9, bold: bool = False) -> None:
        """Words that end at ``x``."""
        self.canvas.setFont(self.bold if bold else self.plain, size)
        self.canvas.setFillColor(INK)
        self.canvas.drawRightString(x, self.y, words)

    def down(self, by: float) -> None:
        """Go down the page."""
        self.y -= by

    def room(self, tall: float) -> None:
        """Start a new page when ``tall`` more does not fit on this one."""
        if self.y - tall < BOTTOM:
            self.footer()
            self.canvas.showPage()
            self.number += 1
            self.y = TOP
            self.text(LEFT, self.title, 10, True)
            self.y -= 8 * mm

    def rule(self) -> None:
        """A thin line across the page."""
        self.canvas.setStrokeColor(RULE)
        self.canvas.setLineWidth(0.5)
        self.canvas.line(LEFT, self.y, RIGHT, self.y)

    def footer(self) -> None:
        """The foot of this page."""
        self.canvas.setFont(self.plain, 7.5)
        self.canvas.setFillColor(GREY)
        self.canvas.drawString(LEFT, BOTTOM - 6 * mm, f"Jontel · {self.title}")
        self.canvas.drawRightString(RIGHT, BOTTOM - 6 * mm, f"page {self.number}")


def write(plan: SewPlan, design: Design) -> bytes:
    """The sheet as PDF: picture, size, ground, needles with thread and time, stops."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4, invariant=True)
    canvas.setTitle(f"{design.name} · production sheet")
    page = Page(canvas, design.name)
    sums = totals(plan)
    page.text(LEFT, design.name, 20, True)
    page.right(RIGHT, "production sheet", 10)
    page.down(9 * mm)
    ground = design.brief.ground
    stops = f"{sums.stops} {'stop' if sums.stops == 1 else 'stops'}"
    facts = (
        f"{sums.width:.1f} × {sums.height:.1f} mm in hoop {design.brief.hoop.name}",
        f"{grouped(sums.stitches)} stitches · {len(plan.threads)} threads · {sums.changes} changes · "
        f"{sums.trims} trims · {stops} · {minutes(sums.seconds)} at the machine",
        f"{ground.name}: {ground.fabric}, backing {ground.backing}, topping {ground.topping}",
    )
    for fact in facts:
        page.text(LEFT, fact, 9.5)
        page.down(5 * mm)
    _picture(page, plan, sums.width, sums.height)
    _needles(page, plan, design)
    _stops(page, plan, design)
    _steps(page, plan, design)
    page.footer()
    canvas.save()
    return out.getvalue()


def _picture(page: Page, plan: SewPlan, width: float, height: float) -> None:
    """The stitches at true scale, or to fit, with a rule to check the print by."""
    canvas = page.canvas
    scale = min(1.0, PICTURE[0] / max(width, 1), PICTURE[1] / max(height, 1))
    tall = max(height, 10) * scale
    lines, owner = sewn_lines(plan)
    if len(lines):
        middle = (lines.min(axis=(0, 1)) + lines.max(axis=(0, 1))) / 2
        canvas.saveState()
        canvas.translate((LEFT + RIGHT) / 2, page.y - tall * mm / 2)
        canvas.scale(scale * mm, -scale * mm)
        canvas.setLineCap(1)
        level = np.round(shade(lines) * 12).astype(int)
        spots = (lines - middle).round(3).reshape(-1, 4)
        key = owner.astype(int) * 100 + level
        for block in np.split(np.arange(len(key)), np.flatnonzero(np.diff(key)) + 1):
            thread = plan.threads[int(owner[block[0]])]
            light = level[block[0]] / 12
            canvas.setStrokeColor(Color(*(min(1.0, v / 255 * light) for v in thread.rgb)))
            canvas.setLineWidth(thread.width)
            path = canvas.beginPath()
            for x0, y0, x1, y1 in spots[block].tolist():
                path.moveTo(x0, y0)
                path.lineTo(x1, y1)
            canvas.drawPath(path)
        canvas.restoreState()
    page.down(tall * mm + 7 * mm)
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(0.6)
    canvas.line(LEFT, page.y, LEFT + 50 * scale * mm, page.y)
    for tick in range(6):
        x = LEFT + tick * 10 * scale * mm
        canvas.line(x, page.y, x, page.y + 1.6 * mm)
    said = "50 mm, printed at true scale" if scale == 1.0 else f"50 mm, printed at {scale:.0%} to fit"
    canvas.setFont(page.plain, 8)
    canvas.setFillColor(GREY)
    canvas.drawString(LEFT + 50 * scale * mm + 3 * mm, page.y, said)
    page.down(9 * mm)


def _needles(page: Page, plan: SewPlan, design: Design) -> None:
    """One line for every time a thread is on the needle."""
    sums = totals(plan)
    page.text(LEFT, "Needle order", 11, True)
    page.down(6 * mm)
    for x, words in ((LEFT + 12 * mm, "thread"), (LEFT + 68 * mm, "sews")):
        page.text(x, words, 8, colour=GREY)
    for x, words in ((RIGHT - 32 * mm, "stitches"), (RIGHT - 14 * mm, "metres"), (RIGHT, "time")):
        page.right(x, words, 8)
    page.down(2 * mm)
    page.rule()
    page.down(4.5 * mm)
    names = {item.id: item.name for item in design.objects}
    blocks: list[tuple[int, list[str], int, float]] = []
    for share in shares(plan):
        if not blocks or blocks[-1][0] != share.thread:
            blocks.append((share.thread, [], 0, 0.0))
        index, sewn, stitches, seconds = blocks[-1]
        sewn.append(names.get(share.object, ""))
        blocks[-1] = (index, sewn, stitches + share.stitches, seconds + share.stop - share.start)
    per_thread = np.bincount([b[0] for b in blocks], weights=[b[2] for b in blocks], minlength=1)
    for number, (index, sewn, stitches, seconds) in enumerate(blocks, 1):
        thread = plan.threads[index]
        page.room(2 * mm)
        page.text(LEFT, str(number), bold=True)
        page.canvas.setFillColor(HexColor(thread.colour))
        page.canvas.setStrokeColor(GREY)
        page.canvas.setLineWidth(0.3)
        page.canvas.roundRect(LEFT + 5 * mm, page.y - 0.8 * mm, 5 * mm, 3.6 * mm, 0.8 * mm, fill=1)
        page.text(LEFT + 12 * mm, f"{thread.code}  {thread.name}" + (" (60)" if thread.weight > 40 else ""))
        page.text(LEFT + 68 * mm, fitted(", ".join(sewn), 50), 8.5, colour=GREY)
        page.right(RIGHT - 32 * mm, grouped(stitches))
        page.right(RIGHT - 14 * mm, f"{sums.metres[index] * stitches / max(per_thread[index], 1):.1f}")
        page.right(RIGHT, minutes(seconds))
        page.down(5.6 * mm)
    page.down(3 * mm)


def fitted(words: str, most: int) -> str:
    """Words cut to so many signs."""
    return words if len(words) <= most else words[: most - 1].rstrip(", ") + "…"


def _stops(page: Page, plan: SewPlan, design: Design) -> None:
    if not plan.stops:
        return
    page.room(12 * mm)
    page.text(LEFT, "Stops", 11, True)
    page.down(6 * mm)
    names = {item.id: item.name for item in design.objects}
    for row, instruction in sorted(plan.stops.items()):
        page.room(2 * mm)
        stitch = int((plan.kind[: row + 1] == Kind.STITCH).sum())
        after = names.get(int(plan.object[row]), "")
        where = f"after “{fitted(after, 24)}”, stitch {grouped(stitch)}" if stitch else "before anything is sewn"
        page.text(LEFT, where, colour=GREY)
        page.text(LEFT + 68 * mm, fitted(instruction or "wait for the operator", 64), bold=True)
        page.down(5.6 * mm)
    page.down(3 * mm)


def _steps(page: Page, plan: SewPlan, design: Design) -> None:
    """The steps in the order in which they sew, and what has to lie ready for each."""
    order = dict.fromkeys(item.step for item in design.objects if not item.hidden)
    steps = [step for number in order if (step := design.step(number)) is not None]
    if not steps:
        return
    page.room(12 * mm)
    page.text(LEFT, "Steps and what lies ready", 11, True)
    page.down(6 * mm)
    times = {share.object: share.stop - share.start for share in shares(plan)}
    for step in steps:
        page.room(2 * mm)
        inside = [item for item in design.objects if item.step == step.id and not item.hidden]
        page.text(LEFT, fitted(step.name, 32), bold=True)
        ready = ", ".join(f"{name} {words}" for name, words in step.materials)
        page.text(LEFT + 68 * mm, fitted(ready or "nothing besides", 60), colour=INK if ready else GREY)
        page.right(RIGHT, minutes(sum(times.get(item.id, 0.0) for item in inside)))
        page.down(5.6 * mm)
