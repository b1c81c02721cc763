"""What the machine can do and how long it takes: part of the brief, since a shop has more than one."""

from typing import Annotated

from msgspec import Meta, Struct

from jontel.design.kinds.values import Group, number

LIMITS, TIMES = Group("Limits", open=True), Group("Times", open=True)
RATES = Group("Rates", open=True)


class MachineProfile(Struct, frozen=True):
    """Limits in mm, speed in stitches a minute, times in seconds.

    A connection over ``trim_over`` is cut where it shows. Stitches and moves longer than ``full_to`` take as much
    longer as they are. After a trim, a thread change or a stop the head gets up to speed over ``ramp_stitches``; with
    none that, as slowing down always is, is part of ``trim_seconds``.
    """

    name: Annotated[str, Meta(max_length=400)] = "Standard head"
    speed: Annotated[float, number("Stitches a minute", 50.0, 3000.0, "count", 50, LIMITS)] = 800.0
    longest_move: Annotated[float, number("Longest move", 3.0, 30.0, "length", 0.5, LIMITS)] = 12.0
    full_to: Annotated[float, number("Full speed for stitches up to", 1.0, 30.0, "length", 0.5, LIMITS)] = 4.0
    needles: Annotated[int, number("Needles", 1, 100, "count", 1, LIMITS)] = 15
    trim_over: Annotated[float, number("Cut connections over", 0.5, 50.0, "length", 0.1, LIMITS)] = 1.0
    trim_seconds: Annotated[float, number("Seconds for a trim", 0.0, 600.0, "count", 1, TIMES)] = 7.0
    ramp_stitches: Annotated[int, number("Stitches to full speed", 0, 200, "count", 1, TIMES)] = 0
    change_seconds: Annotated[float, number("Seconds for a thread", 0.0, 3600.0, "count", 5, TIMES)] = 15.0
    stop_seconds: Annotated[float, number("Seconds for a stop", 0.0, 3600.0, "count", 5, TIMES)] = 60.0

    def slower(self, since: int) -> float:
        """How many times longer a stitch takes, ``since`` so many after the head stood still.

        Its speed grows evenly from stitch to stitch.
        """
        return (self.ramp_stitches + 1) / (since + 1) if since < self.ramp_stitches else 1.0


STANDARD = MachineProfile()


class Rates(Struct, frozen=True):
    """What the shop pays, in its own money: by the hour, the kilometre, the square metre, and once a design."""

    machine_hour: Annotated[float, number("An hour of the machine", 0.0, 100_000.0, "money", 1, RATES)] = 30.0
    setting_up: Annotated[float, number("Setting up, once", 0.0, 100_000.0, "money", 1, RATES)] = 0.0
    thread_kilometre: Annotated[float, number("Top thread, 1,000 m", 0.0, 100_000.0, "money", 0.5, RATES)] = 4.0
    bobbin_kilometre: Annotated[float, number("Bobbin thread, 1,000 m", 0.0, 100_000.0, "money", 0.5, RATES)] = 2.0
    bobbin_holds: Annotated[float, number("A bobbin holds, m", 1.0, 100_000.0, "count", 10, RATES)] = 110.0
    backing_metre: Annotated[float, number("Backing, 1 m²", 0.0, 100_000.0, "money", 0.5, RATES)] = 1.5
    film_metre: Annotated[float, number("Film on top, 1 m²", 0.0, 100_000.0, "money", 0.5, RATES)] = 1.0


USUAL_RATES = Rates()
