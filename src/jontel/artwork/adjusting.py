"""A picture as it is to be seen and digitized: cropped, painted out, lighter, sharper, one tone; the file stays."""

import io
import math
from collections.abc import Sequence

import numpy as np
import shapely
from msgspec.structs import replace
from PIL import Image, ImageDraw, ImageEnhance

from jontel.artwork.picture import open_picture
from jontel.design.design import AS_GIVEN, MOST_PATCHES, Artwork, Design, Look, Patch, StitchObject
from jontel.design.errors import CannotDo
from jontel.design.paths import transform_path
from jontel.design.shapes import Area
from jontel.design.thread import hex_of, rgb_of
from jontel.geometry.polyline import flatten
from jontel.geometry.region import path_of, polygons_of

LEAST_PART = 0.01
"""A picture is cropped to no less than this part of its width and height."""
LEAST_MOVE = 0.1
"""A stroke of the brush has places at least so far apart, mm."""


def adjusted(image: Image.Image, look: Look) -> Image.Image:
    """An RGBA picture under a look. What is painted out is clear, or like its corners where nothing of it is."""
    if look == AS_GIVEN:
        return image
    image = image.copy()
    ground = _ground(image)
    for patch in look.patches:
        _paint(image, patch, ground)
    left, top, right, low = look.crop
    x, right_x = (round(part * image.width) for part in (left, right))
    y, low_y = (round(part * image.height) for part in (top, low))
    image = image.crop((x, y, max(right_x, x + 1), max(low_y, y + 1)))
    alpha_channel = image.getchannel("A")
    flat = image.convert("RGB")
    for percent, enhancer in (
        (look.brightness, ImageEnhance.Brightness),
        (look.contrast, ImageEnhance.Contrast),
        (look.sharpness, ImageEnhance.Sharpness),
    ):
        if percent:
            flat = enhancer(flat).enhance(max(0.0, 1 + percent / (50 if enhancer is ImageEnhance.Sharpness else 100)))
    if look.one_tone > 0:
        grey = np.asarray(flat.convert("L"), dtype=np.float64)
        flat = Image.fromarray(np.where(grey < 2.55 * look.one_tone, 0, 255).astype(np.uint8)).convert("RGB")
    flat.putalpha(alpha_channel)
    return flat


def _ground(image: Image.Image) -> tuple[int, int, int, int]:
    """What a picture lies on: clear where any of it is, else the usual colour of its corners."""
    low = image.getchannel("A").getextrema()[0]
    if isinstance(low, int | float) and low < 255:
        return 0, 0, 0, 0
    right, foot = image.width - 1, image.height - 1
    corners = [image.getpixel(spot) for spot in ((0, 0), (right, 0), (0, foot), (right, foot))]
    red, green, blue, alpha = (int(v) for v in np.median(np.array(corners), axis=0))
    return red, green, blue, alpha


def as_seen(one: Artwork) -> bytes:
    """The bytes of a picture as it is to be seen: its file's where nothing was changed. Raises ``CannotRead``."""
    if one.look == AS_GIVEN or one.media == "svg":
        return one.data
    out = io.BytesIO()
    adjusted(open_picture(one.data, one.name), one.look).save(out, "PNG", compress_level=1)
    return out.getvalue()


def _paint(image: Image.Image, patch: Patch, ground: tuple[int, int, int, int]) -> None:
    """Paint over a picture; what is painted inside of an outline costs no more than the box round that."""
    colour = (*rgb_of(patch.colour), 255) if patch.colour else ground
    scaled = transform_path(patch.path, (float(image.width), 0.0, 0.0, float(image.height), 0.0, 0.0))
    loops = [line.loop() for line in flatten(scaled) if len(line.loop()) > 2]
    box = (0, 0, image.width, image.height)
    if patch.inside:
        if not loops:
            return
        low, high = np.vstack(loops).min(axis=0), np.vstack(loops).max(axis=0)
        left, top = (max(0, math.floor(v)) for v in low)
        right, foot = (min(side, math.ceil(v) + 1) for v, side in zip(high, image.size, strict=True))
        box = (left, top, right, foot)
    if box[2] <= box[0] or box[3] <= box[1]:
        return
    drawn = Image.new("L", (box[2] - box[0], box[3] - box[1]), 0 if patch.inside else 255)
    pen = ImageDraw.Draw(drawn)
    for loop in loops:
        pen.polygon([(float(x), float(y)) for x, y in loop - np.array(box[:2])], fill=255 if patch.inside else 0)
    image.paste(colour, box, drawn)


