"""Brief: what it is sewn on, in which hoop, how large, with which threads."""

from collections.abc import Callable
from pathlib import Path

import msgspec
from msgspec import Struct
from msgspec.structs import replace
from PyQt6.QtCore import QSettings, QSize, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from jontel.app.icons import icon, swatch
from jontel.app.panels.base import Panel
from jontel.app.panels.parts import Fold, NumberField, PinnedRow, button, clear, label, restyle, rule
from jontel.app.panels.threads import ThreadsEditor
from jontel.app.picker import pick_thread
from jontel.app.preferences import own_grounds_folder
from jontel.app.threads import threads
from jontel.data import hoops
from jontel.design import Design, Ground, Hoop, Thread
from jontel.design.edits import drop_unused_threads, set_ground, set_hoop, set_thread
from jontel.design.kinds import kind_name, traits_of
from jontel.design.kinds.values import values_of
from jontel.design.machine import MachineProfile, Rates
from jontel.design.resolve import keep_values
from jontel.design.units import format_length
from jontel.design.words import many
from jontel.files.owngrounds import all_grounds, read_own
from jontel.sewing.resize import to_size

OWN_HOOP = "Own size…"
Aside = Callable[[str, Callable[[], Design]], Design | None]


def inherited_values(design: Design) -> int:
    """How many values of the covers and edges the ground supplies."""
    return sum(
        getattr(struct, name) is None
        for item in design.objects
        for struct in (item.cover, item.edges)
        for name in struct.__struct_fields__
    )


