"""Locks: the small stitches that keep a thread from coming out where it starts or is cut."""

import numpy as np

from jontel.geometry.polyline import Floats, at_lengths, lengths

LOCK_LENGTH = 0.7


def lock_in(xy: Floats) -> Floats:
    """Needle points (n, 2) before ``xy``: three small stitches in the direction of sewing, ending on its start.

    They lie on the first ``LOCK_LENGTH`` mm of the stitches that follow, so they stay inside the cover.
    """
    ahead = _along(xy)
    return np.array([ahead, xy[0], ahead])


def lock_out(xy: Floats) -> Floats:
    """Needle points (n, 2) after ``xy``: three small stitches back and forth over its last stitch."""
    behind = _along(xy[::-1])
    return np.array([behind, xy[-1], behind])


def _along(xy: Floats) -> Floats:
    """The place ``LOCK_LENGTH`` from the start of ``xy`` on its own path, at that distance or less."""
    head = xy[:12]
    along = lengths(head)
    place: Floats = at_lengths(head, np.array([min(LOCK_LENGTH, along[-1])]), along)[0]
    if float(np.hypot(*(place - head[0]))) < 0.5:
        reach = head[min(1, len(head) - 1)] - head[0]
        size = float(np.hypot(*reach))
        place = head[0] + (reach / size if size > 1e-9 else np.array([1.0, 0.0])) * LOCK_LENGTH
    return place
