"""Words in several threads: one object a thread, all of the same words and in one group, changed as one.

Each letter says which ``part`` of the words sews it (``LetterChange.part``); an object is the part that its own
lettering says. So all of them hold the same words, and what is typed moves every letter's thread along with it.
"""

from collections.abc import Callable, Collection

from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import add_objects, change_objects, grouped_together, remove_objects, use_thread
from jontel.design.lettering import UNMOVED, Lettering, changed_letter
from jontel.design.shapes import Area
from jontel.design.thread import Thread
from jontel.lettering.setting import change_of, lettered

Change = Callable[[Lettering], Lettering]


def kin_of(design: Design, item: StitchObject) -> tuple[StitchObject, ...]:
    """The objects that sew the same words as ``item``, itself among them, in sewing order."""
    if item.lettering is None or not item.group:
        return (item,)
    words = _whole(item.lettering)
    return tuple(
        one
        for one in design.objects
        if one.id == item.id
        or (one.group == item.group and one.lettering is not None and _whole(one.lettering) == words)
    )


def _whole(words: Lettering) -> Lettering:
    """Words without what each of their objects has of its own."""
    return replace(words, part=0, place=UNMOVED)


def reworded(design: Design, ids: Collection[int], change: Change) -> Design:
    """``design`` with the words of the objects in ``ids`` changed, and with them those of their kin.

    Parts that no letter is left of go. Raises ``CannotRead`` where a font is not there.
    """
    done: set[int] = set()
    for item in [one for one in design.objects if one.id in ids and one.lettering is not None]:
        if item.id in done or item.lettering is None:
            continue
        kin = kin_of(design, item)
        done |= {one.id for one in kin}
        fresh = {one.id: _changed(one, item.lettering, change(item.lettering)) for one in kin}
        design = change_objects(design, set(fresh), lambda one, fresh=fresh: fresh[one.id])  # type: ignore[misc]
        design = _without_empty(design, kin)
    return design


def _changed(one: StitchObject, old: Lettering, words: Lettering) -> StitchObject:
    """An object with other words, at its own place where it was not moved with them."""
    own = one.lettering
    assert own is not None
    place = words.place if own.place == old.place else own.place
    return lettered(one, replace(words, part=own.part, place=place))


def _without_empty(design: Design, kin: Collection[StitchObject]) -> Design:
    """``design`` without those of the objects of some words that no letter is left of, unless none has any."""
    now = [one for one in design.objects if one.id in {other.id for other in kin}]
    empty = {one.id for one in now if isinstance(one.shape, Area) and not one.shape.path}
    return remove_objects(design, empty) if len(empty) < len(now) else design


def owner_of(design: Design, item: StitchObject, sign: int) -> StitchObject:
    """The object that sews the letter at a place of the words of ``item``; itself where none does."""
    if item.lettering is None:
        return item
    part = change_of(item.lettering, sign).part
    owners = (one for one in kin_of(design, item) if one.lettering is not None and one.lettering.part == part)
    return next(owners, item)


def recoloured(design: Design, item: StitchObject, sign: int, thread: Thread) -> Design:
    """``design`` whose letter at place ``sign`` of the words of ``item`` is sewn in ``thread``.

    It goes to the object of its words that has this thread, or to a new one that is sewn right after them.
    Raises ``CannotRead`` where the font is not there.
    """
    kin = kin_of(design, item)
    parts = {one.lettering.part: one for one in kin if one.lettering is not None}
    words = item.lettering
    if words is None:
        return design
    part = next((number for number, one in parts.items() if one.thread == thread.code), None)
    if part is None:
        part = max((0, *parts, *(one.part for one in words.letters))) + 1
        last = kin[-1]
        name = f"{kin[0].name[:50]} · {thread.name}"[:80]
        fresh = replace(last, id=0, name=name, lettering=replace(words, part=part))
        design = add_objects(design, [fresh], design.place_of(last.id) + 1)
        made = design.objects[design.place_of(last.id) + 1].id
        design = use_thread(design, {made}, thread)
        members = {*(one.id for one in kin), made}
        design = grouped_together(design, members) if not item.group else design
    return reworded(design, {item.id}, lambda old: changed_letter(old, replace(change_of(old, sign), part=part)))
