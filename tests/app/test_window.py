"""The window as a whole: playback, the needle track, the finder, files, recovery, and the job by keys alone."""

import itertools
import os
from pathlib import Path

import pytest
from PyQt6.QtCore import QMimeData, QPoint, QPointF, QRectF, QSettings, Qt, QTimer, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QApplication, QFileDialog, QInputDialog, QLineEdit, QMessageBox

from jontel.app import keeper
from jontel.app.card import CardDialog
from jontel.app.session import Session
from jontel.app.stages import MOST_TOOLS, NAMES, STAGES
from jontel.app.theme import DARK, LIGHT
from jontel.app.track import BLOCKS, TALL
from jontel.app.window import MainWindow
from jontel.data import resource
from jontel.design import CannotWrite, Design
from jontel.design.edits import pin
from jontel.files.autosave import Slot
from jontel.files.formats import open_design, read_movements
from jontel.machine.head import sew
from jontel.stitching.stitches import Kind
from tests.app.conftest import User
from tests.test_files import killed_session

CTRL, SHIFT, ALT = (getattr(Qt.KeyboardModifier, f"{k}Modifier") for k in ("Control", "Shift", "Alt"))


# the needle track


def block(user: User, name: str) -> QPoint:
    """The middle of an object's block."""
    track, sewn = user.window.transport.track, user.document.sewn
    assert sewn is not None
    share = next(s for s in sewn.shares if s.object == user.object(name).id)
    return track.block(share).center().toPoint()


def test_a_click_on_a_block_selects_on_the_cloth(crest_user: User) -> None:
    track = crest_user.window.transport.track
    crest_user.bot.mouseClick(track, Qt.MouseButton.LeftButton, pos=block(crest_user, "Ring"))
    assert [o.name for o in crest_user.document.selected()] == ["Ring"]
    crest_user.bot.mouseClick(track, Qt.MouseButton.LeftButton, SHIFT, block(crest_user, "Sky"))
    assert {o.name for o in crest_user.document.selected()} == {"Ring", "Sky"}


def test_dragging_a_block_resews_it_later(crest_user: User) -> None:
    track = crest_user.window.transport.track
    crest_user.drag(track, block(crest_user, "Mid sea"), block(crest_user, "Ring") + QPoint(60, 0))
    names = [o.name for o in crest_user.design.objects]
    assert names.index("Mid sea") == names.index("Ring") + 1
    assert crest_user.document.history.undo_label == "Resew in another order"


