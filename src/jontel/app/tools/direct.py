"""Say which way stitches lie: direction lines across a shape, and a guide that rows follow."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6.QtCore import QLineF
from PyQt6.QtGui import QPainter

from jontel.app.cloth.markers import paint_direction
from jontel.app.drawing import pen
from jontel.app.tools.draw import NodesTool, chain_through
from jontel.app.tools.lines import LinesTool, place_of
from jontel.design import Area, CannotStitch, Design, Shape, StitchObject
from jontel.design.edits import change_objects
from jontel.design.kinds import kind_name, traits_of
from jontel.design.shapes import Lines, Point
from jontel.geometry.directing import with_end_moved, with_line, without_line
from jontel.geometry.nodes import path_through
from jontel.geometry.smoothing import smooth_path

if TYPE_CHECKING:
    from jontel.app.cloth.canvas import Canvas


def directed_item(canvas: Canvas) -> StitchObject | None:
    """The one selected object whose stitches can be directed."""
    document = canvas.document
    chosen = document.selected() if document else ()
    fits = len(chosen) == 1 and bool(traits_of(chosen[0].cover).directed_by) and traits_of(chosen[0].cover).hides
    return chosen[0] if fits else None


def _takes_guide(item: StitchObject) -> bool:
    return "guide" in traits_of(item.cover).directed_by.get(kind_name(item.shape), ())


def _edge_to_edge(item: StitchObject) -> bool:
    return traits_of(item.cover).rows == "edge to edge"


class DirectionTool(LinesTool):
    """Drag across the selected object for another direction line; drag an end of one to move it."""

    name, title, icon, key = "direction", "Direction lines", "tool direction", "D"
    hint = "Drag across the selected object for a direction line, drag its ends to move it, Delete takes it away"

    def lines(self) -> Lines:
        """Those of the selected object, as they were drawn or worked out."""
        item, document = directed_item(self.canvas), self.canvas.document
        return () if item is None or document is None else document.lines_of(item)

    def takes_lines(self) -> bool:
        """Whether an object whose stitches can be directed is selected."""
        return directed_item(self.canvas) is not None

    def add(self, start: Point, stop: Point) -> None:
        """Turn the rows along another line."""
        self._try(lambda shape, satin: with_line(shape, start, stop, satin), "Add direction line")

    def drag_end(self, number: int, end: int, to: Point, done: bool) -> None:
        """Turn the rows while an end is dragged."""
        label = "Move direction line" if done else ""
        self._try(lambda shape, satin: with_end_moved(shape, number, end, to, satin), label)

    def take_away(self, number: int) -> None:
        """Let the rows find their own way there again."""
        self._try(lambda shape, satin: without_line(shape, number, satin), "Take direction line away")

    def _try(self, change: _Change, label: str) -> None:
        """Make an edit of the shape, or only show it when it has no ``label``."""
        document, item = self.canvas.document, directed_item(self.canvas)
        if document is None or item is None:
            return
        original = document.history.design.object(item.id) or item
        try:
            shape = change(original.shape, _edge_to_edge(item))
        except CannotStitch as refused:
            self.canvas.say(f"No line was added to “{item.name}”: {refused}.")
            return
        design: Design = change_objects(document.history.design, {item.id}, lambda one: replace(one, shape=shape))
        document.show(label, design)

    def paint(self, painter: QPainter) -> None:
        """Every line with its beads, and the one being drawn."""
        theme, camera = self.canvas.theme, self.canvas.camera
        for number, (p, q) in enumerate(self.lines()):
            paint_direction(painter, QLineF(*p, *q), camera, theme, 1.15 if number == self.chosen else 0.85)
        line = self.drawn()
        if line is not None:
            painter.setPen(pen(theme.colour("accent"), 1.6, (4, 3)))
            painter.drawLine(line)


class GuideTool(NodesTool):
    """Click along what the rows of the selected fill shall follow; smooth where no curve is pulled."""

    makes = False
    name, title, icon, key, kind = "guide", "Guide for rows", "tool guide", "U", "Guide"
    hint = "Click along a curve that the rows shall follow, or drag it; Enter finishes, Backspace takes one back"

    def complete(self) -> None:
        """Give the curve through the points to the selected fills."""
        nodes = self.nodes
        self.cancel()
        document = self.canvas.document
        if len(nodes) >= 2 and document is not None:
            pulled = any(one.out != one.at for one in nodes) or len(nodes) == 2
            chain = chain_through(nodes, False)
            guide = path_through((chain,)) if pulled else smooth_path([place_of(one.at) for one in nodes])
            fits = {item.id for item in document.selected() if _takes_guide(item)}
            if fits:
                document.edit(
                    "Guide rows",
                    change_objects(document.history.design, fits, lambda item: _guided(item, guide)),
                )
            else:
                self.canvas.say("Select a filled shape first: a guide leads the rows of a fill")
        self.canvas.update()


def _guided(item: StitchObject, guide: str) -> StitchObject:
    return replace(item, shape=replace(item.shape, guide=guide, lines=())) if isinstance(item.shape, Area) else item


if TYPE_CHECKING:
    from collections.abc import Callable

    _Change = Callable[[Shape, bool], Shape]
