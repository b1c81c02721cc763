"""One's own cloth: the numbers of a ground from what was measured on a sewn swatch, by least squares.

What is measured is in proportion to pull and push, which are solved for directly, at each ratio of the stiffnesses
across and along the grain; that ratio is looked for where the least is missed (R. P. Brent, "Algorithms for
minimization without derivatives", 1973), in series of what some forecasts say, which are worked out once a ground.
How uncertain the three are follows from what is still missed.
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
from jontel.design.store import kept
from jontel.forecast.cloth import PULL, PUSH, cloth_of
from jontel.forecast.forecast import forecast
from jontel.forecast.scanning import seen_on_picture, unmoved
from jontel.forecast.swatch import Reading, readings, swatch, through_crosses
from jontel.geometry.polyline import Floats
from jontel.sewing.plan import SewPlan, plan

LEAST = 6
"""So many readings at least are needed for three numbers."""
FARTHEST = 2.0
"""A reading that differs by more than this, mm, from what was drawn is a mistake."""
SOFTEST, FIRMEST = 0.15, 6.0
"""Cloth is softer across its grain by no more than this, and firmer by no more than that."""
LIMITS = (math.log(SOFTEST), math.log(FIRMEST))
NODES = 7
ROUNDS, HUBER = 4, 1.5
"""A picture is fitted in so many rounds; readings that lie so many times farther off than usual count less."""
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
    count = sum(one.name in measured for one in readings())
    if count < LEAST:
        raise CannotRead(f"There are {count} readings; measure at least {LEAST}.")
    still = unmoved(ground)
    every = readings()
    known = [k for k, one in enumerate(every) if one.name in measured and one.name in still]
    wanted = np.array([measured[every[k].name] - still[every[k].name] for k in known])
    answers = _answers(ground, on_picture)[:, known]

    def parts(logarithm: float) -> Floats:
        """What each part of pull and push makes of the readings, (n, 2)."""
        return np.asarray(np.polynomial.chebyshev.chebval(_placed(logarithm), answers))

    def missed(logarithm: float) -> float:
        made = parts(logarithm)
        best = np.linalg.lstsq(made, wanted, rcond=None)[0]
        return float(((made @ best - wanted) ** 2).sum())

    found = scipy.optimize.minimize_scalar(missed, bounds=LIMITS, method="bounded", options={"xatol": 0.005})
    best, least = float(found.x), float(found.fun)
    made, ratio = parts(best), math.exp(best)
    pull, push = np.linalg.lstsq(made, wanted, rcond=None)[0]
    start = np.array([pull, push, best])
    if on_picture:
        return _fitted_to_picture(ground, {every[k].name: measured[every[k].name] for k in known}, start)
    off = made @ np.array([pull, push]) - wanted
    spread = float(off @ off) / max(len(known) - 3, 1)
    doubt = np.sqrt(np.diag(np.linalg.pinv(made.T @ made)) * spread)
    bend = max((missed(best - BESIDE) + missed(best + BESIDE) - 2 * least) / BESIDE**2, 1e-12)
    doubts = (float(doubt[0]), float(doubt[1]), ratio * math.sqrt(2 * spread / bend))
    return Fitted(_cloth_of(ground, start), *doubts, float(np.abs(off).mean()), len(known))


def _fitted_to_picture(ground: Ground, measured: Mapping[str, float], start: Floats) -> Fitted:
    """The cloth on which the swatch looks as it does, from ``start`` on: pull, push and the logarithm of the ratio.

    Rims of thread are seen otherwise on a picture than edges lie. So each round paints the swatch as it would be on
    the cloth of the round before, measures that as the picture was measured, and takes the step by which the rest is
    explained best: Gauss and Newton's, single readings that lie far off counting less (P. J. Huber, "Robust
    estimation of a location parameter", 1964). The last two rounds are averaged.
    """
    sewn, every = plan(swatch(ground)), readings()
    answers = _answers(ground, True)
    values, rounds = start.copy(), [start]
    for _ in range(ROUNDS):
        go_on()
        painted = seen_on_picture(forecast(sewn, cloth=_cloth_of(ground, values)))
        known = [k for k, one in enumerate(every) if one.name in measured and one.name in painted]
        off = np.array([measured[every[k].name] - painted[every[k].name] for k in known])
        parts, beside = (
            np.asarray(np.polynomial.chebyshev.chebval(_placed(values[2] + by), answers[:, known]))
            for by in (-BESIDE / 2, BESIDE / 2)
        )
        made = np.column_stack([(parts + beside) / 2, (beside - parts) @ values[:2] / BESIDE])
        usual = max(HUBER * float(np.median(np.abs(off))), 1e-6)
        weight = np.sqrt(1 / np.maximum(np.abs(off) / usual, 1))
        step = np.linalg.lstsq(made * weight[:, None], off * weight, rcond=None)[0]
        values = values + step
        values[2] = np.clip(values[2], *LIMITS)
        rounds.append(values)
    values = (rounds[-1] + rounds[-2]) / 2
    spread = float(off @ off) / max(len(known) - 3, 1)
    doubt = np.sqrt(np.diag(np.linalg.pinv(made.T @ made)) * spread)
    doubts = (float(doubt[0]), float(doubt[1]), float(doubt[2]) * math.exp(values[2]))
    return Fitted(_cloth_of(ground, values), *doubts, float(np.abs(off).mean()), len(known))


def _cloth_of(ground: Ground, values: Floats) -> Cloth:
    """The cloth of a ground with other pull, push and ratio of its stiffnesses (3,), the last as its logarithm."""
    pull, push = np.clip(values[:2], -1, 1).tolist()
    return replace(_cloth_at(ground, float(values[2])), pull=pull, push=push)


def _cloth_at(ground: Ground, logarithm: float) -> Cloth:
    """The cloth of a ground, as stiff on the whole, whose stiffnesses across and along are in a ratio."""
    start = cloth_of(ground)
    stiff = math.sqrt(start.along * start.across)
    half = math.exp(min(max(logarithm, LIMITS[0]), LIMITS[1]) / 2)
    return replace(start, along=stiff / half, across=stiff * half)


def _placed(logarithm: float) -> float:
    """Where a ratio lies between the least and the greatest, -1 to 1."""
    return float(np.clip((2 * logarithm - sum(LIMITS)) / (LIMITS[1] - LIMITS[0]), -1, 1))


@kept
def _answers(ground: Ground, on_picture: bool) -> Floats:
    """What pull and push, for each part of them, make of all readings at any ratio: series in it, (NODES, n, 2).

    They change so evenly with the logarithm of the ratio that ``NODES`` forecasts of each, at the places of
    P. L. Chebyshev (1854), tell them within 0.2 percent anywhere between.
    """
    sewn, every = plan(swatch(ground)), readings()
    places = np.cos((2 * np.arange(NODES) + 1) * np.pi / (2 * NODES))
    seen: list[Floats] = []
    for place in places.tolist():
        go_on()
        base = _cloth_at(ground, (sum(LIMITS) + place * (LIMITS[1] - LIMITS[0])) / 2)
        tried = (replace(base, pull=UNIT, push=0.0), replace(base, pull=0.0, push=UNIT))
        seen.append(np.column_stack([_changes(sewn, cloth, every, on_picture) for cloth in tried]) / UNIT)
    series = np.polynomial.chebyshev.chebfit(places, np.array(seen).reshape(NODES, -1), NODES - 1)
    return np.asarray(series.reshape(NODES, len(every), 2))


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
