"""Small parts that panels are built from: rows, headings, fields with a pin."""

import math
from collections.abc import Callable

from PyQt6.QtCore import QModelIndex, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QPainter, QPalette
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QSizePolicy,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from jontel.app.icons import icon
from jontel.app.theme import Theme
from jontel.design.errors import CannotRead
from jontel.design.units import MM_PER, Unit, format_length, parse_length


def label(words: str, role: str = "", wrap: bool = False) -> QLabel:
    """A line of text in one of the theme's roles."""
    made = QLabel(words)
    made.setProperty("role", role)
    made.setWordWrap(wrap)
    if wrap:
        made.setMinimumWidth(40)
    return made


def restyle(widget: QWidget) -> None:
    """Apply the style sheet again after a property that it looks at has changed."""
    style = widget.style()
    if style is not None:
        style.unpolish(widget)
        style.polish(widget)


def rule() -> QFrame:
    """A thin line between sections."""
    made = QFrame()
    made.setProperty("role", "rule")
    return made


def card() -> tuple[QFrame, QVBoxLayout]:
    """A box that stands out from the panel, and the column in it."""
    made = QFrame()
    made.setProperty("role", "card")
    column = QVBoxLayout(made)
    column.setContentsMargins(10, 8, 10, 6)
    column.setSpacing(2)
    return made, column


def button(words: str, name: str, does: Callable[[], object], kind: str = "") -> QPushButton:
    """A push button."""
    made = QPushButton(words)
    made.setObjectName(name)
    made.setAccessibleName(words)
    made.setProperty("kind", kind)
    made.setAutoDefault(False)
    made.clicked.connect(lambda: does())
    return made


def tool_button(picture: str, title: str, name: str, does: Callable[[], object], theme: Theme) -> QToolButton:
    """A small button with an icon."""
    made = QToolButton()
    made.setObjectName(name)
    made.setAccessibleName(title)
    made.setToolTip(title)
    made.setIcon(icon(picture, theme.ink))
    made.setIconSize(QSize(18, 18))
    made.clicked.connect(lambda: does())
    return made


def clear(layout: QLayout) -> None:
    """Take everything out of a layout."""
    while layout.count():
        taken = layout.takeAt(0)
        if taken is None:
            continue
        widget, inner = taken.widget(), taken.layout()
        if widget is not None:
            widget.hide()
            widget.setParent(None)
            widget.deleteLater()
        elif inner is not None:
            clear(inner)


LENGTHS = ("length", "stitch", "spacing", "strokes")
LINES = {"spacing": 1, "strokes": 2}
"""How many lines of thread one spacing counts for."""


