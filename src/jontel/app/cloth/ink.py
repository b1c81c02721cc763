"""Stitches as the painter wants them: made once per object, kept while its stitches stay the same."""

from collections import OrderedDict
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from jontel.app.drawing import line_list
from jontel.design.thread import Thread
from jontel.files.picture import shade
from jontel.geometry.hatch import Ints
from jontel.geometry.polyline import Floats
from jontel.sewing.estimate import Share
from jontel.sewing.plan import SewPlan
from jontel.stitching.stitches import Kind, Layer

LEVELS = 14
DARKEST, LIGHTEST = 0.70, 1.14
KEPT = 2000
SHOW_POINTS_FROM = {"thread": 9.0, "cloth": 22.0}
"""Needle points show from this many pixels a mm."""


@dataclass(frozen=True, eq=False)
class ObjectInk:
    """One object's thread: pieces (n, 2, 2) in mm, how light each is, and whether it is cover.

    ``lines`` are all pieces for the painter; ``coats`` are what lies beneath and then the cover, each by
    light level.
    """

    pieces: Floats
    level: Ints
    cover: NDArray[np.bool_]
    lines: list[QLineF]
    coats: list[list[tuple[int, list[QLineF]]]]


class InkStore:
    """Makes and keeps the ink of objects."""

    def __init__(self) -> None:
        self._kept: OrderedDict[tuple[int, int, int], ObjectInk] = OrderedDict()

    def of(self, plan: SewPlan, first: int, last: int) -> ObjectInk:
        """The ink of rows ``first`` to ``last``."""
        start = max(0, first - 1)
        key = (
            hash(plan.xy[start : last + 1].tobytes()),
            hash(plan.kind[start : last + 1].tobytes()),
            last - first,
        )
        found = self._kept.get(key)
        if found is None:
            found = make_ink(plan, first, last)
            self._kept[key] = found
            if len(self._kept) > KEPT:
                self._kept.popitem(last=False)
        else:
            self._kept.move_to_end(key)
        return found


def make_ink(plan: SewPlan, first: int, last: int) -> ObjectInk:
    """The ink of rows ``first`` to ``last``, made afresh."""
    rows = np.arange(max(first, 1), last + 1)
    rows = rows[(plan.kind[rows] == Kind.STITCH) & (plan.kind[rows - 1] == Kind.STITCH)]
    pieces = np.stack([plan.xy[rows - 1], plan.xy[rows]], axis=1)
    return _ink(pieces, plan.layer[rows] == Layer.COVER)


def _ink(pieces: Floats, cover: NDArray[np.bool_]) -> ObjectInk:
    if not len(pieces):
        return ObjectInk(pieces, np.zeros(0, np.int64), cover, [], [])
    part = (shade(pieces) - DARKEST) / (LIGHTEST - DARKEST)
    level = np.clip((part * LEVELS).astype(np.int64), 0, LEVELS - 1)
    lines = line_list(pieces)
    coats = [
        [(int(k), [lines[i] for i in np.flatnonzero((level == k) & coat)]) for k in np.unique(level[coat])]
        for coat in (~cover, cover)
    ]
    return ObjectInk(pieces, level, cover, lines, coats)


def lit(colour: QColor, level: int) -> QColor:
    """A thread's colour at one of the light levels."""
    light = DARKEST + (LIGHTEST - DARKEST) * (level + 0.5) / LEVELS
    return QColor(*(min(255, round(v * light)) for v in (colour.red(), colour.green(), colour.blue())))


def _flat_pen(colour: QColor, width: float, cosmetic: bool = False) -> QPen:
    made = QPen(colour, width)
    made.setCapStyle(Qt.PenCapStyle.FlatCap)
    made.setCosmetic(cosmetic)
    return made


def _culled(ink: ObjectInk, visible: QRectF) -> ObjectInk:
    """Only what can be seen, when that is much less than all."""
    if len(ink.pieces) < 200:
        return ink
    low, high = ink.pieces.min(axis=1), ink.pieces.max(axis=1)
    seen = (
        (high[:, 0] >= visible.left())
        & (low[:, 0] <= visible.right())
        & (high[:, 1] >= visible.top())
        & (low[:, 1] <= visible.bottom())
    )
    return ink if seen.mean() > 0.5 else _ink(ink.pieces[seen], ink.cover[seen])


def paint_object(painter: QPainter, ink: ObjectInk, thread: Thread, view: str, visible: QRectF, scale: float) -> None:
    """Paint one object's thread, in mm; ``view`` is ``thread`` or ``cloth``."""
    ink = _culled(ink, visible)
    if not ink.lines:
        return
    colour = QColor(thread.colour)
    if view == "cloth":
        _paint_lit(painter, ink, colour, thread.width, scale)
    else:
        painter.setPen(_flat_pen(_readable(colour), 1.15, cosmetic=True))
        painter.drawLines(ink.lines)
    if scale >= SHOW_POINTS_FROM[view]:
        dots = _flat_pen(QColor(30, 34, 33, 190 if view == "thread" else 90), 3.2, cosmetic=True)
        dots.setCapStyle(Qt.PenCapStyle.RoundCap)
        painter.setPen(dots)
        painter.drawPoints([QPointF(x, y) for x, y in ink.pieces[:, 1].tolist()])


def _paint_lit(painter: QPainter, ink: ObjectInk, colour: QColor, width: float, scale: float) -> None:
    """Thread with light on it: a shaded body, and a core whose lightness tells its direction."""
    broad = max(width * 1.08, 1.0 / scale)
    for coat in ink.coats:
        painter.setPen(_flat_pen(lit(colour, 3).darker(118), broad))
        for _, lines in coat:
            painter.drawLines(lines)
        for level, lines in coat:
            painter.setPen(_flat_pen(lit(colour, level), broad * 0.72))
            painter.drawLines(lines)
        if scale >= 7.0:
            for level, lines in coat:
                painter.setPen(_flat_pen(lit(colour, min(LEVELS - 1, level + 3)).lighter(108), broad * 0.22))
                painter.drawLines(lines)


def _readable(colour: QColor) -> QColor:
    """A thread's colour, a little towards ink where it would vanish on light cloth."""
    return colour if colour.lightnessF() < 0.72 else colour.darker(135)


def sewn_until(shares: tuple[Share, ...], playhead: int | None) -> list[tuple[Share, int, bool]]:
    """The objects to paint at a moment: each with its last row to show, and whether it is whole."""
    found: list[tuple[Share, int, bool]] = []
    for share in shares:
        if playhead is None or share.last <= playhead:
            found.append((share, share.last, True))
        elif share.first <= playhead:
            found.append((share, playhead, False))
    return found
