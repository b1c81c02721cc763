"""Move the cloth under the window."""

from PyQt6.QtCore import QPointF, Qt

from jontel.app.tools.base import Spot, Tool


class PanTool(Tool):
    """Drag the cloth; the space bar and the middle button do the same with any tool."""

    name, title, icon, key = "pan", "Move the cloth", "pan", "H"
    hint = "Drag the cloth; the wheel zooms at the cursor"
    looks = True
    cursor = Qt.CursorShape.OpenHandCursor
    _last: QPointF | None = None

    def press(self, spot: Spot) -> None:
        """Take hold."""
        self._last = spot.screen

    def move(self, spot: Spot, held: bool) -> None:
        """Drag along."""
        if held and self._last is not None:
            step = spot.screen - self._last
            self._last = spot.screen
            self.canvas.set_camera(self.canvas.camera.panned(step.x(), step.y()))

    def release(self, spot: Spot) -> None:
        """Let go."""
        self._last = None
