"""Strands made and released: which objects become one, in which order, where in the sew-out."""

from collections.abc import Collection, Iterable, Sequence
from itertools import pairwise

import numpy as np
import shapely
from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects
from jontel.design.errors import CannotDo
from jontel.design.order import Strand
from jontel.sewing.gathering import gathered, in_order
from jontel.sewing.plan import Piece, SewPlan, footprint
from jontel.sewing.precedence import earlier_of

NEAR = 6.0
"""Objects of one thread that follow each other no farther apart than this, mm, may become one strand."""


def made_strand(design: Design, ids: Collection[int], lines: str = "twice") -> Design:
    """``design`` with the objects in ``ids`` sewn as one, from neighbour to neighbour, nothing else on top.

    Raises ``CannotDo``, naming what is in the way.
    """
    items = [item for item in design.objects if not item.hidden]
    chosen = [number for number, item in enumerate(items) if item.id in ids]
    if len(chosen) < 2:
        raise CannotDo("A strand needs two or more objects; select them first.")
    first = items[chosen[0]]
    other = next((items[k] for k in chosen if items[k].thread != first.thread), None)
    if other is not None:
        raise CannotDo(f"A strand is sewn in one thread: “{other.name}” has another than “{first.name}”.")
    made = gathered(design, ids)
    order = _neighbours(design, items, chosen, earlier_of(design, items))
    inside = iter([items[k] for k in order])
    made = in_order(made, [next(inside) if item.id in ids else item for item in made.objects if not item.hidden])
    number = max((item.strand.id for item in design.objects if item.strand is not None), default=0) + 1
    strand = Strand(number, "fewest" if lines == "fewest" else "twice")
    return change_objects(
        made, {item.id for item in items if item.id in ids}, lambda item: replace(item, strand=strand)
    )


def made_strands(design: Design, groups: Iterable[Collection[int]], lines: str = "twice") -> Design:
    """``design`` with each of some groups of objects sewn as one. Raises ``CannotDo`` as ``made_strand`` does."""
    for group in groups:
        design = made_strand(design, group, lines)
    return design


def released_strand(design: Design, ids: Collection[int]) -> Design:
    """``design`` with the strands that objects in ``ids`` belong to sewn apart again."""
    return change_objects(design, strand_mates(design, ids), lambda item: replace(item, strand=None))


def strand_mates(design: Design, ids: Collection[int]) -> frozenset[int]:
    """``ids`` with those of all other objects in the same strands."""
    strands = {item.strand.id for item in design.objects if item.id in ids and item.strand is not None}
    mates = {item.id for item in design.objects if item.strand is not None and item.strand.id in strands}
    return frozenset(ids) | mates


def _neighbours(
    design: Design, items: Sequence[StitchObject], chosen: Sequence[int], earlier: Sequence[int]
) -> list[int]:
    """The chosen ones from neighbour to neighbour, what lies over another after it."""
    shapes = np.array([footprint(items[k], design) for k in chosen], dtype=object)
    far = np.asarray(shapely.distance(shapes[:, None], shapes[None, :]))
    done, left = 0, list(range(len(chosen)))
    order: list[int] = []
    mine = sum(1 << k for k in chosen)
    while left:
        ready = [k for k in left if not earlier[chosen[k]] & mine & ~done]
        here = ready[0] if not order else min(ready, key=lambda k: (round(float(far[order[-1], k]), 2), k))
        order.append(here)
        left.remove(here)
        done |= 1 << chosen[here]
    return [chosen[k] for k in order]


def offered(sewn: SewPlan) -> tuple[frozenset[int], ...]:
    """Objects that lie near, follow each other in one thread, and are cut apart: each group may become a strand."""
    found: list[set[int]] = []
    items = {entry.item.id: entry.item for entry in sewn.entries}
    for one, other in pairwise(sewn.pieces):
        loose = one.around.cut_after and one.thread == other.thread and one.around.stop_after is None
        if loose and _gap(items[one.owner], items[other.owner], other, sewn.design) <= NEAR:
            if found and one.owner in found[-1]:
                found[-1].add(other.owner)
            else:
                found.append({one.owner, other.owner})
    return tuple(frozenset(one) for one in found)


def _gap(one: StitchObject, other: StitchObject, piece: Piece, design: Design) -> float:
    """How far two objects lie from each other, mm; the piece of the other one keeps it."""
    known = piece.notes.get("gap before")
    if known is None or known[0] is not one or known[1] is not other or known[2] is not design.brief.ground:
        gap = float(footprint(one, design).distance(footprint(other, design)))
        known = piece.notes["gap before"] = (one, other, design.brief.ground, gap)
    return float(known[3])
