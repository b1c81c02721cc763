"""Pictures of pixels that an SVG holds: traced into flat colours where they stand."""

import base64
import binascii
import math
import re
from urllib.parse import unquote_to_bytes

from jontel.artwork.pieces import Piece
from jontel.artwork.svg.strokes import sides
from jontel.artwork.svg.style import View
from jontel.artwork.svg.views import fitted
from jontel.design.errors import CannotRead
from jontel.design.paths import Matrix, composed, transform_path

LARGEST_MM = 2_000.0
LEAST_MM = 1.0
MOST_DATA = 30_000_000
"""A picture takes no more than about so many bytes."""
_DATA = re.compile(r"data:\s*image/(?P<kind>[\w.+-]+)\s*(?:;[^,]*)?,", re.IGNORECASE)


class NotEmbedded(Exception):
    """Why a picture does not come in, in words that go before “was left out”."""


def bytes_of(link: str) -> bytes:
    """The file that a ``data:`` link holds. Raises ``NotEmbedded``."""
    match = _DATA.match(link.strip())
    if match is None:
        where = "in another file" if link.strip() else "without a file"
        raise NotEmbedded(f"picture {where}")
    if "svg" in match["kind"].lower():
        raise NotEmbedded("drawing within a picture")
    head, body = match[0].lower(), link.strip()[match.end() :]
    if len(body) > 2 * MOST_DATA:
        raise NotEmbedded(f"picture over {MOST_DATA // 1_000_000} MB")
    try:
        if "base64" in head:
            return base64.b64decode(re.sub(r"\s+", "", unquote_to_bytes(body).decode("ascii")), validate=False)
        return unquote_to_bytes(body)
    except (binascii.Error, ValueError) as error:
        raise NotEmbedded("damaged picture") from error


def traced_pieces(data: bytes, size: tuple[float | None, float | None], aspect: str, matrix: Matrix) -> list[Piece]:
    """What a picture shows as pieces, its box ``size`` pixels of ``matrix``; what is not said is as the picture.

    ``matrix`` takes pixels at the box's top left to mm. Raises ``NotEmbedded``.
    """
    from jontel.artwork.drawing import Size
    from jontel.artwork.picture import open_picture, traced  # slow to load

    try:
        image = open_picture(data, "it")
        own = View(float(image.width), float(image.height))
        wide, high = (
            given if given is not None else plain if other is None else other * plain / beside
            for given, other, plain, beside in (
                (size[0], size[1], own.width, own.height),
                (size[1], size[0], own.height, own.width),
            )
        )
        fit, _ = fitted((0.0, 0.0, own.width, own.height), aspect, View(wide, high))
        place = composed(fit, matrix)
        across = own.width * sides(place)[0]
        if not (math.isfinite(across) and LEAST_MM <= across <= LARGEST_MM):
            raise NotEmbedded("picture too small or too large to sew")
        drawing = traced(image, data, Size(width=across))
    except CannotRead as error:
        raise NotEmbedded("damaged picture") from error
    pixel = (own.width / drawing.width, 0.0, 0.0, own.height / drawing.height, 0.0, 0.0)
    whole = composed(pixel, place)
    return [
        Piece(transform_path(one.path, whole), one.fill, 1.0, one.rule, name=one.name)
        for one in drawing.shapes
        if one.fill is not None
    ]
