"""Objects taken out of a design and put into another, and settings taken over from one object by others."""

from typing import Annotated

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import add_objects, change_objects, transform_objects, use_thread
from jontel.design.errors import CannotDo
from jontel.design.kinds import kind_name, kind_of
from jontel.design.kinds.values import Group, yes_no
from jontel.design.paths import Matrix, number_text
from jontel.design.shapes import Area, Column, Line
from jontel.design.thread import Thread
from jontel.geometry.nodes import chains_of, path_through
from jontel.shaping.kinds import ring_of
from jontel.shaping.outlines import Ids, Made
from jontel.shaping.placing import box_of

TAKEN = Group("Take over", open=True)
RUN_DRAWN = 0.4
"""Lines that are no wider than a thread are drawn so in other programs, mm."""


def taken_out(design: Design, ids: Ids) -> Design:
    """A design of the objects in ``ids`` alone, with their threads and without pictures: what the clipboard holds."""
    objects = tuple(item for item in design.objects if item.id in ids)
    codes = {item.thread for item in objects}
    threads = tuple(thread for thread in design.brief.threads if thread.code in codes)
    return replace(design, objects=objects, artwork=(), guides=(), brief=replace(design.brief, threads=threads))


def put_in(design: Design, clip: Design, at: tuple[float, float] | None = None) -> Made:
    """``design`` with the objects of ``clip``, sewn last, where they were or with their middle ``at`` a place.

    Threads come along; one whose code means another thread here gets a code of its own. Groups and monograms stay
    together, apart from those that are here already.
    """
    if not clip.objects:
        raise CannotDo("The clipboard holds no objects; copy some first.")
    codes: dict[str, Thread] = {}
    known = {thread.code: thread for thread in design.brief.threads}
    for item in clip.objects:
        if item.thread in codes:
            continue
        thread = clip.thread(item.thread)
        while thread.code in known and known[thread.code] != thread:
            thread = replace(thread, code=f"{thread.code}+"[:80])
        codes[item.thread] = thread
        known[thread.code] = thread
    first = design.next_id
    fresh_of = {item.id: first + k for k, item in enumerate(clip.objects)}
    objects = regrouped(design, [replace(item, thread=codes[item.thread].code) for item in clip.objects], fresh_of)
    made = add_objects(design, objects)
    made = replace(made, next_id=max(made.next_id, 1 + max((item.group for item in made.objects), default=0)))
    for code, thread in codes.items():
        sewn = {fresh_of[item.id] for item in clip.objects if item.thread == code}
        made = use_thread(made, sewn, thread)
    ids = frozenset(fresh_of.values())
    if at is not None:
        left, top, right, low = box_of([item for item in made.objects if item.id in ids]).tolist()
        step: Matrix = (1.0, 0.0, 0.0, 1.0, at[0] - (left + right) / 2, at[1] - (top + low) / 2)
        made = transform_objects(made, ids, step)
    return made, ids


def regrouped(design: Design, items: list[StitchObject], fresh_of: dict[int, int]) -> list[StitchObject]:
    """Copies of objects in groups and monograms of their own, and above each other's copies, in ``design``."""
    groups = sorted({item.group for item in items if item.group})
    first = 1 + max([design.next_id + len(items), *(item.group for item in design.objects)])
    group_of = {group: first + k for k, group in enumerate(groups)} | {0: 0}
    monograms = sorted({item.monogram.whole.group for item in items if item.monogram is not None})
    top = 1 + max((o.monogram.whole.group for o in design.objects if o.monogram is not None), default=0)
    whole_of = {group: top + k for k, group in enumerate(monograms)}
    found: list[StitchObject] = []
    for item in items:
        item = replace(item, group=group_of[item.group])
        if item.monogram is not None:
            whole = replace(item.monogram.whole, group=whole_of[item.monogram.whole.group])
            item = replace(item, monogram=replace(item.monogram, whole=whole))
        if item.beneath is not None:
            members = tuple(fresh_of[one] for one in item.beneath.objects if one in fresh_of)
            item = replace(item, beneath=replace(item.beneath, objects=members) if members else None)
        found.append(item)
    return found


def svg_of(clip: Design) -> str:
    """The shapes as an SVG in mm: areas filled, lines of their width, each in its thread's colour."""
    left, top, right, low = box_of(list(clip.objects)).tolist()
    margin = max((item.shape.width for item in clip.objects if isinstance(item.shape, Line)), default=0.0)
    box = np.array([left - margin, top - margin, right - left + 2 * margin, low - top + 2 * margin]).round(3)
    drawn = [_drawn(item, clip.thread(item.thread).colour) for item in clip.objects if not item.hidden]
    words = " ".join(number_text(float(v)) for v in box)
    size = f'width="{number_text(float(box[2]))}mm" height="{number_text(float(box[3]))}mm"'
    return "\n".join([f'<svg xmlns="http://www.w3.org/2000/svg" {size} viewBox="{words}">', *drawn, "</svg>"]) + "\n"


def _drawn(item: StitchObject, colour: str) -> str:
    match item.shape:
        case Area(path=path, rule=rule):
            return f'  <path d="{path}" fill="{colour}" fill-rule="{rule}"/>'
        case Line(path=path, width=width):
            wide = width if kind_of(item.cover).traits.widens else RUN_DRAWN
            return f'  <path d="{path}" fill="none" stroke="{colour}" stroke-width="{number_text(wide)}"/>'
        case Column(edge=edge, other_edge=other):
            edges = (*chains_of(edge)[:1], *chains_of(other)[:1])
            open_ = len(edges) == 2 and not edges[0].closed
            ring = path_through((ring_of(*edges),) if open_ else edges)
            return f'  <path d="{ring}" fill="{colour}" fill-rule="evenodd"/>'


class TakeOver(Struct, frozen=True):
    """Which settings are taken over."""

    cover: Annotated[bool, yes_no("Cover and its values", TAKEN)] = True
    underlay: Annotated[bool, yes_no("Underlay", TAKEN)] = True
    edges: Annotated[bool, yes_no("Edges", TAKEN)] = True
    thread: Annotated[bool, yes_no("Thread", TAKEN)] = False
    width: Annotated[bool, yes_no("Width and ends of lines", TAKEN)] = False


def taken_over(source: StitchObject, thread: Thread, design: Design, ids: Ids, values: Struct | None) -> Made:
    """``design`` with the settings of ``source`` on the objects in ``ids``, as far as their shapes take them."""
    assert isinstance(values, TakeOver)
    refused: list[str] = []

    def changed(item: StitchObject) -> StitchObject:
        if values.cover and item.beneath is None:
            if kind_name(item.shape) in kind_of(source.cover).traits.lies_on:
                item = replace(item, cover=source.cover)
            else:
                refused.append(item.name)
        if values.underlay:
            item = replace(item, underlay=source.underlay, underlay_once=source.underlay_once)
        if values.edges:
            item = replace(item, edges=source.edges)
        if values.width and isinstance(item.shape, Line) and isinstance(source.shape, Line):
            item = replace(item, shape=replace(source.shape, path=item.shape.path))
        return item

    made = change_objects(design, ids, changed)
    if values.thread:
        made = use_thread(made, ids, thread)
    if made == design:
        called = kind_of(source.cover).traits.called
        why = f"“{refused[0]}” cannot be {called}" if refused else "they are the same already"
        raise CannotDo(f"Nothing is taken over from “{source.name}”: {why}.")
    return made, ids
