"""What letters of the shipped fonts measure as when they are sewn as satins on their outlines."""

import itertools
import time

import numpy as np
import shapely
import zoo
from msgspec.structs import replace
from shapely import affinity
from shapely.geometry.base import BaseGeometry
from zoo import SIGNS

from jontel.data import find_ground, find_hoop, thread_chart
from jontel.design import Area, Brief, Design, EdgesRecipe, Satin, StitchObject, resolve
from jontel.design.edits import add_objects
from jontel.design.lettering import Lettering
from jontel.design.store import PROCESS
from jontel.geometry.columns import covered
from jontel.geometry.decompose import strokes_of
from jontel.geometry.region import Region, polygons_of, region_of
from jontel.lettering.fonts import open_font, shipped_fonts
from jontel.lettering.setting import set_in, words_object
from jontel.sewing.plan import plan
from jontel.stitching import engine
from jontel.stitching.measure import largest_bare, measure, squareness, thread_lines
from jontel.stitching.stitches import Kind, Layer

SOME = "AEGKMQRSZabdefgkmrsty258&?"
"""What is measured of every font but the first, of which it is all."""
HEIGHTS = (5.0, 6.0, 8.0, 12.0, 15.0, 25.0, 40.0, 60.0)
SHOWN = ("strokes", "coverage", "bare_circle", "beyond", "square", "cuts_inside", "travel_on_show_mm", "strokes_ms")
Figures = dict[str, float]


def of_letter(sign: str, height: float, font: str) -> Figures:
    """What one letter measures as."""
    return of_area(Area(set_in(Lettering(sign, font, height), open_font(font)).path))


def of_area(shape: Area) -> Figures:
    """How an area is covered, what lies beside it or on show, its strokes, cuts and times."""
    ground = replace(find_ground("Woven"), edges=EdgesRecipe(pull=0.0, push=0.0))
    item = StitchObject(id=1, name="it", thread="1001", shape=shape, cover=Satin())
    region = region_of(shape)
    PROCESS.clear()
    began = time.perf_counter()
    parts = strokes_of(region)
    found = time.perf_counter() - began
    sewn = engine.stitch(resolve(item, ground))
    whole = time.perf_counter() - began
    seen = measure(sewn, region)
    rows = thread_lines(sewn, {Layer.COVER})
    needle = shapely.points(sewn.xy[sewn.kind == Kind.STITCH])
    as_fill = sum(not part.fit for part in parts)
    thrice = 0.0
    for part in parts:
        cloth = [covered(one.rails) for one in part.strokes]
        thrice += sum((a & b & c).area for a, b, c in itertools.combinations(cloth, 3))
    return {
        "strokes": sum(len(part.strokes) for part in parts),
        "sewn_as_fill": as_fill,
        "coverage": seen.coverage,
        "bare_circle": largest_bare(rows, region),
        "beyond": float(shapely.distance(needle, region).max()),
        "three_layers_mm2": thrice,
        "square": squareness([one.rails for part in parts for one in part.strokes]),
        "cuts_inside": int((sewn.kind == Kind.JUMP).sum()) - (len(region.geoms) - 1),
        "travel_on_show_mm": seen.exposed_travel * seen.sewn_length,
        "strokes_ms": found * 1000,
        "sewn_ms": whole * 1000,
    }


