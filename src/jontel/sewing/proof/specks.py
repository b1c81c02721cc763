"""Specks that the rows of a fill cover badly, and a satin would not."""

from functools import partial

from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects
from jontel.design.errors import CannotStitch
from jontel.design.kinds import traits_of
from jontel.design.kinds.satin import Satin
from jontel.design.resolve import resolve
from jontel.design.shapes import Area
from jontel.sewing.plan import Piece
from jontel.sewing.proof.finding import Finding, Fix, at
from jontel.stitching.covers.satin import columns_of
from jontel.stitching.engine import sewn_edge
from jontel.stitching.measure import coverage, thread_lines
from jontel.stitching.stitches import Layer, Stitches

SPECK = 9.0
"""A shape of less than this, square mm, is a speck."""
COVERED = 0.97
"""Rows cover this part of a speck at least."""


def rule(piece: Piece, item: StitchObject, design: Design) -> Finding | None:
    """One finding an object."""
    if traits_of(item.cover).rows != "one way" or not isinstance(item.shape, Area):
        return None
    part = _covered(item, piece, design)
    if part >= COVERED:
        return None
    place = piece.segments.first
    sentence = (
        f"“{item.name}” at {at(place)} is so small that the rows of a fill cover {part:.0%} of it: a satin covers it."
    )
    fix = Fix("Make it a satin", partial(_as_satin, item.id))
    return Finding("speck", "look", sentence, (item.id,), place, (fix,))


def _covered(item: StitchObject, piece: Piece, design: Design) -> float:
    """The part of a speck that its rows cover; 1 for what is none, is open on purpose, or can be no satin."""
    box = piece.bounds
    if not isinstance(item.shape, Area) or box is None or (box[2] - box[0]) * (box[3] - box[1]) > 2 * SPECK:
        return 1.0
    whole = resolve(item, design.ground_for(item))
    try:
        sewn = sewn_edge(whole)
        columns_of(Area(item.shape.path, item.shape.rule))
    except CannotStitch:
        return 1.0
    if not 0.0 < sewn.area <= SPECK or traits_of(item.cover).shows_travel(item.cover):
        return 1.0
    rows = thread_lines(Stitches(piece.xy, piece.kind, piece.layer), {Layer.COVER})
    return coverage(rows, sewn)


def _as_satin(identity: int, design: Design) -> Design:
    return change_objects(design, {identity}, lambda item: replace(item, cover=Satin()))
