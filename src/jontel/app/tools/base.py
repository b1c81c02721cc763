"""What every tool is: a few methods that the cloth calls."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter

if TYPE_CHECKING:
    from jontel.app.cloth.canvas import Canvas


@dataclass(frozen=True)
class Spot:
    """Where the mouse is: on the cloth in mm, on the screen in pixels, and which keys are held."""

    cloth: QPointF
    screen: QPointF
    keys: Qt.KeyboardModifier

    @property
    def shift(self) -> bool:
        """Whether shift is held."""
        return bool(self.keys & Qt.KeyboardModifier.ShiftModifier)

    @property
    def control(self) -> bool:
        """Whether control is held."""
        return bool(self.keys & Qt.KeyboardModifier.ControlModifier)

    @property
    def place(self) -> tuple[float, float]:
        """The place on the cloth, mm."""
        return self.cloth.x(), self.cloth.y()


class Tool:
    """A way of working on the cloth. ``hint`` tells what to do next.

    A tool that ``draws`` snaps to what is near; one that ``makes`` objects has the panel tell how those start; one
    that ``looks`` changes nothing. A tool that ``rests`` keeps what is half done while the cloth is only looked at
    with another one.
    """

    name = ""
    title = ""
    icon = ""
    key = ""
    hint = ""
    cursor = Qt.CursorShape.ArrowCursor
    draws = False
    makes = False
    looks = False

    def __init__(self, canvas: Canvas) -> None:
        self.canvas = canvas

    @property
    def rests(self) -> bool:
        """Whether something is half done that shall still be there after a look round."""
        return False

    def press(self, spot: Spot) -> None:
        """The left button went down."""

    def move(self, spot: Spot, held: bool) -> None:
        """The mouse moved, with the left button ``held`` or not."""

    def release(self, spot: Spot) -> None:
        """The left button came up."""

    def double_click(self, spot: Spot) -> bool:
        """The left button was clicked twice; false lets the cloth fit the design."""
        return False

    def right_click(self, spot: Spot) -> None:
        """The right button went down."""

    def pressed_key(self, event: QKeyEvent) -> bool:
        """A key went down; true when the tool took it."""
        return False

    def takes(self, event: QKeyEvent) -> bool:
        """Whether a key is the tool's even where the window has a command for it."""
        return False

    def returned(self) -> None:
        """The keys are back from another window."""

    def left(self) -> None:
        """The keys go elsewhere."""

    def entered(self) -> None:
        """The cloth is worked on with this tool from now on."""

    def leave(self) -> None:
        """Another tool is taken up: keep as an edit what can be kept, give up the rest."""
        self.cancel()

    def cancel(self) -> None:
        """Give up what is half done."""

    def paint(self, painter: QPainter) -> None:
        """Draw over the cloth, in pixels."""
