"""Bending with the mouse and the keys: nodes, handles, the curve itself; many at once; what the panel does."""

import math
from threading import Event

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt

from jontel.design import Area, Column, Design, Fill, Line, Run, Satin
from jontel.design.paths import ellipse_path, polyline_path
from jontel.geometry.nodes import Chains, place_on
from jontel.shaping.outlines import chains_in
from tests.app.conftest import User
from tests.app.test_drawing import ALT, CTRL, SHIFT, gesture
from tests.conftest import box_path, design_of


@pytest.fixture
def bender(user: User) -> User:
    """Somebody with an ellipse, a box, a line and a column, bending the ellipse."""
    user.open(
        design_of(
            (Area(ellipse_path(0, 0, 20, 12)), Fill()),
            (Area(box_path(30, -8, 12, 12)), Fill()),
            (Line("M-20 25 L0 25 L20 30"), Run()),
            (Column("M-40 -10 L-40 15", "M-34 -10 L-33 15"), Satin()),
        )
    )
    user.stage("Stitch")
    user.select("Object 1")
    user.window.canvas.setFocus()
    user.keys(user.window.canvas, Qt.Key.Key_B)
    return user


def chains(user: User, number: int = 0) -> Chains:
    """The outline of an object as the design has it."""
    return chains_in(user.document.history.design.objects[number].shape)


