"""Artwork: the picture under the stitches, its true size, and what was not understood in it."""

from collections.abc import Callable

from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QSlider, QVBoxLayout, QWidget

from jontel.app.panels.base import Panel
from jontel.app.panels.parts import NumberField, button, clear, label, rule
from jontel.design import Artwork
from jontel.sewing.resize import scaled


class ArtworkPanel(Panel):
    """The panel of the Artwork stage."""

    title = "Artwork"

    def __init__(self, bring_in: Callable[[], None]) -> None:
        super().__init__()
        self.body.addWidget(label("Artwork", "title"))
        self.body.addWidget(button("Bring in artwork…", "bringIn", bring_in, "main"))
        self.list = QVBoxLayout()
        self.list.setSpacing(8)
        self.body.addLayout(self.list)
        self.body.addStretch(1)
        self._shown: tuple[object, ...] | None = None

    def rebuild(self) -> None:
        """Make the list again."""
        self._shown = None

    def refresh(self) -> None:
        """Show every picture."""
        assert self.document is not None
        artwork = self.document.design.artwork
        shape = tuple((one.name, one.width, one.visible, one.notes) for one in artwork)
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
        column.addWidget(
            button("Take this picture away", f"artwork{number}-drop", lambda: self._drop(number), "link")
        )
        if one.notes:
            column.addWidget(label("NOT DIGITIZED", "section"))
            for note in one.notes:
                column.addWidget(label(note, "attention", wrap=True))
        else:
            column.addWidget(label("Everything in it was understood.", "muted"))
        return card

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

    def _drop(self, number: int) -> None:
        if self.document is not None:
            design = self.document.history.design
            rest = tuple(one for n, one in enumerate(design.artwork) if n != number)
            self.document.edit("Take artwork away", replace(design, artwork=rest))
