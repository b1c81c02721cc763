"""Words on the cloth: typed, clicked, changed in the panel, and one step to take back."""

import io
import math
from pathlib import Path

import numpy as np
import pytest
from msgspec.structs import replace
from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QApplication, QComboBox, QLineEdit, QListWidget, QPlainTextEdit

from jontel.app.commands import commands
from jontel.app.panels import letters
from jontel.app.tools.letter import LetterTool
from jontel.data import resource
from jontel.design import Area, Column, Fill, Line, Run, StitchObject
from jontel.design.edits import add_objects
from jontel.files import samples
from jontel.lettering.fonts import FontFile, open_font, shipped_fonts
from jontel.lettering.handles import handles
from jontel.sewing.plan import plan
from tests.app.conftest import User
from tests.conftest import box_path, design_of


@pytest.fixture
def typist(user: User) -> User:
    """Somebody with an empty cloth and the lettering tool."""
    made = design_of((Area(box_path(0, 0, 5, 5)), Fill()))
    user.open(replace(made, objects=()))
    user.stage("Stitch")
    user.keys(user.window.canvas, Qt.Key.Key_T)
    assert user.window.canvas.tool.name == "letter"
    return user


def type_words(user: User, text: str) -> None:
    """Type on the cloth."""
    for line, part in enumerate(text.split("\n")):
        if line:
            user.bot.keyClick(user.window.canvas, Qt.Key.Key_Return)
        user.bot.keyClicks(user.window.canvas, part)
    user.settle()


def texts(user: User) -> list[str]:
    """The words of all lettering in the design as it stands."""
    return [item.lettering.text for item in user.document.history.design.objects if item.lettering is not None]


