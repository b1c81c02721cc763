"""Connections over the stitches: what is jumped, what is sewn on the way, where thread is cut, and how long it is."""

from typing import NamedTuple

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter

from jontel.app.cloth.camera import Camera
from jontel.app.drawing import pen
from jontel.app.planner import Sewn
from jontel.app.theme import Theme, font
from jontel.geometry.polyline import Floats
from jontel.sewing.plan import Piece
from jontel.stitching.stitches import Kind, Layer

LABELLED = 56.0
"""Jumps shorter than this on the screen, px, have no length beside them."""
MOST_LABELS = 24


def paint_connections(painter: QPainter, sewn: Sewn, camera: Camera, theme: Theme, upto: int | None) -> None:
    """Jumps as dotted ink with their lengths, sewn travel as dashes, trims as a bar across."""
    plan = sewn.plan
    last, until = (len(plan.pieces), 0) if upto is None or not plan.pieces else plan.where(upto)
    jumps: list[QLineF] = []
    travel: list[QLineF] = []
    lengths: list[tuple[QLineF, float]] = []
    trims: list[QLineF] = []
    for number, piece in enumerate(plan.pieces[: last + 1]):
        own = connections_in(piece)
        shown = len(piece) if number < last else until + 1
        for hop in own.jumps:
            if hop.row < shown:
                line = QLineF(camera.to_screen(*hop.start), camera.to_screen(*hop.stop))
                jumps.append(line)
                lengths.append((line, hop.length))
        travel += [
            QLineF(camera.to_screen(*hop.start), camera.to_screen(*hop.stop)) for hop in own.travel if hop.row < shown
        ]
        for row, (x, y) in own.trims:
            following = plan.pieces[number + 1] if number + 1 < len(plan.pieces) else None
            ahead = _ahead(piece, row, following)
            here = camera.to_screen(x, y)
            if row < shown:
                trims.append(QLineF(here, here + QPointF(10, 0) if ahead is None else camera.to_screen(*ahead)))
    light, ink = theme.colour("surface", 150), theme.colour("ink")
    if theme.name == "dark":
        light, ink = ink, theme.colour("table")
        light.setAlpha(150)
    for lines, dashes, thin in ((travel, (5.0, 2.5), 1.0), (jumps, (1.2, 2.4), 1.3)):
        painter.setPen(pen(light, 2 * thin))
        painter.drawLines(lines)
        painter.setPen(pen(ink, thin, dashes))
        painter.drawLines(lines)
    bars: list[QLineF] = []
    for way in trims:
        if way.length() < 1e-6:
            continue
        middle = way.pointAt(min(0.5, 9 / way.length()))
        across = way.normalVector().unitVector()
        step = QPointF(across.dx(), across.dy()) * 5
        bars.append(QLineF(middle - step, middle + step))
    painter.setPen(pen(light, 4.2))
    painter.drawLines(bars)
    painter.setPen(pen(ink, 1.8))
    painter.drawLines(bars)
    _say_lengths(painter, lengths, light, ink)


def _say_lengths(painter: QPainter, lengths: list[tuple[QLineF, float]], light: QColor, ink: QColor) -> None:
    """The lengths of jumps, mm, beside the middle of those that have room for it, the longest first."""
    painter.setFont(font(7.2))
    taken: list[QRectF] = []
    ground = QColor(light)
    ground.setAlpha(215)
    for line, length in sorted(lengths, key=lambda one: -one[1]):
        if line.length() < LABELLED or len(taken) >= MOST_LABELS:
            break
        words = f"{length:.1f}"
        room = painter.fontMetrics().boundingRect(words).adjusted(-3, -1, 3, 1)
        box = QRectF(0, 0, room.width(), room.height())
        box.moveCenter(line.center())
        if any(box.intersects(other) for other in taken):
            continue
        taken.append(box)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(ground)
        painter.drawRoundedRect(box, 3, 3)
        painter.setPen(ink)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)


class Hop(NamedTuple):
    """A connection: the row that it ends at, from where to where, mm, and how long it is."""

    row: int
    start: tuple[float, float]
    stop: tuple[float, float]
    length: float


class Connections(NamedTuple):
    """The connections of a piece; a trim has its row and place."""

    jumps: list[Hop]
    travel: list[Hop]
    trims: list[tuple[int, tuple[float, float]]]


def connections_in(piece: Piece) -> Connections:
    """The jumps of a piece, each to where the needle is in the cloth again, what is sewn on the way to it, its trims.

    The needle's way to where a thread is started is no jump of that thread.
    """
    if "connections" not in piece.notes:
        before = np.vstack([piece.around.at, piece.xy[:-1]])
        first = int(np.flatnonzero(np.append(piece.kind == Kind.STITCH, True))[0])
        jumps = np.flatnonzero(piece.kind == Kind.JUMP)
        if piece.around.changes:
            jumps = jumps[jumps > first]
        starts = np.append(True, np.diff(jumps) > 1)[: len(jumps)]
        stops = np.append(np.diff(jumps) > 1, True)[: len(jumps)]
        begun = 0
        if piece.around.stitched and not piece.around.ways[0].cut:  # what is sewn on the way there
            inside = np.flatnonzero(piece.layer != Layer.TRAVEL)
            begun = int(inside[0]) + 1 if len(inside) else 0
        ways = np.arange(begun)[piece.kind[:begun] == Kind.STITCH]
        cut = np.flatnonzero(piece.kind == Kind.TRIM)
        piece.notes["connections"] = Connections(
            _hops(before[jumps[starts]], piece.xy[jumps[stops]], jumps[stops]),
            _hops(before[ways], piece.xy[ways], ways) if len(ways) > 1 else [],
            [(int(row), (p[0], p[1])) for row, p in zip(cut, piece.xy[cut].tolist(), strict=True)],
        )
    found: Connections = piece.notes["connections"]
    return found


def _hops(starts: Floats, stops: Floats, rows: "np.ndarray[tuple[int], np.dtype[np.int64]]") -> list[Hop]:
    sizes = np.hypot(*(stops - starts).T)
    return [
        Hop(row, (a[0], a[1]), (b[0], b[1]), size)
        for row, a, b, size in zip(rows.tolist(), starts.tolist(), stops.tolist(), sizes.tolist(), strict=True)
    ]


def _ahead(piece: Piece, row: int, following: Piece | None) -> tuple[float, float] | None:
    """Where the needle goes after a trim, if it goes anywhere soon."""
    for one, first in ((piece, row + 1), (following, 0)):
        if one is not None:
            jumps = np.flatnonzero(one.kind[first : first + 5] == Kind.JUMP)
            if len(jumps):
                x, y = one.xy[first + int(jumps[0])].tolist()
                return x, y
    return None
