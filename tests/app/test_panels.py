"""Tuning in the panels: the effect is looked for on the design and in the stitches."""

from pathlib import Path

import numpy as np
import pytest
from msgspec.structs import replace
from PIL import Image
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
    QLabel,
    QLineEdit,
    QListWidget,
    QPushButton,
    QToolButton,
)

from jontel.app.panels.parts import FACTS, NumberField
from jontel.app.picker import ThreadPicker
from jontel.app.threads import threads
from jontel.design import Area, Fill, Line, Run, Satin
from jontel.design.edits import pin, transform_objects
from jontel.design.kinds.edge_run import EdgeRun
from jontel.design.kinds.lattice import Lattice
from jontel.design.kinds.mesh import Mesh
from jontel.design.kinds.parallel import Parallel
from jontel.files.threadbox import ThreadBox
from jontel.stitching.stitches import Kind, Layer
from tests.app.conftest import User
from tests.conftest import box_path, design_of


def count(user: User, name: str) -> int:
    """How many stitches an object has."""
    assert user.document.sewn is not None
    identity = user.object(name).id
    return sum(s.stitches for s in user.document.sewn.shares if s.object == identity)


def field(user: User, name: str) -> NumberField:
    """A number field."""
    found = user.find(name, NumberField)
    assert isinstance(found, NumberField)
    return found


# Stitch


def test_a_typed_spacing_is_pinned_and_thins_the_stitches(crest_user: User) -> None:
    crest_user.select("Tower wall")
    before = count(crest_user, "Tower wall")
    assert field(crest_user, "spacing").property("inherited")
    crest_user.type("spacing", "2 rows/mm")
    cover = crest_user.object("Tower wall").cover
    assert isinstance(cover, Fill) and cover.spacing == pytest.approx(0.5)
    assert count(crest_user, "Tower wall") < before
    assert not field(crest_user, "spacing").property("inherited")
    assert field(crest_user, "spacing").text() == "0.50 mm"


def test_strokes_per_mm_of_a_satin_are_counted_both_ways(crest_user: User) -> None:
    name = next(item.name for item in crest_user.design.objects if isinstance(item.cover, Satin))
    crest_user.select(name)
    crest_user.type("spacing", "4/mm")
    cover = crest_user.object(name).cover
    assert isinstance(cover, Satin) and cover.spacing == pytest.approx(0.5)
    assert "4.0 strokes per mm" in field(crest_user, "spacing").toolTip()


def test_a_stitch_longer_than_the_machine_moves_is_held_to_it_with_a_word(crest_user: User) -> None:
    crest_user.select("Tower wall")
    crest_user.type("length", "40 mm")
    longest = crest_user.design.brief.machine.longest_move
    cover = crest_user.object("Tower wall").cover
    assert isinstance(cover, Fill) and cover.length == longest
    notice = crest_user.window.notice
    assert notice.isVisible() and "held to 12.00 mm" in notice.text()


def test_a_pin_releases_its_value(crest_user: User) -> None:
    crest_user.select("Tower wall")
    crest_user.type("spacing", "6 pt")
    crest_user.click("pin-spacing")
    cover = crest_user.object("Tower wall").cover
    assert isinstance(cover, Fill) and cover.spacing is None
    assert field(crest_user, "spacing").text() == "0.40 mm"


def test_clearing_a_field_releases_it_too(crest_user: User) -> None:
    crest_user.select("Tower wall")
    crest_user.type("spacing", "0.6")
    entry = field(crest_user, "spacing")
    entry.setFocus()
    entry.selectAll()
    crest_user.keys(entry, Qt.Key.Key_Delete)
    crest_user.keys(entry, Qt.Key.Key_Return)
    crest_user.settle()
    cover = crest_user.object("Tower wall").cover
    assert isinstance(cover, Fill) and cover.spacing is None


def test_arrow_keys_step_a_value(crest_user: User) -> None:
    crest_user.select("Tower wall")
    entry = field(crest_user, "angle")
    crest_user.keys(entry, Qt.Key.Key_Up)
    crest_user.settle()
    cover = crest_user.object("Tower wall").cover
    assert isinstance(cover, Fill) and cover.angle == pytest.approx(9.0)


