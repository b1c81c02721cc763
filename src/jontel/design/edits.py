"""Edits: functions from a design to a design."""

import math
from collections.abc import Callable, Collection, Iterable

from msgspec.structs import replace

from jontel.design.design import Design, Solved, StitchObject
from jontel.design.figures import moved_figure
from jontel.design.ground import Edges, Ground, Hoop
from jontel.design.kinds import Cover
from jontel.design.lettering import moved_lettering
from jontel.design.monogram import moved_role
from jontel.design.paths import DECIMALS, Matrix, transform_point, transform_shape
from jontel.design.thread import Thread

Change = Callable[[StitchObject], StitchObject]


def add_objects(design: Design, items: Iterable[StitchObject], at: int | None = None) -> Design:
    """``design`` with ``items`` sewn last, or before position ``at``; they get fresh ids."""
    fresh = tuple(replace(item, id=design.next_id + n) for n, item in enumerate(items))
    where = len(design.objects) if at is None else at
    objects = (*design.objects[:where], *fresh, *design.objects[where:])
    return replace(design, objects=objects, next_id=design.next_id + len(fresh))


def named(items: Iterable[StitchObject]) -> list[StitchObject]:
    """Names for those that have none, from what they are sewn as."""
    counts: dict[str, int] = {}
    found: list[StitchObject] = []
    for item in items:
        if not item.name:
            kind = type(item.cover).__name__
            counts[kind] = counts.get(kind, 0) + 1
            item = replace(item, name=f"{kind} {counts[kind]}")
        found.append(replace(item, name=item.name.replace("_", " ").replace("-", " ")))
    return found


def change_objects(design: Design, ids: Collection[int], change: Change) -> Design:
    """``design`` with ``change`` applied to the objects in ``ids``."""
    return replace(design, objects=tuple(change(item) if item.id in ids else item for item in design.objects))


def remove_objects(design: Design, ids: Collection[int]) -> Design:
    """``design`` without the objects in ``ids``; an underlay that they alone shared goes with them."""
    left = {item.id for item in design.objects} - set(ids)
    objects: list[StitchObject] = []
    for item in design.objects:
        if item.id not in left:
            continue
        if item.beneath is not None:
            members = tuple(one for one in item.beneath.objects if one in left)
            if not members:
                continue
            item = replace(item, beneath=replace(item.beneath, objects=members))
        objects.append(item)
    return replace(design, objects=tuple(objects))


def duplicate_objects(design: Design, ids: Collection[int]) -> Design:
    """``design`` with a copy of each object in ``ids``, in place, sewn right after the last of them."""
    chosen = [item for item in design.objects if item.id in ids]
    if not chosen:
        return design
    last = max(n for n, item in enumerate(design.objects) if item.id in ids)
    copies = [replace(item, name=f"{item.name} copy") for item in chosen]
    return add_objects(design, copies, last + 1)


def transform_object(item: StitchObject, matrix: Matrix) -> StitchObject:
    """An object moved, scaled or turned: the shape, its pinned ends and its pinned row angle.

    It is only moved by whole steps of the grid of path data, so that its outline stays the same to the last digit.
    """
    if matrix[:4] == (1, 0, 0, 1):
        matrix = (*matrix[:4], round(matrix[4], DECIMALS), round(matrix[5], DECIMALS))
    ends = item.ends
    ends = replace(
        ends,
        entry=transform_point(ends.entry, matrix) if ends.entry else None,
        exit=transform_point(ends.exit, matrix) if ends.exit else None,
    )
    return replace(
        item,
        shape=transform_shape(item.shape, matrix),
        lettering=None if item.lettering is None else moved_lettering(item.lettering, matrix),
        monogram=None if item.monogram is None else moved_role(item.monogram, matrix),
        figure=None if item.figure is None else moved_figure(item.figure, matrix),
        solved=_moved_solved(item.solved, matrix),
        ends=ends,
        cover=_turned_cover(item.cover, matrix),
    )


def _moved_solved(solved: Solved | None, matrix: Matrix) -> Solved | None:
    """Solved edges go along where an object is only moved; they are not those of a larger or a turned one."""
    if solved is None or matrix[:4] != (1, 0, 0, 1):
        return None
    return replace(solved, shape=transform_shape(solved.shape, matrix))


