"""Sews a word in every shipped font: the samples of the font list, and docs/lettering.png with three heights."""

import sys
from pathlib import Path

from PIL import Image, ImageDraw, ImageFont

from jontel.data import find_ground
from jontel.files.samples import sample_of, sewn_words
from jontel.lettering.fonts import font_in, shipped_fonts

ROOT = Path(__file__).parent.parent
SAMPLES = ROOT / "src/jontel/data/fonts/sewn"
CAPTIONS = ROOT / "src/jontel/data/fonts/IBMPlexSans-Regular.ttf"
SEWN = ((6.0, "Nell & Pilot 27"), (9.0, "Nell & Pilot 27"), (15.0, "Nell 27"))
ROW, INK = 158, "#2c2a26"


def samples() -> None:
    """A small picture a font."""
    SAMPLES.mkdir(exist_ok=True)
    for file in shipped_fonts():
        made = sample_of(file.name, font_in(file))
        assert made is not None
        (SAMPLES / f"{file.shipped}.png").write_bytes(made)


def sheet(out: Path) -> None:
    """Every shipped font at three heights."""
    fonts = shipped_fonts()
    rows = [[sewn_words(words, file.name, height) for height, words in SEWN] for file in fonts]
    rows = [[picture for picture in row if picture is not None] for row in rows]
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
