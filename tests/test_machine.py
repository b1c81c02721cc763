"""The machine as a process over a socket: a job is sewn whole and in order, through stops, faults and lost connections."""

import asyncio
import contextlib
import hashlib
import json
import socket
import subprocess
import sys
import threading
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jontel.data import find_hoop
from jontel.design import Area, Design, Fill
from jontel.design.errors import MachineRefused
from jontel.files import gcode
from jontel.files.formats import movements_in
from jontel.machine.driver import Driver
from jontel.machine.head import Movement
from jontel.machine.server import Machine, Wishes
from jontel.machine.sewing import Sewing
from jontel.machine.talk import heard, said
from jontel.sewing.plan import plan
from jontel.stitching.stitches import Kind
from tests.conftest import box_path, design_of

FAST = 1e6


def job(*colours: str) -> bytes:
    """A machine file of a small box in each of some threads."""
    boxes = ((Area(box_path(12.0 * k - 15, -5, 10, 8)), Fill(), code) for k, code in enumerate(colours or ("1001",)))
    design: Design = design_of(*boxes)
    return gcode.write(plan(design), design)


class Running:
    """A machine that runs in a thread of its own."""

    def __init__(self, wishes: Wishes) -> None:
        self.machine = Machine(movements_in, wishes)
        self.port = 0
        ready = threading.Event()

        def bound(port: int) -> None:
            self.port = port
            ready.set()

        async def serve() -> None:
            self.loop, self.task = asyncio.get_running_loop(), asyncio.current_task()
            with contextlib.suppress(asyncio.CancelledError):
                await self.machine.serve("127.0.0.1", 0, bound)

        self.thread = threading.Thread(target=lambda: asyncio.run(serve()), daemon=True)
        self.thread.start()
        assert ready.wait(10)

    def driver(self, secret: str = "") -> Driver:
        """Somebody who drives it."""
        return Driver("127.0.0.1", self.port, secret, 10)

    def end(self) -> None:
        """Turn it off."""
        assert self.task is not None
        self.loop.call_soon_threadsafe(self.task.cancel)
        self.thread.join(10)


@pytest.fixture
def running() -> Iterator[Running]:
    """A fast machine without faults."""
    one = Running(Wishes(factor=FAST))
    yield one
    one.end()


def to_the_end(driver: Driver, state: dict[str, object]) -> tuple[list[dict[str, object]], dict[str, object]]:
    """Start and go on until the job is done; all that the machine told."""
    told: list[dict[str, object]] = []
    while state.get("state") != "done":
        driver.start()
        for message in driver.follow():
            told.append(message)
            state = message if message["says"] == "state" else state
    return told, state


def test_a_job_is_sewn_whole_and_in_order(running: Running) -> None:
    data = job("1001", "3005")
    with running.driver() as driver:
        state = driver.send_job("box.ngc", data)
        assert state["state"] == "threading" and len(state["threads"]) == 2
        with pytest.raises(MachineRefused, match="not confirmed"):
            driver.start()
        with pytest.raises(MachineRefused, match="on no needle"):
            driver.confirm({"1": state["threads"][0]})
        driver.confirm({str(k): thread for k, thread in enumerate(state["threads"], 1)})
        told, state = to_the_end(driver, state)
        assert state["stitch"] == state["stitches"] and any(one["says"] == "thread" for one in told)
        assert "done" in driver.log()[-1]
    done = running.machine.job
    assert done is not None
    moves = movements_in(data, "box.ngc")
    assert done.sewn == [k for k, move in enumerate(moves) if move.kind == Kind.STITCH]