def test_words_are_typed_where_the_cloth_was_clicked_and_sew(typist: User) -> None:
    typist.click_cloth(-30, 10)
    type_words(typist, "Fog Cape\nPilot")
    assert texts(typist) == [] and len(typist.design.objects) == 1, "they are shown while they are typed"
    typist.keys(typist.window.canvas, Qt.Key.Key_Escape)
    typist.settle()
    assert texts(typist) == ["Fog Cape\nPilot"]
    (item,) = typist.design.objects
    assert item.name == "Fog Cape Pilot" and item.id in typist.document.selection
    found = plan(typist.design)
    assert not found.failures and len(found) > 500
    low = found.xy.min(axis=0)
    assert low[0] == pytest.approx(-30, abs=2.0) and low[1] == pytest.approx(10 - 12, abs=2.0)
    typist.bot.keyClick(typist.window.canvas, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    typist.settle()
    assert typist.design.objects == (), "all that was typed is one step"


def test_letters_are_no_commands_while_one_types(typist: User) -> None:
    typist.click_cloth(0, 0)
    type_words(typist, "pdfcl. [")
    typist.keys(typist.window.canvas, Qt.Key.Key_Escape)
    assert texts(typist) == ["pdfcl. ["] and typist.window.canvas.tool.name == "letter"
    typist.keys(typist.window.canvas, Qt.Key.Key_L)
    assert typist.window.canvas.tool.name == "line", "and are again afterwards"


def test_a_click_on_letters_goes_on_with_them(typist: User) -> None:
    typist.click_cloth(-30, 0)
    type_words(typist, "Harbour")
    typist.keys(typist.window.canvas, Qt.Key.Key_Escape)
    typist.settle()
    box = plan(typist.design).pieces[0].bounds
    assert box is not None
    typist.click_cloth(box[2] - 0.9, -4.0)
    typist.bot.keyClick(typist.window.canvas, Qt.Key.Key_End)
    typist.bot.keyClick(typist.window.canvas, Qt.Key.Key_Backspace)
    type_words(typist, " 7")
    typist.bot.keyClick(typist.window.canvas, Qt.Key.Key_Home)
    typist.bot.keyClick(typist.window.canvas, Qt.Key.Key_Right)
    typist.bot.keyClick(typist.window.canvas, Qt.Key.Key_Delete)
    typist.window.canvas.grab()
    typist.keys(typist.window.canvas, Qt.Key.Key_Escape)
    typist.settle()
    assert texts(typist) == ["Hrbou 7"] and typist.design.objects[0].name == "Hrbou 7"
    typist.document.undo()
    assert texts(typist) == ["Harbour"]


def test_pasted_words_and_taken_back_ones(typist: User) -> None:
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    clipboard.setText("Nell\r\n\x07Pilot")
    typist.click_cloth(0, 0)
    typist.bot.keyClick(typist.window.canvas, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    typist.settle()
    typist.bot.keyClick(typist.window.canvas, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    typist.settle()
    assert typist.design.objects == () and typist.document.history.undo_label is None
    typist.click_cloth(0, 0)
    typist.bot.keyClick(typist.window.canvas, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    typist.keys(typist.window.canvas, Qt.Key.Key_Escape)
    assert texts(typist) == ["Nell\nPilot"]


def test_what_was_typed_stays_when_another_tool_or_field_is_taken(typist: User) -> None:
    typist.click_cloth(-20, 0)
    type_words(typist, "Buoy")
    typist.window.canvas.set_tool(typist.window.tools["select"])
    assert texts(typist) == ["Buoy"]


def test_words_taken_away_to_the_last_take_the_object_with_them(typist: User) -> None:
    typist.click_cloth(-20, 0)
    type_words(typist, "O")
    typist.keys(typist.window.canvas, Qt.Key.Key_Escape)
    typist.settle()
    typist.click_cloth(-19.5, -6)
    typist.bot.keyClick(typist.window.canvas, Qt.Key.Key_End)
    typist.bot.keyClick(typist.window.canvas, Qt.Key.Key_Backspace)
    typist.keys(typist.window.canvas, Qt.Key.Key_Escape)
    typist.settle()
    assert typist.design.objects == ()


def test_height_font_course_and_words_are_changed_in_the_panel(typist: User) -> None:
    typist.click_cloth(-30, 0)
    type_words(typist, "Pellan")
    typist.keys(typist.window.canvas, Qt.Key.Key_Escape)
    typist.settle()
    before = plan(typist.design)
    typist.type("height", "18")
    after = plan(typist.design)
    grown = np.ptp(after.xy[:, 1]) / np.ptp(before.xy[:, 1])
    assert grown == pytest.approx(1.5, abs=0.1)
    fonts = typist.find("font", QComboBox)
    assert isinstance(fonts, QComboBox)
    names = [file.name for file in shipped_fonts()]
    assert [fonts.itemData(k) for k in range(len(names))] == names
    assert all(not fonts.itemIcon(k).isNull() for k in range(len(names)))
    fonts.setFocus()
    typist.keys(fonts, Qt.Key.Key_Down)
    typist.settle()
    words = typist.design.objects[0].lettering
    assert words is not None and words.font == names[1] and words.height == 18.0
    course = typist.find("course", QComboBox)
    course.setFocus()
    typist.keys(course, Qt.Key.Key_Down)
    typist.settle()
    words = typist.design.objects[0].lettering
    assert words is not None and words.course == "arc over" and words.alignment == "middle"
    typist.type("radius", "60")
    field = typist.find("words", QPlainTextEdit)
    assert isinstance(field, QPlainTextEdit)
    field.setFocus()
    field.selectAll()
    typist.bot.keyClicks(field, "Point")
    typist.bot.keyClick(field, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    typist.settle()
    words = typist.design.objects[0].lettering
    assert words is not None and (words.text, words.radius) == ("Point", 60.0)
    assert typist.design.objects[0].shape == plan(typist.design).design.objects[0].shape


def test_fonts_of_the_system_are_shown_as_they_sew_and_sewn_once(
    typist: User, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    place = tmp_path / "own.ttf"
    place.write_bytes(resource(f"fonts/{shipped_fonts()[3].shipped}"))
    broken = tmp_path / "broken.ttf"
    broken.write_bytes(place.read_bytes()[:900])
    own = (FontFile("Own Hand", "of this machine", place), FontFile("Own Ruin", "of this machine", broken))
    monkeypatch.setattr(letters, "system_fonts", lambda: own)
    monkeypatch.setattr(letters.platformdirs, "user_cache_dir", lambda _name: str(tmp_path / "cache"))
    sewn: list[str] = []
    real = samples.sample_of
    monkeypatch.setattr(samples, "sample_of", lambda name, font: (sewn.append(name), real(name, font))[1])
    for _ in range(2):
        box = letters.FontBox()
        typist.bot.addWidget(box)
        typist.bot.waitUntil(lambda box=box: box.findData("Own Ruin") >= 0, timeout=5000)
        assert box.itemIcon(box.findData("Own Hand")).isNull()
        box.show()
        box.showPopup()
        typist.bot.waitUntil(lambda box=box: not box.itemIcon(box.findData("Own Hand")).isNull(), timeout=10_000)
        typist.bot.waitUntil(lambda: len(list((tmp_path / "cache/fonts").glob("*.png"))) == 2, timeout=5000)
        assert box.itemIcon(box.findData("Own Ruin")).isNull()
        box.hidePopup()
    assert sewn == ["Own Hand"]
    for kept in (tmp_path / "cache/fonts").glob("*.png"):
        data = kept.read_bytes()
        assert not data or Image.open(io.BytesIO(data)).size == samples.SIZE


def test_a_font_that_is_gone_is_told_and_nothing_changes(typist: User) -> None:
    typist.click_cloth(-30, 0)
    type_words(typist, "Ahoy")
    typist.keys(typist.window.canvas, Qt.Key.Key_Escape)
    typist.settle()
    design = typist.document.history.design
    lost = replace(design.objects[0], lettering=replace(design.objects[0].lettering, font="Gone Sans"))
    typist.document.edit("Font", replace(design, objects=(lost,)))
    typist.settle()
    said: list[str] = []
    typist.document.told.connect(said.append)
    typist.type("height", "20")
    assert any("“Gone Sans” is not on this machine" in words for words in said)
    assert typist.document.history.design.objects[0].shape == lost.shape


def test_moved_and_turned_words_are_typed_on_where_they_lie(typist: User) -> None:
    typist.click_cloth(-30, 0)
    type_words(typist, "Sail")
    typist.keys(typist.window.canvas, Qt.Key.Key_Escape)
    typist.settle()
    typist.window.canvas.set_tool(typist.window.tools["select"])
    typist.bot.keyClick(typist.window.canvas, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    typist.settle()
    words = typist.design.objects[0].lettering
    assert words is not None and math.dist(words.place[4:], (-25.0, 0.0)) < 1.0
    low = plan(typist.design).xy.min(axis=0)[0]
    typist.type("height", "12.5")
    assert plan(typist.design).xy.min(axis=0)[0] == pytest.approx(low, abs=0.6)
    assert QApplication.focusWidget() is not None


def test_the_letter_at_the_caret_is_dragged_by_its_handles(typist: User) -> None:
    typist.click_cloth(-30, 10)
    type_words(typist, "HOIL")
    typist.bot.keyClick(typist.window.canvas, Qt.Key.Key_Home)
    typist.bot.keyClick(typist.window.canvas, Qt.Key.Key_Right)
    typist.bot.keyClick(typist.window.canvas, Qt.Key.Key_Right)
    before = plan(typist.design).xy.copy()
    tool = typist.window.canvas.tool
    assert isinstance(tool, LetterTool) and tool.words is not None
    foot = handles(tool.words, open_font(tool.words.font), 2)["move"]
    typist.drag_cloth(foot, (foot[0] + 2.0, foot[1] - 4.0))
    typist.keys(typist.window.canvas, Qt.Key.Key_Escape)
    typist.settle()
    (item,) = typist.document.history.design.objects
    assert item.lettering is not None and item.lettering.text == "HOIL"
    (change,) = item.lettering.letters
    assert change.sign == 2 and (change.along, change.off) == pytest.approx((2.0, 4.0), abs=0.3)
    after = plan(typist.design).xy
    assert after[:, 1].min() < before[:, 1].min() - 2.5
    typist.window.undo()
    typist.settle()
    assert typist.design.objects == (), "typing and dragging are one step"


def test_words_are_taken_apart_and_set_along_a_line_by_the_finder(typist: User) -> None:
    typist.click_cloth(-30, 10)
    type_words(typist, "Ox")
    typist.keys(typist.window.canvas, Qt.Key.Key_Escape)
    typist.settle()
    line = StitchObject(id=0, name="way", thread="1001", shape=Line("M-30 20 C-10 0 10 40 30 20"), cover=Run())
    typist.document.edit("Line", add_objects(typist.document.history.design, [line]))
    told: list[str] = []
    typist.document.told.connect(told.append)
    run_command(typist, "Set the words along the line selected with them")
    typist.bot.waitUntil(lambda: bool(told))
    assert "Select words and one line" in told[0]
    typist.document.select({item.id for item in typist.design.objects})
    run_command(typist, "Set the words along the line selected with them")
    typist.bot.waitUntil(lambda: typist.document.history.design.objects[0].lettering.course == "along a line")
    typist.select("Ox")
    run_command(typist, "Break words into letters")
    typist.bot.waitUntil(lambda: len(typist.document.history.design.objects) == 3)
    typist.settle()
    assert len(typist.document.selection) == 2 and not plan(typist.design).failures
    run_command(typist, "Break into columns")
    typist.bot.waitUntil(lambda: len(typist.document.history.design.objects) > 3)
    typist.settle()
    assert all(isinstance(item.shape, Column | Line) for item in typist.design.objects)


def run_command(user: User, title: str) -> None:
    """Run a command as the finder does."""
    next(one for one in commands(user.window) if one.title == title).does()


def test_the_letter_at_the_caret_gets_a_thread_of_its_own_and_typing_goes_on(typist: User) -> None:
    typist.click_cloth(-20, 10)
    type_words(typist, "Nora")
    tool = typist.window.canvas.tool
    assert isinstance(tool, LetterTool) and tool.words is not None
    typist.keys(typist.window.canvas, Qt.Key.Key_Home)
    typist.keys(typist.window.canvas, Qt.Key.Key_Right)
    x, y = handles(tool.words, open_font(tool.words.font), 1)["thread"]
    typist.bot.mouseClick(typist.window.canvas, Qt.MouseButton.LeftButton, pos=typist.pixel(x, y))
    picker = typist.find("threadPicker")
    typist.bot.keyClicks(picker.findChild(QLineEdit, "threadSearch"), "2006")
    typist.bot.keyClick(picker.findChild(QListWidget, "threadList"), Qt.Key.Key_Return)
    typist.settle()
    first, second = typist.document.history.design.objects
    assert second.thread == "2006" and second.name == "Nora · Beam gold" and first.thread != "2006"
    typist.window.activateWindow()  # as a desktop does once the list has closed
    typist.bot.waitUntil(lambda: tool.words is not None)
    type_words(typist, "l")
    typist.keys(typist.window.canvas, Qt.Key.Key_Escape)
    typist.settle()
    objects = typist.document.history.design.objects
    assert texts(typist) == ["Nlora", "Nlora"] and objects[1].lettering.letters[0].sign == 2
    assert len(typist.plan.threads) == 2
