"""Outlines changed one by one: offset, rounded, simplified, without holes, the other way round."""

from collections.abc import Callable
from typing import Annotated

import shapely
from msgspec import Struct
from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import add_objects, change_objects
from jontel.design.errors import CannotDo
from jontel.design.kinds.values import Group, number, word, yes_no
from jontel.design.shapes import Area, Line
from jontel.geometry.bending import reversed_way, rounded
from jontel.geometry.bending import simplified as with_fewer_nodes
from jontel.geometry.combining import Round, drawn_again, fine_region, grown
from jontel.geometry.nodes import Chains, chains_of, path_through
from jontel.geometry.region import polygons_of
from jontel.shaping.covers import sewn_as
from jontel.shaping.outlines import Ids, Made, chains_in, may_bend, region_in, with_chains

OUTLINE = Group("Outline", open=True)


class Offset(Struct, frozen=True):
    """How far out (in, below 0), how often, with which corners; as areas or as lines, of which threads."""

    by: Annotated[float, number("Outwards by", -200.0, 200.0, "length", 0.5, OUTLINE)] = 2.0
    copies: Annotated[int, number("Copies", 1, 60, "count", 1, OUTLINE)] = 1
    corners: Annotated[Round, word("Corners", OUTLINE)] = "round"
    lines: Annotated[bool, yes_no("As lines", OUTLINE)] = False
    threads: Annotated[bool, yes_no("Each with the next thread", OUTLINE)] = False


class RoundOff(Struct, frozen=True):
    """The radius of a corner."""

    radius: Annotated[float, number("Radius", 0.1, 500.0, "length", 0.5, OUTLINE)] = 2.0


class Simplify(Struct, frozen=True):
    """How far the outline may move."""

    within: Annotated[float, number("Within", 0.005, 5.0, "length", 0.02, OUTLINE)] = 0.1


def offset(design: Design, ids: Ids, values: Struct | None) -> Made:
    """Copies farther out (sewn before their object, the outermost first) or farther in (sewn after it)."""
    assert isinstance(values, Offset)
    if values.by == 0:
        raise CannotDo("An offset of nothing is the same outline; type how far out, or in below 0.")
    codes = [thread.code for thread in design.brief.threads]
    made: list[int] = []
    for item in [one for one in design.objects if one.id in ids]:
        region = region_in(item)
        fresh: list[StitchObject] = []
        for step in range(1, values.copies + 1):
            out = grown(region, step * values.by, values.corners)
            if out.is_empty:
                break
            path = drawn_again(out)
            shape = Line(path) if values.lines else Area(path)
            plain = plain_copy(item, f"{item.name} offset {step}", shape)
            if values.threads and item.thread in codes:
                plain = replace(plain, thread=codes[(codes.index(item.thread) + step) % len(codes)])
            fresh.append(plain)
        if not fresh:
            raise CannotDo(f"Nothing is left of “{item.name}” {abs(values.by):g} mm farther in; take less.")
        at = design.place_of(item.id)
        made += range(design.next_id, design.next_id + len(fresh))
        design = add_objects(design, fresh[::-1] if values.by > 0 else fresh, at if values.by > 0 else at + 1)
    return design, frozenset(made)


def plain_copy(item: StitchObject, name: str, shape: Area | Line) -> StitchObject:
    """A new object like ``item`` on another shape: its build-up where the shape takes it, none of its places."""
    bare = replace(
        item, id=0, name=name[:80], lettering=None, monogram=None, figure=None, beneath=None,
        ends=replace(item.ends, entry=None, exit=None, stop=None),
    )  # fmt: skip
    return sewn_as(bare, shape)


def _bent(design: Design, ids: Ids, change: Callable[[Chains], Chains]) -> Made:
    def changed(item: StitchObject) -> StitchObject:
        may_bend(item)
        before = chains_in(item.shape)
        after = change(before)
        return item if after == before else with_chains(item, after)

    return change_objects(design, ids, changed), ids


def rounded_off(design: Design, ids: Ids, values: Struct | None) -> Made:
    """Every corner of over 15 degrees rounded."""
    assert isinstance(values, RoundOff)
    return _bent(design, ids, lambda chains: rounded(chains, values.radius))


def simplified(design: Design, ids: Ids, values: Struct | None) -> Made:
    """The same outlines with as few nodes as stay near enough."""
    assert isinstance(values, Simplify)
    return _bent(design, ids, lambda chains: with_fewer_nodes(chains, values.within))


def holes_filled(design: Design, ids: Ids, _values: Struct | None) -> Made:
    """Areas without their holes; outer rings stay as they are drawn."""
    filled = 0

    def changed(item: StitchObject) -> StitchObject:
        nonlocal filled
        if not isinstance(item.shape, Area):
            return item
        region = fine_region(item.shape)
        holes = [shapely.Polygon(ring) for part in region.geoms for ring in part.interiors]
        if not holes:
            return item
        may_bend(item)
        filled += len(holes)
        whole = polygons_of(shapely.union_all([shapely.Polygon(part.exterior) for part in region.geoms]))
        chains = chains_of(item.shape.path)
        left = tuple(chain for chain in chains if not _is_hole(chain.at[0].tolist(), whole))
        path = path_through(left)
        near = left and shapely.symmetric_difference(fine_region(Area(path)), whole).area < 1e-3 * whole.area
        return replace(item, shape=replace(item.shape, path=path if near else drawn_again(whole)), figure=None)

    made = change_objects(design, ids, changed)
    if not filled:
        raise CannotDo("Nothing of what is selected has a hole.")
    return made, ids


def _is_hole(place: list[float], whole: shapely.MultiPolygon) -> bool:
    """Whether a place of an outline lies inside what has no holes, not on its rim."""
    return bool(whole.buffer(-0.01).contains(shapely.Point(place)))


def reversed_lines(design: Design, ids: Ids, _values: Struct | None) -> Made:
    """Lines and columns drawn the other way round; of areas only the way of the outline changes."""
    return _bent(design, ids, reversed_way)
