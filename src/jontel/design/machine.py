"""What the machine can do and how long it takes: part of the brief, since a shop has more than one."""

from typing import Annotated

from msgspec import Meta, Struct

from jontel.design.kinds.values import Group, number

LIMITS, TIMES = Group("Limits", open=True), Group("Times", open=True)


class MachineProfile(Struct, frozen=True):
    """Limits in mm, speed in stitches a minute, times in seconds.

    A connection over ``trim_over`` is cut where it shows.
    """

    name: Annotated[str, Meta(max_length=400)] = "Standard head"
    speed: Annotated[float, number("Stitches a minute", 50.0, 3000.0, "count", 50, LIMITS)] = 800.0
    longest_move: Annotated[float, number("Longest move", 3.0, 30.0, "length", 0.5, LIMITS)] = 12.0
    trim_over: Annotated[float, number("Cut connections over", 0.5, 50.0, "length", 0.1, LIMITS)] = 1.0
    trim_seconds: Annotated[float, number("Seconds for a trim", 0.0, 600.0, "count", 1, TIMES)] = 7.0
    change_seconds: Annotated[float, number("Seconds for a thread", 0.0, 3600.0, "count", 5, TIMES)] = 15.0
    stop_seconds: Annotated[float, number("Seconds for a stop", 0.0, 3600.0, "count", 5, TIMES)] = 60.0


STANDARD = MachineProfile()