@pytest.mark.parametrize("typed", ["wide", "0", "99", "-1"])
def test_nonsense_in_a_field_is_marked_and_changes_nothing(crest_user: User, typed: str) -> None:
    crest_user.select("Tower wall")
    design = crest_user.design
    crest_user.type("spacing", typed)
    entry = field(crest_user, "spacing")
    assert crest_user.design == design
    assert entry.property("wrong") and entry.toolTip().endswith(".")
    crest_user.keys(entry, Qt.Key.Key_Escape)
    assert entry.text() == "0.40 mm"


def test_several_objects_are_tuned_at_once(crest_user: User) -> None:
    crest_user.select("Sky", "Mid sea", "Gulls")
    assert field(crest_user, "angle").placeholderText() == "differ"
    crest_user.type("spacing", "0.5")
    for name in ("Sky", "Mid sea"):
        cover = crest_user.object(name).cover
        assert isinstance(cover, Fill) and cover.spacing == 0.5
    assert isinstance(crest_user.object("Gulls").cover, Run)
    crest_user.window.undo()
    assert crest_user.object("Sky").cover == Fill(angle=8.0)


def test_pull_is_tuned_on_the_edges_layer(crest_user: User) -> None:
    crest_user.select("Tower wall")
    crest_user.click("layer-edges")
    crest_user.type("pull", "0.8 mm")
    assert crest_user.object("Tower wall").edges.pull == 0.8
    assert crest_user.document.sewn is not None
    plan = crest_user.document.sewn.plan
    own = plan.xy[(plan.object == crest_user.object("Tower wall").id) & (plan.layer == Layer.COVER)]
    assert np.ptp(own[:, 0]) > 13.2 + 1.2


def test_underlay_is_added_tuned_moved_and_taken_away(crest_user: User) -> None:
    crest_user.select("Rock")
    panel = crest_user.window.panels[2]
    panel.add_pass(Mesh())  # type: ignore[attr-defined]
    crest_user.settle()
    assert crest_user.object("Rock").underlay == (EdgeRun(), Lattice(), Mesh())
    crest_user.type("spacing", "3")
    assert crest_user.object("Rock").underlay == (EdgeRun(), Lattice(), Mesh(spacing=3.0))
    crest_user.click("pass-down")
    assert crest_user.object("Rock").underlay == (EdgeRun(), Mesh(spacing=3.0), Lattice())
    crest_user.click("pass-remove")
    assert crest_user.object("Rock").underlay == (EdgeRun(), Lattice())
    sewn = crest_user.document.sewn
    assert sewn is not None
    own = sewn.plan.layer[sewn.plan.object == crest_user.object("Rock").id]
    assert Layer.MESH not in own and Layer.LATTICE in own


def test_the_kind_of_an_underlay_is_changed(crest_user: User) -> None:
    crest_user.select("Rock")
    crest_user.click("layer-underlay 1")
    choose(crest_user, "underlayKind", "Parallel")
    assert crest_user.object("Rock").underlay == (EdgeRun(), Parallel())


def choose(user: User, name: str, words: str) -> None:
    """Choose from a drop-down list with the keyboard."""
    user.find(name, QComboBox).setFocus()
    for _ in range(20):
        box = user.find(name, QComboBox)
        assert isinstance(box, QComboBox)
        if box.currentText() == words:
            break
        user.bot.waitUntil(lambda: user.find(name, QComboBox).hasFocus(), timeout=3000)
        box = user.find(name, QComboBox)
        assert isinstance(box, QComboBox)
        user.keys(box, Qt.Key.Key_Down if box.findText(words) > box.currentIndex() else Qt.Key.Key_Up)
        user.settle()
    else:
        raise AssertionError(f"{words} cannot be chosen")


@pytest.fixture
def lines(user: User) -> User:
    """Somebody with four satin lines."""
    paths = {
        "Hook": "M-30 10 L-30 0 L-25 0 C-20 0 -20 6 -25 6 L-30 6",
        "Fork": "M-8 0 L-14 0 L-14 10 L-8 10",
        "Bar": "M0 0 L0 10",
        "Loop": "M15 0 C10 0 10 10 15 10 C20 10 20 0 15 0 Z",
    }
    made = design_of(*((Line(path, 0.9), Satin(), "1001") for path in paths.values()))
    named = tuple(replace(item, name=name) for item, name in zip(made.objects, paths, strict=True))
    user.open(replace(made, objects=named))
    user.stage("Stitch")
    return user


