"""Letters whose strokes are too thin to sew well, with the height at which they would."""

from functools import partial

import numpy as np
from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects
from jontel.design.errors import CannotRead, CannotStitch
from jontel.design.kinds import traits_of
from jontel.design.kinds.values import value_of
from jontel.design.lettering import LEAST_STROKE, Lettering
from jontel.design.shapes import Area
from jontel.geometry.polyline import lengths
from jontel.lettering.setting import lettered
from jontel.sewing.plan import Piece
from jontel.sewing.proof.finding import Finding, Fix
from jontel.stitching.parts import parts_of

THIN, PART = 0.7, 0.25
"""Letters are too small where strokes thinner than the first, mm, are more than the second part of their length."""
THIN_THREAD = 5.0
"""Below this height, mm, a thinner thread helps as well."""


def rule(piece: Piece, item: StitchObject, _design: Design) -> Finding | None:
    """One finding a lettering."""
    words = item.lettering
    if words is None or traits_of(item.cover).rows != "edge to edge":
        return None
    width = _width(item)
    if width >= THIN:
        return None
    height = _up(words.height * THIN / max(width, 0.1), 0.5)
    heavier = round(words.weight + _up((THIN - width) / 2, 0.05), 2)
    thread = " A thinner thread and needle help, too." if words.height < THIN_THREAD else ""
    sentence = (
        f"“{item.name}” is {words.height:g} mm high, and strokes of it are {width:.1f} mm thin: "
        f"they sew well from {height:g} mm, or heavier by {heavier:g} mm.{thread}"
    )
    choices = [
        (f"Make it {heavier:g} mm heavier", "weight", heavier),
        (f"Make it {height:g} mm high", "height", height),
    ]
    if words.least_stroke < LEAST_STROKE and _width(_with(item, "least_stroke", LEAST_STROKE)) >= THIN:
        choices.insert(0, (f"Draw strokes at least {LEAST_STROKE:g} mm thick", "least_stroke", LEAST_STROKE))
    fits = [
        Fix(label, partial(_changed, item.id, field, value))
        for label, field, value in choices
        if value <= value_of(Lettering, field).high
    ]
    return Finding("small letters", "look", sentence, (item.id,), piece.segments.first, tuple(fits))


def _width(item: StitchObject) -> float:
    """The width that ``PART`` of the strokes of some letters, by length, are thinner than, mm; large for none."""
    if not isinstance(item.shape, Area):
        return THIN
    try:
        parts = parts_of(Area(item.shape.path, item.shape.rule, columns=item.shape.columns))
    except CannotStitch:
        return THIN
    rails = [stroke.rails for part in parts if part.strokes.fit for stroke in part.strokes.strokes]
    if not rails:
        return THIN
    widths = np.array([float(np.median(one.widths())) for one in rails])
    order = np.argsort(widths)
    long = np.cumsum(np.array([float(lengths(one.middle)[-1]) for one in rails])[order])
    return float(widths[order][int(np.searchsorted(long, PART * long[-1]))])


def _up(value: float, step: float) -> float:
    """A value up to the next step, or the one after where it is all but there."""
    return float(np.ceil(value / step + 0.1)) * step


def _changed(identity: int, field: str, value: float, design: Design) -> Design:
    return change_objects(design, {identity}, lambda item: _with(item, field, value))


def _with(item: StitchObject, field: str, value: float) -> StitchObject:
    if item.lettering is None:
        return item
    try:
        return lettered(item, replace(item.lettering, **{field: value}))
    except CannotRead:  # without its font it stays as it is
        return item
