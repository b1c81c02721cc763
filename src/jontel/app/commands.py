"""Every command of the window: its name, its keys, what it does. The finder and the shortcuts share them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING

from jontel.app import clipboard
from jontel.app.panels.order import moved_by, moved_first, moved_last
from jontel.app.selection import (
    alone,
    duplicate,
    lock,
    select_all,
    select_same_kind,
    select_same_thread,
    select_step,
)
from jontel.app.session import Document
from jontel.app.stages import NAMES
from jontel.app.topbar import VIEWS
from jontel.app.wording import (
    break_into_columns,
    break_into_letters,
    fit_words_inside,
    new_monogram,
    set_words_along,
)
from jontel.design import Design
from jontel.design.edits import (
    grouped_together,
    hidden_objects,
    released,
    remove_objects,
    shown,
    transform_objects,
    unlocked,
)
from jontel.sewing.proposals import PROPOSALS
from jontel.shaping.operations import OPERATIONS

if TYPE_CHECKING:
    from jontel.app.window import MainWindow


@dataclass(frozen=True)
class Command:
    """One command. ``on_cloth`` keys work only while the cloth has the focus."""

    title: str
    keys: str
    does: Callable[[], object]
    on_cloth: bool = False


def commands(window: MainWindow) -> Iterator[Command]:
    """All commands, those searched for most first."""
    yield from _files(window)
    yield from _edits(window)
    yield from _looks(window)
    yield from _playback(window)


def _files(w: MainWindow) -> Iterator[Command]:
    yield Command("Write the files for the machine", "Ctrl+E", w.write_files)
    yield Command("Bring in artwork…", "Ctrl+I", w.desk.bring_in_artwork)
    yield Command("Place a picture to draw over…", "Ctrl+Shift+I", w.desk.place_picture)
    yield Command("Open a design…", "Ctrl+O", w.desk.open_file)
    yield Command("Open a stitch file as stitches…", "", lambda: w.desk.open_stitches())
    yield Command("Measure your own cloth on a swatch…", "", w.calibrate)
    yield Command("Lay a stitch file into this design…", "", lambda: w.desk.open_stitches(into=True))
    yield Command("Open a recent design…", "Ctrl+Shift+O", w.desk.open_recent)
    yield Command("Save the design", "Ctrl+S", w.desk.save)
    yield Command("Save the design as…", "Ctrl+Shift+S", w.desk.save_as)
    yield Command("New design", "Ctrl+N", w.desk.new_design)
    yield Command("Open the demo", "", w.desk.open_demo)
    yield Command("Close this design", "Ctrl+W", w.desk.close_current)
    yield Command("Next design", "Ctrl+Tab", lambda: w.turn_tab(1))
    yield Command("Explain what the mouse is over", "F1", w.explainer.here)
    yield Command("Copy the fault report", "", w.copy_report)
    yield Command("Quit", "Ctrl+Q", w.close)


def _edits(w: MainWindow) -> Iterator[Command]:
    def change(label: str, how: Callable[[Design, frozenset[int]], Design]) -> Callable[[], None]:
        def run() -> None:
            document = w.session.current
            if document is not None and document.selection:
                document.edit(label, how(document.history.design, document.selection))

        return run

    def whole(label: str, how: Callable[[Design], Design]) -> Callable[[], None]:
        def run() -> None:
            document = w.session.current
            if document is not None and how(document.history.design) != document.history.design:
                document.edit(label, how(document.history.design))

        return run

    def on_document(what: Callable[[Document], None]) -> Callable[[], None]:
        return lambda: what(w.session.current) if w.session.current is not None else None

    yield Command("Undo", "Ctrl+Z", w.undo)
    yield Command("Redo", "Ctrl+Shift+Z", w.redo)
    yield Command("Cut", "Ctrl+X", on_document(clipboard.cut))
    yield Command("Copy", "Ctrl+C", on_document(clipboard.copy))
    yield Command("Paste", "Ctrl+V", lambda: clipboard.paste(w))
    yield Command("Paste in place", "Ctrl+Shift+V", lambda: clipboard.paste(w, in_place=True))
    yield Command("Take over settings from what was copied…", "Ctrl+Alt+V", w.take_over_settings)
    yield Command("Duplicate in place", "Ctrl+D", on_document(duplicate))
    yield Command("Delete the selection", "Del", change("Delete", remove_objects))
    yield Command("Select everything", "Ctrl+A", on_document(select_all))
    yield Command("Select what has the same thread", "Ctrl+Shift+A", on_document(select_same_thread))
    yield Command("Select what is sewn as the selection is", "Ctrl+Shift+K", on_document(select_same_kind))
    yield Command("Select the next object", "PgDown", on_document(lambda document: select_step(document, 1)))
    yield Command("Select the object before", "PgUp", on_document(lambda document: select_step(document, -1)))
    yield Command("Group the selection", "Ctrl+Shift+G", change("Group", grouped_together))
    yield Command("Release the group", "Ctrl+Alt+G", change("Release the group", released))
    yield Command("Hide the selection", "Ctrl+H", change("Hide", hidden_objects))
    yield Command("Show the selection alone", "Ctrl+Alt+H", change("Show alone", alone))
    yield Command("Show all that is hidden", "Ctrl+Shift+H", whole("Show all", shown))
    yield Command("Lock the selection", "Ctrl+L", on_document(lock))
    yield Command("Unlock everything", "Ctrl+Alt+L", whole("Unlock all", unlocked))
    for operation in OPERATIONS:
        words = operation.name + ("…" if operation.values is not None else "")
        yield Command(words, operation.keys, lambda operation=operation: w.shape(operation))
    yield Command("Sew first", "Alt+Home", change("Sew first", moved_first))
    yield Command("Sew earlier", "Alt+Up", change("Sew earlier", lambda d, ids: moved_by(d, ids, -1)))
    yield Command("Sew later", "Alt+Down", change("Sew later", lambda d, ids: moved_by(d, ids, 1)))
    yield Command("Sew last", "Alt+End", change("Sew last", moved_last))
    yield Command("Rebalance spacings and lengths", "Ctrl+B", w.rebalance)
    yield Command("Share one underlay beneath the selection", "Ctrl+U", w.share_underlay)
    yield Command("Give the selection a rim of its own", "Ctrl+R", w.add_rims)
    yield Command("New monogram", "Ctrl+M", on_document(new_monogram))
    yield Command("Break words into letters", "", on_document(break_into_letters))
    yield Command("Break into columns", "", on_document(break_into_columns))
    yield Command("Set the words along the line selected with them", "", on_document(set_words_along))
    yield Command("Fit the words into the area selected with them", "", on_document(fit_words_inside))
    yield Command("Group by thread", "Ctrl+G", w.group_by_thread)
    for proposal in PROPOSALS:
        words = proposal.label + ("…" if proposal.values is not None else "")
        yield Command(words, proposal.keys, lambda proposal=proposal: w.propose(proposal))
    yield Command("Make a step of the selection", "Ctrl+Shift+J", w.make_step)
    yield Command("Solve the edges from the forecast", "", on_document(lambda document: document.forecasting.solve()))
    yield Command("Release the solved edges", "", on_document(lambda document: document.forecasting.release()))
    for words, keys, x, y in (
        ("left", "Left", -1, 0),
        ("right", "Right", 1, 0),
        ("up", "Up", 0, -1),
        ("down", "Down", 0, 1),
    ):
        for far, prefix, mm in (("", "", 0.5), (" by 5 mm", "Shift+", 5.0)):
            step = (1.0, 0.0, 0.0, 1.0, x * mm, y * mm)
            yield Command(
                f"Move {words}{far}",
                prefix + keys,
                change("Move", lambda d, ids, step=step: transform_objects(d, ids, step)),
                on_cloth=True,
            )


def _looks(w: MainWindow) -> Iterator[Command]:
    for number, words in enumerate(NAMES):
        yield Command(f"Go to {words}", f"Ctrl+{number + 1}", lambda number=number: w.show_stage(number))
    for number, words in enumerate(VIEWS):
        view = words.lower()
        yield Command(f"{words} view", f"Alt+{number + 1}", lambda view=view: w.canvas.set_view(view))
    for tool in w.tools.values():
        yield Command(tool.title, tool.key, lambda tool=tool: w.canvas.set_tool(tool))
    yield Command("Show the whole design", "F", w.canvas.fit)
    yield Command("Show the selection large", "Shift+F", w.canvas.show_selection)
    yield Command("Show actual size", "Ctrl+0", w.viewing.show_actual_size)
    yield Command("Measure this screen for actual size…", "", w.viewing.measure_screen)
    yield Command("Show pictures above or below the stitches", "A", w.canvas.turn_artwork)
    yield Command("Show or hide the grid", "Ctrl+'", w.viewing.toggle_grid)
    for step in (0.5, 1.0, 2.0, 5.0, 10.0, 25.0):
        yield Command(f"Grid of {step:g} mm", "", lambda step=step: w.viewing.set_grid(step))
    yield Command("Grid of another size…", "", w.viewing.ask_grid)
    yield Command("Snap or do not snap", "Ctrl+Shift+'", w.viewing.toggle_snap)
    yield Command("Zoom in", "Ctrl+=", lambda: w.canvas.zoom_by(1.25))
    yield Command("Zoom out", "Ctrl+-", lambda: w.canvas.zoom_by(0.8))
    yield Command("Show or hide connections", "C", w.toggle_connections)
    yield Command("Light or dark", "Ctrl+Shift+L", w.toggle_theme)
    yield Command("Show lengths in mm", "", lambda: w.set_unit("mm"))
    yield Command("Show lengths in points of 0.1 mm", "", lambda: w.set_unit("pt"))
    yield Command("Show lengths in inches", "", lambda: w.set_unit("in"))
    yield Command("Find an action", "Ctrl+K", w.tabs.finder.setFocus)


def _playback(w: MainWindow) -> Iterator[Command]:
    t = w.transport
    yield Command("Play or pause", "P", t.toggle)
    yield Command("Play what is selected again and again", "Shift+P", t.loop.toggle)
    yield Command("Keep the needle in the middle while it sews", "", t.steady.click)
    yield Command("One stitch on", ".", lambda: t.step("stitch", 1))
    yield Command("One stitch back", ",", lambda: t.step("stitch", -1))
    yield Command("Next object in the sew-out", "]", lambda: t.step("object", 1))
    yield Command("Object before in the sew-out", "[", lambda: t.step("object", -1))
    yield Command("Next thread in the sew-out", "}", lambda: t.step("thread", 1))
    yield Command("Thread before in the sew-out", "{", lambda: t.step("thread", -1))
    yield Command("First stitch", "Ctrl+Home", lambda: t.go(0))
    yield Command("Last stitch", "Ctrl+End", lambda: t.go(None))
