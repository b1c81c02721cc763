"""Sews a sampler of every cover and underlay and paints it with its captions: docs/stitches.png."""

import math
import sys
from dataclasses import dataclass
from pathlib import Path

from PIL import Image, ImageDraw, ImageFont

from jontel.data import find_ground, find_hoop, thread_chart
from jontel.design import Area, Bare, Brief, Column, Cover, Design, Fill, Hoop, Line, Run, Satin, Shape, StitchObject
from jontel.design.edits import add_objects, transform_object
from jontel.design.kinds import COVERS, UNDERLAY_KINDS, Underlay, kind_name
from jontel.design.shapes import PROFILES
from jontel.files.picture import render
from jontel.sewing.plan import plan

OUT = Path(__file__).parent.parent / "docs/stitches.png"
FONT = Path(__file__).parent.parent / "src/jontel/data/fonts/IBMPlexSans-Regular.ttf"
COLUMNS, PER_MM, CELL_WIDTH, CELL_HEIGHT, HEAD = 8, 8.0, 25.0, 20.0, 7.0
INK, MUTED = "#2c2a26", "#6f6a60"


@dataclass(frozen=True)
class Swatch:
    """One sample: what it shows, how it is sewn."""

    title: str
    shape: Shape
    cover: Cover
    underlay: tuple[Underlay, ...] = ()


def box(width: float = 20.0, height: float = 12.0) -> str:
    """A rectangle about the origin."""
    x, y = width / 2, height / 2
    return f"M{-x} {-y} L{x} {-y} L{x} {y} L{-x} {y} Z"


def ring(radius: float) -> str:
    """A circle about the origin, the other way round than a box."""
    turns = [2 * math.pi * k / 60 for k in range(60, 0, -1)]
    return "M" + " L".join(f"{radius * math.cos(t):.3f} {radius * math.sin(t):.3f}" for t in turns) + " Z"


WAVE = "M-9.5 2.5 C-4 -4 4 4 9.5 -2.5"
ZED = "M-9 4 L-3 -4 L2 4 L9 -4"
PLAIN = Area(box())
BAND = Line("M-9.5 0 L9.5 0", 9.0)

FILLS = [
    *(Swatch(f"{name} pattern", PLAIN, Fill(pattern=name)) for name in ("brick", "stair", "chevron", "ripple")),  # type: ignore[arg-type]
    Swatch("random pattern", PLAIN, Fill(pattern="random")),
    Swatch("halves", PLAIN, Fill(pattern="halves")),
    Swatch("round a hole", Area(f"{box()} {ring(3.2)}"), Fill(angle=25.0)),
    Swatch("ragged rim", PLAIN, Fill(ragged=4.0)),
    Swatch("direction lines", Area(box(), lines=(((-8, -5), (-3, 5)), ((8, -5), (3, 5)))), Fill()),
    Swatch("along a guide", Area(box(), guide="M-10 0 C-4 -8 4 8 10 0"), Fill()),
    Swatch("fade along", PLAIN, Fill(fade="along", fade_to=2.0, fade_angle=0.0)),
    Swatch("fade, other way than rows", PLAIN, Fill(fade="against", fade_to=2.0, fade_angle=-60.0)),
    Swatch("fade from the middle", PLAIN, Fill(fade="middle out", fade_to=2.0, fade_angle=0.0)),
    Swatch("border: run", PLAIN, Fill(spacing=0.5, border="run")),
    Swatch("border: satin", PLAIN, Fill(border="satin", border_width=2.0)),
    Swatch("border and fade", PLAIN, Fill(fade="middle out", fade_to=1.6, fade_angle=90.0, border="satin")),
]
SATINS = [
    Swatch("satin", Line(WAVE, 4.0), Satin()),
    *(Swatch(f"{name} width", Line(WAVE, 5.0, profile=PROFILES[name]), Satin()) for name in ("waisted", "leaf")),
    *(Swatch(f"{name} corners", Line(ZED, 3.2, corners=name), Satin()) for name in ("mitred", "capped", "turned")),  # type: ignore[arg-type]
    Swatch("start pointed, end slanted", Line(WAVE, 4.0, start="pointed", end="slanted"), Satin()),
    Swatch("two edges", Column("M-9 -5 C-3 -6 3 -2 9 -5", "M-9 1 C-3 -1 3 6 9 4"), Satin()),
    Swatch("split, staggered", BAND, Satin(split=5.0)),
    Swatch("split, in 2 lines", BAND, Satin(split=5.0, split_lines=2)),
    Swatch("texture", BAND, Satin(texture="chevron", texture_length=2.5)),
    Swatch("anchored returns", BAND, Satin(anchor=2)),
    Swatch(
        "feathered", Line("M-9.5 0 L9.5 0", 6.0), Satin(feather_first=2.0, feather_second=0.7, second_way="outwards")
    ),
    Swatch("raised, 3 layers", Line(WAVE, 5.0), Satin(layers=3, layer_inset=0.7)),
    Swatch("fade", Line(WAVE, 4.0), Satin(fade="along", fade_to=2.0)),
    Swatch("closed line", Line(ring(5.0), 2.6), Satin()),
]
RUNS = [
    *(Swatch(name, Line(WAVE), Run(style=name)) for name in ("single", "there and back", "triple", "back-stitch")),  # type: ignore[arg-type]
    Swatch("3 repeats", Line(WAVE), Run(repeats=3)),
    Swatch("placed by hand", Line("M-9 3 L-7 -2 L-4 -4 L-2 1 L0 5 L3 4 L4 -1 L6 -4 L9 -2"), Run(by_hand=True)),
]
UNDERLAYS = [Swatch(kind_name(kind()), PLAIN, Bare(), (kind(),)) for kind in UNDERLAY_KINDS]
SHOWN = {kind_name(one.cover) for one in (*FILLS, *SATINS, *RUNS, *UNDERLAYS)}
OTHERS = [
    Swatch(kind.traits.title, PLAIN if "area" in kind.traits.lies_on else Line(WAVE), kind.pins())
    for kind in COVERS
    if kind.name not in SHOWN
]
"""Kinds of cover that nothing above shows."""
SECTIONS = (
    ("Fill", FILLS, "Channel blue"),
    ("Satin", SATINS, "Signal red"),
    ("Run and underlay", RUNS + OTHERS + UNDERLAYS, "Ink"),
)


