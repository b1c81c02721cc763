"""Parts of a satin that no strokes fit, and that are sewn as fills therefore."""

from functools import partial

from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects
from jontel.design.errors import CannotStitch
from jontel.design.kinds import traits_of
from jontel.design.kinds.fill import Fill
from jontel.design.shapes import Area
from jontel.sewing.plan import Piece
from jontel.sewing.proof.finding import Finding, Fix, at
from jontel.stitching.parts import parts_of


def rule(_piece: Piece, item: StitchObject, _design: Design) -> Finding | None:
    """One finding an object."""
    if traits_of(item.cover).rows != "edge to edge" or not isinstance(item.shape, Area):
        return None
    misfits = _misfits(item.shape)
    if misfits is None:
        return None
    count, whole, told, place = misfits
    what = "It" if whole else f"{count} part{'s' if count > 1 else ''} of it"
    sentence = f"“{item.name}” at {at(place)}: {told}. {what} sews as a fill."
    fixes = (Fix("Make it a fill", partial(_as_fill, item.id)),) if whole else ()
    return Finding("misfit", "look", sentence, (item.id,), place, fixes)


def _misfits(shape: Area) -> tuple[int, bool, str, tuple[float, float]] | None:
    """How many parts no strokes fit, whether those are all, why the first is one, and where."""
    try:
        parts = parts_of(Area(shape.path, shape.rule, columns=shape.columns))
    except CannotStitch:
        return None
    misfits = [part for part in parts if not part.strokes.fit]
    return (len(misfits), len(misfits) == len(parts), *misfits[0].misfit()) if misfits else None


def _as_fill(identity: int, design: Design) -> Design:
    return change_objects(design, {identity}, lambda item: replace(item, cover=Fill()))
