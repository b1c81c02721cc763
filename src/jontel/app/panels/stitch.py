"""Stitch: the build-up of the selected objects, tuned layer by layer."""

from collections.abc import Callable
from typing import Any

from msgspec import Struct
from msgspec.structs import replace
from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from jontel.app.icons import icon, swatch
from jontel.app.panels.base import Panel
from jontel.app.panels.ends import EndsEditor
from jontel.app.panels.layers import COVER_VALUES, EDGE_VALUES, UNDERLAY_VALUES, Value
from jontel.app.panels.parts import NumberField, PinnedRow, button, clear, label, tool_button
from jontel.app.panels.section import COVER, EDGES, SectionView
from jontel.app.picker import ThreadPicker
from jontel.data import thread_chart
from jontel.design import CannotStitch, Fill, Line, Resolved, Run, Satin, StitchObject, Thread, resolve
from jontel.design.covers import RunRecipe
from jontel.design.edits import change_objects, pin, release_pins, use_thread
from jontel.design.shapes import LineEnds
from jontel.design.underlays import UNDERLAY_KINDS, Underlay, kind_name
from jontel.design.units import format_length
from jontel.files.sheet import grouped, minutes
from jontel.stitching.engine import drawn_width, underlay_of

ENDS = "ends"
LINE_ENDS: tuple[LineEnds, ...] = ("flat", "round", "pointed")
RUN_STYLES = ("single", "there and back", "triple", "back-stitch")


