"""Stitch: the build-up of the selected objects, tuned layer by layer."""

from collections.abc import Callable

from msgspec import Struct
from msgspec.structs import replace
from PyQt6.QtCore import QSize, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QToolButton, QVBoxLayout, QWidget

from jontel.app.columns import has_columns
from jontel.app.icons import icon, swatch
from jontel.app.panels.base import Panel
from jontel.app.panels.columns import ColumnsEditor, corrections_summary
from jontel.app.panels.controls import (
    ControlsEditor,
    drawers_of,
    edge_drawers,
    figure_drawers,
    lettering_drawers,
    monogram_drawers,
)
from jontel.app.panels.ends import EndsEditor
from jontel.app.panels.layers import LayersList
from jontel.app.panels.letters import InitialsEditor, WordsEditor
from jontel.app.panels.next import NextEditor
from jontel.app.panels.parts import button, clear, label
from jontel.app.panels.rebalance import RebalanceEditor
from jontel.app.panels.section import COVER, EDGES, SectionView
from jontel.app.panels.shape import NodesEditor, OperationsEditor, PlaceEditor, shape_summary
from jontel.app.panels.underlay import BeneathEditor, PassEditor, change_passes, passes_of, underlay_menu
from jontel.app.picker import pick_thread
from jontel.app.session import Document
from jontel.app.tools.base import Tool
from jontel.design import Area, Design, StitchObject, Thread, resolve
from jontel.design.edits import change_objects, release_pins, use_thread
from jontel.design.figures import FigureValues, figure_kind
from jontel.design.kinds import COVERS, CoverTraits, Kind, Underlay, kind_name, kind_of, traits_of
from jontel.design.kinds.fill import FillRecipe
from jontel.design.units import format_length
from jontel.design.words import grouped, many, minutes
from jontel.shaping.figures import live_figure
from jontel.shaping.kinds import border_apart

Editor = (
    ControlsEditor
    | PassEditor
    | BeneathEditor
    | WordsEditor
    | ColumnsEditor
    | InitialsEditor
    | NodesEditor
    | PlaceEditor
    | OperationsEditor
)
ENDS, REBALANCE, LETTERS, COLUMNS, MONOGRAM = "ends", "rebalance", "letters", "columns", "monogram"
SHAPE, NODES = "shape", "nodes"
MOST_PAGES = 24
"""So many sets of editors are kept once made, each for objects of the same kind."""


