"""Which ending is which format, for writing; shops add their own through an entry-point group."""

import io
import zipfile
from collections.abc import Callable
from dataclasses import dataclass
from importlib import metadata
from pathlib import Path

from jontel.data import thread_chart
from jontel.design.design import Design
from jontel.design.errors import CannotRead, CannotWrite
from jontel.design.ground import Ground, Hoop
from jontel.design.shapes import Point
from jontel.files import gcode, stitchlist, svgout, working
from jontel.files.atomic import read_whole, write_whole
from jontel.machine.head import Movement
from jontel.sewing.mending import from_stitch, only
from jontel.sewing.plan import SewPlan, plan

GROUP = "jontel.stitch_formats"
Writer = Callable[[SewPlan, Design], bytes]


@dataclass(frozen=True)
class Format:
    """A format that can be written. ``write`` takes the plan and the design and returns the file's bytes."""

    ending: str
    title: str
    write: Writer


def _working(sewn: SewPlan, design: Design) -> bytes:
    from jontel.files import picture

    return working.encode(design, picture.preview(sewn, design))


def _png(sewn: SewPlan, design: Design) -> bytes:
    from jontel.files import picture

    return picture.png(sewn, design)


def _sheet(sewn: SewPlan, design: Design) -> bytes:
    from jontel.files import sheet  # what lays out a page is slow to load

    return sheet.write(sewn, design)


def stem_of(design: Design) -> str:
    """What files of a design are called, without their endings: its name, as far as every system can write it."""
    return "".join(sign if sign.isalnum() or sign in " -_." else "-" for sign in design.name).strip() or "design"


def _template(sewn: SewPlan, design: Design) -> bytes:
    from jontel.files import template

    return template.write(sewn, design)


def _approval(sewn: SewPlan, design: Design) -> bytes:
    from jontel.files import approval

    return approval.write(sewn, design)


def _job(sewn: SewPlan, design: Design) -> bytes:
    """Every other built-in format of the design, together."""
    stem = stem_of(design)
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w", zipfile.ZIP_DEFLATED) as folder:
        for one in BUILT_IN:
            if one.ending != JOB:
                entry = zipfile.ZipInfo(f"{stem}/{stem}{one.ending}", (2000, 1, 1, 0, 0, 0))
                entry.compress_type = zipfile.ZIP_DEFLATED
                folder.writestr(entry, one.write(sewn, design))
    return held.getvalue()


JOB = ".zip"
BUILT_IN = (
    Format(".jontel", "working file", _working),
    Format(".csv", "stitch list", stitchlist.write),
    Format(".ngc", "machine file", gcode.write),
    Format(".svg", "stitches as vectors", svgout.stitches),
    Format(".png", "picture", _png),
    Format(".pdf", "production sheet", _sheet),
    Format(".template.pdf", "template at true size", _template),
    Format(".approval.pdf", "sheet for approval", _approval),
    Format(JOB, "all of these together", _job),
)


def formats() -> dict[str, Format]:
    """All formats by ending: the built-in ones and those that installed packages add.

    An added one is a ``Format`` under the entry-point group ``jontel.stitch_formats``.
    """
    found = {one.ending: one for one in BUILT_IN}
    for entry in metadata.entry_points(group=GROUP):
        added = entry.load()
        if isinstance(added, Format):
            found.setdefault(added.ending, added)
    return found


def format_of(path: Path) -> Format:
    """The format that a file name asks for by the longest ending that is one. Raises ``CannotWrite``."""
    known = formats()
    endings = [ending for ending in known if path.name.lower().endswith(ending)]
    if not endings:
        raise CannotWrite(f"{path.name} has no ending that Jontel writes; use one of {' '.join(known)}.")
    return known[max(endings, key=len)]


@dataclass(frozen=True)
class Part:
    """What of a design is sewn again: objects in ``ids``, or from a ``stitch`` on, by way of a ``known`` place."""

    ids: frozenset[int] = frozenset()
    stitch: int = 0
    known: Point = (0.0, 0.0)

    def of(self, sewn: SewPlan) -> SewPlan:
        """That part of a plan. Raises ``CannotDo``."""
        if self.ids:
            return only(sewn, self.ids, self.known)
        return from_stitch(sewn, self.stitch, self.known) if self.stitch > 1 else sewn


def export(design: Design, path: Path, part: Part | None = None) -> None:
    """Write ``design``, or a part of it, in the format of the ending of ``path``. Raises ``CannotWrite``."""
    kind = format_of(path)
    sewn = plan(design)
    if part is not None:
        if kind.ending == ".jontel":
            raise CannotWrite("A working file holds the whole design; write a part as a stitch file.")
        sewn = part.of(sewn)
    if not len(sewn) and kind.ending != ".jontel":
        raise CannotWrite(f"{path.name} would be empty: the design has no stitches yet; add an object first.")
    write_whole(path, kind.write(sewn, design))


def open_design(path: Path) -> Design:
    """The design in a working file. Raises ``CannotRead``."""
    return working.decode(read_whole(path), path.name)


def recover_design(path: Path, ground: Ground, hoop: Hoop) -> Design:
    """The objects of a stitch file as a design. Raises ``CannotRead``."""
    from jontel.recovering.recover import recovered  # loaded where it is wanted

    return recovered(read_movements(path), path.name, ground, hoop, thread_chart())


def stitches_as_design(path: Path, ground: Ground, hoop: Hoop) -> Design:
    """The needle points of a stitch file as a design of stitches. Raises ``CannotRead``."""
    from jontel.recovering.stitches import as_they_are  # loaded where it is wanted

    return as_they_are(read_movements(path), path.name, ground, hoop, thread_chart())


def is_stitch_file(path: Path) -> bool:
    """Whether a file is one of needle movements, by its ending."""
    return path.suffix.lower() in (".csv", ".ngc")


def read_movements(path: Path) -> list[Movement]:
    """The needle movements of a stitch file. Raises ``CannotRead``."""
    return movements_in(read_whole(path), path.name)


def movements_in(data: bytes, name: str) -> list[Movement]:
    """The needle movements in the bytes of a stitch file, by the ending of its name. Raises ``CannotRead``."""
    match Path(name).suffix.lower():
        case ".csv":
            return stitchlist.read(data, name)
        case ".ngc":
            return gcode.read(data, name)
    raise CannotRead(f"{name} is not a stitch file; use a stitch list .csv or a machine file .ngc.")
