"""From a drawing to objects: filled shapes become fills or satins, strokes satins or runs."""

import dataclasses
import math
from dataclasses import dataclass

from msgspec.structs import replace
from shapely import MultiPolygon

from jontel.artwork.choices import FADED, NOTHING_CHOSEN, Choices
from jontel.artwork.drawing import RGB, Drawing, Drawn, Shade, Size
from jontel.artwork.incoming import as_known
from jontel.artwork.picture import MOST_COLOURS, open_picture, read_picture, traced, upright
from jontel.artwork.svg import read_svg
from jontel.design.design import (
    LARGEST_ARTWORK,
    MOST_ARTWORK,
    MOST_OBJECTS,
    Artwork,
    Brief,
    Design,
    StitchObject,
)
from jontel.design.edits import add_objects, named
from jontel.design.errors import CannotRead, CannotStitch
from jontel.design.ground import Ground, Hoop
from jontel.design.kinds import Cover
from jontel.design.kinds.fill import Fill
from jontel.design.kinds.run import Run
from jontel.design.kinds.satin import Satin
from jontel.design.kinds.values import value_of
from jontel.design.lettering import moved_lettering
from jontel.design.paths import commands, ellipse_path, transform_path
from jontel.design.shapes import Area, Line, Shape
from jontel.design.stopping import go_on
from jontel.design.thread import Thread, hex_of, nearest_thread, rgb_of
from jontel.geometry.bands import as_column, reads_as_satin
from jontel.geometry.polyline import flatten, lengths
from jontel.geometry.region import path_of, region_of
from jontel.lettering.setting import words_object

THIN = 0.8
"""Strokes thinner than this, mm, are a running stitch."""
OPENS_TO = 2.4
"""Rows of the upper of two threads that fade into each other stand so far apart, mm, where the lower one is seen."""
LEAST_AREA, LEAST_LENGTH = 0.3, 1.0
WIDTH = value_of(Line, "width")


def read_drawing(data: bytes, name: str) -> Drawing:
    """The drawing in an SVG or a picture file, by its first bytes. Raises ``CannotRead``."""
    return read_picture(data, name) if is_picture(data) else read_svg(as_known(data, name), name)


def is_picture(data: bytes) -> bool:
    """Whether a file is a picture of pixels, by its first bytes."""
    signs = (b"\x89PNG", b"\xff\xd8\xff", b"RIFF", b"BM", b"GIF8", b"II*\x00", b"MM\x00*")
    return any(data.startswith(sign) for sign in signs)


def design_from(
    data: bytes,
    name: str,
    ground: Ground,
    hoop: Hoop,
    chart: tuple[Thread, ...],
    size: Size = Size(),
    colours: int = MOST_COLOURS,
) -> Design:
    """A new design of the drawing in ``data``, centred in the hoop, with the drawing under it."""
    empty = Design(name=name.rsplit(".", 1)[0], brief=Brief(ground, hoop, ()))
    return with_drawing(empty, data, name, chart, size, colours)


@dataclass(frozen=True)
class Digitized:
    """A design with the objects of a drawing, which colour of it each is of by its id, and the drawing's colours.

    Those that are ``shaded`` are the mean of two that run into each other.
    """

    design: Design
    colour_of: dict[int, str]
    colours: tuple[tuple[RGB, bool], ...]
    shaded: frozenset[RGB]


def with_drawing(
    design: Design,
    data: bytes,
    name: str,
    chart: tuple[Thread, ...],
    size: Size = Size(),
    colours: int = MOST_COLOURS,
) -> Design:
    """``design`` with the drawing's shapes added as objects and the drawing itself laid under it.

    Of a picture of pixels at most so many ``colours`` are kept.
    Raises ``CannotRead`` when the file cannot be read or nothing in it can be sewn.
    """
    return drawn_in(design, data, name, chart, size, colours, NOTHING_CHOSEN).design