def press(user: User, key: Qt.Key, keys: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
    """A key on the cloth."""
    user.window.canvas.setFocus()
    user.keys(user.window.canvas, key, keys)
    user.settle()


def test_a_node_is_dragged_and_the_stitches_follow(bender: User) -> None:
    before = bender.plan.xy.copy()
    bender.drag_cloth((20, 0), (26, 3), CTRL)
    (chain,) = chains(bender)
    assert chain.at[0] == pytest.approx([26, 3], abs=0.15) and chain.kinds()[0] == "symmetric"
    assert len(bender.plan.xy) != len(before)
    assert bender.document.history.undo_label == "Move nodes"
    bender.window.undo()
    assert chains(bender)[0].at[0] == pytest.approx([20, 0])
    bender.settle()
    assert np.array_equal(bender.plan.xy, before)


def test_shift_keeps_a_drag_straight(bender: User) -> None:
    bender.drag_cloth((20, 0), (26, 1), SHIFT | CTRL)
    assert chains(bender)[0].at[0][1] == pytest.approx(0, abs=1e-3) or chains(bender)[0].at[0] == pytest.approx(
        [26, 0], abs=0.2
    )


def test_a_handle_is_dragged_and_the_other_turns_along_but_not_with_alt(bender: User) -> None:
    bender.click_cloth(20, 0)
    (chain,) = chains(bender)
    out = chain.after[0]
    bender.drag_cloth((float(out[0]), float(out[1])), (27, -7), CTRL)
    (made,) = chains(bender)
    assert made.after[0] == pytest.approx([27, -7], abs=0.25) and made.before[0] == pytest.approx([13, 7], abs=0.25)
    bender.drag_cloth((27, -7), (24, -10), CTRL | ALT)
    (alone,) = chains(bender)
    assert alone.before[0] == pytest.approx(made.before[0]) and alone.kinds()[0] == "corner"


def test_the_curve_itself_is_dragged_to_where_the_mouse_is(bender: User) -> None:
    start = place_on(chains(bender)[0], 1, 0.5)
    bender.drag_cloth((float(start[0]), float(start[1])), (-20, -14), CTRL)
    (chain,) = chains(bender)
    spots = np.array([place_on(chain, 1, t) for t in np.linspace(0, 1, 200)])
    assert np.hypot(*(spots - (-20, -14)).T).min() < 0.2
    assert all(kind != "corner" for kind in chain.kinds())
    assert bender.document.history.undo_label == "Bend"


def test_a_double_click_puts_a_node_in_and_makes_nodes_corners_or_smooth(bender: User) -> None:
    at = place_on(chains(bender)[0], 0, 0.4)
    spot = bender.pixel(float(at[0]), float(at[1]))
    bender.bot.mouseDClick(bender.window.canvas, Qt.MouseButton.LeftButton, pos=spot)
    (chain,) = chains(bender)
    assert len(chain) == 5 and chain.at[1] == pytest.approx(at, abs=0.2)
    assert bender.document.bending.picked == {(0, 1)}
    bender.bot.mouseDClick(bender.window.canvas, Qt.MouseButton.LeftButton, pos=bender.pixel(*chain.at[1].tolist()))
    assert chains(bender)[0].kinds()[1] == "corner"
    bender.bot.mouseDClick(bender.window.canvas, Qt.MouseButton.LeftButton, pos=bender.pixel(*chain.at[1].tolist()))
    assert chains(bender)[0].kinds()[1] in ("smooth", "symmetric")
    press(bender, Qt.Key.Key_Delete)
    assert len(chains(bender)[0]) == 4 and len(bender.design.objects) == 4


def test_keys_change_the_kind_and_move_by_steps(bender: User) -> None:
    bender.select("Object 2")
    bender.window.canvas.setFocus()
    bender.click_cloth(42, -8)
    press(bender, Qt.Key.Key_2)
    assert chains(bender, 1)[0].kinds()[1] in ("smooth", "symmetric")
    press(bender, Qt.Key.Key_3)
    assert chains(bender, 1)[0].kinds()[1] == "symmetric"
    press(bender, Qt.Key.Key_1)
    assert chains(bender, 1)[0].kinds()[1] == "corner"
    before = chains(bender, 1)[0].at[1]
    press(bender, Qt.Key.Key_Right)
    press(bender, Qt.Key.Key_Up, SHIFT)
    assert chains(bender, 1)[0].at[1] - before == pytest.approx([0.1, -1.0], abs=1e-6)
    press(bender, Qt.Key.Key_Tab)
    assert bender.document.bending.picked == {(0, 2)}
    press(bender, Qt.Key.Key_Escape)
    assert not bender.document.bending.picked and bender.document.selection == {2}


def test_many_nodes_are_picked_by_band_and_lasso_and_scaled_together(bender: User) -> None:
    bender.select("Object 2")
    bender.drag_cloth((27, -11), (45, -5))
    assert bender.document.bending.picked == {(0, 0), (0, 1)}
    gesture(bender, [(27, -11), (45, -11), (45, 7), (40, 7), (40, -5), (27, -5), (27, -11)], ALT)
    assert bender.document.bending.picked == {(0, 0), (0, 1), (0, 2)}
    gesture(bender, [(27, 1), (27, 8), (35, 8), (35, 1)], ALT | SHIFT)
    assert len(bender.document.bending.picked) == 4
    canvas, tool = bender.window.canvas, bender.window.tools["bend"]
    canvas.grab()
    frame = tool._screen_frame()  # type: ignore[attr-defined]
    corner = frame.bottomRight().toPoint()
    bender.drag(canvas, corner, corner + QPoint(60, 60))
    (chain,) = chains(bender, 1)
    wide = chain.at[:, 0].max() - chain.at[:, 0].min()
    assert wide > 13 and chain.at[0] == pytest.approx([30, -8], abs=0.01)


def test_lines_are_cut_and_joined_and_areas_opened(bender: User) -> None:
    bender.select("Object 3")
    bender.click_cloth(0, 25)
    press(bender, Qt.Key.Key_K)
    assert len(chains(bender, 2)) == 2
    bender.drag_cloth((-8, 18), (8, 32))
    assert len(bender.document.bending.picked) == 2
    press(bender, Qt.Key.Key_J)
    assert len(chains(bender, 2)) == 1 and len(chains(bender, 2)[0]) == 3
    bender.select("Object 2")
    bender.click_cloth(42, 4)
    press(bender, Qt.Key.Key_K)
    opened = bender.document.history.design.objects[1]
    assert isinstance(opened.shape, Line) and isinstance(opened.cover, Run)
    assert chains(bender, 1)[0].at[0] == pytest.approx([42, 4])


def test_both_edges_of_a_column_are_bent_and_stay_in_one_piece(bender: User) -> None:
    told: list[str] = []
    bender.document.told.connect(told.append)
    bender.select("Object 4")
    bender.drag_cloth((-40, 2.5), (-44, 2.5), CTRL)
    shape = bender.document.history.design.objects[3].shape
    assert isinstance(shape, Column) and "C" in shape.edge and "C" not in shape.other_edge
    assert not bender.plan.failures
    middle = place_on(chains(bender, 3)[0], 0, 0.4)
    bender.bot.mouseDClick(bender.window.canvas, Qt.MouseButton.LeftButton, pos=bender.pixel(*middle.tolist()))
    assert len(chains(bender, 3)[0]) == 3
    press(bender, Qt.Key.Key_K)
    assert isinstance(bender.document.history.design.objects[3].shape, Column)
    assert any("both of its edges stay in one piece" in words for words in told)


def test_direction_lines_and_ends_keep_their_place_when_the_outline_is_bent(user: User) -> None:
    from msgspec.structs import replace

    design = design_of((Area(ellipse_path(0, 0, 20, 12), lines=(((-10.0, 0.0), (10.0, 2.0)),)), Fill()))
    item = design.objects[0]
    item = replace(item, ends=replace(item.ends, entry=(-20.0, 0.0), exit=(0.0, -12.0)))
    user.open(replace(design, objects=(item,)))
    user.stage("Stitch")
    user.select("Object 1")
    user.window.canvas.setFocus()
    user.keys(user.window.canvas, Qt.Key.Key_B)
    user.drag_cloth((20, 0), (26, 3), CTRL)
    after = user.design.objects[0]
    assert isinstance(after.shape, Area) and after.shape.lines == design.objects[0].shape.lines  # type: ignore[union-attr]
    assert after.ends == item.ends and after.shape != item.shape


def test_the_panel_shows_and_moves_the_picked_nodes(bender: User) -> None:
    bender.click_cloth(20, 0)
    bender.settle()
    assert bender.find("node-x").value == pytest.approx(20, abs=0.01)  # type: ignore[attr-defined]
    bender.type("node-x", "23.5")
    bender.type("node-y", "-1")
    assert chains(bender)[0].at[0] == pytest.approx([23.5, -1])
    bender.click("node-corner")
    assert chains(bender)[0].kinds()[0] == "corner"
    bender.click("node-insert")
    assert len(chains(bender)[0]) == 4  # one node alone is no piece
    bender.drag_cloth((-25, -20), (30, 20))
    bender.click("node-insert")
    assert len(chains(bender)[0]) == 8
    bender.click("node-reverse")
    bender.click_cloth(0, -12)
    bender.click("node-start-here")
    assert chains(bender)[0].at[0] == pytest.approx([0, -12], abs=1e-3)
    bender.drag_cloth((-25, -20), (30, 20))
    bender.click("node-straighten")
    assert chains(bender)[0].straight().all()


def test_words_say_why_they_are_not_bent(user: User) -> None:
    from jontel.design.edits import add_objects
    from jontel.design.lettering import Lettering
    from jontel.lettering.fonts import shipped_fonts
    from jontel.lettering.setting import words_object

    design = design_of((Area(box_path(-30, -30, 8, 8)), Fill()))
    words = Lettering("Pellan", shipped_fonts()[0].name)
    design = add_objects(design, [words_object(words, design.objects[0].thread)])
    user.open(design)
    user.stage("Stitch")
    user.document.select({2})
    user.settle()
    said: list[str] = []
    user.window.canvas.said.connect(said.append)
    user.window.canvas.setFocus()
    user.keys(user.window.canvas, Qt.Key.Key_B)
    assert any("break them into letters" in one for one in said)
    before = user.design
    user.drag_cloth((0, 0), (5, 5))
    assert user.design.objects[1] == before.objects[1]


def test_an_outline_of_two_thousand_nodes_is_dragged_without_a_pause(user: User) -> None:
    from time import perf_counter

    t = np.linspace(0, 2 * np.pi, 2000, endpoint=False)
    far = 30 + 2 * np.sin(40 * t)
    points = [(float(x), float(y)) for x, y in np.column_stack([far * np.cos(t), far * np.sin(t)]).round(3)]
    user.open(design_of((Area(polyline_path(points, True)), Fill())))
    user.stage("Stitch")
    user.select("Object 1")
    user.window.canvas.setFocus()
    user.keys(user.window.canvas, Qt.Key.Key_B)
    canvas = user.window.canvas
    canvas.grab()
    tool = user.window.tools["bend"]
    spans: list[float] = []
    was = tool.move

    def timed(spot, held):  # type: ignore[no-untyped-def]
        start = perf_counter()
        was(spot, held)
        spans.append(perf_counter() - start)

    tool.move = timed  # type: ignore[method-assign]
    way = [(points[0][0] + k / 10, math.sin(k / 5)) for k in range(40)]
    gesture(user, way, CTRL)
    user.settle()
    tool.move = was  # type: ignore[method-assign]
    assert np.hypot(*(chains(user)[0].at - way[-1]).T).min() < 0.3 and len(chains(user)[0]) == 2000
    assert float(np.median(spans)) < 0.016


def test_what_is_let_go_where_the_mouse_rested_is_not_sewn_a_second_time(
    bender: User, monkeypatch: pytest.MonkeyPatch
) -> None:
    from jontel.app import planner

    begun: list[Design] = []
    real, gate = planner.sewn_of, Event()

    def counted(design, *rest):  # type: ignore[no-untyped-def]
        begun.append(design)
        gate.wait(5)
        return real(design, *rest)

    monkeypatch.setattr(planner, "sewn_of", counted)
    canvas, at, to = bender.window.canvas, bender.pixel(20, 0), bender.pixel(24, 3)
    bender.bot.mousePress(canvas, Qt.MouseButton.LeftButton, CTRL, at)
    bender.bot.mouseMove(canvas, to)
    bender.bot.waitUntil(lambda: len(begun) == 1, timeout=2000)
    bender.bot.mouseRelease(canvas, Qt.MouseButton.LeftButton, CTRL, to)
    bender.bot.waitUntil(lambda: bender.document.history.undo_label != "", timeout=2000)
    gate.set()
    bender.settle()
    assert len(begun) == 1
    assert bender.document.sewn is not None and bender.document.sewn.design is bender.document.history.design
    assert bender.document.sewn.proofed and begun[0] == bender.design


def test_picked_corners_are_rounded_by_a_typed_radius(bender: User) -> None:
    bender.select("Object 2")
    bender.settle()
    bender.click_cloth(30, -8)
    bender.type("node-round", "3")
    bender.click("node-do-round")
    (chain,) = chains(bender, 1)
    assert len(chain) == 5 and not np.isclose(chain.at, (30, -8)).all(axis=1).any()
    assert bender.document.history.undo_label == "Round corners"
