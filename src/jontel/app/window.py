"""The window: it puts the parts together and carries their wishes to the session."""

from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

from PyQt6.QtCore import QSettings, QSize, Qt
from PyQt6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent, QIcon, QKeySequence
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QMainWindow,
    QMenu,
    QMessageBox,
    QScrollArea,
    QStackedWidget,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from jontel.app import theme as themes
from jontel.app.aside import aside
from jontel.app.cloth.canvas import Canvas
from jontel.app.commands import Command, commands
from jontel.app.faults import FAULTS
from jontel.app.icons import application_mark, icon
from jontel.app.notices import Notice
from jontel.app.panels.base import Panel
from jontel.app.panels.brief import BriefPanel
from jontel.app.panels.sewout import SewOutPanel
from jontel.app.panels.stitch import REBALANCE, StitchPanel
from jontel.app.panels.underlay import share
from jontel.app.preferences import machine_of, recent_designs, remember
from jontel.app.session import Document, Session
from jontel.app.stages import NAMES, STAGES, attention, number_of, stage_for
from jontel.app.status import StatusLine
from jontel.app.tools import TOOLS
from jontel.app.tools.base import Tool
from jontel.app.topbar import DesignTabs, StageRow
from jontel.app.transport import Transport
from jontel.data import find_ground, find_hoop, thread_chart
from jontel.design import Brief, Design, JontelError
from jontel.design.edits import duplicate_objects
from jontel.design.units import Unit
from jontel.design.words import many
from jontel.files.atomic import read_whole
from jontel.files.formats import open_design
from jontel.sewing.order import grouped_by_thread

Result = TypeVar("Result")
PANEL_WIDTH = 304
PICTURES = "Artwork (*.svg *.png *.jpg *.jpeg *.webp *.bmp *.tif *.tiff)"
WORKING = "Designs (*.jontel)"
BRIEF, STITCH, SEW_OUT = number_of("Brief"), number_of("Stitch"), number_of("Sew-out")


def read_as_design(path: Path) -> Design:
    """A new design of a drawing. Raises ``CannotRead``."""
    from jontel.artwork.digitize import design_from  # the readers are slow to load

    ground, hoop = find_ground("Woven twill"), find_hoop("130 x 180")
    return design_from(read_whole(path), path.name, ground, hoop, thread_chart())


def read_into(design: Design, path: Path) -> Design:
    """``design`` with a drawing digitized into it. Raises ``CannotRead``."""
    from jontel.artwork.digitize import with_drawing

    return with_drawing(design, read_whole(path), path.name, thread_chart())


