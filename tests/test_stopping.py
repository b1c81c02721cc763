"""Work that nobody waits for any more ends at once, even within a call that nothing can end."""

import subprocess
import sys
import time
from collections.abc import Callable
from threading import Event, Timer

import pytest

from jontel.design import Area, Fill
from jontel.design.stopping import Stop, Stopped, go_on, left_behind, stoppable
from jontel.design.store import Store, working_in
from jontel.sewing.plan import plan
from tests.conftest import box_path, design_of


def test_a_long_call_is_left_behind_by_a_job_that_is_told_to_stop() -> None:
    stop, begun, free, ended = Stop(), Event(), Event(), Event()

    def work() -> None:
        begun.set()
        free.wait(20)
        ended.set()

    given: list[float] = []

    def give() -> None:
        begun.wait(20)
        given.append(time.perf_counter())
        stop.give()

    Timer(0, give).start()
    with pytest.raises(Stopped), stoppable(stop):
        left_behind(work)
    assert time.perf_counter() - given[0] < 0.5
    assert not ended.is_set()
    free.set()
    assert ended.wait(20)


def test_what_is_left_behind_ends_when_it_goes_on_itself() -> None:
    stop, stopped = Stop(), Event()

    def work() -> None:
        try:
            while True:
                stop.give()
                go_on()
        finally:
            stopped.set()

    with pytest.raises(Stopped), stoppable(stop):
        left_behind(work)
    assert stopped.wait(20)


def test_the_program_ends_after_what_was_left_behind_by_a_lane() -> None:
    """A library that computes while the interpreter comes down under it ends the process with a crash."""
    program = """
import time
from threading import Event, Thread
from jontel.design.stopping import Stop, Stopped, left_behind, stoppable
stop, begun = Stop(), Event()
def work():
    begun.set()
    time.sleep(0.3)
    print("worked out", flush=True)
def lane():
    with stoppable(stop):
        left_behind(work)
Thread(target=lane, daemon=True).start()
begun.wait()
stop.give()
"""
    ran = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, timeout=60)
    assert (ran.returncode, ran.stdout.strip()) == (0, "worked out")


@pytest.mark.parametrize("stop", [None, Stop()])
def test_what_a_long_call_gives_or_raises_comes_through(stop: Stop | None) -> None:
    def fails() -> None:
        raise TimeoutError("of its own")

    def both() -> None:
        assert left_behind(lambda: 7) == 7
        with pytest.raises(TimeoutError, match="of its own"):
            left_behind(fails)

    if stop is None:
        both()
    else:
        with stoppable(stop):
            both()


def test_a_fill_with_rows_that_turn_stops_soon_at_any_moment() -> None:
    design = design_of((Area(box_path(0, 0, 90, 90), lines=(((-30, -30), (-30, 30)), ((30, -30), (40, 30)))), Fill()))

    def timed(work: Callable[[], object]) -> float:
        begun = time.perf_counter()
        with working_in(Store()):
            work()
        return time.perf_counter() - begun

    plan(design)  # what is loaded when it is first used is there
    whole = timed(lambda: plan(design))
    late: list[float] = []
    for part in range(1, 8):
        stop, given = Stop(), [0.0]

        def give(stop: Stop = stop, given: list[float] = given) -> None:
            given[0] = time.perf_counter()
            stop.give()

        timer = Timer(whole * part / 10, give)
        timer.start()
        try:
            with stoppable(stop):
                timed(lambda: plan(design))
        except Stopped:
            late.append(time.perf_counter() - given[0])
        timer.cancel()
    assert sorted(late)[len(late) // 2] < 0.05
