"""Measures what must be fast, and says by how much a budget is held or missed.

Stitch times are also given as a multiple of a plain NumPy pass that writes as many points, measured in the same run.
"""

import math
import os
import subprocess
import sys
import time
from collections.abc import Callable

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from msgspec.structs import replace

from jontel.data import find_ground
from jontel.demo import crest
from jontel.design import Area, Cover, EdgesRecipe, Fill, Line, Run, Satin, Shape, StitchObject, resolve
from jontel.design.edits import add_objects, pin, transform_object
from jontel.sewing.plan import plan
from jontel.stitching import engine
from jontel.stitching.covers.fill import region_for
from jontel.stitching.measure import measure


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
                engine.stitch.cache_clear()
                engine.stitch(whole)  # type: ignore[arg-type]

            took = best(work)
            count = sewn.count
            growth = (
                "" if previous is None else f"{math.log(took / previous[1]) / math.log(count / previous[0]):8.2f}"
            )
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
        print(
            f"{name:19s} {sewn.count:8d} {seen.coverage:9.4f} {seen.overspill:8.2f} {seen.spacing_error:12.3f} "
            f"{seen.nearest_points:11.2f} {seen.travel_share:7.3f} {seen.exposed_travel:8.4f}"
        )


def whole_designs() -> None:
    """The crest cold, one edit in it, and a design of 100,000 stitches cold."""
    design = crest()

    def cold() -> None:
        for cached in (engine.stitch, plan):
            cached.cache_clear()
        plan(design)

    print(f"\ncrest, all stitches and the plan, shapes known: {best(cold, 3) * 1000:.0f} ms")
    values = iter(np.linspace(0.4, 0.6, 50).round(4).tolist())
    sky = next(o.id for o in design.objects if o.name == "Sky")
    edit = best(lambda: plan(pin(design, {sky}, "spacing", next(values))), 5)
    print(f"crest, after another spacing of its largest object: {edit * 1000:.0f} ms")
    large = design
    while sum(plan(large).object >= 0) < 100_000:
        step = (1.0, 0.0, 0.0, 1.0, 0.01 * len(large.objects), 0.0)
        large = add_objects(large, [transform_object(one, step) for one in design.objects])
    for cached in (engine.stitch, plan):
        cached.cache_clear()
    took = best(lambda: plan(large), 1)
    print(f"{len(plan(large)):,} rows, {len(large.objects)} objects, cold: {took:.2f} s")


def window() -> None:
    """Repainting after an edit, panning and zooming, in a real window of 1280 x 800."""
    from PyQt6.QtCore import QEventLoop, QPointF

    from jontel.app.start import make_application, make_window

    app = make_application()
    made = make_window()
    made.show()
    document = made.session.open(crest())

    def settle() -> None:
        if document.busy:
            loop = QEventLoop()
            document.sewn_changed.connect(loop.quit)
            loop.exec()
            document.sewn_changed.disconnect(loop.quit)

    settle()
    made.canvas.grab()
    sky = next(o.id for o in document.design.objects if o.name == "Sky")
    times = []
    for k in range(8):
        start = time.perf_counter()
        document.edit("Spacing", pin(document.history.design, {sky}, "spacing", 0.41 + 0.01 * k))
        settle()
        made.canvas.repaint()
        times.append(time.perf_counter() - start)
    print(
        f"\nspacing of the crest's largest object to repainted cloth: {np.median(times) * 1000:.0f} ms (budget 100)"
    )

    big = document.history.design
    while len(plan(big)) < 50_000:
        big = add_objects(big, document.history.design.objects)
    other = made.session.open(big)
    document = other
    settle()
    views = []
    for view in ("thread", "cloth") * 3:
        start = time.perf_counter()
        made.canvas.set_view(view)
        made.canvas.repaint()
        views.append(time.perf_counter() - start)
    print(f"{len(plan(big)):,} rows, the whole cloth painted anew: {min(views[1::2]) * 1000:.0f} ms")
    for name, step in (("pan", "pan"), ("zoom", "zoom")):
        frames = []
        for k in range(60):
            start = time.perf_counter()
            camera = made.canvas.camera
            if step == "pan":
                made.canvas.set_camera(camera.panned(7 if k % 40 < 20 else -7, 3))
            else:
                made.canvas.set_camera(camera.zoomed(1.04 if k % 30 < 15 else 0.96, QPointF(400, 300)))
            made.canvas.repaint()
            frames.append(time.perf_counter() - start)
        frames.sort()
        print(
            f"{len(plan(big)):,} rows, {name}: median {np.median(frames) * 1000:.1f} ms a frame, "
            f"95 % under {frames[int(len(frames) * 0.95)] * 1000:.1f} ms"
        )
    for one in list(made.session.documents):
        made.session.close(one)
    app.quit()


START = """
import sys, time, tempfile, os
began = float(sys.argv[1])
os.environ["XDG_STATE_HOME"] = os.environ["XDG_CONFIG_HOME"] = tempfile.mkdtemp()
from jontel.app.start import make_application, make_window
app = make_application()
window = make_window()
window.show()
window.open_demo()
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
    print(f"\nfrom the command to a painted window: {painted:.2f} s, with every stitch on it {stitched:.2f} s (of 2)")


if __name__ == "__main__":
    stitching()
    quality()
    whole_designs()
    opening()
    window()
