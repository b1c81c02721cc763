"""Stitching in the background: a newer design cancels an older one, and progress is told."""

import contextlib
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

from PyQt6.QtCore import QObject, pyqtSignal

from jontel.design import CannotStitch, Design, resolve
from jontel.geometry.polyline import Floats
from jontel.sewing.ends import choose_ends
from jontel.sewing.estimate import Share, Totals, clock, shares, totals
from jontel.sewing.plan import SewPlan, plan
from jontel.sewing.proof import Finding, proof
from jontel.stitching.engine import stitch


@dataclass(frozen=True, eq=False)
class Sewn:
    """A design with everything that follows from it."""

    design: Design
    plan: SewPlan
    clock: Floats
    shares: tuple[Share, ...]
    totals: Totals
    findings: tuple[Finding, ...]


def sew_out(design: Design) -> Sewn:
    """Everything that follows from ``design``."""
    sewn = plan(design)
    return Sewn(design, sewn, clock(sewn), shares(sewn), totals(sewn), proof(design, sewn))


class Planner(QObject):
    """Computes sew-outs one after another, off the interface thread."""

    done = pyqtSignal(int, object)
    progress = pyqtSignal(int, int, int)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._pool = ThreadPoolExecutor(1, "stitching")
        self._wanted = 0

    def request(self, design: Design) -> int:
        """Ask for the sew-out of ``design``; returns its number, which ``done`` will carry."""
        self._wanted += 1
        self._pool.submit(self._work, self._wanted, design)
        return self._wanted

    def cancel(self) -> None:
        """Give up whatever is being computed."""
        self._wanted += 1

    def stop(self) -> None:
        """End the background thread."""
        self.cancel()
        self._pool.shutdown(wait=True, cancel_futures=True)

    def _work(self, number: int, design: Design) -> None:
        count = len(design.objects)
        for at, (item, ends) in enumerate(zip(design.objects, choose_ends(design), strict=True)):
            if number != self._wanted:
                return
            with contextlib.suppress(CannotStitch):  # the plan reports it, with its name and place
                stitch(resolve(item, design.brief.ground), ends.entry, ends.exit)
            self.progress.emit(number, at + 1, count)
        if number == self._wanted:
            self.done.emit(number, sew_out(design))
