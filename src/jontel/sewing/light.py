"""How thread catches the light: what every picture of it shares."""

import math

import numpy as np

from jontel.geometry.polyline import Floats

LIGHT = math.radians(40)
"""Where the light comes from, counter-clockwise from the x axis."""


MEAN, SWING = 0.96, 0.12
"""How light thread is on average, and how much its direction changes that: more looks patched on pale thread."""
DARKEST, LIGHTEST = MEAN - SWING - 0.01, MEAN + SWING + 0.01
TURN = 1.6
"""A stitch shorter than this, mm, after one more than twice as long turns from one row into another."""


def shade(lines: Floats) -> Floats:
    """How light thread along ``lines`` (n, 2, 2), in the order of sewing, looks: brightest across the light.

    A turn is lit like the row that it ends, from which its thread has not yet rolled away.
    """
    step = lines[:, 1] - lines[:, 0]
    size = np.hypot(*step.T)
    turns = np.flatnonzero((size[1:] < TURN) & (size[:-1] > 2 * size[1:])) + 1
    angle = np.arctan2(-step[:, 1], step[:, 0])
    angle[turns] = angle[turns - 1]
    return np.asarray(MEAN + SWING * np.cos(2 * (angle - LIGHT - math.pi / 2)))
