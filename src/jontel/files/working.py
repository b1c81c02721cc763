"""The working file ``.jontel``: a ZIP of ``design.json``, the artwork as given, and a preview."""

import io
import itertools
import math
import re
import zipfile
import zlib
from collections.abc import Iterator
from typing import Any

import msgspec
from msgspec import Struct
from msgspec.structs import replace

from jontel.design.design import LARGEST_ARTWORK, MOST_ARTWORK, MOST_VERSIONS, Artwork, Design, StitchObject
from jontel.design.errors import CannotRead, CannotWrite
from jontel.design.kinds import COVERS
from jontel.design.kinds.values import values_of
from jontel.design.paths import commands
from jontel.design.shapes import FARTHEST, Area, Column, Line, Shape
from jontel.files.upgrades import VERSION, upgraded

LARGEST_DOCUMENT = 200_000_000
MOST_PARTS = MOST_ARTWORK + MOST_VERSIONS + 4
LARGEST_PHOTO = 20_000_000
EARLIER = "open an earlier copy of it"


class WorkingFile(Struct, frozen=True):
    """What ``design.json`` holds."""

    format: str
    version: int
    design: Design


def encode(design: Design, preview: bytes | None = None) -> bytes:
    """The bytes of a working file. Raises ``CannotWrite`` for a design that could not be read again."""
    check(design)
    document = msgspec.json.format(_document_of(design), indent=1)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        _put(archive, "design.json", document)
        for number, one in enumerate(design.artwork):
            _put(archive, _artwork_name(number, one), one.data)
        for number, version in enumerate(design.versions):
            if version.photo:
                _put(archive, _photo_name(number), version.photo)
        if preview is not None:
            _put(archive, "preview.png", preview)
    return out.getvalue()


def _document_of(design: Design) -> bytes:
    bare = replace(
        design,
        artwork=tuple(replace(one, data=b"") for one in design.artwork),
        versions=tuple(replace(one, photo=b"") for one in design.versions),
    )
    return msgspec.json.encode(WorkingFile("jontel", VERSION, bare))


def check(design: Design) -> None:
    """Raise ``CannotWrite`` for a design that ``decode`` would refuse, naming the object and the value."""
    if any(len(version.photo) > LARGEST_PHOTO for version in design.versions):
        raise CannotWrite(f"A photo is over {LARGEST_PHOTO // 1_000_000} MB; make it smaller.")
    for one in design.artwork:
        if len(one.data) > LARGEST_ARTWORK:
            raise CannotWrite(f"{one.name} is over {LARGEST_ARTWORK // 1_000_000} MB; make the picture smaller.")
    document = _document_of(design)
    try:
        if len(document) > LARGEST_DOCUMENT:
            raise CannotRead(f"its outlines take over {LARGEST_DOCUMENT // 1_000_000} MB; simplify them")
        again = _design_in(msgspec.json.decode(document))
        changed = next((a.name for a, b in zip(design.objects, again.objects, strict=True) if a != b), None)
        if changed is not None:  # JSON has no word for what is not a number, and writes nothing instead
            raise CannotRead(f"“{changed}”: one of its values is not a number")
    except CannotRead as error:
        raise CannotWrite(f"“{design.name[:80]}” cannot be kept: {str(error).rstrip('.')}.") from error


def _put(archive: zipfile.ZipFile, name: str, data: bytes) -> None:
    """A part with a fixed date, so that the same design makes the same bytes; pictures are packed already."""
    info = zipfile.ZipInfo(name, (2020, 1, 1, 0, 0, 0))
    packed = name.endswith((".png", ".jpeg", ".webp"))
    info.compress_type = zipfile.ZIP_STORED if packed else zipfile.ZIP_DEFLATED
    archive.writestr(info, data, compresslevel=None if packed else 4)


def _artwork_name(number: int, one: Artwork) -> str:
    return f"artwork/{number}.{one.media}"


def _photo_name(number: int) -> str:
    return f"versions/{number}.jpeg"


def decode(data: bytes, name: str) -> Design:
    """The design in the bytes of a working file. Raises ``CannotRead`` with the reason."""
    if not data:
        raise CannotRead(f"{name} is empty; {EARLIER}.")
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if len(archive.infolist()) > MOST_PARTS:
                raise CannotRead(f"{name} holds far more parts than a design has; it is not a working file.")
            design = _document(_part(archive, "design.json", name, LARGEST_DOCUMENT), name)
            artwork = tuple(
                replace(one, data=_part(archive, _artwork_name(number, one), name, LARGEST_ARTWORK))
                for number, one in enumerate(design.artwork)
            )
            there = set(archive.namelist())
            versions = tuple(
                replace(one, photo=_part(archive, _photo_name(number), name, LARGEST_PHOTO))
                if _photo_name(number) in there
                else one
                for number, one in enumerate(design.versions)
            )
    except CannotRead:
        raise
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError, OSError) as error:
        raise CannotRead(f"{name} is not a working file, or it is cut short; {EARLIER}.") from error
    except (ValueError, TypeError, IndexError, KeyError, OverflowError, MemoryError) as error:
        # zipfile trusts the numbers and names in an archive's directory: a damaged one raises nearly anything
        raise CannotRead(f"{name} is damaged in its directory; {EARLIER}.") from error
    return replace(design, artwork=artwork, versions=versions)


