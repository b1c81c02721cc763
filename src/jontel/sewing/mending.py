"""Mending a sew-out: a plan of only some objects, or from a stitch on, in register with what is sewn already.

It begins at a known place, where the machine waits until the operator has seen that the needle stands over it.
"""

from collections.abc import Collection
from dataclasses import replace as with_changes

import numpy as np
from msgspec.structs import replace

from jontel.design.design import StitchObject
from jontel.design.errors import CannotDo
from jontel.design.shapes import Point
from jontel.geometry.polyline import Floats
from jontel.sewing.plan import Piece, SewPlan, plan
from jontel.stitching.locks import lock_in
from jontel.stitching.stitches import Kind, Layer

LOOK = "Check that the needle stands over the mark at {x:.1f}, {y:.1f} mm"


def only(sewn: SewPlan, ids: Collection[int], known: Point = (0.0, 0.0)) -> SewPlan:
    """A plan of the objects in ``ids`` alone, stitch by stitch as ``sewn`` has them. Raises ``CannotDo``."""
    ends = {entry.item.id: entry.ends for entry in sewn.entries}

    def alone(item: StitchObject) -> StitchObject:
        pinned = ends[item.id]
        own = replace(item.ends, entry=pinned.entry, exit=pinned.exit)
        hidden = item.hidden or item.id not in ids
        return replace(item, ends=own, hidden=hidden, undercut=None, beneath=None, strand=None)

    part = plan(replace(sewn.design, objects=tuple(alone(item) for item in sewn.design.objects)))
    if not part.pieces:
        raise CannotDo("None of the selected objects has stitches; select what is to be sewn again.")
    first = part.pieces[0]
    return _begun(part, part.pieces, int(np.argmax(first.kind == Kind.STITCH)), known, locked=False)


def from_stitch(sewn: SewPlan, stitch: int, known: Point = (0.0, 0.0)) -> SewPlan:
    """A plan from the ``stitch``-th needle point on, counted from 1. Raises ``CannotDo`` past the last."""
    points = np.flatnonzero(sewn.kind == Kind.STITCH)
    if not 1 <= stitch <= len(points):
        raise CannotDo(f"There is no stitch {stitch:,}; the design has {len(points):,}.")
    number, row = sewn.where(int(points[stitch - 1]))
    return _begun(sewn, sewn.pieces[number:], row, known, locked=True)


def _begun(sewn: SewPlan, pieces: tuple[Piece, ...], row: int, known: Point, locked: bool) -> SewPlan:
    """``pieces`` from a row of the first on, with the way by the known place before them.

    ``locked`` says that the thread is loose there and has to be held.
    """
    first, longest = pieces[0], pieces[0].around.machine.longest_move
    points = first.xy[row:][first.kind[row:] == Kind.STITCH]
    lock = lock_in(points, first.around.holding.locking) if locked and len(points) > 1 else np.zeros((0, 2))
    centre, place = np.zeros(2), np.array(known)
    head = (
        (centre[None], Kind.THREAD, Layer.TRAVEL),
        (_hops(centre, place, longest), Kind.JUMP, Layer.TRAVEL),
        (place[None], Kind.STOP, Layer.TRAVEL),
        (_hops(place, lock[0] if len(lock) else points[0], longest), Kind.JUMP, Layer.TRAVEL),
        (lock, Kind.STITCH, Layer.LOCK),
    )
    before = sum(len(xy) for xy, _, _ in head)
    looked = sum(len(xy) for xy, _, _ in head[:2])
    stops = ((looked, LOOK.format(x=known[0], y=known[1])),)
    begun = with_changes(
        first,
        around=first.around._replace(at=(0.0, 0.0), stitched=False, begins=True, changes=True),
        xy=np.vstack([*(xy for xy, _, _ in head), first.xy[row:]]),
        kind=np.concatenate([*(np.full(len(xy), int(kind), np.uint8) for xy, kind, _ in head), first.kind[row:]]),
        layer=np.concatenate([*(np.full(len(xy), int(layer), np.uint8) for xy, _, layer in head), first.layer[row:]]),
        stops=(*stops, *((at - row + before, words) for at, words in first.stops if at >= row)),
        notes={},
    )
    return sewn.with_pieces((begun, *pieces[1:]))


def _hops(start: Floats, stop: Floats, longest: float) -> Floats:
    """Jumps (n, 2) from a place to another, none longer than the machine moves."""
    gap = float(np.hypot(*(stop - start)))
    hops = int(np.ceil(gap / longest - 1e-9))
    return start + np.arange(1, hops + 1)[:, None] / max(hops, 1) * (stop - start)
