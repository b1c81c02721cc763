"""Drawing with the mouse and the keys: pen, hand, figures, columns; how the next object starts; aids for the hand."""

import math

import numpy as np
import pytest
from msgspec.structs import replace
from PyQt6.QtCore import QBuffer, QByteArray, QPoint, QPointF, Qt
from PyQt6.QtGui import QColor, QImage, QMouseEvent
from PyQt6.QtWidgets import QApplication, QComboBox, QInputDialog, QToolButton

from jontel.app.card import CardDialog
from jontel.app.preferences import pixels_per_mm, remember_screen
from jontel.artwork.placing import placed
from jontel.design import Area, Artwork, Column, Fill, Line, Run, Satin
from jontel.design.figures.rectangle import Rectangle
from jontel.design.figures.star import Star
from jontel.geometry.nodes import chains_of
from jontel.geometry.region import region_of
from jontel.shaping.figures import live_figure
from jontel.stitching.stitches import Layer
from tests.app.conftest import User
from tests.conftest import box_path, design_of

SHIFT, ALT, CTRL = (
    Qt.KeyboardModifier.ShiftModifier,
    Qt.KeyboardModifier.AltModifier,
    Qt.KeyboardModifier.ControlModifier,
)
NONE = Qt.KeyboardModifier.NoModifier


def take(user: User, key: Qt.Key) -> None:
    """Choose a tool by its key, with nothing selected."""
    user.document.select(frozenset())
    user.window.canvas.setFocus()
    user.keys(user.window.canvas, key)


def gesture(user: User, places: list[tuple[float, float]], keys: Qt.KeyboardModifier = NONE) -> None:
    """Press at the first place, draw through the others, let go at the last."""
    canvas = user.window.canvas
    left, none = Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton

    def send(kind: QMouseEvent.Type, at: QPoint, button: Qt.MouseButton, held: Qt.MouseButton) -> None:
        event = QMouseEvent(kind, QPointF(at), QPointF(canvas.mapToGlobal(at)), button, held, keys)
        QApplication.sendEvent(canvas, event)

    spots = [user.pixel(*place) for place in places]
    send(QMouseEvent.Type.MouseButtonPress, spots[0], left, left)
    for spot in spots[1:]:
        send(QMouseEvent.Type.MouseMove, spot, none, left)
    send(QMouseEvent.Type.MouseButtonRelease, spots[-1], left, none)
    user.bot.wait(10)


def hover(user: User, x: float, y: float) -> None:
    """The mouse moves there with no button down."""
    canvas, at = user.window.canvas, user.pixel(x, y)
    none = Qt.MouseButton.NoButton
    event = QMouseEvent(QMouseEvent.Type.MouseMove, QPointF(at), QPointF(canvas.mapToGlobal(at)), none, none, NONE)
    QApplication.sendEvent(canvas, event)


def right_click(user: User, x: float, y: float) -> None:
    """The right button."""
    user.bot.mouseClick(user.window.canvas, Qt.MouseButton.RightButton, NONE, user.pixel(x, y))
    user.settle()


@pytest.fixture
def drawer(user: User) -> User:
    """Somebody at an empty corner of a design with one box."""
    user.open(design_of((Area(box_path(-30, -30, 8, 8)), Fill())))
    user.stage("Stitch")
    return user


def last(user: User):  # type: ignore[no-untyped-def]
    """The object that was drawn last."""
    return user.design.objects[-1]


def test_corners_are_clicked_and_curves_dragged_in_one_gesture(drawer: User) -> None:
    take(drawer, Qt.Key.Key_L)
    gesture(drawer, [(0, 0)])
    gesture(drawer, [(10, 0), (12, 0), (14, 4)])
    gesture(drawer, [(20, 10)])
    right_click(drawer, 30, 10)
    fresh = last(drawer)
    assert isinstance(fresh.shape, Line) and isinstance(fresh.cover, Run)
    (chain,) = chains_of(fresh.shape.path)
    assert chain.at == pytest.approx(np.array([(0, 0), (10, 0), (20, 10)]), abs=0.15)
    assert chain.kinds() == ("corner", "symmetric", "corner")
    assert chain.after[1] == pytest.approx([14, 4], abs=0.15) and chain.before[1] == pytest.approx([6, -4], abs=0.3)


