"""Starting the application."""

import signal
import sys
from pathlib import Path

import platformdirs
from PyQt6.QtCore import QSettings, QTimer
from PyQt6.QtWidgets import QApplication

from jontel import __version__
from jontel.app.session import Session
from jontel.app.theme import load_fonts
from jontel.app.window import MainWindow
from jontel.files.autosave import Autosave


def make_application() -> QApplication:
    """The one application object, with the shipped typeface."""
    found = QApplication.instance()
    app = found if isinstance(found, QApplication) else QApplication([sys.argv[0]])
    app.setApplicationName("jontel")
    app.setApplicationDisplayName("Jontel")
    app.setApplicationVersion(__version__)
    app.setDesktopFileName("jontel")
    load_fonts()
    return app


def make_window() -> MainWindow:
    """The window with the user's settings, and what a session that ended without asking left behind."""
    state = Path(platformdirs.user_state_dir("jontel"))
    settings = QSettings(
        str(Path(platformdirs.user_config_dir("jontel")) / "settings.ini"), QSettings.Format.IniFormat
    )
    autosave = Autosave(state / "autosave")
    session = Session(autosave)
    window = MainWindow(session, settings)
    recovered = autosave.left_behind()
    for one in recovered:
        document = session.open(one.design, one.path)
        document.mark_unsaved()
        one.slot.unlink(missing_ok=True)
        one.slot.with_suffix(".owner").unlink(missing_ok=True)
    if recovered:
        names = ", ".join(f"“{one.design.name}”" for one in recovered)
        window.notice.tell(f"The last session ended without closing; its work is back: {names}. Save what you keep.")
    return window


def start(files: list[Path], demo: bool = False) -> int:
    """Open the window and run until it is closed; returns the exit status."""
    app = make_application()
    window = make_window()
    window.show()
    if demo:
        window.open_demo()
    window.open_paths(files)
    if not window.session.documents:
        window.new_design()
    signal.signal(signal.SIGINT, lambda *_: app.quit())
    wake = QTimer(interval=400)
    wake.timeout.connect(lambda: None)  # lets Python see an interrupt while Qt waits
    wake.start()
    return app.exec()
