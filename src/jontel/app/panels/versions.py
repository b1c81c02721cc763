"""States of a design that are kept by name: with a note and a photo of the test sew-out; compared, gone back to."""

from __future__ import annotations

import datetime
import io
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from jontel.app.panels.parts import button, card, clear, label
from jontel.app.session import Document
from jontel.design import Design
from jontel.design.design import Version
from jontel.design.errors import CannotDo
from jontel.design.versions import back_to, differences, state_of, with_photo, with_version, without_version
from jontel.files.atomic import read_whole

LARGEST_SIDE, QUALITY = 1600, 85
"""Photos are kept no larger than so many pixels, as a JPEG of this quality."""
SHOWN = 96
PICTURES = "Pictures (*.png *.jpg *.jpeg *.webp)"
MOST_TOLD = 12


def photo_from(path: Path) -> bytes:
    """A photo from a file, upright and small enough to be kept. Raises ``CannotRead``."""
    from PIL import Image  # what opens pictures is slow to load, and only needed here

    from jontel.artwork.picture import open_picture

    picture = open_picture(read_whole(path), path.name).convert("RGB")
    picture.thumbnail((LARGEST_SIDE, LARGEST_SIDE), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=QUALITY)
    return out.getvalue()


class VersionsBox(QWidget):
    """Keeps the present state under a name, and shows those that were kept, the last first."""

    told = pyqtSignal(str, str)

    def __init__(self) -> None:
        super().__init__()
        self._document: Document | None = None
        self._shown: tuple[Version, ...] | None = None
        self._told: dict[int, tuple[str, ...]] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.name = QLineEdit()
        self.name.setObjectName("versionName")
        self.name.setAccessibleName("Name of this state")
        self.name.setPlaceholderText("Name, as “first test on piqué”")
        self.note = QLineEdit()
        self.note.setObjectName("versionNote")
        self.note.setAccessibleName("Note about this state")
        self.note.setPlaceholderText("What was seen on the sew-out")
        column.addWidget(self.name)
        column.addWidget(self.note)
        column.addWidget(button("Keep this state", "keepVersion", self._keep))
        self.rows = QVBoxLayout()
        self.rows.setSpacing(6)
        column.addLayout(self.rows)

    def show_document(self, document: Document | None) -> None:
        """Show the states of another document."""
        self._document, self._shown, self._told = document, None, {}
        self.refresh()

    def refresh(self) -> None:
        """Show the states that are kept."""
        versions = self._document.history.design.versions if self._document is not None else ()
        if versions == self._shown:
            return
        self._shown = versions
        self._told = {number: told for number, told in self._told.items() if number < len(versions)}
        clear(self.rows)
        for number in reversed(range(len(versions))):
            self.rows.addWidget(self._card(number, versions[number]))

    def _card(self, number: int, version: Version) -> QWidget:
        made, column = card()
        column.addWidget(label(f"{version.name}  ·  {version.when}", wrap=True))
        if version.note:
            column.addWidget(label(version.note, "muted", wrap=True))
        if version.photo:
            picture = QPixmap()
            picture.loadFromData(version.photo)
            shown = label("")
            shown.setObjectName(f"versionPhoto{number}")
            shown.setPixmap(
                picture.scaled(
                    SHOWN * 2,
                    SHOWN,
                    Qt.AspectRatioMode.KeepAspectRatio,
                    Qt.TransformationMode.SmoothTransformation,
                )
            )
            column.addWidget(shown)
        for words in self._told.get(number, ())[:MOST_TOLD]:
            column.addWidget(label(words, "muted", wrap=True))
        if len(self._told.get(number, ())) > MOST_TOLD:
            column.addWidget(label(f"and {len(self._told[number]) - MOST_TOLD} more.", "muted"))
        acts: tuple[tuple[str, str, Callable[[], object]], ...] = (
            ("Compare", "compareVersion", lambda: self._compare(number)),
            ("Photo…", "photoVersion", lambda: self._photograph(number)),
            ("Forget", "forgetVersion", lambda: self._edit("Forget a state", without_version, number)),
            ("Back to it", "backToVersion", lambda: self._edit(f"Back to “{version.name}”", back_to, number)),
        )
        row = QHBoxLayout()
        for words, name, does in acts:
            row.addWidget(button(words, f"{name}{number}", does, "link"))
        row.addStretch(1)
        column.addLayout(row)
        return made

    def _keep(self) -> None:
        if self._document is None:
            return
        design = self._document.history.design
        name = self.name.text().strip() or f"State {len(design.versions) + 1}"
        when = datetime.datetime.now().strftime("%Y-%m-%d %H:%M")
        try:
            made = with_version(design, name[:200], self.note.text().strip()[:2000], when)
        except CannotDo as refused:
            self.told.emit(str(refused), "")
            return
        self.name.clear()
        self.note.clear()
        self._document.edit(f"Keep “{name[:40]}”", made)
        self.refresh()

    def _edit(self, title: str, change: Callable[[Design, int], Design], number: int) -> None:
        if self._document is not None and number < len(self._document.history.design.versions):
            self._told = {}
            self._document.edit(title, change(self._document.history.design, number), locked_too=True)
            self._shown = None
            self.refresh()

    def _compare(self, number: int) -> None:
        """Say what changed since a state was kept."""
        document = self._document
        if document is None or number >= len(document.history.design.versions):
            return
        design = document.history.design
        before = design.versions[number].state

        def done(found: tuple[str, ...]) -> None:
            if self._document is document and document.history.design is design:
                self._told = {number: found or ("Nothing that is sewn has changed since.",)}
                self._shown = None
                self.refresh()

        document.ask(lambda: differences(before, state_of(design)), done)

    def _photograph(self, number: int) -> None:
        """Keep a photo of the sew-out with a state."""
        document = self._document
        name, _ = QFileDialog.getOpenFileName(self, "Photo of the sew-out", "", PICTURES)
        if document is None or not name:
            return

        def done(photo: bytes) -> None:
            design = document.history.design
            if number < len(design.versions):
                document.edit("Photo of a sew-out", with_photo(design, number, photo))
                self.refresh()

        document.ask(lambda: photo_from(Path(name)), done, lambda error: self.told.emit(str(error), "spoils"))
