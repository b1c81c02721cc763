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


class Tool:
    """A way of working on the cloth. ``hint`` tells what to do next."""

    name = ""
    title = ""
    icon = ""
    key = ""
    hint = ""
    cursor = Qt.CursorShape.ArrowCursor

    def __init__(self, canvas: Canvas) -> None:
        self.canvas = canvas

    def press(self, spot: Spot) -> None:
        """The left button went down."""

    def move(self, spot: Spot, held: bool) -> None:
        """The mouse moved, with the left button ``held`` or not."""

    def release(self, spot: Spot) -> None:
        """The left button came up."""

    def double_click(self, spot: Spot) -> bool:
        """The left button was clicked twice; false lets the cloth fit the design."""
        return False

    def pressed_key(self, event: QKeyEvent) -> bool:
        """A key went down; true when the tool took it."""
        return False

    def takes(self, event: QKeyEvent) -> bool:
        """Whether a key is the tool's even where the window has a command for it."""
        return False

    def left(self) -> None:
        """The keys go elsewhere."""

    def cancel(self) -> None:
        """Give up what is half done."""

    def paint(self, painter: QPainter) -> None:
        """Draw over the cloth, in pixels."""
