"""Sew-out: totals, the proof's findings with their fixes, and the files for the machine."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QStandardPaths, pyqtBoundSignal, pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QFileDialog,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from jontel.app.panels.base import Panel
from jontel.app.panels.parts import button, clear, label, restyle, rule
from jontel.app.session import Document
from jontel.design import Design, JontelError
from jontel.design.words import grouped, minutes
from jontel.files.formats import export, formats
from jontel.sewing.proof import Finding, Fix

CHOSEN = (".ngc", ".pdf")


def usual_folder() -> Path:
    """The user's documents, or the home folder where there is none."""
    documents = Path(QStandardPaths.writableLocation(QStandardPaths.StandardLocation.DocumentsLocation))
    return documents if documents.is_dir() else Path.home()


def _exported(design: Design, path: Path) -> bool:
    export(design, path)
    return True


class SewOutPanel(Panel):
    """The panel of the Sew-out stage."""

    title = "Sew-out"
    told = pyqtSignal(str, str)
    look_at = pyqtSignal(float, float)

    def __init__(self, aside: Callable[[str, Callable[[], bool]], bool | None]) -> None:
        super().__init__()
        self._aside = aside
        self.body.addWidget(label("Sew-out", "title"))
        self.totals = QGridLayout()
        self.totals.setVerticalSpacing(1)
        self.body.addLayout(self.totals)
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
        self.write = button("", "writeFiles", self.write_files, "main")
        self.body.addWidget(self.write)
        self.written = label("", "muted", wrap=True)
        self.written.setObjectName("written")
        self.body.addWidget(self.written)
        self.body.addStretch(1)
        self._shown: object = None
        self._count()

    @staticmethod
    def _signals(document: Document) -> tuple[pyqtBoundSignal, ...]:
        return (document.findings_changed, document.selection_changed)

    def rebuild(self) -> None:
        """Show the findings again."""
        self._shown = None

    def refresh(self) -> None:
        """Show totals and findings."""
        assert self.document is not None
        sewn = self.document.sewn
        if sewn is None or sewn is self._shown:
            return
        self._shown = sewn
        sums = sewn.totals
        while self.totals.count():
            taken = self.totals.takeAt(0)
            widget = taken.widget() if taken else None
            if widget is not None:
                widget.deleteLater()
        facts = (
            (grouped(sums.stitches), "stitches"),
            (minutes(sums.seconds), "sewing time"),
            (str(sums.changes), "thread changes"),
            (str(sums.trims), "trims"),
            (f"{sum(sums.metres):.0f} m", "of thread"),
            (f"{sums.width:.1f} × {sums.height:.1f}", "mm wide, high"),
        )
        for k, (number, words) in enumerate(facts):
            self.totals.addWidget(label(number, "number"), k // 3 * 2, k % 3)
            self.totals.addWidget(label(words, "muted"), k // 3 * 2 + 1, k % 3)
        clear(self.findings)
        self.proof.setText(
            f"PROOF · {len(sewn.findings)} FINDING{'' if len(sewn.findings) == 1 else 'S'}"
            if sewn.findings
            else "PROOF"
        )
        if not sewn.findings:
            self.findings.addWidget(label("Nothing found: ready to sew.", "muted"))
        for finding in sewn.findings[:30]:
            self.findings.addWidget(self._card(finding))

    def _card(self, finding: Finding) -> QWidget:
        card = QFrame()
        card.setProperty("role", "card")
        column = QVBoxLayout(card)
        column.setContentsMargins(10, 8, 10, 6)
        column.setSpacing(2)
        words = label(finding.sentence, wrap=True)
        words.setProperty("severity", finding.severity)
        restyle(words)
        column.addWidget(words)
        row = QHBoxLayout()
        row.addWidget(button("Show", "showFinding", lambda: self._show(finding), "link"))
        if len(finding.fixes) == 1:
            row.addWidget(button("Mend it", "mendFinding", lambda: self._mend(finding.fixes[0]), "link"))
            card.setToolTip(finding.fixes[0].label)
        row.addStretch(1)
        column.addLayout(row)
        if len(finding.fixes) > 1:
            for number, fix in enumerate(finding.fixes):
                name = "mendFinding" if number == 0 else f"mendFinding{number}"
                column.addWidget(button(fix.label, name, lambda fix=fix: self._mend(fix), "link"))
        return card

    def _show(self, finding: Finding) -> None:
        if self.document is not None:
            self.document.select(set(finding.objects[:1]))
        if finding.place is not None:
            self.look_at.emit(*finding.place)

    def _mend(self, fix: Fix) -> None:
        if self.document is not None:
            self.document.edit(fix.label, fix.edit(self.document.history.design))

    def _count(self) -> None:
        many = sum(box.isChecked() for box in self.boxes.values())
        self.write.setText(f"Write {many} file{'' if many == 1 else 's'}")
        self.write.setEnabled(many > 0)

    def _choose(self) -> None:
        name = QFileDialog.getExistingDirectory(self, "Folder for the files", self.folder.text())
        if name:
            self.folder.setText(name)

    def write_files(self) -> None:
        """Write the chosen formats; the first that cannot be written is named."""
        if self.document is None:
            return
        design = self.document.history.design
        stem = "".join(c if c.isalnum() or c in " -_." else "-" for c in design.name).strip() or "design"
        folder = Path(self.folder.text()).expanduser()
        done: list[str] = []
        for ending, box in self.boxes.items():
            if box.isChecked():
                path = folder / f"{stem}{ending}"
                try:
                    if not self._aside(f"Writing {path.name}", lambda path=path: _exported(design, path)):
                        break
                except JontelError as error:
                    self.told.emit(str(error), "spoils")
                    break
                done.append(f"{stem}{ending}")
        if done:
            self.written.setText(f"Written to {folder}: {', '.join(done)}")
