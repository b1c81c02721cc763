"""Measures what must be fast and good, and prints it; ``--json FILE`` writes every figure under a stable name.

Stitch times are also given as a multiple of a plain NumPy pass that writes as many points, measured in the same run.
"""

import argparse
import json
import math
import os
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from msgspec.structs import replace

from jontel.data import find_ground, thread_chart
from jontel.demo import crest
from jontel.design import (
    Area,
    Cover,
    EdgesRecipe,
    Fill,
    Line,
    Run,
    Satin,
    Shape,
    StitchObject,
    resolve,
)
from jontel.design.edits import add_objects, pin, transform_objects
from jontel.design.store import PROCESS
from jontel.sewing.plan import plan
from jontel.sewing.proof import proof
from jontel.stitching import engine
from jontel.stitching.covers.fill import region_for
from jontel.stitching.measure import (
    coverage,
    crossings,
    exposed_travel,
    largest_bare,
    lattice_strength,
    measure,
    rim_deviation,
    spacings,
    thread_lines,
)
from jontel.stitching.stitches import Layer

FIGURES: dict[str, float] = {}
NAMES = 200
"""So many names are sewn; 1,000 take about two minutes on two cores."""


def note(name: str, value: float) -> float:
    """Keep a figure under its name."""
    FIGURES[name] = round(float(value), 4)
    return value


def best(work: Callable[[], object], times: int = 5) -> float:
    """The shortest of some runs, seconds: what the machine can do when nothing else disturbs it."""
    found = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        found.append(time.perf_counter() - start)
    return min(found)


def numpy_pass(points: int) -> float:
    """The time of a plain NumPy pass that writes as many points."""
    source = np.arange(points, dtype=np.float64)

    def work() -> None:
        np.column_stack([source * 0.4 + 1.0, source * 3.5 - 2.0])

    return best(work, 20)


def sample(kind: str, stitches: int) -> tuple[Shape, Cover]:
    """A shape that takes about so many stitches."""
    if kind in ("fill", "turned"):
        side = math.sqrt(stitches * 0.40 * (2.9 if kind == "fill" else 2.3))
        third = side / 3
        lines = ((third, third), (third, 2 * third)), ((2 * third, third), (2.2 * third, 2 * third))
        square = f"M0 0 L{side} 0 L{side} {side} L0 {side} Z"
        return Area(square, lines=lines if kind == "turned" else ()), Fill(angle=17.0)
    if kind == "satin":
        return Line(f"M0 0 L{stitches * 0.19} 0", 4.0), Satin()
    return Line(f"M0 0 L{stitches * 2.5} 0"), Run()


def stitching() -> None:
    """Time and growth of each cover at 1k, 10k and 100k stitches."""
    ground = find_ground("Woven")
    print("cover   stitches      time   x numpy   growth")
    for kind in ("fill", "turned", "satin", "run"):
        previous: tuple[int, float] | None = None
        for wanted in (1_000, 10_000, 100_000):
            shape, cover = sample(kind, wanted)
            item = StitchObject(id=1, name="it", thread="1001", shape=shape, cover=cover, underlay=())
            whole = resolve(item, ground)
            sewn = engine.stitch(whole)

            def work(whole: object = whole) -> None:
                PROCESS.clear()
                engine.stitch(whole)  # type: ignore[arg-type]

            took = best(work)
            count = sewn.count
            growth = (
                "" if previous is None else f"{math.log(took / previous[1]) / math.log(count / previous[0]):8.2f}"
            )
            note(f"stitch.{kind}.{wanted}.ms", took * 1000)
            note(f"stitch.{kind}.{wanted}.passes", took / numpy_pass(count))
            print(f"{kind:6s} {count:9d} {took * 1000:7.1f} ms {took / numpy_pass(count):8.0f} {growth}")
            previous = (count, took)


def circle(radius: float, x: float = 0.0, y: float = 0.0, sign: int = 1) -> str:
    """A circle as path data; ``sign`` -1 turns the other way, for a hole."""
    turns = [sign * 2 * math.pi * k / 96 for k in range(96)]
    return "M" + " L".join(f"{x + radius * math.cos(t):.3f} {y + radius * math.sin(t):.3f}" for t in turns) + " Z"