def _turned_cover(cover: Cover, matrix: Matrix) -> Cover:
    """Rows turn with the shape: a pinned angle follows what the matrix does to that direction."""
    a, b, c, d, _, _ = matrix
    if b == 0 and c == 0 and a == d:
        return cover
    for field, turn in (("angle", 180.0), ("fade_angle", 360.0)):
        angle = getattr(cover, field, None)
        if angle is not None:
            x, y = math.cos(math.radians(angle)), -math.sin(math.radians(angle))
            turned = math.degrees(math.atan2(-(b * x + d * y), a * x + c * y))
            half = turn / 2
            cover = replace(cover, **{field: round((turned + half) % turn - half, 3)})
    return cover


def transform_objects(design: Design, ids: Collection[int], matrix: Matrix) -> Design:
    """``design`` with the objects in ``ids`` moved by ``matrix``; a monogram moves as a whole."""
    ids = monogram_of(design, ids)
    return change_objects(design, ids, lambda item: transform_object(item, matrix))


def monogram_of(design: Design, ids: Collection[int]) -> frozenset[int]:
    """``ids`` with those of all other parts of the monograms that they belong to."""
    groups = {item.monogram.whole.group for item in design.objects if item.id in ids and item.monogram is not None}
    parts = {item.id for item in design.objects if item.monogram is not None and item.monogram.whole.group in groups}
    return frozenset(ids) | parts


def reorder(design: Design, ids: Collection[int], before: int | None) -> Design:
    """``design`` with the objects in ``ids`` sewn, in their present order, just before object ``before``.

    ``None`` sews them last. When ``before`` is itself among them, nothing changes.
    """
    if before in ids:
        return design
    moved = [item for item in design.objects if item.id in ids]
    rest = [item for item in design.objects if item.id not in ids]
    at = next((n for n, item in enumerate(rest) if item.id == before), len(rest))
    return replace(design, objects=(*rest[:at], *moved, *rest[at:]))


def group_by_thread(design: Design, may_swap: Callable[[int, int], bool]) -> Design:
    """``design`` with fewer thread changes: each object moves up to the last one of its thread.

    ``may_swap(earlier, later)`` says whether two objects (by id) may change order, which they may not
    where one covers the other; so nothing that was on top is buried.
    """
    ordered: list[StitchObject] = []
    for item in design.objects:
        place = len(ordered)
        for at in range(len(ordered) - 1, -1, -1):
            if ordered[at].thread == item.thread:
                place = at + 1
                break
            if not may_swap(ordered[at].id, item.id):
                break
        ordered.insert(place, item)
    return replace(design, objects=tuple(ordered))


def set_ground(design: Design, ground: Ground) -> Design:
    """``design`` on another ground; pinned values stay as they are."""
    return replace(design, brief=replace(design.brief, ground=ground))


def set_hoop(design: Design, hoop: Hoop) -> Design:
    """``design`` in another hoop."""
    return replace(design, brief=replace(design.brief, hoop=hoop))


def set_thread(design: Design, code: str, thread: Thread) -> Design:
    """``design`` with ``thread`` in the place of the one with ``code``, on every object that used it."""
    threads: list[Thread] = []
    for old in design.brief.threads:
        new = thread if old.code == code else old
        if new.code not in {t.code for t in threads}:
            threads.append(new)
    changed = change_objects(
        design,
        {item.id for item in design.objects if item.thread == code},
        lambda item: replace(item, thread=thread.code),
    )
    return replace(changed, brief=replace(design.brief, threads=tuple(threads)))


def use_thread(design: Design, ids: Collection[int], thread: Thread) -> Design:
    """``design`` with ``thread`` on the objects in ``ids``, added to the brief when it is new there."""
    known = {t.code for t in design.brief.threads}
    threads = design.brief.threads if thread.code in known else (*design.brief.threads, thread)
    changed = change_objects(design, ids, lambda item: replace(item, thread=thread.code))
    return replace(changed, brief=replace(design.brief, threads=threads))


