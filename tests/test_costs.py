"""What a sew-out takes of the shop, and what it costs."""

import numpy as np
import pytest
from msgspec.structs import replace

from jontel.data import find_ground, find_hoop
from jontel.design import Area, Fill, Line, Run
from jontel.design.machine import Rates
from jontel.files.working import decode, encode
from jontel.sewing.costs import costs_of
from jontel.sewing.estimate import totals
from jontel.sewing.plan import plan
from tests.conftest import box_path, design_of


def test_bobbin_thread_is_what_lies_beneath_the_cloth() -> None:
    sewn = plan(design_of((Line("M0 0 L100 0", 0.4), Run())))
    costs = costs_of(sewn, sewn.drawn)
    on_cloth = sewn.sewn()
    size = np.hypot(*np.diff(sewn.xy, axis=0).T)[on_cloth[1:]]
    assert costs.bobbin == pytest.approx((size.sum() + 0.2 * on_cloth.sum()) / 1000)
    assert 0.1 < costs.bobbin < sum(totals(sewn).metres)
    assert costs.bobbins == pytest.approx(costs.bobbin / 110)


def test_backing_reaches_beyond_the_hoop_and_film_beyond_what_is_sewn() -> None:
    hoop = find_hoop("130 x 180")
    design = design_of((Area(box_path(-20, -10, 40, 20)), Fill()), ground="Fleece, towelling")
    design = replace(design, brief=replace(design.brief, hoop=hoop))
    sewn = plan(design)
    costs = costs_of(sewn, design)
    assert costs.backing == (hoop.width + 60, hoop.height + 60)
    topped = replace(design.brief.ground, topping="water-soluble film")
    sums = totals(sewn)
    laid = costs_of(sewn, replace(design, brief=replace(design.brief, ground=topped)))
    assert laid.film == pytest.approx((sums.width + 30, sums.height + 30))
    bare = replace(find_ground("Woven twill"), backing="none", topping="none")
    assert costs_of(sewn, replace(design, brief=replace(design.brief, ground=bare))).backing is None


def test_what_it_costs_follows_the_rates_of_the_shop() -> None:
    rates = Rates(36.0, 5.0, 10.0, 4.0, 50.0, 2.0, 0.0)
    design = design_of((Area(box_path(-20, -10, 40, 20)), Fill()))
    design = replace(design, brief=replace(design.brief, rates=rates))
    sewn = plan(design)
    sums, costs = totals(sewn), costs_of(sewn, design)
    assert costs.time == pytest.approx(sums.seconds * 0.01)
    assert costs.thread == pytest.approx(sum(sums.metres) * 0.01 + costs.bobbin * 0.004)
    assert costs.backing is not None and costs.material == pytest.approx(costs.backing[0] * costs.backing[1] * 2e-6)
    assert costs.whole == pytest.approx(costs.time + costs.thread + costs.material + 5.0)
    assert decode(encode(design), "x.jontel").brief.rates == rates
    free = replace(design, brief=replace(design.brief, rates=Rates(0, 0, 0, 0, 1, 0, 0)))
    assert costs_of(sewn, free).whole == 0