def test_a_satin_line_becomes_a_run_and_back(lines: User) -> None:
    lines.select("Hook")
    before = count(lines, "Hook")
    choose(lines, "coverKind", "Run")
    assert isinstance(lines.object("Hook").cover, Run)
    assert count(lines, "Hook") < before
    choose(lines, "coverKind", "Satin")
    assert isinstance(lines.object("Hook").cover, Satin)


def test_the_width_of_a_satin_line_is_typed(lines: User) -> None:
    lines.select("Hook", "Fork")
    lines.type("width", "1.4")
    shapes = [lines.object(name).shape for name in ("Hook", "Fork")]
    assert all(isinstance(shape, Line) and shape.width == 1.4 for shape in shapes)


def test_the_end_of_a_satin_line_is_chosen(lines: User) -> None:
    lines.select("Bar")
    choose(lines, "end", "Pointed")
    shape = lines.object("Bar").shape
    assert isinstance(shape, Line) and (shape.start, shape.end) == ("flat", "pointed")
    assert lines.document.sewn is not None
    plan = lines.document.sewn.plan
    own = plan.xy[(plan.object == lines.object("Bar").id) & (plan.layer == Layer.COVER)]
    rows = np.hypot(*np.diff(own, axis=0).T)
    assert min(rows[0], rows[-1]) < 0.8 * np.median(rows) < 0.95 * max(rows[0], rows[-1])


def test_the_run_style_is_chosen(crest_user: User) -> None:
    crest_user.select("Foam")
    before = count(crest_user, "Foam")
    choose(crest_user, "style", "Triple")
    cover = crest_user.object("Foam").cover
    assert isinstance(cover, Run) and cover.style == "triple"
    assert count(crest_user, "Foam") > 2 * before


def test_short_stitches_can_be_switched_off(lines: User) -> None:
    lines.select("Loop")
    box = lines.find("short_stitches", QCheckBox)
    assert isinstance(box, QCheckBox) and box.isChecked()
    lines.bot.mouseClick(box, Qt.MouseButton.LeftButton, pos=box.rect().center() - box.rect().center() / 1.2)
    lines.settle()
    cover = lines.object("Loop").cover
    assert isinstance(cover, Satin) and cover.short_stitches is False


def test_ends_are_set_and_stops_carry_an_instruction(crest_user: User) -> None:
    crest_user.select("Sky")
    crest_user.click("layer-ends")
    choose(crest_user, "trim", "Always")
    stops = crest_user.find("stopAfter", QCheckBox)
    crest_user.bot.mouseClick(
        stops, Qt.MouseButton.LeftButton, pos=stops.rect().topLeft() + stops.rect().center() / 9
    )
    crest_user.settle()
    crest_user.type("stopAfterWords", "Trim the backing")
    ends = crest_user.object("Sky").ends
    assert ends.trim == "always" and ends.stop == "Trim the backing"
    assert crest_user.document.sewn is not None
    assert "Trim the backing" in crest_user.document.sewn.plan.stops.values()


def pick_thread(user: User, name: str, words: str) -> None:
    """Choose a thread by words from those that a button offers."""
    user.click(name)
    picker = user.window.findChild(ThreadPicker)
    assert picker is not None
    user.bot.keyClicks(picker.search, words)
    user.keys(picker, Qt.Key.Key_Return)
    user.settle()


def test_an_object_is_renamed_and_gets_another_thread(crest_user: User) -> None:
    crest_user.select("Rock")
    crest_user.type("objectName", "Skerry")
    assert crest_user.object("Skerry").thread == "1020"
    pick_thread(crest_user, "objectThread", "slate")
    assert crest_user.object("Skerry").thread == "1015"
    assert "1015" in {t.code for t in crest_user.design.brief.threads}


