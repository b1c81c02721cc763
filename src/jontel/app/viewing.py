"""How the cloth is looked at: actual size, the grid, snapping."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QInputDialog

from jontel.app.card import ask_card
from jontel.app.preferences import grid_of, pixels_per_mm, remember_screen
from jontel.design.errors import CannotRead
from jontel.design.units import parse_length

if TYPE_CHECKING:
    from jontel.app.window import MainWindow


class Viewing:
    """Commands on the view of one window."""

    def __init__(self, window: MainWindow) -> None:
        self._window = window

    def show_actual_size(self) -> None:
        """Show the cloth as large as it is."""
        self._window.canvas.show_size(pixels_per_mm(self._window.settings, self._window))

    def measure_screen(self) -> None:
        """Ask how large a card is on this screen."""
        window = self._window
        measured = ask_card(window, pixels_per_mm(window.settings, window))
        if measured is not None:
            remember_screen(window.settings, window, measured)
            self.show_actual_size()

    def set_grid(self, step: float) -> None:
        """Show a grid of so many mm; 0 shows none. The size is remembered."""
        if step > 0:
            self._window.settings.setValue("grid", step)
        self._window.canvas.set_grid(step)
        self._window.status.say(f"Grid of {step:g} mm" if step > 0 else "No grid")

    def toggle_grid(self) -> None:
        """Show the grid of the size that was used last, or hide it."""
        self.set_grid(0.0 if self._window.canvas.aids.grid else grid_of(self._window.settings))

    def ask_grid(self) -> None:
        """Ask for the size of the grid, in any unit."""
        known = f"{grid_of(self._window.settings):g} mm"
        words, wanted = QInputDialog.getText(self._window, "Grid", "From line to line:", text=known)
        if not wanted:
            return
        try:
            step = parse_length(words, self._window.unit)
            if not 0.1 <= step <= 500.0:
                raise CannotRead("A grid has between 0.1 and 500 mm from line to line.")
            self.set_grid(step)
        except CannotRead as error:
            self._window.notice.tell(str(error))

    def toggle_snap(self) -> None:
        """Snap to what is near, or do not."""
        aids = self._window.canvas.aids
        aids.snaps = not aids.snaps
        self._window.status.say("Snaps to nodes, outlines, guides and the grid" if aids.snaps else "Snaps to nothing")
