"""A real window, driven as a user drives it."""

from collections.abc import Iterator
from pathlib import Path

import platformdirs
import pytest
from PyQt6.QtCore import QPoint, QPointF, QSettings, Qt, QTimer
from PyQt6.QtWidgets import QApplication, QMessageBox, QWidget
from pytestqt.qtbot import QtBot

from jontel.app import planner
from jontel.app.jobs import end_all
from jontel.app.panels.parts import OPENED
from jontel.app.session import Document, Session
from jontel.app.stages import NAMES
from jontel.app.start import make_application
from jontel.app.threads import threads
from jontel.app.window import MainWindow
from jontel.design import Design, StitchObject
from jontel.design.store import Store
from jontel.files.autosave import Autosave
from jontel.sewing.plan import SewPlan

A_MOMENT = 100
"""What the window does within so many ms of an edit belongs to it."""


LOOKS = 3
"""It has settled where it does nothing more at so many looks, a hundredth of a second apart."""


class User:
    """Does what a person can: clicks, drags, keys; and looks at the result."""

    def __init__(self, window: MainWindow, bot: QtBot) -> None:
        self.window, self.bot = window, bot

    @property
    def document(self) -> Document:
        """The design in front."""
        assert self.window.session.current is not None
        return self.window.session.current

    @property
    def design(self) -> Design:
        """Its value."""
        return self.document.design

    @property
    def plan(self) -> SewPlan:
        """Its sew plan, once the stitches are there."""
        self.settle()
        assert self.document.sewn is not None
        return self.document.sewn.plan

    def open(self, design: Design) -> None:
        """Open a design and wait for its stitches."""
        self.window.session.open(design)
        self.settle()

    def settle(self) -> None:
        """Wait until the stitches follow the design and the panels have shown it."""
        timers = [
            one for one in self.window.findChildren(QTimer) if one.isSingleShot() and one.interval() <= A_MOMENT
        ]

        quiet = 0

        def settled() -> bool:
            nonlocal quiet
            QApplication.processEvents()
            still = (
                not self.document.busy
                and not any(one.isActive() for one in timers)  # the panels follow the cloth a moment later
                and self.window.canvas.settled
            )
            quiet = quiet + 1 if still else 0
            return quiet >= LOOKS

        self.bot.waitUntil(settled, timeout=20_000)

    def find(self, name: str, kind: type[QWidget] = QWidget) -> QWidget:
        """The visible widget of this name."""

        def found() -> list[QWidget]:
            return [w for w in self.window.findChildren(kind, name) if w.isVisible()]

        self.bot.waitUntil(lambda: bool(found()), timeout=4000)
        return found()[-1]

    def click(self, name: str) -> None:
        """Click a button."""
        self.bot.mouseClick(self.find(name), Qt.MouseButton.LeftButton)
        self.settle()

    def stage(self, name: str) -> None:
        """Go to a stage."""
        assert name in NAMES
        self.click(f"stage-{name}")

    def keys(
        self, widget: QWidget, key: Qt.Key, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier
    ) -> None:
        """Press a key."""
        self.bot.keyClick(widget, key, modifier)
        self.bot.wait(10)

    def type(self, name: str, words: str) -> None:
        """Type into a field and press Enter."""
        field = self.find(name)
        field.setFocus()
        field.selectAll()  # type: ignore[attr-defined]
        self.bot.keyClicks(field, words)
        self.bot.keyClick(field, Qt.Key.Key_Return)
        self.settle()

    def pixel(self, x: float, y: float) -> QPoint:
        """The pixel of a place on the cloth."""
        return self.window.canvas.camera.to_screen(x, y).toPoint()

    def click_cloth(self, x: float, y: float, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        """Click a place on the cloth (mm)."""
        self.bot.mouseClick(self.window.canvas, Qt.MouseButton.LeftButton, modifier, self.pixel(x, y))
        self.bot.wait(20)

    def drag(
        self,
        widget: QWidget,
        start: QPoint,
        stop: QPoint,
        modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier,
    ) -> None:
        """Press, move in steps, let go."""
        from PyQt6.QtGui import QMouseEvent
        from PyQt6.QtWidgets import QApplication

        def send(kind: QMouseEvent.Type, at: QPoint, button: Qt.MouseButton, held: Qt.MouseButton) -> None:
            where = QPointF(at)
            event = QMouseEvent(kind, where, QPointF(widget.mapToGlobal(at)), button, held, modifier)
            QApplication.sendEvent(widget, event)

        left, none = Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton
        send(QMouseEvent.Type.MouseButtonPress, start, left, left)
        for k in range(1, 6):
            send(QMouseEvent.Type.MouseMove, start + (stop - start) * k / 5, none, left)
            self.bot.wait(5)
        send(QMouseEvent.Type.MouseButtonRelease, stop, left, none)
        self.settle()

    def drag_cloth(
        self,
        start: tuple[float, float],
        stop: tuple[float, float],
        modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier,
    ) -> None:
        """Drag on the cloth (mm)."""
        self.drag(self.window.canvas, self.pixel(*start), self.pixel(*stop), modifier)

    def object(self, name: str) -> StitchObject:
        """An object by name."""
        return next(item for item in self.design.objects if item.name == name)

    def select(self, *names: str) -> None:
        """Select objects by name."""
        self.document.select({item.id for item in self.design.objects if item.name in names})
        self.settle()


class OneStore(Store):
    """What the tests' designs have in common is worked out once a process: most of them open the same ones."""

    def clear(self) -> None:
        """A design that is closed takes nothing with it."""


ONE_STORE = OneStore(400_000_000)


@pytest.fixture
def window(qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[MainWindow]:
    """An open window without a design."""
    make_application().setStyleSheet("")  # a window is put together undressed, as at the start: in half the time
    threads.cache_clear()
    OPENED.clear()
    monkeypatch.setattr(platformdirs, "user_config_dir", lambda _name: str(tmp_path / "config"))
    monkeypatch.setattr(planner, "Store", lambda: ONE_STORE)
    monkeypatch.setattr(QMessageBox, "question", lambda *_a, **_k: QMessageBox.StandardButton.Discard)
    settings = QSettings(str(tmp_path / "settings.ini"), QSettings.Format.IniFormat)
    made = MainWindow(Session(Autosave(tmp_path / "autosave")), settings)
    qtbot.addWidget(made)
    made.show()
    qtbot.waitExposed(made)
    yield made
    for document in list(made.session.documents):
        made.session.close(document)
    end_all()


@pytest.fixture
def user(window: MainWindow, qtbot: QtBot) -> User:
    """Somebody at the window."""
    return User(window, qtbot)


@pytest.fixture
def boxes(user: User, two_boxes: Design) -> User:
    """Somebody with two boxes open."""
    user.open(two_boxes)
    user.stage("Stitch")
    return user


@pytest.fixture
def crest_user(user: User, crest_design: Design) -> User:
    """Somebody with the crest open."""
    user.open(crest_design)
    user.stage("Stitch")
    return user
