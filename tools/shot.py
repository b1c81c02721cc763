"""Takes the pictures of the main views for docs/screenshots, from the demo, without a monitor."""

import os
import sys
import tempfile
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
_home = tempfile.mkdtemp()
for _name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_CACHE_HOME"):
    os.environ[_name] = _home

from msgspec.structs import replace  # noqa: E402
from PyQt6.QtCore import QEventLoop, QTimer  # noqa: E402
from PyQt6.QtWidgets import QPushButton  # noqa: E402

from jontel.app.jobs import end_all  # noqa: E402
from jontel.app.panels.artwork import ArtworkPanel  # noqa: E402
from jontel.app.panels.charts import ChartsBox  # noqa: E402
from jontel.app.panels.parts import NumberField  # noqa: E402
from jontel.app.panels.stitch import StitchPanel  # noqa: E402
from jontel.app.session import Document  # noqa: E402
from jontel.app.stages import NAMES  # noqa: E402
from jontel.app.start import make_application, make_window  # noqa: E402
from jontel.app.theme import DARK, LIGHT  # noqa: E402
from jontel.app.window import MainWindow  # noqa: E402
from jontel.data import find_hoop, resource  # noqa: E402
from jontel.design import Area, Design  # noqa: E402
from jontel.design.edits import add_objects, change_objects  # noqa: E402
from jontel.design.figures.emblem import Emblem  # noqa: E402
from jontel.design.lettering import Lettering  # noqa: E402
from jontel.design.monogram import Monogram  # noqa: E402
from jontel.lettering.monograms import with_monogram  # noqa: E402
from jontel.lettering.setting import words_object  # noqa: E402
from jontel.stitching.corrections import with_cut  # noqa: E402

OUT = Path(__file__).parent.parent / "docs/screenshots"


def settle(window: MainWindow, ms: int = 250) -> None:
    """Let the stitches arrive and everything paint."""
    for _ in range(200):
        loop = QEventLoop()
        QTimer.singleShot(ms, loop.quit)
        loop.exec()
        document = window.session.current
        if document is None or (not document.busy and window.canvas.settled):
            break


def foreseen(window: MainWindow) -> None:
    """Let the forecast arrive."""
    document = window.session.current
    for _ in range(60):
        settle(window)
        if document is None or document.forecasting.seen is not None:
            break


def select(window: MainWindow, *names: str) -> None:
    document = window.session.current
    assert document is not None
    document.select({item.id for item in document.design.objects if item.name in names})


def an_initial(like: Design) -> Design:
    """A large initial on the ground of another design, one of whose columns is cut."""
    brief = replace(like.brief, hoop=find_hoop("130 x 180"))
    item = words_object(
        Lettering("R", "IBM Plex Sans SemiBold", 34.0, place=(1, 0, 0, 1, 0, 17)), like.objects[-1].thread
    )
    assert isinstance(item.shape, Area)
    item = replace(item, shape=with_cut(item.shape, (-16.0, 5.0), (-2.0, 5.0)))
    return add_objects(Design(name="Initial", brief=brief), [item])


def a_monogram(like: Design) -> Design:
    """A monogram in a wreath on the ground of another design, its letters in a thread of their own."""
    brief = replace(like.brief, hoop=find_hoop("130 x 180"))
    whole = Monogram("NPL", "Old Standard TT", height=34.0, arrangement="interlaced", gap=1.4, frame="laurel")
    made, _ = with_monogram(Design(name="Monogram", brief=brief), whole, like.objects[-1].thread)
    letters = {item.id for item in made.objects if item.monogram and item.monogram.part.startswith("letter")}
    return change_objects(made, letters, lambda item: replace(item, thread=like.objects[0].thread))


def digitizing(window: MainWindow) -> Document:
    """The crest's artwork placed in a new design, and what it would be digitized as."""
    window.desk.new_design()
    window.show_stage(NAMES.index("Artwork"))
    art = Path(_home) / "crest.svg"
    art.write_bytes(resource("demo/crest.svg"))
    window.desk.lay_down(art)
    settle(window)
    panel = window.panels[NAMES.index("Artwork")]
    assert isinstance(panel, ArtworkPanel)
    found = panel.findChild(QPushButton, "artwork0-digitize")
    assert found is not None
    found.click()
    for _ in range(60):
        settle(window)
        if panel.editor.take.isEnabled():
            break
    document = window.session.current
    assert document is not None
    return document


