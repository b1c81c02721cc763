"""Fades: spacing that opens on the way across a cover."""

from typing import Literal

from jontel.design.kinds.values import Group, Profile, When

Fade = Literal["none", "along", "against", "middle out", "custom"]
FADE = Group("Fade")
FADES: When = ("fade", ("along", "against", "middle out", "custom"))


CLOSED = 1.15
"""Rows this many threads apart or closer let nothing show through."""


def faded(fade: Fade, profile: Profile, place: float) -> float:
    """How far a fade has got, 0 to 1, at ``place`` (0 to 1) of its way.

    ``along`` opens from the start on, ``against`` from the end back, ``middle out`` from the middle to both
    ends; ``custom`` follows the profile.
    """
    match fade:
        case "along":
            return place
        case "against":
            return 1.0 - place
        case "middle out":
            return abs(2.0 * place - 1.0)
        case "custom":
            before = (0.0, profile[0][1]) if profile else (0.0, 0.0)
            for at, value in (*profile, (1.0, profile[-1][1] if profile else 0.0)):
                if place <= at:
                    span = at - before[0]
                    part = (place - before[0]) / span if span > 0 else 1.0
                    return before[1] + part * (value - before[1])
                before = (at, value)
            return before[1]
    return 0.0
