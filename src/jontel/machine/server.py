"""The stand-in machine as a process of its own, which takes jobs over a local socket as a head on the network would.

It binds to loopback unless told otherwise. One driver at a time; when the connection is lost the head pauses and
keeps the job, and whoever connects next goes on in register.
"""

import asyncio
import contextlib
import hashlib
import hmac
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from jontel.design.errors import CannotRead, JontelError, MachineRefused
from jontel.design.ground import Hoop
from jontel.design.machine import STANDARD, MachineProfile
from jontel.machine.head import Movement, sew
from jontel.machine.sewing import Event, Sewing
from jontel.machine.talk import LARGEST_JOB, LONGEST_LINE, VERSION, Message, heard, said, whole, words
from jontel.stitching.stitches import Kind

TICK = 0.05
"""The head is moved on so often, seconds."""
TOLD = 0.1
"""Where it is, is told so often at most, seconds."""
PATIENCE = 30.0
"""A greeting or a job that takes longer to come, seconds, is given up."""
LINGER, LINGERS_OVER = 1.0, 4_000_000
"""A driver that is let go is listened to for so many seconds and bytes more."""
MOST_BACK = 1_000_000
Reader = Callable[[bytes, str], Sequence[Movement]]
"""Makes movements of a stitch file's bytes and name. Raises ``CannotRead``."""


@dataclass
class Wishes:
    """How the stand-in runs: time goes ``factor`` times as fast."""

    hoop: Hoop | None = None
    profile: MachineProfile = STANDARD
    secret: str = ""
    factor: float = 1.0
    faults: bool = False
    seed: int = 0


