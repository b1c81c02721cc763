"""Steps made, changed and let go: edits of a design."""

from collections.abc import Collection
from dataclasses import dataclass

from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects
from jontel.design.order import Step


def with_step(design: Design, ids: Collection[int], name: str = "") -> tuple[Design, int]:
    """``design`` with the objects in ``ids`` in a step of their own, and its number."""
    number = max((step.id for step in design.steps), default=0) + 1
    made = change_objects(design, ids, lambda item: replace(item, step=number))
    step = Step(number, name or f"Step {len(design.steps) + 1}")
    return without_unused(replace(made, steps=(*design.steps, step))), number


def changed_step(design: Design, number: int, **values: object) -> Design:
    """``design`` with some values of a step changed."""
    steps = tuple(replace(step, **values) if step.id == number else step for step in design.steps)
    return replace(design, steps=steps)


def out_of_step(design: Design, ids: Collection[int]) -> Design:
    """``design`` with the objects in ``ids`` in no step."""
    return without_unused(change_objects(design, ids, lambda item: replace(item, step=0)))


def without_unused(design: Design) -> Design:
    """``design`` with only the steps that hold an object."""
    used = {item.step for item in design.objects}
    return replace(design, steps=tuple(step for step in design.steps if step.id in used))


def members(design: Design, number: int) -> frozenset[int]:
    """The objects of a step."""
    return frozenset(item.id for item in design.objects if item.step == number) if number else frozenset()


@dataclass(frozen=True)
class Row:
    """A row of the sewing order: an object, or the heading of a step that begins."""

    number: int = 0
    item: StitchObject | None = None
    heading: Step | None = None
    members: frozenset[int] = frozenset()
    inside: bool = False


def rows_of(design: Design) -> list[Row]:
    """The rows of a list of the order: headings of steps, and the objects that are not folded away."""
    found: list[Row] = []
    before = 0
    for number, item in enumerate(design.objects, 1):
        step = design.step(item.step)
        if step is not None and step.id != before:
            found.append(Row(heading=step, members=members(design, step.id)))
        before = step.id if step is not None else 0
        if step is None or not step.collapsed:
            found.append(Row(number, item, inside=step is not None))
    return found
