"""Sew-out: totals, the proof's findings with their fixes, the files for the machine, and the machine itself."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QStandardPaths, pyqtBoundSignal, pyqtSignal
from PyQt6.QtGui import QHideEvent, QShowEvent
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from jontel.app.panels.base import Panel
from jontel.app.panels.charts import ChartsBox
from jontel.app.panels.machine import MachineBox
from jontel.app.panels.parts import button, card, clear, label, restyle, rule
from jontel.app.panels.versions import VersionsBox
from jontel.app.session import Document
from jontel.design import Design, JontelError
from jontel.design.errors import CannotDo
from jontel.design.words import grouped, many, minutes
from jontel.files.formats import Part, export, formats, stem_of
from jontel.sewing.costs import Costs
from jontel.sewing.estimate import Totals
from jontel.sewing.proof import Finding
from jontel.sewing.proof.accepting import accept, taken_back, told_apart
from jontel.stitching.stitches import Kind

CHOSEN = (".ngc", ".pdf")
MOST_CARDS = 30
FORETOLD = 1000
"""From this number on a card is a finding of the forecast."""


def usual_folder() -> Path:
    """The user's documents, or the home folder where there is none."""
    documents = Path(QStandardPaths.writableLocation(QStandardPaths.StandardLocation.DocumentsLocation))
    return documents if documents.is_dir() else Path.home()


PARTS = ("Everything", "The selected objects", "From the playhead on")


def taken(costs: Costs) -> str:
    """What a sew-out takes besides its thread, and what it costs, in words."""
    words = [f"Bobbin thread {costs.bobbin:.0f} m ({costs.bobbins:.1f} bobbins)"]
    for name, size in (("backing", costs.backing), ("film on top", costs.film)):
        if size is not None:
            words.append(f"{name} {size[0] / 10:.0f} × {size[1] / 10:.0f} cm")
    shares = {
        "machine": costs.time,
        "thread": costs.thread,
        "backing": costs.material,
        "setting up": costs.setting_up,
    }
    parts = [f"{name} {value:.2f}" for name, value in shares.items() if value >= 0.005]
    return f"{', '.join(words)}. Costs {costs.whole:.2f}" + (f": {', '.join(parts)}." if len(parts) > 1 else ".")


def _exported(design: Design, path: Path, part: Part | None = None) -> bool:
    export(design, path, part)
    return True


