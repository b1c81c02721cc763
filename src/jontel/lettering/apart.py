"""Words taken apart: into an object for each letter, or into columns; and words set along a drawn line."""

from collections.abc import Callable

import numpy as np
import shapely
from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import add_objects, change_objects, remove_objects
from jontel.design.errors import CannotRead
from jontel.design.lettering import UNMOVED
from jontel.design.paths import polyline_path
from jontel.design.shapes import Area, Column, Lines, Point
from jontel.geometry.columns import Rails
from jontel.geometry.decompose import strokes_of
from jontel.geometry.polyline import Floats, lengths
from jontel.geometry.region import region_of
from jontel.lettering.fonts import open_font
from jontel.lettering.setting import lettered, set_in

LINES_APART = 1.2
"""A column has a direction line every so many of its widths."""
EXACT = 0.01
"""Edges of columns are drawn with no more points than keep them so near, mm."""
Apart = Callable[[StitchObject], list[StitchObject]]


def into_letters(item: StitchObject) -> list[StitchObject]:
    """An object for each letter of words, in their order. Raises ``CannotRead`` where the font is not there."""
    words = item.lettering
    if words is None or not isinstance(item.shape, Area):
        return [item]
    plain = replace(item, lettering=None, beneath=None, ends=replace(item.ends, entry=None, exit=None))
    drawn = item.shape
    return [
        replace(plain, name=f"{item.name} · {sign}"[:80], shape=Area(path, drawn.rule, drawn.lines, in_order=True))
        for sign, path in set_in(words, open_font(words.font)).letters
    ]


def into_columns(item: StitchObject) -> list[StitchObject]:
    """An object for each stroke of a shape, as a column between two drawn edges; a shape without strokes stays."""
    if not isinstance(item.shape, Area):
        return [item]
    plain = replace(item, lettering=None, beneath=None, ends=replace(item.ends, entry=None, exit=None))
    strokes = [stroke for part in strokes_of(region_of(item.shape)) if part.fit for stroke in part.strokes]
    if not strokes:
        return [item]
    return [
        replace(plain, name=f"{item.name} · {number}"[:80], shape=_column(stroke.rails))
        for number, stroke in enumerate(strokes, 1)
    ]


def taken_apart(design: Design, ids: frozenset[int], apart: Apart) -> tuple[Design, frozenset[int]]:
    """``design`` with objects in the place of those in ``ids``, and the ids of the new ones."""
    fresh: set[int] = set()
    for item in [one for one in design.objects if one.id in ids]:
        parts = apart(item)
        if parts == [item]:
            continue
        place = design.place_of(item.id)
        fresh |= set(range(design.next_id, design.next_id + len(parts)))
        design = remove_objects(add_objects(design, parts, place), {item.id})
    return design, frozenset(fresh)


def set_along(design: Design, ids: frozenset[int]) -> Design:
    """``design`` whose words in ``ids`` stand along the line, or the outline, that is selected with them.

    Raises ``CannotRead`` where it is not words and one other shape that are selected.
    """
    chosen = [item for item in design.objects if item.id in ids]
    words = [item for item in chosen if item.lettering is not None]
    others = [item.shape for item in chosen if item.lettering is None]
    if not words or len(others) != 1:
        raise CannotRead("Select words and one line that they shall follow, then set them along it.")
    shape = others[0]
    path = shape.edge if isinstance(shape, Column) else shape.path

    def along(item: StitchObject) -> StitchObject:
        assert item.lettering is not None
        return lettered(item, replace(item.lettering, course="along a line", line=path, place=UNMOVED))

    return change_objects(design, {item.id for item in words}, along)


def set_inside(design: Design, ids: frozenset[int]) -> Design:
    """``design`` whose words in ``ids`` fill the area that is selected with them; it goes, they have its shape.

    Raises ``CannotRead`` where it is not words and one area that are selected.
    """
    chosen = [item for item in design.objects if item.id in ids]
    words = [item for item in chosen if item.lettering is not None]
    others = [item for item in chosen if item.lettering is None]
    if not words or len(others) != 1 or not isinstance(others[0].shape, Area):
        raise CannotRead("Select words and one area that they shall fill, then fit them into it.")
    path = others[0].shape.path

    def inside(item: StitchObject) -> StitchObject:
        assert item.lettering is not None
        return lettered(item, replace(item.lettering, course="in a shape", line=path, place=UNMOVED))

    return remove_objects(change_objects(design, {item.id for item in words}, inside), {others[0].id})


def _column(rails: Rails) -> Column:
    """A stroke as a drawn column: its edges, and the lines at which its places face each other."""
    along = lengths(rails.middle)
    count = max(2, round(float(along[-1]) / (LINES_APART * max(float(rails.widths().mean()), 0.1))))
    at = np.searchsorted(along, np.linspace(0.0, float(along[-1]), count + 1)[1:-1])
    lines: Lines = tuple((_spot(p), _spot(q)) for p, q in zip(rails.a[at], rails.b[at], strict=True))
    return Column(_drawn(rails.a, rails.closed), _drawn(rails.b, rails.closed), lines)


def _drawn(edge: Floats, closed: bool) -> str:
    points = [_spot(p) for p in shapely.get_coordinates(shapely.LineString(edge).simplify(EXACT))]
    return polyline_path(points[:-1] if closed and points[0] == points[-1] else points, closed)


def _spot(p: Floats) -> Point:
    return round(float(p[0]), 4), round(float(p[1]), 4)
