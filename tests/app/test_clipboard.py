"""The clipboard, operations from the panel, hiding, locking and grouping, all with mouse and keys."""

from pathlib import Path

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import QByteArray, QMimeData, Qt
from PyQt6.QtGui import QColor, QGuiApplication, QImage
from PyQt6.QtWidgets import QFileDialog

from jontel.app.clipboard import OBJECTS, SVG
from jontel.design import Area, Design, Fill, Line, Run, Satin
from jontel.design.edits import transform_objects
from jontel.design.paths import ellipse_path
from jontel.files.formats import export
from jontel.shaping.operations import operation
from jontel.shaping.placing import box_of
from tests.app.conftest import User
from tests.app.test_drawing import ALT, CTRL, SHIFT, gesture
from tests.conftest import box_path, design_of


@pytest.fixture
def three(user: User) -> User:
    """Somebody with a box, an ellipse over a part of it, and a line."""
    user.open(
        design_of(
            (Area(box_path(0, 0, 20, 12)), Fill(angle=30.0)),
            (Area(ellipse_path(20, 6, 8, 8)), Satin()),
            (Line("M-20 -10 L-5 -20"), Run()),
        )
    )
    user.stage("Stitch")
    user.window.canvas.setFocus()
    return user


def key(user: User, which: Qt.Key, keys: Qt.KeyboardModifier = CTRL) -> None:
    """A command by its key."""
    user.window.canvas.setFocus()
    user.keys(user.window, which, keys)
    user.settle()


def mime() -> QMimeData:
    """What is on the clipboard."""
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    found = clipboard.mimeData()
    assert found is not None
    return found


def put(name: str, value: bytes) -> None:
    """Put something else on the clipboard."""
    data = QMimeData()
    data.setData(name, QByteArray(value))
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    clipboard.setMimeData(data)


def test_objects_are_copied_pasted_in_place_and_cut(three: User) -> None:
    three.select("Object 1")
    key(three, Qt.Key.Key_C)
    assert mime().hasFormat(OBJECTS) and mime().hasFormat(SVG) and mime().text().startswith("<svg")
    key(three, Qt.Key.Key_V, CTRL | SHIFT)
    three.bot.waitUntil(lambda: len(three.design.objects) == 4)
    fresh = three.design.objects[-1]
    assert fresh.shape == three.design.objects[0].shape and fresh.cover == Fill(angle=30.0)
    assert three.document.selection == {fresh.id}
    key(three, Qt.Key.Key_X)
    assert len(three.design.objects) == 3
    key(three, Qt.Key.Key_Z)
    assert len(three.design.objects) == 4


def test_what_is_pasted_goes_under_the_mouse(three: User) -> None:
    three.select("Object 1")
    key(three, Qt.Key.Key_C)
    three.bot.mouseMove(three.window.canvas, three.pixel(-20, 15))
    gesture(three, [(-20, 15)])
    key(three, Qt.Key.Key_V)
    three.bot.waitUntil(lambda: len(three.design.objects) == 4)
    left, top, right, low = box_of([three.design.objects[-1]]).tolist()
    assert ((left + right) / 2, (top + low) / 2) == pytest.approx((-20, 15), abs=0.5)


def test_objects_go_from_design_to_design(three: User, two_boxes: Design) -> None:
    three.select("Object 1", "Object 2")
    key(three, Qt.Key.Key_C)
    three.open(two_boxes)
    key(three, Qt.Key.Key_V, CTRL | SHIFT)
    three.bot.waitUntil(lambda: len(three.design.objects) == 4)
    assert [type(item.cover) for item in three.design.objects[2:]] == [Fill, Satin]
    three.settle()
    assert not three.plan.failures


@pytest.mark.parametrize("data", [b" ", b"not a file", b"PK\x03\x04" + bytes(40)])
def test_damaged_objects_on_the_clipboard_are_refused_in_a_sentence(three: User, data: bytes) -> None:
    told: list[str] = []
    three.document.told.connect(told.append)
    put(OBJECTS, data)
    key(three, Qt.Key.Key_V)
    three.bot.waitUntil(lambda: bool(told))
    assert "The clipboard" in told[0] and len(three.design.objects) == 3