def test_dragging_the_playhead_shows_that_moment(crest_user: User) -> None:
    track = crest_user.window.transport.track
    crest_user.drag(track, QPoint(40, 8), QPoint(track.width() // 2, 8))
    row = crest_user.document.playhead
    assert row is not None and crest_user.document.sewn is not None
    half = crest_user.document.sewn.estimate.at(row) / crest_user.document.sewn.totals.seconds
    assert half == pytest.approx(0.5, abs=0.01)
    crest_user.settle()
    whole = crest_user.window.canvas.grab().toImage()
    crest_user.document.show_moment(None)
    crest_user.window.canvas.grab()
    crest_user.settle()
    assert crest_user.window.canvas.grab().toImage() != whole


def test_the_track_zooms_to_single_stitches_and_back(crest_user: User) -> None:
    track = crest_user.window.transport.track
    crest_user.document.show_moment(4000)
    before = track.scale()
    crest_user.window.transport.zoom.setValue(1000)
    assert track.scale() == pytest.approx(60)
    assert 0 < track.x_of(track.seconds_at(300)) == pytest.approx(300)
    track.grab()
    crest_user.bot.mouseDClick(track, Qt.MouseButton.LeftButton, pos=QPoint(300, BLOCKS + TALL // 2))
    assert track.scale() == pytest.approx(before)


# playback


def test_playback_runs_in_machine_time_and_stops_at_the_end(crest_user: User) -> None:
    crest_user.stage("Sew-out")
    transport = crest_user.window.transport
    transport.speed.setCurrentIndex(4)
    crest_user.bot.mouseClick(transport.buttons["play"], Qt.MouseButton.LeftButton)
    assert transport.playing
    crest_user.bot.waitUntil(lambda: (crest_user.document.playhead or 0) > 300, timeout=5000)
    transport.toggle()
    row = crest_user.document.playhead
    assert row is not None and not transport.playing
    crest_user.document.show_moment(len(crest_user.plan) - 40)
    transport.toggle()
    crest_user.bot.waitUntil(lambda: not transport.playing, timeout=5000)
    assert crest_user.document.playhead is None


def test_what_is_selected_is_played_again_and_again(crest_user: User) -> None:
    crest_user.stage("Sew-out")
    crest_user.select("Moon")
    transport, document = crest_user.window.transport, crest_user.document
    assert document.sewn is not None
    share = document.sewn.by_object[crest_user.object("Moon").id]
    crest_user.bot.mouseClick(transport.buttons["loop"], Qt.MouseButton.LeftButton)
    transport.speed.setCurrentIndex(4)
    seen: list[int] = []
    transport.toggle()
    document.playhead_changed.connect(lambda: seen.append(document.playhead or 0))
    crest_user.bot.waitUntil(lambda: any(b < a for a, b in itertools.pairwise(seen)), timeout=20_000)
    assert transport.playing and all(share.first - 1 <= row <= share.last + 1 for row in seen)
    transport.toggle()
    crest_user.keys(crest_user.window, Qt.Key.Key_P, Qt.KeyboardModifier.ShiftModifier)
    assert not transport.loop.isChecked()


def test_steps_go_by_stitch_object_and_thread(crest_user: User) -> None:
    transport, document = crest_user.window.transport, crest_user.document
    plan = crest_user.plan
    transport.go(0)
    transport.step("stitch", 1)
    first = document.playhead
    assert first is not None and plan.kind[first] == Kind.STITCH
    transport.step("stitch", 1)
    assert document.playhead == first + 1
    transport.step("object", 1)
    assert document.playhead is not None and plan.object[document.playhead] == crest_user.object("Moon").id
    transport.step("thread", 1)
    assert document.playhead is not None and plan.threads[plan.thread[document.playhead]].name == "Beam gold"
    transport.step("thread", -1)
    transport.step("object", -1)
    assert plan.object[document.playhead] in (crest_user.object("Sky").id, crest_user.object("Moon").id)
    assert "needle" in transport.moment.text()


def test_steps_can_be_clicked(crest_user: User) -> None:
    transport, document = crest_user.window.transport, crest_user.document
    plan = crest_user.plan
    transport.go(0)
    transport.stride.setCurrentIndex(1)
    crest_user.click("transport-on")
    crest_user.click("transport-on")
    row = document.playhead
    assert row is not None and plan.object[row] == crest_user.design.objects[2].id
    crest_user.click("transport-back")
    assert document.playhead is not None and document.playhead < row


def test_a_new_empty_design_is_no_unsaved_work(window: MainWindow) -> None:
    window.desk.new_design()
    document = window.session.current
    assert document is not None and not document.modified


def test_a_stop_is_said_when_the_needle_is_there(crest_user: User) -> None:
    plan = crest_user.plan
    crest_user.window.transport.go(next(iter(plan.stops)))
    assert "Lay the film" in crest_user.window.transport.moment.text()


# finding actions, looks, units


def test_every_command_is_found_by_name_and_run(crest_user: User) -> None:
    window = crest_user.window
    crest_user.keys(window, Qt.Key.Key_K, CTRL)
    finder = window.tabs.finder
    assert finder.hasFocus() and window.tabs.finder.popup.isVisible()
    crest_user.bot.keyClicks(finder, "thread view")
    crest_user.keys(finder, Qt.Key.Key_Return)
    assert window.canvas.view == "thread" and not finder.popup.isVisible()
    finder.setFocus()
    crest_user.bot.keyClicks(finder, "no such thing")
    assert finder.list.count() == 0
    crest_user.keys(finder, Qt.Key.Key_Escape)
    assert not finder.hasFocus()


def test_no_two_commands_share_a_name_or_a_key(window: MainWindow) -> None:
    names = [a.text() for a in window.command_actions]
    keys = [a.shortcut().toString() for a in window.command_actions if not a.shortcut().isEmpty()]
    assert len(set(names)) == len(names) or sorted(names).count("Group by thread") == 1
    assert len(set(keys)) == len(keys)


def test_the_keys_are_written_down(window: MainWindow) -> None:
    page = (Path(__file__).parents[2] / "docs/keyboard.md").read_text()
    for action in window.command_actions:
        if not action.shortcut().isEmpty():
            assert f"`{action.shortcut().toString()}`" in page, action.text()


def test_light_and_dark_are_remembered(crest_user: User) -> None:
    window = crest_user.window
    assert window.theme is LIGHT
    crest_user.keys(window, Qt.Key.Key_L, CTRL | SHIFT)
    assert window.theme is DARK and window.settings.value("theme") == "dark"
    window.toggle_theme()
    assert window.theme is LIGHT


def test_another_unit_is_shown_everywhere(crest_user: User) -> None:
    crest_user.select("Rock")
    crest_user.window.set_unit("in")
    crest_user.bot.wait(30)
    spacing = crest_user.find("spacing", QLineEdit)
    assert isinstance(spacing, QLineEdit) and spacing.text() == "0.016 in"
    crest_user.window.set_unit("pt")
    crest_user.bot.wait(30)
    spacing = crest_user.find("spacing", QLineEdit)
    assert isinstance(spacing, QLineEdit) and spacing.text() == "4.0 pt"
    crest_user.window.set_unit("mm")


@pytest.mark.parametrize("number", range(5))
def test_stages_are_places_any_time(crest_user: User, number: int) -> None:
    crest_user.keys(crest_user.window, Qt.Key(Qt.Key.Key_1 + number), CTRL)
    assert crest_user.window.stack.currentIndex() == number
    assert crest_user.window.stage_row.stages.checkedId() == number


def test_tabs_keep_their_designs_apart(crest_user: User, two_boxes: Design) -> None:
    crest_user.open(two_boxes)
    assert crest_user.design == two_boxes and crest_user.window.tabs.bar.count() == 2
    crest_user.window.turn_tab(1)
    assert crest_user.design.name == "Pellan Point crest"
    crest_user.window.desk.close_current()
    assert crest_user.design == two_boxes


# files


def test_save_open_and_the_mark_of_unsaved_work(boxes: User, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    target = tmp_path / "boxes"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(target), ""))
    window = boxes.window
    assert boxes.document.modified and "•" in window.tabs.bar.tabText(0)
    assert window.desk.save()
    assert open_design(tmp_path / "boxes.jontel") == boxes.design
    assert not boxes.document.modified and "•" not in window.tabs.bar.tabText(0)
    boxes.select("Object 1")
    boxes.type("spacing", "0.6")
    assert boxes.document.modified
    boxes.window.undo()
    assert not boxes.document.modified
    window.desk.close_current()
    window.desk.open_paths([tmp_path / "boxes.jontel"])
    boxes.settle()
    assert boxes.document.path == tmp_path / "boxes.jontel"
    window.desk.open_paths([tmp_path / "boxes.jontel"])
    assert len(window.session.documents) == 1


def test_a_save_that_fails_is_said_and_loses_nothing(
    boxes: User, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(tmp_path / "no/x.jontel"), ""))
    design = boxes.design
    assert not boxes.window.desk.save()
    assert "does not exist" in boxes.window.notice.text() and boxes.design == design and boxes.document.modified


@pytest.mark.parametrize("data", [b"", b"garbage", resource("hoops.json")])
def test_a_bad_file_is_said_and_opens_nothing(window: MainWindow, tmp_path: Path, data: bytes) -> None:
    for name in ("bad.jontel", "bad.svg"):
        (tmp_path / name).write_bytes(data)
        window.desk.open_paths([tmp_path / name])
        assert window.notice.text().startswith(name)
    window.desk.open_paths([tmp_path, tmp_path / "missing.jontel"])
    assert window.session.documents == []


def test_artwork_dropped_on_the_window_becomes_objects(boxes: User, tmp_path: Path) -> None:
    art = tmp_path / "bar.svg"
    art.write_bytes(resource("demo/name-bar.svg"))
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(art))])
    event = QDropEvent(
        QPointF(300, 300), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    )
    boxes.window.dropEvent(event)
    boxes.settle()
    assert len(boxes.design.objects) == 6


