"""The stitches of one object: a pure function of its resolved values and its two ends, kept once computed.

They are worked out where its shape lies at home: an object that is moved, and a copy, has the same ones elsewhere.
"""

import numpy as np
from msgspec.structs import replace

from jontel.design.errors import CannotStitch
from jontel.design.home import HERE, at_home, refused_at, seen_from
from jontel.design.kinds import Underlay, kind_name
from jontel.design.resolve import Resolved
from jontel.design.shapes import Point
from jontel.design.store import kept
from jontel.geometry.region import Region, laid
from jontel.stitching.covers import GENERATORS
from jontel.stitching.stitches import Stitches


@kept
def stitch(item: Resolved, entry: Point | None = None, exit_: Point | None = None) -> Stitches:
    """The stitches of one object without its locks, from the place nearest ``entry`` to that nearest ``exit_``.

    Raises ``CannotStitch`` with the reason.
    """
    home, corner = _at_home(item)
    with refused_at(corner):
        sewn = _stitched(home, *(None if place is None else seen_from(corner, place) for place in (entry, exit_)))
    return sewn if corner == HERE else sewn.moved(corner)


@kept
def _stitched(item: Resolved, entry: Point | None, exit_: Point | None) -> Stitches:
    start, stop = (None if p is None else np.asarray(p, dtype=np.float64) for p in (entry, exit_))
    sewn = GENERATORS[kind_name(item.cover)].sew(item, item.cover, start, stop).stitches()
    if len(sewn) < 2 or not np.isfinite(sewn.xy).all():
        raise CannotStitch("it is too small for a single stitch; enlarge it or delete it")
    return sewn


@kept
def _at_home(item: Resolved) -> tuple[Resolved, Point]:
    """An object where its shape lies at home, and where that begins on the cloth."""
    shape, corner = at_home(item.shape)
    return replace(item, shape=shape), corner


def sewn_edge(item: Resolved) -> Region:
    """The compensated edge that an object's cover is sewn to; empty for a run or none, which cover no area.

    The same edge is the same object, whatever else about the cover is tuned.

    Raises ``CannotStitch``.
    """
    home, corner = _at_home(item)
    with refused_at(corner):
        edge = GENERATORS[kind_name(item.cover)].edge(home)
    return edge if corner == HERE else _laid(edge, corner)


_laid = kept(laid)


@kept
def underlay_of(item: Resolved) -> tuple[Underlay, ...]:
    """The underlay passes that an object is sewn with, chosen ones included. Raises ``CannotStitch``."""
    home, corner = _at_home(item)
    with refused_at(corner):
        return item.underlay if item.underlay is not None else GENERATORS[kind_name(item.cover)].passes(home)


@kept
def drawn_width(item: Resolved) -> float:
    """How wide an object is across its narrow way as drawn, mm; 0 for a run. Raises ``CannotStitch``."""
    home, corner = _at_home(item)
    with refused_at(corner):
        return GENERATORS[kind_name(item.cover)].width(home)
