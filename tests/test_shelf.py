"""Columns of letters kept on disk: found again to the last bit, and never anything wrong."""

import os
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest

from jontel.design import Area
from jontel.design.edits import add_objects
from jontel.design.lettering import Lettering
from jontel.design.store import Store, use_shelf, working_in
from jontel.files import shelf as shelf_module
from jontel.files.shelf import FolderShelf
from jontel.geometry.decompose import read_strokes, strokes_of, written_strokes
from jontel.geometry.region import region_of
from jontel.lettering.fonts import open_font, shipped_fonts
from jontel.lettering.setting import set_in, words_object
from jontel.sewing.plan import SewPlan, plan
from tests.conftest import design_of


@pytest.fixture
def shelf(tmp_path: Path) -> Iterator[FolderShelf]:
    made = FolderShelf(tmp_path / "columns")
    use_shelf(made)
    yield made
    use_shelf(None)


def sewn() -> SewPlan:
    """A word, worked out anew but for what lies on the shelf."""
    with working_in(Store()):
        return plan(add_objects(design_of(), [words_object(Lettering("Rope", shipped_fonts()[4].name), "1")]))


def files(shelf: FolderShelf) -> list[Path]:
    return sorted(shelf.folder.glob("??/*"))


def test_letters_are_found_again_and_sew_the_same(shelf: FolderShelf, monkeypatch: pytest.MonkeyPatch) -> None:
    first = sewn()
    assert len(files(shelf)) == 4

    def never(*_args: object) -> None:
        raise AssertionError("it is on the shelf")

    monkeypatch.setattr("jontel.geometry.decompose.decomposed", never)
    again = sewn()
    assert again.xy.tobytes() == first.xy.tobytes() and again.kind.tobytes() == first.kind.tobytes()
    assert not again.failures
    monkeypatch.undo()
    use_shelf(None)
    assert sewn().xy.tobytes() == first.xy.tobytes()


@pytest.mark.parametrize("font", range(len(shipped_fonts())))
def test_strokes_are_the_same_in_bytes_and_back(font: int) -> None:
    made = set_in(Lettering("Q&8öß", shipped_fonts()[font].name, height=9.0), open_font(shipped_fonts()[font].name))
    for found in strokes_of(region_of(Area(made.path))):
        back = read_strokes(written_strokes(found))
        assert (back.joints, back.covers, back.beyond, back.strays, back.bare) == (
            found.joints,
            found.covers,
            found.beyond,
            found.strays,
            found.bare,
        )
        for one, other in zip(found.strokes, back.strokes, strict=True):
            assert np.array_equal(one.rails.a, other.rails.a) and np.array_equal(one.rails.b, other.rails.b)
            assert np.array_equal(one.edges[0], other.edges[0]) and np.array_equal(one.edges[1], other.edges[1])
            assert (one.under, one.rails.closed, one.rails.fixed_ends) == (
                other.under,
                other.rails.closed,
                other.rails.fixed_ends,
            )


@pytest.mark.parametrize(
    "spoil",
    [
        lambda data: b"",
        lambda data: data[:40],
        lambda data: data[:-1] + bytes([data[-1] ^ 1]),
        lambda data: os.urandom(500),
        lambda data: data + b"x",
    ],
)
def test_what_is_damaged_is_worked_out_again(shelf: FolderShelf, spoil) -> None:  # type: ignore[no-untyped-def]
    first = sewn()
    for path in files(shelf):
        path.write_bytes(spoil(path.read_bytes()))
    assert sewn().xy.tobytes() == first.xy.tobytes()
    assert shelf.find(b"never asked") is None
    assert sewn().xy.tobytes() == first.xy.tobytes(), "and put there anew"


@pytest.mark.parametrize(
    "answer", [b"", b"\x93\x90\x90", b"\xc1", b"\x93\x91\x96\xc4\x03abc\xc4\x00\xc2\x92\xc2\xc2"]
)
def test_what_was_written_by_something_else_is_refused(answer: bytes) -> None:
    with pytest.raises(ValueError):
        read_strokes(answer)


def test_another_version_of_the_code_finds_nothing(shelf: FolderShelf, monkeypatch: pytest.MonkeyPatch) -> None:
    shelf.keep(b"question", b"answer")
    assert shelf.find(b"question") == b"answer"
    monkeypatch.setattr(shelf_module, "_code", lambda: b"another")
    assert shelf.find(b"question") is None


def test_the_shelf_holds_what_was_asked_for_last(tmp_path: Path) -> None:
    made = FolderShelf(tmp_path, room=10_000_000)
    for k in range(8):
        made.keep(b"%d" % k, os.urandom(1000))
        os.utime(max(tmp_path.glob("??/*"), key=lambda one: one.stat().st_ctime_ns), (k, k))
    made.find(b"0")
    made.room = 3500
    made.tidy()
    left = [k for k in range(8) if made.find(b"%d" % k) is not None]
    assert left == [0, 6, 7]


def test_in_one_run_no_more_is_put_there_than_it_holds(tmp_path: Path) -> None:
    made = FolderShelf(tmp_path, room=2500)
    for k in range(5):
        made.keep(b"%d" % k, os.urandom(1000))
    assert [made.find(b"%d" % k) is not None for k in range(5)] == [True, True, False, False, False]


def test_a_disk_that_takes_nothing_changes_nothing(tmp_path: Path) -> None:
    file = tmp_path / "file"
    file.write_text("in the way")
    use_shelf(FolderShelf(file / "columns"))
    try:
        assert not sewn().failures
    finally:
        use_shelf(None)
