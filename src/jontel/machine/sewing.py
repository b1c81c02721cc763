"""A job on the head, movement by movement: what is sewn next, why it waits, and how it goes on in register.

It knows nothing of clocks and connections: ``advance`` is told how much time has passed.
"""

import math
import random
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from jontel.design.errors import MachineRefused
from jontel.design.machine import STANDARD, MachineProfile
from jontel.machine.head import Movement, seconds_of, since_after
from jontel.stitching.stitches import Kind

State = Literal["threading", "ready", "sewing", "paused", "stopped", "done"]
BREAK_EVERY, BOBBIN = 6_000, 9_000
"""With faults on, thread breaks about once in so many stitches, and a bobbin is out after about so many."""
MOST_LOG = 10_000


@dataclass(frozen=True)
class Event:
    """Something that the operator has to know: ``why`` it is told, a note, after how many stitches, and where, mm."""

    why: Literal["stop", "thread break", "bobbin out", "thread", "done"]
    note: str
    stitch: int
    x: float
    y: float


@dataclass
class Sewing:
    """A job being sewn. ``faults`` come at stitches drawn from ``seed``."""

    name: str
    movements: Sequence[Movement]
    profile: MachineProfile = STANDARD
    faults: bool = False
    seed: int = 0
    state: State = "threading"
    next: int = 0
    stitch: int = 0
    seconds: float = 0.0
    thread: str = ""
    needles: dict[str, str] = field(default_factory=dict)
    log: list[str] = field(default_factory=list)
    sewn: list[int] = field(default_factory=list)
    _spare: float = 0.0
    _since: int = 0

    def __post_init__(self) -> None:
        self.threads = list(dict.fromkeys(move.note for move in self.movements if move.kind == Kind.THREAD))
        self.stitches = sum(move.kind == Kind.STITCH for move in self.movements)
        draw = random.Random(self.seed)
        self._faults: dict[int, Literal["thread break", "bobbin out"]] = {}
        if self.faults:
            at = 0
            while at < self.stitches:
                at += 1 + int(draw.expovariate(1 / BREAK_EVERY))
                self._faults[at] = "thread break"
            at = 0
            while at < self.stitches:
                at += int(BOBBIN * draw.uniform(0.8, 1.2))
                self._faults[at] = "bobbin out"
        self._note(f"{self.name}: {self.stitches} stitches, {len(self.threads)} threads")

    @property
    def place(self) -> tuple[float, float]:
        """Where the needle stands, mm."""
        if not self.next:
            return 0.0, 0.0
        last = self.movements[self.next - 1]
        return last.x, last.y

    def confirm(self, needles: Mapping[str, str]) -> None:
        """Say which thread is on which needle. Raises ``MachineRefused`` where one that is asked for is on none."""
        there = set(needles.values())
        missing = [thread for thread in self.threads if thread not in there]
        if missing:
            raise MachineRefused(f"Thread {missing[0] or 'without a code'} is on no needle; put it on one.")
        self.needles = dict(needles)
        if self.state == "threading":
            self.state = "ready"

    def go(self) -> None:
        """Start, or go on. Raises ``MachineRefused`` where that cannot be."""
        if self.state == "threading":
            raise MachineRefused("The threads are not confirmed; say first which is on which needle.")
        if self.state == "done":
            raise MachineRefused("The job is done; send another.")
        self._note("started" if self.state == "ready" else "went on")
        self.state, self._since = "sewing", 0

    def pause(self, why: str = "paused") -> None:
        """Stop before the next movement; what is sewn stays known."""
        if self.state == "sewing":
            self.state = "paused"
            self._note(why)

    def back(self, stitches: int) -> None:
        """Go back by so many stitches, as far as the beginning. Raises ``MachineRefused`` while it sews."""
        if self.state == "sewing":
            raise MachineRefused("The head is sewing; pause it before it goes back.")
        if stitches < 0:
            raise MachineRefused("Going back takes a number of stitches from 0 on.")
        left = min(stitches, self.stitch)
        while left and self.next:
            self.next -= 1
            if self.movements[self.next].kind == Kind.STITCH:
                self.stitch -= 1
                left -= 1
        self.thread = next((m.note for m in reversed(self.movements[: self.next]) if m.kind == Kind.THREAD), "")
        if self.state == "done":
            self.state = "paused"
        self._note(f"back to stitch {self.stitch}")

    def advance(self, seconds: float) -> list[Event]:
        """Sew for so long; what the operator has to know of it. Time that is left over counts for the next."""
        found: list[Event] = []
        self._spare += seconds
        while self.state == "sewing" and self.next < len(self.movements):
            move = self.movements[self.next]
            cost = self._cost(move)
            if cost > self._spare:
                break
            self._spare -= cost
            self.seconds += cost
            self.next += 1
            self._since = since_after(move, self._since)
            found += self._done(move)
        if self.state != "sewing":
            self._spare = 0.0
        return found

    def _cost(self, move: Movement) -> float:
        """How long a movement takes; at a stop the operator's own time goes by."""
        gap = math.dist(self.place, (move.x, move.y))
        return 0.0 if move.kind == Kind.STOP else seconds_of(move, self.profile, bool(self.thread), gap, self._since)

    def _done(self, move: Movement) -> list[Event]:
        if move.kind == Kind.STITCH:
            self.stitch += 1
            self.sewn.append(self.next - 1)
            fault = self._faults.pop(self.stitch, None)
            if fault is not None:
                return self._stopped(fault, self.thread if fault == "thread break" else "put in a full bobbin")
        elif move.kind == Kind.STOP:
            return self._stopped("stop", move.note or "the operator is wanted")
        elif move.kind == Kind.THREAD:
            self.thread = move.note
            self._note(f"thread {move.note}")
            return [Event("thread", move.note, self.stitch, *self.place)]
        elif move.kind == Kind.END:
            self.state = "done"
            self._note(f"done after {self.seconds / 60:.1f} min")
            return [Event("done", "", self.stitch, *self.place)]
        return []

    def _stopped(self, why: Literal["stop", "thread break", "bobbin out"], note: str) -> list[Event]:
        self.state = "stopped"
        self._note(f"{why}: {note}")
        return [Event(why, note, self.stitch, *self.place)]

    def _note(self, words: str) -> None:
        if len(self.log) < MOST_LOG and math.isfinite(self.seconds):
            self.log.append(f"{int(self.seconds) // 60}:{int(self.seconds) % 60:02d} stitch {self.stitch}: {words}")
