"""Find an action: every command by name, with its shortcut."""

from collections.abc import Sequence

from PyQt6.QtCore import QEvent, QObject, QPoint, Qt
from PyQt6.QtGui import QAction, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QFrame, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

MOST = 12


def matches(words: str, title: str) -> bool:
    """Whether every typed word begins a word of the title, or is in it."""
    return all(word in title.lower() for word in words.lower().split())


class Finder(QLineEdit):
    """The search line at the top; its list hangs below it while it has the focus."""

    def __init__(self, host: QWidget) -> None:
        super().__init__()
        self.setObjectName("find")
        self.setAccessibleName("Find an action")
        self.setPlaceholderText("Find an action        Ctrl+K")
        self.setFixedWidth(250)
        self.actions_: Sequence[QAction] = ()
        self.popup = QFrame(host)
        self.popup.setObjectName("findList")
        self.popup.setProperty("role", "popup")
        column = QVBoxLayout(self.popup)
        column.setContentsMargins(4, 4, 4, 4)
        self.list = QListWidget()
        self.list.setAccessibleName("Actions found")
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        column.addWidget(self.list)
        self.popup.hide()
        self.textEdited.connect(lambda _words: self._fill())
        self.returnPressed.connect(self._run)
        self.list.itemClicked.connect(lambda _item: self._run())
        self.installEventFilter(self)

    def offer(self, actions: Sequence[QAction]) -> None:
        """The commands to search."""
        self.actions_ = actions

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Show the list with the focus, hide it without, move in it with the arrows."""
        assert event is not None
        if event.type() == QEvent.Type.FocusIn:
            self._fill()
        elif event.type() == QEvent.Type.FocusOut:
            self.popup.hide()
            self.clear()
        elif isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
                step = 1 if event.key() == Qt.Key.Key_Down else -1
                self.list.setCurrentRow(max(0, min(self.list.count() - 1, self.list.currentRow() + step)))
                return True
            if event.key() == Qt.Key.Key_Escape:
                self.clearFocus()
                return True
        return super().eventFilter(watched, event)

    def _fill(self) -> None:
        self.list.clear()
        for action in self.actions_:
            if action.isEnabled() and matches(self.text(), action.text()):
                keys = action.shortcut().toString(QKeySequence.SequenceFormat.NativeText)
                row = QListWidgetItem(f"{action.text()}     {keys}" if keys else action.text())
                row.setData(Qt.ItemDataRole.UserRole, action)
                self.list.addItem(row)
            if self.list.count() >= MOST:
                break
        self.list.setCurrentRow(0)
        host = self.popup.parentWidget()
        if host is None or not self.hasFocus():
            return
        corner = self.mapTo(host, QPoint(0, self.height() + 4))
        wide = max(self.width(), 330)
        self.popup.setGeometry(
            corner.x() + self.width() - wide, corner.y(), wide, 12 + 27 * max(1, self.list.count())
        )
        self.popup.show()
        self.popup.raise_()

    def _run(self) -> None:
        row = self.list.currentItem()
        action = row.data(Qt.ItemDataRole.UserRole) if row else None
        self.clearFocus()
        if isinstance(action, QAction):
            action.trigger()
