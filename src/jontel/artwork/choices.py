"""What is chosen for the colours of a picture, and for single places of it, before objects are made of it."""

from collections.abc import Mapping
from typing import Literal, get_args

from msgspec import Struct
from msgspec.structs import replace

Kind = Literal["fill", "satin", "outline", "left out"]
KINDS: tuple[Kind, ...] = get_args(Kind)
FADED = "fade"
"""The choice for a colour that is the mean of two: both are sewn, the one fading into the other."""
AS_READ = "as it reads"
"""The choice that is none: the shapes themselves say what they are sewn as."""


class Choices(Struct, frozen=True):
    """``colours``: a colour of the picture and what becomes of it, a ``Kind``, or another colour that it is one with.

    ``places``: across and down as parts of the picture, from 0 to 1, and the ``Kind`` of what lies there; the last
    one said of a place counts.
    """

    colours: tuple[tuple[str, str], ...] = ()
    places: tuple[tuple[float, float, str], ...] = ()

    def of_colour(self, colour: str) -> str:
        """What was chosen for a colour."""
        return dict(self.colours).get(colour, AS_READ)

    def with_colour(self, colour: str, what: str) -> "Choices":
        """The same with another choice for a colour."""
        rest = tuple(one for one in self.colours if one[0] != colour)
        return replace(self, colours=rest if what == AS_READ else (*rest, (colour, what)))

    def with_place(self, across: float, down: float, what: str) -> "Choices":
        """The same with a choice for what lies at a place."""
        return replace(self, places=(*self.places, (across, down, what)))

    @property
    def merged(self) -> Mapping[str, str]:
        """Colours that are one with another, each with that which is left in the end."""
        to = {colour: what for colour, what in self.colours if what.startswith("#")}
        found: dict[str, str] = {}
        for colour in to:
            end, seen = colour, {colour}
            while end in to and to[end] not in seen:
                end = to[end]
                seen.add(end)
            if end != colour:
                found[colour] = end
        return found

    @property
    def dropped(self) -> frozenset[str]:
        """Colours that are left out."""
        return frozenset(colour for colour, what in self.colours if what == "left out")


NOTHING_CHOSEN = Choices()
