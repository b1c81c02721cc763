"""A monogram as objects: its letters, its frame, its border and its ornament, made from what they all hold."""

import numpy as np
import shapely
from msgspec.structs import replace
from shapely import affinity
from shapely.geometry.base import BaseGeometry

from jontel.design.design import Design, StitchObject
from jontel.design.edits import add_objects
from jontel.design.errors import CannotRead
from jontel.design.kinds.satin import Satin
from jontel.design.monogram import Monogram, Role
from jontel.design.paths import transform_path, transform_shape
from jontel.design.shapes import Area
from jontel.geometry.region import path_of, polygons_of, region_of
from jontel.lettering.arrangements import ARRANGEMENTS
from jontel.lettering.fonts import Font, open_font
from jontel.lettering.ornaments import BORDER_ROOM, FRAMES, Piece, border_of, ornament_of

ORNAMENT, BELOW = 0.28, 0.12
"""An ornament is so many heights of the letters high, and so many below them."""
FINEST = 4
"""Outlines are rounded to so many digits of a mm."""


def pieces_of(whole: Monogram, font: Font) -> list[Piece]:
    """The parts of a monogram about the origin, frames first, so that letters are sewn on top.

    Raises ``CannotRead`` for signs that the font lacks.
    """
    letters = [_letter(font, sign) for sign in whole.letters]
    laid = ARRANGEMENTS[whole.arrangement](letters, whole.middle / 100, whole.gap / whole.height)
    left, top, right, low = shapely.unary_union(laid).bounds
    scale = whole.height / max(low - top, 1e-6)
    at = (left + right) / 2, (top + low) / 2
    wide, high = (right - left) * scale / 2, whole.height / 2
    found: list[Piece] = []
    for number, letter in enumerate(laid, 1):
        moved = affinity.affine_transform(letter, [scale, 0, 0, scale, -at[0] * scale, -at[1] * scale])
        rounded = shapely.transform(moved, lambda xy: np.round(xy, FINEST))
        found.append(Piece(f"letter {number}", Area(path_of(polygons_of(rounded)), in_order=True), Satin()))
    ornaments = ornament_of(whole.ornament, ORNAMENT * whole.height)
    if ornaments:
        size = ORNAMENT * whole.height
        down = (1.0, 0.0, 0.0, 1.0, 0.0, high + BELOW * whole.height + size / 2)
        ornaments = [Piece(one.part, transform_shape(one.shape, down), one.cover) for one in ornaments]
        high += (BELOW * whole.height + size) * 0.9
    margin = whole.margin + (0.0 if whole.border == "none" else BORDER_ROOM)
    frame = FRAMES[whole.frame](wide + margin, high + margin)
    return [*frame, *border_of(whole.border, frame), *ornaments, *found]


def _letter(font: Font, sign: str) -> BaseGeometry:
    """A sign with capitals of height 1, its foot on y = 0, y downwards."""
    glyphs = font.shaped(sign)
    if not glyphs or any(glyph.number == 0 for glyph in glyphs) or not font.outline(glyphs[0].number):
        raise CannotRead(f"“{font.name}” has no {sign}; choose another font or letter.")
    size = 1 / font.capitals
    cloth = region_of(Area(transform_path(font.outline(glyphs[0].number), (1.0, 0.0, 0.0, -1.0, 0.0, 0.0))))
    grown: BaseGeometry = affinity.scale(cloth, size, size, origin=(0, 0))
    return affinity.translate(grown, -grown.bounds[0], 0.0)


def with_monogram(design: Design, whole: Monogram, thread: str) -> tuple[Design, frozenset[int]]:
    """``design`` with a new monogram, sewn last, and the ids of its objects. Raises ``CannotRead``."""
    groups = [item.monogram.whole.group for item in design.objects if item.monogram is not None]
    whole = replace(whole, group=max(groups, default=0) + 1)
    items = [_object(piece, whole, thread) for piece in pieces_of(whole, open_font(whole.font))]
    made = add_objects(design, items)
    return made, frozenset(range(design.next_id, made.next_id))


def remade(design: Design, whole: Monogram) -> Design:
    """``design`` with the monogram of this group as ``whole`` says; parts that stay keep their threads and build-up.

    Raises ``CannotRead`` where the font is not there.
    """
    old = {
        item.monogram.part: item for item in design.objects if _of(item, whole.group) and item.monogram is not None
    }
    if not old:
        return design
    first = min(number for number, item in enumerate(design.objects) if _of(item, whole.group))
    rest = [item for item in design.objects if not _of(item, whole.group)]
    before = sum(not _of(item, whole.group) for item in design.objects[:first])
    thread = next(iter(old.values())).thread
    fresh_id = design.next_id
    made: list[StitchObject] = []
    for piece in pieces_of(whole, open_font(whole.font)):
        new = _object(piece, whole, thread)
        known = old.get(piece.part)
        if known is not None:
            cover = known.cover if type(known.shape) is type(new.shape) else new.cover
            made.append(replace(known, shape=new.shape, cover=cover, monogram=new.monogram))
        else:
            made.append(replace(new, id=fresh_id))
            fresh_id += 1
    return replace(design, objects=(*rest[:before], *made, *rest[before:]), next_id=fresh_id)


def _of(item: StitchObject, group: int) -> bool:
    return item.monogram is not None and item.monogram.whole.group == group


def _object(piece: Piece, whole: Monogram, thread: str) -> StitchObject:
    name = f"{whole.letters} · {piece.part}"
    shape = transform_shape(piece.shape, whole.place)
    return StitchObject(
        id=0, name=name, thread=thread, shape=shape, cover=piece.cover, monogram=Role(whole, piece.part)
    )
