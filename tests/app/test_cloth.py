"""Working on the cloth: selecting, moving, scaling, turning, drawing, looking around."""

import math
from threading import Event

import numpy as np
import pytest
import scipy
from msgspec.structs import replace
from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt
from PyQt6.QtGui import QImage, QPainter, QPainterPath, QTransform, QWheelEvent
from PyQt6.QtWidgets import QApplication, QLabel

from jontel.app import planner
from jontel.app.cloth.camera import Camera
from jontel.app.cloth.ink import ink_of, paint_ink
from jontel.app.cloth.markers import handle_spots, turning_spot
from jontel.app.drawing import DENSE, pen, shape_path, stroke
from jontel.app.tools.select import SelectTool
from jontel.design import Area, Column, Design, Ends, Fill, Line, Run, Satin
from jontel.design.edits import change_objects, pin
from jontel.geometry.region import region_of
from jontel.sewing.plan import plan
from jontel.stitching.stitches import Kind, Layer
from tests.app.conftest import User
from tests.conftest import box_path, design_of

SHIFT = Qt.KeyboardModifier.ShiftModifier


def test_a_click_selects_shift_adds_and_empty_cloth_lets_go(boxes: User) -> None:
    boxes.click_cloth(-20, 0)
    assert boxes.document.selection == {1}
    boxes.click_cloth(30, 0, SHIFT)
    assert boxes.document.selection == {1, 2}
    boxes.click_cloth(-20, 0, SHIFT)
    assert boxes.document.selection == {2}
    boxes.click_cloth(5, 0)
    assert boxes.document.selection == frozenset()


def test_a_rubber_band_selects_what_lies_wholly_inside(boxes: User) -> None:
    boxes.drag_cloth((-33, -15), (-5, 15))
    assert boxes.document.selection == {1}
    boxes.drag_cloth((10, -15), (44, 15), SHIFT)
    assert boxes.document.selection == {1, 2}
    boxes.drag_cloth((-25, -15), (15, 15))
    assert boxes.document.selection == frozenset()


def test_dragging_an_object_moves_it_and_its_stitches(boxes: User) -> None:
    boxes.drag_cloth((-20, 0), (-15, 4))
    box = shape_path(boxes.design.objects[0].shape).boundingRect()
    assert (box.left(), box.top()) == pytest.approx((-25, -6), abs=0.3)
    sewn = boxes.document.sewn
    assert sewn is not None
    own = sewn.plan.xy[(sewn.plan.object == 1) & (sewn.plan.kind == Kind.STITCH)]
    assert own[:, 0].min() == pytest.approx(-25.2, abs=0.5)
    boxes.window.undo()
    assert shape_path(boxes.design.objects[0].shape).boundingRect().left() == pytest.approx(-30)


def test_shift_keeps_a_move_straight(boxes: User) -> None:
    boxes.click_cloth(-20, 0)
    shift = Qt.KeyboardModifier.ShiftModifier
    boxes.drag_cloth((-24, 3), (-14, 5), shift)
    moved = shape_path(boxes.design.objects[0].shape).boundingRect()
    assert moved.top() == pytest.approx(-10) and moved.left() == pytest.approx(-20, abs=0.6)
    assert boxes.document.selection == {1}, "a drag leaves the selection as it is"
    boxes.drag_cloth((-14, 3), (-16, -9), shift)
    moved = shape_path(boxes.design.objects[0].shape).boundingRect()
    assert moved.top() == pytest.approx(-22, abs=0.6) and moved.left() == pytest.approx(-20, abs=0.6)
    boxes.drag_cloth((-14, -9), (-9, -3))
    moved = shape_path(boxes.design.objects[0].shape).boundingRect()
    assert moved.top() == pytest.approx(-16, abs=0.8) and moved.left() == pytest.approx(-15, abs=0.8)


def test_shift_adds_to_the_selection_and_takes_from_it(boxes: User) -> None:
    shift = Qt.KeyboardModifier.ShiftModifier
    boxes.click_cloth(-20, 0)
    boxes.click_cloth(30, 0, shift)
    assert boxes.document.selection == {1, 2}
    boxes.click_cloth(-20, 0, shift)
    assert boxes.document.selection == {2}


