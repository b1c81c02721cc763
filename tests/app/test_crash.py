"""A session that is killed without warning."""

import os
import signal
import subprocess
import sys
from pathlib import Path

from jontel.design import Fill
from jontel.files.autosave import Autosave

VICTIM = """
import sys
from PyQt6.QtCore import QTimer
from jontel.app.start import make_application, make_window
from jontel.design.edits import pin
app = make_application()
window = make_window()
window.show()
window.open_demo()
document = window.session.current
sky = document.design.objects[0].id
QTimer.singleShot(200, lambda: document.edit("Spacing", pin(document.design, {sky}, "spacing", 0.77)))
document.design_changed.connect(lambda: (print("edited", flush=True)))
app.exec()
"""


def test_work_is_back_after_kill_nine(tmp_path: Path) -> None:
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
        victim.send_signal(signal.SIGKILL)
        victim.wait(timeout=10)
    kept = Autosave(folder).left_behind().recovered
    assert [one.design.name for one in kept] == ["Pellan Point crest"]
    cover = kept[0].design.objects[0].cover
    assert isinstance(cover, Fill) and cover.spacing == 0.77
