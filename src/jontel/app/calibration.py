"""One's own cloth, measured: the swatch is opened and sewn, its lengths are typed or read from a picture, and the
ground that sews so is worked out and kept."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QPainter, QPaintEvent, QPolygonF
from PyQt6.QtWidgets import QDialog, QFileDialog, QHBoxLayout, QLineEdit, QScrollArea, QVBoxLayout, QWidget

from jontel.app.drawing import pen, shape_path
from jontel.app.faults import painting
from jontel.app.panels.parts import NumberField, PinnedRow, button, label
from jontel.app.theme import Theme
from jontel.design import Design, Ground, JontelError, StitchObject
from jontel.design.kinds import traits_of
from jontel.files.atomic import read_whole
from jontel.files.owngrounds import keep_ground

if TYPE_CHECKING:
    from jontel.forecast.calibrating import Fitted
    from jontel.forecast.swatch import Reading

DRAWN, FIELD, BEYOND = 380, 50.0, 2.0
"""The swatch is drawn so large, pixels; it reaches so far from its middle, mm; a reading is off by no more, mm."""
SHORT = ("upright 2", "upright 4", "upright 8", "level 2", "level 4", "level 8", "disc", "square")
"""The short form asks of these only; a picture is read whole."""
Aside = Callable[[str, Callable[[], Any]], Any]


class _Field(NumberField):
    """A reading; the swatch shows where it is measured while it has the keys."""

    looked_at = pyqtSignal()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """Show where."""
        super().focusInEvent(event)
        self.looked_at.emit()


class SwatchPicture(QWidget):
    """The swatch as it is drawn, and where one reading is measured."""

    def __init__(self, items: tuple[StitchObject, ...], theme: Theme) -> None:
        super().__init__()
        self.setFixedSize(DRAWN, DRAWN)
        self.setObjectName("swatchPicture")
        self.theme = theme
        self.reading: Reading | None = None
        self._items = items

    def show_reading(self, reading: Reading) -> None:
        """Show where a reading is measured."""
        self.reading = reading
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint it."""
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.fillRect(self.rect(), self.theme.colour("well"))
            painter.translate(DRAWN / 2, DRAWN / 2)
            painter.scale(DRAWN / (2 * FIELD), DRAWN / (2 * FIELD))
            chosen = self.reading.object if self.reading is not None else ""
            for item in self._items:
                colour = self.theme.colour("accent") if item.name == chosen else self.theme.colour("muted", 120)
                run = not traits_of(item.cover).widens
                wide = 0.6 if run else float(getattr(item.shape, "width", 0.0))
                made = pen(colour, max(wide, 0.4))
                made.setCosmetic(False)  # as wide on the cloth, not on the screen
                made.setCapStyle(Qt.PenCapStyle.FlatCap)
                painter.setPen(made if wide else Qt.PenStyle.NoPen)
                painter.setBrush(Qt.BrushStyle.NoBrush if wide else colour)
                painter.drawPath(shape_path(item.shape))
            if self.reading is not None:
                self._paint_measure(painter, self.reading)

    def _paint_measure(self, painter: QPainter, reading: Reading) -> None:
        """An arrow from side to side."""
        one, other = (QPointF(*side.mean(axis=0).tolist()) for side in reading.ends)
        painter.setPen(pen(self.theme.colour("madder"), 1.6))
        painter.setBrush(self.theme.colour("madder"))
        painter.drawLine(QLineF(one, other))
        way = np.asarray(reading.way, dtype=float)
        side = QPointF(*(0.7 * way[::-1]).tolist())
        for tip, sign in ((one, 1.5), (other, -1.5)):
            back = QPointF(*(sign * way).tolist())
            painter.drawPolygon(QPolygonF([tip, tip + back + side, tip + back - side]))


