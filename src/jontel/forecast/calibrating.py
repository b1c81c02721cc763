"""One's own cloth: the numbers of a ground from what was measured on a sewn swatch, by least squares.

What is measured is in proportion to pull and push, which are solved for directly, at each ratio of the stiffnesses
across and along the grain; that ratio is looked for where the least is missed (R. P. Brent, "Algorithms for
minimization without derivatives", 1973). How uncertain the three are follows from what is still missed.
"""

import csv
import io
import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
from msgspec.structs import replace

from jontel.design.cloth import Cloth
from jontel.design.errors import CannotRead
from jontel.design.ground import Ground
from jontel.design.stopping import go_on
from jontel.forecast.cloth import PULL, PUSH, cloth_of
from jontel.forecast.forecast import forecast
from jontel.forecast.scanning import unmoved
from jontel.forecast.swatch import Reading, readings, swatch, through_crosses
from jontel.geometry.polyline import Floats
from jontel.sewing.plan import SewPlan, plan

LEAST = 6
"""So many readings at least are needed for three numbers."""
FARTHEST = 2.0
"""A reading that differs by more than this, mm, from what was drawn is a mistake."""
SOFTEST, FIRMEST = 0.15, 6.0
"""Cloth is softer across its grain by no more than this, and firmer by no more than that."""
UNIT = 0.05
BESIDE = 0.15
"""How sharp the least is, is seen so far beside it, as a logarithm of the ratio."""


@dataclass(frozen=True)
class Fitted:
    """A cloth as fitted: how uncertain pull, push and the ratio are (a standard deviation), how far readings lie off.

    ``off`` is the mean of what is still missed, mm, over ``used`` readings.
    """

    cloth: Cloth
    pull: float
    push: float
    ratio: float
    off: float
    used: int


def read_readings(data: bytes, name: str) -> dict[str, float]:
    """Readings from CSV ``reading,mm``; rows left empty are passed over. Raises ``CannotRead`` naming the line."""
    try:
        rows = list(csv.reader(io.StringIO(data.decode("utf-8-sig"), newline="")))
    except (UnicodeDecodeError, csv.Error) as error:
        raise CannotRead(f"{name} is not a list of readings: save it as CSV text in UTF-8.") from error
    known = {one.name: one for one in readings()}
    found: dict[str, float] = {}
    for number, row in enumerate(rows, 1):
        cells = [cell.strip() for cell in row]
        if not any(cells) or (number == 1 and cells[0].lower() == "reading"):
            continue
        if len(cells) < 2 or cells[0] not in known:
            raise CannotRead(
                f"Line {number} of {name} is no reading of the swatch; keep its names, as “disc across”."
            )
        if not cells[1]:
            continue
        try:
            value = float(cells[1].replace(",", "."))
        except ValueError as error:
            raise CannotRead(f"Line {number} of {name} has “{cells[1]}” where mm should be; correct it.") from error
        drawn = known[cells[0]].drawn
        if not math.isfinite(value) or abs(value - drawn) > FARTHEST:
            raise CannotRead(
                f"Line {number} of {name} says {cells[0]} measures {value:g} mm, drawn {drawn:g}; measure again."
            )
        found[cells[0]] = value
    if len(found) < LEAST:
        raise CannotRead(f"{name} holds {len(found)} readings; measure at least {LEAST}.")
    return found


def readings_form(ground: Ground) -> bytes:
    """A form to be filled in: what to measure, from edge to edge of the thread, and what it is if nothing moves."""
    rows = ((name, "", f"{length:.2f}") for name, length in unmoved(ground).items())
    return _csv(("reading", "mm", "if nothing moved"), rows)


def readings_csv(measured: Mapping[str, float]) -> bytes:
    """Readings as CSV ``reading,mm``, as they are read again."""
    return _csv(("reading", "mm"), ((name, f"{value:.3f}") for name, value in measured.items()))


def _csv(head: tuple[str, ...], rows: Iterable[tuple[str, ...]]) -> bytes:
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(head)
    writer.writerows(rows)
    return out.getvalue().encode()


def fitted(ground: Ground, measured: Mapping[str, float], on_picture: bool = False) -> Fitted:
    """The cloth of a ground on which the swatch measures so, mm by name. Raises ``CannotRead`` for too few.

    On a picture lengths are seen beside those between the crosses, which move a little too.
    """
    some = [one for one in readings() if one.name in measured]
    if len(some) < LEAST:
        raise CannotRead(f"There are {len(some)} readings; measure at least {LEAST}.")
    start = cloth_of(ground)
    still = unmoved(ground)
    some = [one for one in some if one.name in still]
    wanted = np.array([measured[one.name] - still[one.name] for one in some])
    sewn = plan(swatch(ground))
    stiff = math.sqrt(start.along * start.across)

    def cloth_at(ratio: float) -> Cloth:
        ratio = min(max(ratio, SOFTEST), FIRMEST)
        return replace(start, along=stiff / math.sqrt(ratio), across=stiff * math.sqrt(ratio))

    def parts(ratio: float) -> Floats:
        """What each part of pull and push makes of the readings, (n, 2)."""
        go_on()
        base = cloth_at(ratio)
        tried = (replace(base, pull=UNIT, push=0.0), replace(base, pull=0.0, push=UNIT))
        return np.column_stack([_changes(sewn, cloth, some, on_picture) for cloth in tried]) / UNIT

    def missed(logarithm: float) -> float:
        made = parts(math.exp(logarithm))
        best = np.linalg.lstsq(made, wanted, rcond=None)[0]
        return float(((made @ best - wanted) ** 2).sum())

    limits = (math.log(SOFTEST), math.log(FIRMEST))
    found = scipy.optimize.minimize_scalar(missed, bounds=limits, method="bounded", options={"xatol": 0.02})
    best, least = float(found.x), float(found.fun)
    ratio = math.exp(best)
    made = parts(ratio)
    pull, push = np.linalg.lstsq(made, wanted, rcond=None)[0]
    off = made @ np.array([pull, push]) - wanted
    spread = float(off @ off) / max(len(some) - 3, 1)
    doubt = np.sqrt(np.diag(np.linalg.pinv(made.T @ made)) * spread)
    bend = max((missed(best - BESIDE) + missed(best + BESIDE) - 2 * least) / BESIDE**2, 1e-12)
    doubt_ratio = ratio * math.sqrt(2 * spread / bend)
    cloth = replace(cloth_at(ratio), pull=float(np.clip(pull, -1, 1)), push=float(np.clip(push, -1, 1)))
    return Fitted(cloth, float(doubt[0]), float(doubt[1]), doubt_ratio, float(np.abs(off).mean()), len(some))


def _changes(sewn: SewPlan, cloth: Cloth, some: Sequence[Reading], on_picture: bool) -> Floats:
    """How much longer each reading is than drawn on a cloth, mm, (n,)."""
    seen = forecast(sewn, cloth=cloth)
    lay = through_crosses(seen) if on_picture else None
    return np.array([one.of(seen, lay) - one.drawn for one in some])


def own_ground(ground: Ground, name: str, found: Fitted) -> Ground:
    """A ground of the user's own: its recipe compensates as its cloth asks for."""
    pull = min(max(found.cloth.pull / PULL, 0.0), 5.0)
    push = min(max(found.cloth.push / PUSH, 0.0), 5.0)
    edges = replace(ground.edges, pull=round(pull, 2), push=round(push, 2))
    return replace(ground, name=name, cloth=found.cloth, edges=edges)