def quality() -> None:
    """What fills of a few hard shapes measure as, by the measures that the tests use."""
    bare = replace(find_ground("Woven"), edges=EdgesRecipe(pull=0.0, push=0.0))
    square = "M-25 -25 L25 -25 L25 25 L-25 25 Z"
    plate = square + "".join(" " + circle(4, x, y, -1) for x in (-14, 0, 14) for y in (-14, 0, 14))
    lines = (((-22.0, -15.0), (-14.0, 15.0)), ((22.0, -15.0), (16.0, 15.0)))
    shapes = {
        "square": Area(square),
        "plate": Area(plate),
        "ring": Area(circle(20) + " " + circle(10, sign=-1)),
        "turned": Area(plate, lines=lines),
        "guided": Area(plate, guide="M-25 0 C-12 -12 12 12 25 0"),
    }
    print("\nfill at 37 degrees  stitches  coverage  over mm  spacing off  nearest mm  travel  exposed")
    for name, shape in shapes.items():
        item = StitchObject(id=1, name="it", thread="1001", shape=shape, cover=Fill(angle=37.0), underlay=())
        sewn = engine.stitch(resolve(item, bare))
        seen = measure(sewn, region_for(shape), spacing=0.4)
        for measured in ("coverage", "overspill", "spacing_error", "travel_share", "exposed_travel"):
            note(f"fill.{name}.{measured}", getattr(seen, measured))
        print(
            f"{name:19s} {sewn.count:8d} {seen.coverage:9.4f} {seen.overspill:8.2f} {seen.spacing_error:12.3f} "
            f"{seen.nearest_points:11.2f} {seen.travel_share:7.3f} {seen.exposed_travel:8.4f}"
        )


