"""Shapes made shapes of another sort, with the same points where they can have them."""

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import add_objects, change_objects
from jontel.design.errors import CannotDo
from jontel.design.kinds.fill import FillRecipe
from jontel.design.kinds.run import Run
from jontel.design.kinds.satin import Satin
from jontel.design.resolve import resolve
from jontel.design.shapes import Area, Column, Line
from jontel.geometry.bending import closed_up, reversed_way
from jontel.geometry.combining import drawn_again
from jontel.geometry.decompose import strokes_of
from jontel.geometry.fitting import through_corners
from jontel.geometry.nodes import Chain, chains_of, path_through
from jontel.geometry.polyline import lengths
from jontel.geometry.region import region_of
from jontel.shaping.covers import sewn_as
from jontel.shaping.outlines import Ids, Made, band_of, chains_in, may_bend

NEAR = 0.02
"""The edges of a column stay so near to the outline, mm."""


def to_area(design: Design, ids: Ids, _values: Struct | None) -> Made:
    """Lines closed, satin lines what they cover, columns the ring of both edges; areas stay."""

    def changed(item: StitchObject) -> StitchObject:
        match item.shape:
            case Line() as line:
                may_bend(item)
                chains = chains_of(line.path)
                if isinstance(item.cover, Satin):
                    return sewn_as(item, Area(drawn_again(band_of(line))))
                return sewn_as(item, Area(path_through(closed_up(chains, range(len(chains))))))
            case Column() as column:
                may_bend(item)
                edges = (*chains_of(column.edge)[:1], *chains_of(column.other_edge)[:1])
                if len(edges) < 2:
                    raise CannotDo(f"“{item.name}” has an edge of no length; draw it again.")
                one, other = edges
                if one.closed:
                    return sewn_as(item, Area(path_through((one, other)), "evenodd"))
                return sewn_as(item, Area(path_through((ring_of(one, other),)), lines=column.lines))
        return item

    return change_objects(design, ids, changed), ids


def ring_of(one: Chain, other: Chain) -> Chain:
    """Two open edges that run the same way as one closed outline, joined by straight ends."""
    (back,) = reversed_way((other,))
    return Chain(
        np.vstack([one.at, back.at]),
        np.vstack([one.at[:1], one.before[1:], back.at[:1], back.before[1:]]),
        np.vstack([one.after[:-1], one.at[-1:], back.after[:-1], back.at[-1:]]),
        True,
    )


def to_line(design: Design, ids: Ids, _values: Struct | None) -> Made:
    """The outline of an area as a closed line, both edges of a column as lines; lines stay."""

    def changed(item: StitchObject) -> StitchObject:
        if isinstance(item.shape, Line):
            return item
        may_bend(item)
        made = sewn_as(item, Line(path_through(chains_in(item.shape))))
        return made if isinstance(made.cover, Run) else replace(made, cover=Run(), underlay=None)

    return change_objects(design, ids, changed), ids


def to_column(design: Design, ids: Ids, _values: Struct | None) -> Made:
    """A line's two edges at its width, or the edges of the one stroke that an area is."""

    def changed(item: StitchObject) -> StitchObject:
        if isinstance(item.shape, Column):
            return item
        may_bend(item)
        area = item.shape if isinstance(item.shape, Area) else Area(drawn_again(band_of(item.shape)))
        parts = strokes_of(region_of(area))
        strokes = [stroke for part in parts if part.fit for stroke in part.strokes]
        if len(strokes) != 1 or len(parts) != 1:
            raise CannotDo(f"“{item.name}” is not one column; sew it as a satin, or break it into columns.")
        rails = strokes[0].rails
        edges = [
            through_corners(points, [], NEAR, False) if lengths(points)[-1] > 0 else None
            for points in (rails.a, rails.b)
        ]
        one, other = (path_through((edge,)) if edge is not None else "" for edge in edges)
        return replace(sewn_as(item, Column(one, other)), cover=Satin(), underlay=None)

    return change_objects(design, ids, changed), ids


def border_apart(design: Design, ids: Ids, _values: Struct | None) -> Made:
    """The border of a fill as an object of its own, sewn right after it, of its width and values."""
    made: list[int] = []
    for item in [one for one in design.objects if one.id in ids]:
        whole = resolve(item, design.ground_for(item)).cover
        if not isinstance(whole, FillRecipe) or whole.border == "none" or not isinstance(item.shape, Area):
            continue
        if whole.border == "satin":
            shape = Line(item.shape.path, width=whole.border_width)
            cover: Satin | Run = Satin(spacing=whole.border_spacing)
        else:
            shape = Line(item.shape.path)
            cover = Run(style=whole.border_style, length=whole.border_length, repeats=whole.border_repeats)
        rim = StitchObject(id=0, name=f"{item.name} border"[:80], thread=item.thread, shape=shape, cover=cover)
        design = change_objects(design, {item.id}, lambda one: replace(one, cover=replace(one.cover, border="none")))
        at = design.place_of(item.id)
        made.append(design.next_id)
        design = add_objects(design, [rim], at + 1)
    if not made:
        raise CannotDo("No fill of what is selected has a border.")
    return design, frozenset(made)
