"""Pictures placed, moved, scaled by a known length and digitized, with the mouse and the panel."""

import io
from pathlib import Path

import pytest
from msgspec.structs import replace
from PIL import Image
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QApplication, QComboBox, QFileDialog, QMenu, QWidget

from jontel.app.cloth.pictures import artwork_image
from jontel.app.tools.regions import RegionTool
from jontel.artwork.adjusting import colour_at
from jontel.artwork.placing import placed
from jontel.data import thread_chart
from jontel.design import Area, Fill
from jontel.design.edits import add_objects
from jontel.design.thread import nearest_thread, rgb_of
from jontel.files import gcode
from jontel.geometry.region import region_of
from jontel.sewing.plan import plan
from tests.app.conftest import User
from tests.conftest import box_path, design_of
from tests.test_choices import BLUE, CREAM, GOLD, RED, painted
from tests.test_placing import picture


@pytest.fixture
def placer(user: User, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, two_boxes) -> User:  # type: ignore[no-untyped-def]
    """Somebody with a scan of 33.9 x 16.9 mm on an empty cloth, in Artwork."""
    path = tmp_path / "scan.png"
    path.write_bytes(picture(dpi=(150, 150)))
    user.open(replace(two_boxes, objects=()))
    user.stage("Artwork")
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *_a, **_k: ([str(path)], ""))
    user.click("placePicture")
    return user


def test_a_placed_picture_is_dragged_and_digitized(placer: User) -> None:
    one = placer.design.artwork[0]
    assert not placer.design.objects and one.width == pytest.approx(33.87, abs=0.05)
    placer.drag_cloth((0, 0), (8, 5))
    moved = placer.design.artwork[0]
    assert (moved.x - one.x, moved.y - one.y) == pytest.approx((8, 5), abs=0.3)
    placer.click("artwork0-digitize")
    placer.bot.waitUntil(placer.find("proposalTake").isEnabled, timeout=30_000)
    assert not placer.document.history.design.objects  # it is seen, and waits for yes
    assert "1 object" in placer.find("proposalSaid").text()  # type: ignore[attr-defined]
    placer.click("proposalTake")
    assert len(placer.design.objects) == 1 and len(placer.document.selection) == 1
    assert placer.document.history.undo_label == "Digitize the picture"
    placer.window.undo()
    assert not placer.design.objects and placer.design.artwork[0] == moved
    placer.click("artwork0-fit")
    assert placer.design.artwork[0].width > 60


def test_a_picture_gets_its_size_by_a_known_length(placer: User) -> None:
    one = placer.design.artwork[0]
    placer.window.canvas.setFocus()
    placer.keys(placer.window.canvas, Qt.Key.Key_Y)
    placer.drag_cloth((one.x + 2, 0), (one.x + 12, 0))
    placer.type("knownLength", "20")
    grown = placer.design.artwork[0]
    assert grown.width == pytest.approx(2 * one.width, rel=0.03)
    assert placer.document.history.undo_label == "True size"


def test_pictures_stay_where_they_are_in_other_stages(placer: User) -> None:
    placer.stage("Stitch")
    before = placer.design.artwork
    placer.drag_cloth((0, 0), (8, 5))
    assert placer.design.artwork == before


def test_a_stitch_file_opens_as_objects_and_comes_into_a_design(placer: User, tmp_path: Path) -> None:
    design = design_of((Area(box_path(-10, -8, 20, 16)), Fill(angle=0)))
    file = tmp_path / "box.ngc"
    file.write_bytes(gcode.write(plan(design), design))
    placer.window.desk.add_artwork(file)
    placer.settle()
    assert [type(item.cover) for item in placer.design.objects] == [Fill] and len(placer.design.artwork) == 1
    assert placer.document.history.undo_label == "Bring in box.ngc"
    placer.window.desk.open_paths([file])
    placer.settle()
    assert [type(item.cover) for item in placer.design.objects] == [Fill] and not placer.design.artwork
    file.write_text("G21 G90\nno program")
    placer.window.desk.add_artwork(file)
    assert placer.window.notice.isVisible() and len(placer.design.objects) == 1


