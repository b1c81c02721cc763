"""What is said of the order: strands, steps, and how thread gets from one object to the next."""

from typing import Annotated, Literal

from msgspec import Meta, Struct

from jontel.design.kinds.values import Group, When, number, word

Words = Annotated[str, Meta(max_length=400)]
Instruction = Annotated[str, Meta(max_length=4000)]
Number = Annotated[int, Meta(ge=0, le=2_000_000_000)]
Lock = Literal["straight", "tiny", "cross", "star"]
MOST_STEPS = 500
CUTS, LOCKS, FLOATS = Group("Cuts", open=True), Group("Locks", open=True), Group("Floats", open=True)
SIZED: When = ("lock", ("straight", "cross", "star"))


class Connections(Struct, frozen=True):
    """How thread gets from one object to the next, mm.

    A connection that shows for more than ``cut_over`` is cut; ``None`` is what the machine says. One in a thread
    that looks like the ground may show for ``alike``. Locks are of the kind ``lock`` and reach over ``lock_size``.
    In a float longer than ``sink_over`` the needle goes down on the way; 0 never.
    """

    cut_over: Annotated[float, Meta(ge=0.0, le=50.0)] | None = None
    alike: Annotated[float, number("Thread like the cloth may show", 0.0, 50.0, "length", 0.5, CUTS)] = 0.0
    lock: Annotated[Lock, word("Lock stitches", LOCKS)] = "straight"
    lock_size: Annotated[float, number("Lock reaches over", 0.5, 3.0, "length", 0.1, LOCKS, SIZED)] = 0.7
    sink_over: Annotated[float, number("Needle down in floats over", 0.0, 50.0, "length", 0.5, FLOATS)] = 0.0


CONNECTIONS = Connections()


class Strand(Struct, frozen=True):
    """Objects with the same strand that follow each other in one thread are sewn as one length of it, without a cut.

    Lines among them are run ``twice`` each, so that the end is where the beginning is, or with the ``fewest``
    repeats.
    """

    id: Number
    lines: Annotated[Literal["twice", "fewest"], Meta(title="Lines")] = "twice"


class Step(Struct, frozen=True):
    """A named run of objects with what a person does before and after them, and what has to lie ready for it."""

    id: Number
    name: Words
    before: Instruction | None = None
    after: Instruction | None = None
    backing: Words = ""
    film: Words = ""
    felt: Words = ""
    bobbin: Words = ""
    collapsed: bool = False

    @property
    def materials(self) -> tuple[tuple[str, str], ...]:
        """What has to lie ready, each with what it is."""
        return tuple((name, words) for name in MATERIALS if (words := getattr(self, name)))


MATERIALS = ("backing", "film", "felt", "bobbin")
READY = (
    "Place the felt",
    "Trim the felt along the stitches",
    "Lay the film on top",
    "Tear the film away",
    "Put another backing underneath",
    "Tape the backing",
    "Change the bobbin",
    "Lay the foam",
)
"""Instructions that are offered; any other can be typed."""
