"""How soon work ends that nobody waits for any more: jobs of many kinds, told to stop at moments all along them."""

import random
import time
from collections.abc import Callable, Iterator
from threading import Timer

from logos import logo

from jontel.artwork.digitize import Size, design_from
from jontel.data import find_ground, find_hoop, thread_chart
from jontel.demo import crest
from jontel.design import Area, Fill
from jontel.design.design import Brief, Design, StitchObject
from jontel.design.stopping import Stop, Stopped, stoppable
from jontel.design.store import Store, working_in
from jontel.forecast.forecast import forecast
from jontel.sewing.plan import plan
from jontel.shaping.digitizing import ready
from jontel.shaping.wishes import Digitizing

MOMENTS = 20
GUIDE = "M-100 0C-30 60 30 -60 100 0"


def square(side: float, **more: object) -> Design:
    """A square fill with directions."""
    half = side / 2
    shape = Area(f"M{-half} {-half}L{half} {-half}L{half} {half}L{-half} {half}Z", **more)  # type: ignore[arg-type]
    thread = thread_chart()[0]
    item = StitchObject(id=1, name="Square", thread=thread.code, shape=shape, cover=Fill())
    brief = Brief(find_ground("Woven twill"), crest().brief.hoop, (thread,))
    return Design(name="square", brief=brief, objects=(item,))


def jobs() -> Iterator[tuple[str, Callable[[], object]]]:
    """Work that takes long, by name."""
    turned = square(120.0, lines=(((-40, -40), (-40, 40)), ((40, -40), (60, 40))))
    yield "turned", lambda: plan(turned)
    guided = square(200.0, guide=GUIDE)
    yield "guided", lambda: plan(guided)
    whole = crest()
    yield "crest", lambda: plan(whole)
    sewn = plan(whole)
    yield "forecast", lambda: forecast(sewn, element=random.uniform(0.9, 1.1))  # its sheet is made anew
    picture = logo(7, 3000).png()
    ground, hoop, size = find_ground("Woven twill"), find_hoop("130 x 180"), Size(width=80)
    yield "traced", lambda: design_from(picture, "logo.png", ground, hoop, thread_chart(), size)
    drawn = design_from(picture, "logo.png", ground, hoop, thread_chart(), size)
    yield "made ready", lambda: ready(drawn, {item.id for item in drawn.objects}, Digitizing())


def lateness(work: Callable[[], object]) -> list[float]:
    """How many ms after it was told to a job stopped, at moments all along it, the soonest first."""

    def run() -> float:
        begun = time.perf_counter()
        with working_in(Store()):
            work()
        return time.perf_counter() - begun

    run()
    whole, late = run(), []
    for moment in range(MOMENTS):
        stop, given = Stop(), [0.0]

        def give(stop: Stop = stop, given: list[float] = given) -> None:
            given[0] = time.perf_counter()
            stop.give()

        timer = Timer(whole * (moment + 0.5) / MOMENTS, give)
        timer.start()
        try:
            with stoppable(stop):
                run()
        except Stopped:
            late.append((time.perf_counter() - given[0]) * 1e3)
        timer.cancel()
        time.sleep(whole)  # what was left behind ends
    return sorted(late)


def stops() -> dict[str, float]:
    """How late jobs stop, ms: in the middle and at worst."""
    found: dict[str, float] = {}
    print("\nms from the wish to stop until a job has stopped, 20 moments: middle, worst (of 50)")
    for name, work in jobs():
        late = lateness(work)
        found |= {f"stop.{name}.middle.ms": late[len(late) // 2], f"stop.{name}.worst.ms": late[-1]}
        print(f"  {name:12} {late[len(late) // 2]:6.0f} {late[-1]:6.0f}", flush=True)
    return found


if __name__ == "__main__":
    stops()
