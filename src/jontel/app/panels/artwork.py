"""Artwork: the picture under the stitches, its true size, and what was not understood in it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6.QtCore import QPoint, QPointF, Qt, pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QSlider, QVBoxLayout, QWidget

from jontel.app.cloth.finding import picture_under
from jontel.app.cloth.pictures import artwork_image
from jontel.app.icons import swatch
from jontel.app.panels.base import Panel
from jontel.app.panels.parts import FIELD_WIDTH, Fold, NumberField, PinnedRow, button, clear, label, rule
from jontel.app.panels.sorting import DigitizeEditor
from jontel.app.threads import threads
from jontel.app.tools.brush import BRUSH, NARROWEST, WIDEST
from jontel.artwork.pictures import fitted_picture, grown_picture
from jontel.design import Artwork, Design, JontelError
from jontel.design.design import AS_GIVEN, Look
from jontel.design.kinds.values import values_of
from jontel.design.paths import polyline_path
from jontel.design.units import Unit
from jontel.sewing.resize import scaled

if TYPE_CHECKING:
    from jontel.app.desk import Desk


class BrushRow(QWidget):
    """What pictures are painted over with: a colour, or that of what they lie on, and how wide."""

    changed = pyqtSignal(str, float)

    def __init__(self) -> None:
        super().__init__()
        self.colour, self.mm = "", BRUSH
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(label("PAINT OVER", "section"))
        self._width = NumberField("brushWidth", "Width of the brush", "length", NARROWEST, WIDEST, 0.5)
        self._width.entered.connect(lambda mm: self.changed.emit(self.colour, mm))
        line = QHBoxLayout()
        line.addWidget(QLabel("Brush"), 1)
        self._width.setFixedWidth(FIELD_WIDTH)
        line.addWidget(self._width)
        column.addLayout(line)
        self._chip, self._words = QLabel(), label("", wrap=True)
        self._words.setObjectName("brushColour")
        line = QHBoxLayout()
        line.addWidget(self._chip)
        line.addWidget(self._words, 1)
        self._plain = button("Paint out", "brushPlain", lambda: self.changed.emit("", self.mm), "small")
        line.addWidget(self._plain)
        column.addLayout(line)

    def show_brush(self, colour: str, width: float, unit: Unit) -> None:
        """Show the brush as it is."""
        self.colour, self.mm = colour, width
        self._width.show_value(width, False, unit)
        self._chip.setPixmap(swatch(colour or "#ffffff", 18).pixmap(18, 18))
        self._chip.setVisible(bool(colour))
        self._words.setText(f"Painted with {colour}" if colour else "Painted out. Alt and a click take up a colour.")
        self._plain.setVisible(bool(colour))


class ArtworkPanel(Panel):
    """The panel of the Artwork stage."""

    title = "Artwork"
    tool_wanted = pyqtSignal(str)
    paint_changed = pyqtSignal(str, float)

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._desk = desk
        self._drawn: tuple[float, tuple[float, float]] | None = None
        self.body.addWidget(label("Artwork", "title"))
        self._ways_in = [
            button("Bring in and digitize…", "bringIn", desk.bring_in_artwork, "main"),
            button("Place to draw over…", "placePicture", desk.place_picture),
        ]
        for one in self._ways_in:
            self.body.addWidget(one)
        self.length = NumberField("knownLength", "How long that is", "length", 0.1, 5000.0, 1.0)
        self.length.entered.connect(self._scale)
        self.ask = QWidget()
        row = QHBoxLayout(self.ask)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(QLabel("What you drew is really"), 1)
        self.length.setFixedWidth(FIELD_WIDTH)
        row.addWidget(self.length)
        self.ask.hide()
        self.body.addWidget(self.ask)
        self.brush = BrushRow()
        self.brush.changed.connect(self.set_brush)
        self.brush.hide()
        self.body.addWidget(self.brush)
        self.editor = DigitizeEditor()
        self.editor.begun.connect(lambda: self._busy(True))
        self.editor.ended.connect(lambda: self._busy(False))
        self.body.addWidget(self.editor)
        self.list = QVBoxLayout()
        self.list.setSpacing(8)
        self.body.addLayout(self.list)
        self.body.addStretch(1)
        self._shown: tuple[object, ...] | None = None

    def rebuild(self) -> None:
        """Make the list again."""
        self._shown = None

    def take_length(self, long: float, about: tuple[float, float]) -> None:
        """A length was drawn over a picture: ask what it is in truth."""
        self._drawn = (long, about)
        self.ask.show()
        self.length.show_value(long, False, self.unit)
        self.length.setFocus()
        self.length.selectAll()

    def _busy(self, digitizing: bool) -> None:
        """While a picture is digitized nothing else comes in, and the mouse chooses its regions."""
        for one in self._ways_in:
            one.setVisible(not digitizing)
        self.tool_wanted.emit("regions" if digitizing else "select")

    def choose_at(self, place: QPointF, reading: str, screen: QPoint) -> None:
        """Something of a picture that is being digitized was clicked."""
        if not self.editor.choose_at(place, reading, screen) and self.document is not None:
            self.document.told.emit("Digitize a picture first: then a click chooses what its regions become.")

    def paint_over(self, points: list[tuple[float, float]], loop: bool) -> None:
        """Something was painted on the cloth: it goes over the topmost picture that is there."""
        from jontel.artwork.adjusting import brushed, painted_over

        document = self.document
        number = self._picture_at(points)
        if document is None or number is None:
            return
        path = polyline_path(points, True) if loop else brushed(points, self.brush.mm)
        try:
            made = painted_over(document.history.design, number, path, True, self.brush.colour)
        except JontelError as refused:
            document.told.emit(str(refused))
            return
        self._edit_aside(number, "Paint over the picture", made)

    def _picture_at(self, points: Sequence[tuple[float, float]]) -> int | None:
        """The topmost picture that is seen at one of some places; said where there is none."""
        if self.document is None:
            return None
        design = self.document.history.design
        found = [number for spot in points if (number := picture_under(QPointF(*spot), design)) is not None]
        if not found:
            self.document.told.emit("There is no picture here; place one, and paint over what is not wanted in it.")
        return max(found, default=None)

    def take_colour(self, place: QPointF) -> None:
        """Paint with the colour that a picture has at a place, looked up aside."""
        from jontel.artwork.adjusting import colour_at

        document = self.document
        spot = (place.x(), place.y())
        number = self._picture_at([spot])
        if document is None or number is None:
            return
        one = document.history.design.artwork[number]

        def found(colour: str | None) -> None:
            self.set_brush(colour or "", self.brush.mm)

        document.ask(lambda: colour_at(one, *spot), found)

    def set_brush(self, colour: str, width: float) -> None:
        """Paint with a colour, or with that of what a picture lies on, so wide, mm."""
        self.brush.show_brush(colour, width, self.unit)
        self.paint_changed.emit(colour, width)

    def follow_tool(self, name: str) -> None:
        """Show the brush while it is used."""
        self.brush.setVisible(name in ("brush", "lasso"))
        self.set_brush(self.brush.colour, self.brush.mm)

    def _scale(self, mm: float) -> None:
        """Make the picture under what was drawn so large that it is so long; with the only one objects follow."""
        drawn, document = self._drawn, self.document
        self.ask.hide()
        self._drawn = None
        if drawn is None or document is None:
            return
        long, about = drawn
        design = document.history.design
        under = picture_under(QPointF(*about), design)
        if under is None:
            document.told.emit("There is no picture under what you drew; draw along something in one.")
            return
        factor = mm / long
        try:
            if len(design.artwork) == 1 and design.objects:
                document.edit("True size", scaled(design, factor))
            else:
                document.edit("True size", grown_picture(design, under, factor, about))
        except JontelError as refused:
            document.told.emit(str(refused))

    def refresh(self) -> None:
        """Show every picture."""
        assert self.document is not None
        self.editor.follow(self.document)
        artwork = self.document.design.artwork
        shape = tuple((one.name, one.width, one.visible, one.notes, one.look) for one in artwork)
        if shape == self._shown:
            return
        self._shown = shape
        clear(self.list)
        if not artwork:
            self.list.addWidget(
                label(
                    "An SVG drawing or a picture becomes objects: filled shapes turn into fills or satins, "
                    "strokes into satins or runs. The picture stays under the stitches to check against.",
                    "muted",
                    wrap=True,
                )
            )
        for number, one in enumerate(artwork):
            self.list.addWidget(rule())
            self.list.addWidget(self._card(number, one))

    def _card(self, number: int, one: Artwork) -> QWidget:
        card = QWidget()
        column = QVBoxLayout(card)
        column.setContentsMargins(0, 0, 0, 0)
        name = label(one.name, "number", wrap=True)
        column.addWidget(name)
        row = QHBoxLayout()
        for axis, (words, mm) in enumerate((("wide", one.width), ("high", one.height))):
            field = NumberField(f"artwork{number}-{words}", f"{words} of {one.name}", "length", 1, 2000, 1)
            field.show_value(mm, False, self.unit)
            field.entered.connect(lambda value, axis=axis: self._resize(number, axis, value))
            row.addWidget(field, 1)
            row.addWidget(label(words, "muted"))
        column.addLayout(row)
        column.addWidget(label("The true size of the drawing; its objects are scaled along.", "muted", wrap=True))
        shown = QCheckBox("Show under the stitches")
        shown.setObjectName(f"artwork{number}-shown")
        shown.setChecked(one.visible)
        shown.toggled.connect(lambda on: self._change(number, "Show artwork", visible=on))
        column.addWidget(shown)
        dim = QSlider(Qt.Orientation.Horizontal)
        dim.setObjectName(f"artwork{number}-dim")
        dim.setAccessibleName(f"How far {one.name} is dimmed")
        dim.setRange(0, 95)
        dim.setValue(round(one.dim * 100))
        dim.valueChanged.connect(lambda value: self._dim(number, value / 100, final=not dim.isSliderDown()))
        dim.sliderReleased.connect(lambda: self._dim(number, dim.value() / 100, final=True))
        line = QHBoxLayout()
        line.addWidget(QLabel("Dimmed"))
        line.addWidget(dim, 1)
        column.addLayout(line)
        acts = QHBoxLayout()
        acts.addWidget(button("Fit to the hoop", f"artwork{number}-fit", lambda: self._fit(number)))
        acts.addWidget(button("Digitize it…", f"artwork{number}-digitize", lambda: self._digitize(number)))
        column.addLayout(acts)
        column.addWidget(
            button("Take this picture away", f"artwork{number}-drop", lambda: self._drop(number), "link")
        )
        if one.media != "svg":
            column.addWidget(self._look(number, one))
        if one.notes:
            column.addWidget(label("NOT DIGITIZED", "section"))
            for note in one.notes:
                column.addWidget(label(note, "attention", wrap=True))
        return card

    def _look(self, number: int, one: Artwork) -> QWidget:
        """How a picture is seen, folded away where nothing was changed."""
        fold = Fold("Look, crop and paint out", f"artwork{number}-look", self.theme, one.look != AS_GIVEN)
        rows = fold.body
        for value in values_of(Look):
            name = f"artwork{number}-{value.field}"
            field = NumberField(name, value.title, value.unit, value.low, value.high, value.step)
            field.show_value(getattr(one.look, value.field), False, self.unit)
            field.entered.connect(
                lambda given, field=value.field, title=value.title: self._seen_so(
                    number, title, lambda art: replace(art, look=replace(art.look, **{field: given}))
                )
            )
            rows.addWidget(PinnedRow(value.title, field, None, self.theme))
        left, top, right, low = one.look.crop
        for k, (side, part) in enumerate((("left", left), ("top", top), ("right", 1 - right), ("bottom", 1 - low))):
            field = NumberField(f"artwork{number}-crop-{side}", f"Cut off at the {side}", "percent", 0, 95, 1)
            field.show_value(100 * part, False, self.unit)
            field.entered.connect(lambda given, k=k: self._crop(number, k, given / 100))
            rows.addWidget(PinnedRow(f"Cut off at the {side}", field, None, self.theme))
        rows.addWidget(
            label(
                "Paint over it with the brush (V) or a loop (O). Or draw an area over it and select that: "
                "what it covers is taken out.",
                "muted",
                wrap=True,
            )
        )
        acts = QHBoxLayout()
        for words, name, inside in (("Paint it out", "out", True), ("Keep only it", "only", False)):
            acts.addWidget(button(words, f"artwork{number}-{name}", lambda inside=inside: self._mask(number, inside)))
        rows.addLayout(acts)
        if one.look != AS_GIVEN:
            rows.addWidget(
                button("As it was given", f"artwork{number}-given", lambda: self._as_given(number), "link")
            )
        return fold

    def _seen_so(self, number: int, title: str, change: Callable[[Artwork], Artwork]) -> None:
        """Change a picture."""
        if self.document is not None:
            design = self.document.history.design
            artwork = tuple(change(one) if k == number else one for k, one in enumerate(design.artwork))
            self._edit_aside(number, title, replace(design, artwork=artwork))

    def _edit_aside(self, number: int, title: str, made: Design) -> None:
        """Make an edit once it is known how a picture looks then, which is worked out aside."""
        document = self.document
        if document is None:
            return
        design = document.history.design

        def done(_seen: object) -> None:
            if document.history.design is design:
                document.edit(title, made)

        document.ask(lambda: artwork_image(made.artwork[number]), done)

    def _crop(self, number: int, side: int, part: float) -> None:
        from jontel.artwork.adjusting import LEAST_PART, cropped

        def change(one: Artwork) -> Artwork:
            sides = list(one.look.crop)
            sides[side] = part if side < 2 else 1 - part
            across = sides[side % 2 :: 2]
            if across[1] - across[0] < LEAST_PART:
                return one
            return cropped(one, *sides)

        self._seen_so(number, "Crop", change)

    def _mask(self, number: int, inside: bool) -> None:
        """Paint out what the selected areas cover, or all but that."""
        from jontel.artwork.adjusting import masked

        if self.document is not None:
            try:
                made = masked(self.document.history.design, number, self.document.selected(), inside)
            except JontelError as refused:
                self.document.told.emit(str(refused))
                return
            self._edit_aside(number, "Paint out" if inside else "Keep only that", made)

    def _as_given(self, number: int) -> None:
        from jontel.artwork.adjusting import cropped

        self._seen_so(number, "As it was given", lambda one: replace(cropped(one, 0, 0, 1, 1), look=AS_GIVEN))

    def _changed(self, number: int, **values: object) -> tuple[Artwork, ...]:
        assert self.document is not None
        artwork = self.document.history.design.artwork
        return tuple(replace(one, **values) if n == number else one for n, one in enumerate(artwork))

    def _change(self, number: int, words: str, **values: object) -> None:
        if self.document is not None:
            design = self.document.history.design
            self.document.edit(words, replace(design, artwork=self._changed(number, **values)))

    def _dim(self, number: int, part: float, final: bool) -> None:
        if self.document is None:
            return
        design = replace(self.document.history.design, artwork=self._changed(number, dim=part))
        if final:
            self.document.edit("Dim artwork", design)
        else:
            self.document.preview(design)

    def _resize(self, number: int, axis: int, mm: float) -> None:
        """Give one picture its true size; with the only picture, its objects follow."""
        if self.document is None:
            return
        design = self.document.history.design
        one = design.artwork[number]
        factor = mm / (one.width if axis == 0 else one.height)
        if len(design.artwork) == 1:
            self.document.edit("True size", scaled(design, factor))
        else:
            x, y = one.x + one.width / 2, one.y + one.height / 2
            wide, high = one.width * factor, one.height * factor
            self._change(number, "True size", x=x - wide / 2, y=y - high / 2, width=wide, height=high)

    def _fit(self, number: int) -> None:
        """Make a picture as large as the hoop holds."""
        if self.document is None:
            return
        try:
            self.document.edit("Fit to the hoop", fitted_picture(self.document.history.design, number))
        except JontelError as refused:
            self.document.told.emit(str(refused))

    def _digitize(self, number: int) -> None:
        """Show what the objects of a picture would be, and wait for yes."""
        from jontel.shaping.digitizing import digitizing  # the readers are slow to load

        if self.document is not None:
            self.editor.theme, self.editor.unit = self.theme, self.unit
            self.editor.begin_with(self.document, number, digitizing(number, threads().box.for_artwork()))

    def _drop(self, number: int) -> None:
        if self.document is not None:
            design = self.document.history.design
            rest = tuple(one for n, one in enumerate(design.artwork) if n != number)
            self.document.edit("Take artwork away", replace(design, artwork=rest))
