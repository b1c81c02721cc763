"""What the user chose that counts for all designs: kept between sessions, and never trusted blindly."""

from pathlib import Path
from typing import TypeVar

import msgspec
import platformdirs
from PyQt6.QtCore import QSettings
from PyQt6.QtGui import QScreen
from PyQt6.QtWidgets import QWidget

from jontel.design.machine import STANDARD, USUAL_RATES, MachineProfile, Rates

MOST_RECENT = 8
Kept = TypeVar("Kept", bound=msgspec.Struct)


def machine_of(settings: QSettings) -> MachineProfile:
    """The machine that new designs are sewn on."""
    return _kept(settings, "machine", STANDARD)


def rates_of(settings: QSettings) -> Rates:
    """What the shop pays, for new designs."""
    return _kept(settings, "rates", USUAL_RATES)


def _kept(settings: QSettings, name: str, usual: Kept) -> Kept:
    """What is kept under a name, or what is usual where that is nothing that can be read."""
    try:
        return msgspec.json.decode(str(settings.value(name, "")), type=type(usual))
    except msgspec.DecodeError:
        return usual


def own_grounds_folder() -> Path:
    """Where the user's own grounds lie."""
    return Path(platformdirs.user_config_dir("jontel")) / "grounds"


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


def grid_of(settings: QSettings) -> float:
    """The size of the grid that was used last, mm."""
    try:
        step = float(str(settings.value("grid", "5")))
    except ValueError:
        return 5.0
    return step if 0.1 <= step <= 500.0 else 5.0


def pixels_per_mm(settings: QSettings, window: QWidget) -> float:
    """How many pixels of the window's screen are a mm: as it was measured, or as the screen says of itself."""
    screen = window.screen()
    if screen is None:
        return 4.0
    try:
        measured = float(str(settings.value(_screen_key(screen), "0")))
    except ValueError:
        measured = 0.0
    told = screen.physicalDotsPerInchX() / 25.4
    return measured if 1.0 <= measured <= 40.0 else told if 1.0 <= told <= 40.0 else 4.0


def remember_screen(settings: QSettings, window: QWidget, measured: float) -> None:
    """``measured`` pixels of the window's screen are a mm."""
    screen = window.screen()
    if screen is not None:
        settings.setValue(_screen_key(screen), measured)


def _screen_key(screen: QScreen) -> str:
    return f"screens/{screen.name() or 'screen'}"
