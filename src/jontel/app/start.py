"""Starting the application."""

import gc
import logging
import os
import signal
import sys
import threading
from pathlib import Path
from typing import NoReturn

import platformdirs
from PyQt6.QtCore import QSettings, QTimer
from PyQt6.QtWidgets import QApplication

from jontel import __version__
from jontel.app.faults import FAULTS
from jontel.app.jobs import end_all
from jontel.app.session import Session
from jontel.app.theme import load_fonts
from jontel.app.window import MainWindow
from jontel.design.store import use_shelf
from jontel.files.autosave import Autosave
from jontel.files.shelf import FolderShelf


def make_application() -> QApplication:
    """The one application object, with the shipped typeface."""
    found = QApplication.instance()
    app = found if isinstance(found, QApplication) else QApplication([sys.argv[0]])
    if found is None:
        gc.freeze()  # what is loaded stays; what a closed design leaves is looked for in the rest, and sooner found
    app.setApplicationName("jontel")
    app.setApplicationDisplayName("Jontel")
    app.setApplicationVersion(__version__)
    app.setDesktopFileName("jontel")
    sys.setswitchinterval(0.001)  # what is computed aside gives way to the window within a millisecond
    gc.set_threshold(50_000, 20, 40)  # a design is thousands of values that live long: look through them seldom
    load_fonts()
    return app


def make_window() -> MainWindow:
    """The window with the user's settings, and what a session that ended without asking left behind."""
    state = Path(platformdirs.user_state_dir("jontel"))
    settings = QSettings(
        str(Path(platformdirs.user_config_dir("jontel")) / "settings.ini"), QSettings.Format.IniFormat
    )
    FAULTS.keep_log(state)
    shelf = FolderShelf(Path(platformdirs.user_cache_dir("jontel")) / "columns")
    use_shelf(shelf)
    threading.Thread(target=shelf.tidy, name="shelf", daemon=True).start()
    autosave = Autosave(state / "autosave")
    session = Session(autosave)
    window = MainWindow(session, settings)
    found = autosave.left_behind()
    for one in found.recovered:
        session.open(one.design, one.path, one.slot).mark_unsaved()
    words = list(found.troubles)
    if found.recovered:
        names = ", ".join(f"“{one.design.name}”" for one in found.recovered)
        words.insert(0, f"The last session ended without closing; its work is back: {names}. Save what you keep.")
    if words:
        window.notice.tell(" ".join(words), "spoils" if found.troubles else "")
    return window


def leave(window: MainWindow, status: int) -> NoReturn:
    """End the process in order: settings and log on disk, no thread at work, nothing left for Qt to take down.

    What Python and Qt would do on the way out depends on the order in which they let go of each other's objects, and
    now and then it ends in a crash after all work is done.
    """
    for document in list(window.session.documents):
        document.leave_behind()  # whoever ended the program did not ask to lose what is open
    end_all()
    window.settings.sync()
    logging.shutdown()
    sys.stdout.flush()
    sys.stderr.flush()
    os._exit(status)


def start(files: list[Path], demo: bool = False) -> NoReturn:
    """Open the window and run until it is closed, then end the process with the exit status."""
    FAULTS.install()
    app = make_application()
    window = make_window()
    window.show()
    if demo:
        window.desk.open_demo()
    window.desk.open_paths(files)
    if not window.session.documents:
        window.desk.new_design()
    signal.signal(signal.SIGINT, lambda *_: app.exit(0))  # quit would ask to save, and nobody is there to answer
    wake = QTimer(interval=400)
    wake.timeout.connect(lambda: None)  # lets Python see an interrupt while Qt waits
    wake.start()
    status = app.exec()
    leave(window, status)
