"""Where each object is entered and left, when the user has not pinned it: nearest ends are joined.

Ends depend on shapes only, never on stitches, so that tuning one object restitches that one alone.
"""

from dataclasses import dataclass

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window

from jontel.design.design import Design, StitchObject
from jontel.design.errors import CannotStitch
from jontel.design.kinds import traits_of
from jontel.design.shapes import Area, Column, Line, Point, Shape
from jontel.design.store import kept
from jontel.geometry.polyline import Floats, at_lengths, flatten, lengths
from jontel.stitching.covers.satin import columns_of

NEITHER = 0.05
"""Corners that are about as near, mm, as each other."""


@dataclass(frozen=True)
class EntryExit:
    """The two ends that an object is stitched for; ``None`` leaves it to the object."""

    entry: Point | None = None
    exit: Point | None = None


@kept
def landing(shape: Shape, filled: bool) -> tuple[Floats, bool]:
    """The places (n, 2) where a shape can be entered, and whether they are the two ends of a line."""
    match shape:
        case Area(path=path) | Line(path=path):
            lines = flatten(path)
        case Column(edge=edge, other_edge=other):
            lines = (*flatten(edge), *flatten(other))
            if not filled and lines and not lines[0].closed:
                first, last = lines[0].xy, lines[-1].xy
                return np.array([(first[0] + last[0]) / 2, (first[-1] + last[-1]) / 2]), True
    if not lines:
        return np.zeros((1, 2)), False
    if not filled and not lines[0].closed:
        return np.array([lines[0].xy[0], lines[-1].xy[-1]]), True
    loops = [line.loop() for line in lines]
    dense = [at_lengths(xy, np.arange(0, lengths(xy)[-1], max(0.5, lengths(xy)[-1] / 400))) for xy in loops]
    return np.vstack(dense), False


def choose_ends(design: Design) -> list[EntryExit]:
    """Entry and exit for every object that sews, in sewing order."""
    found: list[EntryExit] = []
    items = tuple(item for item in design.objects if not item.hidden)
    for number, item in enumerate(items):
        same_before = number > 0 and items[number - 1].thread == item.thread
        after = items[number + 1] if number + 1 < len(items) and items[number + 1].thread == item.thread else None
        found.append(ends_of(item, left_at(found[-1]) if same_before else None, after))
    return found


def left_at(ends: EntryExit) -> Point | None:
    """About where the needle is after an object, as far as its ends tell."""
    return ends.exit or ends.entry


def ends_of(item: StitchObject, came_from: Point | None, after: StitchObject | None) -> EntryExit:
    """Entry and exit of one object: as pinned, or nearest to where the needle comes from and to what comes ``after``.

    Both are ``None`` where another thread is before or after.
    """
    entry, exit_ = _ends_of(item, None if came_from is None else np.array(came_from), after)
    return EntryExit(item.ends.entry or entry, item.ends.exit or exit_)


@kept
def _corners(shape: Shape) -> Floats | None:
    """The corners of both ends of a column or of a line sewn as one, (2, 2, 2); ``None`` where it has no ends."""
    try:
        columns = columns_of(shape)
    except CannotStitch:
        return None
    if columns[0].closed:
        return None
    return np.array([[columns[0].a[0], columns[0].b[0]], [columns[-1].a[-1], columns[-1].b[-1]]])


def _ends_of(item: StitchObject, at: Floats | None, after: StitchObject | None) -> tuple[Point | None, Point | None]:
    places, is_line = landing(item.shape, traits_of(item.cover).anywhere)
    onward = None if after is None else landing(after.shape, traits_of(after.cover).anywhere)[0]
    if is_line:
        if at is not None:
            first = int(np.argmin(np.hypot(*(places - at).T)))
        elif onward is not None:
            first = 1 - int(np.argmin([float(np.hypot(*(onward - p).T).min()) for p in places]))
        else:
            first = 0
        corners = _corners(item.shape) if traits_of(item.cover).rows == "edge to edge" else None
        begin, end = places[first], places[1 - first]
        if corners is not None:  # a row ends at an edge: at the one that is nearer to what is before and after
            at_first = np.argmin(np.hypot(*(corners - begin).transpose(2, 0, 1)).min(axis=1))
            begin = begin if at is None else _facing(corners[at_first], at[None], begin)
            end = end if onward is None else _facing(corners[1 - at_first], onward, end)
        return _point(begin), _point(end)
    entry = None if at is None else places[int(np.argmin(np.hypot(*(places - at).T)))]
    exit_ = None
    if onward is not None and not traits_of(item.cover).shows_travel(item.cover):
        exit_ = _nearest(places, onward)
    if traits_of(item.cover).comes_round:
        exit_ = None if exit_ is None else entry
    return (None if entry is None else _point(entry)), (None if exit_ is None else _point(exit_))


def _facing(corners: Floats, to: Floats, middle: Floats) -> Floats:
    """The one of two corners (2, 2) that is nearer to any of ``to`` (m, 2), or the middle where neither is."""
    gaps, _ = scipy.spatial.cKDTree(to).query(corners)
    return middle if np.ptp(gaps) < NEITHER else corners[int(np.argmin(gaps))]


def _nearest(places: Floats, to: Floats) -> Floats:
    """The one of ``places`` (n, 2) nearest to any of ``to`` (m, 2)."""
    gaps, _ = scipy.spatial.cKDTree(to).query(places)
    answer: Floats = places[int(np.argmin(gaps))]
    return answer


def _point(xy: Floats) -> Point:
    return round(float(xy[0]), 3), round(float(xy[1]), 3)
