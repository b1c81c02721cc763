"""Flat logos made up by program, as pictures of any size and quality, with the colours that they were painted in."""

import io
import math
from dataclasses import dataclass

import numpy as np
from PIL import Image, ImageDraw
from scipy import ndimage

RGB = tuple[int, int, int]
FINE = 4
"""Pictures are painted so many times as large and then made smaller: that blends their edges."""
GROUNDS: tuple[RGB, ...] = ((255, 255, 255), (255, 255, 255), (252, 247, 232), (244, 244, 240))
LEAST_PART = 0.001
"""A colour is seen where so much of the picture lies four pixels inside it."""
APART = 60.0
"""How far apart colours of a logo are at least, in RGB."""


@dataclass(frozen=True)
class Logo:
    """A picture with what it was painted in; the first colour is the ground, ``slivers`` are hardly to be seen."""

    image: Image.Image
    colours: tuple[RGB, ...]
    slivers: tuple[RGB, ...] = ()

    def jpeg(self, quality: int) -> bytes:
        """As a JPEG file."""
        out = io.BytesIO()
        self.image.save(out, "JPEG", quality=quality)
        return out.getvalue()

    def png(self) -> bytes:
        """As a PNG file."""
        out = io.BytesIO()
        self.image.save(out, "PNG")
        return out.getvalue()


def logo(seed: int, size: int) -> Logo:
    """A flat logo of two to seven colours on a light ground, ``size`` pixels wide."""
    draw = np.random.default_rng(seed)
    ground = GROUNDS[int(draw.integers(len(GROUNDS)))]
    colours = [ground]
    while len(colours) < int(draw.integers(3, 8)):
        rgb = draw.integers(0, 256, 3)
        if all(np.linalg.norm(rgb - np.array(one)) > APART for one in colours):
            colours.append((int(rgb[0]), int(rgb[1]), int(rgb[2])))
    big = size * FINE
    image = Image.new("RGB", (big, big), ground)
    pen = ImageDraw.Draw(image)
    middle = big / 2
    used = [ground]
    far = 0.44 * big
    for rgb in colours[1:]:
        x, y = middle + draw.uniform(-0.06, 0.06, 2) * big * (len(used) > 1)
        kind = draw.integers(6)
        turn = draw.uniform(0, 2 * math.pi)
        if kind == 0:
            pen.ellipse((x - far, y - far, x + far, y + far), fill=rgb)
        elif kind == 1:
            corners = int(draw.integers(3, 9))
            spots = [2 * math.pi * k / corners + turn for k in range(corners)]
            pen.polygon([(x + far * math.cos(t), y + far * math.sin(t)) for t in spots], fill=rgb)
        elif kind == 2:
            points = int(draw.integers(5, 10))
            ways = [(far * (1 if k % 2 else 0.6), math.pi * k / points + turn) for k in range(2 * points)]
            pen.polygon([(x + f * math.cos(t), y + f * math.sin(t)) for f, t in ways], fill=rgb)
        elif kind == 3:
            pen.rounded_rectangle((x - far, y - 0.6 * far, x + far, y + 0.6 * far), radius=0.2 * far, fill=rgb)
        elif kind == 4:
            pen.ellipse((x - far, y - far, x + far, y + far), outline=rgb, width=round(0.22 * far))
        else:
            wave = [(x + far * (k / 20 - 1), y + 0.3 * far * math.sin(k / 4 + turn)) for k in range(41)]
            pen.line(wave, fill=rgb, width=max(round(0.25 * far), 3 * FINE), joint="curve")
        used.append(rgb)
        far *= draw.uniform(0.6, 0.85)
    pixels = np.asarray(image)[::2, ::2].astype(np.uint32) @ np.array([1 << 16, 1 << 8, 1], dtype=np.uint32)
    broad: list[RGB] = []
    slivers: list[RGB] = []
    for one in used:
        own = pixels == (one[0] << 16 | one[1] << 8 | one[2])
        inner = ndimage.minimum_filter(own, 2 * FINE + 1)
        (broad if inner.mean() > LEAST_PART else slivers).append(one)
    return Logo(image.resize((size, size), Image.Resampling.BOX), tuple(broad), tuple(slivers))
