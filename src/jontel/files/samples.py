"""Fonts shown by how they sew: a word sewn in each, as a small picture, kept in a folder once it was sewn."""

import contextlib
import hashlib
import io
from pathlib import Path

from PIL import Image

from jontel.data import find_ground, find_hoop, thread_chart
from jontel.design import Area, Brief, CannotRead, CannotWrite, Design, Satin, StitchObject
from jontel.design.edits import add_objects
from jontel.design.lettering import Lettering
from jontel.files.atomic import write_whole
from jontel.files.picture import render
from jontel.lettering.fonts import Font, FontFile, font_in, open_font
from jontel.lettering.setting import lettered
from jontel.sewing.plan import plan

SIZE = (192, 52)
"""How large a sample is, pixels: twice as large as it is shown."""
WORD, HEIGHT = "Nell", 12.0
PER_MM, MARGIN = 7.0, 1.5
SEWN_AS = 1
"""Goes up when letters sew otherwise, so that samples of before are sewn anew."""


def sewn_words(words: str, font: str, height: float, opened: Font | None = None) -> Image.Image | None:
    """Words sewn in a font, as a picture; ``None`` where it has none of their signs."""
    thread = next(one for one in thread_chart() if one.name == "Evening blue")
    brief = Brief(find_ground("Woven twill"), find_hoop("130 x 180"), (thread,))
    item = StitchObject(id=0, name=words, thread=thread.code, shape=Area(""), cover=Satin())
    item = lettered(item, Lettering(words, font, height), opened or open_font(font))
    made = add_objects(Design(name=words, brief=brief), [item])
    sewn = plan(made)
    return render(sewn, made, PER_MM, MARGIN) if len(sewn) else None


def sample_of(name: str, opened: Font) -> bytes | None:
    """A font's sample as PNG; ``None`` for one that cannot show it."""
    picture = sewn_words(WORD, name, HEIGHT, opened)
    if picture is None:
        return None
    picture.thumbnail(SIZE, Image.Resampling.LANCZOS)
    whole = Image.new("RGB", SIZE, find_ground("Woven twill").colour)
    whole.paste(picture, ((SIZE[0] - picture.width) // 2, (SIZE[1] - picture.height) // 2))
    out = io.BytesIO()
    whole.quantize(64).save(out, "PNG", optimize=True)
    return out.getvalue()


def kept_sample(file: FontFile, folder: Path) -> bytes | None:
    """The sample of a system's font from ``folder``, sewn and put there where it is not yet.

    A font that cannot be sewn has an empty file there, so that it is not tried again until it changes.
    """
    if file.path is None:
        return None
    try:
        seen = file.path.stat()
        key = f"{SEWN_AS} {file.path} {file.face} {seen.st_size} {seen.st_mtime_ns}"
        place = folder / f"{hashlib.sha256(key.encode()).hexdigest()[:32]}.png"
        if place.is_file():
            return place.read_bytes() or None
    except OSError:
        return None
    try:
        made = sample_of(file.name, font_in(file))
    except CannotRead:
        made = None
    with contextlib.suppress(OSError, CannotWrite):  # a sample that is not kept is sewn again
        folder.mkdir(parents=True, exist_ok=True)
        write_whole(place, made or b"")
    return made
