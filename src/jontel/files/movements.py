"""A plan as the list of needle movements that both stitch files carry."""

from jontel.design.errors import CannotRead
from jontel.design.shapes import FARTHEST
from jontel.machine.head import Movement
from jontel.sewing.plan import SewPlan
from jontel.stitching.stitches import Kind


def on_cloth(x: float, y: float, line: int, name: str) -> None:
    """Raise ``CannotRead`` for a place in a stitch file that no cloth reaches to."""
    if max(abs(x), abs(y)) > FARTHEST:
        raise CannotRead(f"Line {line} of {name} goes over {FARTHEST / 1000:.0f} m away from the hoop; correct it.")


def movements(plan: SewPlan) -> list[Movement]:
    """One movement a row, numbered from 1."""
    found = []
    for row, (kind, (x, y)) in enumerate(zip(plan.kind.tolist(), plan.xy.tolist(), strict=True)):
        note = plan.stops.get(row, "") if kind == Kind.STOP else ""
        if kind == Kind.THREAD:
            note = plan.threads[plan.thread[row]].code
        found.append(Movement(row + 1, Kind(kind), x, y, note))
    return found
