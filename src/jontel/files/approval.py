"""The approval sheet: what a customer sees and signs before anything is sewn."""

import io

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import Canvas

from jontel.design.design import Design
from jontel.files.picture import render
from jontel.files.sheet import GREY, LEFT, RIGHT, Page, fitted
from jontel.sewing.estimate import totals
from jontel.sewing.plan import SewPlan

ROOM = (174.0, 150.0)
"""The picture takes no more of the page than this, mm."""
MARGIN = 8.0
SIGNED = ("Approved as shown, or with the changes written here", "Name", "Date and signature")


def write(plan: SewPlan, design: Design) -> bytes:
    """The sheet as PDF: the design on its cloth, its size, its threads, and lines to sign on."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4, invariant=True)
    canvas.setTitle(f"{design.name} · for approval")
    page = Page(canvas, design.name)
    page.text(LEFT, design.name, 20, True)
    page.right(RIGHT, "for approval", 10)
    page.down(9 * mm)
    sums = totals(plan)
    wide, high = sums.width + 2 * MARGIN, sums.height + 2 * MARGIN
    scale = min(1.0, ROOM[0] / wide, ROOM[1] / high)
    size = f"{sums.width:.0f} × {sums.height:.0f} mm"
    page.text(
        LEFT,
        f"{size} on {design.brief.ground.fabric}, {'at true size' if scale == 1 else f'shown at {scale:.0%}'}",
        9.5,
    )
    page.down(6 * mm)
    picture = render(plan, design, 8.0, MARGIN)
    tall = high * scale * mm
    left = (LEFT + RIGHT - wide * scale * mm) / 2
    canvas.drawImage(ImageReader(picture), left, page.y - tall, wide * scale * mm, tall)
    page.down(tall + 10 * mm)
    page.text(LEFT, "Threads", 11, True)
    page.down(6 * mm)
    for number, thread in enumerate(plan.threads):
        if number % 3 == 0 and number:
            page.down(6.5 * mm)
            page.room(30 * mm)
        x = LEFT + (number % 3) * 58 * mm
        canvas.setFillColor(HexColor(thread.colour))
        canvas.setStrokeColor(GREY)
        canvas.setLineWidth(0.3)
        canvas.roundRect(x, page.y - 1 * mm, 7 * mm, 4.4 * mm, 0.8 * mm, fill=1)
        page.text(x + 9 * mm, fitted(f"{thread.code}  {thread.name}", 30), 8.5)
    page.down(14 * mm)
    page.room(42 * mm)
    for words in SIGNED:
        page.down(8 * mm)
        page.rule()
        page.down(4 * mm)
        page.text(LEFT, words, 8, colour=GREY)
    page.footer()
    canvas.save()
    return out.getvalue()