def test_a_corner_handle_scales_in_proportion_and_a_side_handle_does_not(boxes: User) -> None:
    boxes.click_cloth(-20, 0)
    box = screen_box(boxes)
    corner = handle_spots(box)[4].toPoint()
    boxes.drag(boxes.window.canvas, corner, corner + QPoint(40, 40))
    size = shape_path(boxes.design.objects[0].shape).boundingRect()
    assert size.width() == pytest.approx(size.height(), rel=0.01) and size.width() > 24
    assert (size.left(), size.top()) == pytest.approx((-30, -10), abs=0.01)
    side = handle_spots(screen_box(boxes))[3].toPoint()
    boxes.drag(boxes.window.canvas, side, side + QPoint(40, 0))
    wide = shape_path(boxes.design.objects[0].shape).boundingRect()
    assert wide.width() > size.width() + 3 and wide.height() == pytest.approx(size.height())


def screen_box(user: User):  # type: ignore[no-untyped-def]
    """The selection's handles' box in pixels, as the tool draws it."""
    tool = user.window.canvas.tool
    assert isinstance(tool, SelectTool)
    box = tool.box()
    camera = user.window.canvas.camera
    from PyQt6.QtCore import QRectF

    return QRectF(camera.to_screen(box.left(), box.top()), camera.to_screen(box.right(), box.bottom())).adjusted(
        -6, -6, 6, 6
    )


def test_the_turning_handle_turns_and_shift_takes_steps(boxes: User) -> None:
    boxes.click_cloth(-20, 0)
    spot = turning_spot(screen_box(boxes)).toPoint()
    boxes.drag(boxes.window.canvas, spot, boxes.pixel(-20 + 14, 0.3), SHIFT)
    box = shape_path(boxes.design.objects[0].shape).boundingRect()
    assert (box.width(), box.height()) == pytest.approx((20, 20), abs=0.01)
    shape = boxes.design.objects[0].shape
    assert isinstance(shape, Area) and region_of(shape).area == pytest.approx(400, rel=1e-3)
    assert boxes.document.history.undo_label == "Turn"


def test_dragging_a_bead_turns_the_rows_and_pins_the_angle(boxes: User) -> None:
    boxes.click_cloth(-20, 0)
    from jontel.app.cloth.markers import angle_line

    line = angle_line(boxes.design.objects[0], boxes.design)
    assert line is not None
    end = line.p2()
    reach = line.length() / 2
    goal = (-20 + reach * math.cos(math.radians(40)), -reach * math.sin(math.radians(40)))
    boxes.drag_cloth((end.x(), end.y()), goal)
    cover = boxes.design.objects[0].cover
    assert isinstance(cover, Fill) and cover.angle == pytest.approx(40, abs=2)
    assert boxes.design.objects[1].cover == Fill()


def test_dragging_the_exit_pins_it(boxes: User) -> None:
    boxes.click_cloth(-20, 0)
    sewn = boxes.document.sewn
    assert sewn is not None
    from jontel.app.cloth.markers import ends_of

    _, _, last = ends_of(sewn.plan.pieces[0])
    boxes.drag_cloth((last.x(), last.y()), (-20, 10))
    ends = boxes.design.objects[0].ends
    assert ends.exit == pytest.approx((-20, 10), abs=0.2)
    assert replaced_exit(boxes.design) == pytest.approx((-20, 10), abs=0.2)


def replaced_exit(design: Design) -> tuple[float, float] | None:
    """Where the first object is left."""
    ends: Ends = design.objects[0].ends
    return ends.exit


def test_escape_lets_go_of_everything(boxes: User) -> None:
    boxes.click_cloth(-20, 0)
    boxes.keys(boxes.window.canvas, Qt.Key.Key_Escape)
    assert not boxes.document.selection


@pytest.mark.parametrize(("key", "step"), [(Qt.Key.Key_Right, (0.5, 0)), (Qt.Key.Key_Up, (0, -0.5))])
def test_arrow_keys_nudge(boxes: User, key: Qt.Key, step: tuple[float, float]) -> None:
    boxes.click_cloth(-20, 0)
    boxes.keys(boxes.window.canvas, key)
    box = shape_path(boxes.design.objects[0].shape).boundingRect()
    assert (box.left() + 30, box.top() + 10) == pytest.approx(step)


