"""Shapes that are seen through, in the colours that they have over what lies under them.

Thread cannot be seen through: a shape is sewn in the colour that it has over what it covers, and where that is of
several colours, piece by piece (T. Porter and T. Duff, "Compositing digital images", 1984: one over another).
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from jontel.artwork.drawing import RGB
from jontel.artwork.pieces import Piece, bounds_of, clipped
from jontel.design.errors import CannotStitch
from jontel.design.stopping import go_on
from jontel.geometry.region import Region

WHITE: RGB = (255, 255, 255)
MOST = 1_000
"""So many times it is looked at what lies under what; shapes that come then are taken as on white."""
ALIKE = 20
"""Colours whose red, green and blue differ by no more than this are one."""
LEAST_PART = 0.04
"""A smaller part of a shape than this has no colour of its own."""


@dataclass(frozen=True)
class _Under:
    """Some of the cloth under a shape, and the colour that the shape has there."""

    cloth: BaseGeometry
    below: RGB
    seen: RGB


@dataclass(frozen=True, eq=False)
class _Part:
    """An opaque piece, and the cloth that it lies on if that is not all of the piece that it was."""

    piece: Piece
    cloth: BaseGeometry | None


def opaque(pieces: Sequence[Piece]) -> tuple[list[Piece], int]:
    """Pieces, the lowest first, none of them seen through, that look as those do on white cloth.

    And how many were taken as on white, whatever is under them, since so much lies over so much.
    """
    if all(piece.alpha >= 1 for piece in pieces):
        return list(pieces), 0
    looks, plain = 0, 0
    boxes = [bounds_of([piece]) for piece in pieces]
    rims = [
        shapely.Point() if box is None else shapely.box(*box).buffer((piece.width or 0.0) * piece.mitre)
        for piece, box in zip(pieces, boxes, strict=True)
    ]
    tree = shapely.STRtree(rims)
    known: dict[int, BaseGeometry] = {}

    def region(number: int) -> BaseGeometry:
        if number not in known:
            try:
                known[number] = pieces[number].region()
            except CannotStitch:  # a tangle; it is told of later
                known[number] = Region()
        return known[number]

    made: list[list[_Part]] = []
    for number, piece in enumerate(pieces):
        go_on()
        if piece.alpha >= 1 or looks >= MOST:
            made.append([_Part(_over(piece, WHITE), None)])
            plain += piece.alpha < 1
            continue
        try:
            left, found = region(number), list[_Under]()
            for below in sorted(tree.query(rims[number]).tolist(), reverse=True):
                if below >= number or left.is_empty or set(pieces[below].veils) & set(piece.veils):
                    continue
                for one in made[below]:
                    looks += 1
                    cloth = shapely.intersection(left, region(below) if one.cloth is None else one.cloth)
                    if cloth.area > 0:
                        colour = one.piece.colour
                        found.append(_Under(cloth, colour, _mixed(piece.colour, colour, piece.alpha)))
                left = shapely.difference(left, region(below))
            found.append(_Under(left, WHITE, _mixed(piece.colour, WHITE, piece.alpha)))
            made.append(_parted(piece, found))
        except shapely.errors.GEOSException:  # outlines that cannot be told apart in rounding
            made.append([_Part(_over(piece, WHITE), None)])
            plain += 1
    return [one.piece for some in made for one in some], plain


def _parted(piece: Piece, found: Sequence[_Under]) -> list[_Part]:
    """A piece in one colour, or in parts of several if what it has over what lies under it differs."""
    area = np.array([one.cloth.area for one in found])
    if area.sum() <= 0:
        return [_Part(_over(piece, WHITE), None)]
    mean = _mean([one.below for one in found], area)
    if piece.width is not None or piece.words is not None:
        return [_Part(_over(piece, mean), None)]
    groups: list[list[int]] = []
    for k in np.argsort(-area).tolist():
        near = next((some for some in groups if _apart(found[some[0]].seen, found[k].seen) <= ALIKE), None)
        if near is None:
            groups.append([k])
        else:
            near.append(k)
    large = [some for some in groups if area[some].sum() >= LEAST_PART * area.sum()]
    if len(large) < 2:
        some = large[0] if large else groups[0]
        return [_Part(_over(piece, _mean([found[k].below for k in some], area[some])), None)]
    large[0] += [k for some in groups if some not in large for k in some]
    parts: list[_Part] = []
    for some in large:
        cloth = shapely.unary_union([found[k].cloth for k in some])
        below = _mean([found[k].below for k in some], area[some])
        parts += [_Part(_over(one, below), cloth) for one in clipped([piece], cloth)]
    return parts


def _over(piece: Piece, below: RGB) -> Piece:
    """A piece as it is seen over a colour."""
    shade = piece.shade and replace(
        piece.shade,
        first=_mixed(piece.shade.first, below, piece.alpha),
        last=_mixed(piece.shade.last, below, piece.alpha),
    )
    return replace(piece, colour=_mixed(piece.colour, below, piece.alpha), alpha=1.0, shade=shade)


def _mixed(colour: RGB, below: RGB, alpha: float) -> RGB:
    red, green, blue = (round(under + (over - under) * alpha) for over, under in zip(colour, below, strict=True))
    return red, green, blue


def _mean(colours: Sequence[RGB], weights: "np.ndarray[tuple[int], np.dtype[np.float64]]") -> RGB:
    red, green, blue = np.average(np.array(colours, float), axis=0, weights=weights).round().astype(int).tolist()
    return red, green, blue


def _apart(one: RGB, other: RGB) -> int:
    return max(abs(a - b) for a, b in zip(one, other, strict=True))
