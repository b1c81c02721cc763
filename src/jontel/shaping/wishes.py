"""How a picture is to be made into objects, and what it comes to: values that are seen before they are taken."""

from dataclasses import dataclass
from typing import Annotated

from msgspec import Struct

from jontel.artwork.choices import NOTHING_CHOSEN, Choices
from jontel.design.kinds.values import Group, number, yes_no
from jontel.design.thread import Thread
from jontel.sewing.proposals import Proposed

HOW = Group("How", open=True)


class Digitizing(Struct, frozen=True):
    """How a picture is made into a design.

    Of a picture of pixels at most ``colours`` are kept. What is smaller than ``least`` mm is left out; rows of
    neighbours lie apart where they are ``turned``; the lower of two that touch reaches ``under`` the upper.
    """

    colours: Annotated[int, number("At most colours", 1, 12, "count", 1, HOW)] = 12
    least: Annotated[float, number("Leave out under", 0.0, 20.0, "length", 0.1, HOW)] = 0.8
    turned: Annotated[bool, yes_no("Rows by the shapes", HOW)] = True
    under: Annotated[float, number("Reach under", 0.0, 5.0, "length", 0.1, HOW)] = 0.5
    ordered: Annotated[bool, yes_no("Fewest thread changes", HOW)] = True
    undercut: Annotated[bool, yes_no("Do not sew what is hidden", HOW)] = True
    joined: Annotated[bool, yes_no("Join what is near", HOW)] = True
    choices: Choices = NOTHING_CHOSEN


PLAIN = Digitizing()


@dataclass(frozen=True)
class Colour:
    """A colour of a picture: whether it is cloth unless it is wanted, what was chosen for it, and what it comes to.

    ``thread`` is the one that it is sewn in, of which ``objects`` take so many ``stitches`` and ``seconds``. One that
    is ``shaded`` is the mean of two, and may be sewn as a fade.
    """

    colour: str
    cloth: bool
    choice: str
    thread: Thread
    objects: int
    stitches: int
    seconds: float
    shaded: bool = False


@dataclass(frozen=True)
class Sorted(Proposed):
    """What a picture is made into, with its colours, those of most stitches first as they come in."""

    colours: tuple[Colour, ...] = ()
