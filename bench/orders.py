"""How fast a better order is found, and what it saves: made-up designs of boxes here and there in 12 threads."""

import time

import numpy as np
from msgspec.structs import replace

from jontel.data import thread_chart
from jontel.demo import crest, name_bar
from jontel.design import Area, Design, Fill, StitchObject
from jontel.design.edits import add_objects
from jontel.sewing.figures import figures
from jontel.sewing.optimise import better_order
from jontel.sewing.plan import footprint, plan

PLANNED = 500
"""Designs of no more objects are stitched as well."""


def scattered(count: int, seed: int = 1, threads: int = 12) -> Design:
    """Boxes of 2.5 to 8 mm, one for every 81 square mm, some over others."""
    rng = np.random.default_rng(seed)
    chart = thread_chart()[:threads]
    side = 9.0 * np.sqrt(count) / 2
    items = []
    for number in range(count):
        (x, y), (w, h) = rng.uniform(-side, side, 2).round(1), rng.uniform(2.5, 8.0, 2).round(1)
        path = f"M{x} {y} L{x + w} {y} L{x + w} {y + h} L{x} {y + h} Z"
        code = chart[int(rng.integers(threads))].code
        items.append(StitchObject(id=0, name=f"Box {number}", thread=code, shape=Area(path), cover=Fill()))
    like = crest()
    brief = replace(like.brief, threads=chart)
    return add_objects(Design(name="Boxes", brief=brief), items)


def orders() -> dict[str, float]:
    """Prints a table and returns its figures."""
    found: dict[str, float] = {}
    print("\na better order       found in   changes      trims       jumps, m       minutes     at least")
    designs = {"crest": crest(), "name bar": name_bar()} | {f"{n} boxes": scattered(n) for n in (50, 500, 5000)}
    for name, design in designs.items():
        for item in design.objects:
            footprint(item, design)  # known in the window, where all of it was sewn
        began = time.perf_counter()
        better = better_order(design)
        took = time.perf_counter() - began
        one, other = better.before, better.after
        said = ""
        if len(design.objects) <= PLANNED:
            first = plan(design)
            one, other = figures(first), figures(plan(better.design, first))
            said = f"{one.seconds / 60:5.0f} {other.seconds / 60:5.0f}"
        print(
            f"{name:18s} {took:8.2f} s {one.changes:6d} {other.changes:4d} {one.trims:6d} {other.trims:5d} "
            f"{one.jumps:7.1f} {other.jumps:6.1f}   {said:12s} {better.least:6d}"
        )
        key = f"order.{name.replace(' ', '-')}"
        found |= {f"{key}.s": took, f"{key}.changes": other.changes, f"{key}.trims": other.trims}
    return found


if __name__ == "__main__":
    orders()
