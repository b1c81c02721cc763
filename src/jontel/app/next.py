"""How the next object starts: with the kind and thread chosen beforehand, or like the last of its kind."""

from __future__ import annotations

from collections import Counter
from typing import TYPE_CHECKING, Literal

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from jontel.app.cloth.pictures import colours_in
from jontel.app.threads import threads
from jontel.design import Cover, Line, Shape, StitchObject, Thread, nearest_thread
from jontel.design.figures import FIGURES, FigureValues
from jontel.design.kinds import kind_name
from jontel.shaping.covers import FIRST
from jontel.shaping.outlines import places_on

if TYPE_CHECKING:
    from jontel.app.session import Document

Start = Literal["chosen", "last"]
Sort = Literal["area", "line", "column"]
SAMPLES = 40
"""In so many places it is looked at what a picture shows beneath a shape."""
WITHIN = 0.15
"""How near a curve drawn by hand stays to what the hand did, mm."""


class Next(QObject):
    """What is drawn next. ``start`` says whether it is like the last of its kind or as ``covers`` has it."""

    changed = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.start: Start = "chosen"
        self.covers: dict[str, Cover] = {sort: cover() for sort, cover in FIRST.items()}
        self.width = 1.6
        self.chosen: Thread | None = None
        self.pictured = True
        self.smoothing = WITHIN
        self.figure: FigureValues = FIGURES[0].values()

    def take_figure(self, figure: FigureValues) -> None:
        """Draw another figure next."""
        self.figure = figure
        self.changed.emit()

    def take_thread(self, thread: Thread) -> None:
        """Draw with another thread next."""
        self.chosen = thread
        self.changed.emit()

    def tell(self, **values: object) -> None:
        """Choose something."""
        for name, value in values.items():
            setattr(self, name, value)
        self.changed.emit()

    def sew_as(self, sort: str, cover: Cover) -> None:
        """Sew shapes of a sort as ``cover`` next."""
        self.covers = {**self.covers, sort: cover}
        self.changed.emit()

    def last(self, sort: str) -> StitchObject | None:
        """The object of such a shape that was made last."""
        found = [
            item
            for item in self._document.history.design.objects
            if kind_name(item.shape) == sort and item.lettering is None and item.beneath is None
        ]
        return max(found, key=lambda item: item.id, default=None)

    def thread_for(self, sort: str) -> Thread:
        """The thread of the next object: chosen, the last one's, the selected object's, or the first of the brief."""
        document = self._document
        design, last = document.history.design, self.last(sort)
        if self.start == "last" and last is not None:
            return design.thread(last.thread)
        return self.chosen if self.chosen is not None else document.thread_for_new()

    def _seen_beneath(self, shape: Shape) -> Thread | None:
        """The thread most like what the pictures show beneath a shape; ``None`` where they show nothing there.

        Each of many places votes for the thread nearest to its colour, so that a rim of another colour counts little.
        """
        design = self._document.history.design
        if not (self.pictured and any(one.visible for one in design.artwork)):
            return None
        colours = colours_in(design.artwork, places_on(shape, SAMPLES))
        if not colours:
            return None
        chart = tuple({t.code: t for t in (*design.brief.threads, *threads().box.for_artwork())}.values())
        votes = Counter(nearest_thread(rgb, chart).code for rgb in colours)
        code = votes.most_common(1)[0][0]
        return next(thread for thread in chart if thread.code == code)

    def made(self, name: str, shape: Shape) -> tuple[StitchObject, Thread]:
        """A new object on ``shape``, and its thread."""
        sort = kind_name(shape)
        thread, last = self._seen_beneath(shape) or self.thread_for(sort), self.last(sort)
        if self.start == "last" and last is not None:
            if isinstance(shape, Line) and isinstance(last.shape, Line):
                shape = replace(last.shape, path=shape.path)
            made = StitchObject(
                id=0, name=name, thread=thread.code, shape=shape, cover=last.cover, underlay=last.underlay,
                edges=last.edges, underlay_once=last.underlay_once,
            )  # fmt: skip
            return made, thread
        if isinstance(shape, Line):
            shape = replace(shape, width=self.width)
        return StitchObject(id=0, name=name, thread=thread.code, shape=shape, cover=self.covers[sort]), thread