class Machine:
    """The stand-in, with the job that lies on it."""

    def __init__(self, read: Reader, wishes: Wishes) -> None:
        self._read, self._wishes = read, wishes
        self.job: Sewing | None = None
        self._driver: asyncio.StreamWriter | None = None
        self._told = 0.0

    async def serve(self, host: str, port: int, ready: Callable[[int], None]) -> None:
        """Take drivers one after the other until cancelled; ``ready`` is told the port."""
        server = await asyncio.start_server(self._driven, host, port, limit=LONGEST_LINE + 2)
        ready(server.sockets[0].getsockname()[1])
        async with server:
            try:
                await self._run()
            finally:
                if self._driver is not None:
                    self._driver.close()

    async def _run(self) -> None:
        before = time.monotonic()
        while True:
            await asyncio.sleep(TICK)
            now = time.monotonic()
            passed, before = (now - before) * self._wishes.factor, now
            if self.job is None or self.job.state != "sewing":
                continue
            events = self.job.advance(passed)
            for event in events:
                await self._tell(_event(event))
            if events or now - self._told >= TOLD:
                self._told = now
                await self._tell(self._state())

    # one driver

    async def _driven(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        if self._driver is not None:
            await _turned_away(reader, writer, "Another driver has the machine; let it finish first.")
            return
        self._driver = writer
        try:
            await self._greeted(reader, writer)
            while True:
                await self._answered(reader, writer)
        except (ConnectionError, asyncio.IncompleteReadError, TimeoutError):
            pass  # the driver is gone
        except JontelError as refused:
            await _turned_away(reader, writer, str(refused))
        finally:
            self._driver = None
            if self.job is not None:
                self.job.pause("the connection was lost; paused")
            writer.close()

    async def _greeted(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        message = await self._next(reader)
        if message.get("do") != "hello":
            raise CannotRead("Say hello first: who drives, and with which secret.")
        if not hmac.compare_digest(words(message, "secret").encode(), self._wishes.secret.encode()):
            raise MachineRefused("The secret is not the machine's; ask whoever started it.")
        if message.get("version") != VERSION:
            raise MachineRefused(f"This machine speaks version {VERSION} of the messages.")
        profile = self._wishes.profile
        about = {"name": profile.name, "speed": profile.speed, "longest_move": profile.longest_move}
        await _send(writer, {"says": "hello", "version": VERSION, "machine": about, "state": self._state()})

    async def _next(self, reader: asyncio.StreamReader) -> Message:
        try:
            line = await asyncio.wait_for(reader.readuntil(b"\n"), None if self.job else PATIENCE)
        except asyncio.LimitOverrunError as error:
            raise CannotRead(f"A message is over {LONGEST_LINE:,} bytes; send the job as one.") from error
        return heard(line)

    async def _answered(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        """Do what a message asks for; what cannot be done is refused, and the driver stays."""
        message = await self._next(reader)
        try:
            await self._do(message, reader)
        except MachineRefused as refused:
            await _send(writer, {"says": "refused", "why": str(refused)})
            return
        await _send(writer, self._state())

    async def _do(self, message: Message, reader: asyncio.StreamReader) -> None:
        match message.get("do"):
            case "state":
                return
            case "job":
                await self._take(message, reader)
            case "threads":
                needles = message.get("needles")
                if not isinstance(needles, dict) or not all(isinstance(one, str) for one in needles.values()):
                    raise CannotRead("“needles” must say which thread is on which needle.")
                self._known().confirm(needles)
            case "start" | "resume":
                self._known().go()
            case "pause":
                self._known().pause()
            case "back":
                self._known().back(whole(message, "stitches", MOST_BACK))
            case "log":
                await self._tell({"says": "log", "lines": self._known().log[-500:]})
            case other:
                raise CannotRead(f"The machine does not know what “{str(other)[:40]}” is; see docs/sew-out.md.")

    def _known(self) -> Sewing:
        if self.job is None:
            raise MachineRefused("There is no job on the machine; send one first.")
        return self.job

    async def _take(self, message: Message, reader: asyncio.StreamReader) -> None:
        """Take a job whose bytes follow; a job that a head would refuse is refused whole."""
        name, size = words(message, "name", "job.ngc"), whole(message, "bytes", LARGEST_JOB)
        data = await asyncio.wait_for(reader.readexactly(size), PATIENCE)
        if hashlib.sha256(data).hexdigest() != words(message, "sha256"):
            raise MachineRefused(f"{name} did not come whole; send it again.")
        if self.job is not None and self.job.state not in ("done", "threading", "ready"):
            raise MachineRefused(f"{self.job.name} is half sewn; finish it, or take the machine off it first.")
        loop = asyncio.get_running_loop()
        try:
            moves = await loop.run_in_executor(None, lambda: list(self._read(data, name)))
            await loop.run_in_executor(None, lambda: sew(moves, self._wishes.hoop, self._wishes.profile))
        except CannotRead as error:
            raise MachineRefused(str(error)) from error
        if not any(move.kind == Kind.STITCH for move in moves):
            raise MachineRefused(f"{name} holds no stitches; export it again.")
        self.job = Sewing(name, moves, self._wishes.profile, self._wishes.faults, self._wishes.seed)

    def _state(self) -> Message:
        job = self.job
        if job is None:
            return {"says": "state", "job": None}
        x, y = job.place
        return {
            "says": "state",
            "job": job.name,
            "state": job.state,
            "stitch": job.stitch,
            "stitches": job.stitches,
            "thread": job.thread,
            "threads": job.threads,
            "seconds": round(job.seconds, 2),
            "x": round(x, 3),
            "y": round(y, 3),
        }

    async def _tell(self, message: Message) -> None:
        if self._driver is not None:
            with contextlib.suppress(ConnectionError):
                await _send(self._driver, message)


def _event(event: Event) -> Message:
    return {
        "says": event.why,
        "note": event.note,
        "stitch": event.stitch,
        "x": round(event.x, 3),
        "y": round(event.y, 3),
    }


async def _turned_away(reader: asyncio.StreamReader, writer: asyncio.StreamWriter, why: str) -> None:
    """Say why a driver is let go, and close.

    What it still sends is read for a moment: a connection that is closed over unread bytes loses what was said last.
    """
    with contextlib.suppress(ConnectionError, TimeoutError):
        await _send(writer, {"says": "refused", "why": why})
        writer.write_eof()
        async with asyncio.timeout(LINGER):
            left = LINGERS_OVER
            while left > 0 and (more := await reader.read(65_536)):
                left -= len(more)
    writer.close()


async def _send(writer: asyncio.StreamWriter, message: Message) -> None:
    writer.write(said(message))
    await writer.drain()