def test_delete_and_duplicate(boxes: User) -> None:
    boxes.click_cloth(-20, 0)
    boxes.keys(boxes.window.canvas, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)
    boxes.settle()
    assert [o.name for o in boxes.design.objects] == ["Object 1", "Object 1 copy", "Object 2"]
    assert boxes.document.selection == {3}
    boxes.keys(boxes.window.canvas, Qt.Key.Key_Delete)
    assert [o.id for o in boxes.design.objects] == [1, 2]


def draw_with(user: User, key: Qt.Key) -> None:
    """Choose a tool by its key."""
    user.window.canvas.setFocus()
    user.keys(user.window.canvas, key)


def test_a_rectangle_is_drawn_and_sewn(boxes: User) -> None:
    draw_with(boxes, Qt.Key.Key_R)
    boxes.drag_cloth((-5, 15), (15, 27))
    fresh = boxes.design.objects[-1]
    assert fresh.name == "Rectangle 1" and isinstance(fresh.cover, Fill) and boxes.document.selection == {fresh.id}
    box = shape_path(fresh.shape).boundingRect()
    assert (box.width(), box.height()) == pytest.approx((20, 12), abs=0.4)
    sewn = boxes.document.sewn
    assert sewn is not None and (sewn.plan.object == fresh.id).sum() > 50


def test_shift_draws_a_circle(boxes: User) -> None:
    draw_with(boxes, Qt.Key.Key_E)
    boxes.drag_cloth((-5, 15), (9, 22), SHIFT)
    box = shape_path(boxes.design.objects[-1].shape).boundingRect()
    assert box.width() == pytest.approx(box.height(), abs=0.01)
    shape = boxes.design.objects[-1].shape
    assert isinstance(shape, Area) and region_of(shape).area == pytest.approx(
        math.pi * box.width() ** 2 / 4, rel=0.01
    )


def test_a_line_is_clicked_point_by_point(boxes: User) -> None:
    draw_with(boxes, Qt.Key.Key_L)
    for spot in ((0, 15), (10, 15), (10, 25), (30, 30)):
        boxes.click_cloth(*spot)
    boxes.keys(boxes.window.canvas, Qt.Key.Key_Backspace)
    boxes.keys(boxes.window.canvas, Qt.Key.Key_Return)
    boxes.settle()
    fresh = boxes.design.objects[-1]
    assert isinstance(fresh.shape, Line) and isinstance(fresh.cover, Run)
    assert fresh.shape.path.count("L") == 2


def test_a_shape_is_closed_by_enter_and_kept_by_escape(boxes: User) -> None:
    draw_with(boxes, Qt.Key.Key_G)
    for spot in ((0, 15), (12, 15), (6, 25)):
        boxes.click_cloth(*spot)
    boxes.keys(boxes.window.canvas, Qt.Key.Key_Escape)
    boxes.keys(boxes.window.canvas, Qt.Key.Key_Return)
    assert len(boxes.design.objects) == 3
    boxes.window.undo()
    for spot in ((0, 15), (12, 15), (6, 25)):
        boxes.click_cloth(*spot)
    boxes.keys(boxes.window.canvas, Qt.Key.Key_Return)
    boxes.settle()
    shape = boxes.design.objects[-1].shape
    assert isinstance(shape, Area) and region_of(shape).area == pytest.approx(60, rel=0.05)


def test_a_column_is_clicked_pair_by_pair_and_sewn_as_a_satin(boxes: User) -> None:
    draw_with(boxes, Qt.Key.Key_K)
    for spot in ((0, 14), (0, 18), (10, 15), (10, 20), (20, 14), (20, 18), (25, 14)):
        boxes.click_cloth(*spot)
    boxes.window.canvas.grab()
    boxes.keys(boxes.window.canvas, Qt.Key.Key_Return)
    boxes.settle()
    fresh = boxes.design.objects[-1]
    assert isinstance(fresh.shape, Column) and isinstance(fresh.cover, Satin)
    assert len(fresh.shape.lines) == 1
    sewn = boxes.document.sewn
    assert sewn is not None and not sewn.plan.failures
    own = sewn.plan.xy[(sewn.plan.object == fresh.id) & (sewn.plan.layer == Layer.COVER)]
    assert len(own) > 80 and own[:, 0].max() < 20.5


