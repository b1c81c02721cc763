"""The window: it puts the parts together and carries their wishes to the session."""

from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

from PyQt6.QtCore import QSettings, QSize, Qt
from PyQt6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent, QIcon, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import (
    QApplication,
    QFrame,
    QHBoxLayout,
    QMainWindow,
    QScrollArea,
    QStackedWidget,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from jontel.app import theme as themes
from jontel.app.aside import aside
from jontel.app.clipboard import paste_settings
from jontel.app.cloth.canvas import Canvas
from jontel.app.commands import Command, commands
from jontel.app.desk import Desk
from jontel.app.explain import Explainer
from jontel.app.faults import FAULTS
from jontel.app.foresee import ForecastBar
from jontel.app.icons import application_mark, icon
from jontel.app.notices import Notice
from jontel.app.panels.artwork import ArtworkPanel
from jontel.app.panels.base import Panel
from jontel.app.panels.brief import BriefPanel
from jontel.app.panels.order import OrderPanel
from jontel.app.panels.sewout import SewOutPanel
from jontel.app.panels.steps import make_step
from jontel.app.panels.stitch import REBALANCE, SHAPE, StitchPanel
from jontel.app.panels.underlay import share
from jontel.app.preferences import own_grounds_folder
from jontel.app.session import Document, Session
from jontel.app.stages import NAMES, STAGES, attention, number_of, stage_for
from jontel.app.status import StatusLine
from jontel.app.suiting import Suiting
from jontel.app.tools import TOOLS
from jontel.app.tools.base import Tool
from jontel.app.tools.brush import BrushTool
from jontel.app.topbar import DesignTabs, StageRow
from jontel.app.transport import Transport
from jontel.app.viewing import Viewing
from jontel.design.units import Unit
from jontel.design.words import many
from jontel.sewing.order import grouped_by_thread
from jontel.sewing.proposals import Proposal
from jontel.sewing.rims import with_rims
from jontel.shaping.operations import Operation

Result = TypeVar("Result")
PANEL_WIDTH = 304
BRIEF, ARTWORK, STITCH, ORDER, SEW_OUT = (number_of(name) for name in NAMES)


class MainWindow(QMainWindow):
    """Design tabs, stages, tool rail, cloth, panel, needle track, status line."""

    def __init__(self, session: Session, settings: QSettings) -> None:
        super().__init__()
        self.session: Session = session
        self.settings: QSettings = settings
        self.desk: Desk = Desk(self, session, settings)
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
        self.viewing = Viewing(self)
        self.panels: tuple[Panel, ...] = tuple(stage.make(self) for stage in STAGES)
        self.stack = QStackedWidget()
        self.rail_buttons: dict[str, QToolButton] = {}
        self._lay_out()
        self.notice = Notice(self.canvas)
        self._suiting = Suiting(self.notice)
        self.foresight = ForecastBar(self.canvas)
        self.explainer = Explainer({f"tool-{name}": tool.hint for name, tool in self.tools.items()})
        self.command_actions = [self._action(command) for command in commands(self)]
        self.tabs.finder.offer(self.command_actions)
        self._connect()
        FAULTS.happened.connect(self._fault)
        self.desk.show_recents()
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
        self.tabs.new_wanted.connect(self.desk.new_design)
        self.tabs.close_wanted.connect(self.desk.close_document)
        self.stage_row.stage_wanted.connect(self.show_stage)
        self.stage_row.view_wanted.connect(self.canvas.set_view)
        self.canvas.view_changed.connect(self.foresight.show_view)
        self.stage_row.undo.clicked.connect(self.undo)
        self.stage_row.redo.clicked.connect(self.redo)
        self.canvas.view_changed.connect(self.stage_row.show_view)
        self.canvas.tool_changed.connect(self._tool_changed)
        self.transport.needle_kept.connect(self.canvas.keep_needle)
        self.canvas.said.connect(self.status.say)
        self.canvas.cursor_moved.connect(lambda place: self.status.show_cursor(place, self.unit))
        self.status.stop.clicked.connect(self._stop_stitching)
        stitch = self.panels[STITCH]
        assert isinstance(stitch, StitchPanel)
        stitch.tool_wanted.connect(lambda name: self.canvas.set_tool(self.tools[name]))
        artwork = self.panels[ARTWORK]
        assert isinstance(artwork, ArtworkPanel)
        self.canvas.length_drawn.connect(artwork.take_length)
        self.canvas.brushed.connect(artwork.paint_over)
        self.canvas.brush_wanted.connect(artwork.set_brush)
        self.canvas.colour_wanted.connect(artwork.take_colour)
        artwork.paint_changed.connect(self._paint_with)
        self.canvas.place_chosen.connect(artwork.choose_at)
        artwork.tool_wanted.connect(lambda name: self.canvas.set_tool(self.tools[name]))
        brief = self.panels[BRIEF]
        assert isinstance(brief, BriefPanel)
        brief.calibration_wanted.connect(self.calibrate)
        sew_out = self.panels[SEW_OUT]
        assert isinstance(sew_out, SewOutPanel)
        sew_out.told.connect(self.notice.tell)
        sew_out.look_at.connect(self.canvas.look_at)
        sew_out.charts.depth_wanted.connect(self.canvas.depth_map.want)

    def _follow(self, document: Document) -> None:
        document.design_changed.connect(self._design_changed)
        document.sewn_changed.connect(self._sewn_changed)
        document.findings_changed.connect(self._findings_changed)
        document.troubled.connect(lambda words: self.notice.tell(words, "spoils"))
        document.told.connect(self.notice.tell)
        self._suiting.follow(document)
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
        self.canvas.moves_pictures = stage.pictures
        for shown in (False, True):  # first those that go: with both the rail would be higher than the window
            for name, made in self.rail_buttons.items():
                if (name in stage.tools) == shown:
                    made.setVisible(shown)
        if self.canvas.tool.name not in stage.all_tools:
            self.canvas.set_tool(self.tools["select"])
        self.canvas.update()
        self._say_next()

    def toggle_connections(self) -> None:
        """Show or hide jumps and trims on the cloth."""
        self.canvas.shows_connections = not self.canvas.shows_connections
        self.canvas.update()

    def _say_next(self) -> None:
        stage, tool = STAGES[self.stack.currentIndex()], self.canvas.tool
        at_rest = tool.name == stage.tools[0]
        self.status.say(stage.hint if stage.hint and at_rest else tool.hint)

    def _paint_with(self, colour: str, width: float) -> None:
        """What pictures are painted over with: one brush for both tools."""
        for tool in self.tools.values():
            if isinstance(tool, BrushTool):
                tool.colour, tool.width = colour, width
        self.canvas.update()

    def _tool_changed(self, tool: Tool) -> None:
        stitch = self.panels[STITCH]
        assert isinstance(stitch, StitchPanel)
        stitch.follow_tool(tool)
        artwork = self.panels[ARTWORK]
        assert isinstance(artwork, ArtworkPanel)
        artwork.follow_tool(tool.name)
        for name, made in self.rail_buttons.items():
            made.setChecked(name == tool.name)
        self.status.say(tool.hint)
        stage = STAGES[self.stack.currentIndex()]
        if tool.name not in stage.all_tools:
            self.show_stage(stage_for(tool.name))
            self.status.say(tool.hint)

    def _current_changed(self) -> None:
        document = self.session.current
        self.canvas.show_document(document)
        self.transport.show_document(document)
        self.foresight.show_document(document)
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

    def propose(self, proposal: Proposal) -> None:
        """Show what may be done to the order, and wait for yes."""
        self.show_stage(ORDER)
        panel = self.panels[ORDER]
        assert isinstance(panel, OrderPanel)
        panel.propose(proposal)

    def make_step(self) -> None:
        """Make a step of the selection."""
        if self.session.current is not None:
            make_step(self.session.current)

    def share_underlay(self) -> None:
        """Lay one underlay beneath the selection."""
        if self.session.current is not None:
            share(self.session.current)

    def add_rims(self) -> None:
        """Give the selected objects rims of their own and select those."""
        document = self.session.current
        if document is None or not document.selection:
            return
        made, rims = with_rims(document.history.design, document.selection)
        if rims:
            document.edit("Rim", made)
            document.select(rims)

    def shape(self, operation: Operation) -> None:
        """Do something to the shapes of the selection, or show what it would do."""
        document = self.session.current
        if document is None:
            return
        if operation.values is not None and len(document.selection) >= operation.least:
            self.show_stage(STITCH)
            stitch = self.panels[STITCH]
            assert isinstance(stitch, StitchPanel)
            stitch.choose(SHAPE)
        document.shaping.begin(operation)

    def take_over_settings(self) -> None:
        """Show the selection with the settings of what was copied."""
        document = self.session.current
        if document is not None:
            self.show_stage(STITCH)
            stitch = self.panels[STITCH]
            assert isinstance(stitch, StitchPanel)
            stitch.choose(SHAPE)
            paste_settings(document)

    def undo(self) -> None:
        """One step back."""
        if self.session.current is not None:
            self.session.current.undo()

    def redo(self) -> None:
        """One step forward."""
        if self.session.current is not None:
            self.session.current.redo()

    def turn_tab(self, step: int) -> None:
        """Bring the next design to the front."""
        bar = self.tabs.bar
        if bar.count():
            bar.setCurrentIndex((bar.currentIndex() + step) % bar.count())

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

    def calibrate(self) -> None:
        """Measure one's own cloth on a sewn swatch."""
        from jontel.app.calibration import CalibrationDialog  # the forecast is slow to load

        document, brief = self.session.current, self.panels[BRIEF]
        assert isinstance(brief, BriefPanel)
        if document is None:
            return
        ground = document.history.design.brief.ground
        made = CalibrationDialog(self, ground, own_grounds_folder(), self.aside, self.theme)
        made.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        made.swatch_wanted.connect(self.session.open)
        made.ground_kept.connect(brief.ground_kept)
        made.show()

    def write_files(self) -> None:
        """Go to Sew-out and write what is chosen there."""
        self.show_stage(SEW_OUT)
        panel = self.panels[SEW_OUT]
        assert isinstance(panel, SewOutPanel)
        panel.write_files()

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        """What was explained while a key was held goes with it."""
        assert event is not None
        if event.key() == Qt.Key.Key_F1 and not event.isAutoRepeat():
            self.explainer.quiet()
        super().keyReleaseEvent(event)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Close every design first; one that is kept open keeps the window."""
        assert event is not None
        for document in list(self.session.documents):
            if not self.desk.close_document(document):
                event.ignore()
                return
        self.canvas.close_down()
        sew_out = self.panels[SEW_OUT]
        assert isinstance(sew_out, SewOutPanel)
        sew_out.machine.end()
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
                self.desk.open_paths([path])
            else:
                self.desk.add_artwork(path)
