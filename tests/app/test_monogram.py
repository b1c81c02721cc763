"""A monogram in the window: made by a command, changed in the panel, moved as a whole."""

from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QLineEdit

from jontel.design import Area, Fill
from jontel.design.monogram import Monogram
from tests.app.conftest import User
from tests.app.test_letters import run_command
from tests.conftest import box_path, design_of


def whole_of(user: User) -> Monogram:
    """The monogram as it stands."""
    (whole,) = {item.monogram.whole for item in user.document.history.design.objects if item.monogram is not None}
    return whole


def test_a_monogram_is_made_changed_and_taken_back(user: User) -> None:
    user.open(replace(design_of((Area(box_path(0, 0, 5, 5)), Fill())), objects=()))
    user.stage("Stitch")
    run_command(user, "New monogram")
    user.bot.waitUntil(lambda: len(user.document.selection) == 4)
    user.settle()
    assert whole_of(user).letters == "ABC" and not user.plan.failures
    initials = user.find("initials", QLineEdit)
    assert isinstance(initials, QLineEdit)
    initials.setFocus()
    initials.selectAll()
    user.bot.keyClicks(initials, "PL")
    user.bot.keyClick(initials, Qt.Key.Key_Return)
    user.bot.waitUntil(lambda: whole_of(user).letters == "PL")
    user.settle()
    arranged = user.find("arrangement", QComboBox)
    assert isinstance(arranged, QComboBox)
    arranged.setCurrentText("Interlaced")
    arranged.activated.emit(arranged.currentIndex())
    user.bot.waitUntil(lambda: whole_of(user).arrangement == "interlaced")
    user.type("height", "40")
    user.bot.waitUntil(lambda: whole_of(user).height == 40.0)
    user.settle()
    assert len(user.document.history.design.objects) == 3
    one = user.document.history.design.objects[0]
    before = user.plan.xy[:, 0].max()
    user.document.select({one.id})
    user.window.canvas.setFocus()
    run_command(user, "Move right by 5 mm")
    user.settle()
    assert user.plan.xy[:, 0].max() > before + 4.9 and whole_of(user).place[4] == 5.0
    for _ in range(5):
        user.window.undo()
    user.settle()
    assert user.document.history.design.objects == ()
