"""Pictures on the cloth moved, scaled and fitted."""

from msgspec.structs import replace

from jontel.design.design import Artwork, Design
from jontel.design.errors import CannotDo

MARGIN = 5.0
"""A picture of unknown size fills the hoop but for this, mm."""


def centred(one: Artwork) -> Artwork:
    """A picture in the middle of the hoop."""
    return replace(one, x=-one.width / 2, y=-one.height / 2)


def fitted_picture(design: Design, number: int, margin: float = MARGIN) -> Design:
    """``design`` with a picture as large as its hoop holds but for a margin, in its middle."""
    one, hoop = design.artwork[number], design.brief.hoop
    factor = min((hoop.width - 2 * margin) / one.width, (hoop.height - 2 * margin) / one.height)
    if factor <= 0:
        raise CannotDo("The hoop is smaller than the margin; choose a larger hoop.")
    return with_picture(design, number, centred(replace(one, width=one.width * factor, height=one.height * factor)))


def moved_picture(design: Design, number: int, x: float, y: float) -> Design:
    """``design`` with a picture moved by so many mm."""
    one = design.artwork[number]
    return with_picture(design, number, replace(one, x=round(one.x + x, 3), y=round(one.y + y, 3)))


def grown_picture(design: Design, number: int, factor: float, about: tuple[float, float]) -> Design:
    """``design`` with a picture ``factor`` times as large, a place of it staying where it is. Raises ``CannotDo``."""
    one = design.artwork[number]
    wide, tall = one.width * factor, one.height * factor
    if not (0.1 < wide < 5000 and 0.1 < tall < 5000):
        raise CannotDo("The picture would be smaller than a stitch or larger than any cloth; check the length.")
    x, y = about[0] + (one.x - about[0]) * factor, about[1] + (one.y - about[1]) * factor
    return with_picture(design, number, replace(one, x=x, y=y, width=wide, height=tall))


def with_picture(design: Design, number: int, one: Artwork) -> Design:
    """``design`` with another picture in the place of one."""
    return replace(design, artwork=(*design.artwork[:number], one, *design.artwork[number + 1 :]))