def test_drawings_and_pictures_of_other_programs_are_pasted(three: User) -> None:
    put(
        SVG,
        b'<svg xmlns="http://www.w3.org/2000/svg" width="30mm" height="20mm" viewBox="0 0 30 20"><rect x="2" y="2" width="20" height="10" fill="#aa3311"/></svg>',
    )
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    key(three, Qt.Key.Key_V)
    three.bot.waitUntil(lambda: len(three.design.objects) == 4)
    picture = QImage(60, 60, QImage.Format.Format_RGB32)
    picture.fill(QColor("white"))
    for x in range(15, 45):
        for y in range(15, 45):
            picture.setPixelColor(x, y, QColor("#204080"))
    clipboard.setImage(picture)
    key(three, Qt.Key.Key_V)
    three.bot.waitUntil(lambda: len(three.design.objects) == 5)
    clipboard.setText("just words")
    key(three, Qt.Key.Key_V)
    assert three.window.notice.isVisible() and len(three.design.objects) == 5


def test_settings_are_taken_over_after_a_look(three: User) -> None:
    three.select("Object 1")
    key(three, Qt.Key.Key_C)
    three.select("Object 2")
    key(three, Qt.Key.Key_V, CTRL | ALT)
    three.bot.waitUntil(lambda: three.document.shaping.ready)
    assert isinstance(three.document.design.objects[1].cover, Fill)  # seen, not yet taken
    assert isinstance(three.document.history.design.objects[1].cover, Satin)
    three.click("operation-thread")
    three.bot.waitUntil(lambda: three.document.shaping.ready)
    three.click("operationTake")
    made = three.document.history.design.objects
    assert made[1].cover == Fill(angle=30.0) and made[1].thread == made[0].thread
    assert three.document.history.undo_label == "Take over settings"


def test_an_operation_is_seen_changed_and_taken_or_left(three: User) -> None:
    three.select("Object 1")
    three.click("layer-shape")
    three.click("do-offset")
    three.bot.waitUntil(lambda: three.document.shaping.ready)
    assert len(three.document.design.objects) == 4 and len(three.document.history.design.objects) == 3
    three.type("operation-by", "3 mm")
    three.bot.waitUntil(
        lambda: three.document.shaping.ready and abs(box_of([three.document.design.objects[0]])[0] + 3) < 0.01
    )
    three.click("operationLeave")
    assert len(three.document.design.objects) == 3
    three.click("do-offset")
    three.type("operation-by", "-30 mm")
    three.bot.waitUntil(lambda: "take less" in three.document.shaping.refused)
    assert not three.find("operationTake").isEnabled()
    three.type("operation-by", "1 mm")
    three.bot.waitUntil(lambda: three.document.shaping.ready)
    three.click("operationTake")
    assert len(three.document.history.design.objects) == 4
    assert len(three.document.selection) == 1


def test_an_operation_without_numbers_is_done_at_once(three: User) -> None:
    three.select("Object 1", "Object 2")
    three.click("layer-shape")
    three.click("do-unite")
    three.bot.waitUntil(lambda: len(three.design.objects) == 2)
    assert three.document.history.undo_label == "Unite"
    three.select("Object 3")
    told: list[str] = []
    three.document.told.connect(told.append)
    three.window.shape(operation("Unite"))
    assert told and "2 or more objects" in told[0]


def test_place_and_size_are_typed(three: User) -> None:
    three.select("Object 1")
    three.click("layer-shape")
    three.type("place-width", "40")
    assert box_of([three.design.objects[0]]) == pytest.approx([-10, -6, 30, 18], abs=1e-3)
    three.click("place-even")
    three.type("place-height", "12")
    assert box_of([three.design.objects[0]]) == pytest.approx([-10, 0, 30, 12], abs=1e-3)
    three.type("place-x", "0")
    assert box_of([three.design.objects[0]]) == pytest.approx([-20, 0, 20, 12], abs=1e-3)


def test_groups_are_clicked_as_one_and_with_control_one_by_one(three: User) -> None:
    three.select("Object 1", "Object 3")
    key(three, Qt.Key.Key_G, CTRL | SHIFT)
    three.document.select(frozenset())
    three.click_cloth(5, 3)
    assert three.document.selection == {1, 3}
    three.click_cloth(5, 3, CTRL)
    assert three.document.selection == {1}
    key(three, Qt.Key.Key_G, CTRL | ALT)
    three.document.select(frozenset())
    three.click_cloth(5, 3)
    assert three.document.selection == {1}


