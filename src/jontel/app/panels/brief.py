"""Brief: what it is sewn on, in which hoop, how large, with which threads."""

from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import QSize
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout

from jontel.app.icons import swatch
from jontel.app.panels.base import Panel
from jontel.app.panels.parts import NumberField, button, clear, label, restyle, rule
from jontel.app.picker import ThreadPicker
from jontel.data import grounds, hoops, read_chart, thread_chart
from jontel.design import Design, JontelError, Thread
from jontel.design.edits import drop_unused_threads, set_ground, set_hoop, set_thread, transform_objects
from jontel.design.kinds import kind_name, traits_of
from jontel.design.units import format_length
from jontel.files.atomic import read_whole


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

    def __init__(self) -> None:
        super().__init__()
        self.chart: tuple[Thread, ...] = thread_chart()
        self.body.addWidget(label("Brief", "title"))
        self.name = QLineEdit()
        self.name.setObjectName("designName")
        self.name.setAccessibleName("Name of the design")
        self.name.editingFinished.connect(self._rename)
        self.body.addWidget(self.name)
        self.body.addWidget(label("GROUND", "section"))
        self.ground = QComboBox()
        self.ground.setObjectName("ground")
        self.ground.setAccessibleName("Ground")
        self.ground.addItems([one.name for one in grounds()])
        self.ground.activated.connect(self._take_ground)
        self.body.addWidget(self.ground)
        self.recipe = label("", "muted", wrap=True)
        self.body.addWidget(self.recipe)
        self.told = label("", "attention", wrap=True)
        self.told.setObjectName("groundTold")
        self.told.hide()
        self.body.addWidget(self.told)
        self.body.addWidget(label("HOOP AND SIZE", "section"))
        self.hoop = QComboBox()
        self.hoop.setObjectName("hoop")
        self.hoop.setAccessibleName("Hoop")
        self.hoop.addItems([f"{one.name}" for one in hoops()])
        self.hoop.activated.connect(self._take_hoop)
        self.body.addWidget(self.hoop)
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
        self.body.addWidget(label("THREADS", "section"))
        self.threads = QVBoxLayout()
        self.threads.setSpacing(2)
        self.body.addLayout(self.threads)
        self.unused = button("Drop unused threads", "dropThreads", self._drop_unused, "link")
        self.body.addWidget(self.unused)
        self.body.addWidget(button("Use another thread chart…", "loadChart", self._load_chart, "link"))
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
        self.hoop.setCurrentText(design.brief.hoop.name)
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
        clear(self.threads)
        for thread in design.brief.threads:
            self.threads.addWidget(self._thread_row(design, thread))

    def _thread_row(self, design: Design, thread: Thread) -> QPushButton:
        used = sum(item.thread == thread.code for item in design.objects)
        words = f"{thread.code}  {thread.name}   ·   {used} object{'' if used == 1 else 's'}"
        made = button(words, f"thread-{thread.code}", lambda: self._pick(thread, made), "row")
        made.setIcon(QIcon(swatch(thread.colour)))
        made.setIconSize(QSize(16, 16))
        made.setToolTip("Change this thread everywhere")
        return made

    def _pick(self, thread: Thread, near: QPushButton) -> None:
        def take(other: Thread) -> None:
            if self.document is not None:
                label_ = f"Change {thread.name} to {other.name}"
                self.document.edit(label_, set_thread(self.document.history.design, thread.code, other))

        picker = ThreadPicker(self, self.chart, thread, take)
        picker.move(near.mapToGlobal(near.rect().bottomLeft()))
        picker.show()

    def _drop_unused(self) -> None:
        if self.document is not None:
            self.document.edit("Drop unused threads", drop_unused_threads(self.document.history.design))

    def _rename(self) -> None:
        words = self.name.text().strip()
        if self.document is not None and words and words != self.document.design.name:
            self.document.edit("Rename", replace(self.document.history.design, name=words))

    def _take_ground(self, index: int) -> None:
        if self.document is None:
            return
        design = self.document.history.design
        ground = grounds()[index]
        if ground == design.brief.ground:
            return
        pins, follow = design.pins(), inherited_values(design)
        self.document.edit(f"Sew on {ground.name}", set_ground(design, ground))
        stay = (
            f"{pins} pinned value{' stays' if pins == 1 else 's stay'} as set by hand"
            if pins
            else "nothing was pinned"
        )
        self.told.setText(f"{follow} values now follow {ground.name}; {stay}.")
        self.told.show()

    def _take_hoop(self, index: int) -> None:
        if self.document is not None:
            hoop = hoops()[index]
            self.document.edit(f"Hoop {hoop.name}", set_hoop(self.document.history.design, hoop))

    def _resize(self, axis: int, mm: float) -> None:
        """Scale the whole design, artwork too, so that it is sewn at this width or height."""
        if self.document is None or self.document.sewn is None:
            return
        sums = self.document.sewn.totals
        own = sums.width if axis == 0 else sums.height
        if own <= 0 or abs(mm - own) < 0.005:
            return
        self.document.edit("Resize", scaled_design(self.document.history.design, mm / own))

    def _load_chart(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Thread chart", "", "Thread charts (*.csv)")
        if not name:
            return
        try:
            self.chart = read_chart(read_whole(Path(name)), Path(name).name)
        except JontelError as error:
            self.told.setText(str(error))
        else:
            self.told.setText(f"{len(self.chart)} threads of {Path(name).name} to choose from.")
        self.told.show()


def scaled_design(design: Design, factor: float) -> Design:
    """The whole design, its artwork too, scaled about the hoop's centre; stitches are computed anew."""
    ids = {item.id for item in design.objects}
    made = transform_objects(design, ids, (factor, 0, 0, factor, 0, 0))
    artwork = tuple(
        replace(one, x=one.x * factor, y=one.y * factor, width=one.width * factor, height=one.height * factor)
        for one in design.artwork
    )
    return replace(made, artwork=artwork)
