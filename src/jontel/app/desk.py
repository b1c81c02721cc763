"""The desk: designs are begun, opened, saved and closed here, and artwork brought in; what is asked is asked here."""

from __future__ import annotations

from pathlib import Path
from tempfile import TemporaryDirectory
from typing import TYPE_CHECKING

from PyQt6.QtCore import QByteArray, QMimeData, QSettings
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QFileDialog, QMenu, QMessageBox

from jontel.app.panels.brief import BriefPanel
from jontel.app.preferences import machine_of, rates_of, recent_designs, remember
from jontel.app.session import Document, Session
from jontel.app.stages import number_of
from jontel.app.threads import threads
from jontel.artwork.incoming import ENDINGS
from jontel.data import find_ground, find_hoop
from jontel.design import Brief, Design, JontelError
from jontel.design.edits import grouped_together
from jontel.design.words import many
from jontel.files.atomic import read_whole
from jontel.files.formats import is_stitch_file, open_design, recover_design, stitches_as_design
from jontel.shaping.clipping import put_in

if TYPE_CHECKING:
    from jontel.app.window import MainWindow

BRIEF = number_of("Brief")
PICTURES = f"Artwork ({' '.join(f'*.{one}' for one in ENDINGS)})"
WORKING = "Designs (*.jontel)"
STITCHES = "Stitch files (*.csv *.ngc)"


def read_as_design(path: Path) -> Design:
    """A new design of a drawing, or of the objects of a stitch file. Raises ``CannotRead``."""
    from jontel.artwork.digitize import design_from  # the readers are slow to load
    from jontel.shaping.digitizing import ready

    ground, hoop = find_ground("Woven twill"), find_hoop("130 x 180")
    if is_stitch_file(path):
        return recover_design(path, ground, hoop)
    made = design_from(read_whole(path), path.name, ground, hoop, threads().box.for_artwork())
    return ready(made, {item.id for item in made.objects})


def read_into(design: Design, path: Path) -> Design:
    """``design`` with a drawing digitized into it, or the objects of a stitch file. Raises ``CannotRead``."""
    from jontel.artwork.digitize import with_drawing
    from jontel.shaping.digitizing import ready

    if is_stitch_file(path):
        return put_in(design, recover_design(path, design.brief.ground, design.brief.hoop))[0]
    made = with_drawing(design, read_whole(path), path.name, threads().box.for_artwork())
    return ready(made, {item.id for item in made.objects} - {item.id for item in design.objects})


def read_stitches(path: Path, design: Design | None) -> Design:
    """The needle points of a stitch file as a design, or laid into one as a group. Raises ``CannotRead``."""
    if design is None:
        return stitches_as_design(path, find_ground("Woven twill"), find_hoop("130 x 180"))
    made, ids = put_in(design, stitches_as_design(path, design.brief.ground, design.brief.hoop))
    return grouped_together(made, ids)