def test_the_first_node_closes_and_the_area_pen_makes_areas(drawer: User) -> None:
    take(drawer, Qt.Key.Key_G)
    for place in ((0, 0), (20, 0), (20, 15), (0, 15)):
        gesture(drawer, [place])
    gesture(drawer, [(0, 0)])
    drawer.settle()
    fresh = last(drawer)
    assert isinstance(fresh.shape, Area) and isinstance(fresh.cover, Fill)
    assert region_of(fresh.shape).area == pytest.approx(300, rel=0.02)
    take(drawer, Qt.Key.Key_L)
    for place in ((0, 20), (10, 20), (10, 28), (0, 20)):
        gesture(drawer, [place])
    drawer.settle()
    closed = last(drawer)
    assert isinstance(closed.shape, Line) and chains_of(closed.shape.path)[0].closed


def test_backspace_takes_back_arrows_move_the_cloth_and_nothing_is_lost(drawer: User) -> None:
    take(drawer, Qt.Key.Key_L)
    canvas = drawer.window.canvas
    for place in ((0, 0), (10, 0), (10, 10)):
        gesture(drawer, [place])
    drawer.keys(canvas, Qt.Key.Key_Backspace)
    before = canvas.camera
    drawer.keys(canvas, Qt.Key.Key_Left)
    assert canvas.camera.x > before.x
    drawer.keys(canvas, Qt.Key.Key_H)
    assert canvas.tool.name == "pan" and canvas.resting is not None
    drawer.drag_cloth((0, 0), (6, 3))
    drawer.keys(canvas, Qt.Key.Key_Z)
    drawer.keys(canvas, Qt.Key.Key_L)
    gesture(drawer, [(0, 12)])
    drawer.keys(canvas, Qt.Key.Key_Return)
    drawer.settle()
    (chain,) = chains_of(last(drawer).shape.path)
    assert chain.at == pytest.approx(np.array([(0, 0), (10, 0), (0, 12)]), abs=0.2)


def test_escape_and_other_tools_keep_what_is_drawn(drawer: User) -> None:
    take(drawer, Qt.Key.Key_L)
    for place in ((0, 0), (10, 0)):
        gesture(drawer, [place])
    drawer.keys(drawer.window.canvas, Qt.Key.Key_Escape)
    assert len(drawer.design.objects) == 2 and drawer.window.canvas.tool.name == "line"
    for place in ((0, 20), (10, 20)):
        gesture(drawer, [place])
    drawer.keys(drawer.window.canvas, Qt.Key.Key_S)
    assert len(drawer.design.objects) == 3
    drawer.window.undo()
    assert len(drawer.design.objects) == 2


def test_a_line_goes_on_from_either_end(drawer: User) -> None:
    take(drawer, Qt.Key.Key_L)
    gesture(drawer, [(0, 0)])
    gesture(drawer, [(10, 0), (14, 0)])
    right_click(drawer, 20, 20)
    number = len(drawer.design.objects)
    curved = last(drawer).shape.path
    gesture(drawer, [(10, 0)])
    gesture(drawer, [(10, 12)])
    right_click(drawer, 20, 20)
    assert len(drawer.design.objects) == number
    hover(drawer, 0, 0)
    assert drawer.window.canvas.cursor().shape() == Qt.CursorShape.PointingHandCursor
    hover(drawer, 5, -9)
    assert drawer.window.canvas.cursor().shape() == Qt.CursorShape.CrossCursor
    (chain,) = chains_of(last(drawer).shape.path)
    assert chain.at == pytest.approx(np.array([(0, 0), (10, 0), (10, 12)]), abs=0.2)
    assert chain.before[1] == pytest.approx(chains_of(curved)[0].before[1])
    gesture(drawer, [(0, 0)])
    gesture(drawer, [(0, 9)])
    drawer.keys(drawer.window.canvas, Qt.Key.Key_Return)
    drawer.settle()
    (chain,) = chains_of(last(drawer).shape.path)
    assert chain.at == pytest.approx(np.array([(0, 9), (0, 0), (10, 0), (10, 12)]), abs=0.2)