def signed() -> None:
    """What fills measure as on letters, blobs with holes, coasts, gears, combs and turned rectangles."""
    import zoo

    bare_ground = replace(find_ground("Woven"), edges=EdgesRecipe(pull=0.0, push=0.0))
    seen: dict[str, list[float]] = {}
    for path in zoo.fills().values():
        for angle in (0.0, 37.0, 90.0):
            shape = Area(path)
            item = StitchObject(id=1, name="it", thread="1001", shape=shape, cover=Fill(angle=angle), underlay=())
            sewn = engine.stitch(resolve(item, bare_ground))
            rows, every = thread_lines(sewn, {Layer.COVER}), region_for(shape)
            whole = measure(sewn, every)
            figures = {
                "coverage": whole.coverage,
                "bare_circle": largest_bare(rows, every),
                "exposed_travel": whole.exposed_travel * whole.sewn_length,
                "travel_share": whole.travel_share,
                "rim_deviation": rim_deviation(rows, every),
                "crossings": crossings(rows),
                "lattice": lattice_strength(sewn, angle, 3.5),
            }
            for name, value in figures.items():
                seen.setdefault(name, []).append(value)
    count = len(seen["coverage"])
    print(f"\n{count} fills           median   95 of 100   worst")
    for name, values in seen.items():
        order = sorted(values, reverse=name == "coverage")
        middle, high, worst = order[count // 2], order[int(count * 0.95)], order[-1]
        for which, value in (("median", middle), ("p95", high), ("worst", worst)):
            note(f"zoo.{name}.{which}", value)
        print(f"{name:16s} {middle:9.4f} {high:11.4f} {worst:7.4f}")


def turning() -> None:
    """What fills on the same shapes measure as whose rows turn between two direction lines."""
    import zoo

    bare_ground = replace(find_ground("Woven"), edges=EdgesRecipe(pull=0.0, push=0.0))
    names = ("coverage", "bare_circle", "exposed_travel", "crossings", "spacing")
    print("\nrows that turn   median, worst: " + ", ".join(name.replace("_", " ") for name in names))
    for turn in (20.0, 40.0, 60.0, 90.0):
        seen: list[tuple[float, ...]] = []
        for path in zoo.fills().values():
            left, up, right, down = region_for(Area(path)).bounds
            lines = zoo.leaning(turn, 0.6 * (right - left), 0.5 * min(right - left, down - up))
            shape = Area(path, lines=lines)
            item = StitchObject(id=1, name="it", thread="1001", shape=shape, cover=Fill())
            sewn = engine.stitch(resolve(item, bare_ground))
            rows, every = thread_lines(sewn, {Layer.COVER}), region_for(shape)
            seen.append(
                (
                    -coverage(rows, every),
                    largest_bare(rows, every),
                    exposed_travel(sewn),
                    crossings(rows),
                    float(np.median(spacings(sewn, 0.4))),
                )
            )
        middle, worst = np.abs(np.median(seen, axis=0)), np.abs(np.max(seen, axis=0))
        for name, one, other in zip(names, middle.tolist(), worst.tolist(), strict=True):
            note(f"turning.{turn:.0f}.{name}.median", one)
            note(f"turning.{turn:.0f}.{name}.worst", other)
        both = zip(middle.tolist(), worst.tolist(), strict=True)
        print(f"by {turn:.0f} degrees    " + "  ".join(f"{one:7.3f} {other:6.3f}" for one, other in both))


def letters() -> None:
    """What letters sewn as satins measure as."""
    from letters import retyping, shapes, table

    for name, value in (*shapes().items(), *table().items(), *retyping().items()):
        note(name, value)


def names() -> None:
    """How fast a list of names is sewn."""
    from names import speed

    print()
    for name, value in speed(NAMES).items():
        note(name, value)


def foreseen() -> None:
    """How long a forecast takes."""
    from forecasts import forecasts

    for name, value in forecasts().items():
        note(name, value)


def better_orders() -> None:
    """How fast a better order is found, and what it saves."""
    from orders import orders

    for name, value in orders().items():
        note(name, value)


def stopped() -> None:
    """How soon work stops that nobody waits for."""
    from stops import stops

    for name, value in stops().items():
        note(name, value)


def edits() -> None:
    """What an edit costs without a window: in one crest, in thirteen, in fifty."""
    from session import part, sheet_of

    print("\nan edit of one small object    plan       proof     (median, 95 %)")
    for count in (1, 13, 50):
        design = sheet_of(crest(), count)
        began = time.perf_counter()
        sewn = plan(design)
        cold = time.perf_counter() - began
        proof(sewn.design, sewn)
        moon = next(o.id for o in design.objects if o.name == "Moon")
        plans, proofs = [], []
        for k in range(20):
            design = pin(design, {moon}, "spacing", 0.41 + 0.005 * k)
            began = time.perf_counter()
            sewn = plan(design, sewn)
            between = time.perf_counter()
            proof(sewn.design, sewn)
            plans.append((between - began) * 1000)
            proofs.append((time.perf_counter() - between) * 1000)
        plans.sort()
        proofs.sort()
        note(f"edit.{count}.plan.ms", part(plans, 50))
        note(f"edit.{count}.proof.ms", part(proofs, 50))
        note(f"cold.{count}.plan.s", cold)
        everything, moves = {item.id for item in design.objects}, []
        for k in range(5):
            design = transform_objects(design, everything, (1, 0, 0, 1, 0.2 + 0.1 * k, 0.1))
            began = time.perf_counter()
            sewn = plan(design, sewn)
            moves.append((time.perf_counter() - began) * 1000)
        moved = note(f"move.{count}.plan.ms", part(sorted(moves), 50))
        print(
            f"{count:3d} crests, {len(design.objects):5d} objects {part(plans, 50):8.1f} {part(plans, 95):6.1f} "
            f"{part(proofs, 50):8.1f} {part(proofs, 95):6.1f} ms   cold {cold:.2f} s for {len(sewn):,} rows, "
            f"all of it moved in {moved:.0f} ms"
        )


def window() -> None:
    """In a real window of 1280 x 800: edits, the longest events, panning, memory."""
    import zoo
    from session import bends, close, latencies, open_window, part, scripted, settle, sheet_of

    app, made, document = open_window(crest())
    for count in (1, 13):
        if count > 1:
            made.session.close(document)
            document = made.session.open(sheet_of(crest(), count))
            settle(made)
        for name in ("Moon", "Sky"):
            found = latencies(made, document, name)
            note(f"window.{count}.{name.lower()}.p95.ms", part(found, 95))
            note(f"window.{count}.{name.lower()}.median.ms", part(found, 50))
            middle, high = part(found, 50), part(found, 95)
            seen = f"seen after {middle:.0f} ms, 95 % within {high:.0f}"
            print(f"{count:3d} crests, an edit of the {name.lower()} {seen}")
        if count == 1:
            slow = scripted(made)
            over = sum(ms > 16 for ms, _ in slow)
            note("window.events.longest.ms", slow[0][0])
            note("window.events.over16", over)
            print(f"of {len(slow)} events {over} took over 16 ms, the longest {slow[0][0]:.0f} ms: {slow[0][1]}")
    frames = []
    canvas = made.canvas
    for k in range(80):
        canvas.set_camera(canvas.camera.panned(3 if k % 40 < 20 else -3, 1))
        began = time.perf_counter()
        canvas.repaint()
        frames.append((time.perf_counter() - began) * 1000)
    frames.sort()
    note("window.pan.p95.ms", part(frames, 95))
    rows = len(document.sewn.plan) if document.sewn else 0
    print(f"panning {rows:,} rows: {part(frames, 50):.1f} ms a frame, 95 % under {part(frames, 95):.1f}")
    made.session.close(document)
    item = StitchObject(id=0, name="it", thread=thread_chart()[0].code, shape=Area(zoo.rippled()), cover=Fill())
    bent = made.session.open(add_objects(replace(crest(), objects=(), next_id=1), [item]))
    found = bends(made, bent)
    note("window.bend.2000.median.ms", part(found, 50))
    note("window.bend.2000.p95.ms", part(found, 95))
    print(f"a node of 2,000 seen in stitches after {part(found, 50):.0f} ms, 95 % within {part(found, 95):.0f}")
    close(made)
    app.quit()


def memory() -> None:
    """A hundred edits of a large object, in a process of its own."""
    script = Path(__file__).with_name("session.py")
    done = subprocess.run([sys.executable, script, "memory"], capture_output=True, text=True, check=True)
    before, peak, after = (float(v) for v in done.stdout.split()[-3:])
    note("memory.start.mb", before)
    note("memory.peak.mb", peak)
    note("memory.closed.mb", after)
    print(f"100 edits of an object of 100,000 stitches: {before:.0f} MB to {peak:.0f}, closed {after:.0f}")


START = """
import sys, time, tempfile, os
began = float(sys.argv[1])
os.environ["XDG_STATE_HOME"] = os.environ["XDG_CONFIG_HOME"] = tempfile.mkdtemp()
from jontel.app.start import make_application, make_window
app = make_application()
window = make_window()
window.show()
window.desk.open_demo()
app.processEvents()
window.repaint()
painted = time.time() - began
document = window.session.current
while document.busy:
    app.processEvents()
window.canvas.repaint()
print(f"{painted:.2f} {time.time() - began:.2f}")
os._exit(0)
"""


def opening() -> None:
    """From the command to a painted window with the demo, in a fresh process."""
    found = []
    for _ in range(4):
        done = subprocess.run(
            [sys.executable, "-c", START, str(time.time())],
            capture_output=True,
            text=True,
            check=True,
            env=dict(os.environ),
        )
        found.append(tuple(float(v) for v in done.stdout.split()[-2:]))
    painted, stitched = min(found)
    note("start.painted.s", painted)
    note("start.stitched.s", stitched)
    print(f"\nfrom the command to a painted window: {painted:.2f} s, with every stitch on it {stitched:.2f} s (of 2)")


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--json", type=Path, help="write every figure here")
    wanted = parser.parse_args()
    stitching()
    quality()
    signed()
    turning()
    letters()
    names()
    better_orders()
    foreseen()
    edits()
    stopped()
    opening()
    window()
    memory()
    if wanted.json:
        wanted.json.write_text(json.dumps(FIGURES, indent=1, sort_keys=True) + "\n")
    sys.stdout.flush()
    os._exit(0)  # the window's parts are let go of in no order that Qt minds