class SewOutPanel(Panel):
    """The panel of the Sew-out stage."""

    title = "Sew-out"
    told = pyqtSignal(str, str)
    look_at = pyqtSignal(float, float)

    def __init__(self, aside: Callable[[str, Callable[[], Any]], Any]) -> None:
        super().__init__()
        self._aside = aside
        self.body.addWidget(label("Sew-out", "title"))
        self.totals = QGridLayout()
        self.totals.setVerticalSpacing(1)
        self.body.addLayout(self.totals)
        self.takes = label("", "muted", wrap=True)
        self.takes.setObjectName("takes")
        self.body.addWidget(self.takes)
        self.charts = ChartsBox(self.theme)
        self.body.addWidget(self.charts)
        self.body.addWidget(rule())
        self.proof = label("PROOF", "section")
        self.body.addWidget(self.proof)
        self.findings = QVBoxLayout()
        self.findings.setSpacing(6)
        self.body.addLayout(self.findings)
        self.body.addWidget(rule())
        self.body.addWidget(label("FILES", "section"))
        self.boxes: dict[str, QCheckBox] = {}
        for one in formats().values():
            if one.ending == ".jontel":
                continue
            box = QCheckBox(f"{one.title.capitalize()}  {one.ending}")
            box.setObjectName(f"write{one.ending}")
            box.setChecked(one.ending in CHOSEN)
            box.toggled.connect(self._count)
            self.body.addWidget(box)
            self.boxes[one.ending] = box
        place = QHBoxLayout()
        self.folder = QLineEdit(str(usual_folder()))
        self.folder.setObjectName("exportFolder")
        self.folder.setAccessibleName("Folder for the files")
        place.addWidget(self.folder, 1)
        place.addWidget(button("…", "chooseFolder", self._choose))
        self.body.addLayout(place)
        self.part = QComboBox()
        self.part.setObjectName("writePart")
        self.part.setAccessibleName("What is written")
        self.part.addItems(PARTS)
        self.part.setToolTip(
            "A part sews in register: it begins at the zero of the rulers, where the machine waits for your look."
        )
        self.body.addWidget(self.part)
        self.write = button("", "writeFiles", self.write_files, "main")
        self.body.addWidget(self.write)
        self.written = label("", "muted", wrap=True)
        self.written.setObjectName("written")
        self.body.addWidget(self.written)
        self.body.addWidget(rule())
        self.body.addWidget(label("VERSIONS", "section"))
        self.versions = VersionsBox()
        self.versions.told.connect(self.told)
        self.body.addWidget(self.versions)
        self.body.addWidget(rule())
        self.body.addWidget(label("MACHINE", "section"))
        self.machine = MachineBox(aside)
        self.machine.told.connect(self.told)
        self.body.addWidget(self.machine)
        self.body.addWidget(rule())
        self.foreseen = label("FORECAST", "section")
        self.body.addWidget(self.foreseen)
        self.foreseeing = QVBoxLayout()
        self.foreseeing.setSpacing(6)
        self.body.addLayout(self.foreseeing)
        self.body.addStretch(1)
        self._opened = False
        self._shown: object = None
        self._foreseen: object = ()
        self._totals: list[QLabel] = []
        self._count()

    @staticmethod
    def _signals(document: Document) -> tuple[pyqtBoundSignal, ...]:
        return (document.findings_changed, document.forecasting.changed)

    def show_document(self, document: Document | None) -> None:
        """Show another document; its forecast is worked out while this is seen."""
        if self.document is not None:
            self.document.forecasting.want("proof", False)
        super().show_document(document)
        self.machine.show_document(document)
        self.charts.show_document(document)
        self.versions.show_document(document)
        self._look(self.isVisible())

    def showEvent(self, event: QShowEvent | None) -> None:
        """Work the forecast out while it is looked at."""
        super().showEvent(event)
        self._look(True)

    def hideEvent(self, event: QHideEvent | None) -> None:
        """No longer."""
        super().hideEvent(event)
        self._look(False)

    def _look(self, on: bool) -> None:
        if self.document is not None:
            self.document.forecasting.want("proof", on)

    def rebuild(self) -> None:
        """Show the findings again."""
        self.charts.dress(self.theme)
        self._shown, self._foreseen = None, ()

    def refresh(self) -> None:
        """Show totals and findings."""
        assert self.document is not None
        sewn = self.document.sewn
        if sewn is None:
            return
        self._show_totals(sewn.totals)
        self.takes.setText(taken(sewn.costs))
        self._show_foreseen()
        self.charts.refresh()
        self.versions.refresh()
        told = (
            [(one.kind, one.sentence, [fix.label for fix in one.fixes]) for one in sewn.findings],
            [one.sentence for one in sewn.accepted],
            self._opened,
        )
        if told == self._shown:
            return
        self._shown = told
        clear(self.findings)
        many_found = many(len(sewn.findings), "finding").upper()
        self.proof.setText(f"PROOF · {many_found}" if sewn.findings else "PROOF")
        if not sewn.findings:
            more = " else" if sewn.accepted else ""
            self.findings.addWidget(label(f"Nothing{more} found: ready to sew.", "muted"))
        for number, finding in enumerate(sewn.findings[:MOST_CARDS]):
            self.findings.addWidget(self._card(number, finding))
        if len(sewn.findings) > MOST_CARDS:
            self.findings.addWidget(label(f"and {len(sewn.findings) - MOST_CARDS} more: mend these first.", "muted"))
        if sewn.accepted:
            words = f"{many(len(sewn.accepted), 'finding')} accepted"
            self.findings.addWidget(
                button(
                    f"Hide the {words}" if self._opened else f"Show the {words}", "showAccepted", self._open, "link"
                )
            )
        for number, finding in enumerate(sewn.accepted[:MOST_CARDS] if self._opened else ()):
            self.findings.addWidget(self._accepted_card(number, finding))

    def _open(self) -> None:
        """Show or hide what was accepted."""
        self._opened = not self._opened
        self.refresh()

    def _show_foreseen(self) -> None:
        """What the forecast finds."""
        assert self.document is not None
        found = self._foretold()
        told = None if found is None else [one.sentence for one in found]
        if told == self._foreseen:
            return
        self._foreseen = told
        clear(self.foreseeing)
        if found is None:
            self.foreseeing.addWidget(label("Working out where it will lie…", "muted"))
        elif not found:
            self.foreseeing.addWidget(label("Nothing opens, nothing is pulled out of round.", "muted"))
        for number, finding in enumerate((found or ())[:MOST_CARDS]):
            self.foreseeing.addWidget(self._card(FORETOLD + number, finding))

    def _foretold(self) -> tuple[Finding, ...] | None:
        """The findings of the forecast; ``None`` while they are not known."""
        document = self.document
        seen = document.forecasting.seen if document is not None else None
        if document is None or seen is None or document.sewn is None or seen.whole.plan is not document.sewn.plan:
            return None
        return told_apart(seen.findings, document.history.design)[0]

    def _show_totals(self, sums: Totals) -> None:
        facts = (
            (grouped(sums.stitches), "stitches"),
            (minutes(sums.seconds), "sewing time"),
            (str(sums.changes), "thread changes"),
            (str(sums.trims), "trims"),
            (f"{sum(sums.metres):.0f} m", "of thread"),
            (f"{sums.width:.1f} × {sums.height:.1f}", "mm wide, high"),
        )
        for k, (number, words) in enumerate(facts):
            if len(self._totals) <= k:
                self._totals.append(label("", "number"))
                self.totals.addWidget(self._totals[k], k // 3 * 2, k % 3)
                self.totals.addWidget(label(words, "muted"), k // 3 * 2 + 1, k % 3)
            self._totals[k].setText(number)

    def _card(self, number: int, finding: Finding) -> QWidget:
        made, column = card()
        words = label(finding.sentence, wrap=True)
        words.setProperty("severity", finding.severity)
        restyle(words)
        column.addWidget(words)
        row = QHBoxLayout()
        row.addWidget(button("Show", "showFinding", lambda: self._show(number), "link"))
        if len(finding.fixes) == 1:
            row.addWidget(button("Mend it", "mendFinding", lambda: self._mend(number, 0), "link"))
            made.setToolTip(finding.fixes[0].label)
        row.addStretch(1)
        accepting = button("Accept", "acceptFinding", lambda: self._accept(number), "link")
        accepting.setToolTip("It is meant so: remembered with the design, and not counted from now on.")
        row.addWidget(accepting)
        column.addLayout(row)
        if len(finding.fixes) > 1:
            for which, fix in enumerate(finding.fixes):
                name = "mendFinding" if which == 0 else f"mendFinding{which}"
                column.addWidget(button(fix.label, name, lambda which=which: self._mend(number, which), "link"))
        return made

    def _accepted_card(self, number: int, finding: Finding) -> QWidget:
        made, column = card()
        column.addWidget(label(finding.sentence, "muted", wrap=True))
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(button("Count it again", f"countFinding{number}", lambda: self._count_again(number), "link"))
        column.addLayout(row)
        return made

    def _accept(self, number: int) -> None:
        finding = self._finding(number)
        if finding is not None and self.document is not None:
            self.document.edit("Accept a finding", accept(self.document.history.design, finding))

    def _count_again(self, number: int) -> None:
        sewn = self.document.sewn if self.document else None
        if self.document is not None and sewn is not None and number < len(sewn.accepted):
            design = taken_back(self.document.history.design, sewn.accepted[number])
            self.document.edit("Count a finding again", design)

    def _finding(self, number: int) -> Finding | None:
        """A finding as the last proof found it: its card stays while it says the same."""
        sewn = self.document.sewn if self.document else None
        if number >= FORETOLD:
            foretold = self._foretold() or ()
            return foretold[number - FORETOLD] if number - FORETOLD < len(foretold) else None
        return sewn.findings[number] if sewn is not None and number < len(sewn.findings) else None

    def _show(self, number: int) -> None:
        finding = self._finding(number)
        if finding is None or self.document is None:
            return
        self.document.select(set(finding.objects[:1]))
        if finding.place is not None:
            self.look_at.emit(*finding.place)

    def _mend(self, number: int, which: int) -> None:
        finding = self._finding(number)
        if finding is not None and self.document is not None:
            fix, document = finding.fixes[which], self.document
            if fix.slow:
                design, chosen = document.history.design, document.selection
                document.edit_aside(fix.label, lambda: (fix.edit(design), chosen))
            else:
                document.edit(fix.label, fix.edit(document.history.design))

    def _count(self) -> None:
        many = sum(box.isChecked() for box in self.boxes.values())
        self.write.setText(f"Write {many} file{'' if many == 1 else 's'}")
        self.write.setEnabled(many > 0)

    def _choose(self) -> None:
        name = QFileDialog.getExistingDirectory(self, "Folder for the files", self.folder.text())
        if name:
            self.folder.setText(name)

    def _part(self) -> Part | None:
        """What of the design is to be written. Raises ``CannotDo``."""
        document = self.document
        assert document is not None
        known = document.design.zero
        match self.part.currentIndex():
            case 1:
                if not document.selection:
                    raise CannotDo("Nothing is selected; select the objects that are to be sewn again.")
                return Part(ids=document.selection, known=known)
            case 2:
                row, sewn = document.playhead, document.sewn
                if row is None or sewn is None:
                    raise CannotDo("The playhead stands at the end; drag it to where the sew-out is to go on.")
                stitch = int((sewn.plan.kind[: row + 1] == Kind.STITCH).sum())
                return Part(stitch=max(2, stitch), known=known)
        return None

    def write_files(self) -> None:
        """Write the chosen formats; the first that cannot be written is named."""
        if self.document is None:
            return
        design = self.document.history.design
        stem = stem_of(design)
        folder = Path(self.folder.text()).expanduser()
        try:
            part = self._part()
        except CannotDo as error:
            self.told.emit(str(error), "spoils")
            return
        stem += "" if part is None else " part"
        done: list[str] = []
        for ending, box in self.boxes.items():
            if box.isChecked():
                path = folder / f"{stem}{ending}"
                try:
                    if not self._aside(f"Writing {path.name}", lambda path=path: _exported(design, path, part)):
                        break
                except JontelError as error:
                    self.told.emit(str(error), "spoils")
                    break
                done.append(f"{stem}{ending}")
        if done:
            self.written.setText(f"Written to {folder}: {', '.join(done)}")
