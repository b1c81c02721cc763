"""Pictures that lie on the cloth to be drawn over, at their true size; and digitized later, where they lie."""

import dataclasses
import io

from msgspec.structs import replace
from PIL import Image

from jontel.artwork.adjusting import as_seen
from jontel.artwork.choices import NOTHING_CHOSEN, Choices
from jontel.artwork.digitize import Digitized, drawn_in, read_drawing
from jontel.artwork.drawing import Size
from jontel.artwork.incoming import as_known
from jontel.artwork.picture import MOST_COLOURS, media_of, open_picture, upright
from jontel.artwork.pictures import centred, fitted_picture, with_picture
from jontel.design.design import LARGEST_ARTWORK, MOST_ARTWORK, Artwork, Design
from jontel.design.edits import transform_objects
from jontel.design.errors import CannotRead
from jontel.design.thread import Thread

LEAST_DPI, MOST_DPI = 40.0, 4800.0
"""A resolution outside of this, dots per inch, is what programs write that know none."""
SCREENS = (72.0, 96.0)
"""So many dots per inch is what screens have, and says nothing of a size on cloth."""


def placed(design: Design, data: bytes, name: str) -> Design:
    """``design`` with a picture in the middle of its hoop, of the size that it says, else as large as the hoop holds.

    Raises ``CannotRead`` for what is no picture.
    """
    if len(data) > LARGEST_ARTWORK:
        raise CannotRead(f"{name} is over {LARGEST_ARTWORK // 1_000_000} MB; make the picture smaller first.")
    if len(design.artwork) >= MOST_ARTWORK:
        raise CannotRead(f"A design holds at most {MOST_ARTWORK} pictures; take one away before {name} comes in.")
    data = as_known(data, name)
    if data.lstrip()[:1] == b"<":
        drawing = read_drawing(data, name)
        one = Artwork(name, drawing.media, 0.0, 0.0, drawing.width, drawing.height, data, True, 0.0)
        known = True
    else:
        dpi = _dpi(data)
        image, data = upright(open_picture(data, name), data)
        mm = 25.4 / dpi if dpi is not None else 0.2
        one = Artwork(name, media_of(data), 0.0, 0.0, image.width * mm, image.height * mm, data, True, 0.0)
        known = dpi is not None
    made = replace(design, artwork=(*design.artwork, centred(one)))
    return made if known else fitted_picture(made, len(made.artwork) - 1)


def _dpi(data: bytes) -> float | None:
    """The dots per inch that a picture says of itself; ``None`` where it says nothing that could be meant."""
    try:
        found = Image.open(io.BytesIO(data)).info.get("dpi")
        across = float(found[0]) if found else 0.0
    except (OSError, TypeError, ValueError, ZeroDivisionError, IndexError):
        return None
    is_screen = any(abs(across - one) < 0.6 for one in SCREENS)
    return across if LEAST_DPI <= across <= MOST_DPI and not is_screen else None


def digitized(
    design: Design,
    number: int,
    chart: tuple[Thread, ...],
    colours: int = MOST_COLOURS,
    choices: Choices = NOTHING_CHOSEN,
) -> Digitized:
    """``design`` with the shapes of a picture that lies on its cloth as objects, where they are seen.

    Of a picture of pixels at most so many ``colours`` are kept; ``choices`` say what becomes of some.

    It is digitized as it is seen. Raises ``CannotRead`` where nothing in it can be sewn.
    """
    one = design.artwork[number]
    bare = replace(design, artwork=())
    found = drawn_in(bare, as_seen(one), one.name, chart, Size(width=one.width), colours, choices)
    made = transform_objects(
        found.design, set(found.colour_of), (1.0, 0.0, 0.0, 1.0, one.x + one.width / 2, one.y + one.height / 2)
    )
    seen = replace(one, notes=made.artwork[0].notes, dim=max(one.dim, 0.5))
    made = with_picture(replace(made, artwork=design.artwork), number, seen)
    return dataclasses.replace(found, design=made)
