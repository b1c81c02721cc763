"""One row of a list in a design: which letters it fills, how it fits, and the files that follow, in any process."""

import functools
import re
import unicodedata
from collections.abc import Sequence
from pathlib import PurePath

from msgspec import Struct
from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import add_objects, transform_objects
from jontel.design.errors import CannotRead, JontelError
from jontel.design.lettering import MOST_SIGNS, Lettering
from jontel.design.shapes import Area
from jontel.files.formats import format_of
from jontel.files.working import decode
from jontel.lettering.fonts import open_font
from jontel.lettering.setting import held_to_length, lettered, set_in
from jontel.sewing.estimate import totals
from jontel.sewing.plan import SewPlan, plan
from jontel.sewing.proof.hoop import outside_by

PLACE = re.compile(r"\{([^{}]+)\}")
LEAST_PART = 0.6
"""Letters that do not fit are set smaller down to this part of their height, where nobody says a height."""
OUTSIDE = 0.05
"""A name may lie outside the hoop by so much, mm."""
LONGEST_STEM = 40


class Order(Struct, frozen=True):
    """What is made of every row: which letters are filled with what text, held to which length and least height.

    ``fields`` are ids of objects and texts with ``{column}`` in them. ``longest`` and ``least`` are mm; 0 is what the
    letters themselves say, and ``LEAST_PART`` of their height.
    """

    columns: tuple[str, ...]
    fields: tuple[tuple[int, str], ...]
    endings: tuple[str, ...]
    longest: float = 0.0
    least: float = 0.0
    digits: int = 3


class Outcome(Struct, frozen=True):
    """What became of a row: its files by ending, or why there are none. Sizes in mm."""

    row: int
    name: str
    status: str
    told: str = ""
    stem: str = ""
    stitches: int = 0
    seconds: float = 0.0
    width: float = 0.0
    height: float = 0.0
    letters: float = 0.0
    files: dict[str, bytes] = {}


class _Refused(Exception):
    """A row that cannot be sewn: its status, and a sentence."""

    def __init__(self, status: str, told: str) -> None:
        super().__init__(told)
        self.status = status


def fields_of(design: Design, columns: Sequence[str], field: str = "") -> tuple[tuple[int, str], ...]:
    """Which letters of a design are filled, and with what.

    Those of an object called ``field``; else those that hold ``{column}``; else those of objects that are called like
    a column; else the only ones. Raises ``CannotRead`` where that is nothing.
    """
    words = [(item, item.lettering) for item in design.objects if item.lettering is not None]
    by_name = {column.lower(): column for column in columns if column}
    if not words:
        raise CannotRead(f"“{design.name}” has no lettering that a name could fill; type a sample name into it.")
    if field:
        named = [item.id for item, _ in words if item.name.lower() == field.lower()]
        if not named:
            known = ", ".join(f"“{item.name}”" for item, _ in words)
            raise CannotRead(f"“{design.name}” has no lettering called “{field}”; it has {known}.")
        return tuple((one, "{" + by_name.get(field.lower(), columns[0]) + "}") for one in named)
    placed = [(item.id, one.text) for item, one in words if _known_places(one.text, by_name)]
    if placed:
        return tuple(placed)
    alike = [(item.id, "{" + by_name[item.name.lower()] + "}") for item, _ in words if item.name.lower() in by_name]
    if alike:
        return tuple(alike)
    if len(words) == 1:
        return ((words[0][0].id, "{" + columns[0] + "}"),)
    raise CannotRead(
        f"“{design.name}” has several letterings; write {{{columns[0]}}} where the name shall stand, "
        "call an object like a column, or give --field NAME."
    )


def _known_places(text: str, columns: dict[str, str]) -> bool:
    return any(match.group(1).strip().lower() in columns for match in PLACE.finditer(text))


def worked(data: bytes, order: Order, rows: Sequence[tuple[int, tuple[str, ...]]]) -> list[Outcome]:
    """What becomes of rows, each with its number: a pure function of its arguments, wherever it runs."""
    return [_outcome(data, order, number, cells) for number, cells in rows]


def worked_together(data: bytes, order: Order, hoopfuls: Sequence["Hoopful"]) -> list[Outcome]:
    """The files of several rows in one hoop."""
    return [_together(data, order, one) for one in hoopfuls]


class Hoopful(Struct, frozen=True):
    """Rows in one hoop: the number of that, and for each row its number, its cells and where its middle lies, mm."""

    number: int
    rows: tuple[tuple[int, tuple[str, ...], tuple[float, float]], ...]


@functools.lru_cache(maxsize=2)
def _base(data: bytes) -> tuple[Design, SewPlan]:
    """The design, and its plan, which those of the rows start from: what a row leaves as it is is known."""
    design = decode(data, "design.jontel")
    return design, plan(design)


