"""Words of lettering and their font, which is chosen by how it sews."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import platformdirs
from msgspec.structs import replace
from PyQt6 import sip
from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QFocusEvent, QIcon, QKeyEvent, QPixmap
from PyQt6.QtWidgets import QComboBox, QLineEdit, QPlainTextEdit, QVBoxLayout, QWidget

from jontel.app.jobs import Lane
from jontel.app.panels.controls import change_monogram
from jontel.app.panels.parts import NumberField, PinnedRow, clear
from jontel.app.session import Document
from jontel.app.theme import LIGHT
from jontel.data import resource
from jontel.design import CannotRead, StitchObject
from jontel.design.lettering import MOST_SIGNS, Lettering, retyped
from jontel.files.samples import kept_sample
from jontel.lettering.fonts import Axis, FontFile, open_font, shipped_fonts, system_fonts
from jontel.lettering.kin import reworded

SAMPLE = QSize(96, 26)
"""How large a font's sewn sample is shown, pixels."""


class Words(QPlainTextEdit):
    """Several lines of text that are an edit once the keys go elsewhere."""

    def __init__(self, editor: WordsEditor) -> None:
        super().__init__()
        self._editor = editor
        self.setObjectName("words")
        self.setAccessibleName("Words")
        self.setTabChangesFocus(True)
        self.setFixedHeight(58)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """What was typed is an edit."""
        super().focusOutEvent(event)
        self._editor.take(self.toPlainText())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Control and Enter end it too."""
        assert event is not None
        held = event.modifiers() & Qt.KeyboardModifier.ControlModifier
        if held and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._editor.take(self.toPlainText())
            return
        super().keyPressEvent(event)


class FontBox(QComboBox):
    """All fonts to choose from: those that ship by how they sew, then those of the system by name."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("font")
        self.setAccessibleName("Font")
        self.setIconSize(SAMPLE)
        self.setPlaceholderText("differ")
        self.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self._unseen: list[FontFile] = []
        self._lane = lane = Lane("fonts")
        self.destroyed.connect(lambda: lane.close())
        self._offer(shipped_fonts())
        self._lane.ask(system_fonts, self._offer)

    def showPopup(self) -> None:
        """Fonts of the system are sewn once somebody looks for one, one after another, and shown so from then on."""
        super().showPopup()
        folder = Path(platformdirs.user_cache_dir("jontel")) / "fonts"
        for file in self._unseen:
            self._lane.ask(
                lambda file=file: kept_sample(file, folder), lambda made, file=file: self._show_sample(file, made)
            )
        self._unseen = []

    def _show_sample(self, file: FontFile, made: bytes | None) -> None:
        """Show how a font of the system sews."""
        if made is None or sip.isdeleted(self):
            return
        picture = QPixmap()
        picture.loadFromData(made)
        self.setItemIcon(self.findData(file.name), QIcon(picture))

    def _offer(self, fonts: tuple[FontFile, ...]) -> None:
        """More fonts to choose from, unless the box is gone by now."""
        if sip.isdeleted(self):
            return
        chosen = self.currentData()
        for file in fonts:
            if file.shipped:
                self.addItem(QIcon(_sample(file)), file.character.capitalize(), file.name)
            else:
                self.addItem(file.name, file.name)
                self._unseen.append(file)
            self.setItemData(self.count() - 1, file.name, Qt.ItemDataRole.ToolTipRole)
        self.setCurrentIndex(self.findData(chosen))

    def show_font(self, name: str | None) -> None:
        """Show a font, or none where they differ."""
        if name is not None and self.findData(name) < 0:
            self.addItem(name, name)
        self.setCurrentIndex(self.findData(name) if name is not None else -1)


def _over_fonts(editor: QWidget, field: QWidget, use: Callable[[str], None]) -> FontBox:
    """Stack ``field`` over the fonts that ``use`` takes the names of in an editor."""
    column = QVBoxLayout(editor)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(4)
    fonts = FontBox()
    fonts.activated.connect(lambda: use(fonts.currentData()))
    column.addWidget(field)
    column.addWidget(fonts)
    return fonts


