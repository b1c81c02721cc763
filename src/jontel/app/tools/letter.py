"""Type words onto the cloth, and change those that are there."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6 import sip
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QGuiApplication, QKeyEvent, QKeySequence, QPainter

from jontel.app.drawing import pen, shape_path
from jontel.app.picker import ThreadPicker, pick_thread
from jontel.app.tools.base import Spot, Tool
from jontel.app.tools.lines import GRAB, place_of
from jontel.design import CannotRead, Design, StitchObject, Thread
from jontel.design.edits import add_objects, change_objects, remove_objects, use_thread
from jontel.design.lettering import LEAST_STROKE, MOST_SIGNS, SWALLOWED, Lettering, least_stroke_on, retyped
from jontel.design.shapes import Point
from jontel.lettering.fonts import open_font, shipped_fonts
from jontel.lettering.handles import Handle, dragged, handles
from jontel.lettering.kin import kin_of, owner_of, recoloured, reworded
from jontel.lettering.setting import called, carets, set_in, words_object

if TYPE_CHECKING:
    from jontel.app.cloth.canvas import Canvas

BEAD = 4.0
NEAR = 0.8
"""A click nearer than so many heights to the middle of a sign's edge is on it."""
STROKES = {round(LEAST_STROKE + more, 2) for more in (0.0, *SWALLOWED.values())}
"""Strokes that a ground asked for."""
MOVES = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}


