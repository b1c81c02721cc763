"""Objects frozen into their stitches: needle points as they are sewn now, each to be moved, taken out or put in."""

from collections.abc import Iterable

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects
from jontel.design.errors import CannotDo
from jontel.design.kinds.run import Run
from jontel.design.paths import polyline_path
from jontel.design.shapes import Line
from jontel.design.words import grouped
from jontel.geometry.polyline import Floats
from jontel.sewing.plan import plan
from jontel.shaping.outlines import Ids, Made

MOST = 20_000
"""More stitches of one object than these cannot be held in the hand."""
DIGITS = 4
AS_PLACED = Run(by_hand=True, way="forward", style="single", repeats=1)


def frozen(design: Design, ids: Ids, _values: Struct | None) -> Made:
    """What is selected as runs through the needle points that it is sewn with now; underlay and travel with them."""
    sewn = plan(design)
    pieces = {piece.owner: piece for piece in sewn.pieces}
    chosen = [item for item in design.objects if item.id in ids and item.id in pieces]
    if not chosen:
        raise CannotDo("Nothing of what is selected has stitches.")
    fresh: dict[int, StitchObject] = {}
    for item in chosen:
        parts = pieces[item.id].segments.parts
        count = sum(len(part.xy) for part in parts)
        if count > MOST:
            raise CannotDo(
                f"“{item.name}” has {grouped(count)} stitches; at most {grouped(MOST)} are frozen at once."
            )
        fresh[item.id] = as_stitches(item, [part.xy for part in parts])
    return change_objects(design, set(fresh), lambda item: fresh[item.id]), ids


def as_stitches(item: StitchObject, ways: Iterable[Floats]) -> StitchObject:
    """An object as a run by hand through needle points, a path for each unbroken length of thread, (n, 2) each."""
    rounded = [np.round(way, DIGITS) for way in ways if len(way) > 1]
    path = " ".join(polyline_path([(float(x), float(y)) for x, y in way]) for way in rounded)
    entry, exit_ = (tuple(map(float, spot)) for spot in (rounded[0][0], rounded[-1][-1]))
    return replace(
        item,
        shape=Line(path),
        cover=AS_PLACED,
        underlay=(),
        underlay_once=False,
        ends=replace(item.ends, entry=entry, exit=exit_),
        lettering=None,
        monogram=None,
        figure=None,
        undercut=None,
        strand=None,
        solved=None,
        beneath=None,
    )
