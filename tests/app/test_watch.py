"""A whole scripted session, watched: nothing keeps the interface from answering."""

import json
import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parent.parent.parent


def test_no_event_keeps_the_interface_long(tmp_path: Path) -> None:
    """16 ms is the aim on a quiet machine; what the interface itself works is told apart from waiting for others."""
    env = {**os.environ, "XDG_STATE_HOME": str(tmp_path), "XDG_CONFIG_HOME": str(tmp_path)}
    env["QT_QPA_PLATFORM"] = "offscreen"
    done = subprocess.run(
        [sys.executable, ROOT / "bench/session.py"], capture_output=True, text=True, env=env, timeout=240
    )
    assert done.returncode == 0, done.stderr[-2000:]
    found = json.loads(done.stdout.splitlines()[-1])
    assert found["events"] > 1000
    assert found["worked16"] < 0.05 * found["events"], found["worked"]
    assert found["worked"][0] < 250 and found["longest"][0][0] < 20_000, found
