"""What may be done to the order: each is worked out, shown with what it saves, and waits for yes.

One table says all; a new one is its function and its line there.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Literal

from msgspec import Struct
from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects
from jontel.design.errors import CannotDo
from jontel.design.kinds.values import Group, number, word
from jontel.design.words import many
from jontel.sewing.figures import Figures, figures
from jontel.sewing.optimise import better_order
from jontel.sewing.plan import SewPlan, plan
from jontel.sewing.stranding import made_strand, made_strands, offered, released_strand, strand_mates
from jontel.sewing.undercut import MARGIN, worth_undercutting

Ids = frozenset[int]
NO_BETTER = "No better order was found: nothing is to be gained without burying something."
HOW = Group("How", open=True)


@dataclass(frozen=True)
class Proposed:
    """A design with what it takes before and after, and a sentence about it.

    ``after`` is ``None`` where only its stitches tell; then it has to be better than ``before`` to be of use.
    """

    design: Design
    before: Figures
    after: Figures | None
    said: str


@dataclass(frozen=True)
class Proposal:
    """One thing that may be done to the order, of the whole design or of at least ``least`` selected objects.

    ``work(design, ids, values, known)`` raises ``CannotDo`` with a sentence where it cannot; ``known`` is a plan of
    the design, ``values`` a struct of declared values or ``None``.
    """

    name: str
    hint: str
    label: str
    work: Callable[[Design, Ids, Struct | None, SewPlan | None], Proposed]
    values: type[Struct] | None = None
    least: int = 0
    keys: str = ""
    yes: str = "Sew it so"


class Which(Struct, frozen=True):
    """What is put in another order."""

    what: Annotated[Literal["everything", "the selection", "its thread"], word("Order", HOW)] = "everything"


class Under(Struct, frozen=True):
    """How far under an edge sewing goes on, mm."""

    margin: Annotated[float, number("Go on under edges for", 0.2, 10.0, "length", 0.1, HOW)] = MARGIN


class Lines(Struct, frozen=True):
    """How the lines of a strand are run."""

    lines: Annotated[Literal["twice", "fewest"], word("Lines are run", HOW)] = "twice"


def _compared(design: Design, made: Design, said: str, known: SewPlan | None) -> Proposed:
    if made == design:
        raise CannotDo(said)
    first = plan(design, known)
    return Proposed(made, figures(first), figures(plan(made, first)), said)


def _optimise(design: Design, ids: Ids, values: Struct | None, known: SewPlan | None) -> Proposed:
    assert isinstance(values, Which)
    some: Ids | None = None
    if values.what == "the selection":
        some = ids
    elif values.what == "its thread":
        threads = {item.thread for item in design.objects if item.id in ids}
        some = frozenset(item.id for item in design.objects if item.thread in threads)
    if some is not None and len(some) < 2:
        raise CannotDo("Select the objects that may be sewn in another order first.")
    found = better_order(design, some)
    if found.design == design:
        raise CannotDo(NO_BETTER)
    return Proposed(
        found.design,
        figures(plan(design, known)),
        None,
        f"What lies on top stays on top. No such order has fewer than {many(found.least, 'thread change')}.",
    )


def _undercut(design: Design, ids: Ids, values: Struct | None, known: SewPlan | None) -> Proposed:
    assert isinstance(values, Under)
    every = ids or frozenset(item.id for item in design.objects)
    some = worth_undercutting(design, every, values.margin)
    if not some:
        raise CannotDo("Nothing is gained: of no fill here is enough hidden by what is sewn later.")
    made = change_objects(design, some, lambda item: _with_undercut(item, values.margin))
    return _compared(
        design,
        made,
        f"{many(len(some), 'object')} {'is' if len(some) == 1 else 'are'} not sewn where hidden; the shapes stay.",
        known,
    )


def _whole(design: Design, ids: Ids, _values: Struct | None, known: SewPlan | None) -> Proposed:
    some = {item.id for item in design.objects if (not ids or item.id in ids) and item.undercut is not None}
    if not some:
        raise CannotDo("Nothing here is undercut.")
    made = change_objects(design, some, lambda item: _with_undercut(item, None))
    return _compared(design, made, f"{many(len(some), 'object')} sewn whole again.", known)


def _with_undercut(item: StitchObject, margin: float | None) -> StitchObject:
    return replace(item, undercut=margin)


def _strand(design: Design, ids: Ids, values: Struct | None, known: SewPlan | None) -> Proposed:
    assert isinstance(values, Lines)
    if not ids and known is not None:
        groups = offered(known)
        if not groups:
            raise CannotDo("No near objects of one thread are cut apart; select those that are to be one strand.")
        made = made_strands(design, groups, values.lines)
        return _compared(design, made, f"{many(len(groups), 'strand')} of objects that lie near.", known)
    return _compared(design, made_strand(design, ids, values.lines), "One length of thread, without a cut.", known)


def _apart(design: Design, ids: Ids, _values: Struct | None, known: SewPlan | None) -> Proposed:
    some = strand_mates(design, ids) if ids else frozenset(item.id for item in design.objects)
    if not any(item.strand is not None for item in design.objects if item.id in some):
        raise CannotDo("Nothing here is a strand.")
    return _compared(design, released_strand(design, some), "Each object is sewn on its own again.", known)


PROPOSALS: tuple[Proposal, ...] = (
    Proposal(
        "Optimise",
        "Fewest thread changes, then trims, then the shortest jumps",
        "Optimise the order",
        _optimise,
        Which,
        keys="Ctrl+Alt+O",
    ),
    Proposal("Undercut", "Do not sew what later objects hide", "Undercut", _undercut, Under, keys="Ctrl+Alt+U"),
    Proposal("Sew whole", "Sew hidden parts again", "Sew whole", _whole),
    Proposal("Strand", "One length of thread, without a cut", "Make a strand", _strand, Lines, keys="Ctrl+J"),
    Proposal("Release strand", "Sew the objects apart again", "Release the strand", _apart),
)


def proposal(name: str) -> Proposal:
    """The proposal of this name."""
    return next(one for one in PROPOSALS if one.name == name)
