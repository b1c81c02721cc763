"""Playback: the needle moves in machine time, times a speed; steps by stitch, object and thread."""

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QElapsedTimer, Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QSlider, QToolButton, QVBoxLayout, QWidget

from jontel.app.icons import icon
from jontel.app.panels.parts import label, tool_button
from jontel.app.session import Document
from jontel.app.theme import LIGHT, Theme
from jontel.app.track import NeedleTrack
from jontel.design.words import grouped
from jontel.sewing.plan import SewPlan
from jontel.stitching.stitches import Kind

SPEEDS = (1, 5, 20, 60, 200)
STRIDES = ("stitch", "object", "thread")
FRAME_MS = 30


def clock_words(seconds: float) -> str:
    """Minutes and seconds."""
    return f"{int(seconds) // 60}:{int(seconds) % 60:02d}"


class Transport(QWidget):
    """The needle track under its controls."""

    needle_kept = pyqtSignal(bool)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("trackArea")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.document: Document | None = None
        self.theme: Theme = LIGHT
        self.track = NeedleTrack()
        self._timer = QTimer(self, interval=FRAME_MS)
        self._timer.timeout.connect(self._tick)
        self._since = QElapsedTimer()
        self._seconds = 0.0
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        column.setSpacing(2)
        row = QHBoxLayout()
        row.setContentsMargins(12, 0, 12, 0)
        row.setSpacing(4)
        self.buttons: dict[str, QToolButton] = {}
        for picture, title, does in (
            ("to start", "Back to the first stitch", lambda: self.go(0)),
            ("play", "Play the sew-out", self.toggle),
            ("to end", "On to the last stitch", lambda: self.go(None)),
        ):
            row.addWidget(self._button(picture, title, does))
        self.loop = self._button("loop", "Play what is selected, or all, again and again", self._say)
        self.loop.setCheckable(True)
        row.addWidget(self.loop)
        self.steady = self._button(
            "steady", "Keep the needle in the middle and move the hoop, as the machine does", self._keep
        )
        self.steady.setCheckable(True)
        row.addWidget(self.steady)
        self.moment = QLabel()
        self.moment.setObjectName("moment")
        row.addSpacing(6)
        row.addWidget(self.moment)
        row.addStretch(1)
        row.addWidget(label("step by", "muted"))
        self.stride = QComboBox()
        self.stride.setObjectName("stride")
        self.stride.setAccessibleName("What a step goes by")
        self.stride.addItems([words.capitalize() for words in STRIDES])
        row.addWidget(self.stride)
        for picture, title, by in (("back", "One step back", -1), ("on", "One step on", 1)):
            row.addWidget(self._button(picture, title, lambda by=by: self._stride(by)))
        row.addSpacing(8)
        row.addWidget(label("speed", "muted"))
        self.speed = QComboBox()
        self.speed.setObjectName("speed")
        self.speed.setAccessibleName("Playback speed")
        self.speed.addItems([f"× {k}" for k in SPEEDS])
        self.speed.setCurrentIndex(2)
        row.addWidget(self.speed)
        row.addSpacing(12)
        row.addWidget(label("whole design", "muted"))
        self.zoom = QSlider(Qt.Orientation.Horizontal)
        self.zoom.setObjectName("trackZoom")
        self.zoom.setAccessibleName("Zoom of the needle track")
        self.zoom.setRange(0, 1000)
        self.zoom.setFixedWidth(110)
        self.zoom.valueChanged.connect(lambda value: self.track.set_zoom(value / 1000))
        self.track.zoom_changed.connect(self._zoomed)
        row.addWidget(self.zoom)
        row.addWidget(label("one stitch", "muted"))
        column.addLayout(row)
        column.addWidget(self.track)

    def _button(self, picture: str, title: str, does: Callable[[], None]) -> QToolButton:
        self.buttons[picture] = tool_button(picture, title, f"transport-{picture}", does, self.theme)
        return self.buttons[picture]

    def _keep(self) -> None:
        self.needle_kept.emit(self.steady.isChecked())

    def dress(self, theme: Theme) -> None:
        """Take another theme."""
        self.theme = self.track.theme = theme
        for picture, made in self.buttons.items():
            made.setIcon(icon(picture, theme.ink))
        self.track.update()

    def show_document(self, document: Document | None) -> None:
        """Show another document."""
        self.pause()
        if self.document is not None:
            self.document.playhead_changed.disconnect(self._say)
            self.document.sewn_changed.disconnect(self._say)
        self.document = document
        self.track.show_document(document)
        if document is not None:
            document.playhead_changed.connect(self._say)
            document.sewn_changed.connect(self._say)
        self._say()

    @property
    def playing(self) -> bool:
        """Whether the needle moves by itself."""
        return self._timer.isActive()

    def toggle(self) -> None:
        """Play or pause; at the end, play from the start."""
        if self.playing:
            self.pause()
        elif self.document is not None and self.document.sewn is not None and len(self.document.sewn.plan):
            estimate = self.document.sewn.estimate
            if self.document.playhead is None:
                self.document.show_moment(0)
            self._seconds = estimate.at(self.document.playhead or 0)
            if self.loop.isChecked():
                begin, end = self._range()
                if not begin <= self._seconds < end:
                    self._seconds = begin
                    self.document.show_moment(estimate.row_at(begin))
            self._since.start()
            self._timer.start()
            self.buttons["play"].setIcon(icon("pause", self.theme.ink))

    def _range(self) -> tuple[float, float]:
        """The moments between which it is played again and again: of what is selected, or of all."""
        document = self.document
        sewn = document.sewn if document is not None else None
        if document is None or sewn is None:
            return 0.0, 0.0
        chosen = [share for share in sewn.shares if share.object in document.selection]
        if not chosen:
            return 0.0, sewn.totals.seconds
        return min(share.start for share in chosen), max(share.stop for share in chosen)

    def pause(self) -> None:
        """Stop the needle."""
        self._timer.stop()
        self.buttons["play"].setIcon(icon("play", self.theme.ink))

    def _tick(self) -> None:
        if self.document is None or self.document.sewn is None:
            self.pause()
            return
        sewn = self.document.sewn
        self._seconds += self._since.restart() / 1000 * SPEEDS[self.speed.currentIndex()]
        if self.loop.isChecked():
            begin, end = self._range()
            self._seconds = begin if self._seconds >= end else self._seconds
        row = sewn.estimate.row_at(self._seconds)
        if row >= len(sewn.plan) - 1 and not self.loop.isChecked():
            self.document.show_moment(None)
            self.pause()
        else:
            self.document.show_moment(row)
        self.track.follow()

    def go(self, row: int | None) -> None:
        """Show a row; ``None`` is the end."""
        self.pause()
        if self.document is not None:
            self.document.show_moment(row)
            self.track.follow()

    def _stride(self, by: int) -> None:
        self.step(STRIDES[self.stride.currentIndex()], by)

    def step(self, what: str, by: int) -> None:
        """One stitch, object or thread on (1) or back (-1)."""
        document = self.document
        if document is None or document.sewn is None or not len(document.sewn.plan):
            return
        plan = document.sewn.plan
        at = len(plan) - 1 if document.playhead is None else document.playhead
        match what:
            case "stitch":
                marks = stitch_rows_near(plan, at)
            case "object":
                marks = np.array([share.first for share in document.sewn.shares])
            case _:
                marks = np.array([s.first for s in document.sewn.shares if plan.pieces[s.number].around.changes])
        later = marks[marks > at] if by > 0 else marks[marks < at][::-1]
        self.go(int(later[0]) if len(later) else (None if by > 0 else 0))

    def _say(self) -> None:
        sewn = self.document.sewn if self.document else None
        if sewn is None or self.document is None or not len(sewn.plan):
            self.moment.setText("")
            return
        plan = sewn.plan
        row = len(plan) - 1 if self.document.playhead is None else min(self.document.playhead, len(plan) - 1)
        number, within = plan.where(row)
        piece = plan.pieces[number]
        thread = plan.threads[piece.thread]
        stitch = sum(share.stitches for share in sewn.shares[:number])
        stitch += int((piece.kind[: within + 1] == Kind.STITCH).sum())
        note = f"  ·  stop: {plan.stops[row] or 'wait'}" if row in plan.stops else ""
        self.moment.setText(
            f"<b>{clock_words(sewn.estimate.at(row))}</b> of {clock_words(sewn.totals.seconds)}  ·  needle "
            f"{piece.thread + 1}, {thread.name}  ·  stitch "
            f"{grouped(stitch)} of {grouped(sewn.totals.stitches)}{note}"
        )

    def _zoomed(self, zoom: float) -> None:
        self.zoom.blockSignals(True)
        self.zoom.setValue(round(zoom * 1000))
        self.zoom.blockSignals(False)


def stitch_rows_near(plan: SewPlan, row: int) -> "np.ndarray[tuple[int], np.dtype[np.int64]]":
    """The rows of needle points in the piece of ``row`` and its neighbours, (n,)."""
    number, _ = plan.where(row)
    near = range(max(0, number - 1), min(len(plan.pieces), number + 2))
    return np.concatenate([plan.starts[k] + np.flatnonzero(plan.pieces[k].kind == Kind.STITCH) for k in near])
