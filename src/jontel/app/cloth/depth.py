"""How deep thread lies, over the stitches: clear where it lies once, amber to madder where it is deep."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QImage, QPainter

from jontel.app.cloth.camera import Camera
from jontel.app.cloth.pictures import image_of
from jontel.app.session import Document
from jontel.app.theme import Theme
from jontel.sewing.charts import Depth, depth_of
from jontel.sewing.plan import SewPlan

BEARS, BREAKS = 2.0, 9.0
"""Thread up to so many deep is plain; at the second the needle breaks it."""
VEIL = 150
"""How far stitches step back behind it, of 255."""


class DepthMap:
    """Worked out aside while it is ``wanted``: a picture, and where it lies on the cloth, mm."""

    def __init__(self, ready: Callable[[], object]) -> None:
        self.wanted = False
        self.seen: tuple[QImage, QRectF] | None = None
        self._of: tuple[SewPlan, Theme] | None = None
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
        if self._of is None or self._of[0] is not plan or self._of[1] is not theme:
            asked = self._of = (plan, theme)

            def work() -> tuple[QImage, QRectF] | None:
                depth = depth_of(plan)
                return picture_of(depth, theme) if depth is not None else None

            def done(seen: tuple[QImage, QRectF] | None) -> None:
                if self._of is asked:
                    self.seen = seen
                    self._ready()

            document.ask(work, done)
        if self.seen is not None:
            image, box = self.seen
            target = QRectF(camera.to_screen(box.left(), box.top()), camera.to_screen(box.right(), box.bottom()))
            painter.fillRect(target, theme.colour("surface", VEIL))
            painter.drawImage(target, image, QRectF(image.rect()))


def picture_of(depth: Depth, theme: Theme) -> tuple[QImage, QRectF]:
    """The squares of a map in their colours, and where they lie on the cloth, mm."""
    over = np.clip((depth.layers - BEARS) / (BREAKS - BEARS), 0.0, 1.0)[..., None]
    ends = [np.array([c.red(), c.green(), c.blue()], float) for c in (theme.colour("amber"), theme.colour("madder"))]
    colour = ends[0] + (ends[1] - ends[0]) * over
    rows, columns = depth.layers.shape
    box = QRectF(depth.left, depth.top, columns * depth.cell, rows * depth.cell)
    return image_of(np.concatenate([colour, 235 * np.sqrt(over)], axis=2).astype(np.uint8)), box
