"""One's own cloth, from the swatch to a ground that can be chosen."""

from pathlib import Path

import numpy as np
import pytest
from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QLabel, QPushButton

from jontel.app.calibration import CalibrationDialog
from jontel.data import find_ground
from jontel.forecast import calibrating
from jontel.forecast.calibrating import Fitted, readings_csv
from jontel.forecast.cloth import cloth_of
from jontel.forecast.scanning import unmoved
from tests.app.conftest import User

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def dialog(boxes: User) -> CalibrationDialog:
    """The dialog over a design on twill."""
    boxes.stage("Brief")
    boxes.click("calibrate")
    return boxes.window.findChildren(CalibrationDialog)[0]


def press(user: User, dialog: CalibrationDialog, name: str) -> None:
    button = dialog.findChild(QPushButton, name)
    assert button is not None
    user.bot.mouseClick(button, LEFT)
    user.bot.wait(30)


def test_the_swatch_is_opened_and_shows_where_a_reading_is_measured(boxes: User, dialog: CalibrationDialog) -> None:
    before = dialog.picture.grab().toImage()
    dialog.activateWindow()
    field = dialog.fields["disc across"]
    boxes.bot.mouseClick(field, LEFT)
    boxes.bot.waitUntil(lambda: dialog.picture.reading is not None)
    assert dialog.picture.reading is not None and dialog.picture.reading.name == "disc across"
    assert dialog.picture.grab().toImage() != before and not boxes.window.notice.isVisible()
    press(boxes, dialog, "openSwatch")
    boxes.settle()
    assert boxes.design.name == f"Swatch for {dialog.ground.name}" and not boxes.plan.failures


def test_typed_readings_become_a_ground_that_can_be_chosen(
    boxes: User, dialog: CalibrationDialog, monkeypatch: pytest.MonkeyPatch
) -> None:
    asked: list[tuple[dict[str, float], bool]] = []
    true = replace(cloth_of(find_ground("Woven twill")), pull=0.09, push=0.04)

    def fitted(_ground: object, values: dict[str, float], on_picture: bool = False) -> Fitted:
        asked.append((values, on_picture))
        return Fitted(true, 0.01, 0.01, 0.2, 0.03, len(values))

    monkeypatch.setattr(calibrating, "fitted", fitted)
    still = unmoved(dialog.ground)
    for name in list(dialog.fields)[:6]:
        assert not dialog.work.isEnabled()
        field = dialog.fields[name]
        field.setFocus()
        boxes.bot.keyClicks(field, f"{still[name] - 0.2:.2f}")
        boxes.bot.keyClick(field, Qt.Key.Key_Return)
    press(boxes, dialog, "workOutGround")
    ((values, on_picture),) = asked
    assert len(values) == 6 and not on_picture
    assert all(abs(mm - (still[name] - 0.2)) < 0.006 for name, mm in values.items())
    said = dialog.findChild(QLabel, "calibrationSaid")
    assert said is not None and "0.090 ± 0.010" in said.text()
    dialog.name.setText("Our twill")
    press(boxes, dialog, "keepOwnGround")
    ground = boxes.find("ground", QComboBox)
    assert isinstance(ground, QComboBox) and ground.findText("Our twill") >= 0
    assert ground.currentText() == dialog.ground.name, "it is offered, not taken"
    ground.setCurrentText("Our twill")
    ground.activated.emit(ground.currentIndex())
    boxes.settle()
    assert boxes.document.history.design.brief.ground.cloth == true


def test_a_list_is_read_and_what_is_none_is_told(boxes: User, dialog: CalibrationDialog, tmp_path: Path) -> None:
    path = tmp_path / "read.csv"
    rng = np.random.default_rng(0)
    path.write_bytes(readings_csv({name: mm + rng.normal(0, 0.1) for name, mm in unmoved(dialog.ground).items()}))
    dialog.read_file(path)
    assert dialog.work.isEnabled() and len(dialog.values) > 20
    assert dialog.fields["disc across"].value == pytest.approx(dialog.values["disc across"])
    path.write_text("nothing")
    dialog.read_file(path)
    said = dialog.findChild(QLabel, "calibrationSaid")
    assert said is not None and "read.csv" in said.text() and said.text().endswith(".")
