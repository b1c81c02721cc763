"""How the next object starts, told before the first click."""

from __future__ import annotations

from typing import get_args

from msgspec.structs import replace
from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QHBoxLayout, QLabel, QToolButton, QVBoxLayout, QWidget

from jontel.app.drawing import pen, shape_path
from jontel.app.icons import icon, swatch
from jontel.app.next import Next
from jontel.app.panels.form import ValuesForm
from jontel.app.panels.parts import NumberField, PinnedRow, button, label
from jontel.app.picker import pick_thread
from jontel.app.session import Document
from jontel.app.theme import Theme
from jontel.app.tools.base import Tool
from jontel.design import StitchObject
from jontel.design.figures import FIGURES, FigureValues, shape_of
from jontel.design.figures.emblem import Emblem, EmblemName
from jontel.design.kinds import COVERS, kind_name, kind_of
from jontel.design.kinds.values import value_of
from jontel.design.shapes import Line
from jontel.design.units import Unit

SORTS = {"area": "Areas", "line": "Lines", "column": "Columns"}
PENS = {"line": "A line", "shape": "An area"}
"""What the two pens draw, by the names of their tools."""
STARTS = {"chosen": "As chosen here", "last": "Like the last of its kind"}


class NextEditor(QWidget):
    """Kind and thread of what is drawn next; for figures which one; for the hand how smooth."""

    tool_wanted = pyqtSignal(str)

    def __init__(self, document: Document, tool: Tool, theme: Theme, unit: Unit) -> None:
        super().__init__()
        self._document, self._theme, self._unit = document, theme, unit
        self._next: Next = document.next
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self._column = column
        column.addWidget(label(f"NEXT · {tool.title.upper()}", "section"))
        column.addWidget(label(tool.hint, "muted", wrap=True))
        self._figure_form: ValuesForm | None = None
        self._emblems: dict[str, QToolButton] = {}
        self._gallery: QWidget | None = None
        if tool.name in PENS:
            self._offer_pens(tool.name)
        self._smoothing: NumberField | None = None
        if tool.name == "figure":
            self._offer_figures()
        if tool.name == "freehand":
            self._offer_smoothing()
        self._offer_start(sorts_of(tool, self._next))
        self._next.changed.connect(self._show)
        document.selection_changed.connect(self._show)
        self._show()

    def refresh(self, _items: tuple[StitchObject, ...]) -> None:
        """Show it as it is now."""
        self._show()

    def _offer_pens(self, chosen: str) -> None:
        """A pen draws lines or areas: which, before it is used; *To area* and *To line* change it afterwards."""
        row = QHBoxLayout()
        row.setSpacing(4)
        for name, words in PENS.items():
            made = button(words, f"pen-{name}", lambda name=name: self.tool_wanted.emit(name), "small")
            made.setCheckable(True)
            made.setChecked(name == chosen)
            row.addWidget(made)
        self._column.addLayout(row)

    def _pictures(self, figures: dict[str, FigureValues], prefix: str) -> dict[str, QToolButton]:
        """A grid of small drawings to choose from."""
        grid = QGridLayout()
        grid.setSpacing(3)
        found: dict[str, QToolButton] = {}
        for place, (title, figure) in enumerate(figures.items()):
            made = QToolButton()
            made.setObjectName(f"{prefix}-{title}")
            made.setAccessibleName(title.capitalize())
            made.setToolTip(title.capitalize())
            made.setCheckable(True)
            made.setIcon(figure_icon(replace(figure, width=18.0, height=18.0), self._theme))
            made.setIconSize(QSize(24, 24))
            made.setFixedSize(38, 32)
            made.clicked.connect(lambda _on=False, figure=figure: self._next.take_figure(figure))
            grid.addWidget(made, place // 6, place % 6)
            found[title] = made
        self._grid = grid
        return found

    def _offer_figures(self) -> None:
        figures = {kind_name(kind.values()): kind.values() for kind in FIGURES}
        self._figures = self._pictures(figures, "figure")
        self._column.addLayout(self._grid)
        self._emblems = self._pictures({name: Emblem(emblem=name) for name in get_args(EmblemName)}, "emblem")
        self._gallery = QWidget()
        self._gallery.setLayout(self._grid)
        self._grid.setContentsMargins(0, 4, 0, 4)
        self._column.addWidget(self._gallery)
        self._figure_form = ValuesForm(
            self._next.figure, self._theme, self._unit, "next-", ("width", "height", "emblem")
        )
        self._figure_form.changed.connect(self._next.take_figure)
        self._column.addWidget(self._figure_form)

    def _offer_smoothing(self) -> None:
        field = NumberField("next-smoothing", "Within", "length", 0.02, 5.0, 0.05)
        field.entered.connect(lambda value: self._next.tell(smoothing=value))
        field.setToolTip("How near the curve stays to what the hand drew: more is smoother, with fewer nodes")
        self._smoothing = field
        self._column.addWidget(PinnedRow("Curve stays within", field, None, self._theme))

    def _offer_start(self, sorts: tuple[str, ...]) -> None:
        self._sorts = sorts
        self._start = QComboBox()
        self._start.setObjectName("next-start")
        self._start.setAccessibleName("How the next object starts")
        self._start.addItems(list(STARTS.values()))
        self._start.activated.connect(lambda at: self._next.tell(start=list(STARTS)[at]))
        self._column.addWidget(self._start)
        self._kinds: dict[str, QComboBox] = {}
        for sort in sorts:
            box = QComboBox()
            box.setObjectName(f"next-{sort}")
            box.setAccessibleName(f"{SORTS[sort]} are sewn as")
            for kind in COVERS:
                if sort in kind.traits.lies_on and kind.traits.visible:
                    box.addItem(icon(kind.name, self._theme.ink), kind.traits.title, kind)
            box.activated.connect(lambda _at, box=box, sort=sort: self._next.sew_as(sort, box.currentData().pins()))
            self._kinds[sort] = box
            self._column.addWidget(PinnedRow(f"{SORTS[sort]} are", box, None, self._theme))
        self._width = NumberField("next-width", "Line width", "length", *_range(), 0.1)
        self._width.entered.connect(lambda value: self._next.tell(width=value))
        self._width_row = PinnedRow("Width of a satin line", self._width, None, self._theme)
        self._column.addWidget(self._width_row)
        row = QHBoxLayout()
        self.thread_button = QToolButton()
        self.thread_button.setObjectName("next-thread")
        self.thread_button.setAccessibleName("Thread of the next object")
        self.thread_button.setToolTip("Choose the thread of what is drawn next")
        self.thread_button.setIconSize(QSize(20, 20))
        self.thread_button.clicked.connect(self._pick_thread)
        self.thread_name: QLabel = label("")
        row.addWidget(self.thread_button)
        row.addWidget(self.thread_name, 1)
        self._column.addLayout(row)
        self._pictured = QCheckBox("Thread from the picture beneath")
        self._pictured.setObjectName("next-pictured")
        self._pictured.setToolTip("What is drawn over a picture gets the thread most like what that shows there")
        self._pictured.clicked.connect(lambda on: self._next.tell(pictured=on))
        self._column.addWidget(self._pictured)

    def _show(self) -> None:
        following = self._next
        self._start.setCurrentIndex(list(STARTS).index(following.start))
        for sort, box in self._kinds.items():
            last = following.last(sort) if following.start == "last" else None
            cover = last.cover if last is not None else following.covers[sort]
            box.setCurrentIndex(box.findText(kind_of(cover).traits.title))
            box.setEnabled(last is None)
        is_line = "line" in self._sorts
        widens = is_line and kind_of(following.covers["line"]).traits.widens and following.start == "chosen"
        self._width_row.setVisible(widens)
        self._width.show_value(following.width, False, self._unit)
        thread = following.thread_for(self._sorts[0])
        self.thread_button.setIcon(swatch(thread.colour, 20))
        self.thread_button.setEnabled(following.start == "chosen")
        self.thread_name.setText(f"{thread.name} · {thread.code}")
        self._pictured.setVisible(any(one.visible for one in self._document.design.artwork))
        self._pictured.setChecked(following.pictured)
        if self._figure_form is not None:
            self._figure_form.show_values(following.figure)
            for title, made in self._figures.items():
                made.setChecked(title == kind_name(following.figure))
            emblem = getattr(following.figure, "emblem", None)
            for title, made in self._emblems.items():
                made.setChecked(title == emblem)
            if self._gallery is not None:
                self._gallery.setVisible(emblem is not None)
        if self._smoothing is not None:
            self._smoothing.show_value(following.smoothing, False, self._unit)

    def _pick_thread(self) -> None:
        design = self._document.design
        below = self.thread_button.mapToGlobal(self.thread_button.rect().bottomLeft())
        like = self._next.thread_for(self._sorts[0])
        pick_thread(self, below, like, self._next.take_thread, design.brief.threads)


def sorts_of(tool: Tool, following: Next) -> tuple[str, ...]:
    """The sorts of shapes that a tool draws."""
    match tool.name:
        case "line":
            return ("line",)
        case "shape" | "rectangle" | "ellipse":
            return ("area",)
        case "column" | "block":
            return ("column",)
        case "figure":
            return (kind_name(shape_of(following.figure)),)
        case _:
            return ("line", "area")


def figure_icon(figure: FigureValues, theme: Theme) -> QIcon:
    """A small drawing of a figure."""
    picture = QPixmap(48, 48)
    picture.setDevicePixelRatio(2.0)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.translate(12, 12)
    shape = shape_of(figure)
    painter.setPen(pen(theme.colour("ink"), 1.3))
    painter.setBrush(Qt.BrushStyle.NoBrush if isinstance(shape, Line) else theme.colour("accent", 60))
    painter.drawPath(shape_path(shape))
    painter.end()
    return QIcon(picture)


def _range() -> tuple[float, float]:
    value = value_of(Line, "width")
    return value.low, value.high