def test_shift_keeps_to_steps_of_fifteen_degrees(drawer: User) -> None:
    take(drawer, Qt.Key.Key_L)
    gesture(drawer, [(0, 0)])
    gesture(drawer, [(20, 1.2)], SHIFT | CTRL)
    drawer.keys(drawer.window.canvas, Qt.Key.Key_Return)
    (chain,) = chains_of(last(drawer).shape.path)
    assert chain.at[1][1] == pytest.approx(chain.at[0][1], abs=1e-6)


def test_a_column_has_curved_edges_where_they_are_dragged(drawer: User) -> None:
    take(drawer, Qt.Key.Key_K)
    gesture(drawer, [(0, 0), (5, -5)])
    gesture(drawer, [(0, 6), (5, 1)])
    gesture(drawer, [(20, 0), (25, 5)])
    gesture(drawer, [(20, 6)])
    drawer.keys(drawer.window.canvas, Qt.Key.Key_Return)
    drawer.settle()
    fresh = last(drawer)
    assert isinstance(fresh.shape, Column) and isinstance(fresh.cover, Satin)
    assert "C" in fresh.shape.edge and "C" in fresh.shape.other_edge
    sewn = drawer.plan
    own = sewn.xy[(sewn.object == fresh.id) & (sewn.layer == Layer.COVER)]
    assert own[:, 1].min() < -1.5 and not sewn.failures


def test_a_hand_draws_open_lines_and_closed_areas_of_few_nodes(drawer: User) -> None:
    take(drawer, Qt.Key.Key_W)
    way = [(x, 6 * math.sin(x / 5)) for x in np.linspace(-10, 25, 120)]
    gesture(drawer, way)
    drawer.settle()
    line = last(drawer)
    assert isinstance(line.shape, Line) and len(chains_of(line.shape.path)[0]) <= 9
    turn = np.linspace(0, 2 * np.pi, 150)
    drawer.document.select(frozenset())
    gesture(drawer, [(10 * math.cos(t), 15 + 8 * math.sin(t)) for t in turn])
    drawer.settle()
    ring = last(drawer)
    assert isinstance(ring.shape, Area) and region_of(ring.shape).area == pytest.approx(math.pi * 80, rel=0.03)
    count = len(drawer.design.objects)
    gesture(drawer, [(30, 30), (30.2, 30.1)])
    assert len(drawer.design.objects) == count
    drawer.document.select(frozenset())
    gesture(drawer, [(10 * math.cos(t), 15 + 8 * math.sin(t)) for t in turn], SHIFT)
    assert isinstance(last(drawer).shape, Line)


def test_a_smoother_hand_leaves_fewer_nodes(drawer: User) -> None:
    take(drawer, Qt.Key.Key_W)
    way = [(x, 4 * math.sin(x / 3) + 0.4 * math.sin(4 * x)) for x in np.linspace(-20, 25, 300)]
    gesture(drawer, way)
    rough = len(chains_of(last(drawer).shape.path)[0])
    drawer.document.select(frozenset())
    take(drawer, Qt.Key.Key_S)
    take(drawer, Qt.Key.Key_W)
    drawer.type("next-smoothing", "1.2")
    gesture(drawer, way)
    assert len(chains_of(last(drawer).shape.path)[0]) < rough


def test_figures_are_chosen_by_picture_drawn_and_live(drawer: User) -> None:
    take(drawer, Qt.Key.Key_Q)
    drawer.click("figure-star")
    drawer.type("next-points", "7")
    drawer.drag_cloth((0, 0), (20, 20), CTRL)
    star = last(drawer)
    assert isinstance(star.figure, Star) and star.figure.points == 7 and len(chains_of(star.shape.path)[0]) == 14
    drawer.keys(drawer.window.canvas, Qt.Key.Key_S)
    drawer.click("layer-shape")
    drawer.type("points", "5")
    assert len(chains_of(last(drawer).shape.path)[0]) == 10
    drawer.type("width", "30")
    assert live_figure(last(drawer)) is not None
    box = region_of(last(drawer).shape).bounds
    assert box[2] - box[0] == pytest.approx(30 * 0.951, rel=0.02)


