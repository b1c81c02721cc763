"""How long a forecast takes and how much it holds, from 1,000 to 100,000 stitches, cold and after an edit."""

import time

import numpy as np
from msgspec.structs import replace

from jontel.demo import crest
from jontel.design import Area, Design, Fill, Hoop, StitchObject
from jontel.design.edits import add_objects, pin
from jontel.forecast.findings import findings
from jontel.forecast.forecast import Forecast, forecast
from jontel.forecast.solving import solved
from jontel.sewing.plan import plan


def boxes(stitches: int) -> Design:
    """Filled boxes of about 500 stitches each, side by side, in a hoop that holds them."""
    count = max(1, round(stitches / 500))
    broad = int(np.ceil(np.sqrt(count)))
    like = crest()
    hoop = Hoop("wide", max(100.0, 28.0 * broad), max(100.0, 28.0 * broad), 5.0)
    items = []
    for number in range(count):
        x, y = ((number % broad) - broad / 2) * 27.0, ((number // broad) - broad / 2) * 27.0
        path = f"M{x} {y} L{x + 24} {y} L{x + 24} {y + 24} L{x} {y + 24} Z"
        items.append(
            StitchObject(id=0, name=str(number), thread=like.objects[0].thread, shape=Area(path), cover=Fill())
        )
    return add_objects(Design(name="Boxes", brief=replace(like.brief, hoop=hoop)), items)


def held(seen: Forecast) -> float:
    """What the fields of a forecast hold, MB."""
    return sum(share.fields.nbytes + share.whole.nbytes for share in seen.shares) / 1e6


def forecasts() -> dict[str, float]:
    """Prints a table and returns its figures."""
    found: dict[str, float] = {}
    print("\nforecast            stitches    cold s   edit s   findings s   fields MB")
    designs = {"crest": crest()} | {f"{n // 1000} k": boxes(n) for n in (1_000, 10_000, 30_000, 100_000)}
    for name, design in designs.items():
        sewn = plan(design)
        began = time.perf_counter()
        seen = forecast(sewn)
        cold = time.perf_counter() - began
        edited = plan(pin(design, {design.objects[len(design.objects) // 2].id}, "spacing", 0.45), sewn)
        began = time.perf_counter()
        forecast(edited)
        warm = time.perf_counter() - began
        began = time.perf_counter()
        findings(design, seen)
        told = time.perf_counter() - began
        count = int((sewn.kind == 0).sum())
        print(f"{name:18s} {count:9d} {cold:9.2f} {warm:8.2f} {told:10.2f} {held(seen):12.0f}")
        key = f"forecast.{name.replace(' ', '')}"
        found |= {f"{key}.cold.s": cold, f"{key}.edit.s": warm, f"{key}.mb": held(seen)}
    began = time.perf_counter()
    solved(crest())
    found["forecast.solve.crest.s"] = time.perf_counter() - began
    print(f"the crest's edges solved in {found['forecast.solve.crest.s']:.1f} s")
    return found


if __name__ == "__main__":
    forecasts()