class MainWindow(QMainWindow):
    """Design tabs, stages, tool rail, cloth, panel, needle track, status line."""

    def __init__(self, session: Session, settings: QSettings) -> None:
        super().__init__()
        self.session: Session = session
        self.settings: QSettings = settings
        self.setObjectName("window")
        self.setWindowTitle("Jontel")
        self.setWindowIcon(QIcon(application_mark(64)))
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        self.theme = themes.THEMES.get(str(settings.value("theme", "light")), themes.LIGHT)
        unit = str(settings.value("unit", "mm"))
        self.unit: Unit = "pt" if unit == "pt" else "in" if unit == "in" else "mm"
        self.canvas = Canvas()
        self.tools: dict[str, Tool] = {kind.name: kind(self.canvas) for kind in TOOLS}
        self.tabs = DesignTabs(session, self)
        self.stage_row = StageRow(NAMES)
        self.transport = Transport()
        self.status = StatusLine()
        self.panels: tuple[Panel, ...] = tuple(stage.make(self) for stage in STAGES)
        self.stack = QStackedWidget()
        self.rail_buttons: dict[str, QToolButton] = {}
        self._lay_out()
        self.notice = Notice(self.canvas)
        self.command_actions = [self._action(command) for command in commands(self)]
        self.tabs.finder.offer(self.command_actions)
        self._connect()
        FAULTS.happened.connect(self._fault)
        self._show_recents()
        self.dress(self.theme)
        self.show_stage(STITCH)
        self.canvas.set_view("cloth")
        self.canvas.set_tool(self.tools["select"])
        self._current_changed()

    # putting together

    def _lay_out(self) -> None:
        whole = QWidget()
        column = QVBoxLayout(whole)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.tabs.setFixedHeight(40)
        column.addWidget(self.tabs)
        column.addWidget(self.stage_row)
        middle = QHBoxLayout()
        middle.setSpacing(0)
        middle.addWidget(self._rail())
        middle.addWidget(self.canvas, 1)
        for panel in self.panels:
            area = QScrollArea()
            area.setWidget(panel)
            area.setWidgetResizable(True)
            area.setFrameShape(QFrame.Shape.NoFrame)
            area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
            self.stack.addWidget(area)
        self.stack.setObjectName("panel")
        self.stack.setFixedWidth(PANEL_WIDTH)
        middle.addWidget(self.stack)
        column.addLayout(middle, 1)
        column.addWidget(self.transport)
        column.addWidget(self.status)
        self.setCentralWidget(whole)

    def _rail(self) -> QWidget:
        rail = QWidget()
        rail.setObjectName("rail")
        rail.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        rail.setFixedWidth(46)
        column = QVBoxLayout(rail)
        column.setContentsMargins(6, 8, 6, 8)
        column.setSpacing(4)
        for name, tool in self.tools.items():
            made = QToolButton()
            made.setObjectName(f"tool-{name}")
            made.setAccessibleName(tool.title)
            made.setToolTip(f"{tool.title}  ({tool.key})")
            made.setCheckable(True)
            made.setFixedSize(34, 34)
            made.setIconSize(QSize(20, 20))
            made.clicked.connect(lambda _on=False, tool=tool: self.canvas.set_tool(tool))
            column.addWidget(made)
            self.rail_buttons[name] = made
        column.addStretch(1)
        return rail

    def _action(self, command: Command) -> QAction:
        action = QAction(command.title, self)
        if command.keys:
            action.setShortcut(QKeySequence(command.keys))
        action.triggered.connect(lambda _on=False: command.does())
        if command.on_cloth:
            action.setShortcutContext(Qt.ShortcutContext.WidgetShortcut)
            self.canvas.addAction(action)
        else:
            self.addAction(action)
        return action

    def _connect(self) -> None:
        self.session.current_changed.connect(self._current_changed)
        self.session.opened.connect(self._follow)
        self.tabs.new_wanted.connect(self.new_design)
        self.tabs.close_wanted.connect(self.close_document)
        self.stage_row.stage_wanted.connect(self.show_stage)
        self.stage_row.view_wanted.connect(self.canvas.set_view)
        self.stage_row.undo.clicked.connect(self.undo)
        self.stage_row.redo.clicked.connect(self.redo)
        self.canvas.view_changed.connect(self.stage_row.show_view)
        self.canvas.tool_changed.connect(self._tool_changed)
        self.canvas.said.connect(self.status.say)
        self.canvas.cursor_moved.connect(lambda place: self.status.show_cursor(place, self.unit))
        self.status.stop.clicked.connect(self._stop_stitching)
        stitch = self.panels[STITCH]
        assert isinstance(stitch, StitchPanel)
        stitch.tool_wanted.connect(lambda name: self.canvas.set_tool(self.tools[name]))
        sew_out = self.panels[SEW_OUT]
        assert isinstance(sew_out, SewOutPanel)
        sew_out.told.connect(self.notice.tell)
        sew_out.look_at.connect(self.canvas.look_at)

    def _follow(self, document: Document) -> None:
        document.design_changed.connect(self._design_changed)
        document.sewn_changed.connect(self._sewn_changed)
        document.findings_changed.connect(self._findings_changed)
        document.troubled.connect(lambda words: self.notice.tell(words, "spoils"))
        document.stuck.connect(lambda: self.status.say("The stitches shown are those before the last change"))
        document.stitching.connect(
            lambda at, count: self.status.say(f"Stitching object {at} of {count}", can_stop=True)
        )

    # what the window shows

    def dress(self, theme: themes.Theme) -> None:
        """Take a theme."""
        self.theme = theme
        app = QApplication.instance()
        if isinstance(app, QApplication):
            themes.apply(app, theme)
        self.canvas.theme, self.canvas.unit = theme, self.unit
        self.tabs.dress(theme)
        self.transport.dress(theme)
        for name, made in self.rail_buttons.items():
            made.setIcon(icon(self.tools[name].icon, theme.ink))
        self.stage_row.undo.setIcon(icon("undo", theme.ink))
        self.stage_row.redo.setIcon(icon("redo", theme.ink))
        for panel in self.panels:
            panel.dress(theme, self.unit)
        self._sewn_changed()
        self.canvas.update()

    def toggle_theme(self) -> None:
        """Light or dark."""
        other = themes.DARK if self.theme.name == "light" else themes.LIGHT
        self.settings.setValue("theme", other.name)
        self.dress(other)

    def set_unit(self, unit: Unit) -> None:
        """Show lengths in another unit."""
        self.unit = unit
        self.settings.setValue("unit", unit)
        self.dress(self.theme)

    def show_stage(self, number: int) -> None:
        """Go to a stage; each is a place, any time."""
        self.stack.setCurrentIndex(number)
        self.stage_row.show_stage(number)
        stage = STAGES[number]
        self.canvas.shows_connections, self.canvas.shows_handles = stage.connections, stage.handles
        self.canvas.shows_findings, self.canvas.shows_artwork = stage.findings, stage.artwork
        for name, made in self.rail_buttons.items():
            made.setVisible(name in stage.tools)
        if self.canvas.tool.name not in stage.tools:
            self.canvas.set_tool(self.tools["select"])
        self.canvas.update()
        self._say_next()

    def toggle_connections(self) -> None:
        """Show or hide jumps and trims on the cloth."""
        self.canvas.shows_connections = not self.canvas.shows_connections
        self.canvas.update()

    def _say_next(self) -> None:
        self.status.say(STAGES[self.stack.currentIndex()].hint or self.canvas.tool.hint)

    def _tool_changed(self, tool: Tool) -> None:
        for name, made in self.rail_buttons.items():
            made.setChecked(name == tool.name)
        self.status.say(tool.hint)
        if tool.name not in STAGES[self.stack.currentIndex()].tools:
            self.show_stage(stage_for(tool.name))
            self.status.say(tool.hint)

    def _current_changed(self) -> None:
        document = self.session.current
        self.canvas.show_document(document)
        self.transport.show_document(document)
        for panel in self.panels:
            panel.show_document(document)
            panel.setEnabled(document is not None)
        self._design_changed()
        self._sewn_changed()

    def _design_changed(self) -> None:
        document = self.session.current
        history = document.history if document else None
        for made, words, able in (
            (self.stage_row.undo, "Undo", history.undo_label if history else None),
            (self.stage_row.redo, "Redo", history.redo_label if history else None),
        ):
            made.setEnabled(able is not None)
            made.setToolTip(f"{words} {able.lower()}" if able else f"Nothing to {words.lower()}")
        self.setWindowTitle(f"{document.design.name} · Jontel" if document else "Jontel")

    def _sewn_changed(self) -> None:
        document = self.session.current
        sewn = document.sewn if document else None
        self.status.show_sewn(sewn, self.unit)
        self._say_next()
        self._findings_changed()

    def _findings_changed(self) -> None:
        """What each stage still wants attention for."""
        document = self.session.current
        sewn = document.sewn if document else None
        words: dict[str, tuple[str, bool]] = {}
        if document is not None and sewn is not None:
            words = {stage.name: (attention(stage, sewn.findings), True) for stage in STAGES}
            left_out = sum(len(one.notes) for one in document.design.artwork)
            words["Artwork"] = (f"{left_out} left out" if left_out else "", False)
            bad = any(finding.severity == "spoils" for finding in sewn.findings)
            words["Sew-out"] = (many(len(sewn.findings), "finding") if sewn.findings else "", bad)
        self.stage_row.show_attention(words, self.theme)

    def _stop_stitching(self) -> None:
        if self.session.current is not None:
            self.session.current.stop_stitching()
            self.status.say("Stopped: the cloth shows the stitches before the last change; any change goes on")

    def _fault(self, words: str) -> None:
        """Something in Jontel failed: say so once, and keep the work now."""
        self.notice.tell(words, "spoils")
        for document in self.session.documents:
            document.keep_now()

    # commands

    def copy_report(self) -> None:
        """Put the end of the log on the clipboard, to be sent by hand."""
        clipboard = QApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(FAULTS.report())
            self.notice.tell(
                f"The end of the log is on the clipboard; the whole of it is {FAULTS.file or 'not kept'}."
            )

    def rebalance(self) -> None:
        """Show the scales of the selection, or of the whole design."""
        self.show_stage(STITCH)
        stitch = self.panels[STITCH]
        assert isinstance(stitch, StitchPanel)
        stitch.choose(REBALANCE)

    def group_by_thread(self) -> None:
        """Sew with fewer thread changes; what lies over what is looked at aside."""
        document = self.session.current
        if document is None:
            return
        design = document.history.design
        made = self.aside("Looking at what lies over what", lambda: grouped_by_thread(design))
        if made is not None and document.history.design is design:
            document.edit("Group by thread", made)

    def share_underlay(self) -> None:
        """Lay one underlay beneath the selection."""
        if self.session.current is not None:
            share(self.session.current)

    def undo(self) -> None:
        """One step back."""
        if self.session.current is not None:
            self.session.current.undo()

    def redo(self) -> None:
        """One step forward."""
        if self.session.current is not None:
            self.session.current.redo()

    def duplicate(self) -> None:
        """Copy the selection in place and select the copies."""
        document = self.session.current
        if document is not None and document.selection:
            before = document.history.design
            document.edit("Duplicate", duplicate_objects(before, document.selection))
            document.select({o.id for o in document.design.objects} - {o.id for o in before.objects})

    def select_all(self) -> None:
        """Select every object."""
        document = self.session.current
        if document is not None:
            document.select({item.id for item in document.design.objects})

    def select_same_thread(self) -> None:
        """Select everything in the threads of the selection."""
        document = self.session.current
        if document is not None:
            threads = {item.thread for item in document.selected()}
            document.select({item.id for item in document.design.objects if item.thread in threads})

    def select_step(self, step: int) -> None:
        """Select the next or the previous object in sewing order."""
        document = self.session.current
        if document is None or not document.design.objects:
            return
        ids = [item.id for item in document.design.objects]
        chosen = [n for n, identity in enumerate(ids) if identity in document.selection]
        at = (chosen[-1] + step) % len(ids) if chosen else 0 if step > 0 else len(ids) - 1
        document.select({ids[at]})

    def turn_tab(self, step: int) -> None:
        """Bring the next design to the front."""
        bar = self.tabs.bar
        if bar.count():
            bar.setCurrentIndex((bar.currentIndex() + step) % bar.count())

    def new_design(self) -> None:
        """An empty design on the ground and in the hoop used last."""
        current = self.session.current
        brief = current.design.brief if current else Brief(find_ground("Woven twill"), find_hoop("130 x 180"), ())
        machine = current.design.brief.machine if current else machine_of(self.settings)
        self.session.open(Design(name="New design", brief=Brief(brief.ground, brief.hoop, (), machine)))
        self.show_stage(0)

    def open_demo(self) -> None:
        """Open the crest and the name bar."""
        from jontel.demo import crest, name_bar

        first = self.session.open(crest())
        self.session.open(name_bar())
        self.session.bring(first)

    def open_file(self) -> None:
        """Ask for working files or artwork and open them."""
        names, _ = QFileDialog.getOpenFileNames(self, "Open a design", self._folder(), f"{WORKING};;{PICTURES}")
        self.open_paths([Path(name) for name in names])

    def open_paths(self, paths: list[Path]) -> None:
        """Open working files; artwork becomes a new design. What cannot be opened is named."""
        for path in paths:
            try:
                self._open_path(path)
            except JontelError as error:
                self.notice.tell(str(error), "spoils")
            else:
                self.settings.setValue("folder", str(path.parent))

    def _open_path(self, path: Path) -> None:
        known = next((d for d in self.session.documents if d.path is not None and d.path == path), None)
        if known is not None:
            self.session.bring(known)
        elif path.suffix.lower() == ".jontel" or path.is_dir() or not path.exists():
            design = self.aside(f"Opening {path.name}", lambda: open_design(path))
            if design is not None:
                document = self.session.open(design, path)
                self._remember(path)
                if document.claim is not None and document.claim.elsewhere:
                    self.notice.tell(
                        f"{path.name} is open in another running Jontel: who saves last replaces the other's work.",
                        "spoils",
                    )
        else:
            made = self.aside(f"Reading {path.name}", lambda: read_as_design(path))
            if made is not None:
                self.session.open(made)

    def bring_in_artwork(self) -> None:
        """Ask for artwork and digitize it into the current design."""
        name, _ = QFileDialog.getOpenFileName(self, "Bring in artwork", self._folder(), PICTURES)
        if name:
            self.add_artwork(Path(name))

    def add_artwork(self, path: Path) -> None:
        """Digitize a file into the current design, or into a new one."""
        document = self.session.current
        try:
            if document is None:
                self._open_path(path)
                return
            design = document.history.design
            before = {item.id for item in design.objects}
            made = self.aside(f"Reading {path.name}", lambda: read_into(design, path))
            if made is not None:
                document.edit(f"Bring in {path.name}", made)
                document.select({item.id for item in made.objects} - before)
                self.canvas.fit()
                notes = made.artwork[-1].notes
                count = len(made.objects) - len(before)
                left = f"; {many(len(notes), 'kind')} of things left out, see Artwork" if notes else ""
                self.notice.tell(f"{path.name} became {many(count, 'object')}{left}.")
        except JontelError as error:
            self.notice.tell(str(error), "spoils")

    def aside(self, words: str, work: Callable[[], Result]) -> Result | None:
        """Do what takes a while aside; meanwhile nothing can be changed. ``None`` when the user stopped it."""
        parts: list[QWidget | QAction] = [self.canvas, self.stack, self.transport, self.tabs, self.stage_row]
        parts += self.command_actions
        for part in parts:
            part.setEnabled(False)
        try:
            return aside(self.status, words, work)
        finally:
            for part in parts:
                part.setEnabled(True)

    def save(self) -> bool:
        """Save where the design was opened from; false when it was not saved."""
        document = self.session.current
        if document is None:
            return False
        return self._save_to(document, document.path) if document.path else self.save_as()

    def save_as(self) -> bool:
        """Ask for a name and save there."""
        document = self.session.current
        if document is None:
            return False
        start = str(Path(self._folder()) / f"{document.design.name}.jontel")
        name, _ = QFileDialog.getSaveFileName(self, "Save the design", start, WORKING)
        if not name:
            return False
        path = Path(name)
        return self._save_to(document, path if path.suffix == ".jontel" else path.with_name(path.name + ".jontel"))

    def _save_to(self, document: Document, path: Path) -> bool:
        try:
            design = document.history.design
            if not self._may_replace(document, path):
                return False
            if self.aside(f"Saving {path.name}", lambda: document.write(path)) is None:
                return False
        except JontelError as error:
            self.notice.tell(str(error), "spoils")
            return False
        document.saved_as(path, design)
        self._remember(path)
        self.settings.setValue("folder", str(path.parent))
        self.notice.tell(f"Saved as {path.name}.")
        return True

    def _may_replace(self, document: Document, path: Path) -> bool:
        """Whether a file may be written over: asked when another program changed it since it was opened or saved."""
        if document.path != path or document.claim is None or not document.claim.changed():
            return True
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self,
            "Another program changed the file",
            f"{path.name} was changed by another program since it was opened or saved here. "
            "Save over what is there now?",
            buttons.Save | buttons.Cancel,
            buttons.Cancel,
        )
        return bool(answer == buttons.Save)

    def _remember(self, path: Path) -> None:
        remember(self.settings, path)
        self._show_recents()

    def _show_recents(self) -> None:
        brief = self.panels[BRIEF]
        assert isinstance(brief, BriefPanel)
        brief.show_recents(recent_designs(self.settings), lambda path: self.open_paths([path]))

    def open_recent(self) -> None:
        """Offer the designs that were open before."""
        menu = QMenu(self)
        menu.setObjectName("recentMenu")
        for path in recent_designs(self.settings):
            action = menu.addAction(path.stem)
            if action is not None:
                action.setToolTip(str(path))
                action.triggered.connect(lambda _on=False, path=path: self.open_paths([path]))
        if menu.isEmpty():
            self.notice.tell("No design was saved or opened yet.")
        else:
            menu.popup(self.tabs.mapToGlobal(self.tabs.rect().bottomLeft()))

    def write_files(self) -> None:
        """Go to Sew-out and write what is chosen there."""
        self.show_stage(SEW_OUT)
        panel = self.panels[SEW_OUT]
        assert isinstance(panel, SewOutPanel)
        panel.write_files()

    def _folder(self) -> str:
        return str(self.settings.value("folder", str(Path.home())))

    # closing

    def close_current(self) -> None:
        """Close the design in front."""
        if self.session.current is not None:
            self.close_document(self.session.current)

    def close_document(self, document: Document) -> bool:
        """Close a design; unsaved work is asked about. False when the user thought better of it."""
        if document.modified and not self._may_lose(document):
            return False
        self.session.close(document)
        return True

    def _may_lose(self, document: Document) -> bool:
        self.session.bring(document)
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self,
            "Save before closing?",
            f"“{document.design.name}” has changes that no file holds.",
            buttons.Save | buttons.Discard | buttons.Cancel,
            buttons.Save,
        )
        if answer == buttons.Save:
            return self.save()
        return bool(answer == buttons.Discard)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Close every design first; one that is kept open keeps the window."""
        assert event is not None
        for document in list(self.session.documents):
            if not self.close_document(document):
                event.ignore()
                return
        self.canvas.close_down()
        event.accept()

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """Files may be dropped on the window."""
        assert event is not None
        data = event.mimeData()
        if data is not None and data.hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Working files open; artwork comes into the current design."""
        assert event is not None
        data = event.mimeData()
        for url in data.urls() if data is not None else ():
            path = Path(url.toLocalFile())
            if path.suffix.lower() == ".jontel":
                self.open_paths([path])
            else:
                self.add_artwork(path)
