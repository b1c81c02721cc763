"""An exception that nobody foresaw, wherever it is raised: the window lives, says so once, keeps the work, logs it."""

import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt, QTimer, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QApplication

from jontel.app import planner
from jontel.app.cloth import canvas as canvas_module
from jontel.app.cloth.scene import Painter
from jontel.app.faults import FAULTS
from jontel.app.tools.select import SelectTool
from jontel.design.edits import pin
from jontel.files.autosave import Slot
from jontel.sewing import proof as proof_module
from jontel.stitching.covers import GENERATORS, fill
from tests.app.conftest import User

pytestmark = pytest.mark.qt_no_exception_capture


class Unforeseen(Exception):
    """What no code of Jontel knows."""


def fail(*_args: Any, **_kwargs: Any) -> Any:
    """Raise it."""
    raise Unforeseen("on purpose")


@pytest.fixture(autouse=True)
def hooked(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """Faults are taken and logged as in the application, and told anew in every test."""
    monkeypatch.setattr(sys, "excepthook", FAULTS._unhandled)
    monkeypatch.setattr(FAULTS, "_told", set())
    FAULTS.keep_log(tmp_path / "log")
    yield


@pytest.fixture
def told(boxes: User) -> list[str]:
    """Every sentence that is told about a fault."""
    found: list[str] = []
    FAULTS.happened.connect(found.append)
    return found


def edit(user: User, spacing: float) -> None:
    """An edit by the user."""
    user.document.edit("Spacing", pin(user.document.history.design, {1}, "spacing", spacing))


def lives(user: User, told: list[str], tmp_path: Path) -> None:
    """The fault was told once and logged with the last edit, the work is kept, and editing goes on."""
    user.bot.waitUntil(lambda: bool(told), timeout=5000)
    user.bot.wait(150)
    assert len(told) == 1 and "Unforeseen" in told[0]
    log = (tmp_path / "log/jontel.log").read_text()
    assert "Unforeseen: on purpose" in log and "Traceback" in log
    if user.document.modified:
        user.bot.waitUntil(lambda: bool(list((tmp_path / "autosave").glob("*/*.jontel"))), timeout=5000)


@pytest.mark.parametrize("stage", ["plan", "estimate", "totals", "shares", "proof"])
def test_a_fault_in_a_stage_of_the_job(
    boxes: User, told: list[str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch, stage: str
) -> None:
    with monkeypatch.context() as patched:
        patched.setattr(planner, stage, fail)
        edit(boxes, 0.61)
        lives(boxes, told, tmp_path)
        assert not boxes.document.busy, "the design is not busy for ever"
    assert "Spacing" in (tmp_path / "log/jontel.log").read_text()
    edit(boxes, 0.62)
    boxes.settle()
    assert boxes.document.sewn is not None and boxes.document.sewn.design is boxes.document.history.design


def test_a_fault_in_one_object_is_that_objects_failure(
    boxes: User, told: list[str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from dataclasses import replace

    def sometimes(item: Any, recipe: Any, entry: Any, exit_: Any) -> Any:
        return fail() if recipe.spacing == 0.6137 else fill.sew(item, recipe, entry, exit_)

    monkeypatch.setitem(GENERATORS, "fill", replace(fill.GENERATOR, sew=sometimes))
    edit(boxes, 0.6137)
    lives(boxes, told, tmp_path)
    boxes.settle()
    assert [one.name for one in boxes.plan.failures] == ["Object 1"] and len(boxes.plan.pieces) == 1
    edit(boxes, 0.5)
    assert not boxes.plan.failures


def test_a_fault_in_one_rule_of_the_proof_hides_nothing_else(
    boxes: User, told: list[str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(proof_module, "RULES", (fail, *proof_module.RULES))
    monkeypatch.setattr(fail, "__module__", "jontel.sewing.proof.odd_rule")
    edit(boxes, 12.0)
    lives(boxes, told, tmp_path)
    boxes.settle()
    assert boxes.document.sewn is not None
    assert "odd rule" in " ".join(one.sentence for one in boxes.document.sewn.findings if one.kind == "fault")


def test_a_fault_in_a_slot(boxes: User, told: list[str], tmp_path: Path) -> None:
    edit(boxes, 0.61)
    QTimer.singleShot(0, fail)
    QTimer.singleShot(20, fail)
    lives(boxes, told, tmp_path)
    boxes.settle()


def test_a_fault_in_a_paint_event(
    boxes: User, told: list[str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    edit(boxes, 0.61)
    with monkeypatch.context() as patched:
        patched.setattr(canvas_module, "paint_rulers", fail)
        boxes.window.canvas.repaint()
        boxes.window.canvas.repaint()
        lives(boxes, told, tmp_path)
    boxes.window.canvas.repaint()


def test_a_fault_in_painting_the_stitches(
    boxes: User, told: list[str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    with monkeypatch.context() as patched:
        patched.setattr(Painter, "_stitches", fail)
        edit(boxes, 0.61)
        lives(boxes, told, tmp_path)
    edit(boxes, 0.62)
    boxes.settle()


def test_a_fault_in_a_tool(boxes: User, told: list[str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    edit(boxes, 0.61)
    with monkeypatch.context() as patched:
        patched.setattr(SelectTool, "press", fail)
        boxes.click_cloth(-20, 0)
        lives(boxes, told, tmp_path)
    boxes.click_cloth(-20, 0)
    assert boxes.document.selection == {1}


def test_a_fault_in_the_autosave(
    boxes: User, told: list[str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from jontel.app import keeper

    monkeypatch.setattr(keeper, "PAUSE", 0.2)
    works = Slot.keep
    monkeypatch.setattr(Slot, "keep", fail)
    edit(boxes, 0.61)
    boxes.document.keep_now()
    boxes.bot.waitUntil(lambda: bool(told), timeout=5000)
    monkeypatch.setattr(Slot, "keep", works)
    lives(boxes, told, tmp_path)


def test_a_damaged_drawing_dropped_on_the_window_is_refused(boxes: User, told: list[str], tmp_path: Path) -> None:
    art = tmp_path / "arc.svg"
    art.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="50mm" height="50mm" viewBox="0 0 50 50">'
        '<path d="M5 5 A nan 9 0 0 1 20 20 L 20 5 Z" fill="#112233"/></svg>'
    )
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(art))])
    left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    boxes.window.dropEvent(QDropEvent(QPointF(300, 300), Qt.DropAction.CopyAction, data, left, none))
    boxes.settle()
    assert not told and len(boxes.design.objects) >= 2
    assert boxes.window.notice.text().startswith("arc.svg")


def test_the_report_can_be_taken_along(boxes: User, told: list[str], tmp_path: Path) -> None:
    QTimer.singleShot(0, fail)
    lives(boxes, told, tmp_path)
    boxes.window.copy_report()
    clipboard = QApplication.clipboard()
    assert clipboard is not None and "Unforeseen" in clipboard.text() and "Python 3" in clipboard.text()


def test_a_fault_in_a_forecast_does_not_end_forecasting(
    boxes: User, told: list[str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    with monkeypatch.context() as patched:
        patched.setattr("jontel.forecast.forecast.forecast", fail)
        boxes.click("view-Forecast")
        lives(boxes, told, tmp_path)
    assert boxes.document.forecasting.seen is None
    edit(boxes, 0.61)
    boxes.bot.waitUntil(lambda: boxes.document.forecasting.seen is not None, timeout=20_000)
    assert len(told) == 1
