"""What is looked at of a sew-out: lengths, directions, depth, time."""

import numpy as np
import pytest

from jontel.design import Area, Fill, Line, Run
from jontel.design.edits import transform_objects
from jontel.sewing.charts import BIN, SECTORS, charts_of, depth_of
from jontel.sewing.estimate import totals
from jontel.sewing.plan import plan
from tests.conftest import box_path, design_of


def test_every_stitch_is_counted_at_its_length() -> None:
    sewn = plan(design_of((Line("M0 0 L100 0", 0.4), Run(length=2.7)), (Area(box_path(0, 10, 30, 20)), Fill())))
    charts = charts_of(sewn)
    size = np.hypot(*np.diff(sewn.xy, axis=0).T)[sewn.sewn()[1:]]
    inner = charts.lengths.sum()
    assert abs(int(inner) - len(size)) <= len(sewn.pieces), "but for what leads from one object to the next"
    line = charts_of(plan(design_of((Line("M0 0 L100 0", 0.4), Run(length=2.7)))))
    assert int(line.lengths.argmax()) == int(2.7 // BIN)


@pytest.mark.parametrize("degrees", [0.0, 30.0, 90.0, 150.0])
def test_the_rose_points_where_the_rows_lie(degrees: float) -> None:
    charts = charts_of(plan(design_of((Area(box_path(-15, -15, 30, 30)), Fill(angle=degrees)))))
    assert int(charts.directions.argmax()) == round(degrees / (180 / SECTORS)) % SECTORS
    assert charts.directions.max() > 0.4 * charts.directions.sum()


def test_the_time_spent_is_the_time_it_takes() -> None:
    design = design_of((Area(box_path(0, 0, 12, 12)), Fill()), (Area(box_path(40, 0, 20, 20)), Fill()))
    sewn = plan(design)
    charts, sums = charts_of(sewn), totals(sewn)
    assert sum(seconds for _, seconds in charts.spent) == pytest.approx(sums.seconds)
    assert dict(charts.spent)["trims"] == sums.trims * design.brief.machine.trim_seconds > 0
    assert sum(charts.by_thread) == pytest.approx(sums.seconds)
    assert [one for one, _ in charts.by_object] == [2, 1], "the longest first"
    assert charts_of(plan(design_of())).spent == () and depth_of(plan(design_of())) is None


def test_two_fills_on_each_other_are_twice_as_deep_as_one() -> None:
    one = design_of((Area(box_path(-10, -10, 20, 20)), Fill()))
    two = design_of(*((Area(box_path(-10, -10, 20, 20)), Fill(angle=angle)) for angle in (0.0, 90.0)))
    depths = [depth_of(plan(design)) for design in (one, two)]
    assert depths[0] is not None and depths[1] is not None
    middles = [float(np.median(depth.layers[5:-5, 5:-5])) for depth in depths if depth is not None]
    assert 0.9 < middles[0] < 2.0 and middles[1] == pytest.approx(2 * middles[0], rel=0.12)
    moved = depth_of(plan(transform_objects(one, {1}, (1, 0, 0, 1, 30, -40))))
    assert moved is not None and (moved.left, moved.top) == (depths[0].left + 30, depths[0].top - 40)
    assert moved.layers.sum() == pytest.approx(depths[0].layers.sum(), rel=5e-3)
