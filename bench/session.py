"""A scripted session in a real window, watched: how long each event kept the interface, and who did it."""

import json
import math
import os
import sys
import tempfile
import time
from dataclasses import dataclass, field

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
if "XDG_STATE_HOME" not in os.environ:
    os.environ["XDG_STATE_HOME"] = os.environ["XDG_CONFIG_HOME"] = tempfile.mkdtemp()

from msgspec.structs import replace
from PyQt6.QtCore import QEvent, QEventLoop, QObject, QPoint, QPointF, Qt, QTimer
from PyQt6.QtGui import QPaintEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from jontel.app import start
from jontel.app.jobs import end_all
from jontel.app.memory import resident
from jontel.app.session import Document
from jontel.app.window import MainWindow
from jontel.data import find_ground, find_hoop, thread_chart
from jontel.design import Area, Brief, Design, Fill, StitchObject
from jontel.design.edits import add_objects, change_objects, pin, transform_object, transform_objects


@dataclass
class Watch:
    """Events by how long they took, ms, with what got them; only the outermost of nested ones.

    ``worked`` is the processor's time in the interface's thread, which does not grow when others use the machine.
    """

    took: list[tuple[float, str]] = field(default_factory=list)
    worked: list[float] = field(default_factory=list)
    depth: int = 0
    paused: bool = True


WATCH = Watch()


class WatchedApplication(QApplication):
    """Times every event."""

    def notify(self, receiver: QObject | None, event: QEvent | None) -> bool:
        """Deliver an event and time it."""
        if WATCH.depth or WATCH.paused or receiver is None or event is None:
            return super().notify(receiver, event)
        kind = event.type()
        name = f"{type(receiver).__name__} {receiver.objectName()} {getattr(kind, 'name', kind)}"
        WATCH.depth += 1
        began, worked = time.perf_counter(), time.thread_time()
        try:
            return super().notify(receiver, event)
        finally:
            WATCH.depth -= 1
            WATCH.took.append(((time.perf_counter() - began) * 1000, name))
            WATCH.worked.append((time.thread_time() - worked) * 1000)


def settle(window: MainWindow, seconds: float = 60.0) -> None:
    """Let everything be computed and shown."""
    document = window.session.current
    end = time.perf_counter() + seconds
    while document is not None and (document.busy or not window.canvas.settled) and time.perf_counter() < end:
        QApplication.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 5)
        QTest.qWait(2)
    QTest.qWait(70)


def until_painted(window: MainWindow, change: object) -> float:
    """From a change to the end of the paint event that shows it on the cloth, ms."""
    loop, canvas = QEventLoop(), window.canvas
    paint = canvas.paintEvent
    ready: list[bool] = []
    seen: list[float] = []

    def painted(event: QPaintEvent | None) -> None:
        paint(event)
        if ready and not seen:
            seen.append(time.perf_counter())
            loop.quit()

    def arrived() -> None:
        ready.append(True)

    canvas.paintEvent = painted  # type: ignore[method-assign]
    canvas.painted.connect(arrived)
    limit = QTimer(singleShot=True, interval=20_000)
    limit.timeout.connect(loop.quit)
    limit.start()
    began = time.perf_counter()
    change()  # type: ignore[operator]
    loop.exec()
    canvas.painted.disconnect(arrived)
    canvas.paintEvent = paint  # type: ignore[method-assign]
    settle(window)
    return (seen[0] - began) * 1000 if seen else 20_000.0