def _part(archive: zipfile.ZipFile, part: str, name: str, largest: int) -> bytes:
    try:
        info = archive.getinfo(part)
    except KeyError as error:
        raise CannotRead(f"{name} is not a working file: its part {part} is missing.") from error
    if info.file_size > largest:
        raise CannotRead(
            f"{name} would unpack to {info.file_size / 1e6:.0f} MB, which no design does; it was not opened."
        )
    with archive.open(info) as file:
        found = file.read(largest + 1)
    if len(found) > largest:
        raise CannotRead(f"{name} unpacks to far more than it says; it was not opened.")
    return found


def _document(data: bytes, name: str) -> Design:
    try:
        head: Any = msgspec.json.decode(data)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        raise CannotRead(f"{name} is damaged at its text; {EARLIER}.") from error
    version = head.get("version") if isinstance(head, dict) else None
    if type(version) is not int or head.get("format") != "jontel":
        raise CannotRead(f"{name} is not a working file of Jontel; choose another.")
    if version > VERSION:
        raise CannotRead(f"{name} was made by a newer Jontel (format {version}); update Jontel to open it.")
    try:
        return _design_in(upgraded(head, version))
    except CannotRead as error:
        raise CannotRead(f"{name} is damaged: {str(error).rstrip('.')}; {EARLIER}.") from error


def _design_in(head: Any) -> Design:
    """The design of a document of this version. Raises ``CannotRead`` with what is wrong and where."""
    try:
        found = msgspec.convert(head, WorkingFile).design
    except (msgspec.ValidationError, RecursionError) as error:
        raise CannotRead(_in_words(str(error), head)) from error
    for version in found.versions:
        if version.state.versions or version.state.artwork:
            raise CannotRead(f"the state “{version.name[:80]}” holds what no state does")
        _check(version.state)
    _check(found)
    return found


def _check(found: Design) -> None:
    """What no type can say of a design. Raises ``CannotRead``."""
    for one in found.artwork:
        left, top, right, low = one.look.crop
        if right <= left or low <= top:
            raise CannotRead(f"nothing is left of the picture “{one.name[:80]}”")
        for patch in one.look.patches:
            spots = [value for _, numbers in commands(patch.path) for value in numbers]
            if any(not math.isfinite(value) or abs(value) > FARTHEST for value in spots):
                raise CannotRead(f"an outline over the picture “{one.name[:80]}” leaves the cloth")
    ids = [item.id for item in found.objects]
    if len(set(ids)) != len(ids) or (ids and max(ids) >= found.next_id):
        raise CannotRead("two objects have the same number")
    codes = [thread.code for thread in found.brief.threads]
    if len(set(codes)) != len(codes):
        raise CannotRead("two threads have the same code")
    kinds = [one.__struct_config__.tag for one in found.brief.ground.covers]
    if len(set(kinds)) != len(kinds):
        raise CannotRead(f"the ground “{found.brief.ground.name}” has two recipes of one kind")
    for item in found.objects:
        _check_object(item)


def _check_object(item: StitchObject) -> None:
    """What no type can say: the outlines are path data on the cloth, profiles go forward."""
    try:
        line = item.lettering.line if item.lettering is not None else ""
        own = _paths(item.solved.shape) if item.solved is not None else ()
        for path in (*_paths(item.shape), *own, line):
            if any(not math.isfinite(v) or abs(v) > FARTHEST for _, numbers in commands(path) for v in numbers):
                raise CannotRead("an outline leaves the cloth")
    except CannotRead as error:
        raise CannotRead(f"“{item.name[:80]}”: {str(error).rstrip('.')}") from error
    for struct in (item.cover, item.shape):
        for value in values_of(type(struct)):
            knots = getattr(struct, value.field)
            if value.sort == "curve" and knots and any(q[0] < p[0] for p, q in itertools.pairwise(knots)):
                raise CannotRead(f"“{item.name[:80]}”: its {value.title.lower()} runs backwards")


def _paths(shape: Shape) -> Iterator[str]:
    match shape:
        case Area(path=path, guide=guide):
            yield path
            if guide is not None:
                yield guide
        case Line(path=path):
            yield path
        case Column(edge=edge, other_edge=other):
            yield from (edge, other)


_STEP = re.compile(r"\.(\w+)|\[(\d+|\.\.\.)\]")
_NAMES = {"lines": "direction lines"} | {
    value.field: value.title.lower()
    for struct in (Line, *(kind.recipe for kind in COVERS))
    for value in values_of(struct)
}


def _in_words(message: str, head: Any) -> str:
    """A decoder's complaint with the object and the value that it is about."""
    what, _, place = message.partition(" - at ")
    at: Any = head
    owner, field = "", ""
    for match in _STEP.finditer(place.strip("`")):
        key = match.group(1) or match.group(2)
        if isinstance(at, dict):
            at, field = at.get(key), key
        elif isinstance(at, list) and key.isdigit() and int(key) < len(at):
            at = at[int(key)]
        else:
            at = None
        if isinstance(at, dict) and isinstance(at.get("name"), str) and at["name"]:
            owner = f"{key} " if key in ("hoop", "ground", "machine") else ""
            owner += f"“{at['name'][:80]}”"
    value = f" is {str(at)[:40]}" if isinstance(at, int | float | str) and not isinstance(at, bool) else ""
    whose = f"{owner}: its " if owner else "its "
    named = _NAMES.get(field, field.replace("_", " ")) or "text"
    return f"{whose}{named}{value} ({what[:1].lower()}{what[1:120]})"
