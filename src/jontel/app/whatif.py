"""What if a block were sewn here: gaps between neighbours as the forecast has them, told while it is dragged."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from jontel.design import Design
from jontel.design.words import many
from jontel.sewing.gathering import resewn
from jontel.sewing.plan import SewPlan, plan

if TYPE_CHECKING:
    from jontel.app.session import Document

RESTED = 120
"""A place is asked for once the mouse has rested for so many ms."""


@dataclass(frozen=True)
class Gaps:
    """How many seams open, and the widest of them, mm."""

    count: int
    widest: float

    def words(self) -> str:
        """In words."""
        return f"{many(self.count, 'gap')}, {self.widest:.2f} mm" if self.count else "no gap"


def gaps_in(sewn: SewPlan) -> Gaps:
    """The gaps that open between neighbours when a plan is sewn."""
    from jontel.forecast.findings import seams  # what it stands on is slow to load
    from jontel.forecast.forecast import forecast

    widths = [one.width for one in seams(sewn.drawn, forecast(sewn)) if one.open]
    return Gaps(len(widths), max(widths, default=0.0))


class WhatIf(QObject):
    """Asks aside; ``words`` say what another order makes of the gaps, once that is known."""

    told = pyqtSignal()

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.words = ""
        self._wanted: tuple[Document, Design, frozenset[int], int | None] | None = None
        self._under_way = False
        self._soon = QTimer(self, singleShot=True, interval=RESTED)
        self._soon.timeout.connect(self._ask)

    def ask(self, document: Document, before: int | None) -> None:
        """What is selected would be sewn just before another object, or last."""
        wanted = (document, document.history.design, document.selection, before)
        if self._wanted is None or any(a is not b and a != b for a, b in zip(wanted, self._wanted, strict=True)):
            self._wanted, self.words = wanted, ""
            self._soon.start()

    def end(self) -> None:
        """Nothing is dragged any more."""
        self._soon.stop()
        self._wanted, self.words = None, ""

    def _ask(self) -> None:
        wanted = self._wanted
        sewn = wanted[0].sewn if wanted is not None else None
        if wanted is None or sewn is None or self._under_way:
            return
        document, design, ids, before = wanted
        now = sewn.plan
        self._under_way = True

        def work() -> tuple[Gaps, Gaps]:
            return gaps_in(now), gaps_in(plan(resewn(design, ids, before), now))

        def done(found: tuple[Gaps, Gaps]) -> None:
            self._under_way = False
            if self._wanted is wanted:
                before, after = (one.words() for one in found)
                self.words = (
                    f"forecast: {before}, as now" if found[0] == found[1] else f"forecast: {before} → {after}"
                )
                self.told.emit()
            elif self._wanted is not None:
                self._ask()

        def gave_up(_error: object) -> None:
            self._under_way = False

        document.ask(work, done, gave_up)