class NumberField(QLineEdit):
    """A field for a number with a unit: takes any unit typed, steps with the arrow keys.

    ``kind`` is the unit of a declared value. A stitch longer than ``longest``, mm, or than the range is held to it,
    and ``held`` says so in a sentence; any other number outside the range is refused.
    """

    entered = pyqtSignal(float)
    released = pyqtSignal()
    held = pyqtSignal(str)

    def __init__(self, name: str, title: str, kind: str, low: float, high: float, step: float) -> None:
        super().__init__()
        self.setObjectName(name)
        self.setAccessibleName(title)
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.kind, self.low, self.high, self.step = kind, low, high, step
        self.unit: Unit = "mm"
        self.value: float | None = None
        self.longest = math.inf
        self.returnPressed.connect(self._commit)

    def show_value(self, value: float | None, inherited: bool, unit: Unit) -> None:
        """Show a value; ``None`` means that the selected objects differ."""
        self.unit, self.value = unit, value
        self.setProperty("inherited", inherited)
        self.setProperty("wrong", False)
        if not (self.hasFocus() and self.isModified()):
            self.setText(self.words(value) if value is not None else "")
            self.setPlaceholderText("differ" if value is None else "")
            self.setModified(False)
        self.setToolTip("" if value is None else self._told(value))
        restyle(self)

    def _told(self, value: float) -> str:
        """What else is worth knowing of a value."""
        if self.kind not in LINES:
            return ""
        name = "rows" if self.kind == "spacing" else "strokes"
        return f"{LINES[self.kind] / value:.1f} {name} per mm; type for example {4 * LINES[self.kind]}/mm."

    @property
    def most(self) -> float:
        """The greatest value that is taken."""
        return min(self.high, self.longest) if self.kind == "stitch" else self.high

    def words(self, value: float) -> str:
        """A value as text."""
        match self.kind:
            case "angle":
                return f"{value:.1f}°".replace("-", "−")
            case "percent":
                return f"{value:.0f} %"
            case "count":
                return f"{value:.0f}"
            case "part" | "money":
                return f"{value:.2f}"
        return format_length(value, self.unit)

    def parse(self, text: str) -> float:
        """The value that a text means. Raises ``CannotRead``."""
        text = text.replace("−", "-").strip()
        if self.kind in LENGTHS:
            value = parse_length(text, self.unit, LINES.get(self.kind, 0))
        else:
            try:
                value = float(text.rstrip("°% ").replace(",", "."))
            except ValueError as error:
                raise CannotRead(f"“{text}” is not a number; type for example {self.words(self.low)}.") from error
        if self.kind == "stitch" and value > self.most:
            words = self.words(self.most)
            self.held.emit(f"{self.accessibleName()} is held to {words}, the longest that is sewn here.")
            return self.most
        if not self.low <= value <= self.high:
            raise CannotRead(
                f"{self.accessibleName()} must be between {self.words(self.low)} and {self.words(self.high)}."
            )
        return round(value) if self.kind == "count" else value

    def _commit(self) -> None:
        if not self.isModified():
            return
        if not self.text().strip():
            self.setModified(False)
            self.released.emit()
            return
        try:
            value = self.parse(self.text())
        except CannotRead as error:
            self.setProperty("wrong", True)
            self.setToolTip(str(error))
            restyle(self)
            return
        self.setToolTip(self._told(value))
        self.setProperty("wrong", False)
        self.setModified(False)
        self.entered.emit(value)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrow keys step, Escape gives up."""
        assert event is not None
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self.value is not None:
            many = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
            sign = 1 if event.key() == Qt.Key.Key_Up else -1
            step = self.step * (MM_PER[self.unit] if self.unit == "in" and self.kind in ("length", "stitch") else 1)
            value = min(self.most, max(self.low, round(self.value + sign * many * step, 4)))
            self.setModified(False)
            self.entered.emit(value)
        elif event.key() == Qt.Key.Key_Escape:
            self.setText(self.words(self.value) if self.value is not None else "")
            self.setModified(False)
            self.clearFocus()
        else:
            super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """Leaving the field enters what was typed."""
        self._commit()
        super().focusOutEvent(event)


OPENED: dict[str, bool] = {}
"""Which folds were opened or shut by hand: they stay so for the whole session."""


class Fold(QWidget):
    """A heading that opens and shuts what is below it; ``body`` takes the parts."""

    def __init__(self, title: str, name: str, theme: Theme, is_open: bool = False) -> None:
        super().__init__()
        self._name, self._title = name, title
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.heading = button(title, name, self._turn, "row")
        self.heading.setSizePolicy(
            QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed
        )  # words give way, not the panel
        column.addWidget(self.heading)
        self.inside = QWidget()
        self.body = QVBoxLayout(self.inside)
        self.body.setContentsMargins(0, 0, 0, 0)
        self.body.setSpacing(4)
        column.addWidget(self.inside)
        self.inside.setVisible(OPENED.get(name, is_open))
        self.dress(theme)

    def tell(self, words: str) -> None:
        """What is inside, in a few words beside the title."""
        self.heading.setText(f"{self._title}  ·  {words}" if words else self._title)

    def dress(self, theme: Theme) -> None:
        """Take another theme."""
        self._theme = theme
        self.heading.setIcon(icon("right" if self.inside.isHidden() else "down", theme.ink))

    def open(self) -> None:
        """Open it."""
        if self.inside.isHidden():
            self._turn()

    def _turn(self) -> None:
        OPENED[self._name] = self.inside.isHidden()
        self.inside.setVisible(OPENED[self._name])
        self.dress(self._theme)


FIELD_WIDTH = 104


class PinnedRow(QWidget):
    """A named field whose value is inherited, in grey, or pinned, with a pin that releases it."""

    def __init__(
        self, title: str, field: QWidget, release: Callable[[], None] | None, theme: Theme, width: int = FIELD_WIDTH
    ) -> None:
        super().__init__()
        self.releasable = release is not None
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(4)
        row.addWidget(QLabel(title), 1)
        field.setFixedWidth(width)
        row.addWidget(field)
        self.pin = QToolButton()
        self.pin.setObjectName(f"pin-{field.objectName()}")
        self.pin.setAccessibleName(f"Release {title}")
        self.pin.setToolTip("Set by hand. Click to take the ground's value again.")
        self.pin.setIcon(icon("pin", theme.accent))
        self.pin.setFixedWidth(24)
        if release is not None:
            self.pin.clicked.connect(lambda: release())
        row.addWidget(self.pin)
        self.show_pinned(False)

    def show_pinned(self, pinned: bool) -> None:
        """Show or hide the pin, keeping its place."""
        policy = self.pin.sizePolicy()
        policy.setRetainSizeWhenHidden(True)
        self.pin.setSizePolicy(policy)
        self.pin.setVisible(pinned)


FACTS = Qt.ItemDataRole.UserRole + 1
PLACE = Qt.ItemDataRole.UserRole + 2


class FactsDelegate(QStyledItemDelegate):
    """Draws the facts of a row at its right, in a muted colour."""

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        """The usual row, then its facts."""
        words = str(index.data(FACTS) or "")
        room = option.fontMetrics.horizontalAdvance(words) + 10
        name = QStyleOptionViewItem(option)
        self.initStyleOption(name, index)
        super().paint(painter, option, index)
        if painter is not None:
            painter.setPen(name.palette.color(QPalette.ColorRole.PlaceholderText))
            box = option.rect.adjusted(option.rect.width() - room, 0, -6, 0)
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, words)


class DraggedList(QListWidget):
    """A list whose rows are dragged into another order: ``dragged`` tells of the places that they had before."""

    dragged = pyqtSignal(list)

    def __init__(self, name: str, title: str) -> None:
        super().__init__()
        self.setObjectName(name)
        self.setAccessibleName(title)
        self.setIconSize(QSize(16, 16))
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        self.setDefaultDropAction(Qt.DropAction.MoveAction)
        self.setItemDelegate(FactsDelegate(self))
        model = self.model()
        assert model is not None
        model.rowsMoved.connect(lambda: self.dragged.emit(self._places()))

    def fill(self, rows: list[tuple[str, str]], most: int) -> None:
        """Show rows of a name and facts, as high as all of them, or as ``most``."""
        self.clear()
        for place, (name, facts) in enumerate(rows):
            row = QListWidgetItem(name)
            row.setData(FACTS, facts)
            row.setData(PLACE, place)
            self.addItem(row)
        high = max(self.sizeHintForRow(0), 20)
        self.setFixedHeight(high * min(max(len(rows), 1), most) + 8)

    def chosen(self) -> list[int]:
        """The places of the chosen rows."""
        return [index.row() for index in self.selectedIndexes()]

    def _places(self) -> list[int]:
        rows = [self.item(k) for k in range(self.count())]
        return [row.data(PLACE) for row in rows if row is not None]