def test_beads_on_the_cloth_change_a_figure_until_it_is_bent(drawer: User) -> None:
    take(drawer, Qt.Key.Key_R)
    drawer.drag_cloth((0, 0), (20, 12), CTRL)
    drawer.keys(drawer.window.canvas, Qt.Key.Key_S)
    drawer.settle()
    box = last(drawer).figure
    assert isinstance(box, Rectangle) and box.corner == 0
    x = box.place[4] + box.width / 2
    y = box.place[5] - box.height / 2
    select = drawer.window.tools["select"]
    spots = select._beads()  # type: ignore[attr-defined]
    assert (spots[0].x(), spots[0].y()) == pytest.approx((x, y), abs=1e-6)
    # the bead of a sharp corner lies on a handle of the selection, which comes after it
    drawer.drag_cloth((x, y), (x - 4, y))
    made = last(drawer).figure
    assert isinstance(made, Rectangle) and made.corner == pytest.approx(4.0, abs=0.3)
    assert "C" in last(drawer).shape.path
    drawer.window.undo()
    assert last(drawer).figure == box


def test_tab_takes_the_next_figure_and_pictures_offer_emblems(drawer: User) -> None:
    take(drawer, Qt.Key.Key_Q)
    before = drawer.document.next.figure
    drawer.keys(drawer.window.canvas, Qt.Key.Key_Tab)
    assert type(drawer.document.next.figure) is not type(before)
    drawer.click("figure-emblem")
    drawer.click("emblem-whale")
    drawer.drag_cloth((0, 0), (25, 20), CTRL)
    assert last(drawer).name == "Emblem 1" and last(drawer).figure.emblem == "whale"
    assert not drawer.plan.failures


def test_a_block_of_straight_satin_is_dragged(drawer: User) -> None:
    take(drawer, Qt.Key.Key_J)
    drawer.drag_cloth((0, 0), (20, 5), CTRL)
    fresh = last(drawer)
    assert isinstance(fresh.shape, Column) and isinstance(fresh.cover, Satin)
    sewn = drawer.plan
    rows = np.diff(sewn.xy[(sewn.object == fresh.id) & (sewn.layer == Layer.COVER)], axis=0)
    tall = rows[np.abs(rows[:, 1]) > 3]
    assert len(tall) > 40 and np.abs(tall[:, 0]).max() < 0.6


# how the next object starts


def test_kind_thread_and_width_are_told_before_the_first_click(drawer: User) -> None:
    take(drawer, Qt.Key.Key_L)
    box = drawer.find("next-line", QComboBox)
    assert isinstance(box, QComboBox)
    box.setCurrentIndex(box.findText("Satin"))
    box.activated.emit(box.currentIndex())
    drawer.type("next-width", "3.5")
    gesture(drawer, [(0, 0)])
    gesture(drawer, [(25, 0)])
    drawer.keys(drawer.window.canvas, Qt.Key.Key_Return)
    drawer.settle()
    fresh = last(drawer)
    assert isinstance(fresh.cover, Satin) and fresh.shape.width == 3.5
    assert not drawer.window.findChildren(QComboBox, "next-line") or not drawer.find("coverKind").isHidden()


def test_the_next_one_can_be_like_the_last_of_its_kind(drawer: User) -> None:
    design = drawer.document.history.design
    like = replace(design.objects[0], cover=Fill(angle=33.0, spacing=0.5))
    drawer.document.edit("Tune", replace(design, objects=(like,)))
    take(drawer, Qt.Key.Key_G)
    box = drawer.find("next-start", QComboBox)
    assert isinstance(box, QComboBox)
    box.setCurrentIndex(1)
    box.activated.emit(1)
    for place in ((0, 0), (12, 0), (6, 10)):
        gesture(drawer, [place])
    drawer.keys(drawer.window.canvas, Qt.Key.Key_Return)
    assert last(drawer).cover == like.cover and last(drawer).thread == like.thread


def test_what_a_pen_draws_is_switched_in_the_panel(drawer: User) -> None:
    take(drawer, Qt.Key.Key_L)
    drawer.click("pen-shape")
    assert drawer.window.canvas.tool.name == "shape"
    drawer.click("pen-line")
    assert drawer.window.canvas.tool.name == "line"


# snapping, guides, grid, looking