class BriefPanel(Panel):
    """The panel of the Brief stage."""

    title = "Brief"

    calibration_wanted = pyqtSignal()

    def __init__(self, aside: Aside, settings: QSettings) -> None:
        super().__init__()
        self._aside, self._settings = aside, settings
        self.body.addWidget(label("Brief", "title"))
        self._recents: list[Path] = []
        self.recent = QWidget()
        column = QVBoxLayout(self.recent)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        column.addWidget(label("GO ON WITH", "section"))
        self.recent_rows = QVBoxLayout()
        self.recent_rows.setSpacing(1)
        column.addLayout(self.recent_rows)
        self.recent.hide()
        self.body.addWidget(self.recent)
        self.name = QLineEdit()
        self.name.setObjectName("designName")
        self.name.setAccessibleName("Name of the design")
        self.name.editingFinished.connect(self._rename)
        self.body.addWidget(self.name)
        self.body.addWidget(label("GROUND", "section"))
        self.ground = QComboBox()
        self.ground.setObjectName("ground")
        self.ground.setAccessibleName("Ground")
        self._grounds = all_grounds(own_grounds_folder())
        self.ground.addItems([one.name for one in self._grounds])
        self.ground.activated.connect(self._take_ground)
        self.body.addWidget(self.ground)
        self.body.addWidget(button("Measure your own cloth…", "calibrate", self.calibration_wanted.emit, "link"))
        self.recipe = label("", "muted", wrap=True)
        self.body.addWidget(self.recipe)
        self.told = label("", "attention", wrap=True)
        self.told.setObjectName("groundTold")
        self.told.hide()
        self.body.addWidget(self.told)
        troubles = read_own(own_grounds_folder())[1]
        if troubles:
            self.told.setText(" ".join(troubles))
            self.told.show()
        self._before: Design | None = None
        self.only_new = button("", "onlyWhatComes", self._only_what_comes, "link")
        self.only_new.hide()
        self.body.addWidget(self.only_new)
        self.body.addWidget(label("HOOP AND SIZE", "section"))
        self.hoop = QComboBox()
        self.hoop.setObjectName("hoop")
        self.hoop.setAccessibleName("Hoop")
        self.hoop.activated.connect(self._take_hoop)
        self.body.addWidget(self.hoop)
        self.own_hoop = QWidget()
        own = QHBoxLayout(self.own_hoop)
        own.setContentsMargins(0, 0, 0, 0)
        self.hoop_fields: dict[str, NumberField] = {}
        for words, name in (("wide", "width"), ("high", "height"), ("corner", "corner")):
            field = NumberField(f"hoop-{name}", f"Hoop {name}", "length", 0.0 if name == "corner" else 10.0, 2500, 1)
            field.entered.connect(lambda mm, name=name: self._own_hoop(**{name: mm}))
            own.addWidget(field, 1)
            own.addWidget(label(words, "muted"))
            self.hoop_fields[name] = field
        self.own_hoop.hide()
        self.body.addWidget(self.own_hoop)
        row = QHBoxLayout()
        self.width_field = NumberField("designWidth", "Width", "length", 2, 1500, 1)
        self.height_field = NumberField("designHeight", "Height", "length", 2, 1500, 1)
        for words, field, axis in (("wide", self.width_field, 0), ("high", self.height_field, 1)):
            field.entered.connect(lambda mm, axis=axis: self._resize(axis, mm))
            row.addWidget(field, 1)
            row.addWidget(label(words, "muted"))
        self.body.addLayout(row)
        self.fits = label("", "muted", wrap=True)
        self.body.addWidget(self.fits)
        self.body.addWidget(rule())
        self.machine_heading = button("", "machineHeading", self._fold_machine, "row")
        self.body.addWidget(label("MACHINE", "section"))
        self.body.addWidget(self.machine_heading)
        self.machine_body = QWidget()
        rows = QVBoxLayout(self.machine_body)
        rows.setContentsMargins(0, 0, 0, 0)
        rows.setSpacing(4)
        self.machine_fields = self._fields(rows, MachineProfile, "machine", self._take_machine)
        rows.addWidget(label("RATES", "section"))
        self.rate_fields = self._fields(rows, Rates, "rate", self._take_rate)
        self.machine_body.hide()
        self.body.addWidget(self.machine_body)
        self.body.addWidget(label("THREADS", "section"))
        self.threads = QVBoxLayout()
        self.threads.setSpacing(2)
        self.body.addLayout(self.threads)
        self.unused = button("Drop unused threads", "dropThreads", self._drop_unused, "link")
        self.body.addWidget(self.unused)
        self.own = Fold("My threads", "foldThreads", self.theme)
        self.box = ThreadsEditor(self.theme)
        self.own.body.addWidget(self.box)
        threads().changed.connect(self._tell_threads)
        self.body.addWidget(self.own)
        self.body.addStretch(1)

    def refresh(self) -> None:
        """Show the brief."""
        assert self.document is not None
        design = self.document.design
        ground = design.brief.ground
        if not self.name.hasFocus():
            self.name.setText(design.name)
        self.ground.setCurrentText(ground.name)
        spacings = [
            f"{traits_of(one).title.lower()} {getattr(one, 'spacing', 0.0):.2f} mm"
            for one in ground.covers
            if traits_of(one).hides
        ]
        underlay = " + ".join(kind_name(one) for one in ground.area_underlay)
        self.recipe.setText(
            f"{ground.fabric}, backing {ground.backing}, topping {ground.topping}. "
            f"{', '.join(spacings).capitalize()} apart; pull "
            f"{ground.edges.pull:.2f}, push {ground.edges.push:.2f}; {underlay}."
        )
        self._show_hoop(design.brief.hoop)
        machine = design.brief.machine
        self.machine_heading.setText(f"{machine.name}  ·  {machine.speed:.0f} a minute")
        self.machine_heading.setIcon(icon("down" if self.machine_body.isVisible() else "right", self.theme.ink))
        for name, field in self.machine_fields.items():
            field.show_value(getattr(machine, name), False, self.unit)
        for name, field in self.rate_fields.items():
            field.show_value(getattr(design.brief.rates, name), False, self.unit)
        self.recent.setVisible(not design.objects and not design.artwork and bool(self._recents))
        sums = self.document.sewn.totals if self.document.sewn else None
        if sums:
            self.width_field.show_value(sums.width, False, self.unit)
            self.height_field.show_value(sums.height, False, self.unit)
            hoop = design.brief.hoop
            room = min(hoop.width - sums.width, hoop.height - sums.height) / 2
            self.fits.setText(
                f"{format_length(room, self.unit, 1)} to spare on each side of the hoop."
                if room >= 0
                else f"{format_length(-room, self.unit, 1)} too large for this hoop on a side."
            )
            self.fits.setProperty("severity", "spoils" if room < 0 else "")
            restyle(self.fits)
        self.unused.setVisible({t.code for t in design.brief.threads} > {item.thread for item in design.objects})
        self.box.document = self.document
        self.box.refresh()
        self._tell_threads()
        clear(self.threads)
        for thread in design.brief.threads:
            self.threads.addWidget(self._thread_row(design, thread))

    def _tell_threads(self) -> None:
        self.own.tell(self.box.summary())

    def _thread_row(self, design: Design, thread: Thread) -> QPushButton:
        used = sum(item.thread == thread.code for item in design.objects)
        words = f"{thread.code}  {thread.name}   ·   {used} object{'' if used == 1 else 's'}"
        made = button(words, f"thread-{thread.code}", lambda: self._pick(thread, made), "row")
        made.setIcon(swatch(thread.colour))
        made.setIconSize(QSize(16, 16))
        made.setToolTip("Change this thread everywhere")
        return made

    def _pick(self, thread: Thread, near: QPushButton) -> None:
        def take(other: Thread) -> None:
            if self.document is not None:
                label_ = f"Change {thread.name} to {other.name}"
                self.document.edit(label_, set_thread(self.document.history.design, thread.code, other))

        pick_thread(self, near.mapToGlobal(near.rect().bottomLeft()), thread, take)

    def _drop_unused(self) -> None:
        if self.document is not None:
            self.document.edit("Drop unused threads", drop_unused_threads(self.document.history.design))

    def _rename(self) -> None:
        words = self.name.text().strip()
        if self.document is not None and words and words != self.document.design.name:
            self.document.edit("Rename", replace(self.document.history.design, name=words))

    def ground_kept(self, ground: Ground) -> None:
        """Offer a ground of the user's own that was kept just now."""
        self._grounds = all_grounds(own_grounds_folder())
        shown = self.ground.currentText()
        self.ground.clear()
        self.ground.addItems([one.name for one in self._grounds])
        self.ground.setCurrentText(shown)
        self.told.setText(f"{ground.name} can be chosen as a ground.")
        self.told.show()

    def _take_ground(self, index: int) -> None:
        if self.document is None:
            return
        design = self.document.history.design
        ground = self._grounds[index]
        if ground == design.brief.ground:
            return
        pins, follow = design.pins(), inherited_values(design)
        self.document.edit(f"Sew on {ground.name}", set_ground(design, ground), locked_too=True)
        stay = (
            f"{pins} pinned value{' stays' if pins == 1 else 's stay'} as set by hand"
            if pins
            else "nothing was pinned"
        )
        self.told.setText(f"{many(follow, 'value')} now follow{'s' if follow == 1 else ''} {ground.name}; {stay}.")
        self.told.show()
        self._before = design
        self.only_new.setText("Only what comes: leave what is there as it was")
        self.only_new.setVisible(follow > 0)

    def _only_what_comes(self) -> None:
        """Let the new ground count for objects drawn from now on; those that are there stay as they were."""
        document, before = self.document, self._before
        self.only_new.hide()
        if document is None or before is None:
            return
        ground = document.history.design.brief.ground
        document.edit(f"Sew what comes on {ground.name}", set_ground(keep_values(before), ground), locked_too=True)
        self.told.setText(f"What was there is sewn as before; what comes follows {ground.name}.")

    def _show_hoop(self, hoop: Hoop) -> None:
        """The shipped hoops, then the design's own, if it has one."""
        names = [one.name for one in hoops()]
        self.hoop.clear()
        self.hoop.addItems([*names, OWN_HOOP if hoop in hoops() else hoop.name])
        own = hoop not in hoops()
        self.hoop.setCurrentIndex(len(names) if own else hoops().index(hoop))
        self.own_hoop.setVisible(own)
        for name, field in self.hoop_fields.items():
            field.show_value(getattr(hoop, name), False, self.unit)

    def _take_hoop(self, index: int) -> None:
        if self.document is None:
            return
        if index < len(hoops()):
            hoop = hoops()[index]
            self.document.edit(f"Hoop {hoop.name}", set_hoop(self.document.history.design, hoop))
        elif self.document.design.brief.hoop in hoops():
            self._own_hoop()

    def _own_hoop(self, **sizes: float) -> None:
        """A hoop of the user's own, from the one that is there."""
        if self.document is not None:
            hoop = replace(self.document.history.design.brief.hoop, **sizes)
            hoop = replace(hoop, name=f"Own {hoop.width:g} x {hoop.height:g}")
            self.document.edit(f"Hoop {hoop.name}", set_hoop(self.document.history.design, hoop))

    def _fields(
        self, rows: QVBoxLayout, kind: type[Struct], prefix: str, take: Callable[[str, float], None]
    ) -> dict[str, NumberField]:
        """A field for each declared value."""
        found: dict[str, NumberField] = {}
        for value in values_of(kind):
            field = NumberField(f"{prefix}-{value.field}", value.title, value.unit, value.low, value.high, value.step)
            field.entered.connect(lambda number, name=value.field: take(name, number))
            rows.addWidget(PinnedRow(value.title, field, None, self.theme))
            found[value.field] = field
        return found

    def _fold_machine(self) -> None:
        self.machine_body.setVisible(not self.machine_body.isVisible())
        self.machine_heading.setIcon(icon("down" if self.machine_body.isVisible() else "right", self.theme.ink))

    def _take_machine(self, name: str, number: float) -> None:
        """Another value of the machine, for this design and for those begun later."""
        if self.document is not None:
            design = self.document.history.design
            old = design.brief.machine
            machine = replace(old, **{name: type(getattr(old, name))(number)}, name="Own machine")
            self._settings.setValue("machine", msgspec.json.encode(machine).decode())
            self.document.edit("Machine", replace(design, brief=replace(design.brief, machine=machine)))

    def _take_rate(self, name: str, number: float) -> None:
        """Another rate of the shop, for this design and for those begun later."""
        if self.document is not None:
            design = self.document.history.design
            rates = replace(design.brief.rates, **{name: number})
            self._settings.setValue("rates", msgspec.json.encode(rates).decode())
            self.document.edit("Rates", replace(design, brief=replace(design.brief, rates=rates)))

    def show_recents(self, paths: list[Path], open_path: Callable[[Path], object]) -> None:
        """Offer the designs that were open before, in an empty design."""
        self._recents = paths
        clear(self.recent_rows)
        for number, path in enumerate(paths):
            made = button(path.stem, f"recent{number}", lambda path=path: open_path(path), "row")
            made.setToolTip(str(path))
            self.recent_rows.addWidget(made)
        self._soon.start()

    def _resize(self, axis: int, mm: float) -> None:
        """Scale the whole design, artwork too, so that it is sewn at this width or height."""
        if self.document is None or self.document.sewn is None:
            return
        sums = self.document.sewn.totals
        own = sums.width if axis == 0 else sums.height
        if own <= 0 or abs(mm - own) < 0.005:
            return
        document, design = self.document, self.document.history.design
        made = self._aside("Finding the scale", lambda: to_size(design, axis, mm))
        if made is not None and document.history.design is design:
            document.edit("Resize", made, locked_too=True)