def test_a_picture_is_cropped_painted_out_and_seen_as_it_was_given_again(user: User) -> None:
    flat = Image.new("RGB", (200, 100), (250, 250, 250))
    flat.paste((200, 30, 30), (20, 20, 80, 80))
    out = io.BytesIO()
    flat.save(out, "PNG", dpi=(96, 96))
    user.open(placed(replace(design_of(), objects=()), out.getvalue(), "boat.png"))
    user.stage("Artwork")
    one = user.document.history.design.artwork[0]
    user.click("artwork0-look")
    user.type("artwork0-crop-left", "50")
    user.bot.waitUntil(lambda: user.document.history.design.artwork[0] != one)
    less = user.document.history.design.artwork[0]
    assert less.look.crop == (0.5, 0.0, 1.0, 1.0) and less.width == pytest.approx(one.width / 2)
    assert less.x == pytest.approx(one.x + one.width / 2)
    assert artwork_image(less).width() == 100
    user.type("artwork0-one_tone", "50")
    user.bot.waitUntil(lambda: user.document.history.design.artwork[0] != less)
    assert user.document.history.design.artwork[0].look.one_tone == 50
    user.click("artwork0-given")
    user.bot.waitUntil(lambda: user.document.history.design.artwork[0].look.one_tone == 0)
    assert user.document.history.design.artwork[0] == one
    told: list[str] = []
    user.document.told.connect(told.append)
    user.click("artwork0-out")
    assert told and told[0].endswith(".")
    corner = Area(box_path(one.x, one.y, 0.45 * one.width, one.height))
    area = replace(design_of((corner, Fill())).objects[0], id=0)
    user.document.edit("Draw", add_objects(user.document.history.design, [area]))
    user.document.select({user.document.history.design.objects[-1].id})
    user.settle()
    user.click("artwork0-out")
    user.bot.waitUntil(lambda: not user.document.history.design.objects)
    made = user.document.history.design
    assert len(made.artwork[0].look.patches) == 1
    assert artwork_image(made.artwork[0]).pixelColor(25, 25).red() == 250


@pytest.fixture
def sorter(user: User, two_boxes) -> User:  # type: ignore[no-untyped-def]
    """Somebody to whom a picture of two gold discs beside a blue and a red block is shown as objects."""
    design = placed(replace(two_boxes, objects=()), painted(), "blocks.png")
    user.open(design)
    user.stage("Artwork")
    user.click("artwork0-digitize")
    user.bot.waitUntil(user.find("proposalTake").isEnabled, timeout=30_000)
    return user


def on_picture(user: User, across: float, down: float) -> tuple[float, float]:
    one = user.document.history.design.artwork[0]
    return one.x + across * one.width, one.y + down * one.height


def worked_out(user: User) -> None:
    user.bot.waitUntil(user.find("proposalTake").isEnabled, timeout=30_000)


def pick(user: User, colour: str, words: str) -> None:
    """Choose what becomes of a colour, in its box."""
    box = user.find(f"colour-{colour}")
    assert isinstance(box, QComboBox)
    box.setCurrentIndex(box.findText(words))
    box.activated.emit(box.currentIndex())
    worked_out(user)


def test_colours_are_left_out_and_made_one_before_anything_is_made(sorter: User) -> None:
    gold, red = sorter.find(f"colour-{GOLD}"), sorter.find(f"colour-{RED}")
    assert isinstance(gold, QComboBox) and isinstance(red, QComboBox)
    assert gold.currentText() == "As it reads" and sorter.find(f"colour-{CREAM}").currentText() == "Is cloth"  # type: ignore[attr-defined]
    pick(sorter, GOLD, "Left out")
    pick(sorter, RED, next(red.itemText(k) for k in range(red.count()) if red.itemData(k) == BLUE))
    sorter.type("proposal-least", "0.5")  # what was chosen stays when another value is typed
    worked_out(sorter)
    assert not sorter.document.history.design.objects
    sorter.click("proposalTake")
    (item,) = sorter.design.objects
    assert isinstance(item.shape, Area) and sorter.design.thread(item.thread) == nearest_thread(
        rgb_of(BLUE), thread_chart()
    )


