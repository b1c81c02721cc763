"""The command line: one sentence on an error, never a traceback."""

import json
import subprocess
import sys
from pathlib import Path

import pytest

from jontel.data import resource


def jontel(*words: object, cwd: Path | None = None, display: bool = False) -> subprocess.CompletedProcess[str]:
    """Run the command line as a user would."""
    import os

    env = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    if display:
        env["QT_QPA_PLATFORM"] = "offscreen"
    command = [sys.executable, "-m", "jontel", *map(str, words)]
    return subprocess.run(command, capture_output=True, text=True, cwd=cwd, env=env, timeout=120)


@pytest.fixture
def bar(tmp_path: Path) -> Path:
    """The name bar's artwork as a file."""
    path = tmp_path / "bar.svg"
    path.write_bytes(resource("demo/name-bar.svg"))
    return path


def test_the_whole_job_from_artwork_to_machine(tmp_path: Path, bar: Path) -> None:
    outs = [tmp_path / f"sewn.{e}" for e in ("jontel", "ngc", "csv", "svg", "png", "pdf")]
    made = jontel("digitize", bar, *[w for out in outs for w in ("-o", out)], "--ground", "felt", "--width", "80")
    assert made.returncode == 0, made.stderr
    assert "4 objects" in made.stdout and all(out.stat().st_size > 1000 for out in outs)
    proofed = jontel("proof", outs[0], "--json")
    document = json.loads(proofed.stdout)
    assert (
        proofed.returncode == 0 and document["findings"] == [] and document["width_mm"] == pytest.approx(80, abs=0.1)
    )
    sewn = jontel("sew", outs[1], "--hoop", "130")
    assert sewn.returncode == 0 and f"{document['stitches']} stitches" in sewn.stdout
    again = jontel("export", outs[0], "-o", tmp_path / "again.ngc", "-o", tmp_path / "lines.svg", "--outlines")
    assert again.returncode == 0
    assert (tmp_path / "again.ngc").read_bytes() == outs[1].read_bytes()
    assert "fill=" in (tmp_path / "lines.svg").read_text()


def test_the_demo_without_a_display_says_so_and_does_the_job(tmp_path: Path) -> None:
    done = jontel("demo", cwd=tmp_path)
    assert done.returncode == 0, done.stderr
    assert "no display" in done.stdout and "the stand-in machine sewed" in done.stdout
    written = {p.name for p in (tmp_path / "demo-output").iterdir()}
    assert {
        f"{stem}.{e}" for stem in ("crest", "name-bar") for e in ("jontel", "csv", "ngc", "svg", "png", "pdf")
    } <= written


@pytest.mark.parametrize(
    ("what", "words"), [("grounds", "Pique knit"), ("threads", "5012"), ("hoops", "Round 120"), ("formats", ".ngc")]
)
def test_the_lists_list(what: str, words: str) -> None:
    listed = jontel(what)
    assert listed.returncode == 0 and words in listed.stdout


@pytest.mark.parametrize(
    "words",
    [
        ["digitize", "none.svg", "-o", "a.jontel"],
        ["digitize", ".", "-o", "a.jontel"],
        ["digitize", "bar.svg", "-o", "a.xyz"],
        ["digitize", "bar.svg", "-o", "nowhere/a.jontel"],
        ["digitize", "bar.svg", "-o", "a.jontel", "--ground", "moss"],
        ["digitize", "bar.svg", "-o", "a.jontel", "--hoop", "moss"],
        ["digitize", "bar.svg", "-o", "a.jontel", "--width", "0"],
        ["proof", "bar.svg"],
        ["export", "bar.svg", "-o", "a.ngc"],
        ["sew", "bar.svg"],
        ["digitize", "/dev/zero", "-o", "a.jontel"],
        ["open", "bar.jontel"],
        [],
    ],
)
def test_what_cannot_be_done_is_one_sentence(tmp_path: Path, bar: Path, words: list[str]) -> None:
    failed = jontel(*words, cwd=tmp_path)
    assert failed.returncode == 1
    assert failed.stderr.count("\n") == 1 and failed.stderr.strip().endswith(".")
    assert "Traceback" not in failed.stderr
    assert sorted(p.name for p in tmp_path.iterdir()) == ["bar.svg"]


@pytest.mark.parametrize(
    "words",
    [
        ["digitize", "bar.svg"],
        ["digitize", "bar.svg", "-o", "a.ngc", "--width", "9", "--height", "9"],
        ["proof"],
        ["demo", "--no"],
    ],
)
def test_a_wrong_call_exits_with_two(tmp_path: Path, bar: Path, words: list[str]) -> None:
    failed = jontel(*words, cwd=tmp_path)
    assert failed.returncode == 2 and "Traceback" not in failed.stderr


def test_the_machine_names_the_line_it_refuses(tmp_path: Path) -> None:
    (tmp_path / "far.ngc").write_text("G21 G90\nT1 M6\nG0 X40 Y0\nZ0\nZ5\nM30\n")
    refused = jontel("sew", tmp_path / "far.ngc")
    assert refused.returncode == 1 and "Line 4" in refused.stderr and "40.0 mm" in refused.stderr


def test_the_core_starts_without_qt() -> None:
    code = "import sys, jontel.demo, jontel.cli, jontel.files.formats; sys.exit(any(m.startswith('PyQt6') for m in sys.modules))"
    assert subprocess.run([sys.executable, "-c", code], timeout=60).returncode == 0


def test_the_input_is_never_written_over(tmp_path: Path, bar: Path) -> None:
    (tmp_path / "link.svg").symlink_to(bar)
    before = bar.read_bytes()
    for out in (bar, tmp_path / "link.svg"):
        refused = jontel("digitize", bar, "-o", out)
        assert refused.returncode == 1 and "what is read" in refused.stderr
    assert bar.read_bytes() == before


@pytest.mark.parametrize("display", [False, True])
def test_a_mistyped_command_opens_no_window(tmp_path: Path, display: bool) -> None:
    refused = jontel("digitise", "x.svg", cwd=tmp_path, display=display)
    assert refused.returncode == 2 and "did you mean “jontel digitize”" in refused.stderr
    refused = jontel("qqqq", cwd=tmp_path, display=display)
    assert refused.returncode == 2 and "no command or file “qqqq”" in refused.stderr
