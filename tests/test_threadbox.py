"""The user's own threads: charts and box, kept as plain CSV."""

from pathlib import Path

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from jontel.data import find_ground, find_hoop, read_chart
from jontel.design import Area, Brief, Design, Fill, StitchObject, resolve
from jontel.design.errors import CannotRead
from jontel.design.thread import Thread, lab_distance, nearest_thread
from jontel.files.threadbox import Stock, ThreadBox, chart_csv, read_stock, stock_csv
from jontel.sewing.plan import plan
from jontel.stitching.measure import coverage
from tests.conftest import box_path

THREADS = st.builds(
    Thread,
    st.text("ABC123-", min_size=1, max_size=8),
    st.text(min_size=0, max_size=12).map(lambda words: " ".join(words.split())),
    st.integers(0, 0xFFFFFF).map(lambda number: f"#{number:06x}"),
    st.integers(1, 120),
)


@given(st.lists(THREADS, min_size=1, max_size=8, unique_by=lambda one: one.code))
def test_a_chart_that_is_written_is_read_again(threads: list[Thread]) -> None:
    if threads[0].code == "code":
        return
    assert read_chart(chart_csv(threads), "chart") == tuple(threads)


@given(st.lists(st.tuples(THREADS, st.none() | st.floats(0, 9000)), max_size=6, unique_by=lambda one: one[0].code))
def test_a_box_that_is_written_is_read_again(rows: list[tuple[Thread, float | None]]) -> None:
    stock = {thread.code: Stock(thread, metres) for thread, metres in rows}
    again = read_stock(stock_csv(stock.values()), "box.csv")
    assert again.keys() == stock.keys()
    for code, one in again.items():
        assert one.thread == stock[code].thread
        assert one.metres == (None if stock[code].metres is None else pytest.approx(stock[code].metres, rel=1e-4))


def test_what_is_put_in_stays_there_and_is_used_up(tmp_path: Path) -> None:
    box = ThreadBox.of(tmp_path / "threads")
    red, blue = Thread("R", "Red", "#b22222"), Thread("B", "Blue", "#223388", 60)
    box.put([red, blue])
    box.set_metres("R", 100.0)
    box.used({"R": 30.0, "B": 5.0, "X": 1.0})
    again = ThreadBox.of(tmp_path / "threads")
    assert again.stock == {"R": Stock(red, 70.0), "B": Stock(blue)}
    again.used({"R": 500.0})
    assert again.stock["R"].metres == 0.0
    again.put([red])
    assert again.stock["R"].metres == 0.0  # what is known of it stays
    again.take_out(["R"])
    assert list(ThreadBox.of(tmp_path / "threads").stock) == ["B"]


def test_the_box_comes_first_and_artwork_is_matched_with_it(tmp_path: Path) -> None:
    box = ThreadBox.of(tmp_path)
    box.put([Thread("MINE", "Almost the chart's red", "#b2302f")])
    assert box.offered()[0].code == "MINE" and len(box.offered()) > 20
    assert nearest_thread((0xB0, 0x30, 0x30), box.for_artwork()).code == "MINE"
    assert nearest_thread((0x10, 0x40, 0x90), box.for_artwork()).code != "MINE"


@pytest.mark.parametrize(
    "text",
    ["code,name,hex,weight,metres\nR,Red,#b22222,40,lots\n", "R,Red,#b22222,40,-3\n", "R,Red,#b22222,40,1e99\n"],
)
def test_a_damaged_box_is_told_and_left_where_it_is(tmp_path: Path, text: str) -> None:
    (tmp_path / "box.csv").write_text(text)
    (tmp_path / "good.csv").write_text("code,name,hex\nG1,Green,#228833\n")
    (tmp_path / "bad.csv").write_bytes(b"\xff\xfe\x00")
    box = ThreadBox.of(tmp_path)
    assert len(box.troubles) == 2 and all(one.endswith(".") for one in box.troubles)
    assert list(box.charts) == ["good"] and not box.stock
    assert (tmp_path / "box.csv").read_text() == text
    box.put([Thread("N", "New", "#112233")])
    assert (tmp_path / "box.csv.unread").read_text() == text and list(ThreadBox.of(tmp_path).stock) == ["N"]
    with pytest.raises(CannotRead):
        read_stock(text.encode(), "box.csv")


def test_a_chart_is_copied_so_that_it_is_there_when_its_file_is_gone(tmp_path: Path) -> None:
    file = tmp_path / "shop.csv"
    file.write_text("code,name,hex,weight\nT1,Thin,#cc8844,60\n")
    box = ThreadBox.of(tmp_path / "threads")
    assert box.add_chart(file) == 1
    file.unlink()
    again = ThreadBox.of(tmp_path / "threads")
    assert again.charts["shop"] == (Thread("T1", "Thin", "#cc8844", 60),)
    again.remove_chart("shop")
    assert not ThreadBox.of(tmp_path / "threads").charts


@pytest.mark.parametrize(
    ("one", "other", "far"),
    [  # from the test data of Sharma, Wu and Dalal (2005)
        ((50, 2.6772, -79.7751), (50, 0, -82.7485), 2.0425),
        ((50, 2.49, -0.001), (50, -2.49, 0.0011), 7.2195),
        ((50, 2.5, 0), (61, -5, 29), 22.8977),
        ((22.7233, 20.0904, -46.694), (23.0331, 14.973, -42.5619), 2.0373),
        ((2.0776, 0.0795, -1.135), (0.9033, -0.0636, -0.5514), 0.9082),
        ((50, -1, 2), (50, 0, 0), 2.3669),
    ],
)
def test_how_different_colours_look_is_as_published(
    one: tuple[float, float, float], other: tuple[float, float, float], far: float
) -> None:
    assert (
        lab_distance(one, other) == pytest.approx(far, abs=1e-4) == pytest.approx(lab_distance(other, one), abs=1e-4)
    )


@pytest.mark.parametrize(("weight", "width"), [(12, 0.66), (30, 0.46), (40, 0.40), (60, 0.30), (120, 0.23)])
def test_a_thinner_thread_lies_closer_and_covers_as_well(weight: int, width: float) -> None:
    thread = Thread("T", "Thread", "#203040", weight)
    assert thread.width == pytest.approx(width)
    item = StitchObject(id=1, name="Box", thread="T", shape=Area(box_path(0, 0, 20, 20)), cover=Fill())
    design = Design(
        name="D",
        brief=Brief(find_ground("Woven twill"), find_hoop("100 x 100"), (thread,)),
        objects=(item,),
        next_id=2,
    )
    spacing = resolve(item, design.ground_for(item)).cover.spacing  # type: ignore[attr-defined]
    assert spacing == pytest.approx(width, abs=0.001)
    sewn = plan(design)
    rows = np.flatnonzero(sewn.sewn())
    lines = np.stack([sewn.xy[rows - 1], sewn.xy[rows]], axis=1)
    assert coverage(lines, shapely.box(0.5, 0.5, 19.5, 19.5), thread.width) > 0.99
    pinned = replace(item, cover=Fill(spacing=0.6))
    assert resolve(pinned, design.ground_for(pinned)).cover.spacing == 0.6  # type: ignore[attr-defined]
    heavier = replace(
        design, brief=replace(design.brief, threads=(replace(thread, weight=60 if weight == 40 else 40),))
    )
    assert not np.array_equal(plan(heavier, sewn).xy, sewn.xy)
