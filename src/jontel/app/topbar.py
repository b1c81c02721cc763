"""The two rows at the top: design tabs with the finder, and the stages with the views."""

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QLabel, QTabBar, QToolButton, QWidget

from jontel.app.finder import Finder
from jontel.app.icons import application_mark, icon
from jontel.app.session import Document, Session
from jontel.app.theme import LIGHT, Theme

VIEWS = ("Plan", "Thread", "Cloth", "Forecast")


class DesignTabs(QWidget):
    """Open designs as tabs that can be dragged, with the finder beside them."""

    new_wanted = pyqtSignal()
    close_wanted = pyqtSignal(object)

    def __init__(self, session: Session, host: QWidget) -> None:
        super().__init__()
        self.setObjectName("tabs")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session = session
        self._muted = LIGHT.muted
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 0, 12, 0)
        row.setSpacing(6)
        mark = QLabel()
        mark.setPixmap(application_mark(22))
        row.addWidget(mark)
        self.bar = QTabBar()
        self.bar.setObjectName("designTabs")
        self.bar.setAccessibleName("Open designs")
        self.bar.setMovable(True)
        self.bar.setDrawBase(False)
        self.bar.setExpanding(False)
        self.bar.setElideMode(Qt.TextElideMode.ElideRight)
        row.addWidget(self.bar)
        self.plus = QToolButton()
        self.plus.setObjectName("newDesign")
        self.plus.setAccessibleName("New design")
        self.plus.setToolTip("New design")
        self.plus.clicked.connect(self.new_wanted)
        row.addWidget(self.plus)
        row.addStretch(1)
        self.finder = Finder(host)
        row.addWidget(self.finder)
        self.bar.currentChanged.connect(self._turned)
        session.opened.connect(self._opened)
        session.closed.connect(self._closed)
        session.current_changed.connect(self._show_current)

    def dress(self, theme: Theme) -> None:
        """Take another theme."""
        self._muted = theme.muted
        self.plus.setIcon(icon("plus", theme.muted))
        for close in self.bar.findChildren(QToolButton, "closeDesign"):
            close.setIcon(icon("close", theme.muted))

    def _opened(self, document: Document) -> None:
        at = self.bar.addTab("")
        self.bar.setTabData(at, document)
        close = QToolButton()
        close.setObjectName("closeDesign")
        close.setAccessibleName("Close this design")
        close.setIconSize(QSize(12, 12))
        close.setIcon(icon("close", self._muted))
        close.clicked.connect(lambda: self.close_wanted.emit(document))
        self.bar.setTabButton(at, QTabBar.ButtonPosition.RightSide, close)
        document.saved_changed.connect(self._name)
        document.design_changed.connect(self._name)
        self._name()

    def _closed(self, document: Document) -> None:
        at = self._place(document)
        if at is not None:
            self.bar.removeTab(at)

    def _place(self, document: Document | None) -> int | None:
        return next((k for k in range(self.bar.count()) if self.bar.tabData(k) is document), None)

    def _show_current(self) -> None:
        at = self._place(self._session.current)
        if at is not None:
            self.bar.setCurrentIndex(at)

    def _turned(self, at: int) -> None:
        document = self.bar.tabData(at)
        if document is not None:
            self._session.bring(document)

    def _name(self) -> None:
        for k in range(self.bar.count()):
            document: Document = self.bar.tabData(k)
            self.bar.setTabText(k, document.design.name + ("  •" if document.modified else ""))
            self.bar.setTabToolTip(k, str(document.path or "not saved yet"))


class StageRow(QWidget):
    """The five stages, each with what still wants attention, and the views of the cloth."""

    stage_wanted = pyqtSignal(int)
    view_wanted = pyqtSignal(str)

    def __init__(self, names: tuple[str, ...]) -> None:
        super().__init__()
        self._names = names
        self.setObjectName("stageRow")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(46)
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 0, 12, 0)
        row.setSpacing(4)
        self.stages = QButtonGroup(self)
        self.badges: list[QLabel] = []
        for number, words in enumerate(names):
            if number:
                thread = QLabel("- - -")
                thread.setProperty("role", "muted")
                row.addWidget(thread)
            made = QToolButton()
            made.setText(words)
            made.setObjectName(f"stage-{words}")
            made.setAccessibleName(f"Stage {words}")
            made.setProperty("kind", "stage")
            made.setCheckable(True)
            made.setToolTip(f"{words}  (Ctrl+{number + 1})")
            self.stages.addButton(made, number)
            row.addWidget(made)
            badge = QLabel()
            badge.setObjectName(f"badge-{words}")
            badge.setFixedHeight(20)
            badge.hide()
            row.addWidget(badge)
            self.badges.append(badge)
        self.stages.idClicked.connect(self.stage_wanted)
        row.addStretch(1)
        self.undo, self.redo = QToolButton(), QToolButton()
        for made, name in ((self.undo, "undo"), (self.redo, "redo")):
            made.setObjectName(name)
            made.setAccessibleName(name.capitalize())
            made.setIconSize(QSize(18, 18))
            row.addWidget(made)
        row.addSpacing(8)
        segments = QHBoxLayout()
        segments.setSpacing(0)
        row.addLayout(segments)
        self.views = QButtonGroup(self)
        for number, words in enumerate(VIEWS):
            made = QToolButton()
            made.setText(words)
            made.setObjectName(f"view-{words}")
            made.setAccessibleName(f"View {words}")
            made.setProperty("kind", "view")
            made.setCheckable(True)
            made.setToolTip(f"{words} view  (Alt+{number + 1})")
            self.views.addButton(made, number)
            segments.addWidget(made)
        self.views.idClicked.connect(lambda number: self.view_wanted.emit(VIEWS[number].lower()))

    def show_stage(self, number: int) -> None:
        """Mark the stage."""
        self.stages.button(number).setChecked(True)

    def show_view(self, view: str) -> None:
        """Mark the view."""
        self.views.button([v.lower() for v in VIEWS].index(view)).setChecked(True)

    def show_attention(self, words: dict[str, tuple[str, bool]], theme: Theme) -> None:
        """What each stage still wants: a few words, and whether it would spoil the sew-out."""
        for badge, stage in zip(self.badges, self._names, strict=True):
            said, spoils = words.get(stage, ("", False))
            badge.setText(said)
            badge.setVisible(bool(said))
            ink, ground = (theme.madder, theme.madder_soft) if spoils else (theme.amber, theme.amber_soft)
            badge.setStyleSheet(
                f"background: {ground}; color: {ink}; border-radius: 6px; "
                "padding: 1px 7px; font-size: 11px; font-weight: 600;"
            )