class WordsEditor(QWidget):
    """Edits the words and the font of the selected lettering; a font's picture is words sewn in it."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.words = Words(self)
        self.fonts = _over_fonts(self, self.words, self._use)
        self._axes = QVBoxLayout()
        self._axes.setSpacing(4)
        self._fields: dict[str, NumberField] = {}
        self._shown: tuple[Axis, ...] = ()
        column = self.layout()
        assert isinstance(column, QVBoxLayout)
        column.addLayout(self._axes)

    def _show_axes(self, found: list[Lettering]) -> None:
        """Fields for the axes of a variable font, where all that is selected is set in one."""
        try:
            axes = open_font(found[0].font).axes if len({one.font for one in found}) == 1 else ()
        except CannotRead:
            axes = ()
        if axes != self._shown:
            self._shown = axes
            clear(self._axes)
            self._fields = {}
            for axis in axes:
                field = NumberField(f"axis-{axis.tag}", axis.title, "count", axis.low, axis.high, 10)
                field.entered.connect(lambda value, tag=axis.tag: self._vary(tag, value))
                self._axes.addWidget(PinnedRow(axis.title, field, None, LIGHT))
                self._fields[axis.tag] = field
        for axis in axes:
            values = {dict(one.axes).get(axis.tag, axis.usual) for one in found}
            self._fields[axis.tag].show_value(next(iter(values)) if len(values) == 1 else None, False, "mm")

    def _vary(self, tag: str, value: float) -> None:
        def change(words: Lettering) -> Lettering:
            return replace(words, axes=tuple(sorted({**dict(words.axes), tag: value}.items())))

        self._change("Vary the font", change)

    def refresh(self, items: tuple[StitchObject, ...]) -> None:
        """Show the words, the font and its axes."""
        found = [item.lettering for item in items if item.lettering is not None]
        if not found:
            return
        texts, fonts = {one.text for one in found}, {one.font for one in found}
        if not self.words.hasFocus():
            self.words.setPlainText(found[0].text if len(texts) == 1 else "")
            self.words.setPlaceholderText("" if len(texts) == 1 else "They differ")
        self.words.setEnabled(len(texts) == 1)
        self.fonts.show_font(found[0].font if len(fonts) == 1 else None)
        self._show_axes(found)

    def take(self, text: str) -> None:
        """Make the words those that were typed."""
        text = text[:MOST_SIGNS]
        found = [item.lettering for item in self._document.selected() if item.lettering is not None]
        if text.strip() and found and {one.text for one in found} != {text}:
            self._change("Words", lambda words: retyped(words, text))

    def _use(self, name: str) -> None:
        self._change("Font", lambda words: replace(words, font=name))

    def _change(self, title: str, change: Callable[[Lettering], Lettering]) -> None:
        design, ids = self._document.history.design, self._document.selection
        try:
            self._document.edit(title, reworded(design, ids, change))
        except CannotRead as refused:
            self._document.told.emit(str(refused))


class InitialsEditor(QWidget):
    """Edits the letters and the font of the selected monogram."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.letters = QLineEdit()
        self.letters.setObjectName("initials")
        self.letters.setAccessibleName("Initials, one to three")
        self.letters.setPlaceholderText("One to three letters")
        self.letters.setMaxLength(3)
        self.letters.editingFinished.connect(self._take)
        self.fonts = _over_fonts(self, self.letters, self._use)

    def refresh(self, items: tuple[StitchObject, ...]) -> None:
        """Show the letters and the font."""
        whole = next((item.monogram.whole for item in items if item.monogram is not None), None)
        if whole is not None:
            if not self.letters.hasFocus():
                self.letters.setText(whole.letters)
            self.fonts.show_font(whole.font)

    def _take(self) -> None:
        text = self.letters.text().strip()
        if text:
            change_monogram(self._document, "Initials", lambda whole: replace(whole, letters=text))

    def _use(self, name: str) -> None:
        change_monogram(self._document, "Font", lambda whole: replace(whole, font=name))


def _sample(file: FontFile) -> QPixmap:
    """A word sewn in a shipped font."""
    made = QPixmap()
    made.loadFromData(resource(f"fonts/sewn/{file.shipped}.png"))
    return made