class CalibrationDialog(QDialog):
    """From a sewn swatch to a ground of one's own."""

    swatch_wanted = pyqtSignal(object)
    ground_kept = pyqtSignal(object)

    def __init__(self, parent: QWidget, ground: Ground, folder: Path, aside: Aside, theme: Theme) -> None:
        super().__init__(parent)
        from jontel.forecast.scanning import unmoved  # the forecast is slow to load
        from jontel.forecast.swatch import readings, swatch

        self.setWindowTitle("Measure your own cloth")
        self.ground, self._folder, self._aside = ground, folder, aside
        self._made: Design = swatch(ground)
        self._found: Fitted | None = None
        self._on_picture = False
        self.values: dict[str, float] = {}
        self.fields: dict[str, _Field] = {}
        whole = QHBoxLayout(self)
        whole.setSpacing(16)
        left = QVBoxLayout()
        self.picture = SwatchPicture(self._made.objects, theme)
        left.addWidget(self.picture)
        words = (
            f"1. Sew the swatch on your cloth, hooped and backed as {ground.name} is. 2. Measure from edge to edge "
            "of the thread, or read a scan or photo that shows all four crosses. 3. Let the ground be worked out."
        )
        left.addWidget(label(words, "muted", wrap=True))
        row = QHBoxLayout()
        row.addWidget(button("Open the swatch", "openSwatch", lambda: self.swatch_wanted.emit(self._made)))
        row.addWidget(button("Read a picture or list…", "readSwatch", self._read))
        left.addLayout(row)
        left.addStretch(1)
        whole.addLayout(left)
        right = QVBoxLayout()
        still = unmoved(ground)
        form = QWidget()
        rows = QVBoxLayout(form)
        rows.setContentsMargins(0, 0, 8, 0)
        rows.setSpacing(4)
        for one in readings():
            if one.object not in SHORT or one.name not in still:
                continue
            drawn = still[one.name]
            field = _Field(f"reading-{one.name}", one.name, "length", one.drawn - BEYOND, one.drawn + BEYOND, 0.05)
            field.setPlaceholderText(f"{drawn:.2f}")
            field.entered.connect(lambda mm, name=one.name: self._typed(name, mm))
            field.released.connect(lambda name=one.name: self._typed(name, None))
            field.looked_at.connect(lambda one=one: self.picture.show_reading(one))
            rows.addWidget(PinnedRow(one.name.capitalize(), field, None, theme))
            self.fields[one.name] = field
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setWidget(form)
        area.setMinimumWidth(300)
        right.addWidget(label("MEASURED, MM (GREY: IF NOTHING MOVED)", "section"))
        right.addWidget(area, 1)
        self.said = label("", "muted", wrap=True)
        self.said.setObjectName("calibrationSaid")
        right.addWidget(self.said)
        self.work = button("Work it out", "workOutGround", self._work, "main")
        right.addWidget(self.work)
        foot = QHBoxLayout()
        self.name = QLineEdit(f"My {ground.name.lower()}")
        self.name.setObjectName("ownGroundName")
        self.name.setAccessibleName("Name of the ground")
        self.keep = button("Keep it as a ground", "keepOwnGround", self._keep)
        self.keep.setEnabled(False)
        foot.addWidget(self.name, 1)
        foot.addWidget(self.keep)
        right.addLayout(foot)
        whole.addLayout(right, 1)
        self.resize(820, 620)
        self._count()

    def _typed(self, name: str, mm: float | None) -> None:
        """A reading typed, or taken back."""
        if mm is None:
            self.values.pop(name, None)
        else:
            self.values[name] = mm
        self._on_picture = False
        self.fields[name].show_value(mm, False, "mm")
        self._count()

    def _count(self) -> None:
        from jontel.forecast.calibrating import LEAST

        count = len(self.values)
        self._found = None
        self.keep.setEnabled(False)
        self.work.setEnabled(count >= LEAST)
        if count < LEAST:
            self._say(f"{count} of at least {LEAST} readings.")
        else:
            self._say(f"{count} readings.")

    def _say(self, words: str, severity: str = "") -> None:
        self.said.setText(words)
        self.said.setProperty("severity", severity)

    def _read(self) -> None:
        """Take the readings of a scan, a photo or a filled list."""
        kinds = "Pictures and lists (*.png *.jpg *.jpeg *.webp *.tif *.tiff *.csv)"
        name, _ = QFileDialog.getOpenFileName(self, "The sewn swatch", "", kinds)
        if name:
            self.read_file(Path(name))

    def read_file(self, path: Path) -> None:
        """Take the readings of a file."""

        def read() -> dict[str, float]:
            from jontel.forecast.calibrating import read_readings
            from jontel.forecast.scanning import measured_on

            data = read_whole(path)
            is_list = path.suffix.lower() == ".csv"
            return read_readings(data, path.name) if is_list else measured_on(data, path.name)

        try:
            found = self._aside(f"Measuring {path.name}", read)
        except JontelError as refused:
            self._say(str(refused), "spoils")
            return
        if found is None:
            return
        self.values = dict(found)
        self._on_picture = path.suffix.lower() != ".csv"
        for one, field in self.fields.items():
            field.show_value(found.get(one), False, "mm")
        self._count()

    def _work(self) -> None:
        """Work the ground out."""
        values, pictured, ground = dict(self.values), self._on_picture, self.ground

        def work() -> Fitted:
            from jontel.forecast.calibrating import fitted

            return fitted(ground, values, on_picture=pictured)

        self.work.setEnabled(False)
        self._say("Sewing the swatch on many cloths, until one moves as yours does…")
        try:
            found = self._aside("Working out the cloth", work)
        except JontelError as refused:
            self._say(str(refused), "spoils")
            found = None
        self.work.setEnabled(True)
        if found is None:
            return
        self._found = found
        firm = found.cloth.across / found.cloth.along
        cloth = found.cloth
        self._say(
            f"From {found.used} readings, {found.off:.2f} mm off on average: stitches draw in by {cloth.pull:.3f} ± "
            f"{found.pull:.3f}, rows widen by {cloth.push:.3f} ± {found.push:.3f}; the cloth is {firm:.2f} ± "
            f"{found.ratio:.2f} times as firm across its grain as along it."
        )
        self.keep.setEnabled(True)

    def _keep(self) -> None:
        """Keep what was worked out as a ground of one's own."""
        if self._found is None:
            return
        from jontel.forecast.calibrating import own_ground

        made = own_ground(self.ground, self.name.text().strip()[:200] or f"My {self.ground.name}", self._found)
        try:
            keep_ground(made, self._folder)
        except JontelError as refused:
            self._say(str(refused), "spoils")
            return
        self.ground_kept.emit(made)
        self._say(
            f"“{made.name}” is among the grounds now: pull {made.edges.pull:.2f}, push {made.edges.push:.2f} mm."
        )
