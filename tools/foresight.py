"""The same disc as drawn, forecast uncompensated, with flat pull, and solved: docs/forecast.png."""

import io
import sys
from pathlib import Path

import numpy as np
from msgspec.structs import replace
from PIL import Image, ImageDraw, ImageFont

from jontel.data import find_ground, find_hoop, resource, thread_chart
from jontel.design import Area, Brief, Design, Edges, Fill, StitchObject
from jontel.design.design import Ends
from jontel.design.edits import add_objects, change_objects
from jontel.files.picture import render
from jontel.forecast.forecast import forecast
from jontel.forecast.showing import shown
from jontel.forecast.solving import missed, solved
from jontel.forecast.swatch import circle as ring
from jontel.sewing.plan import SewPlan, plan

OUT = Path(__file__).parent.parent / "docs/forecast.png"
PER_MM, CELL, RADIUS, LARGER = 10.0, 40.0, 15.0, 3.0


def main(out: Path) -> None:
    """Sew, forecast, paint, write."""
    thread = thread_chart()[3]
    brief = Brief(find_ground("Pique knit"), find_hoop("100 x 100"), (thread,))
    disc = StitchObject(id=0, name="Disc", thread=thread.code, shape=Area(ring(RADIUS, 0, 0)), cover=Fill())
    disc = replace(disc, ends=Ends(entry=(0.0, -RADIUS), exit=(0.0, -RADIUS)))
    flat = add_objects(Design(name="Disc", brief=brief), [disc])
    bare = change_objects(flat, {1}, lambda item: replace(item, edges=Edges(pull=0.0, push=0.0)))
    mended = solved(flat)
    cases: list[tuple[str, Design, SewPlan]] = [("as drawn, before it is sewn", bare, plan(bare))]
    for words, design in (("uncompensated", bare), ("flat pull and push", flat), ("edges solved", mended)):
        far = missed(design)[1]
        cases.append((f"{words}: off by {far[0]:.2f} mm", design, shown(forecast(plan(design)), LARGER)))
    sheet = Image.new("RGB", (round(len(cases) * CELL * PER_MM), round((CELL + 4) * PER_MM)), "#efe6d2")
    draw = ImageDraw.Draw(sheet)
    font = ImageFont.truetype(io.BytesIO(resource("fonts/IBMPlexSans-Regular.ttf")), 22)
    for number, (words, design, sewn) in enumerate(cases):
        picture = render(sewn, design, PER_MM, 0.0)
        low = sewn.xy[sewn.kind == 0].min(axis=0)
        x, y = (number + 0.5) * CELL, 0.5 * CELL
        sheet.paste(picture, (round((x + low[0]) * PER_MM), round((y + low[1]) * PER_MM)))
        turns = np.linspace(0, 2 * np.pi, 361)
        circle = [((x + RADIUS * np.cos(t)) * PER_MM, (y + RADIUS * np.sin(t)) * PER_MM) for t in turns]
        draw.line(circle, "#ffffff", 5)
        draw.line(circle, "#b23a2f", 2)
        draw.text((x * PER_MM, (CELL + 0.5) * PER_MM), words, "#26302e", font, anchor="mm")
    sheet.quantize(128).save(out, optimize=True)
    print(f"{out}: {sheet.width} x {sheet.height}, {out.stat().st_size // 1024} kB")


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else OUT)
