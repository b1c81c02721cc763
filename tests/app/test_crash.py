"""A session that is killed without warning."""

import os
import signal
import subprocess
import sys
from pathlib import Path

import pytest

from jontel.design import Fill
from jontel.files.autosave import Autosave

VICTIM = """
from PyQt6.QtCore import QTimer
from jontel.app import start
from jontel.design.edits import pin

make = start.make_window

def with_an_edit_soon():
    window = make()

    def edit():
        document = window.session.documents[0]
        document.design_changed.connect(lambda: print("edited", flush=True))
        sky = document.design.objects[0].id
        document.edit("Spacing", pin(document.history.design, {sky}, "spacing", 0.77))

    QTimer.singleShot(400, edit)
    return window

start.make_window = with_an_edit_soon
start.start([], demo=True)
"""


@pytest.mark.parametrize("how", [signal.SIGKILL, signal.SIGINT])
def test_work_is_back_after_the_program_was_ended(tmp_path: Path, how: signal.Signals) -> None:
    env = {
        **os.environ,
        "XDG_STATE_HOME": str(tmp_path),
        "XDG_CONFIG_HOME": str(tmp_path),
        "QT_QPA_PLATFORM": "offscreen",
    }
    victim = subprocess.Popen([sys.executable, "-c", VICTIM], env=env, stdout=subprocess.PIPE, text=True)
    folder = tmp_path / "jontel/autosave"
    try:
        assert victim.stdout is not None and victim.stdout.readline() == "edited\n"
        watch = subprocess.run(
            [
                "sh",
                "-c",
                f"for i in $(seq 100); do ls {folder}/*/*.jontel >/dev/null 2>&1 && exit 0; sleep 0.1; done; exit 1",
            ],
            timeout=30,
        )
        assert watch.returncode == 0, "nothing was kept"
    finally:
        victim.send_signal(how)
        assert victim.wait(timeout=20) == (0 if how == signal.SIGINT else -how)
    kept = Autosave(folder).left_behind().recovered
    (crest,) = [one for one in kept if one.design.name == "Pellan Point crest"]
    cover = crest.design.objects[0].cover
    assert isinstance(cover, Fill) and cover.spacing == 0.77