def main(out: Path, wanted: set[str]) -> None:
    """Take all pictures, or those named."""
    app = make_application()
    window = make_window()
    window.show()
    window.desk.open_demo()
    settle(window)
    out.mkdir(parents=True, exist_ok=True)

    def shot(name: str) -> None:
        if wanted and name not in wanted:
            return
        window.notice.hide()
        window.canvas.update()
        settle(window)
        picture = window.grab()
        picture.save(str(out / f"{name}.png"))
        print(f"{name}: {picture.width()} x {picture.height()}")

    stages = {name: number for number, name in enumerate(NAMES)}
    window.show_stage(stages["Brief"])
    shot("brief")
    window.show_stage(stages["Artwork"])
    document = window.session.current
    assert document is not None
    document.show_moment(0)
    shot("artwork")
    document.show_moment(None)
    placed = digitizing(window)
    shot("digitize")
    window.session.close(placed)
    window.session.bring(document)
    settle(window)
    window.show_stage(stages["Stitch"])
    select(window, "Tower wall")
    shot("stitch")
    window.canvas.set_view("thread")
    shot("view-thread")
    window.canvas.set_view("plan")
    select(window, "Rock")
    shot("view-plan")
    window.canvas.set_view("cloth")
    select(window, "Roof")
    window.canvas.look_at(-6, -34)
    shot("stitch-close")
    window.canvas.fit()
    select(window)
    window.canvas.set_tool(window.tools["letter"])
    window.turn_tab(1)
    settle(window)
    bar = window.session.current
    assert bar is not None
    words = next(item for item in bar.design.objects if item.name == "NELL")
    bar.select({words.id})
    shot("lettering")
    initial = window.session.open(an_initial(bar.design))
    initial.select({1})
    settle(window)
    panel = window.findChild(StitchPanel)
    assert panel is not None
    panel.choose("columns")
    window.canvas.set_tool(window.tools["cut"])
    window.canvas.look_at(0, 0)
    settle(window)
    initial.columns.choose(frozenset({1}))
    shot("columns")
    window.session.close(initial)
    framed = window.session.open(a_monogram(bar.design))
    window.canvas.set_tool(window.tools["select"])
    framed.select({framed.design.objects[-1].id})
    window.canvas.fit()
    settle(window)
    panel.choose("monogram")
    shot("monogram")
    window.session.close(framed)
    window.session.bring(bar)
    window.canvas.fit()
    window.turn_tab(-1)
    window.canvas.set_tool(window.tools["select"])
    settle(window)
    before = document.history.design
    sky = {item.id for item in before.objects if item.name == "Sky"}
    lines = (((-24.0, -6.0), (-8.0, -20.0)), ((10.0, -26.0), (24.0, -14.0)))
    document.edit(
        "Lines",
        change_objects(before, sky, lambda item: replace(item, shape=replace(item.shape, lines=lines))),
    )
    document.select(sky)
    window.canvas.set_view("thread")
    window.canvas.set_tool(window.tools["direction"])
    window.canvas.look_at(2, -14)
    shot("direction-lines")
    document.undo()
    window.canvas.set_tool(window.tools["select"])
    window.canvas.set_view("cloth")
    window.canvas.fit()
    select(window)
    settle(window)
    select(window, "Moon")
    window.canvas.set_tool(window.tools["bend"])
    window.canvas.show_selection()
    settle(window)
    document.bending.pick(frozenset({(0, 1)}))
    shot("bend")
    select(window)
    window.canvas.fit()
    window.canvas.set_tool(window.tools["figure"])
    document.next.take_figure(Emblem(emblem="gull"))
    shot("draw")
    window.canvas.set_tool(window.tools["select"])
    settle(window)
    field = window.findChild(NumberField, "rebalance-fill_spacing")
    assert field is not None
    field.entered.emit(125.0)
    shot("rebalance")
    document.preview(None)
    window.show_stage(stages["Order"])
    select(window, "Ring")
    shot("order")
    select(window)
    window.show_stage(stages["Sew-out"])
    assert document.sewn is not None
    document.show_moment(int(len(document.sewn.plan) * 0.62))
    foreseen(window)
    shot("sew-out")
    document.show_moment(None)
    charts = window.findChild(ChartsBox)
    assert charts is not None
    charts.heading.click()
    charts.deep.setChecked(True)
    for _ in range(60):
        settle(window)
        if window.canvas.depth_map.seen is not None and charts.time.charts is not None:
            break
    shot("charts")
    charts.heading.click()
    window.show_stage(stages["Stitch"])
    window.canvas.set_view("forecast")
    foreseen(window)
    shot("view-forecast")
    window.canvas.set_view("cloth")
    select(window, "Sky")
    window.dress(DARK)
    shot("dark")
    window.dress(LIGHT)
    for document in list(window.session.documents):
        window.session.close(document)
    end_all()
    app.quit()


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else OUT, set(sys.argv[2:]))
