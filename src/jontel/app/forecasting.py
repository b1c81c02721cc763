"""The forecast of the design in front: worked out aside while somebody looks at it, with what it finds."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from jontel.app.planner import Sewn
from jontel.sewing.proof import Finding
from jontel.sewing.solved import stale
from jontel.shaping.outlines import Made

if TYPE_CHECKING:
    from jontel.app.session import Document
    from jontel.forecast.findings import Seam
    from jontel.forecast.forecast import Forecast

MOST_EXAGGERATED = 10.0


@dataclass(frozen=True, eq=False)
class Seen:
    """A forecast, as it is shown: the stitches where they will lie, seams that open or overlap, findings."""

    whole: Forecast
    moment: Forecast
    sewn: Sewn
    seams: tuple[Seam, ...]
    findings: tuple[Finding, ...]
    stale: frozenset[int]
    strained: bool


class Forecasting(QObject):
    """Keeps a forecast up to date while it is wanted by somebody."""

    changed = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self._wanted: set[str] = set()
        self._under_way = False
        self._again = False
        self._made: tuple[object, ...] | None = None
        self.seen: Seen | None = None
        self.exaggerated = 1.0
        self.strained = False
        document.sewn_changed.connect(self.refresh)
        document.playhead_changed.connect(self.refresh)

    def want(self, who: str, on: bool) -> None:
        """Somebody looks at the forecast, or no longer."""
        (self._wanted.add if on else self._wanted.discard)(who)
        self.refresh()

    def show(self, exaggerated: float | None = None, strained: bool | None = None) -> None:
        """Show what moves larger, or how the cloth is strained."""
        if exaggerated is not None:
            self.exaggerated = min(MOST_EXAGGERATED, max(1.0, exaggerated))
        if strained is not None:
            self.strained = strained
        self.refresh()

    def refresh(self) -> None:
        """Work it out again if anything of it is another."""
        sewn = self._document.sewn
        if not self._wanted or sewn is None or not sewn.plan.pieces:
            return
        wish = (sewn.plan, self._document.playhead, self.exaggerated, self.strained)
        if self._made is not None and all(a is b or a == b for a, b in zip(wish, self._made, strict=True)):
            return
        if self._under_way:
            self._again = True
            return
        self._under_way, self._again = True, False
        known = self.seen
        self._document.ask(lambda: _made(sewn, *wish[1:], known), lambda made: self._take(made, wish), self._gave_up)

    def _take(self, made: Seen, wish: tuple[object, ...]) -> None:
        self._under_way, self._made, self.seen = False, wish, made
        self.changed.emit()
        if self._again:
            self.refresh()

    def _gave_up(self, _error: object) -> None:
        self._under_way = False
        if self._again:
            self.refresh()

    def solve(self) -> None:
        """Work out the edges of the selection, or of all, so that the cloth ends up as drawn."""
        document = self._document
        design, ids = document.history.design, document.selection

        def work() -> Made:
            from jontel.forecast.solving import solved  # what it stands on is slow to load

            return solved(design, ids), ids

        document.edit_aside("Solve the edges", work)

    def release(self) -> None:
        """Compensate the selection, or all, by the numbers of the ground again."""
        document = self._document
        from jontel.forecast.solving import released

        design = document.history.design
        ids = {item.id for item in design.objects if item.solved is not None}
        ids &= document.selection or ids
        if ids:
            document.edit("Release the edges", released(design, ids))


def _made(sewn: Sewn, playhead: object, exaggerated: object, strained: object, known: Seen | None) -> Seen:
    from jontel.forecast.findings import findings, seams
    from jontel.forecast.forecast import forecast
    from jontel.forecast.showing import shown

    assert isinstance(exaggerated, float)
    drawn = sewn.plan.drawn
    if known is not None and known.whole.plan is sewn.plan:
        whole, apart, found = known.whole, known.seams, known.findings
    else:
        whole = forecast(sewn.plan)
        apart = tuple(seams(drawn, whole))
        found = tuple(findings(drawn, whole, apart))
    moment = whole.until(playhead) if isinstance(playhead, int) else whole
    as_seen = replace(sewn, plan=shown(moment, exaggerated))
    return Seen(whole, moment, as_seen, apart, found, stale(sewn.design), bool(strained))
