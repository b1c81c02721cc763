"""Tuning the build-up with mouse and keys: the effect is looked for on the design and on the stitches."""

from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
import pytest
from msgspec.structs import replace
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QAbstractButton, QApplication, QCheckBox, QComboBox, QLabel, QMenu, QToolButton

from jontel.app.jobs import end_all
from jontel.app.panels.controls import ControlsEditor, Drawer, Source, drawers_of, edge_drawers
from jontel.app.panels.knots import KnotsView
from jontel.app.panels.section import SectionView
from jontel.app.session import Document, Session
from jontel.app.tools.direct import DirectionTool
from jontel.app.tools.needle import NeedleTool
from jontel.design import Area, Bare, Column, Design, Fill, Line, Run, Satin, StitchObject
from jontel.design.edits import change_objects
from jontel.design.kinds import COVERS
from jontel.design.kinds.values import Value, When
from jontel.design.shapes import PROFILES
from jontel.files.autosave import Autosave
from jontel.geometry.polyline import flatten
from jontel.sewing.plan import plan
from jontel.stitching.stitches import Kind, Layer
from tests.app.conftest import User
from tests.conftest import box_path, design_of, ring_path


@pytest.fixture(autouse=True)
def closed_groups() -> Iterator[None]:
    """Every test starts with the groups closed."""
    ControlsEditor.opened.clear()
    yield
    ControlsEditor.opened.clear()


@pytest.fixture
def kinds() -> Design:
    """A fill, a satin along a bent line, a column, and a run."""
    return design_of(
        (Area(box_path(-35, -35, 30, 25)), Fill()),
        (Line("M5 -30 L20 -30 L30 -20 L35 -35", 5.0), Satin()),
        (Column("M-35 10 L-5 10", "M-35 19 L-5 15"), Satin()),
        (Line("M5 10 C15 0 25 25 35 10"), Run()),
    )


@pytest.fixture
def mixed(user: User, kinds: Design) -> User:
    """Somebody with objects of all kinds open."""
    user.open(kinds)
    user.stage("Stitch")
    return user


@pytest.fixture
def alone(qapp: QApplication, kinds: Design, tmp_path: Path) -> Iterator[Document]:
    """An open design without a window."""
    session = Session(Autosave(tmp_path))
    document = session.open(kinds)
    yield document
    session.close(document)
    end_all()


def needle_points(user: User) -> np.ndarray:
    """Every needle point of the sew-out."""
    assert user.document.sewn is not None
    found = user.document.sewn.plan
    return found.xy[found.kind == Kind.STITCH]


