"""What the machine can do and how long it takes."""

from msgspec import Struct


class MachineProfile(Struct, frozen=True):
    """Limits in mm, speed in stitches a minute, times in seconds."""

    speed: float = 800.0
    longest_move: float = 12.0
    trim_seconds: float = 7.0
    change_seconds: float = 15.0
    stop_seconds: float = 60.0
    trim_over: float = 3.0
    """Connections longer than this are cut when they would show."""


STANDARD = MachineProfile()