def drop_unused_threads(design: Design) -> Design:
    """``design`` with only the threads that an object uses."""
    used = {item.thread for item in design.objects}
    threads = tuple(t for t in design.brief.threads if t.code in used)
    return replace(design, brief=replace(design.brief, threads=threads))


def pin(design: Design, ids: Collection[int], field: str, value: object) -> Design:
    """``design`` with one value of the cover or the edges pinned on the objects that have such a value.

    ``value`` ``None`` releases the pin, so that the ground decides again.
    """

    def change(item: StitchObject) -> StitchObject:
        if field in item.cover.__struct_fields__:
            return replace(item, cover=replace(item.cover, **{field: value}))
        if field in item.edges.__struct_fields__:
            return replace(item, edges=replace(item.edges, **{field: value}))
        return item

    return change_objects(design, ids, change)


def release_pins(design: Design, ids: Collection[int]) -> Design:
    """``design`` with every pinned value of the objects in ``ids`` back to what the ground says."""
    return change_objects(
        design, ids, lambda item: replace(item, cover=type(item.cover)(), edges=Edges(), underlay=None)
    )


def hidden_objects(design: Design, ids: Collection[int]) -> Design:
    """``design`` with the objects in ``ids`` hidden: neither shown nor sewn, but kept."""
    return change_objects(design, ids, lambda item: replace(item, hidden=True))


def shown(design: Design) -> Design:
    """``design`` with nothing hidden."""
    hidden = {item.id for item in design.objects if item.hidden}
    return change_objects(design, hidden, lambda item: replace(item, hidden=False))


def locked_objects(design: Design, ids: Collection[int]) -> Design:
    """``design`` with the objects in ``ids`` locked: not selected nor changed on the cloth."""
    return change_objects(design, ids, lambda item: replace(item, locked=True))


def unlocked(design: Design) -> Design:
    """``design`` with nothing locked."""
    locked = {item.id for item in design.objects if item.locked}
    return change_objects(design, locked, lambda item: replace(item, locked=False))


GUARDED = ("shape", "cover", "underlay", "underlay_once", "edges", "lettering", "monogram", "figure", "beneath")
"""What a lock keeps of an object: its shape and its build-up. Its thread, its order and so on may change."""


def with_locked_kept(before: Design, after: Design) -> tuple[Design, tuple[str, ...]]:
    """``after`` with what is locked in ``before`` as it was there, and the names of the objects that this holds.

    What is unlocked by the edit itself may change. What is taken away comes back, sewn before what followed it.
    """
    locked = [item for item in before.objects if item.locked]
    if not locked:
        return after, ()
    now = {item.id: item for item in after.objects}
    fresh: dict[int, StitchObject] = {}
    gone: list[StitchObject] = []
    for item in locked:
        other = now.get(item.id)
        if other is None:
            gone.append(item)
        elif other.locked and other is not item:
            own = {name: getattr(item, name) for name in GUARDED}
            if any(getattr(other, name) != value for name, value in own.items()):
                fresh[item.id] = replace(other, **own)
    objects = [fresh.get(item.id, item) for item in after.objects]
    order = [item.id for item in before.objects]
    for item in gone:
        left = {one.id: place for place, one in enumerate(objects)}
        following = next((left[one] for one in order[order.index(item.id) + 1 :] if one in left), len(objects))
        objects.insert(following, item)
    names = tuple(item.name for item in locked if item.id in fresh or item in gone)
    return (replace(after, objects=tuple(objects)) if names else after), names


def grouped_together(design: Design, ids: Collection[int]) -> Design:
    """``design`` with the objects in ``ids`` one group, in the place of those that they were in."""
    group = design.next_id
    return replace(change_objects(design, ids, lambda item: replace(item, group=group)), next_id=design.next_id + 1)


def released(design: Design, ids: Collection[int]) -> Design:
    """``design`` with the objects in ``ids`` in no group."""
    return change_objects(design, ids, lambda item: replace(item, group=0))


def with_groups(design: Design, ids: Collection[int]) -> frozenset[int]:
    """``ids`` with those of all other objects in the same groups."""
    groups = {item.group for item in design.objects if item.id in ids and item.group}
    return frozenset(ids) | {item.id for item in design.objects if item.group in groups}