def _outcome(data: bytes, order: Order, number: int, cells: tuple[str, ...]) -> Outcome:
    design, before = _base(data)
    name = " ".join(_texts(order, cells)[0].split())
    stem = f"{number:0{order.digits}d}-{_slug(name)}"
    try:
        made = filled(design, order, cells)
        sewn = plan(made, before)
        if sewn.failures:
            raise _Refused("cannot be stitched", sewn.failures[0].sentence)
        if not _inside(made, sewn):
            raise _Refused("does not fit", f"“{name}” reaches beyond the hoop {made.brief.hoop.name}.")
        files = _files(order, sewn, made)
    except _Refused as refused:
        return Outcome(number, name, refused.status, str(refused), stem)
    except JontelError as error:
        return Outcome(number, name, "cannot be sewn", str(error), stem)
    least = min(one.lettering.height for one in _filled_items(made, order) if one.lettering is not None)
    return _measured(Outcome(number, name, "sewn", stem=stem, letters=round(least, 2), files=files), sewn)


def _together(data: bytes, order: Order, hoopful: Hoopful) -> Outcome:
    design, _ = _base(data)
    whole = replace(design, name=f"{design.name} · hoop {hoopful.number}", objects=(), artwork=())
    for number, cells, (x, y) in hoopful.rows:
        made = filled(design, order, cells)
        made = transform_objects(made, {item.id for item in made.objects}, (1.0, 0.0, 0.0, 1.0, x, y))
        items = [replace(item, name=f"{number} {item.name}"[:80]) for item in made.objects if item.beneath is None]
        whole = add_objects(whole, items)
    sewn = plan(whole)
    stem = f"hoop-{hoopful.number:0{order.digits}d}"
    name = ", ".join(str(row[0]) for row in hoopful.rows)
    if sewn.failures:
        return Outcome(hoopful.number, name, "cannot be stitched", sewn.failures[0].sentence, stem)
    return _measured(Outcome(hoopful.number, name, "sewn", stem=stem, files=_files(order, sewn, whole)), sewn)


def _files(order: Order, sewn: SewPlan, design: Design) -> dict[str, bytes]:
    """The wanted files of a plan, by ending."""
    return {ending: format_of(PurePath(f"a{ending}")).write(sewn, design) for ending in order.endings}  # type: ignore[arg-type]


def _measured(outcome: Outcome, sewn: SewPlan) -> Outcome:
    """An outcome with what is counted of its plan."""
    sums = totals(sewn)
    width, height = round(sums.width, 2), round(sums.height, 2)
    return replace(outcome, stitches=sums.stitches, seconds=round(sums.seconds, 1), width=width, height=height)


def filled(design: Design, order: Order, cells: tuple[str, ...]) -> Design:
    """``design`` with a row's cells in its letters, narrower and then smaller where they are too long."""
    texts = dict(zip((one for one, _ in order.fields), _texts(order, cells), strict=True))
    objects = []
    for item in design.objects:
        if item.id in texts and item.lettering is not None:
            item = _fitted(item, item.lettering, texts[item.id], order)
            if item.lettering is not None and item.lettering.part and not _path(item):
                continue  # the letters that were to have this thread are not in a shorter name
        objects.append(item)
    first = " ".join(next(iter(texts.values())).split())
    return replace(design, name=f"{design.name} · {first}"[:200], objects=tuple(objects))


def _path(item: StitchObject) -> str:
    return item.shape.path if isinstance(item.shape, Area) else ""


def _texts(order: Order, cells: tuple[str, ...]) -> list[str]:
    known = {column.lower(): cell for column, cell in zip(order.columns, cells, strict=True)}
    return [PLACE.sub(lambda match: known.get(match.group(1).strip().lower(), match.group(0)), text)
            for _, text in order.fields]  # fmt: skip


def _filled_items(design: Design, order: Order) -> list[StitchObject]:
    return [item for item in design.objects if item.id in dict(order.fields)]


def _fitted(item: StitchObject, words: Lettering, text: str, order: Order) -> StitchObject:
    if not text.strip():
        raise _Refused("is empty", f"There is nothing for “{item.name}” in this row.")
    if len(text) > MOST_SIGNS:
        raise _Refused("does not fit", f"“{text[:30]}…” has over {MOST_SIGNS:,} signs.")
    font = open_font(words.font)
    wanted = replace(words, text=text, longest=order.longest or words.longest)
    shown = held_to_length(wanted, font)
    least = order.least or LEAST_PART * words.height
    if shown.height < least - 1e-6:
        raise _Refused(
            "does not fit",
            f"“{text}” would have to be {shown.height:.1f} mm high to be no longer than {wanted.longest:g} mm; "
            f"{least:.1f} mm is the least.",
        )
    missing = set_in(shown, font).missing
    if missing:
        raise _Refused("lacks signs", f"“{words.font}” has no {', '.join(missing)} for “{text}”.")
    return lettered(replace(item, name=text[:80].strip() or item.name), shown)


def _inside(design: Design, sewn: SewPlan) -> bool:
    """Whether every needle point lies in the hoop."""
    points = sewn.xy[sewn.sewn()]
    return not len(points) or float(outside_by(design.brief.hoop, points).max()) < OUTSIDE


def _slug(name: str) -> str:
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    return re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:LONGEST_STEM] or "name"
