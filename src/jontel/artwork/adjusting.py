"""A picture as it is to be seen and digitized: cropped, painted out, lighter, sharper, one tone; the file stays."""

import io

import numpy as np
from msgspec.structs import replace
from PIL import Image, ImageDraw, ImageEnhance

from jontel.artwork.picture import open_picture
from jontel.design.design import AS_GIVEN, Artwork, Design, Look, StitchObject
from jontel.design.errors import CannotDo
from jontel.design.paths import transform_path
from jontel.design.shapes import Area
from jontel.geometry.polyline import flatten

LEAST_PART = 0.01
"""A picture is cropped to no less than this part of its width and height."""
MOST_MASKS = 200


def adjusted(image: Image.Image, look: Look) -> Image.Image:
    """An RGBA picture under a look. What is painted out is clear, or like its corners where nothing of it is."""
    if look == AS_GIVEN:
        return image
    image = image.copy()
    ground = _ground(image)
    for path, inside in look.masks:
        covered = _covered(path, image.width, image.height)
        image.paste(ground, mask=Image.fromarray(covered == inside))
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


def _covered(path: str, width: int, height: int) -> np.ndarray[tuple[int, int], np.dtype[np.bool_]]:
    """The pixels that an outline in parts of a picture covers, (height, width)."""
    drawn = Image.new("1", (width, height), 0)
    pen = ImageDraw.Draw(drawn)
    scaled = transform_path(path, (float(width), 0.0, 0.0, float(height), 0.0, 0.0))
    for line in flatten(scaled):
        points = [(float(x), float(y)) for x, y in line.loop()]
        if len(points) > 2:
            pen.polygon(points, fill=1)
    return np.asarray(drawn, dtype=bool)


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
    one = design.artwork[number]
    areas = [item for item in items if isinstance(item.shape, Area)]
    if not areas:
        raise CannotDo("Draw an area over the picture and select it; what it covers is painted out, or all but that.")
    if one.media == "svg":
        raise CannotDo("A drawing has no pixels to paint out; digitize it and delete what is not wanted.")
    left, top, right, low = one.look.crop
    wide, high = one.width / (right - left), one.height / (low - top)
    place = (1 / wide, 0.0, 0.0, 1 / high, left - one.x / wide, top - one.y / high)
    path = " ".join(transform_path(item.shape.path, place) for item in areas if isinstance(item.shape, Area))
    masks = (*one.look.masks, (path, inside))
    if len(masks) > MOST_MASKS:
        raise CannotDo(f"A picture is painted out at most {MOST_MASKS} times.")
    seen = replace(one, look=replace(one.look, masks=masks))
    artwork = tuple(seen if k == number else other for k, other in enumerate(design.artwork))
    gone = {item.id for item in areas}
    return replace(design, artwork=artwork, objects=tuple(item for item in design.objects if item.id not in gone))
