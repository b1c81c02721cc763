"""Named states of a design: kept with a note and a photo of their test sew-out, gone back to, compared in words."""

import math

from msgspec import Struct
from msgspec.structs import replace

from jontel.design.design import MOST_VERSIONS, Design, StitchObject, Version
from jontel.design.errors import CannotDo
from jontel.design.kinds import kind_name, traits_of
from jontel.design.kinds.values import values_of
from jontel.design.lettering import Lettering
from jontel.design.machine import MachineProfile
from jontel.design.paths import commands
from jontel.design.shapes import Area, Column, Line, Shape
from jontel.design.words import quoted

SAME = 0.005
"""Lengths that differ by less, mm, are the same in words."""
UNITS = {"length": " mm", "stitch": " mm", "spacing": " mm", "percent": " %", "angle": "°"}


def state_of(design: Design) -> Design:
    """What a version keeps of a design: all but its pictures and its versions."""
    return replace(design, artwork=(), versions=())


def with_version(design: Design, name: str, note: str, when: str) -> Design:
    """``design`` with its present state kept under a name. Raises ``CannotDo`` where there are too many."""
    if len(design.versions) >= MOST_VERSIONS:
        raise CannotDo(f"A design keeps at most {MOST_VERSIONS} states; forget one before you keep another.")
    return replace(design, versions=(*design.versions, Version(name, note, when, state_of(design))))


def with_photo(design: Design, number: int, photo: bytes) -> Design:
    """``design`` with a photo of the sew-out of one of its versions, a JPEG; none where it is empty."""
    changed = replace(design.versions[number], photo=photo)
    return replace(design, versions=(*design.versions[:number], changed, *design.versions[number + 1 :]))


def without_version(design: Design, number: int) -> Design:
    """``design`` without one of its versions."""
    return replace(design, versions=(*design.versions[:number], *design.versions[number + 1 :]))


def back_to(design: Design, number: int) -> Design:
    """``design`` in the state of one of its versions; its pictures and its versions stay as they are."""
    state = design.versions[number].state
    following = max(design.next_id, state.next_id)
    return replace(state, artwork=design.artwork, versions=design.versions, next_id=following)


def differences(before: Design, after: Design) -> tuple[str, ...]:
    """What changed from one state to another, in the trade's words; nothing where they sew the same."""
    old, now = ({item.id: item for item in design.objects} for design in (before, after))
    found = _of_briefs(before, after)
    for word, ids, items in (("New", now.keys() - old.keys(), now), ("Gone", old.keys() - now.keys(), old)):
        if ids:
            found.append(f"{word}: {quoted([items[one].name for one in sorted(ids)])}.")
    for identity, item in now.items():
        if identity in old and old[identity] != item:
            told = _of_objects(old[identity], item, before, after)
            if told:
                found.append(f"“{item.name}”: {', '.join(told)}.")
    both = [item.id for item in after.objects if item.id in old]
    if both != [item.id for item in before.objects if item.id in now]:
        found.append("They are sewn in another order.")
    return tuple(found)


def _of_briefs(before: Design, after: Design) -> list[str]:
    one, other = before.brief, after.brief
    found: list[str] = []
    if one.ground != other.ground:
        same = one.ground.name == other.ground.name
        found.append(
            f"Ground {other.ground.name} with other values."
            if same
            else f"Ground {one.ground.name} → {other.ground.name}."
        )
    if one.hoop != other.hoop:
        found.append(f"Hoop {one.hoop.name} → {other.hoop.name}.")
    machine = _of_values(MachineProfile, one.machine, other.machine)
    if machine:
        found.append(f"Machine: {', '.join(machine)}.")
    if abs(before.least_stitch - after.least_stitch) > SAME:
        found.append(f"Least stitch {before.least_stitch:.2f} → {after.least_stitch:.2f} mm.")
    if before.connections != after.connections:
        found.append("Other rules for connections.")
    if before.steps != after.steps:
        found.append("Other steps.")
    return found


def _of_objects(old: StitchObject, item: StitchObject, before: Design, after: Design) -> list[str]:
    told: list[str] = []
    if old.name != item.name:
        told.append(f"was called “{old.name}”")
    if old.thread != item.thread:
        told.append(f"thread {before.thread(old.thread).name} → {after.thread(item.thread).name}")
    if old.hidden != item.hidden:
        told.append("hidden" if item.hidden else "shown")
    if old.lettering is not None and item.lettering is not None and old.lettering != item.lettering:
        if old.lettering.text != item.lettering.text:
            told.append(f"reads “{' '.join(item.lettering.text.split())[:40]}”")
        if old.lettering.font != item.lettering.font:
            told.append(f"font {old.lettering.font} → {item.lettering.font}")
        told += _of_values(Lettering, old.lettering, item.lettering)
    elif old.shape != item.shape:
        told.append(_moved(old.shape, item.shape))
    if kind_name(old.cover) != kind_name(item.cover):
        told.append(f"{traits_of(old.cover).title.lower()} → {traits_of(item.cover).title.lower()}")
    else:
        told += _of_values(type(item.cover), old.cover, item.cover)
    told += _of_values(type(item.edges), old.edges, item.edges)
    if old.underlay != item.underlay or old.underlay_once != item.underlay_once:
        told.append("another underlay")
    if old.ends != item.ends:
        told.append("other ends")
    if (old.undercut, old.strand, old.step) != (item.undercut, item.strand, item.step):
        told.append("another place among the others")
    if (old.solved is None) != (item.solved is None):
        told.append("edges solved" if item.solved is not None else "edges as the ground says")
    return told


def _of_values(kind: type[Struct], old: Struct, item: Struct) -> list[str]:
    """The declared values that differ, ``spacing 0.40 → 0.38 mm``; what follows the ground is called so."""
    told: list[str] = []
    for value in values_of(kind):
        one, other = (getattr(struct, value.field, None) for struct in (old, item))
        if one == other:
            continue
        unit = UNITS.get(value.unit, "") if value.sort == "number" else ""
        if value.sort == "curve":
            told.append(f"another {value.title.lower()}")
        else:
            told.append(f"{value.title.lower()} {_said(one)} → {_said(other)}{'' if other is None else unit}")
    return told


def _said(value: object) -> str:
    if value is None:
        return "as the ground"
    if isinstance(value, bool):
        return "yes" if value else "no"
    return f"{value:g}" if isinstance(value, int | float) else str(value)


def _moved(old: Shape, new: Shape) -> str:
    """What was done to a shape: moved, where every point of it moved alike, or changed."""
    first, second = (_points(shape) for shape in (old, new))
    if type(old) is not type(new) or len(first) != len(second) or not first:
        return "another shape"
    steps = [(b[0] - a[0], b[1] - a[1]) for a, b in zip(first, second, strict=True)]
    x, y = steps[0]
    if all(math.hypot(dx - x, dy - y) < SAME for dx, dy in steps):
        return f"moved by {math.hypot(x, y):.1f} mm" if math.hypot(x, y) > SAME else "other values of its shape"
    return "another shape"


def _points(shape: Shape) -> list[tuple[float, float]]:
    match shape:
        case Area(path=path) | Line(path=path):
            paths = [path]
        case Column(edge=edge, other_edge=other):
            paths = [edge, other]
    numbers = [n for path in paths for _, values in commands(path) for n in values]
    return list(zip(numbers[::2], numbers[1::2], strict=False))