class StitchPanel(Panel):
    """The panel of the Stitch stage."""

    title = "Stitch"

    def __init__(self) -> None:
        super().__init__()
        self.body.setSpacing(5)
        self.layer = COVER
        self._built: object = None
        self._fields: list[
            tuple[Value, NumberField, PinnedRow, Callable[[StitchObject], tuple[float | None, bool]]]
        ] = []
        self.empty = label(
            "Click an object on the cloth or on the needle track to tune it. Drag a box round several to tune "
            "them together.",
            "muted",
            wrap=True,
        )
        self.body.addWidget(self.empty)
        head = QHBoxLayout()
        self.thread_button = QToolButton()
        self.thread_button.setObjectName("objectThread")
        self.thread_button.setAccessibleName("Thread of the selected objects")
        self.thread_button.setToolTip("Choose another thread")
        self.thread_button.setIconSize(QSize(20, 20))
        self.thread_button.clicked.connect(self._pick_thread)
        self.name = QLineEdit()
        self.name.setObjectName("objectName")
        self.name.setAccessibleName("Name of the object")
        self.name.editingFinished.connect(self._rename)
        head.addWidget(self.thread_button)
        head.addWidget(self.name, 1)
        self.head = QWidget()
        self.head.setLayout(head)
        head.setContentsMargins(0, 0, 0, 0)
        self.body.addWidget(self.head)
        self.facts = label("", "muted", wrap=True)
        self.body.addWidget(self.facts)
        self.trouble = label("", "attention", wrap=True)
        self.trouble.setObjectName("trouble")
        self.body.addWidget(self.trouble)
        self.section = SectionView()
        self.section.chosen.connect(self.choose)
        self.body.addWidget(self.section)
        self.layers = QVBoxLayout()
        self.layers.setSpacing(1)
        self.body.addLayout(self.layers)
        self.editor = QVBoxLayout()
        self.editor.setSpacing(4)
        self.body.addLayout(self.editor)
        foot = QHBoxLayout()
        self.add = button("Add underlay", "addUnderlay", self._offer_underlays)
        self.release = button("Release pins", "releasePins", self._release_all)
        foot.addWidget(self.add)
        foot.addWidget(self.release)
        self.body.addLayout(foot)
        self.body.addStretch(1)

    def rebuild(self) -> None:
        """Make the layers again."""
        self._built = None
        self.section.theme, self.section.unit = self.theme, self.unit

    def choose(self, layer: str) -> None:
        """Tune another layer."""
        self.layer = layer
        self._built = None
        self.refresh()

    # showing

    def refresh(self) -> None:
        """Show the selection."""
        assert self.document is not None
        items = self.document.selected()
        for widget in (self.head, self.facts, self.section, self.add, self.release):
            widget.setVisible(bool(items))
        self.empty.setVisible(not items)
        self._show_trouble(items)
        if not items:
            clear(self.layers)
            clear(self.editor)
            self._fields, self._built = [], None
            return
        self._show_head(items)
        passes = self.passes_of(items[0])
        if self.layer.startswith("underlay") and int(self.layer.split()[1]) >= len(passes):
            self.layer = COVER
        self._show_section(items[0], passes)
        shape = (
            self.layer,
            tuple(item.id for item in items),
            tuple(type(item.cover) for item in items),
            tuple(type(one) for one in passes),
            type(items[0].shape),
            self.theme.name,
        )
        self._show_layers(items, passes)
        if shape != self._built:
            self._built = shape
            self._build_editor(items, passes)
        for value, field, row, read in self._fields:
            found = [read(item) for item in items if self._applies(item, value)]
            numbers = {number for number, _ in found}
            pinned = any(is_pinned for _, is_pinned in found)
            field.show_value(numbers.pop() if len(numbers) == 1 else None, not pinned, self.unit)
            row.show_pinned(pinned and row.releasable)

    def _show_trouble(self, items: tuple[StitchObject, ...]) -> None:
        """Why a selected object has no stitches."""
        sewn = self.document.sewn if self.document else None
        ids = {item.id for item in items}
        words = [failure.sentence for failure in sewn.plan.failures if failure.object in ids] if sewn else []
        self.trouble.setText(" ".join(words))
        self.trouble.setVisible(bool(words))

    def _applies(self, item: StitchObject, value: Value) -> bool:
        if self.layer == COVER and value.field != "width":
            return value.field in item.cover.__struct_fields__
        return value.field != "width" or isinstance(item.shape, Line)

    def _show_head(self, items: tuple[StitchObject, ...]) -> None:
        assert self.document is not None
        design, sewn = self.document.design, self.document.sewn
        self.thread_button.setIcon(QIcon(swatch(design.thread(items[0].thread).colour, 20)))
        single = len(items) == 1
        self.name.setReadOnly(not single)
        if not self.name.hasFocus():
            self.name.setText(items[0].name if single else f"{len(items)} objects")
        ids = {item.id for item in items}
        shares = [s for s in sewn.shares if s.object in ids] if sewn else []
        count, time = sum(s.stitches for s in shares), sum(s.stop - s.start for s in shares)
        kinds = sorted({kind_name(item.cover).capitalize() for item in items})
        self.facts.setText(
            f"{', '.join(kinds)} on {design.brief.ground.fabric}  ·  {grouped(count)} stitches  ·  {minutes(time)}"
        )
        pins = sum(item.pins() for item in items)
        self.release.setText(f"Release {pins} pin{'' if pins == 1 else 's'}")
        self.release.setEnabled(pins > 0)
        self.add.setEnabled(any(not isinstance(item.cover, Run) for item in items))

    def passes_of(self, item: StitchObject) -> tuple[Underlay, ...]:
        """The underlay that an object is sewn with, chosen automatically or not."""
        assert self.document is not None
        try:
            return underlay_of(resolve(item, self.document.design.brief.ground))
        except CannotStitch:
            return item.underlay or ()

    def _show_section(self, item: StitchObject, passes: tuple[Underlay, ...]) -> None:
        assert self.document is not None
        design = self.document.design
        whole = resolve(item, design.brief.ground)
        try:
            width = drawn_width(whole)
        except CannotStitch:
            width = 0.0
        self.section.layer = self.layer
        self.section.show_build_up(
            whole.cover, passes, whole.edges, design.brief.ground, design.thread(item.thread), width
        )

    def _show_layers(self, items: tuple[StitchObject, ...], passes: tuple[Underlay, ...]) -> None:
        assert self.document is not None
        ground = self.document.design.brief.ground
        whole = resolve(items[0], ground)
        cover: Any = whole.cover
        kind = kind_name(items[0].cover)
        mm = lambda value: format_length(value, self.unit)  # noqa: E731
        summary = {
            "fill": lambda: f"{mm(cover.spacing)} · {cover.angle:.0f}°".replace("-", "−"),
            "satin": lambda: mm(cover.spacing),
            "run": lambda: f"{mm(cover.length)} · {cover.style}",
        }[kind]()
        rows = []
        if kind != "run":
            rows.append((EDGES, "edges", "Edges", f"pull {whole.edges.pull:.2f} · push {whole.edges.push:.2f}"))
        rows.append((COVER, kind, f"Cover · {kind}", summary))
        for number, one in reversed(list(enumerate(passes))):
            words = mm(one.spacing) if hasattr(one, "spacing") else f"in {mm(one.inset)}"
            auto = "" if items[0].underlay is not None else "  auto"
            rows.append((f"underlay {number}", kind_name(one), f"Underlay · {kind_name(one)}", words + auto))
        ends = items[0].ends
        pinned = [words for words, place in (("entry", ends.entry), ("exit", ends.exit)) if place is not None]
        rows.append((ENDS, "ends", "Ends", (" and ".join(pinned) + " set") if pinned else "nearest ends"))
        clear(self.layers)
        for layer, picture, title, words in rows:
            self.layers.addWidget(self._layer_button(layer, picture, title, words))

    def _layer_button(self, layer: str, picture: str, title: str, words: str) -> QToolButton:
        made = QToolButton()
        made.setObjectName(f"layer-{layer}")
        made.setAccessibleName(title)
        made.setProperty("kind", "layer")
        made.setCheckable(True)
        made.setChecked(layer == self.layer)
        made.setFixedHeight(26)
        row = QHBoxLayout(made)
        row.setContentsMargins(6, 0, 8, 0)
        mark = label("")
        mark.setPixmap(icon(picture, self.theme.ink).pixmap(18, 18))
        row.addWidget(mark)
        row.addWidget(label(title), 1)
        row.addWidget(label(words, "muted"))
        for k in range(row.count()):
            item = row.itemAt(k)
            inner = item.widget() if item else None
            if inner is not None:
                inner.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        policy = made.sizePolicy()
        policy.setHorizontalPolicy(policy.Policy.Expanding)
        made.setSizePolicy(policy)
        made.clicked.connect(lambda: self.choose(layer))
        return made

    # editing

    def _build_editor(self, items: tuple[StitchObject, ...], passes: tuple[Underlay, ...]) -> None:
        focused = self.focusWidget()
        name = focused.objectName() if focused is not None and self.isAncestorOf(focused) else ""
        clear(self.editor)
        self._fields = []
        self._fill_editor(items, passes)
        again = self.findChild(QWidget, name) if name else None
        if again is not None:
            again.setFocus()

    def _fill_editor(self, items: tuple[StitchObject, ...], passes: tuple[Underlay, ...]) -> None:
        if self.layer == EDGES:
            self.editor.addWidget(label("EDGES", "section"))
            for value in EDGE_VALUES:
                self._add_field(value, self._read_pinned("edges", value.field), self._pin(value))
        elif self.layer == ENDS:
            self.editor.addWidget(label("ENDS", "section"))
            assert self.document is not None
            self.editor.addWidget(EndsEditor(self.document))
        elif self.layer.startswith("underlay"):
            self._build_underlay(int(self.layer.split()[1]), passes)
        else:
            self._build_cover(items)

    def _build_cover(self, items: tuple[StitchObject, ...]) -> None:
        first = items[0]
        self.editor.addWidget(label("COVER", "section"))
        kinds = QComboBox()
        kinds.setObjectName("coverKind")
        kinds.setAccessibleName("Kind of cover")
        for kind in (Run, Satin, Fill):
            kinds.addItem(icon(kind_name(kind()), self.theme.ink), kind_name(kind()).capitalize(), kind)
        kinds.setCurrentText(kind_name(first.cover).capitalize())
        kinds.activated.connect(lambda: self._change_kind(kinds.currentData()))
        self.editor.addWidget(kinds)
        if isinstance(first.shape, Line) and not isinstance(first.cover, Run):
            width = Value("width", "Width", "length", 0.4, 40.0, 0.1)
            self._add_field(width, lambda item: (getattr(item.shape, "width", None), True), self._set_width, False)
        for value in COVER_VALUES[type(first.cover)]:
            self._add_field(value, self._read_pinned("cover", value.field), self._pin(value))
        if isinstance(first.shape, Line) and isinstance(first.cover, Satin):
            self._add_line_ends(first)
        if isinstance(first.cover, Run):
            self._add_run_style(first)
        if isinstance(first.cover, Satin):
            box = QCheckBox("Short stitches on tight insides")
            box.setObjectName("shortStitches")
            whole: Any = self._resolved(first).cover
            box.setChecked(bool(whole.short_stitches))
            box.toggled.connect(lambda on: self._edit("Short stitches", "short_stitches", on))
            self.editor.addWidget(box)

    def _add_line_ends(self, first: StitchObject) -> None:
        assert isinstance(first.shape, Line)
        row = QHBoxLayout()
        row.addWidget(label("Ends of the line"), 1)
        box = QComboBox()
        box.setObjectName("lineEnds")
        box.setAccessibleName("Ends of the line")
        box.addItems([words.capitalize() for words in LINE_ENDS])
        box.setCurrentIndex(LINE_ENDS.index(first.shape.ends))
        box.setFixedWidth(132)
        box.activated.connect(lambda at: self._set_line_ends(LINE_ENDS[at]))
        row.addWidget(box)
        self.editor.addLayout(row)

    def _set_line_ends(self, ends: LineEnds) -> None:
        self._change(
            "Line ends",
            lambda item: (
                replace(item, shape=replace(item.shape, ends=ends)) if isinstance(item.shape, Line) else item
            ),
        )

    def _add_run_style(self, first: StitchObject) -> None:
        styles = QComboBox()
        styles.setObjectName("runStyle")
        styles.setAccessibleName("Style of the run")
        styles.addItems([words.capitalize() for words in RUN_STYLES])
        whole = self._resolved(first).cover
        assert isinstance(whole, RunRecipe)
        styles.setCurrentIndex(RUN_STYLES.index(whole.style))
        styles.activated.connect(lambda at: self._edit("Run style", "style", RUN_STYLES[at]))
        self.editor.addWidget(styles)

    def _build_underlay(self, number: int, passes: tuple[Underlay, ...]) -> None:
        one = passes[number]
        row = QHBoxLayout()
        row.addWidget(label(f"UNDERLAY {number + 1} OF {len(passes)}", "section"), 1)
        for picture, title, does in (
            ("down", "Sew this pass earlier", lambda: self._move_pass(number, -1)),
            ("up", "Sew this pass later", lambda: self._move_pass(number, 1)),
            ("remove", "Take this pass away", lambda: self._drop_pass(number)),
        ):
            row.addWidget(tool_button(picture, title, f"pass-{picture}", does, self.theme))
        self.editor.addLayout(row)
        kinds = QComboBox()
        kinds.setObjectName("underlayKind")
        kinds.setAccessibleName("Kind of underlay")
        for kind in UNDERLAY_KINDS:
            kinds.addItem(icon(kind_name(kind()), self.theme.ink), kind_name(kind()).capitalize(), kind)
        kinds.setCurrentText(kind_name(one).capitalize())
        kinds.activated.connect(lambda: self._swap_pass(number, kinds.currentData()()))
        self.editor.addWidget(kinds)
        for value in UNDERLAY_VALUES[type(one)]:
            self._add_field(
                value,
                _UnderlayReader(self, number, value.field),
                lambda number_, field=value.field: self._tune_pass(number, field, number_),
                False,
            )

    def _add_field(
        self,
        value: Value,
        read: Callable[[StitchObject], tuple[float | None, bool]],
        write: Callable[[Any], None],
        pins: bool = True,
    ) -> None:
        field = NumberField(value.field, value.title, value.kind, value.low, value.high, value.step)
        field.entered.connect(write)
        row = PinnedRow(value.title, field, (lambda: write(None)) if pins else None, self.theme)
        if pins:
            field.released.connect(lambda: write(None))
        self.editor.addWidget(row)
        self._fields.append((value, field, row, read))

    def _resolved(self, item: StitchObject) -> Resolved:
        assert self.document is not None
        return resolve(item, self.document.design.brief.ground)

    def _read_pinned(self, part: str, field: str) -> Callable[[StitchObject], tuple[float | None, bool]]:
        def read(item: StitchObject) -> tuple[float | None, bool]:
            number = getattr(getattr(self._resolved(item), part), field)
            return number, getattr(getattr(item, part), field) is not None

        return read

    def _pin(self, value: Value) -> Callable[[Any], None]:
        return lambda number: self._edit(value.title, value.field, number)

    def _edit(self, words: str, field: str, number: object) -> None:
        if self.document is not None:
            design = self.document.history.design
            if field == "repeats" and number is not None:
                number = int(number)
            self.document.edit(words, pin(design, self.document.selection, field, number))

    def _change(self, words: str, change: Callable[[StitchObject], StitchObject]) -> None:
        if self.document is not None:
            design = self.document.history.design
            self.document.edit(words, change_objects(design, self.document.selection, change))

    def _set_width(self, mm: float) -> None:
        self._change(
            "Width",
            lambda item: replace(item, shape=replace(item.shape, width=mm)) if isinstance(item.shape, Line) else item,
        )

    def _change_kind(self, kind: type[Run] | type[Satin] | type[Fill]) -> None:
        self._change(
            f"Make it a {kind_name(kind())}",
            lambda item: item if isinstance(item.cover, kind) else replace(item, cover=kind(), underlay=None),
        )

    def _with_passes(self, words: str, change: Callable[[tuple[Underlay, ...]], tuple[Underlay, ...]]) -> None:
        """Pin the underlay of every selected object that can have one."""

        def one(item: StitchObject) -> StitchObject:
            return item if isinstance(item.cover, Run) else replace(item, underlay=change(self.passes_of(item)))

        self._change(words, one)

    def _tune_pass(self, number: int, field: str, value: float | None) -> None:
        if value is None:
            return
        self._with_passes(
            "Tune underlay",
            lambda passes: tuple(
                replace(one, **{field: value}) if k == number and field in one.__struct_fields__ else one
                for k, one in enumerate(passes)
            ),
        )

    def _swap_pass(self, number: int, fresh: Underlay) -> None:
        self._with_passes(
            "Change underlay",
            lambda passes: tuple(fresh if k == number else one for k, one in enumerate(passes)),
        )

    def _drop_pass(self, number: int) -> None:
        self._with_passes(
            "Take underlay away", lambda passes: tuple(one for k, one in enumerate(passes) if k != number)
        )

    def _move_pass(self, number: int, step: int) -> None:
        def moved(passes: tuple[Underlay, ...]) -> tuple[Underlay, ...]:
            if not (0 <= number < len(passes) and 0 <= number + step < len(passes)):
                return passes
            rest = [*passes[:number], *passes[number + 1 :]]
            rest.insert(number + step, passes[number])
            return tuple(rest)

        self.layer = f"underlay {max(0, number + step)}"
        self._with_passes("Move underlay", moved)

    def _offer_underlays(self) -> None:
        menu = QMenu(self)
        menu.setObjectName("underlayMenu")
        for kind in UNDERLAY_KINDS:
            action = menu.addAction(icon(kind_name(kind()), self.theme.ink), kind_name(kind()).capitalize())
            if action is not None:
                action.triggered.connect(lambda _on=False, kind=kind: self.add_pass(kind()))
        menu.popup(self.add.mapToGlobal(self.add.rect().bottomLeft()))

    def add_pass(self, fresh: Underlay) -> None:
        """Add a pass, sewn last of the underlay, and tune it."""
        if self.document is not None and self.document.selected():
            self.layer = f"underlay {len(self.passes_of(self.document.selected()[0]))}"
            self._with_passes("Add underlay", lambda passes: (*passes, fresh))

    def _release_all(self) -> None:
        if self.document is not None:
            design = self.document.history.design
            self.document.edit("Release pins", release_pins(design, self.document.selection))

    def _rename(self) -> None:
        if self.document is None or self.name.isReadOnly() or not self.name.text().strip():
            return
        words = self.name.text().strip()
        if [item.name for item in self.document.selected()] != [words]:
            self._change("Rename", lambda item: replace(item, name=words))

    def _pick_thread(self) -> None:
        if self.document is None or not self.document.selected():
            return
        design = self.document.design
        chart = tuple({t.code: t for t in (*design.brief.threads, *thread_chart())}.values())

        def take(thread: Thread) -> None:
            if self.document is not None:
                made = use_thread(self.document.history.design, self.document.selection, thread)
                self.document.edit(f"Use {thread.name}", made)

        like = design.thread(self.document.selected()[0].thread)
        picker = ThreadPicker(self, chart, like, take)
        picker.move(self.thread_button.mapToGlobal(self.thread_button.rect().bottomLeft()))
        picker.show()


class _UnderlayReader:
    """Reads one number of one underlay pass of an object."""

    def __init__(self, panel: StitchPanel, number: int, field: str) -> None:
        self._panel, self._number, self._field = panel, number, field

    def __call__(self, item: StitchObject) -> tuple[float | None, bool]:
        passes: tuple[Struct, ...] = self._panel.passes_of(item)
        found = getattr(passes[self._number], self._field, None) if self._number < len(passes) else None
        return found, item.underlay is not None
