"""The columns of the selected satin, found aside: what the tool and the panel for them show and change."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from jontel.design import Area, Design, StitchObject, resolve
from jontel.design.edits import change_objects
from jontel.design.errors import JontelError
from jontel.design.kinds import traits_of
from jontel.design.shapes import Point
from jontel.stitching.corrections import as_found, merged, sewn_in
from jontel.stitching.covers.areas import Written, columns_sewn

if TYPE_CHECKING:
    from jontel.app.session import Document

Change = Callable[[Area], Area]
SAME = 1.0
"""A column whose middle moved by less than this, mm, is the same one."""


def has_columns(item: StitchObject) -> bool:
    """Whether an object is sewn in columns that can be corrected."""
    return isinstance(item.shape, Area) and traits_of(item.cover).rows == "edge to edge"


class Columns(QObject):
    """The columns of the one selected satin on an area, in the order in which they are sewn; which are ``chosen``."""

    changed = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self._asked: object = None
        self._owner: int | None = None
        self._places: list[Point] = []
        self.found: tuple[Written, ...] = ()
        self.chosen: frozenset[int] = frozenset()

    @property
    def item(self) -> StitchObject | None:
        """The object whose columns they are."""
        chosen = self._document.selected()
        return chosen[0] if len(chosen) == 1 and has_columns(chosen[0]) else None

    def look(self) -> tuple[Written, ...]:
        """The columns as they are known now; asks for them where they are not, and ``changed`` tells of them."""
        item, document = self.item, self._document
        ground = document.design.brief.ground if item is None else document.design.ground_for(item)
        key = None if item is None else (item.id, item.shape, item.cover, item.edges, ground, document.ends_of(item))
        if key != self._asked:
            self._asked = key
            owner = None if item is None else item.id
            if owner != self._owner:
                self._owner, self._places = owner, []
            self.found, self.chosen = (), frozenset()
            if item is not None:
                whole, ends = resolve(item, ground), document.ends_of(item)
                document.ask(lambda: columns_sewn(whole, *ends), lambda found: self._take(key, found))
        return self.found

    def _take(self, key: object, found: Sequence[Written]) -> None:
        """Take in what was found; columns that were chosen before the edit are chosen still."""
        if key == self._asked:
            self.found = tuple(found)
            far = [[math.dist(one.middle, place) for one in found] for place in self._places]
            self.chosen = frozenset(one.index(min(one)) for one in far if one and min(one) < SAME)
            self.changed.emit()

    def choose(self, numbers: frozenset[int]) -> None:
        """Choose columns by their place in the order."""
        if numbers != self.chosen:
            self.chosen = numbers
            self._places = [self.found[number].middle for number in sorted(numbers)]
            self.changed.emit()

    def change(self, label: str, change: Change) -> None:
        """Make an edit of the area, worked out aside; what refuses it is told."""
        item = self.item
        if item is None:
            return
        name, identity, before = item.name, item.id, self._document.history.design

        def changed(one: StitchObject) -> StitchObject:
            return replace(one, shape=change(one.shape)) if isinstance(one.shape, Area) else one

        def done(design: Design) -> None:
            if self._document.history.design is before:
                self._document.edit(label, design)

        def refused(error: JontelError) -> None:
            self._document.told.emit(f"“{name}” stays as it is: {error}.")

        self._document.ask(lambda: change_objects(before, {identity}, changed), done, refused)

    def merge(self) -> None:
        """Make the two chosen columns one."""
        if len(self.chosen) == 2:
            one, other = (self.found[number] for number in sorted(self.chosen))
            self.change("Merge columns", lambda area: merged(area, one.stroke, other.stroke))

    def reorder(self, numbers: Sequence[int]) -> None:
        """Sew the columns in another order, each told by its place in the one before."""
        places: list[Point] = [self.found[number].middle for number in numbers]
        self.change("Order of columns", lambda area: sewn_in(area, places))

    def step(self, by: int) -> None:
        """Sew the chosen column earlier or later."""
        if len(self.chosen) == 1:
            (number,) = self.chosen
            order = list(range(len(self.found)))
            to = number + by
            if 0 <= to < len(order):
                order.insert(to, order.pop(number))
                self.reorder(order)

    def forget(self) -> None:
        """Take all corrections away."""
        self.change("Columns as found", as_found)
