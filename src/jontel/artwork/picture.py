"""Pictures in: a few flat colours become shapes."""

import io
import warnings
from typing import Literal, cast

import numpy as np
import shapely
from PIL import Image, UnidentifiedImageError

from jontel.artwork.drawing import Drawing, Drawn
from jontel.design.errors import CannotRead
from jontel.geometry.region import path_of

Media = Literal["png", "jpeg", "webp", "bmp", "tiff"]
MOST_PIXELS = 40_000_000
TRACED_WIDTH = 480
"""Pictures are traced at about this many pixels across: finer than a thread on a design of 100 mm."""


def open_picture(data: bytes, name: str) -> Image.Image:
    """A picture file as RGBA. Raises ``CannotRead``."""
    if not data:
        raise CannotRead(f"{name} is empty; choose another file.")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            image = Image.open(io.BytesIO(data))
            if image.width * image.height > MOST_PIXELS:
                raise CannotRead(f"{name} has over {MOST_PIXELS // 1_000_000} million pixels; make it smaller first.")
            return image.convert("RGBA")
    except (UnidentifiedImageError, Image.DecompressionBombError, Image.DecompressionBombWarning) as error:
        raise CannotRead(f"{name} is not a picture that can be read; use PNG, JPEG, WebP, BMP or TIFF.") from error
    except (OSError, SyntaxError, ValueError) as error:
        raise CannotRead(f"{name} breaks off or is damaged; save it again.") from error


def read_picture(data: bytes, name: str, colours: int = 6) -> Drawing:
    """Trace a picture into at most ``colours`` flat shapes, 0.2 mm a pixel when it does not say its size.

    Transparent and border-white pixels are cloth.
    """
    image = open_picture(data, name)
    media = media_of(data)
    scale = min(1.0, TRACED_WIDTH / image.width)
    small = image.resize((max(1, round(image.width * scale)), max(1, round(image.height * scale))))
    alpha = np.asarray(small)[:, :, 3] > 127
    flat = small.convert("RGB").quantize(colours, method=Image.Quantize.MEDIANCUT)
    index = np.asarray(flat)
    palette = np.asarray(flat.getpalette() or [], dtype=np.int64).reshape(-1, 3)
    cloth = _cloth_colour(index, palette)
    per_pixel = 0.2 / scale if scale < 1 else 0.2
    shapes: list[Drawn] = []
    for colour in np.unique(index):
        if colour == cloth:
            continue
        region = traced((index == colour) & alpha, per_pixel)
        if region:
            rgb = tuple(int(v) for v in palette[colour])
            shapes.append(
                Drawn(f"colour {len(shapes) + 1}", region, "nonzero", cast(tuple[int, int, int], rgb), None, 0)
            )
    notes = () if shapes else ("1 × picture of one colour: there is nothing to trace.",)
    size = small.width * per_pixel, small.height * per_pixel
    return Drawing(tuple(shapes), *size, notes, media)


def media_of(data: bytes) -> Media:
    """What sort of picture its bytes are, as an artwork names it."""
    kind = Image.open(io.BytesIO(data)).format or "PNG"
    return cast(Media, kind.lower() if kind.lower() in ("png", "jpeg", "webp", "bmp", "tiff") else "png")


def _cloth_colour(
    index: "np.ndarray[tuple[int, int], np.dtype[np.uint8]]",
    palette: "np.ndarray[tuple[int, int], np.dtype[np.int64]]",
) -> int:
    """The palette entry of a near-white border, or -1."""
    border = np.concatenate([index[0], index[-1], index[:, 0], index[:, -1]])
    common = int(np.bincount(border).argmax())
    mostly = float((border == common).mean())
    return common if mostly > 0.5 and palette[common].min() > 225 else -1


def traced(mask: "np.ndarray[tuple[int, ...], np.dtype[np.bool_]]", per_pixel: float) -> str:
    """Path data, mm, of the set pixels: their outline with the steps smoothed away, specks left out."""
    padded = np.zeros((mask.shape[0], mask.shape[1] + 2), dtype=np.int8)
    padded[:, 1:-1] = mask
    change = np.diff(padded, axis=1)
    row, start = np.nonzero(change == 1)
    _, stop = np.nonzero(change == -1)
    if not len(row):
        return ""
    whole = shapely.unary_union(shapely.box(start, row, stop, row + 1))
    smooth = whole.buffer(0.6).buffer(-1.2).buffer(0.6).simplify(0.7)
    kept = [g for g in getattr(smooth, "geoms", [smooth]) if g.area * per_pixel**2 > 1.0]
    return path_of(shapely.affinity.scale(shapely.MultiPolygon(kept), per_pixel, per_pixel, origin=(0, 0)))
