"""Pictures in: their flat colours become shapes."""

import io
import math
import warnings
from typing import Literal, cast

import numpy as np
from PIL import Image, ImageOps, UnidentifiedImageError
from scipy import ndimage

from jontel.artwork.choices import AS_READ, NOTHING_CHOSEN, Choices
from jontel.artwork.drawing import RGB, Drawing, Drawn, Size
from jontel.artwork.tracing import Labelled, labelled, outlines_of, palette_of
from jontel.artwork.tracing.colours import Floats, lab
from jontel.artwork.tracing.palette import Bools, calmed
from jontel.design.errors import CannotRead
from jontel.design.paths import transform_path
from jontel.design.stopping import go_on, left_behind
from jontel.design.thread import hex_of, rgb_of

Media = Literal["png", "jpeg", "webp", "bmp", "tiff"]
MOST_PIXELS = 40_000_000
KEPT = ("PNG", "JPEG", "WEBP", "BMP", "TIFF")
"""Pictures of these sorts are kept as they were given."""
WIDE_GREYS = ("I", "F", "I;16", "I;16L", "I;16B")
"""Modes of greys of more than a byte."""
RARE = ("CMYK", *WIDE_GREYS)
"""Pictures of these modes are not kept as they were: not everything shows them as they are meant."""
TURNED = 0x0112
"""The tag that says how a camera was held (Exif 2.3, Orientation)."""
TRACED = 1200
"""Pictures are traced at no more than so many pixels across: finer than a thread on any hoop."""
PER_PIXEL = 0.2
"""So many mm is a pixel of a picture that comes in at no other size."""
UNDER = 0.5
"""A colour reaches so many mm under what is sewn on top of it, so that no cloth shows between them."""
MOST_COLOURS = 12
DEEP, DEEP_PART = 2.5, 0.05
"""What is sewn in the ground's colour lies so many of its own half widths inside, and this part of the picture."""
MIDDLING = 57.6
"""The mean step of a JPEG's light at a quality of 50."""
CLEAR = np.array([[255, 255, 255], [255, 0, 255], [0, 255, 0], [0, 0, 0], [0, 255, 255], [255, 255, 0]], dtype=float)
"""Clear places are traced as if they had one of these colours."""
LIGHT, PALE, MOSTLY = 84.0, 26.0, 0.5
"""The ground is lighter and paler than this, in CIELAB, and takes more than the last part of the rim."""


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
            return left_behind(lambda: _of_bytes(ImageOps.exif_transpose(image)).convert("RGBA"))
    except (UnidentifiedImageError, Image.DecompressionBombError, Image.DecompressionBombWarning) as error:
        raise CannotRead(f"{name} is no picture that can be read; use PNG, JPEG, WebP, BMP, TIFF or GIF.") from error
    except (OSError, SyntaxError, ValueError) as error:
        raise CannotRead(f"{name} breaks off or is damaged; save it again.") from error


def _of_bytes(image: Image.Image) -> Image.Image:
    """A picture whose greys are of a byte: those of 16 bits and more are brought down, not cut off."""
    if image.mode not in WIDE_GREYS:
        return image
    grey = np.asarray(image, dtype=np.float64)
    top = 255.0 if grey.max(initial=0) <= 255 else max(65535.0, float(grey.max()))
    return Image.fromarray(np.clip(grey * (255 / top), 0, 255).astype(np.uint8))


def upright(image: Image.Image, data: bytes) -> tuple[Image.Image, bytes]:
    """A picture as it is meant to be seen, and its bytes: made anew where those are turned or of a rarer sort."""

    def made() -> bytes:
        raw = Image.open(io.BytesIO(data))
        if raw.getexif().get(TURNED, 1) == 1 and raw.format in KEPT and raw.mode not in RARE:
            return data
        out = io.BytesIO()
        if raw.format == "JPEG":
            image.convert("RGB").save(out, "JPEG", quality=95)
        else:
            image.save(out, "PNG")
        return out.getvalue()

    return image, left_behind(made)  # a PNG is read to its end for what turns it


def read_picture(data: bytes, name: str, size: Size = Size(), colours: int = MOST_COLOURS) -> Drawing:
    """A picture file traced into its flat colours, ``colours`` at most. Raises ``CannotRead``."""
    return traced(open_picture(data, name), data, size, colours)