def test_a_lost_connection_pauses_and_goes_on_in_register() -> None:
    running = Running(Wishes(factor=40.0))
    data = job()
    driver = running.driver()
    driver.connect()
    state = driver.send_job("box.ngc", data)
    driver.confirm({"1": state["threads"][0]})
    driver.start()
    for message in driver.follow():
        if message["says"] == "state" and message["stitch"] > 20:
            break
    driver.close()
    state = running.driver().connect()
    while state.get("state") == "sewing":  # the machine has not noticed yet
        state = running.driver().connect()
    assert state["state"] == "paused" and 20 < state["stitch"] < state["stitches"]
    with running.driver() as again:
        here = again.state()["stitch"]
        with pytest.raises(MachineRefused, match="half sewn"):
            again.send_job("other.ngc", data)
        assert again.back(5)["stitch"] == here - 5
        to_the_end(again, state)
        assert any("connection was lost" in line for line in again.log())
    done = running.machine.job
    assert done is not None
    every = [k for k, move in enumerate(movements_in(data, "box.ngc")) if move.kind == Kind.STITCH]
    assert sorted(set(done.sewn)) == every and len(done.sewn) == len(every) + 5
    running.end()


def test_thread_breaks_and_bobbins_stop_it_where_the_seed_says() -> None:
    moves = [Movement(1, Kind.THREAD, 0, 0, "1001")]
    moves += [Movement(k, Kind.STITCH, 0.5 * (k % 2), 0.001 * k) for k in range(2, 30_000)]
    moves.append(Movement(30_000, Kind.END, 0, 0))

    def stops(seed: int) -> list[tuple[str, int]]:
        one = Sewing("long", moves, faults=True, seed=seed)
        one.confirm({"1": "1001"})
        found = []
        while one.state != "done":
            one.go()
            found += [(event.why, event.stitch) for event in one.advance(1e9)]
        assert one.sewn == list(range(1, len(moves) - 1))
        return [one for one in found if one[0] in ("thread break", "bobbin out")]

    assert stops(3) == stops(3) != stops(4)
    assert {why for why, _ in stops(3)} == {"thread break", "bobbin out"}


def test_a_stop_carries_its_instruction_and_time_is_the_machine_s() -> None:
    moves = [
        Movement(1, Kind.THREAD, 0, 0, "1001"),
        *(Movement(k, Kind.STITCH, k / 2, 0) for k in range(2, 10)),
        Movement(10, Kind.STOP, 0, 0, "Lay the felt"),
        *(Movement(k, Kind.STITCH, k / 2, 0) for k in range(11, 19)),
        Movement(19, Kind.END, 0, 0),
    ]
    one = Sewing("felt", moves)
    one.confirm({"1": "1001"})
    one.go()
    assert [event.why for event in one.advance(0.31)] == ["thread"] and one.stitch == 4
    (event,) = one.advance(100)
    assert (event.why, event.note, one.stitch, one.state) == ("stop", "Lay the felt", 8, "stopped")
    assert one.advance(100) == [] and one.seconds == pytest.approx(8 * 60 / 800)
    one.back(3)
    assert (one.stitch, one.place) == (5, (3.0, 0))
    one.go()
    assert [event.why for event in one.advance(100)] == ["stop"]
    one.go()
    assert [event.why for event in one.advance(100)] == ["done"] and one.stitch == 16
    with pytest.raises(MachineRefused, match="done"):
        one.go()


def test_what_a_head_refuses_is_refused_whole() -> None:
    running = Running(Wishes(hoop=find_hoop("100 x 100"), factor=FAST))
    far = b"G21 G90\nT1 M6 (1001)\nG0 X300 Y0\nZ0\nZ5\nM30\n"
    with running.driver() as driver:
        for data, why in ((far, "moves|outside"), (b"G21 G90\nM30\n", "no stitches"), (b"nonsense", "Line 1")):
            with pytest.raises(MachineRefused, match=why):
                driver.send_job("bad.ngc", data)
        with pytest.raises(MachineRefused, match="not a stitch file"):
            driver.send_job("bad.txt", b"")
        assert driver.state()["job"] is None
        assert driver.send_job("box.ngc", job())["state"] == "threading"
    running.end()


def test_the_secret_and_one_driver_at_a_time() -> None:
    running = Running(Wishes(secret="gull", factor=FAST))
    with pytest.raises(MachineRefused, match="secret"):
        running.driver("").connect()
    with running.driver("gull") as driver:
        assert driver.machine["speed"] == 800
        with pytest.raises(MachineRefused, match="Another driver"):
            running.driver("gull").connect()
    with pytest.raises(MachineRefused, match="No machine answers"):
        Driver("127.0.0.1", 1, patience=2).connect()
    running.end()