def cropped(one: Artwork, left: float, top: float, right: float, low: float) -> Artwork:
    """A picture cropped to parts of the whole of it, its pixels where they lie on the cloth."""
    right, low = max(right, left + LEAST_PART), max(low, top + LEAST_PART)
    a, b, c, d = one.look.crop
    wide, high = one.width / (c - a), one.height / (d - b)
    x, y = one.x - a * wide, one.y - b * high
    return replace(
        one,
        x=x + left * wide,
        y=y + top * high,
        width=(right - left) * wide,
        height=(low - top) * high,
        look=replace(one.look, crop=(left, top, right, low)),
    )


def masked(design: Design, number: int, items: tuple[StitchObject, ...], inside: bool) -> Design:
    """``design`` whose picture is painted out where some areas cover it, or, not ``inside``, everywhere else.

    The areas are gone then. Raises ``CannotDo`` where none is an area.
    """
    areas = [item for item in items if isinstance(item.shape, Area)]
    if not areas:
        raise CannotDo("Draw an area over the picture and select it; what it covers is painted out, or all but that.")
    path = " ".join(item.shape.path for item in areas if isinstance(item.shape, Area))
    gone = {item.id for item in areas}
    rest = replace(design, objects=tuple(item for item in design.objects if item.id not in gone))
    return painted_over(rest, number, path, inside, "")


def painted_over(design: Design, number: int, path: str, inside: bool, colour: str) -> Design:
    """``design`` whose picture is painted over inside of an outline on the cloth, or outside; see ``Patch``.

    Raises ``CannotDo`` for a drawing, and where there are too many.
    """
    one = design.artwork[number]
    if one.media == "svg":
        raise CannotDo("A drawing has no pixels to paint out; digitize it and delete what is not wanted.")
    left, top, right, low = one.look.crop
    wide, high = one.width / (right - left), one.height / (low - top)
    place = (1 / wide, 0.0, 0.0, 1 / high, left - one.x / wide, top - one.y / high)
    patches = (*one.look.patches, Patch(transform_path(path, place), inside, colour))
    if len(patches) > MOST_PATCHES:
        raise CannotDo(f"A picture is painted over at most {MOST_PATCHES} times.")
    seen = replace(one, look=replace(one.look, patches=patches))
    artwork = tuple(seen if k == number else other for k, other in enumerate(design.artwork))
    return replace(design, artwork=artwork)


def brushed(points: Sequence[tuple[float, float]], width: float) -> str:
    """The outline of what a round brush ``width`` mm wide covers along some places on the cloth."""
    line = shapely.LineString(points if len(points) > 1 else [points[0], points[0]]).simplify(LEAST_MOVE)
    return path_of(polygons_of(line.buffer(width / 2, quad_segs=6)))


def colour_at(one: Artwork, x: float, y: float) -> str | None:
    """The colour that a picture is seen to have at a place on the cloth; ``None`` beside it and where it is clear.

    Raises ``CannotRead``.
    """
    across, down = (x - one.x) / one.width, (y - one.y) / one.height
    if one.media == "svg" or not (0 <= across < 1 and 0 <= down < 1):
        return None
    image = adjusted(open_picture(one.data, one.name), one.look)
    red, green, blue, alpha = np.asarray(image)[int(down * image.height), int(across * image.width)].tolist()
    return hex_of((red, green, blue)) if alpha > 127 else None