def table() -> dict[str, float]:
    """Print the figures of the letters of every shipped font, and give them under stable names."""
    kept: dict[str, float] = {}
    for number, file in enumerate(shipped_fonts()):
        signs = SOME if number else SIGNS
        told = file.name.lower().replace(" ", "-")
        counts = {sign: int(of_letter(sign, 15.0, file.name)["strokes"]) for sign in signs}
        print(
            f"\n{file.name}, {file.character}. Strokes: " + " ".join(f"{one}{count}" for one, count in counts.items())
        )
        for height in HEIGHTS:
            seen: dict[str, list[float]] = {}
            for sign in signs:
                for name, value in of_letter(sign, height, file.name).items():
                    seen.setdefault(name, []).append(value)
            print(f"{height:.0f} mm, {len(signs)} letters {'median':>44} {'worst':>9}")
            for name, values in seen.items():
                if name == "strokes":
                    continue
                order = sorted(values, reverse=name in ("coverage", "square"))
                print(f"  {name:24s} {order[len(order) // 2]:38.4f} {order[-1]:9.4f}")
                kept[f"letters.{told}.{height:.0f}.{name}.median"] = order[len(order) // 2]
                kept[f"letters.{told}.{height:.0f}.{name}.worst"] = order[-1]
    return kept


def shapes() -> dict[str, float]:
    """Print what drawn shapes measure as, and how often turned, scaled, resampled and rough letters are alike."""
    kept: dict[str, float] = {}
    print(f"\n{'shape':18s}" + "".join(f"{name:>10s}" for name in SHOWN))
    for name, path in zoo.STROKES.items():
        seen = of_area(Area(path))
        print(f"{name:18s}" + "".join(f"{seen[one]:10.3f}" for one in SHOWN))
        kept |= {f"strokes.{name.replace(' ', '-')}.{one}": seen[one] for one in SHOWN}
    draw = np.random.default_rng(0)
    print()
    for file in shipped_fonts():
        alike = every = 0
        for sign in SOME:
            region = region_of(Area(set_in(Lettering(sign, file.name, 15.0), open_font(file.name)).path))
            wanted = _count(region)
            for one in _others(region, draw):
                alike += _count(polygons_of(one)) == wanted
                every += 1
        print(f"{file.name:26s} the same strokes in {alike} of {every} cases")
        kept[f"strokes.alike.{file.name.lower().replace(' ', '-')}"] = alike / every
    return kept


def _count(region: Region) -> int:
    return sum(len(part.strokes) for part in strokes_of(region))


def _others(region: Region, draw: np.random.Generator) -> list[BaseGeometry]:
    """A region turned twice, mirrored, scaled, resampled, and with 0.02 mm of noise."""
    turns = draw.uniform(0, 360, 4).tolist()
    found = [affinity.rotate(region, turn) for turn in turns[:2]]
    found += [affinity.scale(region, -1, 1), affinity.scale(region, *draw.uniform(0.4, 3.0, 1).repeat(2))]
    found.append(shapely.segmentize(affinity.rotate(region, turns[2]), 0.3))
    rough = shapely.segmentize(affinity.rotate(region, turns[3]), 0.4)
    waves = np.array([[371.0, 97.0], [83.0, 409.0]])
    found.append(shapely.make_valid(shapely.transform(rough, lambda xy: xy + 0.02 * np.sin(xy @ waves))))
    return found


LINE = ("Pellan Point Light 27", "Pellan Point Licht 27")


def retyping() -> dict[str, float]:
    """Print how long a line of twenty letters takes to sew, and again after one of them was typed anew, in ms."""
    kept: dict[str, float] = {}
    thread = thread_chart()[0]
    brief = Brief(find_ground("Woven"), find_hoop("130 x 180"), (thread,))
    print()
    for file in shipped_fonts():
        items = [words_object(Lettering(text, file.name, 10.0), thread.code) for text in LINE]
        first, second = (add_objects(Design(name="bench", brief=brief), [item]) for item in items)
        PROCESS.clear()
        times = []
        before = None
        for design in (first, second):
            began = time.perf_counter()
            before = plan(design, before)
            times.append((time.perf_counter() - began) * 1000)
        print(f"{file.name:26s} a line {times[0]:7.0f} ms, one letter typed anew {times[1]:6.0f} ms")
        told = file.name.lower().replace(" ", "-")
        kept[f"letters.{told}.line_ms"], kept[f"letters.{told}.retyped_ms"] = times
    return kept
