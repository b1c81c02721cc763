"""Charts of a sew-out: where its time goes, how long its stitches are, which way they lie, how deep thread lies."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QHideEvent, QPainter, QPaintEvent, QPolygonF, QShowEvent
from PyQt6.QtWidgets import QCheckBox, QLabel, QVBoxLayout, QWidget

from jontel.app.drawing import paint_well, pen
from jontel.app.faults import painting
from jontel.app.panels.parts import button, label
from jontel.app.session import Document
from jontel.app.theme import Theme
from jontel.design.words import grouped, minutes
from jontel.sewing.charts import BIN, SECTORS, Charts, charts_of
from jontel.sewing.proof.lengths import SNAGS
from jontel.stitching.stitches import SHORTEST

HIGH, SIDE = 118, 10
MOST_NAMED = 3
"""So many of the objects that take longest are named."""
SHARES = ("accent", "muted", "amber", "madder", "faint")


class _Chart(QWidget):
    """One drawn chart."""

    def __init__(self, name: str, high: int, theme: Theme) -> None:
        super().__init__()
        self.setObjectName(name)
        self.setFixedHeight(high)
        self.theme = theme
        self.charts: Charts | None = None

    def show_charts(self, charts: Charts | None) -> None:
        """Draw others."""
        self.charts = charts
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Draw it."""
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            paint_well(painter, self.rect(), self.theme)
            if self.charts is not None:
                self.draw(painter, self.charts, QRectF(self.rect()).adjusted(SIDE, SIDE, -SIDE, -SIDE))

    def draw(self, painter: QPainter, charts: Charts, box: QRectF) -> None:
        """Draw the chart into a box."""
        raise NotImplementedError


class LengthsChart(_Chart):
    """How many stitches are how long; those that break or snag in madder."""

    def draw(self, painter: QPainter, charts: Charts, box: QRectF) -> None:
        """A bar for each half millimetre."""
        most = max(int(charts.lengths.max()), 1)
        last = max(int(np.flatnonzero(charts.lengths).max(initial=0)) + 1, 8)
        wide, foot = box.width() / last, box.bottom() - 14
        for k, count in enumerate(charts.lengths[:last].tolist()):
            bad = (k + 1) * BIN <= SHORTEST or k * BIN >= SNAGS
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(self.theme.colour("madder" if bad else "accent"))
            tall = (foot - box.top()) * math.sqrt(count / most)
            painter.drawRect(QRectF(box.left() + k * wide, foot - tall, max(wide - 1, 1), tall))
        painter.setPen(self.theme.colour("muted"))
        for mm in range(0, int(last * BIN) + 1, 2 if last * BIN > 6 else 1):
            spot = QRectF(box.left() + mm / BIN * wide - 20, foot + 1, 40, 14)
            painter.drawText(spot, Qt.AlignmentFlag.AlignHCenter, f"{mm}")