def test_a_border_gets_a_thread_of_its_own_in_one_step(crest_user: User) -> None:
    crest_user.select("Sky")
    assert crest_user.window.findChild(QPushButton, "borderThread") is None
    crest_user.document.edit("Border", pin(crest_user.design, {crest_user.object("Sky").id}, "border", "satin"))
    crest_user.settle()
    before = crest_user.object("Sky").thread
    pick_thread(crest_user, "borderThread", "slate")
    rim, sky = crest_user.object("Sky border"), crest_user.object("Sky")
    assert (
        rim.thread == "1015" and sky.thread == before and isinstance(sky.cover, Fill) and sky.cover.border == "none"
    )
    assert crest_user.document.selection == {rim.id} and count(crest_user, "Sky border") > 50
    names = [item.name for item in crest_user.design.objects]
    assert names.index("Sky border") == names.index("Sky") + 1
    crest_user.document.undo()
    crest_user.settle()
    assert crest_user.object("Sky").cover.border == "satin"  # type: ignore[attr-defined]
    assert "Sky border" not in {item.name for item in crest_user.design.objects}


def test_all_pins_are_released_at_once(crest_user: User) -> None:
    crest_user.select("Tower wall", "Sky")
    crest_user.click("releasePins")
    assert crest_user.object("Tower wall").pins() == crest_user.object("Sky").pins() == 0