def test_colours_that_run_into_each_other_may_be_sewn_as_a_fade(user: User, two_boxes) -> None:  # type: ignore[no-untyped-def]
    stops = f'<stop stop-color="{RED}"/><stop offset="1" stop-color="{BLUE}"/>'
    drawing = (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="40mm" viewBox="0 0 60 40">'
        f'<linearGradient id="g">{stops}</linearGradient><rect width="60" height="30" fill="url(#g)"/>'
        f'<rect y="32" width="60" height="8" fill="{GOLD}"/></svg>'
    )
    user.open(placed(replace(two_boxes, objects=()), drawing.encode(), "dusk.svg"))
    user.stage("Artwork")
    user.click("artwork0-digitize")
    worked_out(user)
    boxes = {one.objectName(): one for one in user.window.findChildren(QComboBox) if "colour-#" in one.objectName()}
    plain = boxes.pop(f"colour-{GOLD}")
    (mixed,) = boxes.values()
    assert plain.findText("Fade") < 0
    pick(user, mixed.objectName().removeprefix("colour-"), "Fade")
    user.click("proposalTake")
    below, above, _ = user.design.objects
    chart = thread_chart()
    assert [below.thread, above.thread] == [nearest_thread(rgb_of(one), chart).code for one in (RED, BLUE)]
    assert below.shape == above.shape and above.cover.fade == "against"  # type: ignore[union-attr]


def test_a_region_tells_what_it_will_be_and_is_chosen_by_a_click(sorter: User) -> None:
    canvas = sorter.window.canvas
    tool = canvas.tool
    assert isinstance(tool, RegionTool)
    sorter.bot.waitUntil(lambda: sorter.document.sewn is not None and len(sorter.document.sewn.plan) > 0)
    place = QPointF(*on_picture(sorter, 530 / 600, 70 / 400))
    sorter.bot.waitUntil(
        lambda: tool.reading(place) is not None and "stitches" in tool.reading(place)[1], timeout=20_000
    )  # type: ignore[index]
    sorter.click_cloth(place.x(), place.y())
    menu = canvas.window().findChild(QMenu, "regionMenu")
    assert isinstance(menu, QMenu)
    words = [one.text() for one in menu.actions()]
    assert words[0] == tool.reading(place)[1] and words[2:] == ["Fill", "Satin", "Outline", "Left out"]  # type: ignore[index]
    menu.actions()[4].trigger()
    menu.close()
    worked_out(sorter)
    assert "1 run" in sorter.find("proposalSaid").text()  # type: ignore[attr-defined]
    sorter.click("choicesReset")
    worked_out(sorter)
    assert "run" not in sorter.find("proposalSaid").text()  # type: ignore[attr-defined]
    sorter.click("proposalLeave")
    assert canvas.tool.name == "select" and not sorter.document.design.objects


def test_a_click_on_regions_without_a_picture_says_what_to_do(placer: User) -> None:
    placer.window.canvas.setFocus()
    placer.keys(placer.window.canvas, Qt.Key.Key_I)
    told: list[str] = []
    placer.document.told.connect(told.append)
    placer.click_cloth(0, 0)
    assert told == ["Digitize a picture first: then a click chooses what its regions become."]


