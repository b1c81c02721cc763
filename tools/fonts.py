"""Sews a word in every shipped font: the samples of the font list, and docs/lettering.png with three heights."""

import sys
from pathlib import Path

from PIL import Image, ImageDraw, ImageFont

from jontel.data import find_ground, find_hoop, thread_chart
from jontel.design import Area, Brief, Design, Satin, StitchObject
from jontel.design.edits import add_objects
from jontel.design.lettering import Lettering
from jontel.files.picture import render
from jontel.lettering.fonts import shipped_fonts
from jontel.lettering.setting import lettered
from jontel.sewing.plan import plan

ROOT = Path(__file__).parent.parent
SAMPLES = ROOT / "src/jontel/data/fonts/sewn"
CAPTIONS = ROOT / "src/jontel/data/fonts/IBMPlexSans-Regular.ttf"
SAMPLE = (192, 52)
SEWN = ((6.0, "Nell & Pilot 27"), (9.0, "Nell & Pilot 27"), (15.0, "Nell 27"))
PER_MM, ROW, INK = 7.0, 158, "#2c2a26"


def sewn(words: str, font: str, height: float, ground: str = "Woven twill") -> Image.Image:
    """Words sewn in a font, as a picture."""
    thread = next(one for one in thread_chart() if one.name == "Evening blue")
    brief = Brief(find_ground(ground), find_hoop("130 x 180"), (thread,))
    item = StitchObject(id=0, name=words, thread=thread.code, shape=Area(""), cover=Satin())
    made = add_objects(Design(name=words, brief=brief), [lettered(item, Lettering(words, font, height))])
    return render(plan(made), made, PER_MM, 1.5)


def samples() -> None:
    """A small picture a font."""
    SAMPLES.mkdir(exist_ok=True)
    for file in shipped_fonts():
        picture = sewn("Nell", file.name, 12.0)
        picture.thumbnail(SAMPLE, Image.Resampling.LANCZOS)
        whole = Image.new("RGB", SAMPLE, find_ground("Woven twill").colour)
        whole.paste(picture, ((SAMPLE[0] - picture.width) // 2, (SAMPLE[1] - picture.height) // 2))
        whole.quantize(64).save(SAMPLES / f"{file.shipped}.png", optimize=True)


def sheet(out: Path) -> None:
    """Every shipped font at three heights."""
    fonts = shipped_fonts()
    rows = [[sewn(words, file.name, height) for height, words in SEWN] for file in fonts]
    wide = max(sum(picture.width + 10 for picture in row) for row in rows) + 32
    whole = Image.new("RGB", (wide, ROW * len(fonts)), find_ground("Woven twill").colour)
    draw = ImageDraw.Draw(whole)
    caption = ImageFont.truetype(str(CAPTIONS), 15)
    for row, (file, pictures) in enumerate(zip(fonts, rows, strict=True)):
        draw.text((16, ROW * row + 8), f"{file.name}: {file.character}", INK, caption)
        x = 16
        for picture in pictures:
            whole.paste(picture, (x, ROW * row + ROW - 14 - picture.height))
            x += picture.width + 10
    whole.quantize(128).save(out, optimize=True)


if __name__ == "__main__":
    samples()
    sheet(Path(sys.argv[1]) if len(sys.argv) > 1 else ROOT / "docs/lettering.png")