def test_nodes_snap_to_nodes_outlines_guides_and_the_grid_unless_control_is_held(drawer: User) -> None:
    canvas = drawer.window.canvas
    take(drawer, Qt.Key.Key_L)
    canvas.aids.follow(drawer.document)
    drawer.settle()
    drawer.bot.waitUntil(lambda: bool(canvas.aids.seen.outlines.chains))  # the outlines are read aside
    gesture(drawer, [(-22.1, -22.1)])
    gesture(drawer, [(-26.0, -29.94)])
    gesture(drawer, [(-21.9, -30.2)], CTRL)
    drawer.keys(canvas, Qt.Key.Key_Return)
    (chain,) = chains_of(last(drawer).shape.path)
    assert chain.at[0] == pytest.approx([-22, -22], abs=1e-6) and chain.at[1][1] == pytest.approx(-30, abs=1e-4)
    assert math.dist(chain.at[2], (-22, -30)) > 0.1
    drawer.window.viewing.set_grid(5.0)
    gesture(drawer, [(10.1, 9.9)])
    gesture(drawer, [(20.1, 15.1)])
    drawer.keys(canvas, Qt.Key.Key_Return)
    (chain,) = chains_of(last(drawer).shape.path)
    assert chain.at == pytest.approx(np.array([(10, 10), (20, 15)]))
    drawer.keys(drawer.window, Qt.Key.Key_QuoteDbl, CTRL | SHIFT)
    drawer.window.viewing.toggle_snap()
    drawer.window.viewing.toggle_grid()
    assert canvas.aids.grid == 0.0
    canvas.grab()


def test_a_drawing_on_the_cloth_is_snapped_to_by_its_lines_not_its_pixels(drawer: User) -> None:
    canvas = drawer.window.canvas
    shapes = '<path d="M0 0H40V20H0Z" fill="#eee"/><path d="M7.123 5.457L30 12L12 18Z" fill="#a33"/>'
    svg = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20" width="40mm" height="20mm">{shapes}</svg>'
    design = placed(replace(drawer.document.history.design, objects=()), svg.encode(), "sail.svg")
    drawer.document.edit("Place", design)
    drawer.settle()
    (one,) = design.artwork
    scale = one.width / 40
    take(drawer, Qt.Key.Key_L)
    canvas.aids.follow(drawer.document)
    drawer.bot.waitUntil(lambda: bool(canvas.aids.seen.drawings.chains))
    assert not canvas.aids.seen.pictures
    corner = (one.x + 7.123 * scale, one.y + 5.457 * scale)
    middle = (one.x + 18.5615 * scale, one.y + 8.7285 * scale)
    gesture(drawer, [(corner[0] + 0.1, corner[1] - 0.08)])
    gesture(drawer, [(middle[0] + 0.02, middle[1] - 0.1)])
    drawer.keys(canvas, Qt.Key.Key_Return)
    (chain,) = chains_of(last(drawer).shape.path)
    assert chain.at[0] == pytest.approx(corner, abs=2e-3)
    (x0, y0), (x, y) = corner, chain.at[1]
    far = (30 - 7.123, 12 - 5.457)
    off = abs((x - x0) * far[1] - (y - y0) * far[0]) / math.hypot(*far)
    assert off < 2e-3, "on the line between two corners"


def test_guides_are_drawn_out_of_the_rulers_moved_and_dropped_back(drawer: User) -> None:
    canvas = drawer.window.canvas
    drawer.keys(canvas, Qt.Key.Key_S)
    drawer.drag(canvas, QPoint(8, 200), drawer.pixel(10, 0))
    (guide,) = drawer.design.guides
    assert guide.upright and guide.at == pytest.approx(10, abs=0.2)
    mark = QPoint(round(canvas.camera.to_screen(guide.at, 0).x()), 18)
    drawer.drag(canvas, mark, drawer.pixel(14, 5))
    assert drawer.design.guides[0].at == pytest.approx(14, abs=0.2) and len(drawer.design.guides) == 1
    drawer.drag(canvas, QPoint(300, 8), drawer.pixel(0, -6))
    assert len(drawer.design.guides) == 2 and not drawer.design.guides[1].upright
    canvas.grab()
    mark = QPoint(round(canvas.camera.to_screen(drawer.design.guides[0].at, 0).x()), 18)
    drawer.drag(canvas, mark, QPoint(6, 300))
    assert [one.upright for one in drawer.design.guides] == [False]
    drawer.window.undo()
    assert len(drawer.design.guides) == 2


