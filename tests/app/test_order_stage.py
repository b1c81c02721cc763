"""The Order stage, driven as a person drives it: proposals, steps, strands, stops, connections."""

import numpy as np
import pytest
from msgspec.structs import replace
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QComboBox, QListWidget

from jontel.app.panels.parts import FACTS
from jontel.app.track import BLOCKS, STRIP, TALL
from jontel.app.whatif import gaps_in
from jontel.design import Area, Fill
from jontel.design.edits import reorder
from jontel.design.order import Step
from jontel.design.steps import members, with_step
from jontel.files.formats import read_movements
from jontel.sewing.estimate import totals
from jontel.sewing.plan import plan
from jontel.stitching.stitches import Kind
from tests.app.conftest import User
from tests.conftest import box_path, design_of, ring_path
from tests.test_order import letter_e, star_of_lines


def row(user: User, words: str) -> int:
    found = user.find("orderList", QListWidget)
    assert isinstance(found, QListWidget)
    return next(k for k in range(found.count()) if words in found.item(k).text())  # type: ignore[union-attr]


def click_row(user: User, words: str, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
    found = user.find("orderList", QListWidget)
    assert isinstance(found, QListWidget)
    box = found.visualItemRect(found.item(row(user, words)))
    user.bot.mouseClick(found.viewport(), Qt.MouseButton.LeftButton, modifier, box.center())
    user.settle()


def tick(user: User, name: str) -> None:
    box = user.find(name)
    user.bot.mouseClick(box, Qt.MouseButton.LeftButton, pos=box.rect().topLeft() + QPoint(8, box.height() // 2))
    user.settle()


def take(user: User) -> None:
    button = user.find("proposalTake")
    user.bot.waitUntil(button.isEnabled, timeout=30_000)
    user.click("proposalTake")


def test_undercut_is_shown_with_what_it_saves_and_taken(user: User) -> None:
    user.open(design_of((Area(ring_path(20)), Fill()), (Area(ring_path(11)), Fill(angle=60))))
    user.stage("Order")
    before = totals(user.plan).stitches
    user.click("proposal-undercut")
    user.bot.waitUntil(user.find("proposalTake").isEnabled, timeout=30_000)
    assert user.document.history.design.objects[0].undercut is None  # it waits for yes
    user.type("proposal-margin", "1.5")
    take(user)
    assert user.document.history.undo_label == "Undercut"
    assert user.design.objects[0].undercut == 1.5
    assert user.design.objects[0].shape == Area(ring_path(20))  # what is drawn, bent and saved is the whole shape
    assert totals(user.plan).stitches < before
    user.click("proposal-sew-whole")
    take(user)
    assert user.design.objects[0].undercut is None and totals(user.plan).stitches == before
    assert len(user.document.history.undo_label or "") > 0


def test_near_bars_become_a_strand_and_its_block_is_one(user: User) -> None:
    user.open(letter_e())
    user.stage("Order")
    user.document.select({1, 2, 3, 4})
    user.click("proposal-strand")
    take(user)
    assert totals(user.plan).trims == 1
    user.document.select(frozenset())
    track = user.window.transport.track
    sewn = user.document.sewn
    assert sewn is not None
    middle = track.block(sewn.shares[1]).center().toPoint()
    user.bot.mouseClick(track, Qt.MouseButton.LeftButton, pos=middle)
    assert user.document.selection == {1, 2, 3, 4}
    user.click("proposal-release-strand")
    take(user)
    assert all(item.strand is None for item in user.design.objects)


def test_what_cannot_be_a_strand_says_why(user: User) -> None:
    user.open(design_of((Area(box_path(0, 0, 6, 6)), Fill(), "1001"), (Area(box_path(9, 0, 6, 6)), Fill(), "1002")))
    user.stage("Order")
    user.document.select({1, 2})
    user.click("proposal-strand")
    said = user.find("proposalSaid")
    user.bot.waitUntil(lambda: "in one thread" in said.text(), timeout=10_000)  # type: ignore[attr-defined]
    assert not user.find("proposalTake").isEnabled()
    user.click("proposalLeave")


def boxes(count: int = 5) -> object:
    return design_of(*((Area(box_path(10.0 * k, 0, 6, 6)), Fill(), "1001") for k in range(count)))


def test_a_step_is_made_named_stopped_for_and_folded(user: User) -> None:
    user.open(boxes())  # type: ignore[arg-type]
    user.stage("Order")
    click_row(user, "Object 2")
    click_row(user, "Object 3", Qt.KeyboardModifier.ControlModifier)
    user.keys(
        user.window.canvas, Qt.Key.Key_J, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
    )
    user.bot.waitUntil(lambda: len(user.design.steps) == 1, timeout=5000)
    user.settle()
    if not user.find("foldStep").parentWidget().inside.isVisible():  # type: ignore[union-attr]
        user.click("foldStep")
    user.type("stepName", "Felt")
    tick(user, "stepBefore")
    user.type("stepBeforeWords", "Place the felt")
    user.type("step-felt", "red, 2 mm")
    step = user.design.steps[0]
    assert (step.name, step.before, step.felt) == ("Felt", "Place the felt", "red, 2 mm")
    assert list(user.plan.stops.values()) == ["Place the felt"]
    found = user.find("orderList", QListWidget)
    assert isinstance(found, QListWidget)
    count = found.count()
    box = found.visualItemRect(found.item(row(user, "Felt")))
    click_row(user, "Felt")
    user.bot.mouseDClick(found.viewport(), Qt.MouseButton.LeftButton, pos=box.center())
    user.settle()
    assert user.design.steps[0].collapsed and found.count() == count - 2
    click_row(user, "Felt")
    assert user.document.selection == {2, 3}


def test_a_step_moves_as_one_on_the_track_and_what_is_dropped_in_it_joins(user: User) -> None:
    design, _ = with_step(boxes(), {2, 3}, "Felt")  # type: ignore[arg-type]
    user.open(design)
    user.stage("Order")
    track = user.window.transport.track
    sewn = user.document.sewn
    assert sewn is not None
    strip = track.block(sewn.shares[1])
    user.drag(
        track,
        QPoint(int(strip.center().x()), BLOCKS + 4),
        QPoint(int(track.block(sewn.shares[4]).right()) + 6, BLOCKS + 4),
    )
    user.settle()
    assert [item.id for item in user.design.objects] == [1, 4, 5, 2, 3]
    sewn = user.document.sewn
    assert sewn is not None
    start = track.block(sewn.shares[0]).center().toPoint()
    stop = QPoint(int(track.block(sewn.shares[4]).left()) + 2, start.y())
    user.drag(track, start, stop)
    user.settle()
    assert [item.id for item in user.design.objects] == [4, 5, 2, 1, 3]
    assert members(user.design, 1) == {1, 2, 3}
    assert STRIP > 0 and TALL > 0


def test_a_stop_before_an_object_is_chosen_from_what_is_ready(user: User) -> None:
    user.open(boxes(2))  # type: ignore[arg-type]
    user.stage("Order")
    click_row(user, "Object 2")
    tick(user, "stopBefore")
    words = user.find("stopBeforeChoice", QComboBox)
    assert isinstance(words, QComboBox)
    at = words.findText("Change the bobbin")
    words.setCurrentIndex(at)
    words.activated.emit(at)
    user.settle()
    assert user.design.objects[1].ends.stop_before == "Change the bobbin"
    assert list(user.plan.stops.values()) == ["Change the bobbin"]


def test_connections_of_the_design_are_cut_and_locked_as_told(user: User) -> None:
    user.open(boxes(3))  # type: ignore[arg-type]
    user.stage("Order")
    assert totals(user.plan).trims == 3
    user.click("foldConnections")
    user.type("designCutOver", "9")
    assert user.design.connections.cut_over == 9 and totals(user.plan).trims == 1
    box = user.find("connections-lock", QComboBox)
    assert isinstance(box, QComboBox)
    box.setCurrentIndex(3)
    box.activated.emit(3)
    user.settle()
    assert user.design.connections.lock == "star"
    user.click("pin-designCutOver")
    assert user.design.connections.cut_over is None and user.design.connections.lock == "star"


def test_a_part_is_written_from_the_playhead_on(user: User, tmp_path: object) -> None:
    user.open(boxes(3))  # type: ignore[arg-type]
    user.stage("Sew-out")
    user.window.panels[4].folder.setText(str(tmp_path))
    whole = totals(user.plan).stitches
    user.document.show_moment(len(user.plan) // 2)
    box = user.find("writePart", QComboBox)
    assert isinstance(box, QComboBox)
    box.setCurrentIndex(2)
    user.click("writeFiles")
    files = sorted(tmp_path.iterdir())  # type: ignore[attr-defined]
    assert [one.name for one in files] == ["Test part.ngc", "Test part.pdf"]
    kinds = np.array([move.kind for move in read_movements(files[0])])
    assert 0.3 * whole < (kinds == Kind.STITCH).sum() < 0.7 * whole and (kinds == Kind.STOP).sum() == 1


def test_a_step_is_hidden_and_shown_as_one(user: User) -> None:
    design, _ = with_step(boxes(), {2, 3}, "Felt")  # type: ignore[arg-type]
    user.open(replace(design, steps=(replace(design.steps[0], after="Trim"),)))
    user.stage("Order")
    click_row(user, "Felt")
    if not user.find("foldStep").parentWidget().inside.isVisible():  # type: ignore[union-attr]
        user.click("foldStep")
    user.click("stepHide")
    assert {one.owner for one in user.plan.pieces} == {1, 4, 5} and not user.plan.stops
    user.click("stepHide")
    assert len(user.plan.pieces) == 5 and isinstance(user.design.steps[0], Step)


def test_the_colour_of_a_thread_is_the_same_in_a_selected_row(user: User) -> None:
    user.open(boxes(2))  # type: ignore[arg-type]
    user.stage("Order")
    found = user.find("orderList", QListWidget)
    assert isinstance(found, QListWidget)
    row_of = found.visualItemRect(found.item(0))
    spot = QPoint(row_of.left() + 12, row_of.center().y())
    before = found.viewport().grab().toImage().pixelColor(spot)  # type: ignore[union-attr]
    click_row(user, "Object 1")
    after = found.viewport().grab().toImage().pixelColor(spot)  # type: ignore[union-attr]
    assert before == after and before.name() == user.design.thread("1001").colour


def test_lines_of_a_strand_stay_what_they_are_to_the_hand(user: User) -> None:
    user.open(star_of_lines())
    user.stage("Order")
    user.document.select({item.id for item in user.design.objects})
    user.click("proposal-strand")
    take(user)
    assert not any(item.hidden for item in user.design.objects)
    found = user.find("orderList", QListWidget)
    assert isinstance(found, QListWidget)
    facts = [str(found.item(k).data(FACTS)) for k in range(found.count())]  # type: ignore[union-attr]
    assert facts.count("in its strand") == len(user.design.objects) - 1
    assert not [one for one in user.document.sewn.findings if one.kind == "hidden"]  # type: ignore[union-attr]
    user.document.select(frozenset())
    user.click_cloth(9.0, 0.0)
    assert len(user.document.selection) == 1


def test_a_block_that_is_dragged_tells_what_it_would_make_of_the_gaps(user: User) -> None:
    left, right = Area(box_path(-20, -10, 20, 20)), Area(box_path(0, -10, 20, 20))
    user.open(design_of((left, Fill(angle=0.0)), (right, Fill(angle=0.0)), ground="Jersey T-shirt"))
    user.stage("Order")
    track, sewn = user.window.transport.track, user.document.sewn
    assert sewn is not None
    start = track.block(sewn.shares[0]).center().toPoint()
    stop = QPoint(int(track.block(sewn.shares[1]).right()) - 4, start.y())
    user.bot.mousePress(track, Qt.MouseButton.LeftButton, pos=start)
    for k in range(1, 6):
        user.bot.mouseMove(track, start + (stop - start) * k / 5)
        user.bot.wait(10)
    assert not track.what_if.words
    user.bot.waitUntil(lambda: track.what_if.words.startswith("forecast: "), timeout=20_000)
    assert user.document.history.design.objects[0].name == "Object 1", "nothing is changed yet"
    other = plan(reorder(user.document.history.design, {1}, None))
    assert gaps_in(other).words() in track.what_if.words
    assert gaps_in(user.document.sewn.plan).words() in track.what_if.words
    user.bot.mouseRelease(track, Qt.MouseButton.LeftButton, pos=stop)
    user.settle()
    assert not track.what_if.words
    assert [item.name for item in user.document.history.design.objects] == ["Object 2", "Object 1"]


def test_the_hoop_moves_under_the_needle_where_that_is_wanted(crest_user: User) -> None:
    window, canvas = crest_user.window, crest_user.window.canvas
    document = crest_user.document
    assert document.sewn is not None
    plan = document.sewn.plan
    document.show_moment(900)
    before = canvas.camera
    crest_user.bot.mouseClick(window.transport.steady, Qt.MouseButton.LeftButton)
    for row in (900, 2500, 40):
        document.show_moment(row)
        spot = canvas.camera.to_screen(*plan.place(row))
        assert (spot.x(), spot.y()) == pytest.approx((canvas.width() / 2, canvas.height() / 2), abs=1.5)
        assert canvas.camera.scale == before.scale
    crest_user.bot.mouseClick(window.transport.steady, Qt.MouseButton.LeftButton)
    held = canvas.camera
    document.show_moment(5000)
    assert canvas.camera == held


def test_the_track_is_painted_anew_when_what_it_shows_changes(crest_user: User) -> None:
    track = crest_user.window.transport.track

    def seen() -> bytes:
        image = track.grab().toImage()
        bits = image.constBits()
        assert bits is not None
        return bytes(bits.asarray(image.sizeInBytes()))

    first = seen()
    assert first == seen()
    crest_user.select("Moon")
    chosen = seen()
    track.set_zoom(0.4)
    zoomed = seen()
    crest_user.document.show_moment(300)
    moved = seen()
    assert len({first, chosen, zoomed, moved}) == 4


def test_narrow_blocks_have_the_colours_of_their_threads(user: User) -> None:
    small = [(Area(box_path(2.6 * k, 80.0, 2.2, 2.2)), Fill()) for k in range(12)]
    design = design_of((Area(box_path(0, 0, 70, 70)), Fill()), *small)
    first, other = design.brief.threads[0].code, design.brief.threads[1].code
    objects = [replace(item, thread=other if k > 6 else first) for k, item in enumerate(design.objects)]
    user.open(replace(design, objects=tuple(objects)))
    track, sewn = user.window.transport.track, user.document.sewn
    assert sewn is not None
    image = track.grab().toImage()
    seen = 0
    for share in sewn.shares[1:]:
        box = track.block(share)
        x = int(np.ceil(box.left()))
        if box.width() < 3.0 and x + 1 <= box.right():  # a bar that covers a whole pixel
            seen += 1
            for y in (BLOCKS + 4, BLOCKS + TALL // 2, BLOCKS + TALL - 2):
                assert image.pixelColor(x, y).name() == sewn.plan.threads[share.thread].colour.lower()
    assert seen >= 4 and len({share.thread for share in sewn.shares[1:]}) == 2
