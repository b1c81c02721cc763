"""Lines that came in with a drawing: none sewn twice, and those of one object in an order of few and short ways."""

from collections.abc import Collection

from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects, remove_objects
from jontel.design.kinds.run import Run
from jontel.design.kinds.satin import Satin
from jontel.design.shapes import Line
from jontel.geometry.nodes import Chains, chains_of, path_through
from jontel.geometry.succession import gone_over, in_succession


def drawn_once(design: Design, ids: Collection[int]) -> Design:
    """``design`` without those lines of the objects in ``ids`` that later ones among them go over again, as wide."""
    lines = {item.id: chains_of(_line(item).path) for item in design.objects if item.id in ids and _is_plain(item)}
    gone: set[tuple[int, int]] = set()
    for kind in (Run, Satin):
        some = [item for item in design.objects if item.id in lines and isinstance(item.cover, kind)]
        where = [(item, number) for item in some for number in range(len(lines[item.id]))]
        for at, over in gone_over(tuple(lines[item.id][number] for item, number in where)).items():
            (item, number), (later, _) = where[at], where[over]
            if _line(later).width >= _line(item).width and not later.hidden:
                gone.add((item.id, number))
    left = {one: tuple(c for k, c in enumerate(chains) if (one, k) not in gone) for one, chains in lines.items()}
    some_left = {one: chains for one, chains in left.items() if len(chains) < len(lines[one])}
    made = remove_objects(design, {one for one, chains in some_left.items() if not chains})
    return _drawn(made, {one: chains for one, chains in some_left.items() if chains})


def lines_in_succession(design: Design, ids: Collection[int]) -> Design:
    """``design`` whose objects of several lines in ``ids`` sew them from neighbour to neighbour."""
    free = design.brief.machine.trim_over
    found: dict[int, Chains] = {}
    for item in design.objects:
        if item.id in ids and _is_plain(item):
            chains = chains_of(_line(item).path)
            if len(chains) > 1:
                found[item.id] = in_succession(chains, free)
    return _drawn(design, found)


def _is_plain(item: StitchObject) -> bool:
    """Whether it is nothing to an object which way round its lines are drawn."""
    shape = item.shape
    plain = isinstance(shape, Line) and shape.start == shape.end and not shape.profile and not shape.beside
    return plain and isinstance(item.cover, Run | Satin) and item.lettering is None and item.beneath is None


def _line(item: StitchObject) -> Line:
    assert isinstance(item.shape, Line)
    return item.shape


def _drawn(design: Design, lines: dict[int, Chains]) -> Design:
    def changed(item: StitchObject) -> StitchObject:
        return replace(item, shape=replace(_line(item), path=path_through(lines[item.id])))

    return change_objects(design, set(lines), changed)