def test_what_cannot_be_stitched_is_outlined_and_explained(boxes: User) -> None:
    boxes.click_cloth(-20, 0)
    thin = Line("M-30 -10 L-10 -10 L-10 10 L-30 10 Z", 0.2)
    boxes.document.edit(
        "A thin line", change_objects(boxes.design, {1}, lambda o: replace(o, shape=thin, cover=Run()))
    )
    boxes.settle()
    before = boxes.window.canvas.grab().toImage().pixelColor(boxes.pixel(-30, 0))
    boxes.document.edit("Make it a satin", change_objects(boxes.design, {1}, lambda o: replace(o, cover=Satin())))
    boxes.settle()
    trouble = boxes.find("trouble", QLabel)
    assert isinstance(trouble, QLabel) and "make it a run" in trouble.text()
    boxes.document.select(frozenset())
    boxes.bot.wait(30)
    edge = boxes.window.canvas.grab().toImage()
    reds = [edge.pixelColor(boxes.pixel(-30, y / 4)) for y in range(-36, 37)]
    assert any(c.red() > 140 and c.green() < 90 for c in reds) and before.isValid()


def test_findings_are_ringed_in_the_order_and_sew_out_stages(boxes: User) -> None:
    boxes.document.edit(
        "Bow",
        change_objects(boxes.design, {1}, lambda o: replace(o, shape=Area("M-30 -10 L-10 10 L-10 -10 L-30 10 Z"))),
    )
    boxes.settle()
    boxes.stage("Brief")
    plain = boxes.window.canvas.grab().toImage()
    boxes.stage("Sew-out")
    ringed = boxes.window.canvas.grab().toImage()
    near = [QPoint(x, y) + boxes.pixel(-20, 0) for x in range(-11, 12) for y in range(-11, 12)]
    assert any(plain.pixelColor(p) != ringed.pixelColor(p) for p in near)


def test_the_measure_tool_reads_length_and_angle(boxes: User) -> None:
    draw_with(boxes, Qt.Key.Key_M)
    boxes.drag_cloth((-30, -10), (-10, -10))
    said = boxes.window.status.hint.text()
    assert "at 0.0°" in said or "at -0.0°" in said
    assert float(said.split()[0]) == pytest.approx(20, abs=0.3)


def wheel(user: User, at: QPoint, turn: int) -> None:
    """Turn the wheel."""
    canvas = user.window.canvas
    event = QWheelEvent(
        QPointF(at), QPointF(canvas.mapToGlobal(at)), QPoint(), QPoint(0, turn), Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
    )  # fmt: skip
    QApplication.sendEvent(canvas, event)


def test_the_wheel_zooms_at_the_cursor(boxes: User) -> None:
    canvas = boxes.window.canvas
    spot = QPoint(300, 200)
    before = canvas.camera.to_cloth(QPointF(spot))
    scale = canvas.camera.scale
    wheel(boxes, spot, 240)
    after = canvas.camera.to_cloth(QPointF(spot))
    assert canvas.camera.scale > scale * 1.3
    assert (after.x(), after.y()) == pytest.approx((before.x(), before.y()))
    canvas.grab()
    boxes.bot.wait(150)
    boxes.bot.mouseDClick(canvas, Qt.MouseButton.LeftButton, pos=boxes.pixel(5, 0))
    assert canvas.camera.scale == pytest.approx(scale, rel=0.01)


def test_space_and_the_pan_tool_move_the_cloth(boxes: User) -> None:
    canvas = boxes.window.canvas
    x = canvas.camera.x
    boxes.bot.keyPress(canvas, Qt.Key.Key_Space)
    boxes.drag(canvas, QPoint(300, 300), QPoint(350, 300))
    boxes.bot.keyRelease(canvas, Qt.Key.Key_Space)
    assert canvas.camera.x == pytest.approx(x + 50)
    assert not boxes.document.selection
    draw_with(boxes, Qt.Key.Key_H)
    boxes.drag(canvas, QPoint(300, 300), QPoint(250, 300))
    assert canvas.camera.x == pytest.approx(x)


def test_the_camera_never_loses_a_place() -> None:
    camera = Camera(6.0, 120.0, 80.0).zoomed(1e9, QPointF(10, 10)).zoomed(1e-12, QPointF(50, 70)).panned(5, 5)
    spot = camera.to_screen(3, 4)
    back = camera.to_cloth(spot)
    assert (back.x(), back.y()) == pytest.approx((3, 4))
    assert 0.3 < camera.scale < 500