def test_what_lies_below_is_taken_by_alt_and_many_by_a_lasso(three: User) -> None:
    three.click_cloth(16, 6)
    assert three.document.selection == {2}
    three.click_cloth(16, 6, ALT)
    assert three.document.selection == {1}
    three.click_cloth(16, 6, ALT)
    assert three.document.selection == {2}
    gesture(three, [(-21, -21), (-3, -21), (-3, -8), (-21, -8), (-21, -20.5)], ALT)
    assert three.document.selection == {3}


def test_hidden_and_locked_objects_are_out_of_reach_and_come_back(three: User) -> None:
    three.select("Object 2")
    key(three, Qt.Key.Key_H)
    assert three.design.objects[1].hidden and set(three.plan.object.tolist()) <= {1, 3, -1}
    three.click_cloth(26, 6)
    assert not three.document.selection
    three.select("Object 1")
    key(three, Qt.Key.Key_L)
    assert three.design.objects[0].locked and not three.document.selection
    three.click_cloth(5, 3)
    assert not three.document.selection
    key(three, Qt.Key.Key_A)
    assert three.document.selection == {3}
    key(three, Qt.Key.Key_H, CTRL | ALT)
    assert [item.hidden for item in three.design.objects] == [True, True, False]
    key(three, Qt.Key.Key_H, CTRL | SHIFT)
    key(three, Qt.Key.Key_L, CTRL | ALT)
    assert not any(item.hidden or item.locked for item in three.design.objects)
    three.stage("Sew-out")


def test_a_locked_object_that_is_chosen_in_the_list_is_not_changed_by_panel_or_key(three: User) -> None:
    three.select("Object 1")
    key(three, Qt.Key.Key_L)
    told: list[str] = []
    three.document.told.connect(told.append)
    before = three.document.history.design
    three.document.select({1, 3})
    three.settle()
    key(three, Qt.Key.Key_Delete, Qt.KeyboardModifier.NoModifier)
    assert [item.id for item in three.document.history.design.objects] == [1, 2]
    assert told == ["“Object 1” is locked and stays as before: unlock it to change it."]
    three.document.select({1})
    three.settle()
    key(three, Qt.Key.Key_Delete, Qt.KeyboardModifier.NoModifier)
    three.document.preview(transform_objects(before, {1}, (1, 0, 0, 1, 9, 0)))
    assert three.document.design.objects[0].shape == before.objects[0].shape
    three.document.preview(None)
    assert three.document.history.design.objects[0] == before.objects[0] and len(told) == 2
    key(three, Qt.Key.Key_L, CTRL | ALT)
    three.document.select({1})
    three.settle()
    key(three, Qt.Key.Key_Delete, Qt.KeyboardModifier.NoModifier)
    assert [item.id for item in three.document.history.design.objects] == [2]


def test_the_same_kind_is_selected(three: User) -> None:
    design = three.document.history.design
    more = replace(design.objects[1], id=9, name="Object 4", shape=Area(box_path(40, 0, 4, 20)))
    three.document.edit("Another", replace(design, objects=(*design.objects, more), next_id=10))
    three.select("Object 2")
    key(three, Qt.Key.Key_K, CTRL | SHIFT)
    assert three.document.selection == {2, 9}


def test_an_object_is_frozen_and_a_stitch_file_laid_in_as_a_block(
    three: User, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "boat.csv"
    export(design_of((Area(box_path(-10, -10, 12, 12)), Fill()), (Line("M0 0 L20 5", 0.4), Run())), path)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a, **_k: (str(path), ""))
    before = three.document.history.design
    three.window.desk.open_stitches(into=True)
    three.settle()
    made = three.document.history.design
    fresh = made.objects[len(before.objects) :]
    assert fresh and all(item.cover.by_hand and item.group == fresh[0].group != 0 for item in fresh)
    assert three.document.selection == {item.id for item in fresh}
    three.window.desk.open_stitches()
    three.settle()
    assert len(three.window.session.documents) == 2 and three.document.history.design.name == "boat"
    path.write_text("no stitches")
    three.window.desk.open_stitches()
    assert three.window.notice.isVisible()
