"""What can be done to the shapes of a selection. One table says all; a new one is its function and its line there."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from msgspec import Struct

from jontel.design.design import Design
from jontel.shaping import copying, freezing, joining, kinds, outlining, placing, suiting
from jontel.shaping.outlines import Ids, Made

Section = Literal["Place", "Outline", "Together", "Copies", "Kind"]


@dataclass(frozen=True)
class Operation:
    """One thing that is done to at least ``least`` selected objects.

    ``apply(design, ids, values)`` raises ``CannotDo`` with a sentence where it cannot; ``values`` is a struct of
    declared numbers and words, shown before it is done, or ``None`` where there is nothing to be told. ``hint`` says
    what it does.
    """

    name: str
    section: Section
    hint: str
    apply: Callable[[Design, Ids, Struct | None], Made]
    values: type[Struct] | None = None
    least: int = 1
    keys: str = ""


OPERATIONS: tuple[Operation, ...] = (
    Operation("Align", "Place", "Line up sides or middles", placing.aligned, placing.Align, 2),
    Operation("Distribute", "Place", "Even gaps between three or more", placing.distributed, placing.Distribute, 3),
    Operation("Turn and scale", "Place", "By numbers, about the middle", placing.turned, placing.Turn),
    Operation("Mirror", "Place", "Turn over, or copy on the other side", placing.mirrored, placing.Mirror),
    Operation("Offset", "Outline", "Outlines farther out or in, one or several", outlining.offset, outlining.Offset),
    Operation("Round corners", "Outline", "Every corner by a radius", outlining.rounded_off, outlining.RoundOff),
    Operation("Simplify", "Outline", "The same outline with fewer nodes", outlining.simplified, outlining.Simplify),
    Operation("Fill holes", "Outline", "Close the holes of an area", outlining.holes_filled),
    Operation("Reverse", "Outline", "Draw a line the other way", outlining.reversed_lines),
    Operation("Unite", "Together", "One area of all", joining.united, None, 2),
    Operation("Subtract", "Together", "The first, without those sewn later", joining.subtracted, None, 2),
    Operation("Intersect", "Together", "Only what all cover", joining.intersected, None, 2),
    Operation("Exclude", "Together", "What only one of them covers", joining.excluded, None, 2),
    Operation("Slice", "Together", "Cut the others along the line that is sewn last", joining.sliced, None, 2),
    Operation("Combine", "Together", "One object of many outlines: inner ones are holes", joining.made_one, None, 2),
    Operation("Take apart", "Together", "An object for each piece", joining.taken_to_pieces),
    Operation("Reach under", "Together", "Lower ones reach under upper ones", joining.reached, joining.Reach, 2),
    Operation("Array", "Copies", "Rows and lines of copies", copying.in_rows, copying.Rows),
    Operation("Round a centre", "Copies", "Copies about a place", copying.in_a_circle, copying.Circle),
    Operation("Along a line", "Copies", "Copies along the line that is sewn last", copying.along, copying.Along, 2),
    Operation("To area", "Kind", "What it covers, as an area", kinds.to_area),
    Operation("To line", "Kind", "Its outline, as a line", kinds.to_line),
    Operation("To column", "Kind", "Two edges, of a line's width or of a long shape", kinds.to_column),
    Operation("As suits the size", "Kind", "Satins, fills and runs as the shapes read at their size", suiting.suited),
    Operation("To stitches", "Kind", "Its needle points as they are sewn now, each to be moved", freezing.frozen),
    Operation("Border apart", "Kind", "A fill's border, as an object of its own", kinds.border_apart),
)


def operation(name: str) -> Operation:
    """The operation of this name."""
    return next(one for one in OPERATIONS if one.name == name)