def test_a_picture_is_painted_over_with_brush_and_loop_and_a_colour_is_taken_up(placer: User) -> None:
    canvas, before = placer.window.canvas, placer.design.artwork[0]
    canvas.setFocus()
    placer.keys(canvas, Qt.Key.Key_V)
    assert placer.find("brushWidth").isVisible() and canvas.tool.name == "brush"
    placer.type("brushWidth", "6")
    placer.keys(canvas, Qt.Key.Key_BracketLeft)
    assert canvas.tool.width == pytest.approx(5.0)  # type: ignore[attr-defined]
    spots = [on_picture(placer, k / 40, n / 20) for k in range(1, 40) for n in range(1, 20)]
    inked = next(spot for spot in spots if colour_at(before, *spot) not in (None, "#ffffff"))
    placer.click_cloth(*inked, Qt.KeyboardModifier.AltModifier)
    placer.bot.waitUntil(lambda: "#" in placer.find("brushColour").text(), timeout=10_000)  # type: ignore[attr-defined]
    colour = canvas.tool.colour  # type: ignore[attr-defined]
    assert colour == colour_at(before, *inked)
    start, stop = on_picture(placer, 0.1, 0.15), on_picture(placer, 0.9, 0.15)
    placer.drag_cloth(start, stop)
    placer.bot.waitUntil(lambda: len(placer.document.history.design.artwork[0].look.patches) == 1, timeout=10_000)
    (patch,) = placer.design.artwork[0].look.patches
    assert patch.colour == colour and placer.document.history.undo_label == "Paint over the picture"
    one = placer.design.artwork[0]
    assert colour_at(one, *on_picture(placer, 0.5, 0.15)) == colour
    canvas.setFocus()
    placer.keys(canvas, Qt.Key.Key_O)
    placer.click("brushPlain")
    corners = [placer.pixel(*on_picture(placer, *spot)) for spot in ((0.2, 0.3), (0.8, 0.3), (0.8, 0.8), (0.2, 0.8))]
    placer.bot.mousePress(canvas, Qt.MouseButton.LeftButton, pos=corners[0])
    for corner in corners[1:]:
        QApplication.sendEvent(
            canvas,
            QMouseEvent(
                QMouseEvent.Type.MouseMove,
                QPointF(corner),
                canvas.mapToGlobal(QPointF(corner)),
                Qt.MouseButton.NoButton,
                Qt.MouseButton.LeftButton,
                Qt.KeyboardModifier.NoModifier,
            ),
        )
    placer.bot.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=corners[-1])
    placer.bot.waitUntil(lambda: len(placer.document.history.design.artwork[0].look.patches) == 2, timeout=10_000)
    assert colour_at(placer.design.artwork[0], *on_picture(placer, 0.5, 0.5)) != colour
    placer.window.undo()
    placer.window.undo()
    assert placer.design.artwork[0] == before
    told: list[str] = []
    placer.document.told.connect(told.append)
    placer.drag_cloth((50.0, 60.0), (55.0, 60.0))
    assert "no picture here" in told[0]
    placer.keys(canvas, Qt.Key.Key_S)
    assert not placer.window.findChildren(QWidget, "brushWidth")[0].isVisible()


def test_a_picture_that_goes_while_it_is_digitized_ends_that(sorter: User) -> None:
    canvas = sorter.window.canvas
    sorter.click("artwork0-drop")
    assert not sorter.design.artwork
    takes = sorter.window.findChildren(QWidget, "proposalTake")
    sorter.bot.waitUntil(lambda: not any(one.isVisible() for one in takes), timeout=5_000)
    assert not sorter.document.design.objects and canvas.tool.name == "select"
    told: list[str] = []
    sorter.document.told.connect(told.append)
    canvas.setFocus()
    sorter.keys(canvas, Qt.Key.Key_I)
    sorter.click_cloth(0, 0)
    assert told and "Digitize a picture first" in told[0]
    sorter.window.undo()
    assert len(sorter.design.artwork) == 1


def test_a_picture_that_is_moved_while_it_is_digitized_is_digitized_where_it_lies(sorter: User) -> None:
    one = sorter.document.history.design.artwork[0]
    moved = replace(one, x=one.x + 7.0)
    sorter.document.edit("Move artwork", replace(sorter.document.history.design, artwork=(moved,)))
    sorter.bot.waitUntil(lambda: not sorter.find("proposalTake").isEnabled(), timeout=5_000)
    worked_out(sorter)
    sorter.click("proposalTake")
    assert sorter.design.artwork[0].x == pytest.approx(one.x + 7.0)
    places = [region_of(item.shape).centroid.x for item in sorter.design.objects if isinstance(item.shape, Area)]
    assert min(places) > one.x + 7.0
