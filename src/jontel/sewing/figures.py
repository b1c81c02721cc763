"""What a sew-out costs, in the figures that orders are compared by."""

from dataclasses import dataclass

from jontel.sewing.estimate import totals
from jontel.sewing.plan import SewPlan
from jontel.stitching.stitches import Kind


@dataclass(frozen=True)
class Figures:
    """What a plan costs: thread changes, trims, metres of jumps, seconds, stitches."""

    changes: int
    trims: int
    jumps: float
    seconds: float
    stitches: int = 0

    @property
    def rank(self) -> tuple[int, int, float]:
        """Smaller is better: changes count most, then trims, then jumps."""
        return self.changes, self.trims, round(self.jumps, 4)


def figures(sewn: SewPlan) -> Figures:
    """What a plan costs."""
    sums = totals(sewn)
    jumps = float(sum(one.sizes[one.kind == Kind.JUMP].sum() for one in sewn.pieces)) / 1000
    return Figures(sums.changes, sums.trims, jumps, sums.seconds, sums.stitches)
