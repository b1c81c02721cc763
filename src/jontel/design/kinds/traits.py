"""What can be asked of a kind of cover or underlay, so that nobody has to know which kind it is."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

from msgspec import Struct

from jontel.design.kinds.section import Cut, Mark

On = Literal["area", "line", "column"]
"""The shapes: an area, a line, a column between two edges."""
Rows = Literal["none", "one way", "edge to edge"]
"""Rows that lie parallel to an angle, or that run from edge to edge of a column."""
Chosen = Literal["never", "by width", "by area"]
"""How the automatic underlay of a cover is chosen."""
Words = Callable[[float], str]
"""A length, mm, as text in the user's unit."""


@dataclass(frozen=True)
class CoverTraits:
    """A kind of cover.

    ``icon`` is path data on a field of 20 x 20. ``visible`` is false for what sews no thread to be seen, ``hides``
    true for what covers cloth edge to edge and so has pull, push and may bury things. ``anywhere`` says that it is
    entered and left anywhere on the rim, not at the ends of a line; ``comes_round`` that a closed line is left where
    it was entered. ``widens`` is true where the width of a line counts, ``by_hand`` where needle points can be placed
    one by one. ``directed_by`` names by shape the tools that say which way its stitches lie. ``summary`` tells the
    main values of a recipe, ``section`` draws it cut through, ``shows_travel`` says of pins that nothing can be
    hidden under the rows. ``opaque`` says of a recipe and the width of its thread, mm, that nothing shows through,
    ``spared`` of a recipe that what lies hidden of an area need not be sewn.
    """

    title: str
    icon: str
    lies_on: frozenset[On]
    rows: Rows
    underlay: Chosen
    summary: Callable[[Any, Words], str]
    section: Callable[[Any, Cut], tuple[Mark, ...]]
    visible: bool = True
    hides: bool = False
    anywhere: bool = False
    widens: bool = False
    by_hand: bool = False
    comes_round: bool = False
    directed_by: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    shows_travel: Callable[[Any], bool] = lambda _pins: False
    opaque: Callable[[Any, float], bool] = lambda _recipe, _thread: False
    spared: Callable[[Any], bool] = lambda _recipe: False

    @property
    def takes_underlay(self) -> bool:
        """Whether underlay may lie beneath it."""
        return self.underlay != "never"

    @property
    def called(self) -> str:
        """The kind after “make it”, with its article."""
        return f"a {self.title.lower()}" if self.visible else self.title.lower()


@dataclass(frozen=True)
class UnderlayTraits:
    """A kind of underlay: its name, its icon, how it looks cut through.

    One that ``holds`` what lies on it together, as lace is, is never left out.
    """

    title: str
    icon: str
    section: Callable[[Any, Cut], tuple[Mark, ...]]
    holds: bool = False


@dataclass(frozen=True)
class Kind:
    """A kind of cover: the name that files use, what it is, its recipe and its pins."""

    name: str
    traits: CoverTraits
    recipe: type[Struct]
    pins: type[Struct]
