"""Objects brought together in the order, and moved about in it, without anything else coming to lie on top."""

from collections.abc import Collection, Sequence

from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects, reorder
from jontel.design.errors import CannotDo
from jontel.sewing.precedence import earlier_of


def gathered(design: Design, ids: Collection[int]) -> Design:
    """``design`` with the objects in ``ids`` sewn one after another, as near to their order before as can be.

    Raises ``CannotDo``, naming an object that has to be sewn between them.
    """
    items = [item for item in design.objects if not item.hidden]
    chosen = [number for number, item in enumerate(items) if item.id in ids]
    if len(chosen) < 2:
        return design
    return in_order(design, [items[number] for number in _together(items, chosen, earlier_of(design, items))])


def in_order(design: Design, items: Sequence[StitchObject]) -> Design:
    """``design`` with the objects that are shown in another order; those hidden stay at their places."""
    places = iter(items)
    return replace(design, objects=tuple(item if item.hidden else next(places) for item in design.objects))


def _together(items: Sequence[StitchObject], chosen: Sequence[int], earlier: Sequence[int]) -> list[int]:
    mine = sum(1 << k for k in chosen)
    needed = 0  # what has to come before any of them, by others in between too
    for number in range(max(chosen), -1, -1):
        if (mine | needed) >> number & 1:
            needed |= earlier[number] & ~mine
    behind = mine
    for number in range(min(chosen) + 1, len(items)):
        if not mine >> number & 1 and earlier[number] & behind:
            behind |= 1 << number
    both = needed & behind & ~mine
    if both:
        between = items[(both & -both).bit_length() - 1]
        raise CannotDo(f"“{between.name}” has to be sewn between these objects: it lies over one and under another.")
    others = [n for n in range(len(items)) if not mine >> n & 1]
    before = [n for n in others if n < max(chosen) and (n < min(chosen) or not behind >> n & 1)]
    return [*before, *chosen, *sorted(set(others) - set(before))]


def resewn(design: Design, ids: Collection[int], before: int | None) -> Design:
    """``design`` with the objects in ``ids`` sewn just before object ``before``, or last.

    A strand that is not theirs is not torn apart: they come before it. What comes to stand within a step joins it,
    and what is taken out of its own leaves it, unless all of that step goes along.
    """
    place = {item.id: k for k, item in enumerate(design.objects)}
    if before is not None and before not in ids:
        at = place[before]
        strand = design.objects[at].strand
        while strand is not None and at > 0 and design.objects[at - 1].strand == strand:
            at -= 1
        if design.objects[at].id not in ids:
            before = design.objects[at].id
    made = reorder(design, ids, before)
    if made is design or not design.steps:
        return made
    where = [k for k, item in enumerate(made.objects) if item.id in ids]
    left = made.objects[where[0] - 1].step if where and where[0] > 0 else 0
    right = made.objects[where[-1] + 1].step if where and where[-1] + 1 < len(made.objects) else 0
    whole = {item.step for item in made.objects} - {item.step for item in made.objects if item.id not in ids}

    def settled(item: StitchObject) -> StitchObject:
        if left and left == right:
            return replace(item, step=left)
        stays = item.step in (left, right) or item.step in whole
        return item if stays else replace(item, step=0)

    return change_objects(made, ids, settled)
