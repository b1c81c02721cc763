"""What the user chose that counts for all designs: kept between sessions, and never trusted blindly."""

from pathlib import Path

import msgspec
from PyQt6.QtCore import QSettings

from jontel.design.machine import STANDARD, MachineProfile

MOST_RECENT = 8


def machine_of(settings: QSettings) -> MachineProfile:
    """The machine that new designs are sewn on."""
    try:
        return msgspec.json.decode(str(settings.value("machine", "")), type=MachineProfile)
    except msgspec.DecodeError:
        return STANDARD


def recent_designs(settings: QSettings) -> list[Path]:
    """The working files that were open last, newest first, as far as they are still there."""
    found = settings.value("recent", [])
    names = [found] if isinstance(found, str) else list(found or [])
    return [Path(str(name)) for name in names if Path(str(name)).is_file()]


def remember(settings: QSettings, path: Path) -> None:
    """``path`` was opened or saved."""
    path = path.resolve()
    rest = [one for one in recent_designs(settings) if one != path]
    settings.setValue("recent", [str(one) for one in [path, *rest][:MOST_RECENT]])
