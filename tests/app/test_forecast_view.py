"""The Forecast view, driven as a person drives it."""

import numpy as np
import pytest
from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QPushButton, QSlider

from jontel.design import Area, Fill
from jontel.design.edits import change_objects
from jontel.forecast.solving import missed
from tests.app.conftest import User
from tests.conftest import box_path, design_of, ring_path


@pytest.fixture
def halves(user: User) -> User:
    """Two areas on jersey that touch, without underlay or compensation: they will part."""
    shapes = ((Area(box_path(-15, -10, 15, 20)), Fill()), (Area(box_path(0, -10, 15, 20)), Fill()))
    design = design_of(*shapes, ground="Jersey T-shirt")
    bare = change_objects(
        design, {1, 2}, lambda item: replace(item, underlay=(), edges=replace(item.edges, pull=0.0, push=0.0))
    )
    user.open(bare)
    return user


def foresee(user: User) -> None:
    user.click("view-Forecast")
    user.bot.waitUntil(lambda: user.document.forecasting.seen is not None, timeout=20_000)
    user.bot.waitUntil(lambda: current(user), timeout=20_000)
    user.settle()


def current(user: User) -> bool:
    seen, sewn = user.document.forecasting.seen, user.document.sewn
    return seen is not None and sewn is not None and seen.whole.plan is sewn.plan


def test_the_view_shows_stitches_where_they_will_lie_and_what_opens(halves: User) -> None:
    bar = halves.window.foresight
    assert not bar.isVisible()
    before = halves.window.canvas.grab().toImage()
    foresee(halves)
    assert bar.isVisible() and "1 seam opens" in bar.said.text()
    seen = halves.document.forecasting.seen
    assert seen is not None and not np.allclose(seen.sewn.plan.xy, halves.plan.xy)
    assert halves.window.canvas.grab().toImage() != before
    halves.click("view-Cloth")
    assert not bar.isVisible()


def test_movements_are_shown_larger_and_at_a_moment(halves: User) -> None:
    foresee(halves)
    one = halves.document.forecasting.seen
    slider = halves.find("exaggerate", QSlider)
    assert isinstance(slider, QSlider) and one is not None
    slider.setFocus()
    for _ in range(4):
        halves.bot.keyClick(slider, Qt.Key.Key_Right)
    plain = halves.plan.xy

    def twice() -> bool:
        seen = halves.document.forecasting.seen
        return seen is not None and np.allclose(seen.sewn.plan.xy - plain, 2 * (one.sewn.plan.xy - plain), atol=1e-9)

    halves.bot.waitUntil(twice, timeout=10_000)
    two = halves.document.forecasting.seen
    assert two is not None
    halves.document.show_moment(40)
    halves.bot.waitUntil(lambda: halves.document.forecasting.seen is not two, timeout=10_000)
    early = halves.document.forecasting.seen
    assert early is not None
    assert np.abs(early.sewn.plan.xy[:40] - plain[:40]).max() < np.abs(two.sewn.plan.xy[:40] - plain[:40]).max()


def test_an_edit_is_forecast_anew(halves: User) -> None:
    foresee(halves)
    before = halves.document.forecasting.seen
    made = change_objects(
        halves.document.history.design, {2}, lambda item: replace(item, shape=Area(box_path(-0.8, -10, 16, 20)))
    )
    halves.document.edit("Reach under", made)
    halves.settle()
    halves.bot.waitUntil(lambda: current(halves) and halves.document.forecasting.seen is not before, timeout=20_000)
    assert "no seam opens" in halves.window.foresight.said.text()


def test_edges_are_solved_shown_stale_and_released_in_one_step_each(halves: User) -> None:
    foresee(halves)
    drawn = halves.design.objects[0].shape
    far = missed(halves.document.history.design)[1][0]
    halves.click("solveEdges")
    halves.bot.waitUntil(lambda: halves.document.history.undo_label == "Solve the edges", timeout=30_000)
    halves.settle()
    halves.bot.waitUntil(lambda: current(halves), timeout=20_000)
    design = halves.document.history.design
    assert all(item.solved is not None for item in design.objects) and halves.design.objects[0].shape == drawn
    assert missed(design)[1][0] < 0.1 < far
    halves.bot.waitUntil(lambda: "no seam opens" in halves.window.foresight.said.text(), timeout=10_000)
    moved = change_objects(design, {2}, lambda item: replace(item, shape=Area(box_path(0, -10, 20, 20)), solved=None))
    halves.document.edit("Wider", moved)
    halves.settle()
    halves.bot.waitUntil(lambda: "earlier state" in halves.window.foresight.said.text(), timeout=20_000)
    halves.document.undo()
    halves.settle()
    halves.click("releaseEdges")
    assert all(item.solved is None for item in halves.document.history.design.objects)
    halves.document.undo()
    halves.document.undo()
    assert halves.document.history.design.objects[0].solved is None


def test_the_sew_out_tells_what_the_forecast_finds_and_mends_it(halves: User) -> None:
    halves.stage("Sew-out")
    halves.bot.waitUntil(lambda: current(halves), timeout=20_000)
    halves.settle()

    def cards() -> list[QLabel]:
        return [one for one in halves.window.panels[4].findChildren(QLabel) if "part by" in one.text()]

    halves.bot.waitUntil(lambda: bool(cards()), timeout=10_000)
    card = cards()[0].parentWidget()
    assert card is not None
    mend = card.findChild(QPushButton, "mendFinding")
    assert mend is not None
    halves.bot.mouseClick(mend, Qt.MouseButton.LeftButton)
    halves.bot.waitUntil(lambda: halves.document.history.undo_label == "Solve the edges of both", timeout=30_000)
    halves.settle()
    halves.bot.waitUntil(lambda: current(halves) and not cards(), timeout=20_000)


def test_strain_is_shown_on_the_cloth(user: User) -> None:
    user.open(design_of((Area(ring_path(12)), Fill())))
    foresee(user)
    before = user.window.canvas.grab().toImage()
    box = user.find("showStrain")
    user.bot.mouseClick(box, Qt.MouseButton.LeftButton, pos=box.rect().topLeft() + box.rect().center() / 6)
    user.bot.waitUntil(lambda: "drawn together by" in user.window.foresight.said.text(), timeout=10_000)
    user.settle()
    assert user.window.canvas.grab().toImage() != before