def test_the_corner_of_the_rulers_sets_the_zero(drawer: User) -> None:
    canvas = drawer.window.canvas
    drawer.drag(canvas, QPoint(10, 10), drawer.pixel(5, -8))
    assert drawer.design.zero == pytest.approx((5, -8), abs=0.2)
    drawer.select("Object 1")
    drawer.click("layer-shape")
    x = drawer.find("place-x").value  # type: ignore[attr-defined]
    assert x == pytest.approx(-26 - drawer.design.zero[0], abs=1e-6)
    canvas.grab()


def test_the_grid_takes_any_unit(drawer: User, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(QInputDialog, "getText", lambda *_a, **_k: ("0.25 in", True))
    drawer.window.viewing.ask_grid()
    assert drawer.window.canvas.aids.grid == pytest.approx(6.35)
    monkeypatch.setattr(QInputDialog, "getText", lambda *_a, **_k: ("plenty", True))
    drawer.window.viewing.ask_grid()
    assert drawer.window.canvas.aids.grid == pytest.approx(6.35) and drawer.window.notice.isVisible()


def test_a_closer_look_at_an_area_the_selection_and_actual_size(drawer: User) -> None:
    canvas = drawer.window.canvas
    drawer.keys(canvas, Qt.Key.Key_Z)
    drawer.drag_cloth((-32, -32), (-20, -20))
    middle = canvas.camera.to_cloth(QPointF(canvas.rect().center()))
    assert (middle.x(), middle.y()) == pytest.approx((-26, -26), abs=1.5) and canvas.camera.scale > 25
    drawer.keys(canvas, Qt.Key.Key_F)
    drawer.select("Object 1")
    drawer.keys(canvas, Qt.Key.Key_F, SHIFT)
    assert canvas.camera.scale > 25
    remember_screen(drawer.window.settings, drawer.window, 5.5)
    drawer.keys(drawer.window, Qt.Key.Key_0, CTRL)
    assert canvas.camera.scale == pytest.approx(5.5) == pixels_per_mm(drawer.window.settings, drawer.window)


def test_a_card_on_the_screen_measures_it(drawer: User) -> None:
    dialog = CardDialog(drawer.window, 4.0)
    drawer.bot.addWidget(dialog)
    dialog.slider.setValue(428)
    dialog.card.grab()
    assert dialog.scale == pytest.approx(5.0)


def test_anything_explains_itself(drawer: User) -> None:
    explain = drawer.window.explainer
    pen = drawer.find("tool-line", QToolButton)
    assert "Pen" in explain.words(pen) and "curve" in explain.words(pen)
    drawer.select("Object 1")
    drawer.click("layer-shape")
    field = drawer.find("place-width")
    assert explain.explain(field, QPoint(5, 5)).startswith("Width")
    assert "Any unit can be typed" in explain.words(field)
    off = drawer.find("do-align")
    assert "Not possible" in explain.words(off)


def test_what_is_drawn_over_a_picture_gets_the_thread_that_is_seen_there(drawer: User) -> None:
    picture = QImage(100, 100, QImage.Format.Format_RGB32)
    picture.fill(QColor("#f4f1e8"))
    for x in range(100):
        for y in range(50):
            picture.setPixelColor(x, y, QColor("#b02a2e"))
    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QBuffer.OpenModeFlag.WriteOnly)
    picture.save(buffer, "PNG")
    design = drawer.document.history.design
    art = Artwork("two.png", "png", -20.0, -20.0, 60.0, 60.0, bytes(data.data()))
    drawer.document.edit("Picture", replace(design, artwork=(art,)))
    canvas = drawer.window.canvas
    canvas.fit()
    colours = []
    for y in (-12.0, 22.0):
        take(drawer, Qt.Key.Key_R)
        drawer.drag_cloth((-10, y), (20, y + 10), CTRL)
        colours.append(drawer.design.thread(last(drawer).thread).rgb)
    red, pale = colours
    assert red[0] > 140 and red[1] < 90 and min(pale) > 200
    take(drawer, Qt.Key.Key_R)
    drawer.click("next-pictured")
    drawer.drag_cloth((25, -12), (35, -4), CTRL)
    assert drawer.design.thread(last(drawer).thread).rgb != red
    drawer.keys(canvas, Qt.Key.Key_A)
    assert canvas.artwork_above
    canvas.grab()
