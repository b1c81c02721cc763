"""Letters and shapes as strokes and as satins, side by side: docs/columns.png."""

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent / "bench"))

import numpy as np
import zoo
from PIL import Image, ImageDraw

from jontel.data import find_ground, find_hoop, thread_chart
from jontel.design import Area, Brief, Design, Hoop, Satin, StitchObject
from jontel.design.edits import add_objects, transform_object
from jontel.design.paths import transform_path
from jontel.files.picture import render
from jontel.geometry.decompose import strokes_of
from jontel.geometry.polyline import lengths
from jontel.geometry.region import region_of
from jontel.sewing.plan import plan

OUT = Path(__file__).parent.parent / "docs/columns.png"
PER_MM, CELL, ACROSS, HIGH = 8.0, 20.0, 9, 15.0
LETTERS = "AEKMRSX8&ag@"
COLOURS = ("#26537d", "#b5452c", "#3c7a4c", "#8a5a9e", "#c08a1e", "#2f7f86")


def main(out: Path) -> None:
    """Decompose, sew, paint both, write."""
    paths = [zoo.glyph(sign, HIGH) for sign in LETTERS] + list(zoo.STROKES.values())
    chart = thread_chart()
    brief = Brief(find_ground("Woven twill"), Hoop("columns", 400, 400, find_hoop("130 x 180").corner), chart)
    rows = -(-len(paths) // ACROSS)
    items, places = [], []
    for k, path in enumerate(paths):
        x, y = (k % ACROSS + 0.5) * CELL, (2 * (k // ACROSS) + 1.5) * CELL
        item = StitchObject(id=0, name=str(k), thread=chart[3].code, shape=Area(path), cover=Satin())
        items.append(transform_object(item, (1, 0, 0, 1, x, y)))
        places.append((x, y - CELL))
    design = add_objects(Design(name="Columns", brief=brief), items)
    sewn = plan(design)
    picture = render(sewn, design, PER_MM, 0.0)
    low = sewn.xy[sewn.sewn() | (sewn.kind == 0)].min(axis=0)
    size = round(ACROSS * CELL * PER_MM), round(2 * rows * CELL * PER_MM)
    sheet = Image.new("RGB", size, picture.getpixel((0, 0)))
    sheet.paste(picture, (round(low[0] * PER_MM), round(low[1] * PER_MM)))
    draw = ImageDraw.Draw(sheet)
    for path, (x, y) in zip(paths, places, strict=True):
        strokes = [
            one
            for part in strokes_of(region_of(Area(transform_path(path, (1, 0, 0, 1, x, y)))))
            for one in part.strokes
        ]
        for number, one in enumerate(strokes):
            along = lengths(one.rails.middle)
            at = np.searchsorted(along, np.arange(0.0, along[-1], 0.42))
            for p, q in zip(one.rails.a[at], one.rails.b[at], strict=True):
                draw.line([tuple(p * PER_MM), tuple(q * PER_MM)], COLOURS[number % len(COLOURS)], 2)
    sheet.quantize(192).save(out, optimize=True)
    print(f"{out}: {sheet.width} x {sheet.height}, {out.stat().st_size // 1024} kB, {len(paths)} shapes")


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else OUT)
