"""The status line: what the sew-out takes, what to do next, where the cursor is."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QSizePolicy, QWidget

from jontel.app.panels.parts import button, label
from jontel.app.planner import Sewn
from jontel.design.units import Unit, format_length
from jontel.design.words import grouped, minutes, noun


class Elided(QLabel):
    """A line that never widens the window: what has no room is told by its tip."""

    def __init__(self) -> None:
        super().__init__()
        self.setProperty("role", "muted")
        self.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self._whole = ""

    def text(self) -> str:
        """All of it, whether there is room or not."""
        return self._whole

    def setText(self, words: str | None) -> None:
        """Show as much as there is room for."""
        self._whole = words or ""
        self._fit()

    def _fit(self) -> None:
        shown = self.fontMetrics().elidedText(self._whole, Qt.TextElideMode.ElideRight, max(self.width() - 4, 0))
        super().setText(shown)
        self.setToolTip(self._whole if shown != self._whole else "")

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Fit again."""
        super().resizeEvent(event)
        self._fit()


class StatusLine(QWidget):
    """One line at the foot of the window."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("status")
        self.setFixedHeight(28)
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 0, 12, 0)
        row.setSpacing(14)
        self.facts = QLabel()
        self.facts.setObjectName("facts")
        self.hint = Elided()
        self.hint.setObjectName("hint")
        self.stop: QPushButton = button("Stop", "stopStitching", lambda: None, "link")
        self.stop.hide()
        self.cursor_place = label("", "muted")
        self.cursor_place.setMinimumWidth(130)
        row.addWidget(self.facts)
        row.addWidget(self.hint, 1)
        row.addWidget(self.stop)
        row.addWidget(self.cursor_place)

    def show_sewn(self, sewn: Sewn | None, unit: Unit) -> None:
        """The totals."""
        if sewn is None:
            self.facts.setText("")
            return
        sums = sewn.totals
        size = " × ".join(format_length(v, unit, 1).split()[0] for v in (sums.width, sums.height))
        facts = (
            (grouped(sums.stitches), noun(sums.stitches, "stitch", "stitches")),
            (size, unit),
            (str(len(sewn.plan.threads)), noun(len(sewn.plan.threads), "thread")),
            (str(sums.trims), noun(sums.trims, "trim")),
            (minutes(sums.seconds), ""),
            (f"{sum(sums.metres):.0f} m", "thread"),
        )
        self.facts.setText("&nbsp;&nbsp;&nbsp; ".join(f"<b>{number}</b> {words}" for number, words in facts))

    def say(self, words: str, can_stop: bool = False) -> None:
        """What to do next, or what is going on."""
        self.hint.setText(words)
        self.stop.setVisible(can_stop)

    def show_cursor(self, place: tuple[float, float] | None, unit: Unit) -> None:
        """Where the cursor is on the cloth."""
        if place is None:
            self.cursor_place.setText("")
            return
        x, y = (format_length(v, unit, 1).split()[0] for v in place)
        self.cursor_place.setText(f"x {x}   y {y} {unit}")
