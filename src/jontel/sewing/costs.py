"""What a sew-out takes of the shop: bobbin thread, backing and film, and what that and the machine's time cost."""

from dataclasses import dataclass

from jontel.design.design import Design
from jontel.design.machine import Rates
from jontel.sewing.estimate import Totals, totals
from jontel.sewing.plan import SewPlan

HELD, LAID = 30.0, 15.0
"""Backing reaches so far beyond the hoop's field, mm, to be held by its ring; a film so far beyond what is sewn."""
NOTHING = ("", "none")


@dataclass(frozen=True)
class Costs:
    """What is taken: bobbin thread in metres and bobbins, backing and film as (width, height), mm; ``None`` is none.

    Costs are in the shop's money: of the machine's time, thread, backing with film, setting up, and all together.
    """

    bobbin: float
    bobbins: float
    backing: tuple[float, float] | None
    film: tuple[float, float] | None
    time: float
    thread: float
    material: float
    setting_up: float

    @property
    def whole(self) -> float:
        """All together."""
        return self.time + self.thread + self.material + self.setting_up


def costs_of(plan: SewPlan, design: Design, sums: Totals | None = None) -> Costs:
    """What a plan takes and costs at the rates of its brief; ``sums`` are its totals, where they are known."""
    sums = totals(plan) if sums is None else sums
    brief, rates = design.brief, design.brief.rates
    hoop, ground = brief.hoop, brief.ground
    bobbin = float(plan.tally.bobbin.sum())
    backing = None if _none(ground.backing) else (hoop.width + 2 * HELD, hoop.height + 2 * HELD)
    film = None if _none(ground.topping) else (sums.width + 2 * LAID, sums.height + 2 * LAID)
    return Costs(
        bobbin,
        bobbin / rates.bobbin_holds,
        backing,
        film,
        sums.seconds / 3600 * rates.machine_hour,
        _thread(sums, bobbin, rates),
        _area(backing) * rates.backing_metre + _area(film) * rates.film_metre,
        rates.setting_up,
    )


def _none(name: str) -> bool:
    return name.strip().lower() in NOTHING


def _thread(sums: Totals, bobbin: float, rates: Rates) -> float:
    return sum(sums.metres) / 1000 * rates.thread_kilometre + bobbin / 1000 * rates.bobbin_kilometre


def _area(size: tuple[float, float] | None) -> float:
    """Square metres."""
    return 0.0 if size is None else size[0] * size[1] / 1e6
