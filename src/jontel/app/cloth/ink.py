"""Stitches as the painter wants them: arrays straight to Qt, made once a piece of the plan and kept with it."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from PyQt6 import sip
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from jontel.design.thread import Thread
from jontel.geometry.arrays import Ints
from jontel.geometry.polyline import Floats
from jontel.sewing.light import DARKEST, LIGHTEST, shade
from jontel.sewing.plan import Piece
from jontel.stitching.stitches import Layer

LEVELS = 14
SHOW_POINTS_FROM = {"thread": 9.0, "cloth": 22.0}
"""Needle points show from this many pixels a mm."""
CORE = 0.72
"""How broad the lit core of a thread is, as a part of its body."""
ONE_FROM, TWO_FROM, CLOSED = 1.25, 1.8, 0.6
"""Up to the first breadth in pixels a thread is painted in one, from the second on as body and core; in one it is
broader by the third, so that rows beside each other leave no seam."""
AT_ONCE = 2000
"""So many lines are handed to Qt in one call, about 4 ms: the interface gets its turn between."""
FEW = 200


@dataclass(frozen=True, eq=False)
class Ink:
    """Thread on the cloth: stitches (n, 2, 2) in mm, how light each is (n,), and whether it is cover (n,)."""

    stitches: Floats
    level: Ints
    cover: NDArray[np.bool_]

    def some(self, which: NDArray[np.bool_]) -> "Ink":
        """Some of the stitches."""
        return Ink(self.stitches[which], self.level[which], self.cover[which])


def ink_of(piece: Piece) -> Ink:
    """The ink of a piece, kept with it."""
    if "ink" not in piece.notes:
        rows = np.flatnonzero(piece.sewn)
        before = np.vstack([piece.around.at, piece.xy[:-1]])
        stitches = np.stack([before[rows], piece.xy[rows]], axis=1)
        part = (shade(stitches) - DARKEST) / (LIGHTEST - DARKEST) if len(rows) else np.zeros(0)
        level = np.clip((part * LEVELS).astype(np.int64), 0, LEVELS - 1)
        piece.notes["ink"] = Ink(stitches, level, piece.layer[rows] == Layer.COVER)
        piece.notes["ink rows"] = rows
    ink: Ink = piece.notes["ink"]
    return ink


def ink_until(piece: Piece, row: int) -> Ink:
    """The ink of a piece up to its row ``row``."""
    whole = ink_of(piece)
    return whole.some(np.asarray(piece.notes["ink rows"] <= row))


def line_array(stitches: Floats) -> "sip.array[QLineF | None]":
    """Straight pieces (n, 2, 2) as lines for the painter, without an object for each."""
    lines: sip.array[QLineF | None] = sip.array(QLineF, len(stitches))
    if len(stitches):
        room = np.frombuffer(sip.voidptr(lines, len(stitches) * 32), dtype=np.float64)
        room[:] = np.ascontiguousarray(stitches, dtype=np.float64).ravel()
    return lines


def paint_lines(painter: QPainter, stitches: Floats) -> None:
    """Draw straight pieces (n, 2, 2) with the painter's pen."""
    for first in range(0, len(stitches), AT_ONCE):
        painter.drawLines(line_array(stitches[first : first + AT_ONCE]))


@lru_cache(maxsize=1024)
def lit(colour: str, level: int) -> QColor:
    """A thread's colour at one of the light levels."""
    plain = QColor(colour)
    light = DARKEST + (LIGHTEST - DARKEST) * (level + 0.5) / LEVELS
    return QColor(*(min(255, round(v * light)) for v in (plain.red(), plain.green(), plain.blue())))


def _flat_pen(colour: QColor, width: float, cosmetic: bool = False) -> QPen:
    made = QPen(colour, width)
    made.setCapStyle(Qt.PenCapStyle.FlatCap)
    made.setCosmetic(cosmetic)
    return made


def seen(ink: Ink, visible: QRectF) -> Ink:
    """Only what can be seen, when that is much less than all."""
    if len(ink.stitches) < FEW:
        return ink
    low, high = ink.stitches.min(axis=1), ink.stitches.max(axis=1)
    shows = (
        (high[:, 0] >= visible.left())
        & (low[:, 0] <= visible.right())
        & (high[:, 1] >= visible.top())
        & (low[:, 1] <= visible.bottom())
    )
    return ink if shows.mean() > 0.5 else ink.some(shows)


def paint_ink(painter: QPainter, ink: Ink, thread: Thread, view: str, visible: QRectF, scale: float) -> None:
    """Paint one object's thread, in mm; ``view`` is ``thread`` or ``cloth``."""
    ink = seen(ink, visible)
    if not len(ink.stitches):
        return
    if view == "cloth":
        _paint_lit(painter, ink, thread, scale)
    else:
        painter.setPen(_flat_pen(_readable(QColor(thread.colour)), 1.15, cosmetic=True))
        paint_lines(painter, ink.stitches)
    if scale >= SHOW_POINTS_FROM[view]:
        dots = _flat_pen(QColor(30, 34, 33, 190 if view == "thread" else 90), 3.2, cosmetic=True)
        dots.setCapStyle(Qt.PenCapStyle.RoundCap)
        painter.setPen(dots)
        painter.drawPoints([QPointF(x, y) for x, y in ink.stitches[:, 1].tolist()])


def _paint_lit(painter: QPainter, ink: Ink, thread: Thread, scale: float) -> None:
    """Thread with light on it: a shaded body, and a core whose lightness tells its direction.

    What lies beneath first, then the cover; within each by light level. Where a thread is hardly broader than a
    pixel, body and core are one, a little broader: else pixels and rows would beat against each other, and show
    bands that no one has sewn.
    """
    broad = max(thread.width * 1.08, 1.0 / scale)
    apart = float(np.clip((broad * scale - ONE_FROM) / (TWO_FROM - ONE_FROM), 0.0, 1.0))
    body = lit(thread.colour, 3).darker(118)
    cores = [_mixed(body, lit(thread.colour, k), CORE + (1 - CORE) * apart) for k in range(LEVELS)]
    closed = broad + (1 - apart) * CLOSED / scale
    for part in (ink.some(~ink.cover), ink.some(ink.cover)):
        levels = [(int(k), part.stitches[part.level == k]) for k in np.unique(part.level)]
        if apart > 0 and levels:
            painter.setPen(_flat_pen(_mixed(cores[levels[-1][0]], body, apart), closed))
            paint_lines(painter, part.stitches)
        for level, stitches in levels:
            painter.setPen(_flat_pen(cores[level], closed + (broad * CORE - closed) * apart))
            paint_lines(painter, stitches)
        if scale >= 7.0:
            for level, stitches in levels:
                painter.setPen(_flat_pen(lit(thread.colour, min(LEVELS - 1, level + 3)).lighter(108), broad * 0.22))
                paint_lines(painter, stitches)


def _mixed(one: QColor, other: QColor, part: float) -> QColor:
    """A colour between two, by which ``part`` of the other."""
    pairs = zip(one.getRgb()[:3], other.getRgb()[:3], strict=True)
    return QColor(*(round(a + (b - a) * part) for a, b in pairs if a is not None and b is not None))


def _readable(colour: QColor) -> QColor:
    """A thread's colour, a little towards ink where it would vanish on light cloth."""
    return colour if colour.lightnessF() < 0.72 else colour.darker(135)