def raw(port: int, data: bytes) -> list[dict[str, object]]:
    """What the machine answers to bytes on the wire."""
    with socket.create_connection(("127.0.0.1", port), 10) as wire:
        wire.sendall(data)
        with contextlib.suppress(OSError):  # it may have hung up already
            wire.shutdown(socket.SHUT_WR)
        found = b""
        while more := wire.recv(65_536):
            found += more
    return [json.loads(line) for line in found.splitlines()]


HELLO = said({"do": "hello", "version": 1, "secret": ""})
MESSAGES = st.one_of(
    st.binary(max_size=200),
    st.recursive(
        st.none() | st.booleans() | st.floats(allow_nan=False) | st.text(max_size=20),
        lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=4),
        max_leaves=8,
    ).map(lambda value: json.dumps(value).encode()),
    st.builds(
        lambda do, name, value: said({"do": do, name: value}),
        st.sampled_from(["hello", "job", "threads", "start", "back", "pause", "state", "log", "resume", "?"]),
        st.sampled_from(["bytes", "stitches", "needles", "name", "sha256", "version"]),
        st.one_of(st.integers(-5, 10**12), st.text(max_size=5), st.none(), st.lists(st.integers(), max_size=2)),
    ),
)


def test_any_messages_are_answered_and_the_machine_lives(running: Running) -> None:
    @given(st.lists(MESSAGES, max_size=5), st.booleans())
    @settings(max_examples=150, deadline=None)
    def anything(messages: list[bytes], greeted: bool) -> None:
        answers = raw(running.port, (HELLO if greeted else b"") + b"\n".join(messages) + b"\n")
        for one in answers:
            assert one["says"] in ("hello", "state", "refused", "log")
            if one["says"] == "refused":
                assert str(one["why"]).endswith(".") and "Traceback" not in str(one["why"])

    anything()
    long = raw(running.port, b"x" * 200_000)
    assert long[-1]["says"] == "refused"
    with running.driver() as driver:
        assert driver.send_job("box.ngc", job())["state"] == "threading"


def test_a_job_that_does_not_come_whole_is_refused(running: Running) -> None:
    data = job()
    head = {"do": "job", "name": "box.ngc", "bytes": len(data), "sha256": hashlib.sha256(data).hexdigest()}
    assert raw(running.port, HELLO + said(head) + data[:50])[-1]["says"] == "hello"  # it hung up in the middle
    spoilt = raw(running.port, HELLO + said(head) + b"!" + data[1:])
    assert spoilt[-1]["says"] == "refused" and "whole" in str(spoilt[-1]["why"])
    assert running.machine.job is None


def test_messages_are_lines_of_json() -> None:
    assert heard(said({"do": "back", "stitches": 3})) == {"do": "back", "stitches": 3}


def test_the_process_takes_a_job_from_the_command_line(tmp_path: Path) -> None:
    file = tmp_path / "box.ngc"
    file.write_bytes(job("1001", "3005"))
    command = [
        sys.executable,
        "-m",
        "jontel",
        "machine",
        "--port",
        "0",
        "--factor",
        "1e6",
        "--faults",
        "--secret",
        "g",
    ]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as process:
        assert process.stdout is not None
        port = process.stdout.readline().rsplit(":", 1)[1].strip(" .\n")
        sent = subprocess.run(
            [sys.executable, "-m", "jontel", "sew", str(file), "--to", f"127.0.0.1:{port}", "--secret", "g"],
            capture_output=True,
            text=True,
            check=False,
            timeout=60,
        )
        process.terminate()
    assert sent.returncode == 0 and "done after" in sent.stdout, sent.stderr
    wrong = [sys.executable, "-m", "jontel", "machine", "--host", "0.0.0.0"]
    assert subprocess.run(wrong, capture_output=True, check=False, timeout=30).returncode == 2