class LetterTool(Tool):
    """Click and type. All that is typed until the keys go elsewhere is one step."""

    name, title, icon, key = "letter", "Lettering", "tool letter", "T"
    hint = (
        "Click where the words shall stand, or on letters, and type; drag or press a letter's handles; Escape ends it"
    )
    cursor = Qt.CursorShape.IBeamCursor

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.like = Lettering("", shipped_fonts()[0].name, alignment="left")
        self.item: StitchObject | None = None
        self.words: Lettering | None = None
        self.caret = 0
        self.held: tuple[Handle, Point, Lettering] | None = None
        self.picker: ThreadPicker | None = None
        self.left_off: tuple[int, int] | None = None

    # mouse

    def press(self, spot: Spot) -> None:
        """Take hold of a letter's handle, go on with the letters that were clicked, else begin new ones here."""
        if self._hold(spot):
            return
        self.finish()
        document = self.canvas.document
        if document is None:
            return
        item = self._letters_at(spot.cloth)
        if item is not None and item.lettering is not None:
            places = _carets(item.lettering)
            self._take_up(item, min(range(len(places)), key=lambda k: _far(spot.cloth, places[k])) if places else 0)
            document.select({item.id})
        else:
            place = (1.0, 0.0, 0.0, 1.0, round(spot.cloth.x(), 3), round(spot.cloth.y(), 3))
            like = self.like
            if like.least_stroke in STROKES:  # not set by hand: as this ground has it
                like = replace(like, least_stroke=least_stroke_on(document.design.brief.ground))
            self.item, self.words, self.caret = None, replace(like, text="", place=place), 0
        self.canvas.update()

    def _take_up(self, item: StitchObject, caret: int) -> None:
        """Go on with letters that are there."""
        self.item, self.words, self.caret = item, item.lettering, caret
        self.like = item.lettering or self.like

    def _hold(self, spot: Spot) -> bool:
        """Take hold of the handle of the letter at the caret that is there."""
        camera = self.canvas.camera
        for handle, place in self._handles().items():
            if QLineF(camera.to_screen(*place), spot.screen).length() <= GRAB and self.words is not None:
                if handle == "thread":
                    self.pick_thread()
                    return True
                self.held = (handle, place_of(spot.cloth), self.words)
                return True
        return False

    def move(self, spot: Spot, held: bool) -> None:
        """Drag the letter along."""
        if not held or self.held is None:
            return
        handle, start, before = self.held
        to = place_of(spot.cloth)
        try:
            words = dragged(before, open_font(before.font), self._sign(), handle, start, to, spot.shift)
            self.words = words
            if self.canvas.document is not None:
                self.canvas.document.preview(self._made())
        except CannotRead as refused:
            self.canvas.say(str(refused))
        self.canvas.update()

    def release(self, spot: Spot) -> None:
        """Let go of a handle; the change is part of what is typed."""
        self.held = None

    def _sign(self) -> int:
        """The place in the text of the letter at the caret: that behind it, at the end of a line that before."""
        text = self.words.text if self.words is not None else ""
        return self.caret if self.caret < len(text) and text[self.caret] != "\n" else max(self.caret - 1, 0)

    def pick_thread(self) -> None:
        """Choose the thread of the letter at the caret."""
        document, sign = self.canvas.document, self._sign()
        place = self._handles().get("thread")
        if document is None or place is None:
            return
        caret, words = self.caret, self.words
        self.finish()
        item = self._item_of(words)
        if item is None:
            return
        owner = owner_of(document.history.design, item, sign)

        def take(thread: Thread) -> None:
            try:
                made = recoloured(document.history.design, item, sign, thread)
            except CannotRead as refused:
                self.canvas.say(str(refused))
                return
            document.edit(f"Use {thread.name}", made)
            left = made.object(item.id)
            self.item = self.words = None
            if left is not None:
                self._take_up(left, caret)
            self.canvas.setFocus()

        self._take_up(item, caret)
        here = self.canvas.mapToGlobal(self.canvas.camera.to_screen(*place).toPoint())
        design = document.design
        self.picker = pick_thread(self.canvas, here, design.thread(owner.thread), take, design.brief.threads)

    def _handles(self) -> dict[Handle, Point]:
        """Where the handles of the letter at the caret are."""
        if self.words is None or not self.words.text.strip():
            return {}
        try:
            return handles(self.words, open_font(self.words.font), self._sign())
        except CannotRead:
            return {}

    def _letters_at(self, place: QPointF) -> StitchObject | None:
        """The topmost lettering whose letters lie round a place, in a gap between them too."""
        document = self.canvas.document
        for item in reversed(document.history.design.objects if document is not None else ()):
            if item.lettering is None:
                continue
            reach = NEAR * item.lettering.height
            if shape_path(item.shape).boundingRect().adjusted(-reach, -reach, reach, reach).contains(place):
                far = min((_far(place, one) for one in _carets(item.lettering)), default=math.inf)
                if far < reach:
                    return item
        return None

    # keys

    def takes(self, event: QKeyEvent) -> bool:
        """While words are typed all keys are letters, but for commands with control or alt."""
        if self.words is None:
            return False
        held = event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        ours = event.matches(QKeySequence.StandardKey.Paste) or event.matches(QKeySequence.StandardKey.Undo)
        return ours or not held

    def pressed_key(self, event: QKeyEvent) -> bool:
        """Type, move the caret, take signs away, end."""
        if self.words is None:
            return False
        text, key = self.words.text, event.key()
        if event.matches(QKeySequence.StandardKey.Undo):
            self._forget()
        elif event.matches(QKeySequence.StandardKey.Paste):
            clipboard = QGuiApplication.clipboard()
            self._insert(clipboard.text().replace("\r\n", "\n") if clipboard is not None else "")
        elif key == Qt.Key.Key_Escape:
            self.finish()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._insert("\n")
        elif key == Qt.Key.Key_Backspace:
            self._retype(text[: max(self.caret - 1, 0)] + text[self.caret :], max(self.caret - 1, 0))
        elif key == Qt.Key.Key_Delete:
            self._retype(text[: self.caret] + text[self.caret + 1 :], self.caret)
        elif key in MOVES:
            self._go(self.caret + MOVES[Qt.Key(key)])
        elif key == Qt.Key.Key_Home:
            self._go(text.rfind("\n", 0, self.caret) + 1)
        elif key == Qt.Key.Key_End:
            self._go(text.find("\n", self.caret) if "\n" in text[self.caret :] else len(text))
        elif event.text() and event.text().isprintable():
            self._insert(event.text())
        else:
            return False
        return True

    def _go(self, place: int) -> None:
        self.caret = min(max(place, 0), len(self.words.text) if self.words else 0)
        self.canvas.update()

    def _insert(self, signs: str) -> None:
        assert self.words is not None
        signs = "".join(sign for sign in signs if sign == "\n" or sign.isprintable())
        room = MOST_SIGNS - len(self.words.text)
        if len(signs) > room:
            self.canvas.say(f"Lettering holds at most {MOST_SIGNS:,} signs; the rest was left out.")
            signs = signs[:room]
        text = self.words.text
        self._retype(text[: self.caret] + signs + text[self.caret :], self.caret + len(signs))

    def _retype(self, text: str, caret: int) -> None:
        """Show the words as they are now."""
        document = self.canvas.document
        if document is None or self.words is None or text == self.words.text:
            return
        self.words = retyped(self.words, text)
        self.caret = caret
        try:
            made = self._made()
            missing = set_in(self.words, open_font(self.words.font)).missing
            if missing:
                self.canvas.say(f"“{self.words.font}” has no {', '.join(missing)}: a gap stands for it.")
        except CannotRead as refused:
            self.canvas.say(str(refused))
            return
        document.preview(made)
        if self.item is None and made.objects and text.strip():
            document.select({made.objects[-1].id})
        self.canvas.update()

    # the design

    def _made(self) -> Design:
        """The design with the words as they are typed so far. Raises ``CannotRead``."""
        document, words = self.canvas.document, self.words
        assert document is not None and words is not None
        design = document.history.design
        if self.item is not None:
            if not words.text.strip():
                return remove_objects(design, {one.id for one in kin_of(design, self.item)})
            made = reworded(design, {self.item.id}, lambda _old: words)
            return change_objects(made, {self.item.id}, lambda item: replace(item, name=_name(words, self.item)))
        if not words.text.strip():
            return design
        thread = document.thread_for_new()
        made_design = add_objects(design, [words_object(words, thread.code)])
        return use_thread(made_design, {made_design.objects[-1].id}, thread)

    def _thread_at_caret(self) -> str:
        """The colour that the letter at the caret is sewn in."""
        document = self.canvas.document
        assert document is not None
        if self.item is None:
            return document.thread_for_new().colour
        design = document.history.design
        return design.thread(owner_of(design, self.item, self._sign()).thread).colour

    def finish(self) -> None:
        """Make what was typed an edit."""
        document, words, item = self.canvas.document, self.words, self.item
        if document is None or words is None:
            return
        before = item.lettering if item is not None else None
        changed = words.text != "" if before is None else words != before
        if changed:
            try:
                document.edit("Lettering", self._made())
                self.like = replace(words, text="")
            except CannotRead as refused:
                document.preview(None)
                self.canvas.say(str(refused))
        self.item = self.words = None
        self.canvas.update()

    def _forget(self) -> None:
        """Take back all that was typed."""
        self.item = self.words = None
        if self.canvas.document is not None:
            self.canvas.document.preview(None)
        self.canvas.update()

    def left(self) -> None:
        """The keys go elsewhere: what was typed stays. Where it is only a thread that is chosen it goes on."""
        if self.picker is None or sip.isdeleted(self.picker) or self.picker.isHidden():
            words, caret = self.words, self.caret
            self.finish()
            item = self._item_of(words)
            self.left_off = (item.id, caret) if item is not None else None

    def returned(self) -> None:
        """The keys are back from another window: typing goes on where it was left."""
        document = self.canvas.document
        if document is not None and self.left_off is not None and self.words is None:
            item = document.history.design.object(self.left_off[0])
            if item is not None and item.lettering is not None:
                self._take_up(item, min(self.left_off[1], len(item.lettering.text)))
                self.canvas.update()
        self.left_off = None

    def _item_of(self, words: Lettering | None) -> StitchObject | None:
        """The selected object of some words."""
        document = self.canvas.document
        if document is None or words is None:
            return None
        return next((one for one in document.selected() if one.lettering == words), None)

    def cancel(self) -> None:
        """What was typed stays."""
        self.finish()

    # looks

    def paint(self, painter: QPainter) -> None:
        """The caret, and the handles of the letter at it."""
        places = _carets(self.words) if self.words is not None else []
        if not places:
            return
        foot, head = (self.canvas.camera.to_screen(*spot) for spot in places[min(self.caret, len(places) - 1)])
        painter.setPen(pen(self.canvas.theme.colour("accent"), 2.0))
        painter.drawLine(foot, head)
        theme = self.canvas.theme
        for handle, place in self._handles().items():
            spot = self.canvas.camera.to_screen(*place)
            painter.setPen(pen(theme.colour("accent"), 1.6))
            painter.setBrush(theme.colour("accent" if handle == "move" else "surface"))
            match handle:
                case "move" | "turn":
                    painter.drawEllipse(spot, BEAD, BEAD)
                case "size":
                    painter.drawRect(QRectF(spot.x() - BEAD, spot.y() - BEAD, 2 * BEAD, 2 * BEAD))
                case "thread":
                    painter.setBrush(QColor(self._thread_at_caret()))
                    painter.drawRoundedRect(QRectF(spot.x() - 6, spot.y() - 6, 12, 12), 3, 3)
                case "space":
                    for off in (-2.5, 2.5):
                        painter.drawLine(spot + QPointF(off, -BEAD - 1), spot + QPointF(off, BEAD + 1))


def _name(words: Lettering, item: StitchObject | None) -> str:
    """What an object of changed words is called: by them, unless it was named by hand."""
    by_hand = item is not None and item.lettering is not None and item.name != called(item.lettering)
    return item.name if by_hand and item is not None else called(words)


def _carets(words: Lettering) -> list[tuple[tuple[float, float], tuple[float, float]]]:
    """The places of the caret; none where the font is not there."""
    try:
        return carets(words, open_font(words.font))
    except CannotRead:
        return []


def _far(spot: QPointF, place: tuple[tuple[float, float], tuple[float, float]]) -> float:
    (x, y), (x2, y2) = place
    return math.hypot(spot.x() - (x + x2) / 2, spot.y() - (y + y2) / 2)