def sampler() -> tuple[Design, list[tuple[str, float, float]], list[tuple[str, float]], float]:
    """All swatches sewn on one cloth, with captions and headings and where they stand, mm, and the height of all."""
    chart = thread_chart()
    items: list[StitchObject] = []
    captions: list[tuple[str, float, float]] = []
    headings: list[tuple[str, float]] = []
    top = 0.0
    for number, (heading, swatches, wanted) in enumerate(SECTIONS):
        thread = next((t for t in chart if t.name == wanted), chart[number * 7])
        headings.append((heading, top))
        top += HEAD
        for k, one in enumerate(swatches):
            x = (k % COLUMNS + 0.5) * CELL_WIDTH
            y = top + (k // COLUMNS + 0.42) * CELL_HEIGHT
            item = StitchObject(
                id=0, name=one.title, thread=thread.code, shape=one.shape, cover=one.cover, underlay=one.underlay
            )
            items.append(transform_object(item, (1, 0, 0, 1, x, y)))
            captions.append((one.title, x, y + 8.0))
        top += math.ceil(len(swatches) / COLUMNS) * CELL_HEIGHT
    hoop = find_hoop("130 x 180")
    brief = Brief(find_ground("Woven twill"), Hoop("sampler", 400, 400, hoop.corner), chart)
    return add_objects(Design(name="Sampler", brief=brief), items), captions, headings, top


def main(out: Path) -> None:
    """Sew, paint, label, write."""
    design, captions, headings, height = sampler()
    sewn = plan(design)
    if sewn.failures:
        raise SystemExit("\n".join(one.sentence for one in sewn.failures))
    picture = render(sewn, design, PER_MM, 0.0)
    stitched = sewn.xy[sewn.sewn() | (sewn.kind == 0)]
    low = stitched.min(axis=0)
    sheet = Image.new(
        "RGB", (round(COLUMNS * CELL_WIDTH * PER_MM), round((height + 3) * PER_MM)), picture.getpixel((0, 0))
    )
    sheet.paste(picture, (round(low[0] * PER_MM), round(low[1] * PER_MM)))
    draw = ImageDraw.Draw(sheet)
    small, large = (ImageFont.truetype(str(FONT), size) for size in (17, 25))
    for words, x, y in captions:
        draw.text((x * PER_MM, y * PER_MM), words, INK, small, anchor="mt")
    for words, y in headings:
        draw.text((2.2 * PER_MM, (y + 1.6) * PER_MM), words, MUTED, large)
    sheet.quantize(192).save(out, optimize=True)
    print(f"{out}: {sheet.width} x {sheet.height}, {out.stat().st_size // 1024} kB, {len(design.objects)} samples")


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else OUT)