@pytest.mark.parametrize("view", ["Plan", "Thread", "Cloth"])
def test_every_view_paints_something_of_its_own(crest_user: User, view: str) -> None:
    crest_user.click(f"view-{view}")
    crest_user.bot.wait(120)
    image = crest_user.window.canvas.grab().toImage()
    colours = {
        image.pixelColor(x, y).name() for x in range(30, image.width(), 11) for y in range(30, image.height(), 11)
    }
    assert len(colours) > 60
    others = []
    for other in {"Plan", "Thread", "Cloth"} - {view}:
        crest_user.click(f"view-{other}")
        crest_user.bot.wait(120)
        others.append(crest_user.window.canvas.grab().toImage())
    assert all(image != other for other in others)


@pytest.mark.parametrize("angle", [0.0, 90.0])
@pytest.mark.parametrize("scale", [1.5, 2.6, 2.7, 3.3, 4.5])
def test_no_bands_show_on_an_even_fill_whose_rows_are_about_a_pixel_apart(
    qapp: QApplication, angle: float, scale: float
) -> None:
    fill = Fill(angle=angle, spacing=0.38)
    sewn = plan(design_of((Area(box_path(-20, -20, 40, 40)), fill, "1001")))
    side = int(36 * scale)
    image = QImage(side, side, QImage.Format.Format_Grayscale8)
    image.fill(Qt.GlobalColor.black)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setTransform(Camera(scale, side / 2, side / 2).transform())
    paint_ink(painter, ink_of(sewn.pieces[0]), sewn.threads[0], "cloth", QRectF(-25, -25, 50, 50), scale)
    painter.end()
    bits = image.constBits()
    assert bits is not None
    bits.setsize(image.sizeInBytes())
    grey = np.frombuffer(bits, np.uint8).reshape(side, image.bytesPerLine())[:, :side].astype(float)
    from_afar = scipy.ndimage.gaussian_filter(grey, 4.0)[12:-12, 12:-12]
    assert from_afar.mean() > 60  # thread, not bare ground
    assert from_afar.std() < 0.01 * from_afar.mean()


def test_a_dense_outline_looks_as_if_it_were_stroked_at_once(qapp: QApplication) -> None:
    turn = np.linspace(0, 2 * math.pi, DENSE + 20)
    far = 30 + 2 * np.sin(40 * turn)
    path = QPainterPath(QPointF(30, 0))
    for x, y in np.column_stack([far * np.cos(turn), far * np.sin(turn)])[1:-1].tolist():
        path.lineTo(x, y)
    path.closeSubpath()
    assert path.elementCount() > DENSE
    seen = []
    for by_pieces in (True, False):
        image = QImage(400, 400, QImage.Format.Format_Grayscale8)
        image.fill(255)
        painter = QPainter(image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        place, ink = QTransform(6, 0, 0, 6, 200, 200), pen("#000000", 3.4)
        if by_pieces:
            stroke(painter, path, place, ink)
        else:
            painter.setPen(ink)
            painter.setTransform(place)
            painter.drawPath(path)
        painter.end()
        data = image.constBits()
        assert data is not None
        seen.append(255.0 - np.frombuffer(data.asarray(400 * 400), dtype=np.uint8))
    assert seen[0].sum() == pytest.approx(seen[1].sum(), rel=0.01)
    assert np.abs(seen[0] - seen[1]).mean() < 0.01 * seen[1].mean()


def test_what_is_worked_out_beside_the_stitches_waits_for_them(boxes: User, monkeypatch: pytest.MonkeyPatch) -> None:
    real, asked = planner.sewn_of, Event()
    early: list[bool] = []

    def watched(design, *rest):  # type: ignore[no-untyped-def]
        early.append(asked.wait(0.1))
        return real(design, *rest)

    monkeypatch.setattr(planner, "sewn_of", watched)
    boxes.document.edit("Spacing", pin(boxes.design, {1}, "spacing", 0.47))
    boxes.document.ask(asked.set, lambda _nothing: None)
    boxes.settle()
    boxes.bot.waitUntil(asked.is_set)
    assert early == [False]