def test_reading_can_be_stopped(boxes: User, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    from threading import Event

    from jontel.app import desk as module

    free = Event()
    monkeypatch.setattr(module, "read_into", lambda design, _path: (free.wait(10), design)[1])
    (tmp_path / "slow.svg").write_bytes(resource("demo/name-bar.svg"))
    stop = boxes.window.status.stop
    design = boxes.design

    def press() -> None:
        assert stop.isVisible() and "Reading slow.svg" in boxes.window.status.hint.text()
        assert not boxes.window.canvas.isEnabled()
        boxes.bot.mouseClick(stop, Qt.MouseButton.LeftButton)

    QTimer.singleShot(600, press)
    boxes.window.desk.add_artwork(tmp_path / "slow.svg")
    free.set()
    assert boxes.design == design and boxes.window.canvas.isEnabled()


def test_closing_asks_about_unsaved_work(boxes: User, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(QMessageBox, "question", lambda *_a, **_k: QMessageBox.StandardButton.Cancel)
    assert not boxes.window.desk.close_document(boxes.document)
    assert not boxes.window.close()
    assert len(boxes.window.session.documents) == 1


# autosave and recovery


def kept(folder: Path) -> list[Path]:
    """Every autosave there is."""
    return sorted(folder.glob("*/*.jontel"))


def test_unsaved_work_is_kept_and_dropped_when_saved(boxes: User, tmp_path: Path) -> None:
    folder = tmp_path / "autosave"
    boxes.document.keep_now()
    boxes.bot.waitUntil(lambda: len(kept(folder)) == 1)
    assert open_design(kept(folder)[0]) == boxes.design
    boxes.document.saved_as(tmp_path / "a.jontel", boxes.document.history.design)
    boxes.bot.waitUntil(lambda: not kept(folder))


def test_an_edit_is_kept_by_itself_after_a_moment(boxes: User, tmp_path: Path) -> None:
    boxes.select("Object 1")
    boxes.type("spacing", "0.7")
    boxes.bot.waitUntil(lambda: len(kept(tmp_path / "autosave")) == 1, timeout=5000)
    assert open_design(kept(tmp_path / "autosave")[0]) == boxes.design


@pytest.mark.parametrize("interval", [50, 0], ids=["steady", "without a breath"])
def test_work_is_kept_while_edits_go_on(
    boxes: User, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, interval: int
) -> None:
    monkeypatch.setattr(keeper, "SOON", 0.4)
    monkeypatch.setattr(keeper, "AT_LEAST", 1.0)
    values = itertools.cycle(range(1000))

    def edit() -> None:
        design = pin(boxes.document.history.design, {1}, "spacing", 0.5 + 0.001 * next(values))
        boxes.document.edit("Spacing", design)

    busy = QTimer(interval=interval)
    busy.timeout.connect(edit)
    busy.start()
    try:
        boxes.bot.waitUntil(lambda: len(kept(tmp_path / "autosave")) >= 2, timeout=30_000)
    finally:
        busy.stop()


def test_an_autosave_that_fails_is_told_once_and_tried_again(
    boxes: User, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(keeper, "PAUSE", 0.2)
    told: list[str] = []
    boxes.document.troubled.connect(told.append)
    works = Slot.keep

    def full(*_args: object) -> None:
        raise CannotWrite("The disk is full.")

    monkeypatch.setattr(Slot, "keep", full)
    boxes.document.keep_now()
    boxes.bot.waitUntil(lambda: bool(told))
    assert "disk is full" in boxes.window.notice.text() and not kept(tmp_path / "autosave")
    boxes.bot.wait(500)
    assert len(told) == 1, "the same failure is told once"
    monkeypatch.setattr(Slot, "keep", works)
    boxes.bot.waitUntil(lambda: len(kept(tmp_path / "autosave")) == 1, timeout=5000)


def test_after_a_crash_the_work_is_back(
    tmp_path: Path,
    two_boxes: Design,
    monkeypatch: pytest.MonkeyPatch,
    qtbot,  # type: ignore[no-untyped-def]
) -> None:
    from jontel.app import start

    monkeypatch.setattr(start.platformdirs, "user_state_dir", lambda _n: str(tmp_path / "state"))
    monkeypatch.setattr(start.platformdirs, "user_config_dir", lambda _n: str(tmp_path / "config"))
    folder = tmp_path / "state/autosave"
    killed_session(folder, two_boxes)
    start.make_application()
    window = start.make_window()
    qtbot.addWidget(window)
    (document,) = window.session.documents
    assert document.design == two_boxes and document.modified
    assert "“Test”" in window.notice.text() and len(kept(folder)) == 1
    window.show()
    qtbot.waitExposed(window)
    canvas, notice = window.canvas, window.notice
    assert (
        abs(notice.geometry().center().x() - canvas.width() / 2) < 3 and notice.geometry().bottom() < canvas.height()
    )
    middle = canvas.camera.to_cloth(QRectF(canvas.rect()).center())
    assert abs(middle.x()) < 6 and abs(middle.y()) < 6, "what came back is in the middle of the window"
    window.session.close(document)
    assert not kept(folder)
    window.canvas.close_down()


def test_a_file_that_another_program_changed_is_asked_about(
    boxes: User, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "boxes.jontel"
    boxes.document.saved_as(boxes.document.write(path), boxes.document.history.design)
    boxes.select("Object 1")
    boxes.type("spacing", "0.7")
    path.write_bytes(b"another program's")
    answers = [QMessageBox.StandardButton.Cancel, QMessageBox.StandardButton.Save]
    monkeypatch.setattr(QMessageBox, "question", lambda *_a, **_k: answers.pop(0))
    assert not boxes.window.desk.save() and path.read_bytes() == b"another program's"
    assert boxes.window.desk.save() and open_design(path) == boxes.document.history.design
    assert boxes.window.desk.save() and answers == [], "nobody else changed it since"


# the whole job


def test_the_job_by_mouse_alone(user: User, tmp_path: Path) -> None:
    user.window.desk.open_demo()
    user.settle()
    user.stage("Sew-out")
    folder = user.find("exportFolder", QLineEdit)
    assert isinstance(folder, QLineEdit)
    folder.setText(str(tmp_path))
    user.click("writeFiles")
    (machine,) = tmp_path.glob("*.ngc")
    assert sew(read_movements(machine), user.design.brief.hoop).stitches > 10_000


def test_the_job_by_keys_alone(user: User, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *_a, **_k: ([str(tmp_path / "crest.svg")], ""))
    (tmp_path / "crest.svg").write_bytes(resource("demo/crest.svg"))
    window = user.window
    user.keys(window, Qt.Key.Key_O, CTRL)
    user.settle()
    window.canvas.setFocus()
    user.keys(window, Qt.Key.Key_PageDown)
    assert [o.name for o in user.document.selected()] == ["Sky"]
    user.keys(window, Qt.Key.Key_PageUp)
    assert [o.name for o in user.document.selected()] == ["Rope twist back"]
    user.keys(window, Qt.Key.Key_A, CTRL | SHIFT)
    assert len(user.document.selected()) == 2
    user.keys(window, Qt.Key.Key_5, CTRL)
    folder = user.find("exportFolder", QLineEdit)
    assert isinstance(folder, QLineEdit)
    folder.setText(str(tmp_path))
    user.keys(window, Qt.Key.Key_E, CTRL)
    assert (tmp_path / "crest.ngc").exists() and (tmp_path / "crest.pdf").exists()


def test_stopping_the_stitching_is_said_and_the_next_edit_goes_on(boxes: User) -> None:
    boxes.window.status.stop.clicked.emit()
    assert "Stopped" in boxes.window.status.hint.text()
    boxes.select("Object 1")
    boxes.type("spacing", "0.8")
    assert boxes.document.sewn is not None and boxes.document.sewn.design is boxes.design


def test_an_empty_window_does_not_mind_any_command(window: MainWindow, monkeypatch: pytest.MonkeyPatch) -> None:
    for dialog in ("getOpenFileName", "getSaveFileName", "getOpenFileNames"):
        monkeypatch.setattr(QFileDialog, dialog, lambda *_a, _d=dialog, **_k: ([] if _d.endswith("s") else "", ""))
    monkeypatch.setattr(CardDialog, "exec", lambda *_a: CardDialog.DialogCode.Rejected)
    monkeypatch.setattr(QInputDialog, "getText", lambda *_a, **_k: ("", False))
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    clipboard.clear()
    for action in window.command_actions:
        if action.text() not in ("Quit", "Open the demo", "New design"):
            action.trigger()
    assert window.session.documents == []


def test_sessions_bring_the_neighbour_forward_when_one_closes(two_boxes: Design) -> None:
    session = Session()
    first, second = session.open(two_boxes), session.open(two_boxes)
    assert session.current is second
    session.close(second)
    assert session.current is first
    session.close(first)
    assert session.current is None


def test_settings_survive(tmp_path: Path) -> None:
    path = str(tmp_path / "s.ini")
    settings = QSettings(path, QSettings.Format.IniFormat)
    settings.setValue("unit", "pt")
    settings.sync()
    assert os.path.exists(path)
    made = MainWindow(Session(), QSettings(path, QSettings.Format.IniFormat))
    assert made.unit == "pt" and NAMES[made.stack.currentIndex()] == "Stitch"
    made.deleteLater()


def test_the_rail_shows_the_tools_of_the_stage_and_no_others(boxes: User) -> None:
    known = set(boxes.window.tools)
    for stage in STAGES:
        assert len(stage.tools) <= MOST_TOOLS and set(stage.tools) <= known
        boxes.stage(stage.name)
        shown = {name for name, made in boxes.window.rail_buttons.items() if made.isVisible()}
        assert shown == set(stage.tools) and boxes.window.canvas.tool.name in shown
    assert {tool for stage in STAGES for tool in (*stage.tools, *stage.more)} == known


def test_a_tool_taken_by_key_leads_to_its_stage(boxes: User) -> None:
    boxes.stage("Order")
    boxes.window.canvas.setFocus()
    boxes.window.canvas.set_tool(boxes.window.tools["rectangle"])
    assert NAMES[boxes.window.stack.currentIndex()] == "Stitch" and boxes.window.canvas.tool.name == "rectangle"
    boxes.stage("Brief")
    assert boxes.window.canvas.tool.name == "select"


def test_no_stage_makes_the_window_higher(crest_user: User) -> None:
    window = crest_user.window
    size = window.size()
    for number in (0, 1, 2, 1, 3, 2, 4, 1):
        window.show_stage(number)
        crest_user.settle()
        assert window.size() == size, number


def test_one_thread_is_told_as_one(boxes: User) -> None:
    told = boxes.window.status.facts.text()
    assert "<b>1</b> thread&nbsp;" in told and " stitches&nbsp;" in told
