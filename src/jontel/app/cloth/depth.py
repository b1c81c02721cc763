"""How deep thread lies, over the stitches: clear where it lies once, amber to madder where it is deep."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QImage, QPainter

from jontel.app.cloth.camera import Camera
from jontel.app.session import Document
from jontel.app.theme import Theme
from jontel.sewing.charts import Depth, depth_of
from jontel.sewing.plan import SewPlan

BEARS, BREAKS = 2.0, 9.0
"""Thread up to so many deep is plain; at the second the needle breaks it."""
VEIL = 150
"""How far stitches step back behind it, of 255."""


class DepthMap:
    """Worked out aside while it is ``wanted``."""

    def __init__(self, ready: Callable[[], object]) -> None:
        self.wanted = False
        self.depth: Depth | None = None
        self._of: SewPlan | None = None
        self._ready = ready

    def want(self, on: bool) -> None:
        """Show it or not."""
        self.wanted = on
        self._ready()

    def paint(self, painter: QPainter, document: Document, camera: Camera, theme: Theme) -> None:
        """Paint what is known, and ask for what is not."""
        if not self.wanted or document.sewn is None:
            return
        plan = document.sewn.plan
        if self._of is not plan:
            self._of = plan

            def done(depth: Depth | None) -> None:
                if self._of is plan:
                    self.depth = depth
                    self._ready()

            document.ask(lambda: depth_of(plan), done)
        if self.depth is not None:
            paint_depth(painter, self.depth, camera, theme)


def paint_depth(painter: QPainter, depth: Depth, camera: Camera, theme: Theme) -> None:
    """The squares of a map in their colours."""
    over = np.clip((depth.layers - BEARS) / (BREAKS - BEARS), 0.0, 1.0)[..., None]
    ends = [np.array([c.red(), c.green(), c.blue()], float) for c in (theme.colour("amber"), theme.colour("madder"))]
    colour = ends[0] + (ends[1] - ends[0]) * over
    rgba = np.concatenate([colour, 235 * np.sqrt(over)], axis=2).astype(np.uint8)
    rows, columns = depth.layers.shape
    data = rgba.tobytes()
    image = QImage(data, columns, rows, 4 * columns, QImage.Format.Format_RGBA8888)
    corner = QPointF(depth.left + columns * depth.cell, depth.top + rows * depth.cell)
    target = QRectF(camera.to_screen(depth.left, depth.top), camera.to_screen(corner.x(), corner.y()))
    painter.fillRect(target, theme.colour("surface", VEIL))
    painter.drawImage(target, image, QRectF(0, 0, columns, rows))
