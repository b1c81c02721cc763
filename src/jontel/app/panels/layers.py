"""The layers of the selected objects, from the cover down to the cloth: one is tuned, the others are a click away."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QToolButton, QVBoxLayout, QWidget

from jontel.app.icons import icon
from jontel.app.panels.parts import clear, label
from jontel.app.theme import Theme

Row = tuple[str, str, str, str]
"""A layer's name, its picture, its title, and a few words of it."""


class LayersList(QWidget):
    """Rows of layers; made again only where other layers are there."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(1)
        self._shown: tuple[tuple[Row, ...], str, str] | None = None
        self.words: list[QLabel] = []

    def show_rows(self, rows: list[Row], layer: str, theme: Theme) -> None:
        """Show these rows, ``layer`` chosen."""
        shown = (tuple(rows), layer, theme.name)
        if shown == self._shown:
            return
        was, self._shown = self._shown, shown
        if was is not None and was[1:] == shown[1:] and [one[:3] for one in was[0]] == [one[:3] for one in rows]:
            for said, row in zip(self.words, rows, strict=True):
                said.setText(row[3])
            return
        clear(self._column)
        self.words = []
        for row in rows:
            self._column.addWidget(self._button(row, layer, theme))

    def _button(self, row: Row, layer: str, theme: Theme) -> QToolButton:
        name, picture, title, words = row
        made = QToolButton()
        made.setObjectName(f"layer-{name}")
        made.setAccessibleName(title)
        made.setProperty("kind", "layer")
        made.setCheckable(True)
        made.setChecked(name == layer)
        made.setFixedHeight(26)
        line = QHBoxLayout(made)
        line.setContentsMargins(6, 0, 8, 0)
        mark = label("")
        mark.setPixmap(icon(picture, theme.ink).pixmap(18, 18))
        said = label(words, "muted")
        self.words.append(said)
        line.addWidget(mark)
        line.addWidget(label(title), 1)
        line.addWidget(said)
        for k in range(line.count()):
            item = line.itemAt(k)
            inner = item.widget() if item else None
            if inner is not None:
                inner.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        policy = made.sizePolicy()
        policy.setHorizontalPolicy(policy.Policy.Expanding)
        made.setSizePolicy(policy)
        made.clicked.connect(lambda: self.chosen.emit(name))
        return made
