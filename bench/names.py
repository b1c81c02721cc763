"""How many names of a list are sewn in a second, on one core and on all of them."""

import os
import random
import tempfile
import time
from pathlib import Path

from msgspec.structs import replace

from jontel.demo import name_bar
from jontel.design.design import Design, StitchObject
from jontel.design.edits import change_objects
from jontel.names.lot import Wishes, sew_lot
from jontel.names.table import Table

SOUNDS = ("ka", "lo", "mi", "ne", "ru", "to", "va", "shi", "ber", "dan", "el", "fin")
LONGEST = 44.0
"""No name on the bar is longer than this, mm."""


def bar() -> Design:
    """The demo's name bar, whose name is held to a length."""

    def held(item: StitchObject) -> StitchObject:
        words = item.lettering
        return item if words is None else replace(item, lettering=replace(words, longest=LONGEST))

    made = name_bar()
    return change_objects(made, {item.id for item in made.objects if item.name == "NELL"}, held)


def table(count: int) -> Table:
    """A list of made-up names."""
    draw = random.Random(5)
    names = ("".join(draw.choice(SOUNDS) for _ in range(draw.randint(2, 4))).capitalize() for _ in range(count))
    return Table(("NELL", "PILOT"), tuple((name, "CREW") for name in names))


def speed(count: int) -> dict[str, float]:
    """Print how many of so many names are sewn in a second, and whether all cores write the same files."""
    found: dict[str, float] = {}
    files: dict[int, dict[str, bytes]] = {}
    for jobs in sorted({1, os.cpu_count() or 1}):
        with tempfile.TemporaryDirectory() as folder:
            began = time.perf_counter()
            outcomes = sew_lot(bar(), table(count), Path(folder), Wishes(jobs=jobs))
            taken = time.perf_counter() - began
            files[jobs] = {path.name: path.read_bytes() for path in Path(folder).glob("[0-9l]*")}
        good = sum(one.status == "sewn" for one in outcomes)
        print(f"{count} names on {jobs} cores: {count / taken:6.2f} a second, {good} sewn")
        found[f"names.{jobs}_cores.per_second"] = count / taken
    print(
        "the same files: "
        + ("yes" if len({hash(tuple(sorted(one.items()))) for one in files.values()}) == 1 else "NO")
    )
    return found
