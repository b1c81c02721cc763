"""Give a picture its true size: draw over something in it, and type how long that is."""

from __future__ import annotations

import math

from jontel.app.tools.base import Spot
from jontel.app.tools.measure import MeasureTool


class ScaleTool(MeasureTool):
    """Drag along something whose length is known; the panel asks how long it is."""

    name, title, icon, key = "scale", "Scale by a known length", "tool scale", "Y"
    hint = "Drag along something in the picture whose length you know, then type it in the panel"

    def release(self, spot: Spot) -> None:
        """Ask how long what was drawn is."""
        super().release(spot)
        if self.start is None or self.stop is None:
            return
        step = self.stop - self.start
        long = math.hypot(step.x(), step.y())
        middle = self.start + step / 2
        if long > 0.2:
            self.canvas.length_drawn.emit(long, (middle.x(), middle.y()))