class Desk:
    """The open designs and their files, with the window to show and to ask in."""

    def __init__(self, window: MainWindow, session: Session, settings: QSettings) -> None:
        self._window, self._session, self._settings = window, session, settings

    def new_design(self) -> None:
        """An empty design on the ground and in the hoop used last."""
        current = self._session.current
        brief = current.design.brief if current else Brief(find_ground("Woven twill"), find_hoop("130 x 180"), ())
        machine = current.design.brief.machine if current else machine_of(self._settings)
        rates = current.design.brief.rates if current else rates_of(self._settings)
        self._session.open(Design(name="New design", brief=Brief(brief.ground, brief.hoop, (), machine, rates)))
        self._window.show_stage(BRIEF)

    def open_demo(self) -> None:
        """Open the crest and the name bar."""
        from jontel.demo import crest, name_bar

        first = self._session.open(crest())
        self._session.open(name_bar())
        self._session.bring(first)

    def open_file(self) -> None:
        """Ask for working files or artwork and open them."""
        names, _ = QFileDialog.getOpenFileNames(
            self._window, "Open a design", self._folder(), f"{WORKING};;{PICTURES};;{STITCHES}"
        )
        self.open_paths([Path(name) for name in names])

    def open_paths(self, paths: list[Path]) -> None:
        """Open working files; artwork becomes a new design. What cannot be opened is named."""
        for path in paths:
            try:
                self._open_path(path)
            except JontelError as error:
                self._window.notice.tell(str(error), "spoils")
            else:
                self._settings.setValue("folder", str(path.parent))

    def _open_path(self, path: Path) -> None:
        known = next((d for d in self._session.documents if d.path is not None and d.path == path), None)
        if known is not None:
            self._session.bring(known)
        elif path.suffix.lower() == ".jontel" or path.is_dir() or not path.exists():
            design = self._window.aside(f"Opening {path.name}", lambda: open_design(path))
            if design is not None:
                document = self._session.open(design, path)
                self._remember(path)
                if document.claim is not None and document.claim.elsewhere:
                    self._window.notice.tell(
                        f"{path.name} is open in another running Jontel: who saves last replaces the other's work.",
                        "spoils",
                    )
        else:
            made = self._window.aside(f"Reading {path.name}", lambda: read_as_design(path))
            if made is not None:
                self._session.open(made)

    def open_stitches(self, into: bool = False) -> None:
        """Ask for a stitch file and open its needle points as they are, or lay them into the current design."""
        name, _ = QFileDialog.getOpenFileName(self._window, "Open as stitches", self._folder(), STITCHES)
        document = self._session.current if into else None
        if not name:
            return
        path, design = Path(name), document.history.design if document is not None else None
        try:
            made = self._window.aside(f"Reading {path.name}", lambda: read_stitches(path, design))
        except JontelError as error:
            self._window.notice.tell(str(error), "spoils")
            return
        if made is not None and document is not None and design is not None:
            document.edit(f"Bring in {path.name}", made)
            document.select({item.id for item in made.objects} - {item.id for item in design.objects})
        elif made is not None:
            self._session.open(made)

    def bring_in_artwork(self) -> None:
        """Ask for artwork and digitize it into the current design."""
        name, _ = QFileDialog.getOpenFileName(self._window, "Bring in artwork", self._folder(), PICTURES)
        if name:
            self.add_artwork(Path(name))

    def add_artwork(self, path: Path) -> None:
        """Digitize a file into the current design, or into a new one."""
        document = self._session.current
        try:
            if document is None:
                self._open_path(path)
                return
            design = document.history.design
            before = {item.id for item in design.objects}
            made = self._window.aside(f"Reading {path.name}", lambda: read_into(design, path))
            if made is not None:
                document.edit(f"Bring in {path.name}", made)
                document.select({item.id for item in made.objects} - before)
                self._window.canvas.fit()
                notes = made.artwork[-1].notes if len(made.artwork) > len(design.artwork) else ()
                count = len(made.objects) - len(before)
                left = f"; {many(len(notes), 'kind')} of things left out, see Artwork" if notes else ""
                self._window.notice.tell(f"{path.name} became {many(count, 'object')}{left}.")
        except JontelError as error:
            self._window.notice.tell(str(error), "spoils")

    def place_picture(self) -> None:
        """Ask for a picture to be drawn over."""
        names, _ = QFileDialog.getOpenFileNames(self._window, "Place pictures to draw over", self._folder(), PICTURES)
        for name in names:
            self.lay_down(Path(name))

    def lay_down(self, path: Path) -> None:
        """Lay a picture on the cloth of the current design, or of a new one: nothing is digitized."""
        from jontel.artwork.placing import placed

        if self._session.current is None:
            self.new_design()
        document = self._session.current
        if document is None:
            return
        design = document.history.design
        try:
            made = self._window.aside(f"Reading {path.name}", lambda: placed(design, read_whole(path), path.name))
        except JontelError as error:
            self._window.notice.tell(str(error), "spoils")
            return
        if made is not None:
            document.edit(f"Place {path.name}", made)
            one = made.artwork[-1]
            self._window.canvas.fit()
            size = f"{one.width:.0f} × {one.height:.0f} mm"
            self._window.notice.tell(
                f"{path.name} lies on the cloth, {size}: draw over it, or digitize it in Artwork."
            )

    def add_pasted(self, mime: QMimeData) -> None:
        """Bring in a drawing or a picture that another program put on the clipboard."""
        drawn = mime.data("image/svg+xml") if mime.hasFormat("image/svg+xml") else QByteArray()
        text = mime.text().lstrip() if mime.hasText() else ""
        if drawn.isEmpty() and text[:5].lower() in ("<svg ", "<?xml"):
            drawn = QByteArray(text.encode())
        with TemporaryDirectory(prefix="jontel-") as folder:
            path = Path(folder) / ("Pasted.png" if drawn.isEmpty() else "Pasted.svg")
            if not drawn.isEmpty():
                path.write_bytes(bytes(drawn.data()))
            else:
                picture = mime.imageData() if mime.hasImage() else None
                if not isinstance(picture, QImage) or not picture.save(str(path)):
                    self._window.notice.tell(
                        "The clipboard holds neither objects nor a picture that could be pasted."
                    )
                    return
            self.add_artwork(path)

    def save(self) -> bool:
        """Save where the design was opened from; false when it was not saved."""
        document = self._session.current
        if document is None:
            return False
        return self._save_to(document, document.path) if document.path else self.save_as()

    def save_as(self) -> bool:
        """Ask for a name and save there."""
        document = self._session.current
        if document is None:
            return False
        start = str(Path(self._folder()) / f"{document.design.name}.jontel")
        name, _ = QFileDialog.getSaveFileName(self._window, "Save the design", start, WORKING)
        if not name:
            return False
        path = Path(name)
        return self._save_to(document, path if path.suffix == ".jontel" else path.with_name(path.name + ".jontel"))

    def _save_to(self, document: Document, path: Path) -> bool:
        try:
            design = document.history.design
            if not self._may_replace(document, path):
                return False
            if self._window.aside(f"Saving {path.name}", lambda: document.write(path)) is None:
                return False
        except JontelError as error:
            self._window.notice.tell(str(error), "spoils")
            return False
        document.saved_as(path, design)
        self._remember(path)
        self._settings.setValue("folder", str(path.parent))
        self._window.notice.tell(f"Saved as {path.name}.")
        return True

    def _may_replace(self, document: Document, path: Path) -> bool:
        """Whether a file may be written over: asked when another program changed it since it was opened or saved."""
        if document.path != path or document.claim is None or not document.claim.changed():
            return True
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self._window,
            "Another program changed the file",
            f"{path.name} was changed by another program since it was opened or saved here. "
            "Save over what is there now?",
            buttons.Save | buttons.Cancel,
            buttons.Cancel,
        )
        return bool(answer == buttons.Save)

    def _remember(self, path: Path) -> None:
        remember(self._settings, path)
        self.show_recents()

    def show_recents(self) -> None:
        """Offer the designs that were open before in the Brief of an empty one."""
        brief = self._window.panels[BRIEF]
        assert isinstance(brief, BriefPanel)
        brief.show_recents(recent_designs(self._settings), lambda path: self.open_paths([path]))

    def open_recent(self) -> None:
        """Offer the designs that were open before."""
        menu = QMenu(self._window)
        menu.setObjectName("recentMenu")
        for path in recent_designs(self._settings):
            action = menu.addAction(path.stem)
            if action is not None:
                action.setToolTip(str(path))
                action.triggered.connect(lambda _on=False, path=path: self.open_paths([path]))
        if menu.isEmpty():
            self._window.notice.tell("No design was saved or opened yet.")
        else:
            menu.popup(self._window.tabs.mapToGlobal(self._window.tabs.rect().bottomLeft()))

    def _folder(self) -> str:
        return str(self._settings.value("folder", str(Path.home())))

    # closing

    def close_current(self) -> None:
        """Close the design in front."""
        if self._session.current is not None:
            self.close_document(self._session.current)

    def close_document(self, document: Document) -> bool:
        """Close a design; unsaved work is asked about. False when the user thought better of it."""
        if document.modified and not self._may_lose(document):
            return False
        self._session.close(document)
        return True

    def _may_lose(self, document: Document) -> bool:
        self._session.bring(document)
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self._window,
            "Save before closing?",
            f"“{document.design.name}” has changes that no file holds.",
            buttons.Save | buttons.Discard | buttons.Cancel,
            buttons.Save,
        )
        if answer == buttons.Save:
            return self.save()
        return bool(answer == buttons.Discard)