def drawn_in(
    design: Design,
    data: bytes,
    name: str,
    chart: tuple[Thread, ...],
    size: Size,
    colours: int,
    choices: Choices,
) -> Digitized:
    """``with_drawing`` by what was chosen for its colours. Raises ``CannotRead``."""
    if len(data) > LARGEST_ARTWORK:
        raise CannotRead(f"{name} is over {LARGEST_ARTWORK // 1_000_000} MB; make the picture smaller first.")
    if len(design.artwork) >= MOST_ARTWORK:
        raise CannotRead(f"A design holds at most {MOST_ARTWORK} pictures; take one away before {name} comes in.")
    if is_picture(data):
        image, data = upright(open_picture(data, name), data)
        drawing = traced(image, data, size, colours, choices)
    else:
        data = as_known(data, name)
        drawing = _with_choices(read_svg(data, name), choices)
    scale = size.scale(drawing.width, drawing.height)
    left, top = -drawing.width * scale / 2, -drawing.height * scale / 2
    items: list[StitchObject] = []
    sources: list[str] = []
    threads = {thread.code: thread for thread in design.brief.threads}
    small = tangled = broad = 0
    for drawn in drawing.shapes:
        go_on()
        placed = (scale, 0.0, 0.0, scale, left, top)
        if drawn.words is not None:
            thread = nearest_thread(drawn.fill or (0, 0, 0), chart)
            threads.setdefault(thread.code, thread)
            items.append(words_object(moved_lettering(drawn.words, placed), thread.code))
            sources.append(hex_of(drawn.fill or (0, 0, 0)))
            continue
        path = transform_path(drawn.path, placed)
        try:
            made = _objects(drawn, path, scale, chart, choices)
        except CannotStitch:
            tangled += 1
            continue
        small += not made
        broad += drawn.stroke is not None and drawn.stroke_width * scale > WIDTH.high
        for item, thread, colour in made:
            threads.setdefault(thread.code, thread)
            items.append(item)
            sources.append(hex_of(colour))
    notes = drawing.notes + ((f"{small} × shape too small to sew was left out.",) if small else ())
    if tangled:
        notes += (f"{tangled} × shape that crosses itself in thousands of places was left out: simplify it.",)
    if broad:
        notes += (f"{broad} × stroke came in {WIDTH.high:.0f} mm wide, the widest there is: fill a shape instead.",)
    if len(design.objects) + len(items) > MOST_OBJECTS:
        raise CannotRead(f"{name} would make over {MOST_OBJECTS:,} objects of this design; simplify the drawing.")
    if not items and choices.dropped:
        raise CannotRead(f"All that {name} shows is left out; choose what shall be sewn.")
    if not items:
        why = f" ({notes[0]})" if notes else ""
        raise CannotRead(f"{name} holds nothing that can be sewn{why}; draw filled or stroked shapes.")
    artwork = Artwork(
        name, drawing.media, left, top, drawing.width * scale, drawing.height * scale, data, True, 0.5, notes
    )
    brief = replace(design.brief, threads=tuple(threads.values()))
    made_of = add_objects(replace(design, brief=brief, artwork=(*design.artwork, artwork)), named(items))
    fresh = [item.id for item in made_of.objects[-len(items) :]]
    shaded = frozenset(one.fill for one in drawing.shapes if one.fill is not None and one.shade is not None)
    return Digitized(made_of, dict(zip(fresh, sources, strict=True)), drawing.colours, shaded)


def _with_choices(drawing: Drawing, choices: Choices) -> Drawing:
    """A drawing whose colours are merged and left out as was chosen; ``colours`` are those that it came in with."""
    merged, dropped = choices.merged, choices.dropped

    def chosen(rgb: RGB | None) -> RGB | None:
        colour = None if rgb is None else merged.get(hex_of(rgb), hex_of(rgb))
        return None if colour is None or colour in dropped else rgb_of(colour)

    found: dict[RGB, bool] = {}
    shapes: list[Drawn] = []
    for one in drawing.shapes:
        for rgb in (one.fill, one.stroke):
            if rgb is not None:
                found.setdefault(rgb, False)
        made = dataclasses.replace(one, fill=chosen(one.fill), stroke=chosen(one.stroke))
        if made.fill is not None or made.stroke is not None or (one.words is not None and one.fill is None):
            shapes.append(made)
    return dataclasses.replace(drawing, shapes=tuple(shapes), colours=tuple(found.items()))