class DirectionsChart(_Chart):
    """A rose: how much thread lies which way."""

    def draw(self, painter: QPainter, charts: Charts, box: QRectF) -> None:
        """A petal each way, as long as the root of its thread, so that its area is in proportion."""
        most = max(float(charts.directions.max()), 1e-9)
        radius, middle = min(box.width(), box.height()) / 2, box.center()
        painter.setPen(pen(self.theme.colour("line"), 1.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for part in (0.5, 1.0):
            painter.drawEllipse(middle, radius * part, radius * part)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.theme.colour("accent"))
        half = math.pi / SECTORS / 2
        for k in range(2 * SECTORS):
            far = radius * math.sqrt(float(charts.directions[k % SECTORS]) / most)
            turn = math.pi * k / SECTORS
            rim = [
                middle + QPointF(far * math.cos(turn + off), -far * math.sin(turn + off))
                for off in np.linspace(-0.9 * half, 0.9 * half, 5)
            ]
            painter.drawPolygon(QPolygonF([middle, *rim]))


class TimeChart(_Chart):
    """Where the time goes: a bar of what the machine does, and one of the threads."""

    def __init__(self, name: str, high: int, theme: Theme) -> None:
        super().__init__(name, high, theme)
        self.colours: list[str] = []

    def draw(self, painter: QPainter, charts: Charts, box: QRectF) -> None:
        """Two bars, each as long as all of the time."""
        kinds = [(self.theme.colour(name), seconds) for name, (_, seconds) in zip(SHARES, charts.spent, strict=False)]
        threads = [(QColor(colour), s) for colour, s in zip(self.colours, charts.by_thread, strict=False)]
        for k, parts in enumerate((kinds, threads)):
            whole = max(sum(seconds for _, seconds in parts), 1e-9)
            x = box.left()
            for colour, seconds in parts:
                wide = box.width() * seconds / whole
                painter.setPen(pen(self.theme.colour("line"), 0.6))
                painter.setBrush(colour)
                painter.drawRect(QRectF(x, box.top() + k * 22, wide, 16))
                x += wide


class ChartsBox(QWidget):
    """The charts, worked out aside while they are looked at; thread's depth is shown on the cloth."""

    depth_wanted = pyqtSignal(bool)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._document: Document | None = None
        self._asked: object = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.heading = button("Show the charts", "showCharts", self._fold, "link")
        column.addWidget(self.heading)
        self.body = QWidget()
        rows = QVBoxLayout(self.body)
        rows.setContentsMargins(0, 0, 0, 0)
        rows.setSpacing(4)
        self.time = TimeChart("timeChart", 58, theme)
        self.spent = self._words("spentWords")
        self.lengths = LengthsChart("lengthsChart", HIGH, theme)
        self.long = self._words("lengthWords")
        self.directions = DirectionsChart("directionsChart", HIGH + 20, theme)
        self.deep = QCheckBox("How deep thread lies, on the cloth")
        self.deep.setObjectName("showDepth")
        self.deep.setToolTip("From clear over amber to madder: a fill is one deep, a satin two; nine breaks needles")
        self.deep.toggled.connect(self.depth_wanted)
        for words, chart, said in (
            ("Time, and by thread", self.time, self.spent),
            ("Length of stitches, mm", self.lengths, self.long),
            ("Which way thread lies", self.directions, None),
        ):
            rows.addWidget(label(words, "muted"))
            rows.addWidget(chart)
            if said is not None:
                rows.addWidget(said)
        rows.addWidget(self.deep)
        self.body.hide()
        column.addWidget(self.body)

    @staticmethod
    def _words(name: str) -> QLabel:
        made = label("", "muted", wrap=True)
        made.setObjectName(name)
        return made

    def _fold(self) -> None:
        self.body.setVisible(not self.body.isVisible())
        self.heading.setText("Hide the charts" if self.body.isVisible() else "Show the charts")
        if not self.body.isVisible():
            self.deep.setChecked(False)
        self.refresh()

    def showEvent(self, event: QShowEvent | None) -> None:
        """Work them out while they are looked at."""
        super().showEvent(event)
        self.refresh()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Nothing lies over the cloth any more."""
        super().hideEvent(event)
        self.deep.setChecked(False)

    def show_document(self, document: Document | None) -> None:
        """Show those of another document."""
        self._document, self._asked = document, None
        self.refresh()

    def dress(self, theme: Theme) -> None:
        """Take a theme."""
        for chart in (self.time, self.lengths, self.directions):
            chart.theme = theme
            chart.update()

    def refresh(self) -> None:
        """Have the charts of the present sew-out worked out."""
        document = self._document
        sewn = document.sewn if document is not None else None
        if document is None or sewn is None or not self.body.isVisible() or self._asked is sewn.plan:
            return
        plan = self._asked = sewn.plan

        def done(charts: Charts) -> None:
            if self._asked is plan:
                self.time.colours = [thread.colour for thread in plan.threads]
                names = {item.id: item.name for item in plan.drawn.objects}
                self._show(charts, names)

        document.ask(lambda: charts_of(plan), done)

    def _show(self, charts: Charts, names: dict[int, str]) -> None:
        for chart in (self.time, self.lengths, self.directions):
            chart.show_charts(charts)
        spent = ", ".join(f"{name} {minutes(seconds)}" for name, seconds in charts.spent if seconds >= 0.5)
        longest = [f"“{names.get(one, '')}” {minutes(s)}" for one, s in charts.by_object[:MOST_NAMED]]
        lead = " Longest: " + ", ".join(longest) + "." if len(charts.by_object) > 1 else ""
        self.spent.setText(f"{spent[:1].upper()}{spent[1:]}.{lead}" if spent else "")
        count = int(charts.lengths.sum())
        middles = (np.arange(len(charts.lengths)) + 0.5) * BIN
        mean = float((charts.lengths * middles).sum() / max(count, 1))
        self.long.setText(f"{grouped(count)} stitches, {mean:.1f} mm on average; bars by the root of their number.")