def test_the_section_shows_the_layers_and_a_click_chooses_one(crest_user: User) -> None:
    crest_user.select("Rock")
    section = crest_user.window.panels[2].section  # type: ignore[attr-defined]
    section.grab()
    chosen = []
    for y in range(4, section.height(), 6):
        crest_user.bot.mouseClick(section, Qt.MouseButton.LeftButton, pos=QPoint(section.width() // 2, y))
        chosen.append(crest_user.window.panels[2].layer)  # type: ignore[attr-defined]
    assert list(dict.fromkeys(chosen)) == ["edges", "cover", "underlay 1", "underlay 0"]


# Brief


def test_changing_the_ground_restitches_and_tells_what_stays(crest_user: User) -> None:
    crest_user.stage("Brief")
    before = crest_user.document.sewn
    choose(crest_user, "ground", "Leather, vinyl")
    assert crest_user.design.brief.ground.name == "Leather, vinyl"
    assert crest_user.document.sewn is not None and before is not None
    assert crest_user.document.sewn.totals.stitches < before.totals.stitches
    told = crest_user.find("groundTold", QLabel)
    assert isinstance(told, QLabel) and f"{crest_user.design.pins()} pinned values stay" in told.text()
    cover = crest_user.object("Sky").cover
    assert isinstance(cover, Fill) and cover.angle == 8.0


def test_another_hoop_and_another_size(crest_user: User) -> None:
    crest_user.stage("Brief")
    choose(crest_user, "hoop", "Round 180")
    assert crest_user.design.brief.hoop.width == 180
    crest_user.type("designWidth", "120")
    assert crest_user.document.sewn is not None
    assert crest_user.document.sewn.totals.width == pytest.approx(120, abs=0.6)
    assert crest_user.design.artwork[0].width == pytest.approx(120 / 90.66 * 90, abs=0.8)
    crest_user.window.undo()
    assert crest_user.design.artwork[0].width == pytest.approx(90, abs=0.001)


def test_too_small_a_hoop_is_said_in_the_brief(crest_user: User) -> None:
    crest_user.stage("Brief")
    choose(crest_user, "hoop", "Cap 100 x 55")
    badge = crest_user.find("badge-Brief", QLabel)
    assert isinstance(badge, QLabel) and badge.text() == "too large"


def test_a_thread_is_changed_everywhere(crest_user: User) -> None:
    crest_user.stage("Brief")
    crest_user.click("thread-3005")
    picker = crest_user.window.findChild(ThreadPicker)
    assert picker is not None
    crest_user.bot.keyClicks(picker.search, "2018")
    crest_user.keys(picker, Qt.Key.Key_Return)
    crest_user.settle()
    assert {crest_user.object(n).thread for n in ("Upper band", "Lower band", "Roof")} == {"2018"}


def test_threads_that_nothing_uses_are_dropped(crest_user: User) -> None:
    crest_user.select("Rock")
    crest_user.keys(crest_user.window.canvas, Qt.Key.Key_Delete)
    crest_user.settle()
    assert "1020" in {t.code for t in crest_user.design.brief.threads}
    crest_user.stage("Brief")
    crest_user.click("dropThreads")
    assert "1020" not in {t.code for t in crest_user.design.brief.threads}


def test_a_chart_of_ones_own_is_offered(crest_user: User, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    chart = tmp_path / "mine.csv"
    chart.write_text("code,name,hex\nZ9,Own red,#b2302f\n")
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *_a, **_k: ([str(chart)], ""))
    crest_user.stage("Brief")
    crest_user.click("foldThreads")
    crest_user.click("loadChart")
    crest_user.click("thread-3005")
    picker = crest_user.window.findChild(ThreadPicker)
    assert picker is not None and picker.list.count() > 20
    crest_user.bot.keyClicks(picker.search, "own red")
    assert picker.list.count() == 1
    crest_user.keys(picker, Qt.Key.Key_Return)
    crest_user.settle()
    assert crest_user.object("Roof").thread == "Z9"


# Artwork


def test_artwork_is_brought_in_dimmed_hidden_and_taken_away(
    boxes: User, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    art = tmp_path / "art.svg"
    art.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="20mm" viewBox="0 0 40 20">'
        '<rect width="30" height="15" fill="#b2302f"/><image width="3" height="3"/></svg>'
    )
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a, **_k: (str(art), ""))
    boxes.stage("Artwork")
    boxes.click("bringIn")
    assert len(boxes.design.objects) == 3 and len(boxes.document.selection) == 1
    assert "became 1 object; 1 kind of things left out" in boxes.window.notice.text()
    notes = [
        w.text()
        for w in boxes.window.panels[1].findChildren(QLabel)
        if "picture without a file was left out" in w.text()
    ]
    assert notes
    shown = boxes.find("artwork0-shown", QCheckBox)
    boxes.bot.mouseClick(shown, Qt.MouseButton.LeftButton, pos=shown.rect().topLeft() + shown.rect().center() / 9)
    boxes.settle()
    assert not boxes.design.artwork[0].visible
    boxes.type("artwork0-wide", "80")
    assert boxes.design.artwork[0].width == pytest.approx(80)
    boxes.click("artwork0-drop")
    assert boxes.design.artwork == () and len(boxes.design.objects) == 3


def test_a_file_that_is_no_artwork_is_said_and_changes_nothing(boxes: User, tmp_path: Path) -> None:
    bad = tmp_path / "bad.svg"
    bad.write_text("no drawing")
    design = boxes.design
    boxes.window.desk.add_artwork(bad)
    assert boxes.design == design
    assert boxes.window.notice.isVisible() and boxes.window.notice.text().startswith("bad.svg")


# Order


def test_the_order_is_changed_by_buttons_and_keys(crest_user: User) -> None:
    crest_user.stage("Order")
    crest_user.select("Rope edge")
    crest_user.click("order-first")
    assert crest_user.design.objects[0].name == "Rope edge"
    crest_user.click("order-later")
    assert crest_user.design.objects[1].name == "Rope edge"
    crest_user.click("order-last")
    assert crest_user.design.objects[-1].name == "Rope edge"
    crest_user.select("Rope twist", "Rope twist back")
    crest_user.click("order-first")
    badge = crest_user.find("badge-Order", QLabel)
    assert isinstance(badge, QLabel) and badge.text() == "2 buried"
    crest_user.click("undo")
    crest_user.select("Rope edge")
    crest_user.click("order-last")
    crest_user.keys(crest_user.window, Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)
    assert crest_user.design.objects[-2].name == "Rope edge"


def test_grouping_by_thread_saves_changes(crest_user: User) -> None:
    crest_user.stage("Order")
    assert crest_user.document.sewn is not None
    before = crest_user.document.sewn.totals.changes
    crest_user.click("groupByThread")
    assert crest_user.document.sewn.totals.changes < before


def test_the_list_selects_and_a_drop_resews(crest_user: User) -> None:
    crest_user.stage("Order")
    rows = crest_user.find("orderList", QListWidget)
    assert isinstance(rows, QListWidget)
    rows.item(3).setSelected(True)
    crest_user.settle()
    assert crest_user.document.selection == {crest_user.design.objects[3].id}
    model = rows.model()
    assert model is not None
    assert model.moveRow(rows.rootIndex(), 0, rows.rootIndex(), 3)
    crest_user.settle()
    assert [o.name for o in crest_user.design.objects[:3]] == ["Moon", "Beam left", "Sky"]


# Sew-out


def test_findings_are_shown_and_mended(crest_user: User) -> None:
    crest_user.stage("Order")
    crest_user.select("Rope twist", "Rope twist back")
    crest_user.click("order-first")
    crest_user.stage("Sew-out")
    assert crest_user.document.sewn is not None and len(crest_user.document.sewn.findings) == 2
    crest_user.click("showFinding")
    assert len(crest_user.document.selection) == 1
    crest_user.click("mendFinding")
    crest_user.click("mendFinding")
    assert crest_user.document.sewn.findings == ()
    assert [o.name for o in crest_user.design.objects[-2:]] != ["Rope twist", "Sky"]


def test_a_finding_is_accepted_not_counted_and_counted_again(crest_user: User) -> None:
    crest_user.stage("Order")
    crest_user.select("Rope twist", "Rope twist back")
    crest_user.click("order-first")
    crest_user.stage("Sew-out")
    sewn = crest_user.document.sewn
    assert sewn is not None
    first = sewn.findings[0]
    crest_user.bot.mouseClick(
        crest_user.window.findChildren(QPushButton, "acceptFinding")[0], Qt.MouseButton.LeftButton
    )
    crest_user.settle()
    assert len(crest_user.document.history.design.accepted) == 1
    assert crest_user.document.sewn is not None and len(crest_user.document.sewn.findings) == 1
    assert [one.sentence for one in crest_user.document.sewn.accepted] == [first.sentence]
    crest_user.click("showAccepted")
    crest_user.click("countFinding0")
    assert crest_user.document.history.design.accepted == () and len(crest_user.document.sewn.findings) == 2


def test_charts_are_shown_and_thread_is_seen_to_be_deep_on_the_cloth(crest_user: User) -> None:
    crest_user.stage("Sew-out")
    takes = crest_user.find("takes", QLabel)
    assert isinstance(takes, QLabel) and "Bobbin thread" in takes.text() and "Costs" in takes.text()
    crest_user.click("showCharts")
    words = crest_user.find("spentWords", QLabel)
    assert isinstance(words, QLabel)
    crest_user.bot.waitUntil(lambda: "Sewing" in words.text() and "Longest" in words.text())
    before = crest_user.window.canvas.grab().toImage()
    crest_user.click("showDepth")
    depth = crest_user.window.canvas.depth_map
    crest_user.bot.waitUntil(lambda: depth.seen is not None)
    assert crest_user.window.canvas.grab().toImage() != before
    crest_user.stage("Order")
    assert not depth.wanted, "it belongs to the charts"


def test_a_state_is_kept_compared_and_gone_back_to(
    boxes: User, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    boxes.stage("Sew-out")
    for name, words in (("versionName", "first test"), ("versionNote", "gaps at the rim")):
        field = boxes.find(name, QLineEdit)
        assert isinstance(field, QLineEdit)
        boxes.bot.keyClicks(field, words)
    boxes.click("keepVersion")
    (version,) = boxes.document.history.design.versions
    assert (version.name, version.note) == ("first test", "gaps at the rim")
    boxes.document.edit("Space", pin(boxes.document.history.design, {1}, "spacing", 0.52))
    boxes.settle()
    boxes.click("compareVersion0")
    box = boxes.window.panels[4].versions
    boxes.bot.waitUntil(lambda: any("0.52" in one.text() for one in box.findChildren(QLabel)))
    photo = tmp_path / "photo.png"
    Image.new("RGB", (300, 200), (40, 90, 120)).save(photo)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a, **_k: (str(photo), ""))
    boxes.click("photoVersion0")
    boxes.bot.waitUntil(lambda: bool(boxes.document.history.design.versions[0].photo))
    boxes.settle()
    boxes.click("backToVersion0")
    assert boxes.document.history.design.objects[0].cover.spacing is None
    assert boxes.document.history.design.versions[0].photo, "its photo stays"
    boxes.bot.keyClick(boxes.window.canvas, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    boxes.settle()
    assert boxes.document.history.design.objects[0].cover.spacing == 0.52
    boxes.click("forgetVersion0")
    assert boxes.document.history.design.versions == ()


def test_the_folder_offered_first_is_there(crest_user: User) -> None:
    crest_user.stage("Sew-out")
    folder = crest_user.find("exportFolder", QLineEdit)
    assert isinstance(folder, QLineEdit) and Path(folder.text()).is_dir()


def test_the_files_are_written(crest_user: User, tmp_path: Path) -> None:
    crest_user.stage("Sew-out")
    folder = crest_user.find("exportFolder", QLineEdit)
    assert isinstance(folder, QLineEdit)
    folder.setText(str(tmp_path))
    crest_user.click("writeFiles")
    assert (tmp_path / "Pellan Point crest.ngc").stat().st_size > 100_000
    assert (tmp_path / "Pellan Point crest.pdf").read_bytes().startswith(b"%PDF")
    folder.setText(str(tmp_path / "nowhere"))
    crest_user.click("writeFiles")
    assert "does not exist" in crest_user.window.notice.text()


def test_every_control_can_be_named(crest_user: User) -> None:
    crest_user.select("Rock")
    for kind in (QToolButton, QComboBox, NumberField):
        for widget in crest_user.window.findChildren(kind):
            if widget.isVisible() and not widget.objectName().startswith("qt_"):
                assert widget.objectName() and widget.accessibleName(), widget
    assert crest_user.document.sewn is not None
    assert (crest_user.document.sewn.plan.kind == Kind.END).sum() == 1


# the brief: own hoop, machine, ground for what comes, chart, recent designs


def test_a_hoop_of_ones_own(boxes: User) -> None:
    boxes.stage("Brief")
    hoop = boxes.find("hoop", QComboBox)
    assert isinstance(hoop, QComboBox)
    hoop.activated.emit(hoop.count() - 1)
    boxes.settle()
    boxes.type("hoop-width", "150")
    boxes.type("hoop-height", "90")
    found = boxes.design.brief.hoop
    assert (found.width, found.height, found.name) == (
        150.0,
        90.0,
        "Own 150 x 90",
    ) and hoop.currentText() == found.name
    hoop.activated.emit(0)
    boxes.settle()
    assert boxes.design.brief.hoop.name == "Cap 100 x 55" and not boxes.window.panels[0].own_hoop.isVisible()  # type: ignore[attr-defined]


def test_the_machine_is_asked_for_and_remembered(boxes: User) -> None:
    boxes.stage("Brief")
    before = boxes.document.sewn.totals.seconds if boxes.document.sewn else 0.0
    boxes.click("machineHeading")
    boxes.type("machine-speed", "400")
    assert boxes.document.sewn is not None and boxes.document.sewn.totals.seconds > 1.5 * before
    boxes.window.desk.close_current()
    boxes.window.desk.new_design()
    assert boxes.design.brief.machine.speed == 400.0


def test_another_ground_only_for_what_comes(boxes: User) -> None:
    boxes.stage("Brief")
    before = boxes.plan.xy
    ground = boxes.find("ground", QComboBox)
    assert isinstance(ground, QComboBox)
    ground.activated.emit(ground.findText("Jersey T-shirt"))
    boxes.settle()
    assert boxes.plan.xy.shape != before.shape
    boxes.click("onlyWhatComes")
    assert boxes.design.brief.ground.name == "Jersey T-shirt"
    assert boxes.plan.xy.shape == before.shape and (boxes.plan.xy == before).all()


def test_a_chart_of_ones_own_is_there_next_time(boxes: User, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    (tmp_path / "mine.csv").write_text("code,name,hex\nX1,Own red,#aa1122\n")
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *_a, **_k: ([str(tmp_path / "mine.csv")], ""))
    boxes.stage("Brief")
    boxes.click("foldThreads")
    boxes.click("loadChart")
    assert "1 thread of mine.csv" in boxes.find("threadsTold").text()  # type: ignore[attr-defined]
    (tmp_path / "mine.csv").unlink()
    again = ThreadBox.of(threads().box.folder)
    assert "X1" in {one.code for one in again.offered()} and len(again.offered()) > 20
    boxes.click("removeChart-mine")
    assert "X1" not in {one.code for one in ThreadBox.of(threads().box.folder).offered()}


def test_the_box_comes_first_and_tells_what_is_left(boxes: User) -> None:
    boxes.stage("Brief")
    boxes.click("foldThreads")
    boxes.click("boxPut")
    found = boxes.find("boxList", QListWidget)
    assert isinstance(found, QListWidget) and found.count() == 1
    found.setCurrentRow(0)
    boxes.type("boxMetres", "3")
    boxes.settle()
    needs = boxes.document.sewn.totals.metres[0]  # type: ignore[union-attr]
    assert needs > 3 and "too little: 3 m" in str(found.item(0).data(FACTS))  # type: ignore[union-attr]
    boxes.type("boxMetres", "800")
    boxes.click("boxSewn")
    assert threads().box.stock["1001"].metres == pytest.approx(800 - needs, abs=0.1)
    boxes.click("thread-1001")
    picker = boxes.window.findChild(ThreadPicker)
    assert picker is not None and picker.list.item(0).data(FACTS).endswith(" m")  # type: ignore[union-attr]
    picker.close()
    found.setCurrentRow(0)
    boxes.click("boxTake")
    assert not threads().box.stock


def test_recent_designs_are_offered_in_an_empty_one(boxes: User, tmp_path: Path) -> None:
    path = tmp_path / "kept.jontel"
    boxes.window.desk._save_to(boxes.document, path)
    boxes.window.desk.close_current()
    boxes.window.desk.new_design()
    boxes.settle()
    boxes.click("recent0")
    assert boxes.document.path == path and len(boxes.design.objects) == 2


def test_a_typed_width_is_met(boxes: User) -> None:
    boxes.stage("Brief")
    boxes.type("designWidth", "55")
    assert boxes.document.sewn is not None and boxes.document.sewn.totals.width == pytest.approx(55, abs=0.1)


def test_a_mixed_selection_shows_and_edits_every_kind(user: User) -> None:
    user.open(design_of((Area(box_path(0, 0, 20, 20)), Fill()), (Line("M0 30 L20 30", 3.0), Satin())))
    user.stage("Stitch")
    user.document.select({1, 2})
    user.settle()
    user.type("spacing", "0.6")
    user.type("satin-spacing", "0.5")
    fill, satin = (item.cover for item in user.design.objects)
    assert fill == Fill(spacing=0.6) and satin == Satin(spacing=0.5)


def test_a_window_without_a_design_does_not_claim_to_stitch(user: User) -> None:
    track = user.window.transport.track
    before = track.grab().toImage()
    user.open(design_of((Line("M0 0 L5 0"), Run())))
    user.window.desk.close_current()
    assert track.grab().toImage() == before and user.window.session.current is None


def test_a_better_order_is_shown_and_waits_for_yes(crest_user: User) -> None:
    crest_user.stage("Order")
    before = crest_user.document.history.design
    crest_user.click("proposal-optimise")
    take = crest_user.find("proposalTake")
    crest_user.bot.waitUntil(take.isEnabled, timeout=30_000)
    assert crest_user.document.history.design is before and crest_user.document.design.objects != before.objects
    crest_user.click("proposalLeave")
    assert crest_user.document.design.objects == before.objects
    crest_user.click("proposal-optimise")
    crest_user.bot.waitUntil(take.isEnabled, timeout=30_000)
    crest_user.click("proposalTake")
    assert crest_user.document.history.undo_label == "Optimise the order"
    assert [o.id for o in crest_user.document.history.design.objects] != [o.id for o in before.objects]


def test_scaling_asks_whether_kinds_shall_change(user: User) -> None:
    user.open(design_of((Area(box_path(-15, -2, 30, 4)), Satin())))
    before = user.design
    user.document.select({1})
    user.document.edit("Scale", transform_objects(before, {1}, (4, 0, 0, 4, 0, 0)))
    notice = user.window.notice
    user.bot.waitUntil(lambda: notice.isVisible() and notice.answer.isVisible(), timeout=20_000)
    assert "better sewn otherwise: 1 fill" in notice.text()
    user.bot.mouseClick(notice.answer, Qt.MouseButton.LeftButton)
    user.bot.waitUntil(lambda: isinstance(user.document.history.design.objects[0].cover, Fill), timeout=20_000)
    assert not notice.isVisible()
    user.window.undo()
    assert isinstance(user.document.history.design.objects[0].cover, Satin)
