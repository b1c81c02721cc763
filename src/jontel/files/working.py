"""The working file ``.jontel``: a ZIP of ``design.json``, the artwork as given, and a preview."""

import io
import math
import zipfile
import zlib
from collections.abc import Iterator
from typing import Any

import msgspec
from msgspec import Struct
from msgspec.structs import replace

from jontel.design.design import Artwork, Design
from jontel.design.errors import CannotRead
from jontel.design.paths import commands
from jontel.design.ranges import MOST_KNOTS, RANGES
from jontel.design.shapes import Area, Column, Line, Lines, Shape

VERSION = 2
LARGEST_PART = 200_000_000
MOST_PARTS = 64
MOST_OBJECTS = 20_000


class WorkingFile(Struct, frozen=True):
    """What ``design.json`` holds."""

    format: str
    version: int
    design: Design


def encode(design: Design, preview: bytes | None = None) -> bytes:
    """The bytes of a working file."""
    bare = replace(design, artwork=tuple(replace(one, data=b"") for one in design.artwork))
    document = msgspec.json.format(msgspec.json.encode(WorkingFile("jontel", VERSION, bare)), indent=1)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        _put(archive, "design.json", document)
        for number, one in enumerate(design.artwork):
            _put(archive, _artwork_name(number, one), one.data)
        if preview is not None:
            _put(archive, "preview.png", preview)
    return out.getvalue()


def _put(archive: zipfile.ZipFile, name: str, data: bytes) -> None:
    """A part with a fixed date, so that the same design makes the same bytes."""
    info = zipfile.ZipInfo(name, (2020, 1, 1, 0, 0, 0))
    info.compress_type = zipfile.ZIP_DEFLATED
    archive.writestr(info, data)


def _artwork_name(number: int, one: Artwork) -> str:
    return f"artwork/{number}.{one.media}"


def decode(data: bytes, name: str) -> Design:
    """The design in the bytes of a working file. Raises ``CannotRead`` with the reason."""
    if not data:
        raise CannotRead(f"{name} is empty; open an earlier copy of it.")
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if len(archive.infolist()) > MOST_PARTS:
                raise CannotRead(f"{name} holds far more parts than a design has; it is not a working file.")
            design = _document(_part(archive, "design.json", name), name)
            artwork = tuple(
                replace(one, data=_part(archive, _artwork_name(number, one), name))
                for number, one in enumerate(design.artwork)
            )
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError, OSError) as error:
        raise CannotRead(f"{name} is not a working file, or it is cut short; open an earlier copy of it.") from error
    return replace(design, artwork=artwork)


def _part(archive: zipfile.ZipFile, part: str, name: str) -> bytes:
    try:
        info = archive.getinfo(part)
    except KeyError as error:
        raise CannotRead(f"{name} is not a working file: its part {part} is missing.") from error
    if info.file_size > LARGEST_PART:
        raise CannotRead(
            f"{name} would unpack to {info.file_size / 1e6:.0f} MB, which no design does; it was not opened."
        )
    with archive.open(info) as file:
        found = file.read(LARGEST_PART + 1)
    if len(found) > LARGEST_PART:
        raise CannotRead(f"{name} unpacks to far more than it says; it was not opened.")
    return found


def _document(data: bytes, name: str) -> Design:
    try:
        head: Any = msgspec.json.decode(data)
        version = head.get("version") if isinstance(head, dict) else None
        if not isinstance(version, int) or head.get("format") != "jontel":
            raise CannotRead(f"{name} is not a working file of Jontel; choose another.")
        if version > VERSION:
            raise CannotRead(f"{name} was made by a newer Jontel (format {version}); update Jontel to open it.")
        found = msgspec.convert(head, WorkingFile).design
    except (msgspec.DecodeError, RecursionError) as error:
        where = str(error).split(" - at ")[-1].strip("`") if " - at " in str(error) else "its text"
        raise CannotRead(f"{name} is damaged at {where}; open an earlier copy of it.") from error
    check(found, name)
    return found


def check(design: Design, name: str) -> None:
    """Raise ``CannotRead`` when a value in ``design`` makes no sense, naming the object."""
    if len(design.objects) > MOST_OBJECTS:
        raise CannotRead(f"{name} holds over {MOST_OBJECTS:,} objects; split the design.")
    ids = [item.id for item in design.objects]
    if len(set(ids)) != len(ids) or (ids and max(ids) >= design.next_id):
        raise CannotRead(f"{name} is damaged: two objects have the same number; open an earlier copy of it.")
    for item in design.objects:
        try:
            _check_shape(item.shape)
        except CannotRead as error:
            raise CannotRead(f"{name} is damaged in “{item.name}”: {str(error).rstrip('.')}.") from error
        for field, value in _numbers(item.cover, item.edges, item.shape, *(item.underlay or ())):
            low, high = RANGES.get(field, (-1e4, 1e4))
            if not low <= value <= high:
                raise CannotRead(f"{name} is damaged in “{item.name}”: its {field} is {value:g}; correct it.")
    if not 0 <= design.least_stitch <= RANGES["least_stitch"][1]:
        raise CannotRead(f"{name} merges stitches under {design.least_stitch:g} mm, which leaves none; correct it.")
    for one in (design.brief.hoop.width, design.brief.hoop.height):
        if not 1 <= one <= 5_000:
            raise CannotRead(f"{name} names a hoop {one:g} mm wide; choose a real one.")


def _check_shape(shape: Shape) -> None:
    """Raise ``CannotRead`` for a shape that leaves the cloth."""
    lines: Lines = ()
    match shape:
        case Area(path=path, lines=lines, guide=guide):
            paths = [path] if guide is None else [path, guide]
        case Line(path=path, profile=profile):
            paths = [path]
            if len(profile) > MOST_KNOTS or any(not 0 <= v <= 10 for knot in profile for v in knot):
                raise CannotRead("its width profile makes no sense")
        case Column(edge=edge, other_edge=other, lines=lines):
            paths = [edge, other]
    for path in paths:
        if any(not math.isfinite(v) or abs(v) > 1e5 for _, numbers in commands(path) for v in numbers):
            raise CannotRead("an outline leaves the cloth")
    if len(lines) > MOST_KNOTS or any(not math.isfinite(v) or abs(v) > 1e5 for p, q in lines for v in (*p, *q)):
        raise CannotRead("a direction line leaves the cloth")


def _numbers(*structs: Struct) -> Iterator[tuple[str, float]]:
    for struct in structs:
        for field in struct.__struct_fields__:
            value = getattr(struct, field)
            if isinstance(value, int | float) and not isinstance(value, bool):
                yield field, float(value)
            elif field == "fade_profile" and value is not None:
                yield from (("profile", float(v)) for knot in value[: MOST_KNOTS + 1] for v in knot)
                yield "knots", float(len(value))
