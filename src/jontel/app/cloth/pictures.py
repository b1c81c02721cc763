"""Artwork as pixels for the screen, made once: drawings by an SVG renderer, from the file as it was given."""

from collections.abc import Sequence
from functools import lru_cache
from xml.etree import ElementTree

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage, QPainter, QPixmap

from jontel.design import Artwork
from jontel.design.design import AS_GIVEN, Look

PIXELS = 1400
KEPT = 8


def artwork_pixmap(one: Artwork) -> QPixmap:
    """The picture; an empty one when the bytes cannot be painted."""
    return _pixmap(one.data, one.media == "svg", one.width / one.height, one.look)


def artwork_image(one: Artwork) -> QImage:
    """The picture as an image; an empty one when the bytes cannot be painted."""
    return _image(one.data, one.media == "svg", one.width / one.height, one.look)


def colours_of(image: QImage) -> NDArray[np.uint8]:
    """The colours of an image, (high, wide, 3); what is clear is white."""
    flat = QImage(image.size(), QImage.Format.Format_RGB888)
    flat.fill(Qt.GlobalColor.white)
    painter = QPainter(flat)
    painter.drawImage(0, 0, image)
    painter.end()
    return _pixels(flat, 3)


def image_of(rgba: NDArray[np.uint8]) -> QImage:
    """Colours (high, wide, 4) as an image of its own."""
    high, wide = rgba.shape[:2]
    data = rgba.tobytes()
    return QImage(data, wide, high, 4 * wide, QImage.Format.Format_RGBA8888).copy()


def _pixels(image: QImage, each: int) -> NDArray[np.uint8]:
    """The bytes of an image that has so many ``each`` pixel, (high, wide, each)."""
    bits = image.constBits()
    assert bits is not None
    bits.setsize(image.sizeInBytes())
    rows = np.frombuffer(bits, np.uint8).reshape(image.height(), image.bytesPerLine())
    answer: NDArray[np.uint8] = rows[:, : each * image.width()].reshape(image.height(), image.width(), each).copy()
    return answer


def colours_in(artwork: Sequence[Artwork], places: Sequence[tuple[float, float]]) -> list[tuple[int, int, int]]:
    """The colours that a person sees in the pictures at places on the cloth; none where there is no picture."""
    seen = [one for one in reversed(artwork) if one.visible]
    found: list[tuple[int, int, int]] = []
    for x, y in places:
        for one in seen:
            image = artwork_image(one)
            across, down = (x - one.x) / one.width, (y - one.y) / one.height
            if image.isNull() or not (0 <= across < 1 and 0 <= down < 1):
                continue
            colour = image.pixelColor(int(across * image.width()), int(down * image.height()))
            if colour.alpha() > 127:
                found.append((colour.red(), colour.green(), colour.blue()))
                break
    return found


@lru_cache(maxsize=KEPT)
def _pixmap(data: bytes, vector: bool, shape: float, look: Look) -> QPixmap:
    return QPixmap.fromImage(_image(data, vector, shape, look))


@lru_cache(maxsize=KEPT)
def _image(data: bytes, vector: bool, shape: float, look: Look) -> QImage:
    """The picture; it may be worked out aside before it is painted."""
    if not vector:
        image = QImage.fromData(data)
        if max(image.width(), image.height()) > PIXELS:
            image = image.scaled(
                PIXELS, PIXELS, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation
            )
        return _looked(image, look)
    from resvg_py import svg_to_bytes  # loaded where a drawing is shown

    try:  # with clips, masks and views, which Qt's own renderer knows little of
        text = ElementTree.tostring(ElementTree.fromstring(data), encoding="unicode")
        wide = max(1, round(PIXELS * min(shape, 1.0)))
        painted = svg_to_bytes(svg_string=text, width=wide, dpi=96.0)
    except (ValueError, ElementTree.ParseError):
        return QImage()
    return QImage.fromData(bytes(painted))


def _looked(image: QImage, look: Look) -> QImage:
    """An image under a look."""
    if look == AS_GIVEN or image.isNull():
        return image
    from PIL import Image  # loaded where a picture was changed

    from jontel.artwork.adjusting import adjusted

    pixels = _pixels(image.convertToFormat(QImage.Format.Format_RGBA8888), 4)
    return image_of(np.asarray(adjusted(Image.fromarray(pixels, "RGBA"), look)))
