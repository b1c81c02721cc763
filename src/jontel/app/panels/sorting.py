"""What becomes of a picture's colours and regions: a row for each colour, a menu for a place that was clicked."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct
from msgspec.structs import replace
from PyQt6.QtCore import QPoint, QPointF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPixmap
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QMenu, QVBoxLayout, QWidget

from jontel.app.drawing import pen
from jontel.app.panels.parts import button, clear, label
from jontel.app.panels.proposals import ProposalEditor
from jontel.app.session import Document
from jontel.artwork.choices import AS_READ, FADED, KINDS, NOTHING_CHOSEN
from jontel.design.words import grouped, many, minutes
from jontel.sewing.proposals import Proposal, Proposed
from jontel.shaping.wishes import Colour, Digitizing, Sorted

MOST_ROWS = 24
"""Of a drawing of more colours those of most stitches are listed."""
BOX = 112
"""How wide the choice of a row is, px."""


class ColourRow(QWidget):
    """A colour beside its thread, with what it comes to and what becomes of it."""

    chosen = pyqtSignal(str, str)

    def __init__(self, one: Colour) -> None:
        super().__init__()
        self.colour = one.colour
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(7)
        self._chips = QLabel()
        self._name = label("")
        self._name.setMinimumWidth(30)
        self.box = QComboBox()
        self.box.setObjectName(f"colour-{one.colour}")
        self.box.setAccessibleName(f"What becomes of {one.thread.name}")
        self.box.setFixedWidth(BOX)
        self.box.activated.connect(lambda at: self.chosen.emit(self.colour, str(self.box.itemData(at))))
        row.addWidget(self._chips)
        row.addWidget(self._name, 1)
        row.addWidget(self.box)

    def show_colour(self, one: Colour, others: Sequence[Colour]) -> None:
        """Show it as it is now; it may be made one with any of the others that is not one with another itself."""
        self._chips.setPixmap(chips_of(one))
        self._chips.setToolTip(f"{one.colour} in the picture, {one.thread.name} {one.thread.code} in thread")
        sewn = f"{grouped(one.stitches)} · {minutes(one.seconds)}" if one.objects else "not sewn"
        self._name.setText(f"{one.thread.name}\n{sewn}")
        self._name.setToolTip(f"{many(one.objects, 'object')} in {one.thread.name}")
        self._name.setEnabled(one.objects > 0)
        self.box.clear()
        self.box.addItem("Is cloth" if one.cloth else AS_READ.capitalize(), AS_READ)
        for kind in KINDS:
            self.box.addItem(kind.capitalize(), kind)
        if one.shaded:
            self.box.addItem("Fade", FADED)
        self.box.insertSeparator(self.box.count())
        for other in others:
            if other.colour != one.colour and not other.choice.startswith("#"):
                self.box.addItem(f"As {other.thread.name}", other.colour)
        self.box.setCurrentIndex(max(self.box.findData(one.choice), 0))


class ColourRows(QWidget):
    """A row for each colour of a picture."""

    chosen = pyqtSignal(str, str)

    def __init__(self) -> None:
        super().__init__()
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 2, 0, 2)
        self._column.setSpacing(3)
        self._rows: list[ColourRow] = []

    def show_colours(self, colours: Sequence[Colour]) -> None:
        """List them; rows of the same colours stay, with the keys where they are."""
        some = sorted(colours, key=lambda one: -one.stitches)[:MOST_ROWS]
        shown = [one for one in colours if one in some] if len(colours) > MOST_ROWS else list(colours)
        if [row.colour for row in self._rows] != [one.colour for one in shown]:
            clear(self._column)
            self._rows = [ColourRow(one) for one in shown]
            for row in self._rows:
                row.chosen.connect(self.chosen)
                self._column.addWidget(row)
            if len(shown) < len(colours):
                words = f"and {many(len(colours) - len(shown), 'more colour')}, as they read"
                self._column.addWidget(label(words, "muted"))
        for row, one in zip(self._rows, shown, strict=True):
            row.show_colour(one, shown)


def chips_of(one: Colour) -> QPixmap:
    """The colour in the picture, and the thread over its lower corner; crossed out where it is not sewn."""
    picture = QPixmap(QSize(56, 52))
    picture.setDevicePixelRatio(2.0)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(pen(QColor(0, 0, 0, 70)))
    painter.setBrush(QColor(one.colour))
    painter.drawRoundedRect(1, 2, 17, 17, 3, 3)
    if one.objects:
        painter.setBrush(QColor(one.thread.colour))
        painter.drawEllipse(12, 10, 14, 14)
    else:
        painter.setPen(pen(QColor("#b2302f"), 2.0))
        painter.drawLine(2, 18, 17, 3)
    painter.end()
    return picture


class DigitizeEditor(ProposalEditor):
    """A picture to be made into objects, with a choice for each of its colours and for any place in it."""

    begun = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.rows = ColourRows()
        self.rows.chosen.connect(self._choose_colour)
        self.again = button("All as it reads", "choicesReset", self._reset, "small")
        self.colours_title = label("COLOURS", "section")
        column = self.layout()
        assert column is not None
        for widget in (self.colours_title, self.rows, self.again):
            column.addWidget(widget)
        self._number_of_picture: int | None = None
        self._picture: object = None

    def begin_with(self, document: Document, number: int, proposal: Proposal) -> None:
        """Show what a picture would be made into; what was chosen for another picture is not for this one."""
        picture = (id(document), document.history.design.artwork[number].data)
        if picture != self._picture:
            values = self._values.get(proposal.name)
            if isinstance(values, Digitizing):
                self._values[proposal.name] = replace(values, choices=NOTHING_CHOSEN)
            self.rows.show_colours(())
        self._picture, self._number_of_picture = picture, number
        self.begin(document, proposal)
        self.begun.emit()

    def follow(self, document: Document) -> None:
        """The design has changed, or another is in front: work on with what it is now, or end without the picture."""
        if self._document is None or self.isHidden():
            return
        design = document.history.design
        picture = design.artwork[self._number_of_picture or 0 :][:1]
        if document is not self._document or not picture or (id(document), picture[0].data) != self._picture:
            self.give_up()
        elif design is not self._worked_on:
            self._drop()
            self._work()

    def choose_at(self, place: QPointF, reading: str, screen: QPoint) -> bool:
        """Ask what shall become of what lies at a place on the cloth, mm; false where nothing is being digitized."""
        document, number, values = self._document, self._number_of_picture, self._digitizing
        if document is None or number is None or values is None or not self.isVisible():
            return False
        picture = document.history.design.artwork[number]
        across = (place.x() - picture.x) / picture.width
        down = (place.y() - picture.y) / picture.height
        menu = QMenu(self)
        menu.setObjectName("regionMenu")
        title = menu.addAction(reading or "Nothing is sewn here")
        assert title is not None
        title.setEnabled(False)
        menu.addSeparator()
        for kind in KINDS if reading else ():
            action = menu.addAction(kind.capitalize())
            assert action is not None
            made = values.choices.with_place(across, down, kind)
            action.triggered.connect(lambda _on=False, made=made: self._tell(replace(values, choices=made)))
        menu.popup(screen)
        return True

    @property
    def _digitizing(self) -> Digitizing | None:
        values = self._values.get(self.proposal.name) if self.proposal is not None else None
        return values if isinstance(values, Digitizing) else None

    def _entered(self, values: Struct) -> None:
        """The form tells of other values; it knows nothing of what was chosen since it was made."""
        known = self._digitizing
        if known is not None and isinstance(values, Digitizing):
            values = replace(values, choices=known.choices)
        super()._entered(values)

    def _choose_colour(self, colour: str, what: str) -> None:
        values = self._digitizing
        if values is not None:
            self._tell(replace(values, choices=values.choices.with_colour(colour, what)))

    def _reset(self) -> None:
        values = self._digitizing
        if values is not None:
            self._tell(replace(values, choices=NOTHING_CHOSEN))

    def _show(self, made: Proposed) -> None:
        super()._show(made)
        if isinstance(made, Sorted):
            self.rows.show_colours(made.colours)
        values = self._digitizing
        self.again.setVisible(values is not None and values.choices != NOTHING_CHOSEN)
