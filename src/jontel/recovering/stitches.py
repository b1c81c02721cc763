"""A stitch file as a design of stitches: each needle point where it was, to be moved, taken out or put in."""

from collections.abc import Sequence

import numpy as np

from jontel.design.design import Brief, Design, StitchObject
from jontel.design.edits import add_objects
from jontel.design.ground import Ground, Hoop
from jontel.design.shapes import Line
from jontel.design.stopping import go_on
from jontel.design.thread import Thread
from jontel.geometry.polyline import Floats
from jontel.machine.head import Movement
from jontel.recovering.recover import threads_of
from jontel.recovering.threads import sound_blocks_of
from jontel.shaping.freezing import AS_PLACED, MOST, as_stitches


def as_they_are(
    movements: Sequence[Movement], name: str, ground: Ground, hoop: Hoop, chart: tuple[Thread, ...]
) -> Design:
    """The stitches in ``movements`` as runs by hand, one for each thread between two changes, or several for many.

    Raises ``CannotRead``.
    """
    blocks = sound_blocks_of(movements, name)
    threads = threads_of([block.thread for block in blocks], chart)
    items: list[StitchObject] = []
    for block, thread in zip(blocks, threads, strict=True):
        go_on()
        cuts = np.flatnonzero(np.diff(block.piece)) + 1
        lengths = [
            np.vstack([start[:1], stop])
            for start, stop in zip(np.split(block.start, cuts), np.split(block.stop, cuts), strict=True)
        ]
        held: list[list[Floats]] = [[]]
        for way in (part for whole in lengths for part in _in_parts(whole)):
            if held[-1] and sum(map(len, held[-1])) + len(way) > MOST:
                held.append([])
            held[-1].append(way)
        for ways in held:
            bare = StitchObject(
                id=0, name=f"Stitches {len(items) + 1}", thread=thread.code, shape=Line(""), cover=AS_PLACED
            )
            items.append(as_stitches(bare, ways))
    used = tuple({thread.code: thread for thread in threads}.values())
    return add_objects(Design(name=name.rsplit(".", 1)[0], brief=Brief(ground, hoop, used)), items)


def _in_parts(way: Floats) -> list[Floats]:
    """A length of thread in parts that can be held in the hand, each beginning where the last one ends."""
    return [way[k : k + MOST] for k in range(0, max(len(way) - 1, 1), MOST - 1)]
