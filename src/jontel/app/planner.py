"""What follows from a design, computed aside stage by stage: stitches, plan and estimate first, then the proof."""

import time
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from PyQt6.QtCore import QObject, pyqtSignal

from jontel.app.faults import FAULTS
from jontel.app.jobs import Lane
from jontel.app.memory import give_back_much
from jontel.design import Design, JontelError, StitchObject
from jontel.design.errors import CannotDo
from jontel.design.stopping import LOOKED_UP, pause
from jontel.design.store import Store, working_in
from jontel.geometry.polyline import Floats
from jontel.geometry.region import Region
from jontel.sewing.costs import Costs, costs_of
from jontel.sewing.estimate import Estimate, Share, Totals, estimate, shares, totals
from jontel.sewing.plan import Entry, Piece, SewPlan, plan
from jontel.sewing.proof import Finding, proof
from jontel.sewing.proof.accepting import told_apart
from jontel.stitching.stitches import Kind

TELL_EVERY = 0.05
"""How far the stitching has come is told so many seconds apart: to be read, and not to keep the window busy."""
LETS_FIRST = 0.5
"""What else is worked out waits so many seconds at most for the stitches of an edit."""
PROOF_AFTER = 0.025
"""The proof waits so many seconds, in which the cloth is painted: it is looked at first."""


@dataclass(frozen=True, eq=False)
class Sewn:
    """A design with everything that follows from it; ``findings`` are those before until it is ``proofed``.

    Those that were ``accepted`` stand apart. ``trims`` are the moments at which the thread is cut, seconds.
    """

    design: Design
    plan: SewPlan
    estimate: Estimate
    shares: tuple[Share, ...]
    totals: Totals
    costs: Costs
    trims: Floats
    findings: tuple[Finding, ...] = ()
    accepted: tuple[Finding, ...] = ()
    proofed: bool = False

    @cached_property
    def by_object(self) -> dict[int, Share]:
        """What each object takes."""
        return {share.object: share for share in self.shares}

    @cached_property
    def entries(self) -> dict[int, tuple[Entry, Region]]:
        """What was worked out for each object, and the cloth that it covers."""
        plan = self.plan
        return {one.item.id: (one, region) for one, region in zip(plan.entries, plan.overlaps.regions, strict=True)}

    @cached_property
    def drawn(self) -> dict[int, StitchObject]:
        """Each object as it was drawn."""
        return {item.id: item for item in self.plan.drawn.objects}

    def piece_of(self, identity: int) -> Piece | None:
        """An object's part of the plan, if it has stitches."""
        share = self.by_object.get(identity)
        return self.plan.pieces[share.number] if share is not None else None


def sewn_of(design: Design, before: Sewn | None = None, progress: Callable[[int, int], object] | None = None) -> Sewn:
    """The stitches of ``design`` and what they take, not yet proofed; worked out from those ``before``."""
    sewn = plan(design, before.plan if before else None, progress)
    findings, accepted = (before.findings, before.accepted) if before else ((), ())
    sums = totals(sewn)
    costs = costs_of(sewn, sewn.drawn, sums)
    when = estimate(sewn)
    return Sewn(design, sewn, when, shares(sewn), sums, costs, _trims(sewn, when), findings, accepted)


def _trims(sewn: SewPlan, when: Estimate) -> Floats:
    """The moments at which the thread is cut, seconds, (n,); each piece keeps those from its own start."""
    own: list[Floats] = []
    for piece in sewn.pieces:
        if "trims" not in piece.notes:
            piece.notes["trims"] = piece.seconds[piece.kind == Kind.TRIM]
        own.append(piece.notes["trims"])
    return np.concatenate([np.zeros(0), *own]) + np.repeat(when.starts[:-1], [len(one) for one in own])


def proofed(sewn: Sewn) -> Sewn:
    """The same with its findings."""
    drawn = sewn.plan.drawn
    findings, accepted = told_apart(proof(drawn, sewn.plan), drawn)
    return replace(sewn, findings=findings, accepted=accepted, proofed=True)


class Planner(QObject):
    """Computes sew-outs one after another, off the interface thread; a newer request stops an older one."""

    sewn = pyqtSignal(object)
    failed = pyqtSignal(object)
    progress = pyqtSignal(int, int)

    def __init__(self) -> None:
        super().__init__()
        self._store = Store()
        self._under_way: Design | None = None
        self._wanted: Design | None = None
        self._first: Sewn | None = None
        self._lane = Lane("stitching", only_newest=True)
        self._beside = Lane("beside")

    def request(self, design: Design, before: Sewn | None = None) -> None:
        """Ask for the sew-out of ``design``; it arrives by ``sewn``, without and then with its proof.

        Work on an equal design is not begun again: what is let go where the mouse rested is half sewn already.
        """
        under_way, self._wanted = self._under_way, design
        if under_way is not None and under_way == design:
            if self._first is not None:
                self._lane.say(self._tell, self._first)
            return
        self._under_way, self._first = design, None

        told = time.monotonic()

        def tell(at: int, count: int) -> None:
            nonlocal told
            if time.monotonic() - told < TELL_EVERY:
                return
            told = time.monotonic()
            self._lane.say(lambda place: self.progress.emit(*place), (at, count))

        def work() -> Sewn:
            with working_in(self._store):
                first = sewn_of(design, before, tell)
                self._lane.say(self._tell, first)
                pause(PROOF_AFTER)
                seen = proofed(first)
                give_back_much()
                return seen

        def failed(error: Exception) -> None:
            FAULTS.caught(error, "stitching")
            self._under_way = None
            self.failed.emit(self._wanted)

        self._lane.ask(work, self._tell, failed)

    def _tell(self, sewn: Sewn) -> None:
        """Hand on what was sewn, as that of the design which was asked for last."""
        if sewn.design is not self._under_way or self._wanted is None:
            return
        self._first = sewn
        if sewn.proofed:
            self._under_way = None
        self.sewn.emit(replace(sewn, design=self._wanted))

    def ask(
        self, work: Callable[[], Any], done: Callable[[Any], object], refused: Callable[[JontelError], object]
    ) -> None:
        """Work something else out aside, with what is known of the stitches.

        A fault is logged and told as any other, and who asked is refused too: nobody waits for what will not come.
        """

        def known() -> Any:
            self._let_stitches_first()
            with working_in(self._store):
                return work()

        def failed(error: Exception) -> None:
            if isinstance(error, JontelError):
                refused(error)
            else:
                refused(CannotDo("This was not worked out: something in Jontel failed, and the log tells what."))
                FAULTS.caught(error, "beside the stitches")

        self._beside.ask(known, done, failed)

    def _let_stitches_first(self) -> None:
        """Wait, not for long, while the stitches of an edit are worked out: both at once would come later.

        Much of it is the same work, which is known afterwards.
        """
        end = time.monotonic() + LETS_FIRST
        while self._under_way is not None and self._first is None and time.monotonic() < end:
            pause(LOOKED_UP)

    def cancel(self) -> None:
        """Give up whatever is being computed."""
        self._under_way = None
        self._lane.stop()

    def stop(self) -> None:
        """End the background thread, and let go of what was kept."""
        self._lane.close()
        self._beside.close()
        self._store.clear()
