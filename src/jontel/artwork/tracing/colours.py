"""Colours of whole pictures, as the eye tells them apart."""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
LINEAR_BELOW, SLOPE, POWER = 0.04045, 12.92, 2.4
"""The curve of sRGB (IEC 61966-2-1)."""
TO_XYZ = np.array(
    [[0.4124564, 0.3575761, 0.1804375], [0.2126729, 0.7151522, 0.072175], [0.0193339, 0.119192, 0.9503041]]
)
TO_LIGHT = np.array([[0.299, 0.587, 0.114], [-0.1687, -0.3313, 0.5], [0.5, -0.4187, -0.0813]])
"""Light and two hues of RGB, as JPEG keeps them (ITU-T T.871)."""
WHITE = np.array([0.95047, 1.0, 1.08883])
"""Daylight D65 in XYZ."""


def lab(rgb: Floats) -> Floats:
    """CIELAB of sRGB colours of 0 to 255, (..., 3). Source: CIE 15, "Colorimetry" (2004)."""
    part = rgb / 255.0
    linear = np.where(part <= LINEAR_BELOW, part / SLOPE, ((part + 0.055) / 1.055) ** POWER)
    ratio = linear @ TO_XYZ.T / WHITE
    f = np.where(ratio > 216 / 24389, np.cbrt(ratio), (24389 / 27 * ratio + 16) / 116)
    return np.stack([116 * f[..., 1] - 16, 500 * (f[..., 0] - f[..., 1]), 200 * (f[..., 1] - f[..., 2])], axis=-1)


def off_blends(rgb: Floats, one: Floats, other: Floats, smeared: bool) -> Floats:
    """How far colours (n, 3) lie from the blends of two others, each (3,), in RGB, (n,).

    Where hue is ``smeared``, as JPEG does, light and hue of a blend are each between those of the two, no more.
    """
    if smeared:
        low, high = np.minimum(one @ TO_LIGHT.T, other @ TO_LIGHT.T), np.maximum(one @ TO_LIGHT.T, other @ TO_LIGHT.T)
        here = rgb @ TO_LIGHT.T
        return np.asarray(np.linalg.norm(here - np.clip(here, low, high), axis=-1))
    way = other - one
    size = np.maximum((way * way).sum(axis=-1), 1e-9)
    part = np.clip(((rgb - one) * way).sum(axis=-1) / size, 0, 1)
    return np.asarray(np.linalg.norm(rgb - one - part[..., None] * way, axis=-1))
