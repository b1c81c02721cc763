"""Objects that are sewn to solved edges: a stage of every job, and of which design a solution is."""

import hashlib

import msgspec
from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.ground import Edges
from jontel.design.store import kept

UNCOMPENSATED = Edges(pull=0.0, pull_percent=0.0, pull_ceiling=0.0, push=0.0, pull_short=1.0, pull_x=0.0, pull_y=0.0)
"""Solved edges are where thread is to lie: nothing is added to them."""


def with_solved_edges(design: Design) -> Design:
    """``design`` with each object that has solved edges in their shape; itself where there is none."""
    if not any(item.solved is not None for item in design.objects):
        return design
    return replace(design, objects=tuple(_sewn_so(one) if one.solved is not None else one for one in design.objects))


@kept
def _sewn_so(item: StitchObject) -> StitchObject:
    assert item.solved is not None
    return replace(item, shape=item.solved.shape, edges=UNCOMPENSATED, solved=None)


def stamp_of(design: Design) -> str:
    """What the forecast of a design depends on, in a few letters: shapes, covers, order, ground, hoop, threads."""
    bare = tuple(
        replace(one, name="", solved=None, locked=False, group=0, figure=None)
        for one in design.objects
        if not one.hidden
    )
    weights = sorted((thread.code, thread.weight) for thread in design.brief.threads)
    document = msgspec.json.encode((bare, design.brief.ground, design.brief.hoop, weights, design.least_stitch))
    return hashlib.blake2b(document, digest_size=12).hexdigest()


def stale(design: Design) -> frozenset[int]:
    """The objects whose edges were solved for another design than this."""
    some = [item for item in design.objects if item.solved is not None]
    if not some:
        return frozenset()
    now = stamp_of(design)
    return frozenset(item.id for item in some if item.solved is not None and item.solved.stamp != now)