def open_group(user: User, title: str) -> None:
    """Open a group of controls."""
    group = user.find(f"group-{title}", QToolButton)
    if not group.isChecked():  # type: ignore[attr-defined]
        user.bot.mouseClick(group, Qt.MouseButton.LeftButton, pos=QPoint(12, group.height() // 2))
    user.settle()


def pick(user: User, name: str, words: str) -> None:
    """Choose in a list with the keyboard."""
    box = user.find(name, QComboBox)
    assert isinstance(box, QComboBox)
    at = box.findText(words)
    assert at >= 0
    box.setFocus()
    while box.currentIndex() != at:
        user.bot.keyClick(box, Qt.Key.Key_Down if box.currentIndex() < at else Qt.Key.Key_Up)
    box.activated.emit(at)
    user.settle()


# every control does something


def every_control() -> list[tuple[str, str, Value, When | None]]:
    """The kind, the part, the value and its condition of every control that the declarations ask for."""
    found: list[tuple[str, str, Value, When | None]] = []

    def collect(name: str, drawers: tuple[Drawer, ...]) -> None:
        found.extend((name, one.part, value, when) for one in drawers for value, when in one.values)

    line = Line("M0 0 L20 0", 4.0)
    for kind in COVERS:
        shape = line if kind.name == "satin" else Area(box_path(0, 0, 20, 20))
        item = StitchObject(id=1, name="it", thread="1001", shape=shape, cover=kind.pins())
        collect(kind.pins.__name__, drawers_of(item))
    collect("Fill", edge_drawers())
    return found


@pytest.mark.parametrize(
    ("kind", "part", "control", "when"), every_control(), ids=lambda one: getattr(one, "field", str(one)[:24])
)
def test_every_control_changes_the_stitches(
    alone: Document, kind: str, part: str, control: Value, when: When | None
) -> None:
    name = {"Fill": "Object 1", "Satin": "Object 2", "Run": "Object 4", "Bare": "Object 1"}[kind]
    if control.field in ("pull_short", "pull_from"):  # of a short row
        name = "Object 2"

    def item() -> StitchObject:
        return next(one for one in alone.design.objects if one.name == name)

    def change(change: Callable[[StitchObject], StitchObject]) -> None:
        alone.edit("Change", change_objects(alone.design, {item().id}, change))

    alone.select({item().id})
    if kind == "Bare":
        change(lambda one: replace(one, cover=Bare()))
    wide = {"split_lines": 9.0, "split_least": 9.0, "split": 9.0, "greatest_width": 9.0, "narrow_extra": 1.5}
    wide |= {"wide": 9.0, "wide_over": 9.0}
    if control.field in wide and isinstance(item().shape, Line):
        Source(alone, "shape").write("Width", "width", wide[control.field])
    if control.field == "short_stitches":
        Source(alone, "shape").write("Corners", "corners", "turned")
    if control.field == "round_again":
        change(lambda one: replace(one, shape=Line("M0 0 L20 0 L20 12 L0 12 Z")))
    if control.field == "along":
        change(lambda one: replace(one, shape=Area(box_path(0, 0, 20, 4))))
    if control.field == "travel":
        holes = ring_path(4, -26, -22, True) + " " + ring_path(4, -14, -22, True)
        change(lambda one: replace(one, shape=Area(box_path(-35, -35, 30, 25) + " " + holes)))
    for field, value in ENABLING.get((kind, control.field), ()):
        Source(alone, "cover").write("Enable", field, value)
    if when is not None and when[1][0] is not False:
        Source(alone, part).write("Enable", when[0], when[1][-1])  # type: ignore[arg-type]
    before = plan(alone.design)
    source = Source(alone, part)  # type: ignore[arg-type]
    source.write(control.title, control.field, other_value(control, source.read(item(), control.field)[0]))
    after = plan(alone.design)
    assert before.xy.shape != after.xy.shape or not np.allclose(before.xy, after.xy)


ENABLING = {
    ("Satin", "seed"): (("feather_first", 1.0),),
    ("Satin", "split_least"): (("split", 3.0),),
    ("Fill", "travel"): (("angle", 20.0),),
    ("Fill", "pull_y"): (("angle", 90.0),),
}


def other_value(control: Value, value: object) -> object:
    """Another value than the one that is set."""
    fixed = {"pull_ceiling": 0.1, "split_least": 4.0}
    if control.field in fixed:
        return fixed[control.field]
    if control.unit == "count":
        return 7
    match control.sort:
        case "number":
            assert isinstance(value, int | float)
            return value * 1.5 + 0.5 if value * 1.5 + 0.5 <= control.high else max(control.low, value / 2)
        case "word":
            return next(one for one in reversed(control.options) if one != value)
        case "yes or no":
            return not value
    return PROFILES["waisted"]


# controls by mouse and key


def test_groups_open_and_stay_open_for_the_next_object(mixed: User) -> None:
    mixed.select("Object 1")
    assert not [w for w in mixed.window.findChildren(QComboBox, "pattern") if w.isVisible()]
    open_group(mixed, "Needle points")
    pick(mixed, "pattern", "Stair")
    assert mixed.object("Object 1").cover == Fill(pattern="stair")
    mixed.select("Object 3")
    mixed.select("Object 1")
    assert mixed.find("pattern", QComboBox).isVisible()


def test_a_fade_shows_its_values_once_it_is_chosen(mixed: User) -> None:
    mixed.select("Object 1")
    thread = np.hypot(*np.diff(needle_points(mixed), axis=0).T).sum()
    open_group(mixed, "Fade")
    pick(mixed, "fade", "Along")
    mixed.type("fade_to", "2 mm")
    mixed.type("fade_angle", "0")
    assert mixed.object("Object 1").cover == Fill(fade="along", fade_to=2.0, fade_angle=0.0)
    assert np.hypot(*np.diff(needle_points(mixed), axis=0).T).sum() < 0.85 * thread
    mixed.click("pin-fade")
    assert mixed.object("Object 1").cover == Fill(fade_to=2.0, fade_angle=0.0)


def test_a_profile_is_dragged_knot_by_knot(mixed: User) -> None:
    mixed.select("Object 1")
    open_group(mixed, "Fade")
    pick(mixed, "fade", "Custom")
    view = mixed.find("fade_profile", KnotsView)
    assert isinstance(view, KnotsView)
    start = view.place(view.knots[0]).toPoint()
    mixed.drag(view, start, QPoint(start.x(), view.place((0.0, 0.8)).toPoint().y()))
    cover = mixed.object("Object 1").cover
    assert isinstance(cover, Fill) and cover.fade_profile is not None
    assert cover.fade_profile[0] == pytest.approx((0.0, 0.8), abs=0.03)
    view = mixed.find("fade_profile", KnotsView)  # type: ignore[assignment]
    mixed.bot.mouseDClick(view, Qt.MouseButton.LeftButton, pos=view.place((0.5, 0.2)).toPoint())
    mixed.settle()
    cover = mixed.object("Object 1").cover
    assert isinstance(cover, Fill) and len(cover.fade_profile or ()) == 3
    view = mixed.find("fade_profile", KnotsView)  # type: ignore[assignment]
    view.setFocus()
    view.chosen = 1
    mixed.bot.keyClick(view, Qt.Key.Key_Up)
    mixed.bot.keyClick(mixed.find("fade_profile", KnotsView), Qt.Key.Key_Delete)
    mixed.settle()
    cover = mixed.object("Object 1").cover
    assert isinstance(cover, Fill) and len(cover.fade_profile or ()) == 2


def test_a_ready_width_profile_is_chosen(mixed: User) -> None:
    mixed.select("Object 2")
    open_group(mixed, "Width profile and corners")
    pick(mixed, "profile-ready", "Leaf")
    shape = mixed.object("Object 2").shape
    assert isinstance(shape, Line) and shape.profile == PROFILES["leaf"]


def test_a_toggle_is_clicked_and_released(mixed: User) -> None:
    mixed.select("Object 4")
    open_group(mixed, "Path")
    box = mixed.find("by_hand", QCheckBox)
    mixed.bot.mouseClick(box, Qt.MouseButton.LeftButton, pos=QPoint(8, box.height() // 2))
    mixed.settle()
    assert mixed.object("Object 4").cover == Run(by_hand=True)
    mixed.click("pin-by_hand")
    assert mixed.object("Object 4").cover == Run()


def test_the_cross_section_paints_every_kind(mixed: User) -> None:
    mixed.select("Object 2")
    section = mixed.find("section", SectionView)
    seen = set()
    covers = (
        Fill(),
        Fill(fade="along", fade_to=2.0),
        Fill(border="satin"),
        Fill(border="run", ragged=4.0),
        Satin(),
        Satin(layers=3),
        Satin(feather_first=1.0, feather_second=1.0),
        Satin(texture="brick"),
        Bare(),
    )
    for cover in covers:
        changed = change_objects(
            mixed.document.history.design, {2}, lambda item, cover=cover: replace(item, cover=cover)
        )
        mixed.document.edit("Cover", changed)
        mixed.settle()
        image = section.grab().toImage()
        bits = image.constBits()
        assert bits is not None
        seen.add(bytes(bits.asarray(image.sizeInBytes())))
    assert len(seen) == 9


# direction lines, guides, needle points


def test_a_direction_line_is_dragged_across_a_fill_moved_and_taken_away(mixed: User) -> None:
    mixed.select("Object 1")
    mixed.click("use-direction")
    assert mixed.window.canvas.tool.name == "direction"
    before = needle_points(mixed)
    mixed.drag_cloth((-30, -32), (-30, -14))
    mixed.drag_cloth((-12, -30), (-8, -14))
    shape = mixed.object("Object 1").shape
    assert isinstance(shape, Area) and len(shape.lines) == 2
    assert np.allclose(shape.lines[0], ((-30, -32), (-30, -14)), atol=0.4)
    turned = needle_points(mixed)
    assert before.shape != turned.shape
    mixed.drag_cloth((-30, -32), (-26, -32))
    moved = mixed.object("Object 1").shape
    assert isinstance(moved, Area) and np.allclose(moved.lines[0], ((-26, -32), (-30, -14)), atol=0.6)
    mixed.keys(mixed.window.canvas, Qt.Key.Key_Delete)
    mixed.settle()
    assert len(mixed.object("Object 1").shape.lines) == 1  # type: ignore[union-attr]
    mixed.click("oneAngle")
    assert mixed.object("Object 1").shape == Area(box_path(-35, -35, 30, 25))
    mixed.window.undo()
    assert len(mixed.object("Object 1").shape.lines) == 1  # type: ignore[union-attr]


def test_a_direction_line_of_a_column_ends_on_its_edges(mixed: User) -> None:
    mixed.select("Object 3")
    mixed.window.canvas.set_tool(mixed.window.tools["direction"])
    mixed.drag_cloth((-24, 7), (-18, 22))
    shape = mixed.object("Object 3").shape
    assert isinstance(shape, Column) and len(shape.lines) == 1
    assert shape.lines[0][0][1] == pytest.approx(10) and 15 < shape.lines[0][1][1] < 19


def test_what_takes_no_direction_line_says_why(mixed: User) -> None:
    mixed.select("Object 2")
    before = mixed.object("Object 2").shape
    assert isinstance(before, Line)
    tool = mixed.window.tools["direction"]
    assert isinstance(tool, DirectionTool)
    mixed.window.canvas.set_tool(tool)
    said: list[str] = []
    mixed.window.canvas.said.connect(said.append)
    (x, y), *_ = flatten(before.path)[0].xy.tolist()
    mixed.drag_cloth((x + 3, y - 5), (x + 3, y + 5))
    assert any("its stitches follow it" in words and "Object 2" in words for words in said)
    assert mixed.object("Object 2").shape == before


def test_a_direction_line_on_a_satin_of_several_strokes_is_its_own(mixed: User) -> None:
    cross = Area("M-2 -12 L2 -12 L2 -2 L12 -2 L12 2 L2 2 L2 12 L-2 12 L-2 2 L-12 2 L-12 -2 L-2 -2 Z")
    mixed.document.edit(
        "Cross", change_objects(mixed.design, {1}, lambda item: replace(item, shape=cross, cover=Satin()))
    )
    mixed.select("Object 1")
    mixed.window.canvas.set_tool(mixed.window.tools["direction"])
    before = needle_points(mixed)
    mixed.drag_cloth((6.0, -3.5), (8.5, 3.5))
    shape = mixed.object("Object 1").shape
    assert isinstance(shape, Area) and len(shape.lines) == 1
    after = needle_points(mixed)
    assert before.shape != after.shape or not np.allclose(before, after)


def test_rows_follow_a_guide_that_is_clicked(mixed: User) -> None:
    mixed.select("Object 1")
    mixed.click("use-guide")
    before = needle_points(mixed)
    for x, y in ((-36, -22), (-20, -16), (-4, -22)):
        mixed.click_cloth(x, y)
    mixed.keys(mixed.window.canvas, Qt.Key.Key_Return)
    mixed.settle()
    shape = mixed.object("Object 1").shape
    assert isinstance(shape, Area) and shape.guide is not None and shape.guide.count("C") == 2
    assert before.shape != needle_points(mixed).shape


def test_needle_points_are_dragged_added_and_taken_away(mixed: User) -> None:
    mixed.select("Object 4")
    mixed.click("use-needle")
    tool = mixed.window.tools["needle"]
    assert isinstance(tool, NeedleTool)
    points = tool.paths()[0]
    mixed.drag_cloth(tuple(points[3]), (points[3][0], points[3][1] - 6))
    assert mixed.object("Object 4").cover == Run(by_hand=True)
    moved = tool.paths()[0]
    assert len(moved) == len(points) and moved[3][1] == pytest.approx(points[3][1] - 6, abs=0.4)
    own = sewn_of(mixed, "Object 4")
    assert np.hypot(*(own - moved[3]).T).min() < 0.05
    middle = (moved[6] + moved[7]) / 2
    mixed.window.canvas.look_at(*middle)
    mixed.click_cloth(*middle)
    mixed.settle()
    assert len(tool.paths()[0]) == len(points) + 1
    mixed.keys(mixed.window.canvas, Qt.Key.Key_Delete)
    mixed.settle()
    assert len(tool.paths()[0]) == len(points)


def test_every_path_of_a_run_keeps_its_points(user: User) -> None:
    user.open(design_of((Line("M-20 0 L0 0 M10 0 L30 0"), Run(length=4.0))))
    user.select("Object 1")
    tool = user.window.tools["needle"]
    assert isinstance(tool, NeedleTool)
    user.window.canvas.set_tool(tool)
    before = tool.paths()
    user.drag_cloth((18, 0), (18, 5))
    after = tool.paths()
    assert [len(points) for points in after] == [len(points) for points in before] == [6, 6]
    assert np.allclose(after[0], before[0]) and after[1][2][1] == pytest.approx(5, abs=0.4)


def sewn_of(user: User, name: str) -> np.ndarray:
    """The cover's needle points of an object."""
    assert user.document.sewn is not None
    found, identity = user.document.sewn.plan, user.object(name).id
    return found.xy[(found.object == identity) & (found.kind == Kind.STITCH) & (found.layer == Layer.COVER)]


def test_a_run_is_sewn_point_by_point(user: User) -> None:
    user.open(design_of((Area(box_path(-30, -30, 10, 10)), Fill())))
    user.window.canvas.set_tool(user.window.tools["needle"])
    for x, y in ((0, 0), (3, 0), (3, 4), (10, 4)):
        user.click_cloth(x, y)
    user.settle()
    made = user.design.objects[-1]
    assert made.cover == Run(by_hand=True)
    assert np.allclose(sewn_of(user, made.name)[-4:], [(0, 0), (3, 0), (3, 4), (10, 4)], atol=0.4)
    user.keys(user.window.canvas, Qt.Key.Key_Escape)
    assert user.document.selection == frozenset()


# underlay


def menu_action(user: User, words: str) -> None:
    """Choose in the underlay menu."""
    user.click("addUnderlay")
    menu = user.window.findChildren(QMenu, "underlayMenu")[-1]
    action = next(one for one in menu.actions() if one.text() == words)
    menu.close()
    action.trigger()
    user.settle()


def test_underlay_is_taken_away_made_automatic_and_shared(mixed: User) -> None:
    mixed.select("Object 1")
    menu_action(mixed, "None")
    assert mixed.object("Object 1").underlay == ()
    assert set(np.unique(layers_of(mixed, "Object 1"))) <= {Layer.COVER, Layer.TRAVEL, Layer.LOCK}
    menu_action(mixed, "Automatic")
    assert mixed.object("Object 1").underlay is None
    mixed.select("Object 1", "Object 2")
    menu_action(mixed, "Share one beneath the selection")
    shared = mixed.design.objects[0]
    assert shared.beneath is not None and shared.beneath.objects == (1, 2) and mixed.document.selection == {shared.id}
    words = mixed.find("beneathWords", QLabel)
    assert isinstance(words, QLabel) and "Object 2" in words.text()
    before = shared.shape
    mixed.type("beneathInset", "2")
    assert mixed.design.objects[0].beneath == replace(shared.beneath, inset=2.0)
    assert mixed.design.objects[0].shape != before


def layers_of(user: User, name: str) -> np.ndarray:
    """The layers of an object's stitches."""
    assert user.document.sewn is not None
    found, identity = user.document.sewn.plan, user.object(name).id
    return found.layer[(found.object == identity) & (found.kind == Kind.STITCH)]


def test_a_shared_underlay_follows_what_is_dragged(mixed: User) -> None:
    mixed.select("Object 1")
    menu_action(mixed, "Share one beneath the selection")
    before = mixed.design.objects[0].shape
    mixed.select("Object 1")
    mixed.drag_cloth((-20, -20), (-16, -18))
    assert mixed.design.objects[0].shape != before


def test_underlay_once_beneath_a_branched_line(mixed: User) -> None:
    mixed.select("Object 2")
    mixed.click("layer-underlay 0")
    box = mixed.find("underlayOnce", QAbstractButton)
    mixed.bot.mouseClick(box, Qt.MouseButton.LeftButton, pos=QPoint(8, box.height() // 2))
    mixed.settle()
    assert mixed.object("Object 2").underlay_once
    order = layers_of(mixed, "Object 2")
    cover = np.flatnonzero(order == Layer.COVER)
    assert not np.isin(order[cover[0] :], [Layer.EDGE_RUN, Layer.ZIGZAG, Layer.CENTRE_RUN]).any()


# everything together


def test_rebalance_shows_before_and_after_and_is_applied_or_left(mixed: User) -> None:
    mixed.document.select(frozenset())
    mixed.settle()
    before = mixed.document.history.design
    count = len(needle_points(mixed))
    mixed.type("rebalance-fill_spacing", "200")
    words = mixed.find("rebalanceCount", QLabel)
    assert isinstance(words, QLabel) and "→" in words.text()
    assert len(needle_points(mixed)) < count and mixed.document.history.design is before
    mixed.click("rebalanceLeave")
    assert len(needle_points(mixed)) == count and "→" not in words.text()
    mixed.type("rebalance-satin_spacing", "150")
    mixed.click("rebalanceApply")
    cover = mixed.object("Object 3").cover
    assert isinstance(cover, Satin) and cover.spacing == pytest.approx(0.57)
    assert mixed.object("Object 1").cover == Fill()
    assert mixed.document.history.undo_label == "Rebalance"


def test_rebalance_of_a_selection_touches_that_alone(mixed: User) -> None:
    mixed.select("Object 2")
    mixed.window.rebalance()
    mixed.settle()
    mixed.type("rebalance-satin_spacing", "150")
    mixed.click("rebalanceApply")
    assert mixed.object("Object 2").cover != Satin() and mixed.object("Object 3").cover == Satin()


def test_leaving_the_selection_leaves_what_was_not_applied(mixed: User) -> None:
    mixed.select("Object 2")
    mixed.window.rebalance()
    mixed.settle()
    mixed.type("rebalance-satin_spacing", "150")
    mixed.select("Object 1")
    assert mixed.design == mixed.document.history.design and mixed.object("Object 2").cover == Satin()


def test_a_least_stitch_reports_how_many_it_merged(mixed: User) -> None:
    short = design_of((Line("M0 0 L0.7 0 L9 0 L9 0.6 L20 0.6"), Run(by_hand=True)))
    mixed.open(short)
    mixed.document.select(frozenset())
    mixed.settle()
    mixed.type("leastStitch", "1 mm")
    words = mixed.find("mergedCount", QLabel)
    assert isinstance(words, QLabel) and words.text().startswith("2 shorter stitches merged in 1 object")
    assert mixed.design.least_stitch == 1.0


def test_underlay_only_is_a_kind_of_its_own(mixed: User) -> None:
    mixed.select("Object 1")
    pick(mixed, "coverKind", "Underlay only")
    assert mixed.object("Object 1").cover == Bare()
    assert Layer.COVER not in layers_of(mixed, "Object 1")
    mixed.document.select(frozenset())
    mixed.click_cloth(-20, -20)
    assert mixed.document.selection == {1}


def test_an_object_that_cannot_turn_its_rows_says_where(mixed: User) -> None:
    crossed = (((-20.0, -34.0), (-20.0, -11.0)), ((-34.0, -22.0), (-6.0, -21.9)), ((-34.0, -12.0), (-6.0, -34.0)))

    def turned(design: Design) -> Design:
        return change_objects(design, {1}, lambda item: replace(item, shape=replace(item.shape, lines=crossed)))

    mixed.document.edit("Lines", turned(mixed.design))
    mixed.select("Object 1")
    trouble = mixed.find("trouble", QLabel)
    assert isinstance(trouble, QLabel) and "run into each other" in trouble.text()
    mixed.click("oneAngle")
    assert mixed.document.sewn is not None and not mixed.document.sewn.plan.failures


def test_turning_to_another_layer_leaves_what_was_not_applied(mixed: User) -> None:
    mixed.select("Object 2")
    mixed.window.rebalance()
    mixed.settle()
    mixed.type("rebalance-satin_spacing", "150")
    mixed.click("layer-edges")
    assert mixed.design == mixed.document.history.design and mixed.object("Object 2").cover == Satin()


def test_a_rim_of_its_own_is_added_and_selected_with_a_key(mixed: User) -> None:
    mixed.select("Object 1")
    mixed.keys(mixed.window, Qt.Key.Key_R, Qt.KeyboardModifier.ControlModifier)
    mixed.settle()
    made = mixed.object("Object 1 rim")
    assert isinstance(made.shape, Line) and mixed.document.selection == {made.id}
    assert mixed.document.sewn is not None and not mixed.document.sewn.plan.failures
    mixed.window.undo()
    assert all(item.name != "Object 1 rim" for item in mixed.design.objects)
