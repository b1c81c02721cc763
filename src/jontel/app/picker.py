"""Choosing a thread: search by code or name, nearest first."""

from collections.abc import Callable, Mapping

from PyQt6.QtCore import QPoint, QSize, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from jontel.app.icons import swatch
from jontel.app.panels.parts import FACTS, FactsDelegate
from jontel.app.threads import threads
from jontel.design import Thread
from jontel.design.thread import colour_distance
from jontel.files.threadbox import Stock


def pick_thread(
    parent: QWidget, place: QPoint, like: Thread, take: Callable[[Thread], None], known: tuple[Thread, ...] = ()
) -> "ThreadPicker":
    """Offer the user's threads and those ``known`` to the design, at a place on the screen."""
    box = threads().box
    made = ThreadPicker(parent, box.offered(known), like, take, box.stock)
    made.move(place)
    made.show()
    return made


class ThreadPicker(QFrame):
    """A list of threads under a search line; Enter or a click takes one."""

    def __init__(
        self,
        parent: QWidget,
        chart: tuple[Thread, ...],
        like: Thread,
        take: Callable[[Thread], None],
        stock: Mapping[str, Stock],
    ) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("threadPicker")
        self.setProperty("role", "popup")
        self._take = take
        self._stock = stock
        self._chart = sorted(chart, key=lambda t: (t.code not in stock, colour_distance(t.rgb, like.rgb)))
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 8, 8, 8)
        self.search = QLineEdit()
        self.search.setObjectName("threadSearch")
        self.search.setAccessibleName("Find a thread by code or name")
        self.search.setPlaceholderText("Code or name; my box first, then nearest")
        self.list = QListWidget()
        self.list.setObjectName("threadList")
        self.list.setAccessibleName("Threads")
        self.list.setIconSize(QSize(18, 18))
        self.list.setItemDelegate(FactsDelegate(self.list))
        column.addWidget(self.search)
        column.addWidget(self.list)
        self.resize(268, 330)
        self.search.textChanged.connect(self._fill)
        self.list.itemClicked.connect(self._chosen)
        self.list.itemActivated.connect(self._chosen)
        self._fill("")
        self.search.setFocus()

    def _fill(self, words: str) -> None:
        self.list.clear()
        for thread in self._chart:
            text = f"{thread.code}  {thread.name}" + (f"  ({thread.weight})" if thread.weight != 40 else "")
            if all(word in text.lower() for word in words.lower().split()):
                item = QListWidgetItem(swatch(thread.colour, 18), text)
                item.setData(Qt.ItemDataRole.UserRole, thread)
                known = self._stock.get(thread.code)
                if known is not None:
                    item.setData(FACTS, "in my box" if known.metres is None else f"{known.metres:.0f} m")
                self.list.addItem(item)
        self.list.setCurrentRow(0)

    def _chosen(self, item: QListWidgetItem) -> None:
        if self.isHidden():  # Enter in the list is heard by the list and by the frame
            return
        self.close()
        self._take(item.data(Qt.ItemDataRole.UserRole))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows move in the list, Enter takes."""
        assert event is not None
        current = self.list.currentItem()
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and current is not None:
            self._chosen(current)
        elif event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            step = 1 if event.key() == Qt.Key.Key_Down else -1
            self.list.setCurrentRow(max(0, min(self.list.count() - 1, self.list.currentRow() + step)))
        else:
            super().keyPressEvent(event)
