"""Monograms: up to three initials in an arrangement, with a frame, a border and an ornament, that stay one whole."""

from typing import Annotated, Literal

from msgspec import Meta, Struct
from msgspec.structs import replace

from jontel.design.kinds.values import Group, When, number, word
from jontel.design.lettering import Placement
from jontel.design.paths import Matrix, composed

Arrangement = Literal[
    "in a row", "middle larger", "stacked", "stairs", "interlaced", "one over two", "two over one", "diamond",
    "circle", "lantern", "pennant", "arch",
]  # fmt: skip
Frame = Literal["none", "ring", "double ring", "diamond", "square", "lantern", "waves", "rope", "laurel"]
Border = Literal["none", "run", "satin"]
Ornament = Literal["none", "star", "anchor", "wave", "gull"]
LETTERS, AROUND = Group("Monogram", open=True), Group("Frame and ornament", open=True)
ENLARGED: When = ("arrangement", ("middle larger", "diamond", "circle", "lantern", "pennant"))
FRAMED: When = ("frame", ("ring", "double ring", "diamond", "square", "lantern", "waves", "rope", "laurel"))
UNMOVED: Matrix = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)


class Monogram(Struct, frozen=True):
    """What a monogram is made from; every object of it holds this, and which ``part`` of it it is.

    ``letters`` are one to three signs in a ``font``. ``height`` is that of the letters together, mm; the ``middle``
    one is so many percent of the others where the arrangement has it larger. ``gap`` is between letters, and beside
    what passes over a letter, mm; ``margin`` between the letters and the frame. Objects with the same ``group`` are
    one monogram. ``place`` brings it onto the cloth from about the origin.
    """

    letters: Annotated[str, Meta(min_length=1, max_length=3)]
    font: Annotated[str, Meta(min_length=1, max_length=200)]
    group: Annotated[int, Meta(ge=0)] = 0
    height: Annotated[float, number("Height", 4.0, 400.0, "length", 1, LETTERS)] = 30.0
    arrangement: Annotated[Arrangement, word("Arranged", LETTERS)] = "middle larger"
    middle: Annotated[float, number("Middle letter", 50.0, 300.0, "percent", 5, LETTERS, ENLARGED)] = 150.0
    gap: Annotated[float, number("Gap", 0.3, 20.0, "length", 0.1, LETTERS)] = 1.2
    frame: Annotated[Frame, word("Frame", AROUND)] = "ring"
    margin: Annotated[float, number("Margin", 0.0, 60.0, "length", 0.5, AROUND, FRAMED)] = 4.0
    border: Annotated[Border, word("Inner border", AROUND, FRAMED)] = "none"
    ornament: Annotated[Ornament, word("Ornament", AROUND)] = "none"
    place: Placement = UNMOVED


class Role(Struct, frozen=True):
    """Which part of which monogram an object is."""

    whole: Monogram
    part: Annotated[str, Meta(max_length=40)]


def moved_role(role: Role, matrix: Matrix) -> Role:
    """A part of a monogram that was moved."""
    return replace(role, whole=replace(role.whole, place=composed(role.whole.place, matrix)))