class StitchPanel(Panel):
    """The panel of the Stitch stage."""

    title = "Stitch"
    tool_wanted = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.body.setSpacing(5)
        self.layer = COVER
        self._letters = self._monogram = False
        self._tool: Tool | None = None
        self._waits: frozenset[int] = frozenset()
        self._next: NextEditor | None = None
        self._built: object = None
        self._pages: dict[object, tuple[QWidget, list[Editor]]] = {}
        self._shown_page: QWidget | None = None
        self._page = QVBoxLayout()
        self._editors: list[Editor] = []
        self._beforehand = QVBoxLayout()
        self.body.addLayout(self._beforehand)
        self.empty = label(
            "Click an object on the cloth or on the needle track to tune it. Drag a box round several to tune "
            "them together. Or rebalance the whole design here.",
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
        self.layers = LayersList()
        self.layers.chosen.connect(self.choose)
        self.body.addWidget(self.layers)
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
        self._drop_pages()
        self._tell_next()
        self.section.theme, self.section.unit = self.theme, self.unit

    def choose(self, layer: str) -> None:
        """Tune another layer."""
        self.layer = layer
        self._built = None
        if self.document is not None:
            self.refresh()

    def follow_tool(self, tool: Tool) -> None:
        """What is drawn next is told before the first click; nodes are there while something is bent."""
        was, self._tool = self._tool, tool
        if tool.name == "bend":
            self.choose(NODES)
        elif self.layer == NODES or (was is not None and was.makes and self.layer == SHAPE):
            self.choose(COVER)
        self._tell_next()

    def _tell_next(self) -> None:
        """Show how the next object starts while a tool draws; what is selected waits until one is drawn."""
        if self._next is not None:
            clear(self._beforehand)
            self._next = None
        tool = self._tool
        if tool is not None and tool.makes and self.document is not None:
            self._next = NextEditor(self.document, tool, self.theme, self.unit)
            self._next.tool_wanted.connect(self.tool_wanted)
            self._beforehand.addWidget(self._next)
            self._waits = self.document.selection
        self._soon.start()

    # showing

    def refresh(self) -> None:
        """Show the selection, or how the next object starts."""
        assert self.document is not None
        items = self.document.selected()
        if self._next is not None:
            self._next.setVisible(self.document.selection in (self._waits, frozenset()))
        if self._next is not None and not self._next.isHidden():
            items = ()
        for widget in (self.head, self.facts, self.layers, self.add, self.release):
            widget.setVisible(bool(items))
        self.section.setVisible(bool(items) and self.layer not in (SHAPE, NODES))
        self.empty.setVisible(not items and (self._next is None or self._next.isHidden()))
        if self._next is not None and not self._next.isHidden():
            self._show_trouble(())
            self._build(("next", id(self.document), self.theme.name, self.unit), items, empty=True)
            return
        self._show_trouble(items)
        if not items:
            self.layers.show_rows([], "", self.theme)
            self._build(("nothing selected", id(self.document), self.theme.name, self.unit), items)
            return
        self._show_head(items)
        passes = passes_of(self.document, items[0])
        self._follow_letters(items)
        if self.layer == COLUMNS and not (len(items) == 1 and has_columns(items[0])):
            self.layer = COVER
        if self.layer == NODES and self.document.bending.item is None:
            self.layer = COVER
        if self.layer.startswith("underlay") and int(self.layer.split()[1]) >= len(passes):
            self.layer = COVER
        self._show_section(items[0], passes)
        self._show_layers(items, passes)
        shape = (
            self.layer,
            id(self.document),
            tuple((type(item.cover), type(item.shape), item.beneath is None) for item in items),
            tuple(type(one) for one in passes),
            tuple(item.lettering.course for item in items if item.lettering is not None),
            tuple((one.whole.arrangement, one.whole.frame) for one in (items[0].monogram,) if one is not None),
            self.layer == SHAPE and type(_figure_of(items)),
            self.theme.name,
            self.unit,
            tuple(_choices(resolve(item, self.document.design.ground_for(item)).cover, item.shape) for item in items),
        )
        self._build(shape, items)
        for editor in self._editors:
            editor.refresh(items)

    def _follow_letters(self, items: tuple[StitchObject, ...]) -> None:
        """Words that were chosen just now are tuned as words first."""
        if self.layer == MONOGRAM and items[0].monogram is None:
            self.layer = COVER
        whole = items[0].monogram is not None
        if whole and not self._monogram and self.layer == COVER:
            self.layer = MONOGRAM
        self._monogram = whole
        letters = all(item.lettering is not None for item in items)
        if letters and not self._letters and self.layer == COVER:
            self.layer = LETTERS
        elif not letters and self.layer == LETTERS:
            self.layer = COVER
        self._letters = letters

    def _show_trouble(self, items: tuple[StitchObject, ...]) -> None:
        """Why a selected object has no stitches."""
        sewn = self.document.sewn if self.document else None
        ids = {item.id for item in items}
        words = [failure.sentence for failure in sewn.plan.failures if failure.object in ids] if sewn else []
        self.trouble.setText(" ".join(words))
        self.trouble.setVisible(bool(words))

    def _show_head(self, items: tuple[StitchObject, ...]) -> None:
        assert self.document is not None
        design, sewn = self.document.design, self.document.sewn
        self.thread_button.setIcon(swatch(design.thread(items[0].thread).colour, 20))
        single = len(items) == 1
        self.name.setReadOnly(not single)
        if not self.name.hasFocus():
            self.name.setText(items[0].name if single else f"{len(items)} objects")
        ids = {item.id for item in items}
        shares = [sewn.by_object[one] for one in ids if one in sewn.by_object] if sewn else []
        count, time = sum(s.stitches for s in shares), sum(s.stop - s.start for s in shares)
        kinds = sorted({traits_of(item.cover).title for item in items})
        self.facts.setText(
            f"{', '.join(kinds)} on {design.brief.ground.fabric}  ·  {grouped(count)} stitches  ·  {minutes(time)}"
        )
        pins = sum(item.pins() for item in items)
        self.release.setText(f"Release {pins} pin{'' if pins == 1 else 's'}")
        self.release.setEnabled(pins > 0)
        self.add.setEnabled(any(traits_of(item.cover).takes_underlay for item in items))

    def _show_section(self, item: StitchObject, passes: tuple[Underlay, ...]) -> None:
        assert self.document is not None
        design = self.document.design
        whole = resolve(item, design.ground_for(item))
        width = self.document.width_of(item)
        self.section.layer = self.layer
        self.section.show_build_up(
            whole.cover, passes, whole.edges, design.brief.ground, design.thread(item.thread), width
        )

    def _show_layers(self, items: tuple[StitchObject, ...], passes: tuple[Underlay, ...]) -> None:
        assert self.document is not None
        whole = resolve(items[0], self.document.design.ground_for(items[0]))
        traits, name = traits_of(whole.cover), kind_name(whole.cover)
        mm = lambda value: format_length(value, self.unit)  # noqa: E731
        summary = directed_summary(items[0]) or traits.summary(whole.cover, mm)
        rows = []
        lettering = items[0].lettering
        if all(item.lettering is not None for item in items) and lettering is not None:
            rows.append((LETTERS, "tool letter", "Lettering", f"{mm(lettering.height)} · {lettering.course}"))
        role = items[0].monogram
        if role is not None:
            rows.append((MONOGRAM, "tool letter", "Monogram", f"{role.whole.letters} · {role.whole.arrangement}"))
        if traits.hides:
            rows.append((EDGES, "edges", "Edges", f"pull {whole.edges.pull:.2f} · push {whole.edges.push:.2f}"))
        rows.append((COVER, name, f"Cover · {name}" if traits.visible else traits.title, summary))
        if len(items) == 1 and has_columns(items[0]):
            rows.append((COLUMNS, "tool cut", "Columns", corrections_summary(items[0])))
        for number, one in reversed(list(enumerate(passes))):
            words = mm(one.spacing) if hasattr(one, "spacing") else f"in {mm(one.inset)}"
            auto = "" if items[0].underlay is not None else "  auto"
            rows.append((f"underlay {number}", kind_name(one), f"Underlay · {kind_name(one)}", words + auto))
        ends = items[0].ends
        pinned = [words for words, place in (("entry", ends.entry), ("exit", ends.exit)) if place is not None]
        rows.append((SHAPE, "tool figure", _shape_title(items), shape_summary(items, self.unit)))
        if self._tool is not None and self._tool.name == "bend" and self.document.bending.item is not None:
            rows.append((NODES, "tool bend", "Nodes", many(sum(map(len, self.document.bending.chains)), "node")))
        rows.append((ENDS, "ends", "Ends", (" and ".join(pinned) + " set") if pinned else "nearest ends"))
        self.layers.show_rows(rows, self.layer, self.theme)

    # editing

    def _build(self, shape: object, items: tuple[StitchObject, ...], empty: bool = False) -> None:
        """Make the editors again, unless those that are there are for the same kind of thing; or none."""
        if shape == self._built:
            return
        self._built = shape
        focused = self.focusWidget()
        name = focused.objectName() if focused is not None and self.isAncestorOf(focused) else ""
        for left in self.findChildren(RebalanceEditor):
            left.give_up()
        assert self.document is not None
        self._leave_page()
        found = self._pages.pop(shape, None)
        if found is None:
            page = QWidget()
            self._page = QVBoxLayout(page)
            self._page.setContentsMargins(0, 0, 0, 0)
            self._page.setSpacing(4)
            self._editors = []
            if empty:
                pass
            elif not items or self.layer == REBALANCE:
                self._page.addWidget(RebalanceEditor(self.document, self.theme, self.unit))
            else:
                self._fill_editor(self.document, items)
            self.editor.addWidget(page)
        else:
            page, self._editors = found
            page.show()
        self._shown_page = page
        if items and self.layer not in (ENDS, REBALANCE):  # those two listen to the document themselves
            self._pages[shape] = (page, self._editors)
        while len(self._pages) > MOST_PAGES:
            oldest = next(iter(self._pages))
            self._pages.pop(oldest)[0].deleteLater()
        again = page.findChild(QWidget, name) if name else None
        if again is not None:
            again.setFocus()

    def _leave_page(self) -> None:
        """Hide the editors that are there, or let go of them where they are not kept."""
        page = self._shown_page
        self._shown_page = None
        if page is None:
            return
        page.hide()
        if all(page is not kept for kept, _ in self._pages.values()):
            page.deleteLater()

    def _drop_pages(self) -> None:
        """Let go of every editor that was made."""
        self._leave_page()
        for page, _ in self._pages.values():
            page.deleteLater()
        self._pages.clear()
        self._built = None

    def show_document(self, document: Document | None) -> None:
        """Show another document."""
        self._drop_pages()
        if self._next is not None:
            clear(self._beforehand)
            self._next = None
        super().show_document(document)
        self._tell_next()

    def _fill_editor(self, document: Document, items: tuple[StitchObject, ...]) -> None:
        if self.layer == LETTERS:
            self._page.addWidget(label("LETTERING", "section"))
            self._edit_with(WordsEditor(document))
            self._edit_with(ControlsEditor(document, lettering_drawers(), self.theme, self.unit))
        elif self.layer == EDGES:
            self._page.addWidget(label("EDGES", "section"))
            self._edit_with(ControlsEditor(document, edge_drawers(), self.theme, self.unit))
        elif self.layer == MONOGRAM:
            self._page.addWidget(label("MONOGRAM", "section"))
            self._edit_with(InitialsEditor(document))
            self._edit_with(ControlsEditor(document, monogram_drawers(), self.theme, self.unit))
        elif self.layer == COLUMNS:
            self._page.addWidget(label("COLUMNS", "section"))
            self._page.addWidget(button("Cut lines", "use-cut", lambda: self.tool_wanted.emit("cut")))
            self._edit_with(ColumnsEditor(document, self.theme, self.unit))
        elif self.layer == SHAPE:
            figure = _figure_of(items)
            if figure is not None:
                self._page.addWidget(label(figure_kind(figure).title.upper(), "section"))
                self._edit_with(ControlsEditor(document, figure_drawers(figure), self.theme, self.unit))
            self._edit_with(PlaceEditor(document, self.theme, self.unit))
            self._page.addWidget(button("Bend it", "use-bend", lambda: self.tool_wanted.emit("bend")))
            self._edit_with(OperationsEditor(document, self.theme, self.unit))
        elif self.layer == NODES:
            self._edit_with(NodesEditor(document, self.theme, self.unit))
        elif self.layer == ENDS:
            self._page.addWidget(label("ENDS", "section"))
            self._page.addWidget(EndsEditor(document, self.theme, self.unit))
        elif self.layer.startswith("underlay"):
            made = PassEditor(document, int(self.layer.split()[1]), self.theme, self.unit)
            made.moved.connect(self._follow_pass)
            self._edit_with(made)
        else:
            self._build_cover(document, items)

    def _edit_with(self, editor: Editor) -> None:
        self._editors.append(editor)
        self._page.addWidget(editor)

    def _follow_pass(self, number: int) -> None:
        self.layer = f"underlay {number}"

    def _build_cover(self, document: Document, items: tuple[StitchObject, ...]) -> None:
        first = items[0]
        of_kind = {kind_name(item.cover): item for item in reversed(items)}
        mixed = len(of_kind) > 1
        if first.beneath is not None:
            self._edit_with(BeneathEditor(document, self.theme, self.unit))
        else:
            self._page.addWidget(label("COVER", "section"))
            kinds = QComboBox()
            kinds.setObjectName("coverKind")
            kinds.setAccessibleName("Kind of cover")
            for kind in COVERS:
                if all(kind_name(item.shape) in kind.traits.lies_on for item in items):
                    kinds.addItem(icon(kind.name, self.theme.ink), kind.traits.title, kind)
            kinds.setCurrentIndex(kinds.findText(traits_of(first.cover).title) if not mixed else -1)
            kinds.setPlaceholderText("differ")
            kinds.activated.connect(lambda: self._change_kind(kinds.currentData()))
            self._page.addWidget(kinds)
        tools = QHBoxLayout()
        for words, tool in directing(first):
            tools.addWidget(button(words, f"use-{tool}", lambda tool=tool: self.tool_wanted.emit(tool)))
        self._page.addLayout(tools)
        if directed_summary(first):
            self._page.addWidget(button("Back to one angle", "oneAngle", self._one_angle))
        for number, item in enumerate(sorted(of_kind.values(), key=items.index)):
            if mixed:
                self._page.addWidget(label(f"ALL {traits_of(item.cover).title.upper()} OBJECTS", "section"))
            prefix = f"{kind_name(item.cover)}-" if number else ""
            self._edit_with(ControlsEditor(document, drawers_of(item), self.theme, self.unit, prefix))
        if bordered(document.design, items):
            apart = button("Border in another thread…", "borderThread", lambda: self._pick_border_thread(apart))
            apart.setToolTip("The border becomes an object of its own, sewn in the thread you choose")
            self._page.addWidget(apart)

    def _change(self, words: str, change: Callable[[StitchObject], StitchObject]) -> None:
        if self.document is not None:
            design = self.document.history.design
            self.document.edit(words, change_objects(design, self.document.selection, change))

    def _change_kind(self, kind: Kind) -> None:
        def changed(item: StitchObject) -> StitchObject:
            if kind_of(item.cover) is kind or item.beneath is not None:
                return item
            return replace(item, cover=kind.pins(), underlay=None)

        self._change(f"Make it {kind.traits.called}", changed)

    def _one_angle(self) -> None:
        self._change(
            "Back to one angle",
            lambda item: (
                replace(item, shape=replace(item.shape, lines=(), guide=None))
                if isinstance(item.shape, Area)
                else item
            ),
        )

    def _offer_underlays(self) -> None:
        if self.document is not None:
            menu = underlay_menu(self, self.document, self.theme, self.add_pass)
            menu.popup(self.add.mapToGlobal(self.add.rect().bottomLeft()))

    def add_pass(self, fresh: Underlay) -> None:
        """Add a pass, sewn last of the underlay, and tune it."""
        if self.document is not None and self.document.selected():
            self.layer = f"underlay {len(passes_of(self.document, self.document.selected()[0]))}"
            change_passes(self.document, "Add underlay", lambda passes: (*passes, fresh))

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
        def take(document: Document, thread: Thread) -> None:
            made = use_thread(document.history.design, document.selection, thread)
            document.edit(f"Use {thread.name}", made)

        self._offer_threads(self.thread_button, take)

    def _pick_border_thread(self, below: QWidget) -> None:
        """A border in a thread of its own is an object of its own, whose place in the order can be chosen."""

        def take(document: Document, thread: Thread) -> None:
            made, ids = border_apart(document.history.design, document.selection, None)
            document.edit(f"Border in {thread.name}", use_thread(made, ids, thread))
            document.select(ids)

        self._offer_threads(below, take)

    def _offer_threads(self, below: QWidget, take: Callable[[Document, Thread], None]) -> None:
        """Offer threads below a control, those most like the selected object's first."""
        document = self.document
        if document is None or not document.selected():
            return
        design = document.design
        like = design.thread(document.selected()[0].thread)
        place = below.mapToGlobal(below.rect().bottomLeft())
        pick_thread(self, place, like, lambda thread: take(document, thread), design.brief.threads)


def bordered(design: Design, items: tuple[StitchObject, ...]) -> bool:
    """Whether the cover of any of ``items`` has a border."""
    whole = (resolve(item, design.ground_for(item)).cover for item in items)
    return any(isinstance(cover, FillRecipe) and cover.border != "none" for cover in whole)


def _figure_of(items: tuple[StitchObject, ...]) -> FigureValues | None:
    """The figure of one object alone."""
    return live_figure(items[0]) if len(items) == 1 and items[0].figure is not None else None


def _shape_title(items: tuple[StitchObject, ...]) -> str:
    figure = _figure_of(items)
    if figure is not None:
        return f"Shape · {figure_kind(figure).title.lower()}"
    return f"Shape · {kind_name(items[0].shape)}" if len(items) == 1 else "Shapes"


def directed_summary(item: StitchObject) -> str:
    """Which way the rows run where direction lines or a guide lead them, in a word; empty where an angle does."""
    shape = item.shape
    if traits_of(item.cover).rows != "one way" or not isinstance(shape, Area):
        return ""
    if shape.guide is not None:
        return "along a guide"
    return f"{len(shape.lines)} direction line{'' if len(shape.lines) == 1 else 's'}" if shape.lines else ""


BUTTONS = {"direction": "Direction lines", "guide": "Guide", "needle": "Place needle points"}
"""What the buttons of the tools that direct stitches say."""


def directing(item: StitchObject) -> list[tuple[str, str]]:
    """The tools that say which way the stitches of an object lie: what a button says, and the tool's name."""
    traits: CoverTraits = traits_of(item.cover)
    return [(BUTTONS[tool], tool) for tool in traits.directed_by.get(kind_name(item.shape), ())]


def _choices(cover: Struct, shape: Struct) -> tuple[object, ...]:
    """What decides which controls are there: every word and yes or no of a cover and a shape, and the layers."""
    found = [getattr(one, name) for one in (cover, shape) for name in one.__struct_fields__ if name != "path"]
    words = tuple(value for value in found if isinstance(value, str | bool))
    lines = bool(getattr(shape, "lines", ())), getattr(shape, "guide", None) is None
    return (*words, getattr(cover, "layers", 1) > 1, getattr(cover, "ragged", 0) > 0, *lines)