def sheet_of(design: Design, count: int) -> Design:
    """So many of a design side by side."""
    made = replace(design, objects=(), next_id=1)
    for k in range(count):
        step = (1.0, 0.0, 0.0, 1.0, 95.0 * (k % 8), 95.0 * (k // 8))
        made = add_objects(made, [transform_object(one, step) for one in design.objects])
    return made


def latencies(window: MainWindow, document: Document, name: str, times: int = 24) -> list[float]:
    """From an edit of an object to the repainted cloth, ms, for spacings and moves by turns."""
    item = next(o for o in document.design.objects if o.name == name)
    window.show_stage(2)
    document.select({item.id})
    settle(window)
    found = []
    for k in range(times):
        before = document.history.design
        if k % 2:
            after = transform_objects(before, {item.id}, (1, 0, 0, 1, 0.2, 0.1))
        else:
            after = pin(before, {item.id}, "spacing", 0.41 + 0.003 * k)
        found.append(until_painted(window, lambda after=after: document.edit("Edit", after)))
    return sorted(found)


def bends(window: MainWindow, document: Document, times: int = 24) -> list[float]:
    """From the move of a node of the first object, an outline of 2,000, to its true stitches on the cloth, ms."""
    from zoo import rippled

    window.show_stage(2)
    document.select({document.design.objects[0].id})
    settle(window)
    found = []
    for k in range(times):
        before = document.history.design
        shape = Area(rippled(first=0.01 * (k + 1)))
        after = change_objects(before, {before.objects[0].id}, lambda item, shape=shape: replace(item, shape=shape))
        found.append(until_painted(window, lambda after=after: document.edit("Bend", after)))
    return sorted(found)


def part(values: list[float], percent: float) -> float:
    """A percentile."""
    return values[min(len(values) - 1, int(len(values) * percent / 100))]


def scripted(window: MainWindow) -> list[tuple[float, str]]:
    """What a digitizer does in some minutes; the events with how long each took, ms, the longest first."""
    document = window.session.current
    assert document is not None
    settle(window)
    ids = [item.id for item in document.design.objects]
    for number in range(5):  # panels are made when they are first shown
        window.show_stage(number)
        settle(window)
    WATCH.took.clear()
    WATCH.worked.clear()
    WATCH.paused = False
    window.show_stage(2)
    for identity in ids[:12]:
        document.select({identity})
        settle(window)
    document.select({ids[0]})
    for k in range(4):
        document.edit("Spacing", pin(document.history.design, {ids[0]}, "spacing", 0.42 + 0.01 * k))
        settle(window)
    canvas = window.canvas
    spot = canvas.camera.to_screen(0, -20).toPoint()
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, pos=spot)
    for k in range(12):
        QTest.mouseMove(canvas, spot + QPoint(2 * k, k))
        QTest.qWait(8)
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=spot + QPoint(24, 12))
    settle(window)
    window.undo()
    settle(window)
    for _ in range(6):
        canvas.set_camera(canvas.camera.zoomed(1.25, QPointF(500, 300)))
        QTest.qWait(12)
    for k in range(20):
        canvas.set_camera(canvas.camera.panned(9, -5 if k % 2 else 5))
        QTest.qWait(8)
    settle(window)
    canvas.fit()
    for view in ("plan", "thread", "cloth"):
        canvas.set_view(view)  # type: ignore[arg-type]
        settle(window)
    for number in range(5):
        window.show_stage(number)
        settle(window)
    window.transport.toggle()
    QTest.qWait(400)
    window.transport.pause()
    document.show_moment(None)
    settle(window)
    WATCH.paused = True
    return sorted(WATCH.took, reverse=True)


def open_window(design: Design) -> tuple[QApplication, MainWindow, Document]:
    """The application as it starts, with a design."""
    app = QApplication.instance() or WatchedApplication([sys.argv[0]])
    assert isinstance(app, QApplication)
    start.make_application()
    window = start.make_window()
    window.show()
    document = window.session.open(design)
    settle(window)
    return app, window, document


def close(window: MainWindow) -> None:
    """Close everything."""
    for document in list(window.session.documents):
        window.session.close(document)
    end_all()


def remember(times: int = 100) -> tuple[float, float, float]:
    """What the process takes before and at most during edits of a large object, and when it is closed, MB."""
    side = math.sqrt(100_000 * 0.4 * 2.9) / 2
    square = f"M{-side} {-side} L{side} {-side} L{side} {side} L{-side} {side} Z"
    item = StitchObject(id=0, name="it", thread="1001", shape=Area(square), cover=Fill(angle=17.0))
    brief = Brief(find_ground("Woven"), find_hoop("360 x 260"), (thread_chart()[0],))
    _app, window, document = open_window(add_objects(Design(name="large", brief=brief), [item]))
    before, peak = resident() / 1e6, 0.0
    for k in range(times):
        document.edit("Angle", pin(document.history.design, {1}, "angle", 17.0 + 0.1 * k))
        settle(window)
        peak = max(peak, resident() / 1e6)
    window.session.close(document)
    del document
    settle(window)
    after = resident() / 1e6
    close(window)
    return before, peak, after


if __name__ == "__main__":
    if sys.argv[1:] == ["memory"]:
        print(*(f"{value:.1f}" for value in remember()))
        sys.stdout.flush()
        os._exit(0)
    else:
        from jontel.demo import crest

        _app, made, _document = open_window(crest())
        slow = scripted(made)
        over = sum(ms > 16 for ms, _ in slow)
        busy = sorted(WATCH.worked, reverse=True)
        found = {"events": len(slow), "over16": over, "longest": slow[:12]}
        print(json.dumps({**found, "worked": busy[:12], "worked16": sum(ms > 16 for ms in busy)}))
        start.leave(made, 0)
