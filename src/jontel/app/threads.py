"""The user's thread box, the same for every window and every design."""

from functools import cache
from pathlib import Path

import platformdirs
from PyQt6.QtCore import QObject, pyqtSignal

from jontel.files.threadbox import ThreadBox


class Threads(QObject):
    """The box, and word of what changes in it."""

    changed = pyqtSignal()

    def __init__(self, folder: Path) -> None:
        super().__init__()
        self.box = ThreadBox.of(folder)


@cache
def threads() -> Threads:
    """The user's threads; read when first asked for."""
    return Threads(Path(platformdirs.user_config_dir("jontel")) / "threads")
