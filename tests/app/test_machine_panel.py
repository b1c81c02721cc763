"""A design handed to a machine over a socket from the Sew-out panel, with the mouse."""

from collections.abc import Iterator

import pytest
from PyQt6.QtWidgets import QLabel

from jontel.design import Area, Fill
from jontel.machine.server import Wishes
from tests.app.conftest import User
from tests.conftest import box_path, design_of
from tests.test_machine import Running


@pytest.fixture
def machine() -> Iterator[Running]:
    """A machine twenty times as fast as a real one."""
    one = Running(Wishes(factor=20.0, secret="gull"))
    yield one
    one.end()


def says(user: User, words: str) -> None:
    """Wait until the panel says so."""
    shown = user.find("machineSays")
    assert isinstance(shown, QLabel)
    user.bot.waitUntil(lambda: words in shown.text(), timeout=20_000)


def test_a_design_is_sent_sewn_paused_taken_back_and_followed(user: User, machine: Running) -> None:
    user.open(
        design_of((Area(box_path(-10, -8, 20, 16)), Fill(), "1001"), (Area(box_path(-3, -3, 6, 6)), Fill(), "3005"))
    )
    user.stage("Sew-out")
    user.type("machineAddress", f"127.0.0.1:{machine.port}")
    user.type("machineSecret", "wrong")
    user.click("machineConnect")
    says(user, "secret is not the machine's")
    user.type("machineSecret", "gull")
    user.click("machineConnect")
    says(user, "No job lies on the machine")
    user.click("machineSend")
    says(user, "put the threads on their needles: 1 1001")
    user.click("machineGo")
    says(user, "is ready")
    user.click("machineGo")
    user.bot.waitUntil(lambda: (user.document.playhead or 0) > 30, timeout=20_000)
    user.click("machinePause")
    says(user, "Paused")
    job = machine.machine.job
    assert job is not None and job.state == "paused"
    at = job.stitch
    user.click("machineBack")
    user.bot.waitUntil(lambda: job.stitch == at - 10, timeout=10_000)
    user.click("machineConnect")  # let it go, and come back
    user.bot.waitUntil(lambda: machine.machine._driver is None, timeout=10_000)
    user.click("machineConnect")
    says(user, "Paused")
    machine.machine._wishes.factor = 1e5
    user.click("machineGo")
    says(user, "is sewn")
    assert job.state == "done" and user.find("machineSend").isVisible()
    assert user.document.playhead is not None


def test_no_machine_there_is_said_in_a_sentence(user: User) -> None:
    user.open(design_of((Area(box_path(-10, -8, 20, 16)), Fill(), "1001")))
    user.stage("Sew-out")
    user.type("machineAddress", "127.0.0.1:1")
    user.click("machineConnect")
    says(user, "No machine answers")
    user.type("machineAddress", "nowhere")
    user.click("machineConnect")
    assert user.window.notice.isVisible()
