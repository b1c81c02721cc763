"""Columns corrected in the window: cut with the mouse, merged and put in order in the panel."""

import math

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QListWidget
from pytestqt.qtbot import QtBot

from jontel.app.panels.parts import DraggedList
from jontel.design import Area, Fill, Satin
from jontel.design.shapes import UNCORRECTED, Corrections
from tests.app.conftest import User
from tests.conftest import box_path, design_of

TEE = "M-10 0 L10 0 L10 3 L1.5 3 L1.5 20 L-1.5 20 L-1.5 3 L-10 3 Z"


@pytest.fixture
def tee(user: User) -> User:
    """Somebody with a satin of two columns selected, and a fill beside it, at the list of columns."""
    user.open(design_of((Area(TEE), Satin()), (Area(box_path(-30, 0, 10, 10)), Fill())))
    user.stage("Stitch")
    user.select("Object 1")
    user.click("layer-columns")
    user.bot.waitUntil(lambda: rows(user).count() == 2)
    return user


def rows(user: User) -> DraggedList:
    """The list of columns."""
    found = user.find("columnList", QListWidget)
    assert isinstance(found, DraggedList)
    return found


def corrections(user: User) -> Corrections:
    """What is said of the columns of the first object."""
    shape = user.design.objects[0].shape
    assert isinstance(shape, Area)
    return shape.columns


def known(user: User, count: int) -> None:
    """Wait until so many columns are shown."""
    user.settle()
    user.bot.waitUntil(lambda: rows(user).count() == count, timeout=5000)


def test_a_cut_is_drawn_moved_and_taken_away_with_the_mouse(tee: User) -> None:
    tee.click("use-cut")
    assert tee.window.canvas.tool.name == "cut"
    tee.drag_cloth((-4.0, 10.0), (4.0, 10.0))
    known(tee, 3)
    (cut,) = corrections(tee).cuts
    assert np.array(cut) == pytest.approx(np.array([(-4.0, 10.0), (4.0, 10.0)]), abs=0.2)
    tee.drag_cloth((4.0, 10.0), (4.0, 14.0))
    tee.bot.waitUntil(lambda: abs(corrections(tee).cuts[0][1][1] - 14.0) < 0.3)
    tee.keys(tee.window.canvas, Qt.Key.Key_Delete)
    tee.bot.waitUntil(lambda: corrections(tee) == UNCORRECTED)
    assert len(tee.design.objects) == 2
    known(tee, 2)
    tee.window.undo()
    known(tee, 3)


def test_a_cut_across_nothing_says_what_a_cut_does(tee: User) -> None:
    told: list[str] = []
    tee.document.told.connect(told.append)
    tee.click("use-cut")
    tee.drag_cloth((-8.0, 10.0), (-4.0, 12.0))
    tee.bot.waitUntil(lambda: bool(told))
    assert "“Object 1” stays as it is" in told[0] and "all the way across" in told[0]
    assert corrections(tee) == UNCORRECTED


def test_with_nothing_selected_the_tool_takes_the_satin_that_is_clicked(tee: User) -> None:
    tee.click("use-cut")
    tee.select()
    tee.click_cloth(-25.0, 5.0)
    assert tee.document.selection == {2}
    tee.select()
    tee.click_cloth(0.0, 15.0)
    assert tee.document.selection == {1}


def test_columns_that_are_clicked_are_chosen_in_the_list_and_merged(tee: User) -> None:
    tee.click("use-cut")
    tee.click_cloth(0.0, 15.0)
    tee.bot.waitUntil(lambda: len(rows(tee).chosen()) == 1)
    tee.click_cloth(-8.0, 1.5, Qt.KeyboardModifier.ShiftModifier)
    tee.bot.waitUntil(lambda: len(rows(tee).chosen()) == 2)
    before = tee.plan.xy.copy()
    tee.click("mergeColumns")
    tee.bot.waitUntil(lambda: len(corrections(tee).merges) == 1)
    after = tee.plan.xy
    assert len(after) != len(before) or not np.allclose(before, after)
    tee.click("columnsAsFound")
    tee.bot.waitUntil(lambda: corrections(tee) == UNCORRECTED)
    assert np.allclose(tee.plan.xy, before)


def test_a_row_that_is_dragged_sews_its_column_earlier(tee: User, qtbot: QtBot) -> None:
    listed = rows(tee)
    middles = [one.middle for one in tee.document.columns.found]
    start, stop = (listed.visualItemRect(listed.item(k)).center() for k in (1, 0))
    qtbot.mouseClick(listed.viewport(), Qt.MouseButton.LeftButton, pos=start)
    model = listed.model()
    assert model is not None and stop != start
    model.moveRow(listed.rootIndex(), 1, listed.rootIndex(), 0)  # what a drop inside the list does
    tee.bot.waitUntil(lambda: len(corrections(tee).order) == 2)
    order = corrections(tee).order
    assert math.dist(order[0], middles[1]) < 0.01 and math.dist(order[1], middles[0]) < 0.01
    known(tee, 2)
    first = tee.document.columns.found[0].middle
    assert math.dist(first, middles[1]) < 0.3


def test_arrows_sew_a_column_earlier_and_later(tee: User) -> None:
    middles = [one.middle for one in tee.document.columns.found]
    listed = rows(tee)
    tee.bot.mouseClick(
        listed.viewport(),
        Qt.MouseButton.LeftButton,
        pos=QPoint(20, listed.visualItemRect(listed.item(0)).center().y()),
    )
    assert not tee.find("columnEarlier").isEnabled()
    tee.click("columnLater")
    tee.bot.waitUntil(lambda: len(corrections(tee).order) == 2)
    known(tee, 2)
    assert math.dist(tee.document.columns.found[1].middle, middles[0]) < 0.3
    assert rows(tee).chosen() == [1]  # the same column is still chosen


def test_a_fill_has_no_columns_to_correct(tee: User) -> None:
    tee.select("Object 2")
    assert not [w for w in tee.window.findChildren(QListWidget, "columnList") if w.isVisible()]
