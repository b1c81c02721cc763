"""Satin rows too wide to hold on cloth, and columns too narrow to be rows at all."""

from functools import partial

import numpy as np
from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects
from jontel.design.errors import CannotStitch
from jontel.design.kinds.fill import Fill
from jontel.design.kinds.run import Run
from jontel.design.kinds.satin import Satin, SatinRecipe
from jontel.design.resolve import resolve
from jontel.sewing.plan import Piece
from jontel.sewing.proof.finding import Finding, Fix
from jontel.stitching.compensation import compensated_rails
from jontel.stitching.covers.satin import columns_of

WIDE = 12.0
"""Satins wider than this, mm, split or not, are loose: a fill holds."""
NARROW = 0.8
"""Rows narrower than this, mm, sink in and cut the cloth: a run shows more."""


def rule(piece: Piece, item: StitchObject, design: Design) -> Finding | None:
    """One finding an object."""
    if not isinstance(item.cover, Satin) or item.lettering is not None:
        return None
    width, place = _width(item, design), piece.segments.first
    if width > WIDE:
        sentence = f"“{item.name}” has satin rows {width:.0f} mm wide: they are loose and catch; a fill holds."
        fix = Fix("Make it a fill", partial(_sewn_as, item.id, True))
        return Finding("wide satin", "spoils", sentence, (item.id,), place, (fix,))
    if 0 < width < NARROW:
        sentence = f"“{item.name}” has satin rows {width:.1f} mm wide: they sink in; a run shows more."
        fix = Fix("Make it a run", partial(_sewn_as, item.id, False))
        return Finding("narrow satin", "look", sentence, (item.id,), place, (fix,))
    return None


def _width(item: StitchObject, design: Design) -> float:
    """How wide its rows mostly are as they are sewn, mm; 0 where it has none, or fills its wide parts."""
    whole = resolve(item, design.ground_for(item))
    assert isinstance(whole.cover, SatinRecipe)
    try:
        columns = [compensated_rails(one, whole.edges) for one in columns_of(item.shape)]
    except CannotStitch:
        return 0.0
    widths = np.concatenate([one.widths() for one in columns])
    wide = float(np.quantile(widths, 0.75))
    if wide > WIDE and whole.cover.wide == "filled":
        return 0.0
    return wide if wide > WIDE else float(np.median(widths))


def _sewn_as(identity: int, filled: bool, design: Design) -> Design:
    return change_objects(design, {identity}, lambda item: replace(item, cover=Fill() if filled else Run()))
