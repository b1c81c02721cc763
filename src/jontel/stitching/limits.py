"""What one object may take: a slip of the hand shall not keep the machine, or this one, busy for days."""

from jontel.design.errors import CannotStitch

MOST_STITCHES = 2_000_000
"""A head that sews 800 stitches a minute takes two days for so many."""


def afford(length: float, step: float) -> None:
    """Raise ``CannotStitch`` where thread ``length`` mm long in stitches of ``step`` mm would be beyond all use."""
    if length / max(step, 1e-6) > MOST_STITCHES:
        raise CannotStitch(
            f"it would take over {MOST_STITCHES // 1_000_000} million stitches; make it smaller or open its spacing"
        )