def _objects(
    drawn: Drawn, path: str, scale: float, chart: tuple[Thread, ...], choices: Choices
) -> list[tuple[StitchObject, Thread, RGB]]:
    """The objects of a shape, each with its thread and the colour that this is the nearest to."""
    found: list[tuple[StitchObject, Thread, RGB]] = []
    if drawn.fill is not None:
        area = Area(path, drawn.rule)
        if region_of(area).area >= LEAST_AREA:
            if drawn.shade is not None and choices.of_colour(hex_of(drawn.fill)) == FADED:
                found += [
                    (item, thread, drawn.fill) for item, thread in _fading(drawn.name, area, drawn.shade, chart)
                ]
            else:
                thread = nearest_thread(drawn.fill, chart)
                for shape, cover in _covered(area):
                    item = StitchObject(id=0, name=drawn.name, thread=thread.code, shape=shape, cover=cover)
                    found.append((item, thread, drawn.fill))
    if drawn.stroke is None:
        return found
    lines = flatten(path)
    length = sum(float(lengths(one.loop())[-1]) for one in lines)
    dots = _dots(drawn, path, scale) if length < LEAST_LENGTH else None
    if dots is not None:
        thread = nearest_thread(drawn.stroke, chart)
        dot = StitchObject(id=0, name=drawn.name, thread=thread.code, shape=dots, cover=Fill())
        found.append((dot, thread, drawn.stroke))
    elif length + drawn.stroke_width * scale >= LEAST_LENGTH and length > 0:
        thread = nearest_thread(drawn.stroke, chart)
        width = round(drawn.stroke_width * scale, 3)
        line = Line(path, WIDTH.within(max(width, 0.4)), start=drawn.ends, end=drawn.ends)
        cover = Run() if width < THIN else Satin()
        name = f"{drawn.name} outline" if drawn.name and found else drawn.name
        stroke = StitchObject(id=0, name=name, thread=thread.code, shape=line, cover=cover)
        found.append((stroke, thread, drawn.stroke))
    return found


def _fading(name: str, area: Area, shade: Shade, chart: tuple[Thread, ...]) -> list[tuple[StitchObject, Thread]]:
    """A fill in the first colour of a shade, and one in the last over it that closes towards where that is."""
    first, last = nearest_thread(shade.first, chart), nearest_thread(shade.last, chart)
    below = StitchObject(id=0, name=name, thread=first.code, shape=area, cover=Fill())
    closing = Fill(fade="against", fade_to=OPENS_TO, fade_angle=round(shade.angle, 1))
    above = StitchObject(id=0, name=name, thread=last.code, shape=area, cover=closing)
    return [(below, first), (above, last)] if first != last else [(below, first)]


def _covered(area: Area) -> list[tuple[Shape, Cover]]:
    """What an area is sewn as: its narrow parts as satins, the others as fills."""
    region = region_of(area)
    narrow = [reads_as_satin(part) for part in region.geoms]
    if not any(narrow):
        return [(area, Fill())]
    if all(narrow):
        return [(as_column(region) or area, Satin())]
    satin, fill = (
        Area(path_of(MultiPolygon([part for part, one in zip(region.geoms, narrow, strict=True) if one == wanted])))
        for wanted in (True, False)
    )
    return [(fill, Fill()), (satin, Satin())]


def _dots(drawn: Drawn, path: str, scale: float) -> Area | None:
    """The discs that a stroke with round ends paints where its path goes nowhere, if they can be sewn."""
    radius = drawn.stroke_width * scale / 2
    if drawn.ends != "round" or math.pi * radius**2 < LEAST_AREA:
        return None
    spots = [(numbers[-2], numbers[-1]) for letter, numbers in commands(path) if letter == "M"]
    return Area(" ".join(ellipse_path(x, y, radius, radius) for x, y in spots)) if spots else None