def traced(
    image: Image.Image,
    data: bytes,
    size: Size = Size(),
    colours: int = MOST_COLOURS,
    choices: Choices = NOTHING_CHOSEN,
) -> Drawing:
    """Trace an opened picture, whose file is ``data``, into its flat colours, 0.2 mm a pixel where no size is wanted.

    Each reaches ``UNDER`` mm, as large as it is wanted, under those drawn after it, which take less cloth. What is
    clear is no part of it, and neither is a light colour all round, unless that was chosen to be sewn; nor what was
    chosen to be left out. Colours that are chosen to be one are. Raises ``CannotRead`` for a size of nothing.
    """
    media = media_of(data)
    scale = min(1.0, TRACED / max(image.size))
    wide, tall = (max(1, round(side * scale)) for side in image.size)

    def told_apart() -> tuple[Floats, Bools, Labelled, int]:
        small = image if scale == 1 else image.resize((wide, tall), Image.Resampling.BOX)
        rgb, seen = _on_cloth(np.asarray(small, dtype=np.float64))
        rgb = calmed(rgb)
        palette = palette_of(rgb, colours + 1, _smear(data) if media == "jpeg" else 0.0)
        go_on()
        found = labelled(rgb, palette)
        ground = _ground(found, seen)
        return rgb, seen, _within(found, ground) if ground >= 0 and seen.all() else found, ground

    rgb, seen, found, ground = left_behind(told_apart)
    counts = np.bincount(found.labels.ravel(), minlength=len(found.rgb))
    there = [int(k) for k in np.argsort(-counts, kind="stable") if counts[k]]
    names = [hex_of(cast(RGB, tuple(int(v) for v in one))) for one in np.clip(found.rgb.round(), 0, 255)]
    cloth = {ground} if ground >= 0 and (not seen.all() or choices.of_colour(names[ground]) == AS_READ) else set()
    merged = choices.merged
    groups: dict[str, list[int]] = {}
    for k in there:
        name = merged.get(names[k], names[k])
        if k not in cloth and name not in choices.dropped:
            groups.setdefault(name, []).append(k)
    order = sorted(groups.items(), key=lambda group: -int(counts[group[1]].sum()))
    per_pixel = PER_PIXEL / scale
    wanted = size.scale(image.width * PER_PIXEL, image.height * PER_PIXEL)
    reach = UNDER / (per_pixel * wanted)
    shapes: list[Drawn] = []
    for place, (name, some) in enumerate(order):
        go_on()
        under = np.isin(found.labels, [k for _, later in order[place + 1 :] for k in later])
        path = outlines_of(rgb, found.labels, found.rgb, some, under, reach)
        if path:
            path = transform_path(path, (per_pixel, 0.0, 0.0, per_pixel, 0.0, 0.0))
            shapes.append(Drawn(f"colour {len(shapes) + 1}", path, "nonzero", rgb_of(name), None, 0))
    notes = () if shapes or choices.dropped else ("1 × picture of one colour: there is nothing to trace.",)
    told: dict[RGB, bool] = {}
    for k in there:
        if seen.all() or k != ground:
            told[rgb_of(names[k])] = told.get(rgb_of(names[k]), False) or k == ground
    return Drawing(tuple(shapes), wide * per_pixel, tall * per_pixel, notes, media, tuple(told.items()))


def _within(found: Labelled, ground: int) -> Labelled:
    """Labels in which places of the ground's colour deep inside the drawing are a colour of their own, to be sewn.

    A moon in a sky is; the counter of a letter is not: it is about as wide as what parts it from the ground.
    """
    own = found.labels == ground
    patches, count = ndimage.label(own)
    outer = np.unique(np.concatenate([patches[0], patches[-1], patches[:, 0], patches[:, -1]]))
    if count <= np.count_nonzero(outer):
        return found
    away = ndimage.distance_transform_edt(~np.isin(patches, outer[outer > 0]))
    half = ndimage.distance_transform_edt(own)
    numbers = np.arange(1, count + 1)
    parted, inside = ndimage.minimum(away, patches, numbers), ndimage.maximum(half, patches, numbers)
    deep = (parted > DEEP * inside) & (parted > DEEP_PART * min(own.shape)) & ~np.isin(numbers, outer)
    if not deep.any():
        return found
    labels = np.where(np.isin(patches, numbers[deep]), len(found.rgb), found.labels).astype(np.int16)
    return Labelled(labels, np.vstack([found.rgb, found.rgb[ground]]))


def _smear(data: bytes) -> float:
    """How much a JPEG smears its colours: by its steps of light, 1 as at a quality of 50 (ITU-T T.81, K.1)."""
    tables = getattr(Image.open(io.BytesIO(data)), "quantization", {})
    return float(np.clip(np.mean(tables[0]) / MIDDLING, 0.05, 1.3)) if tables else 1.0


def _on_cloth(rgba: Floats) -> tuple[Floats, Bools]:
    """A picture (h, w, 3) whose clear places have a colour that is far from all of its own, and which are seen."""
    alpha = rgba[..., 3:] / 255
    seen = rgba[..., 3] > 127
    if (rgba[..., 3] >= 250).all():
        return rgba[..., :3], seen
    some = rgba[seen][:: max(1, int(seen.sum()) // 20_000), :3]
    far = [np.linalg.norm(some - one, axis=1).min(initial=np.inf) for one in CLEAR]
    return rgba[..., :3] * alpha + CLEAR[int(np.argmax(far))] * (1 - alpha), seen


def _ground(found: Labelled, seen: Bools) -> int:
    """The number of the colour that is cloth: what is clear, or a light colour along most of the rim; -1 for none."""
    if not seen.all():
        return int(np.bincount(found.labels[~seen]).argmax())
    rim = np.concatenate([found.labels[0], found.labels[-1], found.labels[:, 0], found.labels[:, -1]])
    common = int(np.bincount(rim).argmax())
    light, a, b = lab(found.rgb[common])
    is_light = light > LIGHT and math.hypot(a, b) < PALE
    return common if (rim == common).mean() > MOSTLY and is_light else -1


def media_of(data: bytes) -> Media:
    """What sort of picture its bytes are, as an artwork names it."""
    kind = Image.open(io.BytesIO(data)).format or "PNG"
    return cast(Media, kind.lower() if kind.lower() in ("png", "jpeg", "webp", "bmp", "tiff") else "png")
